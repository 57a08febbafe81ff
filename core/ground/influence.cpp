#include "core/ground/influence.h"

#include <numbers>

namespace mossbed {
namespace {

using std::numbers::pi;

// One end of an edge, in the frame of the edge: `a` the distance to its line, `t` along it.
//   ∫dθ to the edge of  √(R²+z²) − z   is  a·asinh(t/√(a²+z²)) − z·(θ − φ)
//   and of              z − z²/√(R²+z²) is z·(θ − φ),   tan θ = t/a,  tan φ = z t/(a ρ)
struct End {
    double log = 0, angle = 0;
};
End end_of(double a, double t, double z) {
    End e;
    const double c2 = a * a + z * z;
    if (c2 <= 0) return e;
    const double rho = std::sqrt(c2 + t * t), c = std::sqrt(c2);
    e.log = a * std::copysign(std::log((std::abs(t) + rho) / c), t);
    if (z > 0 && a != 0) e.angle = std::atan(a * t * (rho - z) / (a * a * rho + z * t * t));
    return e;
}

}  // namespace

void add_edge(LoadedArea& sum, Point a, Point b, Point q, double z) {
    const Point d = b - a;
    const double l = std::sqrt(dot(d, d));
    if (l <= 0) return;
    const Point e = (1 / l) * d;
    const double off = cross(a - q, e), t0 = dot(a - q, e), t1 = t0 + l;
    const End from = end_of(off, t0, z), to = end_of(off, t1, z);
    const double angle = to.angle - from.angle;
    sum.inverse += to.log - from.log - z * angle;
    sum.cubed += z * angle;
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
    const Point e = (1 / l) * d;
    const double off = cross(a - q, e), t0 = dot(a - q, e), c2 = off * off + z * z;
    auto at = [&](double t) { return end_of(off, t, z).angle + z * off * t / (c2 * std::sqrt(c2 + t * t)); };
    return (at(t0 + l) - at(t0)) / (2 * pi);
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
