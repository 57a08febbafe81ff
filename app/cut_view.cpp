#include "app/cut_view.h"

#include <QMouseEvent>
#include <QPainter>

namespace mossbed {

CutView::CutView(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("cut");
    setMouseTracking(true);
    setMinimumHeight(120);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & ~(Desk::state)) update();
    });
}

CutScene CutView::scene() {
    CutScene s;
    s.model = &desk_->now();
    s.answer = desk_->answer().get();
    s.combination = desk_->combination();
    s.line = desk_->cut;
    const Shown& on = shown();
    s.pressure = on.pressure, s.settlement = on.settlement, s.moment = on.moment, s.ground = on.ground;
    s.wide = desk_->stop == Stop::ground;
    s.hair = desk_->hair;
    s.stale = !desk_->in_step();
    return s;
}

void CutView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    drawn_ = draw_cut(p, scene(), body());
    const CutSamples& c = drawn_;
    p.fillRect(QRectF(0, 0, width(), 24), look::sheet);
    p.setPen(look::line);
    p.drawLine(0, 0, width(), 0);
    p.setFont(look::font(look::Size::normal, true));
    p.setPen(look::ink);
    p.drawText(QRectF(12, 0, 90, 24), Qt::AlignLeft | Qt::AlignVCenter, "Cut A – A′");
    p.setFont(look::font(look::Size::small));
    p.setPen(look::faint);
    QString text;
    const Point d = desk_->cut[1] - desk_->cut[0];
    if (std::abs(d.y) < 1e-6)
        text = QString("along x at y %1 m").arg(look::number(desk_->cut[0].y, 2));
    else if (std::abs(d.x) < 1e-6)
        text = QString("along y at x %1 m").arg(look::number(desk_->cut[0].x, 2));
    else
        text = QString("turned %1°").arg(look::number(std::atan2(d.y, d.x) * 57.29578, 0));
    if (c.settlement_factor > 0) text += QString(" · settlement ×%1").arg(look::number(c.settlement_factor, 0));
    if (c.below > 0 && desk_->answer() && desk_->answer()->ground)
        text += QString(" · depth ×%1").arg(look::number(c.below / std::max(c.above, 1e-9), 2));
    if (const CombinationAnswer* k = desk_->combination()) text += " · " + QString::fromStdString(k->combination.id);
    p.drawText(QRectF(100, 0, width() - 420, 24), Qt::AlignLeft | Qt::AlignVCenter, text);
    switches_.clear();
    double x = width() - 12;
    for (auto [name, on] : {std::pair{"ground", &shown().ground},
                            {"moment", &shown().moment},
                            {"settlement", &shown().settlement},
                            {"pressure", &shown().pressure}}) {
        const double w = p.fontMetrics().horizontalAdvance(name) + 16;
        const QRectF r(x - w, 3, w, 18);
        if (*on) p.fillRect(r, look::moss_wash);
        p.setPen(*on ? look::ink : look::faint);
        p.drawText(r, Qt::AlignCenter, name);
        switches_.push_back({r, on});
        x -= w + 4;
    }
}

void CutView::mousePressEvent(QMouseEvent* e) {
    for (auto& [r, on] : switches_)
        if (r.contains(e->position())) {
            *on = !*on;
            return update();
        }
    for (const BoundaryHandle& h : drawn_.handles)
        if (QLineF(h.at, e->position()).length() < 9) grip_ = h;
}

// The bottom of the layer in hand to a level, between its neighbours; to the centimetre.
void CutView::move_boundary(double level) {
    Model m = desk_->now();
    Borehole& b = m.ground.boreholes[size_t(grip_->borehole)];
    const size_t k = size_t(grip_->layer);
    const double above = k == 0 ? ground_level_of(m, b) : b.layers[k - 1].bottom;
    const double below = k + 1 < b.layers.size() ? b.layers[k + 1].bottom : -1e4;
    if (above - below < 0.03) return;
    b.layers[k].bottom = std::clamp(std::round(level * 100) / 100, below + 0.01, above - 0.01);
    desk_->document()->preview(std::move(m));
}

void CutView::mouseReleaseEvent(QMouseEvent*) {
    if (!grip_) return;
    const Borehole& b = desk_->now().ground.boreholes[size_t(grip_->borehole)];
    desk_->document()->commit(
        QString("Move the bottom of %1 in %2")
            .arg(QString::fromStdString(b.layers[size_t(grip_->layer)].stratum), QString::fromStdString(b.id)));
    grip_.reset();
    update();
}

void CutView::mouseMoveEvent(QMouseEvent* e) {
    if (grip_) return move_boundary(drawn_.level_at(e->position().y()));
    bool over = false;
    for (const BoundaryHandle& h : drawn_.handles)
        if (QLineF(h.at, e->position()).length() < 9) {
            over = true;
            const Borehole& b = desk_->now().ground.boreholes[size_t(h.borehole)];
            const BoreholeLayer& l = b.layers[size_t(h.layer)];
            setToolTip(
                QString("%1: %2 ends at %3 m; drag it")
                    .arg(QString::fromStdString(b.id), QString::fromStdString(l.stratum), look::number(l.bottom, 2)));
        }
    setCursor(over ? Qt::SizeVerCursor : Qt::ArrowCursor);
    if (!over) setToolTip({});
    const auto [x0, x1] = cut_span(scene(), body());
    const double t = (e->position().x() - x0) / (x1 - x0) * distance(desk_->cut[0], desk_->cut[1]);
    const bool in = e->position().x() >= x0 && e->position().x() <= x1;
    desk_->hair = in ? std::optional(t) : std::nullopt;
    desk_->pointer_at = in ? std::optional(desk_->cut[0] + t * unit(desk_->cut[1] - desk_->cut[0])) : std::nullopt;
    desk_->tell(Desk::pointer);
}

void CutView::leaveEvent(QEvent*) {
    desk_->hair.reset();
    desk_->tell(Desk::pointer);
}

}  // namespace mossbed
