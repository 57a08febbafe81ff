// How deep the ground counts: LayeredGround::find_limit.
#include <tbb/parallel_for.h>

#include <algorithm>
#include <numeric>

#include "core/ground/layered_ground.h"

namespace mossbed {
namespace {

// Of points in squares of that side the one nearest to the middle of its square.
std::vector<Point> spread_out(const std::vector<Point>& points, const Box& box, double side) {
    const size_t across = size_t(box.width() / side) + 1, up = size_t(box.height() / side) + 1;
    std::vector<std::pair<double, const Point*>> nearest(across * up, {1e300, nullptr});
    for (const Point& p : points) {
        const size_t i = std::min(size_t((p.x - box.low.x) / side), across - 1),
                     j = std::min(size_t((p.y - box.low.y) / side), up - 1);
        const double off = distance(p, box.low + side * Point{double(i) + 0.5, double(j) + 0.5});
        auto& [least, at] = nearest[j * across + i];
        if (off < least) least = off, at = &p;
    }
    std::vector<Point> out;
    for (const auto& [off, at] : nearest)
        if (at) out.push_back(*at);
    return out;
}

}  // namespace

// Where Δσz of the whole base is worth `ratio` of σ'0 differs from place to place, smoothly: its deepest level is
// looked for at some 200 places (fewer where the base has many sides), however the mesh lies, and from the best of them
// uphill.
void LayeredGround::find_limit(double pressure) {
    limit_ = {};
    limit_.pressure = pressure;
    const double deepest = profile_.deepest();
    if (ground_.rigid_base_level) {
        limit_.level = std::max(*ground_.rigid_base_level, deepest);
        return;
    }
    auto excess = [&](Point p, const SoilColumn& c, double level) {  // kPa, Δσz above its share
        return pressure * base_stress(p, founding_ - level) -
               ground_.depth_limit_ratio * c.effective_stress(level, ground_.strata);
    };
    auto is_on_base = [&](Point p) {
        bool on = contains(base_[0], p);
        for (size_t k = 1; on && k < base_.size(); ++k) on = !contains(base_[k], p);
        return on;
    };
    Box box;
    for (Point p : looked_at_) box.add(p);
    size_t sides = 0;
    for (const Polygon& b : plain_base_) sides += b.size();
    const double places = std::clamp(60'000.0 / double(sides), 50.0, 200.0);
    const double apart =
        std::max(std::sqrt(box.width() * box.height() / places), std::max(box.width(), box.height()) / places);
    const std::vector<Point> points = spread_out(looked_at_, box, apart);
    std::vector<SoilColumn> columns;
    for (Point p : points) columns.push_back(column(p));
    // Those of `at` where there is still an excess at a level.
    using Places = std::vector<size_t>;
    auto pressing = [&](double level, const Places& at) {
        std::vector<char> counts(at.size(), 0);
        tbb::parallel_for(size_t(0), at.size(),
                          [&](size_t k) { counts[k] = excess(points[at[k]], columns[at[k]], level) >= 0; });
        Places out;
        for (size_t k = 0; k < at.size(); ++k)
            if (counts[k]) out.push_back(at[k]);
        return out;
    };
    auto crossing = [&](double above, double below, Places at) {  // `at` press above, none below
        for (int k = 0; k < 50; ++k) {
            const double m = (above + below) / 2;
            if (Places still = pressing(m, at); !still.empty())
                above = m, at = std::move(still);
            else
                below = m;
        }
        return (above + below) / 2;
    };
    // Uphill from p at a level, by ever smaller steps, then down from there to where the excess ends, and again.
    auto deepest_near = [&](Point p, double level) {
        for (int round = 0; round < 5; ++round) {  // which place is deepest hardly hangs on the level
            double here = excess(p, column(p), level);
            for (double step = round == 0 ? apart : apart / 16; step > apart / 100;) {
                Point best = p;
                double most = here + 1e-9 * pressure;
                for (Point d : {Point{step, 0}, {-step, 0}, {0, step}, {0, -step}}) {
                    const Point q = p + d;
                    const double there = is_on_base(q) ? excess(q, column(q), level) : here;
                    if (there > most) most = there, best = q;
                }
                if (best == p)
                    step /= 2;
                else
                    p = best, here = most;
            }
            if (here < 0) return level;
            const SoilColumn c = column(p);
            double above = level, by = (founding_ - level) / 1000, below = level - by;
            for (int k = 0; k < 40 && excess(p, c, below) >= 0; ++k) above = below, by *= 2, below -= by;
            for (int k = 0; k < 40; ++k) {
                const double m = (above + below) / 2;
                (excess(p, c, m) >= 0 ? above : below) = m;
            }
            const bool is_found = level - above < 1e-6 * (founding_ - level);
            level = above;
            if (is_found) break;
        }
        return level;
    };
    Places all(points.size()), few;
    std::iota(all.begin(), all.end(), size_t(0));
    for (size_t i = 0; i < all.size(); i += 8) few.push_back(i);
    double level = founding_;
    if (const Places at = pressing(deepest, all); !at.empty()) {
        double below = deepest, step_down = std::max(1.0, founding_ - deepest);
        for (int k = 0; k < 40 && !pressing(below, at).empty(); ++k) below -= step_down, step_down *= 1.5;
        level = crossing(deepest, below, at);
    } else {
        const int steps = 60;
        const double step_up = (founding_ - deepest) / steps;
        for (int k = 1; k <= steps; ++k) {  // from below: the deepest crossing of a few points, then of all
            const double higher = k < steps ? deepest + k * step_up : founding_ - 1e-6;
            const Places at = pressing(higher, few);
            if (at.empty()) continue;
            double below = crossing(higher, deepest + (k - 1) * step_up, at);
            for (Places still = pressing(below, all); !still.empty(); still = pressing(below, still)) below -= step_up;
            level = crossing(below + step_up, below, pressing(below + step_up, all));
            break;
        }
    }
    if (level < founding_) {
        std::vector<double> rises;
        for (size_t i : all) rises.push_back(excess(points[i], columns[i], level));
        double deeper = level;
        for (size_t i : all) {
            bool is_top = true;
            for (size_t j : all) is_top &= !(rises[j] > rises[i] && distance(points[i], points[j]) < 2 * apart);
            if (is_top) deeper = std::min(deeper, deepest_near(points[i], level));
        }
        level = deeper;
    }
    limit_.by = level < deepest ? DepthLimit::By::deepest_borehole : DepthLimit::By::stress_ratio;
    if (level < deepest) limit_.short_by = deepest - level;
    // Something must settle: at least a twentieth of the width counts.
    limit_.level = std::max(deepest, std::min(level, founding_ - width_ / 20));
}

}  // namespace mossbed
