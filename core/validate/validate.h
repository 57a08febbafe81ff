// Judges what a model says: each fault with the thing, what is wrong and what would mend it.
#pragma once
#include <vector>

#include "core/base/problem.h"
#include "core/model/model.h"

namespace mossbed {

// Errors keep the model from being solved; warnings are shown and the work goes on.
std::vector<Problem> problems_of(const Model& model);

// Some number of cells that its mesh will have, those round columns counted in.
double expected_cells(const Model& model);

// Of strata and boreholes alone. With errors among them no settlement can be worked out; problems_of passes these on as
// errors where springs come from the strata, and as warnings where they do not.
std::vector<Problem> problems_of_strata(const Model& model);

}  // namespace mossbed
