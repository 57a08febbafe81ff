#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/judge/strip_judge.h"

namespace mossbed {
namespace {

const CombinationAnswer& answer_of(const Fields& fields, const StripDemand& demand, long c) {
    return fields.combinations[size_t(demand.combinations[size_t(c)])];
}

// Of each section the combinations with the most and least moment, most shear, most asked of either face; or each that
// was asked for by name once, as it stands.
std::vector<long> combinations_to_record(const Fields& fields, const StripDemand& demand, const SectionDemand& s) {
    const long n = long(demand.combinations.size());
    std::vector<long> rows;
    if (fields.asked) {
        for (long c = 0; c < n; ++c)
            if (!answer_of(fields, demand, c).without_yield) rows.push_back(c);
        return rows;
    }
    // The first of those that differ by rounding only, as all do where a strip ends.
    auto most = [&](auto value) {
        long best = 0;
        for (long c = 1; c < n; ++c)
            if (value(c) > value(best) + 1e-9 * (1 + std::abs(value(best)))) best = c;
        return best;
    };
    rows = {most([&](long c) { return s.M(c); }), most([&](long c) { return -s.M(c); }),
            most([&](long c) { return std::abs(s.V(c)); }),
            most([&](long c) { return demand.asked(Face::bottom, s, c); }),
            most([&](long c) { return demand.asked(Face::top, s, c); })};
    std::sort(rows.begin(), rows.end());
    rows.erase(std::unique(rows.begin(), rows.end()), rows.end());
    return rows;
}

}  // namespace

std::vector<StripAnswer> record_sections(const Fields& fields, const StripDemand& demand, const StripProvision& strips,
                                         const RequiredSteel* needs) {
    std::vector<StripAnswer> out = demand.strips;
    tbb::parallel_for(0, int(out.size()), [&](int i) {
        for (int k = 0; k < int(demand.stations(i).size()); ++k) {
            const SectionDemand& s = demand.section(i, k);
            if (s.shares.empty()) continue;
            const Station& t = demand.station(i, k);
            for (long c : combinations_to_record(fields, demand, s)) {
                SectionRow r;
                r.s = t.s, r.at = demand.at(i, k), r.in_support = t.in_support;
                r.combination = answer_of(fields, demand, c).combination.id;
                r.width = s.width(), r.M = s.M(c), r.V = s.V(c), r.T = s.T(c), r.N = s.N(c);
                if (!s.members.none()) r.M_members = s.members.M[c], r.V_members = s.members.V[c];
                r.M_design_bottom = demand.design_moment(Face::bottom, i, k, c);
                r.M_design_top = -demand.design_moment(Face::top, i, k, c);
                if (needs) {
                    auto required = [&](Face f, double M) {
                        return needs->with_minimum(f, strips.depth_direction(i, f), s, c, M, strips.sizes(f, i, k));
                    };
                    r.top_required = required(Face::top, -r.M_design_top);
                    r.bottom_required = required(Face::bottom, r.M_design_bottom);
                }
                r.top_provided = strips.provided(Face::top, i, k, r.width);
                r.bottom_provided = strips.provided(Face::bottom, i, k, r.width);
                out[size_t(i)].sections.push_back(std::move(r));
            }
        }
    });
    return out;
}

}  // namespace mossbed
