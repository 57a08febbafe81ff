#include "core/codes/combination_rules.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace mossbed {
namespace {

struct Acting {
    size_t of = 0;      // case
    double weight = 1;  // ±1; ± the share of an earthquake across another
};
using State = std::vector<Acting>;  // what acts of one action
using Groups = std::set<std::string>;

struct OneAction {  // cases that act together, or exclude each other by their groups
    ActionClass of = ActionClass::imposed;
    std::vector<size_t> cases;
};

class RowWriter {
  public:
    RowWriter(const Model& m, const Rules& r) : m_(m), cases_(m.loads.cases), r_(r) {
        for (size_t i = 0; i < cases_.size(); ++i) add_to_action(i);
    }

    std::vector<Combination> rows() {
        for (const RuleSet& s : r_.sets)
            if (s.variants.empty() || r_.variants.size() < 2 || holds(s.variants, m_.settings.combination_rules))
                write(s);
        return std::move(rows_);
    }
    bool is_too_many() const { return rows_.size() > most_combinations; }

  private:
    static bool holds(const std::vector<std::string>& list, const std::string& word) {
        return std::find(list.begin(), list.end(), word) != list.end();
    }
    void add_to_action(size_t i) {
        const ActionClass of = class_of(cases_[i]);
        auto fits = [&](const OneAction& a) {
            if (a.of != of || (of == ActionClass::imposed && r_.imposed == Rules::OneAction::load_case)) return false;
            return of != ActionClass::imposed || r_.imposed == Rules::OneAction::all ||
                   cases_[a.cases[0]].category == cases_[i].category;
        };
        const auto a = std::find_if(actions_.begin(), actions_.end(), fits);
        if (a != actions_.end())
            a->cases.push_back(i);
        else
            actions_.push_back({of, {i}});
    }

    std::vector<double> signs_of(size_t i) const {
        return cases_[i].reversible ? std::vector<double>{1, -1} : std::vector<double>{1};
    }
    // All that an action can be: cases without a group act together, of each group one at a time, reversible ones in
    // both signs; of groups that are taken already nothing.
    std::vector<State> states_of(const OneAction& a, const Groups& taken) const {
        if (a.of == ActionClass::seismic) return earthquakes(a, taken);
        std::vector<std::vector<Acting>> choices;
        std::map<std::string, size_t> of_group;
        for (size_t i : a.cases) {
            const std::string& g = cases_[i].group;
            if (taken.count(g)) continue;
            const auto known = of_group.find(g);
            if (g.empty() || known == of_group.end()) {
                if (!g.empty()) of_group[g] = choices.size();
                choices.emplace_back();
            }
            for (double sign : signs_of(i)) choices[g.empty() ? choices.size() - 1 : of_group[g]].push_back({i, sign});
        }
        std::vector<State> out(choices.empty() ? 0 : 1);
        for (const auto& choice : choices) {
            std::vector<State> next;
            for (const State& s : out)
                for (const Acting& c : choice) {
                    if (next.size() > most_combinations) return next;
                    next.push_back(s);
                    next.back().push_back(c);
                }
            out = std::move(next);
        }
        return out;
    }
    // The whole of one direction with a share of the other; cases without a direction, and those of one direction where
    // the other has none, each alone.
    std::vector<State> earthquakes(const OneAction& a, const Groups& taken) const {
        std::vector<size_t> x, y, alone;
        for (size_t i : a.cases)
            if (!taken.count(cases_[i].group))
                (!cases_[i].direction ? alone : *cases_[i].direction == Direction::x ? x : y).push_back(i);
        if (x.empty() || y.empty()) {
            alone.insert(alone.end(), x.begin(), x.end());
            alone.insert(alone.end(), y.begin(), y.end());
            x.clear(), y.clear();
        }
        std::vector<State> out;
        auto pairs = [&](const std::vector<size_t>& whole, const std::vector<size_t>& across) {
            for (size_t i : whole)
                for (size_t j : across)
                    for (double si : signs_of(i))
                        for (double sj : signs_of(j)) out.push_back({{i, si}, {j, sj * r_.share}});
        };
        pairs(x, y), pairs(y, x);
        for (size_t i : alone)
            for (double sign : signs_of(i)) out.push_back({{i, sign}});
        return out;
    }
    Groups groups_of(const State& s) const {
        Groups g;
        for (const Acting& a : s)
            if (!cases_[a.of].group.empty()) g.insert(cases_[a.of].group);
        return g;
    }
    std::string said(const State& s) const {  // "WX reversed and Q"
        std::string out;
        for (const Acting& a : s)
            out += (out.empty() ? "" : " and ") + cases_[a.of].id + (a.weight < 0 ? " reversed" : "");
        return out;
    }
    std::string named(const State& s, bool leads) const {
        std::string out;
        for (const Acting& a : s) out += (a.weight < 0 ? "-" : leads && out.empty() ? "" : "+") + cases_[a.of].id;
        return out;
    }

    struct Row {  // in the making
        std::map<size_t, double> factors;
        std::string id, says;
        Groups taken;
        bool has_company = false;
    };
    double psi(size_t i, int k) const {
        for (const Psi& p : r_.psi)
            if (p.action == cases_[i].action && (p.category.empty() || p.category == cases_[i].category))
                return p.values[size_t(k)];
        return 1;
    }
    void put(Row& row, const RuleTerm& t, const State& s) const {
        for (const Acting& a : s) {
            const double f = t.factor * (t.psi < 0 ? 1 : psi(a.of, t.psi)) * a.weight;
            if (f != 0) row.factors[a.of] += f;
        }
        for (const std::string& g : groups_of(s)) row.taken.insert(g);
    }
    void put_permanent(Row& row, double factor) const {
        for (size_t i = 0; i < cases_.size(); ++i)
            if (class_of(cases_[i]) == ActionClass::permanent && factor != 0) row.factors[i] += factor;
    }

    // Without water and with each of its states.
    void with_water(const RuleSet& s, Row row, bool must_be) {
        if (!s.groundwater) return must_be ? void() : add(s, std::move(row));
        if (!s.groundwater_needed && !must_be) add(s, row);
        for (const OneAction& a : actions_)
            if (a.of == ActionClass::groundwater)
                for (const State& state : states_of(a, row.taken)) {
                    Row wet = row;
                    put(wet, {ActionClass::groundwater, *s.groundwater, -1, {}, false, false}, state);
                    wet.id += named(state, false), wet.says += ", with " + said(state);
                    add(s, std::move(wet));
                }
    }

    // Places in a row that accompanying actions take: one each, or one for those that exclude each other.
    struct Companion {
        const RuleTerm* term;
        const OneAction* action;
    };
    std::vector<std::vector<Companion>> companions(const RuleSet& s, const OneAction* leads) const {
        std::vector<std::vector<Companion>> out;
        std::map<std::string, size_t> of_either;
        for (const RuleTerm& t : s.with)
            for (const OneAction& a : actions_) {
                if (a.of != t.of || &a == leads) continue;
                const auto known = of_either.find(t.either);
                if (!t.either.empty() && known != of_either.end()) {
                    out[known->second].push_back({&t, &a});
                    continue;
                }
                if (!t.either.empty()) of_either[t.either] = out.size();
                out.push_back({{&t, &a}});
            }
        return out;
    }
    void accompany(const RuleSet& s, const std::vector<std::vector<Companion>>& places, size_t next, const Row& row) {
        if (is_too_many()) return;
        if (next == places.size()) {
            if (!s.company_needed || row.has_company) with_water(s, row, false);
            return;
        }
        size_t n = 0;
        for (const Companion& c : places[next]) n += states_of(*c.action, row.taken).size();
        bool is_absent = n == 0;
        for (const Companion& c : places[next]) {
            is_absent |= c.term->may_be_absent;
            for (const State& state : states_of(*c.action, row.taken)) {
                Row fuller = row;
                put(fuller, *c.term, state);
                if (n > 1 || c.term->may_be_absent) fuller.id += named(state, false);
                fuller.has_company |= c.term->is_company;
                accompany(s, places, next + 1, fuller);
            }
        }
        if (is_absent) accompany(s, places, next + 1, row);
    }

    void write(const RuleSet& s) {
        bool led = false;
        for (const RuleTerm& t : s.lead)
            for (const OneAction& a : actions_)
                if (a.of == t.of)
                    for (const State& state : states_of(a, {})) {
                        if (is_too_many()) return;
                        led = true;
                        Row row;
                        put(row, t, state);
                        row.id = "." + named(state, true);
                        row.says = ", " + said(state) + (state.size() > 1 ? " lead" : " leads");
                        both(s, row, &a);
                    }
        if ((!led && !s.lead_needed) || s.without_lead)
            both(s, {}, nullptr);
        else if (!s.lead_needed)
            least(s, {}, true);
    }
    void both(const RuleSet& s, const Row& led, const OneAction* leads) {
        Row row = led;
        put_permanent(row, s.permanent);
        accompany(s, companions(s, leads), 0, row);
        least(s, led, !leads);
    }
    // What relieves is left out; without anything that leads there must be water that lifts.
    void least(const RuleSet& s, Row row, bool must_lift) {
        if (!s.permanent_relieves) return;
        put_permanent(row, *s.permanent_relieves);
        row.id += ".min", row.says += ", permanent loads favourable";
        with_water(s, std::move(row), must_lift);
    }

    void add(const RuleSet& s, Row row) {
        Combination c;
        c.id = s.id + row.id, c.purpose = s.purpose, c.frequency = s.frequency, c.safety = s.safety;
        for (const auto& [i, f] : row.factors)
            if (f != 0) c.factors[cases_[i].id] = std::round(f * 1e9) / 1e9;  // 1.5 × 0.7 is 1.05
        if (c.factors.empty()) return;
        c.generated_by = r_.name + " " + s.rule + row.says + "; " + s.clause;
        for (Combination& k : rows_)
            if (k.purpose == c.purpose && k.factors == c.factors) {
                // Once, under the longer lasting of the two.
                if (c.frequency && k.frequency && *c.frequency > *k.frequency) k.frequency = c.frequency;
                const std::string also = "; also " + s.rule;
                if (k.generated_by->find(s.rule) == std::string::npos) *k.generated_by += also;
                return;
            }
        const std::string id = c.id;
        for (int n = 2; find_id(rows_, c.id); ++n) c.id = fmt::format("{}.{}", id, n);
        rows_.push_back(std::move(c));
    }

    const Model& m_;
    const std::vector<LoadCase>& cases_;
    const Rules& r_;
    std::vector<OneAction> actions_;
    std::vector<Combination> rows_;
};

bool is_alike(const Combination& a, const Combination& b) { return a.purpose == b.purpose && a.factors == b.factors; }

}  // namespace

std::vector<Combination> combinations_by_rule(const Model& m, std::vector<Problem>& problems) {
    const auto rules = rules_of(m, problems);
    if (!rules) return {};
    RowWriter writer(m, *rules);
    std::vector<Combination> rows = writer.rows();
    if (rows.size() <= most_combinations) return rows;
    problems.push_back({fmt::format("the rules would write more than {} combinations", most_combinations),
                        "loads.cases",
                        "put cases that never act together into one group, or list the combinations by hand",
                        Severity::error,
                        {}});
    return {};
}

std::vector<Combination> combinations_in(const Model& m) {
    if (m.loads.combinations) return *m.loads.combinations;
    std::vector<Problem> told_by_validation;
    return combinations_by_rule(m, told_by_validation);
}

Model with_combinations_listed(Model m) {
    if (!m.loads.combinations) m.loads.combinations = combinations_in(m);
    return m;
}

void remake_combinations(Model& m, bool all) {
    if (!m.loads.combinations) return;
    std::vector<Combination>& rows = *m.loads.combinations;
    auto by_rule = [](const Combination& c) { return c.generated_by.has_value(); };
    if (!all && std::none_of(rows.begin(), rows.end(), by_rule)) return;
    std::vector<Problem> problems;
    std::vector<Combination> fresh = combinations_by_rule(m, problems);
    if (!problems.empty()) return;
    std::vector<Combination> kept, were;
    for (Combination& c : rows) (by_rule(c) ? were : kept).push_back(std::move(c));
    std::vector<bool> goes_on(were.size(), false);
    auto take_over = [&](Combination& c, auto fits) {
        for (size_t k = 0; k < were.size(); ++k)
            if (!goes_on[k] && fits(were[k])) {
                goes_on[k] = true;
                c.id = were[k].id, c.title = were[k].title, c.active = were[k].active, c.keys = were[k].keys;
                return true;
            }
        return false;
    };
    // A row made by hand stands in place of an equal one, and of the one that it was made of and still has the name of.
    std::erase_if(fresh, [&](const Combination& c) {
        return std::any_of(kept.begin(), kept.end(),
                           [&](const Combination& k) { return k.id == c.id || (is_alike(k, c) && k.active); });
    });
    std::vector<bool> is_known(fresh.size(), false);
    for (size_t i = 0; i < fresh.size(); ++i)
        is_known[i] = take_over(fresh[i], [&](const Combination& was) { return is_alike(was, fresh[i]); });
    for (size_t i = 0; i < fresh.size(); ++i)
        if (!is_known[i]) take_over(fresh[i], [&](const Combination& was) { return was.id == fresh[i].id; });
    for (size_t k = 0; k < were.size(); ++k) {
        const bool has_cases = std::all_of(were[k].factors.begin(), were[k].factors.end(),
                                           [&](const auto& f) { return find_id(m.loads.cases, f.first); });
        if (goes_on[k] || were[k].title.empty() || !has_cases) continue;
        were[k].generated_by.reset();
        kept.push_back(std::move(were[k]));
    }
    rows = std::move(kept);
    for (Combination& c : fresh) {
        const std::string id = c.id;
        for (int n = 2; find_id(rows, c.id); ++n) c.id = fmt::format("{}.{}", id, n);
        rows.push_back(std::move(c));
    }
}

bool differs_for_rules(const Model& a, const Model& b) {
    if (a.settings.combination_rules != b.settings.combination_rules || a.loads.rules != b.loads.rules) return true;
    return !std::equal(a.loads.cases.begin(), a.loads.cases.end(), b.loads.cases.begin(), b.loads.cases.end(),
                       [](const LoadCase& x, const LoadCase& y) {
                           return x.id == y.id && x.action == y.action && x.category == y.category &&
                                  x.reversible == y.reversible && x.group == y.group && x.direction == y.direction;
                       });
}

std::string rule_in_short(const Combination& c) {
    if (!c.generated_by) return "by hand";
    const size_t from = c.generated_by->find('('), to = c.generated_by->find(';');
    return from < to && to != std::string::npos ? c.generated_by->substr(from, to - from)
                                                : c.generated_by->substr(0, to);
}

Model new_model() {
    Model m;
    m.slab.outline = Polygon{};
    LoadCase g, q;
    g.id = "G", g.title = "Permanent", g.action = Action::permanent;
    q.id = "Q", q.title = "Imposed", q.action = Action::imposed;
    m.loads.cases = {g, q};
    return m;
}

}  // namespace mossbed
