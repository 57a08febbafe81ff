// The loads of one case on the plan: discs whose area is the force, lines, areas.
#include <algorithm>
#include <map>
#include <optional>

#include "core/base/paths.h"
#include "drawing/plan_parts.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

constexpr double most_radius = 26;  // of a disc, paper units

// A load along a path; `width` (m) of the wall or rib that it lies on.
struct Along {
    const std::vector<Point>* path;
    double width;
    std::array<double, 2> q;
};
std::optional<Along> along_of(const Model& m, const LoadItem& i) {
    if (auto l = std::get_if<LineLoad>(&i.load)) return Along{&l->path, 0, l->q};
    if (auto l = std::get_if<WallLoad>(&i.load))
        if (const Wall* w = find_id(m.walls, l->wall)) return Along{&w->path, w->thickness, {l->q, l->q}};
    if (auto l = std::get_if<RibLoad>(&i.load))
        if (const Rib* r = find_id(m.ribs, l->rib)) return Along{&r->path, r->width, {l->q, l->q}};
    return {};
}

// A band that shows on both sides of a wall or rib.
void draw_along(PlanDraft& d, const Along& l, const std::optional<Thing>& thing) {
    if (l.path->size() < 2 || (!thing && l.q[0] == 0 && l.q[1] == 0)) return;
    const double width = l.width > 0 ? 9.0 : 3.0;
    if (thing && d.is_chosen(thing->kind, thing->id))
        d.drawing.add(Layer::chosen, open(*l.path, {Role::moss, width + 5, Dash::solid, l.width}));
    d.drawing.add(Layer::loads, open(*l.path, {Tone(Role::ochre, 150), width, Dash::solid, l.width})).thing = thing;
}

// Its value beside the longest piece, in the middle or further on, where need be beyond the rim of a strip.
void write_along(PlanDraft& d, const Along& l) {
    const std::vector<Point>& path = *l.path;
    if (path.size() < 2 || (l.q[0] == 0 && l.q[1] == 0)) return;
    const size_t longest = longest_piece(path);
    Text t;
    t.at = 0.5 * (path[longest] + path[longest + 1]), t.halo = true;
    t.text =
        typeset(l.q[0] == l.q[1] ? written(l.q[0], 0) : written(l.q[0], 0) + " to " + written(l.q[1], 0)) + " kN/m";
    const Point piece = path[longest + 1] - path[longest], along = (d.view.scale * length(piece)) * unit(piece);
    std::vector<Point> places;
    for (double off : {12.0, 24.0, 40.0, 58.0})
        for (double further : {0.0, 0.15, -0.15, 0.3, -0.3})
            for (Point side : {Point{1, 0}, {-1, 0}, {0, 1}, {0, -1}})
                places.push_back((off + d.view.scale * l.width / 2) * side + further * along);
    d.labels.write_if_free(Layer::loads, std::move(t), places);
}

// Loads that have a place of their own can be taken in hand; those on a column, wall or rib are taken by it.
void draw_spread(PlanDraft& d, const LoadItem& i, const Thing& thing) {
    const bool chosen = d.is_chosen(thing.kind, thing.id);
    auto write = [&](Point at, std::string text, std::vector<Point> places) {
        Text t;
        t.at = at, t.text = std::move(text), t.halo = true;
        d.labels.write_if_free(Layer::loads, std::move(t), places);
    };
    if (auto a = std::get_if<AreaLoad>(&i.load); a && a->outline.size() > 2) {
        if (chosen) d.drawing.add(Layer::chosen, closed(a->outline, {Role::moss, 6}));
        d.drawing.add(Layer::loads, closed(a->outline, {Role::ochre, 1, Dash::dashed}, {Tone(Role::ochre, 28), {}, {}}))
            .thing = thing;
        write(centroid(a->outline), typeset(written_with_unit(a->pressure(), "kPa")), {{0, 0}, {0, 14}, {0, -14}});
    }
    if (const auto l = along_of(d.model, i))
        draw_along(d, *l, std::holds_alternative<LineLoad>(i.load) ? std::optional(thing) : std::nullopt);
    if (auto p = std::get_if<PointLoad>(&i.load)) {
        if (chosen) d.drawing.add(Layer::chosen, Disc{p->at, {}, 10, {Role::moss, 3}, {}});
        Mark& mark = d.drawing.add(Layer::loads, Disc{p->at, {}, 5, {Role::ochre, 2}, {Role::sheet, {}, {}}});
        mark.thing = thing, mark.reach = 7;
        write(p->at, typeset(written_with_unit(p->N, "kN")), {{0, 14}, {0, -14}, {24, 0}, {-24, 0}});
    }
}

// Where all of the case comes down, as the last answer has it.
void draw_resultant(PlanDraft& d) {
    if (!d.scene.answer || d.scene.stale) return;
    const CaseTotal* t = find_id(d.scene.answer->cases, d.scene.load_case);
    if (!t || std::abs(t->on_slab.Fz) < 1e-6) return;
    const Point at = t->on_slab.landing();
    const Point on = d.view.at(at);
    const Box& paper = d.paper;
    if (on.x < paper.low.x || on.x > paper.high.x || on.y < paper.low.y || on.y > paper.high.y) return;  // far off
    const double arm = 9 / d.view.scale;
    for (Point way : {Point{arm, 0}, Point{0, arm}})
        d.drawing.add(Layer::loads, open({at - way, at + way}, {Role::rust, 2.2}));
    Text text;
    text.at = at, text.tone = Role::rust, text.bold = true, text.halo = true;
    const double N = std::abs(t->on_slab.Fz);
    text.text = t->id + (t->on_slab.Fz < 0 ? " lifts here, " : " lands here, ") +
                (N >= 10000 ? written(N / 1000, 1) + " MN" : typeset(written_with_unit(N, "kN")));
    d.labels.write(Layer::loads, std::move(text),
                   {{14, -10}, {-14, -10}, {14, 12}, {-14, 12}, {14, -30}, {-14, -30}, {14, 32}, {-14, 32}});
}

void draw_reaction(PlanDraft& d, const ColumnLoad& l, const Column& k, double largest, double largest_radius) {
    const double r = largest_radius * std::sqrt(std::abs(l.N) / largest);  // its area is the force
    const bool down = l.N > 0;
    const Role role = down ? Role::moss : Role::rust;
    d.drawing.add(Layer::loads,
                  Disc{k.at, {}, r, {role, 1.4, down ? Dash::solid : Dash::dashed}, {Tone(role, 60), {}, {}}});
    Text t;
    t.at = k.at, t.text = typeset(written(l.N, 0)), t.halo = true;
    if (largest_radius < most_radius)  // crowded: some of the numbers, each readable
        d.labels.write_if_free(Layer::loads, std::move(t), {{0, -r - 8}, {0, r + 8}});
    else
        d.labels.write(Layer::loads, std::move(t), {{0, -r - 8}, {0, r + 8}, {r + 3, 0}, {-r - 3, 0}});
}

}  // namespace

void draw_loads(PlanDraft& d) {
    const LoadCase* k = find_id(d.model.loads.cases, d.scene.load_case);
    if (!k) return;
    double largest = 0;
    std::map<std::string, const Column*> columns;
    Box extent;
    for (const Column& c : d.model.columns) columns.emplace(c.id, &c), extent.add(c.at);
    // Of many columns close to each other on the paper no disc may hide the next one's.
    const double n = double(columns.size());
    const double room = n < 2 ? 1e9
                              : d.view.scale * std::max(std::sqrt(extent.width() * extent.height() / n),
                                                        std::max(extent.width(), extent.height()) / n);
    const double largest_radius = std::clamp(0.5 * room, 2.0, most_radius);
    for (size_t n_item = 0; n_item < k->items.size(); ++n_item) {
        const LoadItem& i = k->items[n_item];
        draw_spread(d, i, load_thing(k->id, n_item));
        if (auto l = std::get_if<ColumnLoad>(&i.load)) largest = std::max(largest, std::abs(l->N));
    }
    for (const LoadItem& i : k->items) {
        const auto* l = std::get_if<ColumnLoad>(&i.load);
        const auto column = l ? columns.find(l->column) : columns.end();
        if (column != columns.end() && l->N != 0) draw_reaction(d, *l, *column->second, largest, largest_radius);
    }
    draw_resultant(d);
}

void write_loads_along(PlanDraft& d) {
    if (const LoadCase* k = find_id(d.model.loads.cases, d.scene.load_case))
        for (const LoadItem& i : k->items)
            if (const auto l = along_of(d.model, i)) write_along(d, *l);
}

}  // namespace mossbed
