#include "core/ground/near_integrals.h"

#include <cmath>

#include "core/base/wide.h"

namespace mossbed {
namespace {

struct Edge {
    double x, y, ux, uy, length;
};

// Adds over n points; see over_edge in influence.cpp. A little is added to c² so that no quotient is 0/0: on the line
// of an edge both parts are nought whatever stands beside them.
MOSSBED_WIDE void add_logs(const Edge& e, const double* x, const double* y, const double* weight, int n, double z,
                           double* __restrict inverse) {
    for (int i = 0; i < n; ++i) {
        const double dx = e.x - x[i], dy = e.y - y[i];
        const double off = dx * e.uy - dy * e.ux, t0 = dx * e.ux + dy * e.uy, t1 = t0 + e.length;
        const double c2 = off * off + z * z + 1e-18;
        const double m0 = std::abs(t0) + std::sqrt(c2 + t0 * t0), m1 = std::abs(t1) + std::sqrt(c2 + t1 * t1);
        const double low = t0 >= 0 ? m0 : c2 / m0, up = t1 >= 0 ? m1 : c2 / m1;
        inverse[i] += weight[i] * off * std::log(up / low);
    }
}
MOSSBED_WIDE void add_angles(const Edge& e, const double* x, const double* y, const double* weight, int n, double z,
                             double* __restrict angle) {
    for (int i = 0; i < n; ++i) {
        const double dx = e.x - x[i], dy = e.y - y[i];
        const double off = dx * e.uy - dy * e.ux, t0 = dx * e.ux + dy * e.uy, t1 = t0 + e.length;
        const double c2 = off * off + z * z;
        const double r0 = std::sqrt(c2 + t0 * t0), r1 = std::sqrt(c2 + t1 * t1);
        const double x0 = off * off * r0 + z * t0 * t0, y0 = off * t0 * (r0 - z);
        const double x1 = off * off * r1 + z * t1 * t1, y1 = off * t1 * (r1 - z);
        angle[i] += weight[i] * std::atan2(y1 * x0 - y0 * x1, x0 * x1 + y0 * y1 + 1e-300);
    }
}

}  // namespace

void WeightedPoints::make_mean() {
    double sum = 0;
    for (double w : weight) sum += w;
    for (double& w : weight) w /= sum;
}

LoadedArea seen_from(const WeightedPoints& points, const std::vector<std::pair<Point, Point>>& edges, double z) {
    constexpr int most = 64;  // points at a time
    LoadedArea out;
    for (int from = 0; from < points.count(); from += most) {
        const int n = std::min(most, points.count() - from);
        const double *x = &points.x[size_t(from)], *y = &points.y[size_t(from)], *w = &points.weight[size_t(from)];
        double inverse[most] = {}, angle[most] = {};
        for (const auto& [a, b] : edges) {
            const Point d = b - a;
            const double l = std::sqrt(dot(d, d));
            if (!(l > 0)) continue;
            const Edge e{a.x, a.y, d.x / l, d.y / l, l};
            add_logs(e, x, y, w, n, z, inverse);
            if (z > 0) add_angles(e, x, y, w, n, z, angle);
        }
        for (int i = 0; i < n; ++i) out.inverse += inverse[i] - z * angle[i], out.cubed += z * angle[i];
    }
    return out;
}

}  // namespace mossbed
