// Sentences that say why a combination has no answer, and what would mend it.
#pragma once
#include "core/fields/fields.h"

namespace mossbed {

// Of one that lifts free or overturns; empty for others.
std::string why_no_equilibrium(const CombinationAnswer& c, const Model& model, const std::vector<CaseTotal>& cases);

// Of one for which no contact area was found: a base on a sliver of itself only where the resultant does land near the
// rim. `modulus`: kN/m³ per node.
std::string why_no_contact(const CombinationAnswer& c, const Model& model, const Mesh& mesh,
                           const std::vector<double>& modulus);

}  // namespace mossbed
