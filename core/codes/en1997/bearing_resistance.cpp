#include "core/codes/en1997/bearing_resistance.h"

#include <algorithm>
#include <cmath>

namespace mossbed {
namespace {

constexpr double degree = M_PI / 180;

void write(Working* w, Term t) {
    if (w) w->line(std::move(t));
}

}  // namespace

double drained_resistance(const BearingLoad& load, const DrainedSoil& soil, Working* w) {
    const double phi = soil.phi * degree, tan_phi = std::tan(phi), sin_phi = std::sin(phi);
    const bool frictionless = soil.phi < 0.05;
    const double Nq = std::exp(M_PI * tan_phi) * std::pow(std::tan(M_PI / 4 + phi / 2), 2);
    const double Nc = frictionless ? M_PI + 2 : (Nq - 1) / tan_phi, Ng = 2 * (Nq - 1) * tan_phi;
    const double shape = load.B / load.L;
    const double sq = 1 + shape * sin_phi, sg = 1 - 0.3 * shape,
                 sc = frictionless ? 1 + 0.2 * shape : (sq * Nq - 1) / (Nq - 1);
    double iq = 1, ig = 1, ic = 1;
    if (const double H = load.H(); H > 0) {
        const double held = load.V + (frictionless ? 0 : load.area() * soil.c / tan_phi);
        if (frictionless)
            ic = soil.c > 0 && H < load.area() * soil.c ? 0.5 * (1 + std::sqrt(1 - H / (load.area() * soil.c))) : 0;
        else if (H >= held)
            iq = ig = ic = 0;
        else {
            // m between those of the two sides by the direction of H, D.4(4).
            const double mB = (2 + shape) / (1 + shape), mL = (2 + 1 / shape) / (1 + 1 / shape);
            const double along_L = load.H_L * load.H_L / (H * H), m = mL * along_L + mB * (1 - along_L);
            iq = std::pow(1 - H / held, m), ig = std::pow(1 - H / held, m + 1);
            ic = std::max(0.0, iq - (1 - iq) / (Nc * tan_phi));
        }
    }
    const double of_c = soil.c * Nc * sc * ic, of_q = soil.q * Nq * sq * iq,
                 of_g = 0.5 * soil.unit_weight * load.B * Ng * sg * ig;
    write(w, {.text = "bearing factor, depth",
              .symbol = "N_q",
              .formula = "e^(π tan φ) tan²(45° + φ/2), φ = {φ}",
              .put_in = {{"φ", soil.phi, Unit::degrees}},
              .value = Nq,
              .clause = "D.4(2)"});
    write(w, {.text = "bearing factor, cohesion",
              .symbol = "N_c",
              .formula = "({N_q} − 1) / tan φ",
              .put_in = {{"N_q", Nq}},
              .value = Nc,
              .clause = "D.4(2)"});
    write(w, {.text = "bearing factor, width, of a rough base",
              .symbol = "N_γ",
              .formula = "2 ({N_q} − 1) tan φ",
              .put_in = {{"N_q", Nq}},
              .value = Ng,
              .clause = "D.4(2)"});
    write(w, {.text = "shape s_q",
              .symbol = "s_q",
              .formula = "1 + {B'}/{L'} sin φ",
              .put_in = {{"B'", load.B, Unit::metre}, {"L'", load.L, Unit::metre}},
              .value = sq,
              .clause = "D.4(3)"});
    write(w, {.text = "shape s_γ",
              .symbol = "s_γ",
              .formula = "1 − 0.3 {B'}/{L'}",
              .put_in = {{"B'", load.B, Unit::metre}, {"L'", load.L, Unit::metre}},
              .value = sg,
              .clause = "D.4(3)"});
    write(w, {.text = "shape s_c",
              .symbol = "s_c",
              .formula = "({s_q} {N_q} − 1)/({N_q} − 1)",
              .put_in = {{"s_q", sq}, {"N_q", Nq}},
              .value = sc,
              .clause = "D.4(3)"});
    if (load.H() > 0) {
        write(w, {.text = "inclination i_q under the horizontal force",
                  .symbol = "i_q",
                  .formula = "(1 − {H}/({V} + {A'} {c'} cot φ))^m",
                  .put_in = {{"H", load.H(), Unit::kilonewton},
                             {"V", load.V, Unit::kilonewton},
                             {"A'", load.area(), Unit::square_metre},
                             {"c'", soil.c, Unit::kilopascal}},
                  .value = iq,
                  .clause = "D.4(4)"});
        write(w, {.text = "inclination i_γ", .symbol = "i_γ", .value = ig, .clause = "D.4(4)"});
        write(w, {.text = "inclination i_c", .symbol = "i_c", .value = ic, .clause = "D.4(4)"});
    }
    const double R = load.area() * (of_c + of_q + of_g);
    write(w, {.text = "resistance over the effective area, drained",
              .symbol = "R/A'",
              .formula = "{c'} N_c s_c i_c + {q'} N_q s_q i_q + 0.5 {γ'} {B'} N_γ s_γ i_γ",
              .put_in = {{"c'", soil.c, Unit::kilopascal},
                         {"q'", soil.q, Unit::kilopascal},
                         {"γ'", soil.unit_weight, Unit::kilonewton_per_cubic_metre},
                         {"B'", load.B, Unit::metre}},
              .value = R / load.area(),
              .unit = Unit::kilopascal,
              .clause = "(D.2)"});
    return R;
}

double undrained_resistance(const BearingLoad& load, const UndrainedSoil& soil, Working* w) {
    const double sc = 1 + 0.2 * load.B / load.L, H = load.H(), held = load.area() * soil.cu;
    const double ic = H <= 0 ? 1 : H < held ? 0.5 * (1 + std::sqrt(1 - H / held)) : 0;
    write(w, {.text = "shape s_c",
              .symbol = "s_c",
              .formula = "1 + 0.2 {B'}/{L'}",
              .put_in = {{"B'", load.B, Unit::metre}, {"L'", load.L, Unit::metre}},
              .value = sc,
              .clause = "D.3(1)"});
    if (H > 0)
        write(w, {.text = "inclination i_c",
                  .symbol = "i_c",
                  .formula = "(1 + √(1 − {H}/({A'} {c_u})))/2",
                  .put_in = {{"H", H, Unit::kilonewton},
                             {"A'", load.area(), Unit::square_metre},
                             {"c_u", soil.cu, Unit::kilopascal}},
                  .value = ic,
                  .clause = "D.3(1)"});
    const double R = H > 0 && H >= held ? 0 : load.area() * ((M_PI + 2) * soil.cu * sc * ic + soil.q);
    write(w, {.text = "resistance over the effective area, undrained",
              .symbol = "R/A'",
              .formula = "(π + 2) {c_u} s_c i_c + {q}",
              .put_in = {{"c_u", soil.cu, Unit::kilopascal}, {"q", soil.q, Unit::kilopascal}},
              .value = R / load.area(),
              .unit = Unit::kilopascal,
              .clause = "(D.1)"});
    return R;
}

Approach usual_approach(const std::string& rules) {
    return rules.rfind("EN 1990", 0) == 0 ? Approach::DA2 : Approach::global_factor;
}

BearingFactors factors_on_strength(bool materials_too) {
    if (!materials_too) return {1, 1, 1, "M1, Table A.4: no factor on strengths"};
    return {1.25, 1.4, 1, "M2, Table A.4: 1.25 on tan φ' and c', 1.4 on c_u"};
}

}  // namespace mossbed
