// Each node's share of the base: the integrals of its shape function, openings excluded.
#pragma once
#include <vector>

#include "core/mesh/mesh.h"

namespace mossbed {

struct NodeShares {
    std::vector<double> area;  // ∫ N_i, m²
    std::vector<Point> offset;  // m, from the node half way to the centroid of its share: ∫ of two linear fields f g is
                                // Σ A f(x_i) g(x_i + 2·offset_i), so that springs there make the rigid modes exact
};
NodeShares node_shares(const Mesh& mesh);

// The quarters (thirds, of a triangle) of an element, by the corner that each is nearest to: between the corner, the
// middles of the two sides there and the mean of all corners.
std::array<std::array<Point, 4>, 4> nearest_to_corners(const Mesh& mesh, int element);

}  // namespace mossbed
