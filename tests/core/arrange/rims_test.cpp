#include "core/arrange/rims.h"

#include "core/model/edit.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

const Polygon& ring(const Model& m) { return std::get<Polygon>(m.slab.outline); }
void expect_at(Point p, double x, double y) {
    EXPECT_NEAR(p.x, x, 1e-9);
    EXPECT_NEAR(p.y, y, 1e-9);
}

TEST(PushRims, OneIsAsItWasPushedBefore) {
    const Polygon skew{{0, 0}, {10, 1}, {8, 7}, {1, 6}};
    for (int side = 0; side < 4; ++side) {
        Model m = raft(skew, 0.5, 2e4);
        EXPECT_EQ(push_rims(m, {side}, 0.7), "");
        const Polygon by_hand = push_rim(skew, side, 0.7);
        for (size_t i = 0; i < 4; ++i) expect_at(ring(m)[i], by_hand[i].x, by_hand[i].y);
    }
}

TEST(PushRims, AllOfARectangleGrowItOnAllSides) {
    Model m = raft(box(0, 0, 10, 6), 0.5, 2e4);
    EXPECT_EQ(push_rims(m, all_sides(m.slab.outline), 0.5), "");
    EXPECT_NEAR(signed_area(ring(m)), 11 * 7, 1e-9);
    m.slab.outline = Ring{{0, 0}, 2, 5};
    EXPECT_EQ(push_rims(m, all_sides(m.slab.outline), 0.5), "");
    EXPECT_EQ(std::get<Ring>(m.slab.outline), (Ring{{0, 0}, 1.5, 5.5}));
    EXPECT_NE(push_rims(m, {1}, 2), "");  // the hole would close
    EXPECT_NE(push_rims(m, {0}, -4), "");
}

TEST(PushRims, InsideOutIsRefusedAndChangesNothing) {
    Model m = raft(box(0, 0, 10, 6), 0.5, 2e4);
    for (const auto& sides : {std::set<int>{0}, std::set<int>{0, 2}, std::set<int>{0, 1, 2, 3}})
        for (double by : {-6.0, -20.0, -6.5}) {
            EXPECT_NE(push_rims(m, sides, by), "") << by;
            EXPECT_EQ(ring(m), box(0, 0, 10, 6));
        }
    Model u = raft({{0, 0}, {12, 0}, {12, 8}, {8, 8}, {8, 3}, {4, 3}, {4, 8}, {0, 8}}, 0.5, 2e4);
    EXPECT_NE(push_rims(u, {3, 5}, 3), "");  // the two sides of the notch would pass each other
}

TEST(PushRims, WhatLiesOnTheRimFollows) {
    Model m = raft(box(0, 0, 10, 6), 0.5, 2e4);
    m.slab.patches = {{"T1", box(8, 1, 10, 3), 0.8, Flush::top, "", {}}};
    load(m, {AreaLoad{box(5, 0, 10, 6), 3}, {}});
    load(m, {LineLoad{{{10, 0}, {10, 6}}, {4, 4}}, {}});
    m.steel.strips = std::vector<Strip>{{"S1", Direction::x, {Point{0, 3}, Point{10, 3}}, {3, 3}, {}}};
    EXPECT_EQ(push_rims(m, {1}, 0.8), "");
    expect_at(m.slab.patches[0].outline[1], 10.8, 1), expect_at(m.slab.patches[0].outline[0], 8, 1);
    expect_at(std::get<AreaLoad>(m.loads.cases[0].items[0].load).outline[2], 10.8, 6);
    expect_at(std::get<LineLoad>(m.loads.cases[0].items[1].load).path[1], 10.8, 6);
    expect_at((*m.steel.strips)[0].axis[1], 10.8, 3);
}

TEST(FitRim, ARectangleStandsClearOfTurnedColumnsByTheOverhang) {
    Model m = raft({}, 0.5, 2e4);
    m.slab.outline = Polygon{};
    EXPECT_NE(fit_rim(m, RimFit::rectangle, 0.5), "");
    m.columns = {column("C1", 0, 0), column("C2", 6, 0), column("C3", 3, 4)};
    m.columns[1].size = {0.4, 0.4}, m.columns[1].angle = 45;  // reaches 0.2 √2 to each side
    m.columns[2].shape = ColumnShape::circle, m.columns[2].size = {1.0};
    ASSERT_EQ(fit_rim(m, RimFit::rectangle, 0.5), "");
    const Box b = box_of(ring(m));
    expect_at(b.low, -0.25 - 0.5, -0.2 * std::sqrt(2.0) - 0.5);
    expect_at(b.high, 6 + 0.2 * std::sqrt(2.0) + 0.5, 4.5 + 0.5);
}

TEST(FitRim, StepsFollowAnLOfColumnsAndKeepTheirDistanceEverywhere) {
    Model m = raft({}, 0.5, 2e4);
    for (double x : {0.0, 6.0, 12.0, 18.0})
        for (double y : {0.0, 5.0, 10.0})
            if (x < 9 || y < 2.5) m.columns.push_back(column("C" + std::to_string(m.columns.size()), x, y, 0.5));
    ASSERT_EQ(fit_rim(m, RimFit::following, 0.75), "");
    // By hand: 18 + 2 (0.25 + 0.75) along, 2 high, and the upper part of 8 × 10.
    ASSERT_EQ(ring(m).size(), 6u);
    EXPECT_NEAR(signed_area(ring(m)), 20 * 2 + 8 * 10, 1e-9);
    for (const Column& c : m.columns) {
        double least = 1e300;
        for (Point p : footprint(c)) least = std::min(least, distance_to_rim(ring(m), p));
        EXPECT_GE(least, 0.75 - 1e-9) << c.id;
    }
}

TEST(FitRim, LiesAlongATurnedSlab) {
    Model m = raft(rectangle({0, 0}, 10, 6, 30), 0.5, 2e4);
    for (double x : {-4.0, 0.0, 4.0})
        for (double y : {-2.0, 2.0}) {
            Column c = column("C" + std::to_string(m.columns.size()), 0, 0);
            c.at = turned({x, y}, 30), c.angle = 30;
            m.columns.push_back(c);
        }
    for (RimFit fit : {RimFit::rectangle, RimFit::following}) {
        ASSERT_EQ(fit_rim(m, fit, 0.6), "");
        EXPECT_EQ(ring(m).size(), 4u);
        EXPECT_NEAR(signed_area(ring(m)), (8 + 0.5 + 1.2) * (4 + 0.5 + 1.2), 1e-6);
    }
}

TEST(FitRim, GroupsThatNothingJoinsAreTold) {
    Model m = raft({}, 0.5, 2e4);
    m.columns = {column("C1", 0, 0), column("C2", 20, 20)};
    EXPECT_NE(fit_rim(m, RimFit::following, 0.5).find("groups"), std::string::npos);
    EXPECT_EQ(fit_rim(m, RimFit::rectangle, 0.5), "");
}

}  // namespace
}  // namespace mossbed
