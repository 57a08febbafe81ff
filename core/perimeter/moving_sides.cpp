#include "core/perimeter/moving_sides.h"

#include <algorithm>

#include "core/base/clip.h"
#include "core/base/wide.h"

namespace mossbed {
namespace {

MOSSBED_WIDE void spread_through(const double* x, const double* y, const double* from, size_t sides, const Point* at,
                                 size_t points, double* least, double* most) {
    for (size_t k = 0; k < points; ++k) {
        const double px = at[k].x, py = at[k].y;
        for (size_t j = 0; j < sides; ++j) {
            const double a = x[j] * px + y[j] * py - from[j];
            least[j] = a < least[j] ? a : least[j];
            most[j] = a > most[j] ? a : most[j];
        }
    }
}

MOSSBED_WIDE double largest(const double* v, size_t n) {
    double most = -1e300;
    for (size_t j = 0; j < n; ++j) most = v[j] > most ? v[j] : most;
    return most;
}

}  // namespace

MovingSides::MovingSides(const Polygon& convex) {
    const std::vector<OutwardRay> rays = outward_rays(convex);
    for (size_t i = 0; i < rays.size(); ++i) {
        const OutwardRay &a = rays[i], &b = rays[i + 1 < rays.size() ? i + 1 : 0];
        // straight between two corners, or a chord about one of them
        const Point along = a.from == b.from ? b.way - a.way : b.from - a.from;
        if (length(along) < 1e-12) continue;
        const Point outward = -1.0 * left_of(unit(along));
        const double per = 1 / dot(a.way, outward);
        x_.push_back(per * outward.x), y_.push_back(per * outward.y), from_.push_back(per * dot(a.from, outward));
    }
}

bool MovingSides::meet(std::span<const Point> polygon, double furthest, Crossing& c) const {
    const size_t n = x_.size();
    c.first.assign(n, 1e300), c.last.assign(n, -1e300);
    spread_through(x_.data(), y_.data(), from_.data(), n, polygon.data(), polygon.size(), c.first.data(),
                   c.last.data());
    c.begins = largest(c.first.data(), n);
    if (c.begins >= furthest) return false;
    c.ends = largest(c.last.data(), n);
    c.cutting.clear();
    for (size_t j = 0; j < n; ++j)
        if (c.last[j] > c.begins) c.cutting.push_back(j);
    return true;
}

std::span<const Point> MovingSides::part(std::span<const Point> polygon, double a, Crossing& c) const {
    // a cut adds one corner, and by rounding hardly more
    c.now.resize(std::max(c.now.size(), 2 * (polygon.size() + x_.size()))), c.next.resize(c.now.size());
    std::copy(polygon.begin(), polygon.end(), c.now.begin());
    size_t n = polygon.size();
    for (const size_t j : c.cutting) {
        if (c.last[j] <= a) continue;
        auto inside = [&](Point q) { return a + from_[j] - x_[j] * q.x - y_[j] * q.y; };
        n = cut_into(c.now.data(), n, inside, c.next.data());
        c.now.swap(c.next);
    }
    return {c.now.data(), n};
}

}  // namespace mossbed
