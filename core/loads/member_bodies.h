// The volumes of ribs, each counted once where they cross or meet, for weight and water.
#pragma once
#include "core/model/levels.h"

namespace mossbed {

struct BodyPart {
    Polygon plan;                // convex, anticlockwise
    std::vector<Levels> levels;  // what the part fills, the slab within it included
    int rib = 0;
};

// Straight pieces mitred where they meet, also where two ribs end in one point; where one crosses another the later one
// has only what the earlier one leaves.
std::vector<BodyPart> rib_bodies(const Model& model);

// The straight spans of a path over the openings of the slab, in its order.
struct Span {
    Point from, to;
    double s0 = 0, s1 = 0;  // m along the path
};
std::vector<Span> opening_spans(const Model& model, const std::vector<Point>& path);

}  // namespace mossbed
