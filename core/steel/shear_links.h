// Areas of link legs that a section of a strip crosses.
#pragma once
#include <utility>
#include <vector>

#include "core/model/model.h"

namespace mossbed {

// Of the straight line between two places the shares that lie on areas of links, each part counted once, with the area
// that brings most steel there; areas of which no part lies on it are left out.
std::vector<std::pair<const ShearLinks*, double>> links_over(const Model& model, Point from, Point to);

}  // namespace mossbed
