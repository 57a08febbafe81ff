#include "core/model/facts.h"

#include <fmt/format.h>

#include <cctype>
#include <cmath>

namespace mossbed {

double Facts::factor() const {
    if (shown == Unit::none || shown == unit) return 1;
    if (unit == Unit::metre && shown == Unit::millimetre) return 1000;
    return 1;
}

bool Facts::allows(double v) const { return std::isfinite(v) && (above_least ? v > least : v >= least) && v <= most; }

bool Facts::is_unusual(double v) const {
    return usual_high > 0 && std::isfinite(v) && v > 0 && (v < usual_low || v > usual_high);
}

std::string Facts::name() const {
    if (*noun) return noun;
    const std::string s = label;
    const bool is_word = s.size() > 1 && std::isupper(static_cast<unsigned char>(s[0])) &&
                         std::islower(static_cast<unsigned char>(s[1]));
    return is_word ? "the " + std::string(1, char(std::tolower(s[0]))) + s.substr(1) : s;  // symbols stay as they are
}

std::string Facts::why_not(double v) const {
    const std::string u = name_of(unit);
    return fmt::format("{} is {:g}{}{}", name(), v, u.empty() ? "" : " ", u);
}

std::string Facts::unit_to_check(double v) const {
    const char* slip = unit == Unit::megapascal && v < usual_low   ? "GPa"
                       : unit == Unit::metre && v > usual_high     ? "mm"
                       : unit == Unit::millimetre && v < usual_low ? "m"
                                                                   : nullptr;
    return slip ? fmt::format("check that it is in {}, not {}", name_of(unit), slip) : "check its unit";
}

std::string Facts::how_to_mend() const {
    const std::string u = name_of(unit), in = u.empty() ? "" : ", in " + u;
    if (std::isfinite(least) && std::isfinite(most))
        return fmt::format("give {}{:g} to {:g}{}", above_least ? "more than " : "", least, most, in);
    if (least == 0) return (above_least ? "give a number above zero" : "give zero or more") + in;
    return "give a plain number" + in;
}

}  // namespace mossbed
