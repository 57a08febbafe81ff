#include "core/steel/extra_along.h"

#include <algorithm>
#include <cmath>

#include "core/model/edit.h"
#include "core/steel/depths.h"
#include "core/steel/extra_bars.h"
#include "core/steel/provision.h"

namespace mossbed {
namespace {

struct Stretch {
    double from, to;  // m along the strip
    double short_of;  // mm²/m, the most on it
};

// Where more is needed than provided, between sections by straight lines; none where somewhere no amount fits.
std::optional<std::vector<Stretch>> short_stretches(const StripAnswer& strip, Face face) {
    std::vector<std::pair<double, double>> lack;  // at ascending places, mm²/m
    for (const SectionRow& r : strip.sections) {
        const bool bottom = face == Face::bottom;
        const std::optional<double>& needs = bottom ? r.bottom_required : r.top_required;
        if (!needs) return std::nullopt;
        const double here = (*needs - (bottom ? r.bottom_provided : r.top_provided)) / std::max(r.width, 1e-9);
        if (!lack.empty() && lack.back().first == r.s)
            lack.back().second = std::max(lack.back().second, here);
        else
            lack.emplace_back(r.s, here);
    }
    std::vector<Stretch> out;
    for (size_t k = 0; k < lack.size(); ++k) {
        const auto [s, v] = lack[k];
        if (v <= 0) continue;
        auto crossing = [&](size_t other) {
            const auto [t, w] = lack[other];
            return w >= 0 ? t : s + (t - s) * v / (v - w);
        };
        if (k > 0 && lack[k - 1].second > 0)
            out.back().short_of = std::max(out.back().short_of, v);
        else
            out.push_back({k > 0 ? crossing(k - 1) : s, s, v});
        out.back().to = k + 1 < lack.size() ? crossing(k + 1) : s;
    }
    return out;
}

}  // namespace

ExtraAlong extra_along(const Model& m, const DesignCode& code, const SteelAnswer& steel, size_t number, Face face) {
    const StripAnswer& strip = steel.strips[number];
    const Point a = strip.strip.axis[0], u = unit(strip.strip.axis[1] - a), n = left_of(u);
    if (mats_along(m.steel, u).size() != 1) return {{}, "runs between the mats: no bars lie along it"};
    const auto stretches = short_stretches(strip, face);
    if (!stretches) return {{}, "has a place where no amount of steel fits: the slab must be thicker there"};
    const Direction d = strip.strip.direction;
    const ChosenBars& base = steel.base(face, d);
    const double L = distance(a, strip.strip.axis[1]),
                 depth = effective_depth(m, steel, face, d, m.slab.thickness) / 1000;
    std::vector<double> spacings;
    for (double s : m.steel.spacings)
        if (base.spacing <= 0 || s == base.spacing || s == 2 * base.spacing || 2 * s == base.spacing)
            spacings.push_back(s);
    if (spacings.empty()) spacings = m.steel.spacings;
    std::vector<ChosenBars> choices;
    for (double size : m.steel.sizes)
        for (double s : spacings) choices.push_back({size, s});
    std::stable_sort(choices.begin(), choices.end(),
                     [](const ChosenBars& p, const ChosenBars& q) { return p.area() < q.area(); });
    std::vector<std::string> names;
    for (const ExtraBars& e : m.steel.extra) names.push_back(e.id);

    ExtraAlong out;
    for (const Stretch& piece : *stretches) {
        std::optional<ExtraBars> found;
        for (const ChosenBars& c : choices) {
            constexpr double for_depth = 1.03;  // larger bars lie a little deeper in the slab
            if (c.area() < for_depth * piece.short_of) continue;
            ExtraBars e;
            e.face = face, e.direction = d, e.diameter = c.diameter, e.spacing = c.spacing;
            Model trial = m;
            auto lay = [&](double beyond) {
                constexpr double step = 0.05;
                const double from = std::max(0.0, std::floor((piece.from - beyond) / step) * step),
                             to = std::min(L, std::ceil((piece.to + beyond) / step) * step);
                e.held_at_rims = from <= 0 || to >= L;
                e.outline = {a + from * u - strip.strip.reach[1] * n, a + to * u - strip.strip.reach[1] * n,
                             a + to * u + strip.strip.reach[0] * n, a + from * u + strip.strip.reach[0] * n};
            };
            lay(depth);
            trial.steel.extra.push_back(e);
            const ExtraBarsProvision provision(trial, &code);
            const size_t last = provision.count() - 1;
            if (!provision.clear_between(last, base).fits()) continue;
            lay(depth + provision.anchorage(last));
            found = e;
            break;
        }
        if (!found) return {{}, "is short of more than any bars of the lists bring beside the base bars"};
        found->id = fresh_id("E", names);
        names.push_back(found->id);
        for (const char* key : {"id", "outline", "face", "direction", "diameter", "spacing", "held_at_rims"})
            found->keys[key] = "";
        out.bars.push_back(std::move(*found));
    }
    return out;
}

}  // namespace mossbed
