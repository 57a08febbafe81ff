// Settlement of layered ground under pressures on the base of a slab. For each point the strata below it count as if
// they reached level to all sides (Steinbrenner's approximation; exact when the ground is uniform and deep).
// Methods:
//   "elastic"          a layer's compression is w(z top) − w(z bottom) of the half-space with the layer's own E and ν
//                      (Steinbrenner 1934; displacements by Harr 1966)
//   "one-dimensional"  strain Δσz / E_oed with Boussinesq's Δσz, which summed over a layer is the same formula with
//                      ν = 0 and E_oed; with a compression index the strain is logarithmic in effective stress, in
//                      sublayers not thicker than 0.5 m and a twentieth of the base's width
// Pressures kPa, forces kN, E kPa inside (MPa in the model), settlements m, levels m; depths z below the founding
// level.
#pragma once
#include <Eigen/Dense>
#include <memory>

#include "core/base/progress.h"
#include "core/base/reused_matrix.h"
#include "core/ground/contact_patches.h"
#include "core/ground/influence.h"
#include "core/ground/soil_profile.h"

namespace mossbed {

// Strain by compression index under growing stress: along one logarithm up to the stress that the clay has borne
// before, along another from there on.
struct IndexLaw {
    double first = 1, yields = 1;  // kPa: effective stress that it grows from; preconsolidation
    double before = 0, after = 0;  // per unit of the natural logarithm
    double at_yield = 0;           // strain there
    double strain(double added) const;
    double rate(double added) const;  // its derivative, 1/kPa
};

struct Sublayer {
    int stratum = -1, place = 0;
    double z0 = 0, z1 = 0;             // m below founding level
    double E = 0, E_reload = 0;        // kPa, as the displacement formula wants them
    double nu = 0;                     // likewise: 0 for one-dimensional strain
    bool by_index = false;             // strain by compression index; E is then a secant
    double effective = 0, relief = 0;  // kPa, at mid-depth: σ'0, and what unit pressure on the base takes from it
    IndexLaw law(double removed, const Stratum& s) const;  // by index; `removed`: kPa by the excavation
    double strain(double removed, double added, const Stratum& s) const;
};

struct LayerShare {  // of the settlement at one point
    int stratum = -1, place = 0;
    double top = 0, bottom = 0;  // levels, m; the part that counts
    double settlement = 0;       // m
};

struct DepthLimit {
    double level = 0;
    enum class By { rigid_base, stress_ratio, deepest_borehole } by = By::rigid_base;
    double short_by = 0;  // m that the borings stop short of the depth limit; with deepest_borehole
    double pressure = 0;  // kPa, the mean contact pressure it was found with
};

struct RowsAbove;  // what a flexibility is made of above the depth limit

// C(i, j): mean settlement of patch i under unit force spread over patch j, m/kN. Not symmetric where strata vary.
// Where the excavation took weight off, a patch settles with E_reload up to the force `threshold` and with E beyond:
//     s = first·r + less·max(0, threshold − r) − spared
struct Flexibility {
    ReusedMatrix first;                      // with E
    ReusedMatrix less;                       // how much less with E_reload; empty where that is `less_share` of `first`
    double reload_ratio = 1;                 // E_reload / E, the largest of all layers
    double less_share = 0;                   // 1 − 1/reload_ratio, where it is the same for all layers
    std::vector<double> threshold;           // kN per patch; empty: none
    Eigen::VectorXd spared;                  // m, less·threshold
    std::shared_ptr<const RowsAbove> above;  // kept for the next one
    bool has_relief() const { return !threshold.empty(); }
    // first·r + less·spare, a column each; no `spare`: none.
    Eigen::MatrixXd times(const Eigen::MatrixXd& r, const Eigen::MatrixXd& spare) const;
    // Under forces, a column each.
    Eigen::MatrixXd settlements(const Eigen::MatrixXd& r) const;
};

class LayeredGround {
  public:
    // For a model without errors whose ground has boreholes. `base`: outlines, the outer rim first, openings clockwise.
    LayeredGround(std::shared_ptr<const Model> model, std::vector<Polygon> base, std::vector<Point> looked_at);

    double founding() const { return founding_; }
    const DepthLimit& limit() const { return limit_; }
    // The level below which nothing settles: the rigid base, or the deepest crossing anywhere below the base of Δσz
    // under `pressure` on all of it with the depth-limit ratio times σ'0 (looked for from the points looked at).
    void find_limit(double pressure);

    const SoilProfile& profile() const { return profile_; }
    SoilColumn column(Point p) const;         // as the profile has it, the first layer drawn up to the founding level
    double removed_effective(Point p) const;  // kPa: p0 = σ'v0 at the founding level
    double removed_total(Point p) const;      // kPa
    double base_stress(Point p, double z) const;  // Δσz / p under even pressure p on the whole base

    // Layers from the founding level to the limit; those with a compression index cut into sublayers with the secant
    // modulus of even pressure `pressure` on the whole base.
    std::vector<Sublayer> sublayers(Point p, double pressure) const;
    // Settlement of p under even pressure on the whole base, by layers.
    std::vector<LayerShare> settle_evenly(Point p, double pressure) const;
    // Settlement of a point under forces on the patches, by layers, and Δσz at depths z. `removed`: as in Flexibility.
    std::vector<LayerShare> settle(Point p, const ContactPatches& patches, const std::vector<double>& force,
                                   const std::vector<double>& removed, double pressure) const;
    std::vector<double> added_stress(Point p, const ContactPatches& patches, const std::vector<double>& force,
                                     const std::vector<double>& depths) const;

    // Formed row by row over all cores. `pressure` sets the secants of layers with a compression index. On the same
    // patches and layers as `before`, which may be null, only the deepest boundary is made anew, which moves with every
    // load: the same to the last bit. Throws Stopped.
    Flexibility flexibility(std::shared_ptr<const ContactPatches> patches, double pressure,
                            const Progress& progress = {}, const Flexibility* before = nullptr) const;
    bool has_index() const { return has_index_; }  // some layer counts strains by its compression index: index_strain.h
    const Ground& ground() const { return ground_; }

  private:
    std::shared_ptr<const Model> model_;
    const Ground& ground_;
    SoilProfile profile_;
    std::vector<Polygon> base_, plain_base_;  // the latter without corners that take next to nothing from its area
    std::vector<Point> looked_at_;
    double founding_ = 0, width_ = 1;
    bool has_index_ = false;
    DepthLimit limit_;
};

// Degree of consolidation U of a layer after t years by Terzaghi's one-dimensional theory with an even initial
// pressure: U = 1 − Σ 8/(π²(2m+1)²) exp(−(2m+1)²π²T/4), T = cv t / d².  cv m²/year, drainage path d m.
double degree_of_consolidation(double cv, double path, double years);

}  // namespace mossbed
