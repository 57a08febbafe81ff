// A term of a working, written out.
#pragma once
#include "core/working/row.h"
#include "words/quantities.h"

namespace mossbed {

struct WrittenTerm {
    std::string text;     // with its clause: "size effect, 6.4.4(1)"
    std::string formula;  // "k = 1 + √(200/454) ≤ 2": the symbol, and the formula with the numbers put in
    std::string value, unit;
};
// A formula that holds in the code's own units keeps them, and names them where the others are asked for. In a formula
// {name} stands for a number, {name!} for a number with its unit; a name that nothing was put in for stays as it is.
WrittenTerm written(const Term& term, UnitSystem system = UnitSystem::metric);

// The formula in symbols, "1 + √(200/d) ≤ 2", for a typeset page.
std::string in_symbols(const Term& term);

// Value and limit in one form, "105 of 110 kPa"; steel of a strip by the metre of its width, as bars are given. Empty
// where there are not both.
std::string amounts_of(const Row& row);
// What the row comes to, as the last line of its working: "0.85 of 1.00: passes".
std::string conclusion_of(const Row& row);

}  // namespace mossbed
