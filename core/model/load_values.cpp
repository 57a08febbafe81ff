#include "core/model/load_values.h"

#include <fmt/format.h>

#include <cmath>

#include "core/base/paths.h"

namespace mossbed {
namespace {

template <class L>
L& as(LoadItem& i) {
    return std::get<L>(i.load);
}
template <class L>
const L& as(const LoadItem& i) {
    return std::get<L>(i.load);
}
template <class L, double L::*Member>
LoadValue value(const char* key, const char* label, Unit unit) {
    return {key, label, unit, [](const LoadItem& i) { return as<L>(i).*Member; },
            [](LoadItem& i, double v) { as<L>(i).*Member = v; }};
}
template <class L>
std::vector<LoadValue> of_pressure(const L& l) {
    if (!l.fill) return {value<L, &L::p>("p", "p, down", Unit::kilopascal)};
    return {{"depth", "Depth", Unit::metre, [](const LoadItem& i) { return as<L>(i).fill->depth; },
             [](LoadItem& i, double v) { as<L>(i).fill->depth = v; }},
            {"unit_weight", "Unit weight", Unit::kilonewton_per_cubic_metre,
             [](const LoadItem& i) { return as<L>(i).fill->unit_weight; },
             [](LoadItem& i, double v) { as<L>(i).fill->unit_weight = v; }}};
}

struct Values {
    std::vector<LoadValue> operator()(const ColumnLoad&) const {
        return {value<ColumnLoad, &ColumnLoad::N>("N", "N, down", Unit::kilonewton),
                value<ColumnLoad, &ColumnLoad::Mx>("Mx", "Mx", Unit::kilonewton_metre),
                value<ColumnLoad, &ColumnLoad::My>("My", "My", Unit::kilonewton_metre),
                value<ColumnLoad, &ColumnLoad::Hx>("Hx", "Hx", Unit::kilonewton),
                value<ColumnLoad, &ColumnLoad::Hy>("Hy", "Hy", Unit::kilonewton)};
    }
    std::vector<LoadValue> operator()(const PointLoad&) const {
        return {value<PointLoad, &PointLoad::N>("N", "N, down", Unit::kilonewton),
                value<PointLoad, &PointLoad::Mx>("Mx", "Mx", Unit::kilonewton_metre),
                value<PointLoad, &PointLoad::My>("My", "My", Unit::kilonewton_metre)};
    }
    std::vector<LoadValue> operator()(const LineLoad&) const {
        return {
            {"q", "q at its beginning", Unit::kilonewton_per_metre,
             [](const LoadItem& i) { return as<LineLoad>(i).q[0]; },
             [](LoadItem& i, double v) { as<LineLoad>(i).q[0] = v; }},
            {"q2", "q at its end", Unit::kilonewton_per_metre, [](const LoadItem& i) { return as<LineLoad>(i).q[1]; },
             [](LoadItem& i, double v) { as<LineLoad>(i).q[1] = v; }}};
    }
    std::vector<LoadValue> operator()(const WallLoad&) const {
        return {value<WallLoad, &WallLoad::q>("q", "q, down", Unit::kilonewton_per_metre)};
    }
    std::vector<LoadValue> operator()(const RibLoad&) const {
        return {value<RibLoad, &RibLoad::q>("q", "q, down", Unit::kilonewton_per_metre)};
    }
    std::vector<LoadValue> operator()(const AreaLoad& l) const { return of_pressure(l); }
    std::vector<LoadValue> operator()(const SlabLoad& l) const { return of_pressure(l); }
    std::vector<LoadValue> operator()(const Uplift&) const {
        return {value<Uplift, &Uplift::to_level>("level", "Water up to level", Unit::metre)};
    }
    std::vector<LoadValue> operator()(const PileLoad&) const {
        return {value<PileLoad, &PileLoad::N>("N", "N, down", Unit::kilonewton)};
    }
};

struct Sort {
    const char* operator()(const ColumnLoad&) const { return "column"; }
    const char* operator()(const PointLoad&) const { return "point"; }
    const char* operator()(const LineLoad&) const { return "line"; }
    const char* operator()(const WallLoad&) const { return "wall"; }
    const char* operator()(const RibLoad&) const { return "rib"; }
    const char* operator()(const AreaLoad&) const { return "area"; }
    const char* operator()(const SlabLoad&) const { return "slab"; }
    const char* operator()(const Uplift&) const { return "uplift"; }
    const char* operator()(const PileLoad&) const { return "pile"; }
};
struct Place {
    std::string operator()(const ColumnLoad& l) const { return l.column; }
    std::string operator()(const PointLoad& l) const { return points_in_words({l.at}); }
    std::string operator()(const LineLoad& l) const { return points_in_words(l.path); }
    std::string operator()(const WallLoad& l) const { return l.wall; }
    std::string operator()(const RibLoad& l) const { return l.rib; }
    std::string operator()(const AreaLoad& l) const { return points_in_words(l.outline); }
    std::string operator()(const SlabLoad&) const { return "whole slab"; }
    std::string operator()(const Uplift&) const { return "underside"; }
    std::string operator()(const PileLoad& l) const { return l.pile; }
};

}  // namespace

std::string points_in_words(const std::vector<Point>& points) {
    std::string s;
    for (Point p : points) s += fmt::format("{}{:.10g}, {:.10g}", s.empty() ? "" : "; ", p.x, p.y);
    return s;
}

std::vector<LoadValue> values_of_load(const LoadItem& i) { return std::visit(Values{}, i.load); }
const char* sort_of_load(const LoadItem& i) { return std::visit(Sort{}, i.load); }
std::string place_of_load_in_words(const LoadItem& i) { return std::visit(Place{}, i.load); }

void fill_instead(LoadItem& i, bool fill, double unit_weight) {
    auto turn = [&](auto* l) {
        if (!l || bool(l->fill) == fill) return;
        if (fill)
            l->fill = FillDepth{unit_weight > 0 ? l->p / unit_weight : 0, unit_weight}, l->p = 0;
        else
            l->p = l->fill->pressure(), l->fill.reset();
    };
    turn(std::get_if<AreaLoad>(&i.load)), turn(std::get_if<SlabLoad>(&i.load));
}

double force_of_load(const Model& m, const LoadItem& i) {
    auto along = [](const auto* t, double q) { return t ? q * length_of(t->path) : 0; };
    if (auto* l = std::get_if<ColumnLoad>(&i.load)) return l->N;
    if (auto* l = std::get_if<PointLoad>(&i.load)) return l->N;
    if (auto* l = std::get_if<PileLoad>(&i.load)) return l->N;
    if (auto* l = std::get_if<LineLoad>(&i.load)) return 0.5 * (l->q[0] + l->q[1]) * length_of(l->path);
    if (auto* l = std::get_if<WallLoad>(&i.load)) return along(find_id(m.walls, l->wall), l->q);
    if (auto* l = std::get_if<RibLoad>(&i.load)) return along(find_id(m.ribs, l->rib), l->q);
    if (auto* l = std::get_if<AreaLoad>(&i.load)) return l->pressure() * std::abs(signed_area(l->outline));
    return 0;
}

}  // namespace mossbed
