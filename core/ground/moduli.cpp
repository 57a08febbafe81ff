#include "core/ground/moduli.h"

#include <algorithm>
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

double modulus_from_plate(double k_plate, double plate, const Model& m, PlateSoil soil) {
    const Box b = box_of(outer_rim(m.slab.outline, 1.0));
    return modulus_from_plate(k_plate, plate, std::min(b.width(), b.height()), std::max(b.width(), b.height()), soil);
}

ModulusProposal modulus_by_settlement(const Model& m) {
    constexpr double usual = 0.05;  // m
    const double s = m.checks.settlement_limit.value_or(usual);
    return {modulus_from_settlement(m.ground.allowable_pressure, s), s};
}

ModulusProposal modulus_by_bearing(const Model& m) {
    constexpr double usual_safety = 3;
    return {modulus_from_bearing(m.ground.allowable_pressure, usual_safety), usual_safety};
}

}  // namespace mossbed
