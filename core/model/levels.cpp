#include "core/model/levels.h"

namespace mossbed {

Levels slab_levels(const Model& m, const SlabPatch* patch) {
    const double low = underside_of(m, patch);
    return {low, low + (patch ? patch->thickness : m.slab.thickness)};
}

Levels levels_of(const Model& m, const Rib& r) {
    const Levels slab = slab_levels(m, nullptr);
    switch (r.flush) {
        case Flush::bottom:
            return {slab.low, slab.low + r.depth};
        case Flush::top:
            return {slab.high - r.depth, slab.high};
        case Flush::middle:
            break;
    }
    return {slab.middle() - r.depth / 2, slab.middle() + r.depth / 2};
}

Levels levels_of(const Model& m, const Wall& w, const SlabPatch* on) {
    const double top = slab_levels(m, on).high;
    return {top, top + w.height};
}

std::vector<Levels> outside(const std::vector<Levels>& parts, const Levels& of) {
    constexpr double sliver = 1e-4;
    std::vector<Levels> out;
    for (const Levels& p : parts) {
        const Levels below{p.low, std::min(p.high, of.low)}, above{std::max(p.low, of.high), p.high};
        if (below.height() > sliver) out.push_back(below);
        if (above.height() > sliver) out.push_back(above);
    }
    return out;
}

}  // namespace mossbed
