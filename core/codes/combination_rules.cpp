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

Model new_model() {
    Model m;
    m.slab.outline = Polygon{};
    LoadCase g, q;
    g.id = "G", g.title = "Permanent", g.action = Action::permanent;
    q.id = "Q", q.title = "Imposed", q.action = Action::imposed;
    m.loads.cases = {g, q};
    m.loads.combinations = first_combinations(m.loads.cases);
    return m;
}

}  // namespace mossbed
