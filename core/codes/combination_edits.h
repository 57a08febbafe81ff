// Edits of the rows of combinations. A model whose rows are by rule gets them listed first; a row that somebody writes
// numbers into is made by hand from then on, so that no rule takes them away again.
#pragma once
#include <set>

#include "core/codes/combination_rules.h"

namespace mossbed {

// Each: why it cannot be, empty when it is done.
std::string set_factor(Model& model, const std::string& row, const std::string& load_case, double factor);
std::string set_purpose(Model& model, const std::string& row, Purpose purpose);
std::string rename_combination(Model& model, const std::string& from, const std::string& to);
// Notes and switches leave a row by rule what it is.
void set_note(Model& model, const std::string& row, const std::string& note);
void set_active(Model& model, const std::set<std::string>& rows, bool active);
// Rows by hand go; rows by rule would come again and are switched off. How many of each.
struct Dropped {
    int gone = 0, off = 0;
};
Dropped drop_combinations(Model& model, const std::set<std::string>& rows);
// A new row by hand after the one that it is like, or the last; its id.
std::string add_combination(Model& model, const std::string& like);
// All rows by rule in place of the list, or beside what was made by hand in it.
void write_combinations_by_rule(Model& model);

// The water that the base stands in, up to a level: as a case of its own unless one has it, with factor 1 in every row
// made by hand whose purpose has no water yet; rows by rule follow when they are remade. The case.
std::string put_water_in(Model& model, double level);

// Cases. A copy has all loads, each times a factor; its id.
std::string copy_case(Model& model, const std::string& load_case);
void scale_case(Model& model, const std::string& load_case, double factor);
bool move_case(Model& model, const std::string& load_case, int by);  // up or down; false at the end
void drop_case(Model& model, const std::string& load_case);

}  // namespace mossbed
