// The loads of one case on the plan: discs whose area is the force, lines, areas.
#include "drawing/plan_parts.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

void draw_spread(PlanDraft& d, const LoadItem& i) {
    if (auto a = std::get_if<AreaLoad>(&i.load))
        d.drawing.add(Layer::loads,
                      closed(a->outline, {Role::ochre, 1, Dash::dashed}, {Tone(Role::ochre, 28), {}, {}}));
    else if (auto l = std::get_if<LineLoad>(&i.load))
        d.drawing.add(Layer::loads, open(l->path, {Role::ochre, 3}));
    else if (auto p = std::get_if<PointLoad>(&i.load))
        d.drawing.add(Layer::loads, Disc{p->at, {}, 5, {Role::ochre, 2}, {}});
}

void draw_reaction(PlanDraft& d, const ColumnLoad& l, const Column& k, double largest) {
    constexpr double largest_radius = 26;                                  // paper units
    const double r = largest_radius * std::sqrt(std::abs(l.N) / largest);  // its area is the force
    const bool down = l.N > 0;
    const Role role = down ? Role::moss : Role::rust;
    d.drawing.add(Layer::loads,
                  Disc{k.at, {}, r, {role, 1.4, down ? Dash::solid : Dash::dashed}, {Tone(role, 60), {}, {}}});
    Text t;
    t.at = k.at, t.text = typeset(written(l.N, 0)), t.halo = true;
    d.labels.write(Layer::loads, std::move(t), {{0, -r - 8}, {0, r + 8}, {r + 3, 0}, {-r - 3, 0}});
}

}  // namespace

void draw_loads(PlanDraft& d) {
    const LoadCase* k = find_id(d.model.loads.cases, d.scene.load_case);
    if (!k) return;
    double largest = 0;
    for (const LoadItem& i : k->items) {
        draw_spread(d, i);
        if (auto l = std::get_if<ColumnLoad>(&i.load)) largest = std::max(largest, std::abs(l->N));
    }
    for (const LoadItem& i : k->items) {
        const auto* l = std::get_if<ColumnLoad>(&i.load);
        const Column* column = l ? find_id(d.model.columns, l->column) : nullptr;
        if (column && l->N != 0) draw_reaction(d, *l, *column, largest);
    }
}

}  // namespace mossbed
