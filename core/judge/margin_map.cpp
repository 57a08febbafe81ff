#include "core/judge/margin_map.h"

#include <algorithm>
#include <cmath>

namespace mossbed {
namespace {

// Along one strip: the margin at ascending places.
struct Line {
    Point from, u;
    double length = 0, left = 0, right = 0;
    std::vector<double> s, margin;
    std::optional<double> at(Point p) const {
        const double along = dot(p - from, u), off = cross(u, p - from);
        constexpr double near = 1e-6;
        if (s.empty() || along < -near || along > length + near || off > left + near || off < -right - near) return {};
        const auto it = std::lower_bound(s.begin(), s.end(), along);
        if (it == s.begin()) return margin.front();
        if (it == s.end()) return margin.back();
        const size_t k = size_t(it - s.begin());
        const double share = (along - s[k - 1]) / std::max(1e-12, s[k] - s[k - 1]);
        return margin[k - 1] + share * (margin[k] - margin[k - 1]);
    }
};

double margin_of(const std::optional<double>& needs, double has) {
    if (!needs) return -100;
    if (has <= 0) return *needs > 0 ? -100 : 100;
    return std::max(-100.0, 100 * (1 - *needs / has));
}

}  // namespace

MarginMap margin_map(const Fields& f, const Judgement& judged, Face face, Direction direction) {
    MarginMap out;
    std::vector<Line> lines;
    double least = 1e300;
    for (const StripAnswer& a : judged.steel.strips) {
        if (a.strip.direction != direction || a.sections.empty()) continue;
        Line line;
        line.from = a.strip.axis[0], line.u = unit(a.strip.axis[1] - line.from);
        line.length = distance(line.from, a.strip.axis[1]);
        line.left = a.strip.reach[0], line.right = a.strip.reach[1];
        for (const SectionRow& r : a.sections) {
            const bool bottom = face == Face::bottom;
            const double has = bottom ? r.bottom_provided : r.top_provided;
            const std::optional<double>& needs = bottom ? r.bottom_required : r.top_required;
            const double margin = margin_of(needs, has);
            if (!line.s.empty() && line.s.back() == r.s)
                line.margin.back() = std::min(line.margin.back(), margin);
            else
                line.s.push_back(r.s), line.margin.push_back(margin);
            if (margin < least) {
                least = margin;
                out.tightest = {r.at, needs && has > 0 ? *needs / has : 1e9, a.strip.id, r.combination};
            }
        }
        lines.push_back(std::move(line));
    }
    if (lines.empty()) return {};
    FieldMap& map = out.map;
    map.corner.resize(f.mesh.elements.size());
    map.least = 1e300, map.most = -1e300;
    std::vector<double> at_node(f.mesh.nodes.size());
    for (size_t n = 0; n < at_node.size(); ++n) {
        double worst = 1e300;
        for (const Line& l : lines)
            if (const auto v = l.at(f.mesh.nodes[n])) worst = std::min(worst, *v);
        at_node[n] = worst < 1e299 ? worst : -100;
    }
    for (size_t e = 0; e < f.mesh.elements.size(); ++e)
        for (int k = 0; k < corners(f.mesh.elements[e]); ++k) {
            const int node = f.mesh.elements[e][size_t(k)];
            const double v = at_node[size_t(node)];
            map.corner[e][size_t(k)] = v;
            if (v < map.least) map.least = v, map.least_at = f.mesh.nodes[size_t(node)];
            if (v > map.most) map.most = v, map.most_at = f.mesh.nodes[size_t(node)];
        }
    return out;
}

}  // namespace mossbed
