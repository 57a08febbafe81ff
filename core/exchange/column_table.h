// Columns and their reactions by load case, from a table as people write it: a row a column with values by case beside
// each other, or a row a column and case. What each column of the table was taken for can be looked at and changed.
// Results are in m, kN and kN·m, signs those of the model: N presses down, Mx and My by the right-hand rule.
#pragma once
#include <map>
#include <set>

#include "core/exchange/heads.h"
#include "core/exchange/numbers.h"
#include "core/model/model.h"

namespace mossbed {

struct ColumnTableOptions {
    // The table holds what the ground does to the frame, up positive: N stays, the other four are turned round.
    bool are_reactions = false;
    std::optional<WrittenUnit> length, force;  // where the table states none; m and kN else
    bool loads_only = false;                   // places and sizes are not looked at
    std::vector<Head> heads;                   // in place of those that were understood; empty: as they are understood
};

struct TableColumnRow {  // of the table, one column of the building
    int line = 0;
    std::string id;
    std::optional<Point> at;
    std::optional<ColumnShape> shape;
    std::vector<double> size;  // m; empty: the table says none
    std::optional<double> angle;
};
struct TableLoad {
    int line = 0;
    std::string load_case;
    ColumnLoad load;
    std::set<Holds> stated;  // components that the table has a number for
};
// What the table's own totals row says beside the sum of what was taken.
struct TableTotal {
    int line = 0;
    std::string load_case;
    Holds component = Holds::N;
    double in_table = 0, taken = 0;
    bool agree() const;  // to the digits that totals are written with
};

struct ColumnTable {
    HeadRow heads;
    NumberHabit habit;
    char separator = ',';
    bool is_sheet = false;
    bool is_long = false;  // a row a column and case
    std::vector<TableColumnRow> columns;
    std::vector<TableLoad> loads;
    std::vector<std::string> cases;  // in the order in which they come
    std::vector<TableTotal> totals;
    int rows = 0;  // that hold something, below the heads
    // Where: "line 12"; errors mean that a row, or part of it, was not taken.
    std::vector<Problem> problems;
    bool anything_left_out() const { return has_errors(problems); }
    bool none() const { return columns.empty() && loads.empty(); }
    ColumnLoad sum_of(const std::string& load_case) const;  // of what was taken
};

// Never throws. A table without heads, or in which nothing is understood, gives one without rows and an error.
ColumnTable read_column_table(const CellTable& cells, const ColumnTableOptions& options = {});

// Size as written: "400x600", "Ø500", "0.4/0.6", "40 x 60 cm". Numbers without a unit are mm from 50, m up to 5; what
// lies between is nobody's guess. One number is a square, or a diameter of what is round. Why not, else empty.
std::string read_size(const std::string& text, const NumberHabit& habit, const std::optional<WrittenUnit>& unit,
                      bool is_round, TableColumnRow& to);

}  // namespace mossbed
