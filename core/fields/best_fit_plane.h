// The plane that fits the settled base best, by least squares over its area: the rigid part of what it does.
#pragma once
#include "core/fields/fields.h"

namespace mossbed {

struct SettledPlane {
    double middle = 0;                // m down, at `about`
    double along_x = 0, along_y = 0;  // slopes, positive where it settles more towards +x, +y
    Point about;
    double slope() const { return std::hypot(along_x, along_y); }
    double between(Point p, Point q) const { return along_x * (q.x - p.x) + along_y * (q.y - p.y); }  // m more at q
};
SettledPlane best_fit_plane(const Fields& fields, const CombinationAnswer& combination);

}  // namespace mossbed
