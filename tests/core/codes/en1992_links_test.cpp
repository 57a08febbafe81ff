// EN 1992-1-1 6.4.5, 9.4.3, 6.2.3: links, each number by hand.
#include <gmock/gmock.h>

#include <numbers>

#include "core/codes/en1992/european_code.h"

namespace mossbed {
namespace {

using ::testing::HasSubstr;
constexpr double pi = std::numbers::pi;
const EuropeanCode european;
const DesignCode& code = european;

// d = 0.4 m, C30, 1 % of steel; perimeters of ϕ12 legs at 0.2, 0.5 and 0.8 m from a column of 0.4 m square.
PunchingCase with_links(double legs) {
    PunchingCase p;
    p.d = 0.4, p.rho_x = p.rho_y = 0.01, p.fc = 30, p.V = 1000;
    LinkLegs l{12, 0.3, {}};
    for (double a : {0.2, 0.5, 0.8}) l.rings.push_back({a, legs, 1.6 + 2 * pi * a});
    p.links = {l};
    return p;
}
Perimeter round_it(double a) {
    Perimeter p;
    p.a = a, p.length = p.reduced = p.unshaded = 1.6 + 2 * pi * a, p.c1 = p.c2 = 0.4;
    return p;
}
double limit(const PunchingCase& p, double a) { return code.punching(p, round_it(a), {0, 1000, 0, 0}).v_limit; }
const double v_c = 0.12 * (1 + std::sqrt(0.5)) * std::cbrt(30.0), leg = pi / 4 * 12 * 12, f = 250 + 0.25 * 400;

// Clause: EN 1992-1-1 | 6.4.5(1), (4), (6.52), 9.4.3
TEST(EN1992_6_4_5, AtTwoDLinksAddWhatTheEquationSays) {
    const double A_sw = 12 * leg;  // of one perimeter; 1.5 d/s_r = 2 of them
    const double v = 0.75 * v_c + 1.5 * 400 / 300 * A_sw * f / ((1600 + 1600 * pi) * 400);
    EXPECT_NEAR(limit(with_links(12), 0.8), v, 1e-9);
    EXPECT_GT(v, 1.2 * v_c);
    EXPECT_LT(v, 1.5 * v_c);
}
// Clause: EN 1992-1-1 | 6.4.5(1), (4), (6.52), 9.4.3
TEST(EN1992_6_4_5, NearerOnlyLegsInsideCountAndNeverLessThanConcreteAlone) {
    const double concrete = 2 * v_c, u = 1600 + 800 * pi;  // at a = d
    EXPECT_NEAR(limit(with_links(12), 0.4), concrete, 1e-9);
    EXPECT_NEAR(limit(with_links(30), 0.4), 0.75 * concrete + 30 * leg * f / (u * 400), 1e-9);
    EXPECT_NEAR(limit(with_links(30), 0.19), v_c * 2 * 0.4 / 0.19, 1e-9);  // no leg inside
}
// Clause: EN 1992-1-1 | 6.4.5(1), (4), (6.52), 9.4.3
TEST(EN1992_6_4_5, ThereIsAMostAndItSaysSo) {
    const auto v = code.punching(with_links(40), round_it(0.8), {0, 1000, 0, 0});
    EXPECT_NEAR(v.v_limit, 1.5 * v_c, 1e-9);
    EXPECT_TRUE(v.links_at_most);
    EXPECT_FALSE(code.punching(with_links(12), round_it(0.8), {0, 1000, 0, 0}).links_at_most);
    NationalChoices n;
    n.k_max = 1.4;
    const EuropeanCode other(n);
    EXPECT_NEAR(other.punching(with_links(40), round_it(0.8), {0, 1000, 0, 0}, nullptr).v_limit, 1.4 * v_c, 1e-9);
}
// Clause: EN 1992-1-1 | 6.4.5(1), (4), (6.52), 9.4.3
TEST(EN1992_6_4_5, FromOneAndAHalfDBeyondTheLastLegConcreteBearsAlone) {
    EXPECT_GT(limit(with_links(30), 1.39), v_c);
    EXPECT_NEAR(limit(with_links(30), 1.4), v_c, 1e-12);
    EXPECT_NEAR(limit(with_links(30), 2.4), v_c, 1e-12);  // no 2d/a below one
    const auto tried = code.perimeters_to_try(0.4, 1e300, 0.8);
    EXPECT_TRUE(std::is_sorted(tried.begin(), tried.end()));
    EXPECT_NEAR(*std::find_if(tried.begin(), tried.end(), [](double a) { return a > 0.8 + 1e-9; }), 1.4, 1e-12);
    EXPECT_NEAR(tried.back(), code.furthest_perimeter(0.4, 0.8), 1e-12);
    EXPECT_NEAR(code.perimeters_to_try(0.4, 1e300).back(), 0.8, 1e-12);
}
// Clause: EN 1992-1-1 | 6.4.5(1), (4), (6.52), 9.4.3
TEST(EN1992_6_4_5, TheStrengthOfLinksIsThatOfTheSteelInDeepSlabs) {
    PunchingCase p = with_links(12);
    p.d = 0.8;  // 250 + 200 = 450 MPa, above 500/1.15
    p.links[0].rings.resize(1);
    const Perimeter at = round_it(1.0);
    const double concrete = 0.12 * 1.5 * std::cbrt(30.0) * 1.6, A = 12 * leg;
    const double steel = A * 500 / 1.15 / (at.length * 1000 * 800);
    EXPECT_NEAR(code.punching(p, at, {0, 1000, 0, 0}).v_limit, std::max(concrete, 0.75 * concrete + steel), 1e-9);
    p.links[0].rings[0].legs = 80;
    EXPECT_NEAR(code.punching(p, at, {0, 1000, 0, 0}).v_limit, 0.75 * concrete + 80 / 12.0 * steel, 1e-9);
}
TEST(EN1992_6_4_5, TheWorkingPutsInEveryNumber) {
    Working by;
    code.punching(with_links(12), round_it(0.8), {0, 1000, 0, 0}, &by);
    std::string all;
    for (const Term& t : by.terms) all += t.text + "|" + t.symbol + "|" + t.formula + "|" + t.clause + "\n";
    for (const char* part : {"f_ywd,ef", "(6.52)", "{k_max}", "A_sw", "v_Rd,c(a)"}) EXPECT_THAT(all, HasSubstr(part));
}

// Clauses: EN 1992-1-1 | 6.4.5(1), (4), (6.52), 9.4.3 | links: perimeters within 2d and beyond their end, k_max 1.5,
// rules of their layout
TEST(EN1992_9_4_3, EachRuleIsKeptOrNamed) {
    auto legs = [](double first, double spacing, int perimeters, double legs) {
        LinkLegs l{12, spacing, {}};
        for (int i = 0; i < perimeters; ++i) {
            const double a = first + i * spacing;
            l.rings.push_back({a, legs, 1.6 + 2 * pi * a});
        }
        return l;
    };
    auto rules = [&](const LinkLegs& l, double h = 0.46) { return code.link_rules(l, h, 0.4, 30, 500); };
    EXPECT_TRUE(rules(legs(0.2, 0.3, 3, 16)).broken.empty());
    EXPECT_LE(rules(legs(0.2, 0.3, 3, 16)).use, 1 + 1e-9);
    EXPECT_THAT(rules(legs(0.2, 0.3, 1, 16)).broken, HasSubstr("two perimeters"));
    EXPECT_THAT(rules(legs(0.25, 0.3, 3, 16)).broken, HasSubstr("250 mm off the face, more than half"));
    EXPECT_NEAR(rules(legs(0.25, 0.3, 3, 16)).use, 0.2495 / 0.2, 1e-9);
    EXPECT_THAT(rules(legs(0.08, 0.25, 3, 16)).broken, HasSubstr("nearer than 0.3 d"));
    EXPECT_THAT(rules(legs(0.2, 0.35, 3, 20)).broken, HasSubstr("350 mm apart"));
    EXPECT_THAT(rules(legs(0.2, 0.3, 3, 9)).broken, HasSubstr("along a perimeter"));          // 6.63/9 = 0.736 > 0.6
    EXPECT_THAT(rules(legs(0.2, 0.3, 7, 16)).broken, HasSubstr("along an outer perimeter"));  // 14.2/16 = 0.885 > 0.8
    EXPECT_THAT(rules(legs(0.2, 0.3, 3, 16), 0.19).broken, HasSubstr("200 mm"));
    LinkLegs thin = legs(0.2, 0.3, 3, 12);
    thin.diameter = 8;  // s_t = 0.552 m: 0.08 √30/500 · 300 · 552/1.5 = 96.8 mm² > 50.3
    EXPECT_THAT(rules(thin).broken, HasSubstr("97 mm²"));
    EXPECT_NEAR(rules(thin).use, 0.08 * std::sqrt(30.0) / 500 * 300 * (1600 + 1600 * pi) / 12 / 1.5 / (pi * 16), 1e-9);
    EXPECT_NEAR(code.first_link_perimeter(0.4), 0.2, 1e-12);
}

// Clauses: EN 1992-1-1 | 6.2.3(3), 9.3.2 | shear with links, struts as flat as cot θ 2.5
TEST(EN1992_6_2_3, LinksBearAloneWithTheFlattestStrutThatStillDoes) {
    Section s{1000, 500, 450, 30, 500, 200000};
    const double bare = code.shear_borne(s, 2250);
    EXPECT_NEAR(bare, 221.96, 0.05);
    s.link = 10, s.link_spacing = 200;  // cot θ = 2.5
    EXPECT_NEAR(code.shear_borne(s, 2250), pi / 4 * 100 / 40000 * 1000 * 405 * 500 / 1.15 * 2.5 / 1000, 0.01);
    s.link = 16, s.link_spacing = 100;  // cot θ = 1, the struts govern
    EXPECT_NEAR(code.shear_borne(s, 2250), 1000 * 405 * 0.6 * (1 - 30 / 250.0) * 20 / 2 / 1000, 0.01);
    s.link = 14, s.link_spacing = 140;  // between: both bear the same
    const double ratio = pi / 4 * 196 / 19600, strut = 0.6 * 0.88 * 20, fy = 500 / 1.15;
    const double cot = std::sqrt(strut / (ratio * fy) - 1);
    ASSERT_GT(cot, 1);
    ASSERT_LT(cot, 2.5);
    EXPECT_NEAR(code.shear_borne(s, 2250), ratio * 405 * fy * cot, 0.01);
    EXPECT_NEAR(code.shear_borne(s, 2250), 405 * strut / (cot + 1 / cot), 0.01);
}
// Clauses: EN 1992-1-1 | 6.2.3(3), 9.3.2
TEST(EN1992_9_3_2, LinksThatBreakARuleDoNotCountAndTheWorkingSaysWhich) {
    Section s{1000, 500, 450, 30, 500, 200000};
    const double bare = code.shear_borne(s, 2250);
    auto why = [&](double diameter, double spacing, double h) {
        Section t = s;
        t.h = h, t.link = diameter, t.link_spacing = spacing;
        Working by;
        EXPECT_EQ(code.shear_borne(t, 2250, &by), bare);
        for (const Term& line : by.terms)
            if (line.text.starts_with("links do not count")) return line.text;
        return std::string();
    };
    EXPECT_THAT(why(16, 340, 500), HasSubstr("0.75 d"));
    EXPECT_THAT(why(6, 250, 500), HasSubstr("least ratio"));
    EXPECT_THAT(why(10, 200, 190), HasSubstr("200 mm"));
}

}  // namespace
}  // namespace mossbed
