// What the answer says, on the plan: the map, what has lifted, strips, punching, the flag of a row.
#include <map>

#include "drawing/plan_parts.h"
#include "words/quantities.h"

namespace mossbed {

namespace {

void write_isolines(PlanDraft& d, const MapShapes& shapes) {
    for (const Isoline& l : shapes.isolines) {
        const bool nought = std::abs(l.level) < 1e-9, moment = info(d.scene.quantity).scale == Scale::moment;
        Path lines{l.lines, false, {}, 0, {Tone(Role::ink, nought && moment ? 190 : 105), nought ? 1.3 : 0.9}, {}};
        d.drawing.add(Layer::isolines, std::move(lines));
    }
    for (const Isoline& l : shapes.isolines)
        for (const Isoline::Spot& s : l.spots) {
            if (s.length * d.view.scale < 110) continue;
            Text t;
            t.at = s.at, t.turn = s.turn, t.halo = true;
            t.text = typeset(written(l.level, shapes.bands.decimals()));
            const Point q = d.view.at(s.at);
            Box box;  // of a turned number: as wide as it is high
            box.add(q - Point{16, 9}), box.add(q + Point{16, 9});
            if (!d.labels.is_free(box)) continue;
            d.labels.keep_clear(box);
            d.drawing.add(Layer::isolines, std::move(t));
        }
}

// The outline of a strip's reach.
// The part of the plan that the paper shows.
Box seen_of(const PlanDraft& d) {
    Box b;
    b.add(d.view.back(d.paper.low)), b.add(d.view.back(d.paper.high));
    return b;
}

// Rows of punching with what is drawn of them: columns, walls, points, groups of neighbours.
template <class F>
void each_use(PlanDraft& d, F f) {
    if (!d.scene.answer) return;
    std::map<std::string, const PunchingAnswer*> drawn;
    for (const PunchingAnswer& p : d.scene.answer->punching) drawn[p.id] = &p;
    for (const Row& r : d.scene.rows ? *d.scene.rows : d.scene.answer->checks)
        if (r.id == "punching" && !r.item.empty() && r.at) {
            const auto it = drawn.find(r.item);
            f(r, it == drawn.end() ? nullptr : it->second);
        }
}

Role role_of_use(const Row& r) {
    if (r.status == Status::not_checked) return Role::faint;  // a use that stands for nothing has no colour
    return r.status == Status::over ? Role::rust : r.utilisation.value_or(0) >= 0.9 ? Role::ochre : Role::moss;
}

}  // namespace

double perimeter_weight(double use) { return 0.7 + 3.6 * std::clamp(use, 0.0, 1.2); }

void draw_map(PlanDraft& d) {
    d.drawing.add(Layer::slab, Path{d.slab, true, {}, 0, {}, {Role::slab, {}, {}}});
    const MapShapes* shapes = d.scene.shapes;
    if (!d.scene.answer || !shapes || d.scene.quantity == Quantity::none) return;
    const size_t first = d.drawing.marks.size();
    for (const BandArea& a : shapes->areas) {
        const double along = shapes->bands.n > 1 ? double(a.band) / (shapes->bands.n - 1) : 0.5;
        d.drawing.add(Layer::map,
                      Path{a.rings, true, {}, 0, {}, {Tone::of_scale(info(d.scene.quantity).scale, along), {}, {}}});
    }
    write_isolines(d, *shapes);
    if (d.scene.moving && needs_fine_mesh(d.scene.quantity))
        d.drawing.add(Layer::map, Path{d.slab, true, {}, 0, {}, {Tone(Role::sheet, 175), {}, {}}});
    if (d.scene.over)
        d.drawing.add(Layer::over_limit,
                      Path{d.scene.over, true, {}, 0, {Role::rust, 1.5}, {{}, Pattern::slanted, Role::rust}});
    // An older answer reaches past a slab that has shrunk since.
    if (d.scene.clipped)
        for (size_t i = first; i < d.drawing.marks.size(); ++i) d.drawing.marks[i].clip = d.slab;
}

void draw_lifted(PlanDraft& d) {
    if (!d.scene.answer || !d.scene.lifted) return;
    d.drawing.add(
        Layer::lifted,
        Path{d.scene.lifted, true, {}, 0, {Role::ink, 1.4, Dash::dashed}, {Role::sheet, Pattern::dots, Role::faint}});
}

void draw_strips(PlanDraft& d) {
    if (!d.scene.answer) return;
    for (const StripAnswer& a : d.scene.answer->steel.strips)
        d.drawing.add(Layer::strips, closed(area_of(a.strip), {Role::faint, 0.8, Dash::dotted})).clip = d.slab;
    for (const StripAnswer& a : d.scene.answer->steel.strips) {
        if (a.strip.id != d.scene.strip) continue;
        d.drawing.add(Layer::strips, closed(area_of(a.strip), {Role::moss, 2.2, Dash::dashed})).clip = d.slab;
        Text t;
        t.at = a.strip.axis[1], t.text = "strip " + a.strip.id, t.tone = Role::moss, t.bold = true, t.halo = true;
        const bool along_x =
            std::abs(a.strip.axis[1].x - a.strip.axis[0].x) > std::abs(a.strip.axis[1].y - a.strip.axis[0].y);
        t.align = along_x ? Align::left : Align::centre, t.offset = along_x ? Point{26, 12} : Point{0, 11};
        d.drawing.add(Layer::strips, std::move(t));
    }
}

// Their outline, the bars at their spacing or, far away, every so many of them, and what they are.
void draw_extra_bars(PlanDraft& d) {
    for (const ExtraBars& e : d.model.steel.extra) {
        const bool chosen = d.is_chosen(ThingKind::extra_bars, e.id);
        const Box b = box_of(e.outline);
        if (b.empty() || !(e.spacing > 0)) continue;
        const bool weave = is_of_bars(d.scene.quantity);  // the map is of one face and direction
        if (weave && !chosen && (e.face != d.scene.bars_face || e.direction != d.scene.bars_direction)) continue;
        const auto inside = rings_of({e.outline});
        Mark& rim =
            d.drawing.add(Layer::bars, closed(e.outline, {chosen ? Role::moss : Role::ink, chosen ? 2.4 : 0.9}));
        rim.thing = Thing{ThingKind::extra_bars, e.id}, rim.clip = d.slab;
        const Point u = along_bars(d.model.steel, e.direction), n = left_of(u);
        constexpr double closest = 4;  // paper units
        double step = weave ? 1e9 : e.spacing / 1000;
        while (step * d.view.scale < closest) step *= 2;
        // Of an outline along the bars and across: from, to.
        auto span = [](const Polygon& ring, Point way) {
            double low = 1e300, high = -1e300;
            for (Point p : ring) low = std::min(low, dot(p, way)), high = std::max(high, dot(p, way));
            return std::pair{low, high};
        };
        const Box seen = seen_of(d);
        const Polygon sheet = rectangle(seen.middle(), seen.width(), seen.height());
        const auto [begin, end] = span(e.outline, u);
        const auto [low, high] = span(e.outline, n);
        const auto [first, last] = span(sheet, n);
        const long from = std::max(0L, long((first - low) / step)),
                   to = std::lround((std::min(high, last) - low) / step);
        for (long k = from; k < to; ++k) {
            const Point at = (low + (double(k) + 0.5) * step) * n;
            d.drawing.add(Layer::bars, open({at + begin * u, at + end * u}, {Role::ink, 0.7})).clip = inside;
        }
        Text t;
        t.at = {b.low.x, b.high.y}, t.halo = true;
        t.text = "ϕ" + written(e.diameter, 0) + " at " + written(e.spacing, 0);
        if (weave)
            t.text = e.id + " " + t.text, t.bold = true;
        else
            t.text += std::string(" ") + name_of(e.face) + " " + name_of(e.direction);
        d.labels.write(Layer::bars, std::move(t), {{2, 8}, {2, -8}, {2, 22}});
    }
}

// Bars of one face and direction where they lie: base bars as hairlines, extra bars heavier, U-bars and trimmers
// between.
void draw_bars(PlanDraft& d) {
    const LaidBars& list = *d.scene.bars;
    const char *face = name_of(d.scene.bars_face), *direction = name_of(d.scene.bars_direction);
    std::map<BarKind, std::vector<Polygon>> lines;
    double closest = 1e300;  // m, between extra bars
    for (const ExtraBars& e : d.model.steel.extra)
        if (e.face == d.scene.bars_face && e.direction == d.scene.bars_direction)
            closest = std::min(closest, e.spacing / 1000);
    const Box seen = seen_of(d);
    for (const LaidBar& b : list.bars) {
        const BarMark& m = list.marks[size_t(b.mark)];
        if (m.direction != direction || (!m.face.empty() && m.face != face)) continue;
        if (!box_of({b.from, b.to}).overlaps(seen)) continue;
        lines[m.kind].push_back({b.from, b.to});
    }
    auto draw = [&](BarKind kind, Stroke stroke) {
        if (const auto it = lines.find(kind); it != lines.end())
            d.drawing.add(Layer::bars, Path{rings_of(std::move(it->second)), false, {}, 0, stroke, {}});
    };
    draw(BarKind::base, {Tone(Role::ink, 62), 0.6});
    draw(BarKind::at_rim, {Tone(Role::ink, 80), 0.9});
    draw(BarKind::trimmer, {Tone(Role::ink, 170), 1.1});
    draw(BarKind::extra, {Tone(Role::ink, int(std::clamp(40 * closest * d.view.scale, 90.0, 190.0))), 1.1});
}

// Where the bars looked at are used most.
void draw_tightest(PlanDraft& d) {
    if (!d.scene.tightest) return;
    Disc ring;
    ring.at = *d.scene.tightest, ring.radius = 8, ring.stroke = {Role::ochre, 2.6};
    d.drawing.add(Layer::punching, ring);
    Text t;
    t.at = *d.scene.tightest, t.bold = true, t.halo = true, t.text = d.scene.tightest_words;
    t.plate = Fill{Role::sheet, {}, {}}, t.plate_is_edged = true;
    const double half = likely_width(t.text, t.size, true) / 2 + 16;
    d.labels.write(Layer::punching, std::move(t),
                   {{half, 18}, {-half, 18}, {half, -18}, {-half, -18}, {0, 30}, {0, -30}});
}

namespace {

void draw_leg(PlanDraft& d, Point at) {
    Disc dot;
    dot.at = at, dot.radius = 1.4, dot.fill = {Role::ink, {}, {}};
    d.drawing.add(Layer::bars, dot);
}

}  // namespace

// Areas of link legs, each leg a dot; far away every so many of them.
void draw_links(PlanDraft& d) {
    for (const ShearLinks& l : d.model.steel.links) {
        const bool chosen = d.is_chosen(ThingKind::links, l.id);
        const Box b = box_of(l.outline);
        if (b.empty() || !(l.spacing > 0)) continue;
        Mark& rim = d.drawing.add(
            Layer::bars, closed(l.outline, {chosen ? Role::moss : Role::ink, chosen ? 2.4 : 0.9, Dash::dash_dotted}));
        rim.thing = Thing{ThingKind::links, l.id}, rim.clip = d.slab;
        constexpr double closest = 5;  // paper units
        double step = l.spacing / 1000;
        while (step * d.view.scale < closest) step *= 2;
        const Box seen = seen_of(d);
        auto first = [step](double low, double from) {
            return low + step * (0.5 + std::max(0.0, std::floor((from - low) / step)));
        };
        for (double y = first(b.low.y, seen.low.y); y < std::min(b.high.y, seen.high.y); y += step)
            for (double x = first(b.low.x, seen.low.x); x < std::min(b.high.x, seen.high.x); x += step)
                if (contains(l.outline, {x, y})) draw_leg(d, {x, y});
        Text t;
        t.at = {b.low.x, b.high.y}, t.halo = true;
        t.text = "links ϕ" + written(l.diameter, 0) + " at " + written(l.spacing, 0);
        d.labels.write(Layer::bars, std::move(t), {{2, 8}, {2, -8}, {2, 22}});
    }
}

// The weight of the line says the use; what is over is hatched too, what is not checked is dotted. What openings shade
// or a rim takes is missing.
void draw_perimeters(PlanDraft& d) {
    each_use(d, [&](const Row& r, const PunchingAnswer* p) {
        if (!p || p->lines.empty()) return;
        const bool over = r.status == Status::over, sure = r.status == Status::pass || over;
        const bool looked_at = d.scene.punched == p->id;
        const bool group = p->id.find('+') != std::string::npos;
        if (group && !over && !looked_at && r.utilisation.value_or(0) < 0.9) return;  // their own say enough
        const Role role = role_of_use(r);
        if (over || looked_at)
            d.drawing.add(Layer::punching,
                          closed(p->outline, {},
                                 over ? Fill{Tone(role, 40), Pattern::slanted, role} : Fill{Tone(role, 45), {}, {}}));
        const Stroke stroke{role, perimeter_weight(r.utilisation.value_or(1.2)), sure ? Dash::solid : Dash::dotted};
        for (const auto& line : p->lines)
            d.drawing.add(Layer::punching, open(line, sure ? stroke : Stroke{role, 1, Dash::dotted}));
        for (Point leg : p->link_legs) draw_leg(d, leg);
    });
}

namespace {

// From which use on the sheet writes it: the three nearest to their limits, and all from 0.9 on.
double written_from(const PlanScene& s) {
    std::vector<double> uses;
    for (const Row& r : s.rows ? *s.rows : s.answer->checks)
        if (r.id == "punching" && r.utilisation) uses.push_back(*r.utilisation);
    std::sort(uses.rbegin(), uses.rend());
    constexpr size_t always = 3;
    return std::min(0.9, uses.empty() ? 0.9 : uses[std::min(uses.size(), always) - 1]);
}

}  // namespace

void write_use_under_pointer(const PlanScene& s, Drawing& to) {
    if (!s.uses || !s.answer || s.hovered.empty() || s.hovered == s.punched) return;
    for (const Row& r : s.rows ? *s.rows : s.answer->checks) {
        if (r.id != "punching" || r.item != s.hovered || !r.at || !r.utilisation) continue;
        if (*r.utilisation >= written_from(s) || r.status == Status::over) return;
        Text t;
        t.at = *r.at, t.offset = {70, 44}, t.bold = true;
        t.text = r.item + " " + written(*r.utilisation, 2) + " · " + r.combination;
        t.plate = Fill{Role::sheet, {}, {}}, t.plate_is_edged = true;
        to.add(Layer::punching, stroke_at(*r.at, {0, 0}, t.offset, {Role::ink, 1}));
        to.add(Layer::punching, std::move(t));
    }
}

// A number only where it matters, and of the one looked at, with the combination; a leader ties it to its place.
void write_uses(PlanDraft& d) {
    const double from = written_from(d.scene);
    each_use(d, [&](const Row& r, const PunchingAnswer* p) {
        const bool looked_at = d.scene.punched == r.item;
        if (r.utilisation && *r.utilisation < from && r.status != Status::over && !looked_at) return;
        Text t;
        t.at = *r.at, t.bold = true, t.halo = true;
        t.text = r.utilisation ? written(*r.utilisation, 2) : r.status == Status::over ? "over" : "?";
        if (r.utilisation && !r.combination.empty()) t.text += " · " + r.combination;
        t.tone = d.scene.moving ? Role::faint : r.status == Status::over || !r.utilisation ? Role::rust : Role::ink;
        Box b;
        if (const Column* k = find_id(d.model.columns, r.item))
            for (Point q : footprint(*k)) b.add(q);
        else
            b.add(*r.at);
        const double below = d.view.scale * b.height() / 2 + 12, beside = d.view.scale * b.width() / 2 + 6;
        if (!r.utilisation) {
            d.labels.write(Layer::punching, std::move(t),
                           {{0, -below}, {0, below}, {beside, -below + 4}, {-beside, 0}, {beside, 0}});
            return;
        }
        t.plate = Fill{Role::sheet, {}, {}}, t.plate_is_edged = true;
        const double reach = p ? d.view.scale * p->a : 0, half = likely_width(t.text, t.size, true) / 2;
        const double up = below + reach, out = beside + reach + half + 4;
        const Tone ink = t.tone;
        const Point off = d.labels.write(Layer::punching, std::move(t),
                                         {{out, up},
                                          {-out, up},
                                          {out, -up},
                                          {-out, -up},
                                          {out + 12, 16},
                                          {-out - 12, 16},
                                          {0, up + 12},
                                          {0, -up - 12},
                                          {out + 30, up + 20},
                                          {-out - 30, up + 20},
                                          {out + 30, -up - 20},
                                          {-out - 30, -up - 20},
                                          {0, -up - 26},
                                          {out, -up - 30},
                                          {-out, -up - 30},
                                          {out, up + 30},
                                          {-out, up + 30}});
        d.drawing.add(Layer::punching, stroke_at(*r.at, (std::min(below, beside) - 2) * unit(off), off, {ink, 1}));
        std::swap(*d.drawing.marks.rbegin(), *std::next(d.drawing.marks.rbegin()));  // its end lies under the plate
    });
}

void draw_flag_area(PlanDraft& d) {
    const Role role = d.scene.is_flag_over ? Role::rust : Role::faint;
    if (d.scene.flag_area.size() == 2)  // an edge
        d.drawing.add(Layer::over_limit,
                      open(d.scene.flag_area, {d.scene.is_flag_over ? Role::rust : Role::ochre, 4.5}));
    if (d.scene.flag_area.size() < 3) return;
    d.drawing.add(Layer::over_limit, closed(d.scene.flag_area, {role, 1.6, Dash::dashed}, {{}, Pattern::slanted, role}))
        .clip = d.slab;
}

// Where the resultant of a combination that overturns lands: outside the base, or on its edge.
void draw_landing(PlanDraft& d) {
    const CombinationAnswer* c = d.scene.combination;
    if (!c || !d.scene.envelope.empty() || c->ending != Ending::overturns) return;
    const Point at = c->balance.landing;
    const Box& paper = d.paper;
    Point on = d.view.at(at);
    const bool far =
        on.x < paper.low.x + 20 || on.x > paper.high.x - 20 || on.y < paper.low.y + 20 || on.y > paper.high.y - 20;
    on = {std::clamp(on.x, paper.low.x + 20, paper.high.x - 20), std::clamp(on.y, paper.low.y + 20, paper.high.y - 20)};
    const Point shown = d.view.back(on);  // towards it, where it lies off the sheet
    const double arm = 10 / d.view.scale;
    for (Point way : {Point{arm, arm}, Point{arm, -arm}})
        d.drawing.add(Layer::notes, open({shown - way, shown + way}, {Role::rust, 2.6}));
    Text t;
    t.at = shown, t.tone = Role::rust, t.bold = true, t.halo = true;
    t.text = c->combination.id + " overturns: its resultant lands " + (far ? "far off, " : "here, ") +
             (c->balance.outside < 0.005 ? std::string("on the edge of the base")
                                         : written(c->balance.outside, 2) + " m outside the base");
    d.labels.write(Layer::notes, std::move(t), {{14, -14}, {-14, -14}, {14, 16}, {-14, 16}, {0, 24}, {0, -24}});
}

void draw_traced(PlanDraft& d) {
    for (const auto& [name, at] : d.scene.traced) {
        d.drawing.add(Layer::notes, Disc{at, {}, 6, {Role::sheet, 3}, {}});
        d.drawing.add(Layer::notes, Disc{at, {}, 6, {Role::moss, 2}, {Role::sheet, {}, {}}});
        const bool is_column = std::any_of(d.model.columns.begin(), d.model.columns.end(),
                                           [&n = name](const Column& c) { return c.id == n; });
        if (is_column) continue;  // it has its name
        Text t;
        t.at = at, t.text = name, t.tone = Role::moss, t.bold = true, t.halo = true;
        d.labels.write(Layer::notes, std::move(t), {{11, -8}, {-11, -8}, {11, 10}, {-11, 10}});
    }
}

void draw_flag(PlanDraft& d) {
    if (!d.scene.flag) return;
    const Point at = *d.scene.flag;
    d.drawing.add(Layer::notes, Disc{at, {}, 11, {Role::sheet, 4.5}, {}});
    d.drawing.add(Layer::notes, Disc{at, {}, 11, {Role::ochre, 2.4}, {}});
    if (d.scene.flag_text.empty()) return;
    Text t;
    t.at = at, t.text = d.scene.flag_text, t.size = Size::normal, t.bold = true;
    t.plate = Fill{Tone(Role::sheet, 225), {}, {}};
    const Point off = d.labels.write(Layer::notes, std::move(t),
                                     {{18, 0},
                                      {-18, 0},
                                      {18, 22},
                                      {18, -22},
                                      {-18, 22},
                                      {-18, -22},
                                      {0, 26},
                                      {0, -26},
                                      {18, 44},
                                      {18, -44},
                                      {-18, 44},
                                      {-18, -44},
                                      {18, -66},
                                      {18, 66},
                                      {18, -100},
                                      {18, 100},
                                      {18, -125}});
    // One that had to go far is tied to its place.
    constexpr double ring = 11, near = 34;
    if (length(off) < near) return;
    const Mark words = std::move(d.drawing.marks.back());
    d.drawing.marks.pop_back();
    d.drawing.add(Layer::notes, stroke_at(at, (ring / length(off)) * off, off, {Role::ochre, 1.4}));
    d.drawing.marks.push_back(words);
}

}  // namespace mossbed
