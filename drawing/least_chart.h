// What was weighed for the least steel that passes: weight over the number of groups of bars; the lightest of each
// number stands out, the one picked has a ring.
#pragma once
#include "core/answer/least_steel.h"
#include "drawing/drawing.h"

namespace mossbed {

struct LeastChart {
    Drawing drawing;  // in paper units for bare_paper()
    struct Spot {
        Point at;        // y down
        int groups = 0;  // of a scheme
    };
    std::vector<Spot> spots;
};
LeastChart least_chart(const LeastSteel& found, const Box& paper);

constexpr double least_chart_height = 132;  // paper units

}  // namespace mossbed
