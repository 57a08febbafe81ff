#include "core/fields/along_line.h"

#include <algorithm>

namespace mossbed {

AlongLine along_line(const Fields& a, const CombinationAnswer& c, const std::array<Point, 2>& line) {
    AlongLine out;
    out.line = line;
    if (!c.has_field()) return out;
    const double L = distance(line[0], line[1]);
    const Point u = unit(line[1] - line[0]);
    const int n = std::clamp(int(L / (a.mesh.size / 3)), 60, 500);
    for (int i = 0; i <= n; ++i) {
        const double t = L * i / n;
        const Finder::Hit h = a.finder.at(line[0] + t * u);
        out.t.push_back(t);
        out.on.push_back(h.element >= 0);
        double p = 0, w = 0, m = 0;
        if (h.element >= 0) {
            const Element& nodes = a.mesh.elements[size_t(h.element)];
            for (int k = 0; k < corners(nodes); ++k) {
                const double share = h.weight[size_t(k)];
                p += share * c.pressure[size_t(nodes[size_t(k)])] * a.pressure_beside(h.element, nodes[size_t(k)]);
                w += share * 1000 * c.settlement(nodes[size_t(k)]);
                m += share * turned(c.forces[a.slots.of_corner[size_t(h.element)][size_t(k)]], u).mx;
            }
        }
        out.pressure.push_back(p), out.settlement.push_back(w), out.moment.push_back(m);
    }
    return out;
}

std::vector<std::pair<int, int>> AlongLine::stretches() const {
    std::vector<std::pair<int, int>> out;
    for (int i = 0; i < int(t.size()); ++i) {
        if (!on[size_t(i)]) continue;
        if (out.empty() || !on[size_t(i) - 1]) out.push_back({i, i});
        out.back().second = i;
    }
    return out;
}

}  // namespace mossbed
