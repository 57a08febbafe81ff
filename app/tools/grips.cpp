#include "app/tools/grips.h"

#include "core/model/edit.h"

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

class ColumnsGrip : public Held<ColumnsGrip> {
  public:
    ColumnsGrip(ToolBench& bench, std::string id) : Held(bench), id_(std::move(id)) {}
    QString hint() const override { return "Click to take the column in hand, drag to move it"; }
    QCursor cursor() const override { return Qt::PointingHandCursor; }
    void begin(const Hand& h) override {
        Held::begin(h);
        const Thing here{ThingKind::column, id_};
        Things chosen = desk().chosen;
        std::erase_if(chosen, [](const Thing& t) { return t.kind != ThingKind::column; });
        if (h.adding) {
            if (!chosen.erase(here)) chosen.insert(here);
        } else if (!chosen.count(here)) {
            chosen = {here};
        }
        desk().choose(chosen);
    }
    void drag(const Hand& from, const Hand& to) override {
        const std::set<std::string> ids = ids_of(desk().chosen, ThingKind::column);
        const Column* first = ids.empty() ? nullptr : find_id(before_->columns, *ids.begin());
        if (!first) return;
        const Point wanted = first->at + (to.in_plan - from.in_plan);
        const Snap s = to.free ? Snap{wanted, ""} : snap_to(*before_, bench_.camera(), wanted, desk().chosen);
        Model m = *before_;
        for (Column& c : m.columns)
            if (ids.count(c.id)) c.at = c.at + (s.at - first->at);
        note = coordinates(s);
        desk().document()->preview(std::move(m));
    }
    void drop() override {
        QStringList l;
        for (const std::string& id : ids_of(desk().chosen, ThingKind::column)) l << QString::fromStdString(id);
        desk().document()->commit("Move " + (l.size() > 3 ? QString("%1 columns").arg(l.size())
                                                          : (l.size() > 1 ? "columns " : "column ") + l.join(", ")));
    }

  private:
    std::string id_;
};

class CornerGrip : public Held<CornerGrip> {
  public:
    using Held::Held;
    QString hint() const override { return "Drag the corner; the pressures follow"; }
    void drag(const Hand& from, const Hand& to) override {
        const Point wanted = ring()[size_t(part_)] + (to.in_plan - from.in_plan);
        const Snap s = to.free ? Snap{wanted, ""}
                               : snap_to(*before_, bench_.camera(), wanted, {{ThingKind::slab_corner, "", part_}});
        Model m = *before_;
        std::get<Polygon>(m.slab.outline)[size_t(part_)] = s.at;
        note = coordinates(s);
        desk().document()->preview(std::move(m));
    }
    void drop() override { desk().document()->commit(QString("Move corner %1").arg(part_ + 1)); }
};

class SideGrip : public Held<SideGrip> {
  public:
    using Held::Held;
    QString hint() const override { return "Drag the rim to push it out; click to type by how much"; }
    void drag(const Hand& from, const Hand& to) override {
        const Point a = ring()[size_t(part_)], b = ring()[size_t(part_ + 1) % ring().size()];
        const Point out = (signed_area(ring()) >= 0 ? -1.0 : 1.0) * left_of(unit(b - a));
        double by = dot(to.in_plan - from.in_plan, out);
        if (!to.free) by = std::round(by / 0.05) * 0.05;
        Model m = *before_;
        m.slab.outline = push_rim(ring(), part_, by);
        note = QString(by < 0 ? "in by %1" : "out by %1").arg(metres(std::abs(by)));
        desk().document()->preview(std::move(m));
    }
    void drop() override { desk().document()->commit(QString("Push rim %1").arg(part_ + 1)); }
    void click(const Hand&) override { desk().choose({{ThingKind::slab_side, "", part_}}); }
    void draw_hover(QPainter& p) const override {
        p.setPen(QPen(look::faded(look::moss, 150), 4));
        p.drawLine(bench_.camera().at(ring()[size_t(part_)]),
                   bench_.camera().at(ring()[size_t(part_ + 1) % ring().size()]));
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
    void drag(const Hand& from, const Hand& to) override { box_ = QRectF(from.at, to.at).normalized(); }
    void drop() override {
        Things in;
        for (const Column& c : desk().now().columns)
            if (box_.contains(bench_.camera().at(c.at))) in.insert({ThingKind::column, c.id});
        desk().choose(in);
    }
    // In the ground: the point of the depth chart pinned and let go.
    void click(const Hand& h) override {
        if (desk().stop != Stop::ground) return desk().choose({});
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
};

// What a click takes in hand and a drag leaves where it is: walls, ribs, patches, openings, boreholes.
class ThingGrip : public Held<ThingGrip> {
  public:
    ThingGrip(ToolBench& bench, Thing thing) : Held(bench), thing_(std::move(thing)), band_(bench) {}
    QString hint() const override { return "Click to take " + QString::fromStdString(thing_.id) + " in hand"; }
    QCursor cursor() const override { return Qt::PointingHandCursor; }
    bool is_same(const Grip& other) const override {
        const auto* o = dynamic_cast<const ThingGrip*>(&other);
        return o && o->thing_ == thing_;
    }
    void begin(const Hand& h) override { adding_ = h.adding; }
    void drag(const Hand& from, const Hand& to) override { band_.drag(from, to); }
    void drop() override { band_.drop(); }
    void draw(QPainter& p) const override { band_.draw(p); }
    void click(const Hand&) override {
        Things now = adding_ ? desk().chosen : Things{};
        if (!now.erase(thing_)) now.insert(thing_);
        desk().choose(std::move(now));
    }

  private:
    Thing thing_;
    BandGrip band_;
    bool adding_ = false;
};

std::unique_ptr<Grip> grip_of(ToolBench& bench, const Thing& t) {
    switch (t.kind) {
        case ThingKind::slab_corner:
            return std::make_unique<CornerGrip>(bench, t.part);
        case ThingKind::slab_side:
            return std::make_unique<SideGrip>(bench, t.part);
        case ThingKind::column:
            return std::make_unique<ColumnsGrip>(bench, t.id);
        case ThingKind::cut:
            if (t.part < 0) return std::make_unique<CutGrip>(bench);
            return std::make_unique<CutEndGrip>(bench, t.part);
        default:
            return std::make_unique<ThingGrip>(bench, t);
    }
}

}  // namespace

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
