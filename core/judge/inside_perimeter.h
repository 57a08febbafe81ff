// What acts inside a control perimeter: the ground's pressure as solved, slab loads, and loads that stand there.
#pragma once
#include "core/base/box_bins.h"
#include "core/fields/fields.h"
#include "core/perimeter/perimeter.h"

namespace mossbed {

// A force and its first moment about a point of the plan, kN and kN·m: F (r − point).
struct ForceAt {
    double F = 0;
    Point moment;
    ForceAt& add(double f, const ForceAt& o) { return F += f * o.F, moment = moment + f * o.moment, *this; }
};

// By nodes and elements: pressure times the first, slab loads times the second; with first moments about a centre.
struct Inside {
    struct Weight {
        int index;
        double w;
        Point moment;
    };
    std::vector<Weight> nodes, elements;  // ∫N_i, area
};
// The elements round a convex loaded area, looked up once for perimeters up to `reach` m from it. Moments are about
// `centre`; of elements only what the half-planes keep.
class AroundLoaded {
  public:
    AroundLoaded(const Polygon& loaded, double reach, const Fields& a, Point centre,
                 const std::vector<HalfPlane>& kept = {});
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
    Point centre_;
    std::vector<Near> near_;
};

// What stands on the slab at points, along lines and over areas, found by place.
class LoadsByPlace {
  public:
    explicit LoadsByPlace(const Fields& a);
    // Loads of one case within a perimeter, about `centre`: at points down and up apart (both positive there), along
    // lines together, positive down; and the sum of all their sizes, kN.
    struct Inside {
        ForceAt down, up, lines;
        double sizes = 0;
    };
    Inside inside(const Polygon& perimeter, size_t load_case, Point centre = {}) const;
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
