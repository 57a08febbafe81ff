// The Cut: slab and columns to scale along a line across the plan, with pressure and settlement below.
#pragma once
#include "draw/ground_painter.h"
#include "draw/map.h"

namespace mossbed {

struct CutScene {
    const Model* model = nullptr;
    const Answer* answer = nullptr;
    const CombinationAnswer* combination = nullptr;
    std::array<Point, 2> line{};
    bool pressure = true, settlement = true, moment = false, ground = true;
    std::optional<double> hair;  // m along the line
    bool stale = false;
    bool wide = false;  // shows some ground beyond both ends of the line, and handles at the boreholes
};

// Samples along the cut, of what the answer has there.
struct CutSamples {
    std::vector<double> t;                             // m along the line
    std::vector<char> on;                              // on the slab
    std::vector<double> pressure, settlement, moment;  // kPa, mm, kN·m/m (carried along the line)
    double settlement_factor = 0;                      // how much it is exaggerated as drawn
    std::vector<BoundaryHandle> handles;
    double base_y = 0, base_level = 0, above = 1, below = 1;  // paper and level at the underside, pixels per m
    double level_at(double y) const { return base_level - (y - base_y) / (y > base_y ? below : above); }
};

CutSamples draw_cut(QPainter& p, const CutScene& scene, const QRectF& area);
// The stretch of paper that the line spans, for the hairline and the mouse.
std::pair<double, double> cut_span(const CutScene& scene, const QRectF& area);

}  // namespace mossbed
