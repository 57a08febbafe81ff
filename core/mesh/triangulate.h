// Constrained Delaunay triangulation by CGAL. The only file that knows that library.
#pragma once
#include <array>
#include <functional>
#include <vector>

#include "core/base/geometry.h"
#include "core/base/progress.h"
#include "core/mesh/features.h"

namespace mossbed {

struct Triangulation {
    std::vector<std::array<int, 3>> triangles;  // anticlockwise; within the slab only
    std::vector<Point> added;  // points that had to be put where constraints meet, numbered after the given ones
};

// keep(centroid) says which triangles belong to the slab. Throws Stopped.
Triangulation triangulate(const std::vector<Point>& points, const std::vector<FeatureEdge>& edges,
                          const std::function<bool(Point)>& keep, const Progress& progress = {});

}  // namespace mossbed
