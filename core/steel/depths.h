// Effective depths of the bars of a slab: cover, which direction lies outside, sizes. Slab thickness in m, all else mm.
#pragma once
#include "core/steel/strips.h"

namespace mossbed {

inline Direction across(Direction d) { return d == Direction::x ? Direction::y : Direction::x; }

constexpr double usual_bar = 16;  // mm, where nothing is known of a bar yet

// Of the bars of one face and direction with diameter `own`, those across with `other`.
double effective_depth(const Reinforcement& r, Face f, Direction d, double h, double own, double other);
// With the base bars as they are, and usual ones where there are none yet.
double effective_depth(const Model& m, const BaseBars& bars, Face f, Direction d, double h);
// Mean of both layers of the bottom face, for punching.
double mean_depth(const Model& m, const BaseBars& bars, Face f, double h);

double thinnest(const Model& m);             // m, of slab and patches
bool covers_leave_no_depth(const Model& m);  // less than a fifth of the thinnest part's thickness
BaseBars stated_bars(const Model& m);        // the base bars that the engineer gave; the rest none

}  // namespace mossbed
