#include "core/mesh/pair_triangles.h"

#include <algorithm>
#include <tuple>
#include <unordered_map>
#include <unordered_set>

namespace mossbed {

double quad_shape(Point a, Point b, Point c, Point d) {
    auto sine = [](Point p, Point next, Point last) {
        const Point u = next - p, v = last - p;
        const double l = length(u) * length(v);
        return l > 0 ? cross(u, v) / l : 0;
    };
    return std::min({sine(a, b, d), sine(b, c, a), sine(c, d, b), sine(d, a, c)});
}

std::vector<Element> pair_triangles(const std::vector<Point>& points, const std::vector<std::array<int, 3>>& triangles,
                                    const std::vector<FeatureEdge>& features) {
    auto key = [](int a, int b) { return (uint64_t(std::min(a, b)) << 32) | uint64_t(std::max(a, b)); };
    std::unordered_set<uint64_t> barrier;
    for (const FeatureEdge& e : features) barrier.insert(key(e.a, e.b));

    struct Pair {
        long shape;         // in parts of 10⁻⁴: shapes equal but for rounding are equal
        int first, second;  // triangles, the lower number first
        Element quad;
    };
    std::vector<Pair> pairs;
    std::unordered_map<uint64_t, std::pair<int, int>> waiting;  // edge → triangle and its corner opposite the edge
    waiting.reserve(triangles.size() * 3 / 2 + features.size());
    for (int t = 0; t < int(triangles.size()); ++t)
        for (int k = 0; k < 3; ++k) {
            const int a = triangles[t][(k + 1) % 3], b = triangles[t][(k + 2) % 3], top = triangles[t][k];
            const uint64_t e = key(a, b);
            if (barrier.count(e)) continue;
            auto [it, fresh] = waiting.try_emplace(e, t, top);
            if (fresh) continue;
            const int other = it->second.second;
            const Element quad{top, a, other, b};
            const double s = quad_shape(points[quad[0]], points[quad[1]], points[quad[2]], points[quad[3]]);
            const auto [first, second] = std::minmax(it->second.first, t);
            if (s > 0.42) pairs.push_back({std::lround(s * 1e4), first, second, quad});
        }
    // Those of equal shape are taken in the order of place, so that a lattice pairs the same way everywhere.
    std::sort(pairs.begin(), pairs.end(), [](const Pair& p, const Pair& q) {
        return std::tie(q.shape, p.first, p.second) < std::tie(p.shape, q.first, q.second);
    });
    std::vector<char> used(triangles.size(), 0);
    std::vector<Element> out;
    for (const Pair& p : pairs)
        if (!used[p.first] && !used[p.second]) {
            used[p.first] = used[p.second] = 1;
            out.push_back(p.quad);
        }
    for (size_t t = 0; t < triangles.size(); ++t)
        if (!used[t]) out.push_back({triangles[t][0], triangles[t][1], triangles[t][2], -1});
    auto place = [&](const Element& e) {
        Point c;
        for (int k = 0; k < corners(e); ++k) c = c + (1.0 / corners(e)) * points[e[k]];
        return c;
    };
    std::vector<std::pair<Point, Element>> sorted;
    sorted.reserve(out.size());
    for (const Element& e : out) sorted.push_back({place(e), e});
    std::stable_sort(sorted.begin(), sorted.end(), [](auto& a, auto& b) {
        return a.first.x < b.first.x || (a.first.x == b.first.x && a.first.y < b.first.y);
    });
    for (size_t i = 0; i < out.size(); ++i) out[i] = sorted[i].second;
    return out;
}

}  // namespace mossbed
