// The area of a bar.
#pragma once

namespace mossbed {

inline double area_of_bar(double diameter) { return 3.14159265358979323846 / 4 * diameter * diameter; }  // mm, mm²

}  // namespace mossbed
