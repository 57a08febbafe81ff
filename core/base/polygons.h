// How polygons lie to each other. Boxes are compared first, so that far ones cost nothing.
#pragma once
#include "core/base/geometry.h"

namespace mossbed {

bool is_convex(const Polygon& anticlockwise);
bool lies_within(const Polygon& inner, const Polygon& outer);  // no corner outside, no sides that cross
bool touch(const Polygon& a, const Polygon& b);                // one lies in the other, or rims meet
double gap_between(const Polygon& a, const Polygon& b);        // m; nought where they touch
double gap_between_rims(const Polygon& a, const Polygon& b);   // m; of rims that do not cross, also of one in the other
// They have area in common; outlines that only touch along a side or at a corner do not. Exact to 1 µm.
bool share_area(const Polygon& a, const Polygon& b);
// Distance from q along the unit vector u to the first side of the ring; 1e300 where none is met.
double distance_along(const Polygon& ring, Point q, Point u);
// Without the corners whose triangle with the two beside them is at most `area` (m²), the smallest first; three are left.
Polygon without_small_corners(Polygon ring, double area);

}  // namespace mossbed
