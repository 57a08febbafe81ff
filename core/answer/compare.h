// What the finer ground model changes, and what the doubt about the ground changes.
#pragma once
#include <array>
#include <map>
#include <string>
#include <vector>

#include "core/answer/solve.h"

namespace mossbed {

struct GroundRow {                       // one ground model, one combination
    std::string model, why_not;          // why_not: a sentence when it could not be solved
    double max_pressure = not_a_number;  // kPa
    double yield_ratio = not_a_number;   // share of the base at the yield pressure
    double settlement_middle = not_a_number, settlement_rim = not_a_number;  // m: at the slab's middle; mean of the rim
    double settlement_largest = not_a_number;                                // m
    double tilt_x = not_a_number, tilt_y = not_a_number;                     // slopes of the best-fit plane
    double sagging = not_a_number, hogging = not_a_number;  // kN·m/m, largest mx or my away from footprints
    double contact_ratio = not_a_number;
};

// The same combination on "uniform", "profile" and "coupled". Throws Stopped.
std::vector<GroundRow> compare_grounds(const Model& model, const std::string& combination,
                                       const Progress& progress = {});

// Every stiffness of the ground times a factor: modulus, patches, E and E_reload of strata; compression indices over
// it.
Model with_ground_stiffness(Model model, double factor);

struct BracketRow {
    std::string title;
    Unit unit = Unit::none;
    std::array<double, 3> value{not_a_number, not_a_number, not_a_number};  // at × ½, × 1, × 2
    std::array<double, 3> use{not_a_number, not_a_number, not_a_number};
};
// The worst row of each kind in the Ledger with the ground's stiffness × ½, × 1 and × 2. Throws as solve does.
std::vector<BracketRow> bracket_ground(const Model& model, const Progress& progress = {});

}  // namespace mossbed
