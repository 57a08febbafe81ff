#include <algorithm>
#include <cmath>

#include "core/base/bar_area.h"
#include "core/codes/en1992/european_code.h"

namespace mossbed {

namespace {

struct Block {  // rectangular stress block, 3.1.7(3)
    double lambda, eta;
    explicit Block(double fck)
        : lambda(fck <= 50 ? 0.8 : 0.8 - (fck - 50) / 400), eta(fck <= 50 ? 1.0 : 1.0 - (fck - 50) / 200) {}
};

// Largest x/d without redistribution, 5.5(4) with δ = 1: 0.44 + 1.25 (0.6 + 0.0014/ε_cu2) x/d = 1 up to C50/60, and
// 0.54 + the same above. Beyond it compression steel would have to help: a slab is made thicker instead.
double largest_ratio(double fck) {
    const double e = fck <= 50 ? 3.5e-3 : (2.6 + 35 * std::pow((90 - fck) / 100, 4)) / 1000;
    return (1 - (fck <= 50 ? 0.44 : 0.54)) / (1.25 * (0.6 + 0.0014 / e));
}

double f_ctm(double fck) {
    return fck <= 50 ? 0.30 * std::pow(fck, 2.0 / 3) : 2.12 * std::log(1 + (fck + 8) / 10);
}  // Table 3.1

}  // namespace

std::optional<double> EuropeanCode::flexural_steel(const Section& s, double M, Working* by) const {
    if (M <= 0) return 0.0;
    const Block block(s.fc);
    const double f = block.eta * fcd(s.fc), d = s.d;
    if (d <= 0) return std::nullopt;
    const double inner = 1 - 2 * M * 1e6 / (f * s.b * d * d);
    const double x = inner > 0 ? d * (1 - std::sqrt(inner)) / block.lambda : 1e300;
    const double limit = largest_ratio(s.fc);
    const Measure of_d{"d", d, Unit::millimetre}, of_b{"b", s.b, Unit::millimetre},
        of_M{"M", M, Unit::kilonewton_metre};
    if (by) {
        by->line({.text = "design strength of concrete",
                  .symbol = "η f_cd",
                  .formula = "{η} · {α_cc} · {f_ck}/{γ_C}",
                  .put_in = {{"η", block.eta, Unit::none, 2},
                             {"α_cc", n_.alpha_cc, Unit::none, 2},
                             {"f_ck", s.fc, Unit::megapascal, 0},
                             {"γ_C", n_.gamma_c, Unit::none, 2}},
                  .value = f,
                  .unit = Unit::megapascal,
                  .clause = "3.1.6(1)"});
        by->line({.text = "design strength of steel",
                  .symbol = "f_yd",
                  .formula = "{f_yk}/{γ_S}",
                  .put_in = {{"f_yk", s.fy, Unit::megapascal, 0}, {"γ_S", n_.gamma_s, Unit::none, 2}},
                  .value = fyd(s.fy),
                  .unit = Unit::megapascal,
                  .clause = "3.2.7(2)"});
        by->line({.text = "effective depth", .symbol = "d", .value = d, .unit = Unit::millimetre});
        by->line({.text = "width", .symbol = "b", .value = s.b, .unit = Unit::millimetre});
        if (inner > 0)
            by->line({.text = "neutral axis",
                      .symbol = "x",
                      .formula = "{d} · (1 − √(1 − 2 · {M}/({η f_cd} · {b} · {d}²)))/{λ}; x/d = {x/d} ≤ {limit}",
                      .put_in = {of_d,
                                 of_M,
                                 {"η f_cd", f, Unit::megapascal},
                                 of_b,
                                 {"λ", block.lambda, Unit::none, 2},
                                 {"x/d", x / d, Unit::none, 3},
                                 {"limit", limit, Unit::none, 3}},
                      .value = x,
                      .unit = Unit::millimetre,
                      .clause = "3.1.7(3), 5.5(4)"});
    }
    if (inner <= 0 || x / d > limit) {
        if (by)
            by->line({.text = "no amount of tension steel fits: the moment needs an effective depth of",
                      .symbol = "d",
                      .formula = "least for {M!}",
                      .put_in = {of_M},
                      .value = least_depth(s, M),
                      .unit = Unit::millimetre});
        return std::nullopt;
    }
    const double z = d - block.lambda * x / 2, As = M * 1e6 / (fyd(s.fy) * z);
    if (by) {
        by->line({.text = "lever arm",
                  .symbol = "z",
                  .formula = "{d} − {λ} · {x}/2",
                  .put_in = {of_d, {"λ", block.lambda, Unit::none, 2}, {"x", x, Unit::millimetre}},
                  .value = z,
                  .unit = Unit::millimetre});
        by->line({.text = "steel for the moment",
                  .symbol = "A_s",
                  .formula = "{M}/({f_yd} · {z})",
                  .put_in = {of_M, {"f_yd", fyd(s.fy), Unit::megapascal, 0}, {"z", z, Unit::millimetre}},
                  .value = As,
                  .unit = Unit::square_millimetre});
    }
    return As;
}

double EuropeanCode::least_depth(const Section& s, double M) const {
    const Block block(s.fc);
    const double r = block.lambda * largest_ratio(s.fc);
    return M > 0 ? std::sqrt(M * 1e6 / (block.eta * fcd(s.fc) * s.b * r * (1 - r / 2))) : 0;
}

double EuropeanCode::minimum_steel(const Section& s, Working* by) const {
    const double f = f_ctm(s.fc), ratio = std::max(0.26 * f / s.fy, 0.0013), As = ratio * s.b * s.d;
    if (by) {
        by->line({.text = "mean tensile strength",
                  .symbol = "f_ctm",
                  .value = f,
                  .unit = Unit::megapascal,
                  .clause = "Table 3.1"});
        by->line({.text = "minimum steel",
                  .symbol = "A_s,min",
                  .formula = "max(0.26 · {f_ctm}/{f_yk}, 0.0013) · {b} · {d}",
                  .put_in = {{"f_ctm", f, Unit::megapascal},
                             {"f_yk", s.fy, Unit::megapascal, 0},
                             {"b", s.b, Unit::millimetre},
                             {"d", s.d, Unit::millimetre}},
                  .value = As,
                  .unit = Unit::square_millimetre,
                  .clause = "(9.1N)"});
    }
    return As;
}

// 8.4.2(2) and 8.4.3(2), straight bars, all α of 8.4.4 at 1: l_b,rqd = ϕ/4 · fyd/fbd, fbd = 2.25 η1 η2 fctd; at least
// 8.4.4(1).
double EuropeanCode::anchorage_length(double phi, double fck, double fyk, bool good_bond, Working* by) const {
    const double fctd = 0.7 * f_ctm(std::min(fck, 60.0)) / n_.gamma_c, eta1 = good_bond ? 1 : 0.7,
                 eta2 = phi <= 32 ? 1 : (132 - phi) / 100;
    const double fbd = 2.25 * eta1 * std::max(eta2, 0.1) * fctd;
    const double l = std::max({phi / 4 * fyd(fyk) / fbd, 10 * phi, 100.0});
    if (by)
        by->line({.text = "anchorage length that they need beyond where they count",
                  .symbol = "l_b,rqd",
                  .formula = "{ϕ}/4 · {f_yd}/{f_bd}, at least 10 ϕ and 100 mm",
                  .put_in = {{"ϕ", phi, Unit::millimetre},
                             {"f_yd", fyd(fyk), Unit::megapascal, 0},
                             {"f_bd", fbd, Unit::megapascal}},
                  .value = l,
                  .unit = Unit::millimetre,
                  .clause = "8.4.3(2)",
                  .in_code_units = true});
    return l;
}

// 8.7.3(1): α6 l_b,rqd, at least 0.3 α6 l_b,rqd, 15 ϕ and 200 mm; α6 = 1.5 where more than half of the bars lap at one
// place (Table 8.3), the other α at 1.
double EuropeanCode::lap_length(double phi, double fck, double fyk, bool good_bond, Working* by) const {
    const double l_b = anchorage_length(phi, fck, fyk, good_bond, by);
    const double l = std::max({1.5 * l_b, 15 * phi, 200.0});
    if (by)
        by->line({.text = "lap, all bars at one place",
                  .symbol = "l_0",
                  .formula = "max(1.5 · {l_b,rqd}; 15 · {ϕ}; 200 mm)",
                  .put_in = {{"l_b,rqd", l_b, Unit::millimetre}, {"ϕ", phi, Unit::millimetre}},
                  .value = l,
                  .unit = Unit::millimetre,
                  .clause = "8.7.3(1), Table 8.3",
                  .in_code_units = true});
    return l;
}

DesignCode::Starters EuropeanCode::starter_bars(double phi, double number, double pull, double fck, double fyk,
                                                Working* by) const {
    Starters s;
    s.force = number * area_of_bar(phi) * fyd(fyk) / 1000;
    const double l_b = anchorage_length(phi, fck, fyk, true, by), share = pull / s.force;
    s.depth = std::max({0.7 * l_b * share, 0.3 * l_b, 10 * phi, 100.0});
    if (by) {
        by->line({.text = "what the bars bear",
                  .symbol = "N_Rd",
                  .formula = "{n} · π/4 · {ϕ}² · {f_yd}",
                  .put_in = {{"n", number, Unit::none, 0},
                             {"ϕ", phi, Unit::millimetre},
                             {"f_yd", fyd(fyk), Unit::megapascal, 0}},
                  .value = s.force,
                  .unit = Unit::kilonewton,
                  .in_code_units = true});
        by->line({.text = "depth that they need, bent at the far face",
                  .symbol = "l_bd",
                  .formula = "max(0.7 · {l_b,rqd} · {N}/{N_Rd}; 0.3 {l_b,rqd}; 10 ϕ; 100 mm)",
                  .put_in = {{"l_b,rqd", l_b, Unit::millimetre},
                             {"N", pull, Unit::kilonewton},
                             {"N_Rd", s.force, Unit::kilonewton}},
                  .value = s.depth,
                  .unit = Unit::millimetre,
                  .clause = "8.4.4(1), Table 8.2 α_1",
                  .in_code_units = true});
    }
    return s;
}

double EuropeanCode::largest_spacing(double h, Working* by) const {
    const double s = std::min(2 * h, 250.0);
    if (by)
        by->line({.text = "largest spacing where loads are concentrated",
                  .symbol = "s_max",
                  .formula = "min(2 · {h}, 250 mm)",
                  .put_in = {{"h", h, Unit::millimetre}},
                  .value = s,
                  .unit = Unit::millimetre,
                  .clause = "9.3.1.1(3)",
                  .in_code_units = true});
    return s;
}

double EuropeanCode::least_clear_distance(double diameter, Working* by) const {
    const double a = std::max(diameter, 20.0);
    if (by)
        by->line({.text = "least clear distance between bars",
                  .formula = "max({ϕ}, 20 mm)",
                  .put_in = {{"ϕ", diameter, Unit::millimetre}},
                  .value = a,
                  .unit = Unit::millimetre,
                  .clause = "8.2(2)",
                  .in_code_units = true});
    return a;
}

// 6.2.2(1), and the same numbers in 6.4.4(1) for punching.
EuropeanCode::Borne EuropeanCode::borne(double d, double rho, double fck) const {
    Borne b;
    b.k = std::min(2.0, 1 + std::sqrt(200 / d));
    b.rho = std::min(0.02, rho);
    b.v_c = n_.C_Rdc / n_.gamma_c * b.k * std::cbrt(100 * b.rho * fck);
    b.v_min = n_.v_min * std::pow(b.k, 1.5) * std::sqrt(fck);
    return b;
}

// k1 of 6.2.2(1): what a stress along the member adds to the shear stress borne; σ_cp of a pull is negative.
constexpr double k1 = 0.15;

double EuropeanCode::shear_borne(const Section& s, double As, Working* by) const {
    const double V_c = shear_of_concrete(s, As, by);
    return s.link > 0 ? std::max(V_c, shear_of_links(s, by)) : V_c;
}

// 6.2.3(3) with legs square to the slab, z = 0.9 d and the flattest strut, 1 ≤ cot θ ≤ 2.5, that still bears; rules of
// 9.3.2. Nothing where these are broken.
double EuropeanCode::shear_of_links(const Section& s, Working* by) const {
    const double ratio = area_of_bar(s.link) / (s.link_spacing * s.link_spacing), least = 0.08 * std::sqrt(s.fc) / s.fy;
    const Measure of_s{"s", s.link_spacing, Unit::millimetre}, of_d{"d", s.d, Unit::millimetre};
    std::string broken;
    if (s.h < 200 - 1e-6) broken = "the slab is thinner than 200 mm";
    if (s.link_spacing > 0.75 * s.d + 0.5) broken = "the legs are more than 0.75 d apart";
    if (ratio < least) broken = "they are less than the least ratio";
    if (by) {
        by->line({.text = "links, legs both ways",
                  .symbol = "ρ_w",
                  .formula = "π/4 · {ϕ}²/{s}²",
                  .put_in = {{"ϕ", s.link, Unit::millimetre}, of_s},
                  .value = ratio,
                  .clause = "9.2.2(5)"});
        by->line({.text = "least",
                  .symbol = "ρ_w,min",
                  .formula = "0.08 · √{f_ck}/{f_yk}",
                  .put_in = {{"f_ck", s.fc, Unit::megapascal, 0}, {"f_yk", s.fy, Unit::megapascal, 0}},
                  .value = least,
                  .clause = "(9.5N)",
                  .in_code_units = true});
        by->line({.text = "legs apart, at most",
                  .symbol = "s_max",
                  .formula = "0.75 · {d}",
                  .put_in = {of_d},
                  .value = 0.75 * s.d,
                  .unit = Unit::millimetre,
                  .clause = "9.3.2(4)"});
        if (!broken.empty())
            by->line({.text = "links do not count: " + broken,
                      .symbol = "V_Rd,s",
                      .value = 0,
                      .unit = Unit::kilonewton,
                      .clause = "9.3.2"});
    }
    if (!broken.empty()) return 0;
    const double strut = 0.6 * (1 - s.fc / 250) * fcd(s.fc), share = ratio * fyd(s.fy) / strut, z = 0.9 * s.d;
    const double cot = std::clamp(share < 1 ? std::sqrt(1 / share - 1) : 0, 1.0, 2.5);
    const double V_s = ratio * s.b * z * fyd(s.fy) * cot / 1000, V_max = s.b * z * strut / (cot + 1 / cot) / 1000;
    if (by) {
        const Measure of_b{"b", s.b, Unit::millimetre}, of_z{"z", z, Unit::millimetre},
            of_cot{"cot θ", cot, Unit::none, 2};
        by->line(
            {.text = "what links bear, struts as flat as may be, z = 0.9 d",
             .symbol = "V_Rd,s",
             .formula = "{ρ_w} · {b} · {z} · {f_ywd} · {cot θ}",
             .put_in = {{"ρ_w", ratio, Unit::none, 5}, of_b, of_z, {"f_ywd", fyd(s.fy), Unit::megapascal, 0}, of_cot},
             .value = V_s,
             .unit = Unit::kilonewton,
             .clause = "(6.8)",
             .in_code_units = true});
        by->line(
            {.text = "what the struts bear",
             .symbol = "V_Rd,max",
             .formula = "{b} · {z} · 0.6 · (1 − {f_ck}/250) · {f_cd}/({cot θ} + 1/{cot θ})",
             .put_in = {of_b, of_z, {"f_ck", s.fc, Unit::megapascal, 0}, {"f_cd", fcd(s.fc), Unit::megapascal}, of_cot},
             .value = V_max,
             .unit = Unit::kilonewton,
             .clause = "(6.9)",
             .in_code_units = true});
    }
    return std::min(V_s, V_max);
}

double EuropeanCode::shear_of_concrete(const Section& s, double As, Working* by) const {
    const Borne b = borne(s.d, As / (s.b * s.d), s.fc);
    const double V = std::max(0.0, std::max(b.v_c, b.v_min) - k1 * s.pull) * s.b * s.d / 1000;
    if (by) {
        const Measure d{"d", s.d, Unit::millimetre};
        by->line({.text = "size effect",
                  .symbol = "k",
                  .formula = "1 + √(200/{d}) ≤ 2",
                  .put_in = {d},
                  .value = b.k,
                  .clause = "6.2.2(1)",
                  .in_code_units = true});
        by->line({.text = "tension steel",
                  .symbol = "ρ_l",
                  .formula = "{A_s}/({b} · {d}) ≤ 0.02",
                  .put_in = {{"A_s", As, Unit::square_millimetre}, {"b", s.b, Unit::millimetre}, d},
                  .value = b.rho});
        by->line({.text = "stress borne",
                  .symbol = "v_Rd,c",
                  .formula = "{C_Rd,c} · {k} · (100 · {ρ_l} · {f_ck})^⅓",
                  .put_in = {{"C_Rd,c", n_.C_Rdc / n_.gamma_c, Unit::none, 3},
                             {"k", b.k, Unit::none, 3},
                             {"ρ_l", b.rho, Unit::none, 5},
                             {"f_ck", s.fc, Unit::megapascal, 0}},
                  .value = b.v_c,
                  .unit = Unit::megapascal,
                  .clause = "(6.2.a)",
                  .in_code_units = true});
        by->line(
            {.text = "least",
             .symbol = "v_min",
             .formula = "{c} · {k}^1.5 · √{f_ck}",
             .put_in = {{"c", n_.v_min, Unit::none, 3}, {"k", b.k, Unit::none, 3}, {"f_ck", s.fc, Unit::megapascal, 0}},
             .value = b.v_min,
             .unit = Unit::megapascal,
             .clause = "(6.3N)",
             .in_code_units = true});
        std::vector<Measure> put_in{{"v_Rd,c", b.v_c, Unit::megapascal}, {"v_min", b.v_min, Unit::megapascal}};
        if (s.pull > 0) {
            by->line({.text = "pull in the slab's plane, with ribs, walls and steps",
                      .symbol = "σ_t",
                      .value = s.pull,
                      .unit = Unit::megapascal,
                      .clause = "6.2.2(1), σ_cp negative, k_1 = 0.15"});
            put_in.push_back({"σ_t", s.pull, Unit::megapascal});
        }
        put_in.push_back({"b", s.b, Unit::millimetre}), put_in.push_back(d);
        by->line({.text = "shear borne without links",
                  .symbol = "V_Rd,c",
                  .formula = s.pull > 0 ? "(max({v_Rd,c}, {v_min}) − 0.15 · {σ_t}) · {b} · {d}, not below nought"
                                        : "max({v_Rd,c}, {v_min}) · {b} · {d}",
                  .put_in = std::move(put_in),
                  .value = V,
                  .unit = Unit::kilonewton});
    }
    return V;
}

}  // namespace mossbed
