#include "drawing/cut.h"

#include "core/model/levels.h"
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

std::vector<MemberInCut> members_in_cut(const Model& m, const std::array<Point, 2>& line) {
    std::vector<MemberInCut> out;
    const Point u = unit(line[1] - line[0]);
    const double length = distance(line[0], line[1]);
    auto add = [&](const Thing& thing, const std::vector<Point>& path, double width, const Levels& levels) {
        double before = 0;
        for (size_t k = 0; k + 1 < path.size(); ++k) {
            const Point a = path[k], b = path[k + 1], t = unit(b - a);
            const double l = distance(a, b), sine = std::abs(cross(t, u));
            double ta = dot(a - line[0], u), tb = dot(b - line[0], u);
            if (sine < 0.2 && std::abs(cross(u, a - line[0])) < width / 2 &&
                std::abs(cross(u, b - line[0])) < width / 2) {  // the cut runs along it
                const bool with = tb > ta;
                if (!with) std::swap(ta, tb);
                if (tb > 0 && ta < length)
                    out.push_back({thing, levels, ta, tb, thing.kind == ThingKind::wall, true,
                                   with ? before - ta : before + l + ta, with ? 1.0 : -1.0});
            } else if (auto at = segment_crossing(a, b, line[0], line[1]); at && sine > 0.05) {
                const double t0 = dot(*at - line[0], u), half = width / 2 / sine;
                out.push_back({thing, levels, t0 - half, t0 + half, thing.kind == ThingKind::wall, false, 0, 1});
            }
            before += l;
        }
    };
    for (const Rib& r : m.ribs) add({ThingKind::rib, r.id}, r.path, r.width, levels_of(m, r));
    for (const Wall& w : m.walls)
        if (w.path.size() > 1)
            add({ThingKind::wall, w.id}, w.path, w.thickness,
                {slab_levels(m, nullptr).high, slab_levels(m, nullptr).high + w.height});
    return out;
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
    for (const SlabPatch& t : m.slab.patches) {
        const Levels own = slab_levels(m, &t);
        f.base_level = std::min(f.base_level, own.low), f.top_level = std::max(f.top_level, own.high);
    }
    for (const MemberInCut& r : members_in_cut(m, s.line))
        if (!r.is_wall)
            f.base_level = std::min(f.base_level, r.levels.low), f.top_level = std::max(f.top_level, r.levels.high);
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
        auto face = [&](int from, int to, auto level) {  // steps stand upright, half way between two samples
            const int step = from < to ? 1 : -1;
            for (int i = from;; i += step) {
                const double t = a.t[size_t(i)], here = level(t);
                slab.push_back(d.frame.at(t, here));
                if (i == to) return;
                const double next_t = a.t[size_t(i + step)], next = level(next_t);
                if (std::abs(next - here) < 1e-6) continue;
                slab.push_back(d.frame.at(0.5 * (t + next_t), here));
                slab.push_back(d.frame.at(0.5 * (t + next_t), next));
            }
        };
        face(i0, i1, [&](double t) { return d.upper_side(t); });
        face(i1, i0, [&](double t) { return d.underside(t); });
        Box on_paper;
        for (Point q : slab) on_paper.add(d.frame.view.at(q));
        d.labels.keep_clear(on_paper);
        d.drawing.add(Layer::slab, closed(std::move(slab), {Role::ink, 1.3}, {Role::concrete, {}, {}}));
    }
}

// What of ribs lies outside the slab, at its true level; under the slab, so that its outline runs through.
void draw_ribs_of_cut(CutDraft& d, const std::vector<MemberInCut>& members) {
    for (const MemberInCut& r : members) {
        if (r.is_wall) continue;
        const double from = std::max(0.0, r.from), to = std::min(d.frame.length, r.to), middle = (from + to) / 2;
        const double low = std::min(r.levels.low, d.underside(middle)),
                     high = std::max(r.levels.high, d.upper_side(middle));
        Path body = closed({d.frame.at(from, low), d.frame.at(to, low), d.frame.at(to, high), d.frame.at(from, high)},
                           {Role::ink, r.is_along ? 1.0 : 1.3}, {Role::concrete, {}, {}});
        Box on_paper;
        for (Point q : {d.frame.at(from, low), d.frame.at(to, high)}) on_paper.add(d.frame.view.at(q));
        d.labels.keep_clear(on_paper);
        d.drawing.add(Layer::ribs, std::move(body)).thing = r.thing;
    }
}

// A column or wall, cut off above; it stands on the slab, or on a rib that stands there.
void draw_stub(CutDraft& d, Layer layer, const Thing& thing, double from, double to,
               const std::vector<MemberInCut>& members) {
    const double middle = std::clamp((from + to) / 2, 0.0, d.frame.length);
    double level = d.has_curves() ? d.upper_side(middle) : d.model.slab.top_level;
    for (const MemberInCut& r : members)
        if (!r.is_wall && middle > r.from && middle < r.to) level = std::max(level, r.levels.high);
    const double foot = d.frame.up(level), paper_rise = d.frame.view.origin.y - d.frame.paper.low.y - 18,
                 head = d.frame.up(d.frame.top_level) + d.frame.metres(std::max(12.0, paper_rise));
    d.drawing
        .add(layer,
             closed({{from, foot}, {to, foot}, {to, head}, {from, head}}, {Role::ink, 1.2}, {Role::concrete, {}, {}}))
        .thing = thing;
    Text name;
    name.at = {(from + to) / 2, head}, name.text = thing.id;
    d.labels.write_if_free(Layer::names, std::move(name), {{0, 8}});
}

// A wall along the cut, seen from its side: hatched by its uprights, cut off above.
void draw_wall_along(CutDraft& d, const MemberInCut& w) {
    const double from = std::max(0.0, w.from), to = std::min(d.frame.length, w.to), foot = d.frame.up(w.levels.low),
                 rise = d.frame.view.origin.y - d.frame.paper.low.y - 22,
                 head = d.frame.up(d.frame.top_level) + d.frame.metres(std::max(10.0, rise));
    d.drawing
        .add(Layer::walls, closed({{from, foot}, {to, foot}, {to, head}, {from, head}}, {Role::ink, 1.0, Dash::dashed}))
        .thing = w.thing;
    Text name;
    name.at = {(from + to) / 2, head}, name.text = w.thing.id;
    d.labels.write_if_free(Layer::names, std::move(name), {{0, 8}});
}

void draw_columns_and_walls(CutDraft& d, const std::vector<MemberInCut>& members) {
    constexpr double reach = 0.75;  // m: columns this near to the line are shown on it
    const auto& [a, b] = d.scene.line;
    const Point u = unit(b - a);
    for (const MemberInCut& w : members)
        if (w.is_wall && w.is_along) draw_wall_along(d, w);
    for (const Column& k : d.model.columns) {
        const double t = dot(k.at - a, u), off = std::abs(cross(u, k.at - a)), half = box_of(footprint(k)).width() / 2;
        if (t > 0 && t < d.frame.length && off < half + reach)
            draw_stub(d, Layer::columns, {ThingKind::column, k.id}, t - half, t + half, members);
    }
    for (const MemberInCut& w : members)
        if (w.is_wall && !w.is_along) draw_stub(d, Layer::walls, w.thing, w.from, w.to, members);
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
    const std::vector<MemberInCut> members =
        has_slab(*s.model) ? members_in_cut(*s.model, s.line) : std::vector<MemberInCut>{};
    if (s.pressure) of_the_answer([&](CutDraft& draft) { draw_pressure_of_cut(draft, members); });
    draw_ribs_of_cut(d, members);
    draw_slab(d);
    if (has_slab(*s.model)) draw_columns_and_walls(d, members);
    of_the_answer(draw_cone_of_cut);
    if (s.moment) of_the_answer([&](CutDraft& draft) { draw_moment_of_cut(draft, members); });
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
