// EN 1997-1 Annex D against five cases worked by hand.
#include "core/codes/en1997/bearing_resistance.h"

#include <gmock/gmock.h>

#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

// Clause: EN 1997-1 | Annex D.3, D.4 | bearing resistance, undrained and drained, shape and inclination; horizontal
// base, level ground
TEST(BearingResistance, FiveCasesByHand) {
    // φ' 30°: Nq 18.401, Nγ 20.093; s_q 1.5, s_γ 0.7: 4 (18 · 18.401 · 1.5 + 0.5 · 18 · 2 · 20.093 · 0.7).
    EXPECT_NEAR(drained_resistance({1, 0, 0, 2, 2}, {30, 0, 18, 18}), 3000.01, 0.05);
    EXPECT_NEAR(drained_resistance({1200, 150, 0, 2, 3}, {25, 10, 9, 15}), 2616.606, 0.01);
    EXPECT_NEAR(drained_resistance({900, 60, 100, 1.5, 4}, {35, 5, 10, 20}), 6753.953, 0.01);
    // (π + 2) 40 (1 + 0.2 · 2/3) + 18, over 6 m².
    EXPECT_NEAR(undrained_resistance({1, 0, 0, 2, 3}, {40, 18}), 1506.513, 0.01);
    EXPECT_NEAR(undrained_resistance({1, 100, 0, 2, 3}, {40, 18}), 1341.323, 0.01);
}

TEST(BearingResistance, NoFrictionIsTheUndrainedFormOfCohesionAndTooMuchPushHoldsNothing) {
    EXPECT_NEAR(drained_resistance({1, 0, 0, 2, 3}, {0, 40, 0, 18}), undrained_resistance({1, 0, 0, 2, 3}, {40, 18}),
                1e-6);
    EXPECT_NEAR(drained_resistance({1, 0, 0, 2, 3}, {0.06, 40, 0, 18}), 1506.5, 8);  // no jump beside it
    EXPECT_EQ(drained_resistance({100, 120, 0, 2, 2}, {30, 0, 18, 18}), 0);
    EXPECT_EQ(undrained_resistance({100, 170, 0, 2, 2}, {40, 18}), 0);
}

// A pad of 3 × 2 m a metre deep, 800 kN in its middle, on a clay of cu 40 and φ' 25°.
Model pad() {
    Model m = raft(box(0, 0, 3, 2), 0.5, 20000);
    Stratum clay, soft;
    clay.id = "clay", clay.unit_weight = clay.saturated_unit_weight = 18, clay.cu = 60, clay.phi = 25, clay.c = 5;
    soft.id = "soft", soft.unit_weight = soft.saturated_unit_weight = 17, soft.cu = 15;
    m.ground.strata = {clay, soft};
    Borehole b;
    b.id = "B", b.ground_level = 0, b.layers = {{"clay", -15, {}}};
    m.ground.boreholes = {b};
    m.slab.top_level = -0.5;
    load(m, {PointLoad{{1.5, 1}, 800, 0, 0}, {}});
    Combination u;
    u.id = "U", u.purpose = Purpose::strength, u.factors = {{"G", 1.35}};
    m.loads.combinations->push_back(u);
    return m;
}
const Row* resistance(const Answer& a, const std::string& item) {
    for (const Row& r : a.checks)
        if (r.id == "resistance" && r.item == item) return &r;
    return nullptr;
}

// Clause: EN 1997-1 | 2.4.7.3.4, Annex A | DA1 (both combinations), DA2, DA3: γ_R;v 1.4, γ_φ' and γ_c' 1.25,
// γ_cu 1.4, 1.3 on variable actions
TEST(BearingResistance, OfAPadByTheApproachThatIsChosen) {
    Model m = pad();
    auto a = solve(m);
    const double R_u = undrained_resistance({1080, 0, 0, 2, 3}, {60, 18}),
                 R_d = drained_resistance({1080, 0, 0, 2, 3}, {25, 5, 18, 18});
    ASSERT_TRUE(resistance(*a, "drained"));
    EXPECT_NEAR(*resistance(*a, "drained")->value, 1080, 1e-6);
    EXPECT_NEAR(*resistance(*a, "drained")->limit, R_d / 1.4, 0.001 * R_d);  // DA2 goes with EN 1990
    EXPECT_NEAR(*resistance(*a, "undrained")->limit, R_u / 1.4, 0.001 * R_u);
    m.ground.resistance_approach = Approach::global_factor, m.ground.resistance_factor = 3;
    a = solve(m);
    EXPECT_NEAR(*resistance(*a, "undrained")->value, 800, 1e-6);
    EXPECT_NEAR(*resistance(*a, "undrained")->limit, R_u / 3, 0.001 * R_u);
    m.ground.resistance_approach = Approach::DA3;
    a = solve(m);
    EXPECT_NEAR(*resistance(*a, "undrained")->limit, undrained_resistance({1080, 0, 0, 2, 3}, {60 / 1.4, 18}), 1);
    const double phi = std::atan(std::tan(25 * M_PI / 180) / 1.25) * 180 / M_PI;
    EXPECT_NEAR(*resistance(*a, "drained")->limit, drained_resistance({1080, 0, 0, 2, 3}, {phi, 4, 18, 18}), 2);
}

TEST(BearingResistance, ASoftLayerBelowGovernsByLoadSpread) {
    Model m = pad();
    m.ground.boreholes[0].layers = {{"clay", -2.5, {}}, {"soft", -15, {}}};
    const auto a = solve(m);
    const Row* r = resistance(*a, "undrained");
    ASSERT_TRUE(r);
    EXPECT_THAT(r->note, HasSubstr("soft, 1.50 m below the base"));
    // 3.5 × 4.5 m down there, with 1.5 m of clay on it; 18 + 27 kPa beside it.
    const double V = 1080 + 27 * 3.5 * 4.5;
    EXPECT_NEAR(*r->value, V, 1e-6);
    EXPECT_NEAR(*r->limit, undrained_resistance({V, 0, 0, 3.5, 4.5}, {15, 45}) / 1.4, 0.5);
    EXPECT_THAT(resistance(*a, "drained")->note, HasSubstr("soft"));  // has no φ' to be looked at with
}

TEST(BearingResistance, WhatIsMissingOrOutOfReasonIsSaid) {
    Model m = pad();
    m.ground.strata[0].phi = 60;
    EXPECT_EQ(resistance(*solve(m), "drained")->status, Status::not_checked);
    const auto steep = solve(m);
    EXPECT_THAT(resistance(*steep, "drained")->note, HasSubstr("φ′ of clay is 60°"));
    m.ground.strata[0].phi.reset(), m.ground.strata[0].cu.reset();
    m.ground.resistance_approach = Approach::DA2;
    const auto bare = solve(m);
    ASSERT_TRUE(resistance(*bare, "drained"));
    EXPECT_THAT(resistance(*bare, "drained")->note, HasSubstr("clay right below the base has no"));
    m.ground.boreholes.clear();
    const auto blind = solve(m);
    EXPECT_THAT(resistance(*blind, "")->note, HasSubstr("Without boreholes"));
    m.ground.resistance_approach.reset();
    EXPECT_EQ(resistance(*solve(m), ""), nullptr);  // nobody asked
    m = pad();
    m.slab.outline = Polygon{{0, 0}, {6, 0}, {6, 2}, {2, 2}, {2, 6}, {0, 6}};
    const auto bent = solve(m);
    EXPECT_THAT(resistance(*bent, "undrained")->note, HasSubstr("not convex"));
}

}  // namespace
}  // namespace mossbed::testing
