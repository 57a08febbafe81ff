// Perimeters at rims, corners, steps, along long columns and where walls end: against formulas.
#include <gmock/gmock.h>

#include <algorithm>
#include <numbers>
#include <random>

#include "core/base/polygons.h"
#include "core/perimeter/perimeter.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
constexpr double pi = std::numbers::pi;
// Sides towards a rim count up to 1.5 · 0.4 m and half the column.
const PerimeterRule rule{true, 0, 0.6, 0.5};

PunchedArea area_at(double x0, double y0, double x1, double y1) {
    return {box(x0, y0, x1, y1), {(x0 + x1) / 2, (y0 + y1) / 2}, x1 - x0, y1 - y0};
}
SlabAround slab(Polygon rim) { return {std::move(rim), {}, {}, {}}; }
std::vector<PerimeterCourse> of(const std::vector<PerimeterCourse>& all, Position p) {
    std::vector<PerimeterCourse> out;
    std::copy_if(all.begin(), all.end(), std::back_inserter(out), [&](const auto& c) { return c.position == p; });
    return out;
}

// Clauses: EN 1992-1-1 | 6.4.2(4), Figure 6.15 | perimeters of edge and corner columns, open to the rims, where they
// are the shorter
TEST(Courses, OfAColumnInsideThereIsOneAndItIsClosed) {
    const auto all = perimeter_courses(area_at(4, 4, 4.5, 4.5), slab(box(0, 0, 10, 10)), 1.2);
    ASSERT_EQ(all.size(), 1u);
    EXPECT_EQ(all[0].position, Position::interior);
    EXPECT_FALSE(all[0].leaves_slab);
}

TEST(Courses, FlushWithARimItIsThreeSidesAndTwoQuarters) {
    const SlabAround around = slab(box(0, 0, 10, 10));
    const PunchedArea area = area_at(0, 4, 0.4, 4.6);
    const auto edges = of(perimeter_courses(area, around, 0.8), Position::edge);
    ASSERT_EQ(edges.size(), 1u);
    EXPECT_NEAR(edges[0].outward[0].x, -1, 1e-12);
    const double a = 0.8, c1 = 0.4, c2 = 0.6;  // c1 towards the rim
    const Perimeter p = Perimeters(area, rule, around, edges[0]).at(a);
    EXPECT_TRUE(p.one_sided);
    EXPECT_NEAR(p.length, c2 + 2 * c1 + pi * a, 1e-3);
    EXPECT_NEAR(p.reduced, c2 + 2 * 0.5 * c1 + pi * a, 1e-3);
    EXPECT_NEAR(p.c1, c1, 1e-9);
    EXPECT_NEAR(p.c2, c2, 1e-9);
    // EN 1992-1-1 (6.45) with 2d = a, along the rim
    EXPECT_NEAR(p.first2, c2 * c2 / 4 + c1 * c2 + 2 * c1 * a + 2 * a * a + pi * a * c2 / 2, 0.002 * p.first2);
    // its centroid from the rim: two sides, two quarters, one side
    const double from_rim = (2 * c1 * c1 / 2 + pi * a * (c1 + 2 * a / pi) + c2 * (c1 + a)) / (c2 + 2 * c1 + pi * a);
    EXPECT_NEAR(area.centre.x + dot(p.origin, {1, 0}), from_rim, 1e-3);
}

TEST(Courses, SetBackItRunsSquareToTheRim) {
    const SlabAround around = slab(box(0, 0, 10, 10));
    const PunchedArea area = area_at(0.3, 4, 0.7, 4.6);
    const auto all = perimeter_courses(area, around, 0.8);
    const Perimeters open(area, rule, around, of(all, Position::edge).at(0));
    EXPECT_NEAR(open.at(0.8).length, 0.6 + 2 * 0.7 + pi * 0.8, 1e-3);
    // What it encloses: the strip to the rim, the side beyond, two quarters.
    EXPECT_NEAR(signed_area(open.outline(0.8)), 0.7 * (0.6 + 1.6) + 0.6 * 0.8 + pi * 0.64 / 2, 0.003);
    // Nearer than the rim the closed one is whole.
    EXPECT_NEAR(Perimeters(area, rule, around, all[0]).at(0.25).length, 2 + 2 * pi * 0.25, 1e-3);
}

TEST(Courses, AtACornerThereAreTwoEdgesAndTheCorner) {
    const SlabAround around = slab(box(0, 0, 10, 10));
    const PunchedArea area = area_at(9.2, 0.1, 9.7, 0.5);  // 0.3 m from the east rim, 0.1 m from the south rim
    const auto all = perimeter_courses(area, around, 1.0);
    EXPECT_EQ(of(all, Position::edge).size(), 2u);
    const auto corners = of(all, Position::corner);
    ASSERT_EQ(corners.size(), 1u);
    const Perimeter p = Perimeters(area, rule, around, corners[0]).at(1.0);
    EXPECT_NEAR(p.length, 0.8 + 0.5 + pi / 2, 2e-3);
    EXPECT_NEAR(p.reduced, 0.25 + 0.2 + pi / 2, 2e-3);  // half of 0.5 and of 0.4
    EXPECT_NEAR(dot(p.axis1, p.axis2), 0, 1e-12);
    for (Point out : {p.axis1, p.axis2}) EXPECT_GT(dot(out, Point{1, -1}), 0.9);  // both point out of the slab
}

TEST(Courses, TurnedTogetherNothingChanges) {
    const SlabAround straight = slab(box(0, 0, 10, 10));
    const PunchedArea area = area_at(0.2, 0.3, 0.7, 0.6);
    const auto corner = of(perimeter_courses(area, straight, 1.1), Position::corner).at(0);
    const Perimeter p = Perimeters(area, rule, straight, corner).at(1.1);
    auto turn = [](Polygon q) {
        for (Point& v : q) v = turned(v, 33);
        return q;
    };
    const SlabAround askew = slab(turn(straight.rim));
    PunchedArea there = area;
    there.outline = turn(area.outline), there.centre = turned(area.centre, 33), there.angle = 33;
    const auto corner2 = of(perimeter_courses(there, askew, 1.1), Position::corner).at(0);
    const Perimeter q = Perimeters(there, rule, askew, corner2).at(1.1);
    EXPECT_NEAR(p.length, q.length, 1e-6);
    EXPECT_NEAR(p.reduced, q.reduced, 1e-6);
    EXPECT_NEAR(p.first1, q.first1, 1e-3);
    EXPECT_NEAR(p.second2, q.second2, 1e-3);
}

TEST(Courses, OnAStripFootingTheyLieOnBothSides) {
    const SlabAround around = slab(box(0, 0, 12, 1.2));
    const auto all = perimeter_courses(area_at(5.8, 0.4, 6.2, 0.8), around, 0.9);
    const auto edges = of(all, Position::edge);
    ASSERT_EQ(edges.size(), 3u);  // each rim, and both
    const Perimeter both = Perimeters(area_at(5.8, 0.4, 6.2, 0.8), rule, around, edges[2]).at(0.9);
    EXPECT_NEAR(both.length, 2 * 1.2, 1e-3);
    EXPECT_FALSE(both.one_sided);
}

// What a convex slab leaves of a line is cut by its sides; of others by a general method. A notch far away tells them
// apart and changes nothing.
TEST(Courses, OnAConvexSlabTheyAreThoseOfOneThatIsNotFarAway) {
    std::mt19937 random(8);
    auto u = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    int open = 0, left = 0;
    for (int turn = 0; turn < 60; ++turn) {
        const double skew = u(-2, 2);
        const Polygon convex{{0, 0}, {30, skew}, {30, 30}, {0, 30}},
            notched{{0, 0}, {30, skew}, {30, 30}, {20, 30}, {19, 27}, {18, 30}, {0, 30}};
        const Point low{u(0.05, 1.2), skew / 30 * 2 + u(0.3, 1.2) + std::abs(skew) / 8};
        const PunchedArea area = area_at(low.x, low.y, low.x + u(0.2, 0.9), low.y + u(0.2, 0.9));
        const auto courses = perimeter_courses(area, slab(convex), 1.1);
        ASSERT_EQ(courses.size(), perimeter_courses(area, slab(notched), 1.1).size());
        for (const PerimeterCourse& course : courses) {
            const Perimeters by_sides(area, rule, slab(convex), course), by_method(area, rule, slab(notched), course);
            for (double a : {0.2, 0.55, 1.1}) {
                const Perimeter p = by_sides.at(a), q = by_method.at(a);
                EXPECT_EQ(p.a, q.a);
                EXPECT_NEAR(p.length, q.length, 1e-9);
                EXPECT_NEAR(p.unshaded, q.unshaded, 1e-9);
                EXPECT_NEAR(p.reduced, q.reduced, 1e-9);
                EXPECT_NEAR(p.first1, q.first1, 1e-9);
                EXPECT_NEAR(p.second2, q.second2, 1e-9);
                EXPECT_NEAR(distance(p.origin, q.origin), 0, 1e-9);
                open += !course.outward.empty();
                left += course.outward.empty() && p.length < 4 * 0.9 + 2 * pi * a;
            }
        }
    }
    EXPECT_GT(open, 100);
    EXPECT_GT(left, 20);
}

TEST(Courses, ABentRimIsOneRimAndARingHasTwo) {
    const SlabAround disc = slab(round_polygon({}, 6, 90));
    PunchedArea area{round_polygon({5.3, 0.2}, 0.3, 32), {5.3, 0.2}, 0.6, 0.6, true};
    const auto at_disc = of(perimeter_courses(area, disc, 1.2), Position::edge);
    ASSERT_EQ(at_disc.size(), 1u);
    EXPECT_GT(at_disc[0].outward[0].x, 0.99);
    EXPECT_TRUE(of(perimeter_courses(area, disc, 1.2), Position::corner).empty());
    SlabAround ring = disc;
    ring.hole = round_polygon({}, 4.4, 90);
    EXPECT_EQ(of(perimeter_courses(area, ring, 1.2), Position::edge).size(), 3u);
}

TEST(Courses, AtAReentrantCornerWhatLiesOffTheSlabIsMissing) {
    const Polygon L{{0, 0}, {10, 0}, {10, 5}, {5, 5}, {5, 10}, {0, 10}};
    const PunchedArea area = area_at(4.0, 4.0, 4.5, 4.5);  // its corner 0.5 m from the corner of the L, diagonally
    const auto all = perimeter_courses(area, slab(L), 1.0);
    ASSERT_EQ(all.size(), 1u);
    EXPECT_TRUE(all[0].leaves_slab);
    const Perimeter p = Perimeters(area, rule, slab(L), all[0]).at(1.0);
    // The quarter about (4.5, 4.5) of radius 1 lies off the slab between 30° and 60°.
    EXPECT_NEAR(p.length, 2 + 2 * pi - pi / 6, 2e-3);
}

// Clause: ENV 1992-1-1:1991 | 4.3.4.2.1(2) | perimeters of long columns, lengths at ends and corners of walls
TEST(Courses, OfALongColumnOnlyTheEndsOfItsSidesCount) {
    PerimeterRule ends = rule;
    ends.side_ratio = 2, ends.short_side = 1.4, ends.sides = 2.8;
    const Perimeter p = Perimeters(area_at(2, 2, 4, 2.4), ends, std::vector<Polygon>{}).at(0.6);
    EXPECT_TRUE(p.shortened);
    EXPECT_NEAR(p.length, 2 * (0.8 + 0.4) + 2 * pi * 0.6, 2e-3);  // a1 = 2 · 0.4
    EXPECT_FALSE(Perimeters(area_at(2, 2, 2.8, 2.4), ends, std::vector<Polygon>{}).at(0.6).shortened);
    PunchedArea group = area_at(2, 2, 4, 2.4);
    group.one_column = false;
    EXPECT_NEAR(Perimeters(group, ends, std::vector<Polygon>{}).at(0.6).length, 4.8 + 2 * pi * 0.6, 1e-9);
}

TEST(Courses, WhereAWallGoesOnThePerimeterEnds) {
    PunchedArea end = area_at(2, 2, 2.5, 2.25);  // the last half metre of a wall that goes on to the east
    end.kept = {{{2.5, 2}, {-1, 0}}};
    const Perimeters round(end, rule, std::vector<Polygon>{});
    const Perimeter p = round.at(0.7);
    EXPECT_EQ(p.position, Position::wall_end);
    EXPECT_NEAR(p.length, 0.25 + 2 * 0.5 + pi * 0.7, 2e-3);
    EXPECT_NEAR(signed_area(round.region(0.7)), 0.5 * (0.25 + 1.4) + 0.25 * 0.7 + pi * 0.49 / 2, 1e-9);
}

TEST(Courses, StretchesInAThinnerSlabAreTold) {
    SlabAround around = slab(box(0, 0, 10, 10));
    around.thinner = [](Point q) -> std::optional<SlabAround::Thinner> {
        if (q.x < 5) return {};
        return SlabAround::Thinner{0.3, q.x - 5};
    };
    const PunchedArea area = area_at(4.2, 5, 4.6, 5.4);
    const Perimeter p = Perimeters(area, rule, around, perimeter_courses(area, around, 0.9)[0]).at(0.9);
    double beyond = 0, most = 0;
    for (const auto& t : p.thin) beyond += t.length, most = std::max(most, t.beyond);
    // The side of 0.4 m and of each quarter the part with x > 5: cos t > 0.4/0.9
    EXPECT_NEAR(beyond, 0.4 + 2 * 0.9 * std::acos(0.4 / 0.9), 0.05);
    EXPECT_NEAR(most, 0.5, 1e-3);
}

}  // namespace
}  // namespace mossbed
