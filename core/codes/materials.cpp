#include "core/codes/materials.h"

namespace mossbed {

void choose_concrete(Model& m, const std::string& id, const Concrete& of_class) {
    Concrete* c = find_id(m.concretes, id);
    if (!c) return;
    if (c->id != of_class.id && !find_id(m.concretes, of_class.id)) {
        c->id = of_class.id;
        if (m.slab.concrete == id) m.slab.concrete = of_class.id;
        for (SlabPatch& p : m.slab.patches)
            if (p.concrete == id) p.concrete = of_class.id;
        for (Rib& r : m.ribs)
            if (r.concrete == id) r.concrete = of_class.id;
    }
    c->keys["fck"] = "";
    set_strength(m, c->id, of_class.fck);
}

void set_strength(Model& m, const std::string& id, double fck) {
    Concrete* c = find_id(m.concretes, id);
    if (!c) return;
    c->fck = fck, c->keys["fck"] = "";
    if (c->keys.count("E")) return;
    if (const auto code = make_code(m.settings)) c->E = code->modulus_of_concrete(fck, c->unit_weight);
}

void give_concrete(Model& m, const Things& things, const std::optional<Concrete>& own) {
    if (own && !find_id(m.concretes, own->id)) {
        Concrete c = concrete_of(m, m.slab.concrete);
        c.id = own->id, c.keys.clear(), c.keys["fck"] = "";
        m.concretes.push_back(std::move(c));
        set_strength(m, own->id, own->fck);
    }
    auto give = [&](auto& list, ThingKind kind) {
        for (auto& t : list)
            if (things.count({kind, t.id})) {
                t.concrete = own ? own->id : std::string();
                t.keys["concrete"] = "";
            }
    };
    give(m.slab.patches, ThingKind::patch), give(m.ribs, ThingKind::rib);
}

void choose_steel(Model& m, const Steel& of_class) {
    Steel* s = find_id(m.steels, m.steel.steel);
    if (!s) {
        m.steels.push_back(of_class);
        s = &m.steels.back();
    }
    if (s->id != of_class.id && !find_id(m.steels, of_class.id)) s->id = of_class.id;
    s->fyk = of_class.fyk, s->keys["fyk"] = "";
    m.steel.steel = s->id;
}

const std::vector<BarList>& bar_lists() {
    static const std::vector<BarList> all{
        {"metric, 10 to 32 mm", {10, 12, 16, 20, 25, 32}, {100, 125, 150, 175, 200, 225, 250}},
        {"metric, 8 to 40 mm", {8, 10, 12, 14, 16, 20, 25, 28, 32, 40}, {75, 100, 125, 150, 175, 200, 225, 250, 300}},
        // No. 3 to No. 11 of ASTM A615, spacings of 4 to 12 in.
        {"US, No. 3 to No. 11",
         {9.5, 12.7, 15.9, 19.1, 22.2, 25.4, 28.7, 32.3, 35.8},
         {101.6, 127, 152.4, 177.8, 203.2, 228.6, 254, 304.8}}};
    return all;
}

}  // namespace mossbed
