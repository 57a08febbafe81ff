// The box of points in axes that are turned: x along u, y to its left.
#pragma once
#include "core/base/geometry.h"

namespace mossbed {

inline Box box_along(const Polygon& points, Point u) {
    Box b;
    for (Point p : points) b.add({dot(p, u), dot(p, left_of(u))});
    return b;
}
// A rectangle of those axes in the plan, anticlockwise.
inline Polygon rectangle_along(const Box& b, Point u) {
    const Point v = left_of(u);
    auto at = [&](double x, double y) { return x * u + y * v; };
    return {at(b.low.x, b.low.y), at(b.high.x, b.low.y), at(b.high.x, b.high.y), at(b.low.x, b.high.y)};
}

}  // namespace mossbed
