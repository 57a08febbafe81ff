// Load against settlement, against closed forms.
#include "core/answer/curve.h"

#include <gmock/gmock.h>

#include "tests/core/helpers.h"
#include "words/curve_file.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

// A stiff pad of 4 × 3 m with 600 kN at `e` m from its middle.
Model pad(double e) {
    Model m = raft(box(0, 0, 4, 3), 1, 5000, 1e6);
    load(m, {PointLoad{{2 + e, 1.5}, 600, 0, 0}, {}});
    m.mesh_size = 0.25;
    return m;
}

TEST(Curve, OfALiftingPadIsStraightAndKeepsItsContact) {
    const Curve c = load_settlement_curve(pad(1.2), {"S", 2, 10, {{4, 1.5}, {0, 1.5}}});
    ASSERT_EQ(c.steps.size(), 10u);
    EXPECT_TRUE(c.explanation.empty());
    for (const CurveStep& s : c.steps) {
        // 2 N / (3 L (B/2 − e) k) at the pressed edge, and 3 (B/2 − e) of the 4 m press.
        const double edge = s.factor * 2 * 600 / (3 * 3 * 0.8 * 5000);
        EXPECT_EQ(s.ending, Ending::solved);
        EXPECT_NEAR(s.settlement[0], edge, 0.015 * edge);
        EXPECT_LT(s.settlement[1], 0);
        EXPECT_NEAR(s.contact_ratio, 0.6, 0.035);
        EXPECT_NEAR(s.ground, 600 * s.factor, 1e-6 * 600);
    }
}

TEST(Curve, EndsWhereTheGroundYieldsThroughAndFindsThatPlace) {
    Model m = pad(0);
    m.ground.yield_pressure = 80;  // 960 kN at most: 1.6 times
    const Curve c = load_settlement_curve(m, {"S", 3, 10, {}});
    ASSERT_GT(c.steps.size(), 4u);
    EXPECT_EQ(c.steps.back().ending, Ending::yields_through);
    const double last = c.steps[c.steps.size() - 2].factor;
    EXPECT_EQ(c.steps[c.steps.size() - 2].ending, Ending::solved);
    EXPECT_LE(last, 1.6 + 1e-9);
    EXPECT_GT(last, 1.6 - 0.01);
    EXPECT_THAT(c.explanation, HasSubstr("yields through"));
    ASSERT_EQ(c.names.size(), c.points.size());
    EXPECT_EQ(c.names[0], "middle");
    EXPECT_GE(c.names.size(), 5u);
    for (size_t i = 1; i < c.steps.size(); ++i) EXPECT_GT(c.steps[i].factor, c.steps[i - 1].factor);
}

TEST(Curve, ScalesTheModelsOwnAnswer) {
    Model m = pad(0.9);
    const Curve c = load_settlement_curve(m, {"S", 1, 1, {{2, 1.5}}});
    const auto a = solve(m);
    EXPECT_NEAR(c.steps[0].settlement[0], settlement(*a, {2, 1.5}), 1e-9);
    EXPECT_NEAR(c.steps[0].max_pressure, only(*a).max_pressure, 1e-6);
    const Curve again = load_settlement_curve(m, {"S", 1, 1, {{2, 1.5}}}, a.get());
    EXPECT_NEAR(again.steps[0].settlement[0], c.steps[0].settlement[0], 1e-5 * c.steps[0].settlement[0]);
}

TEST(Curve, WhatCannotBeDrawnIsSaid) {
    Model m = pad(0);
    EXPECT_THROW(load_settlement_curve(m, {"no such", 2, 10, {}}), Trouble);
    EXPECT_THROW(load_settlement_curve(m, {"S", -1, 10, {}}), Trouble);
    EXPECT_THROW(load_settlement_curve(m, {"S", 2, 0, {}}), Trouble);
    try {
        load_settlement_curve(m, {"S", 2, 2, {{9, 9}}});
        FAIL();
    } catch (const Trouble& t) {
        EXPECT_THAT(t.problem.sentence(), HasSubstr("not on the slab"));
    }
    m.loads.cases[0].items = {{PointLoad{{2, 1.5}, -600, 0, 0}, {}}};
    const Curve none = load_settlement_curve(m, {"S", 2, 4, {}});
    EXPECT_TRUE(none.reaches_nothing());
    EXPECT_THAT(none.explanation, HasSubstr("lifts free"));
    EXPECT_THAT(write_curve(none), HasSubstr("\"status\": \"lifts free\""));
}

TEST(Curve, IsWrittenAsJsonAndAsATable) {
    const Curve c = load_settlement_curve(pad(0), {"S", 2, 2, {{2, 1.5}, {0, 0}}});
    EXPECT_THAT(write_curve(c), HasSubstr("\"format\": \"mossbed-curve\""));
    const std::string table = curve_table(c, ',');
    EXPECT_EQ(std::count(table.begin(), table.end(), '\n'), 3);
    EXPECT_THAT(table, HasSubstr("factor,\"settlement at (2.00, 1.50) [m]\""));
    EXPECT_THAT(table, HasSubstr("\n1,0.01000"));
    EXPECT_THAT(curve_table(c, '\t'), HasSubstr("factor\tsettlement at (2.00, 1.50) [m]\t"));
}

}  // namespace
}  // namespace mossbed::testing
