// Bands, isolines and regions of a field that is linear over the plan: their areas and places are known exactly.
#include "drawing/map_shapes.h"

#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

struct Linear {  // v = a x + b y over a slab of 6 × 4 m with an opening of 1 × 1 m
    Mesh mesh;
    FieldMap map;
    Linear(double a, double b) {
        Model m = raft(box(0, 0, 6, 4), 0.5, 10000);
        Opening pit;
        pit.id = "pit", pit.outline = box(1, 1, 2, 2);
        m.slab.openings = {pit};
        mesh = build_mesh(m, 0.5);
        map.corner.resize(mesh.elements.size());
        map.least = 1e300, map.most = -1e300;
        for (size_t e = 0; e < mesh.elements.size(); ++e)
            for (int k = 0; k < corners(mesh.elements[e]); ++k) {
                const Point p = mesh.nodes[size_t(mesh.elements[e][size_t(k)])];
                map.corner[e][size_t(k)] = a * p.x + b * p.y;
                map.least = std::min(map.least, a * p.x + b * p.y), map.most = std::max(map.most, a * p.x + b * p.y);
            }
    }
};
double area_of(const Rings& rings) {
    double a = 0;
    for (const Polygon& r : rings) a += signed_area(r);  // holes run clockwise
    return a;
}

TEST(MapShapes, BandsTileTheSlabWithoutGapOrOverlap) {
    const Linear f(1, 0);
    const MapShapes s = shapes_of(f.mesh, f.map, {0, 6, 12}, Quantity::pressure);
    ASSERT_EQ(s.areas.size(), 12u);
    double sum = 0;
    for (const BandArea& b : s.areas) {
        const double x0 = 0.5 * b.band, in_pit = x0 >= 1 - 1e-9 && x0 < 2 - 1e-9 ? 0.5 : 0;  // m² of the opening
        EXPECT_NEAR(area_of(*b.rings), 0.5 * 4 - in_pit, 1e-9) << b.band;
        sum += area_of(*b.rings);
    }
    EXPECT_NEAR(sum, 6 * 4 - 1, 1e-9);
}

TEST(MapShapes, ABandIsOneAreaNotAThousandPieces) {
    const Linear f(1, 0);
    const MapShapes s = shapes_of(f.mesh, f.map, {0, 6, 2}, Quantity::pressure);
    ASSERT_EQ(s.areas.size(), 2u);
    EXPECT_EQ(s.areas[0].rings->size(), 2u);  // its rim, and the opening's
    EXPECT_EQ(s.areas[1].rings->size(), 1u);
}

// Cells beside each other jump by bands at a border of ground: each has its own value along the side they share.
TEST(MapShapes, WhereTheFieldJumpsBetweenCellsBandsMeetAlongTheirSide) {
    Linear f(0, 0);
    double high = 0;
    for (size_t e = 0; e < f.mesh.elements.size(); ++e)
        if (centroid(f.mesh.polygon(int(e))).x > 3) f.map.corner[e].fill(7), high += f.mesh.area(int(e));
    ASSERT_GT(high, 1);
    const MapShapes s = shapes_of(f.mesh, f.map, {0, 8, 4}, Quantity::pressure);
    ASSERT_EQ(s.areas.size(), 2u);
    EXPECT_EQ(s.areas[1].band, 3);
    EXPECT_NEAR(area_of(*s.areas[0].rings), 23 - high, 1e-9);
    EXPECT_NEAR(area_of(*s.areas[1].rings), high, 1e-9);
    EXPECT_EQ(s.areas[1].rings->size(), 1u);
    EXPECT_TRUE(s.isolines.empty());
    EXPECT_NEAR(area_of(*region(f.mesh, f.map, 5, true)), high, 1e-9);
    EXPECT_NEAR(area_of(*region(f.mesh, f.map, 5, false)), 23 - high, 1e-9);
}

TEST(MapShapes, WhatLiesBeyondTheScaleTakesTheLastBand) {
    const Linear f(1, 0);
    const MapShapes s = shapes_of(f.mesh, f.map, {2, 4, 2}, Quantity::pressure);
    ASSERT_EQ(s.areas.size(), 2u);
    EXPECT_NEAR(area_of(*s.areas[0].rings), 3 * 4 - 1, 1e-9);
    EXPECT_NEAR(area_of(*s.areas[1].rings), 3 * 4, 1e-9);
}

TEST(MapShapes, AnIsolineRunsWhereTheFieldHasItsLevel) {
    const Linear f(1, 0.5);
    const MapShapes s = shapes_of(f.mesh, f.map, {0, 8, 8}, Quantity::pressure);
    ASSERT_FALSE(s.isolines.empty());
    for (const Isoline& l : s.isolines) {
        for (const Polygon& chain : *l.lines)
            for (Point p : chain) EXPECT_NEAR(p.x + 0.5 * p.y, l.level, 1e-9);
        ASSERT_EQ(l.spots.size(), l.lines->size());
    }
    // 6 = x + y/2 leaves the slab at (6, 0) and (4, 4): one chain, √(4 + 16) m long, falling to the right
    const auto six =
        std::find_if(s.isolines.begin(), s.isolines.end(), [](auto& l) { return std::abs(l.level - 6) < 1e-9; });
    ASSERT_NE(six, s.isolines.end());
    ASSERT_EQ(six->spots.size(), 1u);
    EXPECT_NEAR(six->spots[0].length, std::sqrt(20.0), 1e-6);
    EXPECT_NEAR(six->spots[0].turn, -63.435, 0.1);
}

TEST(MapShapes, ARegionHasTheAreaThatTheFieldSays) {
    const Linear f(1, 0);
    EXPECT_NEAR(area_of(*region(f.mesh, f.map, 4.37, true)), 1.63 * 4, 1e-9);
    EXPECT_NEAR(area_of(*region(f.mesh, f.map, 4.37, false)), 4.37 * 4 - 1, 1e-9);
    EXPECT_TRUE(region(f.mesh, f.map, 99, true)->empty());
    EXPECT_NEAR(area_of(*region(f.mesh, f.map, -1, true)), 23, 1e-9);
}

TEST(MapShapes, ARegionCloseToItsOpeningGoesRoundIt) {
    const Linear f(1, 0);
    const auto rings = region(f.mesh, f.map, 3, false);
    ASSERT_EQ(rings->size(), 2u);
    EXPECT_TRUE(contains((*rings)[0], {0.5, 0.5}) != contains((*rings)[1], {0.5, 0.5}));
}

TEST(MapShapes, AFieldThatJumpsBetweenCellsStillClosesItsRings) {
    Linear f(1, 0);
    for (size_t e = 0; e < f.map.corner.size(); ++e)  // as beside a border of ground patches
        if (e % 3 == 0)
            for (double& v : f.map.corner[e]) v *= 1.3;
    const MapShapes s = shapes_of(f.mesh, f.map, {0, 8, 8}, Quantity::pressure);
    double sum = 0;
    for (const BandArea& b : s.areas) sum += area_of(*b.rings);
    EXPECT_NEAR(sum, 23, 1e-9);
}

TEST(MapShapes, TheSameFieldGivesTheSameShapesEachTime) {
    const Linear f(0.7, -0.3);
    const Bands bands{-1.2, 4.2, 9};
    const MapShapes a = shapes_of(f.mesh, f.map, bands, Quantity::mx),
                    b = shapes_of(f.mesh, f.map, bands, Quantity::mx);
    ASSERT_EQ(a.areas.size(), b.areas.size());
    for (size_t i = 0; i < a.areas.size(); ++i) EXPECT_EQ(*a.areas[i].rings, *b.areas[i].rings);
}

TEST(Bands, HaveRoundStepsThatHoldTheValues) {
    FieldMap m;
    m.corner.push_back({3, 47, 20, 31});
    m.least = 3, m.most = 47;
    const Bands b = natural_bands(m, Quantity::pressure);
    EXPECT_EQ(b.low, 0);
    EXPECT_GE(b.high, 47);
    EXPECT_EQ(b.step(), 5);
    EXPECT_EQ(b.decimals(), 0);
    EXPECT_EQ((Bands{0, 2, 8}.decimals()), 1);
    EXPECT_EQ((Bands{0, 0.4, 8}.decimals()), 2);
    const Bands moment = natural_bands(m, Quantity::mx);
    EXPECT_EQ(moment.low, -moment.high);  // even about nothing: the middle colour is zero
    EXPECT_EQ(moment.n % 2, 0);
}

}  // namespace
}  // namespace mossbed
