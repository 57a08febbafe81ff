#include "drawing/cut.h"

#include "drawing/cut_parts.h"
#include "words/quantities.h"

namespace mossbed {

double CutFrame::up(double level) const {
    const double above = std::max(level, base_level) - top_level, below = std::min(0.0, level - base_level);
    return (above * slab_scale + below * ground_scale) / view.scale;
}
double CutFrame::y(double level) const { return view.at({0, up(level)}).y; }
double CutFrame::level_at(double paper_y) const {
    const double below = paper_y - y(base_level);
    return base_level - below / (below > 0 ? ground_scale : slab_scale);
}

CutFrame cut_frame(const CutScene& s, const Box& paper) {
    const Model& m = *s.model;
    CutFrame f;
    f.paper = paper;
    if (s.settlement && s.along && !s.along->stretches().empty()) {
        f.paper.high.y -= std::clamp(0.3 * paper.height(), 40.0, 84.0);
        f.band.add({paper.low.x, f.paper.high.y}), f.band.add(paper.high);
    }
    f.length = distance(s.line[0], s.line[1]);
    const double beside = s.wide ? 0.13 * paper.width() : 0, x0 = f.paper.low.x + 46 + beside,
                 x1 = paper.high.x - 62 - beside;
    f.view.scale = (x1 - x0) / std::max(f.length, 1e-9);
    f.view.origin = {x0, paper.low.y + std::clamp(0.17 * paper.height(), 24.0, 44.0)};
    if (!has_slab(m)) {  // the ground alone, from its surface down
        const SoilColumn soil = s.profile->at(0.5 * (s.line[0] + s.line[1]));
        f.top_level = f.base_level = soil.ground_level;
        f.lowest_level = std::min(std::max(s.profile->deepest(), f.base_level - 500), f.base_level - 1);
        f.slab_scale = f.ground_scale = (f.paper.high.y - f.view.origin.y - 4) / (f.base_level - f.lowest_level);
        return f;
    }
    // The slab is to scale where that leaves it visible and leaves room below.
    f.top_level = m.slab.top_level, f.base_level = m.slab.top_level - m.slab.thickness;
    for (const SlabPatch& t : m.slab.patches)
        f.base_level = std::min(f.base_level, underside_at(m, centroid(t.outline)));
    const double height = std::max(1e-6, f.top_level - f.base_level);
    f.slab_scale = std::clamp(height * f.view.scale, 12.0, 0.30 * f.paper.height()) / height;
    f.lowest_level = f.base_level - 1;
    if (s.profile) {
        f.lowest_level = s.profile->deepest();
        if (s.limit) f.lowest_level = std::max(f.lowest_level, *s.limit - 0.12 * (f.base_level - *s.limit));
        constexpr double deepest_drawn = 500;  // m below the base: a level of −1e9 is no reason to draw to there
        f.lowest_level = std::clamp(f.lowest_level, f.base_level - deepest_drawn, f.base_level - 1);
    }
    f.ground_scale = (f.paper.high.y - f.y(f.base_level) - 4) / (f.base_level - f.lowest_level);
    return f;
}

Point CutDraft::in_plan(double t) const { return scene.line[0] + t * unit(scene.line[1] - scene.line[0]); }

namespace {
// At a rim that a patch reaches, what counts is just inside.
double just_inside(const CutDraft& d, double t) {
    constexpr double inside = 1e-3;  // m
    return d.slab_from + 2 * inside < d.slab_to ? std::clamp(t, d.slab_from + inside, d.slab_to - inside) : t;
}
}  // namespace

double CutDraft::underside(double t) const { return underside_at(model, in_plan(just_inside(*this, t))); }
double CutDraft::upper_side(double t) const {
    return underside(t) + thickness_at(model, in_plan(just_inside(*this, t)));
}

void CutDraft::write(Layer layer, Point at, std::string text, Tone tone, Align align, bool halo) {
    Text t;
    t.at = at, t.text = std::move(text), t.tone = tone, t.align = align, t.halo = halo;
    labels.keep_clear(labels.box_of(t));
    drawing.add(layer, std::move(t));
}

namespace {

// The slab with its steps.
void draw_slab(CutDraft& d) {
    if (!d.has_curves()) return;
    const AlongLine& a = *d.scene.along;
    for (auto [i0, i1] : a.stretches()) {
        Polygon slab;
        for (int i = i0; i <= i1; ++i) slab.push_back(d.frame.at(a.t[size_t(i)], d.upper_side(a.t[size_t(i)])));
        for (int i = i1; i >= i0; --i) slab.push_back(d.frame.at(a.t[size_t(i)], d.underside(a.t[size_t(i)])));
        Box on_paper;
        for (Point q : slab) on_paper.add(d.frame.view.at(q));
        d.labels.keep_clear(on_paper);
        d.drawing.add(Layer::slab, closed(std::move(slab), {Role::ink, 1.3}, {Role::concrete, {}, {}}));
    }
}

// A column or wall, cut off above.
void draw_stub(CutDraft& d, Layer layer, const Thing& thing, double from, double to) {
    const double foot = d.frame.up(d.frame.top_level), paper_rise = d.frame.view.origin.y - d.frame.paper.low.y - 18,
                 head = foot + d.frame.metres(std::max(12.0, paper_rise));
    d.drawing
        .add(layer,
             closed({{from, foot}, {to, foot}, {to, head}, {from, head}}, {Role::ink, 1.2}, {Role::concrete, {}, {}}))
        .thing = thing;
    Text name;
    name.at = {(from + to) / 2, head}, name.text = thing.id;
    d.labels.write_if_free(Layer::names, std::move(name), {{0, 8}});
}

void draw_columns_and_walls(CutDraft& d) {
    constexpr double reach = 0.75;  // m: columns this near to the line are shown on it
    const auto& [a, b] = d.scene.line;
    const Point u = unit(b - a);
    for (const Column& k : d.model.columns) {
        const double t = dot(k.at - a, u), off = std::abs(cross(u, k.at - a)), half = box_of(footprint(k)).width() / 2;
        if (t > 0 && t < d.frame.length && off < half + reach)
            draw_stub(d, Layer::columns, {ThingKind::column, k.id}, t - half, t + half);
    }
    for (const Wall& w : d.model.walls)
        for (size_t i = 0; i + 1 < w.path.size(); ++i)
            if (auto at = segment_crossing(w.path[i], w.path[i + 1], a, b)) {
                const double t = dot(*at - a, u);
                draw_stub(d, Layer::walls, {ThingKind::wall, w.id}, t - w.thickness / 2, t + w.thickness / 2);
            }
}

void draw_ends_and_hair(CutDraft& d) {
    for (int end : {0, 1}) {
        Text t;
        t.at = {end == 0 ? 0 : d.frame.length, 0}, t.offset = {end == 0 ? -6.0 : 6.0, -3};
        t.text = end == 0 ? "A" : "A′", t.tone = Role::moss, t.bold = true,
        t.align = end == 0 ? Align::right : Align::left;
        d.drawing.add(Layer::names, std::move(t));
    }
    if (d.scene.hair)
        d.line(Layer::notes, {*d.scene.hair, d.on_paper(0, d.frame.paper.low.y).y},
               {*d.scene.hair, d.on_paper(0, std::max(d.frame.paper.high.y, d.frame.band.high.y)).y},
               {Role::ink, 1, Dash::dotted});
}

Drawing invitation(const Box& paper, CutFrame& frame) {
    frame.view = bare_paper();
    Drawing out;
    Text t;
    t.at = frame.view.back(paper.middle()), t.size = Size::normal, t.tone = Role::faint;
    t.text = "The cut shows here once there is a slab or a borehole.";
    out.add(Layer::notes, std::move(t));
    return out;
}

}  // namespace

CutDrawing cut_drawing(const CutScene& s, const Box& paper) {
    CutDrawing out;
    out.frame.paper = paper;
    if (!s.model) return out;
    if (!has_slab(*s.model) && !s.profile) {
        out.drawing = invitation(paper, out.frame);
        return out;
    }
    CutDraft d{.scene = s, .model = *s.model, .frame = cut_frame(s, paper), .drawing = {}, .over_all = {}};
    if (d.has_curves()) {
        const auto runs = s.along->stretches();
        d.slab_from = s.along->t[size_t(runs.front().first)], d.slab_to = s.along->t[size_t(runs.back().second)];
    }
    if (s.ground) draw_ground_of_cut(d);
    const auto of_the_answer = [&d](auto draw) {
        const size_t first = d.drawing.marks.size();
        draw(d);
        for (size_t i = first; i < d.drawing.marks.size(); ++i) d.drawing.marks[i].faded = d.scene.stale;
    };
    if (s.pressure) of_the_answer(draw_pressure_of_cut);
    draw_slab(d);
    if (has_slab(*s.model)) draw_columns_and_walls(d);
    if (s.moment) of_the_answer(draw_moment_of_cut);
    if (s.settlement) of_the_answer(draw_settlement_of_cut);
    if (s.profile) draw_boreholes_of_cut(d);
    for (Text& t : d.over_all)
        d.labels.write_if_free(
            Layer::names, std::move(t),
            {{0, 0}, {-60, 0}, {60, 0}, {-120, 0}, {120, 0}, {-240, 0}, {240, 0}, {-400, 0}, {400, 0}});
    draw_ends_and_hair(d);
    out.frame = d.frame, out.settlement_factor = d.settlement_factor;
    out.drawing = std::move(d.drawing);
    return out;
}

}  // namespace mossbed
