#include "app/depth_view.h"

#include <QPainter>

#include "draw/render.h"
#include "drawing/ground_parts.h"

namespace mossbed {

DepthView::DepthView(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("depth-chart");
    setMinimumHeight(300);
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & (Desk::model | Desk::answers | Desk::choice | Desk::view) ||
            (what & Desk::pointer && !desk_->pin && desk_->pointer_at && on_slab(desk_->now(), *desk_->pointer_at)))
            renew();
        if (desk_->is_old() == was_old_) return;
        was_old_ = desk_->is_old();
        update();
        Q_EMIT renewed();
    });
    renew();
}

void DepthView::renew() {
    const std::optional<Point> at = desk_->pin ? desk_->pin : desk_->pointer_at;
    if (chart_ && of_ == desk_->answer() && combination_ == desk_->combination_id && at_ == at) return;
    of_ = desk_->answer(), combination_ = desk_->combination_id, at_ = at;
    chart_ = desk_->chart();
    update();
    Q_EMIT renewed();
}

void DepthView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (chart_) {
        const Model& model = desk_->answer() ? *desk_->answer()->model : desk_->now();
        Drawing chart = depth_chart_drawing(*chart_, model, from_qt(QRectF(rect())));
        for (Mark& m : chart.marks) m.faded = desk_->is_old();
        return paint_drawing(p, chart, bare_paper(), rect());
    }
    p.setFont(look::font(look::Size::small));
    p.setPen(look::faint);
    p.drawText(rect().adjusted(8, 8, -8, -8), Qt::AlignCenter | Qt::TextWordWrap,
               "The depth chart shows once there are boreholes and a solved combination.");
}

}  // namespace mossbed
