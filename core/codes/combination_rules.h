// Combinations written by rule: every set of a rule file (rules.h) over the cases of a model.
#pragma once
#include "core/codes/rules.h"

namespace mossbed {

// The rows that the rules of a model give for its cases, equal ones once, each with its rule, equation and clause in
// `generated_by`. Ids are made of what acts ("U.W-Q.min": strength, W leads, Q reversed beside it, permanent loads
// favourable), so that a new case leaves those of the others alone. Where the rules cannot be read, or would write more
// than `most_combinations`, none, and the reason is told.
constexpr size_t most_combinations = 2000;
std::vector<Combination> combinations_by_rule(const Model& model, std::vector<Problem>& problems);

// The rows of a model: those it lists, else those of its rules.
std::vector<Combination> combinations_in(const Model& model);
// The model with its rows listed; no change where it lists them already.
Model with_combinations_listed(Model model);

// Writes the rows of a list anew that are by rule and keeps the others. Rows that stay what they were keep id, note and
// whether they are active; one that the rules no longer give is kept, as made by hand, where somebody wrote a note on
// it. `all`: also where the list has none by rule yet. Rules that cannot be read change nothing.
void remake_combinations(Model& model, bool all = false);
// Whether the rules read something else in one model than in the other.
bool differs_for_rules(const Model& a, const Model& b);

// "(6.10), W leads", of what stands in generated_by; "by hand".
std::string rule_in_short(const Combination& c);

// What a new model is: no slab yet, cases G (permanent) and Q (imposed) without items; its combinations are by rule.
Model new_model();

}  // namespace mossbed
