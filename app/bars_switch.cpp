#include "app/bars_switch.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "draw/look.h"

namespace mossbed {
namespace {

constexpr std::array all_bars{std::pair{Face::bottom, Direction::x}, std::pair{Face::top, Direction::x},
                              std::pair{Face::bottom, Direction::y}, std::pair{Face::top, Direction::y}};

}  // namespace

QString name_of_bars(Face f, Direction d) { return QString("%1 %2").arg(name_of(f), name_of(d)); }

BarsSwitch::BarsSwitch(Desk* desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("bars-switch");
    setFixedSize(sizeHint());
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName("Bars of which face and direction");
    setToolTip(
        "lower side: bottom, along x; upper: top, along x; left: bottom, along y; right: top, along y (F7: the "
        "next)");
    connect(desk, &Desk::changed, this, [this](int what) {
        if (what & Desk::view) setVisible(is_of_bars(desk_->quantity)), update();
    });
    setVisible(is_of_bars(desk->quantity));
}

QRectF BarsSwitch::square() const { return QRectF(width() - 44, 4, 40, 40); }

QRectF BarsSwitch::side(Face f, Direction d) const {
    const QRectF s = square();
    constexpr double thick = 9;
    if (d == Direction::x)
        return {s.left() + thick, f == Face::top ? s.top() : s.bottom() - thick, s.width() - 2 * thick, thick};
    return {f == Face::bottom ? s.left() : s.right() - thick, s.top() + thick, thick, s.height() - 2 * thick};
}

void BarsSwitch::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(hasFocus() ? look::moss : look::line, 1));
    p.setBrush(look::faded(look::sheet, 235));
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    for (const auto& [f, d] : all_bars) {
        const bool on = f == desk_->bars_face && d == desk_->bars_direction;
        const QRectF s = side(f, d);
        p.setPen(QPen(on ? look::moss : look::standard, on ? 5 : 2, Qt::SolidLine, Qt::FlatCap));
        d == Direction::x ? p.drawLine(QLineF(s.left(), s.center().y(), s.right(), s.center().y()))
                          : p.drawLine(QLineF(s.center().x(), s.top(), s.center().x(), s.bottom()));
    }
    p.setFont(look::font(look::Size::normal, true));
    p.setPen(look::ink);
    p.drawText(QRectF(6, 0, square().left() - 12, height()), Qt::AlignRight | Qt::AlignVCenter,
               name_of_bars(desk_->bars_face, desk_->bars_direction));
}

// The side that is nearest.
void BarsSwitch::mousePressEvent(QMouseEvent* e) {
    const QPointF off = e->position() - square().center();
    if (std::abs(off.x()) > square().width() / 2 + 4) return;
    if (std::abs(off.y()) >= std::abs(off.x()))
        desk_->look_at_bars(off.y() < 0 ? Face::top : Face::bottom, Direction::x);
    else
        desk_->look_at_bars(off.x() < 0 ? Face::bottom : Face::top, Direction::y);
}

void BarsSwitch::keyPressEvent(QKeyEvent* e) {
    switch (e->key()) {
        case Qt::Key_Up:
            return desk_->look_at_bars(Face::top, Direction::x);
        case Qt::Key_Down:
            return desk_->look_at_bars(Face::bottom, Direction::x);
        case Qt::Key_Left:
            return desk_->look_at_bars(Face::bottom, Direction::y);
        case Qt::Key_Right:
            return desk_->look_at_bars(Face::top, Direction::y);
        default:
            QWidget::keyPressEvent(e);
    }
}

}  // namespace mossbed
