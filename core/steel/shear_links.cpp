#include "core/steel/shear_links.h"

#include <algorithm>

namespace mossbed {

std::vector<std::pair<const ShearLinks*, double>> links_over(const Model& m, Point from, Point to) {
    std::vector<std::pair<const ShearLinks*, double>> out;
    const Box line = box_of({from, to});
    std::vector<double> t{0, 1};
    for (const ShearLinks& l : m.steel.links) {
        if (!(l.spacing > 0) || !box_of(l.outline).overlaps(line)) continue;
        out.push_back({&l, 0});
        for (size_t k = 0; k < l.outline.size(); ++k) {
            const Point a = l.outline[k], side = l.outline[(k + 1) % l.outline.size()] - a;
            const double den = cross(to - from, side);
            if (den == 0) continue;
            const double at = cross(a - from, side) / den;
            if (at > 0 && at < 1) t.push_back(at);
        }
    }
    std::sort(t.begin(), t.end());
    auto steel = [](const ShearLinks& l) { return l.diameter / l.spacing; };
    for (size_t k = 0; k + 1 < t.size(); ++k) {
        const Point middle = from + (t[k] + t[k + 1]) / 2 * (to - from);
        std::pair<const ShearLinks*, double>* most = nullptr;
        for (auto& o : out)
            if (contains(o.first->outline, middle) && (!most || steel(*o.first) > steel(*most->first))) most = &o;
        if (most) most->second += t[k + 1] - t[k];
    }
    std::erase_if(out, [](const auto& o) { return o.second <= 0; });
    return out;
}

}  // namespace mossbed
