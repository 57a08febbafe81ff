#include "drawing/plan.h"

#include "core/arrange/make.h"
#include "drawing/plan_parts.h"
#include "words/quantities.h"

namespace mossbed {

Rings slab_rings(const Model& m, const View& view) {
    const double chord = std::max(0.02, 4 / view.scale);
    Rings rings{outer_rim(m.slab.outline, chord)};
    if (auto in = inner_rim(m.slab.outline, chord)) rings.push_back(std::move(*in));
    for (const Opening& o : m.slab.openings) rings.push_back(o.outline);
    return rings;
}

namespace {

Box box_on_view(const Polygon& p, const View& view) {
    Box b;
    for (Point q : p) b.add(view.at(q));
    return b;
}

// Setting-out lines run a little past the slab, with a name tab where they begin: at the left or along the top.
void draw_setting_out(PlanDraft& d) {
    Box seen;
    seen.add(d.paper.low + Point{4, 4}), seen.add(d.paper.high - Point{4, 4});
    for (const SettingOutLine& l : d.model.setting_out) {
        if (l.path.size() < 2) continue;
        const bool chosen = d.is_chosen(ThingKind::setting_out, l.id);
        Polygon on_view;
        for (Point p : l.path) on_view.push_back(d.view.at(p));
        const Point u = unit(on_view[1] - on_view[0]), end = unit(on_view.back() - on_view[on_view.size() - 2]);
        on_view.front() = on_view.front() - 30 * u, on_view.back() = on_view.back() + 14 * end;
        // An upright line has its tab at the top, wherever it begins.
        const bool from_back = on_view.back().y < on_view.front().y - 1 && std::abs(u.x) < 0.5;
        if (from_back) on_view.front() = on_view.front() + 16 * u, on_view.back() = on_view.back() + 16 * end;
        const Point first = from_back ? on_view.back() : on_view.front(), along = from_back ? end : -1.0 * u;
        Polygon line;
        for (Point p : on_view) line.push_back(d.view.back(p));
        const Thing thing{ThingKind::setting_out, l.id};
        d.drawing
            .add(Layer::setting_out,
                 open(line, {chosen ? Role::moss : Role::setting_out, chosen ? 1.6 : 0.8, Dash::dash_dotted}))
            .thing = thing;
        Text tab;
        Point at = first + 10 * along;
        if (std::abs(u.x) > 0.9 || std::abs(u.y) > 0.9)  // a line that leaves the sheet keeps its name on it
            at = {std::clamp(at.x, seen.low.x + 14, seen.high.x - 14),
                  std::clamp(at.y, seen.low.y + 10, seen.high.y - 10)};
        tab.at = d.view.back(at);
        tab.text = l.id;
        tab.tone = chosen ? Role::moss : Role::faint, tab.plate = Fill{Role::sheet, {}, {}}, tab.plate_is_edged = true;
        const Box box = d.labels.box_of(tab);
        if (!seen.overlaps(box) || !d.labels.is_free(box)) continue;
        d.labels.keep_clear(box);
        d.drawing.add(Layer::setting_out, std::move(tab)).thing = thing;
    }
}

// Columns, and rims that run along x or y, are not written over.
void keep_clear_of_things(PlanDraft& d) {
    for (const Polygon& ring : *d.slab)
        for (size_t i = 0; i < ring.size(); ++i) {
            Box side;
            side.add(d.view.at(ring[i])), side.add(d.view.at(ring[(i + 1) % ring.size()]));
            if (std::min(side.width(), side.height()) < 2) d.labels.keep_clear(side);
        }
    for (const Wall& w : d.model.walls)
        for (size_t i = 0; i + 1 < w.path.size(); ++i) d.labels.keep_clear(box_on_view(body_of(w, i), d.view));
    if (d.scene.flag) {
        Box ring;
        ring.add(d.view.at(*d.scene.flag) - Point{12, 12}), ring.add(d.view.at(*d.scene.flag) + Point{12, 12});
        d.labels.keep_clear(ring);
    }
    for (const Column& k : d.model.columns) d.labels.keep_clear(box_on_view(footprint(k), d.view));
}

// Nor are ribs, by what is written after their own names and those of the columns that stand on them. In short pieces,
// since they may run askew.
void keep_clear_of_ribs(PlanDraft& d) {
    for (const Rib& r : d.model.ribs)
        for (size_t i = 0; i + 1 < r.path.size(); ++i) {
            const Point a = r.path[i], along = r.path[i + 1] - a;
            const int n = std::max(1, int(std::ceil(d.view.scale * length(along) / 10)));
            const double half = d.view.scale * r.width / 2;
            for (int k = 0; k <= n; ++k) {
                const Point at = d.view.at(a + (double(k) / n) * along);
                d.labels.keep_clear(Box{at, at}.grown(half));
            }
        }
}

// A dimension line beside a side, to its right, with ticks at its ends; not where it would be too short to read.
void write_length(PlanDraft& d, Point a, Point b) {
    const double l = distance(a, b);
    Text t;
    t.text = written(l, 2) + " m", t.halo = true;
    if (l * d.view.scale < likely_width(t.text) + 16) return;
    const double off = 15 / d.view.scale;
    const Point u = unit(b - a), out = -1.0 * left_of(u);
    const Point p = a + off * out, q = b + off * out;
    d.drawing.add(Layer::notes, open({p, q}, {Tone(Role::sheet, 200), 3.4}));  // it is read on a dark map too
    d.drawing.add(Layer::notes, open({p, q}, {Role::ink, 0.9}));
    for (Point end : {p, q}) {
        const Point tick = (4 / d.view.scale) * unit(u + out);
        d.drawing.add(Layer::notes, open({end - tick, end + tick}, {Role::ink, 1.3}));
    }
    t.at = 0.5 * (p + q);
    t.turn = std::remainder(std::atan2(u.y, u.x) * 180 / M_PI, 180);
    if (t.turn <= -90 + 1e-9) t.turn += 180;
    d.drawing.add(Layer::notes, std::move(t));
}

// The outer one is side 0, that of a hole side 1.
void draw_round_rims(PlanDraft& d) {
    const int n = std::holds_alternative<Ring>(d.model.slab.outline) ? 2 : 1;
    for (int part = 0; part < n; ++part) {
        const Thing side{ThingKind::slab_side, "", part};
        const bool chosen = d.scene.chosen.count(side) > 0;
        Mark& rim = d.drawing.add(chosen ? Layer::chosen : Layer::rim,
                                  closed((*d.slab)[size_t(part)], chosen ? Stroke{Role::moss, 4} : Stroke{}));
        if (!d.scene.handles) continue;
        rim.thing = side, rim.reach = 6;
        Point top = (*d.slab)[size_t(part)].front();
        for (Point p : (*d.slab)[size_t(part)])
            if (p.y > top.y) top = p;
        d.drawing.add(Layer::handles, symbol(top, box_on_paper(-7, -2, 7, 2), {}, {Role::moss, {}, {}}));
    }
}

void draw_rim(PlanDraft& d) {
    d.drawing.add(Layer::rim, closed(*d.slab, {Role::ink, 2.2}));
    const auto* ring = std::get_if<Polygon>(&d.model.slab.outline);
    if (!ring) return draw_round_rims(d);
    const size_t n = ring->size();
    for (const Thing& t : d.scene.chosen)
        if (t.kind == ThingKind::slab_side && t.part >= 0 && t.part < int(n))
            d.drawing.add(Layer::chosen,
                          open({(*ring)[size_t(t.part)], (*ring)[(size_t(t.part) + 1) % n]}, {Role::moss, 4}));
    if (!d.scene.handles) return;
    Mark& sides = d.drawing.add(Layer::rim, closed(*ring, {}));
    sides.thing = Thing{ThingKind::slab_side, "", -1}, sides.by_side = true, sides.reach = 6;
}

// Corners of the one opening, patch, wall, rib or line that is in hand, and the lengths of its sides.
void draw_thing_in_hand(PlanDraft& d) {
    if (d.scene.chosen.size() != 1) return;
    const Thing thing = *d.scene.chosen.begin();
    const std::vector<Point> corners = corners_of(d.model, thing);
    for (size_t i = 0; i < corners.size(); ++i) {
        // Loads and strips are shaped where they are shown.
        const bool shown = thing.kind == ThingKind::load || (thing.kind == ThingKind::strip && d.scene.strips);
        if ((!d.scene.handles && !shown) || corners.size() > 60) break;
        Mark& corner = d.drawing.add(Layer::handles, symbol(corners[i], box_on_paper(-3.5, -3.5, 3.5, 3.5),
                                                            {Role::moss, 1.4}, {Role::sheet, {}, {}}));
        corner.thing = Thing{thing.kind, thing.id, int(i)}, corner.reach = 4;
    }
    const bool is_path =
        thing.kind == ThingKind::wall || thing.kind == ThingKind::rib || thing.kind == ThingKind::setting_out;
    const size_t n = corners.size();
    if (n < 2 || n > 24 || thing.kind == ThingKind::strip) return;
    // Of a parallelogram two sides say all.
    const bool is_parallelogram =
        n == 4 && !is_path && distance(corners[0] + corners[2], corners[1] + corners[3]) < 1e-6;
    const size_t sides = is_path ? n - 1 : is_parallelogram ? 2 : n;
    for (size_t i = 0; i < sides; ++i) write_length(d, corners[i], corners[(i + 1) % n]);
}

void draw_handles(PlanDraft& d) {
    draw_thing_in_hand(d);
    const auto* ring = std::get_if<Polygon>(&d.model.slab.outline);
    if (!ring || !d.scene.handles) return;
    const size_t n = ring->size();
    for (size_t i = 0; i < n; ++i) {
        const Point a = (*ring)[i], b = (*ring)[(i + 1) % n];
        Mark& corner = d.drawing.add(
            Layer::handles, symbol(a, box_on_paper(-3.5, -3.5, 3.5, 3.5), {Role::moss, 1.4}, {Role::sheet, {}, {}}));
        corner.thing = Thing{ThingKind::slab_corner, "", int(i)}, corner.reach = 4;
        if (distance(a, b) * d.view.scale < 30) continue;
        Path grip = symbol(0.5 * (a + b), box_on_paper(-7, -2, 7, 2), {}, {Role::moss, {}, {}});
        grip.turn = std::atan2((b - a).y, (b - a).x) * 180 / M_PI;
        d.drawing.add(Layer::handles, std::move(grip));
    }
}

void draw_cut_line(PlanDraft& d) {
    const auto& [a, b] = d.scene.cut;
    d.drawing.add(Layer::cut_line, open({a, b}, {Tone(Role::sheet, 190), 4}));  // a halo: it crosses dark ground too
    Mark& line = d.drawing.add(Layer::cut_line, open({a, b}, {Role::moss, 1.8, Dash::long_dashed}));
    line.thing = Thing{ThingKind::cut, "", -1}, line.reach = 5;
    for (int end : {0, 1}) {
        const Point at = d.scene.cut[size_t(end)];
        Mark& disc = d.drawing.add(Layer::cut_line, Disc{at, {}, 9, {}, {Role::moss, {}, {}}});
        disc.thing = Thing{ThingKind::cut, "", end}, disc.reach = 2;
        Text name;
        name.at = at, name.text = end == 0 ? "A" : "A′", name.tone = Role::sheet, name.bold = true;
        d.labels.keep_clear(d.labels.box_of(name));
        d.drawing.add(Layer::cut_line, std::move(name));
    }
}

void invite(PlanDraft& d) {
    Text t;
    t.at = d.view.back(d.paper.middle()), t.size = Size::normal, t.tone = Role::faint;
    t.text = d.scene.boreholes
                 ? "The plan. Boreholes show here: read or drop a ground report, or add them at the right."
                 : "The plan. Draw the slab's outline here (Ctrl+2), or begin at the right.";
    d.drawing.add(Layer::notes, std::move(t));
}

}  // namespace

Drawing plan_hair(const PlanScene& s) {
    Drawing out;
    write_use_under_pointer(s, out);
    if (!s.hair || !s.show_cut || !s.model || !has_slab(*s.model)) return out;
    const Point a = s.cut[0], b = s.cut[1];
    out.add(
        Layer::cut_line,
        Disc{a + (*s.hair / std::max(1e-9, distance(a, b))) * (b - a), {}, 3.5, {Role::ink, 1}, {Role::sheet, {}, {}}});
    return out;
}

Drawing plan_scale_bar(const View& view, const Box& paper) {
    double metres = 1;
    for (double m : {1.0, 2.0, 5.0, 10.0, 20.0, 50.0})
        if (m * view.scale < 130) metres = m;
    const double w = metres * view.scale;
    const Point at = on_bare_paper(paper.low.x + 14, paper.high.y - 12);
    Drawing out;
    out.add(Layer::notes, symbol(at, box_on_paper(0, -3, w / 2, 0), {Role::ink, 1}, {Role::ink, {}, {}}));
    out.add(Layer::notes, symbol(at, box_on_paper(w / 2, -3, w, 0), {Role::ink, 1}, {Role::sheet, {}, {}}));
    Text t;
    t.at = at, t.offset = {w + 6, 0}, t.text = typeset(written(metres, 0)) + " m", t.align = Align::left;
    out.add(Layer::notes, std::move(t));
    return out;
}

Drawing plan_key_of_uses(const Box& paper) {
    Drawing out;
    double x = paper.low.x + 190;
    const double y = paper.high.y - 12;
    auto write = [&](std::string text, Tone tone) {
        Text t;
        t.at = on_bare_paper(x, y), t.text = std::move(text), t.tone = tone, t.align = Align::left;
        x += likely_width(t.text) + 12;
        out.add(Layer::key, std::move(t));
    };
    write("use", Role::faint);
    for (const auto& [use, role] :
         {std::pair{0.4, Role::moss}, {0.7, Role::moss}, {0.95, Role::ochre}, {1.1, Role::rust}}) {
        out.add(Layer::key, open({on_bare_paper(x, y), on_bare_paper(x + 24, y)}, {role, perimeter_weight(use)}));
        x += 29;
        write(use > 1 ? "over" : written(use, use == 0.95 ? 2 : 1), Role::ink);
    }
    write("gap: shaded by an opening, or the rim", Role::faint);
    return out;
}

Drawing plan_drawing(const PlanScene& s, const View& view, const Box& paper) {
    if (!s.model) return {};
    PlanDraft d{.scene = s, .model = *s.model, .view = view, .paper = paper, .slab = {}, .drawing = {}};
    if (has_slab(*s.model)) {
        d.slab = rings_of(slab_rings(*s.model, view));
        keep_clear_of_things(d);
        const auto of_the_answer = [&d](auto draw) {
            const size_t first = d.drawing.marks.size();
            draw(d);
            for (size_t i = first; i < d.drawing.marks.size(); ++i) d.drawing.marks[i].faded = d.scene.stale;
        };
        of_the_answer(draw_map);
        of_the_answer(draw_lifted);
        of_the_answer(draw_flag_area);
        if (s.mesh) of_the_answer(draw_mesh);
        draw_setting_out(d);
        draw_patches(d);
        draw_rim(d);
        draw_openings(d);
        if (s.strips) {
            of_the_answer(draw_strips);
            if (s.bars) of_the_answer(draw_bars);
            draw_extra_bars(d);
        }
        if (s.strips || s.uses) draw_links(d);
        if (!s.load_case.empty()) draw_loads(d);
        if (s.uses) of_the_answer(draw_perimeters);
        if (s.show_cut) draw_cut_line(d);
        draw_ribs(d);
        draw_walls(d);
        draw_columns(d);
        draw_handles(d);
        if (s.boreholes) draw_boreholes(d);
        if (s.mesh) of_the_answer(mark_worst_cell);
        write_names_of_columns(d);
        write_names_of_ribs(d);
        keep_clear_of_ribs(d);
        write_names_of_patches(d);
        if (s.uses) of_the_answer(write_uses);
        if (!s.load_case.empty()) write_loads_along(d);
        if (s.tightest) of_the_answer(draw_tightest);
        of_the_answer(draw_flag);
        of_the_answer(draw_landing);
        draw_traced(d);
    } else {
        d.slab = rings_of({});
        const Model& m = *s.model;
        const bool holes = s.boreholes && !(m.ground.boreholes.empty() && s.coming.empty()),
                   stands = !(m.columns.empty() && m.walls.empty() && m.ribs.empty() && m.setting_out.empty());
        if (stands) {  // a slab is often drawn round what stands
            keep_clear_of_things(d);
            draw_setting_out(d);
            draw_ribs(d), draw_walls(d), draw_columns(d);
            draw_thing_in_hand(d);
            write_names_of_columns(d), write_names_of_ribs(d);
        }
        if (holes) draw_boreholes(d);
        if (!holes && !stands && m.underlays.empty() && s.coming_lines.empty() && s.invite) invite(d);
    }
    draw_coming(d);
    return std::move(d.drawing);
}

}  // namespace mossbed
