#include "core/steel/depths.h"

namespace mossbed {

double effective_depth(const Reinforcement& r, Face f, Direction d, double h, double own, double other) {
    const double cover = f == Face::top ? r.cover_top : r.cover_bottom;
    const bool outer = (f == Face::top ? r.outer_top : r.outer_bottom) == d;
    return 1000 * h - cover - own / 2 - (outer ? 0 : other);
}

double effective_depth(const Model& m, const BaseBars& bars, Face f, Direction d, double h) {
    const ChosenBars &own = bars.base(f, d), &other = bars.base(f, across(d));
    return effective_depth(m.steel, f, d, h, own.diameter > 0 ? own.diameter : usual_bar,
                           other.diameter > 0 ? other.diameter : usual_bar);
}

double mean_depth(const Model& m, const BaseBars& bars, Face f, double h) {
    return (effective_depth(m, bars, f, Direction::x, h) + effective_depth(m, bars, f, Direction::y, h)) / 2;
}

double thinnest(const Model& m) {
    double h = m.slab.thickness;
    for (const SlabPatch& p : m.slab.patches) h = std::min(h, p.thickness);
    return h;
}

bool covers_leave_no_depth(const Model& m) {
    const double h = thinnest(m);
    for (Face f : {Face::top, Face::bottom})
        for (Direction d : {Direction::x, Direction::y})
            if (effective_depth(m.steel, f, d, h, m.steel.base(f, d).diameter.value_or(usual_bar),
                                m.steel.base(f, across(d)).diameter.value_or(usual_bar)) < 0.2 * 1000 * h)
                return true;
    return false;
}

BaseBars stated_bars(const Model& m) {
    BaseBars s;
    for (Face f : {Face::top, Face::bottom})
        for (Direction d : {Direction::x, Direction::y})
            if (const Bars& b = m.steel.base(f, d); b.stated()) s.base(f, d) = {*b.diameter, *b.spacing, false, true};
    return s;
}

}  // namespace mossbed
