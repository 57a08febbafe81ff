// A working is a list of terms: what a number is, how it follows, from which clause. Terms are kept as what they are,
// symbols and typed quantities, and written out elsewhere (words/terms.h), in metric or US customary units, on the
// screen, in a file or typeset.
#pragma once
#include <optional>
#include <string>
#include <vector>

namespace mossbed {

enum class Unit : char {
    none,
    percent,
    metre,
    millimetre,
    square_metre,
    square_millimetre,
    square_millimetre_per_metre,
    kilonewton,
    kilonewton_metre,
    kilopascal,
    megapascal,
    years,
    degrees,
    kilonewton_per_metre,
    kilonewton_per_cubic_metre,
    square_metre_per_year
};
const char* name_of(Unit u);  // as in the results file: "kN·m"; empty for none

struct Measure {
    std::string symbol;
    double value = 0;
    Unit unit = Unit::none;
    int digits = -1;  // after the point, in metric; −1: as is usual for the unit
};

struct Term {
    std::string text{};             // what it is, in words
    std::string symbol{};           // "V_Rd,c"; may be empty
    std::string formula{};          // "{v} b d": names in braces stand for the quantities put in; may be empty
    std::vector<Measure> put_in{};  // what the formula names
    double value = 0;
    Unit unit = Unit::none;
    std::string clause{};        // "6.4.4(1)"; may be empty
    bool in_code_units = false;  // the formula holds in the units of put_in only: other units are never put into it
};

// Collects the terms of a derivation while the numbers are computed.
class Working {
  public:
    double line(Term t) {
        terms.push_back(std::move(t));
        return terms.back().value;
    }
    std::vector<Term> terms;
};

}  // namespace mossbed
