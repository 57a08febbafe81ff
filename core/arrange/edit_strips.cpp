#include "core/arrange/edit_strips.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/model/edit.h"

namespace mossbed {
namespace {

constexpr double sliver = 0.05;  // m: narrower and shorter pieces are left out

// A strip as a rectangle in axes of its own or of another.
struct Block {
    double s0, s1, n0, n1;
    bool is_whole() const { return s1 - s0 > sliver && n1 - n0 > sliver; }
};
struct Axes {
    explicit Axes(const Strip& s) : from(s.axis[0]), u(unit(s.axis[1] - s.axis[0])), n(left_of(u)) {}
    bool is_along(const Strip& s) const { return std::abs(cross(u, unit(s.axis[1] - s.axis[0]))) < 0.0175; }  // 1°
    Block block(const Strip& s) const {
        const double a = dot(s.axis[0] - from, u), b = dot(s.axis[1] - from, u), at = dot(s.axis[0] - from, n);
        return a <= b ? Block{a, b, at - s.reach[1], at + s.reach[0]} : Block{b, a, at - s.reach[0], at + s.reach[1]};
    }
    // The strip where its axis stays as far as it may.
    Strip strip(const Strip& like, const Block& b) const {
        Strip out = like;
        const bool same = dot(like.axis[1] - like.axis[0], u) >= 0;
        const double at = std::clamp(dot(like.axis[0] - from, n), b.n0, b.n1);
        const Point start = from + b.s0 * u + at * n, end = from + b.s1 * u + at * n;
        out.axis = same ? std::array<Point, 2>{start, end} : std::array<Point, 2>{end, start};
        out.reach = same ? std::array<double, 2>{b.n1 - at, at - b.n0} : std::array<double, 2>{at - b.n0, b.n1 - at};
        return out;
    }
    Point from, u, n;
};

std::string fresh_strip_name(const Model& m, const std::string& stem) {
    std::vector<std::string> taken;
    for (const Strip& s : *m.steel.strips) taken.push_back(s.id);
    return fresh_id(stem, taken);
}

Strip* find(Model& m, const std::string& id) { return m.steel.strips ? find_id(*m.steel.strips, id) : nullptr; }

// A second strip behind the first in the list.
void add_behind(Model& m, const std::string& id, Strip second) {
    second.id = fresh_strip_name(m, id + "-");
    auto& all = *m.steel.strips;
    const auto at = std::find_if(all.begin(), all.end(), [&](const Strip& s) { return s.id == id; });
    all.insert(std::next(at), std::move(second));
}

}  // namespace

void own_strips(Model& m, const std::vector<Strip>& laid) {
    if (m.steel.strips) return;
    m.steel.strips = laid;
    for (Strip& s : *m.steel.strips)
        for (const char* key : {"id", "direction", "axis", "reach"}) s.keys[key] = "";  // the engineer's from now on
}

std::string draw_strip(Model& m, Strip strip) {
    if (!m.steel.strips) m.steel.strips.emplace();
    const Axes axes(strip);
    const Block b = axes.block(strip);
    std::vector<Strip> left;
    const std::vector<Strip> before = std::move(*m.steel.strips);
    m.steel.strips->clear();
    for (const Strip& s : before) {
        const Block o = axes.block(s);
        const bool meets = o.s1 - b.s0 > sliver && b.s1 - o.s0 > sliver && o.n1 - b.n0 > sliver && b.n1 - o.n0 > sliver;
        if (!axes.is_along(s) || !meets) {
            m.steel.strips->push_back(s);
            continue;
        }
        const double s0 = std::max(o.s0, b.s0), s1 = std::min(o.s1, b.s1);
        bool first = true;
        for (const Block& piece : {Block{o.s0, b.s0, o.n0, o.n1}, Block{s0, s1, o.n0, b.n0}, Block{s0, s1, b.n1, o.n1},
                                   Block{b.s1, o.s1, o.n0, o.n1}}) {
            if (!piece.is_whole()) continue;
            Strip part = axes.strip(s, piece);
            if (!first) left.push_back(part);
            if (first) m.steel.strips->push_back(part);
            first = false;
        }
    }
    for (Strip& s : left) {
        s.id = fresh_strip_name(m, s.id + "-");
        m.steel.strips->push_back(s);
    }
    strip.id = fresh_strip_name(m, "S");
    for (const char* key : {"id", "direction", "axis", "reach"}) strip.keys[key] = "";
    m.steel.strips->push_back(strip);
    return strip.id;
}

std::string split_strip_along(Model& m, const std::string& id, double off) {
    Strip* s = find(m, id);
    if (!s) return "is not the model's own";
    if (s->reach[0] - off < sliver || s->reach[1] + off < sliver) return "is too narrow to be split there";
    const Axes axes(*s);
    const Block b = axes.block(*s);
    const Strip right = axes.strip(*s, {b.s0, b.s1, b.n0, off}), other = axes.strip(*s, {b.s0, b.s1, off, b.n1});
    *s = right;
    add_behind(m, id, other);
    return {};
}

std::string split_strip_across(Model& m, const std::string& id, double at) {
    Strip* s = find(m, id);
    if (!s) return "is not the model's own";
    const Axes axes(*s);
    const Block b = axes.block(*s);
    if (at - b.s0 < sliver || b.s1 - at < sliver) return "ends there: the place lies not between its ends";
    const Strip first = axes.strip(*s, {b.s0, at, b.n0, b.n1}), second = axes.strip(*s, {at, b.s1, b.n0, b.n1});
    *s = first;
    add_behind(m, id, second);
    return {};
}

std::array<Point, 4> grips_of(const Strip& s) {
    const Point n = left_of(unit(s.axis[1] - s.axis[0])), middle = 0.5 * (s.axis[0] + s.axis[1]);
    return {middle + s.reach[0] * n, middle - s.reach[1] * n, s.axis[0], s.axis[1]};
}

std::string move_grip(Model& m, const std::string& id, int grip, Point to) {
    Strip* s = find(m, id);
    if (!s) return "is not the model's own";
    if (grip < 0 || grip > 3) return "has no such side";
    static constexpr std::array<double Block::*, 4> edges{&Block::n1, &Block::n0, &Block::s0, &Block::s1};
    const bool side = grip < 2;
    const auto edge = edges[size_t(grip)], other = edges[size_t(grip ^ 1)];
    const Axes axes(*s);
    const Block b = axes.block(*s);
    const double at = dot(to - axes.from, side ? axes.n : axes.u);
    auto moved = [&](const Strip& like, Block k, double Block::*which) -> std::optional<Strip> {
        k.*which = at;
        return k.is_whole() ? std::optional(axes.strip(like, k)) : std::nullopt;
    };
    auto same = [](double p, double q) { return std::abs(p - q) < 2 * sliver; };
    std::vector<std::pair<Strip*, Strip>> next;
    for (Strip& o : *m.steel.strips) {
        const Block k = axes.block(o);
        const bool beside = o.id != id && axes.is_along(o) && same(k.*other, b.*edge) &&
                            (side ? same(k.s0, b.s0) && same(k.s1, b.s1) : same(k.n0, b.n0) && same(k.n1, b.n1));
        if (!beside && o.id != id) continue;
        const auto strip = moved(o, k, beside ? other : edge);
        if (!strip)
            return fmt::format("would leave {} no {}", beside ? "strip " + o.id : "it", side ? "width" : "length");
        next.emplace_back(&o, *strip);
    }
    for (auto& [strip, as] : next) *strip = as;
    return {};
}

std::string join_strip(Model& m, const std::string& id, StripSide side) {
    Strip* s = find(m, id);
    if (!s) return "is not the model's own";
    const Axes axes(*s);
    Block b = axes.block(*s);
    const Strip* best = nullptr;
    double most = 0;
    for (const Strip& o : *m.steel.strips) {
        if (o.id == id || !axes.is_along(o)) continue;
        const Block k = axes.block(o);
        const double gap = side == StripSide::left ? k.n0 - b.n1 : b.n0 - k.n1;
        const double beside = std::min(k.s1, b.s1) - std::max(k.s0, b.s0);
        if (std::abs(gap) < 2 * sliver && beside > most) most = beside, best = &o;
    }
    if (!best) return fmt::format("has no strip along its {} side", side == StripSide::left ? "left" : "right");
    const Block k = axes.block(*best);
    b = {std::min(b.s0, k.s0), std::max(b.s1, k.s1), std::min(b.n0, k.n0), std::max(b.n1, k.n1)};
    const std::string gone = best->id;
    *s = axes.strip(*s, b);
    std::erase_if(*m.steel.strips, [&](const Strip& o) { return o.id == gone; });
    return {};
}

}  // namespace mossbed
