#include "core/judge/inside_perimeter.h"

#include <algorithm>

#include "core/base/polygons.h"

namespace mossbed {

// Elements whose corners are all nearer to it than that lie wholly inside (the perimeter is convex) and need no
// clipping.
constexpr double surely = 0.99, out_of_chords = 1.004;  // a perimeter's round corners are polygons of the same area

AroundLoaded::AroundLoaded(const Polygon& loaded, double reach, const Fields& a, Point centre,
                           const std::vector<HalfPlane>& kept)
    : a_(a), centre_(centre) {
    a.finder.over(box_of(loaded).grown(reach), [&](int e) {
        Near n{e, kept_part(a.mesh.polygon(e), kept), 1e300, 0, {}};
        if (n.outline.size() < 3) return;
        for (Point q : n.outline)
            n.furthest = std::max(n.furthest, contains(loaded, q) ? 0 : distance_to_rim(loaded, q));
        n.nearest = gap_between(n.outline, loaded);
        if (n.nearest > reach * out_of_chords) return;
        if (n.furthest < surely * reach) add(n.outline, e, n.whole);
        near_.push_back(std::move(n));
    });
}

void AroundLoaded::add(const Polygon& part, int element, Inside& to) const {
    if (part.size() < 3) return;
    std::array<double, 4> w{};
    std::array<Point, 4> moments{};
    double area = 0;
    Point moment;
    integrate(part, [&](Point q, double f) {
        const auto N = weights_at(a_.mesh, element, q);
        const Point r = q - centre_;
        for (size_t k = 0; k < 4; ++k) w[k] += f * N[k], moments[k] = moments[k] + f * N[k] * r;
        area += f, moment = moment + f * r;
    });
    if (area <= 0) return;
    to.elements.push_back({element, area, moment});
    const Element& nodes = a_.mesh.elements[size_t(element)];
    for (int k = 0; k < corners(nodes); ++k) {
        const int node = nodes[size_t(k)];
        const double beside = a_.pressure_beside(element, node);
        to.nodes.push_back({node, w[size_t(k)] * beside, beside * moments[size_t(k)]});
    }
}

Inside AroundLoaded::inside(const Polygon& perimeter, double a_perimeter) const {
    Inside out;
    for (const Near& n : near_) {
        if (n.nearest > out_of_chords * a_perimeter) continue;
        if (n.furthest < surely * a_perimeter) {
            out.elements.insert(out.elements.end(), n.whole.elements.begin(), n.whole.elements.end());
            out.nodes.insert(out.nodes.end(), n.whole.nodes.begin(), n.whole.nodes.end());
        } else {
            add(clip_to_convex(n.outline, perimeter), n.element, out);
        }
    }
    return out;
}

LoadsByPlace::LoadsByPlace(const Fields& a) {
    for (size_t k = 0; k < a.case_loads.size(); ++k) {
        const CaseLoads& loads = a.case_loads[k];
        Case c{&loads, {}, {}, {}, {}};
        std::vector<Box> points, lines, areas;
        for (const PointPiece& p : loads.points) points.push_back({p.at, p.at});
        for (const LinePiece& l : loads.lines) lines.push_back(box_of({l.from, l.to}));
        for (const LoadItem& item : a.model->loads.cases[k].items)
            if (const auto* l = std::get_if<AreaLoad>(&item.load))
                c.areas.push_back(l), areas.push_back(box_of(l->outline));
        c.points_by_place = BoxBins(std::move(points)), c.lines_by_place = BoxBins(std::move(lines));
        c.areas_by_place = BoxBins(std::move(areas));
        cases_.push_back(std::move(c));
    }
}

LoadsByPlace::Inside LoadsByPlace::inside(const Polygon& perimeter, size_t load_case, Point centre) const {
    const Case& c = cases_[load_case];
    const Box box = box_of(perimeter);
    Inside out;
    auto is_inside = [&](Point at) { return box.overlaps({at, at}) && contains(perimeter, at); };
    for (int i : c.points_by_place.over(box)) {
        const PointPiece& p = c.loads->points[size_t(i)];
        if (p.N == 0 || !is_inside(p.at)) continue;
        (p.N > 0 ? out.down : out.up).add(std::abs(p.N), {1, p.at - centre});
        out.sizes += std::abs(p.N);
    }
    for (int i : c.lines_by_place.over(box)) {
        const LinePiece& l = c.loads->lines[size_t(i)];
        constexpr int parts = 8;
        for (int k = 0; k < parts; ++k) {
            const double t = (k + 0.5) / parts, N = distance(l.from, l.to) / parts * (l.q0 + t * (l.q1 - l.q0));
            const Point at = l.from + t * (l.to - l.from);
            if (N == 0 || !is_inside(at)) continue;
            out.lines.add(N, {1, at - centre});
            out.sizes += std::abs(N);
        }
    }
    return out;
}

std::pair<double, double> LoadsByPlace::near(Point at, double reach, size_t load_case) const {
    const Case& c = cases_[load_case];
    const Polygon circle = round_polygon(at, reach, 32);
    const Box box = box_of(circle);
    double N = inside(circle, load_case).sizes, M = 0;
    for (int i : c.points_by_place.over(box)) {
        const PointPiece& p = c.loads->points[size_t(i)];
        if (distance(p.at, at) < reach) M += std::hypot(p.Mx, p.My);
    }
    for (int i : c.areas_by_place.over(box)) {
        const AreaLoad& l = *c.areas[size_t(i)];
        N += std::abs(l.pressure() * signed_area(clip_to_convex(l.outline, circle)));
    }
    return {N, M};
}

std::vector<std::vector<double>> slab_loads(const Fields& a) {
    const size_t n = a.mesh.elements.size();
    std::vector<std::vector<double>> spread;
    for (const CaseLoads& c : a.case_loads) {
        spread.push_back(c.pressure);
        for (const AreaPiece& p : c.areas)
            if (!p.of_column) spread.back()[size_t(p.element)] += p.a * signed_area(p.outline) / a.mesh.area(p.element);
    }
    std::vector<std::vector<double>> loads(a.combinations.size(), std::vector<double>(n, 0.0));
    for (size_t c = 0; c < loads.size(); ++c)
        for (size_t i = 0; i < spread.size(); ++i)
            if (const double f = factor_in(a.combinations[c], a.cases[i].id); f != 0)
                for (size_t e = 0; e < n; ++e) loads[c][e] += f * spread[i][e];
    return loads;
}

}  // namespace mossbed
