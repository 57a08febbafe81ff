// Bearing resistance of a spread foundation, EN 1997-1:2004 Annex D, for a horizontal base and level ground. Forces in
// kN, stresses in kPa, lengths in m, angles in degrees.
#pragma once
#include <cmath>

#include "core/model/words.h"
#include "core/working/terms.h"

namespace mossbed {

// On its effective area, the largest that is symmetric about the point where the load lands: sides B' ≤ L'.
struct BearingLoad {
    double V = 0;  // normal to the base, with its own soil on it; effective in drained ground, total in undrained
    double H_B = 0, H_L = 0;  // along B' and L'
    double B = 1, L = 1;      // effective
    double area() const { return B * L; }
    double H() const { return std::hypot(H_B, H_L); }
};

struct DrainedSoil {
    double phi = 30, c = 0;   // effective
    double unit_weight = 10;  // γ', kN/m³, effective below the base
    double q = 0;             // σ'v beside the base at its level
};
struct UndrainedSoil {
    double cu = 0;
    double q = 0;  // σv beside the base at its level
};

// What rows say they follow.
constexpr const char* clause_of_resistance = "EN 1997-1 Annex D, on the effective area (Meyerhof 1953)";
constexpr const char* clause_of_undrained_sliding =
    "EN 1997-1 6.5.3(11)P: c_u over the pressed area; (12)P: no more than 0.4 of the force where water or air can "
    "reach "
    "the base";
constexpr double most_of_the_force = 0.4;  // 6.5.3(12)P
// The approach that goes with combinations by these rules.
Approach usual_approach(const std::string& combination_rules);

// Largest φ' that the factors are given for.
constexpr double most_phi = 50;

// R, kN. D.4 (drained): c' Nc sc ic + q' Nq sq iq + γ' B' Nγ sγ iγ / 2 over A', with Nγ = 2 (Nq − 1) tan φ' of a rough
// base. No resistance where the horizontal force is more than friction and cohesion hold.
double drained_resistance(const BearingLoad& load, const DrainedSoil& soil, Working* working = nullptr);
// D.3 (undrained): (π + 2) cu sc ic + q over A'; none where H is more than A' cu.
double undrained_resistance(const BearingLoad& load, const UndrainedSoil& soil, Working* working = nullptr);

// Partial factors of an approach, EN 1997-1 Annex A (recommended): on tan φ' and c', on cu, and on the resistance.
struct BearingFactors {
    double phi = 1, cu = 1, resistance = 1;
    const char* clause = "";
};
BearingFactors factors_on_strength(bool materials_too);  // M2: 1.25 and 1.4; M1: 1
constexpr double resistance_factor_DA2 = 1.4;            // R2, Table A.5
constexpr double variable_factor_A2 = 1.3;               // A2, Table A.3, on unfavourable variable actions

}  // namespace mossbed
