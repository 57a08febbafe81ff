#include "app/plan_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>

#include "app/field.h"
#include "core/model/edit.h"

namespace mossbed {
namespace {
double to_segment(QPointF p, QPointF a, QPointF b) {
    return distance_to_segment({p.x(), p.y()}, {a.x(), a.y()}, {b.x(), b.y()});
}
QString metres(double v) { return look::number(v, 2) + " m"; }
}  // namespace

PlanView::PlanView(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("plan");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(300, 200);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & Desk::answers && desk_->answer() != found_for_) {
            found_for_ = desk_->answer();
            finder_.reset();
        }
        if (what & ~(Desk::state | Desk::pointer)) update();
    });
    connect(desk, &Desk::flew, this, [this] {
        if (!desk_->flag) return;
        // Brought into view, not thrown about: only when it is off the sheet or the sheet is far away.
        const QPointF at = camera_.at(*desk_->flag);
        if (!QRectF(rect()).adjusted(60, 60, -60, -60).contains(at))
            camera_.origin += QPointF(width() / 2.0, height() / 2.0) - at;
        update();
    });
    connect(desk->document(), &Document::renamed, this, [this] { update(); });
}

void PlanView::show_all() {
    const auto* ring = std::get_if<Polygon>(&desk_->now().slab.outline);
    Box b;
    if (ring && ring->size() < 3)
        b.add({-2, -2}), b.add({22, 14});
    else
        b = box_of(outer_rim(desk_->now().slab.outline, 0.5));
    for (const Column& c : desk_->now().columns) b.add(c.at);
    camera_.show(b, QRectF(rect()).adjusted(74, 40, -44, -34));
    fitted_ = true;
    update();
}

void PlanView::take(Tool t) {
    tool_ = t;
    drawing_.clear();
    typed_.clear();
    note_.clear();
    setCursor(t == Tool::choose ? Qt::ArrowCursor : Qt::CrossCursor);
    Q_EMIT tool_changed();
    Q_EMIT hint_changed();
    update();
}

PlanScene PlanView::scene() const {
    PlanScene s;
    s.model = &desk_->now();
    s.answer = desk_->answer().get();
    s.combination = desk_->combination();
    s.quantity = desk_->quantity;
    s.map = &desk_->map();
    s.settlement = &desk_->lifted_map();
    s.bands = desk_->bands();
    s.chosen = desk_->chosen;
    s.chosen_rim = desk_->chosen_rim;
    s.handles = tool_ == Tool::choose &&
                (desk_->stop == Stop::slab || desk_->stop == Stop::contact || desk_->stop == Stop::ground);
    s.boreholes = desk_->stop == Stop::ground;
    s.borehole = desk_->borehole;
    if (s.boreholes) s.pin = desk_->pin;
    if (desk_->taking)
        for (const ReportHole& h : desk_->taking->report.holes)
            if (h.at && !h.layers.empty())
                s.coming.push_back({h.id, turned(*h.at - desk_->taking->placing.origin, -desk_->taking->placing.turn)});
    s.uses = desk_->stop == Stop::shear;
    s.strips = desk_->stop == Stop::steel;
    s.load_case = desk_->stop == Stop::loads ? desk_->load_case : "";
    s.cut = desk_->cut;
    s.hair = desk_->hair;
    s.flag = desk_->flag;
    s.flag_text = desk_->flag_text;
    s.stale = !desk_->in_step();
    s.invite = tool_ != Tool::draw_slab;
    // Contact shows where it presses most, unless the engineer flew somewhere else.
    if (!s.flag && desk_->stop == Stop::contact && s.quantity == Quantity::pressure && s.combination && s.map &&
        !s.map->corner.empty()) {
        s.flag = s.map->most_at;
        s.flag_text = look::quantity(s.map->most, "kPa") + " kPa max";
        if (const CombinationAnswer* c = desk_->combination(); c && c->yield_ratio > 0)
            s.flag_text += QString(" · %1 yields").arg(QString::fromStdString(share_in_words(c->yield_ratio)));
    }
    return s;
}

void PlanView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const PlanScene s = scene();
    draw_plan(p, s, camera_, rect());
    key_ = draw_plan_key(p, s, camera_, rect());
    draw_preview(p);
}

void PlanView::tag(QPainter& p, QPointF at, const QString& text) {
    if (text.isEmpty()) return;
    p.setFont(look::font(look::Size::small));
    QRectF box(at.x() + 14, at.y() + 12, QFontMetricsF(p.font()).horizontalAdvance(text) + 12, 18);
    if (box.right() > width() - 4) box.moveRight(at.x() - 12);
    p.setPen(QPen(look::line, 1));
    p.setBrush(look::white);
    p.drawRoundedRect(box, 3, 3);
    p.setPen(look::ink);
    p.drawText(box, Qt::AlignCenter, text);
}

void PlanView::draw_preview(QPainter& p) {
    p.setRenderHint(QPainter::Antialiasing);
    if (tool_ == Tool::draw_slab) {
        const Point here = desk_->pointer_at ? snap(*desk_->pointer_at, true).at : Point{};
        QPolygonF q = on_paper(camera_, drawing_);
        p.setPen(QPen(look::moss, 2));
        p.drawPolyline(q);
        if (!drawing_.empty()) {
            p.setPen(QPen(look::moss, 1.4, Qt::DashLine));
            p.drawLine(q.last(), camera_.at(here));
            p.setBrush(look::sheet);
            p.setPen(QPen(look::moss, 1.6));
            for (QPointF c : q) p.drawRect(QRectF(c - QPointF(3.5, 3.5), QSizeF(7, 7)));
        }
        if (underMouse() || !typed_.isEmpty()) tag(p, mouse_, typed_.isEmpty() ? note_ : typed_ + "▏");
        return;
    }
    if (grip_.hold == Hold::band && moved_) {
        p.setPen(QPen(look::moss, 1, Qt::DashLine));
        p.setBrush(QColor(0x4F, 0x6B, 0x3A, 24));
        p.drawRect(QRectF(pressed_, mouse_).normalized());
    }
    if (tool_ == Tool::add_column && underMouse()) {
        Column c;
        c.at = desk_->pointer_at ? snap(*desk_->pointer_at, true).at : Point{};
        p.setPen(QPen(look::moss, 1.4));
        p.setBrush(QColor(0x4F, 0x6B, 0x3A, 60));
        p.drawPolygon(on_paper(camera_, footprint(c)));
    }
    if (grip_.hold == Hold::nothing && tool_ == Tool::choose) {
        const auto* ring = std::get_if<Polygon>(&desk_->now().slab.outline);
        if (hover_.hold == Hold::rim && ring) {
            p.setPen(QPen(QColor(0x4F, 0x6B, 0x3A, 150), 4));
            p.drawLine(camera_.at((*ring)[hover_.index]), camera_.at((*ring)[(hover_.index + 1) % int(ring->size())]));
        }
        // The reading beside the pointer.
        const QString r = reading();
        if (underMouse() && !r.isEmpty() && hover_.hold == Hold::nothing) tag(p, mouse_, r);
        return;
    }
    if (underMouse() || grip_.hold != Hold::nothing) tag(p, mouse_, note_);
}

QString PlanView::reading() const {
    if (!desk_->pointer_at || !desk_->answer() || desk_->map().corner.empty()) return "";
    if (!finder_) finder_ = std::make_unique<Finder>(desk_->answer()->mesh);
    const Finder::Hit h = finder_->at(*desk_->pointer_at);
    if (h.element < 0) return "";
    auto at = [&](const FieldMap& m) {
        double v = 0;
        for (int k = 0; k < corners(desk_->answer()->mesh.elements[h.element]); ++k)
            v += h.weight[k] * m.corner[h.element][k];
        return v;
    };
    const double s = at(desk_->settlement_map());
    QString text = desk_->quantity == Quantity::settlement
                       ? ""
                       : look::with_unit(at(desk_->map()), QString::fromUtf8(info(desk_->quantity).unit)) + " · ";
    return text + (s < 0 ? "lifts " + look::with_unit(-s, "mm") : "settles " + look::with_unit(s, "mm"));
}

QString PlanView::hint() const {
    switch (tool_) {
        case Tool::draw_slab:
            return drawing_.empty() ? "Click the first corner · type “x, y” · Esc leaves"
                                    : "Click the next corner · type a length or “x, y” and Enter · click the first "
                                      "corner or press Enter to close";
        case Tool::add_column:
            return "Click where the column stands · Esc leaves";
        case Tool::choose:
            break;
    }
    switch (hover_.hold) {
        case Hold::corner:
            return "Drag the corner; the pressures follow";
        case Hold::rim:
            return "Drag the rim to push it out; click to type by how much";
        case Hold::columns:
            return "Click to take the column in hand, drag to move it";
        case Hold::cut_a:
        case Hold::cut_b:
            return "Drag to turn the cut";
        case Hold::cut_all:
            return "Drag to move the cut";
        case Hold::key_low:
        case Hold::key_high:
            return "Drag to stretch the scale · wheel for the number of bands · double-click for the natural scale";
        default:
            break;
    }
    const auto* ring = std::get_if<Polygon>(&desk_->now().slab.outline);
    if (ring && ring->size() < 3) return "Begin at the right, or press Ctrl+2 and draw the slab";
    if (desk_->stop == Stop::ground && !desk_->now().ground.boreholes.empty())
        return "Click pins the depth chart · drag squares in the Cut";
    return "Drag a rim to push it out · click a column to take it in hand";
}

std::string PlanView::column_at(QPointF p) const {
    std::string best;
    double d = 1e300;
    for (const Column& c : desk_->now().columns) {
        const QRectF box = on_paper(camera_, footprint(c)).boundingRect().adjusted(-4, -4, 4, 4);
        const QPointF v = camera_.at(c.at) - p;
        if (box.contains(p) && std::hypot(v.x(), v.y()) < d) d = std::hypot(v.x(), v.y()), best = c.id;
    }
    return best;
}

PlanView::Grip PlanView::grip_at(QPointF p) const {
    auto near = [&](QPointF q, double r) { return std::hypot((p - q).x(), (p - q).y()) < r; };
    if (!key_.isEmpty()) {
        if (near({key_.left(), key_.center().y()}, 9)) return {Hold::key_low, 0};
        if (near({key_.right(), key_.center().y()}, 9)) return {Hold::key_high, 0};
    }
    const auto* ring = std::get_if<Polygon>(&desk_->now().slab.outline);
    const bool slab = !(ring && ring->size() < 3);
    const bool handles = scene().handles;
    if (ring && handles)
        for (int i = 0; i < int(ring->size()); ++i)
            if (near(camera_.at((*ring)[i]), 7)) return {Hold::corner, i};
    if (slab) {
        if (near(camera_.at(desk_->cut[0]), 10)) return {Hold::cut_a, 0};
        if (near(camera_.at(desk_->cut[1]), 10)) return {Hold::cut_b, 0};
    }
    if (!column_at(p).empty()) return {Hold::columns, 0};
    if (ring && slab && handles)
        for (int i = 0; i < int(ring->size()); ++i)
            if (to_segment(p, camera_.at((*ring)[i]), camera_.at((*ring)[(i + 1) % int(ring->size())])) < 6)
                return {Hold::rim, i};
    if (slab && to_segment(p, camera_.at(desk_->cut[0]), camera_.at(desk_->cut[1])) < 5) return {Hold::cut_all, 0};
    return {};
}

// To columns, corners and the lines through them, else to a decimetre; what it snapped to comes back as a word.
PlanView::Snap PlanView::snap(Point p, bool to_columns) const {
    const double reach = 7 / camera_.scale;
    const double grid = camera_.scale > 60 ? 0.05 : 0.1;
    Snap s{{std::round(p.x / grid) * grid, std::round(p.y / grid) * grid}, ""};
    double dx = reach, dy = reach;
    QString nx, ny;
    auto offer = [&](Point q, const QString& name) {
        if (std::abs(q.x - p.x) < dx) dx = std::abs(q.x - p.x), s.at.x = q.x, nx = name;
        if (std::abs(q.y - p.y) < dy) dy = std::abs(q.y - p.y), s.at.y = q.y, ny = name;
    };
    if (const auto* ring = std::get_if<Polygon>(&before_.slab.outline))
        for (size_t i = 0; i < ring->size(); ++i)
            if (grip_.hold != Hold::corner || int(i) != grip_.index) offer((*ring)[i], QString("corner %1").arg(i + 1));
    for (size_t i = 0; i < drawing_.size(); ++i) offer(drawing_[i], QString("corner %1").arg(i + 1));
    if (to_columns)
        for (const Column& c : before_.columns)
            if (grip_.hold != Hold::columns || !desk_->chosen.count(c.id)) offer(c.at, QString::fromStdString(c.id));
    if (!nx.isEmpty() && nx == ny)
        s.note = "on " + nx;
    else if (!nx.isEmpty() || !ny.isEmpty())
        s.note = (nx.isEmpty() ? "" : "in line with " + nx) + (!nx.isEmpty() && !ny.isEmpty() ? ", " : "") +
                 (ny.isEmpty() ? "" : "level with " + ny);
    return s;
}

void PlanView::mousePressEvent(QMouseEvent* e) {
    setFocus();
    pressed_ = mouse_ = e->position();
    moved_ = false;
    before_ = desk_->now();
    camera_before_ = camera_;
    desk_->pointer_at = in_plan(mouse_);
    if (e->button() == Qt::RightButton || e->button() == Qt::MiddleButton) {
        grip_ = {Hold::pan, 0};
        return;
    }
    if (e->button() != Qt::LeftButton) return;
    if (tool_ == Tool::draw_slab) return place_corner(snap(in_plan(mouse_), true).at);
    if (tool_ == Tool::add_column) return place_column(snap(in_plan(mouse_), true).at);
    grip_ = grip_at(mouse_);
    cut_before_[0] = desk_->cut[0], cut_before_[1] = desk_->cut[1];
    bands_before_ = desk_->bands();
    if (grip_.hold == Hold::columns) {
        const std::string id = column_at(mouse_);
        std::set<std::string> chosen = desk_->chosen;
        if (e->modifiers() & Qt::ShiftModifier) {
            if (!chosen.erase(id)) chosen.insert(id);
        } else if (!chosen.count(id)) {
            chosen = {id};
        }
        desk_->choose(chosen);
    } else if (grip_.hold == Hold::nothing) {
        grip_.hold = Hold::band;
    }
}

void PlanView::mouseMoveEvent(QMouseEvent* e) {
    mouse_ = e->position();
    desk_->pointer_at = in_plan(mouse_);
    if (grip_.hold == Hold::nothing) {
        before_ = desk_->now();
        const Grip h = tool_ == Tool::choose ? grip_at(mouse_) : Grip{};
        if (h.hold != hover_.hold || h.index != hover_.index) {
            hover_ = h;
            if (tool_ == Tool::choose)
                setCursor(h.hold == Hold::nothing                               ? Qt::ArrowCursor
                          : h.hold == Hold::columns                             ? Qt::PointingHandCursor
                          : h.hold == Hold::key_low || h.hold == Hold::key_high ? Qt::SizeHorCursor
                                                                                : Qt::OpenHandCursor);
            Q_EMIT hint_changed();
        }
        const Point u = unit(desk_->cut[1] - desk_->cut[0]);
        const double t = dot(*desk_->pointer_at - desk_->cut[0], u);
        desk_->hair = t >= 0 && t <= distance(desk_->cut[0], desk_->cut[1]) ? std::optional(t) : std::nullopt;
        if (tool_ != Tool::choose) {
            const Snap s = snap(*desk_->pointer_at, true);
            note_ = QString("%1, %2").arg(look::number(s.at.x, 2), look::number(s.at.y, 2));
            if (!drawing_.empty()) note_ = metres(distance(drawing_.back(), s.at)) + " · " + note_;
            if (!s.note.isEmpty()) note_ += " · " + s.note;
        }
        desk_->tell(Desk::pointer);
        return update();
    }
    if (std::hypot((mouse_ - pressed_).x(), (mouse_ - pressed_).y()) > 3) moved_ = true;
    if (moved_) drag(mouse_, e->modifiers() & Qt::AltModifier);
    desk_->tell(Desk::pointer);
    update();
}

void PlanView::drag(QPointF to, bool free) {
    const Point from_plan = camera_before_.back(pressed_), to_plan = camera_before_.back(to), d = to_plan - from_plan;
    switch (grip_.hold) {
        case Hold::pan:
            camera_.origin = camera_before_.origin + (to - pressed_);
            break;
        case Hold::columns: {
            Model m = before_;
            const Column* first = desk_->chosen.empty() ? nullptr : find_id(before_.columns, *desk_->chosen.begin());
            if (!first) break;
            const Snap s = free ? Snap{first->at + d, ""} : snap(first->at + d, true);
            const Point by = s.at - first->at;
            for (Column& c : m.columns)
                if (desk_->chosen.count(c.id)) c.at = c.at + by;
            note_ = QString("%1, %2").arg(look::number(s.at.x, 2), look::number(s.at.y, 2)) +
                    (s.note.isEmpty() ? "" : " · " + s.note);
            desk_->document()->preview(std::move(m));
            break;
        }
        case Hold::corner: {
            Model m = before_;
            auto& ring = std::get<Polygon>(m.slab.outline);
            const Snap s = free ? Snap{ring[grip_.index] + d, ""} : snap(ring[grip_.index] + d, true);
            ring[grip_.index] = s.at;
            note_ = QString("%1, %2").arg(look::number(s.at.x, 2), look::number(s.at.y, 2)) +
                    (s.note.isEmpty() ? "" : " · " + s.note);
            desk_->document()->preview(std::move(m));
            break;
        }
        case Hold::rim: {
            Model m = before_;
            auto& ring = std::get<Polygon>(m.slab.outline);
            const int n = int(ring.size());
            const Point a = ring[grip_.index], b = ring[(grip_.index + 1) % n];
            const Point out = (signed_area(ring) >= 0 ? -1.0 : 1.0) * left_of(unit(b - a));
            double by = dot(d, out);
            if (!free) by = std::round(by / 0.05) * 0.05;
            ring = push_rim(ring, grip_.index, by);
            note_ = QString(by < 0 ? "in by %1" : "out by %1").arg(metres(std::abs(by)));
            desk_->document()->preview(std::move(m));
            break;
        }
        case Hold::cut_a:
        case Hold::cut_b: {
            Point moved = (grip_.hold == Hold::cut_a ? cut_before_[0] : cut_before_[1]) + d;
            const Point fixed = grip_.hold == Hold::cut_a ? cut_before_[1] : cut_before_[0];
            note_.clear();
            if (!free) {  // level or upright when nearly so
                if (std::abs(moved.y - fixed.y) * camera_.scale < 8) moved.y = fixed.y, note_ = "level";
                if (std::abs(moved.x - fixed.x) * camera_.scale < 8) moved.x = fixed.x, note_ = "upright";
            }
            if (grip_.hold == Hold::cut_a)
                desk_->set_cut(moved, fixed);
            else
                desk_->set_cut(fixed, moved);
            break;
        }
        case Hold::cut_all: {
            const Point n = left_of(unit(cut_before_[1] - cut_before_[0]));
            double off = dot(d, n);
            note_.clear();
            if (!free)  // onto a column line
                for (const Column& c : before_.columns) {
                    const double to_column = dot(c.at - cut_before_[0], n);
                    if (std::abs(to_column - off) * camera_.scale < 6)
                        off = to_column, note_ = "through " + QString::fromStdString(c.id);
                }
            desk_->set_cut(cut_before_[0] + off * n, cut_before_[1] + off * n);
            break;
        }
        case Hold::key_low:
        case Hold::key_high: {
            Bands b = bands_before_;
            const double per_pixel = (b.high - b.low) / std::max(1.0, key_.width()),
                         by = (to - pressed_).x() * per_pixel;
            const double step = b.step() / 2;
            if (grip_.hold == Hold::key_high)
                b.high = std::max(b.low + step, std::round((b.high + by) / step) * step);
            else
                b.low = std::min(b.high - step, std::round((b.low + by) / step) * step);
            note_ = QString("%1 to %2").arg(look::number(b.low, 1), look::number(b.high, 1));
            desk_->set_bands(b);
            break;
        }
        default:
            break;
    }
}

void PlanView::finish_drag() {
    auto ids = [&] {
        QStringList l;
        for (auto& id : desk_->chosen) l << QString::fromStdString(id);
        return l.size() > 3 ? QString("%1 columns").arg(l.size())
                            : (l.size() > 1 ? "columns " : "column ") + l.join(", ");
    };
    switch (grip_.hold) {
        case Hold::columns:
            desk_->document()->commit("Move " + ids());
            break;
        case Hold::corner:
            desk_->document()->commit(QString("Move corner %1").arg(grip_.index + 1));
            break;
        case Hold::rim:
            desk_->document()->commit(QString("Push rim %1").arg(grip_.index + 1));
            break;
        case Hold::band: {
            const QRectF band = QRectF(pressed_, mouse_).normalized();
            std::set<std::string> in;
            for (const Column& c : desk_->now().columns)
                if (band.contains(camera_.at(c.at))) in.insert(c.id);
            desk_->choose(in);
            break;
        }
        default:
            break;
    }
}

// A borehole taken in hand, or the point of the depth chart pinned and let go.
void PlanView::click_on_ground() {
    const Point at = in_plan(mouse_);
    desk_->choose({});
    for (size_t k = 0; k < desk_->now().ground.boreholes.size(); ++k)
        if (QLineF(camera_.at(desk_->now().ground.boreholes[k].at), mouse_).length() < 12) {
            desk_->borehole = int(k);
            return desk_->tell(Desk::choice | Desk::view);
        }
    desk_->pin = on_slab(desk_->now(), at) ? std::optional(at) : std::nullopt;
    desk_->tell(Desk::choice | Desk::view);
}

void PlanView::mouseReleaseEvent(QMouseEvent* e) {
    mouse_ = e->position();
    if (moved_)
        finish_drag();
    else if (desk_->stop == Stop::ground && grip_.hold == Hold::band)
        click_on_ground();
    else if (grip_.hold == Hold::rim)
        desk_->choose({}, grip_.index);
    else if (grip_.hold == Hold::band)
        desk_->choose({});
    grip_ = {};
    note_.clear();
    moved_ = false;
    update();
}

void PlanView::mouseDoubleClickEvent(QMouseEvent* e) {
    if (tool_ == Tool::draw_slab) return close_outline();
    if (key_.adjusted(-10, -6, 10, 20).contains(e->position())) return desk_->set_bands(std::nullopt);
    mousePressEvent(e);
}

void PlanView::wheelEvent(QWheelEvent* e) {
    const double turns = e->angleDelta().y() / 120.0;
    if (key_.adjusted(-10, -8, 10, 20).contains(e->position())) {
        Bands b = desk_->bands();
        b.n = std::clamp(b.n + (turns > 0 ? 1 : -1), 2, 24);
        return desk_->set_bands(b);
    }
    const double f = std::pow(1.2, turns), scale = std::clamp(camera_.scale * f, 1.0, 2000.0);
    const QPointF at = e->position();
    camera_.origin = at + (scale / camera_.scale) * (camera_.origin - at);
    camera_.scale = scale;
    update();
}

void PlanView::keyPressEvent(QKeyEvent* e) {
    if (tool_ == Tool::draw_slab) {
        const QString t = e->text();
        if (!t.isEmpty() && QString("0123456789.,-").contains(t)) {
            typed_ += t;
            return update();
        }
        if (e->key() == Qt::Key_Space && !typed_.isEmpty()) return;
        if (e->key() == Qt::Key_Backspace) {
            if (!typed_.isEmpty())
                typed_.chop(1);
            else if (!drawing_.empty())
                drawing_.pop_back();
            return update();
        }
        if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) {
            if (typed_.isEmpty()) return close_outline();
            const QStringList parts = typed_.split(',');
            typed_.clear();
            if (parts.size() == 2) return place_corner({parts[0].toDouble(), parts[1].toDouble()});
            const auto l = read_number(parts[0], Dimension::length);
            if (l && !drawing_.empty() && desk_->pointer_at) {  // that far towards the pointer
                const Point to = snap(*desk_->pointer_at, true).at;
                return place_corner(drawing_.back() + *l * unit(to - drawing_.back()));
            }
            return update();
        }
    }
    if (e->key() == Qt::Key_Escape) {
        if (grip_.hold != Hold::nothing) {
            desk_->document()->cancel_preview();
            grip_ = {};
            note_.clear();
        } else if (tool_ != Tool::choose) {
            take(Tool::choose);
        } else {
            desk_->flag.reset();
            desk_->choose({});
        }
        return update();
    }
    if (e->key() == Qt::Key_Delete) return delete_chosen();
    QWidget::keyPressEvent(e);
}

void PlanView::delete_chosen() {
    if (desk_->chosen.empty()) return;
    const std::vector<std::string> ids(desk_->chosen.begin(), desk_->chosen.end());
    desk_->document()->apply(ids.size() == 1 ? "Delete column " + QString::fromStdString(ids[0])
                                             : QString("Delete %1 columns").arg(ids.size()),
                             without_columns(desk_->now(), ids));
}

void PlanView::place_corner(Point p) {
    typed_.clear();
    if (drawing_.size() >= 3 &&
        std::hypot((camera_.at(p) - camera_.at(drawing_[0])).x(), (camera_.at(p) - camera_.at(drawing_[0])).y()) < 9)
        return close_outline();
    if (!drawing_.empty() && distance(drawing_.back(), p) < 1e-6) return;
    drawing_.push_back(p);
    Q_EMIT hint_changed();
    update();
}

void PlanView::close_outline() {
    Polygon ring = without_repeats(drawing_, 1e-6);
    if (ring.size() < 3) {
        desk_->say("An outline needs three corners at least.", true);
        return;
    }
    if (auto c = self_crossing(ring)) {
        desk_->say(QString("Side %1 would cross side %2; take back a corner with Backspace.")
                       .arg(c->first + 1)
                       .arg(c->second + 1),
                   true);
        return;
    }
    Model m = desk_->now();
    m.slab.outline = anticlockwise(ring);
    take(Tool::choose);
    desk_->document()->apply("Draw the slab", std::move(m));
}

void PlanView::place_column(Point p) {
    Model m = desk_->now();
    std::vector<std::string> taken;
    for (const Column& c : m.columns) taken.push_back(c.id);
    Column c;
    if (!m.columns.empty()) c.shape = m.columns.back().shape, c.size = m.columns.back().size;
    c.id = fresh_id("C", taken);
    c.at = p;
    if (!on_slab(m, p)) {
        desk_->say("That place is off the slab; a column needs ground to stand on.", true);
        return;
    }
    const QString name = "Add column " + QString::fromStdString(c.id);
    const std::string id = c.id;
    m.columns.push_back(std::move(c));
    desk_->document()->apply(name, std::move(m));
    desk_->choose({id});
}

void PlanView::leaveEvent(QEvent*) {
    desk_->pointer_at.reset();
    desk_->hair.reset();
    desk_->tell(Desk::pointer);
    update();
}

void PlanView::resizeEvent(QResizeEvent* e) {
    if (!fitted_ || !e->oldSize().isValid()) return show_all();
    camera_.origin += QPointF(e->size().width() - e->oldSize().width(), e->size().height() - e->oldSize().height()) /
                      2;  // what was in the middle stays there
}

}  // namespace mossbed
