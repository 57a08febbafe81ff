// Bearing pressure under service combinations, and how much of the base yields.
#include <fmt/format.h>

#include "core/judge/service.h"

namespace mossbed {
namespace {

// The effective area of an eccentric base (Meyerhof 1953): the largest part of what presses that is symmetric about the
// point where the resultant lands, m². Summed over the nodes' shares.
double effective_area(const Fields& a, const CombinationAnswer& c, Point landing) {
    double sum = 0;
    for (size_t i = 0; i < a.mesh.nodes.size(); ++i) {
        if (!(c.pressure[i] > 0)) continue;
        const Finder::Hit mirror = a.finder.at(2 * landing - a.acts_at(int(i)));
        if (mirror.element < 0) continue;
        double p = 0;
        for (int k = 0; k < corners(a.mesh.elements[mirror.element]); ++k)
            p += mirror.weight[size_t(k)] * c.pressure[size_t(a.mesh.elements[mirror.element][size_t(k)])];
        if (p > 0) sum += a.shares.area[i];
    }
    return sum;
}

// On elastic layers the pressure at a rim has no bound: it grows as the mesh is refined, and where it passes what the
// soil can bear it spreads (yield_pressure). What compares with a bearing value there is the force over the effective
// area. On springs it is the largest pressure.
bool compares_a_mean(const Model& m) { return m.ground.model == GroundModel::coupled; }
struct Bearing {
    double value = 0;  // kPa
    Point at;
    double area = 0;  // m², effective; coupled only
};
Bearing bearing_of(const Fields& a, const CombinationAnswer& c) {
    if (!compares_a_mean(*a.model)) return {c.max_pressure, c.max_pressure_at, 0};
    const Point landing = c.ground_reaction.landing();
    const double area = effective_area(a, c, landing);
    return {c.ground_reaction.Fz / std::max(area, 1e-9), landing, area};
}

std::string words_of_yield(const CombinationAnswer& c) {
    return c.yield_ratio > 0 ? fmt::format("; {} of the base yields", share_in_words(c.yield_ratio)) : "";
}

Term term_of(const CombinationAnswer& c, const Bearing& b, bool mean) {
    const std::string where = fmt::format("({:.2f}, {:.2f})", b.at.x, b.at.y);
    if (!mean)
        return {
            .text = fmt::format("largest contact pressure in {}, at {}{}", c.combination.id, where, words_of_yield(c)),
            .value = b.value,
            .unit = Unit::kilopascal};
    return {.text = fmt::format("contact force over effective area in {}, about {}{}", c.combination.id, where,
                                words_of_yield(c)),
            .formula = "{N}/{A'}; {p!} at the rim",
            .put_in = {{"N", c.ground_reaction.Fz, Unit::kilonewton},
                       {"A'", b.area, Unit::square_metre, 1},
                       {"p", c.max_pressure, Unit::kilopascal, 0}},
            .value = b.value,
            .unit = Unit::kilopascal};
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

Row judge_pressure(const Fields& a) {
    Row row;
    const bool mean = compares_a_mean(*a.model);
    row.id = "bearing", row.unit = Unit::kilopascal;
    row.title = mean ? "Bearing: mean over effective area" : "Bearing: largest pressure";
    row.clause = mean ? "contact force over the effective area (Meyerhof 1953), the part of the pressed base that is "
                        "symmetric about its resultant; service combinations"
                      : "largest contact pressure under service combinations";
    row.limit = a.model->ground.allowable_pressure;
    if (!has_service(a)) {
        row.note = no_service, row.leads_to = "loads/combinations";
        return row;
    }
    const CombinationAnswer* worst = nullptr;
    double most = 0;
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        const Bearing b = bearing_of(a, c);
        by.line(term_of(c, b, mean));
        if (!worst || b.value > most) worst = &c, most = b.value, row.at = b.at;
    });
    by.line({.text = "allowable pressure (ground.allowable_pressure)", .value = *row.limit, .unit = Unit::kilopascal});
    row.judge(most / *row.limit);
    by.line(term_of_use("use", most, *row.limit, row.unit, row));
    row.value = most, row.combination = worst->combination.id;
    if (mean)
        row.note = "A mean over the whole effective area: what concentrates below heavy columns is not compared.";
    else if (worst->yield_ratio > 0)
        row.note = fmt::format("The ground yields at {:.0f} kPa over {} of the base.", *a.model->ground.yield_pressure,
                               share_in_words(worst->yield_ratio));
    write_gross_and_net(a, *worst, most, *row.at, by);
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
    row.value = 100 * worst->yield_ratio, row.combination = worst->combination.id, row.at = worst->max_pressure_at;
    row.without_limit("No check limits it; where much of the base yields, settlements grow without bound.");
    row.working = std::move(by.terms);
    return row;
}

std::optional<Row> row_of_clipped_strength(const Fields& a, double limit) {
    std::string clipped;
    for (const CombinationAnswer& c : a.combinations)
        if (c.combination.purpose == Purpose::strength && c.is_solved() && c.yield_ratio > 0)
            clipped +=
                fmt::format("{}{} ({})", clipped.empty() ? "" : ", ", c.combination.id, share_in_words(c.yield_ratio));
    if (clipped.empty()) return {};
    Row slip;
    slip.id = "model", slip.item = "yield in strength combinations", slip.title = "Yield clips factored pressures";
    slip.note = fmt::format(
        "The yield pressure of {:.0f} kPa holds down the ground's pressure in {}: moments and shears there follow the "
        "clipped pressures only. Judging them without it as well is not in this version.",
        limit, clipped);
    return slip;
}

}  // namespace

std::optional<double> limit_of_largest_pressure(const Model& m, const Combination& c) {
    if (compares_a_mean(m) || c.purpose != Purpose::service) return {};
    return m.ground.allowable_pressure;
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
