// What acts inside a control perimeter: the ground's pressure as solved, slab loads, and loads that stand there.
#pragma once
#include "core/base/box_bins.h"
#include "core/fields/fields.h"

namespace mossbed {

// By nodes and elements: pressure times the first, slab loads times the second.
struct Inside {
    std::vector<std::pair<int, double>> nodes, elements;  // ∫N_i, area
};
// The elements round a convex loaded area, looked up once for perimeters up to `reach` m from it.
class AroundLoaded {
  public:
    AroundLoaded(const Polygon& loaded, double reach, const Fields& a);
    Inside inside(const Polygon& perimeter, double a_perimeter) const;  // the perimeter `a_perimeter` m round it

  private:
    struct Near {
        int element;
        Polygon outline;
        double nearest, furthest;  // no point of it is nearer or further from the loaded area, m
        Inside whole;              // only where some perimeter within reach takes it whole
    };
    void add(const Polygon& part, int element, Inside& to) const;
    const Fields& a_;
    std::vector<Near> near_;
};

// What stands on the slab at points, along lines and over areas, found by place.
class LoadsByPlace {
  public:
    explicit LoadsByPlace(const Fields& a);
    // Point and line loads of one case within a perimeter, kN down and kN up apart.
    struct Inside {
        double down = 0, up = 0;
    };
    Inside inside(const Polygon& perimeter, size_t load_case) const;
    // kN of one case within `reach` of a place, area loads among them, whatever their sense, and kN·m of moments.
    std::pair<double, double> near(Point at, double reach, size_t load_case) const;

  private:
    struct Case {
        const CaseLoads* loads;
        std::vector<const AreaLoad*> areas;
        BoxBins points_by_place, lines_by_place, areas_by_place;
    };
    std::vector<Case> cases_;
};

// Slab loads per combination and element, kPa: what acts evenly, and area loads by their mean over the element.
std::vector<std::vector<double>> slab_loads(const Fields& a);

}  // namespace mossbed
