// Stress and displacement below evenly loaded areas on an elastic half-space. Lengths m, E and pressures in one unit.
#pragma once
#include "core/base/geometry.h"

namespace mossbed {

// The two integrals over a loaded polygon, from a point at depth z below q:
//   inverse = ∫∫ dA / ρ,   cubed = ∫∫ z² dA / ρ³,   ρ² = r² + z²
// exact, as sums over the edges. With them the vertical displacement under unit pressure is
//   w = (1+ν)/(2πE) · (2(1−ν)·inverse + cubed)
// (Boussinesq's point load integrated; for a rectangle's corner the same as Harr 1966). Anticlockwise polygons count
// positive, clockwise ones negative, so openings are taken off by adding them clockwise.
struct LoadedArea {
    double inverse = 0, cubed = 0;
};
void add_edge(LoadedArea& sum, Point a, Point b, Point q, double z);
LoadedArea loaded_area(const Polygon& p, Point q, double z);

// Vertical stress at depth z below q under unit pressure on the polygon (Boussinesq; for a rectangle's corner the
// values of Steinbrenner 1934 and Newmark 1935). At z = 0: 1 inside, 0 outside.
double stress_below(const Polygon& p, Point q, double z);
double stress_of_edge(Point a, Point b, Point q, double z);  // its part; z > 0

// Vertical displacement below the corner of a rectangle B × L at depth z under pressure p (Harr 1966), as written
// there:
//   w = p·B·(1−ν²)/(2E) · (A − (1−2ν)/(1−ν)·D).  The polygon's integrals do not use it; it checks them.
double displacement_below_corner(double p, double B, double L, double z, double E, double nu);

}  // namespace mossbed
