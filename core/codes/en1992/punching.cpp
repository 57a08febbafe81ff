#include <cmath>
#include <limits>
#include <tuple>

#include "core/codes/en1992/european_code.h"

namespace mossbed {
namespace {

// Share k of a moment that unbalanced shear takes, Table 6.1; c1 lies along the eccentricity.
double share_of_moment(double c1, double c2) {
    const double r = c1 / c2;
    if (r <= 0.5) return 0.45;
    if (r <= 1) return 0.45 + (r - 0.5) / 0.5 * 0.15;
    if (r <= 2) return 0.6 + (r - 1) * 0.1;
    return std::min(0.8, 0.7 + (r - 2) * 0.1);
}

struct Shares {
    double k1, k2;
    explicit Shares(const PunchingCase& p)
        : k1(p.round ? 0.6 : share_of_moment(p.c1, p.c2)), k2(p.round ? 0.6 : share_of_moment(p.c2, p.c1)) {}
};

// (6.51): β from the moments of both directions added, with V_red and W = ∫|e| dl (6.40) at the perimeter looked at.
double eccentricity(const PunchingCase& p, const Perimeter& at, double V) {
    const Shares k(p);
    return 1 + (k.k1 * std::abs(p.M1) / at.first1 + k.k2 * std::abs(p.M2) / at.first2) * at.length / V;
}

Term term_of_eccentricity(const PunchingCase& p, const Perimeter& at, double V, double beta) {
    const Shares k(p);
    return {.text = "eccentricity, both directions added",
            .symbol = "β",
            .formula = "1 + ({k_1} · {|M_1|}/{W_1} + {k_2} · {|M_2|}/{W_2}) · {u}/{V}",
            .put_in = {{"k_1", k.k1, Unit::none, 2},
                       {"|M_1|", std::abs(p.M1), Unit::kilonewton_metre},
                       {"W_1", at.first1, Unit::square_metre},
                       {"k_2", k.k2, Unit::none, 2},
                       {"|M_2|", std::abs(p.M2), Unit::kilonewton_metre},
                       {"W_2", at.first2, Unit::square_metre},
                       {"u", at.length, Unit::metre},
                       {"V", V, Unit::kilonewton}},
            .value = beta,
            .clause = "(6.51)"};
}

// What (6.51) takes of the perimeter and of the column's shape, along its own axes.
void write_moduli(const PunchingCase& p, const Perimeter& at, const char* of, Working& by) {
    const Shares k(p);
    for (const auto& [axis, W, share, M] :
         {std::tuple{1, at.first1, k.k1, p.M1}, std::tuple{2, at.first2, k.k2, p.M2}}) {
        if (M == 0) continue;
        const std::string n = std::to_string(axis);
        by.line({.text = "share of M_" + n + " that unbalanced shear takes",
                 .symbol = "k_" + n,
                 .formula = p.round ? "0.6 for a circle" : "by c_1/c_2",
                 .value = share,
                 .clause = "Table 6.1"});
        by.line({.text = std::string("modulus of the perimeter") + of + " along axis " + n,
                 .symbol = "W_" + n,
                 .formula = "∫ |e| dl",
                 .value = W,
                 .unit = Unit::square_metre,
                 .clause = "(6.40)"});
    }
}

}  // namespace

std::vector<double> EuropeanCode::perimeters_to_try(double d, double furthest) const {
    constexpr int steps = 40;
    const double last = std::min(furthest_perimeter(d), furthest);
    std::vector<double> a;
    for (int i = 1; i <= steps; ++i) a.push_back(last * i / steps);
    return a;
}

PunchingVerdict EuropeanCode::punching(const PunchingCase& p, const Perimeter& at, double relief, Working* by) const {
    const double d = p.d, d_mm = 1000 * d;
    const Borne b = borne(d_mm, std::sqrt(p.rho_x * p.rho_y), p.fc);
    PunchingVerdict v;
    if (p.V <= 0) return v;
    v.V_net = p.V - relief;
    v.v_limit = std::max(b.v_c, b.v_min) * 2 * d / at.a;  // (6.50)
    if (v.V_net > 0 && at.length <= 1e-9 * d) {           // no perimeter is left that could carry it
        v.utilisation = std::numeric_limits<double>::infinity();
    } else if (v.V_net > 0) {
        v.beta = eccentricity(p, at, v.V_net);
        v.v = *v.beta * v.V_net / (at.length * d) / 1000;
        v.v_from_moment = (*v.beta - 1) * v.V_net / (at.length * d) / 1000;
        v.utilisation = v.v / v.v_limit;
    }
    if (by) write_punching(p, at, relief, b, v, *by);
    return v;
}

void EuropeanCode::write_punching(const PunchingCase& p, const Perimeter& at, double relief, const Borne& b,
                                  const PunchingVerdict& v, Working& by) const {
    const Measure d{"d", 1000 * p.d, Unit::millimetre}, fck{"f_ck", p.fc, Unit::megapascal, 0};
    by.line({.text = p.upward ? "force that the column pulls up with" : "force down the column",
             .symbol = "V_Ed",
             .value = p.V,
             .unit = Unit::kilonewton});
    by.line({.text = "moments into the slab, eccentric along the column's x and y",
             .symbol = "M_Ed",
             .formula = "√({|M_1|}² + {|M_2|}²)",
             .put_in = {{"|M_1|", std::abs(p.M1), Unit::kilonewton_metre},
                        {"|M_2|", std::abs(p.M2), Unit::kilonewton_metre}},
             .value = std::hypot(p.M1, p.M2),
             .unit = Unit::kilonewton_metre});
    by.line(
        {.text = "effective depth, mean of both layers", .symbol = "d", .value = 1000 * p.d, .unit = Unit::millimetre});
    by.line({.text = "size effect",
             .symbol = "k",
             .formula = "1 + √(200/{d}) ≤ 2",
             .put_in = {d},
             .value = b.k,
             .clause = "6.4.4(1)",
             .in_code_units = true});
    by.line({.text = "tension steel",
             .symbol = "ρ_l",
             .formula = "√({ρ_x} · {ρ_y}) ≤ 0.02",
             .put_in = {{"ρ_x", p.rho_x, Unit::none, 5}, {"ρ_y", p.rho_y, Unit::none, 5}},
             .value = b.rho,
             .clause = "6.4.4(1)"});
    by.line({.text = "shear factor over γ_c",
             .symbol = "C_Rd,c",
             .formula = "{C}/{γ_c}",
             .put_in = {{"C", n_.C_Rdc, Unit::none, 2}, {"γ_c", n_.gamma_c, Unit::none, 2}},
             .value = n_.C_Rdc / n_.gamma_c,
             .clause = "6.4.4(1)"});
    by.line({.text = "stress borne, before its 2d/a",
             .symbol = "v_Rd,c",
             .formula = "{C_Rd,c} · {k} · (100 · {ρ_l} · {f_ck})^⅓",
             .put_in = {{"C_Rd,c", n_.C_Rdc / n_.gamma_c, Unit::none, 3},
                        {"k", b.k, Unit::none, 3},
                        {"ρ_l", b.rho, Unit::none, 5},
                        fck},
             .value = b.v_c,
             .unit = Unit::megapascal,
             .clause = "(6.47)",
             .in_code_units = true});
    by.line({.text = "least",
             .symbol = "v_min",
             .formula = "{c} · {k}^1.5 · √{f_ck}",
             .put_in = {{"c", n_.v_min, Unit::none, 3}, {"k", b.k, Unit::none, 3}, fck},
             .value = b.v_min,
             .unit = Unit::megapascal,
             .clause = "(6.3N)",
             .in_code_units = true});
    by.line({.text = "perimeters tried from the face to 2d; worst at",
             .symbol = "a",
             .value = 1000 * at.a,
             .unit = Unit::millimetre});
    by.line({.text = at.shaded ? "perimeter there, less what openings shade" : "perimeter there",
             .symbol = "u",
             .value = at.length,
             .unit = Unit::metre,
             .clause = at.shaded ? "6.4.2(3)" : ""});
    by.line(
        {.text = p.upward ? "slab loads less ground pressure inside it" : "ground pressure less slab loads inside it",
         .symbol = "ΔV_Ed",
         .value = relief,
         .unit = Unit::kilonewton,
         .clause = "6.4.4(2)"});
    by.line({.text = "net force",
             .symbol = "V_Ed,red",
             .formula = "{V_Ed} − {ΔV_Ed}",
             .put_in = {{"V_Ed", p.V, Unit::kilonewton}, {"ΔV_Ed", relief, Unit::kilonewton}},
             .value = v.V_net,
             .unit = Unit::kilonewton,
             .clause = "(6.48)"});
    if (v.beta) {
        write_moduli(p, at, "", by);
        by.line(term_of_eccentricity(p, at, v.V_net, *v.beta));
    }
    by.line({.text = "stress",
             .symbol = "v_Ed",
             .formula = "{β} · {V_Ed,red}/({u} · {d})",
             .put_in = {{"β", v.beta.value_or(1), Unit::none, 3},
                        {"V_Ed,red", v.V_net, Unit::kilonewton},
                        {"u", at.length, Unit::metre},
                        d},
             .value = v.v,
             .unit = Unit::megapascal,
             .clause = "(6.49)"});
    by.line({.text = "borne",
             .symbol = "v_Rd",
             .formula = "max({v_Rd,c}, {v_min}) · 2 · {d}/{a}",
             .put_in = {{"v_Rd,c", b.v_c, Unit::megapascal},
                        {"v_min", b.v_min, Unit::megapascal},
                        d,
                        {"a", 1000 * at.a, Unit::millimetre}},
             .value = v.v_limit,
             .unit = Unit::megapascal,
             .clause = "(6.50)"});
    by.line({.text = "use at the perimeter",
             .formula = "{v_Ed}/{v_Rd}",
             .put_in = {{"v_Ed", v.v, Unit::megapascal}, {"v_Rd", v.v_limit, Unit::megapascal}},
             .value = v.utilisation});
}

// Face of the column, 6.4.5(3): u0 the footprint's perimeter, the whole force.
std::optional<PunchingVerdict> EuropeanCode::punching_at_face(const PunchingCase& p, const Perimeter& face,
                                                              Working* by) const {
    if (p.V <= 0) return std::nullopt;
    const double nu = 0.6 * (1 - p.fc / 250);
    PunchingVerdict v;
    v.V_net = p.V;
    v.beta = eccentricity(p, face, p.V);
    v.v = *v.beta * p.V / (face.length * p.d) / 1000;
    v.v_from_moment = (*v.beta - 1) * p.V / (face.length * p.d) / 1000;
    v.v_limit = n_.v_Rd_max * nu * fcd(p.fc);
    v.utilisation = v.v / v.v_limit;
    if (by) {
        write_moduli(p, face, " of the face", *by);
        Term beta = term_of_eccentricity(p, face, p.V, *v.beta);
        beta.text = "eccentricity at the face, with its own perimeter";
        by->line(std::move(beta));
        by->line({.text = "stress at the face",
                  .symbol = "v_Ed",
                  .formula = "{β} · {V_Ed}/({u_0} · {d})",
                  .put_in = {{"β", *v.beta, Unit::none, 3},
                             {"V_Ed", p.V, Unit::kilonewton},
                             {"u_0", face.length, Unit::metre},
                             {"d", 1000 * p.d, Unit::millimetre}},
                  .value = v.v,
                  .unit = Unit::megapascal,
                  .clause = "(6.53)"});
        by->line({.text = "limit at the face",
                  .symbol = "v_Rd,max",
                  .formula = "{c} · 0.6 · (1 − {f_ck}/250) · {f_cd}",
                  .put_in = {{"c", n_.v_Rd_max, Unit::none, 2},
                             {"f_ck", p.fc, Unit::megapascal, 0},
                             {"f_cd", fcd(p.fc), Unit::megapascal}},
                  .value = v.v_limit,
                  .unit = Unit::megapascal,
                  .clause = "6.4.5(3)",
                  .in_code_units = true});
    }
    return v;
}

// A quarter of a perimeter bears it with its least strength, π v_min d² (2 π a/4 · d · v_min 2d/a).
double EuropeanCode::harmless_force(const Section& metre) const {
    return 3.14159265358979 * shear_borne(metre, 0, nullptr) * metre.d / 1000;  // kN/m = 1000 v_min d, m
}

}  // namespace mossbed
