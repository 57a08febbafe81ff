// Joins triangles to quadrilaterals, best shape first.
#pragma once
#include <array>
#include <vector>

#include "core/mesh/features.h"
#include "core/mesh/mesh.h"

namespace mossbed {

// No pair is joined across a feature edge. Triangles that find no good partner stay.
std::vector<Element> pair_triangles(const std::vector<Point>& points, const std::vector<std::array<int, 3>>& triangles,
                                    const std::vector<FeatureEdge>& features);

// Shape of a quadrilateral: 1 a rectangle, 0 a degenerate one, below 0 not convex; the least sine at its corners.
double quad_shape(Point a, Point b, Point c, Point d);

}  // namespace mossbed
