// EN 1992-1-1 6.4 at single perimeters, each number by hand.
#include <gtest/gtest.h>

#include <numbers>

#include "core/codes/en1992/european_code.h"

namespace mossbed {
namespace {

constexpr double pi = std::numbers::pi;
const EuropeanCode european;
const DesignCode& code = european;

PunchingCase slab_of_half_a_metre() {
    PunchingCase p;
    p.d = 0.5, p.rho_x = p.rho_y = 0.005, p.fc = 30, p.V = 900;
    return p;
}
// k = 1 + √0.4; 0.12 k (100 · 0.005 · 30)^⅓
const double v_Rdc = 0.12 * (1 + std::sqrt(0.4)) * std::cbrt(15.0);

Perimeter at_rim(Position position) {  // numbers as of a square column of 0.4 m flush with the rim, a = 0.8
    Perimeter p;
    p.a = 0.8, p.position = position, p.one_sided = true;
    p.length = 3.7, p.reduced = 3.3, p.c1 = p.c2 = 0.4, p.first1 = 1.1, p.first2 = 2.6;
    return p;
}

// Clauses: EN 1992-1-1 | 6.4.3(4), (6.39), (6.44), Figure 6.20a | edge columns: u/u* and what is left along the rim;
// towards the rim with W about the perimeter's centroid
TEST(EN1992_6_4_3_edge, AForceAtTheAxisIsEvenAlongTheReducedLength) {
    const auto v = code.punching(slab_of_half_a_metre(), at_rim(Position::edge), {100, 800, 0, 0});
    EXPECT_NEAR(*v.beta, 3.7 / 3.3, 1e-12);                         // (6.44), no eccentricity
    EXPECT_NEAR(v.v, 3.7 / 3.3 * 800 / (3.7 * 0.5) / 1000, 1e-12);  // (6.49)
    EXPECT_NEAR(v.v_limit, v_Rdc * 2 * 0.5 / 0.8, 1e-9);            // (6.50)
    EXPECT_NEAR(v.utilisation, v.v / v.v_limit, 1e-12);
    EXPECT_NEAR(v.V_net, 800, 1e-12);
}
TEST(EN1992_6_4_3_edge, AMomentAlongTheRimAdds) {
    const auto v = code.punching(slab_of_half_a_metre(), at_rim(Position::edge), {100, 800, 0, -120});
    EXPECT_NEAR(*v.beta, 3.7 / 3.3 + 0.45 * 120 / 2.6 * 3.7 / 800, 1e-12);  // k of c1/(2 c2) = 0.5
}
TEST(EN1992_6_4_3_edge, InwardAsEvenOutwardByTheWholePerimeterAndNothingJumps) {
    auto beta = [&](double M1) {
        return *code.punching(slab_of_half_a_metre(), at_rim(Position::edge), {100, 800, M1, 0}).beta;
    };
    EXPECT_NEAR(beta(-200), 3.7 / 3.3, 1e-12);                       // towards the interior
    EXPECT_NEAR(beta(200), 1 + 0.6 * 200 / 1.1 * 3.7 / 800, 1e-12);  // (6.39), k = 0.6 of a square
    EXPECT_NEAR(beta(1e-6), 3.7 / 3.3, 1e-12);
    double before = beta(-10);
    for (double M = -10; M <= 200; M += 2) {
        EXPECT_LE(std::abs(beta(M) - before), 0.006) << M;
        before = beta(M);
    }
}
// Clauses: EN 1992-1-1 | 6.4.3(5), (6.39), (6.46), Figure 6.20b | corner columns likewise
TEST(EN1992_6_4_3_corner, EvenInsideByBothDirectionsOutside) {
    auto beta = [&](double M1, double M2) {
        return *code.punching(slab_of_half_a_metre(), at_rim(Position::corner), {100, 800, M1, M2}).beta;
    };
    EXPECT_NEAR(beta(-150, -80), 3.7 / 3.3, 1e-12);  // (6.46)
    EXPECT_NEAR(beta(150, -80), 1 + 0.6 * 150 / 1.1 * 3.7 / 800, 1e-12);
    EXPECT_NEAR(beta(150, 80), 1 + 0.6 * (150 / 1.1 + 80 / 2.6) * 3.7 / 800, 1e-12);
}
// Clauses: EN 1992-1-1 | 6.4.3(3), Table 6.1, (6.42), (6.51) | eccentricity, both directions added; round columns by
// the resultant; the moment of the ground inside taken off
TEST(EN1992_6_4_3, ARoundColumnTakesTheResultantMoment) {
    PunchingCase p = slab_of_half_a_metre();
    p.round = true;
    const PunchedArea area{round_polygon({}, 0.3, 32), {}, 0.6, 0.6, true};
    const Perimeter at = Perimeters(area, code.perimeter_rule(0.5), std::vector<Polygon>{}).at(1.0);
    for (double degrees : {0.0, 30.0, 45.0, 90.0}) {
        const Point M = turned({300, 0}, degrees);
        // (6.42) with 2d = 1.0: 1 + 0.6 π e/(D + 4d)
        EXPECT_NEAR(*code.punching(p, at, {0, 900, M.x, M.y}).beta, 1 + 0.6 * pi * (300.0 / 900) / 2.6, 1e-9);
    }
    // Near an opening the resultant meets the modulus of its own direction.
    const Perimeter shaded =
        Perimeters(area, code.perimeter_rule(0.5), std::vector<Polygon>{{{1, -0.3}, {1.6, -0.3}, {1.6, 0.3}, {1, 0.3}}})
            .at(1.0);
    EXPECT_LT(shaded.first_along({1, 0}), shaded.first_along({0, 1}));
    EXPECT_NEAR(*code.punching(p, shaded, {0, 900, 0, 300}).beta,
                1 + 0.6 * 300 / shaded.first_along({0, 1}) * shaded.length / 900, 1e-9);
}
// Clauses: EN 1992-1-1 | 6.4.2(8), (9) | steps in thickness: inside the thick patch, across its edge, outside it
TEST(EN1992_6_4_4_steps, AStretchInThinnerSlabBearsByItsDepthAndItsDistanceFromTheStep) {
    PunchingCase p = slab_of_half_a_metre();
    p.thinner = {{0.3, 0.25}};
    Perimeter at;
    at.a = 0.9, at.length = 6, at.first1 = at.first2 = 5;
    at.thin = {{2.0, 0.3, 0.4}, {1.0, 0.3, 0.05}};
    const auto v = code.punching(p, at, {0, 900, 0, 0});
    // thin: k ≤ 2, ρ = 0.005 · 0.5/0.25, 2d/a = 0.5/0.4; close to the step no more than the thick slab bears there
    const double thick = v_Rdc * 0.5 * (1.0 / 0.9),
                 thin = 0.12 * (1 + std::sqrt(200.0 / 250)) * std::cbrt(30.0) * 0.25 * 0.5 / 0.4;
    ASSERT_LT(thin, thick);
    const double ud = 3 * 0.5 + 3 * 0.25;
    EXPECT_NEAR(v.v, 900 / ud / 1000, 1e-12);
    EXPECT_NEAR(v.v_limit, (3 * thick + 2 * thin + 1 * thick) / ud, 1e-9);
    // An even slab is what it was.
    at.thin.clear();
    EXPECT_NEAR(code.punching(p, at, {0, 900, 0, 0}).v_limit, v_Rdc * 1.0 / 0.9, 1e-12);
}
// Clauses: EN 1992-1-1 | 6.4.4(1), (6.47), k1 0.1 | a pull in the slab's plane, mean along the perimeter 2d off, is
// taken off; a push is left out
TEST(EN1992_6_4_4_pull, APullInTheSlabsPlaneTakesATenthOfItAndNoMoreThanThereIs) {
    PunchingCase p = slab_of_half_a_metre();
    Perimeter at;
    at.a = 1, at.length = 6, at.first1 = at.first2 = 5;
    p.pull = 0.8;
    EXPECT_NEAR(code.punching(p, at, {0, 900, 0, 0}).v_limit, v_Rdc - 0.08, 1e-9);  // (6.47), 2d/a = 1
    p.pull = 20;
    EXPECT_EQ(code.punching(p, at, {0, 900, 0, 0}).v_limit, 0);
    EXPECT_TRUE(std::isinf(code.punching(p, at, {0, 900, 0, 0}).utilisation));
}
// Clause: EN 1992-1-1 | 6.4.5(3)
TEST(EN1992_6_4_5, LengthsAtTheFaceOfEdgeAndCornerColumns) {
    PunchingCase p = slab_of_half_a_metre();
    Perimeter face = at_rim(Position::edge);
    face.a = 0, face.c1 = 0.6, face.c2 = 0.4, face.length = face.reduced = 1.6;
    auto v = code.punching_at_face(p, face, {0, 900, 0, 0});
    EXPECT_NEAR(v->v, 900 / ((0.4 + 1.2) * 0.5) / 1000, 1e-12);  // c2 + 2 c1 < c2 + 3 d
    face.c1 = 1.0;
    v = code.punching_at_face(p, face, {0, 900, 0, 0});
    EXPECT_NEAR(v->v, 900 / ((0.4 + 1.5) * 0.5) / 1000, 1e-12);  // c2 + 3 d
    face.position = Position::corner;
    v = code.punching_at_face(p, face, {0, 900, 0, 0});
    EXPECT_NEAR(v->v, 900 / (1.4 * 0.5) / 1000, 1e-12);  // c1 + c2 < 3 d
    EXPECT_NEAR(v->v_limit, 0.4 * 0.6 * (1 - 30.0 / 250) * 20, 1e-12);
}
// Clauses: ENV 1992-1-1:1991 | 4.3.4.2.1(2)
// Clauses: DIN EN 1992-1-1/NA:2013 | to 6.4.3(6) | β where walls end (1.35) and turn (1.20); the code itself has no
// value
TEST(ENV1992_4_3_4, LengthsAtWallEnds) {
    EXPECT_NEAR(code.length_at_wall_end(0.25, 6, 0.5), 0.25, 1e-12);              // 2b/2
    EXPECT_NEAR(code.length_at_wall_end(0.25, 0.3, 0.5), 0.15, 1e-12);            // a short wall
    EXPECT_NEAR(code.length_at_wall_end(1.0, 6, 0.3), (1.68 - 0.84) / 2, 1e-12);  // (5.6 d − 2.8 d)/2
    // Fixed factors where a wall ends and where it turns.
    Perimeter p = at_rim(Position::wall_end);
    p.one_sided = false;
    EXPECT_NEAR(*code.punching(slab_of_half_a_metre(), p, {0, 900, 50, 50}).beta, 1.35, 1e-12);
    p.position = Position::wall_corner;
    EXPECT_NEAR(*code.punching(slab_of_half_a_metre(), p, {0, 900, 50, 50}).beta, 1.20, 1e-12);
}
TEST(EN1992_6_4, TheWorkingNamesWhatItTook) {
    Working by;
    const auto v = code.punching(slab_of_half_a_metre(), at_rim(Position::edge), {100, 800, 150, 40}, &by);
    bool clause = false, reduced = false;
    for (const Term& t : by.terms) {
        clause |= t.symbol == "β" && t.clause == "(6.39)" && std::abs(t.value - *v.beta) < 1e-12;
        reduced |= t.symbol == "u*" && t.value == 3.3;
        for (const Measure& m : t.put_in)  // every name that a formula uses is put in
            EXPECT_NE(t.formula.find("{" + m.symbol + "}"), std::string::npos) << t.formula << " " << m.symbol;
    }
    EXPECT_TRUE(clause);
    EXPECT_TRUE(reduced);
}

}  // namespace
}  // namespace mossbed
