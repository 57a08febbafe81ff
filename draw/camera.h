// A drawing's view with Qt's points.
#pragma once
#include <QPointF>
#include <QPolygonF>
#include <QRectF>

#include "drawing/drawing.h"

namespace mossbed {

inline QPointF to_qt(Point p) { return {p.x, p.y}; }
inline Point from_qt(QPointF p) { return {p.x(), p.y()}; }
inline QRectF to_qt(const Box& b) { return b.empty() ? QRectF() : QRectF(b.low.x, b.low.y, b.width(), b.height()); }
inline Box from_qt(const QRectF& r) {
    Box b;
    b.add(from_qt(r.topLeft())), b.add(from_qt(r.bottomRight()));
    return b;
}

struct Camera : View {
    QPointF at(Point p) const { return to_qt(View::at(p)); }
    Point back(QPointF q) const { return View::back(from_qt(q)); }
    void show(const Box& box, const QRectF& paper) { View::show(box, from_qt(paper)); }
    void move_by(QPointF by) { origin = origin + from_qt(by); }
    QPolygonF on_paper(const Polygon& p) const {
        QPolygonF q;
        for (Point v : p) q << at(v);
        return q;
    }
};

}  // namespace mossbed
