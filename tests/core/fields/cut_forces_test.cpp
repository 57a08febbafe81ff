// Cuts that carry forces in the slab's plane: what a strip has about its own mid-plane closes with N e to the statics
// of the whole cut.
#include "core/fields/cut_forces.h"

#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

// 8 × 4 m, its lower 1.5 m twice as thick and flush at the top: that part's mid-plane lies 0.2 m below the slab's.
Model stepped() {
    Model m = raft(box(0, 0, 8, 4), 0.4, 15000);
    SlabPatch p;
    p.id = "beam", p.outline = box(0, 0, 8, 1.5), p.thickness = 0.8, p.flush = Flush::top;
    m.slab.patches = {p};
    load(m, {PointLoad{{3, 2}, 600, 0, 0}, {}});
    load(m, {SlabLoad{10}, {}});
    return m;
}

// The fields with a force P (kN/m) along x in the thick part that the thin part pulls back, evenly.
Fields with_plane_force(const Answer& a, double P) {
    Solution s = *a.stages.solution;
    Eigen::VectorXd plane = Eigen::VectorXd::Zero(PlateForceField::in_plane * s.combinations[0].forces.count());
    for (size_t e = 0; e < a.mesh.elements.size(); ++e)
        for (int k = 0; k < corners(a.mesh.elements[e]); ++k)
            plane[long(PlateForceField::in_plane) * a.slots.of_corner[e][size_t(k)]] =
                a.mesh.patch[e] == 0 ? P : -P * 1.5 / 2.5;
    s.combinations[0].forces = PlateForceField(s.combinations[0].forces.rows(), plane);
    Stages stages = a.stages;
    stages.solution = std::make_shared<const Solution>(std::move(s));
    return Fields(a.model, std::move(stages));
}

TEST(CutForces, WithForcesInThePlaneAllStripsStillAddUpToTheSlab) {
    const auto a = solve(stepped());
    const Fields f = with_plane_force(*a, 200);
    const CutForces with(f, {0}, {1, 0}), without(*a, {0}, {1, 0});
    for (double t : {1.1, 3.3, 4.7, 6.9}) {
        const CutForces::Cut cut = with.at(t);
        EXPECT_NEAR(cut.M[0], without.at(t).M[0], 1e-9);  // statics knows nothing of it
        ASSERT_EQ(cut.N.size(), 1);
        EXPECT_NEAR(cut.N[0], 0, 1e-6);  // the base is free to slide
        double M = 0, N = 0, V = 0, N_thick = 0;
        for (int strip = 0; strip < 9; ++strip)
            for (const CutShare& s : with.share(cut, -1 + 0.7 * strip, -0.3 + 0.7 * strip)) {
                M += s.M[0] - s.N[0] * s.e, N += s.N[0], V += s.V[0];
                if (s.thickness == 0.8) {
                    EXPECT_NEAR(s.e, -0.2, 1e-12);
                    N_thick += s.N[0];
                }
            }
        EXPECT_NEAR(M, cut.M[0], 1e-6 * (1 + std::abs(cut.M[0])));
        EXPECT_NEAR(V, cut.V[0], 1e-6 * (1 + std::abs(cut.V[0])));
        EXPECT_NEAR(N, 0, 1e-6);
        EXPECT_NEAR(N_thick, 200 * 1.5, 1e-6);
    }
}

TEST(CutForces, AForceBelowTheMidPlaneCarriesPartOfTheMoment) {
    // 300 kN pull 0.2 m below the slab's mid-plane are 60 kN·m that its parts need not bend for
    const auto a = solve(stepped());
    const Fields f = with_plane_force(*a, 200);
    auto bent = [](const CutForces& forces, double t) {
        double M = 0;
        for (const CutShare& s : forces.share(forces.at(t), -1, 5)) M += s.M[0];
        return M;
    };
    const Fields none = with_plane_force(*a, 0);
    const CutForces with(f, {0}, {1, 0}), without(none, {0}, {1, 0});
    EXPECT_NEAR(bent(without, 4.2) - bent(with, 4.2), 60, 1e-6);
}

TEST(CutForces, WithoutThemNothingIsCarriedAlong) {
    Model m = stepped();
    m.slab.patches[0].flush = Flush::middle;
    const auto a = solve(m);
    const CutForces forces(*a, {0}, {1, 0});
    const CutForces::Cut cut = forces.at(3.3);
    EXPECT_EQ(cut.N.size(), 0);
    for (const CutShare& s : forces.share(cut, -1, 5)) EXPECT_EQ(s.N.size(), 0);
}

TEST(CutForces, OnCoupledGroundStripsAddUpToLoadsAndPatches) {
    // An L on two layers, a column and a point load, its bars turned. By hand: each patch presses evenly on its pieces.
    Model m = raft({{0, 0}, {12, 0}, {12, 5}, {6, 5}, {6, 9}, {0, 9}}, 0.5, 20000);
    m.ground.model = GroundModel::coupled;
    Stratum sand, clay;
    sand.id = "sand", sand.E = 60, clay.id = "clay", clay.E = 12;
    m.ground.strata = {sand, clay};
    Borehole b;
    b.id = "B1", b.ground_level = 0, b.layers = {{"sand", -3, {}}, {"clay", -15, {}}};
    m.ground.boreholes = {b};
    m.columns = {column("C1", 3, 3)};
    load(m, {ColumnLoad{"C1", 900, 0, 0, 0, 0}, {}});
    const double N = 400, q = 12;
    const Point at{9.3, 2.2};
    load(m, {PointLoad{at, N, 0, 0}, {}});
    load(m, {SlabLoad{q}, {}});
    const auto a = solve(m);
    ASSERT_TRUE(only(*a).is_solved()) << only(*a).explanation;
    const ContactPatches& patches = *a->ground->patches;
    const Point u = unit({4, 3});
    const CutForces forces(*a, {0}, u);
    for (double t : {1.7, 4.03, 6.6, 8.9}) {
        double F = 0, S = 0;  // up, and about the cut, of what lies before it
        auto add = [&](const Polygon& p, double pressure) {
            if (const Polygon part = clip_to_half_plane(p, t * u, -1.0 * u); part.size() >= 3) {
                const double f = pressure * std::abs(signed_area(part));
                F += f, S += f * (t - dot(centroid(part), u));
            }
        };
        for (size_t p = 0; p < patches.pieces.size(); ++p)
            for (const auto& piece : patches.pieces[p])
                add({piece.begin(), piece.end()}, only(*a).patch_force[p] / patches.polygon_area[p]);
        add({{0, 0}, {12, 0}, {12, 5}, {0, 5}}, -q), add({{0, 5}, {6, 5}, {6, 9}, {0, 9}}, -q);
        add(footprint(m.columns[0]), -900 / 0.25);
        if (dot(at, u) < t) F -= N, S -= N * (t - dot(at, u));
        const CutForces::Cut cut = forces.at(t);
        double M = 0, V = 0;
        for (double n = -8; n < 10; n += 1.3)
            for (const CutShare& s : forces.share(cut, n, n + 1.3)) M += s.M[0], V += s.V[0];
        EXPECT_NEAR(M, S, 1e-6 * 1000) << t;
        EXPECT_NEAR(V, F, 1e-6 * 1000) << t;
    }
}

TEST(CutForces, NothingIsCarriedOverAFreeRim) {
    for (double turn : {0.0, 25.0}) {
        Model m = raft({{0, 0}, {12, 0}, {12, 5}, {6, 5}, {6, 9}, {0, 9}}, 0.5, 20000);
        m.columns = {column("C1", 3, 3), column("C2", 9, 4)};
        load(m, {ColumnLoad{"C1", 900, 0, 0, 0, 0}, {}});
        load(m, {ColumnLoad{"C2", 700, 0, 0, 0, 0}, {}});
        for (Point& p : std::get<Polygon>(m.slab.outline)) p = turned(p, turn);
        for (Column& c : m.columns) c.at = turned(c.at, turn), c.angle = turn;
        const Point u = turned({0, 1}, turn);  // its left is −x
        auto sum = [](const std::vector<CutShare>& shares) {
            double M = 0, V = 0;
            for (const CutShare& s : shares) M += s.M[0], V += s.V[0];
            return std::pair{M, V};
        };
        const auto a = solve(m);
        const CutForces forces(*a, {0}, u);
        const CutForces::Cut inner = forces.at(5);  // along the rim of the wing
        const auto [M_wing, V_wing] = sum(forces.share(inner, -12, -6));
        EXPECT_NEAR(M_wing, 0, 1e-9);
        EXPECT_NEAR(V_wing, 0, 1e-9);
        const auto [M_on, V_on] = sum(forces.share(inner, -6, 0));  // what goes on has all of it
        EXPECT_GT(std::abs(M_on), 1);
        EXPECT_NEAR(M_on, inner.M[0], 1e-6 * std::abs(inner.M[0]));
        EXPECT_NEAR(V_on, inner.V[0], 1e-6 * std::abs(inner.V[0]));
        for (double t : {0.0, 9.0})
            for (double n : {-12.0, -9.0, -6.0, -3.0}) {
                const auto [M, V] = sum(forces.share(forces.at(t), n, n + 3));
                EXPECT_NEAR(M, 0, 1e-6) << t;
                EXPECT_NEAR(V, 0, 1e-6) << t;
            }
        const auto [M_before, V_before] = sum(forces.share(forces.at(4.7), -12, -6));  // and before it something is
        EXPECT_GT(std::abs(V_before) + std::abs(M_before), 1);
        // A line load on that rim is carried up to it.
        LineLoad line;
        line.path = {turned({6, 5}, turn), turned({12, 5}, turn)}, line.q = {50, 50};
        load(m, {line, {}});
        const auto b = solve(m);
        const CutForces loaded(*b, {0}, u);
        const auto [M_loaded, V_loaded] = sum(loaded.share(loaded.at(5 - 2e-6), -12, -6));
        EXPECT_GT(std::abs(V_loaded), 50);
    }
}

TEST(CutForces, BesideAPointLoadTheShearJumpsHoweverLongTheSlab) {
    Model m = raft(box(0, 0, 60, 4), 0.8, 20000);
    load(m, {PointLoad{{20, 2}, 800, 0, 0}, {}});
    load(m, {PointLoad{{45, 2}, 500, 0, 0}, {}});
    m.mesh_size = 1;
    const auto a = solve(m);
    const CutForces forces(*a, {0}, {1, 0});
    for (auto [x, N] : {std::pair{20.0, 800.0}, {45.0, 500.0}})  // strips look a thousandth of a millimetre beside it
        EXPECT_NEAR(forces.at(x - 1e-6).V[0] - forces.at(x + 1e-6).V[0], N, 0.01);
}

TEST(PlateForces, TurnAsTensorsDo) {
    const PlateForces f{30, -12, 5, 8, -6, 40, -10, 7};
    const Point u = unit({3, 4}), n = left_of(u);
    const PlateForces g = turned(f, u);
    auto along = [](double xx, double yy, double xy, Point a, Point b) {  // a·T·b
        return xx * a.x * b.x + yy * a.y * b.y + xy * (a.x * b.y + a.y * b.x);
    };
    EXPECT_NEAR(g.mx, along(30, -12, 5, u, u), 1e-12);
    EXPECT_NEAR(g.mxy, along(30, -12, 5, u, n), 1e-12);
    EXPECT_NEAR(g.nx, along(40, -10, 7, u, u), 1e-12);
    EXPECT_NEAR(g.ny, along(40, -10, 7, n, n), 1e-12);
    EXPECT_NEAR(g.nxy, along(40, -10, 7, u, n), 1e-12);
    EXPECT_NEAR(g.vx, 8 * u.x - 6 * u.y, 1e-12);
    const PlateForces back = turned(g, unit({3, -4}));  // and turned back it is as it was
    EXPECT_NEAR(back.nxy, f.nxy, 1e-12);
    EXPECT_NEAR(back.my, f.my, 1e-12);
}

}  // namespace
}  // namespace mossbed
