// What the columns of a table of columns and loads hold, by the words that people write over them.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/exchange/cells.h"

namespace mossbed {

enum class Dimension : char { none, length, force, moment, angle };

// A unit as it is written in a head, a cell or an option, and what it is of m, kN, kN·m or degrees.
struct WrittenUnit {
    std::string name;
    Dimension of = Dimension::none;
    double factor = 1;
    bool operator==(const WrittenUnit&) const = default;
};
std::optional<WrittenUnit> unit_of(const std::string& text);

enum class Holds : char {
    nothing,  // of ours
    name,
    x,
    y,
    shape,
    size,  // "400x600", "Ø500", or one number
    width,
    depth,
    diameter,
    angle,
    load_case,
    N,
    Mx,
    My,
    Hx,
    Hy
};
const char* name_of(Holds holds);  // "size x", "N"; "left out" of nothing
constexpr bool is_component(Holds h) { return h >= Holds::N; }
Dimension dimension_of(Holds h);

struct Head {
    std::string text;  // as the table has it, with the head above it where cases stand in a row of their own
    Holds holds = Holds::nothing;
    std::string load_case;            // of a component in a wide table; empty: of the row's case
    std::optional<WrittenUnit> unit;  // that the table states
    bool operator==(const Head&) const = default;
};

struct HeadRow {
    int row = -1;        // index of the heads among the table's rows, −1: none was found
    int first_data = 0;  // index of the first row after heads and units
    std::vector<Head> heads;
};
// The row that names most of what is looked for, within the first fifty; a row of units below it, cases in the row
// above it over several components. A row of numbers is none.
HeadRow find_heads(const CellTable& table);

}  // namespace mossbed
