#include <fmt/format.h>

#include "core/judge/checks.h"

namespace mossbed {

std::vector<Row> judge_equilibrium(const Fields& a) {
    std::vector<Row> rows;
    for (const CombinationAnswer& c : a.combinations) {
        if (c.is_solved() || c.combination.purpose == Purpose::trace) continue;
        if (c.ending == Ending::lifts_free || c.ending == Ending::overturns) continue;  // in stability.cpp
        Row row;
        row.id = "model", row.no_equilibrium = true;
        row.title = fmt::format("{} {}{}", c.combination.id, name_of(c.ending),
                                c.without_yield ? ", without the yield pressure" : "");
        row.status = Status::over, row.combination = c.combination.id, row.item = c.combination.id,
        row.note = c.explanation;
        row.clause = "equilibrium of the whole slab";
        if (a.coarse && c.ending == Ending::not_converged) {  // the full answer has more to say
            row.status = Status::not_checked;
            row.note = "No contact area was found on the coarse mesh of a quick look; the full answer will say.";
        }
        if (c.applied.Fz > 0) row.at = c.balance.landing;
        Working by;
        by.line({.text = "force down, all loads", .symbol = "F_z", .value = c.applied.Fz, .unit = Unit::kilonewton});
        by.line({.text = "moment about x at the origin",
                 .symbol = "M_x",
                 .value = c.applied.Mx,
                 .unit = Unit::kilonewton_metre});
        by.line({.text = "moment about y at the origin",
                 .symbol = "M_y",
                 .value = c.applied.My,
                 .unit = Unit::kilonewton_metre});
        row.working = std::move(by.terms);
        rows.push_back(std::move(row));
    }
    return rows;
}

}  // namespace mossbed
