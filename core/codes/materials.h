// Choosing materials: classes of the standard in force, a modulus that follows the strength until the engineer owns it,
// the bars of a region.
#pragma once
#include <optional>

#include "core/codes/code.h"
#include "core/model/thing.h"

namespace mossbed {

// The concrete of that id becomes one of the class: its name where that is free, strength and modulus. What refers to
// it follows. A modulus that the engineer typed stays.
void choose_concrete(Model& model, const std::string& id, const Concrete& of_class);
// Patches and ribs among these things get that concrete for their own, added to the model where its name is new (a
// modulus by the design code); without one they have the slab's.
void give_concrete(Model& model, const Things& things, const std::optional<Concrete>& own);
void choose_steel(Model& model, const Steel& of_class);  // the one in use
// A strength typed, MPa: the modulus follows by the design code, unless it is the engineer's own.
void set_strength(Model& model, const std::string& concrete, double fck);

struct BarList {
    const char* name;
    std::vector<double> sizes, spacings;  // mm
};
const std::vector<BarList>& bar_lists();  // by region

}  // namespace mossbed
