#include "core/stability/hold_down.h"

#include <fmt/format.h>

#include "core/arrange/rims.h"
#include "core/ground/soil_profile.h"
#include "core/mesh/mesh.h"

namespace mossbed {
namespace {

constexpr double usual_soil = 18;  // kN/m³, where no strata say what lies beside the slab

// kPa of soil beside the slab from its top to the ground, wet as it is.
double soil_on_overhang(const Model& m) {
    const double top = m.slab.top_level;
    if (const auto profile = profile_of(m.ground)) {
        double least = std::numeric_limits<double>::infinity();
        for (Point p : outer_rim(m.slab.outline, 1.0))
            least = std::min(least, profile->at(p).total_stress(top, m.ground.strata));
        return std::max(0.0, least);
    }
    return m.ground.ground_level ? usual_soil * std::max(0.0, *m.ground.ground_level - top) : 0;
}

LoadCase* case_with_weight(Model& m) {
    for (LoadCase& c : m.loads.cases)
        if (c.action == Action::permanent) return &c;
    return nullptr;
}

double area_within(const Model& m) { return std::abs(signed_area(outer_rim(m.slab.outline, 0.25))); }

}  // namespace

HoldDown::HoldDown(const Model& model, const Progress& progress)
    : m_(model), progress_(progress), soil_(soil_on_overhang(model)) {}

const HoldDown::Trial* HoldDown::tried(std::map<double, std::unique_ptr<Trial>>& trials, double size,
                                       const std::function<bool(Model&)>& vary) {
    if (const auto it = trials.find(size); it != trials.end()) return it->second.get();
    auto trial = std::make_unique<Trial>(Trial{m_, {}});
    bool sound = vary(trial->model);
    if (sound) try {
            // Weights and water are exact on any mesh.
            const double cell = std::sqrt(area_within(trial->model) / 60);
            const Mesh mesh = build_mesh(trial->model, cell, progress_, false);
            std::vector<Problem> lost;
            trial->cases = case_loads(trial->model, mesh, Finder(mesh), lost);
        } catch (const Trouble&) {
            sound = false;
        }
    if (!sound) trial.reset();
    return (trials[size] = std::move(trial)).get();
}

std::optional<double> HoldDown::use(const Trial* trial, const Combination& c, double factor) const {
    if (!trial) return {};
    const Vertical v = vertical_of(trial->model, trial->cases, c);
    return v.down > 0 ? std::optional(factor * v.up / v.down) : std::nullopt;
}

HeldDown HoldDown::so_that(const Combination& c, double factor) {
    HeldDown out;
    out.soil = soil_;
    const Trial* now = tried(thick_, m_.slab.thickness, [](Model&) { return true; });
    if (now) out.ties = std::max(0.0, vertical_of(now->model, now->cases, c).missing(factor));
    out.thickness = least_that_passes(
        {m_.slab.thickness + 0.05, m_.slab.thickness + 3, 0.05},
        [&](double t) {
            return use(tried(thick_, t,
                             [t](Model& m) {
                                 m.slab.thickness = t;
                                 return true;
                             }),
                       c, factor);
        },
        progress_);
    out.overhang = least_that_passes(
        {0.1, 6, 0.1},
        [&](double x) {
            return use(tried(wide_, x,
                             [&, x](Model& m) {
                                 const double before = area_within(m);
                                 if (!push_rims(m, all_sides(m.slab.outline), x).empty()) return false;
                                 LoadCase* weight = case_with_weight(m);
                                 if (weight && soil_ > 0)  // where it acts does not matter to what floats
                                     weight->items.push_back({PointLoad{outer_rim(m.slab.outline, 0.25).front(),
                                                                        soil_ * (area_within(m) - before), 0, 0},
                                                              {}});
                                 return true;
                             }),
                       c, factor);
        },
        progress_);
    return out;
}

std::string words_of(const HeldDown& h, const Model& m) {
    std::string text = "It would be held by";
    if (h.thickness.size)
        text += fmt::format(" {:.2f} m more thickness ({:.2f} m),", *h.thickness.size - m.slab.thickness,
                            *h.thickness.size);
    if (h.overhang.size)
        text += fmt::format(" {:.1f} m more overhang all round{},", *h.overhang.size,
                            h.soil > 0 ? fmt::format(" with {:.0f} kPa of soil on it", h.soil) : std::string());
    return text + fmt::format("{} {:.0f} kN of ties.", text.back() == ',' ? " or" : "", std::ceil(h.ties));
}

}  // namespace mossbed
