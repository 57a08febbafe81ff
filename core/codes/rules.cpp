#include "core/codes/rules.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

namespace mossbed {
namespace {

using nlohmann::json;

// One object of a rule file: its keys are asked for by name, and what nobody asked for is told.
class Entry {
  public:
    Entry(const json& j, std::string where, std::vector<Problem>& problems)
        : j_(j), where_(std::move(where)), problems_(problems) {
        if (!j_.is_object()) fault("", fmt::format("an object is expected here, not {}", j_.dump()), "write { … }");
    }
    ~Entry() {
        if (j_.is_object())
            for (auto it = j_.begin(); it != j_.end(); ++it)
                if (!asked_.count(it.key()))
                    fault("", fmt::format("the key \"{}\" means nothing here", it.key()),
                          "remove it or write it as in docs/format");
    }
    Entry(const Entry&) = delete;

    bool has(const char* key) {
        asked_.insert(key);
        return j_.is_object() && j_.contains(key);
    }
    double number(const char* key, double least = 0, double most = 100) {
        if (!has(key)) return fault(key, "a number is missing", "give it, as in the rules that come with it"), 0;
        if (!j_[key].is_number()) return fault(key, j_[key].dump() + " is no number", "give a plain number"), 0;
        const double v = j_[key].get<double>();
        if (!(v >= least && v <= most))
            fault(key, fmt::format("{:g} is no factor", v), fmt::format("give {:g} to {:g}", least, most));
        return v;
    }
    std::optional<double> number_or_none(const char* key) {
        return has(key) ? std::optional(number(key)) : std::nullopt;
    }
    std::string text(const char* key, bool needed = true) {
        if (!has(key)) {
            if (needed) fault(key, "a text is missing", "give it, as in the rules that come with it");
            return {};
        }
        if (!j_[key].is_string()) return fault(key, j_[key].dump() + " is no text", "put it in quotes"), "";
        return j_[key].get<std::string>();
    }
    std::string clause() {
        const std::string c = text("clause");
        if (c.empty() && has("clause")) fault("clause", "no clause is named", "say where its numbers come from");
        return c;
    }
    bool flag(const char* key) {
        if (!has(key)) return false;
        if (!j_[key].is_boolean()) return fault(key, j_[key].dump() + " is neither true nor false", "write one"), false;
        return j_[key].get<bool>();
    }
    template <HasWords E>
    E word(const char* key, E standard) {
        const std::string w = text(key);
        if (const auto e = from_word<E>(w)) return *e;
        if (!w.empty()) fault(key, "\"" + w + "\" is not known", "write one of " + words_to_choose<E>());
        return standard;
    }
    template <HasWords E>
    std::optional<E> word_or_none(const char* key) {
        return has(key) ? std::optional(word(key, E{})) : std::nullopt;
    }
    std::vector<std::string> texts(const char* key) {
        std::vector<std::string> out;
        if (!has(key)) return out;
        for (const json& t : list(key))
            if (t.is_string())
                out.push_back(t.get<std::string>());
            else
                fault(key, t.dump() + " is no text", "put it in quotes");
        return out;
    }
    // Calls take(Entry&) for each object of a list.
    template <class F>
    void each(const char* key, bool needed, F take) {
        if (!has(key)) {
            if (needed) fault(key, "a list is missing", "give it, as in the rules that come with it");
            return;
        }
        int i = 0;
        for (const json& item : list(key)) {
            Entry e(item, fmt::format("{}.{}[{}]", where_, key, named(item, i)), problems_);
            take(e);
            ++i;
        }
    }
    std::optional<std::pair<json, std::string>> object(const char* key) {
        if (!has(key))
            return fault(key, "an object is missing", "give it, as in the rules that come with it"), std::nullopt;
        return std::pair{j_[key], where_ + "." + key};
    }
    void fault(const std::string& key, const std::string& what, const std::string& mend) {
        problems_.push_back({what, key.empty() ? where_ : where_ + "." + key, mend, Severity::error, {}});
    }

  private:
    static std::string named(const json& item, int i) {
        if (item.is_object() && item.contains("id") && item["id"].is_string()) return item["id"].get<std::string>();
        return std::to_string(i);
    }
    const json& list(const char* key) {
        static const json nothing = json::array();
        if (j_[key].is_array()) return j_[key];
        fault(key, "a list is expected here", "write [ … ]");
        return nothing;
    }
    const json& j_;
    std::string where_;
    std::vector<Problem>& problems_;
    std::set<std::string> asked_;
};

constexpr const char* psi_keys[] = {"psi0", "psi1", "psi2"};

RuleTerm read_term(Entry& e) {
    RuleTerm t;
    t.of = e.word("action", t.of);
    t.factor = e.number("factor");
    const std::string psi = e.text("psi", false);
    for (int k = 0; k < 3; ++k)
        if (psi == psi_keys[k]) t.psi = k;
    if (!psi.empty() && t.psi < 0) e.fault("psi", "\"" + psi + "\" is not known", "write psi0, psi1 or psi2");
    t.either = e.text("or", false);
    t.may_be_absent = e.flag("may_be_absent");
    t.is_company = !e.flag("no_company");
    if (t.of == ActionClass::permanent || t.of == ActionClass::groundwater)
        e.fault("action", fmt::format("{} has a factor of its own in a set", name_of(t.of)),
                fmt::format("write \"{}\": … beside \"purpose\"", name_of(t.of)));
    return t;
}

RuleSet read_set(Entry& e) {
    RuleSet s;
    s.id = e.text("id"), s.rule = e.text("rule"), s.clause = e.clause();
    s.variants = e.texts("of");
    s.purpose = e.word("purpose", s.purpose);
    s.frequency = e.word_or_none<Frequency>("frequency");
    s.safety = e.word_or_none<Safety>("safety").value_or(s.safety);
    s.permanent = e.number("permanent");
    s.permanent_relieves = e.number_or_none("permanent_relieves");
    s.groundwater = e.number_or_none("groundwater");
    s.groundwater_needed = e.flag("groundwater_needed"), s.lead_needed = e.flag("lead_needed");
    s.company_needed = e.flag("company_needed"), s.without_lead = e.flag("without_lead");
    e.each("lead", false, [&](Entry& t) { s.lead.push_back(read_term(t)); });
    e.each("with", false, [&](Entry& t) { s.with.push_back(read_term(t)); });
    return s;
}

bool needs_psi(const Rules& r, ActionClass of) {
    return std::any_of(r.sets.begin(), r.sets.end(), [&](const RuleSet& s) {
        auto is = [&](const RuleTerm& t) { return t.of == of && t.psi >= 0; };
        return std::any_of(s.lead.begin(), s.lead.end(), is) || std::any_of(s.with.begin(), s.with.end(), is);
    });
}

}  // namespace

ActionClass class_of(const LoadCase& c) {
    switch (c.action) {
        case Action::permanent:
        case Action::soil:
            return ActionClass::permanent;
        case Action::imposed:
            return c.category == "H" ? ActionClass::roof : ActionClass::imposed;
        case Action::wind:
            return ActionClass::wind;
        case Action::snow:
            return ActionClass::snow;
        case Action::seismic:
            return ActionClass::seismic;
        case Action::fluid:
            return ActionClass::fluid;
        case Action::groundwater:
            return ActionClass::groundwater;
        case Action::other:
            break;
    }
    return ActionClass::other;
}

namespace {
const std::vector<Rules>& known_rules() {  // as rule_files(), read once
    static const std::vector<Rules> all = [] {
        std::vector<Rules> out;
        for (const std::string& text : rule_files()) {
            std::vector<Problem> problems;
            auto r = read_rules(text, "the rules", problems);
            if (!r) throw Trouble(problems.at(0));  // a test reads them all
            out.push_back(std::move(*r));
        }
        return out;
    }();
    return all;
}
std::optional<size_t> known_as(const std::string& name) {
    for (size_t i = 0; i < known_rules().size(); ++i)
        for (const std::string& v : known_rules()[i].variants)
            if (v == name) return i;
    return {};
}
}  // namespace

std::vector<std::string> names_of_rules() {
    std::vector<std::string> out;
    for (const Rules& r : known_rules()) out.insert(out.end(), r.variants.begin(), r.variants.end());
    return out;
}

std::string rule_file_of(const std::string& combination_rules) {
    const auto i = known_as(combination_rules);
    return i ? rule_files()[*i] : std::string();
}

std::optional<Rules> read_rules(const std::string& text, const std::string& where, std::vector<Problem>& problems) {
    const size_t before = problems.size();
    const json j = json::parse(text, nullptr, false);
    if (j.is_discarded()) {
        problems.push_back({"it is no JSON", where, "write it as the rules that come with it", Severity::error, {}});
        return {};
    }
    Rules r;
    {
        Entry e(j, where, problems);
        r.name = e.text("rules"), r.title = e.text("title"), r.variants = e.texts("variants");
        if (r.variants.empty()) r.variants = {r.name};
        e.each("psi", true, [&](Entry& p) {
            Psi s;
            s.action = p.word("action", s.action), s.category = p.text("category", false);
            for (size_t k = 0; k < 3; ++k) s.values[k] = p.number(psi_keys[k], 0, 1);
            s.clause = p.clause();
            r.psi.push_back(std::move(s));
        });
        if (const auto o = e.object("one_action")) {
            Entry one(o->first, o->second, problems);
            const std::string by = one.text("imposed");
            if (by != "all" && by != "category" && by != "case")
                one.fault("imposed", "\"" + by + "\" is not known", "write all, category or case");
            r.imposed = by == "all"    ? Rules::OneAction::all
                        : by == "case" ? Rules::OneAction::load_case
                                       : Rules::OneAction::category;
            r.imposed_clause = one.clause();
        }
        if (const auto d = e.object("directions")) {
            Entry of(d->first, d->second, problems);
            r.share = of.number("share", 0, 1), r.share_clause = of.clause();
        }
        e.each("sets", true, [&](Entry& s) { r.sets.push_back(read_set(s)); });
        if (r.sets.empty() && problems.size() == before) e.fault("sets", "there is no set", "keep one at least");
        std::set<std::string> ids;
        for (const RuleSet& s : r.sets)
            if (!ids.insert(s.id).second) e.fault("sets", "two sets are called \"" + s.id + "\"", "rename one");
        // A case without its ψ would be counted in full or not at all, and nobody would see it.
        for (Action a : {Action::imposed, Action::wind, Action::snow, Action::fluid, Action::other}) {
            LoadCase c;
            c.action = a;
            std::vector<std::string> categories{""};
            if (a == Action::imposed) categories = {"A", "B", "C", "D", "E", "F", "G", "H"};
            for (const std::string& category : categories) {
                c.category = category;
                if (needs_psi(r, class_of(c)) && std::none_of(r.psi.begin(), r.psi.end(), [&](const Psi& p) {
                        return p.action == a && (p.category.empty() || p.category == category);
                    }))
                    e.fault("psi",
                            fmt::format("ψ of {}{} is missing", name_of(a),
                                        category.empty() ? "" : ", category " + category),
                            "add an entry with psi0, psi1 and psi2");
            }
        }
    }
    if (problems.size() > before) return {};
    return r;
}

std::optional<Rules> rules_of(const Model& m, std::vector<Problem>& problems) {
    if (!m.loads.rules.empty()) return read_rules(m.loads.rules, "loads.rules", problems);
    const std::string& name = m.settings.combination_rules;
    if (const auto i = known_as(name)) return known_rules()[*i];
    std::string known;
    for (const std::string& n : names_of_rules()) known += (known.empty() ? "\"" : ", \"") + n + "\"";
    problems.push_back({"\"" + name + "\" is not among the rules known here",
                        "settings.combination_rules",
                        "write one of " + known + ", list the combinations by hand, or give rules in loads.rules",
                        Severity::error,
                        {}});
    return {};
}

}  // namespace mossbed
