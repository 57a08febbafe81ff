// The base cut into patches that each press on the ground with one pressure: a node's share of the cells round it, or,
// on very fine meshes, several nodes' shares together. Lengths m.
#pragma once
#include "core/mesh/mesh.h"
#include "core/mesh/node_shares.h"

namespace mossbed {

struct ContactPatches {
    std::vector<int> of_node;
    std::vector<std::vector<std::pair<int, double>>> nodes;  // per patch: node and its share of the patch; sums to 1
    // Nodal forces of a unit force spread over the patch: the integrals of the shape functions, which sum to 1. Even
    // pressure on all patches so gives the same nodal forces as an even load on the slab.
    std::vector<std::vector<std::pair<int, double>>> spread_to;
    std::vector<Point> node_offset;    // per node: from the node to the centroid of its own share
    std::vector<double> area;          // m², the nodes' tributary areas
    std::vector<double> polygon_area;  // m², of the pieces; as good as the same
    std::vector<Point> centre;
    std::vector<std::array<double, 3>> spread;  // second moments about the centre over area: xx, xy, yy, m²
    std::vector<double> size2;                  // side squared of a square with the same polar moment
    std::vector<std::vector<std::array<Point, 4>>> pieces;    // quadrilaterals, anticlockwise
    std::vector<std::vector<std::pair<Point, Point>>> edges;  // outline, the patch to the left
    int count() const { return int(centre.size()); }
    bool one_a_node() const { return centre.size() == of_node.size(); }
};

// At most about `most` patches.
ContactPatches make_contact_patches(const Mesh& mesh, const NodeShares& shares, int most = 6000);

}  // namespace mossbed
