#include <fmt/format.h>

#include <array>
#include <cmath>
#include <limits>
#include <span>
#include <string>

#include "core/base/bar_area.h"
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

// β of 6.4.3: 1 or u/u*, and of each moment that counts k M/W.
struct Eccentricity {
    struct Moment {
        const char* axis;  // in symbols
        double k, M, W;
        const char* shape;  // that k follows from
    };
    double even = 1;  // β of a force alone
    std::array<Moment, 2> all{};
    size_t count = 0;
    const char* clause = "";
    double u = 0;
    std::span<const Moment> moments() const { return {all.data(), count}; }
    void add(const char* axis, double k, double M, double W, const char* shape) {
        if (M != 0 && W > 0) all[count++] = {axis, k, std::abs(M), W, shape};
    }
    double beta(double V) const {
        double sum = even;
        for (const Moment& m : moments()) sum += m.k * m.M / m.W * u / V;
        return sum;
    }
};

// Legs and perimeters of them that a cone from the face, or 2d before it, out to `a` crosses, and how many count.
struct Crossed {
    double legs = 0, perimeters = 0, most = 0, count = 0;
    Crossed(const LinkLegs& l, double a, double d) {
        for (const LinkLegs::Ring& r : l.rings)
            if (r.a <= a + 1e-9 && r.a > a - 2 * d) legs += r.legs, perimeters += 1;
        most = 0.75 * std::min(a, 2 * d) / l.spacing;
        count = std::min(perimeters, most);
    }
};

// Fixed factors where a wall ends or turns: of practice, EN 1992-1-1 has none.
constexpr double beta_wall_end = 1.35, beta_wall_corner = 1.20;  // DIN EN 1992-1-1/NA:2013, to 6.4.3(6)

// Closed perimeters by (6.51), both directions added, of round columns from their resultant. Open ones, moments about
// the column's axis: evenly along the reduced length u* and by what is left along the rim (6.44), (6.46); where the
// force moves towards the rim by (6.39) with e of W from the perimeter's own centroid, if that is more, so that nothing
// jumps.
Eccentricity eccentricity(bool round, const Perimeter& at, const PunchingForce& f) {
    Eccentricity e;
    e.u = at.length;
    if (at.position == Position::wall_end || at.position == Position::wall_corner) {
        e.even = at.position == Position::wall_end ? beta_wall_end : beta_wall_corner;
        e.clause = "DIN EN 1992-1-1/NA, to 6.4.3(6)";
        return e;
    }
    const double along = share_of_moment(at.c1, at.c2), across = share_of_moment(at.c2, at.c1);
    if (!at.one_sided) {
        e.clause = "(6.51)";
        if (round && at.position == Position::interior) {
            const double M = std::hypot(f.M1, f.M2);
            const Point axis = M > 0 ? f.M1 / M * at.axis1 + f.M2 / M * at.axis2 : at.axis1;
            e.add("", 0.6, M, at.pieces.empty() ? at.first1 : at.first_along(axis), "0.6 for a circle");
        } else {
            e.add("1", round ? 0.6 : along, f.M1, at.first1, round ? "0.6 for a circle" : "by c_1/c_2");
            e.add("2", round ? 0.6 : across, f.M2, at.first2, round ? "0.6 for a circle" : "by c_2/c_1");
        }
        return e;
    }
    Eccentricity even = e, outward = e;
    even.even = at.reduced > 0 ? at.length / at.reduced : 1;
    if (at.position == Position::edge) {
        even.clause = "(6.44)", outward.clause = "(6.39)";
        even.add("2", share_of_moment(at.c2, 2 * at.c1), f.M2, at.first2, "by c_2/(2 c_1)");
        outward.add("2", across, f.M2, at.first2, "by c_2/c_1");
    } else {
        even.clause = "(6.46)", outward.clause = "(6.39)";
        outward.add("2", across, std::max(0.0, f.M2), at.first2, "by c_2/c_1");
    }
    outward.add("1", along, std::max(0.0, f.M1), at.first1, "by c_1/c_2");
    return outward.beta(f.V) > even.beta(f.V) ? outward : even;
}

void write_eccentricity(const Eccentricity& e, const Perimeter& at, const char* of, double V, Working& by) {
    for (const auto& m : e.moments()) {
        const std::string n = *m.axis ? std::string("_") + m.axis : "";
        by.line({.text = "share of M" + n + " that unbalanced shear takes",
                 .symbol = "k" + n,
                 .formula = m.shape,
                 .value = m.k,
                 .clause = "Table 6.1"});
        by.line({.text = std::string("modulus of the perimeter") + of +
                         (!*m.axis       ? ", along the eccentricity"
                          : at.one_sided ? (*m.axis == '1' ? ", towards the rim, about its centroid"
                                                           : ", the other way, about its centroid")
                                         : std::string(" along axis ") + m.axis),
                 .symbol = "W" + n,
                 .formula = "∫ |e| dl",
                 .value = m.W,
                 .unit = Unit::square_metre,
                 .clause = "(6.40)"});
    }
    Term t{.text = e.count == 0 && e.even == 1 ? "no eccentricity counts" : "eccentricity",
           .symbol = "β",
           .value = e.beta(V),
           .clause = e.clause};
    if (at.position == Position::wall_end) t.text = "where a wall ends";
    if (at.position == Position::wall_corner) t.text = "where a wall turns";
    if (*of)
        t.text += " at the face, with its own perimeter";
    else if (e.count > 1)
        t.text = "eccentricity, both directions added";
    std::string sum;
    if (at.one_sided && e.even != 1) {
        t.formula = "{u}/{u*}";
        t.put_in = {{"u", at.length, Unit::metre}, {"u*", at.reduced, Unit::metre}};
    } else if (e.count > 0) {
        t.formula = "1";
        t.put_in.push_back({"u", at.length, Unit::metre});
    }
    if (e.count > 0) {
        for (const auto& m : e.moments()) {
            const std::string n = *m.axis ? std::string("_") + m.axis : "";
            sum += (sum.empty() ? "{k" : " + {k") + n + "} · {|M" + n + "|}/{W" + n + "}";
            t.put_in.push_back({"k" + n, m.k, Unit::none, 2});
            t.put_in.push_back({"|M" + n + "|", m.M, Unit::kilonewton_metre});
            t.put_in.push_back({"W" + n, m.W, Unit::square_metre});
        }
        t.formula += (e.count > 1 ? " + (" + sum + ")" : " + " + sum) + " · {u}/{V}";
        t.put_in.push_back({"V", V, Unit::kilonewton});
    }
    by.line(std::move(t));
}

const char* words_of(Position p) {
    switch (p) {
        case Position::edge:
            return "open to the rim, its ends square to it";
        case Position::corner:
            return "open to the corner, its ends square to the rims";
        case Position::wall_end:
            return "round the end of the wall";
        case Position::wall_corner:
            return "round the corner of the wall";
        default:
            return "";
    }
}

}  // namespace

// Links hold perimeters up to 1.5 d beyond the last of their legs, 6.4.5(4); from there on concrete alone bears.
constexpr double held_beyond = 1.5;

std::vector<double> EuropeanCode::perimeters_to_try(double d, double furthest, double links_end) const {
    constexpr int steps = 40;
    const double last = std::min(2 * d, furthest);
    std::vector<double> a;
    for (int i = 1; i <= steps; ++i) a.push_back(last * i / steps);
    if (links_end > 0)
        for (double more : {0.0, 0.25, 0.5, 0.75, 1.0})
            if (const double beyond = links_end + (held_beyond + more) * d; beyond <= furthest) a.push_back(beyond);
    std::sort(a.begin(), a.end());
    return a;
}

// (6.52) counts 1.5 d/s_r perimeters of legs at 2d; nearer as many fewer as a is shorter, and nowhere more than are
// there.
// Of several columns each counts with the least that one of them has: legs on one side hold nothing on the other.
double EuropeanCode::legs_that_count(const PunchingCase& p, double a) const {
    double least = p.links.empty() ? 0 : 1e300;
    for (const LinkLegs& l : p.links) {
        const Crossed c(l, a, p.d);
        const bool beyond = a >= l.end() + held_beyond * p.d - 1e-9;
        least = std::min(least,
                         beyond || c.perimeters == 0 ? 0.0 : c.count * c.legs / c.perimeters * area_of_bar(l.diameter));
    }
    return double(p.links.size()) * least;
}

// (6.47): k1 σ_cp of a pull, k1 = 0.1, before the 2d/a of (6.50); no less than nothing.
double EuropeanCode::less_pull(const Borne& b, double pull) {
    return std::max(0.0, std::max(b.v_c, b.v_min) - 0.1 * pull);
}

// What a perimeter bears by (6.50), stretch by stretch: in a thinner slab with its depth, its steel ratio and the
// distance from the step, but no more than the thick slab there.
EuropeanCode::Along EuropeanCode::along(const PunchingCase& p, const Perimeter& at) const {
    const double rho = std::sqrt(p.rho_x * p.rho_y);
    auto borne_by = [&](double d, double a) {  // MN/m
        const Borne b = borne(1000 * d, std::min(0.02, rho * p.d / d), p.fc);
        return less_pull(b, p.pull) * d * std::max(1.0, 2 * d / std::max(a, 1e-9));
    };
    const double thick = borne_by(p.d, at.a);
    Along out{at.length * p.d, at.length * thick, 0, 0};
    for (const Perimeter::Thin& t : at.thin) {
        const double d = p.depth_of(t.thickness);
        if (d >= p.d) continue;
        out.ud -= t.length * (p.d - d);
        out.force -= t.length * (thick - std::min(thick, borne_by(std::max(d, 1e-6), t.beyond)));
    }
    out.concrete = out.force;
    out.steel = legs_that_count(p, at.a) * f_ywd_ef(1000 * p.d, p.fy_links) / 1e6;
    if (out.steel > 0)
        out.force = std::max(out.concrete, std::min(0.75 * out.concrete + out.steel, n_.k_max * out.concrete));
    return out;
}

PunchingVerdict EuropeanCode::punching(const PunchingCase& p, const Perimeter& at, const PunchingForce& f,
                                       Working* by) const {
    auto borne_without_step = [&] { return borne(1000 * p.d, std::sqrt(p.rho_x * p.rho_y), p.fc); };
    PunchingVerdict v;
    if (p.V <= 0) return v;
    v.V_net = f.V;
    const Along along_it = along(p, at);
    v.v_limit = along_it.ud > 0 ? along_it.force / along_it.ud
                                : less_pull(borne_without_step(), p.pull) * 2 * p.d / at.a;  // (6.50)
    if (v.V_net > 0 && at.length <= 1e-9 * p.d) {  // no perimeter is left that could carry it
        v.utilisation = std::numeric_limits<double>::infinity();
    } else if (v.V_net > 0) {
        v.beta = eccentricity(p.round, at, f).beta(f.V);
        v.v = *v.beta * v.V_net / along_it.ud / 1000;
        v.v_from_moment = (*v.beta - 1) * v.V_net / along_it.ud / 1000;
        v.utilisation = v.v / v.v_limit;
        v.links_at_most = along_it.steel > 0 && along_it.force >= n_.k_max * along_it.concrete * (1 - 1e-9);
    }
    if (by) write_punching(p, at, f, borne_without_step(), v, *by);
    return v;
}

// What β sums up: even, and of each moment the same to both sides of its axis, as W = ∫ |e| dl takes it.
double EuropeanCode::punching_stress(const PunchingCase& p, const Perimeter& at, const PunchingForce& f,
                                     Point from_centre) const {
    const Along along_it = along(p, at);
    if (f.V <= 0 || along_it.ud <= 0) return 0;
    const Eccentricity e = eccentricity(p.round, at, f);
    double v = e.even * f.V / along_it.ud;
    for (const auto& m : e.moments()) {
        const Point towards = !*m.axis         ? f.M1 * at.axis1 + f.M2 * at.axis2
                              : *m.axis == '1' ? f.M1 * at.axis1
                                               : f.M2 * at.axis2;
        const double side = dot(from_centre - at.origin, towards);
        v += (side > 0 ? 1 : side < 0 ? -1 : 0) * m.k * m.M / m.W * at.length / along_it.ud;
    }
    return v / 1000;
}

void EuropeanCode::write_punching(const PunchingCase& p, const Perimeter& at, const PunchingForce& f, const Borne& b,
                                  const PunchingVerdict& v, Working& by) const {
    const Along along_it = along(p, at);
    const bool stepped = !at.thin.empty();
    const Measure d{"d", 1000 * p.d, Unit::millimetre}, fck{"f_ck", p.fc, Unit::megapascal, 0};
    by.line({.text = p.upward ? "force that pulls up there" : "force that comes down there",
             .symbol = "V_Ed",
             .value = p.V,
             .unit = Unit::kilonewton});
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
    const double v_c = less_pull(b, p.pull);
    if (p.pull > 0)
        by.line({.text = "less what a pull in the slab's plane takes, mean of both directions",
                 .symbol = "v_Rd,c",
                 .formula = "max({v_Rd,c}, {v_min}) − 0.1 · {σ_cp}",
                 .put_in = {{"v_Rd,c", b.v_c, Unit::megapascal},
                            {"v_min", b.v_min, Unit::megapascal},
                            {"σ_cp", p.pull, Unit::megapascal}},
                 .value = v_c,
                 .unit = Unit::megapascal,
                 .clause = "(6.47)"});
    by.line({.text = p.links.empty() ? "perimeters tried from the face to 2d; worst at"
                                     : "perimeters tried from the face to 2d and beyond the links; worst at",
             .symbol = "a",
             .value = 1000 * at.a,
             .unit = Unit::millimetre});
    const std::string open = words_of(at.position);
    by.line({.text = std::string("perimeter there") + (open.empty() ? "" : ", " + open) +
                     (at.shaded ? ", less what openings shade" : "") +
                     (at.shortened ? ", of a long column only what lies near its ends" : ""),
             .symbol = "u",
             .value = at.length,
             .unit = Unit::metre,
             .clause = at.shortened                      ? "ENV 1992-1-1 4.3.4.2.1(2)"
                       : at.shaded                       ? "6.4.2(3)"
                       : at.position == Position::edge   ? "6.4.2(4)"
                       : at.position == Position::corner ? "6.4.2(4)"
                                                         : ""});
    if (at.one_sided)
        by.line({.text = "reduced: sides towards the rim up to 1.5 d and half the column",
                 .symbol = "u*",
                 .value = at.reduced,
                 .unit = Unit::metre,
                 .clause = "Figure 6.20"});
    if (stepped) {
        by.line({.text = "effective depth along it, the slab being thinner in places",
                 .symbol = "d",
                 .formula = "∫ d dl/{u}",
                 .put_in = {{"u", at.length, Unit::metre}},
                 .value = 1000 * along_it.ud / at.length,
                 .unit = Unit::millimetre});
    }
    const Measure d_there{"d", 1000 * along_it.ud / std::max(at.length, 1e-12), Unit::millimetre};
    by.line(
        {.text = p.upward ? "slab loads less ground pressure inside it" : "ground pressure less slab loads inside it",
         .symbol = "ΔV_Ed",
         .value = f.relief,
         .unit = Unit::kilonewton,
         .clause = "6.4.4(2)"});
    by.line({.text = "net force",
             .symbol = "V_Ed,red",
             .formula = "{V_Ed} − {ΔV_Ed}",
             .put_in = {{"V_Ed", p.V, Unit::kilonewton}, {"ΔV_Ed", f.relief, Unit::kilonewton}},
             .value = v.V_net,
             .unit = Unit::kilonewton,
             .clause = "(6.48)"});
    if (v.beta) {
        const Eccentricity e = eccentricity(p.round, at, f);
        if (e.count > 0 || (at.one_sided && (f.M1 != 0 || f.M2 != 0)))
            by.line({.text = std::string("moments about the loaded area's middle") +
                             (at.one_sided                        ? ", positive towards the rim"
                              : at.position == Position::interior ? ", less what the ground inside turns back"
                                                                  : ""),
                     .symbol = "M_Ed",
                     .formula = "√({M_1}² + {M_2}²)",
                     .put_in = {{"M_1", f.M1, Unit::kilonewton_metre}, {"M_2", f.M2, Unit::kilonewton_metre}},
                     .value = std::hypot(f.M1, f.M2),
                     .unit = Unit::kilonewton_metre});
        write_eccentricity(e, at, "", v.V_net, by);
    }
    by.line({.text = "stress",
             .symbol = "v_Ed",
             .formula = "{β} · {V_Ed,red}/({u} · {d})",
             .put_in = {{"β", v.beta.value_or(1), Unit::none, 3},
                        {"V_Ed,red", v.V_net, Unit::kilonewton},
                        {"u", at.length, Unit::metre},
                        d_there},
             .value = v.v,
             .unit = Unit::megapascal,
             .clause = "(6.49)"});
    // What the strength is before its 2d/a, in symbols.
    const std::string strength = p.pull > 0 ? "{v_Rd,c}" : "max({v_Rd,c}, {v_min})";
    std::vector<Measure> of{{"v_Rd,c", p.pull > 0 ? v_c : b.v_c, Unit::megapascal}};
    if (p.pull <= 0) of.push_back({"v_min", b.v_min, Unit::megapascal});
    const bool nearer = at.a < 2 * p.d;
    const bool held = along_it.steel > 0;
    Term borne_there{.text = held ? "borne by concrete alone" : "borne",
                     .symbol = held ? "v_Rd,c(a)" : "v_Rd",
                     .value = along_it.ud > 0 ? along_it.concrete / along_it.ud : v.v_limit,
                     .unit = Unit::megapascal,
                     .clause = nearer ? "(6.50)" : "(6.47)"};
    if (stepped) {
        of.push_back({"u", at.length, Unit::metre}), of.push_back(d_there);
        borne_there.text +=
            ", mean over its stretches: in the thinner slab with its own depth and the distance from "
            "the step";
        borne_there.formula = "∫ " + strength + " · max(1, 2 d/a) · d dl/({u} · {d})";
    } else if (nearer) {
        of.push_back(d), of.push_back({"a", 1000 * at.a, Unit::millimetre});
        borne_there.formula = strength + " · 2 · {d}/{a}";
    } else {
        borne_there.formula = strength;
    }
    borne_there.put_in = of;
    by.line(std::move(borne_there));
    if (held) write_links(p, at, v, by);
    by.line({.text = "use at the perimeter",
             .formula = "{v_Ed}/{v_Rd}",
             .put_in = {{"v_Ed", v.v, Unit::megapascal}, {"v_Rd", v.v_limit, Unit::megapascal}},
             .value = v.utilisation});
}

void EuropeanCode::write_links(const PunchingCase& p, const Perimeter& at, const PunchingVerdict& v,
                               Working& by) const {
    const Along along_it = along(p, at);
    const double f = f_ywd_ef(1000 * p.d, p.fy_links), area = legs_that_count(p, at.a);
    by.line({.text = "strength of links that counts",
             .symbol = "f_ywd,ef",
             .formula = "250 + 0.25 · {d} ≤ {f_ywd}",
             .put_in = {{"d", 1000 * p.d, Unit::millimetre}, {"f_ywd", fyd(p.fy_links), Unit::megapascal, 0}},
             .value = f,
             .unit = Unit::megapascal,
             .clause = "6.4.5(1)",
             .in_code_units = true});
    Term legs{.text = "link legs that count, of every column the least that one has",
              .symbol = "ΣA_sw",
              .value = area,
              .unit = Unit::square_millimetre};
    if (p.links.size() == 1) {
        const LinkLegs& l = p.links[0];
        const Crossed c(l, at.a, p.d);
        const double legs_each = c.legs / c.perimeters, one = legs_each * area_of_bar(l.diameter);
        const Measure s_r{"s_r", 1000 * l.spacing, Unit::millimetre};
        by.line({.text = "legs of one perimeter",
                 .symbol = "A_sw",
                 .formula = "{n_1} · π/4 · {ϕ}²",
                 .put_in = {{"n_1", legs_each, Unit::none, 1}, {"ϕ", l.diameter, Unit::millimetre}},
                 .value = one,
                 .unit = Unit::square_millimetre});
        const bool nearer = at.a < 2 * p.d;
        by.line({.text = nearer ? "perimeters that count, of those crossed; at 2d 1.5 d/s_r"
                                : "perimeters that count, of those crossed",
                 .symbol = "n",
                 .formula = nearer ? "min({N}, 0.75 · {a}/{s_r})" : "min({N}, 1.5 · {d}/{s_r})",
                 .put_in = {{"N", c.perimeters, Unit::none, 0},
                            nearer ? Measure{"a", 1000 * at.a, Unit::millimetre}
                                   : Measure{"d", 1000 * p.d, Unit::millimetre},
                            s_r},
                 .value = c.count,
                 .clause = "(6.52)"});
        legs.text = "link legs that count", legs.formula = "{n} · {A_sw}";
        legs.put_in = {{"n", c.count, Unit::none, 2}, {"A_sw", one, Unit::square_millimetre}};
    }
    by.line(std::move(legs));
    by.line({.text = "borne with links, no less than by concrete alone",
             .symbol = "v_Rd",
             .formula = "0.75 · {v_Rd,c(a)} + {ΣA_sw} · {f_ywd,ef}/({u} · {d}) ≤ {k_max} · {v_Rd,c(a)}",
             .put_in = {{"v_Rd,c(a)", along_it.concrete / along_it.ud, Unit::megapascal},
                        {"ΣA_sw", area, Unit::square_millimetre},
                        {"f_ywd,ef", f, Unit::megapascal},
                        {"u", at.length, Unit::metre},
                        {"d", 1000 * along_it.ud / at.length, Unit::millimetre},
                        {"k_max", n_.k_max, Unit::none, 2}},
             .value = v.v_limit,
             .unit = Unit::megapascal,
             .clause = "(6.52)"});
}

// 9.4.3 and Figure 9.10, 9.3.2(1), (9.11) with legs square to the slab.
LinkRules EuropeanCode::link_rules(const LinkLegs& l, double h, double d, double fck, double fyk, Working* by) const {
    LinkRules out;
    auto rule = [&](double use, std::string broken) {
        out.use = std::isnan(use) ? use : std::max(out.use, use);
        if (!(use <= 1 + 1e-9)) out.broken += (out.broken.empty() ? "" : "; ") + broken;
    };
    auto line = [&](const char* text, const char* symbol, double value, const char* limit, double at,
                    const char* clause) {
        if (by)
            by->line({.text = fmt::format("{}, {} {:.0f} mm", text, limit, 1000 * at),
                      .symbol = symbol,
                      .value = 1000 * value,
                      .unit = Unit::millimetre,
                      .clause = clause});
    };
    constexpr double hair = 5e-4;  // m: laid to the millimetre
    const double first = l.rings.empty() ? 0 : l.rings.front().a;
    if (by) {
        by->line({.text = "perimeters of legs, two at least",
                  .symbol = "n",
                  .value = double(l.rings.size()),
                  .clause = "9.4.3(1)"});
        by->line({.text = "effective depth", .symbol = "d", .value = 1000 * d, .unit = Unit::millimetre});
    }
    rule(2.0 / std::max<size_t>(1, l.rings.size()), "two perimeters of legs are the least");
    line("thickness of the slab", "h", h, "at least", 0.2, "9.3.2(1)");
    rule(0.2 / h, "a slab for links is 200 mm thick or more");
    line("first perimeter from the face", "a_1", first, "at most 0.5 d =", 0.5 * d, "9.4.3(1)");
    rule((first - hair) / (0.5 * d),
         fmt::format("the first perimeter is {:.0f} mm off the face, more than half of d", 1000 * first));
    line("the same", "a_1", first, "above 0.3 d =", 0.3 * d, "Figure 9.10");
    rule(0.3 * d / std::max(1e-9, first + hair),
         fmt::format("the first perimeter is {:.0f} mm off the face, nearer than 0.3 d", 1000 * first));
    line("between perimeters", "s_r", l.spacing, "at most 0.75 d =", 0.75 * d, "9.4.3(1)");
    rule((l.spacing - hair) / (0.75 * d),
         fmt::format("perimeters are {:.0f} mm apart, more than 0.75 d", 1000 * l.spacing));
    double widest = 0, within = 0, beyond = 0;  // m between legs along a perimeter
    for (const LinkLegs::Ring& r : l.rings) {
        const double s = r.length / std::max(1.0, r.legs);
        widest = std::max(widest, s);
        double& of = r.a <= 2 * d + 1e-9 ? within : beyond;
        of = std::max(of, s);
    }
    line("between legs along perimeters within 2 d", "s_t", within, "at most 1.5 d =", 1.5 * d, "9.4.3(1)");
    rule((within - hair) / (1.5 * d),
         fmt::format("legs are {:.0f} mm apart along a perimeter, more than 1.5 d", 1000 * within));
    if (beyond > 0) line("further off", "s_t", beyond, "at most 2 d =", 2 * d, "9.4.3(1)");
    rule((beyond - hair) / (2 * d),
         fmt::format("legs are {:.0f} mm apart along an outer perimeter, more than 2 d", 1000 * beyond));
    const double least = 0.08 * std::sqrt(fck) / fyk * 1e6 * l.spacing * widest / 1.5;
    if (by) {
        by->line({.text = "least area of a leg, where they are widest apart",
                  .symbol = "A_sw,min",
                  .formula = "0.08 · √{f_ck}/{f_yk} · {s_r} · {s_t}/1.5",
                  .put_in = {{"f_ck", fck, Unit::megapascal, 0},
                             {"f_yk", fyk, Unit::megapascal, 0},
                             {"s_r", 1000 * l.spacing, Unit::millimetre},
                             {"s_t", 1000 * widest, Unit::millimetre}},
                  .value = least,
                  .unit = Unit::square_millimetre,
                  .clause = "(9.11)",
                  .in_code_units = true});
        by->line({.text = "area of a leg",
                  .symbol = "A_sw,1",
                  .formula = "π/4 · {ϕ}²",
                  .put_in = {{"ϕ", l.diameter, Unit::millimetre}},
                  .value = area_of_bar(l.diameter),
                  .unit = Unit::square_millimetre});
    }
    rule(least / area_of_bar(l.diameter),
         fmt::format("a leg of ϕ{:g} is less than the least area of {:.0f} mm²", l.diameter, least));
    return out;
}

// Face of the column, 6.4.5(3): the whole force along u0, with the β of that length. Inside the slab u0 is the
// footprint's perimeter, at a rim c2 + 3d ≤ c2 + 2 c1, at a corner 3d ≤ c1 + c2.
std::optional<PunchingVerdict> EuropeanCode::punching_at_face(const PunchingCase& p, const Perimeter& face,
                                                              const PunchingForce& f, Working* by) const {
    if (p.V <= 0 || face.length <= 0) return std::nullopt;
    const bool edge = face.one_sided && face.position == Position::edge,
               corner = face.one_sided && face.position == Position::corner;
    const double u0 = edge     ? face.c2 + std::min(3 * p.d, 2 * face.c1)
                      : corner ? std::min(3 * p.d, face.c1 + face.c2)
                               : face.length;
    Perimeter own = face;
    own.reduced = own.length;  // u0 is a reduced length already
    const Eccentricity e = eccentricity(p.round, own, {0, p.V, f.M1, f.M2});
    PunchingVerdict v;
    v.V_net = p.V;
    v.beta = e.beta(p.V);
    v.v = *v.beta * p.V / (u0 * p.d) / 1000;
    v.v_from_moment = (*v.beta - 1) * p.V / (u0 * p.d) / 1000;
    v.v_limit = v_Rd_max(p.fc);
    v.utilisation = v.v / v.v_limit;
    if (by) {
        if (edge || corner)
            by->line({.text = edge ? "length at the face: c_2 + 3 d, at most c_2 + 2 c_1, c_1 towards the rim"
                                   : "length at the face: 3 d, at most c_1 + c_2",
                      .symbol = "u_0",
                      .value = u0,
                      .unit = Unit::metre,
                      .clause = "6.4.5(3)"});
        write_eccentricity(e, own, " of the face", p.V, *by);
        by->line({.text = "stress at the face",
                  .symbol = "v_Ed",
                  .formula = "{β} · {V_Ed}/({u_0} · {d})",
                  .put_in = {{"β", *v.beta, Unit::none, 3},
                             {"V_Ed", p.V, Unit::kilonewton},
                             {"u_0", u0, Unit::metre},
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
