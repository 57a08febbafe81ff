#include "core/working/terms.h"

namespace mossbed {

const char* name_of(Unit u) {
    switch (u) {
        case Unit::none:
            return "";
        case Unit::percent:
            return "%";
        case Unit::metre:
            return "m";
        case Unit::millimetre:
            return "mm";
        case Unit::square_metre:
            return "m²";
        case Unit::square_millimetre:
            return "mm²";
        case Unit::square_millimetre_per_metre:
            return "mm²/m";
        case Unit::kilonewton:
            return "kN";
        case Unit::kilonewton_metre:
            return "kN·m";
        case Unit::kilopascal:
            return "kPa";
        case Unit::megapascal:
            return "MPa";
        case Unit::years:
            return "years";
        case Unit::degrees:
            return "°";
        case Unit::kilonewton_per_metre:
            return "kN/m";
        case Unit::kilonewton_per_cubic_metre:
            return "kN/m³";
        case Unit::square_metre_per_year:
            return "m²/year";
    }
    return "";
}

}  // namespace mossbed
