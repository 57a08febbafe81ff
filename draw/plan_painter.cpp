#include "draw/plan_painter.h"

#include <QPainterPath>
#include <map>

#include "draw/ground_painter.h"

namespace mossbed {

QPolygonF on_paper(const Camera& camera, const Polygon& p) {
    QPolygonF q;
    for (Point v : p) q << camera.at(v);
    return q;
}

std::vector<double> column_lines(const Model& m, bool along_x) {
    std::map<long, std::pair<double, int>> found;  // to the centimetre
    for (const Column& c : m.columns) {
        const double v = along_x ? c.at.y : c.at.x;
        auto& f = found[std::lround(v * 100)];
        f.first = v, ++f.second;
    }
    std::vector<double> out;
    for (auto& [key, f] : found)
        if (f.second > 1) out.push_back(f.first);
    return out;
}

namespace {

void tab(QPainter& p, QPointF at, const QString& text) {
    const QFontMetricsF m(p.font());
    const QRectF r(at.x() - m.horizontalAdvance(text) / 2 - 6, at.y() - 8, m.horizontalAdvance(text) + 12, 16);
    p.setPen(QPen(look::line, 1));
    p.setBrush(look::sheet);
    p.drawRoundedRect(r, 3, 3);
    p.setPen(look::faint);
    p.drawText(r, Qt::AlignCenter, text);
}

void draw_setting_out(QPainter& p, const PlanScene& s, const Camera& c, const QRectF& area) {
    const QRectF slab = on_paper(c, outer_rim(s.model->slab.outline, 0.5)).boundingRect();
    p.setFont(look::font(look::Size::small));
    const double left = std::max(area.left() + 16, slab.left() - 52), top = std::max(area.top() + 14, slab.top() - 22);
    for (bool along_x : {true, false}) {
        const std::vector<double> lines = column_lines(*s.model, along_x);
        int n = 0;
        double last = -1e9;
        for (double v : lines) {
            ++n;
            const QPointF q = along_x ? QPointF(left, c.at({0, v}).y()) : QPointF(c.at({v, 0}).x(), top);
            p.setPen(QPen(QColor(0xB5, 0xAE, 0x9A), 0.8, Qt::DashDotLine));
            if (along_x)
                p.drawLine(QPointF(left + 12, q.y()), QPointF(slab.right() + 12, q.y()));
            else
                p.drawLine(QPointF(q.x(), top + 8), QPointF(q.x(), slab.bottom() + 12));
            const double place = along_x ? q.y() : q.x();
            if (std::abs(place - last) < 22) continue;
            last = place;
            if (along_x ? q.y() > area.top() && q.y() < area.bottom() : q.x() > area.left() && q.x() < area.right())
                tab(p, q, QString("%1%2").arg(along_x ? "y" : "x").arg(n));
        }
    }
}

QPainterPath slab_path(const Model& m, const Camera& c) {
    QPainterPath path;
    path.setFillRule(Qt::OddEvenFill);
    auto add = [&](const Polygon& p) {
        path.addPolygon(on_paper(c, p));
        path.closeSubpath();
    };
    const double chord = std::max(0.02, 4 / c.scale);
    add(outer_rim(m.slab.outline, chord));
    if (auto in = inner_rim(m.slab.outline, chord)) add(*in);
    for (const Opening& o : m.slab.openings) add(o.outline);
    return path;
}

void draw_lifted(QPainter& p, const PlanScene& s, const Camera& c) {
    if (!s.settlement || s.settlement->least >= 0 || s.model->ground.tension) return;
    const QPainterPath lifted = region(c, s.answer->mesh, *s.settlement, 0, false).simplified();
    p.setRenderHint(QPainter::Antialiasing, true);
    p.fillPath(lifted, look::sheet);
    p.save();
    p.setClipPath(lifted);
    p.setPen(Qt::NoPen);
    p.setBrush(look::faint);
    const QRectF b = lifted.boundingRect();
    for (double y = std::floor(b.top() / 7) * 7; y < b.bottom(); y += 7)
        for (double x = std::floor(b.left() / 7) * 7 + (int(y / 7) % 2 ? 3.5 : 0); x < b.right(); x += 7)
            p.drawEllipse(QPointF(x, y), 0.9, 0.9);
    p.restore();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(look::ink, 1.4, Qt::DashLine));
    p.drawPath(lifted);
}

void draw_over(QPainter& p, const PlanScene& s, const Camera& c) {
    // On coupled ground the bearing check compares no single place with the allowable pressure.
    if (s.quantity != Quantity::pressure || !s.map || !s.combination || s.model->ground.model == GroundModel::coupled ||
        s.combination->combination.purpose != Purpose::service)
        return;
    if (s.map->most <= s.model->ground.allowable_pressure) return;
    const QPainterPath over = region(c, s.answer->mesh, *s.map, s.model->ground.allowable_pressure, true).simplified();
    p.save();
    p.setClipPath(over);
    p.setPen(QPen(look::rust, 1.2));
    const QRectF b = over.boundingRect();
    for (double x = b.left() - b.height(); x < b.right(); x += 6)
        p.drawLine(QPointF(x, b.bottom()), QPointF(x + b.height(), b.top()));
    p.restore();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(look::rust, 1.5));
    p.drawPath(over);
}

void draw_openings(QPainter& p, const PlanScene& s, const Camera& c) {
    for (const Opening& o : s.model->slab.openings) {
        const QPolygonF q = on_paper(c, o.outline);
        p.setPen(QPen(look::ink, 1.4));
        p.setBrush(look::sheet);
        p.drawPolygon(q);
        p.setPen(QPen(look::faint, 0.8));
        for (int i = 0; i + 2 < q.size(); ++i) p.drawLine(q[i], q[(i + 2) % q.size()]);
    }
}

void draw_strips(QPainter& p, const PlanScene& s, const Camera& c) {
    if (!s.answer) return;
    p.save();
    p.setClipPath(slab_path(*s.model, c), Qt::IntersectClip);
    for (const StripAnswer& a : s.answer->steel.strips) {
        const Point u = unit(a.strip.axis[1] - a.strip.axis[0]), n = left_of(u);
        p.setPen(QPen(look::faint, 0.8, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawPolygon(on_paper(c, {a.strip.axis[0] - a.strip.reach[1] * n, a.strip.axis[1] - a.strip.reach[1] * n,
                                   a.strip.axis[1] + a.strip.reach[0] * n, a.strip.axis[0] + a.strip.reach[0] * n}));
    }
    p.restore();
}

void draw_columns(QPainter& p, const PlanScene& s, const Camera& c) {
    p.setRenderHint(QPainter::Antialiasing, true);
    for (const Wall& w : s.model->walls) {
        QPolygonF path;
        for (Point q : w.path) path << c.at(q);
        p.setPen(QPen(look::ink, std::max(2.0, w.thickness * c.scale), Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
        p.drawPolyline(path);
    }
    const bool names = c.scale > 13;
    for (const Column& k : s.model->columns) {
        const bool chosen = s.chosen.count({ThingKind::column, k.id});
        const QPolygonF q = on_paper(c, footprint(k));
        p.setPen(QPen(look::sheet, 1));
        p.setBrush(look::ink);
        p.drawPolygon(q);
        if (chosen) {
            p.setPen(QPen(look::moss, 2));
            p.setBrush(Qt::NoBrush);
            p.drawRect(q.boundingRect().adjusted(-4, -4, 4, 4));
        }
        const QPointF corner = q.boundingRect().topRight();
        if (names || chosen) {
            p.setFont(look::font(look::Size::small, chosen));
            QPainterPath text;
            text.addText(corner + QPointF(chosen ? 6 : 3, chosen ? -5 : -1), p.font(), QString::fromStdString(k.id));
            p.setPen(QPen(QColor(0xF6, 0xF3, 0xEA, 225), 4.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            p.setBrush(Qt::NoBrush);
            p.drawPath(text);
            p.fillPath(text, look::ink);
        }
    }
}

void draw_uses(QPainter& p, const PlanScene& s, const Camera& c) {
    if (!s.answer) return;
    p.setFont(look::font(look::Size::small, true));
    for (const Row& r : s.answer->checks) {
        if (r.id != "punching" || r.item.empty() || !r.at) continue;
        const Column* k = find_id(s.model->columns, r.item);
        if (!k) continue;
        const bool over = r.status == Status::over;
        for (const PunchingAnswer& a : s.answer->punching)
            if (a.id == r.item) {
                const bool open = r.status == Status::not_checked;  // a use that stands for nothing has no colour
                QColor colour = open ? look::faint : look::colour_of_use(a.utilisation, over);
                p.setPen(QPen(colour, over ? 2 : 1.4, over || open ? Qt::DashLine : Qt::SolidLine));
                colour.setAlpha(45);
                p.setBrush(colour);
                p.drawPolygon(on_paper(c, a.outline));
            }
        const QString text = r.utilisation ? look::number(*r.utilisation, 2) : "not checked";
        const QPointF at = c.at(k->at) + QPointF(0, c.scale * k->size.back() / 2 + 14);
        const QRectF box(at.x() - 30, at.y() - 8, 60, 15);
        p.setPen(look::ink);
        QPainterPath path;
        path.addText(QPointF(at.x() - QFontMetricsF(p.font()).horizontalAdvance(text) / 2, at.y() + 4), p.font(), text);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(0xF6, 0xF3, 0xEA, 220), 3.5));
        p.drawPath(path);
        p.fillPath(path, over || !r.utilisation ? look::rust : look::ink);
    }
}

void draw_loads(QPainter& p, const PlanScene& s, const Camera& c) {
    const LoadCase* k = find_id(s.model->loads.cases, s.load_case);
    if (!k) return;
    double largest = 0;
    for (const LoadItem& i : k->items)
        if (auto l = std::get_if<ColumnLoad>(&i.load)) largest = std::max(largest, std::abs(l->N));
    p.setFont(look::font(look::Size::small));
    for (const LoadItem& i : k->items) {
        if (auto l = std::get_if<AreaLoad>(&i.load)) {
            p.setPen(QPen(look::ochre, 1, Qt::DashLine));
            p.setBrush(QColor(0xC2, 0x8A, 0x1E, 28));
            p.drawPolygon(on_paper(c, l->outline));
        } else if (auto l = std::get_if<LineLoad>(&i.load)) {
            QPolygonF q;
            for (Point v : l->path) q << c.at(v);
            p.setPen(QPen(look::ochre, 3));
            p.drawPolyline(q);
        } else if (auto l = std::get_if<PointLoad>(&i.load)) {
            p.setPen(QPen(look::ochre, 2));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(c.at(l->at), 5, 5);
        }
    }
    for (const LoadItem& i : k->items) {
        const auto* l = std::get_if<ColumnLoad>(&i.load);
        const Column* column = l ? find_id(s.model->columns, l->column) : nullptr;
        if (!column || largest <= 0 || l->N == 0) continue;
        const double r = 26 * std::sqrt(std::abs(l->N) / largest);  // its area is the force
        const QPointF at = c.at(column->at);
        QColor colour = l->N > 0 ? look::moss : look::rust;
        p.setPen(QPen(colour, 1.4, l->N > 0 ? Qt::SolidLine : Qt::DashLine));
        colour.setAlpha(60);
        p.setBrush(colour);
        p.drawEllipse(at, r, r);
        QPainterPath text;
        const QString t = look::number(l->N, 0);
        text.addText(QPointF(at.x() - QFontMetricsF(p.font()).horizontalAdvance(t) / 2, at.y() + r + 12), p.font(), t);
        p.setPen(QPen(QColor(0xF6, 0xF3, 0xEA, 220), 3.5));
        p.setBrush(Qt::NoBrush);
        p.drawPath(text);
        p.fillPath(text, look::ink);
    }
}

void draw_cut_line(QPainter& p, const PlanScene& s, const Camera& c) {
    const QPointF a = c.at(s.cut[0]), b = c.at(s.cut[1]);
    p.setPen(QPen(QColor(0xF6, 0xF3, 0xEA, 190), 4));  // a halo: the line crosses dark ground too
    p.drawLine(a, b);
    QPen pen(look::moss, 1.8);
    pen.setDashPattern({8, 3});
    p.setPen(pen);
    p.drawLine(a, b);
    p.setFont(look::font(look::Size::small, true));
    for (auto [at, name] : {std::pair{a, QString("A")}, {b, QString("A′")}}) {
        p.setPen(Qt::NoPen);
        p.setBrush(look::moss);
        p.drawEllipse(at, 9, 9);
        p.setPen(look::sheet);
        p.drawText(QRectF(at.x() - 10, at.y() - 9, 20, 18), Qt::AlignCenter, name);
    }
    if (s.hair) {
        const QPointF h = a + *s.hair / std::max(1e-9, distance(s.cut[0], s.cut[1])) * (b - a);
        p.setPen(QPen(look::ink, 1));
        p.setBrush(look::sheet);
        p.drawEllipse(h, 3.5, 3.5);
    }
}

void draw_handles(QPainter& p, const PlanScene& s, const Camera& c) {
    const auto* ring = std::get_if<Polygon>(&s.model->slab.outline);
    if (!ring) return;
    const int n = int(ring->size());
    for (const Thing& t : s.chosen)
        if (t.kind == ThingKind::slab_side && t.part < n) {
            p.setPen(QPen(look::moss, 4));
            p.drawLine(c.at((*ring)[t.part]), c.at((*ring)[(t.part + 1) % n]));
        }
    if (!s.handles) return;
    p.setPen(QPen(look::moss, 1.4));
    p.setBrush(look::sheet);
    for (Point q : *ring) p.drawRect(QRectF(c.at(q) - QPointF(3.5, 3.5), QSizeF(7, 7)));
    p.setBrush(look::moss);
    for (int i = 0; i < n; ++i) {  // grips at the middle of each side
        const QPointF a = c.at((*ring)[i]), b = c.at((*ring)[(i + 1) % n]), m = (a + b) / 2;
        if (std::hypot((b - a).x(), (b - a).y()) < 30) continue;
        const double t = std::atan2((b - a).y(), (b - a).x());
        p.save();
        p.translate(m);
        p.rotate(t * 180 / M_PI);
        p.setPen(Qt::NoPen);
        p.drawRoundedRect(QRectF(-7, -2, 14, 4), 2, 2);
        p.restore();
    }
}

void draw_flag(QPainter& p, const PlanScene& s, const Camera& c) {
    if (!s.flag) return;
    const QPointF at = c.at(*s.flag);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(look::sheet, 5));
    p.drawEllipse(at, 8, 8);
    p.setPen(QPen(look::ochre, 2.4));
    p.drawEllipse(at, 8, 8);
    if (s.flag_text.isEmpty()) return;
    p.setFont(look::font(look::Size::normal, true));
    const QFontMetricsF m(p.font());
    QRectF box(at.x() + 13, at.y() - 10, m.horizontalAdvance(s.flag_text) + 10, 19);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(0xF6, 0xF3, 0xEA, 225));
    p.drawRoundedRect(box, 3, 3);
    p.setPen(look::ink);
    p.drawText(box, Qt::AlignCenter, s.flag_text);
}

void draw_scale_bar(QPainter& p, const Camera& c, const QRectF& area) {
    double metres = 1;
    for (double m : {1.0, 2.0, 5.0, 10.0, 20.0, 50.0})
        if (m * c.scale < 130) metres = m;
    const double w = metres * c.scale, x = area.left() + 14, y = area.bottom() - 12;
    p.setPen(QPen(look::ink, 1));
    p.setBrush(look::ink);
    p.drawRect(QRectF(x, y, w / 2, 3));
    p.setBrush(look::sheet);
    p.drawRect(QRectF(x + w / 2, y, w / 2, 3));
    p.setFont(look::font(look::Size::small));
    p.drawText(QRectF(x + w + 6, y - 8, 60, 16), Qt::AlignLeft | Qt::AlignVCenter, look::number(metres, 0) + " m");
}

// A borehole: a ring where it stands, its log beside it, to one scale for all.
void draw_boreholes(QPainter& p, const PlanScene& s, const Camera& c) {
    const Ground& g = s.model->ground;
    double deepest = 1;
    for (const Borehole& b : g.boreholes)
        if (!b.layers.empty()) deepest = std::max(deepest, ground_level_of(*s.model, b) - b.layers.back().bottom);
    p.setFont(look::font(look::Size::small));
    for (int k = 0; k < int(g.boreholes.size()); ++k) {
        const Borehole& b = g.boreholes[size_t(k)];
        const QPointF at = c.at(b.at);
        const bool held = s.chosen.count({ThingKind::borehole, b.id});
        p.setPen(QPen(held ? look::moss : look::ink, held ? 2.4 : 1.4));
        p.setBrush(look::white);
        p.drawEllipse(at, 6, 6);
        p.drawLine(at - QPointF(9, 0), at + QPointF(9, 0));
        p.drawLine(at - QPointF(0, 9), at + QPointF(0, 9));
        const double height = 64, x = at.x() + 13, top = at.y() - height / 2;
        double above = ground_level_of(*s.model, b), y = top;
        for (const BoreholeLayer& l : b.layers) {
            int stratum = -1;
            for (size_t i = 0; i < g.strata.size(); ++i)
                if (g.strata[i].id == l.stratum) stratum = int(i);
            const double h = std::max(0.0, above - l.bottom) / deepest * height;
            QPainterPath box;
            box.addRect(QRectF(x, y, 11, h));
            fill_stratum(p, box, stratum);
            p.setPen(QPen(look::ink, 0.7));
            p.setBrush(Qt::NoBrush);
            p.drawRect(QRectF(x, y, 11, h));
            y += h, above = l.bottom;
        }
        const QString name = QString::fromStdString(b.id);
        QPainterPath text;
        text.addText(QPointF(at.x() - p.fontMetrics().horizontalAdvance(name) / 2.0, at.y() - 14), p.font(), name);
        p.strokePath(text, QPen(look::sheet, 3.5));
        p.fillPath(text, held ? look::moss : look::ink);
    }
    for (const auto& [id, where] : s.coming) {
        const QPointF at = c.at(where);
        p.setPen(QPen(look::ochre, 1.8, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(at, 8, 8);
        p.setPen(look::ink);
        p.drawText(at + QPointF(11, 4), QString::fromStdString(id));
    }
    if (s.pin) {
        const QPointF at = c.at(*s.pin);
        p.setPen(QPen(look::sheet, 4));
        p.drawLine(at, at + QPointF(0, -18));
        p.setPen(QPen(look::moss, 1.8));
        p.drawLine(at, at + QPointF(0, -18));
        p.setBrush(look::moss);
        p.drawEllipse(at + QPointF(0, -20), 5, 5);
    }
}

}  // namespace

void draw_plan(QPainter& p, const PlanScene& s, const Camera& c, const QRectF& area) {
    p.save();
    p.setClipRect(area);
    p.fillRect(area, look::sheet);
    if (!s.model) return p.restore();
    const auto* ring = std::get_if<Polygon>(&s.model->slab.outline);
    const bool empty = ring && ring->size() < 3;
    p.setRenderHint(QPainter::Antialiasing, true);
    if (!empty) {
        const QPainterPath slab = slab_path(*s.model, c);
        p.fillPath(slab, QColor(0xE6, 0xE3, 0xD6));
        if (s.answer && s.map && s.quantity != Quantity::none) {
            p.save();
            if (s.stale) p.setClipPath(slab, Qt::IntersectClip);
            draw_bands(p, c, s.answer->mesh, *s.map, s.bands, info(s.quantity).scale);
            draw_isolines(p, c, s.answer->mesh, *s.map, s.bands, s.quantity);
            draw_over(p, s, c);
            p.restore();
        }
        if (s.answer && s.settlement) draw_lifted(p, s, c);
        draw_setting_out(p, s, c, area);
        p.setBrush(Qt::NoBrush);
        for (const SlabPatch& t : s.model->slab.patches) {
            p.setPen(QPen(look::ink, 1.1, Qt::DashLine));
            p.drawPolygon(on_paper(c, t.outline));
            p.setFont(look::font(look::Size::small));
            p.setPen(look::ink);
            const QPointF at = c.at(t.outline.empty() ? Point{} : box_of(t.outline).low);
            p.drawText(at + QPointF(4, -4),
                       QString("%1 %2 m").arg(QString::fromStdString(t.id), look::number(t.thickness, 2)));
        }
        p.setPen(QPen(look::ink, 2.2, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
        p.setBrush(Qt::NoBrush);
        p.drawPath(slab);
        draw_openings(p, s, c);
        if (s.strips) draw_strips(p, s, c);
        if (!s.load_case.empty()) draw_loads(p, s, c);
        if (s.uses) draw_uses(p, s, c);
        if (s.show_cut) draw_cut_line(p, s, c);
        draw_columns(p, s, c);
        draw_handles(p, s, c);
        if (s.boreholes) draw_boreholes(p, s, c);
        draw_flag(p, s, c);
    }
    if (empty && s.invite) {
        p.setFont(look::font(look::Size::normal));
        p.setPen(look::faint);
        p.drawText(area, Qt::AlignCenter, "The plan. Draw the slab's outline here (Ctrl+2), or begin at the right.");
    }
    draw_scale_bar(p, c, area);
    p.restore();
}

QRectF draw_plan_key(QPainter& p, const PlanScene& s, const Camera& c, const QRectF& area) {
    if (!s.model || !s.combination || s.quantity == Quantity::none || !s.map || s.map->corner.empty()) return {};
    // Clear of the slab first, then of the name tabs along its top, then wide, then to the upper right.
    const QPainterPath slab = slab_path(*s.model, c);
    const QRectF slab_box = slab.boundingRect();
    QRectF best;
    double least = 1e300;
    for (const QSizeF& size : {QSizeF(270, 76), QSizeF(196, 76)})
        for (int iy = 0; iy <= 10; ++iy)
            for (int ix = 10; ix >= 0; --ix) {
                const QRectF r(area.left() + 12 + 0.1 * ix * (area.width() - size.width() - 24),
                               area.top() + 8 + 0.1 * iy * (area.height() - size.height() - 34), size.width(),
                               size.height());
                double cost = 0.02 * iy + 0.01 * (10 - ix) + (size.width() < 200 ? 0.5 : 0);
                for (int i = 0; i <= 12; ++i)
                    for (int j = 0; j <= 6; ++j)
                        cost += slab.contains(r.topLeft() + QPointF(r.width() * i / 12, r.height() * j / 6));
                if (r.intersects(QRectF(slab_box.left(), slab_box.top() - 34, slab_box.width(), 26))) cost += 4;
                if (cost < least - 1e-9) least = cost, best = r;
            }
    p.fillRect(best.adjusted(-6, -3, 6, 3), QColor(0xF6, 0xF3, 0xEA, 235));
    const QuantityInfo& i = info(s.quantity);
    const QString title =
        QString("%1 · %2").arg(QString::fromUtf8(i.title), QString::fromStdString(s.combination->combination.id));
    std::optional<double> mark;
    QString text;
    const bool coupled = s.model->ground.model == GroundModel::coupled;
    if (s.quantity == Quantity::pressure && coupled && s.model->ground.yield_pressure) {
        mark = s.model->ground.yield_pressure;
        text = "yields at " + look::with_unit(*mark, "kPa");
    } else if (s.quantity == Quantity::pressure && !coupled && s.combination->combination.purpose == Purpose::service) {
        mark = s.model->ground.allowable_pressure;
        text = "allowable " + look::with_unit(*mark, "kPa");
    }
    const QRectF bar = draw_ruler(p, best, title, s.quantity, s.bands, mark, text);
    if (s.settlement && s.settlement->least < 0 && !s.model->ground.tension) {
        p.setFont(look::font(look::Size::small));
        p.setPen(QPen(look::ink, 1, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        const QRectF box(bar.left(), bar.bottom() + 22, 13, 9);
        p.drawRect(box);
        p.setPen(Qt::NoPen);
        p.setBrush(look::faint);
        for (int k = 0; k < 3; ++k) p.drawEllipse(box.topLeft() + QPointF(3 + 3.5 * k, k % 2 ? 3 : 6), 0.9, 0.9);
        p.setPen(look::ink);
        p.drawText(QRectF(box.right() + 5, box.top() - 4, 130, 16), Qt::AlignLeft | Qt::AlignVCenter,
                   QString("lifted, %1 % of base").arg(look::number(100 * (1 - s.combination->contact_ratio), 1)));
    }
    return bar;
}

}  // namespace mossbed
