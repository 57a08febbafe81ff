#include "core/base/geometry.h"

#include <gtest/gtest.h>

#include <numbers>

#include "core/model/edit.h"

namespace mossbed {

TEST(Geometry, AreaAndCentroidOfAnL) {
    // 4 × 4 less 2 × 2 at the upper right: area 12; centroid (16·2 − 4·3)/12 = 5/3
    const Polygon l{{0, 0}, {4, 0}, {4, 2}, {2, 2}, {2, 4}, {0, 4}};
    EXPECT_NEAR(signed_area(l), 12, 1e-12);
    EXPECT_NEAR(centroid(l).x, 5.0 / 3, 1e-12);
    EXPECT_NEAR(centroid(l).y, 5.0 / 3, 1e-12);
}

TEST(Geometry, ABowTieIsFoundToCrossItself) {
    const auto c = self_crossing({{0, 0}, {2, 2}, {2, 0}, {0, 2}});
    ASSERT_TRUE(c);
    EXPECT_NEAR(c->at.x, 1, 1e-12);
    EXPECT_FALSE(self_crossing({{0, 0}, {2, 0}, {2, 2}, {0, 2}}));
}

TEST(Geometry, ASpikeThatRunsBackOnItselfIsACrossing) {
    EXPECT_TRUE(self_crossing({{0, 0}, {4, 0}, {4, 3}, {4, 1}, {4, 4}, {0, 4}}));
}

TEST(Geometry, ClippingAConcaveShapeKeepsItsArea) {
    const Polygon u{{0, 0}, {3, 0}, {3, 3}, {2, 3}, {2, 1}, {1, 1}, {1, 3}, {0, 3}};
    const Polygon window{{-1, 2}, {4, 2}, {4, 5}, {-1, 5}};
    EXPECT_NEAR(signed_area(clip_to_convex(u, window)), 2.0, 1e-12);  // the two arms above y = 2
}

TEST(Geometry, IntegrationIsExactForQuadratics) {
    double sum = 0;  // ∫ x² over 0…2 × 0…3 = 8
    integrate(Polygon{{0, 0}, {2, 0}, {2, 3}, {0, 3}}, [&](Point q, double w) { sum += w * q.x * q.x; });
    EXPECT_NEAR(sum, 8, 1e-12);
}

TEST(Geometry, ARoundPolygonHasTheCirclesArea) {
    EXPECT_NEAR(signed_area(round_polygon({1, 2}, 3, 20)), std::numbers::pi * 9, 1e-9);
}

TEST(Geometry, DepthInAHullIsNegativeOutside) {
    const auto hull = convex_hull({{0, 0}, {4, 0}, {4, 4}, {0, 4}, {2, 2}});
    ASSERT_EQ(hull.size(), 4u);
    EXPECT_NEAR(depth_in_convex(hull, {1, 2}), 1, 1e-12);
    EXPECT_NEAR(depth_in_convex(hull, {5, 2}), -1, 1e-12);
}

TEST(PushRim, MovesASideOutwardWhicheverWayTheRingRuns) {
    const Polygon there{{0, 0}, {4, 0}, {4, 3}, {0, 3}}, back{{0, 0}, {0, 3}, {4, 3}, {4, 0}};
    EXPECT_NEAR(signed_area(push_rim(there, 1, 0.5)), 13.5, 1e-12);           // right side out by half a metre
    EXPECT_NEAR(std::abs(signed_area(push_rim(back, 2, 0.5))), 13.5, 1e-12);  // the same side, clockwise ring
}

TEST(PushRim, NeighboursKeepTheirDirection) {
    const Polygon wedge{{0, 0}, {4, 0}, {5, 3}, {0, 3}};
    const Polygon p = push_rim(wedge, 2, 1.0);  // the top goes up to y = 4 along the slanted side
    EXPECT_NEAR(p[2].y, 4, 1e-12);
    EXPECT_NEAR(p[2].x, 5 + 1.0 / 3, 1e-12);
    EXPECT_NEAR(p[3].x, 0, 1e-12);
}

}  // namespace mossbed
