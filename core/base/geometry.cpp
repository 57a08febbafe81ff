#include "core/base/geometry.h"

#include <algorithm>
#include <numbers>

#include "core/base/clip.h"

namespace mossbed {

Point turned(Point a, double degrees) {
    const double t = degrees * std::numbers::pi / 180, c = std::cos(t), s = std::sin(t);
    return {c * a.x - s * a.y, s * a.x + c * a.y};
}

void Box::add(Point p) {
    low = {std::min(low.x, p.x), std::min(low.y, p.y)};
    high = {std::max(high.x, p.x), std::max(high.y, p.y)};
}

Box box_of(const Polygon& p) {
    Box b;
    for (Point q : p) b.add(q);
    return b;
}

double signed_area(std::span<const Point> p) {
    double twice = 0;
    for (size_t i = 1; i + 1 < p.size(); ++i) twice += cross(p[i] - p[0], p[i + 1] - p[0]);
    return twice / 2;
}

Point centroid(std::span<const Point> p) {
    Point sum, mean;
    double area = 0;
    for (size_t i = 1; i + 1 < p.size(); ++i) {
        const Point a = p[i] - p[0], b = p[i + 1] - p[0];
        const double t = cross(a, b) / 2;
        sum = sum + (t / 3) * (a + b);
        area += t;
    }
    if (std::abs(area) > 1e-12) return p[0] + (1 / area) * sum;
    for (Point q : p) mean = mean + (1.0 / double(p.size())) * q;
    return mean;
}

bool contains(const Polygon& p, Point q) {
    bool in = false;
    for (size_t i = 0, j = p.size() - 1; i < p.size(); j = i++) {
        const Point a = p[i], b = p[j];
        if ((a.y > q.y) != (b.y > q.y) && q.x < a.x + (q.y - a.y) / (b.y - a.y) * (b.x - a.x)) in = !in;
    }
    return in;
}

Point nearest_on_segment(Point q, Point a, Point b) {
    const Point d = b - a;
    const double dd = dot(d, d);
    const double t = dd > 0 ? std::clamp(dot(q - a, d) / dd, 0.0, 1.0) : 0.0;
    return a + t * d;
}

double distance_to_segment(Point q, Point a, Point b) { return distance(q, nearest_on_segment(q, a, b)); }

double distance_to_rim(const Polygon& p, Point q) {
    double least = 1e300;  // squared
    for (size_t i = 0, j = p.size() - 1; i < p.size(); j = i++) {
        const Point d = q - nearest_on_segment(q, p[j], p[i]);
        least = std::min(least, dot(d, d));
    }
    return std::sqrt(least);
}

Polygon anticlockwise(Polygon p) {
    if (signed_area(p) < 0) std::reverse(p.begin(), p.end());
    return p;
}

Polygon without_repeats(const Polygon& p, double tolerance) {
    Polygon out;
    for (Point q : p)
        if (out.empty() || distance(out.back(), q) > tolerance) out.push_back(q);
    while (out.size() > 1 && distance(out.front(), out.back()) <= tolerance) out.pop_back();
    return out;
}

std::optional<Point> segment_crossing(Point a, Point b, Point c, Point d) {
    const Point u = b - a, v = d - c, w = c - a;
    const double den = cross(u, v), scale = length(u) * length(v);
    if (scale == 0) return std::nullopt;
    if (std::abs(den) <= 1e-12 * scale) {  // parallel: a common point only when on one line and overlapping
        if (std::abs(cross(u, w)) > 1e-9 * length(u) * std::max(length(u), length(w))) return std::nullopt;
        const double uu = dot(u, u), t0 = dot(w, u) / uu, t1 = dot(d - a, u) / uu;
        const double low = std::max(0.0, std::min(t0, t1)), high = std::min(1.0, std::max(t0, t1));
        if (low > high) return std::nullopt;
        return a + 0.5 * (low + high) * u;
    }
    const double t = cross(w, v) / den, s = cross(w, u) / den, e = 1e-12;
    if (t < -e || t > 1 + e || s < -e || s > 1 + e) return std::nullopt;
    return a + t * u;
}

std::optional<EdgePair> self_crossing(const Polygon& p) {
    const int n = int(p.size());
    for (int i = 0; i < n; ++i) {
        const Point a = p[i], b = p[(i + 1) % n], c = p[(i + 2) % n];
        // Neighbours may only share their corner: a spike that runs back on itself is a crossing too.
        if (std::abs(cross(b - a, c - b)) <= 1e-12 * length(b - a) * length(c - b) && dot(b - a, c - b) < 0)
            return EdgePair{i, (i + 1) % n, b};
        for (int j = i + 2; j < n; ++j) {
            if (i == 0 && j == n - 1) continue;
            if (auto at = segment_crossing(a, b, p[j], p[(j + 1) % n])) return EdgePair{i, j, *at};
        }
    }
    return std::nullopt;
}

Polygon clip_to_half_plane(const Polygon& p, Point on_line, Point inward) {
    Polygon out(2 * p.size());
    out.resize(cut_into(
        p.data(), p.size(), [&](Point q) { return dot(q - on_line, inward); }, out.data()));
    return out;
}

Polygon clip_to_convex(const Polygon& subject, const Polygon& convex) {
    Polygon out = subject;
    for (size_t i = 0; i < convex.size() && !out.empty(); ++i) {
        const Point a = convex[i], inward = left_of(convex[i + 1 < convex.size() ? i + 1 : 0] - a);
        if (std::any_of(out.begin(), out.end(), [&](Point q) { return dot(q - a, inward) < 0; }))
            out = clip_to_half_plane(out, a, inward);
    }
    return out;
}

std::vector<Point> convex_hull(std::vector<Point> points) {
    std::sort(points.begin(), points.end(), [](Point a, Point b) { return a.x < b.x || (a.x == b.x && a.y < b.y); });
    points.erase(std::unique(points.begin(), points.end()), points.end());
    if (points.size() < 3) return points;
    std::vector<Point> hull;
    for (int pass = 0; pass < 2; ++pass) {
        const size_t start = hull.size();
        for (Point p : points) {
            while (hull.size() >= start + 2 && cross(hull.back() - hull[hull.size() - 2], p - hull.back()) <= 0)
                hull.pop_back();
            hull.push_back(p);
        }
        hull.pop_back();
        std::reverse(points.begin(), points.end());
    }
    return hull;
}

double depth_in_convex(const Polygon& hull, Point q) {
    double depth = 1e300;
    for (size_t i = 0; i < hull.size(); ++i) {
        const Point a = hull[i], b = hull[(i + 1) % hull.size()];
        depth = std::min(depth, dot(q - a, unit(left_of(b - a))));
    }
    return hull.size() < 3 ? -1e300 : depth;
}

Polygon rectangle(Point centre, double size_x, double size_y, double degrees) {
    Polygon p;
    for (auto [fx, fy] : {std::pair{-.5, -.5}, {.5, -.5}, {.5, .5}, {-.5, .5}})
        p.push_back(centre + turned({fx * size_x, fy * size_y}, degrees));
    return p;
}

Polygon round_polygon(Point centre, double radius, int sides, double start_degrees) {
    const double step = 2 * std::numbers::pi / sides;
    const double r = radius * std::sqrt(step / std::sin(step));  // equal area: n/2 · r² · sin(step) = π radius²
    Polygon p;
    for (int i = 0; i < sides; ++i) p.push_back(centre + turned({r, 0}, start_degrees + 360.0 * i / sides));
    return p;
}

}  // namespace mossbed
