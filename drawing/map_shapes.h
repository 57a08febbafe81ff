// The shapes of a map, made once an answer, not at every paint: areas of one band, isolines, parts beyond a level.
#pragma once
#include "drawing/drawing.h"

namespace mossbed {

struct BandArea {
    int band = 0;
    std::shared_ptr<const Rings> rings;
};
struct Isoline {
    double level = 0;
    std::shared_ptr<const Rings> lines;  // chains of points; closed ones end where they begin
    struct Spot {                        // for its number: the middle of a chain
        Point at;
        double turn = 0;    // degrees, readable from below
        double length = 0;  // m, of the chain
    };
    std::vector<Spot> spots;
};
struct MapShapes {
    Bands bands;
    std::vector<BandArea> areas;
    std::vector<Isoline> isolines;
};
MapShapes shapes_of(const Mesh& mesh, const FieldMap& map, const Bands& bands, Quantity quantity);

// The part of the slab where the values lie above (or below) a level; values are linear over triangles, four round the
// middle of a quadrilateral. Its rim is found by dropping the edges that two pieces share.
std::shared_ptr<const Rings> region(const Mesh& mesh, const FieldMap& map, double level, bool above);

}  // namespace mossbed
