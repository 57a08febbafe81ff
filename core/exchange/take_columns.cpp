#include "core/exchange/take_columns.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

#include "core/arrange/rims.h"
#include "core/codes/combination_rules.h"
#include "core/model/edit.h"

namespace mossbed {

Action action_by_name(const std::string& load_case) {
    const std::string s = lower(load_case);
    auto begins = [&](std::initializer_list<const char*> words) {
        return std::any_of(words.begin(), words.end(), [&](const char* w) { return s.rfind(w, 0) == 0; });
    };
    auto is = [&](std::initializer_list<const char*> words) {  // with numbers, senses and directions behind it
        return std::any_of(words.begin(), words.end(), [&](const std::string w) {
            return s.rfind(w, 0) == 0 && s.find_first_not_of("0123456789+-_. xyz()k", w.size()) == s.npos;
        });
    };
    if (begins({"perm", "dead", "self", "super", "sdl", "finish"}) || is({"g", "d", "dl", "sw", "cdl"}))
        return Action::permanent;
    if (begins({"wind", "wl"}) || is({"w"})) return Action::wind;
    if (begins({"seis", "earthq", "quake", "eq"}) || is({"e", "ex", "ey", "s x", "sx", "sy", "a"}))
        return Action::seismic;
    if (begins({"snow"}) || is({"s", "sl"})) return Action::snow;
    if (begins({"soil", "earth"})) return Action::soil;
    if (begins({"fluid", "liquid"})) return Action::fluid;
    if (begins({"water", "groundw", "uplift"})) return Action::groundwater;
    if (begins({"imp", "live", "vari", "service", "stor", "traffic"}) || is({"q", "l", "ll", "lr", "p", "n"}))
        return Action::imposed;
    return Action::other;
}

namespace {

constexpr std::array<std::pair<Holds, double ColumnLoad::*>, 5> components{{{Holds::N, &ColumnLoad::N},
                                                                            {Holds::Mx, &ColumnLoad::Mx},
                                                                            {Holds::My, &ColumnLoad::My},
                                                                            {Holds::Hx, &ColumnLoad::Hx},
                                                                            {Holds::Hy, &ColumnLoad::Hy}}};

const char* unit_of(Holds h) { return h == Holds::Mx || h == Holds::My ? "kN·m" : "kN"; }

class Taker {
  public:
    Taker(const Model& model, const ColumnTable& table, const TakeOptions& options)
        : before_(model), table_(table), options_(options) {
        out_.model = model;
        for (size_t k = 0; k < model.columns.size(); ++k) index_[model.columns[k].id] = k;
    }
    Taken take() {
        const bool untouched = !before_.loads.combinations;
        for (const TableColumnRow& c : table_.columns) of_table_.insert(c.id);
        for (const TableColumnRow& c : table_.columns) column(c);
        loads();
        cases_and_combinations(untouched);
        tell();
        if (!options_.loads_only) slab();
        return std::move(out_);
    }

  private:
    Model& m() { return out_.model; }
    void refuse(const TableColumnRow& c, const std::string& what, const std::string& mend) {
        refused_.insert(c.id);
        out_.problems.push_back(
            {fmt::format("column {}: {}", c.id, what), fmt::format("line {}", c.line), mend, Severity::error, {}});
    }
    void column(const TableColumnRow& c) {
        const bool is_new = index_.count(c.id) == 0;
        if (is_new) {
            if (options_.loads_only)
                return refuse(c, "the model has no such column", "leave it out, or take the places of columns too");
            if (!c.at) return refuse(c, "it has no place and the model has no such column", "give its x and y");
            for (const Column& k : before_.columns)
                if (distance(k.at, *c.at) < 1e-6 && !of_table_.count(k.id))
                    return refuse(c, fmt::format("it stands where the model's column {} stands", k.id),
                                  "give it that name, or another place");
            Column fresh;
            fresh.id = c.id, fresh.at = *c.at;
            index_[c.id] = m().columns.size();
            m().columns.push_back(fresh);
            ++out_.added;
        } else if (options_.loads_only) {
            return;
        }
        Column& to = m().columns[index_[c.id]];
        if (c.at) to.at = *c.at;
        if (!c.size.empty()) to.shape = c.shape.value_or(to.shape), to.size = c.size;
        if (c.angle) to.angle = *c.angle;
        if (is_new) return;
        const Column& was = before_.columns[index_[c.id]];
        std::string& said = said_[c.id];
        if (distance(was.at, to.at) > 1e-9) {
            ++out_.moved;
            said += fmt::format("; moved from ({:g}, {:g}) to ({:g}, {:g}) m", was.at.x, was.at.y, to.at.x, to.at.y);
        }
        const bool same_size = std::equal(was.size.begin(), was.size.end(), to.size.begin(), to.size.end(),
                                          [](double a, double b) { return std::abs(a - b) < 1e-6; });
        if (!same_size || was.shape != to.shape || was.angle != to.angle)
            ++out_.resized, said += "; another size or angle";
    }

    // The model's case of that id or title, else a new one.
    size_t case_of(const std::string& name) {
        if (const auto it = case_index_.find(name); it != case_index_.end()) return it->second;
        auto& cases = m().loads.cases;
        for (const bool exactly : {true, false})
            for (size_t k = 0; k < cases.size(); ++k)
                for (const std::string& known : {cases[k].id, cases[k].title})
                    if (exactly ? known == name : lower(known) == lower(name)) return case_index_[name] = k;
        LoadCase c;
        c.id = name, c.action = action_by_name(name);
        cases.push_back(c);
        out_.cases_added.push_back(name);
        return case_index_[name] = cases.size() - 1;
    }

    void loads() {
        // By case, the table's loads in one pass over its items.
        std::map<size_t, std::unordered_map<std::string, const TableLoad*>> by_case;
        for (const std::string& name : table_.cases) case_of(name);
        for (const TableLoad& l : table_.loads)
            if (!refused_.count(l.load.column) && index_.count(l.load.column))
                if (const auto [it, is_new] = by_case[case_of(l.load_case)].emplace(l.load.column, &l); !is_new)
                    out_.problems.push_back({fmt::format("column {}: {} and {} are one case of the model",
                                                         l.load.column, it->second->load_case, l.load_case),
                                             fmt::format("line {}", l.line),
                                             "keep one of the two rows or columns",
                                             Severity::error,
                                             {}});
        std::set<std::string> loaded;
        for (auto& [k, of_column] : by_case) {
            auto& items = m().loads.cases[k].items;
            std::unordered_map<std::string, ColumnLoad> was;
            std::vector<LoadItem> kept;
            for (LoadItem& i : items) {
                const auto* l = std::get_if<ColumnLoad>(&i.load);
                if (!l || !of_column.count(l->column)) {
                    kept.push_back(std::move(i));
                    continue;
                }
                ColumnLoad& sum = was[l->column];
                for (auto [h, of] : components) sum.*of += l->*of;
            }
            items = std::move(kept);
            const bool had_loads = !was.empty();       // the first loads of a case are no changes
            for (const TableLoad& l : table_.loads) {  // in the table's order
                const auto it = of_column.find(l.load.column);
                if (it == of_column.end() || it->second != &l) continue;
                if (std::any_of(components.begin(), components.end(), [&](auto c) { return l.load.*c.second != 0; }))
                    items.push_back({l.load, {}});
                const ColumnLoad old = was[l.load.column];
                std::string said;
                for (auto [h, of] : components)
                    if (std::abs(old.*of - l.load.*of) > 1e-9 * std::max(1.0, std::abs(old.*of)))
                        said += fmt::format("; {} {} {:g} → {:g} {}", m().loads.cases[k].id, name_of(h), old.*of,
                                            l.load.*of, unit_of(h));
                if (said.empty()) continue;
                loaded.insert(l.load.column);
                if (had_loads) said_[l.load.column] += said;
            }
        }
        out_.loaded = int(loaded.size());
    }

    // Where nobody has touched the first combinations, they are made anew for the cases that are there now, and cases
    // of a new model that stayed empty go.
    void cases_and_combinations(bool untouched) {
        if (out_.cases_added.empty()) return;
        auto& cases = m().loads.cases;
        if (untouched) {
            const bool permanent =
                std::any_of(out_.cases_added.begin(), out_.cases_added.end(),
                            [](const std::string& id) { return action_by_name(id) == Action::permanent; });
            const bool bare = std::all_of(before_.loads.cases.begin(), before_.loads.cases.end(),
                                          [](const LoadCase& c) { return c.items.empty(); });
            std::erase_if(cases, [&](const LoadCase& c) {
                const bool of_table = std::any_of(case_index_.begin(), case_index_.end(), [&](const auto& known) {
                    return known.second == size_t(&c - cases.data());
                });
                return bare && !of_table && (c.action != Action::permanent || permanent);
            });
        } else if (std::any_of(before_.loads.combinations->begin(), before_.loads.combinations->end(),
                               [](const Combination& c) { return c.generated_by.has_value(); })) {
            remake_combinations(m());
        } else {
            for (const std::string& id : out_.cases_added)
                out_.problems.push_back({fmt::format("case {} is new and in no combination", id),
                                         "the loads",
                                         "add it to the combinations that it belongs to",
                                         Severity::warning,
                                         {}});
        }
        for (const std::string& id : out_.cases_added)
            if (action_by_name(id) == Action::other)
                out_.problems.push_back({fmt::format("the name of case {} does not say what it is", id),
                                         "the loads",
                                         "choose its action: permanent, imposed, wind …",
                                         Severity::warning,
                                         {}});
    }

    void tell() {
        for (const Column& c : before_.columns)
            if (const auto it = said_.find(c.id); it != said_.end() && !it->second.empty())
                out_.changes.push_back(c.id + ": " + it->second.substr(2));
        if (table_.columns.empty()) return;
        for (const Column& c : before_.columns)
            if (!of_table_.count(c.id)) out_.missing.push_back(c.id);
    }

    void slab() {
        const auto* ring = std::get_if<Polygon>(&m().slab.outline);
        if (!ring || !ring->empty() || m().columns.empty()) return;
        if (const std::string why = fit_rim(m(), RimFit::rectangle, options_.rim); !why.empty())
            out_.problems.push_back({"no slab could be laid round the columns: " + why,
                                     "the slab",
                                     "draw its outline, or give another rim",
                                     Severity::error,
                                     {}});
        else
            out_.made_slab = true;
    }

    const Model& before_;
    const ColumnTable& table_;
    const TakeOptions& options_;
    Taken out_;
    std::unordered_map<std::string, size_t> index_;
    std::unordered_map<std::string, size_t> case_index_;
    std::set<std::string> refused_, of_table_;  // columns
    std::map<std::string, std::string> said_;
};

}  // namespace

Taken take_columns(const Model& model, const ColumnTable& table, const TakeOptions& options) {
    return Taker(model, table, options).take();
}

}  // namespace mossbed
