// Sliding, overturning, flotation, cracks and anchorage: none is worked out in this version, so each stands in the
// Ledger as "not checked" with what is known of it. Flotation passes where no water acts and none is known to stand
// above the base.
#include <fmt/format.h>

#include <algorithm>

#include "core/ground/soil_profile.h"
#include "core/judge/checks.h"

namespace mossbed {
namespace {

// The highest water level known below or beside the slab: ground.water_level, else the highest over the rim between
// the boreholes. None where nobody stated one.
std::optional<double> known_water(const Model& m) {
    if (m.ground.water_level) return m.ground.water_level;
    const auto used = boreholes_that_count(m.ground);
    if (std::none_of(used.begin(), used.end(),
                     [&](int i) { return m.ground.boreholes[size_t(i)].water_level.has_value(); }))
        return {};
    double highest = no_water;
    if (order_of_layers(m.ground).contradiction) {
        for (int i : used) highest = std::max(highest, m.ground.boreholes[size_t(i)].water_level.value_or(no_water));
    } else {
        const SoilProfile profile(m.ground);
        for (Point p : outer_rim(m.slab.outline, 1.0)) highest = std::max(highest, profile.at(p).water_level);
    }
    return highest == no_water ? std::nullopt : std::optional(highest);
}

double lowest_underside(const Model& m) {
    double level = m.slab.top_level - m.slab.thickness;
    for (const SlabPatch& t : m.slab.patches) level = std::min(level, underside_of(m, &t));
    return level;
}

struct Water {
    bool lifts = false;                                 // an uplift item acts in an active combination
    double highest_item = no_water;                     // level, m
    std::optional<double> known;                        // level, m
    double underside = 0;                               // level of the lowest part, m
    double head() const { return *known - underside; }  // m; only with a known level
    bool wets_the_base() const { return known && head() > 0.005; }
};

Water look_at_water(const Fields& a) {
    const Model& m = *a.model;
    Water w;
    w.known = known_water(m);
    w.underside = lowest_underside(m);
    for (const LoadCase& c : m.loads.cases)
        for (const LoadItem& item : c.items)
            if (const auto* u = std::get_if<Uplift>(&item.load))
                for (const CombinationAnswer& k : a.combinations)
                    if (factor_in(k, c.id) > 0) w.lifts = true, w.highest_item = std::max(w.highest_item, u->to_level);
    return w;
}

void add_flotation(const Fields& a, std::vector<Row>& rows) {
    const Water w = look_at_water(a);
    Row row = row_of("flotation", "Flotation");
    if (w.lifts) {
        row.note =
            "Whether each combination stays down is looked at, the factor against flotation is not in this version.";
    } else if (w.wets_the_base()) {
        row.note = fmt::format(
            "The base lies {:.2f} m below the water at {:.2f} m, and no active combination has an item that lifts it "
            "(uplift_to_level); add one.",
            w.head(), *w.known);
        row.leads_to = "loads/cases";
        Row slip = row_of("model", "Water below the slab left out", "", row.note);
        slip.item = "water", slip.leads_to = "loads/cases";
        rows.push_back(std::move(slip));
    } else {
        row.judge(0);
        row.note = w.known ? fmt::format("No water acts: it stands at {:.2f} m, below the base at {:.2f} m.", *w.known,
                                         w.underside)
                           : "No water acts: none is known and no combination has an uplift item.";
    }
    if (w.lifts && w.wets_the_base() && w.highest_item < *w.known - 0.05) {
        Row slip = row_of("model", "Water higher than its items", "",
                          fmt::format("The ground's water stands at {:.2f} m, but no item lifts to more than {:.2f} "
                                      "m; check the two levels.",
                                      *w.known, w.highest_item));
        slip.item = "water level", slip.leads_to = "ground/water_level";
        rows.push_back(std::move(slip));
    }
    rows.push_back(std::move(row));
}

}  // namespace

std::vector<Row> judge_stability(const Fields& a) {
    std::vector<Row> rows;
    double most = 0;
    std::string in;
    for (const CombinationAnswer& c : a.combinations) {
        double Hx = 0, Hy = 0;
        for (const CaseTotal& k : a.cases) Hx += factor_in(c, k.id) * k.Hx, Hy += factor_in(c, k.id) * k.Hy;
        if (const double H = std::hypot(Hx, Hy); H > most) most = H, in = c.combination.id;
    }
    rows.push_back(row_of(
        "sliding", "Sliding", "",
        most > 0 ? fmt::format("Up to {:.0f} kN act horizontally, in {}; sliding is not worked out in this version.",
                               most, in)
                 : "No combination has a horizontal force; sliding is not worked out in this version."));
    rows.push_back(row_of("overturning", "Overturning", "",
                          "Whether each combination has an equilibrium is looked at, the factor about each edge "
                          "is not in this version."));
    add_flotation(a, rows);
    rows.push_back(row_of(
        "crack-width", "Crack width", "",
        a.model->checks.crack_width_limit
            ? fmt::format("The limit of {:.2f} mm is compared with nothing: cracks are not worked out in this version.",
                          *a.model->checks.crack_width_limit)
            : "Not worked out in this version."));
    rows.push_back(row_of("anchorage", "Anchorage and laps", "",
                          "Base bars are taken as anchored at rims and openings and lapped in full; neither is "
                          "worked out in this version. Extra bars count as far as they are anchored."));
    return rows;
}

}  // namespace mossbed
