#include "core/perimeter/moving_sides.h"

#include <algorithm>

#include "core/base/clip.h"
#include "core/base/wide.h"

namespace mossbed {
namespace {

// By sides how far they are spread where they touch the points and where they leave them; the largest of both.
MOSSBED_WIDE void spread_through(const double* x, const double* y, const double* from, size_t sides, const Point* at,
                                 size_t points, double* first, double* last, double& begins, double& ends) {
    const Point p = at[0], q = at[1], r = at[2], s = at[points > 3 ? 3 : 2];
    double most_first = -1e300, most_last = -1e300;
    for (size_t j = 0; j < sides; ++j) {
        const double a = x[j] * p.x + y[j] * p.y, b = x[j] * q.x + y[j] * q.y, c = x[j] * r.x + y[j] * r.y,
                     d = x[j] * s.x + y[j] * s.y;
        const double ab = a < b ? a : b, cd = c < d ? c : d, AB = a > b ? a : b, CD = c > d ? c : d;
        const double least = (ab < cd ? ab : cd) - from[j], most = (AB > CD ? AB : CD) - from[j];
        first[j] = least, last[j] = most;
        most_first = least > most_first ? least : most_first;
        most_last = most > most_last ? most : most_last;
    }
    for (size_t k = 4; k < points; ++k) {
        most_first = -1e300;
        for (size_t j = 0; j < sides; ++j) {
            const double a = x[j] * at[k].x + y[j] * at[k].y - from[j];
            first[j] = a < first[j] ? a : first[j];
            last[j] = a > last[j] ? a : last[j];
            most_first = first[j] > most_first ? first[j] : most_first;
            most_last = last[j] > most_last ? last[j] : most_last;
        }
    }
    begins = most_first, ends = most_last;
}

MOSSBED_WIDE double largest_spread_through(const double* x, const double* y, const double* from, size_t sides,
                                           Point at) {
    double most = -1e300;
    for (size_t j = 0; j < sides; ++j) {
        const double a = x[j] * at.x + y[j] * at.y - from[j];
        most = a > most ? a : most;
    }
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
        steepest_ = std::max(steepest_, per);
        x_.push_back(per * outward.x), y_.push_back(per * outward.y), from_.push_back(per * dot(a.from, outward));
    }
}

bool MovingSides::hold(Point place, double radius, double a) const {
    return largest_spread_through(x_.data(), y_.data(), from_.data(), x_.size(), place) + steepest_ * radius <= a;
}

bool MovingSides::meet(std::span<const Point> polygon, double furthest, Crossing& c, Work& work) const {
    const size_t n = x_.size();
    work.first.resize(n), work.last.resize(n);
    spread_through(x_.data(), y_.data(), from_.data(), n, polygon.data(), polygon.size(), work.first.data(),
                   work.last.data(), c.begins, c.ends);
    if (c.begins >= furthest) return false;
    c.from = work.cutting.size();
    const double before = std::max(0.0, c.begins);
    for (size_t j = 0; j < n && c.ends > 0; ++j)
        if (work.last[j] > before) work.cutting.push_back({x_[j], y_[j], from_[j], work.last[j]});
    c.to = work.cutting.size();
    // a cut adds one corner, and by rounding hardly more
    if (const size_t room = 2 * (polygon.size() + n); work.now.size() < room)
        work.now.resize(room), work.next.resize(room);
    return true;
}

std::span<const Point> MovingSides::part(std::span<const Point> polygon, double a, const Crossing& c,
                                         Work& work) const {
    const Point* now = polygon.data();
    size_t n = polygon.size();
    for (size_t j = c.from; j < c.to; ++j) {
        const Work::Side& side = work.cutting[j];
        if (side.last <= a) continue;
        const double reach = a + side.from;
        auto inside = [&](Point q) { return reach - side.x * q.x - side.y * q.y; };
        n = cut_into(now, n, inside, work.next.data());
        work.now.swap(work.next);
        now = work.now.data();
    }
    return {now, n};
}

}  // namespace mossbed
