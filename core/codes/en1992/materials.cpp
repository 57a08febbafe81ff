// Classes of concrete and steel, and the modulus of concrete.
#include <cmath>

#include "core/codes/en1992/european_code.h"

namespace mossbed {

// Table 3.1; strength classes of cylinder and cube.
std::vector<Concrete> EuropeanCode::concrete_classes() const {
    std::vector<Concrete> all;
    for (const auto& [fck, cube] : {std::pair{12, 15},
                                    {16, 20},
                                    {20, 25},
                                    {25, 30},
                                    {30, 37},
                                    {35, 45},
                                    {40, 50},
                                    {45, 55},
                                    {50, 60},
                                    {55, 67},
                                    {60, 75},
                                    {70, 85},
                                    {80, 95},
                                    {90, 105}}) {
        Concrete c;
        c.id = "C" + std::to_string(fck) + "/" + std::to_string(cube);
        c.fck = fck, c.E = modulus_of_concrete(fck, c.unit_weight);
        all.push_back(std::move(c));
    }
    return all;
}

// Annex C, Table C.1: 400 to 600 MPa.
std::vector<Steel> EuropeanCode::steel_classes() const {
    std::vector<Steel> all;
    for (const int fyk : {400, 450, 500, 550, 600}) {
        Steel s;
        s.id = "B" + std::to_string(fyk), s.fyk = fyk, s.E = 200000;
        all.push_back(std::move(s));
    }
    return all;
}

// Table 3.1: E_cm = 22 (f_cm/10)^0.3 GPa with f_cm = f_ck + 8, for quartzite aggregates, to the GPa as there; lighter
// concrete by 11.3.2(1): times (ρ/2200)², ρ in kg/m³ from a unit weight less 1 kN/m³ of bars.
double EuropeanCode::modulus_of_concrete(double fck, double unit_weight) const {
    const double normal = 1000 * std::round(22 * std::pow((fck + 8) / 10, 0.3));
    const double density = (unit_weight - 1) * 1000 / 9.81;
    const double light = density < 2200 ? std::pow(std::max(density, 1.0) / 2200, 2) : 1;
    return std::round(normal * light / 100) * 100;
}

}  // namespace mossbed
