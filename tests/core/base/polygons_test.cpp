// How polygons lie to each other, where they cross, touch and only meet.
#include "core/base/polygons.h"

#include <gtest/gtest.h>

#include <random>

namespace mossbed {
namespace {

Polygon square(double x, double y, double side) { return {{x, y}, {x + side, y}, {x + side, y + side}, {x, y + side}}; }
const Polygon ell{{0, 0}, {6, 0}, {6, 2}, {2, 2}, {2, 5}, {0, 5}};

TEST(Polygons, AnLIsNotConvexASquareIs) {
    EXPECT_TRUE(is_convex(square(0, 0, 1)));
    EXPECT_FALSE(is_convex(ell));
}

TEST(Polygons, InTheArmsOfAnLIsNotWithinIt) {
    EXPECT_TRUE(lies_within(square(0.5, 0.5, 1), ell));
    EXPECT_FALSE(lies_within(square(3, 3, 1), ell));
    EXPECT_FALSE(lies_within(square(1, 1, 2), ell));                             // its corner in the notch
    EXPECT_FALSE(lies_within({{0.5, 4}, {5, 0.5}, {5.5, 0.5}, {1, 4.5}}, ell));  // corners inside, a side outside
}

TEST(Polygons, ThatShareOnlyASideTouchButShareNoArea) {
    const Polygon a = square(0, 0, 2);
    for (const Polygon& b : {square(2, 0, 2), square(2, 2, 1), square(2, 0.5, 1)}) {
        EXPECT_TRUE(touch(a, b));
        EXPECT_FALSE(share_area(a, b));
        EXPECT_FALSE(share_area(b, a));
    }
    EXPECT_FALSE(touch(a, square(2.1, 0, 1)));
}

TEST(Polygons, ThatLieOverEachOtherInAnyWayShareArea) {
    const Polygon a = square(0, 0, 2);
    EXPECT_TRUE(share_area(a, a));
    EXPECT_TRUE(share_area(a, square(0.5, 0.5, 0.5)));  // one within the other
    EXPECT_TRUE(share_area(square(0.5, 0.5, 0.5), a));
    EXPECT_TRUE(share_area(a, {{-1, 0.5}, {3, 0.5}, {3, 1.5}, {-1, 1.5}}));  // a cross: no corner in the other
    EXPECT_TRUE(share_area(a, square(1.9, 1.9, 1)));
    EXPECT_FALSE(share_area(ell, square(2.5, 2.5, 2)));  // in the notch
}

TEST(Polygons, LoseSmallCornersAndKeepTheirShape) {
    const Polygon square{{0, 0}, {2, 0.001}, {4, 0}, {4, 4}, {2, 4}, {0, 4}};  // 0.002 m² and nothing at two corners
    EXPECT_EQ(without_small_corners(square, 0.001), (Polygon{{0, 0}, {2, 0.001}, {4, 0}, {4, 4}, {0, 4}}));
    EXPECT_EQ(without_small_corners(square, 0.003), (Polygon{{0, 0}, {4, 0}, {4, 4}, {0, 4}}));
    EXPECT_EQ(without_small_corners(square, 100).size(), 3u);
    Polygon circle;
    for (int i = 0; i < 2000; ++i)
        circle.push_back({5 * std::cos(i * 0.001 * 3.14159265), 5 * std::sin(i * 0.001 * 3.14159265)});
    const Polygon plain = without_small_corners(circle, 1e-5 * 78.5);
    EXPECT_LT(plain.size(), 150u);
    EXPECT_NEAR(signed_area(plain), signed_area(circle), 1e-3 * signed_area(circle));
}

TEST(Polygons, DistanceAlongALineIsToTheFirstSide) {
    EXPECT_DOUBLE_EQ(distance_along(ell, {1, 1}, {1, 0}), 5);
    EXPECT_DOUBLE_EQ(distance_along(ell, {1, 3}, {1, 0}), 1);  // the notch
    EXPECT_DOUBLE_EQ(distance_along(ell, {1, 1}, {0, 1}), 4);
    EXPECT_GT(distance_along(ell, {8, 1}, {1, 0}), 1e299);
    EXPECT_DOUBLE_EQ(distance_along(ell, {8, 1}, {-1, 0}), 2);  // from outside
}

TEST(Polygons, ClippedToAConvexOneHaveTheCommonArea) {
    EXPECT_NEAR(std::abs(signed_area(clip_to_convex(ell, square(1, 1, 2)))), 2 * 2 - 1, 1e-12);
    EXPECT_NEAR(std::abs(signed_area(clip_to_convex(ell, square(3, 3, 1)))), 0, 1e-12);
    EXPECT_NEAR(std::abs(signed_area(clip_to_half_plane(ell, {0, 2}, {0, 1}))), 2 * 3, 1e-12);
}

TEST(Polygons, AHullHoldsAllItsPointsAndNoMoreThanItMust) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> at(-5, 5);
    for (int k = 0; k < 20; ++k) {
        std::vector<Point> points;
        points.reserve(30);
        for (int i = 0; i < 30; ++i) points.push_back({at(random), at(random)});
        const Polygon hull = convex_hull(points);
        EXPECT_TRUE(is_convex(hull));
        EXPECT_GT(signed_area(hull), 0);
        for (Point p : points) EXPECT_GE(depth_in_convex(hull, p), -1e-9);
        for (Point corner : hull) EXPECT_NE(std::find(points.begin(), points.end(), corner), points.end());
    }
}

TEST(Polygons, CommonAreasAgreeWithCountingPoints) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> at(0, 4);
    for (int k = 0; k < 20; ++k) {
        const Polygon b = square(at(random) - 1, at(random) - 1, 0.5 + at(random) / 2);
        int in = 0;
        constexpr int n = 200;
        for (int i = 0; i < n * n; ++i) {
            const Point q{6.0 * (i % n + 0.5) / n, 5.0 * (double(i / n) + 0.5) / n};
            in += contains(ell, q) && contains(b, q);
        }
        const double counted = in * (6.0 / n) * (5.0 / n), clipped = std::abs(signed_area(clip_to_convex(ell, b)));
        EXPECT_NEAR(clipped, counted, 0.15);
        if (counted > 0.01) EXPECT_TRUE(share_area(ell, b));
        if (clipped < 1e-9) EXPECT_FALSE(share_area(ell, b));
    }
}

TEST(Polygons, GapIsThatOfTheNearestCornerAndNoughtWhereTheyMeet) {
    const Polygon a = square(0, 0, 2);
    EXPECT_DOUBLE_EQ(gap_between(a, square(5, 0.5, 1)), 3);
    EXPECT_DOUBLE_EQ(gap_between(square(5, 6, 1), a), 5);                // corner to corner, 3-4-5
    EXPECT_DOUBLE_EQ(gap_between(a, {{2.5, 1}, {4, -3}, {4, 5}}), 0.5);  // a corner before a side
    EXPECT_DOUBLE_EQ(gap_between(a, square(0.5, 0.5, 0.5)), 0);
    EXPECT_DOUBLE_EQ(gap_between(a, {{-1, 0.5}, {3, 0.5}, {3, 1.5}, {-1, 1.5}}), 0);  // a cross
}

}  // namespace
}  // namespace mossbed
