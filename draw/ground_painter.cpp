#include "draw/ground_painter.h"

#include <QPainterPath>

namespace mossbed {

QColor stratum_colour(int stratum) {
    static const std::array<QColor, 8> tones{
        QColor(0xE6, 0xDC, 0xC4), QColor(0xC6, 0xCC, 0xC2), QColor(0xD8, 0xC6, 0xA6), QColor(0xEB, 0xE2, 0xB8),
        QColor(0xCF, 0xC4, 0xBC), QColor(0xC9, 0xD2, 0xB4), QColor(0xE0, 0xCE, 0xC0), QColor(0xBE, 0xC6, 0xCC)};
    return tones[size_t(stratum < 0 ? 0 : stratum) % tones.size()];
}

void fill_stratum(QPainter& p, const QPainterPath& shape, int stratum) {
    p.save();
    p.fillPath(shape, stratum_colour(stratum));
    p.setClipPath(shape, Qt::IntersectClip);
    // Only what can be seen is hatched, however far the shape reaches.
    const QRectF paper =
        p.combinedTransform().inverted().mapRect(QRectF(0, 0, p.device()->width(), p.device()->height()));
    const QRectF r = shape.boundingRect().intersected(paper);
    p.setPen(QPen(stratum_colour(stratum).darker(122), 0.8));
    const int kind = (stratum < 0 ? 0 : stratum) % 4;
    if (kind == 0) {  // short slanting strokes
        for (double y = std::floor(r.top() / 14) * 14; y < r.bottom(); y += 14)
            for (double x = std::floor(r.left() / 26) * 26 + (int(y / 14) % 2) * 13; x < r.right(); x += 26)
                p.drawLine(QPointF(x, y + 4), QPointF(x + 5, y));
    } else if (kind == 1) {  // level dashes
        for (double y = std::floor(r.top() / 8) * 8; y < r.bottom(); y += 8)
            for (double x = std::floor(r.left() / 30) * 30 + (int(y / 8) % 2) * 15; x < r.right(); x += 30)
                p.drawLine(QPointF(x, y), QPointF(x + 14, y));
    } else if (kind == 2) {  // long level lines
        for (double y = std::floor(r.top() / 12) * 12; y < r.bottom(); y += 12)
            p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
    } else {  // grains
        for (double y = std::floor(r.top() / 9) * 9; y < r.bottom(); y += 9)
            for (double x = std::floor(r.left() / 15) * 15 + (int(y / 9) % 2) * 7; x < r.right(); x += 15)
                p.drawPoint(QPointF(x, y)), p.drawPoint(QPointF(x + 1, y));
    }
    p.restore();
}

void draw_depth_chart(QPainter& p, const DepthChart& c, const Model& m, const QRectF& area) {
    p.save();
    p.setRenderHint(QPainter::Antialiasing, true);
    const QFont small = look::font(look::Size::small);
    p.setFont(small);
    const double top_level = c.stations.front().level, low_level = c.stations.back().level;
    const QRectF box(area.left() + 40, area.top() + 34, area.width() - 40 - 6, area.height() - 40);
    auto y = [&](double level) { return box.top() + (top_level - level) / (top_level - low_level) * box.height(); };
    const double log_width = 30, stress_width = box.width() * 0.46;
    const QRectF log(box.left(), box.top(), log_width, box.height());
    const QRectF stress(log.right() + 6, box.top(), stress_width, box.height());
    const QRectF bars(stress.right() + 8, box.top(), box.right() - stress.right() - 8, box.height());
    double most = 1;
    for (const auto& s : c.stations) most = std::max({most, s.level > c.limit - 1e-9 ? s.overburden : 0.0, s.added});
    auto x = [&](double v) { return stress.left() + std::min(v / most, 1.02) * stress.width(); };

    for (const SoilLayer& l : c.column) {
        const double a = std::max(y(l.top), box.top()), b = std::min(y(l.bottom), box.bottom());
        if (b <= a) continue;
        QPainterPath shape;
        shape.addRect(QRectF(log.left(), a, log.width(), b - a));
        fill_stratum(p, shape, l.stratum);
        p.setPen(QPen(look::ink, 0.8));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(log.left(), a, log.width(), b - a));
        p.setPen(QPen(look::line, 0.6));
        p.drawLine(QPointF(stress.left(), b), QPointF(bars.right(), b));
    }
    auto level_mark = [&](double level, const QColor& colour, bool dashed, const QString& text) {
        const double yy = y(level);
        if (yy < box.top() - 1 || yy > box.bottom() + 1) return;
        p.setPen(QPen(colour, 1.2, dashed ? Qt::DashLine : Qt::SolidLine));
        p.drawLine(QPointF(log.left(), yy), QPointF(bars.right(), yy));
        if (!text.isEmpty()) {
            p.setPen(colour);
            p.drawText(QRectF(bars.left(), yy - 15, bars.width(), 13), Qt::AlignRight | Qt::AlignVCenter, text);
        }
    };
    // Levels at the left, no two on top of each other.
    std::vector<double> written;
    auto write_level = [&](double level, const QColor& colour) {
        for (double w : written)
            if (std::abs(y(w) - y(level)) < 12) return;
        if (y(level) < box.top() - 2 || y(level) > box.bottom() + 2) return;
        written.push_back(level);
        p.setPen(colour);
        p.drawText(QRectF(area.left(), y(level) - 7, 36, 14), Qt::AlignRight | Qt::AlignVCenter,
                   look::number(level, 1));
    };
    write_level(c.founding, look::ink);
    write_level(c.limit, look::rust);
    for (const SoilLayer& l : c.column) write_level(l.bottom, look::faint);
    write_level(top_level, look::faint);

    // What counts of the overburden for the limit: dashed; what the slab adds: filled.
    QPolygonF added, overburden;
    added << QPointF(stress.left(), y(std::min(c.founding, top_level)));
    for (const auto& s : c.stations) {
        if (s.level <= c.founding) added << QPointF(x(s.added), y(s.level));
        overburden << QPointF(x(s.overburden), y(s.level));
    }
    added << QPointF(stress.left(), box.bottom());
    p.save();
    p.setClipRect(stress.adjusted(-1, -1, 1, 1));
    p.setPen(QPen(QColor(0x1F, 0x42, 0x54), 1.4));
    p.setBrush(QColor(0x9D, 0xB7, 0xB7, 150));
    p.drawPolygon(added);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(look::ink, 1.2, Qt::DashLine));
    p.drawPolyline(overburden);
    p.setPen(QPen(look::rust, 1, Qt::DotLine));  // the share of it that sets the limit
    QPolygonF part;
    for (const auto& s : c.stations) part << QPointF(x(m.ground.depth_limit_ratio * s.overburden), y(s.level));
    if (!m.ground.rigid_base_level) p.drawPolyline(part);
    p.restore();
    p.setPen(QPen(look::faint, 0.8));
    p.drawLine(stress.bottomLeft(), stress.topLeft());
    p.drawLine(stress.topLeft(), stress.topRight());
    p.setPen(look::faint);
    p.drawText(QRectF(stress.left() - 6, area.top() + 18, 40, 14), Qt::AlignLeft, "0");
    p.drawText(QRectF(stress.right() - 60, area.top() + 18, 60, 14), Qt::AlignRight, look::number(most, 0) + " kPa");
    p.setPen(QColor(0x1F, 0x42, 0x54));
    p.drawText(QRectF(stress.left(), area.top() + 2, stress.width(), 14), Qt::AlignLeft, "■ added");
    p.setPen(look::ink);
    p.drawText(QRectF(stress.left(), area.top() + 2, stress.width(), 14), Qt::AlignRight, "- - overburden");
    p.setPen(look::moss);
    p.drawText(QRectF(bars.left(), area.top() + 2, bars.width(), 14), Qt::AlignRight, "settles, mm");

    double largest = 1e-12;
    for (const auto& l : c.layers) largest = std::max(largest, l.settlement);
    for (const auto& l : c.layers) {
        const double a = y(l.top), b = y(l.bottom), w = (bars.width() - 58) * l.settlement / largest;
        p.fillRect(QRectF(bars.left(), a + 1, std::max(w, 1.0), std::max(b - a - 2, 2.0)),
                   QColor(0x6D, 0x7F, 0x3F, 190));
        p.setPen(look::ink);
        p.drawText(QRectF(bars.left() + std::max(w, 1.0) + 4, (a + b) / 2 - 8, 70, 16),
                   Qt::AlignLeft | Qt::AlignVCenter, look::number(1000 * l.settlement, 1));
    }
    level_mark(c.founding, look::ink, false, "");
    level_mark(c.limit, look::rust, true, "limit");
    if (std::isfinite(c.water_level)) level_mark(c.water_level, look::water, true, "");
    p.restore();
}

}  // namespace mossbed
