#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/codes/en1992/european_code.h"

namespace mossbed {

namespace {

// The keys of settings.national and where their values go.
template <class F>
void each_choice(NationalChoices& n, F visit) {
    visit("gamma_c", n.gamma_c), visit("gamma_s", n.gamma_s), visit("alpha_cc", n.alpha_cc);
    visit("C_Rdc", n.C_Rdc), visit("v_min", n.v_min), visit("v_Rd_max", n.v_Rd_max);
}

bool is_above_zero(const nlohmann::json& j) { return j.is_number() && j.get<double>() > 0; }

}  // namespace

NationalChoices national_choices(const std::string& text) {
    NationalChoices n;
    const auto j = nlohmann::json::parse(text, nullptr, false);
    each_choice(n, [&](const char* key, double& v) {
        if (j.is_object() && j.contains(key) && is_above_zero(j[key])) v = j[key].get<double>();
    });
    return n;
}

std::vector<Problem> problems_of_national(const std::string& text) {
    std::vector<Problem> found;
    const auto j = nlohmann::json::parse(text, nullptr, false);
    if (!j.is_object()) return found;
    NationalChoices n;
    std::string known;
    each_choice(n, [&](const char* key, double&) { known += (known.empty() ? "" : ", ") + std::string(key); });
    for (auto it = j.begin(); it != j.end(); ++it) {
        bool is_known = false;
        each_choice(n, [&](const char* key, double&) { is_known |= it.key() == key; });
        const std::string where = "settings.national." + it.key();
        if (!is_known)
            found.push_back(
                {"the design code has no choice of that name", where, "write one of " + known, Severity::error, {}});
        else if (!is_above_zero(*it))
            found.push_back({"the choice is " + it->dump(), where, "give a number above zero", Severity::error, {}});
    }
    return found;
}

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

std::optional<double> EuropeanCode::flexural_steel(const FlexureSection& s, double M, Working* by) const {
    if (M <= 0) return 0.0;
    const Block block(s.fck);
    const double f = block.eta * fcd(s.fck), d = s.d;
    if (d <= 0) return std::nullopt;
    const double inner = 1 - 2 * M * 1e6 / (f * s.b * d * d);
    const double x = inner > 0 ? d * (1 - std::sqrt(inner)) / block.lambda : 1e300;
    const double limit = largest_ratio(s.fck);
    if (by) {
        by->line("design strength of concrete, 3.1.6(1)",
                 fmt::format("η fcd = {:.2f} · {:.2f} · {:.0f}/{:.2f}", block.eta, n_.alpha_cc, s.fck, n_.gamma_c), f,
                 "MPa");
        by->line("design strength of steel, 3.2.7(2)", fmt::format("fyd = {:.0f}/{:.2f}", s.fyk, n_.gamma_s),
                 fyd(s.fyk), "MPa");
        by->line("effective depth", "d", d, "mm");
        by->line("width", "b", s.b, "mm");
        if (inner > 0)
            by->line("neutral axis, 3.1.7(3)",
                     fmt::format("x = d (1 − √(1 − 2 M/(η fcd b d²)))/λ, x/d = {:.3f} ≤ {:.3f}", x / d, limit), x,
                     "mm");
    }
    if (inner <= 0 || x / d > limit) {
        if (by)
            by->line("no amount of tension steel fits", fmt::format("M = {:.0f} kN·m needs d ≥", M), least_depth(s, M),
                     "mm");
        return std::nullopt;
    }
    const double z = d - block.lambda * x / 2, As = M * 1e6 / (fyd(s.fyk) * z);
    if (by) {
        by->line("lever arm", "z = d − λ x/2", z, "mm");
        by->line("steel for the moment", fmt::format("As = M/(fyd z) = {:.0f}·10⁶/({:.0f} · {:.0f})", M, fyd(s.fyk), z),
                 As, "mm²");
    }
    return As;
}

double EuropeanCode::least_depth(const FlexureSection& s, double M) const {
    const Block block(s.fck);
    const double r = block.lambda * largest_ratio(s.fck);
    return M > 0 ? std::sqrt(M * 1e6 / (block.eta * fcd(s.fck) * s.b * r * (1 - r / 2))) : 0;
}

double EuropeanCode::minimum_steel(const FlexureSection& s, Working* by) const {
    const double f = f_ctm(s.fck), ratio = std::max(0.26 * f / s.fyk, 0.0013), As = ratio * s.b * s.d;
    if (by) {
        by->line("mean tensile strength, Table 3.1", "fctm", f, "MPa");
        by->line("minimum steel, (9.1N)",
                 fmt::format("max(0.26 fctm/fyk, 0.0013) b d = {:.5f} · {:.0f} · {:.0f}", ratio, s.b, s.d), As, "mm²");
    }
    return As;
}

// 8.4.2(2) and 8.4.3(2), straight bars, all α of 8.4.4 at 1: l_b,rqd = ϕ/4 · fyd/fbd, fbd = 2.25 η1 η2 fctd; at least
// 8.4.4(1).
double EuropeanCode::anchorage_length(double phi, double fck, double fyk, bool good_bond) const {
    const double fctd = 0.7 * f_ctm(std::min(fck, 60.0)) / n_.gamma_c, eta1 = good_bond ? 1 : 0.7,
                 eta2 = phi <= 32 ? 1 : (132 - phi) / 100;
    const double l = phi / 4 * fyd(fyk) / (2.25 * eta1 * std::max(eta2, 0.1) * fctd);
    return std::max({l, 10 * phi, 100.0});
}

double EuropeanCode::largest_spacing(double h) const { return std::min(2 * h, 250.0); }  // with concentrated loads

double EuropeanCode::shear_borne(const FlexureSection& s, double As, Working* by) const {
    const double k = std::min(2.0, 1 + std::sqrt(200 / s.d)), rho = std::min(0.02, As / (s.b * s.d));
    const double v = n_.C_Rdc / n_.gamma_c * k * std::cbrt(100 * rho * s.fck),
                 least = n_.v_min * std::pow(k, 1.5) * std::sqrt(s.fck);
    const double V = std::max(v, least) * s.b * s.d / 1000;
    if (by) {
        by->line("size effect, 6.2.2(1)", fmt::format("k = 1 + √(200/{:.0f}) ≤ 2", s.d), k, "");
        by->line("tension steel", fmt::format("ρ = {:.0f}/({:.0f} · {:.0f}) ≤ 0.02", As, s.b, s.d), rho, "");
        by->line("(6.2.a)", fmt::format("{:.3f} k (100 ρ {:.0f})^⅓", n_.C_Rdc / n_.gamma_c, s.fck), v, "MPa");
        by->line("(6.3N)", fmt::format("{:.3f} k^1.5 √{:.0f}", n_.v_min, s.fck), least, "MPa");
        by->line("shear borne without links", "V_Rd,c = max · b d", V, "kN");
    }
    return V;
}

}  // namespace mossbed
