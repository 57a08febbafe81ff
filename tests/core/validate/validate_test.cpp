#include "core/validate/validate.h"

#include <gmock/gmock.h>

#include <limits>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using ::testing::HasSubstr;
using testing::load;
using testing::raft;

// The first problem whose sentence holds the words; its severity comes along.
std::optional<Problem> told(const Model& m, const std::string& words) {
    for (const Problem& p : problems_of(m))
        if (p.sentence().find(words) != std::string::npos) return p;
    return {};
}
void expect_error(const Model& m, const std::string& where, const std::string& what) {
    const auto p = told(m, what);
    ASSERT_TRUE(p) << "nothing says: " << what;
    EXPECT_EQ(p->severity, Severity::error);
    EXPECT_THAT(p->where, HasSubstr(where));
    EXPECT_FALSE(p->mend.empty());
}
void expect_warning(const Model& m, const std::string& where, const std::string& what) {
    const auto p = told(m, what);
    ASSERT_TRUE(p) << "nothing says: " << what;
    EXPECT_EQ(p->severity, Severity::warning);
    EXPECT_THAT(p->where, HasSubstr(where));
}
Model good() {
    Model m = raft(box(0, 0, 8, 6), 0.6, 20000);
    m.columns = {column("C1", 2, 2), column("C2", 6, 4)};
    load(m, {ColumnLoad{"C1", 500, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"C2", 500, 0, 0, 0, 0}, {}});
    return m;
}

TEST(Validate, AGoodModelHasNothingToSay) { EXPECT_TRUE(problems_of(good()).empty()); }

TEST(Validate, AnOutlineThatCrossesItselfSaysWhere) {
    Model m = good();
    m.slab.outline = Polygon{{0, 0}, {8, 6}, {8, 0}, {0, 6}};
    expect_error(m, "slab.outline", "crosses");
    ASSERT_TRUE(told(m, "crosses")->at);
    EXPECT_NEAR(told(m, "crosses")->at->x, 4, 1e-9);
}
TEST(Validate, AZeroAreaIsNoSlab) {
    Model m = good();
    m.slab.outline = Polygon{{0, 0}, {8, 0}, {4, 0}};
    expect_error(m, "slab.outline", "area is zero");
}
TEST(Validate, AnEmptyOutlineAsksToDraw) {
    Model m = good();
    m.slab.outline = Polygon{};
    expect_error(m, "slab", "no slab yet");
}
TEST(Validate, AnOpeningOutsideIsNamed) {
    Model m = good();
    m.slab.openings.push_back({"O1", box(7, 1, 9, 2), {}});
    expect_error(m, "opening O1", "outside the slab");
}
TEST(Validate, OpeningsThatOverlapAreNamed) {
    Model m = good();
    m.slab.openings = {{"O1", box(3, 2, 5, 3), {}}, {"O2", box(4, 2.5, 5.5, 3.5), {}}};
    expect_error(m, "opening O2", "overlaps opening O1");
}
TEST(Validate, AColumnOffTheSlabOrInAnOpeningIsNamed) {
    Model m = good();
    m.columns.push_back(column("C9", 9, 1));
    expect_error(m, "column C9", "off the slab");
    m = good();
    m.slab.openings.push_back({"O1", box(1.5, 1.5, 2.5, 2.5), {}});
    expect_error(m, "column C1", "off the slab");
}
TEST(Validate, AColumnOverTheEdgeOfAnOpeningIsNamedAndOneBesideItIsNot) {
    Model m = good();  // columns of 0.5 m
    m.slab.openings.push_back({"O1", box(2.1, 1, 3, 3), {}});
    expect_warning(m, "column C1", "reaches over opening O1");
    m.slab.openings[0].outline = box(2.25, 1, 3, 3);  // flush with its face
    EXPECT_FALSE(told(m, "reaches over"));
}
TEST(Validate, TheSameColumnTwiceIsFound) {
    Model m = good();
    m.columns.push_back(column("C3", 2.1, 2));
    expect_error(m, "column C3", "overlaps that of column C1");
    m = good();
    m.columns.push_back(column("C1", 4, 4));
    expect_error(m, "column C1", "used twice");
}
TEST(Validate, UnknownNamesAreNamed) {
    Model m = good();
    load(m, {ColumnLoad{"C7", 1, 0, 0, 0, 0}, {}});
    expect_error(m, "case G, item 3", "no column \"C7\"");
    m = good();
    (*m.loads.combinations)[0].factors["X"] = 1;
    expect_error(m, "combination S", "no case \"X\"");
    m = good();
    m.slab.concrete = "C99";
    expect_error(m, "slab.concrete", "no concrete \"C99\"");
    m = good();
    m.steel.steel = "B1";
    expect_error(m, "steel.steel", "no steel \"B1\"");
}
TEST(Validate, NaNIsCaughtWhereverItComesFrom) {
    const double nan = std::numeric_limits<double>::quiet_NaN();
    Model m = good();
    std::get<Polygon>(m.slab.outline)[1].x = nan;
    expect_error(m, "slab.outline", "not a number");
    m = good();
    m.columns[0].at.y = nan;
    expect_error(m, "column C1", "not a number");
    m = good();
    std::get<ColumnLoad>(m.loads.cases[0].items[0].load).N = nan;
    expect_error(m, "case G, item 1", "not a number");
    m = good();
    m.slab.thickness = nan;
    expect_error(m, "slab.thickness", "thickness");
}
TEST(Validate, WrongUnitsByOrdersOfMagnitudeAreWarnedOf) {
    Model m = good();
    m.slab.thickness = 600;
    expect_warning(m, "slab.thickness", "600 m thick");
    m = good();
    m.ground.modulus = 20;
    expect_warning(m, "ground.modulus", "check its unit");
    m = good();
    m.concretes[0].E = 33;
    expect_warning(m, "concrete K", "not GPa");
    m = good();
    std::get<ColumnLoad>(m.loads.cases[0].items[0].load).N = 5e6;
    expect_warning(m, "case G", "kN, not N");
}
TEST(Validate, AMeshFinerThanTheMemoryIsRefusedWithTheSizeThatWouldDo) {
    Model m = good();
    m.mesh_size = 0.001;
    expect_error(m, "mesh.size", "cells");
}
TEST(Validate, OverlappingPatchesAreAWarning) {
    Model m = good();
    m.slab.patches = {{"T1", box(1, 1, 3, 3), 0.9, Flush::top, "", {}},
                      {"T2", box(2, 2, 4, 4), 1.0, Flush::top, "", {}}};
    expect_warning(m, "patch T2", "overlaps patch T1");
}
TEST(Validate, WhatThisVersionCannotSolveIsRefusedNotIgnored) {
    Model m = good();
    m.piles.push_back({"P1", {2, 2}, 0.6, 10, {}, {}, {}, {}, {}});
    expect_error(m, "piles", "cannot solve piles yet");
    m = good();
    m.ground.model = GroundModel::coupled;
    expect_error(m, "ground.boreholes", "no borehole");  // layered ground needs layers
    EXPECT_THROW(solve(m), Trouble);
}

TEST(Validate, LimitsThatJudgeNothingAreRefused) {
    for (double bad : {0.0, -0.05, std::numeric_limits<double>::quiet_NaN()}) {
        Model m = good();
        m.checks.settlement_limit = bad;
        expect_error(m, "checks.settlement_limit", "the limit is");
        m = good(), m.checks.distortion_limit = bad;
        expect_error(m, "checks.distortion_limit", "the limit is");
        m = good(), m.checks.tilt_limit = bad;
        expect_error(m, "checks.tilt_limit", "the limit is");
        m = good(), m.checks.crack_width_limit = bad;
        expect_error(m, "checks.crack_width_limit", "the limit is");
        m = good(), m.checks.sliding_factor = bad;
        expect_error(m, "checks.sliding_factor", "the factor");
        m = good(), m.checks.flotation_factor = bad;
        expect_error(m, "checks.flotation_factor", "the factor");
    }
    Model m = good();
    m.checks.contact_ratio_limit = -0.5;
    expect_error(m, "checks.contact_ratio_limit", "least share");
    m.checks.contact_ratio_limit = 1.2;
    expect_error(m, "checks.contact_ratio_limit", "least share");
    m.checks.contact_ratio_limit = 0;  // asks nothing
    EXPECT_FALSE(has_errors(problems_of(m)));
}

TEST(Validate, ExtraBarsAreLookedAtAsBaseBarsAre) {
    auto with = [](double diameter, double spacing, Polygon outline = box(1, 1, 3, 3)) {
        Model m = good();
        ExtraBars e;
        e.id = "E1", e.outline = std::move(outline), e.diameter = diameter, e.spacing = spacing;
        m.steel.extra = {e};
        return m;
    };
    EXPECT_FALSE(has_errors(problems_of(with(16, 200))));
    expect_error(with(20, 0.15), "extra bars E1", "the bars touch");  // metres meant
    expect_error(with(40, 10), "extra bars E1", "the bars touch");
    expect_error(with(8, 15), "extra bars E1", "closer than bars can be laid");
    expect_error(with(0, 200), "extra bars E1", "the bar diameter is 0");
    expect_error(with(16, -200), "extra bars E1", "the bar spacing is -200");
    expect_error(with(16, 200, {{0, 0}, {1, 1}}), "extra bars E1", "corners");
    expect_error(with(16, 200, {{0, 0}, {2, 2}, {2, 0}, {0, 2}}), "extra bars E1", "crosses");
    expect_warning(with(0.016, 200), "extra bars E1", "usual is 6 to 50");
    Model m = good();
    m.steel.bottom_x = {20, 0.15};
    expect_error(m, "steel.base.bottom_x", "the bars touch");
}

TEST(Validate, CoversAndReachesThatCannotBe) {
    Model m = good();
    m.steel.cover_top = -50;
    expect_error(m, "steel.cover_top", "the cover is -50 mm");
    m = good();
    m.steel.cover_top = 600, m.steel.keys["cover_top"] = "";
    expect_error(m, "steel.cover_top", "not less than the 600 mm");
    m = good();
    Strip s;
    s.id = "X1", s.axis = {Point{0, 3}, Point{8, 3}}, s.reach = {3, -1};
    m.steel.strips = std::vector<Strip>{s};
    expect_error(m, "strip X1", "a reach is negative");
}

TEST(Validate, WhatNoBuildingIsAndNoNumberCanHoldIsRefused) {
    expect_error(raft(box(0, 0, 12000, 5), 0.5, 20000), "slab.outline", "12000 m long");
    expect_error(raft(box(1e12, 0, 1e12 + 6, 5), 0.5, 20000), "slab.outline", "100 000 km");
    Model m = good();
    load(m, {ColumnLoad{"C1", 0, -1e300, 0, 0, 0}, {}});
    expect_error(m, "case G, item 3", "-1e+300");
    m = good();
    m.slab.outline = Circle{{3, 2.5}, 1e9};  // once a sum that ran over
    EXPECT_TRUE(has_errors(problems_of(m)));
}

TEST(Validate, OneCoordinateInMillimetresIsNamed) {
    Model m = good();
    m.slab.outline = Polygon{{0, 0}, {8000, 0}, {8, 6}, {0, 6}};
    expect_error(m, "slab.outline", "corner 2 at (8000, 0) lies far from all the others");
    m.slab.outline = Polygon{{0, 0}, {8, 0}, {8, 6}, {4, 900}, {0, 6}};
    expect_error(m, "slab.outline", "corner 4 at (4, 900) lies far from all the others");
    m.slab.outline = Polygon{{0, 0}, {80, 0}, {80, 6}, {0, 6}};  // long, but no corner stands alone
    EXPECT_FALSE(told(m, "lies far from"));
    m.slab.outline = Polygon{{0, 0}, {80, 0}, {0, 4}};  // a needle is a shape of its own
    EXPECT_FALSE(told(m, "lies far from"));

    m = good();
    m.slab.patches = {{}};
    m.slab.patches[0].id = "T1", m.slab.patches[0].thickness = 0.9;
    m.slab.patches[0].outline = {{1, 1}, {3000, 1}, {3, 3}, {1, 3}};
    expect_warning(m, "patch T1", "corner 2 at (3000, 1) lies far from all the others");
    m = good();
    m.mesh_size = 500;
    expect_warning(m, "mesh.size", "check that it is in m, not mm");
    m = good();
    m.columns[0].pedestal_height = 600;
    expect_warning(m, "column C1", "check that it is in m, not mm");
}

TEST(Validate, WhatWouldTakeMinutesOrAllMemoryIsRefusedWithASizeThatWouldDo) {
    Model m = raft(box(0, 0, 100, 80), 0.6, 20000);
    m.mesh_size = 0.1;
    expect_error(m, "mesh.size", "makes some 800 thousand cells; use 0.18 m or more");
    m.mesh_size = 0.18;
    EXPECT_FALSE(told(m, "cells"));

    for (int i = 0; i < 5000; ++i)
        m.columns.push_back(column("C" + std::to_string(i), 1 + i % 98, 1 + double(i / 98), 0.3));
    m.mesh_size = 0.25;
    expect_error(m, "mesh.size", "with 5000 columns makes some 293 thousand cells; use 0.31 m or more");
    m.mesh_size = 0.31;
    EXPECT_FALSE(told(m, "cells"));

    m.columns.clear();
    m.mesh_size = 0.3;
    m.loads.combinations->resize(200, m.loads.combinations->at(0));
    for (size_t i = 0; i < 200; ++i) (*m.loads.combinations)[i].id = std::to_string(i);
    expect_error(m, "mesh.size", "89 thousand cells for each of 200 combinations, more than fits into memory");
    for (size_t i = 130; i < 200; ++i) (*m.loads.combinations)[i].active = false;
    EXPECT_FALSE(told(m, "cells"));
}

Model with_rib(std::vector<Point> path, double depth = 1.1) {
    Model m = good();
    Rib r;
    r.id = "R1", r.path = std::move(path), r.depth = depth, r.width = 0.4, r.flush = Flush::top;
    m.ribs = {r};
    return m;
}

TEST(Validate, ARibOnTheSlabIsWell) {
    EXPECT_TRUE(problems_of(with_rib({{0, 2}, {8, 2}})).empty());
    EXPECT_TRUE(problems_of(with_rib({{0.2, 0.2}, {7.8, 0.2}, {7.8, 5.8}, {0.2, 5.8}, {0.2, 0.2}})).empty());
}

TEST(Validate, RibsThatCannotBeSayWhy) {
    expect_error(with_rib({{0, 2}}), "rib R1", "fewer than two points");
    expect_error(with_rib({{0, 2}, {0, 2}, {4, 2}}), "rib R1", "points 1 and 2 of its path are one");
    expect_error(with_rib({{0, 2}, {std::nan(""), 2}}), "rib R1", "not a number");
    expect_error(with_rib({{0, 2}, {9, 2}}), "rib R1", "it leaves the slab");
    expect_error(with_rib({{0, 0}, {8, 0}}), "rib R1", "nearly half of it lies beyond the slab's rim");
    expect_warning(with_rib({{0, 0.1}, {8, 0.1}}), "rib R1", "part of its width lies beyond");
    expect_error(with_rib({{0, 2}, {8, 2}}, 0.6), "rib R1", "no deeper than the slab's 0.6 m");
    expect_error(with_rib({{0, 2}, {8, 2}, {3, 2}}), "rib R1", "runs over itself");
    Model m = with_rib({{0, 2}, {8, 2}});
    m.ribs[0].concrete = "C99";
    expect_error(m, "rib R1", "no concrete \"C99\"");
    m = with_rib({{0, 2}, {8, 2}});
    m.ribs.push_back(m.ribs[0]);
    m.ribs[1].id = "R2", m.ribs[1].path = {{5, 2}, {2, 2}};
    expect_error(m, "rib R2", "on top of rib R1");
    m.ribs[1].path = {{5, 0}, {5, 6}};  // crossing is well
    EXPECT_TRUE(problems_of(m).empty());
}

TEST(Validate, WhatStopsAtOrSpansAnOpeningIsSaid) {
    Model m = with_rib({{0, 3}, {8, 3}});
    m.slab.openings = {{"O1", box(3.5, 2.5, 4.5, 3.5), {}}};
    expect_warning(m, "rib R1", "it stops at opening O1");
    m.ribs[0].over_openings = OverOpenings::carry;
    EXPECT_TRUE(problems_of(m).empty());
    m.ribs.clear();
    m.walls = {{"W1", {{1, 3}, {7, 3}}, 0.2, 3, true, 1, {}}};
    expect_warning(m, "wall W1", "crosses opening O1");
    m.walls[0].stiffens = false;
    EXPECT_TRUE(problems_of(m).empty());
    m.walls[0].path = {{1, 3}};
    expect_error(m, "wall W1", "fewer than two points");
}

TEST(Validate, ARibAcrossTheHoleOfARingIsSaidToo) {
    Model m = with_rib({{-5, 0}, {5, 0}});
    m.columns.clear(), m.loads.cases[0].items.clear();
    m.slab.outline = Ring{{0, 0}, 2, 6};
    expect_warning(m, "rib R1", "it stops at the hole of the ring");
}

TEST(Validate, ARibThatIsLostInAPatchIsSaid) {
    Model m = with_rib({{0, 3}, {8, 3}}, 0.8);
    m.slab.patches = {{"T1", box(2, 2, 4, 4), 1.0, Flush::top, "", {}}};
    expect_warning(m, "rib R1", "lies wholly within patch T1");
}

}  // namespace
}  // namespace mossbed
