#include "core/answer/combination_summary.h"

#include <map>

#include "core/judge/checks.h"

namespace mossbed {

std::vector<CombinationSummary> summarise(const Answer& a) {
    std::vector<CombinationSummary> out;
    std::map<std::string, size_t> index;
    for (const CombinationAnswer& c : as_listed(a.combinations)) {
        CombinationSummary s;
        s.id = c.combination.id, s.ending = c.ending;
        index[s.id] = out.size();
        s.applied = c.applied, s.ground = c.ground_reaction;
        for (const CaseTotal& k : a.cases) s.Hx += factor_in(c, k.id) * k.Hx, s.Hy += factor_in(c, k.id) * k.Hy;
        if (c.has_field()) {
            s.max_pressure = c.max_pressure, s.contact_ratio = c.contact_ratio;
            s.max_settlement = range_of_settlement(a, c).second;
            auto held_against = [&s](const char* title, double use) {
                if (s.worst_use && *s.worst_use >= use) return;
                s.worst_use = use, s.worst_of = title, s.is_over = use > 1 + 1e-9;
            };
            s.pressure_limit = limit_of_largest_pressure(*a.model, c.combination);
            if (s.pressure_limit) held_against("Bearing pressure", s.max_pressure / *s.pressure_limit);
            if (c.combination.purpose == Purpose::service) {
                s.contact_limit = a.model->checks.contact_ratio_limit;
                s.settlement_limit = a.model->checks.settlement_limit;
                if (s.settlement_limit) held_against("Largest settlement", s.max_settlement / *s.settlement_limit);
                if (s.contact_limit && s.contact_ratio > 0)
                    held_against("Base in contact", *s.contact_limit / s.contact_ratio);
            }
        }
        out.push_back(std::move(s));
    }
    for (const Row& r : a.checks) {
        const auto it = index.find(r.combination);
        if (it == index.end()) continue;
        CombinationSummary& s = out[it->second];
        ++s.governs;
        if (!r.utilisation || (s.worst_use && *s.worst_use > *r.utilisation)) continue;
        s.worst_use = r.utilisation, s.worst_of = r.title, s.is_over = r.status == Status::over;
    }
    return out;
}

}  // namespace mossbed
