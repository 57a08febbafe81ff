#include "app/tools/draw_slab.h"

#include "app/field.h"

namespace mossbed {

QString DrawSlabTool::hint() const {
    return corners_.empty() ? "Click the first corner · type “x, y” · Esc leaves"
                            : "Click the next corner · type a length or “x, y” and Enter · click the first corner or "
                              "press Enter to close";
}

void DrawSlabTool::hover(const Hand& h) {
    hand_ = h;
    const Snap s = snap(h.in_plan);
    note_ = coordinates(s);
    if (!corners_.empty()) note_ = metres(distance(corners_.back(), s.at)) + " · " + note_;
}

void DrawSlabTool::press(const Hand& h) {
    hand_ = h;
    place(snap(h.in_plan).at);
}

bool DrawSlabTool::double_click(const Hand&) {
    close();
    return true;
}

bool DrawSlabTool::put_down() {
    bench_.take(ToolKind::choose);
    return true;
}

bool DrawSlabTool::key(QKeyEvent* e) {
    const QString t = e->text();
    // Numbers, sums and other units: "24 in", "3*1.2".
    if (!t.isEmpty() && (QString("0123456789.,-").contains(t) ||
                         (!typed_.isEmpty() && (QString("+*/()").contains(t) || t[0].isLetter())))) {
        typed_ += t;
        return true;
    }
    if (e->key() == Qt::Key_Space && !typed_.isEmpty()) return true;
    if (e->key() == Qt::Key_Backspace) {
        if (!typed_.isEmpty())
            typed_.chop(1);
        else if (!corners_.empty())
            corners_.pop_back();
        return true;
    }
    if (e->key() != Qt::Key_Return && e->key() != Qt::Key_Enter) return false;
    if (typed_.isEmpty())
        close();
    else
        place_typed();
    return true;
}

void DrawSlabTool::place_typed() {
    const QStringList parts = typed_.split(',');
    const QString said = typed_;
    typed_.clear();
    if (parts.size() == 2) {
        const auto x = read_number(parts[0], Unit::metre), y = read_number(parts[1], Unit::metre);
        if (x && y) return place({*x, *y});
    } else if (parts.size() == 1 && !corners_.empty()) {  // that far towards the pointer
        const Point to = snap(hand_.in_plan).at;
        if (const auto l = read_number(parts[0], Unit::metre); l && distance(to, corners_.back()) > 1e-9)
            return place(corners_.back() + *l * unit(to - corners_.back()));
    }
    desk().say(QString("“%1” is no place: type two coordinates as “x, y”, or a length towards the pointer.").arg(said),
               true);
}

void DrawSlabTool::place(Point p) {
    typed_.clear();
    const Camera& c = bench_.camera();
    if (corners_.size() >= 3 && QLineF(c.at(p), c.at(corners_[0])).length() < 9) return close();
    if (!corners_.empty() && distance(corners_.back(), p) < 1e-6) return;
    corners_.push_back(p);
    bench_.hint_moved();
}

void DrawSlabTool::close() {
    const Polygon ring = without_repeats(corners_, 1e-6);
    if (ring.size() < 3) return desk().say("An outline needs three corners at least.", true);
    if (auto c = self_crossing(ring))
        return desk().say(QString("Side %1 would cross side %2; take back a corner with Backspace.")
                              .arg(c->first + 1)
                              .arg(c->second + 1),
                          true);
    Desk& on = desk();
    Model m = on.now();
    m.slab.outline = anticlockwise(ring);
    bench_.take(ToolKind::choose);  // this tool is gone from here on
    on.document()->apply("Draw the slab", std::move(m));
}

void DrawSlabTool::draw(QPainter& p) const {
    const QPolygonF q = bench_.camera().on_paper(corners_);
    p.setPen(QPen(look::moss, 2));
    p.drawPolyline(q);
    if (!corners_.empty()) {
        p.setPen(QPen(look::moss, 1.4, Qt::DashLine));
        p.drawLine(q.last(), bench_.camera().at(snap(hand_.in_plan).at));
        p.setBrush(look::sheet);
        p.setPen(QPen(look::moss, 1.6));
        for (QPointF c : q) p.drawRect(QRectF(c - QPointF(3.5, 3.5), QSizeF(7, 7)));
    }
    if (bench_.has_pointer() || !typed_.isEmpty()) bench_.tag(p, hand_.at, typed_.isEmpty() ? note_ : typed_ + "▏");
}

}  // namespace mossbed
