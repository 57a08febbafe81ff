// Points added where lines of the model that pass close to each other leave slivers between them.
#pragma once
#include "core/mesh/seed_points.h"
#include "core/mesh/triangulate.h"

namespace mossbed {

// Adds to the seeds, until no triangle is a sliver that could be mended: the centre of a sliver's circumcircle, or,
// where that comes too close to a feature edge, the middle of that edge (Ruppert 1995). A sliver is a triangle whose
// shape (mesh.h) is under `shape`. Left alone are those between two lines that meet at a small angle, and what would
// need cells much finer than `size` (m). Gives the triangulation of the seeds as they then are.
Triangulation refine_slivers(Seeds& seeds, const std::function<bool(Point)>& keep, double size, double shape,
                             const Progress& progress = {});

}  // namespace mossbed
