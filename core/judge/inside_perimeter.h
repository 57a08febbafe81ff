// What acts inside a control perimeter: the ground's pressure as solved, slab loads, and loads that stand there.
#pragma once
#include "core/fields/fields.h"

namespace mossbed {

// By nodes and elements: pressure times the first, slab loads times the second.
struct Inside {
    std::vector<std::pair<int, double>> nodes, elements;  // ∫N_i, area
};
// The perimeter `a_perimeter` m round a convex loaded area.
Inside inside_of(const Polygon& perimeter, const Polygon& loaded, double a_perimeter, const Fields& a);

// Point and line loads of one case within a perimeter, kN down and kN up apart.
struct LoadsInside {
    double down = 0, up = 0;
};
LoadsInside loads_inside(const Polygon& perimeter, const CaseLoads& loads);

// Slab loads per combination and element, kPa: what acts evenly, and area loads by their mean over the element.
std::vector<std::vector<double>> slab_loads(const Fields& a);

}  // namespace mossbed
