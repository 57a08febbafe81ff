// What was tried for a mend of punching, and what of it passes: use over the size, each series beside the next.
#pragma once
#include "core/answer/punching_mends.h"
#include "drawing/drawing.h"

namespace mossbed {

Drawing tries_chart(const PunchingMend& mend, const Box& paper);  // in paper units for bare_paper()

constexpr double tries_chart_height = 68;  // paper units

}  // namespace mossbed
