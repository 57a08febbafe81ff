// Of perimeters round one area, the one where a code finds the most use.
#pragma once
#include <functional>
#include <vector>

#include "core/codes/code.h"

namespace mossbed {

std::vector<Perimeter> perimeters_to_try(const DesignCode& code, const PunchedArea& area,
                                         const std::vector<Polygon>& openings, double d, double furthest = 1e300);

struct WorstPerimeter {
    PunchingVerdict verdict;
    Perimeter at;
    double relief = 0;  // kN
};
// `relief`: what presses up inside a perimeter at a distance a (m), kN. With `by` the derivation of the worst.
WorstPerimeter find_worst_perimeter(const DesignCode& code, const PunchingCase& p,
                                    const std::vector<Perimeter>& perimeters,
                                    const std::function<double(double a)>& relief, Working* by = nullptr);

}  // namespace mossbed
