#include "draw/render.h"

#include <QPainterPath>

namespace mossbed {
namespace {

QPen pen_of(const Stroke& s, const View& view) {
    if (s.tone.is_none()) return Qt::NoPen;
    QPen pen(look::colour(s.tone), std::max(s.width, s.true_width * view.scale), Qt::SolidLine, Qt::SquareCap,
             Qt::MiterJoin);
    // Where a thing is as wide as it is, a rim round it is wider by the paper units it asks for.
    if (s.true_width > 0 && s.width > 2) pen.setWidthF(std::max(2.0, s.true_width * view.scale) + s.width);
    switch (s.dash) {
        case Dash::solid:
            break;
        case Dash::dashed:
            pen.setStyle(Qt::DashLine);
            break;
        case Dash::dotted:
            pen.setStyle(Qt::DotLine);
            break;
        case Dash::dash_dotted:
            pen.setStyle(Qt::DashDotLine);
            break;
        case Dash::long_dashed:
            pen.setDashPattern({8, 3});
            break;
    }
    if (s.dash != Dash::solid) pen.setCapStyle(Qt::FlatCap);
    return pen;
}

// Calls each(value) at every whole step from `from` until before `to`.
template <class F>
void by_steps(double from, double to, double step, F each) {
    for (long k = 0; from + double(k) * step < to; ++k) each(from + double(k) * step);
}

// Calls each(x, y) on a lattice over the rectangle, every other row set in by half a step.
template <class F>
void lattice(const QRectF& r, double dx, double dy, F each) {
    long row = std::lround(std::floor(r.top() / dy));
    by_steps(double(row) * dy, r.bottom(), dy, [&](double y) {
        const double set_in = row++ % 2 ? dx / 2 : 0;
        by_steps(std::floor(r.left() / dx) * dx + set_in, r.right(), dx, [&](double x) { each(x, y); });
    });
}

// Quiet hatches of soils by their place in the list: strokes, dashes, lines, grains.
void draw_soil(QPainter& p, const QRectF& r, int stratum) {
    switch (stratum % 4) {
        case 0:
            return lattice(r, 26, 14, [&](double x, double y) { p.drawLine(QPointF(x, y + 4), QPointF(x + 5, y)); });
        case 1:
            return lattice(r, 30, 8, [&](double x, double y) { p.drawLine(QPointF(x, y), QPointF(x + 14, y)); });
        case 2:
            return by_steps(std::floor(r.top() / 12) * 12, r.bottom(), 12,
                            [&](double y) { p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y)); });
        default:
            return lattice(r, 15, 9,
                           [&](double x, double y) { p.drawPoint(QPointF(x, y)), p.drawPoint(QPointF(x + 1, y)); });
    }
}

void draw_pattern(QPainter& p, const Fill& f, const QRectF& r) {
    const QColor colour = look::colour(f.pattern_tone);
    p.setBrush(Qt::NoBrush);
    switch (f.pattern) {
        case Pattern::none:
            return;
        case Pattern::dots:
            p.setPen(Qt::NoPen);
            p.setBrush(colour);
            return lattice(r, 7, 7, [&](double x, double y) { p.drawEllipse(QPointF(x, y), 0.9, 0.9); });
        case Pattern::slanted:
            p.setPen(QPen(colour, 1.2));
            return by_steps(r.left() - r.height(), r.right(), 6,
                            [&](double x) { p.drawLine(QPointF(x, r.bottom()), QPointF(x + r.height(), r.top())); });
        case Pattern::earth:
            p.setPen(QPen(colour, 0.8));
            return lattice(r, 34, 11, [&](double x, double y) { p.drawLine(QPointF(x, y), QPointF(x + 12, y)); });
        case Pattern::soil:
            p.setPen(QPen(colour, 0.8));
            return draw_soil(p, r, f.pattern_tone.stratum);
    }
}

void fill(QPainter& p, const QPainterPath& shape, const Fill& f, const QRectF& paper) {
    if (!f.tone.is_none()) p.fillPath(shape, look::colour(f.tone));
    if (f.pattern == Pattern::none) return;
    p.save();
    p.setClipPath(shape, Qt::IntersectClip);
    draw_pattern(p, f, shape.boundingRect().intersected(paper));  // only what can be seen, however far it reaches
    p.restore();
}

// Of rings on the paper.
QPainterPath path_of(const Rings& rings, bool closed) {
    QPainterPath path;
    path.setFillRule(Qt::OddEvenFill);
    for (const Polygon& r : rings) {
        QPolygonF q;
        q.reserve(int(r.size()) + 1);
        for (Point v : r) q << to_qt(v);
        if (closed && !q.isEmpty()) q << q.first();
        path.addPolygon(q);
        if (closed) path.closeSubpath();
    }
    return path;
}

void draw(QPainter& p, const Path& s, const View& view, const QRectF& paper) {
    const QPainterPath path = path_of(on_paper(s, view), s.closed);
    if (!path.boundingRect().adjusted(-9, -9, 9, 9).intersects(paper)) return;
    if (s.closed) {
        // Bands of a map lie side by side: softened rims would let the sheet shine through between them.
        p.setRenderHint(QPainter::Antialiasing, s.fill.tone.role != Role::scale);
        fill(p, path, s.fill, paper);
        p.setRenderHint(QPainter::Antialiasing, true);
    }
    if (s.stroke.tone.is_none()) return;
    p.strokePath(path, pen_of(s.stroke, view));
}

void draw(QPainter& p, const Disc& d, const View& view, const QRectF& paper) {
    const QPointF at = to_qt(on_paper(d.at, d.offset, view));
    QPainterPath path;
    path.addEllipse(at, d.radius, d.radius);
    fill(p, path, d.fill, paper);
    p.strokePath(path, pen_of(d.stroke, view));
}

void draw(QPainter& p, const Text& t, const View& view, const QRectF& paper) {
    const QFont font = look::font(t.size, t.bold);
    const QString text = QString::fromUtf8(t.text);
    const QFontMetricsF metrics(font);
    const double w = metrics.horizontalAdvance(text);
    const QPointF at = to_qt(on_paper(t.at, t.offset, view));
    if (!paper.adjusted(-w, -20, w, 20).contains(at)) return;
    const double left = t.align == Align::centre ? -w / 2 : t.align == Align::right ? -w : 0;
    p.save();
    p.translate(at);
    p.rotate(-t.turn);
    if (t.plate) {
        QPainterPath plate;
        plate.addRoundedRect(QRectF(left - 5, -8.5, w + 10, 17), 3, 3);
        fill(p, plate, *t.plate, plate.boundingRect());
        if (t.plate_is_edged) p.strokePath(plate, QPen(look::line, 1));
    }
    const QPointF base(left, metrics.capHeight() / 2);
    if (t.halo) {
        QPainterPath letters;
        letters.addText(base, font, text);
        p.strokePath(letters, QPen(look::faded(look::sheet, 225), 4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p.fillPath(letters, look::colour(t.tone));
    } else {
        p.setFont(font);
        p.setPen(look::colour(t.tone));
        p.drawText(base, text);
    }
    p.restore();
}

}  // namespace

void paint_drawing(QPainter& p, const Drawing& drawing, const View& view, const QRectF& paper) {
    p.save();
    p.setRenderHint(QPainter::Antialiasing, true);
    const Rings* clip = nullptr;
    p.save();
    for (const Mark& m : drawing.marks) {
        if (m.clip.get() != clip) {
            p.restore();
            p.save();
            clip = m.clip.get();
            if (clip)
                p.setClipPath(path_of(on_paper(Path{m.clip, true, {}, 0, {}, {}}, view), true), Qt::IntersectClip);
        }
        p.setOpacity(m.faded ? 0.35 : 1);
        std::visit([&](const auto& what) { draw(p, what, view, paper); }, m.what);
    }
    p.restore();
    p.restore();
}

}  // namespace mossbed
