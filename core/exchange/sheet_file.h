// The first sheet of a spreadsheet file (Office Open XML .xlsx, OpenDocument .ods) as a table of cells, formulas by
// the values that were saved with them.
#pragma once
#include "core/exchange/cells.h"

namespace mossbed {

bool is_sheet_file(const std::string& bytes);  // a packed file of one of the two kinds, by what it begins with
// Throws Trouble where it is no such file, is cut off or has no sheet.
CellTable read_sheet(const std::string& bytes);

// A table file, whichever it is: a spreadsheet, else text in any encoding. Throws Trouble where it is another kind of
// file, by name where it is known.
CellTable read_table_file(const std::string& bytes);

}  // namespace mossbed
