// At which levels slab, ribs and walls stand, m above the datum.
#pragma once
#include <algorithm>
#include <vector>

#include "core/model/model.h"

namespace mossbed {

struct Levels {
    double low = 0, high = 0;
    double height() const { return high - low; }
    double middle() const { return 0.5 * (low + high); }
    bool operator==(const Levels&) const = default;
};

Levels slab_levels(const Model& m, const SlabPatch* patch);  // of one patch, or of the slab (nullptr)
Levels levels_of(const Model& m, const Rib& r);              // its whole depth, held to the slab's face, patches aside
Levels levels_of(const Model& m, const Wall& w, const SlabPatch* on);  // from the top of what it stands on

// What of some parts lies outside another, in order from below; slivers under a tenth of a millimetre are dropped.
std::vector<Levels> outside(const std::vector<Levels>& parts, const Levels& of);

}  // namespace mossbed
