// The slab as a meshed plate: its stiffness as a sparse symmetric matrix, and moments and shears from its unknowns.
// Units kN and m.
#pragma once
#include <cmath>
#include <vector>

#include "core/base/progress.h"
#include "core/mesh/mesh.h"
#include "core/mesh/unknowns.h"
#include "core/plate/element.h"
#include "core/plate/members.h"
#include "core/plate/plate_forces.h"
#include "core/plate/sparse_lower.h"

namespace mossbed {

struct Plate {
    Family family = Family::mitc;
    Unknowns of;                        // at the nodes of the mesh
    std::vector<PlateSection> section;  // per element
    double reference = 0;               // level of the plane that u and v are displacements of: the slab's mid-plane, m
    Members members;
    // Of an element's mid-plane above that level, m; nil, and not its rounding, where they are one.
    double e(int element) const {
        const double above = section[size_t(element)].level - reference;
        return std::abs(above) < 1e-9 ? 0 : above;
    }
};

// Thickness, concrete, level and stiff footprints of the model onto the mesh; its ribs and stiffening walls. Five
// unknowns a node where there are any, or a patch whose mid-plane stands at another level; else three.
//
// In its plane the base is free to slide: ground and loads give and take no horizontal force there (horizontals act by
// their moment about the underside, the ground's friction takes them below). The three rigid motions in the plane are
// held at two nodes far apart, without a force as nothing pushes.
Plate make_plate(const Model& model, const Mesh& mesh, Family family = Family::mitc);

// Pattern and values; throws Stopped.
SparseLower assemble(const Plate& plate, const Mesh& mesh, const Progress& progress = {});

// Moments and shears at nodes, from the middles of the elements round them that share thickness, level and concrete. A
// slot is such a group at a node; across a step a node has several. Forces in the plane are found likewise. The value
// is that of a quadratic fitted to the middles of two rings of elements, where the forces are superconvergent (after
// Zienkiewicz and Zhu 1992): plain averaging of the neighbours errs by h²/8 of the field's curvature. Where too few
// elements share the group: a plane, or their mean.
struct Slots {
    std::vector<std::array<int, 4>> of_corner;             // per element
    std::vector<int> node;                                 // per slot
    std::vector<std::vector<int>> of_node;                 // per node, the slots there
    std::vector<std::vector<std::pair<int, double>>> fit;  // per slot: elements and their weights, which sum to one
};
Slots make_slots(const Plate& plate, const Mesh& mesh, const Progress& progress = {});

// Per slot, for each vector of unknowns.
std::vector<PlateForceField> slot_forces(const Plate& plate, const Mesh& mesh, const Slots& slots,
                                         const std::vector<const Eigen::VectorXd*>& unknowns,
                                         const Progress& progress = {});

}  // namespace mossbed
