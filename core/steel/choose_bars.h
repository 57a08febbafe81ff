// Base bars from the engineer's lists of sizes and spacings: the least steel that passes at every section.
#pragma once
#include <functional>

#include "core/steel/strips.h"

namespace mossbed {

// enough(diameter, spacing) says whether bars of that size at that spacing pass everywhere in their face and direction.
// Of those that pass: the least area; of equal ones the wider spacing. When none passes, the most steel there is, fits
// = false.
ChosenBars choose_bars(const std::vector<double>& sizes, const std::vector<double>& spacings, double largest_spacing,
                       const std::function<bool(double diameter, double spacing)>& enough);

}  // namespace mossbed
