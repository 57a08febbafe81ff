// What is wrong with strata and boreholes: each stratum, each borehole, and whether they make one ground below the
// slab.
#include <fmt/format.h>

#include <algorithm>

#include "core/ground/soil_profile.h"
#include "core/validate/faults.h"

namespace mossbed {
namespace {

class StrataJudge : Faults {
  public:
    explicit StrataJudge(const Model& m) : m_(m), g_(m.ground), used_(boreholes_that_count(m.ground)) {}

    std::vector<Problem> all() {
        for (const Stratum& s : g_.strata) stiffness(s), weights(s), compression(s);
        for (const Borehole& b : g_.boreholes) borehole(b);
        left_out();
        if (used_.empty()) {
            error("ground.boreholes", "there is no borehole with layers", "add one, or import a ground report");
            return std::move(found_);
        }
        if (has_errors(found_)) return std::move(found_);
        if (const auto order = order_of_layers(g_); order.contradiction) {
            error("ground.boreholes", "strata come in contradicting order: " + *order.contradiction,
                  "give one of them a name of its own where it comes a second time");
            return std::move(found_);
        }
        const SoilProfile profile(g_);
        if (levels(profile)) {
            depths(profile);
            if (has_slab(m_)) slab(profile);
        }
        return std::move(found_);
    }

  private:
    bool positive(const std::string& where, const char* what, double v, const char* unit) {
        if (v > 0 && std::isfinite(v)) return true;
        error(where, fmt::format("{} is {:g}", what, v), fmt::format("give {} above zero", unit));
        return false;
    }

    void stiffness(const Stratum& s) {
        const std::string where = "stratum " + s.id;
        const bool confined = g_.settlement_method == SettlementMethod::one_dimensional;
        if (positive(where, "E", s.E, "MPa") && (s.E < 0.1 || s.E > 100'000))
            warn(where, fmt::format("E is {:g} MPa, usual is 0.5 to 500", s.E), "check that it is in MPa, not kPa");
        if (s.E_reload && positive(where, "E_reload", *s.E_reload, "MPa") && *s.E_reload < s.E)
            warn(where, fmt::format("E_reload is {:g} MPa, less than E of {:g} MPa", *s.E_reload, s.E),
                 "ground is stiffer when it is loaded again, often 3 to 5 times");
        if (!(s.nu >= 0 && s.nu < 0.5))
            error(where, fmt::format("Poisson's ratio is {:g}", s.nu),
                  s.nu >= 0.5 ? "give less than 0.5; undrained clay may have 0.49, in the method \"elastic\""
                              : "give 0 to 0.49; soils have 0.2 to 0.45");
        else if (confined && s.nu > 0.45)
            warn(where,
                 fmt::format("Poisson's ratio is {:g}: the confined modulus is {:.0f} times E", s.nu,
                             (1 - s.nu) / ((1 + s.nu) * (1 - 2 * s.nu))),
                 "use drained values with one-dimensional strain");
    }
    void weights(const Stratum& s) {
        const std::string where = "stratum " + s.id;
        positive(where, "the unit weight", s.unit_weight, "kN/m³");
        if (positive(where, "the saturated unit weight", s.saturated_unit_weight, "kN/m³") &&
            s.saturated_unit_weight < 9.81)
            warn(where, fmt::format("the saturated unit weight is {:g} kN/m³: it floats", s.saturated_unit_weight),
                 "give the weight with its water, 16 to 22 kN/m³");
    }
    void compression(const Stratum& s) {
        const std::string where = "stratum " + s.id;
        if (s.compression_index) {
            positive(where, "the compression index", *s.compression_index, "a number");
            if (!s.void_ratio)
                warn(where, "it has a compression index but no void ratio, so its strain comes from E",
                     "give the void ratio");
            else if (!s.recompression_index)
                warn(where, "it has no recompression index: its compression index counts from the start",
                     "give the recompression index, often a fifth to a tenth of it");
        }
        if (s.recompression_index && positive(where, "the recompression index", *s.recompression_index, "a number") &&
            s.compression_index && *s.recompression_index > *s.compression_index)
            warn(where, "its recompression index is larger than its compression index", "check the two");
        if (s.void_ratio) positive(where, "the void ratio", *s.void_ratio, "a number");
        if (s.preconsolidation && !(*s.preconsolidation >= 0))
            error(where, fmt::format("the preconsolidation pressure is {:g}", *s.preconsolidation),
                  "give kPa, or none for normally consolidated ground");
        if (s.cv) positive(where, "the coefficient of consolidation", *s.cv, "m²/year");
        if (s.drainage_path) positive(where, "the drainage path", *s.drainage_path, "m");
    }

    void borehole(const Borehole& b) {
        const std::string where = "borehole " + b.id;
        if (b.layers.empty()) {
            warn(where, "it lists no layers and is left out", "give its layers from the top down", b.at);
            return;
        }
        double above = ground_level_of(m_, b);
        std::string upper = "the ground";
        if (!b.ground_level && !g_.ground_level)
            warn(where, fmt::format("it has no ground level; {:.2f} m is taken", above), "give its ground level", b.at);
        for (size_t k = 0; k < b.layers.size(); ++k) {
            const BoreholeLayer& l = b.layers[k];
            if (!find_id(g_.strata, l.stratum)) {
                error(where, fmt::format("layer {} names a stratum \"{}\" that does not exist", k + 1, l.stratum),
                      "add the stratum or name another", b.at);
            }
            if (!std::isfinite(l.bottom) || l.bottom > above + 1e-9) {
                error(where,
                      fmt::format("layer {} ({}) ends at {:g} m, above {} at {:g} m: its thickness is negative", k + 1,
                                  l.stratum, l.bottom, upper, above),
                      "list layers from the top down, each with the level of its bottom", b.at);
            } else if (l.bottom > above - 1e-9) {
                warn(where, fmt::format("layer {} ({}) has no thickness", k + 1, l.stratum),
                     "remove it, or give the level of its bottom", b.at);
            }
            if (above - l.bottom > 1000)
                warn(where, fmt::format("layer {} ({}) is {:.0f} m thick", k + 1, l.stratum, above - l.bottom),
                     "check that the level of its bottom is in m, not mm", b.at);
            above = l.bottom;
            upper = fmt::format("the bottom of layer {}", k + 1);
        }
    }
    void left_out() {
        for (size_t i = 0; i < g_.boreholes.size(); ++i) {
            const Borehole& b = g_.boreholes[i];
            if (b.layers.empty() || std::find(used_.begin(), used_.end(), int(i)) != used_.end()) continue;
            warn("borehole " + b.id, "it stands where an earlier one does and is left out",
                 "check its position, or delete one of the two", b.at);
        }
    }

    // False where the slab lies below all that is known.
    bool levels(const SoilProfile& profile) {
        const double founding = founding_level(m_);
        if (founding <= profile.deepest()) {
            error("ground.founding_level",
                  fmt::format("the slab is founded at {:.2f} m, below the deepest layer, which ends at {:.2f} m",
                              founding, profile.deepest()),
                  "check the levels, bore deeper, or give ground.rigid_base_level below it");
            return false;
        }
        if (g_.rigid_base_level && *g_.rigid_base_level >= founding)
            error("ground.rigid_base_level",
                  fmt::format("the rigid base at {:.2f} m lies above the founding level of {:.2f} m",
                              *g_.rigid_base_level, founding),
                  "give the level of hard ground below the slab, or none");
        return true;
    }
    void depths(const SoilProfile& profile) {
        for (int i : used_) {
            const Borehole& b = g_.boreholes[size_t(i)];
            if (b.layers.back().bottom > profile.lowest_top() + 1e-6 &&
                b.layers.back().bottom > profile.deepest_borehole() + 1e-6)
                warn("borehole " + b.id,
                     fmt::format(
                         "it stops at {:.1f} m, while others go to {:.1f} m: what they found below is taken to pinch "
                         "out here, but for the last layer",
                         b.layers.back().bottom, profile.deepest_borehole()),
                     "bore deeper, or add the layers expected below", b.at);
        }
    }

    bool on_one_line() const {
        const Point a = g_.boreholes[size_t(used_[0])].at;
        bool line = true;
        for (int i : used_)
            for (int j : used_) {
                const Point p = g_.boreholes[size_t(i)].at - a, q = g_.boreholes[size_t(j)].at - a;
                line &= std::abs(cross(p, q)) <= 1e-6 * std::max(1.0, dot(p, p) + dot(q, q));
            }
        return line;
    }

    // How the slab lies to the boreholes and to the ground.
    void slab(const SoilProfile& profile) {
        double outside = 0, raised = 0;
        Point where;
        bool any_inside = false;
        const std::vector<Point> rim = outer_rim(m_.slab.outline, 0.5);
        const Box extent = box_of(rim);
        const double far = std::max(1000.0, 20 * std::max(extent.width(), extent.height()));
        for (int i : used_)
            if (const Borehole& b = g_.boreholes[size_t(i)]; distance(b.at, extent.middle()) > far)
                warn("borehole " + b.id,
                     fmt::format("it stands {:.1f} km from the slab", distance(b.at, extent.middle()) / 1000),
                     "check that its place is in m, not mm, and on the slab's axes", b.at);
        for (Point p : rim) {
            const double d = profile.distance_outside(p);
            any_inside |= d == 0;
            if (d > outside) outside = d, where = p;
            raised = std::max(raised, founding_level(m_) - profile.at(p).ground_level);
        }
        Box holes;
        for (int i : used_) holes.add(g_.boreholes[size_t(i)].at);
        if (used_.size() > 2 && on_one_line())
            warn("ground.boreholes", "the boreholes stand on one line",
                 "the strata are taken to vary along it and to be level across it; a borehole to one side would tell");
        else if (used_.size() > 2 && outside > 0.01 &&
                 (!any_inside || outside > 0.25 * std::max(holes.width(), holes.height())))
            warn("ground.boreholes",
                 any_inside
                     ? fmt::format("the slab reaches up to {:.1f} m outside the boreholes", outside)
                     : fmt::format("the whole rim of the slab lies outside the boreholes, up to {:.1f} m", outside),
                 "strata there are those of the nearest point between boreholes; check their positions or add one",
                 where);
        if (raised > 0.01)
            warn("ground.founding_level", fmt::format("the slab is founded up to {:.2f} m above the ground", raised),
                 "the first layer is taken to reach up to it; check the two levels");
    }

    const Model& m_;
    const Ground& g_;
    const std::vector<int> used_;
};

}  // namespace

std::vector<Problem> problems_of_strata(const Model& m) { return StrataJudge(m).all(); }

}  // namespace mossbed
