// Bearing, contact, settlement, distortion and tilt, for service combinations.
#include <CGAL/Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <fmt/format.h>

#include "core/checks/checks.h"

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

void check_bearing(Answer& a) {
    Row row;
    row.id = "bearing", row.title = "Bearing pressure", row.unit = "kPa",
    row.clause = "largest contact pressure under service combinations";
    row.limit = a.model->ground.allowable_pressure;
    if (nothing_to_check(a, row)) return;
    const CombinationAnswer* worst = nullptr;
    each_service(a, [&](const CombinationAnswer& c) {
        if (!worst || c.max_pressure > worst->max_pressure) worst = &c;
    });
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        by.line(fmt::format("largest contact pressure in {}", c.combination.id),
                fmt::format("at ({:.2f}, {:.2f})", c.max_pressure_at.x, c.max_pressure_at.y), c.max_pressure, "kPa");
    });
    by.line("allowable pressure", "ground.allowable_pressure", *row.limit, "kPa");
    row.judge(worst->max_pressure / *row.limit);
    by.line("use", fmt::format("{:.1f}/{:.0f}", worst->max_pressure, *row.limit), *row.utilisation, "");
    row.value = worst->max_pressure, row.combination = worst->combination.id, row.at = worst->max_pressure_at;
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
        row.note = "No least contact ratio is set (checks.contact_ratio_limit).";
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
    if (row.limit) {
        row.judge(*row.value / *row.limit);
        by.line("use", fmt::format("{:.1f}/{:.0f}", *row.value, *row.limit), *row.utilisation, "");
    } else {
        row.note = "No limit is set (checks.settlement_limit).";
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
        row.note = "No limit is set (checks.distortion_limit).";
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
        row.note = "No limit is set (checks.tilt_limit).";
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
