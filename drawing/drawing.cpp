#include "drawing/drawing.h"

#include <algorithm>
#include <array>

namespace mossbed {

const char* name_of(Layer layer) {
    static constexpr std::array names{"ground",   "strata",   "water",      "boreholes",   "slab",    "map",
                                      "isolines", "lifted",   "over-limit", "setting-out", "patches", "rim",
                                      "openings", "strips",   "bars",       "ribs",        "walls",   "columns",
                                      "loads",    "punching", "pressure",   "settlement",  "moment",  "cut-line",
                                      "handles",  "chosen",   "names",      "key",         "notes"};
    static_assert(names.size() == size_t(Layer::notes) + 1);
    return names[size_t(layer)];
}

Tone Tone::of_scale(Scale s, double along) {
    Tone t(Role::scale);
    t.scale = s, t.along = along;
    return t;
}

Tone Tone::of_stratum(int stratum, Role role) {
    Tone t(role);
    t.stratum = std::max(0, stratum);
    return t;
}

void View::show(const Box& box, const Box& paper) {
    if (box.empty() || paper.width() <= 0) return;
    scale = std::min(paper.width() / std::max(box.width(), 0.5), paper.height() / std::max(box.height(), 0.5));
    const Point m = box.middle();
    origin = paper.middle() - Point{scale * m.x, -scale * m.y};
}

Mark& Drawing::add(Layer layer, Path p) { return marks.emplace_back(Mark{layer, std::move(p), {}, false, 4, {}}); }
Mark& Drawing::add(Layer layer, Disc d) { return marks.emplace_back(Mark{layer, d, {}, false, 4, {}}); }
Mark& Drawing::add(Layer layer, Text t) { return marks.emplace_back(Mark{layer, std::move(t), {}, false, 4, {}}); }
void Drawing::add(const Drawing& other) { marks.insert(marks.end(), other.marks.begin(), other.marks.end()); }

std::shared_ptr<const Rings> rings_of(Rings rings) { return std::make_shared<const Rings>(std::move(rings)); }

Path closed(Rings rings, Stroke stroke, Fill fill) { return {rings_of(std::move(rings)), true, {}, 0, stroke, fill}; }
Path closed(Polygon ring, Stroke stroke, Fill fill) { return closed(Rings{std::move(ring)}, stroke, fill); }
Path open(Polygon line, Stroke stroke) { return {rings_of({std::move(line)}), false, {}, 0, stroke, {}}; }
Path symbol(Point at, Polygon ring, Stroke stroke, Fill fill) {
    return {rings_of({std::move(ring)}), true, at, 0, stroke, fill};
}
Path stroke_at(Point at, Point from, Point to, Stroke stroke) {
    return {rings_of({{from, to}}), false, at, 0, stroke, {}};
}
Polygon box_on_paper(double left, double bottom, double right, double top) {
    return {{left, bottom}, {right, bottom}, {right, top}, {left, top}};
}

double likely_width(const std::string& utf8, Size size, bool bold) {
    const auto letters =
        std::count_if(utf8.begin(), utf8.end(), [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; });
    const double em = size == Size::small ? 11 : size == Size::normal ? 12 : 14;
    return double(letters) * em * (bold ? 0.66 : 0.59);
}

Rings on_paper(const Path& p, const View& view) {
    Rings out = *p.rings;
    for (Polygon& ring : out)
        for (Point& q : ring) {
            if (!p.anchor) {
                q = view.at(q);
                continue;
            }
            const Point o = turned(q, p.turn), a = view.at(*p.anchor);
            q = {a.x + o.x, a.y - o.y};
        }
    return out;
}

Point on_paper(Point at, Point offset, const View& view) {
    const Point a = view.at(at);
    return {a.x + offset.x, a.y - offset.y};
}

bool inside(const Rings& rings, Point q) {
    bool in = false;
    for (const Polygon& r : rings) in ^= contains(r, q);
    return in;
}

namespace {

// The side of a path that the pointer is on, −1 when it is on none.
int side_at(const Rings& rings, bool closed, Point q, double reach) {
    int side = 0;
    for (const Polygon& r : rings) {
        const size_t n = r.size() < 2 ? 0 : closed ? r.size() : r.size() - 1;
        for (size_t i = 0; i < n; ++i, ++side)
            if (distance_to_segment(q, r[i], r[(i + 1) % r.size()]) <= reach) return side;
    }
    return -1;
}

std::optional<Thing> hit(const Mark& m, const View& view, Point q) {
    if (!m.thing) return {};
    if (const auto* d = std::get_if<Disc>(&m.what))
        return distance(on_paper(d->at, d->offset, view), q) <= d->radius + m.reach ? m.thing : std::nullopt;
    const auto* p = std::get_if<Path>(&m.what);
    if (!p) return {};
    const Rings rings = on_paper(*p, view);
    const double reach = std::max(m.reach, 0.5 * std::max(p->stroke.width, p->stroke.true_width * view.scale));
    const int side = side_at(rings, p->closed, q, reach);
    if (m.by_side) return side < 0 ? std::nullopt : std::optional(Thing{m.thing->kind, m.thing->id, side});
    if (side >= 0 || (p->closed && !p->fill.tone.is_none() && inside(rings, q))) return m.thing;
    return {};
}

}  // namespace

std::vector<Thing> things_at(const Drawing& d, const View& view, Point q) {
    std::vector<Thing> out;
    for (auto m = d.marks.rbegin(); m != d.marks.rend(); ++m)
        if (auto t = hit(*m, view, q); t && std::find(out.begin(), out.end(), *t) == out.end()) out.push_back(*t);
    return out;
}

Box extent_on_paper(const Drawing& d, const View& view, const Thing& thing) {
    Box b;
    for (const Mark& m : d.marks) {
        if (m.thing != thing) continue;
        if (const auto* p = std::get_if<Path>(&m.what))
            for (const Polygon& r : on_paper(*p, view))
                for (Point q : r) b.add(q);
        if (const auto* c = std::get_if<Disc>(&m.what)) {
            const Point q = on_paper(c->at, c->offset, view);
            b.add(q - Point{c->radius, c->radius}), b.add(q + Point{c->radius, c->radius});
        }
    }
    return b;
}

}  // namespace mossbed
