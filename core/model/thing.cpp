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
        case ThingKind::setting_out:
            return in(m.setting_out);
        case ThingKind::cut:
            return true;
    }
    return false;
}

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
