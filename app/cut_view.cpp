#include "app/cut_view.h"

#include <QMouseEvent>
#include <QPainter>

#include "draw/render.h"

namespace mossbed {

CutView::CutView(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("cut");
    setMouseTracking(true);
    setMinimumHeight(120);
    connect(desk, &Desk::changed, this, [this](int what) {
        if ((what & ~(Desk::state)) || desk_->is_old() != was_old_) update();
    });
    connect(desk->document(), &Document::let_go, this, [this] { grip_.reset(); });
}

CutScene CutView::scene() {
    CutScene s;
    s.model = &desk_->now();
    s.line = desk_->cut;
    along_ = desk_->combination() ? along_line(*desk_->answer(), *desk_->combination(), desk_->cut) : AlongLine{};
    s.along = &along_;
    if (desk_->envelope() && desk_->answer()) {
        envelope_ = envelope_along(*desk_->answer(), desk_->envelope()->purpose, desk_->cut);
        s.along = &envelope_.largest, s.least = &envelope_.smallest;
    }
    s.profile = desk_->profile();
    if (desk_->answer() && desk_->answer()->ground) s.limit = desk_->answer()->ground->layers->limit().level;
    const Shown& on = shown();
    s.pressure = on.pressure, s.settlement = on.settlement, s.ground = on.ground;
    s.moment = on.moment || on.shear || on.force;
    s.member_curve = on.shear ? MemberCurve::shear : on.force ? MemberCurve::force : MemberCurve::moment;
    if (desk_->answer() && desk_->combination()) {
        s.members = &desk_->answer()->members;
        s.combinations = desk_->envelope()
                             ? combinations_for(*desk_->answer(), desk_->envelope()->purpose)
                             : std::vector{int(desk_->combination() - desk_->answer()->combinations.data())};
    }
    s.punched = desk_->punching();
    s.wide = desk_->stop == Stop::ground;
    s.hair = desk_->hair;
    s.stale = desk_->is_old();
    return s;
}

void CutView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), look::sheet);
    was_old_ = desk_->is_old();
    drawn_ = cut_drawing(scene(), from_qt(QRectF(rect())));
    paint_drawing(p, drawn_.drawing, drawn_.frame.view, rect());
    p.setPen(look::line);
    p.drawLine(0, 0, width(), 0);
    if (const QString now = head(); now != told_) {
        told_ = now;
        QMetaObject::invokeMethod(this, &CutView::head_changed, Qt::QueuedConnection);
    }
}

QString CutView::head() const {
    const Point d = desk_->cut[1] - desk_->cut[0];
    QString text;
    if (std::abs(d.y) < 1e-6)
        text = QString("along x at y %1 m").arg(look::number(desk_->cut[0].y, 2));
    else if (std::abs(d.x) < 1e-6)
        text = QString("along y at x %1 m").arg(look::number(desk_->cut[0].x, 2));
    else
        text = QString("turned %1°").arg(look::number(std::atan2(d.y, d.x) * 180 / M_PI, 0));
    if (drawn_.settlement_factor > 0)
        text += QString(" · settlement ×%1").arg(look::number(drawn_.settlement_factor, 0));
    if (desk_->profile())
        text += QString(" · depth ×%1")
                    .arg(look::number(drawn_.frame.ground_scale / std::max(drawn_.frame.slab_scale, 1e-9), 2));
    if (const auto& over = desk_->envelope())
        text += QString(" · all of %1: largest, and smallest dashed").arg(name_of(over->purpose));
    else if (const CombinationAnswer* k = desk_->combination())
        text += " · " + QString::fromStdString(k->combination.id);
    return text;
}

std::vector<std::pair<const char*, bool CutView::Shown::*>> CutView::switches() {
    return {{"pressure", &Shown::pressure}, {"settlement", &Shown::settlement}, {"moment", &Shown::moment},
            {"V of ribs", &Shown::shear},   {"N of ribs", &Shown::force},       {"ground", &Shown::ground}};
}

void CutView::show_part(bool Shown::*part, bool on) {
    if (on && (part == &Shown::moment || part == &Shown::shear || part == &Shown::force))
        shown().moment = shown().shear = shown().force = false;  // one curve at a time
    shown().*part = on;
    desk_->tell(Desk::view);
    update();
}

bool CutView::offers(bool Shown::*part) const {
    return (part != &Shown::shear && part != &Shown::force) || (desk_->answer() && !desk_->answer()->members.empty());
}

std::optional<Thing> CutView::boundary_at(QPointF at) const {
    for (const Thing& t : things_at(drawn_.drawing, drawn_.frame.view, from_qt(at)))
        if (t.kind == ThingKind::borehole) return t;
    return {};
}

void CutView::mousePressEvent(QMouseEvent* e) { grip_ = boundary_at(e->position()); }

// The bottom of the layer in hand to a level, between its neighbours; to the centimetre.
void CutView::move_boundary(double level) {
    Model m = desk_->now();
    Borehole* b = find_id(m.ground.boreholes, grip_->id);
    const size_t k = size_t(grip_->part);
    if (!b || k >= b->layers.size()) return grip_.reset();  // undone while it was held
    const double above = k == 0 ? ground_level_of(m, *b) : b->layers[k - 1].bottom;
    const double below = k + 1 < b->layers.size() ? b->layers[k + 1].bottom : -1e4;
    if (above - below < 0.03) return;
    b->layers[k].bottom = std::clamp(std::round(level * 100) / 100, below + 0.01, above - 0.01);
    desk_->document()->preview(std::move(m));
}

void CutView::mouseReleaseEvent(QMouseEvent*) {
    if (!grip_) return;
    const Borehole* b = find_id(desk_->now().ground.boreholes, grip_->id);
    if (b && size_t(grip_->part) < b->layers.size())
        desk_->document()->commit(
            QString("Move the bottom of %1 in %2")
                .arg(QString::fromStdString(b->layers[size_t(grip_->part)].stratum), QString::fromStdString(b->id)));
    grip_.reset();
    update();
}

void CutView::mouseMoveEvent(QMouseEvent* e) {
    if (grip_) return move_boundary(drawn_.frame.level_at(e->position().y()));
    const std::optional<Thing> over = boundary_at(e->position());
    const Borehole* b = over ? find_id(desk_->now().ground.boreholes, over->id) : nullptr;
    const bool there = b && size_t(over->part) < b->layers.size();
    setCursor(there ? Qt::SizeVerCursor : Qt::ArrowCursor);
    setToolTip(there ? QString("%1: %2 ends at %3 m; drag it")
                           .arg(QString::fromStdString(b->id),
                                QString::fromStdString(b->layers[size_t(over->part)].stratum),
                                look::number(b->layers[size_t(over->part)].bottom, 2))
                     : QString());
    const double t = drawn_.frame.view.back(from_qt(e->position())).x;
    const bool in = has_slab(desk_->now()) && t >= 0 && t <= drawn_.frame.length;
    desk_->hair = in ? std::optional(t) : std::nullopt;
    desk_->pointer_at = in ? std::optional(desk_->cut[0] + t * unit(desk_->cut[1] - desk_->cut[0])) : std::nullopt;
    desk_->tell(Desk::pointer);
}

void CutView::leaveEvent(QEvent*) {
    desk_->hair.reset();
    desk_->tell(Desk::pointer);
}

}  // namespace mossbed
