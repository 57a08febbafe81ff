// Whether equilibrium exists at all, before anything is solved. Ground that cannot pull needs a resultant that presses
// downward and lands inside the convex hull of the base.
#pragma once
#include <string>

#include "core/loads/nodal_loads.h"

namespace mossbed {

enum class Ending { not_solved, solved, lifts_free, overturns, yields_through, not_converged };
const char* name_of(Ending e);  // as in the results file

struct Balance {
    Ending ending = Ending::solved;  // solved: equilibrium exists
    Point landing;                   // where the resultant lands, m; only for a downward one
    double outside = 0;              // m outside the hull, for overturns
    double net_uplift = 0;           // kN, for lifts free
};

Balance find_balance(const Resultant& all, const Polygon& hull);

// The largest factor on all loads that pressures between 0 and `yield` (kPa) on the nodes' areas can balance, by the
// rigid–plastic limit: the least over planes of  yield·Σ A (plane)₊ / work of the loads  (upper bound theorem).
double yield_load_factor(const Resultant& all, const std::vector<Point>& nodes, const std::vector<double>& area,
                         double yield);

}  // namespace mossbed
