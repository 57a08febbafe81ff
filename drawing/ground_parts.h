// Strata as they are drawn, and the depth chart.
#pragma once
#include "core/fields/depth_chart.h"
#include "drawing/drawing.h"

namespace mossbed {

int stratum_index(const Ground& ground, const std::string& id);  // 0 when there is none of that id
Fill soil_fill(int stratum);                                     // its tone and its hatching

// Overburden and added stress over depth, the limit, and what each layer settles, within a box of bare paper
// (paper units, y down).
Drawing depth_chart_drawing(const DepthChart& chart, const Model& model, const Box& paper);

}  // namespace mossbed
