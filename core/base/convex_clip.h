// Many polygons cut by one convex ring, without memory asked for each time.
#pragma once
#include "core/base/geometry.h"

namespace mossbed {

// The part of `p` with dot(q − on_line, inward) ≥ 0, into `out`.
void clip_into(const Polygon& p, Point on_line, Point inward, Polygon& out);

// Subjects cut by a convex anticlockwise ring; clip_to_convex (geometry.h) is that of one. Of one outside nothing is
// left.
class ConvexClip {
  public:
    explicit ConvexClip(const Polygon& convex);
    // Of a subject that a circle about `middle` holds; radius in m. `out` and `spare` keep their memory.
    void clip(const Polygon& subject, Point middle, double radius, Polygon& out, Polygon& spare) const;

  private:
    struct Side {
        Point on, inward;  // as long as the side
        double length2;
    };
    std::vector<Side> sides_;
};

}  // namespace mossbed
