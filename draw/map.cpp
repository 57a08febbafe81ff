#include "draw/map.h"

#include <QPainterPath>
#include <map>
#include <set>

namespace mossbed {

const std::vector<QuantityInfo>& quantities() {
    static const std::vector<QuantityInfo> all{
        {Quantity::settlement, "settlement", "Settlement", "mm", look::Scale::settled},
        {Quantity::pressure, "pressure", "Contact pressure", "kPa", look::Scale::pressure},
        {Quantity::gross, "gross", "Gross pressure (with water)", "kPa", look::Scale::pressure},
        {Quantity::net, "net", "Net pressure (less excavation)", "kPa", look::Scale::moment},
        {Quantity::modulus, "modulus", "Modulus of subgrade reaction", "MN/m³", look::Scale::settled},
        {Quantity::mx, "mx", "Moment mx (bars along x)", "kN·m/m", look::Scale::moment},
        {Quantity::my, "my", "Moment my (bars along y)", "kN·m/m", look::Scale::moment},
        {Quantity::mxy, "mxy", "Twisting moment mxy", "kN·m/m", look::Scale::moment},
        {Quantity::none, "none", "No map", "", look::Scale::settled}};
    return all;
}

const QuantityInfo& info(Quantity q) {
    for (const QuantityInfo& i : quantities())
        if (i.quantity == q) return i;
    return quantities().back();
}

void Camera::show(const Box& box, const QRectF& area) {
    if (box.empty() || area.width() <= 0) return;
    scale = std::min(area.width() / std::max(box.width(), 0.5), area.height() / std::max(box.height(), 0.5));
    const Point m = box.middle();
    origin = area.center() - QPointF(scale * m.x, -scale * m.y);
}

FieldMap make_map(const Answer& a, const CombinationAnswer& c, Quantity q) {
    FieldMap map;
    if (q == Quantity::none || !c.has_field()) return map;
    map.corner.resize(a.mesh.elements.size());
    map.least = 1e300, map.most = -1e300;
    for (size_t e = 0; e < a.mesh.elements.size(); ++e)
        for (int k = 0; k < corners(a.mesh.elements[e]); ++k) {
            const int node = a.mesh.elements[e][k];
            double v = 0;
            const double pressed = c.pressure[node] * a.pressure_beside(int(e), node);  // in this cell
            switch (q) {
                case Quantity::settlement:
                    v = 1000 * c.settlement(node);
                    break;
                case Quantity::pressure:
                    v = pressed;
                    break;
                case Quantity::gross:
                    v = c.gross(node) - c.pressure[node] + pressed;
                    break;
                case Quantity::net:
                    v = c.net(node) - c.pressure[node] + pressed;
                    break;
                case Quantity::modulus:
                    v = (!a.element_modulus.empty() ? a.element_modulus[e]
                         : c.modulus.empty()        ? a.modulus[node]
                                                    : c.modulus[node]) /
                        1000;
                    break;
                case Quantity::mx:
                    v = c.forces[a.slots.of_corner[e][k]].mx;
                    break;
                case Quantity::my:
                    v = c.forces[a.slots.of_corner[e][k]].my;
                    break;
                case Quantity::mxy:
                    v = c.forces[a.slots.of_corner[e][k]].mxy;
                    break;
                case Quantity::none:
                    break;
            }
            map.corner[e][k] = v;
            if (v < map.least) map.least = v, map.least_at = a.mesh.nodes[node];
            if (v > map.most) map.most = v, map.most_at = a.mesh.nodes[node];
        }
    return map;
}

namespace {
double round_step(double raw) {
    const double p = std::pow(10, std::floor(std::log10(raw)));
    for (double f : {1.0, 2.0, 2.5, 5.0, 10.0})
        if (f * p >= raw * (1 - 1e-9)) return f * p;
    return 10 * p;
}
}  // namespace

Bands natural_bands(const FieldMap& map, Quantity q) {
    Bands b;
    if (q == Quantity::modulus && !map.corner.empty()) {
        // Stiff rims must not bleach the rest; one value everywhere still reads.
        std::vector<double> all;
        for (const auto& c : map.corner) all.insert(all.end(), c.begin(), c.end());
        std::nth_element(all.begin(), all.begin() + long(0.97 * double(all.size())), all.end());
        const double high = std::max(all[size_t(0.97 * double(all.size()))], 1e-6), step = round_step(high / 8);
        b.n = std::max(1, int(std::ceil(high / step - 1e-9)));
        b.low = 0, b.high = b.n * step;
        return b;
    }
    if (map.corner.empty() || map.most <= map.least)
        return q == Quantity::settlement || q == Quantity::pressure || q == Quantity::gross ? Bands{0, 1, 4}
                                                                                            : Bands{-1, 1, 8};
    if (info(q).scale == look::Scale::moment) {
        // A spike under a column must not bleach the rest: the scale holds what 99 of 100 corners have.
        std::vector<double> size;
        for (const auto& c : map.corner)
            for (double v : c) size.push_back(std::abs(v));
        std::nth_element(size.begin(), size.begin() + long(0.99 * double(size.size())), size.end());
        const double top = std::max(size[size_t(0.99 * double(size.size()))], 1e-6), step = round_step(top / 5);
        const int n = int(std::ceil(top / step - 1e-9));
        return {-n * step, n * step, 2 * n};
    }
    const double low = q == Quantity::pressure || q == Quantity::gross ? 0 : std::min(0.0, map.least),
                 high = std::max(map.most, low + 1e-9);
    const double step = round_step((high - low) / 10);
    b.low = std::floor(low / step + 1e-9) * step;
    b.n = std::max(1, int(std::ceil((high - b.low) / step - 1e-9)));
    b.high = b.low + b.n * step;
    return b;
}

namespace {

struct Vertex {
    QPointF at;
    double v;
};

// Calls each(triangle) for an element: a quadrilateral as four triangles round its middle.
template <class F>
void triangles(const Camera& camera, const Mesh& mesh, const FieldMap& map, F each) {
    for (size_t e = 0; e < mesh.elements.size(); ++e) {
        const Element& n = mesh.elements[e];
        std::array<Vertex, 4> c;
        const int count = corners(n);
        for (int k = 0; k < count; ++k) c[k] = {camera.at(mesh.nodes[n[k]]), map.corner[e][k]};
        if (count == 3) {
            each(std::array<Vertex, 3>{c[0], c[1], c[2]});
            continue;
        }
        const Vertex m{(c[0].at + c[1].at + c[2].at + c[3].at) / 4, (c[0].v + c[1].v + c[2].v + c[3].v) / 4};
        for (int k = 0; k < 4; ++k) each(std::array<Vertex, 3>{c[k], c[(k + 1) % 4], m});
    }
}

// Keeps the part of a polygon of vertices with sign·(v − level) ≥ 0.
void clip(std::vector<Vertex>& p, double level, double sign) {
    static thread_local std::vector<Vertex> out;
    out.clear();
    for (size_t i = 0; i < p.size(); ++i) {
        const Vertex &a = p[i], &b = p[(i + 1) % p.size()];
        const double da = sign * (a.v - level), db = sign * (b.v - level);
        if (da >= 0) out.push_back(a);
        if ((da > 0 && db < 0) || (da < 0 && db > 0)) out.push_back({a.at + (da / (da - db)) * (b.at - a.at), level});
    }
    p.swap(out);
}

QPolygonF outline_of(const std::vector<Vertex>& p) {
    QPolygonF q;
    for (const Vertex& v : p) q << v.at;
    return q;
}

}  // namespace

void draw_bands(QPainter& p, const Camera& camera, const Mesh& mesh, const FieldMap& map, const Bands& bands,
                look::Scale scale) {
    if (map.corner.empty()) return;
    p.save();
    p.setRenderHint(QPainter::Antialiasing, false);
    std::vector<QBrush> brush;
    for (int i = 0; i < bands.n; ++i)
        brush.emplace_back(look::colour_at(scale, bands.n > 1 ? double(i) / (bands.n - 1) : 0.5));
    const double step = bands.step();
    auto band_of = [&](double v) { return std::clamp(int(std::floor((v - bands.low) / step)), 0, bands.n - 1); };
    std::vector<Vertex> part;
    auto whole = [&](const Element& n) {
        QPolygonF q;
        for (int k = 0; k < corners(n); ++k) q << camera.at(mesh.nodes[n[k]]);
        q << q.first();
        return q;
    };
    p.setPen(Qt::NoPen);
    for (size_t e = 0; e < mesh.elements.size(); ++e) {
        const int n = corners(mesh.elements[e]);
        int low = bands.n, high = -1;
        for (int k = 0; k < n; ++k)
            low = std::min(low, band_of(map.corner[e][k])), high = std::max(high, band_of(map.corner[e][k]));
        if (low == high) {
            p.setBrush(brush[low]);
            p.drawPolygon(whole(mesh.elements[e]));
        }
    }
    triangles(camera, mesh, map, [&](const std::array<Vertex, 3>& t) {
        const int low = band_of(std::min({t[0].v, t[1].v, t[2].v})), high = band_of(std::max({t[0].v, t[1].v, t[2].v}));
        for (int b = low; b <= high; ++b) {
            part.assign(t.begin(), t.end());
            if (b > low) clip(part, bands.low + b * step, 1);
            if (b < high) clip(part, bands.low + (b + 1) * step, -1);
            if (part.size() < 3) continue;
            p.setBrush(brush[b]);
            p.drawPolygon(outline_of(part));
        }
    });
    p.restore();
}

QPainterPath region(const Camera& camera, const Mesh& mesh, const FieldMap& map, double level, bool above) {
    QPainterPath path;
    path.setFillRule(Qt::WindingFill);
    if (map.corner.empty()) return path;
    std::vector<Vertex> part;
    triangles(camera, mesh, map, [&](const std::array<Vertex, 3>& t) {
        part.assign(t.begin(), t.end());
        clip(part, level, above ? 1 : -1);
        if (part.size() < 3) return;
        QPolygonF q = outline_of(part);
        q << q.first();
        path.addPolygon(q);
    });
    return path;
}

void draw_isolines(QPainter& p, const Camera& camera, const Mesh& mesh, const FieldMap& map, const Bands& bands,
                   Quantity q) {
    if (map.corner.empty()) return;
    p.save();
    p.setRenderHint(QPainter::Antialiasing, true);
    struct Label {
        QPointF at;
        double angle;
        QString text;
    };
    std::vector<Label> labels;
    const QFont font = look::font(look::Size::small);
    const QFontMetricsF metrics(font);
    const double step = bands.step();
    for (int b = 0; b <= bands.n; ++b) {
        const double level = bands.low + b * step;
        if (info(q).scale != look::Scale::moment && (b == 0 || b == bands.n)) continue;
        // Segments, then chains of them by their ends.
        std::map<std::pair<long, long>, std::vector<int>> ends;
        std::vector<std::pair<QPointF, QPointF>> segments;
        auto key = [](QPointF at) { return std::pair{std::lround(at.x() * 8), std::lround(at.y() * 8)}; };
        triangles(camera, mesh, map, [&](const std::array<Vertex, 3>& t) {
            QPointF cut[3];
            int n = 0;
            for (int k = 0; k < 3; ++k) {
                const Vertex &a = t[k], &c = t[(k + 1) % 3];
                if ((a.v < level) != (c.v < level)) cut[n++] = a.at + (level - a.v) / (c.v - a.v) * (c.at - a.at);
            }
            if (n < 2 || key(cut[0]) == key(cut[1])) return;
            ends[key(cut[0])].push_back(int(segments.size()));
            ends[key(cut[1])].push_back(int(segments.size()));
            segments.push_back({cut[0], cut[1]});
        });
        if (segments.empty()) continue;
        std::vector<char> used(segments.size(), 0);
        QPainterPath path;
        for (size_t s = 0; s < segments.size(); ++s) {
            if (used[s]) continue;
            used[s] = 1;
            std::vector<QPointF> chain{segments[s].first, segments[s].second};
            for (int side = 0; side < 2; ++side) {
                for (;;) {
                    const auto& here = ends[key(chain.back())];
                    const auto next = std::find_if(here.begin(), here.end(), [&](int i) { return !used[i]; });
                    if (next == here.end()) break;
                    used[*next] = 1;
                    const auto& [a, c] = segments[*next];
                    chain.push_back(key(a) == key(chain.back()) ? c : a);
                }
                std::reverse(chain.begin(), chain.end());
            }
            path.moveTo(chain[0]);
            double length = 0;
            for (size_t i = 1; i < chain.size(); ++i)
                path.lineTo(chain[i]),
                    length += std::hypot((chain[i] - chain[i - 1]).x(), (chain[i] - chain[i - 1]).y());
            if (length < 110) continue;
            double walked = 0;  // a label at the middle of the line
            for (size_t i = 1; i < chain.size(); ++i) {
                const QPointF d = chain[i] - chain[i - 1];
                walked += std::hypot(d.x(), d.y());
                if (walked < length / 2) continue;
                // its slope from a stretch as long as the label, so that it does not jitter
                const size_t i0 = i > 6 ? i - 6 : 0, i1 = std::min(chain.size() - 1, i + 6);
                const QPointF run = chain[i1] - chain[i0];
                double angle = std::atan2(run.y(), run.x()) * 180 / M_PI;
                if (angle > 90) angle -= 180;
                if (angle < -90) angle += 180;
                labels.push_back(
                    {chain[i], angle,
                     look::number(level, std::abs(step) < 0.999 ? (std::abs(step) < 0.0999 ? 2 : 1)
                                                                : (std::abs(step - std::round(step)) > 1e-6 ? 1 : 0))});
                break;
            }
        }
        QColor c = look::ink;
        c.setAlpha(info(q).scale == look::Scale::moment && std::abs(level) < 1e-9 ? 190 : 105);
        p.setPen(QPen(c, std::abs(level) < 1e-9 ? 1.3 : 0.9));
        p.setBrush(Qt::NoBrush);
        p.drawPath(path);
    }
    p.setFont(font);
    std::vector<QRectF> taken;
    for (const Label& l : labels) {
        const QRectF box(l.at.x() - 16, l.at.y() - 9, 32, 18);
        if (std::any_of(taken.begin(), taken.end(), [&](const QRectF& t) { return t.intersects(box); })) continue;
        taken.push_back(box);
        p.save();
        p.translate(l.at);
        p.rotate(l.angle);
        QPainterPath text;
        text.addText(QPointF(-metrics.horizontalAdvance(l.text) / 2, metrics.capHeight() / 2), font, l.text);
        p.setPen(QPen(QColor(0xF6, 0xF3, 0xEA, 215), 3.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p.drawPath(text);
        p.setPen(Qt::NoPen);
        p.setBrush(look::ink);
        p.drawPath(text);
        p.restore();
    }
    p.restore();
}

QRectF draw_ruler(QPainter& p, const QRectF& area, const QString& title, Quantity q, const Bands& bands,
                  std::optional<double> mark, const QString& mark_text) {
    const QuantityInfo& i = info(q);
    p.save();
    p.setRenderHint(QPainter::Antialiasing, false);
    p.setFont(look::font(look::Size::small, true));
    p.setPen(look::ink);
    p.drawText(QRectF(area.left(), area.top(), area.width(), 16), Qt::AlignLeft | Qt::AlignVCenter, title);
    const QString unit = QString::fromUtf8(i.unit);
    p.setFont(look::font(look::Size::small));
    const double unit_width = QFontMetricsF(p.font()).horizontalAdvance(unit) + 8;
    const QRectF bar(area.left() + 10, area.top() + 20, area.width() - unit_width - 20, 11);
    for (int b = 0; b < bands.n; ++b)
        p.fillRect(QRectF(bar.left() + bar.width() * b / bands.n, bar.top(), bar.width() / bands.n + 0.5, bar.height()),
                   look::colour_at(i.scale, bands.n > 1 ? double(b) / (bands.n - 1) : 0.5));
    p.setPen(look::faint);
    p.setBrush(Qt::NoBrush);
    p.drawRect(bar);
    p.drawText(QRectF(bar.right() + 8, bar.top() - 3, unit_width, 17), Qt::AlignLeft | Qt::AlignVCenter, unit);
    const double step = bands.step();
    const int decimals = step < 0.0999 ? 2 : std::abs(step - std::round(step)) > 1e-6 ? 1 : 0;
    const int skip = std::max(1, int(std::ceil(bands.n * 32.0 / bar.width())));
    for (int b = 0; b <= bands.n; ++b) {
        const double x = bar.left() + bar.width() * b / bands.n;
        p.setPen(look::faint);
        p.drawLine(QPointF(x, bar.bottom()), QPointF(x, bar.bottom() + (b % skip == 0 ? 4 : 2)));
        if (b % skip != 0) continue;
        p.setPen(look::ink);
        p.drawText(QRectF(x - 30, bar.bottom() + 4, 60, 14), Qt::AlignCenter,
                   look::number(bands.low + b * step, decimals));
    }
    if (mark && *mark >= bands.low - 1e-9 && *mark <= bands.high + 1e-9) {
        const double x = bar.left() + bar.width() * (*mark - bands.low) / (bands.high - bands.low);
        p.setPen(QPen(look::rust, 2));
        p.drawLine(QPointF(x, bar.top() - 4), QPointF(x, bar.bottom() + 3));
    }
    if (mark && !mark_text.isEmpty()) {
        p.setPen(look::rust);
        p.drawText(QRectF(bar.left(), bar.bottom() + 18, bar.width(), 14), Qt::AlignRight | Qt::AlignVCenter,
                   mark_text);
    }
    p.restore();
    return bar;
}

}  // namespace mossbed
