// What the slab does along a straight line across the plan.
#pragma once
#include <utility>

#include "core/fields/fields.h"

namespace mossbed {

struct AlongLine {
    std::array<Point, 2> line{};
    std::vector<double> t;                             // m from its beginning
    std::vector<char> on;                              // on the slab
    std::vector<double> pressure, settlement, moment;  // kPa; mm; kN·m/m carried along the line, sagging positive
    Point at(size_t i) const { return line[0] + t[i] * unit(line[1] - line[0]); }
    std::vector<std::pair<int, int>> stretches() const;  // first and last sample of each run on the slab
};
// Sampled three times a cell, linear between corners; no samples where the combination has no field.
AlongLine along_line(const Fields& fields, const CombinationAnswer& combination, const std::array<Point, 2>& line);

}  // namespace mossbed
