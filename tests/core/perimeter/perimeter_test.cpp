// Control perimeters by geometry: against closed forms and by another road.
#include "core/perimeter/perimeter.h"

#include <gtest/gtest.h>

#include <numbers>

#include "core/base/polygons.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
constexpr double pi = std::numbers::pi;
const PerimeterRule round_corners{true, 0}, square_corners{false, 0};

PunchedArea rectangle_area(double c1, double c2, double angle = 0) {
    return {rectangle({3, 2}, c1, c2, angle), {3, 2}, c1, c2, false, angle};
}

TEST(Perimeter, OfARectangleWithRoundCorners) {
    // 0.6 × 0.3 at a = 0.5: u = 1.8 + π; first moments by the textbook: c1²/2 + c1 c2 + 2 c2 a + 4 a² + π a c1
    const Perimeter p = Perimeters(rectangle_area(0.6, 0.3), round_corners, {}).at(0.5);
    EXPECT_NEAR(p.length, 1.8 + pi, 1e-12);
    EXPECT_NEAR(p.first1, 0.18 + 0.18 + 0.3 + 1 + pi * 0.3, 1e-12);
    EXPECT_NEAR(p.first2, 0.045 + 0.18 + 0.6 + 1 + pi * 0.15, 1e-12);
}

// That a wall goes on far away takes nothing from it, but it is summed piece by piece.
PunchedArea in_pieces(PunchedArea area) {
    area.kept = {{{-100, 0}, {1, 0}}};
    return area;
}

TEST(Perimeter, ClosedFormsAndPiecesAgree) {
    for (double a : {0.0, 0.2, 1.0}) {
        const Perimeter p = Perimeters(rectangle_area(0.6, 0.3), round_corners, {}).at(a),
                        q = Perimeters(in_pieces(rectangle_area(0.6, 0.3)), round_corners, {}).at(a);
        EXPECT_TRUE(p.pieces.empty());
        ASSERT_FALSE(q.pieces.empty());
        const double chords = a == 0 ? 1e-12 : 4e-4;  // straight sides are exact, arcs are chords of 3°
        EXPECT_NEAR(p.length, q.length, chords * q.length);
        EXPECT_NEAR(p.first1, q.first1, chords * q.first1);
        EXPECT_NEAR(p.first2, q.first2, chords * q.first2);
        EXPECT_NEAR(p.second1, q.second1, chords * q.second1);
        EXPECT_NEAR(p.second2, q.second2, chords * q.second2);
        EXPECT_NEAR(p.centroid.x, 0, 1e-12);
        EXPECT_NEAR(q.centroid.x, 0, 1e-9);
    }
}

// Two columns askew to each other: the hull of both, by sums over a hundred thousand points of its outline.
TEST(Perimeter, OfAHullAskewIsItsOutlineSummedUp) {
    Polygon corners = rectangle({-1, -0.4}, 0.5, 0.3);
    for (Point q : rectangle({0.9, 0.6}, 0.3, 0.4)) corners.push_back(q);
    PunchedArea hull{convex_hull(corners), {}, 2.4, 1.3, false, 0};
    hull.one_column = false;
    double length = 0, first = 0, second = 0, first_askew = 0, middle = 0;
    std::vector<std::pair<Point, double>> bits;
    const size_t n = hull.outline.size();
    for (size_t i = 0; i < n; ++i) {
        const Point a = hull.outline[i], b = hull.outline[(i + 1) % n], c = hull.outline[(i + 2) % n];
        const Point out = -1.0 * left_of(unit(b - a)), next = -1.0 * left_of(unit(c - b));
        constexpr int parts = 10000;
        const double turn = std::acos(std::min(1.0, dot(out, next)));
        for (int k = 0; k < parts; ++k) {
            const double t = (k + 0.5) / parts;
            bits.push_back({a + t * (b - a) + 0.4 * out, distance(a, b) / parts});
            bits.push_back({b + 0.4 * turned(out, t * turn * 180 / pi), 0.4 * turn / parts});
        }
    }
    const Point askew = unit({1, 2});
    for (const auto& [at, l] : bits) {
        length += l, middle += l * at.x;
        first += l * std::abs(at.x), first_askew += l * std::abs(dot(at, askew));
    }
    middle /= length;
    for (const auto& [at, l] : bits) second += l * (at.x - middle) * (at.x - middle);
    const Perimeter by_formula = Perimeters(hull, round_corners, {}).at(0.4),
                    summed = Perimeters(in_pieces(hull), round_corners, {}).at(0.4);
    for (const Perimeter& p : {by_formula, summed}) {
        const double near = p.pieces.empty() ? 1e-7 : 3e-4;
        EXPECT_NEAR(p.length, length, near * length);
        EXPECT_NEAR(p.centroid.x, middle, near);
        EXPECT_NEAR(p.first1, first, near * first);
        EXPECT_NEAR(p.second1, second, near * second);
    }
    EXPECT_TRUE(by_formula.pieces.empty());
    EXPECT_NEAR(summed.first_along(askew), first_askew, 3e-4 * first_askew);
}

// Axes through arcs, which change sides within them: against a circle, of which any axis is one.
TEST(Perimeter, OfAManySidedAreaIsThatOfItsCircle) {
    PunchedArea area{round_polygon({1, 2}, 0.05, 24), {1, 2}, 0.1, 0.1, false};
    area.one_column = false;
    for (double angle : {0.0, 7.0, 50.0, 211.0}) {
        area.angle = angle;
        const Perimeter p = Perimeters(area, round_corners, {}).at(0.75);
        const double r = p.length / (2 * pi);
        EXPECT_NEAR(p.length, 2 * pi * 0.8, 0.002);
        EXPECT_NEAR(p.first1, 4 * r * r, 1e-4);
        EXPECT_NEAR(p.first2, 4 * r * r, 1e-4);
        EXPECT_NEAR(p.second1, pi * r * r * r, 1e-4);
        EXPECT_NEAR(p.second2, pi * r * r * r, 1e-4);
        EXPECT_NEAR(length(p.centroid), 0, 1e-12);
    }
}

TEST(Perimeter, SquareCornersAreProlonged) {
    // 0.4 × 0.6 at a = 0.25: a rectangle 0.9 × 1.1; about its middle ∫e² dl along axis 1: 2 · 1.1 · 0.45² + 2 · 0.9³/12
    const Perimeters p(rectangle_area(0.4, 0.6, 25), square_corners, {});
    const Perimeter q = p.at(0.25);
    EXPECT_NEAR(q.length, 4.0, 1e-9);
    EXPECT_NEAR(q.second1, 2 * 1.1 * 0.45 * 0.45 + 2 * std::pow(0.9, 3) / 12, 1e-12);
    EXPECT_NEAR(std::abs(signed_area(p.outline(0.25))), 0.99, 1e-9);
}

TEST(Perimeter, OfACircleIsACircle) {
    const Perimeter p = Perimeters({round_polygon({}, 0.25, 32), {}, 0.5, 0.5, true}, round_corners, {}).at(0.75);
    EXPECT_NEAR(p.length, 2 * pi, 1e-12);
    EXPECT_NEAR(p.first1, 4, 1e-12);    // 4 r²
    EXPECT_NEAR(p.second1, pi, 1e-12);  // π r³
}

TEST(Perimeter, WhatAnOpeningHidesIsMissingAndMovesItsCentroid) {
    // Seen from (3, 2) the opening 1.5 m to the east, 0.6 m across and as deep, hides ±atan(0.3/1.2).
    const PerimeterRule rule{true, 2.0};
    const Polygon opening = box(4.2, 1.7, 4.8, 2.3);
    const PunchedArea area{round_polygon({3, 2}, 0.25, 32), {3, 2}, 0.5, 0.5, true};
    const Perimeter whole = Perimeters(area, rule, {}).at(0.5), cut = Perimeters(area, rule, {opening}).at(0.5);
    const double hidden = 2 * std::atan2(0.3, 1.2) / (2 * pi);
    EXPECT_NEAR(cut.length / whole.length, 1 - hidden, 0.01);
    EXPECT_LT(cut.centroid.x, -0.05);
    EXPECT_NEAR(cut.centroid.y, 0, 1e-3);
    EXPECT_TRUE(cut.shaded);
    // Further than the rule looks, it hides nothing.
    EXPECT_FALSE(Perimeters(area, {true, 0.5}, {opening}).at(0.5).shaded);
}

TEST(Perimeter, TurnsWithItsColumn) {
    const Perimeter straight = Perimeters(rectangle_area(0.8, 0.3), {true, 3}, {box(4.5, 1.8, 5, 2.2)}).at(0.6);
    PunchedArea area = rectangle_area(0.8, 0.3, 90);
    const Perimeter turned_ = Perimeters(area, {true, 3}, {box(2.8, 3.5, 3.2, 4)}).at(0.6);
    EXPECT_NEAR(straight.length, turned_.length, 1e-9);
    EXPECT_NEAR(straight.first1, turned_.first1, 1e-9);
    EXPECT_NEAR(straight.centroid.x, turned_.centroid.x, 1e-9);
}

TEST(Perimeter, IsWholeUntilItComesToARim) {
    // The area's side is 1 m from the rim on its right, its prolonged corners come there sooner.
    SlabAround slab;
    slab.rim = box(-10, -10, 4.3, 10);
    PerimeterCourse closed;
    closed.leaves_slab = true;
    PunchedArea circle{{}, {3, 2}, 0.6, 0.6, true};
    for (int k = 0; k < 60; ++k)
        circle.outline.push_back(Point{3, 2} + 0.3 * Point{std::cos(k * pi / 30), std::sin(k * pi / 30)});
    for (const PunchedArea& area : {rectangle_area(0.6, 0.3), circle})
        for (const PerimeterRule& rule : {round_corners, square_corners}) {
            const Perimeters near(area, rule, slab, closed), alone(area, rule, {});
            for (double a : {0.0, 0.3, 0.7, 0.9, 0.99, 1.01, 1.2}) {
                SCOPED_TRACE(a);
                const Perimeter p = near.at(a), q = alone.at(a);
                if (a < 1) {
                    EXPECT_NEAR(p.length, q.length, 1e-9);
                    EXPECT_NEAR(p.second1, q.second1, 1e-9);
                    EXPECT_NEAR(p.first2, q.first2, 1e-9);
                } else {
                    EXPECT_LT(p.length, q.length - 0.1);
                }
            }
        }
    // Past a rim that it crosses all along, none counts whole, however near.
    slab.rim = box(-10, -10, 3.3, 10);
    const Perimeters flush(rectangle_area(0.6, 0.3), round_corners, slab, closed);
    EXPECT_NEAR(flush.at(0.5).length, 0.3 + 2 * 0.6 + pi * 0.5, 2e-3);
}

TEST(Polygons, TouchShareAreaAndLieWithin) {
    const Polygon a = box(0, 0, 4, 4);
    EXPECT_TRUE(touch(a, box(1, 1, 2, 2)));
    EXPECT_TRUE(touch(box(1, 1, 2, 2), a));
    EXPECT_FALSE(touch(a, box(5, 0, 6, 1)));
    EXPECT_TRUE(share_area(a, box(3, 3, 5, 5)));
    EXPECT_FALSE(share_area(a, box(4, 0, 6, 4)));  // side by side
    EXPECT_FALSE(share_area(a, box(4, 4, 5, 5)));  // corner to corner
    EXPECT_TRUE(share_area(a, a));
    EXPECT_TRUE(share_area(box(1, -1, 2, 5), box(0, 1, 4, 2)));  // a cross: no corner of one lies in the other
    EXPECT_TRUE(lies_within(box(1, 1, 2, 2), a));
    EXPECT_FALSE(lies_within(box(1, 1, 5, 2), a));
    const Polygon notched{{0, 0}, {4, 0}, {4, 4}, {2, 1}, {0, 4}};
    EXPECT_FALSE(lies_within(box(0.5, 0.5, 3.5, 1.5), notched));  // its side crosses the notch
    EXPECT_FALSE(is_convex(notched));
    EXPECT_TRUE(is_convex(a));
    EXPECT_NEAR(distance_along(a, {1, 1}, unit({1, 1})), 3 * std::sqrt(2.0), 1e-12);
    EXPECT_GT(distance_along(a, {5, 5}, {1, 0}), 1e299);
}

}  // namespace
}  // namespace mossbed
