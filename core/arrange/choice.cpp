#include "core/arrange/choice.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>

#include "core/model/edit.h"
#include "core/model/load_values.h"
#include "core/validate/validate.h"

namespace mossbed {

namespace {

template <class T, class Same>
void add_alike(Things& out, const std::vector<T>& list, const Thing& thing, Same same) {
    const T* of = find_id(list, thing.id);
    if (!of) return;
    for (const T& t : list)
        if (same(t, *of)) out.insert({thing.kind, t.id});
}

bool within(const Box& box, const std::vector<Point>& points) {
    return !points.empty() && std::all_of(points.begin(), points.end(), [&](Point p) {
        return p.x >= box.low.x && p.x <= box.high.x && p.y >= box.low.y && p.y <= box.high.y;
    });
}

// Calls f(the id that the item hangs on) for items that hang on one by name.
template <class F>
void on_id_of(const LoadItem& item, F f) {
    if (auto* c = std::get_if<ColumnLoad>(&item.load)) f(ThingKind::column, c->column);
    if (auto* w = std::get_if<WallLoad>(&item.load)) f(ThingKind::wall, w->wall);
    if (auto* r = std::get_if<RibLoad>(&item.load)) f(ThingKind::rib, r->rib);
}

// Names changed by a list of (from, to) at once, so that two can swap theirs.
void rename_all(Model& m, ThingKind kind, const std::map<std::string, std::string>& to) {
    auto in = [&](auto& list) {
        for (auto& t : list)
            if (const auto it = to.find(t.id); it != to.end()) t.id = it->second;
    };
    switch (kind) {
        case ThingKind::column:
            in(m.columns);
            break;
        case ThingKind::wall:
            in(m.walls);
            break;
        case ThingKind::rib:
            in(m.ribs);
            break;
        case ThingKind::pile:
            in(m.piles);
            break;
        case ThingKind::opening:
            in(m.slab.openings);
            break;
        case ThingKind::patch:
            in(m.slab.patches);
            break;
        case ThingKind::ground_patch:
            in(m.ground.patches);
            break;
        case ThingKind::setting_out:
            in(m.setting_out);
            break;
        case ThingKind::extra_bars:
            in(m.steel.extra);
            break;
        case ThingKind::links:
            in(m.steel.links);
            break;
        case ThingKind::strip:
            if (m.steel.strips) in(*m.steel.strips);
            break;
        default:
            return;
    }
    rename_in_loads(m, kind, to);
}

}  // namespace

Things all_like(const Model& m, const Thing& thing) {
    Things out;
    switch (thing.kind) {
        case ThingKind::column:
            add_alike(out, m.columns, thing, [](const Column& a, const Column& b) {
                return a.shape == b.shape && a.size == b.size && a.pedestal_height == b.pedestal_height;
            });
            break;
        case ThingKind::wall:
            add_alike(out, m.walls, thing, [](const Wall& a, const Wall& b) {
                return a.thickness == b.thickness && a.height == b.height && a.stiffens == b.stiffens;
            });
            break;
        case ThingKind::rib:
            add_alike(out, m.ribs, thing, [](const Rib& a, const Rib& b) {
                return a.width == b.width && a.depth == b.depth && a.flush == b.flush && a.concrete == b.concrete;
            });
            break;
        case ThingKind::pile:
            add_alike(out, m.piles, thing,
                      [](const Pile& a, const Pile& b) { return a.diameter == b.diameter && a.length == b.length; });
            break;
        case ThingKind::patch:
            add_alike(out, m.slab.patches, thing, [](const SlabPatch& a, const SlabPatch& b) {
                return a.thickness == b.thickness && a.flush == b.flush && a.concrete == b.concrete;
            });
            break;
        case ThingKind::ground_patch:
            add_alike(out, m.ground.patches, thing,
                      [](const GroundPatch& a, const GroundPatch& b) { return a.modulus == b.modulus; });
            break;
        case ThingKind::opening:
            for (const Opening& o : m.slab.openings) out.insert({thing.kind, o.id});
            break;
        case ThingKind::setting_out:
            for (const SettingOutLine& l : m.setting_out) out.insert({thing.kind, l.id});
            break;
        case ThingKind::extra_bars:
            add_alike(out, m.steel.extra, thing, [](const ExtraBars& a, const ExtraBars& b) {
                return a.face == b.face && a.direction == b.direction && a.diameter == b.diameter &&
                       a.spacing == b.spacing;
            });
            break;
        case ThingKind::links:
            add_alike(out, m.steel.links, thing, [](const ShearLinks& a, const ShearLinks& b) {
                return a.diameter == b.diameter && a.spacing == b.spacing;
            });
            break;
        default:
            out.insert(thing);
    }
    return out;
}

Things things_within(const Model& m, const Box& box) {
    Things in;
    for (const Column& c : m.columns)
        if (within(box, {c.at})) in.insert({ThingKind::column, c.id});
    for (const Pile& p : m.piles)
        if (within(box, {p.at})) in.insert({ThingKind::pile, p.id});
    for (const Wall& w : m.walls)
        if (within(box, w.path)) in.insert({ThingKind::wall, w.id});
    for (const Rib& r : m.ribs)
        if (within(box, r.path)) in.insert({ThingKind::rib, r.id});
    for (const Opening& o : m.slab.openings)
        if (within(box, o.outline)) in.insert({ThingKind::opening, o.id});
    for (const SlabPatch& t : m.slab.patches)
        if (within(box, t.outline)) in.insert({ThingKind::patch, t.id});
    return in;
}

Things all_of_plan(const Model& m) {
    Things all = things_within(m, Box{{-1e300, -1e300}, {1e300, 1e300}});
    if (!has_slab(m)) return all;
    const auto* ring = std::get_if<Polygon>(&m.slab.outline);
    const int n = ring ? int(ring->size()) : std::holds_alternative<Ring>(m.slab.outline) ? 2 : 1;
    for (int i = 0; i < n; ++i) all.insert({ThingKind::slab_side, "", i});
    return all;
}

std::string hanging_on(const Model& m, const Things& things) {
    std::vector<std::string> parts;
    for (const LoadCase& c : m.loads.cases) {
        double sum = 0;
        int n = 0;
        for (const LoadItem& i : c.items)
            on_id_of(i, [&](ThingKind kind, const std::string& id) {
                if (things.count({kind, id})) ++n, sum += force_of_load(m, i);
            });
        if (n > 0) parts.push_back(fmt::format("{} ({:.0f} kN)", c.id, sum));
    }
    if (parts.empty()) return {};
    std::string text = parts[0];
    for (size_t k = 1; k < parts.size(); ++k) text += (k + 1 == parts.size() ? " and " : ", ") + parts[k];
    return "loads in " + text;
}

std::string fault_of_edit(const Model& before, const Model& after) {
    std::unordered_set<std::string> known;
    std::optional<std::vector<Problem>> of_before;  // seldom needed
    for (const Problem& p : problems_of(after)) {
        if (p.severity != Severity::error) continue;
        if (!of_before) {
            of_before = problems_of(before);
            for (const Problem& q : *of_before) known.insert(q.sentence());
        }
        if (!known.count(p.sentence())) return p.sentence();
    }
    return {};
}

std::string rename_thing(Model& m, const Thing& thing, const std::string& to) {
    if (to == thing.id) return {};
    if (to.empty()) return "a name is needed";
    if (is_there(m, {thing.kind, to})) return "there is a \"" + to + "\" already";
    rename_all(m, thing.kind, {{thing.id, to}});
    return {};
}

void number_by_place(Model& m, const Things& things, const std::string& stem, double row) {
    struct Placed {
        Thing thing;
        Point at;
    };
    std::map<ThingKind, std::vector<Placed>> by_kind;
    std::map<ThingKind, std::unordered_set<std::string>> taken;
    auto gather = [&](const auto& list, ThingKind kind, auto place) {
        for (const auto& t : list)
            if (things.count({kind, t.id}))
                by_kind[kind].push_back({{kind, t.id}, place(t)});
            else
                taken[kind].insert(t.id);
    };
    const auto at = [](const auto& t) { return t.at; };
    const auto middle = [](const auto& t) {
        Box b;
        for (Point p : t.path) b.add(p);
        return b.middle();
    };
    gather(m.columns, ThingKind::column, at), gather(m.piles, ThingKind::pile, at);
    gather(m.walls, ThingKind::wall, middle), gather(m.ribs, ThingKind::rib, middle);
    for (auto& [kind, list] : by_kind) {
        std::sort(list.begin(), list.end(), [](const Placed& a, const Placed& b) { return a.at.y < b.at.y; });
        for (size_t from = 0; from < list.size();) {
            size_t to = from;
            while (to < list.size() && list[to].at.y - list[from].at.y < row) ++to;
            std::sort(list.begin() + long(from), list.begin() + long(to),
                      [](const Placed& a, const Placed& b) { return a.at.x < b.at.x; });
            from = to;
        }
        std::map<std::string, std::string> names;
        int n = 0;
        for (const Placed& p : list) {
            std::string name;
            do name = stem + std::to_string(++n);
            while (taken[kind].count(name));
            names[p.thing.id] = name;
        }
        rename_all(m, kind, names);
    }
}

}  // namespace mossbed
