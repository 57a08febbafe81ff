// Tables of a model: a row a thing, a column a field of it, edited cell by cell or pasted as a block. Numbers are those
// of the screen (Facts::on_screen). A table looks into a model and writes to it; it is made anew when the model
// changed.
#pragma once
#include <memory>

#include "core/model/described.h"
#include "core/model/thing.h"

namespace mossbed {

enum class TableKind : char {
    columns,
    boreholes,
    layers,
    strata,
    setting_out,
    walls,
    ribs,
    patches,
    openings,
    ground_patches,
    loads,      // every item of every case
    load_sheet,  // columns with a group of values a case
    rules        // the numbers by which combinations are written
};

struct TableColumn {
    enum Holds : char { name, number, word, text, shown };  // shown: worked out, not to be typed
    std::string key, head;
    Holds holds = number;
    Facts facts{};                     // of a number
    std::vector<std::string> words{};  // that a word can be
    bool is_needed = false;            // a new row cannot do without it
    Unit unit() const { return facts.on_screen(); }
    std::string full_head() const;  // "x [m]"
};

struct TableCell {
    std::optional<double> number;
    std::string text;          // of a name, word or text
    bool is_standard = false;  // a default that nobody owns
    bool is_closed = false;    // this one cannot be typed into: a round column has no second size
    bool is_doubtful = false;  // a proposal that wants looking at
    bool is_largest = false;   // of its column
    bool is_missing = false;   // most others have one
    std::string tip;
};

class Table {
  public:
    virtual ~Table() = default;
    const std::vector<TableColumn>& columns() const { return columns_; }
    virtual int n_rows() const = 0;
    virtual Thing thing(int row) const = 0;
    virtual TableCell cell(int row, int column) const = 0;
    // Writes what was typed, a number or words; why it cannot be, empty when it is done. Nothing stands for an emptied
    // cell. Ranges of numbers are the caller's to judge (TableColumn::facts).
    virtual std::string set(int row, int column, const std::optional<double>& number, const std::string& text) = 0;
    // A new row at the end, or below `after` where the order says something; its index, −1 where there can be none and
    // `why` says what is missing.
    virtual int add_row(int after, std::string* why) = 0;
    virtual void drop_row(int row) = 0;            // the newest, of a paste that failed
    double sum(int column) const;                  // of its numbers
    int column_of(const std::string& head) const;  // by head or full head, −1

  protected:
    std::vector<TableColumn> columns_;
};

struct TableOptions {
    bool all_components = false;  // of loads; else N, and the others where a case has them
};
// The model must outlive it. For looking only, a const one serves: nothing is written but by set and add_row.
std::unique_ptr<Table> table_of(TableKind kind, Model& model, const TableOptions& options = {});

// The things of some rows, with what hangs on them; why they cannot go, empty when they are gone.
std::string remove_rows(TableKind kind, Model& model, const Things& things);

// Whether its modulus is a proposal or a placeholder that nobody has looked at.
bool is_proposed(const Stratum& stratum);

const char* title_of(TableKind kind);  // "Columns"
const char* one_of(TableKind kind);    // "column"

}  // namespace mossbed
