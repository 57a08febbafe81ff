#include "core/model/strip_area.h"

namespace mossbed {

Polygon area_of(const Strip& s) {
    const Point u = unit(s.axis[1] - s.axis[0]), n = left_of(u);
    return {s.axis[0] - s.reach[1] * n, s.axis[1] - s.reach[1] * n, s.axis[1] + s.reach[0] * n,
            s.axis[0] + s.reach[0] * n};
}

bool lies_on(const Strip& s, Point at, double slack) {
    const Point u = unit(s.axis[1] - s.axis[0]), r = at - s.axis[0];
    const double along = dot(r, u), off = cross(u, r);
    return along >= -slack && along <= distance(s.axis[0], s.axis[1]) + slack && off <= s.reach[0] + slack &&
           off >= -s.reach[1] - slack;
}

}  // namespace mossbed
