#include "core/steel/extra_bars.h"

#include <algorithm>
#include <numbers>

#include "core/base/polygons.h"

namespace mossbed {
namespace {
constexpr double reach_of_u_bars = 0.2;  // m: bars that end so near to a rim reach into the U-bars there
}

ExtraBarsProvision::ExtraBarsProvision(const Model& m, const DesignCode* code) : code_(code) {
    if (m.steel.extra.empty()) return;
    rim_ = outer_rim(m.slab.outline, 0.25);
    if (auto in = inner_rim(m.slab.outline, 0.25)) holes_.push_back(*in);
    for (const Opening& o : m.slab.openings) holes_.push_back(o.outline);
    for (const ExtraBars& e : m.steel.extra) {
        Laid l{&e, e.outline, box_of(e.outline), along_bars(m.steel, e.direction), 0, 0, {}};
        l.area = e.spacing > 0 ? std::numbers::pi / 4 * e.diameter * e.diameter * 1000 / e.spacing : 0;
        if (code)
            l.anchorage = code->anchorage_length(e.diameter, concrete_of(m, m.slab.concrete).fck, steel_of(m).fyk,
                                                 e.face == Face::bottom) /
                          1000;
        bars_.push_back(std::move(l));
    }
    for (size_t i = 0; i < bars_.size(); ++i)
        for (size_t j = 0; j < bars_.size(); ++j)
            if (i != j && bars_[i].bars->face == bars_[j].bars->face &&
                bars_[i].bars->direction == bars_[j].bars->direction && share_area(bars_[i].outline, bars_[j].outline))
                bars_[i].overlaps.push_back(j);
}

bool ExtraBarsProvision::is_slab(Point q) const {
    return contains(rim_, q) &&
           std::none_of(holes_.begin(), holes_.end(), [&](const Polygon& h) { return contains(h, q); });
}

bool ExtraBarsProvision::lies_on(const Laid& l, Point q) const { return contains(l.outline, q) && is_slab(q); }

double ExtraBarsProvision::to_end(const Laid& l, Point q, Point along) const {
    const double own = distance_along(l.outline, q, along);
    double rim = distance_along(rim_, q, along);
    for (const Polygon& h : holes_) rim = std::min(rim, distance_along(h, q, along));
    if (l.bars->held_at_rims && rim < own + reach_of_u_bars) return 1e300;
    return std::min(own, rim);
}

double ExtraBarsProvision::anchored(size_t i, Point q, double past) const {
    const Laid& l = bars_[i];
    if (!lies_on(l, q)) return 0;
    if (l.anchorage <= 0) return 1;
    return std::clamp((to_nearer_end(i, q) - past) / l.anchorage, 0.0, 1.0);
}

double ExtraBarsProvision::to_nearer_end(size_t i, Point q) const {
    const Laid& l = bars_[i];
    return std::min(to_end(l, q, l.along), to_end(l, q, -1.0 * l.along));
}

// Shares of the line, in order from 0 to 1, between which the bars across it end at the same sides: at crossings with
// sides, and abreast of corners and of crossings of one outline's sides with another's.
std::vector<double> ExtraBarsProvision::breaks_along(const Laid& l, Point from, Point to) const {
    const Point u = l.along, d = to - from;
    const double den = cross(d, u);
    std::vector<double> t{0, 1};
    auto add = [&](double share) {
        if (share > 0 && share < 1) t.push_back(share);
    };
    auto abreast = [&](Point q) {
        if (den != 0) add(cross(q - from, u) / den);
    };
    std::vector<const Polygon*> rings{&l.outline, &rim_};
    for (const Polygon& h : holes_) rings.push_back(&h);
    for (size_t r = 0; r < rings.size(); ++r)
        for (size_t k = 0; k < rings[r]->size(); ++k) {
            const Point a = (*rings[r])[k], b = (*rings[r])[(k + 1) % rings[r]->size()];
            abreast(a);
            if (const auto at = segment_crossing(from, to, a, b)) add(dot(*at - from, d) / dot(d, d));
            for (size_t j = 0; r > 0 && j < l.outline.size(); ++j)
                if (const auto at = segment_crossing(a, b, l.outline[j], l.outline[(j + 1) % l.outline.size()]))
                    abreast(*at);
        }
    std::sort(t.begin(), t.end());
    return t;
}

double ExtraBarsProvision::over(size_t i, Point from, Point to, double past) const {
    const Laid& l = bars_[i];
    if (!may_touch(i, box_of({from, to}))) return 0;
    const Point u = l.along;
    const std::vector<double> t = breaks_along(l, from, to);
    double share = 0;
    for (size_t k = 0; k + 1 < t.size(); ++k) {
        const double width = t[k + 1] - t[k];
        if (width < 1e-12 || !lies_on(l, from + (t[k] + width / 2) * (to - from))) continue;
        if (l.anchorage <= 0) {
            share += width;
            continue;
        }
        // Distances to the two ends run linearly here: read just inside, then their lesser, held between 0 and the
        // anchorage length, is integrated between its own kinks.
        auto at = [&](double s) { return from + (t[k] + s * width) * (to - from); };
        constexpr double in = 1e-6;
        const double p0 = to_end(l, at(in), u) - past, p1 = to_end(l, at(1 - in), u) - past,
                     q0 = to_end(l, at(in), -1.0 * u) - past, q1 = to_end(l, at(1 - in), -1.0 * u) - past;
        auto counts = [&](double s) {
            return std::clamp(std::min(p0 + s * (p1 - p0), q0 + s * (q1 - q0)) / l.anchorage, 0.0, 1.0);
        };
        std::vector<double> kinks{0, 1};
        auto kink = [&](double a0, double a1, double level) {
            if (a1 != a0) kinks.push_back(std::clamp((level - a0) / (a1 - a0), 0.0, 1.0));
        };
        kink(p0 - q0, p1 - q1, 0);
        for (double level : {0.0, l.anchorage}) kink(p0, p1, level), kink(q0, q1, level);
        std::sort(kinks.begin(), kinks.end());
        for (size_t j = 0; j + 1 < kinks.size(); ++j)
            share += width * (kinks[j + 1] - kinks[j]) * (counts(kinks[j]) + counts(kinks[j + 1])) / 2;
    }
    return share * distance(from, to) * l.area;
}

std::vector<const Polygon*> ExtraBarsProvision::ends_of(const std::vector<size_t>& which) const {
    std::vector<const Polygon*> rings{&rim_};
    for (const Polygon& h : holes_) rings.push_back(&h);
    for (size_t i : which) rings.push_back(&bars_[i].outline);
    return rings;
}

namespace {

struct Side {
    Point a, b;
    Box box() const { return box_of({a, b}); }
};
std::vector<Side> sides_of(const std::vector<const Polygon*>& rings) {
    std::vector<Side> out;
    for (const Polygon* r : rings)
        for (size_t k = 0; k < r->size(); ++k) out.push_back({(*r)[k], (*r)[(k + 1) % r->size()]});
    return out;
}

// Corners of the cells into which sides, and lines along u through their corners and crossings, divide an area.
std::vector<Point> corners_of_cells(const Polygon& area, const std::vector<Side>& sides, Point u) {
    const Box box = box_of(area);
    const Point n = left_of(u);
    double low = 1e300, high = -1e300;
    for (Point p : area) low = std::min(low, dot(p, n)), high = std::max(high, dot(p, n));
    std::vector<Point> corners;
    for (size_t i = 0; i < sides.size(); ++i) {
        corners.push_back(sides[i].a);
        for (size_t j = i + 1; j < sides.size(); ++j)
            if (sides[i].box().overlaps(sides[j].box()))
                if (const auto at = segment_crossing(sides[i].a, sides[i].b, sides[j].a, sides[j].b))
                    corners.push_back(*at);
    }
    std::vector<Point> out;
    for (Point c : corners) {
        out.push_back(c);
        if (dot(c, n) < low || dot(c, n) > high) continue;
        for (const Side& s : sides)
            if (const double den = cross(s.b - s.a, u); den != 0) {
                const double t = cross(c - s.a, u) / den;
                if (t >= 0 && t <= 1) out.push_back(s.a + t * (s.b - s.a));
            }
    }
    std::erase_if(out, [&](Point p) { return !box.overlaps(box_of({p})); });
    return out;
}

}  // namespace

std::optional<double> ExtraBarsProvision::least_in(const Polygon& area, const std::vector<size_t>& which) const {
    if (which.empty() || area.size() < 3) return 0;
    const Point u = bars_[which[0]].along;
    std::vector<const Polygon*> rings = ends_of(which);
    rings.push_back(&area);
    const Box box = box_of(area);
    const double aside = 1e-6 * std::max(box.width(), box.height());  // just inside a cell
    constexpr int ways = 16;
    double least = 1e300;
    for (Point c : corners_of_cells(area, sides_of(rings), u))
        for (int k = 0; k < ways; ++k) {
            const Point q = c + aside * turned({1, 0}, 360.0 * (k + 0.37) / ways);
            if (!contains(area, q) || !is_slab(q)) continue;
            double As = 0;
            for (size_t i : which) As += bars_[i].area * anchored(i, q, 0);
            least = std::min(least, As);
        }
    return least < 1e299 ? std::optional(least) : std::nullopt;
}

ExtraBarsProvision::Clear ExtraBarsProvision::clear_between(size_t i, const ChosenBars& base) const {
    const ExtraBars& e = *bars_[i].bars;
    double bars_a_metre = 1000 / e.spacing, steel = e.diameter * 1000 / e.spacing, largest = e.diameter;
    auto add = [&](double diameter, double spacing) {
        if (spacing <= 0) return;
        bars_a_metre += 1000 / spacing, steel += diameter * 1000 / spacing, largest = std::max(largest, diameter);
    };
    add(base.diameter, base.spacing);
    for (size_t j : bars_[i].overlaps) add(bars_[j].bars->diameter, bars_[j].bars->spacing);
    return {(1000 - steel) / bars_a_metre, code_ ? code_->least_clear_distance(largest) : largest, largest};
}

}  // namespace mossbed
