// The sides of outlines that spread out from one convex area (spread_out), from none on: each only moves outward, none
// turns. So what of a cell lies within any of them is found without looking at each outline's sides anew.
#pragma once
#include <span>

#include "core/perimeter/perimeter.h"

namespace mossbed {

class MovingSides {
  public:
    explicit MovingSides(const Polygon& convex);

    // A convex polygon and the outlines, by how far they are spread, m.
    struct Crossing {
        double begins = 0, ends = 0;  // none of it lies within before the one, all of it from the other on
        size_t from = 0, to = 0;      // of the work's sides, those that cut it once something of it lies within
    };
    // Crossings side by side, and what is being cut.
    struct Work {
        struct Side {
            double x, y, from, last;  // `last`: where it leaves the polygon
        };
        std::vector<Side> cutting;
        std::vector<double> first, last;  // by all sides: where each touches it, and where it leaves it
        Polygon now, next;
    };
    // Works out the crossing of `polygon`. False where nothing of it lies within the outline spread by `furthest` m: of
    // that only `begins` is known.
    bool meet(std::span<const Point> polygon, double furthest, Crossing& c, Work& work) const;
    // Whether all that is nearer to a place than `radius` lies within the outline spread by `a` m; never wrongly.
    bool hold(Point place, double radius, double a) const;
    // The part of that polygon within the outline spread by `a` m; in the work's memory, or the polygon itself.
    std::span<const Point> part(std::span<const Point> polygon, double a, const Crossing& c, Work& work) const;

  private:
    // A side spread by a goes through q where x q.x + y q.y − from = a.
    std::vector<double> x_, y_, from_;
    double steepest_ = 0;  // that a grows by per m square to a side
};

}  // namespace mossbed
