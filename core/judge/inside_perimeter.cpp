#include "core/judge/inside_perimeter.h"

#include <algorithm>

namespace mossbed {

ElementsInside::ElementsInside(const Polygon& loaded, double furthest, const Cells& cells,
                               const std::vector<HalfPlane>& kept)
    : cells_(cells), sides_(loaded) {
    const Box reached = box_of(loaded).grown(1.01 * furthest);  // chords of corners bulge out by less
    // Round many columns most cells lie within: those need not be told side by side.
    const bool many_within = kept.empty() && signed_area(loaded) > 0.5 * reached.width() * reached.height();
    cells.finder.over(reached, [&](int e) {
        const CellOutline& outline = cells.outlines[size_t(e)];
        if (many_within) {
            double radius = 0;
            for (Point q : outline) radius = std::max(radius, distance(outline[0], q));
            if (sides_.hold(outline[0], radius, 0)) return held_.push_back(e);
        }
        std::span<const Point> cell(outline);
        Polygon left;
        if (!kept.empty()) left = kept_part(outline, kept), cell = left;
        if (cell.size() < 3) return;
        Met met{e, kept.empty() || std::equal(cell.begin(), cell.end(), outline.begin(), outline.end()), 0, 0, {}};
        if (!sides_.meet(cell, furthest, met.crossing, work_)) return;
        if (met.whole && met.crossing.ends <= 0) return held_.push_back(e);
        if (!met.whole) {
            met.from = corners_.size(), met.to = met.from + cell.size();
            corners_.insert(corners_.end(), cell.begin(), cell.end());
        }
        met_.push_back(met);
    });
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
        c.points_by_place = BoxBins(points), c.lines_by_place = BoxBins(lines);
        c.areas_by_place = BoxBins(areas);
        cases_.push_back(std::move(c));
    }
}

void LoadsByPlace::each(const Box& box, size_t load_case, const std::function<void(Point, double, bool)>& of) const {
    const Case& c = cases_[load_case];
    for (int i : c.points_by_place.over(box))
        if (const PointPiece& p = c.loads->points[size_t(i)]; p.N != 0) of(p.at, p.N, false);
    for (int i : c.lines_by_place.over(box)) {
        const LinePiece& l = c.loads->lines[size_t(i)];
        constexpr int parts = 8;
        for (int k = 0; k < parts; ++k) {
            const double t = (k + 0.5) / parts, N = distance(l.from, l.to) / parts * (l.q0 + t * (l.q1 - l.q0));
            if (N != 0) of(l.from + t * (l.to - l.from), N, true);
        }
    }
}

LoadsByPlace::Inside LoadsByPlace::inside(const Polygon& perimeter, size_t load_case, Point centre) const {
    const Box box = box_of(perimeter);
    Inside out;
    each(box, load_case, [&](Point at, double N, bool along_line) {
        if (!box.overlaps({at, at}) || !contains(perimeter, at)) return;
        if (along_line)
            out.lines.add(N, {1, at - centre});
        else
            (N > 0 ? out.down : out.up).add(std::abs(N), {1, at - centre});
        out.sizes += std::abs(N);
    });
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
