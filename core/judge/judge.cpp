#include "core/judge/judge.h"

#include <algorithm>

#include "core/base/both.h"
#include "core/judge/checks.h"
#include "core/judge/design.h"

namespace mossbed {

namespace {

std::shared_ptr<const RowsWithoutSteel> judge_without_steel(const Fields& f, const Judgement* before,
                                                            const Progress& progress) {
    auto out = std::make_shared<RowsWithoutSteel>();
    out->solution = f.stages.solution, out->loading = f.stages.loading;
    out->of = *f.model, out->of.steel = {};
    if (const RowsWithoutSteel* b = before ? before->without_steel.get() : nullptr;
        b && b->solution == out->solution && b->loading == out->loading && b->of == out->of)
        return before->without_steel;
    for (auto* judges :
         {judge_equilibrium, judge_bearing, judge_resistance, judge_contact, judge_settlement, judge_stability}) {
        progress.end_if_stopped();
        out->by_judge.push_back(judges(f));
    }
    return out;
}

}  // namespace

Judgement judge(const Fields& f, const Judgement* before, const Progress& progress) {
    Judgement out;
    std::vector<Row> first;
    both(
        [&] {
            out.without_steel = judge_without_steel(f, before, progress);
            for (const std::vector<Row>& rows : out.without_steel->by_judge)
                first.insert(first.end(), rows.begin(), rows.end());
            for (Row& r : look_at_model(f)) first.push_back(std::move(r));
        },
        [&] {
            if (!f.coarse) judge_design(f, before, out, progress);
        });
    out.checks.insert(out.checks.begin(), std::make_move_iterator(first.begin()), std::make_move_iterator(first.end()));
    rank_rows(out.checks);
    return out;
}

// Worst first: no equilibrium, over by use, what is not checked, the rest by use, rules that are met (they say little
// by how closely), and values that nobody set a limit to.
void rank_rows(std::vector<Row>& rows) {
    auto rank = [](const Row& r) {
        if (r.status == Status::over) return r.no_equilibrium || !r.utilisation ? 0 : 1;
        if (r.status == Status::not_checked) return 2;
        if (r.status == Status::no_limit) return 5;
        return r.id == "spacing" || r.id == "minimum-steel" || r.id == "anchorage" ? 4 : 3;
    };
    struct Placed {
        int rank;
        double use;
        size_t row;
    };
    std::vector<Placed> order;
    for (size_t i = 0; i < rows.size(); ++i) order.push_back({rank(rows[i]), rows[i].utilisation.value_or(0), i});
    std::stable_sort(order.begin(), order.end(), [](const Placed& p, const Placed& q) {
        if (p.rank != q.rank) return p.rank < q.rank;
        return p.use > q.use;
    });
    std::vector<Row> ranked;
    ranked.reserve(rows.size());
    for (const Placed& p : order) ranked.push_back(std::move(rows[p.row]));
    rows = std::move(ranked);
}

const std::vector<Compared>& compared_checks() {
    static const std::vector<Compared> all{{"bearing", "Bearing pressure"},
                                           {"contact", "Base in contact"},
                                           {"settlement", "Largest settlement"},
                                           {"distortion", "Slope between columns"},
                                           {"tilt", "Tilt"},
                                           {"punching", "Worst punching"},
                                           {"bending", "Worst bending"},
                                           {"one-way-shear", "Worst one-way shear"},
                                           {"rib", "Largest moment of a rib"}};
    return all;
}

}  // namespace mossbed
