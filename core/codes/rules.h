// The rules by which combinations are written, as data: core/codes/rules/*.json, or the engineer's own copy of one in
// `loads.rules`. A rule file states which factor every action gets in which set, with the clause beside each number;
// what its keys mean stands in docs/format/README.md.
#pragma once
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/base/problem.h"
#include "core/model/model.h"

namespace mossbed {

// What a case is to the rules: its action, but that imposed loads of category H are those of roofs, and that soil is
// permanent.
enum class ActionClass : char { permanent, imposed, roof, wind, snow, seismic, fluid, groundwater, other };
template <>
struct Words<ActionClass> {
    static constexpr std::array all{"permanent", "imposed", "roof",        "wind", "snow",
                                    "seismic",   "fluid",   "groundwater", "other"};
};
ActionClass class_of(const LoadCase& c);

struct Psi {  // share of an action that accompanies another: ψ0, ψ1, ψ2
    Action action = Action::imposed;
    std::string category;  // empty: any
    std::array<double, 3> values{1, 1, 1};
    std::string clause;
};

struct RuleTerm {  // what the cases of one class get
    ActionClass of = ActionClass::imposed;
    double factor = 1;
    int psi = -1;                // 0, 1, 2: times ψ of the case; −1: the factor alone
    std::string either;          // terms that bear the same word exclude each other: one of them at a time
    bool may_be_absent = false;  // rows with it and rows without
    bool is_company = true;      // counts where a set needs company
};

struct RuleSet {  // one equation: a row for each action that leads
    std::string id, rule, clause;
    std::vector<std::string> variants;  // of the rule file; empty: all
    Purpose purpose = Purpose::strength;
    std::optional<Frequency> frequency;
    Safety safety = Safety::global;
    double permanent = 1;
    std::optional<double> permanent_relieves;  // a second row each: with this factor, and what leads alone
    std::optional<double> groundwater;         // rows with it beside the rows without
    bool groundwater_needed = false, lead_needed = false, company_needed = false, without_lead = false;
    std::vector<RuleTerm> lead, with;
};

struct Rules {
    enum class OneAction : char { all, category, load_case };
    std::string name, title;
    std::vector<std::string> variants;
    std::vector<Psi> psi;
    OneAction imposed = OneAction::category;  // which imposed cases are one action
    double share = 0.3;                       // of an earthquake across another
    std::string imposed_clause, share_clause;
    std::vector<RuleSet> sets;
};

// The texts that come with the program (JSON).
const std::vector<std::string>& rule_files();
// Words that settings.combination_rules may be.
std::vector<std::string> names_of_rules();
// The rule file that settings.combination_rules names, as text; empty where there is none.
std::string rule_file_of(const std::string& combination_rules);

// Reads a rule file. What is missing or no number is told by its place below `where`; nothing is guessed.
std::optional<Rules> read_rules(const std::string& text, const std::string& where, std::vector<Problem>& problems);

// The rules of a model: its own copy, else those that its settings name. None after the faults were told.
std::optional<Rules> rules_of(const Model& model, std::vector<Problem>& problems);

}  // namespace mossbed
