// A table as other programs write it, as rows of cells: text with commas, semicolons or tabs between them. Knows
// nothing of what stands in the cells.
#pragma once
#include <string>
#include <vector>

#include "core/base/problem.h"

namespace mossbed {

struct CellRow {
    int line = 0;  // of the file, from 1; of a sheet its row
    std::vector<std::string> cells;
    // Text that is not as it was written: a quotation mark is not closed, or the file ends within the row.
    bool is_broken = false;
    const std::string& at(size_t k) const;  // empty beyond the end
    bool is_empty() const;                  // no cell holds anything
};

struct CellTable {
    char separator = ',';
    bool is_sheet = false;      // of a spreadsheet: rows end with their last cell that holds something
    std::vector<CellRow> rows;  // empty ones too
    bool ends_openly = false;   // the text ends without a line end: its last number may be cut
    std::vector<Problem> problems;
};

// UTF-8 text. Quotes round a cell, doubled within, may hold separators and line ends. A line "sep=;" says the
// separator; else it is the one that most lines agree on. Never throws.
CellTable read_cells(const std::string& text);

// Without blanks at both ends, no-break spaces among them.
std::string trimmed(const std::string& s);
std::string lower(std::string s);  // of A to Z

}  // namespace mossbed
