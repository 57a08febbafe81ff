// Points of the mesh before triangulation: along the feature lines, round the columns and on the lattice.
#pragma once
#include "core/mesh/features.h"

namespace mossbed {

struct Seeds {
    std::vector<Point> points;
    std::vector<FeatureEdge> edges;  // between seed points, each one side of an element
    std::vector<char> fixed;         // per point: 1 lies on a feature or is a column's centre
    std::vector<int> column_point;   // per column
};

Seeds seed_points(const Features& features, const Model& model, const Progress& progress = {});

}  // namespace mossbed
