// What the mesh must conform to: the lines of a model, split where they meet, and how fine the mesh is to be where.
#pragma once
#include <vector>

#include "core/mesh/mesh.h"

namespace mossbed {

struct FeatureEdge {
    int a = 0, b = 0;  // indices of points
};

struct SizeSource {
    Point at;
    double reach = 0;  // radius within which the size holds
    double size = 0;   // m
};

struct ColumnGrid {                // how the mesh goes round one column
    bool conforms = false;         // its footprint is a feature
    int cells_x = 2, cells_y = 2;  // cells along its sides (for a circle cells_x corners of its polygon)
    Polygon rim;                   // as meshed
    int centre = -1;               // index of the point
};

struct Features {
    std::vector<Point> points;
    std::vector<FeatureEdge> edges;  // cross nowhere; inside or on the rim of the slab
    std::vector<SizeSource> sources;
    std::vector<ColumnGrid> columns;
    Polygon rim;
    std::vector<Polygon> openings;  // the hole of a ring among them
    double main_direction = 0;      // degrees; the lattice is laid along it
    double size = 0.5;

    double size_at(Point p) const;  // m
    bool inside(Point p) const;
};

constexpr double size_growth = 0.6;  // a cell may grow by this much per unit of distance

Features gather_features(const Model& model, double size, bool footprints);

}  // namespace mossbed
