// What a strip covers: its axis with its reach to both sides.
#pragma once
#include "core/model/model.h"

namespace mossbed {

Polygon area_of(const Strip& strip);                              // anticlockwise
bool lies_on(const Strip& strip, Point at, double slack = 1e-6);  // slack: m

}  // namespace mossbed
