// Plane geometry on simple polygons. Lengths in m; anticlockwise is positive. Polygons are open rings: the last
// point is not repeated. Sound for simple rings; what happens with others is said where it matters.
#pragma once
#include <array>
#include <cmath>
#include <optional>
#include <span>
#include <vector>

namespace mossbed {

struct Point {
    double x = 0, y = 0;
    bool operator==(const Point&) const = default;
};
inline Point operator+(Point a, Point b) { return {a.x + b.x, a.y + b.y}; }
inline Point operator-(Point a, Point b) { return {a.x - b.x, a.y - b.y}; }
inline Point operator*(double f, Point a) { return {f * a.x, f * a.y}; }
inline double dot(Point a, Point b) { return a.x * b.x + a.y * b.y; }
inline double cross(Point a, Point b) { return a.x * b.y - a.y * b.x; }
inline double length(Point a) { return std::sqrt(dot(a, a)); }
inline double distance(Point a, Point b) { return length(a - b); }
inline Point unit(Point a) {
    const double l = length(a);
    return l > 0 ? Point{a.x / l, a.y / l} : Point{1, 0};
}
inline Point left_of(Point d) { return {-d.y, d.x}; }  // a quarter turn anticlockwise
Point turned(Point a, double degrees);                 // about the origin, anticlockwise

using Polygon = std::vector<Point>;

struct Box {
    Point low{1e300, 1e300}, high{-1e300, -1e300};
    void add(Point p);
    bool overlaps(const Box& o) const {
        return low.x <= o.high.x && o.low.x <= high.x && low.y <= o.high.y && o.low.y <= high.y;
    }
    double width() const { return high.x - low.x; }
    double height() const { return high.y - low.y; }
    Point middle() const { return 0.5 * (low + high); }
    bool empty() const { return low.x > high.x; }
    Box grown(double by) const { return {low - Point{by, by}, high + Point{by, by}}; }  // on all sides
};
Box box_of(const Polygon& p);

double signed_area(std::span<const Point> p);           // m², positive anticlockwise
Point centroid(std::span<const Point> p);               // of the area; the mean of the points when that is zero
bool contains(const Polygon& p, Point q);               // even–odd; points on the rim may fall either way
double distance_to_segment(Point q, Point a, Point b);  // m
Point nearest_on_segment(Point q, Point a, Point b);
double distance_to_rim(const Polygon& p, Point q);  // m, unsigned
Polygon anticlockwise(Polygon p);
Polygon without_repeats(const Polygon& p, double tolerance);  // drops points closer than tolerance to the one before

// Two edges that cross or touch where they should not; indices of their first points.
struct EdgePair {
    int first, second;
    Point at;
};
std::optional<EdgePair> self_crossing(const Polygon& p);
std::optional<Point> segment_crossing(Point a, Point b, Point c, Point d);  // a common point, rims included

Polygon clip_to_half_plane(const Polygon& p, Point on_line, Point inward);  // keeps dot(q − on_line, inward) ≥ 0
// Sutherland and Hodgman (1974). The subject may be concave: bridges of zero width then appear, which integrals over
// signed areas do not see.
Polygon clip_to_convex(const Polygon& subject, const Polygon& convex);
std::vector<Point> convex_hull(std::vector<Point> points);  // anticlockwise (Andrew 1979)
// How far q lies inside a convex anticlockwise ring: the least distance to an edge line, negative outside.
double depth_in_convex(const Polygon& hull, Point q);

Polygon rectangle(Point centre, double size_x, double size_y, double degrees = 0);
// A regular polygon with the circle's area, so that loads and springs on it keep their sums.
Polygon round_polygon(Point centre, double radius, int sides, double start_degrees = 0);

// ∫ f over a polygon (signed) for quadratic f at least: f is called with (point, weight) at three points a triangle
// (degree two; Strang and Fix 1973) of the fan from the first corner.
template <class Corners, class F>
void integrate(const Corners& p, F f) {
    for (size_t i = 1; i + 1 < p.size(); ++i) {
        const Point a = p[0], b = p[i], c = p[i + 1];
        const double w = cross(b - a, c - a) / 6;  // a third of the triangle's area
        if (w == 0) continue;
        f(0.5 * (a + b), w);
        f(0.5 * (b + c), w);
        f(0.5 * (c + a), w);
    }
}

}  // namespace mossbed
