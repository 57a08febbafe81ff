#include "core/perimeter/perimeter.h"

#include <numbers>

#include "core/base/polygons.h"

namespace mossbed {
namespace {

constexpr double pi = std::numbers::pi;

// The corner of a convex ring and the outward normals of the sides before and after it.
struct Corner {
    Point at, before, after;
    double start() const { return std::atan2(before.y, before.x); }
    double turn() const { return std::remainder(std::atan2(after.y, after.x) - start(), 2 * pi); }
};
Corner corner_of(const Polygon& p, size_t i) {
    const Point last = p[(i + p.size() - 1) % p.size()], b = p[i], next = p[(i + 1) % p.size()];
    return {b, unit(left_of(last - b)), unit(left_of(b - next))};
}

// Where the two sides at a corner meet when both have moved outward by a.
Point prolonged(const Corner& c, double a) {
    const Point sum = c.before + c.after;
    return c.at + (2 * a / std::max(1e-12, dot(sum, sum))) * sum;
}

}  // namespace

Polygon spread_out(const Polygon& p, double a) {
    Polygon out;
    for (size_t i = 0; i < p.size(); ++i) {
        const Corner c = corner_of(p, i);
        const double t0 = c.start(), turn = c.turn();
        const int arcs = std::max(1, int(std::ceil(std::abs(turn) / 0.2)));
        // chords bulge out so that the area is that of the arc
        const double bulge = std::sqrt(std::abs(turn / arcs) / std::max(1e-12, std::sin(std::abs(turn / arcs))));
        for (int k = 0; k <= arcs; ++k) {
            const double r = k == 0 || k == arcs ? a : a * bulge;
            out.push_back(c.at + r * Point{std::cos(t0 + turn * k / arcs), std::sin(t0 + turn * k / arcs)});
        }
    }
    return without_repeats(out, 1e-9);
}

Perimeters::Perimeters(PunchedArea area, const PerimeterRule& rule, const std::vector<Polygon>& openings)
    : area_(std::move(area)), rule_(rule) {
    for (const Polygon& o : openings) add_wedge(o, rule.shade_within);
}

void Perimeters::add_wedge(const Polygon& o, double within) {
    if (gap_between(o, area_.outline) > within) return;
    const Point to = centroid(o) - area_.centre;
    const double middle = std::atan2(to.y, to.x);
    double low = 0, high = 0, near = 1e300, far = 0, side = 0;
    for (Point q : o) {
        const Point r = q - area_.centre;
        const double t = std::remainder(std::atan2(r.y, r.x) - middle, 2 * pi);
        low = std::min(low, t), high = std::max(high, t);
        const double along = dot(r, unit(to));
        near = std::min(near, along), far = std::max(far, along);
        side = std::max(side, std::abs(cross(r, unit(to))));
    }
    const double l1 = far - near, l2 = 2 * side;
    const double wider = l1 > l2 && l2 > 0 ? std::sqrt(l1 / l2) : 1;  // l2 becomes √(l1 l2)
    shade_.push_back({middle + (low + high) / 2, (high - low) / 2 * wider});
}

bool Perimeters::is_shaded(Point from_centre) const {
    const double t = std::atan2(from_centre.y, from_centre.x);
    for (const Wedge& w : shade_)
        if (std::abs(std::remainder(t - w.middle, 2 * pi)) < w.half) return true;
    return false;
}

// Circles, and rectangles with round corners, that nothing shades.
bool Perimeters::closed_form(Perimeter& p) const {
    if (!shade_.empty()) return false;
    const double a = p.a, c1 = area_.c1, c2 = area_.c2;
    if (area_.round) {
        const double D = c1 + 2 * a;
        p.length = pi * D, p.first1 = p.first2 = D * D, p.second1 = p.second2 = pi * D * D * D / 8;
        return true;
    }
    const bool rectangle =
        area_.outline.size() == 4 && std::abs(signed_area(area_.outline) - c1 * c2) < 1e-9 && rule_.round_corners;
    if (!rectangle) return false;
    // e along the side c: two sides across at c/2 + a, two along, and four quarter rounds about the corners.
    auto first = [a](double c, double other) { return c * c / 2 + c * other + 2 * other * a + 4 * a * a + pi * a * c; };
    auto second = [a](double c, double other) {
        return 2 * other * std::pow(c / 2 + a, 2) + c * c * c / 6 +
               4 * (pi / 2 * a * c * c / 4 + a * a * c + pi / 4 * a * a * a);
    };
    p.length = 2 * (c1 + c2) + 2 * pi * a;
    p.first1 = first(c1, c2), p.first2 = first(c2, c1);
    p.second1 = second(c1, c2), p.second2 = second(c2, c1);
    return true;
}

Perimeter Perimeters::at(double a) const {
    Perimeter p;
    p.a = a;
    p.shaded = !shade_.empty();
    if (closed_form(p)) return p;
    const Point e1 = turned({1, 0}, area_.angle), e2 = turned({0, 1}, area_.angle);
    Point sum;
    double sum11 = 0, sum22 = 0;
    auto piece = [&](Point from, Point to) {
        const Point m = 0.5 * (from + to) - area_.centre;
        if (is_shaded(m)) return;
        const double l = distance(from, to), x = dot(m, e1), y = dot(m, e2);
        p.length += l, p.first1 += std::abs(x) * l, p.first2 += std::abs(y) * l;
        sum = sum + l * Point{x, y};
        sum11 += x * x * l, sum22 += y * y * l;
    };
    auto line = [&](Point from, Point to) {
        for (int k = 0; k < 40; ++k) piece(from + (k / 40.0) * (to - from), from + ((k + 1) / 40.0) * (to - from));
    };
    const Polygon& q = area_.outline;
    for (size_t i = 0; i < q.size(); ++i) {
        const Corner c = corner_of(q, i), next = corner_of(q, (i + 1) % q.size());
        if (!rule_.round_corners) {
            line(prolonged(c, a), prolonged(next, a));
            continue;
        }
        const double t0 = c.start(), turn = c.turn();
        const int arcs = std::max(1, int(std::abs(turn) / (pi / 60)));
        auto on = [&](int j) {
            return c.at + a * Point{std::cos(t0 + turn * j / arcs), std::sin(t0 + turn * j / arcs)};
        };
        for (int k = 0; k < arcs; ++k) piece(on(k), on(k + 1));
        line(c.at + a * c.after, next.at + a * c.after);
    }
    if (p.length > 0) {
        p.centroid = (1 / p.length) * sum;
        p.second1 = sum11 - p.length * p.centroid.x * p.centroid.x;
        p.second2 = sum22 - p.length * p.centroid.y * p.centroid.y;
    }
    return p;
}

Polygon Perimeters::outline(double a) const {
    if (rule_.round_corners) return spread_out(area_.outline, a);
    Polygon out;
    for (size_t i = 0; i < area_.outline.size(); ++i) out.push_back(prolonged(corner_of(area_.outline, i), a));
    return out;
}

}  // namespace mossbed
