// Rims of the slab and other outlines pushed out and in, and the rim that fits round all that stands. Lengths in m.
// A refusal says why in words that follow the name of the thing; nothing is changed then.
#pragma once
#include <set>

#include "core/model/model.h"

namespace mossbed {

// Some sides of the slab's outline moved outward, parallel to themselves (negative: inward); their neighbours keep
// their directions. A circle has side 0, a ring 0 (outer) and 1 (inner, whose radius shrinks as the slab grows). What
// lies on the rim follows it (follow_rim).
std::string push_rims(Model& model, const std::set<int>& sides, double by);
std::set<int> all_sides(const Outline& outline);

// What lies on the sides of the slab's outline as it was goes along to where they are now: corners of thickness
// patches, of area loads and extra bars, points of line loads, ends of strips. Sides are told by their place in the
// list, so both outlines need equally many corners.
void follow_rim(Model& model, const Polygon& before);

// All sides of a ring outward; why not where it would turn inside out.
std::string grow_ring(Polygon& ring, double by);
// A path moved to its left, parallel to itself; why not where a piece would turn round.
std::string shift_path(std::vector<Point>& path, double by);

// Why an outline is none: fewer than three corners, sides that cross, no area; empty when it is one.
std::string fault_of_outline(const Polygon& ring);

enum class RimFit : char {
    rectangle,  // along the slab's longest side or, without a slab, along x and y
    following   // stepped round what stands, without notches across which the slab would lie on both sides
};
// The outline at a clear distance round all columns, at any angle, and walls. Why not, where nothing stands, or nothing
// would lie between two groups.
std::string fit_rim(Model& model, RimFit fit, double overhang);

}  // namespace mossbed
