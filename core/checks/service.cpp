// Bearing, contact, settlement, distortion and tilt, for service combinations.
#include <CGAL/Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <fmt/format.h>

#include <map>

#include "core/checks/checks.h"
#include "core/checks/depth_chart.h"
#include "core/solve/best_fit_plane.h"

namespace mossbed {
namespace {

template <class F>
void each_service(const Answer& a, F f) {
    for (const CombinationAnswer& c : a.combinations)
        if (c.combination.purpose == "service" && c.is_solved()) f(c);
}

bool nothing_to_check(Answer& a, Row& row) {
    bool any = false;
    each_service(a, [&](const CombinationAnswer&) { any = true; });
    if (any) return false;
    row.note = "There is no solved service combination to check it with.";
    a.checks.push_back(row);
    return true;
}

std::string one_in(double slope) { return slope > 1e-9 ? fmt::format(", 1/{:.0f}", 1 / slope) : ""; }

// The effective area of an eccentric base (Meyerhof 1953): the largest part of what presses that is symmetric about the
// point where the resultant lands, m². Summed over the nodes' shares.
double effective_area(const Answer& a, const CombinationAnswer& c, const Finder& finder, Point landing) {
    double sum = 0;
    for (size_t i = 0; i < a.mesh.nodes.size(); ++i) {
        if (!(c.pressure[i] > 0)) continue;
        const Finder::Hit mirror = finder.at(2 * landing - (a.mesh.nodes[i] + a.plate.spring_offset[i]));
        if (mirror.element < 0) continue;
        double p = 0;
        for (int k = 0; k < corners(a.mesh.elements[mirror.element]); ++k)
            p += mirror.weight[size_t(k)] * c.pressure[size_t(a.mesh.elements[mirror.element][size_t(k)])];
        if (p > 0) sum += a.plate.tributary[i];
    }
    return sum;
}

// On elastic layers the pressure at a rim has no bound: it grows as the mesh is refined, and where it passes what the
// soil can bear it spreads (yield_pressure). What compares with a bearing value there is the force over the effective
// area. On springs it is the largest pressure.
struct Bearing {
    double value = 0;  // kPa
    Point at;
    double area = 0;  // m², effective; coupled only
};
Bearing bearing_of(const Answer& a, const CombinationAnswer& c, const Finder& finder) {
    if (a.model->ground.model != "coupled") return {c.max_pressure, c.max_pressure_at, 0};
    const Point landing = c.ground_reaction.landing();
    const double area = effective_area(a, c, finder, landing);
    return {c.ground_reaction.Fz / std::max(area, 1e-9), landing, area};
}

std::string words_of_yield(const CombinationAnswer& c) {
    return c.yield_ratio > 0 ? fmt::format("; {} of the base yields", share_in_words(c.yield_ratio)) : "";
}

// Where soil is let yield, "largest pressure" is that limit and says nothing: the share that yields does.
void say_how_much_yields(Answer& a) {
    const auto& limit = a.model->ground.yield_pressure;
    if (!limit) return;
    Row row;
    row.id = "yield", row.title = "Base at the yield pressure", row.unit = "%",
    row.clause = "share of the base where the ground yields, service combinations";
    if (nothing_to_check(a, row)) return;
    Working by;
    by.line("yield pressure", "ground.yield_pressure", *limit, "kPa");
    const CombinationAnswer* worst = nullptr;
    each_service(a, [&](const CombinationAnswer& c) {
        by.line(fmt::format("share that yields in {}", c.combination.id), "", 100 * c.yield_ratio, "%");
        if (!worst || c.yield_ratio > worst->yield_ratio) worst = &c;
    });
    row.value = 100 * worst->yield_ratio, row.combination = worst->combination.id, row.at = worst->max_pressure_at;
    row.without_limit("No check limits it; where much of the base yields, settlements grow without bound.");
    row.working = std::move(by.lines);
    a.checks.push_back(std::move(row));
    std::string clipped;
    for (const CombinationAnswer& c : a.combinations)
        if (c.combination.purpose == "strength" && c.is_solved() && c.yield_ratio > 0)
            clipped +=
                fmt::format("{}{} ({})", clipped.empty() ? "" : ", ", c.combination.id, share_in_words(c.yield_ratio));
    if (clipped.empty()) return;
    Row slip;
    slip.id = "model", slip.item = "yield in strength combinations", slip.title = "Yield clips factored pressures";
    slip.note = fmt::format(
        "The yield pressure of {:.0f} kPa holds down the ground's pressure in {}: moments and shears there follow the "
        "clipped pressures only. Judging them without it as well is not in this version.",
        *limit, clipped);
    a.checks.push_back(std::move(slip));
}

}  // namespace

void check_bearing(Answer& a) {
    Row row;
    const bool mean = a.model->ground.model == "coupled";
    row.id = "bearing", row.unit = "kPa";
    row.title = mean ? "Bearing: mean over effective area" : "Bearing: largest pressure";
    row.clause = mean ? "contact force over the effective area (Meyerhof 1953), the part of the pressed base that is "
                        "symmetric about its resultant; service combinations"
                      : "largest contact pressure under service combinations";
    row.limit = a.model->ground.allowable_pressure;
    if (nothing_to_check(a, row)) return;
    const Finder finder(a.mesh);
    const CombinationAnswer* worst = nullptr;
    double most = 0;
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        const Bearing b = bearing_of(a, c, finder);
        by.line(fmt::format("{} in {}", mean ? "contact force over effective area" : "largest contact pressure",
                            c.combination.id),
                mean ? fmt::format("{:.0f} kN over {:.1f} m² about ({:.2f}, {:.2f}); {:.0f} kPa at the rim{}",
                                   c.ground_reaction.Fz, b.area, b.at.x, b.at.y, c.max_pressure, words_of_yield(c))
                     : fmt::format("at ({:.2f}, {:.2f}){}", b.at.x, b.at.y, words_of_yield(c)),
                b.value, "kPa");
        if (!worst || b.value > most) worst = &c, most = b.value, row.at = b.at;
    });
    by.line("allowable pressure", "ground.allowable_pressure", *row.limit, "kPa");
    row.judge(most / *row.limit);
    by.line("use", fmt::format("{:.1f}/{:.0f}", most, *row.limit), most / *row.limit, "");
    row.value = most, row.combination = worst->combination.id;
    if (mean)
        row.note = "A mean over the whole effective area: what concentrates below heavy columns is not compared.";
    else if (worst->yield_ratio > 0)
        row.note = fmt::format("The ground yields at {:.0f} kPa over {} of the base.", *a.model->ground.yield_pressure,
                               share_in_words(worst->yield_ratio));
    // Beside it, not judged: with the water under the slab, and less what the excavation took off.
    int node = 0;
    for (int i = 0; i < int(a.mesh.nodes.size()); ++i)
        if (distance(a.mesh.nodes[size_t(i)], *row.at) < distance(a.mesh.nodes[size_t(node)], *row.at)) node = i;
    if (const double water = worst->water.empty() ? 0 : worst->water[size_t(node)]; water > 0)
        by.line("for information: gross pressure there, with the water's", fmt::format("{:.1f} + {:.1f}", most, water),
                most + water, "kPa");
    if (a.ground) {
        const double removed = a.ground->layers->removed_total(*row.at),
                     gross = most + worst->gross(node) - worst->pressure[size_t(node)];
        by.line("for information: net pressure there, less the total overburden removed",
                fmt::format("{:.1f} − {:.1f}", gross, removed), gross - removed, "kPa");
    }
    row.working = std::move(by.lines);
    a.checks.push_back(row);
    say_how_much_yields(a);
}

void check_contact(Answer& a) {
    Row row;
    row.id = "contact", row.title = "Base in contact",
    row.clause = "share of the base that presses, service combinations";
    if (a.model->ground.tension) return;  // bonded ground never lifts
    row.limit = a.model->checks.contact_ratio_limit;
    if (nothing_to_check(a, row)) return;
    const CombinationAnswer* worst = nullptr;
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        if (!worst || c.contact_ratio < worst->contact_ratio) worst = &c;
        by.line(fmt::format("share of the base in contact in {}", c.combination.id),
                fmt::format("smallest pressure {:.1f} kPa", c.min_pressure), c.contact_ratio, "");
    });
    row.value = worst->contact_ratio, row.combination = worst->combination.id;
    double deepest = 1e300;
    for (int i = 0; i < int(a.mesh.nodes.size()); ++i)
        if (worst->settlement(i) < deepest) deepest = worst->settlement(i), row.at = a.mesh.nodes[i];
    if (row.limit) {
        row.judge(*row.limit / std::max(1e-9, *row.value));
        by.line("use: required over actual", fmt::format("{:.2f}/{:.3f}", *row.limit, *row.value), *row.utilisation,
                "");
    } else {
        row.without_limit("Nobody set a least share in contact.");
    }
    row.working = std::move(by.lines);
    a.checks.push_back(row);
}

std::vector<std::pair<int, int>> neighbouring_columns(const Model& model) {
    using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
    using Base = CGAL::Triangulation_vertex_base_with_info_2<int, Kernel>;
    using Delaunay = CGAL::Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<Base>>;
    Delaunay d;
    for (size_t i = 0; i < model.columns.size(); ++i)
        d.insert({model.columns[i].at.x, model.columns[i].at.y})->info() = int(i);
    const Polygon rim = outer_rim(model.slab.outline, 0.25);
    const auto hole = inner_rim(model.slab.outline, 0.25);
    std::vector<std::pair<int, int>> out;
    for (auto e = d.finite_edges_begin(); e != d.finite_edges_end(); ++e) {
        const int i = e->first->vertex((e->second + 1) % 3)->info(), j = e->first->vertex((e->second + 2) % 3)->info();
        const Point p = model.columns[i].at, q = model.columns[j].at;
        bool stays = true;  // on the slab: a small opening between two columns does not part them
        for (int k = 1; k < 40 && stays; ++k) {
            const Point m = p + (k / 40.0) * (q - p);
            stays = (contains(rim, m) || distance_to_rim(rim, m) < 1e-6) && !(hole && contains(*hole, m));
        }
        if (stays) out.push_back(std::minmax(i, j));
    }
    std::sort(out.begin(), out.end());
    return out;
}

namespace {

void check_largest(Answer& a) {
    Row row;
    row.id = "settlement", row.title = "Largest settlement", row.unit = "mm", row.clause = "service combinations";
    if (a.model->checks.settlement_limit) row.limit = 1000 * *a.model->checks.settlement_limit;
    if (nothing_to_check(a, row)) return;
    double most = -1e300;
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        int at = 0;
        double least = 1e300;
        for (int i = 0; i < int(a.mesh.nodes.size()); ++i) {
            if (c.settlement(i) > c.settlement(at)) at = i;
            least = std::min(least, c.settlement(i));
        }
        by.line(fmt::format("largest settlement in {}", c.combination.id),
                fmt::format("at ({:.2f}, {:.2f}); smallest {:.1f} mm", a.mesh.nodes[at].x, a.mesh.nodes[at].y,
                            1000 * least),
                1000 * c.settlement(at), "mm");
        if (c.settlement(at) > most)
            most = c.settlement(at), row.combination = c.combination.id, row.at = a.mesh.nodes[at];
    });
    row.value = 1000 * most;
    if (a.ground && row.at)  // which layer does it, and how soon
        if (const auto chart = depth_chart(a, row.combination, *row.at)) {
            for (const DepthChart::Layer& l : chart->layers)
                by.line(fmt::format("of the ground's settlement there: {}", l.stratum),
                        fmt::format("{:.2f} m to {:.2f} m, {:.0f} %", l.top, l.bottom, 100 * l.share),
                        1000 * l.settlement, "mm");
            for (const DepthChart::Layer& l : chart->layers)
                if (l.years_to_90)
                    by.line(fmt::format("drainage of {}", l.stratum),
                            l.drainage.stated ? "path as stated"
                                              : fmt::format("out of its {}, with the slow layers next to it",
                                                            l.drainage.down ? "top and bottom" : "top only"),
                            l.drainage.path, "m");
            for (const DepthChart::Time& t : chart->times)
                by.line(fmt::format("of the ground's settlement there after {:g} years", t.years),
                        "consolidation, Terzaghi", 1000 * t.settlement, "mm");
        }
    if (row.limit) {
        row.judge(*row.value / *row.limit);
        by.line("use", fmt::format("{:.1f}/{:.0f}", *row.value, *row.limit), row.utilisation.value_or(0), "");
    } else {
        row.without_limit("Nobody set a limit.");
    }
    row.working = std::move(by.lines);
    a.checks.push_back(row);
}

void check_distortion(Answer& a) {
    Row row;
    row.id = "distortion", row.title = "Slope between columns",
    row.clause =
        "settlement difference over distance of neighbouring columns, tilt of the whole included; service "
        "combinations";
    row.limit = a.model->checks.distortion_limit;
    const auto pairs = neighbouring_columns(*a.model);
    if (pairs.empty()) return;
    if (nothing_to_check(a, row)) return;
    double worst = -1;
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        const SettledPlane plane = best_fit_plane(a, c);
        for (auto [i, j] : pairs) {
            const Column &p = a.model->columns[i], &q = a.model->columns[j];
            const double si = c.settlement(a.mesh.column_node[i]), sj = c.settlement(a.mesh.column_node[j]),
                         L = distance(p.at, q.at);
            const double t = std::abs(si - sj) / L;
            if (t <= worst) continue;
            worst = t;
            // The slope is the rigid tilt along the line and what the slab bends (angular distortion).
            const double rigid = plane.between(p.at, q.at) / L, bent = std::abs((sj - si) / L - rigid);
            by.lines.clear();
            by.line(fmt::format("settlement of {} in {}", p.id, c.combination.id), "s1", 1000 * si, "mm");
            by.line(fmt::format("settlement of {}", q.id), "s2", 1000 * sj, "mm");
            by.line("distance", "L", L, "m");
            by.line("slope between them", fmt::format("|s1 − s2|/L{}", one_in(t)), t, "");
            by.line("of it tilt of the whole slab along that line, by its best-fit plane",
                    fmt::format("not judged here{}", one_in(std::abs(rigid))), std::abs(rigid), "");
            by.line("angular distortion: the slope less that tilt", fmt::format("not judged here{}", one_in(bent)),
                    bent, "");
            row.note = fmt::format("Of the slope the slab's tilt is {:.2g}, its bending (angular distortion) {:.2g}.",
                                   std::abs(rigid), bent);
            row.combination = c.combination.id, row.at = 0.5 * (p.at + q.at);
            row.item = p.id + "–" + q.id;
        }
    });
    row.value = worst;
    if (row.limit) {
        row.judge(worst / *row.limit);
        by.line("use", fmt::format("{:.6f}/{:.6f}", worst, *row.limit), worst / *row.limit, "");
    } else {
        row.without_limit("Nobody set a limit. " + row.note);
    }
    row.working = std::move(by.lines);
    a.checks.push_back(row);
}

void check_tilt(Answer& a) {
    Row row;
    row.id = "tilt", row.title = "Tilt of the whole slab", row.clause = "of the best-fit plane, service combinations";
    row.limit = a.model->checks.tilt_limit;
    if (nothing_to_check(a, row)) return;
    Working by;
    double worst = -1;
    each_service(a, [&](const CombinationAnswer& c) {
        const SettledPlane plane = best_fit_plane(a, c);
        const double t = plane.slope();
        by.line(fmt::format("slope of the best-fit plane in {}", c.combination.id),
                fmt::format("√({:.2g}² + {:.2g}²) along x and y", plane.along_x, plane.along_y), t, "");
        if (t > worst) {
            worst = t, row.combination = c.combination.id;
            const Point down = unit({plane.along_x, plane.along_y});  // shown where it settles most
            double most = -1e300;
            for (Point p : a.mesh.nodes)
                if (dot(p, down) > most) most = dot(p, down), row.at = p;
        }
    });
    row.value = worst;
    if (row.limit) {
        row.judge(worst / *row.limit);
        by.line("use", fmt::format("{:.6f}/{:.6f}", worst, *row.limit), row.utilisation.value_or(0), "");
    } else {
        row.without_limit("Nobody set a limit.");
    }
    row.working = std::move(by.lines);
    a.checks.push_back(row);
}

}  // namespace

void check_settlement(Answer& a) {
    check_largest(a);
    check_distortion(a);
    check_tilt(a);
}

}  // namespace mossbed
