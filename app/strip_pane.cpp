#include "app/strip_pane.h"

#include <QMouseEvent>
#include <QPainter>

#include "app/tray/parts.h"
#include "draw/render.h"

namespace mossbed {

StripPane::StripPane(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("strip-pane");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    connect(desk, &Desk::changed, this, [this] { follow(); });
    follow();
}

void StripPane::follow() {
    const auto answer = desk_->answer();
    const StripAnswer* strip = desk_->strip();
    const std::string id = strip ? strip->strip.id : std::string();
    std::string combination;  // one of strength that is looked at, else all of them
    if (answer && !desk_->envelope())
        for (const CombinationAnswer& c : answer->combinations)
            if (c.combination.id == desk_->combination_id && c.combination.purpose == Purpose::strength)
                combination = desk_->combination_id;
    if (answer != of_ || id != strip_ || combination != combination_) {
        of_ = answer, strip_ = id, combination_ = combination;
        line_ = answer && strip ? strip_line(*answer, *answer, size_t(strip - answer->steel.strips.data()), combination)
                                : StripLine{};
        Q_EMIT head_changed();
    }
    update();
}

void StripPane::show_part(StripPart part) {
    part_ = part;
    update();
    Q_EMIT head_changed();
}

QString StripPane::head() const {
    if (line_.s.empty()) return "no strip is in hand: click one on the plan, or a row of bending";
    if (part_ == StripPart::steel) return "needed and provided over all combinations · click another strip on the plan";
    return line_.is_envelope ? QString("over all combinations of strength · choose one of them for it alone")
                             : QString("in %1 · choose one of service, or an envelope, for all").arg(q(combination_));
}

QString StripPane::reading(QPointF at) const {
    const StripChart c = strip_chart(line_, part_, from_qt(QRectF(rect())));
    if (line_.s.size() < 2 || c.right <= c.left || at.x() < c.left - 2 || at.x() > c.right + 2) return {};
    const double share = (at.x() - c.left) / (c.right - c.left);
    return q(strip_reading(line_, part_, line_.s.front() + share * (line_.s.back() - line_.s.front())));
}

void StripPane::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), look::sheet);
    if (line_.s.size() < 2) {
        painter.setFont(look::font(look::Size::small));
        painter.setPen(look::faint);
        painter.drawText(rect(), Qt::AlignCenter,
                         desk_->answer() ? "No strip is designed: see the rows of bending in the Ledger."
                                         : "There is no answer yet.");
        return;
    }
    StripChart c = strip_chart(line_, part_, from_qt(QRectF(rect())));
    for (Mark& m : c.drawing.marks) m.faded = desk_->is_old();
    paint_drawing(painter, c.drawing, bare_paper(), rect());
    const QString read = at_ ? reading(*at_) : QString();
    if (read.isEmpty()) return;
    painter.setPen(QPen(look::ink, 1, Qt::DotLine));
    painter.drawLine(QPointF(at_->x(), 16), QPointF(at_->x(), height() - 26));
    painter.setFont(look::font(look::Size::small));
    const QRectF plate(width() - 24 - painter.fontMetrics().horizontalAdvance(read), 0, 1e4, 15);
    painter.fillRect(plate, look::sheet);
    painter.setPen(look::ink);
    painter.drawText(QRectF(0, 0, width() - 20, 15), Qt::AlignRight | Qt::AlignVCenter, read);
}

void StripPane::mouseMoveEvent(QMouseEvent* e) {
    at_ = e->position();
    update();
}

void StripPane::leaveEvent(QEvent*) {
    at_.reset();
    update();
}

}  // namespace mossbed
