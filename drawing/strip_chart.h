// Along a strip: the steel that it needs and has at both faces, or its moment, or its shear.
#pragma once
#include "core/judge/strip_line.h"
#include "drawing/drawing.h"

namespace mossbed {

enum class StripPart : char { steel, moment, shear };

struct StripChart {
    Drawing drawing;             // in paper units for bare_paper()
    double left = 0, right = 0;  // where the strip begins and ends on the paper
};
StripChart strip_chart(const StripLine& line, StripPart part, const Box& paper);

// What stands at a place along it, in words: "4.20 m · bottom 1494 of 1571 mm²/m · top 702 of 894".
std::string strip_reading(const StripLine& line, StripPart part, double s);

}  // namespace mossbed
