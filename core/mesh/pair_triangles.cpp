#include "core/mesh/pair_triangles.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>

#include <algorithm>
#include <tuple>

#include "core/base/bucket_sort.h"

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
    struct Side {
        int low, high;  // its ends
        int triangle;   // whose it is; −1: of a line of the model, which nothing is paired across
        int top;        // the corner of that triangle opposite
        bool operator<(const Side& o) const {
            return std::tie(low, high, triangle) < std::tie(o.low, o.high, o.triangle);
        }
    };
    std::vector<Side> sides;
    sides.reserve(3 * triangles.size() + features.size());
    auto add = [&](int a, int b, int triangle, int top) {
        sides.push_back({std::min(a, b), std::max(a, b), triangle, top});
    };
    for (const FeatureEdge& e : features) add(e.a, e.b, -1, -1);
    for (int t = 0; t < int(triangles.size()); ++t)
        for (size_t k = 0; k < 3; ++k) add(triangles[t][(k + 1) % 3], triangles[t][(k + 2) % 3], t, triangles[t][k]);
    sort_in_buckets(sides, points.size(), [](const Side& s) { return s.low; });

    struct Pair {
        long shape;         // in parts of 10⁻⁴: shapes equal but for rounding are equal
        int first, second;  // triangles, the lower number first
        Element quad;
    };
    std::vector<Pair> pairs;
    for (size_t i = 0; i + 1 < sides.size(); ++i) {
        const Side &one = sides[i], &other = sides[i + 1];
        const bool line = one.triangle < 0 || (i > 0 && sides[i - 1].low == one.low && sides[i - 1].high == one.high);
        if (line || one.low != other.low || one.high != other.high) continue;
        // round it with the second triangle on its left
        const std::array<int, 3>& t = triangles[size_t(other.triangle)];
        const size_t k = size_t(std::find(t.begin(), t.end(), other.top) - t.begin());
        pairs.push_back({0, one.triangle, other.triangle, {other.top, t[(k + 1) % 3], one.top, t[(k + 2) % 3]}});
    }
    tbb::parallel_for(size_t(0), pairs.size(), [&](size_t i) {
        const Element& q = pairs[i].quad;
        const double s = quad_shape(points[q[0]], points[q[1]], points[q[2]], points[q[3]]);
        pairs[i].shape = s > 0.42 ? std::lround(s * 1e4) : 0;
    });
    std::erase_if(pairs, [](const Pair& p) { return p.shape == 0; });
    // Those of equal shape are taken in the order of place, so that a lattice pairs the same way everywhere.
    tbb::parallel_sort(pairs.begin(), pairs.end(), [](const Pair& p, const Pair& q) {
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
    struct Placed {
        double x, y;
        int number;
        bool operator<(const Placed& o) const { return std::tie(x, y, number) < std::tie(o.x, o.y, o.number); }
    };
    std::vector<Placed> placed;
    placed.reserve(out.size());
    for (size_t i = 0; i < out.size(); ++i) {
        const Point p = place(out[i]);
        placed.push_back({p.x, p.y, int(i)});
    }
    tbb::parallel_sort(placed.begin(), placed.end());
    std::vector<Element> sorted;
    sorted.reserve(out.size());
    for (const Placed& p : placed) sorted.push_back(out[size_t(p.number)]);
    return sorted;
}

}  // namespace mossbed
