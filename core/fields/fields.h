// Everything that a Model's loads do to slab and ground, combination by combination, judged by nobody yet. Made in
// stages, each from the part of the Model that it reads and from the stages before it; a stage is immutable and shared
// between answers as long as an edit does not touch what it reads (answer/stages.h).
// Units and signs as in docs/format. Numbers that were not computed are NaN or absent, never zero.
#pragma once
#include <Eigen/Dense>
#include <limits>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/contact/bed.h"
#include "core/contact/equilibrium.h"
#include "core/ground/index_strain.h"
#include "core/loads/nodal_loads.h"
#include "core/mesh/mesh.h"
#include "core/mesh/node_shares.h"
#include "core/model/model.h"
#include "core/plate/factor.h"
#include "core/plate/plate.h"

namespace mossbed {

constexpr double not_a_number = std::numeric_limits<double>::quiet_NaN();

// Stage 1: from the slab's lines, the columns' places and the mesh size.
struct MeshOptions {
    double size = 0;  // m; 0: the model's
    bool footprints = true;
    bool operator==(const MeshOptions&) const = default;
};
struct Meshed {
    Meshed(const MeshOptions& how, Mesh m);
    Meshed(const Meshed&) = delete;
    MeshOptions options;
    Mesh mesh;
    MeshQuality quality;
    NodeShares shares;
    Finder finder;  // made last, beside the two before it
};

// Stage 2: with thickness and concrete.
struct Stiffness {
    Plate plate;
    Slots slots;
    SparseLower matrix;
    std::optional<Factor> analysed;  // its pattern, to which springs add nothing; none on coupled ground
};

// Beside it: what the cases put on the mesh.
struct CaseTotal {
    std::string id;
    Resultant on_slab;
    double self_weight = 0, uplift = 0, Hx = 0, Hy = 0;
};
struct Loading {
    std::vector<CaseLoads> cases;  // in the order of the model
    Eigen::MatrixXd nodal;         // a column a case
    std::vector<CaseTotal> totals;
    std::vector<Problem> problems;
};

// Stage 3: the subsoil below the slab, when there are boreholes. Springs come from it in "profile" and "coupled";
// otherwise it is for looking at.
struct GroundAnswer {
    std::shared_ptr<const LayeredGround> layers;
    std::shared_ptr<const ContactPatches> patches;
    std::vector<double> removed;  // kPa per patch: effective overburden taken off by the excavation, if that counts
};
struct Subsoil {
    std::string combination;  // that springs and depth limit are found with
    double pressure = 0;      // kPa, its mean contact pressure
    std::optional<GroundAnswer> ground;
    std::vector<Problem> problems;      // warnings
    std::optional<Problem> no_springs;  // why none follow from the strata, where they are wanted
};

class Neighbours;  // core/contact/near_inverse.h

// Stage 4: the supports, and the factor of slab and springs.
struct Supported {
    Bed bed;
    Flexibility flexibility;                 // coupled ground
    std::optional<IndexStrain> index;        // likewise, where strain is by compression index
    std::shared_ptr<const Neighbours> near;  // likewise
    std::optional<Factor> factor;
};

// Stage 5, of one combination.
struct CombinationAnswer {
    Combination combination;
    Ending ending = Ending::not_solved;
    std::string explanation;  // one sentence when not solved
    int newton_steps = 0, rounds = 0;
    double residual = not_a_number, equilibrium_error = not_a_number;

    NodalMotion motion;            // of the nodes; none where there is no equilibrium
    std::vector<double> pressure;  // kPa per node
    std::vector<double> spring;    // kPa per node: the support's force over its area; differs at rims, see bed.h
    PlateForceField forces;        // per slot
    double contact_ratio = not_a_number;
    double yield_ratio = 0;  // share of the base at the ground's yield pressure
    // The same combination as one before it, on ground that does not yield: strength is designed for the worse of both.
    bool without_yield = false;
    double max_pressure = not_a_number, min_pressure = not_a_number;  // kPa
    Point max_pressure_at;
    Resultant applied, ground_reaction;
    Balance balance;
    std::vector<double> water;        // kPa per node, upward on the underside; empty without uplift
    std::vector<double> patch_force;  // kN per contact patch, where the answer knows its ground
    std::vector<double> modulus;      // kN/m³ per node: contact pressure over settlement; coupled ground only
    // Coupled ground only, kPa per node: the pressure where the slab presses, else less than nought, what springs would
    // pull for its height over the ground. It passes nought where the slab lifts off, also within a contact patch.
    std::vector<double> hold;
    double compatibility = not_a_number;  // coupled: largest misfit of slab and ground over the largest settlement
    int outer = 0;                        // coupled: outer rounds where strain is by compression index

    bool is_solved() const { return ending == Ending::solved; }
    bool has_field() const { return !motion.none(); }
    double settlement(int node) const { return motion.settlement(node); }
    std::vector<double> removed;  // kPa per node: total overburden the excavation took off; empty without boreholes
    double net(int node) const { return gross(node) - (removed.empty() ? 0 : removed[node]); }   // kPa
    double gross(int node) const { return pressure[node] + (water.empty() ? 0 : water[node]); }  // kPa
};
struct Solution {
    std::vector<CombinationAnswer> combinations;
    std::vector<double> modulus;  // kN/m³ per node; coupled ground: those of the combination for springs
};

struct Stages {
    std::shared_ptr<const Meshed> meshed;
    std::shared_ptr<const Stiffness> stiffness;
    std::shared_ptr<const Loading> loading;
    std::shared_ptr<const Subsoil> subsoil;
    std::shared_ptr<const Supported> supported;  // none where no combination has an equilibrium
    std::shared_ptr<const Solution> solution;
};

// The stages of one answer under their names.
class Fields {
  public:
    Fields(std::shared_ptr<const Model> of, Stages made);

    const std::shared_ptr<const Model> model;
    const Stages stages;
    bool asked = false;   // for the combinations by name: strips then carry a row for each at every section
    bool coarse = false;  // a quick look, as while a hand drags: no checks on concrete and steel
    std::vector<Problem> problems;

    const Mesh& mesh;
    const MeshQuality& quality;
    const NodeShares& shares;
    const Finder& finder;
    const Plate& plate;
    const Slots& slots;
    const std::vector<CaseTotal>& cases;
    const std::vector<CaseLoads>& case_loads;
    const std::optional<GroundAnswer>& ground;
    const std::vector<CombinationAnswer>& combinations;
    const std::vector<double>& modulus;          // kN/m³ per node, see Solution
    const std::vector<double>& element_modulus;  // kN/m³ per element, on patches of ground; else empty

    // Pressure in an element at one of its nodes, as a multiple of the node's: beside a border of ground patches a node
    // has the mean of both sides, each cell its own.
    double pressure_beside(int element, int node) const {
        return element_modulus.empty() ? 1 : element_modulus[size_t(element)] / modulus[size_t(node)];
    }
    // Where the force of a node's share of the base acts.
    Point acts_at(int node) const;
    const CombinationAnswer* find(const std::string& combination) const;
    // Of the slots of a node, the value that is largest in size.
    double force_at_node(const CombinationAnswer& c, int node, double PlateForces::*component) const;
};

// The combinations as the model lists them: without those solved a second time on ground that does not yield.
std::span<const CombinationAnswer> as_listed(const std::vector<CombinationAnswer>& combinations);

// Centroid of the base, openings left out.
Point centre_of_base(const Fields& fields);

// Least and largest settlement of the nodes, m; below zero where one rises.
std::pair<double, double> range_of_settlement(const Fields& fields, const CombinationAnswer& combination);

std::string share_in_words(double share);  // "3.2 %", "under 0.1 %"

// Factor of a case in a combination, 0 where it is not in it.
double factor_in(const Combination& combination, const std::string& load_case);
inline double factor_in(const CombinationAnswer& c, const std::string& load_case) {
    return factor_in(c.combination, load_case);
}

}  // namespace mossbed
