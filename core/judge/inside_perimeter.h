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

// Of elements round a convex loaded area what lies within perimeters at ascending distances from it, m. `shapes` are
// those of the mesh; of elements only what the half-planes keep.
struct PartInside {
    size_t perimeter;  // by its place among the distances
    int element;
    const CellMoments* of;  // none: all of it
    bool beyond;            // lies within the perimeters further out as well, and is told of none of them
};
template <class Take>
void elements_inside(const Polygon& loaded, const std::vector<double>& distances, const Fields& a,
                     const std::vector<CellShapes>& shapes, const std::vector<HalfPlane>& kept, const Take& take) {
    const MovingSides sides(loaded);
    MovingSides::Crossing crossing;
    const Box reached = box_of(spread_out(loaded, distances.back()));
    // Round many columns most cells lie within the first.
    const bool many_within = kept.empty() && signed_area(loaded) > 0.5 * reached.width() * reached.height();
    a.finder.over(reached, [&](int e) {
        const Element& element = a.mesh.elements[size_t(e)];
        std::array<Point, 4> outline;
        const size_t n = size_t(corners(element));
        for (size_t k = 0; k < n; ++k) outline[k] = a.mesh.nodes[size_t(element[k])];
        if (many_within) {
            double radius = 0;
            for (size_t k = 1; k < n; ++k) radius = std::max(radius, distance(outline[0], outline[k]));
            if (sides.hold(outline[0], radius, distances.front())) return take(PartInside{0, e, nullptr, true});
        }
        std::span<const Point> cell(outline.data(), n);
        Polygon left;
        if (!kept.empty()) left = kept_part({cell.begin(), cell.end()}, kept), cell = left;
        if (cell.size() < 3) return;
        const bool whole = std::equal(cell.begin(), cell.end(), outline.begin(), outline.begin() + long(n));
        if (!sides.meet(cell, distances.back(), crossing)) return;
        size_t i = size_t(std::upper_bound(distances.begin(), distances.end(), crossing.begins) - distances.begin());
        for (; i < distances.size() && crossing.ends > distances[i]; ++i) {
            const auto part = sides.part(cell, distances[i], crossing);
            if (part.size() < 3) continue;
            const CellMoments of = shapes[size_t(e)].moments(part);
            take(PartInside{i, e, &of, false});
        }
        if (i == distances.size()) return;
        if (whole) return take(PartInside{i, e, nullptr, true});
        const CellMoments of = shapes[size_t(e)].moments(cell);
        take(PartInside{i, e, &of, true});
    });
}

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
