#include "core/judge/judge.h"

#include <algorithm>

#include "core/judge/checks.h"
#include "core/judge/design.h"

namespace mossbed {

Judgement judge(const Fields& f, const Judgement* before, const Progress& progress) {
    Judgement out;
    for (auto* judges : {judge_equilibrium, judge_bearing, judge_resistance, judge_contact, judge_settlement,
                         look_at_model, judge_stability})
        for (Row& r : judges(f)) {
            progress.end_if_stopped();
            out.checks.push_back(std::move(r));
        }
    if (!f.coarse) judge_design(f, before, out, progress);
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
        return r.id == "spacing" || r.id == "minimum-steel" ? 4 : 3;
    };
    std::stable_sort(rows.begin(), rows.end(), [&](const Row& p, const Row& q) {
        if (rank(p) != rank(q)) return rank(p) < rank(q);
        return p.utilisation.value_or(0) > q.utilisation.value_or(0);
    });
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
