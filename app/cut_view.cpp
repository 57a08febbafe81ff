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

CutScene CutView::scene() const {
    CutScene s;
    s.model = &desk_->now();
    s.answer = desk_->answer().get();
    s.combination = desk_->combination();
    s.line = desk_->cut;
    s.pressure = pressure_, s.settlement = settlement_, s.moment = moment_, s.ground = ground_;
    s.hair = desk_->hair;
    s.stale = !desk_->in_step();
    return s;
}

void CutView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const CutSamples c = draw_cut(p, scene(), body());
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
    if (const CombinationAnswer* k = desk_->combination()) text += " · " + QString::fromStdString(k->combination.id);
    p.drawText(QRectF(100, 0, width() - 420, 24), Qt::AlignLeft | Qt::AlignVCenter, text);
    switches_.clear();
    double x = width() - 12;
    for (auto [name, on] : {std::pair{"ground", &ground_},
                            {"moment", &moment_},
                            {"settlement", &settlement_},
                            {"pressure", &pressure_}}) {
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
        if (r.contains(e->position())) *on = !*on, update();
}

void CutView::mouseMoveEvent(QMouseEvent* e) {
    const auto [x0, x1] = cut_span(scene(), body());
    const double t = (e->position().x() - x0) / (x1 - x0) * distance(desk_->cut[0], desk_->cut[1]);
    const bool in = e->position().x() >= x0 && e->position().x() <= x1;
    desk_->hair = in ? std::optional(t) : std::nullopt;
    desk_->pointer_at = in ? std::optional(desk_->cut[0] + t * unit(desk_->cut[1] - desk_->cut[0])) : std::nullopt;
    desk_->tell(Desk::pointer | Desk::view);
}

void CutView::leaveEvent(QEvent*) {
    desk_->hair.reset();
    desk_->tell(Desk::pointer | Desk::view);
}

}  // namespace mossbed
