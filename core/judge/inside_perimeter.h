// What acts inside a control perimeter: the ground's pressure as solved, slab loads, and loads that stand there.
#pragma once
#include <functional>

#include "core/base/box_bins.h"
#include "core/fields/fields.h"
#include "core/mesh/cell_shapes.h"
#include "core/perimeter/perimeter.h"

namespace mossbed {

// A force and its first moment about a point of the plan, kN and kN·m: F (r − point).
struct ForceAt {
    double F = 0;
    Point moment;
    ForceAt& add(double f, const ForceAt& o) { return F += f * o.F, moment = moment + f * o.moment, *this; }
};

// The elements round a convex loaded area, looked up once for perimeters up to `reach` m from it. `shapes` are those of
// the mesh. Moments are about `centre`; of elements only what the half-planes keep.
class AroundLoaded {
  public:
    AroundLoaded(const Polygon& loaded, double reach, const Fields& a, const std::vector<CellShapes>& shapes,
                 Point centre, const std::vector<HalfPlane>& kept = {});
    struct Part {
        int element;
        PartOfCell of;
    };
    struct Ring {
        std::vector<int> whole;   // elements all of which lies in it, but not in the one before
        std::vector<Part> joins;  // likewise parts that the half-planes keep of elements
        std::vector<Part> cut;    // of others what lies in it
    };
    // Convex perimeters one round the other, `distance[i]` m from the loaded area: what lies in one is what joined it
    // or those before, and what it cuts.
    std::vector<Ring> rings(const std::vector<Polygon>& perimeters, const std::vector<double>& distance) const;

  private:
    struct Near {
        int element;
        Polygon outline;
        bool whole;
        Point middle;              // of a circle that holds it
        double radius;             // m
        double nearest, furthest;  // no point of it is nearer or further from the loaded area, m
    };
    const std::vector<CellShapes>& shapes_;
    Point centre_;
    std::vector<Near> near_;
};

// What stands on the slab at points, along lines and over areas, found by place.
class LoadsByPlace {
  public:
    explicit LoadsByPlace(const Fields& a);
    // each(at, kN down, along a line) of what one case has over a box at points and, in eight parts a piece, along
    // lines.
    void each(const Box& box, size_t load_case, const std::function<void(Point, double, bool)>& of) const;
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
