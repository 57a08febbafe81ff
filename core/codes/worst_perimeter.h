// Of perimeters round one area, the one where a code finds the most use.
#pragma once
#include <functional>
#include <vector>

#include "core/codes/code.h"

namespace mossbed {

// Those that the code names for d and links' end within `furthest` m, as far as `rim` m: where one comes to a rim at
// which it does not end, those beyond are none of this family.
std::vector<Perimeter> perimeters_to_try(const DesignCode& code, const Perimeters& round, double d,
                                         double furthest = 1e300, double links_end = 0, double rim = 1e300);

struct WorstPerimeter {
    PunchingVerdict verdict;
    PunchingForce force;
    const Perimeter* at = nullptr;  // one of those given; none where there was none
};
// `acts`: what acts at a perimeter. With `by` the derivation of the worst.
WorstPerimeter find_worst_perimeter(const DesignCode& code, const PunchingCase& p,
                                    const std::vector<Perimeter>& perimeters,
                                    const std::function<PunchingForce(const Perimeter&)>& acts, Working* by = nullptr);

}  // namespace mossbed
