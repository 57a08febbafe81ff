#include "core/arrange/rims.h"

#include <fmt/format.h>

#include <algorithm>

namespace mossbed {

namespace {

// The side from corner i to the next.
struct Side {
    Point a, b;
    Point along() const { return unit(b - a); }
};
Side side_of(const Polygon& ring, size_t i) { return {ring[i], ring[(i + 1) % ring.size()]}; }

// Corners where the moved lines of neighbouring sides meet. Where those are parallel there is no such point: the corner
// goes straight outward with the side that moves.
Polygon pushed(const Polygon& ring, const std::set<int>& sides, double by) {
    const size_t n = ring.size();
    const double way = signed_area(ring) >= 0 ? -1 : 1;  // outward of an anticlockwise ring is to the right
    Polygon out = ring;
    for (size_t i = 0; i < n; ++i) {
        const size_t before = (i + n - 1) % n;
        const Point u = side_of(ring, before).along(), v = side_of(ring, i).along();
        const double du = sides.count(int(before)) ? by : 0, dv = sides.count(int(i)) ? by : 0;
        const Point nu = way * left_of(u), nv = way * left_of(v);
        const double between = cross(u, v);
        if (std::abs(between) < 0.05) {
            out[i] = ring[i] + (dv != 0 ? dv * nv : du * nu);
            continue;
        }
        // ring[i] + d with d·nu = du, d·nv = dv
        const double det = cross(nu, nv);
        out[i] = ring[i] + (1 / det) * Point{du * nv.y - dv * nu.y, dv * nu.x - du * nv.x};
    }
    return out;
}

std::string fault_of_pushed(const Polygon& before, const Polygon& after) {
    for (size_t i = 0; i < before.size(); ++i) {
        const Side was = side_of(before, i), is = side_of(after, i);
        if (distance(is.a, is.b) < 1e-6 || dot(is.b - is.a, was.b - was.a) <= 0)
            return fmt::format("side {} would turn round", i + 1);
    }
    return fault_of_outline(after);
}

}  // namespace

std::string fault_of_outline(const Polygon& ring) {
    if (ring.size() < 3) return "it needs three corners at least";
    if (const auto c = self_crossing(ring))
        return fmt::format("side {} would cross side {}", c->first + 1, c->second + 1);
    if (std::abs(signed_area(ring)) < 1e-4) return "it would have no area";
    return {};
}

std::set<int> all_sides(const Outline& outline) {
    if (std::holds_alternative<Circle>(outline)) return {0};
    if (std::holds_alternative<Ring>(outline)) return {0, 1};
    std::set<int> all;
    for (int i = 0; i < int(std::get<Polygon>(outline).size()); ++i) all.insert(i);
    return all;
}

std::string push_rims(Model& m, const std::set<int>& sides, double by) {
    if (auto* c = std::get_if<Circle>(&m.slab.outline)) {
        const double r = c->radius + (sides.count(0) ? by : 0);
        if (r < 0.01) return fmt::format("its radius is {:.2f} m", c->radius);
        c->radius = r;
        return {};
    }
    if (auto* r = std::get_if<Ring>(&m.slab.outline)) {
        const double outer = r->outer + (sides.count(0) ? by : 0), inner = r->inner - (sides.count(1) ? by : 0);
        if (inner < 0.01) return fmt::format("the inner radius is {:.2f} m; draw a circle instead", r->inner);
        if (outer - inner < 0.01) return fmt::format("the ring is {:.2f} m wide", r->outer - r->inner);
        r->outer = outer, r->inner = inner;
        return {};
    }
    Polygon& ring = std::get<Polygon>(m.slab.outline);
    if (ring.size() < 3) return "there is no outline yet";
    const Polygon before = ring, after = pushed(ring, sides, by);
    if (const std::string why = fault_of_pushed(before, after); !why.empty()) return why;
    ring = after;
    follow_rim(m, before);
    return {};
}

std::string grow_ring(Polygon& ring, double by) {
    if (ring.size() < 3) return "it has no outline";
    const Polygon after = pushed(ring, all_sides(ring), by);
    const std::string why = fault_of_pushed(ring, after);
    if (why.empty()) ring = after;
    return why;
}

std::string shift_path(std::vector<Point>& path, double by) {
    const size_t n = path.size();
    if (n < 2) return "it has no length";
    const bool is_closed = n > 3 && distance(path.front(), path.back()) < 1e-6;
    auto direction = [&](size_t i) { return unit(path[i + 1] - path[i]); };
    std::vector<Point> out(n);
    for (size_t i = 0; i < n; ++i) {
        const bool first = i == 0, last = i + 1 == n;
        const Point u = first ? (is_closed ? direction(n - 2) : direction(0)) : direction(i - 1);
        const Point v = last ? (is_closed ? direction(0) : u) : direction(i);
        const Point m = left_of(u) + left_of(v);  // twice the mitre's foot
        const double l = dot(m, m);
        if (l < 0.05) return "it doubles back at a corner";
        out[i] = path[i] + (2 * by / l) * m;
    }
    for (size_t i = 0; i + 1 < n; ++i)
        if (dot(out[i + 1] - out[i], path[i + 1] - path[i]) <= 0)
            return fmt::format("piece {} would turn round", i + 1);
    path = std::move(out);
    return {};
}

void follow_rim(Model& m, const Polygon& before) {
    const auto* now = std::get_if<Polygon>(&m.slab.outline);
    if (!now || now->size() != before.size() || *now == before) return;
    constexpr double on_it = 1e-3;  // m
    auto follow = [&](Point& p) {
        for (size_t i = 0; i < before.size(); ++i)
            if (distance(p, before[i]) < on_it) {
                p = p + ((*now)[i] - before[i]);
                return;
            }
        for (size_t i = 0; i < before.size(); ++i) {
            const Side was = side_of(before, i), is = side_of(*now, i);
            if (distance_to_segment(p, was.a, was.b) >= on_it) continue;
            if (was.a == is.a && was.b == is.b) return;
            const Point u = was.along(), v = is.along();
            if (std::abs(cross(u, v)) < 1e-9)  // pushed: straight outward
                p = p + dot(is.a - was.a, left_of(u)) * left_of(u);
            else  // turned: as far along as it was
                p = is.a + (dot(p - was.a, u) / distance(was.a, was.b)) * (is.b - is.a);
            return;
        }
    };
    auto follow_all = [&](auto& points) {
        for (Point& p : points) follow(p);
    };
    for (SlabPatch& t : m.slab.patches)
        if (!t.outline.circle()) follow_all(t.outline);
    for (ExtraBars& e : m.steel.extra) follow_all(e.outline);
    for (ShearLinks& l : m.steel.links) follow_all(l.outline);
    if (m.steel.strips)
        for (Strip& s : *m.steel.strips) follow_all(s.axis);
    for (LoadCase& c : m.loads.cases)
        for (LoadItem& i : c.items) {
            if (auto* a = std::get_if<AreaLoad>(&i.load)) follow_all(a->outline);
            if (auto* l = std::get_if<LineLoad>(&i.load)) follow_all(l->path);
        }
}

namespace {

// Boxes of all that stands, in axes turned back by `turn` degrees.
std::vector<Box> boxes_of_standing(const Model& m, double turn) {
    std::vector<Box> all;
    auto add = [&](const Polygon& p) {
        Box b;
        for (Point q : p) b.add(turned(q, -turn));
        all.push_back(b);
    };
    for (const Column& c : m.columns) {
        if (c.round())  // its sides of equal area would stand out a little
            add(rectangle(c.at, c.size[0], c.size[0], turn));
        else
            add(footprint(c));
    }
    for (const Wall& w : m.walls)
        for (size_t i = 0; i + 1 < w.path.size(); ++i) add(body_of(w, i));
    return all;
}

// Of the longest side, within ±45°: 0 for a slab along x and y.
double turn_of(const Outline& outline) {
    const auto* ring = std::get_if<Polygon>(&outline);
    if (!ring || ring->size() < 3) return 0;
    Point longest;
    for (size_t i = 0; i < ring->size(); ++i)
        if (const Side s = side_of(*ring, i); distance(s.a, s.b) > length(longest) + 1e-9) longest = s.b - s.a;
    return std::remainder(std::atan2(longest.y, longest.x) * 180 / M_PI, 90);
}

// The smallest shape round the boxes that every line along x or y crosses in one piece: between the stairs that rise
// and fall over them. Steps narrower than `least` are filled.
struct Level {
    double from, to, low, high;
};
std::vector<Level> stairs_round(const std::vector<Box>& boxes, double least) {
    std::set<double> xs;
    for (const Box& b : boxes) xs.insert(b.low.x), xs.insert(b.high.x);
    std::vector<Level> levels;
    for (auto it = xs.begin(); std::next(it) != xs.end(); ++it) {
        const double from = *it, to = *std::next(it), x = 0.5 * (from + to);
        double high_left = -1e300, high_right = -1e300, low_left = 1e300, low_right = 1e300;
        for (const Box& b : boxes) {
            if (b.low.x < x) high_left = std::max(high_left, b.high.y), low_left = std::min(low_left, b.low.y);
            if (b.high.x > x) high_right = std::max(high_right, b.high.y), low_right = std::min(low_right, b.low.y);
        }
        levels.push_back({from, to, std::max(low_left, low_right), std::min(high_left, high_right)});
    }
    auto join_equal = [&] {
        std::vector<Level> joined;
        for (const Level& l : levels)
            if (!joined.empty() && std::abs(joined.back().low - l.low) < 1e-9 &&
                std::abs(joined.back().high - l.high) < 1e-9)
                joined.back().to = l.to;
            else
                joined.push_back(l);
        levels = std::move(joined);
    };
    join_equal();
    // A small step up or down goes to the outer of the two levels; a narrow level to the wider neighbour on each side.
    for (size_t k = 0; k + 1 < levels.size(); ++k) {
        Level &l = levels[k], &r = levels[k + 1];
        if (std::abs(l.high - r.high) < least) l.high = r.high = std::max(l.high, r.high);
        if (std::abs(l.low - r.low) < least) l.low = r.low = std::min(l.low, r.low);
    }
    for (size_t k = levels.size(); k-- > 1;) {
        Level &l = levels[k - 1], &r = levels[k];
        if (std::abs(l.high - r.high) < least) l.high = r.high = std::max(l.high, r.high);
        if (std::abs(l.low - r.low) < least) l.low = r.low = std::min(l.low, r.low);
    }
    for (size_t k = 0; k < levels.size(); ++k)
        if (levels[k].to - levels[k].from < least)
            for (const size_t beside : {k - 1, k + 1})
                if (beside < levels.size()) {
                    levels[k].high = std::max(levels[k].high, levels[beside].high);
                    levels[k].low = std::min(levels[k].low, levels[beside].low);
                }
    join_equal();
    return levels;
}

}  // namespace

std::string fit_rim(Model& m, RimFit fit, double overhang) {
    if (m.columns.empty() && m.walls.empty()) return "nothing stands yet; place the columns first";
    const double turn = turn_of(m.slab.outline);
    std::vector<Box> boxes = boxes_of_standing(m, turn);
    Box all;
    for (Box& b : boxes) {
        b = b.grown(overhang);
        if (b.width() < 0.01 || b.height() < 0.01) return "so much inward, nothing is left";
        all.add(b.low), all.add(b.high);
    }
    Polygon ring;
    if (fit == RimFit::rectangle) {
        ring = {all.low, {all.high.x, all.low.y}, all.high, {all.low.x, all.high.y}};
    } else {
        const std::vector<Level> levels = stairs_round(boxes, std::max(0.5, std::abs(overhang)));
        for (size_t k = 0; k < levels.size(); ++k) {
            if (levels[k].high - levels[k].low < 0.05)
                return "what stands falls into groups that no stepped rim joins; take the rectangle";
            if (k && std::min(levels[k].high, levels[k - 1].high) - std::max(levels[k].low, levels[k - 1].low) < 0.05)
                return "what stands falls into groups that no stepped rim joins; take the rectangle";
        }
        for (const Level& l : levels) ring.push_back({l.from, l.low}), ring.push_back({l.to, l.low});
        for (size_t k = levels.size(); k-- > 0;)
            ring.push_back({levels[k].to, levels[k].high}), ring.push_back({levels[k].from, levels[k].high});
        ring = without_repeats(ring, 1e-6);
        // Corners on a straight line are none.
        for (size_t i = 0; i < ring.size();) {
            const Point a = ring[(i + ring.size() - 1) % ring.size()], b = ring[i], c = ring[(i + 1) % ring.size()];
            if (std::abs(cross(unit(b - a), unit(c - b))) < 1e-9)
                ring.erase(ring.begin() + long(i));
            else
                ++i;
        }
    }
    for (Point& p : ring) {
        p = turned(p, turn);
        p = {std::round(p.x * 1e9) / 1e9, std::round(p.y * 1e9) / 1e9};
    }
    const Outline before = m.slab.outline;
    m.slab.outline = ring;
    const auto* old = std::get_if<Polygon>(&before);
    bool same_sides = old && old->size() == ring.size();  // only then is it the old rim, moved
    for (size_t i = 0; same_sides && i < ring.size(); ++i)
        same_sides = dot(side_of(*old, i).along(), side_of(ring, i).along()) > 1 - 1e-9;
    if (same_sides) follow_rim(m, *old);
    return {};
}

}  // namespace mossbed
