// The order in which the equations of a mesh are eliminated: by nested dissection of the plan (George 1973, "Nested
// dissection of a regular finite element mesh"). In two by a straight cut, the groups beside it last; again in each
// part. Of all cuts along x and y that leave at least a fifth to each side the one with the fewest groups beside it,
// counted dearer the less even it is, so that cuts run between columns where cells are large. What the mesh knows of
// places is about as good as what a library finds in the graph alone, in a fraction of its time.
#pragma once
#include "core/base/geometry.h"
#include "core/plate/sparse_lower.h"

namespace mossbed {

// Groups of unknowns in their order of elimination, from which of them meet (the lower triangle, values unread) and
// where they lie; groups at the end without a place are forces (sparse_lower.h), which lie with the groups they meet: a
// cut leaves those that meet both sides, before the groups beside it. The same on one core and on many.
std::vector<int> dissected_order(const SparseLower& graph, const std::vector<Point>& at);

}  // namespace mossbed
