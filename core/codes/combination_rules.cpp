#include "core/codes/combination_rules.h"

namespace mossbed {

std::vector<Combination> first_combinations(const std::vector<LoadCase>& cases, const PartialFactors& factors) {
    Combination s, u;
    s.id = "S1", s.purpose = Purpose::service, s.frequency = Frequency::characteristic;
    u.id = "U1", u.purpose = Purpose::strength;
    for (const LoadCase& c : cases) {
        s.factors[c.id] = 1;
        u.factors[c.id] = c.action == Action::permanent ? factors.permanent : factors.variable;
    }
    return {s, u};
}

}  // namespace mossbed
