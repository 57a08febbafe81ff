// The slab as a meshed plate: its stiffness as a sparse symmetric matrix, and moments and shears from its unknowns.
// Unknown 3i + (0, 1, 2) of node i: s, bx, by (see element.h). Units kN and m.
#pragma once
#include <vector>

#include "core/base/progress.h"
#include "core/mesh/mesh.h"
#include "core/plate/element.h"

namespace mossbed {

// Lower triangle by columns; the pattern is made once per mesh.
struct SparseLower {
    std::vector<int> start;  // per column, and one past the last
    std::vector<int> row;    // the diagonal first, then increasing
    std::vector<double> value;
    int size() const { return int(start.size()) - 1; }
    Eigen::MatrixXd times(const Eigen::MatrixXd& x) const;  // of the whole symmetric matrix
};

struct Plate {
    Family family = Family::mitc;
    std::vector<PlateSection> section;  // per element
    std::vector<double> tributary;      // per node, m²: ∫ N_i, openings excluded
    std::vector<Point> spring_offset;   // per node, m: from the node to where its spring acts, see contact.h
};

// Thickness, concrete and stiff footprints of the model onto the mesh.
Plate make_plate(const Model& model, const Mesh& mesh, Family family = Family::mitc);

// Pattern and values; throws Stopped.
SparseLower assemble(const Plate& plate, const Mesh& mesh, const Progress& progress = {});

// Moments and shears at nodes, from the middles of the elements round them that share thickness and concrete. A slot is
// such a group at a node; across a step a node has several. The value is that of a quadratic fitted to the middles of
// two rings of elements, where the forces are superconvergent (after Zienkiewicz and Zhu 1992): plain averaging of the
// neighbours errs by h²/8 of the field's curvature. Where too few elements share the group: a plane, or their mean.
struct Slots {
    std::vector<std::array<int, 4>> of_corner;             // per element
    std::vector<int> node;                                 // per slot
    std::vector<std::vector<int>> of_node;                 // per node, the slots there
    std::vector<std::vector<std::pair<int, double>>> fit;  // per slot: elements and their weights, which sum to one
};
Slots make_slots(const Plate& plate, const Mesh& mesh);

// For each column of `unknowns`: mx, my, mxy (kN·m/m), vx, vy (kN/m) per slot, as rows 5·slot + k.
Eigen::MatrixXd slot_forces(const Plate& plate, const Mesh& mesh, const Slots& slots, const Eigen::MatrixXd& unknowns);

}  // namespace mossbed
