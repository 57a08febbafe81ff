// The base as a rigid body: what holds it down and what lifts it, what turns it about the edges of its hull and what
// holds it there, and what pushes it along. Items of load are taken one by one as they are written
// (loads/nodal_loads.h), with the factors of a combination; contact does not come into it. kN, kN·m, m.
#pragma once
#include "core/ground/soil_profile.h"
#include "core/loads/nodal_loads.h"

namespace mossbed {

struct OfCase {  // what one case does for and against, factored
    std::string id;
    double holds = 0, moves = 0;
};

struct Vertical {
    double down = 0, up = 0;  // both positive
    double water = 0;         // part of `up`
    bool has_water = false;   // a case with an uplift item acts
    std::vector<OfCase> by_case;
    double missing(double factor) const { return factor * up - down; }  // kN of weight until it is safe by so much
};
Vertical vertical_of(const Model& model, const std::vector<CaseLoads>& cases, const Combination& combination);

// About one edge of the hull: vertical forces hold or turn by their own lever, moments and horizontals, with theirs to
// the underside, by themselves, and water turns.
struct Turning {
    Point from, to;  // the base lies to its left
    double holds = 0, turns = 0;
    std::vector<OfCase> by_case;
    double factor() const;  // infinite where nothing turns
};
// `hull` runs anticlockwise. The edge with the least factor first.
std::vector<Turning> turning_about(const std::vector<Point>& hull, const Model& model,
                                   const std::vector<CaseLoads>& cases, const Combination& combination);
// Of the slab; circles as chords of a quarter metre.
std::vector<Point> hull_of_base(const Model& model);

struct Horizontal {
    double Hx = 0, Hy = 0;
    double size() const { return std::hypot(Hx, Hy); }
};
Horizontal horizontal_of(const Model& model, const std::vector<CaseLoads>& cases, const Combination& combination);

// The highest water level known below or beside the slab: ground.water_level, else the highest over the rim between the
// boreholes. None where nobody stated one.
std::optional<double> known_water(const Model& model);
// The layer that carries a base at that level; null where all lie above it.
const SoilLayer* layer_below(const SoilColumn& column, double level);
double lowest_underside(const Model& model);  // level, m

}  // namespace mossbed
