// What the punching of one place looks like: the stress round its perimeter, unrolled, and the use by every
// combination.
#pragma once
#include "core/judge/judge.h"
#include "drawing/drawing.h"

namespace mossbed {

// In paper units for bare_paper(). `combinations`: their names, as the answer's uses list them.
Drawing punching_chart(const PunchingAnswer& punching, const std::vector<std::string>& combinations, const Box& paper);

constexpr double punching_chart_height = 172;  // paper units

}  // namespace mossbed
