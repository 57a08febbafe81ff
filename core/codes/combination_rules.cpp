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

bool has_first_combinations(const Model& m) {
    if (!m.loads.combinations) return false;
    const std::vector<Combination> first = first_combinations(m.loads.cases);
    return std::equal(first.begin(), first.end(), m.loads.combinations->begin(), m.loads.combinations->end(),
                      [](const Combination& a, const Combination& b) {
                          return a.id == b.id && a.purpose == b.purpose && a.factors == b.factors &&
                                 a.active == b.active && b.title.empty();
                      });
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
