// All bars of a slab as regions: base bars, which lie all over it, and extra bars on their outlines.
#pragma once
#include "core/mesh/mesh.h"
#include "core/steel/strips.h"

namespace mossbed {

struct BarRegion {
    std::string id;  // of extra bars; empty for base bars
    Face face = Face::bottom;
    Direction direction = Direction::x;
    double diameter = 0, spacing = 0;                                             // mm
    Polygon outline;                                                              // empty: the whole slab
    double area_a_metre() const { return ChosenBars{diameter, spacing}.area(); }  // mm²/m
};
std::vector<BarRegion> regions_of(const Model& model, const BaseBars& base);  // none of bars that were not chosen

// What of a region lies on the slab, m²; openings are not slab.
double area_on_slab(const BarRegion& region, const Mesh& mesh);

}  // namespace mossbed
