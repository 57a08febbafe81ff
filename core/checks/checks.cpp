#include "core/checks/checks.h"

#include <fmt/format.h>

#include <algorithm>

namespace mossbed {

double factor_in(const CombinationAnswer& c, const std::string& load_case) {
    const auto it = c.combination.factors.find(load_case);
    return it == c.combination.factors.end() ? 0 : it->second;
}

Polygon body_of(const Wall& w, size_t piece) {
    const Point side = (w.thickness / 2) * unit(left_of(w.path[piece + 1] - w.path[piece]));
    return {w.path[piece] - side, w.path[piece + 1] - side, w.path[piece + 1] + side, w.path[piece] + side};
}

void check_equilibrium(Answer& a) {
    for (const CombinationAnswer& c : a.combinations) {
        if (c.is_solved() || c.combination.purpose == "trace") continue;
        Row row;
        row.id = c.ending == Ending::lifts_free ? "flotation" : c.ending == Ending::overturns ? "overturning" : "model";
        row.title = fmt::format("{} {}", c.combination.id, name_of(c.ending));
        row.status = Status::over, row.combination = c.combination.id, row.item = c.combination.id,
        row.note = c.explanation;
        row.clause = "equilibrium of the whole slab";
        if (c.applied.Fz > 0) row.at = c.balance.landing;
        Working by;
        by.line("force down, all loads", "Fz", c.applied.Fz, "kN");
        by.line("moment about x at the origin", "Mx", c.applied.Mx, "kN·m");
        by.line("moment about y at the origin", "My", c.applied.My, "kN·m");
        row.working = std::move(by.lines);
        a.checks.push_back(row);
    }
}

void check_model(Answer& a) {
    const Model& m = *a.model;
    auto slip = [&](std::string item, std::string title, std::string note, std::optional<Point> at = {}) {
        Row row;
        row.id = "model", row.item = std::move(item), row.title = std::move(title), row.note = std::move(note),
        row.at = at;
        a.checks.push_back(row);
    };
    int n = 0;
    for (const Problem& p : a.problems)
        if (p.severity == Severity::warning)
            slip(fmt::format("note {} {}", ++n, p.where), "Look again: " + p.where, p.sentence(), p.at);
    const bool permanent = std::any_of(m.loads.cases.begin(), m.loads.cases.end(),
                                       [](const LoadCase& c) { return c.action == "permanent"; });
    if (!m.slab.self_weight)
        slip("self-weight", "No self-weight", "slab.self_weight is off: the slab weighs nothing in this answer.");
    else if (!permanent)
        slip("self-weight", "No self-weight", "There is no permanent case to carry the slab's weight; add one.");
    if (a.combinations.empty())
        slip("combinations", "No combinations",
             m.loads.combinations ? "No combination is active: nothing is solved; add one in the Tray of Loads."
                                  : "The model leaves its combinations to rules, which this version cannot write yet; "
                                    "list them by hand.");
    for (const LoadCase& c : m.loads.cases) {
        const bool used = std::any_of(a.combinations.begin(), a.combinations.end(),
                                      [&](const CombinationAnswer& k) { return factor_in(k, c.id) != 0; });
        if (!used && !a.combinations.empty())
            slip("case " + c.id, "Case " + c.id + " unused", "No active combination contains this case.");
        if (c.reversible && m.loads.combinations) {
            bool plus = false, minus = false;
            for (const Combination& k : *m.loads.combinations)
                if (auto it = k.factors.find(c.id); it != k.factors.end())
                    plus |= it->second > 0, minus |= it->second < 0;
            if (plus != minus)
                slip("case " + c.id + " sign", "Case " + c.id + " in one sign",
                     "It is reversible but the combinations hold it in one sign only.");
        }
    }
    for (const Column& c : m.columns) {
        const bool loaded = std::any_of(m.loads.cases.begin(), m.loads.cases.end(), [&](const LoadCase& k) {
            return std::any_of(k.items.begin(), k.items.end(), [&](const LoadItem& i) {
                auto l = std::get_if<ColumnLoad>(&i.load);
                return l && l->column == c.id && (l->N != 0 || l->Mx != 0 || l->My != 0 || l->Hx != 0 || l->Hy != 0);
            });
        });
        if (!loaded)
            slip("column " + c.id, "Column " + c.id + " unloaded", "No case brings a load down this column.", c.at);
    }
}

void make_checks(Answer& a, const std::vector<CaseLoads>& cases, const Finder& finder, bool design,
                 const Progress& progress) {
    check_equilibrium(a);
    check_bearing(a);
    check_contact(a);
    check_settlement(a);
    check_model(a);
    check_stability(a);
    if (design) {
        progress.report(0.7, "strips");
        check_strips(a, cases, progress);
        if (progress.stopped()) throw Stopped{};
        progress.report(0.9, "punching");
        check_punching(a, cases, finder);
    }
    rank_rows(a.checks);
}

// Worst first: no equilibrium, over by use, what is not checked, the rest by use, rules that are met (they say little
// by how closely), and values that nobody set a limit to.
void rank_rows(std::vector<Row>& rows) {
    auto rank = [](const Row& r) {
        if (r.status == Status::over) return r.utilisation ? 1 : 0;
        if (r.status == Status::not_checked) return 2;
        if (r.status == Status::no_limit) return 5;
        return r.id == "spacing" || r.id == "minimum-steel" ? 4 : 3;
    };
    std::stable_sort(rows.begin(), rows.end(), [&](const Row& p, const Row& q) {
        if (rank(p) != rank(q)) return rank(p) < rank(q);
        return p.utilisation.value_or(0) > q.utilisation.value_or(0);
    });
}

}  // namespace mossbed
