// The integrals of a loaded outline (influence.h) seen from many points at once: what forming a flexibility spends its
// time on. The arithmetic is that of add_edge, in wide registers.
#pragma once
#include <vector>

#include "core/ground/influence.h"

namespace mossbed {

struct WeightedPoints {
    std::vector<double> x, y, weight;
    void add(Point p, double w) { x.push_back(p.x), y.push_back(p.y), weight.push_back(w); }
    int count() const { return int(x.size()); }
    void make_mean();  // weights that sum to 1
};

// Σ weight · loaded area seen from depth z below each point.
LoadedArea seen_from(const WeightedPoints& points, const std::vector<std::pair<Point, Point>>& edges, double z);

}  // namespace mossbed
