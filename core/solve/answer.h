// The Answer: everything that follows from a Model. Made once by solve() and never changed; shared by all views.
// Units and signs as in docs/format. Numbers that were not computed are NaN or absent, never zero.
#pragma once
#include <Eigen/Dense>
#include <limits>
#include <memory>
#include <string>
#include <vector>

#include "core/checks/row.h"
#include "core/ground/layered_ground.h"
#include "core/loads/nodal_loads.h"
#include "core/mesh/mesh.h"
#include "core/model/model.h"
#include "core/plate/plate.h"
#include "core/solve/equilibrium.h"
#include "core/steel/strips.h"

namespace mossbed {

constexpr double not_a_number = std::numeric_limits<double>::quiet_NaN();

struct CombinationAnswer {
    Combination combination;
    Ending ending = Ending::not_solved;
    std::string explanation;  // one sentence when not solved
    int newton_steps = 0, rounds = 0;
    double residual = not_a_number, equilibrium_error = not_a_number;

    Eigen::VectorXd unknowns;      // 3 a node: s, bx, by
    std::vector<double> pressure;  // kPa per node
    std::vector<double> spring;    // kPa per node: the spring's force over its area; differs at rims, see contact.h
    Eigen::VectorXd forces;        // 5 a slot: mx, my, mxy, vx, vy
    double contact_ratio = not_a_number;
    double yield_ratio = 0;  // share of the base at the ground's yield pressure
    double max_pressure = not_a_number, min_pressure = not_a_number;  // kPa
    Point max_pressure_at;
    Resultant applied, ground_reaction;
    Balance balance;
    std::vector<double> water;            // kPa per node, upward on the underside; empty without uplift
    std::vector<double> patch_force;      // kN per contact patch, where the answer knows its ground
    std::vector<double> modulus;          // kN/m³ per node: contact pressure over settlement; coupled ground only
    double compatibility = not_a_number;  // coupled: largest misfit of slab and ground over the largest settlement
    int outer = 0;                        // coupled: outer rounds where strain is by compression index

    bool is_solved() const { return ending == Ending::solved; }
    double settlement(int node) const { return unknowns[3 * node]; }
    std::vector<double> removed;  // kPa per node: total overburden the excavation took off; empty without boreholes
    double net(int node) const { return gross(node) - (removed.empty() ? 0 : removed[node]); }   // kPa
    double gross(int node) const { return pressure[node] + (water.empty() ? 0 : water[node]); }  // kPa
};

std::string share_in_words(double share);  // "3.2 %", "under 0.1 %"

struct CaseTotal {
    std::string id;
    Resultant on_slab;
    double self_weight = 0, uplift = 0, Hx = 0, Hy = 0;
};

// The subsoil below the slab, when there are boreholes. Springs come from it in "profile" and "coupled"; otherwise it
// is for looking at.
struct GroundAnswer {
    std::shared_ptr<const LayeredGround> layers;
    ContactPatches patches;
    std::vector<double> removed;  // kPa per patch: effective overburden taken off by the excavation, if that counts
    std::string combination;      // for springs
    double pressure = 0;          // kPa, its mean contact pressure
    double form_seconds = 0;      // forming the flexibility
};

struct Answer {
    std::shared_ptr<const Model> model;
    bool asked = false;   // for the combinations by name: strips then carry a row for each at every section
    bool coarse = false;  // made while a hand is dragging: no checks on concrete and steel
    std::vector<Problem> problems;
    Mesh mesh;
    MeshQuality quality;
    Plate plate;
    Slots slots;
    std::vector<double> modulus;          // kN/m³ per node; coupled ground: those of the combination for springs
    std::vector<double> element_modulus;  // kN/m³ per element, on patches of ground; else empty
    std::optional<GroundAnswer> ground;
    std::vector<CaseTotal> cases;
    std::vector<CombinationAnswer> combinations;
    SteelAnswer steel;
    std::vector<PunchingAnswer> punching;
    std::vector<Row> checks;  // worst first
    double seconds = 0;       // the whole solution

    // Pressure in an element at one of its nodes, as a multiple of the node's: beside a border of ground patches a node
    // has the mean of both sides, each cell its own.
    double pressure_beside(int element, int node) const {
        return element_modulus.empty() ? 1 : element_modulus[size_t(element)] / modulus[size_t(node)];
    }
    const CombinationAnswer* find(const std::string& combination) const;
    // The larger in size over the slots of a node; component 0…4 of mx, my, mxy, vx, vy.
    double force_at_node(const CombinationAnswer& c, int node, int component) const;
};

}  // namespace mossbed
