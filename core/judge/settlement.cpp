// Largest settlement, slope between neighbouring columns and tilt of the whole slab, under service combinations.
#include <fmt/format.h>

#include "core/fields/best_fit_plane.h"
#include "core/fields/depth_chart.h"
#include "core/judge/service.h"

namespace mossbed {
namespace {

Row row_of_service(const char* id, const char* title, Unit unit, const char* clause) {
    Row row = row_of(id, title, "", no_service);
    row.unit = unit, row.clause = clause, row.leads_to = "loads/combinations";
    return row;
}

// Value over limit, or "no limit" where nobody set one.
void judge_or_leave(Row& row, Working& by, int digits, const std::string& beside = "") {
    row.leads_to.clear();
    if (row.limit) {
        row.judge(*row.value / *row.limit);
        Term use = term_of_use("use", *row.value, *row.limit, row.unit, row);
        for (Measure& q : use.put_in) q.digits = digits;
        by.line(std::move(use));
    } else {
        row.without_limit(beside.empty() ? "Nobody set a limit." : "Nobody set a limit. " + beside,
                          "checks/" + row.id + "_limit");
    }
    row.working = std::move(by.terms);
}

// Which layer does it, and how soon.
void write_layers(const DepthChart& chart, Working& by) {
    for (const DepthChart::Layer& l : chart.layers)
        by.line({.text = "of the ground's settlement there: " + l.stratum,
                 .formula = "level {top!} to {bottom!}, {share!}",
                 .put_in = {{"top", l.top, Unit::metre},
                            {"bottom", l.bottom, Unit::metre},
                            {"share", 100 * l.share, Unit::percent, 0}},
                 .value = 1000 * l.settlement,
                 .unit = Unit::millimetre});
    for (const DepthChart::Layer& l : chart.layers)
        if (l.years_to_90)
            by.line(
                {.text = fmt::format("drainage of {}: {}", l.stratum,
                                     l.drainage.stated ? "path as stated"
                                     : l.drainage.down ? "out of its top and bottom, with the slow layers next to it"
                                                       : "out of its top only, with the slow layers next to it"),
                 .value = l.drainage.path,
                 .unit = Unit::metre});
    for (const DepthChart::Time& t : chart.times)
        by.line(
            {.text = fmt::format("of the ground's settlement there after {:g} years: consolidation, Terzaghi", t.years),
             .value = 1000 * t.settlement,
             .unit = Unit::millimetre});
}

Row judge_largest(const Fields& a) {
    Row row = row_of_service("settlement", "Largest settlement", Unit::millimetre, "service combinations");
    if (a.model->checks.settlement_limit) row.limit = 1000 * *a.model->checks.settlement_limit;
    if (!has_service(a)) return row;
    row.note.clear();
    double most = -1e300;
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        int at = 0;
        double least = 1e300;
        for (int i = 0; i < int(a.mesh.nodes.size()); ++i) {
            if (c.settlement(i) > c.settlement(at)) at = i;
            least = std::min(least, c.settlement(i));
        }
        const Point p = a.mesh.nodes[size_t(at)];
        by.line({.text = fmt::format("largest settlement in {}, at ({:.2f}, {:.2f})", c.combination.id, p.x, p.y),
                 .formula = "smallest {s!}",
                 .put_in = {{"s", 1000 * least, Unit::millimetre, 1}},
                 .value = 1000 * c.settlement(at),
                 .unit = Unit::millimetre});
        if (c.settlement(at) > most) most = c.settlement(at), row.combination = c.combination.id, row.at = p;
    });
    row.value = 1000 * most;
    if (a.ground && row.at)
        if (const auto chart = depth_chart(a, row.combination, *row.at)) write_layers(*chart, by);
    judge_or_leave(row, by, 1);
    return row;
}

// The slope between two columns is the rigid tilt along their line and what the slab bends (angular distortion).
struct Slope {
    double whole = -1, rigid = 0, bent = 0;
    const Column *p = nullptr, *q = nullptr;
    double s1 = 0, s2 = 0;  // m
    const CombinationAnswer* in = nullptr;
};

std::string one_in(double slope) { return slope > 1e-9 ? fmt::format(" (1/{:.0f})", 1 / slope) : ""; }

void write_slope(const Slope& s, Working& by) {
    by.line({.text = fmt::format("settlement of {} in {}", s.p->id, s.in->combination.id),
             .symbol = "s_1",
             .value = 1000 * s.s1,
             .unit = Unit::millimetre});
    by.line({.text = "settlement of " + s.q->id, .symbol = "s_2", .value = 1000 * s.s2, .unit = Unit::millimetre});
    const double L =
        by.line({.text = "distance", .symbol = "L", .value = distance(s.p->at, s.q->at), .unit = Unit::metre});
    by.line({.text = "slope between them" + one_in(s.whole),
             .formula = "|{s_1} − {s_2}|/{L}",
             .put_in = {{"s_1", 1000 * s.s1, Unit::millimetre, 2},
                        {"s_2", 1000 * s.s2, Unit::millimetre, 2},
                        {"L", L, Unit::metre}},
             .value = s.whole});
    by.line({.text = "of it tilt of the whole slab along that line, by its best-fit plane; not judged here" +
                     one_in(std::abs(s.rigid)),
             .value = std::abs(s.rigid)});
    by.line(
        {.text = "angular distortion: the slope less that tilt; not judged here" + one_in(s.bent), .value = s.bent});
}

std::optional<Row> judge_slope(const Fields& a) {
    Row row = row_of_service("distortion", "Slope between columns", Unit::none,
                             "settlement difference over distance of neighbouring columns, tilt of the whole included; "
                             "service combinations");
    row.limit = a.model->checks.distortion_limit;
    const auto pairs = neighbouring_columns(*a.model);
    if (pairs.empty()) return {};
    if (!has_service(a)) return row;
    Slope worst;
    each_service(a, [&](const CombinationAnswer& c) {
        const SettledPlane plane = best_fit_plane(a, c);
        for (auto [i, j] : pairs) {
            const Column &p = a.model->columns[size_t(i)], &q = a.model->columns[size_t(j)];
            const double si = c.settlement(a.mesh.column_node[size_t(i)]),
                         sj = c.settlement(a.mesh.column_node[size_t(j)]), L = distance(p.at, q.at),
                         whole = std::abs(si - sj) / L;
            if (whole <= worst.whole) continue;
            const double rigid = plane.between(p.at, q.at) / L;
            worst = {whole, rigid, std::abs((sj - si) / L - rigid), &p, &q, si, sj, &c};
        }
    });
    Working by;
    write_slope(worst, by);
    row.note = fmt::format("Of the slope the slab's tilt is {:.2g}, its bending (angular distortion) {:.2g}.",
                           std::abs(worst.rigid), worst.bent);
    row.value = worst.whole, row.combination = worst.in->combination.id;
    row.at = 0.5 * (worst.p->at + worst.q->at);
    row.item = worst.p->id + "–" + worst.q->id;
    judge_or_leave(row, by, 6, row.note);
    return row;
}

Row judge_tilt(const Fields& a) {
    Row row =
        row_of_service("tilt", "Tilt of the whole slab", Unit::none, "of the best-fit plane, service combinations");
    row.limit = a.model->checks.tilt_limit;
    if (!has_service(a)) return row;
    row.note.clear();
    Working by;
    double worst = -1;
    each_service(a, [&](const CombinationAnswer& c) {
        const SettledPlane plane = best_fit_plane(a, c);
        const double t = plane.slope();
        by.line({.text = "slope of the best-fit plane in " + c.combination.id,
                 .formula = "√({t_x}² + {t_y}²)",
                 .put_in = {{"t_x", plane.along_x, Unit::none, 6}, {"t_y", plane.along_y, Unit::none, 6}},
                 .value = t});
        if (t <= worst) return;
        worst = t, row.combination = c.combination.id;
        const Point down = unit({plane.along_x, plane.along_y});  // shown where it settles most
        double most = -1e300;
        for (Point p : a.mesh.nodes)
            if (dot(p, down) > most) most = dot(p, down), row.at = p;
    });
    row.value = worst;
    judge_or_leave(row, by, 6);
    return row;
}

}  // namespace

std::vector<Row> judge_settlement(const Fields& a) {
    std::vector<Row> rows{judge_largest(a)};
    if (auto row = judge_slope(a)) rows.push_back(std::move(*row));
    rows.push_back(judge_tilt(a));
    return rows;
}

}  // namespace mossbed
