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
