// The base cut into patches that each press on the ground with one pressure: a node's share of the cells round it on
// rims, where pressure peaks; those of two nodes side by side near rims, across which it changes fast; further inside
// those of several nodes together. Lengths m.
#pragma once
#include "core/base/progress.h"
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
    std::vector<double> outline_area;  // m², within `edges`; likewise
    std::vector<Point> centre;
    std::vector<std::array<double, 3>> spread;  // second moments about the centre over area: xx, xy, yy, m²
    std::vector<double> size2;                  // side squared of a square with the same polar moment
    std::vector<std::vector<std::array<Point, 4>>> pieces;  // quadrilaterals, anticlockwise
    struct Share {                                          // of a node
        Point at;                                           // its centroid
        double area = 0;
        std::array<double, 3> spread;
        bool operator==(const Share&) const = default;
    };
    std::vector<std::vector<Share>> shares;
    // The outline, the patch to the left, without corners that are next to straight.
    std::vector<std::vector<std::pair<Point, Point>>> edges;
    std::vector<std::vector<int>> beside;  // of a patch that nodes share: those whose nodes have a cell with its own
    int count() const { return int(centre.size()); }
};

// Where the mesh is fine enough, nodes further than `reach` from rims and openings share patches of about `side`;
// nearer to them two share one that are as far from them, side by side. Nodes on rims, within `reach` of a corner of
// one, or of a column that is asked for, have one each. All grow until there are at most `most` patches.
struct PatchSizes {
    double side = 1, reach = 1;  // m; no side: one patch a node everywhere
    int most = 6000;
    std::vector<char> fine_at_column{};  // per column, or none at all
    bool operator==(const PatchSizes&) const = default;
};
// Throws Stopped.
ContactPatches make_contact_patches(const Mesh& mesh, const NodeShares& shares, const PatchSizes& sizes = {},
                                    const Progress& progress = {});

// For each patch its number among others, where it has the same shape at the same place to the last bit; else −1.
std::vector<int> same_patches(const ContactPatches& patches, const ContactPatches& others);

// Pressures of nodes (kPa) from those of patches: over a patch that nodes share it runs in a plane through its
// neighbours', kept between the least and the largest of them and itself. Sums over a patch stay as they are.
class PatchPlanes {
  public:
    PatchPlanes(const ContactPatches& patches, const Mesh& mesh);
    std::vector<double> of_nodes(const std::vector<double>& per_patch) const;

  private:
    struct Beside {
        int patch;
        Point slope;  // of the plane, for each kPa that is more there than on the patch itself, 1/m
    };
    struct Node {
        int node;
        Point at;  // the middle of its share, from the mean of those
    };
    struct Patch {
        size_t besides, besides_end, nodes, nodes_end;
    };
    std::vector<Patch> patches_;
    std::vector<Beside> besides_;
    std::vector<Node> nodes_;
    size_t nodes_of_patches_ = 0;
};

}  // namespace mossbed
