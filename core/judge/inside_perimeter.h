// What acts inside a control perimeter: the ground's pressure as solved, slab loads, and loads that stand there.
#pragma once
#include <functional>

#include "core/base/box_bins.h"
#include "core/base/polygons.h"
#include "core/fields/fields.h"
#include "core/mesh/cell_shapes.h"
#include "core/perimeter/moving_sides.h"
#include "core/perimeter/perimeter.h"

namespace mossbed {

// A force and its first moment about a point of the plan, kN and kN·m: F (r − point).
struct ForceAt {
    double F = 0;
    Point moment;
    ForceAt& add(double f, const ForceAt& o) { return F += f * o.F, moment = moment + f * o.moment, *this; }
};

// Elements round a convex loaded area, and what of each lies within perimeters round it. Each is looked at once, and
// then cut by as many perimeters as are asked for.
struct PartInside {
    size_t perimeter;  // by its place among the distances
    int element;
    const CellMoments* of;  // none: all of it
    bool beyond;            // lies within the perimeters further out as well, and is told of none of them
};
class ElementsInside {
  public:
    // All of one mesh, and held.
    struct Cells {
        const Finder& finder;
        const std::vector<CellOutline>& outlines;
        const std::vector<CellShapes>& shapes;
    };
    // `furthest`: m, of any perimeter. Of elements only what the half-planes keep.
    ElementsInside(const Polygon& loaded, double furthest, const Cells& cells, const std::vector<HalfPlane>& kept);
    // Those that lie within the loaded area, as a whole, and are told of nowhere else.
    const std::vector<int>& held() const { return held_; }
    // take(PartInside) of all others within perimeters at ascending distances from the area, m.
    template <class Take>
    void at(const std::vector<double>& distances, const Take& take) {
        for (const Met& met : met_) {
            const auto& d = distances;
            size_t i = size_t(std::upper_bound(d.begin(), d.end(), met.crossing.begins) - d.begin());
            if (i == d.size()) continue;
            std::span<const Point> cell(corners_.data() + met.from, met.to - met.from);
            if (met.whole) cell = cells_.outlines[size_t(met.element)];
            const CellShapes& shapes = cells_.shapes[size_t(met.element)];
            for (; i < d.size() && met.crossing.ends > d[i]; ++i) {
                const auto part = sides_.part(cell, d[i], met.crossing, work_);
                if (part.size() < 3) continue;
                const CellMoments of = shapes.moments(part);
                take(PartInside{i, met.element, &of, false});
            }
            if (i == d.size()) continue;
            if (met.whole) {
                take(PartInside{i, met.element, nullptr, true});
            } else {
                const CellMoments of = shapes.moments(cell);
                take(PartInside{i, met.element, &of, true});
            }
        }
    }

  private:
    struct Met {
        int element;
        bool whole;       // nothing of it is cut off by half-planes
        size_t from, to;  // else, of the corners
        MovingSides::Crossing crossing;
    };
    Cells cells_;
    MovingSides sides_;
    MovingSides::Work work_;
    std::vector<int> held_;
    std::vector<Met> met_;
    std::vector<Point> corners_;
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
