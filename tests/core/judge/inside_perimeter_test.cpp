// What acts inside a perimeter, against sums over a fine raster and over all loads.
#include "core/judge/inside_perimeter.h"

#include <random>

#include "core/judge/punching_demand.h"
#include "core/perimeter/perimeter.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using namespace testing;

// A slab with a column askew, so that cells round it are of every shape, and loads of each kind strewn over it.
Model strewn() {
    Model m = raft(box(0, 0, 9, 7), 0.5, 9000);
    m.mesh_size = 0.6;
    m.columns = {column("C1", 4.3, 3.4, 0.45)};
    m.columns[0].angle = 27;
    std::mt19937 random(5);
    std::uniform_real_distribution<double> x(0.2, 8), y(0.2, 6), size(0.1, 0.9);
    for (int i = 0; i < 120; ++i) {
        const Point p{x(random), y(random)}, q = p + Point{size(random), size(random)};
        load(m, {PointLoad{p, i % 4 ? 3.0 : -2.0, 0.5, -1}, {}});
        load(m, {LineLoad{{p, q}, {2, 4}}, {}});
        load(m, {AreaLoad{box(p.x, p.y, q.x, q.y), 6}, {}});
    }
    return m;
}

TEST(InsidePerimeter, AreaAndGroundForceOfEveryRingAreThoseOfARaster) {
    const auto a = solve(strewn());
    const Polygon loaded = footprint(a->model->columns[0]);
    const AroundLoaded around(loaded, 1.2, *a, {4.3, 3.4});
    const CombinationAnswer& c = only(*a);
    for (double ring : {0.0, 0.13, 0.4, 0.77, 1.2}) {
        const Polygon perimeter = ring == 0 ? loaded : spread_out(loaded, ring);
        const Inside inside = around.inside(perimeter, ring);
        double area = 0, up = 0, raster = 0;
        for (const auto& [e, part, moment] : inside.elements) area += part;
        for (const auto& [node, w, moment] : inside.nodes) up += w * c.spring[size_t(node)];
        EXPECT_NEAR(area, signed_area(perimeter), 1e-9 * area) << ring;
        const Box b = box_of(perimeter);
        const double step = 0.01;
        for (int i = 0; i < int(b.width() / step) + 1; ++i)
            for (int j = 0; j < int(b.height() / step) + 1; ++j)
                if (const Point q = b.low + Point{(i + 0.5) * step, (j + 0.5) * step}; contains(perimeter, q)) {
                    const Finder::Hit h = a->finder.at(q);
                    for (int k = 0; k < corners(a->mesh.elements[size_t(h.element)]); ++k)
                        raster += step * step * h.weight[size_t(k)] *
                                  c.spring[size_t(a->mesh.elements[size_t(h.element)][size_t(k)])];
                }
        EXPECT_NEAR(up, raster, 0.01 * up) << ring;
    }
}

TEST(InsidePerimeter, BetweenRingsEvenPressureIsFollowedExactlyAndAStepIsNotOvershot) {
    PressedInside p;
    p.reach = 1.4;
    p.ground.resize(2);
    auto area = [](double a) { return 0.4 * 0.6 + 2 * a + 3.14159265358979 * a * a; };
    for (int i = 0; i <= PressedInside::rings; ++i) {
        const double a = p.reach * i / PressedInside::rings;
        p.ground[0][size_t(i)].F = 150 * area(a);
        p.ground[1][size_t(i)].F = a < 0.7 ? 20 : -480;  // a load that stands 0.7 m away
    }
    for (double a = 0; a <= 1.4; a += 0.011) {
        EXPECT_NEAR(p.at(p.ground, 0, a).F, 150 * area(a), 1e-9) << a;
        EXPECT_LE(p.at(p.ground, 1, a).F, 20 + 1e-12) << a;
        EXPECT_GE(p.at(p.ground, 1, a).F, -480 - 1e-12) << a;
    }
    EXPECT_NEAR(p.at(p.ground, 1, 0.5).F, 20, 1e-12);
    EXPECT_NEAR(p.at(p.ground, 1, 0.9).F, -480, 1e-12);
}

TEST(InsidePerimeter, LoadsFoundByPlaceAreThoseFoundByLookingAtAll) {
    const auto a = solve(strewn());
    const LoadsByPlace loads(*a);
    const CaseLoads& all = a->case_loads[0];
    std::mt19937 random(8);
    std::uniform_real_distribution<double> x(0, 9), y(0, 7);
    for (int i = 0; i < 60; ++i) {
        const Point at{x(random), y(random)};
        const double reach = 0.3 + 0.02 * i;
        const Polygon circle = round_polygon(at, reach, 32);
        double down = 0, up = 0, lines = 0, moments = 0, areas = 0;
        for (const PointPiece& p : all.points) {
            if (contains(circle, p.at)) (p.N > 0 ? down : up) += p.N;
            if (distance(p.at, at) < reach) moments += std::hypot(p.Mx, p.My);
        }
        for (const LinePiece& l : all.lines)
            for (int k = 0; k < 8; ++k)
                if (const double t = (k + 0.5) / 8; contains(circle, l.from + t * (l.to - l.from)))
                    lines += distance(l.from, l.to) / 8 * (l.q0 + t * (l.q1 - l.q0));
        for (const LoadItem& item : a->model->loads.cases[0].items)
            if (const auto* l = std::get_if<AreaLoad>(&item.load))
                areas += l->p * signed_area(clip_to_convex(l->outline, circle));
        const LoadsByPlace::Inside in = loads.inside(circle, 0);
        EXPECT_NEAR(in.down.F, down, 1e-9 * (1 + down));
        EXPECT_NEAR(in.up.F, -up, 1e-9 * (1 - up));
        EXPECT_NEAR(in.lines.F, lines, 1e-9 * (1 + lines));
        const auto [N, M] = loads.near(at, reach, 0);
        EXPECT_NEAR(N, down - up + lines + areas, 1e-9 * (1 + N));
        EXPECT_NEAR(M, moments, 1e-9 * (1 + M));
    }
}

}  // namespace
}  // namespace mossbed
