#include "core/ground/moduli.h"

#include <cmath>

namespace mossbed {

double modulus_from_settlement(double allowable, double settlement) { return allowable / settlement; }

double modulus_from_bearing(double allowable, double safety) { return 40 * safety * allowable; }

double modulus_from_plate(double k_plate, double plate, double B, double L, PlateSoil soil) {
    constexpr double foot = 0.3;
    if (soil == PlateSoil::sand) {
        const double k_foot = k_plate / std::pow((plate + foot) / (2 * plate), 2);
        return k_foot * std::pow((B + foot) / (2 * B), 2);
    }
    const double square = k_plate * plate / B;
    return square * (L + B / 2) / (1.5 * L);
}

}  // namespace mossbed
