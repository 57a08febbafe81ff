#include "core/model/thing.h"

#include "core/model/model.h"

namespace mossbed {

bool is_there(const Model& m, const Thing& t) {
    const auto* ring = std::get_if<Polygon>(&m.slab.outline);
    auto in = [&](const auto& list) { return find_id(list, t.id) != nullptr; };
    switch (t.kind) {
        case ThingKind::slab_side:
            if (std::holds_alternative<Circle>(m.slab.outline)) return t.part == 0;
            if (std::holds_alternative<Ring>(m.slab.outline)) return t.part == 0 || t.part == 1;
            [[fallthrough]];
        case ThingKind::slab_corner:
            return ring && t.part >= 0 && t.part < int(ring->size());
        case ThingKind::opening:
            return in(m.slab.openings);
        case ThingKind::patch:
            return in(m.slab.patches);
        case ThingKind::ground_patch:
            return in(m.ground.patches);
        case ThingKind::column:
            return in(m.columns);
        case ThingKind::wall:
            return in(m.walls);
        case ThingKind::rib:
            return in(m.ribs);
        case ThingKind::pile:
            return in(m.piles);
        case ThingKind::borehole:
            return in(m.ground.boreholes);
        case ThingKind::stratum:
            return in(m.ground.strata);
        case ThingKind::load_case:
            return in(m.loads.cases);
        case ThingKind::combination:
            return m.loads.combinations && in(*m.loads.combinations);
        case ThingKind::strip:
            return m.steel.strips && in(*m.steel.strips);
        case ThingKind::extra_bars:
            return in(m.steel.extra);
        case ThingKind::links:
            return in(m.steel.links);
        case ThingKind::setting_out:
            return in(m.setting_out);
        case ThingKind::load:
            return find_load(m, t) != nullptr;
        case ThingKind::rule:
        case ThingKind::cut:
            return true;
    }
    return false;
}

Thing load_thing(const std::string& load_case, size_t index) {
    return {ThingKind::load, load_case + "/" + std::to_string(index + 1)};
}

std::pair<std::string, size_t> place_of_load(const Thing& t) {
    const size_t bar = t.id.rfind('/');
    if (t.kind != ThingKind::load || bar == std::string::npos) return {"", 0};
    const long n = std::atol(t.id.c_str() + bar + 1);
    return {t.id.substr(0, bar), n > 0 ? size_t(n - 1) : size_t(-1)};
}

const LoadItem* find_load(const Model& m, const Thing& t) {
    const auto [id, index] = place_of_load(t);
    const LoadCase* c = t.kind == ThingKind::load ? find_id(m.loads.cases, id) : nullptr;
    return c && index < c->items.size() ? &c->items[index] : nullptr;
}

LoadItem* find_load(Model& m, const Thing& t) { return const_cast<LoadItem*>(find_load(std::as_const(m), t)); }

std::set<std::string> ids_of(const Things& things, ThingKind kind) {
    std::set<std::string> ids;
    for (const Thing& t : things)
        if (t.kind == kind) ids.insert(t.id);
    return ids;
}

const Thing* only_one(const Things& things, ThingKind kind) {
    return things.size() == 1 && things.begin()->kind == kind ? &*things.begin() : nullptr;
}

}  // namespace mossbed
