// Bearing, contact, settlement, distortion and tilt, for service combinations.
#include <CGAL/Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <fmt/format.h>

#include <map>

#include "core/checks/checks.h"
#include "core/checks/depth_chart.h"

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

}  // namespace

namespace {

// The effective area of an eccentric base (Meyerhof 1953): the largest part of it that is symmetric about the point
// where the resultant lands, m². Summed over the nodes' shares.
double effective_area(const Answer& a, Point landing) {
    double sum = 0;
    for (size_t i = 0; i < a.mesh.nodes.size(); ++i) {
        const Point inner = a.mesh.nodes[i] + a.plate.spring_offset[i];
        if (on_slab(*a.model, 2 * landing - inner)) sum += a.plate.tributary[i];
    }
    return sum;
}

// On elastic layers the pressure at a rim has no bound: it grows as the mesh is refined, and where it passes what the
// soil can bear it spreads (yield_pressure). What compares with a bearing value there is the force over the effective
// area. On springs it is the largest nodal pressure.
std::pair<double, Point> bearing_of(const Answer& a, const CombinationAnswer& c) {
    if (a.model->ground.model != "coupled") return {c.max_pressure, c.max_pressure_at};
    const Point landing = c.ground_reaction.landing();
    return {c.ground_reaction.Fz / std::max(effective_area(a, landing), 1e-9), landing};
}

}  // namespace

void check_bearing(Answer& a) {
    Row row;
    const bool mean = a.model->ground.model == "coupled";
    row.id = "bearing", row.title = "Bearing pressure", row.unit = "kPa",
    row.clause = mean ? "contact force over the effective area (Meyerhof 1953), service combinations"
                      : "largest contact pressure under service combinations";
    row.limit = a.model->ground.allowable_pressure;
    if (nothing_to_check(a, row)) return;
    const CombinationAnswer* worst = nullptr;
    double most = 0;
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        const auto [value, at] = bearing_of(a, c);
        by.line(fmt::format("{} in {}", mean ? "contact force over effective area" : "largest contact pressure",
                            c.combination.id),
                mean ? fmt::format("{:.0f} kN over {:.1f} m² about ({:.2f}, {:.2f}); {:.0f} kPa at the rim",
                                   c.ground_reaction.Fz, c.ground_reaction.Fz / value, at.x, at.y, c.max_pressure)
                     : fmt::format("at ({:.2f}, {:.2f})", at.x, at.y),
                value, "kPa");
        if (!worst || value > most) worst = &c, most = value, row.at = at;
    });
    by.line("allowable pressure", "ground.allowable_pressure", *row.limit, "kPa");
    row.judge(most / *row.limit);
    by.line("use", fmt::format("{:.1f}/{:.0f}", most, *row.limit), *row.utilisation, "");
    row.value = most, row.combination = worst->combination.id;
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
            for (const DepthChart::Time& t : chart->times)
                by.line(fmt::format("of the ground's settlement there after {:g} years", t.years),
                        "consolidation, Terzaghi", 1000 * t.settlement, "mm");
        }
    if (row.limit) {
        row.judge(*row.value / *row.limit);
        by.line("use", fmt::format("{:.1f}/{:.0f}", *row.value, *row.limit), *row.utilisation, "");
    } else {
        row.without_limit("Nobody set a limit.");
    }
    row.working = std::move(by.lines);
    a.checks.push_back(row);
}

void check_distortion(Answer& a) {
    Row row;
    row.id = "distortion", row.title = "Angular distortion",
    row.clause = "between neighbouring columns, service combinations";
    row.limit = a.model->checks.distortion_limit;
    const auto pairs = neighbouring_columns(*a.model);
    if (pairs.empty()) return;
    if (nothing_to_check(a, row)) return;
    double worst = -1;
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        for (auto [i, j] : pairs) {
            const Column &p = a.model->columns[i], &q = a.model->columns[j];
            const double si = c.settlement(a.mesh.column_node[i]), sj = c.settlement(a.mesh.column_node[j]),
                         L = distance(p.at, q.at);
            const double t = std::abs(si - sj) / L;
            if (t <= worst) continue;
            worst = t;
            by.lines.clear();
            by.line(fmt::format("settlement of {} in {}", p.id, c.combination.id), "s1", 1000 * si, "mm");
            by.line(fmt::format("settlement of {}", q.id), "s2", 1000 * sj, "mm");
            by.line("distance", "L", L, "m");
            by.line("angular distortion", fmt::format("|s1 − s2|/L = 1/{:.0f}", t > 0 ? 1 / t : 0), t, "");
            row.combination = c.combination.id, row.at = 0.5 * (p.at + q.at);
            row.item = p.id + "–" + q.id;
        }
    });
    row.value = worst;
    if (row.limit) {
        row.judge(worst / *row.limit);
        by.line("use", fmt::format("{:.6f}/{:.6f}", worst, *row.limit), *row.utilisation, "");
    } else {
        row.without_limit("Nobody set a limit.");
    }
    row.working = std::move(by.lines);
    a.checks.push_back(row);
}

void check_tilt(Answer& a) {
    Row row;
    row.id = "tilt", row.title = "Tilt", row.clause = "of the best-fit plane, service combinations";
    row.limit = a.model->checks.tilt_limit;
    if (nothing_to_check(a, row)) return;
    Working by;
    double worst = -1;
    Box box;
    for (Point p : a.mesh.nodes) box.add(p);
    each_service(a, [&](const CombinationAnswer& c) {
        Eigen::Matrix3d A = Eigen::Matrix3d::Zero();
        Eigen::Vector3d b = Eigen::Vector3d::Zero();
        for (int i = 0; i < int(a.mesh.nodes.size()); ++i) {
            const Point p = a.mesh.nodes[i] - box.middle();
            const Eigen::Vector3d f(1, p.x, p.y);
            A += a.plate.tributary[i] * f * f.transpose();
            b += a.plate.tributary[i] * c.settlement(i) * f;
        }
        const Eigen::Vector3d plane = A.ldlt().solve(b);
        const double t = std::hypot(plane[1], plane[2]);
        by.line(fmt::format("slope of the best-fit plane in {}", c.combination.id),
                fmt::format("√({:.2g}² + {:.2g}²) along x and y", plane[1], plane[2]), t, "");
        if (t > worst) {
            worst = t, row.combination = c.combination.id;
            const Point down = unit({plane[1], plane[2]});  // shown where it settles most
            double most = -1e300;
            for (Point p : a.mesh.nodes)
                if (dot(p, down) > most) most = dot(p, down), row.at = p;
        }
    });
    row.value = worst;
    if (row.limit) {
        row.judge(worst / *row.limit);
        by.line("use", fmt::format("{:.6f}/{:.6f}", worst, *row.limit), *row.utilisation, "");
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
