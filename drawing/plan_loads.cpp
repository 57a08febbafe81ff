// The loads of one case on the plan: discs whose area is the force, lines, areas.
#include <algorithm>
#include <map>

#include "drawing/plan_parts.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

constexpr double most_radius = 26;  // of a disc, paper units

void draw_spread(PlanDraft& d, const LoadItem& i) {
    if (auto a = std::get_if<AreaLoad>(&i.load))
        d.drawing.add(Layer::loads,
                      closed(a->outline, {Role::ochre, 1, Dash::dashed}, {Tone(Role::ochre, 28), {}, {}}));
    else if (auto l = std::get_if<LineLoad>(&i.load))
        d.drawing.add(Layer::loads, open(l->path, {Role::ochre, 3}));
    else if (auto p = std::get_if<PointLoad>(&i.load))
        d.drawing.add(Layer::loads, Disc{p->at, {}, 5, {Role::ochre, 2}, {}});
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

}  // namespace mossbed
