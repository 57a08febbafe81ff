// Judges what a model says: each fault with the thing, what is wrong and what would mend it.
#pragma once
#include <vector>

#include "core/base/problem.h"
#include "core/model/model.h"

namespace mossbed {

// Errors keep the model from being solved; warnings are shown and the work goes on.
std::vector<Problem> problems_of(const Model& model);

}  // namespace mossbed
