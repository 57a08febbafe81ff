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

}  // namespace mossbed
