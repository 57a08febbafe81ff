#include "core/stability/stability.h"

#include <limits>

#include "core/fields/fields.h"

namespace mossbed {
namespace {

// f · (moment that holds) of one action about an edge, to the side that it falls on.
void put(OfCase& of, double value) { (value < 0 ? of.moves : of.holds) += std::abs(value); }

}  // namespace

double Turning::factor() const { return turns > 0 ? holds / turns : std::numeric_limits<double>::infinity(); }

Vertical vertical_of(const Model& m, const std::vector<CaseLoads>& cases, const Combination& c) {
    Vertical out;
    for (size_t i = 0; i < cases.size(); ++i) {
        const double f = factor_in(c, m.loads.cases[i].id);
        if (f == 0) continue;
        OfCase of{m.loads.cases[i].id};
        for (const Act& a : cases[i].acts) {
            put(of, f * a.down.Fz);
            put(of, f * a.up.Fz);
            if (a.is_water) out.water -= f * a.up.Fz, out.has_water = true;
        }
        out.down += of.holds, out.up += of.moves;
        out.by_case.push_back(std::move(of));
    }
    return out;
}

std::vector<Turning> turning_about(const std::vector<Point>& hull, const Model& m, const std::vector<CaseLoads>& cases,
                                   const Combination& c) {
    std::vector<Turning> out;
    for (size_t k = 0; k < hull.size(); ++k) {
        Turning t{hull[k], hull[(k + 1) % hull.size()]};
        const Point inward = unit(left_of(t.to - t.from));
        // The component of a moment that presses the inside down.
        auto about = [&](double Mx, double My) { return My * inward.x - Mx * inward.y; };
        auto of_force = [&](const Resultant& r) { return about(r.Mx, r.My) - r.Fz * dot(t.from, inward); };
        for (size_t i = 0; i < cases.size(); ++i) {
            const double f = factor_in(c, m.loads.cases[i].id);
            if (f == 0) continue;
            OfCase of{m.loads.cases[i].id};
            for (const Act& a : cases[i].acts) {
                put(of, f * of_force(a.down));
                put(of, f * of_force(a.up));
                put(of, f * about(a.Mx, a.My));
                put(of, f * about(-a.Hy * a.lever, a.Hx * a.lever));
            }
            t.holds += of.holds, t.turns += of.moves;
            t.by_case.push_back(std::move(of));
        }
        out.push_back(std::move(t));
    }
    // What rounding leaves of a symmetric load turns nothing.
    for (Turning& t : out)
        if (t.turns < 1e-9 * t.holds) t.turns = 0;
    std::stable_sort(out.begin(), out.end(),
                     [](const Turning& a, const Turning& b) { return a.factor() < b.factor(); });
    return out;
}

std::vector<Point> hull_of_base(const Model& m) { return convex_hull(outer_rim(m.slab.outline, 0.25)); }

Horizontal horizontal_of(const Model& m, const std::vector<CaseLoads>& cases, const Combination& c) {
    Horizontal h;
    for (size_t i = 0; i < cases.size(); ++i) {
        const double f = factor_in(c, m.loads.cases[i].id);
        h.Hx += f * cases[i].Hx, h.Hy += f * cases[i].Hy;
    }
    return h;
}

std::optional<double> known_water(const Model& m) {
    if (m.ground.water_level) return m.ground.water_level;
    const auto used = boreholes_that_count(m.ground);
    if (std::none_of(used.begin(), used.end(),
                     [&](int i) { return m.ground.boreholes[size_t(i)].water_level.has_value(); }))
        return {};
    double highest = no_water;
    if (const auto profile = profile_of(m.ground)) {
        for (Point p : outer_rim(m.slab.outline, 1.0)) highest = std::max(highest, profile->at(p).water_level);
    } else {
        for (int i : used) highest = std::max(highest, m.ground.boreholes[size_t(i)].water_level.value_or(no_water));
    }
    return highest == no_water ? std::nullopt : std::optional(highest);
}

const SoilLayer* layer_below(const SoilColumn& column, double level) {
    for (const SoilLayer& l : column.layers)
        if (l.bottom < level - 1e-9) return &l;
    return nullptr;
}

double lowest_underside(const Model& m) {
    double level = m.slab.top_level - m.slab.thickness;
    for (const SlabPatch& t : m.slab.patches) level = std::min(level, underside_of(m, &t));
    return level;
}

}  // namespace mossbed
