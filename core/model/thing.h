// One name for everything that can be chosen on a drawing, flown to or edited: what it is, its id, and which part of
// it.
#pragma once
#include <compare>
#include <set>
#include <string>
#include <utility>

namespace mossbed {

enum class ThingKind : char {
    slab_side,    // part: the corner it begins at; of a circle 0, of a ring 0 the outer rim, 1 that of the hole
    slab_corner,  // part: which
    opening,
    patch,
    ground_patch,
    column,
    wall,
    rib,
    pile,
    borehole,
    stratum,
    load_case,
    combination,
    strip,
    extra_bars,
    links,
    setting_out,
    load,  // id: "G/3", the third item of case G
    rule,  // id: where its number stands in the rule file (JSON pointer)
    cut    // part: 0 its beginning, 1 its end, −1 the line
};
struct Thing {
    ThingKind kind = ThingKind::column;
    std::string id;
    int part = -1;
    auto operator<=>(const Thing&) const = default;
};
using Things = std::set<Thing>;

struct Model;
struct LoadCase;
struct LoadItem;
// The item of a load thing and its case; null where there is none.
Thing load_thing(const std::string& load_case, size_t index);
std::pair<std::string, size_t> place_of_load(const Thing& thing);  // case and index
LoadItem* find_load(Model& model, const Thing& thing);
const LoadItem* find_load(const Model& model, const Thing& thing);
// Whether the model still has it.
bool is_there(const Model& model, const Thing& thing);
// The ids of those of one kind.
std::set<std::string> ids_of(const Things& things, ThingKind kind);
// The single thing of that kind, where it is all that is chosen; else nothing.
const Thing* only_one(const Things& things, ThingKind kind);

}  // namespace mossbed
