// Bearing pressure under service combinations, and how much of the base yields.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include "core/fields/moving_mean.h"
#include "core/judge/service.h"

namespace mossbed {
namespace {

bool is_coupled(const Model& m) { return m.ground.model == GroundModel::coupled; }

// Where the combination has a case of that action, the allowable pressure may be raised.
double raised(const Model& m, const Combination& c) {
    double by = 1;
    for (const LoadCase& k : m.loads.cases) {
        if (factor_in(c, k.id) == 0) continue;
        if (k.action == Action::wind) by = std::max(by, m.ground.raised_in_wind);
        if (k.action == Action::seismic) by = std::max(by, m.ground.raised_in_earthquake);
    }
    return by;
}

// What is held against the allowable pressure: on springs the largest contact pressure. On layered ground the pressure
// at a rim has no bound, it grows as the mesh is refined; there it is the largest mean over a moving area, and over the
// effective area where the base has one.
struct Bearing {
    enum Of : char { largest, square, share, effective };
    Of of = largest;
    double value = 0;  // kPa, the contact pressure
    Point at;
    Polygon area;
    std::string column;
    double side = 0;  // m, of the square
};
Bearing bearing_of(const Fields& a, const CombinationAnswer& c, const std::vector<size_t>& nearest) {
    if (!is_coupled(*a.model)) return {Bearing::largest, c.max_pressure, c.max_pressure_at, {}, {}};
    const double side = characteristic_side(a, c);
    MovingMean m = largest_over_square(a, c, side);
    Bearing out{Bearing::square, m.value, m.at, std::move(m.area), {}, side};
    if (auto share = largest_over_shares(a, c, side, nearest); share && share->value > out.value)
        out = {Bearing::share, share->value, share->at, std::move(share->area), share->column, side};
    const Point landing = c.ground_reaction.landing();
    if (EffectiveArea e = effective_area(*a.model, landing); e.area > 0 && c.ground_reaction.Fz / e.area > out.value)
        out = {Bearing::effective, c.ground_reaction.Fz / e.area, landing, std::move(e.outline), {}, side};
    return out;
}

std::string words_of_yield(const CombinationAnswer& c) {
    return c.yield_ratio > 0 ? fmt::format("; {} of the base yields", share_in_words(c.yield_ratio)) : "";
}

const char* title_of(Bearing::Of of) {
    switch (of) {
        case Bearing::largest:
            return "Bearing: largest pressure";
        case Bearing::square:
            return "Bearing: mean over a square";
        case Bearing::share:
            return "Bearing: mean over a column's share";
        case Bearing::effective:
            return "Bearing: mean over the effective area";
    }
    return "Bearing";
}

Term term_of(const CombinationAnswer& c, const Bearing& b) {
    const std::string where = fmt::format("({:.2f}, {:.2f})", b.at.x, b.at.y), in = c.combination.id;
    Term t{.value = b.value, .unit = Unit::kilopascal};
    if (b.of == Bearing::largest)
        t.text = fmt::format("largest contact pressure in {}, at {}{}", in, where, words_of_yield(c));
    if (b.of == Bearing::square)
        t.text = fmt::format("largest mean over a moving square in {}, about {}{}", in, where, words_of_yield(c)),
        t.formula = "a square of {2 (D/k)^¼}; {p!} at the rim";
    if (b.of == Bearing::share)
        t.text = fmt::format("mean over the share of {} in {}{}", b.column, in, words_of_yield(c)),
        t.formula = "above that over any square of {2 (D/k)^¼}; {p!} at the rim";
    if (b.of == Bearing::effective)
        t.text = fmt::format("contact force over the effective area in {}, about {}{}", in, where, words_of_yield(c)),
        t.formula = "above that over any square of {2 (D/k)^¼}; {p!} at the rim";
    if (b.of != Bearing::largest)
        t.put_in = {{"2 (D/k)^¼", b.side, Unit::metre}, {"p", c.max_pressure, Unit::kilopascal, 0}};
    return t;
}

// Beside it, for information: the mean over the effective area, or why there is none.
void write_effective(const Fields& a, const CombinationAnswer& c, Working& by) {
    const EffectiveArea e = effective_area(*a.model, c.ground_reaction.landing());
    if (e.area > 0)
        by.line({.text = "for information: contact force over the effective area (Meyerhof 1953)",
                 .formula = "{N}/{A'}",
                 .put_in = {{"N", c.ground_reaction.Fz, Unit::kilonewton}, {"A'", e.area, Unit::square_metre, 1}},
                 .value = c.ground_reaction.Fz / e.area,
                 .unit = Unit::kilopascal});
    else
        by.line({.text = "no effective area beside it: " + e.why_not + "; the mean over what presses",
                 .value = c.max_pressure > 0 && c.contact_ratio > 0
                              ? c.ground_reaction.Fz / (c.contact_ratio * net_area(*a.model))
                              : 0,
                 .unit = Unit::kilopascal});
}

int nearest_node(const Fields& a, Point at) {
    int node = 0;
    for (int i = 0; i < int(a.mesh.nodes.size()); ++i)
        if (distance(a.mesh.nodes[size_t(i)], at) < distance(a.mesh.nodes[size_t(node)], at)) node = i;
    return node;
}

// Beside it, not judged: with the water under the slab, and less what the excavation took off.
void write_gross_and_net(const Fields& a, const CombinationAnswer& c, double p, Point at, Working& by) {
    const int node = nearest_node(a, at);
    const Measure contact{"p", p, Unit::kilopascal};
    if (const double water = c.water.empty() ? 0 : c.water[size_t(node)]; water > 0)
        by.line({.text = "for information: gross pressure there, with the water's",
                 .formula = "{p} + {u}",
                 .put_in = {contact, {"u", water, Unit::kilopascal}},
                 .value = p + water,
                 .unit = Unit::kilopascal});
    if (!a.ground) return;
    const double removed = a.ground->layers->removed_total(at), gross = p + c.gross(node) - c.pressure[size_t(node)];
    by.line({.text = "for information: net pressure there, less the total overburden removed",
             .formula = "{q} − {σ_v}",
             .put_in = {{"q", gross, Unit::kilopascal}, {"σ_v", removed, Unit::kilopascal}},
             .value = gross - removed,
             .unit = Unit::kilopascal});
}

// What the allowable pressure is compared with: the contact pressure or, where it is a net one, what of the pressure is
// more than the excavation took off.
double compared(const Fields& a, const CombinationAnswer& c, const Bearing& b) {
    if (a.model->ground.allowable_is == AllowableIs::gross) return b.value;
    const size_t node = size_t(nearest_node(a, b.at));
    return b.value + (c.water.empty() ? 0 : c.water[node]) - a.ground->layers->removed_total(b.at);
}

Row judge_pressure(const Fields& a) {
    Row row;
    const Model& m = *a.model;
    const bool net = m.ground.allowable_is == AllowableIs::net;
    row.id = "bearing", row.unit = Unit::kilopascal;
    row.title = title_of(is_coupled(m) ? Bearing::square : Bearing::largest);
    row.clause = is_coupled(m)
                     ? "largest mean of the contact pressure over a square of twice the slab's characteristic length, "
                       "over a column's share of the base or over the effective area; service combinations"
                     : "largest contact pressure under service combinations";
    row.limit = m.ground.allowable_pressure;
    if (!has_service(a)) {
        row.note = no_service, row.leads_to = "loads/combinations";
        return row;
    }
    if (net && !a.ground) {
        row.note = "The allowable pressure is a net one; without boreholes what the excavation takes off is not known.";
        row.leads_to = "ground/allowable_is";
        return row;
    }
    std::vector<const CombinationAnswer*> services;
    each_service(a, [&](const CombinationAnswer& c) { services.push_back(&c); });
    std::vector<Bearing> found(services.size());
    const auto nearest = is_coupled(m) && !m.columns.empty() ? nearest_columns(a) : std::vector<size_t>();
    tbb::parallel_for(size_t(0), services.size(), [&](size_t k) { found[k] = bearing_of(a, *services[k], nearest); });
    const CombinationAnswer* worst = nullptr;
    Bearing of;
    double most = 0, use = 0;
    Working by;
    for (size_t k = 0; k < services.size(); ++k) {
        const CombinationAnswer& c = *services[k];
        Bearing& b = found[k];
        by.line(term_of(c, b));
        const double value = compared(a, c, b), limit = m.ground.allowable_pressure * raised(m, c.combination);
        if (worst && value / limit <= use) continue;
        worst = &c, most = value, use = value / limit, row.limit = limit, of = std::move(b);
    }
    row.at = of.at, row.area = of.area;
    row.title = std::string(title_of(of.of)) + (net ? ", net" : "");
    if (net) write_gross_and_net(a, *worst, of.value, of.at, by);
    by.line({.text = "allowable pressure (ground.allowable_pressure)",
             .value = m.ground.allowable_pressure,
             .unit = Unit::kilopascal});
    if (*row.limit != m.ground.allowable_pressure)
        by.line({.text = "raised for wind or earthquake in " + worst->combination.id,
                 .formula = "{p} · {f}",
                 .put_in = {{"p", m.ground.allowable_pressure, Unit::kilopascal},
                            {"f", *row.limit / m.ground.allowable_pressure}},
                 .value = *row.limit,
                 .unit = Unit::kilopascal});
    row.judge(use);
    by.line(term_of_use("use", most, *row.limit, row.unit, row));
    row.value = most, row.combination = worst->combination.id;
    if (of.of == Bearing::square)
        row.note = fmt::format("Over {:.1f} × {:.1f} m; at the rim {:.0f} kPa, which on layered ground has no bound.",
                               of.side, of.side, worst->max_pressure);
    else if (of.of == Bearing::share)
        row.note = fmt::format("Over the share of {}; at the rim {:.0f} kPa, which on layered ground has no bound.",
                               of.column, worst->max_pressure);
    else if (worst->yield_ratio > 0)
        row.note = fmt::format("The ground yields at {:.0f} kPa over {} of the base.", *m.ground.yield_pressure,
                               share_in_words(worst->yield_ratio));
    if (of.of != Bearing::effective) write_effective(a, *worst, by);
    if (!net) write_gross_and_net(a, *worst, of.value, of.at, by);
    row.working = std::move(by.terms);
    return row;
}

// Where soil is let yield, "largest pressure" is that limit and says nothing: the share that yields does.
Row row_of_yield(const Fields& a, double limit) {
    Row row;
    row.id = "yield", row.title = "Base at the yield pressure", row.unit = Unit::percent,
    row.clause = "share of the base where the ground yields, service combinations";
    if (!has_service(a)) {
        row.note = no_service, row.leads_to = "loads/combinations";
        return row;
    }
    Working by;
    by.line({.text = "yield pressure (ground.yield_pressure)", .value = limit, .unit = Unit::kilopascal});
    const CombinationAnswer* worst = nullptr;
    each_service(a, [&](const CombinationAnswer& c) {
        by.line(
            {.text = "share that yields in " + c.combination.id, .value = 100 * c.yield_ratio, .unit = Unit::percent});
        if (!worst || c.yield_ratio > worst->yield_ratio) worst = &c;
    });
    if (!worst) return row;
    for (const CombinationAnswer& c : as_listed(a.combinations))
        if (c.combination.purpose != Purpose::service && c.is_solved() && c.yield_ratio > 0)
            by.line({.text = fmt::format("for information: in {}, for {}", c.combination.id,
                                         name_of(c.combination.purpose)),
                     .value = 100 * c.yield_ratio,
                     .unit = Unit::percent});
    row.value = 100 * worst->yield_ratio, row.combination = worst->combination.id, row.at = worst->max_pressure_at;
    row.without_limit("No check limits it; where much of the base yields, settlements grow without bound.");
    row.working = std::move(by.terms);
    return row;
}

// Strength combinations that the ground yields in are solved a second time, on ground that does not.
std::optional<Row> row_of_clipped_strength(const Fields& a, double limit) {
    std::string clipped;
    for (const CombinationAnswer& c : as_listed(a.combinations))
        if (c.combination.purpose == Purpose::strength && c.is_solved() && c.yield_ratio > 0)
            clipped +=
                fmt::format("{}{} ({})", clipped.empty() ? "" : ", ", c.combination.id, share_in_words(c.yield_ratio));
    if (clipped.empty()) return {};
    Row row = row_of("model", "Strength with and without yield", "yield in strength combinations");
    row.note = fmt::format(
        "At {:.0f} kPa the ground yields in {}. Concrete and steel are designed for the worse of pressures with that "
        "bound and without it.",
        limit, clipped);
    if (a.coarse)
        row.note += " In a quick look only with it.";
    else
        row.status = Status::pass;
    return row;
}

}  // namespace

std::optional<double> limit_of_largest_pressure(const Model& m, const Combination& c) {
    if (is_coupled(m) || c.purpose != Purpose::service || m.ground.allowable_is == AllowableIs::net) return {};
    return m.ground.allowable_pressure * raised(m, c);
}

std::vector<Row> judge_bearing(const Fields& a) {
    std::vector<Row> rows{judge_pressure(a)};
    if (const auto& limit = a.model->ground.yield_pressure; limit && has_service(a)) {
        rows.push_back(row_of_yield(a, *limit));
        if (auto slip = row_of_clipped_strength(a, *limit)) rows.push_back(std::move(*slip));
    }
    return rows;
}

}  // namespace mossbed
