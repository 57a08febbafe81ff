// The ground below the slab as supports of its nodes.
#pragma once
#include "core/contact/supports.h"
#include "core/ground/layered_ground.h"
#include "core/mesh/node_shares.h"

namespace mossbed {

struct Bed {
    Supports supports;
    std::vector<int> of_node;             // the support that holds a node's share of the base
    std::vector<Point> offset;            // m, from a node to where the force of its share acts
    std::vector<double> modulus;          // kN/m³, per node: the mean over its share; springs only
    std::vector<double> element_modulus;  // kN/m³, per element, where it changes from one to the next; else empty
};

// A spring below each node: "uniform": one modulus; "patches": by plan area, the later patch wins, ground.modulus
// elsewhere, integrated over each node's share of cells that each stand on one; "profile": modulus p / s(x, y) from the
// settlement of each node under the even pressure p (kPa) on the whole base of layered ground. A node's spring acts
// half way to the centroid of its share (node_shares.h): nil inside, a sixth of a cell at a rim. With springs at the
// nodes themselves a rigid base would be too stiff in rotation by 2 (h/B)², 5 % for three metres at half a metre.
// Throws Trouble where no spring follows from the strata.
Bed bed_of_springs(const Model& model, const Mesh& mesh, const NodeShares& shares, const Unknowns& of,
                   const LayeredGround* ground = nullptr, double pressure = 0);

// Contact patches that a flexibility joins, with springs that have no size yet (1 kN/m): which unknowns they couple is
// known before the flexibility is.
Bed bed_of_patches(const Model& model, const ContactPatches& patches, const Unknowns& of);
// Gives its springs the right size: force over settlement of each patch under the even pressure p (kPa).
void size_springs(Bed& bed, const ContactPatches& patches, const Flexibility& flexibility, double pressure);

}  // namespace mossbed
