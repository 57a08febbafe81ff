#include "core/ground/influence.h"

#include <numbers>

namespace mossbed {
namespace {

using std::numbers::pi;

// The part of one edge, from its ends in the frame of the edge: `a` the distance to its line, t0 and t1 along it.
//   ∫dθ over the edge of  √(R²+z²) − z   is  a·[asinh(t/√(a²+z²))] − z·angle
//   and of                z − z²/√(R²+z²) is z·angle,   angle = [θ − φ],   tan θ = t/a,  tan φ = z t/(a ρ)
// The brackets are differences between the ends: one logarithm and one arc tangent do for both.
struct Edge {
    double log = 0, angle = 0;
};
double angle_over(double a, double t0, double t1, double r0, double r1, double z) {
    if (!(z > 0) || a == 0) return 0;
    const double x0 = a * a * r0 + z * t0 * t0, y0 = a * t0 * (r0 - z), x1 = a * a * r1 + z * t1 * t1,
                 y1 = a * t1 * (r1 - z);
    return std::atan2(y1 * x0 - y0 * x1, x0 * x1 + y0 * y1);  // both ends within a quarter turn
}
Edge over_edge(double a, double t0, double t1, double z) {
    Edge e;
    const double c2 = a * a + z * z;
    if (c2 <= 0) return e;
    const double r0 = std::sqrt(c2 + t0 * t0), r1 = std::sqrt(c2 + t1 * t1);
    // (t1 + ρ1) / (t0 + ρ0), each as c² / (ρ − t) where t < 0
    const double up = t1 >= 0 ? t1 + r1 : c2 / (r1 - t1), low = t0 >= 0 ? t0 + r0 : c2 / (r0 - t0);
    e.log = a * std::log(up / low);
    e.angle = angle_over(a, t0, t1, r0, r1, z);
    return e;
}

}  // namespace

void add_edge(LoadedArea& sum, Point a, Point b, Point q, double z) {
    const Point d = b - a;
    const double l = std::sqrt(dot(d, d));
    if (l <= 0) return;
    const Point u = (1 / l) * d;
    const double off = cross(a - q, u), t0 = dot(a - q, u), t1 = t0 + l;
    const Edge e = over_edge(off, t0, t1, z);
    sum.inverse += e.log - z * e.angle;
    sum.cubed += z * e.angle;
}

LoadedArea loaded_area(const Polygon& p, Point q, double z) {
    LoadedArea sum;
    for (size_t i = 0; i < p.size(); ++i) add_edge(sum, p[i], p[(i + 1) % p.size()], q, z);
    return sum;
}

// ∫dθ of 1 − (1 + R²/z²)^(−3/2) is θ − φ + z a t / ((a² + z²) ρ)
double stress_of_edge(Point a, Point b, Point q, double z) {
    const Point d = b - a;
    const double l = std::sqrt(dot(d, d));
    if (l <= 0) return 0;
    const Point u = (1 / l) * d;
    const double off = cross(a - q, u), t0 = dot(a - q, u), t1 = t0 + l, c2 = off * off + z * z;
    if (c2 <= 0) return 0;
    const double r0 = std::sqrt(c2 + t0 * t0), r1 = std::sqrt(c2 + t1 * t1);
    return (angle_over(off, t0, t1, r0, r1, z) + z * off / c2 * (t1 / r1 - t0 / r0)) / (2 * pi);
}

double stress_below(const Polygon& p, Point q, double z) {
    if (z <= 0) return contains(p, q) ? (signed_area(p) > 0 ? 1 : -1) : 0;
    double sum = 0;
    for (size_t i = 0; i < p.size(); ++i) sum += stress_of_edge(p[i], p[(i + 1) % p.size()], q, z);
    return sum;
}

double displacement_below_corner(double p, double B, double L, double z, double E, double nu) {
    const double m = L / B, n = z / B, S = std::sqrt(1 + m * m + n * n);
    const double A = (std::log((S + m) / (S - m)) + m * std::log((S + 1) / (S - 1))) / pi;
    const double D = n > 0 ? n / pi * std::atan(m / (n * S)) : 0;
    return p * B * (1 - nu * nu) / (2 * E) * (A - (1 - 2 * nu) / (1 - nu) * D);
}

}  // namespace mossbed
