// Moduli of subgrade reaction, kN/m³, from other statements about the ground; pressures kPa, lengths m.
#pragma once

namespace mossbed {

// Allowable pressure over the settlement that was allowed with it.
double modulus_from_settlement(double allowable, double settlement);
// 40 × safety factor × allowable pressure, from 25 mm at the ultimate pressure (Bowles 1996, 9-6).
double modulus_from_bearing(double allowable, double safety);
// From a plate test with a plate `plate` wide (Terzaghi 1955): on sand ((B + 0.3)/(2B))², on clay plate/B, both from
// the value for a 0.3 m plate; a rectangle B × L on clay has (L + B/2)/(1.5 L) of the square's.
enum class PlateSoil { sand, clay };
double modulus_from_plate(double k_plate, double plate, double B, double L, PlateSoil soil);

}  // namespace mossbed
