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
void draw_along(PlanDraft& d, const Along& l) {
    if (l.path->size() < 2 || (l.q[0] == 0 && l.q[1] == 0)) return;
    d.drawing.add(Layer::loads, open(*l.path, {Tone(Role::ochre, 150), l.width > 0 ? 9.0 : 3.0, Dash::solid, l.width}));
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

void draw_spread(PlanDraft& d, const LoadItem& i) {
    if (auto a = std::get_if<AreaLoad>(&i.load))
        d.drawing.add(Layer::loads,
                      closed(a->outline, {Role::ochre, 1, Dash::dashed}, {Tone(Role::ochre, 28), {}, {}}));
    if (const auto l = along_of(d.model, i)) draw_along(d, *l);
    if (auto p = std::get_if<PointLoad>(&i.load)) d.drawing.add(Layer::loads, Disc{p->at, {}, 5, {Role::ochre, 2}, {}});
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
    for (const LoadItem& i : k->items) {
        draw_spread(d, i);
        if (auto l = std::get_if<ColumnLoad>(&i.load)) largest = std::max(largest, std::abs(l->N));
    }
    for (const LoadItem& i : k->items) {
        const auto* l = std::get_if<ColumnLoad>(&i.load);
        const auto column = l ? columns.find(l->column) : columns.end();
        if (column != columns.end() && l->N != 0) draw_reaction(d, *l, *column->second, largest, largest_radius);
    }
}

void write_loads_along(PlanDraft& d) {
    if (const LoadCase* k = find_id(d.model.loads.cases, d.scene.load_case))
        for (const LoadItem& i : k->items)
            if (const auto l = along_of(d.model, i)) write_along(d, *l);
}

}  // namespace mossbed
