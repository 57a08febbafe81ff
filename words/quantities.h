// Numbers as engineers write them: one rule of rounding for window, command line and files, in metric or US customary
// units.
#pragma once
#include <string>

#include "core/model/words.h"
#include "core/working/terms.h"

namespace mossbed {

// Digits after the point for a value in a unit, by its written name: 142 kPa, 18.4 mm, 0.91.
int usual_decimals(double value, const std::string& unit);
// A small slope or ratio is better read as 1 in so many.
bool is_read_as_one_in(double value, const std::string& unit);

struct Amount {  // a value in a unit that people read
    double value = 0;
    std::string unit;
};
Amount in_units(double value, Unit unit, UnitSystem system);

std::string written(double value, int decimals);                       // plain digits, no −0
std::string written(double value, const std::string& unit);            // by the usual rounding, "1/500" for slopes
std::string written_with_unit(double value, const std::string& unit);  // "142 kPa"
// A value and what it is held against, in one form: "105 of 110 kPa", "1/436 of 1/400".
std::string written_against(double value, double limit, const std::string& unit);
std::string typeset(std::string plain);  // a written number with thin spaces between thousands and a true minus

}  // namespace mossbed
