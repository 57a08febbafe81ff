#include "core/model/model.h"

#include <algorithm>
#include <numbers>

namespace mossbed {

const Concrete& concrete_of(const Model& m, const std::string& id) {
    static const Concrete standard;
    if (const Concrete* c = find_id(m.concretes, id.empty() ? m.slab.concrete : id)) return *c;
    return standard;
}

const Steel& steel_of(const Model& m) {
    static const Steel standard;
    const Steel* s = find_id(m.steels, m.steel.steel);
    return s ? *s : standard;
}

namespace {
int sides_for(double radius, double chord) {
    return 4 * int(std::clamp(std::ceil(2 * std::numbers::pi * radius / chord / 4), 4.0, 180.0));
}
}  // namespace

namespace {
Polygon corners_of(const Circle& c) {
    constexpr double side = 0.3;  // m
    const double sides = 4 * std::clamp(std::ceil(2 * std::numbers::pi * c.radius / side / 4), 4.0, 16.0);
    return round_polygon(c.centre, c.radius, int(sides));
}
}  // namespace

Shape::Shape(const Circle& c) : Polygon(corners_of(c)), given_(c) {}

std::optional<Circle> Shape::circle() const {
    if (given_ && corners_of(*given_) == static_cast<const Polygon&>(*this)) return given_;
    return {};
}

Polygon outer_rim(const Outline& outline, double chord) {
    if (auto c = std::get_if<Circle>(&outline)) return round_polygon(c->centre, c->radius, sides_for(c->radius, chord));
    if (auto r = std::get_if<Ring>(&outline)) return round_polygon(r->centre, r->outer, sides_for(r->outer, chord));
    return anticlockwise(std::get<Polygon>(outline));
}

std::optional<Polygon> inner_rim(const Outline& outline, double chord) {
    if (auto r = std::get_if<Ring>(&outline)) return round_polygon(r->centre, r->inner, sides_for(r->inner, chord));
    return std::nullopt;
}

Polygon footprint(const Column& c) {
    if (c.round()) return round_polygon(c.at, c.size[0] / 2, 32, c.angle);
    return rectangle(c.at, c.size[0], c.size[1], c.angle);
}

Polygon body_of(const Wall& w, size_t piece) {
    const Point side = (w.thickness / 2) * unit(left_of(w.path[piece + 1] - w.path[piece]));
    return {w.path[piece] - side, w.path[piece + 1] - side, w.path[piece + 1] + side, w.path[piece] + side};
}

std::vector<Polygon> bodies_along(const std::vector<Point>& path, double width) {
    const size_t n = path.size() < 2 ? 0 : path.size() - 1;
    const bool is_closed = n > 2 && distance(path.front(), path.back()) < 1e-6;
    auto along = [&](size_t k) { return unit(path[k + 1] - path[k]); };
    // From the point k of the path to the left edge of the piece after it (`next`) or before it, along the mitre.
    auto to_edge = [&](size_t k, size_t piece) {
        const Point side = (width / 2) * left_of(along(piece));
        const bool has_before = k > 0 || is_closed, has_after = k < n || is_closed;
        if (!has_before || !has_after) return side;
        const Point a = left_of(along(k > 0 ? k - 1 : n - 1)), b = left_of(along(k < n ? k : 0));
        const Point half = a + b;
        if (dot(half, half) < 0.3) return side;  // it turns back sharply: no mitre
        return (width / dot(half, half)) * half;
    };
    std::vector<Polygon> out;
    for (size_t k = 0; k < n; ++k) {
        if (distance(path[k], path[k + 1]) < 1e-9) continue;
        const Point a = to_edge(k, k), b = to_edge(k + 1, k);
        out.push_back({path[k] - a, path[k + 1] - b, path[k + 1] + b, path[k] + a});
    }
    return out;
}

bool has_slab(const Model& m) {
    const auto* ring = std::get_if<Polygon>(&m.slab.outline);
    return !ring || ring->size() > 2;
}

double net_area(const Model& m) {
    double a = signed_area(outer_rim(m.slab.outline, 0.25));
    if (auto in = inner_rim(m.slab.outline, 0.25)) a -= signed_area(*in);
    for (const Opening& o : m.slab.openings) a -= std::abs(signed_area(o.outline));
    return a;
}

bool on_slab(const Model& m, Point p) {
    if (!contains(outer_rim(m.slab.outline, 0.1), p)) return false;
    if (auto in = inner_rim(m.slab.outline, 0.1); in && contains(*in, p)) return false;
    return std::none_of(m.slab.openings.begin(), m.slab.openings.end(),
                        [&](const Opening& o) { return contains(o.outline, p); });
}

namespace {
const SlabPatch* patch_at(const Model& m, Point p) {
    for (auto it = m.slab.patches.rbegin(); it != m.slab.patches.rend(); ++it)
        if (contains(it->outline, p)) return &*it;
    return nullptr;
}
}  // namespace

double thickness_at(const Model& m, Point p) {
    const SlabPatch* t = patch_at(m, p);
    return t ? t->thickness : m.slab.thickness;
}

double underside_at(const Model& m, Point p) { return underside_of(m, patch_at(m, p)); }

double underside_of(const Model& m, const SlabPatch* t) {
    const double slab_bottom = m.slab.top_level - m.slab.thickness;
    if (!t) return slab_bottom;
    if (t->flush == Flush::top) return m.slab.top_level - t->thickness;
    if (t->flush == Flush::middle) return slab_bottom - (t->thickness - m.slab.thickness) / 2;
    return slab_bottom;
}

double founding_level(const Model& m) { return m.ground.founding_level.value_or(m.slab.top_level - m.slab.thickness); }

std::string fresh_id(const std::string& stem, const std::vector<std::string>& taken) {
    for (int n = 1;; ++n) {
        std::string id = stem + std::to_string(n);
        if (std::find(taken.begin(), taken.end(), id) == taken.end()) return id;
    }
}

}  // namespace mossbed
