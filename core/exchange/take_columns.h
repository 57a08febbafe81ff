// Columns and loads of a table taken into a model: new ones added, those of the same name moved, resized and loaded
// anew, and what that changes told.
#pragma once
#include "core/exchange/column_table.h"

namespace mossbed {

struct TakeOptions {
    bool loads_only = false;  // only loads of columns that the model has
    double rim = 1;           // m clear of the columns' faces, of the slab made where the model has none
};

struct Taken {
    Model model;
    int added = 0, moved = 0, resized = 0, loaded = 0;  // columns; loaded: with loads that are not what they were
    std::vector<std::string> cases_added;
    std::vector<std::string> changes;  // "C3: G N 475 → 480 kN", a sentence a column that was there
    std::vector<std::string> missing;  // columns of the model that the table does not have
    bool made_slab = false;
    std::vector<Problem> problems;  // errors: rows that could not be taken into this model
    bool anything() const { return added + moved + resized + loaded > 0; }
    bool same_as_before() const { return !anything() && cases_added.empty(); }
};

// Cases go by id or title, whatever their capitals; new ones get an action by their name. Of a column and case in the
// table what stood there before is replaced, moments and shears that the table does not state among them.
Taken take_columns(const Model& model, const ColumnTable& table, const TakeOptions& options);

// The action that a case's name suggests: "W+x" is wind, "DL" permanent; other where it says nothing.
Action action_by_name(const std::string& load_case);

}  // namespace mossbed
