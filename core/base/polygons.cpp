#include "core/base/polygons.h"

namespace mossbed {
namespace {

template <class F>
bool any_crossing(const Polygon& a, const Polygon& b, F counts) {
    for (size_t i = 0; i < a.size(); ++i)
        for (size_t j = 0; j < b.size(); ++j) {
            const Point p = a[i], q = a[i + 1 < a.size() ? i + 1 : 0], r = b[j], s = b[j + 1 < b.size() ? j + 1 : 0];
            if (const auto at = segment_crossing(p, q, r, s); at && counts(p, q, r, s, *at)) return true;
        }
    return false;
}

}  // namespace

bool is_convex(const Polygon& p) {
    for (size_t i = 0; i < p.size(); ++i)
        if (cross(p[(i + 1) % p.size()] - p[i], p[(i + 2) % p.size()] - p[(i + 1) % p.size()]) < -1e-9) return false;
    return true;
}

bool lies_within(const Polygon& inner, const Polygon& outer) {
    for (Point q : inner)
        if (!contains(outer, q)) return false;
    return !any_crossing(inner, outer, [](auto...) { return true; });
}

bool touch(const Polygon& a, const Polygon& b) {
    if (!box_of(a).overlaps(box_of(b))) return false;
    return contains(a, b[0]) || contains(b, a[0]) || any_crossing(a, b, [](auto...) { return true; });
}

double gap_between(const Polygon& a, const Polygon& b) { return touch(a, b) ? 0 : gap_between_rims(a, b); }

double gap_between_rims(const Polygon& a, const Polygon& b) {
    double gap = 1e300;  // rims that do not cross are nearest at a corner
    for (Point q : a) gap = std::min(gap, distance_to_rim(b, q));
    for (Point q : b) gap = std::min(gap, distance_to_rim(a, q));
    return gap;
}

bool share_area(const Polygon& a, const Polygon& b) {
    constexpr double slack = 1e-6;  // m
    if (!box_of(a).overlaps(box_of(b))) return false;
    auto well_inside = [&](const Polygon& p, Point q) { return contains(p, q) && distance_to_rim(p, q) > slack; };
    if (well_inside(a, centroid(b)) || well_inside(b, centroid(a))) return true;
    for (Point q : a)
        if (well_inside(b, q)) return true;
    for (Point q : b)
        if (well_inside(a, q)) return true;
    return any_crossing(a, b, [&](Point p, Point q, Point r, Point s, Point at) {
        return std::abs(cross(q - p, s - r)) > 1e-9 * length(q - p) * length(s - r) && distance(at, p) > slack &&
               distance(at, q) > slack && distance(at, r) > slack && distance(at, s) > slack;
    });
}

double distance_along(const Polygon& ring, Point q, Point u) {
    double first = 1e300;
    for (size_t i = 0; i < ring.size(); ++i) {
        const Point a = ring[i] - q, d = ring[(i + 1) % ring.size()] - ring[i];
        const double den = cross(u, d);
        if (den == 0) continue;
        const double t = cross(a, d) / den, s = cross(a, u) / den;
        if (t >= 0 && s >= 0 && s <= 1) first = std::min(first, t);
    }
    return first;
}

Polygon without_small_corners(Polygon ring, double area) {
    auto takes = [&](size_t k) {
        const size_t n = ring.size();
        const Point a = ring[(k + n - 1) % n], b = ring[k], c = ring[(k + 1) % n];
        return std::abs(cross(b - a, c - a)) / 2;
    };
    std::vector<double> taken(ring.size());
    for (size_t k = 0; k < ring.size(); ++k) taken[k] = takes(k);
    while (ring.size() > 3) {
        const auto least = std::min_element(taken.begin(), taken.end());
        if (*least > area) break;
        const size_t k = size_t(least - taken.begin());
        taken.erase(least), ring.erase(ring.begin() + long(k));
        for (size_t beside : {k + ring.size() - 1, k}) taken[beside % ring.size()] = takes(beside % ring.size());
    }
    return ring;
}

}  // namespace mossbed
