// Open paths of straight pieces: axes of ribs and walls, lines of loads.
#pragma once
#include "core/base/geometry.h"

namespace mossbed {

double length_of(const std::vector<Point>& path);      // m
size_t longest_piece(const std::vector<Point>& path);  // its first point; of equal ones the first; two points at least

}  // namespace mossbed
