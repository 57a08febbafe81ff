// What the mesh must conform to: the lines of a model, split where they meet, and how fine the mesh is to be where.
#pragma once
#include <vector>

#include "core/base/box_bins.h"
#include "core/mesh/mesh.h"

namespace mossbed {

struct FeatureEdge {
    int a = 0, b = 0;  // indices of points
    std::vector<LineOwner> owners;
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
    void sort_sources();            // by place, so that size_at looks at those near by only; after the last was added
    void sort_openings();           // likewise for inside()
    bool inside(Point p) const;
    BoxBins openings_by_place;

  private:
    BoxBins sources_by_place_;
};

constexpr double column_node_reach = 1.0 / 20;  // of the size: so near a column's node is put onto a line
constexpr double size_growth = 0.6;             // a cell may grow by this much per unit of distance

// The cell beside a column's side: half the side, but no finer than a cell of the mesh by far: a blade a millimetre
// thick is a line to the mesh.
inline double cell_beside_footprint(double side, double size) { return std::min(size, std::max(side / 2, size / 25)); }

Features gather_features(const Model& model, double size, bool footprints, const Progress& progress = {});

}  // namespace mossbed
