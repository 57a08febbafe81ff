// Share of the base that presses, under service combinations.
#include <fmt/format.h>

#include "core/judge/service.h"

namespace mossbed {

std::vector<Row> judge_contact(const Fields& a) {
    if (a.model->ground.tension) return {};  // bonded ground never lifts
    Row row;
    row.id = "contact", row.title = "Base in contact",
    row.clause = "share of the base that presses, service combinations";
    row.limit = a.model->checks.contact_ratio_limit;
    if (!has_service(a)) {
        row.note = no_service, row.leads_to = "loads/combinations";
        return {row};
    }
    const CombinationAnswer* worst = nullptr;
    Working by;
    each_service(a, [&](const CombinationAnswer& c) {
        if (!worst || c.contact_ratio < worst->contact_ratio) worst = &c;
        by.line({.text = fmt::format("share of the base in contact in {}", c.combination.id),
                 .formula = "smallest pressure {p!}",
                 .put_in = {{"p", c.min_pressure, Unit::kilopascal}},
                 .value = c.contact_ratio});
    });
    if (!worst) return {row};
    row.value = worst->contact_ratio, row.combination = worst->combination.id;
    double deepest = 1e300;
    for (int i = 0; i < int(a.mesh.nodes.size()); ++i)
        if (worst->settlement(i) < deepest) deepest = worst->settlement(i), row.at = a.mesh.nodes[size_t(i)];
    if (row.limit) {
        row.judge(*row.limit / std::max(1e-9, *row.value));
        by.line(term_of_use("use: required over actual", *row.limit, *row.value, Unit::none, row));
    } else {
        row.without_limit("Nobody set a least share in contact.", "checks/contact_ratio_limit");
    }
    row.working = std::move(by.terms);
    return {row};
}

}  // namespace mossbed
