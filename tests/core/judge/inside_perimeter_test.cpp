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
    const Polygon footing = footprint(a->model->columns[0]), many{{1.1, 1.05}, {7.9, 1.2}, {7.8, 5.95}, {1.2, 5.9}};
    const CombinationAnswer& c = only(*a);
    const std::vector<CellShapes> shapes = shapes_of_cells(a->mesh);
    std::vector<CellOutline> outlines;
    for (int e = 0; e < int(a->mesh.elements.size()); ++e) outlines.push_back(a->mesh.polygon(e));
    const HalfPlane right_of{{4.1, 0}, {1, 0.3}};
    using Kept = std::vector<HalfPlane>;
    for (const auto& [loaded, kept] :
         {std::pair{footing, Kept{}}, std::pair{footing, Kept{right_of}}, std::pair{many, Kept{}}}) {
        const std::vector<double> distances{0.0, 0.13, 0.4, 0.77, 1.0};
        std::vector<Polygon> perimeters;
        for (double d : distances) perimeters.push_back(kept_part(d == 0 ? loaded : spread_out(loaded, d), kept));
        struct Sum {
            double area = 0, up = 0;
            void add(const Sum& o) { area += o.area, up += o.up; }
        };
        std::vector<Sum> joined(distances.size()), cut(joined);
        size_t wholes = 0, parts = 0;
        ElementsInside inside(loaded, distances.back(), {a->finder, outlines, shapes}, kept);
        auto add = [&](const PartInside& part) {
            (part.of ? parts : wholes) += part.beyond;
            const CellShapes& of = shapes[size_t(part.element)];
            const CellMoments m = part.of ? *part.of : of.moments(a->mesh.polygon(part.element));
            const Element& e = a->mesh.elements[size_t(part.element)];
            std::array<double, 4> spring{};
            for (int k = 0; k < corners(e); ++k) spring[size_t(k)] = c.spring[size_t(e[size_t(k)])];
            const Sum sum{of.integral({1, 0, 0, 0, 0, 0}, m, {}).whole, of.integral(of.field(spring), m, {}).whole};
            (part.beyond ? joined : cut)[part.perimeter].add(sum);
        };
        for (const int e : inside.held()) add({0, e, nullptr, true});
        EXPECT_EQ(inside.held().size() > 10, loaded == many);
        // The outermost by itself first: what was asked before must not matter.
        double alone = 0;
        inside.at({distances.back()}, [&](const PartInside& part) {
            const CellShapes& of = shapes[size_t(part.element)];
            alone += of.integral({1}, part.of ? *part.of : of.moments(outlines[size_t(part.element)]), {}).whole;
        });
        for (const int e : inside.held()) alone += a->mesh.area(e);
        EXPECT_NEAR(alone, signed_area(perimeters.back()), 1e-9 * alone);
        inside.at(distances, add);
        Sum before;
        for (size_t i = 0; i < distances.size(); ++i) {
            before.add(joined[i]);
            Sum all = before;
            all.add(cut[i]);
            const auto [area, up] = all;
            double raster = 0;
            EXPECT_NEAR(area, signed_area(perimeters[i]), 1e-9 * area) << distances[i];
            const Box b = box_of(perimeters[i]);
            const double step = 0.01;
            for (int x = 0; x < int(b.width() / step) + 1; ++x)
                for (int y = 0; y < int(b.height() / step) + 1; ++y)
                    if (const Point q = b.low + Point{(x + 0.5) * step, (y + 0.5) * step}; contains(perimeters[i], q)) {
                        const Finder::Hit h = a->finder.at(q);
                        for (int k = 0; k < corners(a->mesh.elements[size_t(h.element)]); ++k)
                            raster += step * step * h.weight[size_t(k)] *
                                      c.spring[size_t(a->mesh.elements[size_t(h.element)][size_t(k)])];
                    }
            EXPECT_NEAR(up, raster, 0.015 * up) << distances[i];
        }
        EXPECT_GT(wholes, 0u);
        EXPECT_EQ(kept.empty(), parts == 0);
    }
}

// Rings that the ones beside them tell as well are left out: each is as good as if it were the last of its family,
// which is always integrated.
TEST(InsidePerimeter, ARingLeftOutIsAsGoodAsOneIntegrated) {
    for (const bool stepped : {false, true}) {
        Model m = strewn();
        if (stepped)
            m.slab.patches.push_back({"P", {{4.6, 0.5}, {8.5, 0.5}, {8.5, 6.5}, {4.6, 6.5}}, 1.1, Flush::top, "", {}});
        (*m.loads.combinations)[0].purpose = Purpose::strength;
        const auto a = solve(m);
        PunchedRegion r;
        r.area.outline = footprint(m.columns[0]), r.area.centre = m.columns[0].at;
        r.reach = 1.2, r.own_columns = {0};
        std::vector<PunchedRegion> families{r};
        for (int i = 1; i < PressedInside::rings; ++i) {
            families.push_back(r);
            families.back().reach = r.reach * i / PressedInside::rings;
        }
        const auto demand = find_punching_demand(*a, families, {}, column_forces(m), nullptr);
        const double largest = demand->inside[0].ground[0].back().F;
        ASSERT_GT(largest, 50);
        for (size_t i = 1; i < size_t(PressedInside::rings); ++i) {
            const ForceAt &one = demand->inside[0].ground[0][i], &last = demand->inside[i].ground[0].back();
            EXPECT_NEAR(one.F, last.F, 4e-4 * largest) << stepped << " " << i;
            EXPECT_LT(distance(one.moment, last.moment), 4e-4 * largest * r.reach) << stepped << " " << i;
        }
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
        p.ground[1][size_t(i)].F = a < 0.7 ? 20 : -480;  // a slab load that begins 0.7 m away
    }
    for (double a = 0; a <= 1.4; a += 0.011) {
        EXPECT_NEAR(p.of_ground(a, 0).F, 150 * area(a), 1e-9) << a;
        EXPECT_LE(p.of_ground(a, 1).F, 20 + 1e-12) << a;
        EXPECT_GE(p.of_ground(a, 1).F, -480 - 1e-12) << a;
    }
    EXPECT_NEAR(p.of_ground(0.5, 1).F, 20, 1e-12);
    EXPECT_NEAR(p.of_ground(0.9, 1).F, -480, 1e-12);
}

// What stands there counts from where it stands on, however far apart the ground's rings are; what acts along lines
// together, what presses and what pulls at points apart.
TEST(InsidePerimeter, WhatStandsThereCountsFromWhereItStands) {
    Model m = raft(box(0, 0, 9, 7), 0.5, 9000);
    m.columns = {column("C1", 4, 3, 0.4), column("C2", 5.2, 3, 0.4)};
    load(m, {ColumnLoad{"C1", 700, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"C2", -50, 0, 0, 0, 0}, {}});
    load(m, {PointLoad{{4, 3.83}, 60, 0, 0}, {}});
    load(m, {PointLoad{{3.3, 3}, 90, 0, 0}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;  // what is not designed for is left out
    const auto a = solve(m);
    PunchedRegion r;
    r.area.outline = box(3.8, 2.8, 4.2, 3.2), r.area.centre = {4, 3}, r.area.c1 = r.area.c2 = 0.4;
    r.reach = 1.5, r.own_columns = {0};
    PunchedRegion kept = r;
    kept.area.kept = {{{3.7, 0}, {1, 0}}};
    const std::vector<HandedOn> walls{{{4, 2.6}, {25}}};
    const auto demand = find_punching_demand(*a, {r, kept}, walls, column_forces(m), nullptr);
    const PressedInside& in = demand->inside[0];
    EXPECT_GT(in.of_ground(0.9, 0).F, 1);
    auto down = [&](double at) { return in.down.within(at, 0).F; };
    EXPECT_EQ(down(0), 0);
    EXPECT_NEAR(down(0.19), 0, 1e-12);
    EXPECT_NEAR(down(0.2), 25, 1e-12);  // what a wall hands on
    EXPECT_NEAR(down(0.499), 25, 1e-12);
    EXPECT_NEAR(down(0.501), 25 + 90, 1e-12);
    EXPECT_NEAR(down(0.629), 25 + 90, 1e-12);
    EXPECT_NEAR(down(0.631), 25 + 90 + 60, 1e-12);
    EXPECT_NEAR(in.down.within(1.5, 0).moment.x, -90 * 0.7, 1e-9);
    EXPECT_NEAR(in.down.within(1.5, 0).moment.y, -25 * 0.4 + 60 * 0.83, 1e-9);
    EXPECT_EQ(in.up.within(0.9, 0).F, 0);
    EXPECT_NEAR(in.up.within(1.01, 0).F, 50, 1e-12);  // the other column pulls, 1 m from the face
    EXPECT_NEAR(in.up.within(1.01, 0).moment.x, 50 * 1.2, 1e-9);
    EXPECT_NEAR(demand->inside[1].down.within(1.5, 0).F, 25 + 60, 1e-12);  // what lies beyond a rim does not count
}

// What lies in a perimeter has a bend where it comes to a rim: none that is tried lies beyond, and up to there what is
// followed between rings is what is integrated at that very distance.
TEST(InsidePerimeter, NearARimTheGroundIsFollowedUpToIt) {
    Model m = raft(box(0, 0, 9, 7), 0.5, 9000);
    m.columns = {column("C1", 0.75, 3.4, 0.4)};
    load(m, {ColumnLoad{"C1", 900, 0, 0, 0, 0}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;  // what is not designed for is left out
    const auto a = solve(m);
    const PunchingDemand& demand = *a->punching_demand;
    ASSERT_EQ(demand.regions.size(), 2u);  // closed, and open to the rim
    EXPECT_TRUE(demand.regions[0].course.outward.empty());
    EXPECT_NEAR(demand.regions[0].reach, 0.55, 1e-9);
    EXPECT_GT(demand.regions[1].reach, 0.7);
    for (size_t k : {0u, 1u})
        for (double share : {0.07, 0.31, 0.55, 0.83, 0.97}) {
            PunchedRegion there = demand.regions[k];
            there.reach *= share;
            const auto exact = find_punching_demand(*a, {there}, {}, column_forces(m), nullptr);
            const ForceAt got = demand.inside[k].of_ground(there.reach, 0),
                          wanted = exact->inside[0].of_ground(there.reach, 0);
            ASSERT_GT(wanted.F, 1);
            EXPECT_NEAR(got.F, wanted.F, 5e-4 * wanted.F) << k << " " << share;
            EXPECT_NEAR(got.moment.x, wanted.moment.x, 5e-4 * wanted.F) << k << " " << share;
        }
}

// Every second distance is left out only where nothing bends between the others.
TEST(InsidePerimeter, WhereALoadBeginsEveryRingIsIntegrated) {
    for (bool heavy : {false, true}) {
        Model m = raft(box(0, 0, 9, 7), 0.5, 9000);
        m.mesh_size = 0.25;
        m.columns = {column("C1", 4, 3, 0.4)};
        load(m, {ColumnLoad{"C1", 900, 0, 0, 0, 0}, {}});
        if (heavy) load(m, {AreaLoad{box(4.75, 2, 5.5, 4), 600}, {}});
        (*m.loads.combinations)[0].purpose = Purpose::strength;
        const auto a = solve(m);
        PunchedRegion r;
        r.area.outline = box(3.8, 2.8, 4.2, 3.2), r.area.centre = {4, 3}, r.area.c1 = r.area.c2 = 0.4;
        r.reach = 1, r.own_columns = {0};
        const PressedInside in = find_punching_demand(*a, {r}, {}, column_forces(m), nullptr)->inside[0];
        double off = 0, largest = 0;
        for (int i = 1; i < PressedInside::rings; i += 2) {
            PunchedRegion there = r;
            there.reach = r.reach * i / PressedInside::rings;
            const auto exact = find_punching_demand(*a, {there}, {}, column_forces(m), nullptr);
            const double wanted = exact->inside[0].of_ground(there.reach, 0).F;
            off = std::max(off, std::abs(in.of_ground(there.reach, 0).F - wanted));
            largest = std::max(largest, std::abs(wanted));
        }
        EXPECT_EQ(off < 1e-10 * largest, heavy) << off / largest;
        EXPECT_LT(off, 1e-4 * largest);
    }
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
