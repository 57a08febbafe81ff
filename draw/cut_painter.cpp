#include "draw/cut_painter.h"

#include <QPainterPath>

#include "core/ground/soil_profile.h"
#include "core/validate/validate.h"
#include "draw/plan_painter.h"

namespace mossbed {

std::pair<double, double> cut_span(const CutScene& s, const QRectF& area) {
    const double beside = s.wide ? 0.13 * area.width() : 0;
    return {area.left() + 46 + beside, area.right() - 62 - beside};
}

namespace {

CutSamples sample(const CutScene& s) {
    CutSamples out;
    if (!s.answer || !s.combination || !s.combination->has_field()) return out;
    const Answer& a = *s.answer;
    const Finder finder(a.mesh);
    const double L = distance(s.line[0], s.line[1]);
    const Point u = unit(s.line[1] - s.line[0]);
    const int n = std::clamp(int(L / (a.mesh.size / 3)), 60, 500);
    for (int i = 0; i <= n; ++i) {
        const double t = L * i / n;
        const Finder::Hit h = finder.at(s.line[0] + t * u);
        out.t.push_back(t);
        out.on.push_back(h.element >= 0);
        double p = 0, w = 0, m = 0;
        if (h.element >= 0)
            for (int k = 0; k < corners(a.mesh.elements[h.element]); ++k) {
                const int node = a.mesh.elements[h.element][k];
                p += h.weight[k] * s.combination->pressure[node] * a.pressure_beside(h.element, node);
                w += h.weight[k] * 1000 * s.combination->settlement(node);
                m += h.weight[k] * turned(s.combination->forces[a.slots.of_corner[h.element][k]], u).mx;
            }
        out.pressure.push_back(p), out.settlement.push_back(w), out.moment.push_back(m);
    }
    return out;
}

// Stretches of samples that lie on the slab.
std::vector<std::pair<int, int>> stretches(const CutSamples& c) {
    std::vector<std::pair<int, int>> out;
    for (int i = 0; i < int(c.t.size()); ++i) {
        if (!c.on[i]) continue;
        if (out.empty() || !c.on[i - 1]) out.push_back({i, i});
        out.back().second = i;
    }
    return out;
}

void value_label(QPainter& p, QPointF at, const QString& text, QColor colour) {
    QPainterPath path;
    path.addText(at - QPointF(QFontMetricsF(p.font()).horizontalAdvance(text) / 2, 0), p.font(), text);
    p.setPen(QPen(QColor(0xF6, 0xF3, 0xEA, 230), 3.5));
    p.setBrush(Qt::NoBrush);
    p.drawPath(path);
    p.fillPath(path, colour);
}

// Where the curve has its largest and other marked maxima, at least 90 px apart.
std::vector<int> peaks(const std::vector<double>& v, const std::vector<char>& on, double pixels_per_sample) {
    std::vector<int> order, out;
    for (int i = 1; i + 1 < int(v.size()); ++i)
        if (on[i] && (!on[i - 1] || v[i] >= v[i - 1]) && (!on[i + 1] || v[i] > v[i + 1])) order.push_back(i);
    std::sort(order.begin(), order.end(), [&](int a, int b) { return v[a] > v[b]; });
    for (int i : order) {
        if (out.size() >= 5) break;
        if (std::all_of(out.begin(), out.end(), [&](int j) { return std::abs(i - j) * pixels_per_sample > 100; }))
            out.push_back(i);
    }
    return out;
}

}  // namespace

CutSamples draw_cut(QPainter& p, const CutScene& s, const QRectF& area) {
    p.save();
    p.setClipRect(area);
    p.fillRect(area, look::sheet);
    CutSamples c = sample(s);
    if (!s.model) return p.restore(), c;
    const auto* ring = std::get_if<Polygon>(&s.model->slab.outline);
    if (ring && ring->size() < 3) {
        p.setFont(look::font(look::Size::normal));
        p.setPen(look::faint);
        p.drawText(area, Qt::AlignCenter, "The cut shows here once there is a slab.");
        p.restore();
        return c;
    }
    p.setRenderHint(QPainter::Antialiasing, true);
    const Model& m = *s.model;
    const auto [x0, x1] = cut_span(s, area);
    const double L = distance(s.line[0], s.line[1]), scale = (x1 - x0) / std::max(L, 1e-9);
    const Point u = unit(s.line[1] - s.line[0]);
    auto x = [&](double t) { return x0 + t * scale; };
    // Heights: the slab to scale, the rest shares what is left below.
    double deepest = m.slab.top_level - m.slab.thickness;
    for (const SlabPatch& t : m.slab.patches) deepest = std::min(deepest, underside_at(m, centroid(t.outline)));
    const double thick = std::clamp((m.slab.top_level - deepest) * scale, 12.0, 0.30 * area.height());
    const double v_scale = thick / (m.slab.top_level - deepest);
    const double top = area.top() + std::clamp(0.17 * area.height(), 24.0, 44.0);
    auto y = [&](double level) { return top + (m.slab.top_level - level) * v_scale; };
    const double bottom = y(deepest), room = area.bottom() - bottom - 14;

    // The ground beside and below. Strata have a scale of their own below the base, written at the left.
    const bool strata = s.ground && !boreholes_that_count(m.ground).empty() && !has_errors(problems_of_strata(m));
    std::optional<SoilProfile> profile;
    if (strata) profile.emplace(m.ground);
    double shown_bottom = deepest - 1;
    if (profile) {
        shown_bottom = profile->deepest();
        if (s.answer && s.answer->ground) {
            const double limit = s.answer->ground->layers->limit().level;
            shown_bottom = std::max(shown_bottom, limit - 0.12 * (deepest - limit));
        }
        constexpr double deepest_drawn = 500;  // m below the base: a level of −1e9 is no reason to draw to there
        shown_bottom = std::clamp(shown_bottom, deepest - deepest_drawn, deepest - 1);
    }
    const double d_scale = (area.bottom() - bottom - 4) / (deepest - shown_bottom);
    c.base_y = bottom, c.base_level = deepest, c.above = v_scale, c.below = d_scale;
    auto depth_y = [&](double level) { return level >= deepest ? y(level) : bottom + (deepest - level) * d_scale; };
    auto plan_at = [&](double paper_x) { return s.line[0] + ((paper_x - x0) / scale) * u; };

    std::vector<std::pair<QPointF, int>> names;  // of strata, written over everything
    const Point middle = 0.5 * (s.line[0] + s.line[1]);
    const double ground = profile ? profile->at(middle).ground_level : m.ground.ground_level.value_or(m.slab.top_level);
    const double y_ground = std::clamp(y(ground), area.top() + 6, bottom);
    if (s.ground) {
        if (profile) {
            const int n = 60;
            std::vector<double> xs;
            std::vector<SoilColumn> columns;
            for (int i = 0; i <= n; ++i) {
                xs.push_back(area.left() + area.width() * i / n);
                columns.push_back(profile->at(plan_at(xs.back())));
            }
            int places = 0;
            for (const SoilColumn& k : columns)
                for (const SoilLayer& l : k.layers) places = std::max(places, l.place + 1);
            for (int place = 0; place < places; ++place) {
                QPolygonF upper, lower;
                int stratum = -1;
                double thickest = 0;
                QPointF name_at;
                for (int i = 0; i <= n; ++i) {
                    // where the layer has pinched out it is a line at the bottom of the one above
                    double top_level = columns[size_t(i)].ground_level, bottom_level = top_level;
                    for (const SoilLayer& l : columns[size_t(i)].layers) {
                        if (l.place > place) break;
                        top_level = l.place == place ? l.top : l.bottom, bottom_level = l.bottom;
                        if (l.place == place) stratum = l.stratum;
                    }
                    const double a = std::max(depth_y(top_level), area.top()),
                                 b = std::min(depth_y(bottom_level), area.bottom());
                    upper << QPointF(xs[size_t(i)], std::min(a, area.bottom()));
                    lower << QPointF(xs[size_t(i)], std::max(b, area.top()));
                    const bool beside = xs[size_t(i)] < x0 - 40;
                    const double from = beside ? a : std::max(a, bottom + 2), seen = b - from;
                    if (i > n / 12 && i < n - n / 12 && seen > thickest + 2)
                        thickest = seen, name_at = {xs[size_t(i)], (b + from) / 2};
                }
                if (stratum < 0) continue;
                QPainterPath shape;
                std::reverse(lower.begin(), lower.end());
                shape.addPolygon(upper + lower);
                shape.closeSubpath();
                fill_stratum(p, shape, stratum);
                std::reverse(lower.begin(), lower.end());
                p.setPen(QPen(QColor(0x8F, 0x82, 0x62), 0.9));
                p.setBrush(Qt::NoBrush);
                p.drawPolyline(lower);
                if (thickest > 12) names.push_back({name_at, stratum});
            }
        } else {
            QPainterPath soil;
            soil.addRect(QRectF(area.left(), y_ground, area.width(), area.bottom() - y_ground));
            p.fillPath(soil, QColor(0xEF, 0xE8, 0xD4));
            p.setPen(QPen(QColor(0xDD, 0xD2, 0xB6), 0.8));
            for (double yy = std::max(y_ground, bottom) + 9; yy < area.bottom(); yy += 11)
                for (double xx = area.left() + (int(yy) % 2) * 14; xx < area.right(); xx += 34)
                    p.drawLine(QPointF(xx, yy), QPointF(xx + 12, yy));
        }
        // the excavation over the slab
        double from = 1e300, to = -1e300;
        for (size_t i = 0; i < c.t.size(); ++i)
            if (c.on[i]) from = std::min(from, c.t[i]), to = std::max(to, c.t[i]);
        if (from < to && y_ground < top)
            p.fillRect(QRectF(x(from) - 8, area.top(), (to - from) * scale + 16, bottom - area.top()), look::sheet);
        p.setPen(QPen(QColor(0xA8, 0x98, 0x6E), 1.2));
        if (from < to) {
            p.drawLine(QPointF(area.left(), y_ground), QPointF(x(from) - 8, y_ground));
            p.drawLine(QPointF(x(to) + 8, y_ground), QPointF(area.right(), y_ground));
        }
        std::optional<double> water = m.ground.water_level;
        if (profile)
            if (const double w = profile->at(middle).water_level; std::isfinite(w)) water = w;
        if (water) {
            const double yw = depth_y(*water);
            if (yw < area.bottom() && yw > area.top()) {
                p.setPen(QPen(look::water, 1.2, Qt::DashLine));
                if (from < to) {
                    p.drawLine(QPointF(area.left(), yw), QPointF(x(from) - 8, yw));
                    p.drawLine(QPointF(x(to) + 8, yw), QPointF(area.right(), yw));
                }
                p.setFont(look::font(look::Size::small));
                p.setPen(look::water);
                p.drawText(QRectF(area.right() - 84, yw + 2, 80, 14), Qt::AlignRight,
                           "water " + look::number(*water, 2));
            }
        }
    }

    if (profile) {  // levels, the depth limit, and the boreholes near the line
        p.setFont(look::font(look::Size::small));
        const double span = deepest - shown_bottom, step = span > 160  ? 50
                                                           : span > 40 ? 10
                                                           : span > 16 ? 5
                                                           : span > 8  ? 2
                                                                       : 1;
        for (double level = std::floor(deepest / step) * step; level > shown_bottom; level -= step) {
            const double yy = depth_y(level);
            if (yy < bottom + 6 || yy > area.bottom() - 6) continue;
            p.setPen(QPen(look::faint, 0.8));
            p.drawLine(QPointF(area.left(), yy), QPointF(area.left() + 5, yy));
            p.setPen(look::ink);
            p.drawText(QRectF(area.left() + 8, yy - 7, 42, 14), Qt::AlignLeft | Qt::AlignVCenter,
                       look::number(level, 0) + " m");
        }
        if (s.answer && s.answer->ground) {
            const double yy = depth_y(s.answer->ground->layers->limit().level);
            if (yy < area.bottom()) {
                p.setPen(QPen(look::rust, 1, Qt::DashLine));
                p.drawLine(QPointF(area.left(), yy), QPointF(area.right(), yy));
                value_label(p, {area.right() - 96, yy - 4},
                            "settles down to " + look::number(s.answer->ground->layers->limit().level, 1) + " m",
                            look::rust);
            }
        }
        if (s.wide)
            for (int k = 0; k < int(m.ground.boreholes.size()); ++k) {
                const Borehole& b = m.ground.boreholes[size_t(k)];
                const double t = dot(b.at - s.line[0], u), off = std::abs(cross(u, b.at - s.line[0])), bx = x(t);
                if (b.layers.empty() || bx < area.left() + 52 || bx > area.right() - 10) continue;
                const SoilColumn here = profile->at(b.at);
                p.setPen(QPen(look::ink, 1.4, off > 2 ? Qt::DashLine : Qt::SolidLine));
                p.drawLine(QPointF(bx, std::max(depth_y(here.ground_level), area.top() + 14)),
                           QPointF(bx, std::min(depth_y(b.layers.back().bottom), area.bottom())));
                value_label(p, {bx, std::min(depth_y(b.layers.back().bottom) + 14, area.bottom() - 6)},
                            QString::fromStdString(b.id) +
                                (off > 2 ? QString(" (%1 m off)").arg(look::number(off, 0)) : QString()),
                            look::ink);
                p.setPen(look::ink);  // blow counts where they were taken
                for (const BlowCount& n : b.blow_counts) {
                    const double yy = depth_y(n.level);
                    if (yy > area.bottom() - 18 || yy < area.top() + 8) continue;
                    p.drawText(QRectF(bx + 7, yy - 7, 44, 14), Qt::AlignLeft | Qt::AlignVCenter,
                               "N " + look::number(n.N, 0));
                }
                for (int l = 0; l < int(b.layers.size()); ++l) {
                    const QPointF at(bx, depth_y(b.layers[size_t(l)].bottom));
                    if (at.y() > area.bottom() - 3) continue;
                    p.setPen(QPen(look::ink, 1));
                    p.setBrush(look::white);
                    p.drawRect(QRectF(at.x() - 4, at.y() - 3, 8, 6));
                    c.handles.push_back({k, l, at});
                }
            }
    }

    const auto runs = stretches(c);
    const QFont small = look::font(look::Size::small);
    p.setFont(small);
    const double px = c.t.size() > 1 ? scale * (c.t[1] - c.t[0]) : 1;

    // Pressure hangs from the base.
    const double pressure_room = s.settlement ? 0.47 * room : 0.86 * room;
    double most = 1e-9;
    for (double v : c.pressure) most = std::max(most, v);
    if (s.pressure && !runs.empty()) {
        const double f = (pressure_room - 12) / most;
        for (auto [i0, i1] : runs) {
            auto base = [&](int i) { return y(underside_at(m, s.line[0] + c.t[i] * u)); };
            QPolygonF shape;
            for (int i = i0; i <= i1; ++i) shape << QPointF(x(c.t[i]), base(i) + f * c.pressure[i]);
            QPolygonF curve = shape;
            for (int i = i1; i >= i0; --i) shape << QPointF(x(c.t[i]), base(i));
            p.setPen(Qt::NoPen);
            p.setBrush(QColor(0x9D, 0xB7, 0xB7, 215));
            p.drawPolygon(shape);
            p.setPen(QPen(QColor(0x4F, 0x7F, 0x8C), 0.8));
            const int every = std::max(1, int(std::lround(15 / px)));
            for (int i = i0; i <= i1; i += every)
                p.drawLine(QPointF(x(c.t[i]), base(i)), QPointF(x(c.t[i]), base(i) + f * c.pressure[i]));
            p.setPen(QPen(QColor(0x1F, 0x42, 0x54), 1.5));
            p.setBrush(Qt::NoBrush);
            p.drawPolyline(curve);
        }
        for (int i : peaks(c.pressure, c.on, px))
            value_label(p, {x(c.t[i]), y(underside_at(m, s.line[0] + c.t[i] * u)) + f * c.pressure[i] + 12},
                        look::number(c.pressure[i], 0), QColor(0x1F, 0x42, 0x54));
        p.setPen(QColor(0x1F, 0x42, 0x54));
        p.drawText(QRectF(x1 + 6, bottom + 3, 58, 14), Qt::AlignLeft, "kPa");
    }
    // Settlement below it, exaggerated to a round factor.
    if (s.settlement && !runs.empty()) {
        double low = 1e300, high = -1e300;
        for (size_t i = 0; i < c.t.size(); ++i)
            if (c.on[i]) low = std::min(low, c.settlement[i]), high = std::max(high, c.settlement[i]);
        const double from = bottom + (s.pressure ? pressure_room + 8 : 10), space = area.bottom() - 20 - from;
        const double zero = std::min(0.0, low), span = std::max(high - zero, 1e-6);
        double factor = 1000 * std::max(space, 10.0) / (span * scale);  // paper per real, both in m
        const double power = std::pow(10, std::floor(std::log10(factor)));
        factor = factor / power >= 5 ? 5 * power : factor / power >= 2 ? 2 * power : power;
        c.settlement_factor = factor;
        auto yy = [&](double w) { return from + (w - zero) * factor * scale / 1000; };
        p.setPen(QPen(look::faint, 0.8, Qt::DotLine));
        p.drawLine(QPointF(x0, yy(0)), QPointF(x1, yy(0)));
        p.setPen(look::faint);
        p.drawText(QRectF(x1 + 6, yy(0) - 8, 58, 14), Qt::AlignLeft, "0 mm");
        for (auto [i0, i1] : runs) {
            QPolygonF curve;
            for (int i = i0; i <= i1; ++i) curve << QPointF(x(c.t[i]), yy(c.settlement[i]));
            p.setPen(QPen(look::moss, 2.6));
            p.setBrush(Qt::NoBrush);
            p.drawPolyline(curve);
            value_label(p, {x(c.t[i0]) + 14, yy(c.settlement[i0]) - 6}, look::quantity(c.settlement[i0], "mm"),
                        look::moss);
            value_label(p, {x(c.t[i1]) - 14, yy(c.settlement[i1]) - 6}, look::quantity(c.settlement[i1], "mm"),
                        look::moss);
            int worst = i0;
            for (int i = i0; i <= i1; ++i)
                if (c.settlement[i] > c.settlement[worst]) worst = i;
            if ((worst - i0) * px > 60 && (i1 - worst) * px > 60)
                value_label(p, {x(c.t[worst]), yy(c.settlement[worst]) + 14},
                            look::with_unit(c.settlement[worst], "mm"), look::moss);
        }
    }

    // The slab itself with its steps, and what stands on it.
    for (auto [i0, i1] : runs) {
        QPolygonF slab;
        auto upper = [&](Point q) {
            const double under = underside_at(m, q);
            return under + thickness_at(m, q);
        };
        for (int i = i0; i <= i1; ++i) slab << QPointF(x(c.t[i]), y(upper(s.line[0] + c.t[i] * u)));
        for (int i = i1; i >= i0; --i) slab << QPointF(x(c.t[i]), y(underside_at(m, s.line[0] + c.t[i] * u)));
        p.setPen(QPen(look::ink, 1.3));
        p.setBrush(look::concrete);
        p.drawPolygon(slab);
    }
    auto stub = [&](double from, double to, double foot, double height, const QString& name) {
        const QRectF r(x(from), y(foot) - height, (to - from) * scale, height);
        p.setPen(QPen(look::ink, 1.2));
        p.setBrush(look::concrete);
        p.drawRect(r);
        if (name.isEmpty()) return;
        p.setPen(look::ink);
        p.drawText(QRectF(r.center().x() - 30, r.top() - 15, 60, 14), Qt::AlignCenter, name);
    };
    const double reach = 0.75;  // columns this near to the line are shown on it, m
    const double rise = std::max(12.0, top - area.top() - 18);
    for (const Column& k : m.columns) {
        const double t = dot(k.at - s.line[0], u), off = std::abs(cross(u, k.at - s.line[0]));
        const double half = box_of(footprint(k)).width() / 2;
        if (t > 0 && t < L && off < half + reach)
            stub(t - half, t + half, m.slab.top_level, rise, QString::fromStdString(k.id));
    }
    for (const Wall& w : m.walls)
        for (size_t i = 0; i + 1 < w.path.size(); ++i)
            if (auto at = segment_crossing(w.path[i], w.path[i + 1], s.line[0], s.line[1])) {
                const double t = dot(*at - s.line[0], u);
                stub(t - w.thickness / 2, t + w.thickness / 2, m.slab.top_level, rise, QString::fromStdString(w.id));
            }
    if (s.moment && !runs.empty()) {
        double size = 1e-9;
        for (size_t i = 0; i < c.t.size(); ++i)
            if (c.on[i]) size = std::max(size, std::abs(c.moment[i]));
        const double mid = y(m.slab.top_level - m.slab.thickness / 2), f = std::min(0.42 * room, 70.0) / size;
        for (auto [i0, i1] : runs) {
            QPolygonF curve;  // on the side in tension
            for (int i = i0; i <= i1; ++i) curve << QPointF(x(c.t[i]), mid + f * c.moment[i]);
            p.setPen(QPen(QColor(0x8A, 0x52, 0x17), 1.8));
            p.setBrush(Qt::NoBrush);
            p.drawPolyline(curve);
        }
        for (int i : peaks(c.moment, c.on, px))
            if (c.moment[i] > 0.15 * size)
                value_label(p, {x(c.t[i]), mid + f * c.moment[i] + 12}, look::number(c.moment[i], 0),
                            QColor(0x8A, 0x52, 0x17));
        p.setPen(QColor(0x8A, 0x52, 0x17));
        p.drawText(QRectF(x1 + 6, mid - 20, 58, 14), Qt::AlignLeft, "kN·m/m");
    }
    p.setFont(look::font(look::Size::small));
    for (auto [at, stratum] : names) {
        const QString text = QString::fromStdString(m.ground.strata[size_t(stratum)].id);
        const double w = p.fontMetrics().horizontalAdvance(text);
        value_label(p, {std::clamp(at.x(), area.left() + 60 + w / 2, area.right() - 80 - w / 2), at.y() + 4}, text,
                    look::ink);
    }
    p.setFont(look::font(look::Size::small, true));
    for (auto [t, name] : {std::pair{0.0, QString("A")}, {L, QString("A′")}}) {
        p.setPen(look::moss);
        p.drawText(QRectF(x(t) - (t == 0 ? 40 : -6), top - 4, 34, 14), t == 0 ? Qt::AlignRight : Qt::AlignLeft, name);
    }
    if (s.hair) {
        p.setPen(QPen(look::ink, 1, Qt::DotLine));
        p.drawLine(QPointF(x(*s.hair), area.top()), QPointF(x(*s.hair), area.bottom()));
    }
    p.restore();
    return c;
}

}  // namespace mossbed
