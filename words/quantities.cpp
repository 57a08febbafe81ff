#include "words/quantities.h"

#include <fmt/format.h>

#include <array>
#include <cmath>

namespace mossbed {

namespace {
// A slope, as people say it: nothing flatter than a millimetre in a hundred metres counts.
std::string one_in(double v) { return std::abs(v) < 1e-5 ? "0" : "1/" + written(1 / std::abs(v), 0); }
}  // namespace

int usual_decimals(double v, const std::string& unit) {
    const double a = std::abs(v);
    for (const char* whole : {"kPa", "kN", "mm²", "mm²/m", "kN·m", "kN·m/m", "kN/m", "kip", "kip·ft", "years"})
        if (unit == whole) return a < 9.95 && v != 0 ? 1 : 0;
    if (unit == "mm" || unit == "%") return a < 99.95 ? 1 : 0;
    if (unit == "kN/m³") return 0;
    return 2;
}

bool is_read_as_one_in(double v, const std::string& unit) { return unit.empty() && v != 0 && std::abs(v) < 0.02; }

Amount in_units(double v, Unit unit, UnitSystem system) {
    if (system == UnitSystem::us) {
        constexpr double foot = 0.3048, inch = 25.4, kip = 4.4482216152605;  // m, mm, kN
        switch (unit) {
            case Unit::metre:
                return {v / foot, "ft"};
            case Unit::millimetre:
                return {v / inch, "in"};
            case Unit::square_metre:
                return {v / (foot * foot), "ft²"};
            case Unit::square_millimetre:
                return {v / (inch * inch), "in²"};
            case Unit::square_millimetre_per_metre:
                return {v / (inch * inch) * foot, "in²/ft"};
            case Unit::kilonewton:
                return {v / kip, "kip"};
            case Unit::kilonewton_metre:
                return {v / (kip * foot), "kip·ft"};
            case Unit::kilopascal:
                return {v * foot * foot / kip, "ksf"};
            case Unit::megapascal:
                return {v * inch * inch / (1000 * kip), "ksi"};
            default:
                break;
        }
    }
    return {v, name_of(unit)};
}

std::string written(double v, int decimals) {
    std::string s = fmt::format("{:.{}f}", v, decimals);
    if (s[0] == '-' && s.find_first_not_of("-0.") == std::string::npos) s.erase(0, 1);
    return s;
}

std::string written(double v, const std::string& unit) {
    if (is_read_as_one_in(v, unit)) return one_in(v);
    return written(v, usual_decimals(v, unit));
}

std::string written_against(double v, double limit, const std::string& unit) {
    if (is_read_as_one_in(limit, unit)) return one_in(v) + " of " + one_in(limit);
    int decimals = usual_decimals(v, unit);
    // Two numbers that differ are not written alike.
    while (decimals < 4 && v != limit && written(v, decimals) == written(limit, decimals)) ++decimals;
    const int of_limit = std::max(usual_decimals(limit, unit), decimals > usual_decimals(v, unit) ? decimals : 0);
    return written(v, decimals) + " of " + written(limit, of_limit) + (unit.empty() ? "" : " " + unit);
}

std::string written_with_unit(double v, const std::string& unit) {
    return unit.empty() ? written(v, unit) : written(v, unit) + " " + unit;
}

std::string typeset(std::string s) {
    const bool minus = !s.empty() && s[0] == '-';
    if (minus) s.erase(0, 1);
    const size_t digits = std::min(s.find_first_not_of("0123456789"), s.size());
    if (digits > 4 && s.find('/') == std::string::npos)
        for (size_t i = digits; i > 3; i -= 3) s.insert(i - 3, "\u2009");
    return minus ? "\u2212" + s : s;
}

}  // namespace mossbed
