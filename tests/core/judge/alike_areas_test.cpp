// Perimeters that columns of a grid share are those that each would have of its own.
#include "core/judge/alike_areas.h"

#include "core/base/polygons.h"
#include "tests/core/judge/pad.h"

namespace mossbed::testing {
namespace {

PunchedArea square_at(Point at, double side = 0.4) {
    return {rectangle(at, side, side, 0), at, side, side, false, 0, {}, true};
}

class Alike : public ::testing::Test {
  protected:
    std::shared_ptr<const PerimetersTried> find(const PunchedArea& area, double d = 0.5) {
        return areas_.find(area, {d, 1, 1, 0}, [&](const PunchedArea& moved) {
            ++made_;
            const Perimeters round(moved, {}, std::vector<Polygon>{});
            return PerimetersTried{round.at(0), {round.at(0.3), round.at(d)}, {}};
        });
    }
    AlikeAreas areas_;
    int made_ = 0;
};

TEST_F(Alike, OnesServeEachOtherWhereverTheyLie) {
    const auto here = find(square_at({3.3, 7.1})), there = find(square_at({81.9 / 7, 1e3 / 3}));
    EXPECT_EQ(made_, 1);
    EXPECT_EQ(here, there);
    EXPECT_NEAR(here->within[1].length, 4 * 0.4 + 2 * 3.14159265358979 * 0.5, 1e-8);
    EXPECT_NEAR(length(here->within[1].centroid), 0, 1e-8);
}

TEST_F(Alike, OthersHaveTheirOwn) {
    find(square_at({1, 1}));
    find(square_at({1, 1}, 0.401));
    EXPECT_EQ(made_, 2);
    find(square_at({1, 1}), 0.5001);
    EXPECT_EQ(made_, 3);
    PunchedArea area = square_at({1, 1});
    area.one_column = false;  // so that none of its sides is too long to count
    find(area);
    EXPECT_EQ(made_, 4);
    area.angle = 45, area.outline = rectangle({1, 1}, 0.4, 0.4, 45);
    find(area);
    EXPECT_EQ(made_, 5);
    area.round = true;
    find(area);
    EXPECT_EQ(made_, 6);
}

TEST(AlikeAreas, AreThoseThatNothingTakesFrom) {
    const PunchedArea area = square_at({5, 5});
    const std::vector<PerimeterCourse> closed{{}};
    EXPECT_TRUE(AlikeAreas::lies_free(area, {}, closed));
    EXPECT_FALSE(AlikeAreas::lies_free(area, {{}, {}, {box(6, 6, 7, 7)}, {}}, closed));
    EXPECT_FALSE(AlikeAreas::lies_free(area, {{}, {}, {}, [](Point) { return std::nullopt; }}, closed));
    PerimeterCourse leaves;
    leaves.leaves_slab = true;
    EXPECT_FALSE(AlikeAreas::lies_free(area, {}, {leaves}));
    EXPECT_FALSE(AlikeAreas::lies_free(area, {}, {closed[0], {Position::edge, {{1, 0}}, {0.3}, true}}));
    PunchedArea end = area;
    end.kept = {{{5, 5}, {1, 0}}};
    EXPECT_FALSE(AlikeAreas::lies_free(end, {}, closed));
}

// Along a straight rim the slab looks alike, until a corner comes within reach.
TEST(AlikeAreas, BesideOneRimSeeOfTheSlabWhatLiesWithinReach) {
    SlabAround slab;
    slab.rim = box(0, 0, 40, 10);
    auto seen = [&](Point at, const PerimeterRule& rule = {}) {
        const PunchedArea area = square_at(at);
        return AlikeAreas::slab_beside_rim(area, slab, perimeter_courses(area, slab, 1), rule, 1);
    };
    const auto here = seen({12.1, 0.7});
    ASSERT_TRUE(here);
    EXPECT_EQ(here, seen({82.0 / 3, 0.7}));
    EXPECT_NE(here, seen({12.1, 0.701}));
    EXPECT_NEAR(box_of(*here).low.y, -0.7, 1e-9);
    EXPECT_NEAR(box_of(*here).high.y, 0.2 + 1.5 + 0.1, 1e-9);
    EXPECT_NEAR(box_of(*here).width(), 0.4 + 2 * 1.6, 1e-9);
    EXPECT_NE(here, seen({1.5, 0.7}));  // the corner is seen, though no perimeter comes there
    EXPECT_FALSE(seen({0.7, 0.7}));     // two rims
    EXPECT_FALSE(seen({12.1, 5}));      // none
    PerimeterRule prolonged;
    prolonged.round_corners = false;
    EXPECT_FALSE(seen({12.1, 0.7}, prolonged));
    slab.openings = {box(13, 1, 14, 2)};
    EXPECT_FALSE(seen({12.1, 0.7}));
    slab.openings.clear();
    slab.hole = box(30, 4, 31, 5);
    EXPECT_FALSE(seen({12.1, 0.7}));
    slab.hole.reset();
    slab.thinner = [](Point) { return std::nullopt; };
    EXPECT_FALSE(seen({12.1, 0.7}));
    slab.thinner = nullptr;
    slab.rim = {{0, 0}, {40, 0}, {40, 10}, {20, 9}, {0, 10}};
    EXPECT_FALSE(seen({12.1, 0.7}));
}

// Columns at a rim that bends beside two of them, and a pair: the perimeters of those that
// share are those that each has where the others are like none.
TEST(AlikeAreas, AlongARimGiveThePerimetersThatEachHasOfItsOwn) {
    Model m = designed_raft({{0, 1.2}, {6, 0}, {18, 0}, {24, 1.3}, {24, 9}, {0, 9}});
    m.slab.thickness = 0.6, m.mesh_size = 0.8;
    const std::vector<Point> places{{6.4, 0.6}, {9.1, 0.6}, {17.7, 0.6}, {12.3, 0.7}, {13.6, 0.7}};
    for (int i = 0; i < 5; ++i) {
        const std::string id = fmt::format("C{}", i + 1);
        m.columns.push_back(column(id, places[size_t(i)].x, places[size_t(i)].y));
        m.columns.back().size = {0.4, 0.3};
        load(m, {ColumnLoad{id, 500.0 + 40 * i, 10, 20, 0, 0}, {}});
    }
    const auto a = solve(m);
    ASSERT_GE(a->punching.size(), 6u);
    int at_rim = 0;
    for (const PunchingAnswer& p : a->punching) {
        Model other = m;
        for (Column& c : other.columns)
            if (p.id.find(c.id) == std::string::npos) c.size = {0.4 + 1e-8, 0.3};  // 10 nm
        const auto b = solve(other);
        const auto own = std::find_if(b->punching.begin(), b->punching.end(), [&](auto& q) { return q.id == p.id; });
        ASSERT_NE(own, b->punching.end());
        at_rim += p.position == "edge";
        EXPECT_EQ(own->position, p.position) << p.id;
        EXPECT_NEAR(own->utilisation, p.utilisation, 2e-5 * p.utilisation) << p.id;
        EXPECT_NEAR(own->perimeter, p.perimeter, 1e-8) << p.id;
        EXPECT_NEAR(own->a, p.a, 1e-8) << p.id;  // neighbours that are wider stand nearer
    }
    EXPECT_GE(at_rim, 3);
}

// Each column of a grid has the use that it has where the others are of other sizes, so that none is like it; but for
// the cells, which then lie a little otherwise.
TEST(AlikeAreas, GiveTheUsesThatEachColumnHasOfItsOwn) {
    Model m = designed_raft(box(0, 0, 24, 16));
    m.mesh_size = 0.8;
    for (int i = 0; i < 6; ++i) {
        const std::string id = fmt::format("C{}", i + 1);
        m.columns.push_back(column(id, 4.1 + 7.7 * (i % 3), 4.3 + 7.1 * (i / 3)));
        m.columns.back().size = {0.4, 0.4};
        load(m, {ColumnLoad{id, 500.0 + 40 * i, 10, 20, 0, 0}, {}});
    }
    const auto a = solve(m);
    ASSERT_GE(a->punching.size(), 6u);
    for (const PunchingAnswer& p : a->punching) {
        Model other = m;
        for (Column& c : other.columns)
            if (c.id != p.id) c.size = {0.4 + 1e-8, 0.4};  // 10 nm
        const auto b = solve(other);
        const auto own = std::find_if(b->punching.begin(), b->punching.end(), [&](auto& q) { return q.id == p.id; });
        ASSERT_NE(own, b->punching.end());
        EXPECT_NEAR(own->utilisation, p.utilisation, 2e-5 * p.utilisation) << p.id;
        EXPECT_NEAR(own->perimeter, p.perimeter, 1e-8) << p.id;
    }
}

}  // namespace
}  // namespace mossbed::testing
