// Moduli of subgrade reaction, kN/m³, from other statements about the ground; pressures kPa, lengths m.
#pragma once
#include "core/model/model.h"

namespace mossbed {

// Allowable pressure over the settlement that was allowed with it.
double modulus_from_settlement(double allowable, double settlement);
// 40 × safety factor × allowable pressure, from 25 mm at the ultimate pressure (Bowles 1996, 9-6).
double modulus_from_bearing(double allowable, double safety);
// From a plate test with a plate `plate` wide (Terzaghi 1955): on sand ((B + 0.3)/(2B))², on clay plate/B, both from
// the value for a 0.3 m plate; a rectangle B × L on clay has (L + B/2)/(1.5 L) of the square's.
enum class PlateSoil { sand, clay };
double modulus_from_plate(double k_plate, double plate, double B, double L, PlateSoil soil);
constexpr double standard_plate = 0.3;  // m
// For the slab's length and width over all.
double modulus_from_plate(double k_plate, double plate, const Model& model, PlateSoil soil);

// What the model's own numbers lead to, and the number that was assumed with them.
struct ModulusProposal {
    double modulus = 0;
    double from = 0;  // the settlement, m; the safety factor
};
ModulusProposal modulus_by_settlement(const Model& model);  // its settlement limit, else 50 mm
ModulusProposal modulus_by_bearing(const Model& model);     // a safety factor of 3

}  // namespace mossbed
