#include "core/steel/extra_bars.h"

#include <algorithm>
#include <numbers>

namespace mossbed {
namespace {

// They share an area; outlines that only touch along a side or at a corner do not.
bool overlap(const Polygon& a, const Polygon& b) {
    constexpr double slack = 1e-6;  // m
    if (!box_of(a).overlaps(box_of(b))) return false;
    auto well_inside = [&](const Polygon& p, Point q) { return contains(p, q) && distance_to_rim(p, q) > slack; };
    if (well_inside(a, centroid(b)) || well_inside(b, centroid(a))) return true;
    for (size_t i = 0; i < a.size(); ++i)
        for (size_t j = 0; j < b.size(); ++j) {
            const Point p = a[i], q = a[(i + 1) % a.size()], r = b[j], s = b[(j + 1) % b.size()];
            if (well_inside(b, p) || well_inside(a, r)) return true;
            const auto at = segment_crossing(p, q, r, s);
            if (at && std::abs(cross(q - p, s - r)) > 1e-9 * length(q - p) * length(s - r) &&
                distance(*at, p) > slack && distance(*at, q) > slack && distance(*at, r) > slack &&
                distance(*at, s) > slack)
                return true;
        }
    return false;
}

// Distance from q along the unit vector u to the first side of the ring; 1e300 where none is met.
double ray_to(const Polygon& ring, Point q, Point u) {
    double first = 1e300;
    for (size_t i = 0; i < ring.size(); ++i) {
        const Point a = ring[i] - q, d = ring[(i + 1) % ring.size()] - ring[i];
        const double den = cross(u, d);
        if (den == 0) continue;
        const double t = cross(a, d) / den, s = cross(a, u) / den;
        if (t >= 0 && s >= 0 && s <= 1) first = std::min(first, t);
    }
    return first;
}

}  // namespace

ExtraBarsProvision::ExtraBarsProvision(const Model& m, const DesignCode* code) {
    if (m.steel.extra.empty()) return;
    rim_ = outer_rim(m.slab.outline, 0.25);
    if (auto in = inner_rim(m.slab.outline, 0.25)) holes_.push_back(*in);
    for (const Opening& o : m.slab.openings) holes_.push_back(o.outline);
    for (const ExtraBars& e : m.steel.extra) {
        Laid l{&e, e.outline, box_of(e.outline), 0, 0, {}};
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
                bars_[i].bars->direction == bars_[j].bars->direction && overlap(bars_[i].outline, bars_[j].outline))
                bars_[i].overlaps.push_back(j);
}

bool ExtraBarsProvision::on_slab_here(Point q) const {
    return contains(rim_, q) &&
           std::none_of(holes_.begin(), holes_.end(), [&](const Polygon& h) { return contains(h, q); });
}

double ExtraBarsProvision::to_end(const Laid& l, Point q, Point along) const {
    double end = std::min(ray_to(l.outline, q, along), ray_to(rim_, q, along));
    for (const Polygon& h : holes_) end = std::min(end, ray_to(h, q, along));
    return end;
}

double ExtraBarsProvision::anchored(size_t i, Point q, double past) const {
    const Laid& l = bars_[i];
    if (!contains(l.outline, q) || !on_slab_here(q)) return 0;
    if (l.anchorage <= 0) return 1;
    const Point u = l.bars->direction == Direction::x ? Point{1, 0} : Point{0, 1};
    const double end = std::min(to_end(l, q, u), to_end(l, q, -1.0 * u)) - past;
    return std::clamp(end / l.anchorage, 0.0, 1.0);
}

double ExtraBarsProvision::over(size_t i, Point from, Point to, double past) const {
    Box line = box_of({from, to});
    if (!may_touch(i, line)) return 0;
    constexpr int samples = 64;
    double share = 0;
    for (int k = 0; k < samples; ++k) share += anchored(i, from + ((k + 0.5) / samples) * (to - from), past);
    return share / samples * distance(from, to) * bars_[i].area;
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
    return {(1000 - steel) / bars_a_metre, std::max(largest, 20.0)};
}

}  // namespace mossbed
