// Where a slab may be punched, from the model's geometry: columns, the thick patches that they stand on, neighbours
// whose perimeters meet, ends and corners of walls and walls as a whole, heavy point loads. A code says how far
// perimeters reach; what is there of bars and covers gives the depths.
#pragma once
#include "core/judge/punching_demand.h"
#include "core/judge/strip_judge.h"

namespace mossbed {

struct PunchedPlace {
    const char* governs = "perimeter";  // "step": round the patch that a column stands on
    PunchedArea area;
    double thickness = 0;     // m, of the slab under it; of a step that of the slab round it
    double furthest = 1e300;  // m: perimeters further off go round it with its neighbours
    bool has_face = true;     // the loaded area is one, so that the stress at its face means something
    bool no_size = false;     // what it stands on is not known
    double links_end = 0;     // m from the area to the last perimeter of its column's links; 0: it has none
    SlabAround slab;
    std::vector<PerimeterCourse> courses;
    std::string what;  // "end at (2.00, 3.00)", of walls
};

// One row of the Ledger: what the places of one column, wall, point or group of neighbours bear.
struct PunchedItem {
    std::string id, title;
    Point at;
    std::vector<int> columns;  // whose force comes down; none: what stands on the area
    std::string refused;       // why it is not checked
    std::vector<PunchedPlace> places;
};

struct PunchedSlab {
    const Model& m;
    const DesignCode& code;
    const Provision& steel;
    Polygon rim;
    std::optional<Polygon> hole;
    std::vector<Polygon> openings;
    std::vector<std::pair<std::string, Polygon>> ribs;  // ids and bodies of what is deeper than the slab there
    PunchedSlab(const Model& m, const DesignCode& code, const Provision& steel);
    const std::string* rib_under(const Polygon& area) const;  // the first that an area stands on, by its id
    double depth(double h, Face f) const { return mean_depth(m, steel.bars(), f, h) / 1000; }  // m
    double depth(double h) const { return std::max(depth(h, Face::bottom), depth(h, Face::top)); }
    double reach(double h) const { return code.furthest_perimeter(std::max(1e-3, depth(h))); }
    // m from a column's face to the perimeters of its links; empty where they are not wholly given.
    std::vector<double> link_perimeters(const Column& c) const;
};

std::vector<PunchedItem> punched_columns(const PunchedSlab& slab);  // one a column, in their order, then the groups
std::vector<PunchedItem> punched_walls(const PunchedSlab& slab);
PunchedItem punched_point(const PunchedSlab& slab, Point at, std::string id, std::string title);

// No perimeter of a place reaches further, m, whatever its bars and covers.
double reach_of(const PunchedSlab& slab, const PunchedPlace& place);

}  // namespace mossbed
