// Cells cut by outlines that spread out, against a cut by each outline's own sides.
#include "core/perimeter/moving_sides.h"

#include <gtest/gtest.h>

#include <numbers>
#include <random>

#include "core/base/polygons.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

Polygon some_hull(std::mt19937& random, double size, int points) {
    std::uniform_real_distribution<double> at(0, size);
    Polygon p;
    for (int i = 0; i < points; ++i) p.push_back({at(random), at(random)});
    return convex_hull(std::move(p));
}

double area_of(std::span<const Point> p) { return signed_area(Polygon(p.begin(), p.end())); }

TEST(SpreadOut, HasTheAreaThatRoundCornersHave) {
    Column circle = testing::column("C", 3, -2);
    circle.shape = ColumnShape::circle, circle.size = {0.8};
    for (const Polygon& area : std::vector<Polygon>{testing::box(2, 3, 2.4, 3.6), Polygon{{0, 0}, {4, 1}, {1, 2}},
                                                    Polygon{{0, 0}, {3, 0}, {3.01, 0.02}, {1, 2}, {0, 1.99}},
                                                    footprint(circle), round_polygon({1, 1}, 2, 200)}) {
        double around = 0;
        for (size_t k = 0; k < area.size(); ++k) around += distance(area[k], area[(k + 1) % area.size()]);
        for (double a : {0.1, 1.3}) {
            const double exact = signed_area(area) + around * a + std::numbers::pi * a * a;
            const double turn = 2 * std::numbers::pi / double(area.size());  // of circles, cut off by one chord
            EXPECT_NEAR(signed_area(spread_out(area, a)), exact,
                        area.size() < 32 ? 1e-9 : turn * turn / 6 * std::numbers::pi * a * a);
        }
    }
}

TEST(MovingSides, CutWhatTheOutlinesThemselvesCut) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> place(-1.5, 2);
    int outside = 0, cut = 0, inside = 0, held = 0;
    for (int trial = 0; trial < 40; ++trial) {
        const Polygon area = trial % 8 == 0 ? round_polygon({0.4, 0.5}, 0.3, 32) : some_hull(random, 1, 3 + trial % 6);
        const MovingSides sides(area);
        MovingSides::Crossing crossing;
        MovingSides::Work work;  // of all cells side by side
        for (int k = 0; k < 60; ++k) {
            Polygon cell = some_hull(random, k % 5 == 0 ? 3.0 : 0.5, 4);  // some hold the whole area
            const Point by{place(random), place(random)};
            for (Point& q : cell) q = q + by;
            const bool met = sides.meet(cell, 0.9, crossing, work);
            double radius = 0;
            for (Point q : cell) radius = std::max(radius, distance(q, cell[0]));
            for (double a : {0.0, 0.3, 0.9})
                if (sides.hold(cell[0], radius, a)) {
                    EXPECT_TRUE(met && a >= crossing.ends) << trial << " " << k << " " << a;
                    ++held;
                }
            for (double a : {0.0, 0.05, 0.3, 0.6, 0.9}) {
                const Polygon outline = a == 0 ? area : spread_out(area, a);
                const double expected = signed_area(clip_to_convex(cell, outline)), whole = signed_area(cell);
                if (!met || a <= crossing.begins) {
                    EXPECT_NEAR(expected, 0, 1e-12) << trial << " " << k << " " << a;
                    ++outside;
                } else if (a >= crossing.ends) {
                    EXPECT_NEAR(expected, whole, 1e-12) << trial << " " << k << " " << a;
                    ++inside;
                } else {
                    EXPECT_NEAR(area_of(sides.part(cell, a, crossing, work)), expected, 1e-11)
                        << trial << " " << k << " " << a;
                    ++cut;
                }
            }
        }
    }
    EXPECT_GT(outside, 1000);
    EXPECT_GT(cut, 1000);
    EXPECT_GT(inside, 300);
    EXPECT_GT(held, 100);
}

TEST(MovingSides, ACellBesideAStraightSideIsMetWhereItLies) {
    const MovingSides sides(testing::box(0, 0, 1, 1));
    MovingSides::Crossing crossing;
    MovingSides::Work work;
    const Polygon cell = testing::box(1.2, 0.3, 1.5, 0.6);
    ASSERT_TRUE(sides.meet(cell, 0.4, crossing, work));
    EXPECT_NEAR(crossing.begins, 0.2, 1e-12);
    EXPECT_NEAR(crossing.ends, 0.5, 1e-12);
    EXPECT_NEAR(area_of(sides.part(cell, 0.4, crossing, work)), 0.2 * 0.3, 1e-12);
    EXPECT_FALSE(sides.meet(cell, 0.19, crossing, work));
}

}  // namespace
}  // namespace mossbed
