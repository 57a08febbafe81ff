#include "app/tools/grips.h"

#include "core/arrange/choice.h"
#include "core/arrange/make.h"
#include "core/arrange/placement.h"
#include "core/arrange/rims.h"

namespace mossbed {
namespace {

bool near(QPointF p, QPointF q, double r) { return QLineF(p, q).length() < r; }

// One of the class itself, of the same part.
template <class Derived>
class Held : public Grip {
  public:
    explicit Held(ToolBench& bench, int part = 0) : bench_(bench), part_(part) {}
    void begin(const Hand&) override { before_ = desk().now(); }
    bool is_same(const Grip& other) const override {
        const auto* o = dynamic_cast<const Held*>(&other);
        return o && o->part_ == part_;
    }

  protected:
    Desk& desk() const { return bench_.desk(); }
    const Polygon& ring() const { return std::get<Polygon>((before_ ? *before_ : desk().now()).slab.outline); }
    ToolBench& bench_;
    int part_;
    std::optional<Model> before_;  // of the edit under way; none while only hovered
};

// What stands on the plan: a click chooses it, a drag moves it with all that is chosen.
class ThingGrip : public Held<ThingGrip> {
  public:
    ThingGrip(ToolBench& bench, Thing thing) : Held(bench), thing_(std::move(thing)) {}
    QString hint() const override { return "Click to take the " + name_of(thing_) + " in hand, drag to move it"; }
    QCursor cursor() const override { return Qt::PointingHandCursor; }
    bool is_same(const Grip& other) const override {
        const auto* o = dynamic_cast<const ThingGrip*>(&other);
        return o && o->thing_ == thing_;
    }
    void begin(const Hand& h) override {
        Held::begin(h);
        if (h.adding) {
            Things now = desk().chosen;
            if (!now.erase(thing_)) now.insert(thing_);
            desk().choose(std::move(now));
        } else if (!desk().chosen.count(thing_)) {
            desk().choose({thing_});
        }
        held_at_ = place_of_hold(h.in_plan);
    }
    void drag(const Hand& from, const Hand& to) override {
        const Things those = movable(desk().chosen);
        if (!those.count(thing_)) return;  // Shift just let go of it
        const Point wanted = held_at_ + (to.in_plan - from.in_plan);
        const Snap s =
            snap(*before_, bench_.camera(), wanted, {.moving = those, .drawn = {}, .from = {}, .free = to.free});
        const Point by = s.at - held_at_;
        note = QString("by %1, %2 · %3").arg(look::number(by.x, 2), look::number(by.y, 2), coordinates(s));
        desk().document()->preview(placed(*before_, those, Placement::moved(by)));
    }
    void drop() override {
        if (!desk().document()->previewing()) return;
        Model next = desk().now();
        desk().apply_sound("Move " + words_of(desk().chosen), std::move(next));
    }

  private:
    // What is snapped: the middle of a column, the nearest corner of other things.
    Point place_of_hold(Point pointer) const {
        if (const Column* c = find_id(before_->columns, thing_.id); c && thing_.kind == ThingKind::column) return c->at;
        Point nearest = pointer;
        double least = 1e300;
        for (Point p : corners_of(*before_, thing_))
            if (const double d = distance(p, pointer); d < least) least = d, nearest = p;
        return nearest;
    }
    Thing thing_;
    Point held_at_;
};

class CornerGrip : public Held<CornerGrip> {
  public:
    using Held::Held;
    QString hint() const override { return "Drag the corner; the pressures follow"; }
    void drag(const Hand& from, const Hand& to) override {
        const Point wanted = ring()[size_t(part_)] + (to.in_plan - from.in_plan);
        const Things corner{{ThingKind::slab_corner, "", part_}};
        const Snap s =
            snap(*before_, bench_.camera(), wanted, {.moving = corner, .drawn = {}, .from = {}, .free = to.free});
        note = coordinates(s);
        desk().document()->preview(placed(*before_, corner, Placement::moved(s.at - ring()[size_t(part_)])));
    }
    void drop() override { desk().document()->commit(QString("Move corner %1").arg(part_ + 1)); }
};

// A corner of an opening, patch, wall, rib or line; of a circle its radius.
class ThingCornerGrip : public Held<ThingCornerGrip> {
  public:
    ThingCornerGrip(ToolBench& bench, Thing thing) : Held(bench, thing.part), thing_(std::move(thing)) {}
    QString hint() const override {
        return thing_.kind == ThingKind::strip ? "Drag the side; the strip along it goes along"
                                               : "Drag the corner; Alt lets go of the snap";
    }
    void drag(const Hand& from, const Hand& to) override {
        const auto corners = corners_of(*before_, thing_);
        if (size_t(part_) >= corners.size()) return;
        const Point wanted = corners[size_t(part_)] + (to.in_plan - from.in_plan);
        const Snap s = snap(*before_, bench_.camera(), wanted,
                            {.moving = {{thing_.kind, thing_.id}}, .drawn = {}, .from = {}, .free = to.free});
        Model m = *before_;
        const std::string why = move_corner(m, thing_, part_, s.at);
        note = coordinates(s);
        if (!why.empty()) return void(note = "not there: " + QString::fromStdString(why));
        desk().document()->preview(std::move(m));
    }
    void drop() override {
        if (!desk().document()->previewing()) return;
        Model next = desk().now();
        const QString what = thing_.kind == ThingKind::strip ? "Move a side of " : "Move a corner of ";
        desk().apply_sound(what + name_of(thing_), std::move(next));
    }

  private:
    Thing thing_;
};

// A rim, or all that are chosen with it. Of round slabs the outer rim is 0, that of the hole 1.
class SideGrip : public Held<SideGrip> {
  public:
    using Held::Held;
    QString hint() const override {
        return "Drag the rim to push it out; click to type by how much; Shift for several";
    }
    void drag(const Hand& from, const Hand& to) override {
        double by = outward(to.in_plan) - outward(from.in_plan);
        if (!to.free) by = std::round(by / 0.05) * 0.05;
        Model m = *before_;
        if (const std::string why = push_rims(m, sides(), by); !why.empty())
            return void(note = "no further: " + QString::fromStdString(why));
        note = QString(by < 0 ? "in by %1" : "out by %1").arg(metres(std::abs(by)));
        desk().document()->preview(std::move(m));
    }
    void drop() override {
        const size_t n = sides().size();
        desk().document()->commit(n > 1 ? QString("Push %1 rims").arg(n) : QString("Push rim %1").arg(part_ + 1));
    }
    void click(const Hand& h) override {
        const Thing side{ThingKind::slab_side, "", part_};
        Things now = h.adding ? desk().chosen : Things{};
        if (!now.erase(side)) now.insert(side);
        desk().choose(std::move(now));
    }
    void draw_hover(QPainter& p) const override {
        p.setPen(QPen(look::faded(look::moss, 150), 4));
        const Model& m = desk().now();
        if (const auto* ring = std::get_if<Polygon>(&m.slab.outline)) {
            p.drawLine(bench_.camera().at((*ring)[size_t(part_)]),
                       bench_.camera().at((*ring)[size_t(part_ + 1) % ring->size()]));
            return;
        }
        p.setBrush(Qt::NoBrush);
        const Rings rings = slab_rings(m, bench_.camera());
        if (size_t(part_) < rings.size()) p.drawPolygon(bench_.camera().on_paper(rings[size_t(part_)]));
    }

  private:
    std::set<int> sides() const {
        std::set<int> all;
        for (const Thing& t : desk().chosen)
            if (t.kind == ThingKind::slab_side) all.insert(t.part);
        return all.count(part_) ? all : std::set<int>{part_};
    }
    double outward(Point p) const {  // m, of the rim in hand
        const Outline& o = before_->slab.outline;
        if (const auto* c = std::get_if<Circle>(&o)) return distance(p, c->centre);
        if (const auto* r = std::get_if<Ring>(&o)) return (part_ == 0 ? 1 : -1) * distance(p, r->centre);
        const Point a = ring()[size_t(part_)], b = ring()[size_t(part_ + 1) % ring().size()];
        return dot(p, (signed_area(ring()) >= 0 ? -1.0 : 1.0) * left_of(unit(b - a)));
    }
};

class CutEndGrip : public Held<CutEndGrip> {
  public:
    CutEndGrip(ToolBench& bench, int end) : Held(bench, end), cut_(bench.desk().cut) {}
    QString hint() const override { return "Drag to turn the cut"; }
    void drag(const Hand& from, const Hand& to) override {
        Point moved = cut_[size_t(part_)] + (to.in_plan - from.in_plan);
        const Point fixed = cut_[size_t(1 - part_)];
        const double scale = bench_.camera().scale;
        note.clear();
        if (!to.free) {  // level or upright when nearly so
            if (std::abs(moved.y - fixed.y) * scale < 8) moved.y = fixed.y, note = "level";
            if (std::abs(moved.x - fixed.x) * scale < 8) moved.x = fixed.x, note = "upright";
        }
        part_ == 0 ? desk().set_cut(moved, fixed) : desk().set_cut(fixed, moved);
    }

  private:
    std::array<Point, 2> cut_;
};

class CutGrip : public Held<CutGrip> {
  public:
    explicit CutGrip(ToolBench& bench) : Held(bench), cut_(bench.desk().cut) {}
    QString hint() const override { return "Drag to move the cut"; }
    void drag(const Hand& from, const Hand& to) override {
        const Point n = left_of(unit(cut_[1] - cut_[0]));
        double off = dot(to.in_plan - from.in_plan, n);
        note.clear();
        if (!to.free)  // onto a column line
            for (const Column& c : before_->columns) {
                const double to_column = dot(c.at - cut_[0], n);
                if (std::abs(to_column - off) * bench_.camera().scale < 6)
                    off = to_column, note = "through " + QString::fromStdString(c.id);
            }
        desk().set_cut(cut_[0] + off * n, cut_[1] + off * n);
    }

  private:
    std::array<Point, 2> cut_;
};

class KeyGrip : public Held<KeyGrip> {  // part: 0 the low end, 1 the high end of the ruler
  public:
    KeyGrip(ToolBench& bench, int end)
        : Held(bench, end), bands_(bench.desk().bands()), width_(bench.key_bar().width()) {}
    QString hint() const override {
        return "Drag to stretch the scale · wheel for the number of bands · double-click for the natural scale";
    }
    QCursor cursor() const override { return Qt::SizeHorCursor; }
    void drag(const Hand& from, const Hand& to) override {
        Bands b = bands_;
        const double by = (to.at - from.at).x() * (b.high - b.low) / std::max(1.0, width_), step = b.step() / 2;
        if (part_ == 1)
            b.high = std::max(b.low + step, std::round((b.high + by) / step) * step);
        else
            b.low = std::min(b.high - step, std::round((b.low + by) / step) * step);
        note = QString("%1 to %2").arg(look::number(b.low, 1), look::number(b.high, 1));
        desk().set_bands(b);
    }

  private:
    Bands bands_;
    double width_;
};

class BandGrip : public Held<BandGrip> {  // nothing under the pointer
  public:
    using Held::Held;
    QString hint() const override { return ""; }
    QCursor cursor() const override { return Qt::ArrowCursor; }
    bool is_nothing() const override { return true; }
    void drag(const Hand& from, const Hand& to) override {
        box_ = QRectF(from.at, to.at).normalized(), adding_ = from.adding;
    }
    void drop() override {
        Box box;
        box.add(bench_.camera().back(box_.topLeft())), box.add(bench_.camera().back(box_.bottomRight()));
        Things in = things_within(desk().now(), box);
        if (adding_) in.insert(desk().chosen.begin(), desk().chosen.end());
        desk().choose(std::move(in));
    }
    // In the ground: the point of the depth chart pinned and let go.
    void click(const Hand& h) override {
        if (desk().stop != Stop::ground) {
            desk().choose({});
            if (desk().stop == Stop::steel) desk().take_strip_at(h.in_plan);
            return;
        }
        std::erase_if(desk().chosen, [](const Thing& t) { return t.kind != ThingKind::borehole; });
        desk().pin = on_slab(desk().now(), h.in_plan) ? std::optional(h.in_plan) : std::nullopt;
        desk().tell(Desk::choice | Desk::view);
    }
    void draw(QPainter& p) const override {
        p.setPen(QPen(look::moss, 1, Qt::DashLine));
        p.setBrush(look::faded(look::moss, 24));
        p.drawRect(box_);
    }

  private:
    QRectF box_;
    bool adding_ = false;
};

std::unique_ptr<Grip> grip_of(ToolBench& bench, const Thing& t) {
    switch (t.kind) {
        case ThingKind::slab_corner:
            return std::make_unique<CornerGrip>(bench, t.part);
        case ThingKind::slab_side:
            return std::make_unique<SideGrip>(bench, t.part);
        case ThingKind::cut:
            if (t.part < 0) return std::make_unique<CutGrip>(bench);
            return std::make_unique<CutEndGrip>(bench, t.part);
        default:
            if (t.part >= 0) return std::make_unique<ThingCornerGrip>(bench, t);
            return std::make_unique<ThingGrip>(bench, t);
    }
}

}  // namespace

Things movable(Things chosen) {
    std::erase_if(chosen, [](const Thing& t) { return t.kind == ThingKind::borehole; });
    return chosen;
}

std::unique_ptr<Grip> grip_at(ToolBench& bench, QPointF p) {
    if (const QRectF key = bench.key_bar(); !key.isEmpty()) {
        if (near(p, {key.left(), key.center().y()}, 9)) return std::make_unique<KeyGrip>(bench, 0);
        if (near(p, {key.right(), key.center().y()}, 9)) return std::make_unique<KeyGrip>(bench, 1);
    }
    const std::vector<Thing> things = bench.under(p);
    if (things.empty()) return std::make_unique<BandGrip>(bench);
    return grip_of(bench, things.front());
}

}  // namespace mossbed
