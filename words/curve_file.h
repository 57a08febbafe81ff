// A load–settlement curve as a file: JSON or a table (docs/format).
#pragma once
#include "core/answer/curve.h"

namespace mossbed {

std::string write_curve(const Curve& curve);
// A head with units, then a line a step, separated by `between`; what is not known is empty.
std::string curve_table(const Curve& curve, char between);

}  // namespace mossbed
