#include "drawing/snap.h"

#include <algorithm>

namespace mossbed {

namespace {

struct Line {
    Point a, b;
    std::string name;
};

class Snapper {
  public:
    Snapper(const Model& m, const View& view, Point p, const SnapTo& to)
        : m_(m), to_(to), p_(p), reach_(7 / view.scale), grid_(view.scale > 60 ? 0.05 : 0.1) {}

    Snap find() {
        if (to_.free) return {p_, ""};
        look_at_things();
        if (!point_note_.empty()) return {point_, "on " + point_note_};
        if (const auto s = on_lines()) return *s;
        return in_line();
    }

  private:
    bool moves(ThingKind kind, const std::string& id) const { return to_.moving.count({kind, id}) > 0; }

    void offer(Point q, const std::string& name) {
        const double d = distance(q, p_);
        if (d < nearest_) nearest_ = d, point_ = q, point_note_ = name;
        align(q, name);
    }
    // In line above or below it, or level with it.
    void align(Point q, const std::string& name) {
        if (std::abs(q.x - p_.x) < dx_) dx_ = std::abs(q.x - p_.x), x_ = q.x, x_note_ = name;
        if (std::abs(q.y - p_.y) < dy_) dy_ = std::abs(q.y - p_.y), y_ = q.y, y_note_ = name;
    }
    void offer_line(Point a, Point b, const std::string& name) {
        if (distance_to_segment(p_, a, b) < reach_ && distance(a, b) > 1e-6) lines_.push_back({a, b, name});
    }
    // A line and its middle.
    void offer_side(Point a, Point b, const std::string& name) {
        if (const double d = distance(0.5 * (a + b), p_); d < nearest_)
            nearest_ = d, point_ = 0.5 * (a + b), point_note_ = "the middle of " + name;
        offer_line(a, b, name);
    }
    void offer_ring(const Polygon& ring, const std::string& of) {
        for (size_t i = 0; i < ring.size(); ++i) {
            const Point a = ring[i], b = ring[(i + 1) % ring.size()];
            offer_side(a, b, "a side of " + of);
        }
    }
    void offer_path(const std::vector<Point>& path, const std::string& name) {
        for (size_t i = 0; i < path.size(); ++i) {
            offer(path[i], i == 0 || i + 1 == path.size() ? "the end of " + name : "a corner of " + name);
            if (i + 1 == path.size()) continue;
            offer_side(path[i], path[i + 1], name);
        }
    }
    void offer_shape(const Shape& s, const std::string& id) {
        if (const auto c = s.circle()) {
            offer(c->centre, "the middle of " + id);
            return offer_round(*c, id);
        }
        for (Point q : s) offer(q, "a corner of " + id);
        offer_ring(s, id);
    }
    void offer_round(const Circle& c, const std::string& name) {
        const double r = distance(p_, c.centre);
        if (r > 1e-6 && std::abs(r - c.radius) < reach_ && !round_)
            round_ = Snap{c.centre + (c.radius / r) * (p_ - c.centre), "on the rim of " + name};
    }

    void look_at_things() {
        nearest_ = dx_ = dy_ = reach_;
        for (const Column& c : m_.columns)
            if (!moves(ThingKind::column, c.id)) offer(c.at, c.id);
        for (size_t i = 0; i < to_.drawn.size(); ++i) offer(to_.drawn[i], "point " + std::to_string(i + 1));
        for (size_t i = 0; i + 1 < to_.drawn.size(); ++i) offer_line(to_.drawn[i], to_.drawn[i + 1], "what is drawn");
        if (const auto* ring = std::get_if<Polygon>(&m_.slab.outline)) {
            // A side moves with either of its corners.
            auto corner_moves = [&](size_t i) { return to_.moving.count({ThingKind::slab_corner, "", int(i)}) > 0; };
            auto side_moves = [&](size_t i) {
                return to_.moving.count({ThingKind::slab_side, "", int(i)}) > 0 || corner_moves(i) ||
                       corner_moves((i + 1) % ring->size());
            };
            for (size_t i = 0; i < ring->size(); ++i) {
                if (!corner_moves(i)) offer((*ring)[i], "corner " + std::to_string(i + 1));
                const Point a = (*ring)[i], b = (*ring)[(i + 1) % ring->size()];
                if (side_moves(i)) continue;
                offer_side(a, b, "rim " + std::to_string(i + 1));
            }
        } else if (const auto* c = std::get_if<Circle>(&m_.slab.outline)) {
            offer(c->centre, "the slab's middle"), offer_round(*c, "the slab");
        } else if (const auto* r = std::get_if<Ring>(&m_.slab.outline)) {
            offer(r->centre, "the slab's middle");
            offer_round({r->centre, r->outer}, "the slab"), offer_round({r->centre, r->inner}, "its hole");
        }
        for (const Opening& o : m_.slab.openings)
            if (!moves(ThingKind::opening, o.id)) offer_shape(o.outline, o.id);
        for (const SlabPatch& t : m_.slab.patches)
            if (!moves(ThingKind::patch, t.id)) offer_shape(t.outline, t.id);
        for (const Wall& w : m_.walls)
            if (!moves(ThingKind::wall, w.id)) offer_path(w.path, w.id);
        for (const Rib& r : m_.ribs)
            if (!moves(ThingKind::rib, r.id)) offer_path(r.path, r.id);
        for (const SettingOutLine& l : m_.setting_out)
            if (!moves(ThingKind::setting_out, l.id))
                for (size_t i = 0; i + 1 < l.path.size(); ++i) offer_line(l.path[i], l.path[i + 1], l.id);
        if (to_.from) align(*to_.from, "");
    }

    static std::optional<Point> meeting(const Line& l, const Line& k) {
        const Point u = l.b - l.a, v = k.b - k.a;
        const double between = cross(u, v);
        if (std::abs(between) < 0.02 * length(u) * length(v)) return {};
        return l.a + (cross(k.a - l.a, v) / between) * u;
    }

    std::optional<Snap> on_lines() {
        std::optional<Snap> best;
        double nearest = reach_;
        auto take = [&](Point q, const std::string& note) {
            if (const double d = distance(q, p_); d < nearest) nearest = d, best = Snap{q, note};
        };
        for (size_t i = 0; i < lines_.size(); ++i)
            for (size_t k = i + 1; k < lines_.size(); ++k)
                if (const auto q = meeting(lines_[i], lines_[k]); q && lines_[i].name != lines_[k].name)
                    take(*q, "where " + lines_[i].name + " meets " + lines_[k].name);
        if (best) return best;
        if (to_.from)
            for (const Line& l : lines_) {
                const Point u = unit(l.b - l.a), foot = l.a + dot(*to_.from - l.a, u) * u;
                if (distance(foot, *to_.from) > reach_) take(foot, "square to " + l.name);
            }
        if (best) return best;
        for (const Line& l : lines_) {  // in line with something, on it
            const Line upright{{x_, p_.y - 1}, {x_, p_.y + 1}, ""}, level{{p_.x - 1, y_}, {p_.x + 1, y_}, ""};
            if (dx_ < reach_)
                if (const auto q = meeting(l, upright))
                    take(*q, "on " + l.name + in_words(x_note_, "in line with ", "upright"));
            if (dy_ < reach_)
                if (const auto q = meeting(l, level))
                    take(*q, "on " + l.name + in_words(y_note_, "level with ", "level"));
        }
        if (best) return best;
        if (round_) return round_;
        for (const Line& l : lines_) {
            // A line along an axis keeps a round coordinate along it.
            Point q = nearest_on_segment(p_, l.a, l.b);
            const Point u = l.b - l.a;
            if (std::abs(u.y) < 1e-9) q.x = std::round(q.x / grid_) * grid_;
            if (std::abs(u.x) < 1e-9) q.y = std::round(q.y / grid_) * grid_;
            if (distance_to_segment(q, l.a, l.b) > 1e-9) q = nearest_on_segment(q, l.a, l.b);
            if (const double d = distance_to_segment(p_, l.a, l.b); d < nearest)
                nearest = d, best = Snap{q, "on " + l.name};
        }
        return best;
    }
    static std::string in_words(const std::string& name, const char* with, const char* alone) {
        return std::string(", ") + (name.empty() ? alone : with + name);
    }

    Snap in_line() const {
        Snap s{{std::round(p_.x / grid_) * grid_, std::round(p_.y / grid_) * grid_}, ""};
        const bool by_x = dx_ < reach_, by_y = dy_ < reach_;
        if (by_x) s.at.x = x_;
        if (by_y) s.at.y = y_;
        if (by_x) s.note = x_note_.empty() ? "upright" : "in line with " + x_note_;
        if (by_y) s.note += (by_x ? ", " : "") + (y_note_.empty() ? std::string("level") : "level with " + y_note_);
        return s;
    }

    const Model& m_;
    const SnapTo& to_;
    Point p_;
    double reach_, grid_;  // m
    double nearest_ = 0, dx_ = 0, dy_ = 0, x_ = 0, y_ = 0;
    Point point_;
    std::string point_note_, x_note_, y_note_;
    std::vector<Line> lines_;
    std::optional<Snap> round_;
};

}  // namespace

Snap snap(const Model& m, const View& view, Point p, const SnapTo& to) { return Snapper(m, view, p, to).find(); }

}  // namespace mossbed
