// Rules by which combinations are written. So far what a new model begins with; the written envelope comes with them.
#pragma once
#include "core/model/model.h"

namespace mossbed {

struct PartialFactors {
    double permanent = 1.35, variable = 1.5;  // EN 1990 Table A1.2(B), unfavourable
};

// One service combination of all cases as they are, characteristic, and one for strength with partial factors.
std::vector<Combination> first_combinations(const std::vector<LoadCase>& cases, const PartialFactors& factors = {});

// Whether a model's combinations are still those, whatever a file says of who set them.
bool has_first_combinations(const Model& model);

// What a new model is: no slab yet, cases G (permanent) and Q (imposed) without items, their first combinations.
Model new_model();

}  // namespace mossbed
