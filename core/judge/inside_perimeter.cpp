#include "core/judge/inside_perimeter.h"

#include <algorithm>

namespace mossbed {

// Elements whose corners are all nearer to it than that lie
// wholly inside (the perimeter is convex) and need no clipping.
Inside inside_of(const Polygon& perimeter, const Polygon& loaded, double a_perimeter, const Fields& a) {
    const Mesh& mesh = a.mesh;
    Inside out;
    a.finder.over(box_of(perimeter), [&](int e) {
        const Polygon whole = mesh.polygon(e);
        const bool all_inside = a_perimeter > 0 && std::all_of(whole.begin(), whole.end(), [&](Point q) {
                                    return contains(loaded, q) || distance_to_rim(loaded, q) < 0.99 * a_perimeter;
                                });
        const Polygon part = all_inside ? whole : clip_to_convex(perimeter, whole);
        if (part.size() < 3) return;
        std::array<double, 4> w{};
        double area = 0;
        integrate(part, [&](Point q, double f) {
            const auto N = weights_at(mesh, e, q);
            for (int k = 0; k < 4; ++k) w[k] += f * N[k];
            area += f;
        });
        if (area <= 0) return;
        out.elements.push_back({e, area});
        for (int k = 0; k < corners(mesh.elements[e]); ++k) {
            const int node = mesh.elements[e][k];
            out.nodes.push_back({node, w[k] * a.pressure_beside(e, node)});
        }
    });
    return out;
}

LoadsInside loads_inside(const Polygon& perimeter, const CaseLoads& loads) {
    LoadsInside out;
    const Box box = box_of(perimeter);
    auto add = [&](Point at, double N) {
        if (N != 0 && box.overlaps({at, at}) && contains(perimeter, at)) (N > 0 ? out.down : out.up) += N;
    };
    for (const PointPiece& p : loads.points) add(p.at, p.N);
    for (const LinePiece& l : loads.lines) {
        const Box along{{std::min(l.from.x, l.to.x), std::min(l.from.y, l.to.y)},
                        {std::max(l.from.x, l.to.x), std::max(l.from.y, l.to.y)}};
        if (!box.overlaps(along)) continue;
        constexpr int parts = 8;
        for (int k = 0; k < parts; ++k) {
            const double t = (k + 0.5) / parts;
            add(l.from + t * (l.to - l.from), distance(l.from, l.to) / parts * (l.q0 + t * (l.q1 - l.q0)));
        }
    }
    return out;
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
