// Items to nodal loads: forces and moments arrive whole, wherever the mesh's lines run.
#include <random>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using testing::load;
using testing::raft;

Resultant sum_of(const Model& m, double size = 0, std::vector<Problem>* lost_out = nullptr) {
    const Mesh mesh = build_mesh(m, size);
    const Finder finder(mesh);
    std::vector<Problem> lost;
    const Eigen::MatrixXd f = nodal_loads(Unknowns(long(mesh.nodes.size())), mesh, case_loads(m, mesh, finder, lost));
    if (lost_out) *lost_out = lost;
    const Unknowns of(long(mesh.nodes.size()));
    Resultant r;
    for (size_t i = 0; i < mesh.nodes.size(); ++i) {
        const double F = f(of.row(long(i), Unknown::s), 0);
        r += {F, -F * mesh.nodes[i].y - f(of.row(long(i), Unknown::by), 0),
              F * mesh.nodes[i].x + f(of.row(long(i), Unknown::bx), 0)};
    }
    return r;
}
Model skewed() {  // nothing of it lies along the mesh
    return raft({{0, 0}, {9, 1.3}, {8, 7.1}, {-1, 5.2}}, 0.5, 1e4);
}

TEST(NodalLoads, AnAreaLoadOfAnyShapeKeepsForceAndPlace) {
    Model m = skewed();
    const Polygon u{{1, 1.5}, {5, 1.5}, {5, 4.5}, {4, 4.5}, {4, 2.5}, {2, 2.5}, {2, 4.5}, {1, 4.5}};  // concave
    load(m, {AreaLoad{u, 7}, {}});
    const Resultant r = sum_of(m);
    EXPECT_NEAR(r.Fz, 7 * signed_area(u), 1e-9);
    EXPECT_NEAR(r.My, r.Fz * centroid(u).x, 1e-8);
    EXPECT_NEAR(r.Mx, -r.Fz * centroid(u).y, 1e-8);
}

TEST(NodalLoads, ALineIsCarriedOnceEvenAlongTheEdgesOfElements) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 1e4);
    load(m, {LineLoad{{{0, 2}, {6, 2}}, {10, 10}}, {}});  // on lattice lines all the way
    load(m, {LineLoad{{{0, 0}, {6, 0}}, {5, 5}}, {}});    // on the rim
    load(m, {LineLoad{{{0.3, 0.2}, {5.1, 3.7}, {1, 3.9}}, {0, 12}}, {}});
    const double l1 = std::hypot(4.8, 3.5), l2 = std::hypot(4.1, 0.2);
    EXPECT_NEAR(sum_of(m).Fz, 60 + 30 + 6 * (l1 + l2), 1e-8);
}

TEST(NodalLoads, AColumnHalfOffTheSlabKeepsItsResultant) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 1e4);
    m.columns = {column("C", 0.1, 2, 0.6)};
    load(m, {ColumnLoad{"C", 500, 20, -30, 0, 0}, {}});
    const Resultant r = sum_of(m);
    EXPECT_NEAR(r.Fz, 500, 1e-8);
    EXPECT_NEAR(r.My, 500 * 0.1 - 30, 1e-8);
    EXPECT_NEAR(r.Mx, -500 * 2 + 20, 1e-8);
}

TEST(NodalLoads, ATurnedColumnTakesItsMomentsAboutThePlansAxes) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 1e4);
    m.columns = {column("C", 3, 2, 0.5)};
    m.columns[0].size = {0.4, 0.9}, m.columns[0].angle = 30;
    load(m, {ColumnLoad{"C", 0, 70, 0, 0, 0}, {}});
    const Resultant r = sum_of(m);
    EXPECT_NEAR(r.Fz, 0, 1e-9);
    EXPECT_NEAR(r.Mx, 70, 1e-9);
    EXPECT_NEAR(r.My, 0, 1e-9);
}

TEST(NodalLoads, WaterPressesOnTheTrueUndersideOfEachPatch) {
    // underside −0.5, under the patch flush with the top −0.9, flush in the middle −0.7, flush below −0.5
    for (auto [flush, under] : {std::pair{Flush::top, -0.9}, {Flush::middle, -0.7}, {Flush::bottom, -0.5}}) {
        Model m = raft(box(0, 0, 6, 4), 0.5, 1e4);
        m.slab.patches.push_back({"T", box(1, 1, 3, 3), 0.9, flush, "", {}});
        load(m, {Uplift{0.2}, {}});
        EXPECT_NEAR(sum_of(m).Fz, -9.81 * (0.7 * 20 + (0.2 - under) * 4), 1e-8) << name_of(flush);
    }
}

TEST(NodalLoads, WaterBelowTheUndersideDoesNothing) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 1e4);
    load(m, {Uplift{-3}, {}});
    EXPECT_EQ(sum_of(m).Fz, 0);
}

TEST(NodalLoads, RandomPointsWithMomentsArriveWhole) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> u(0.5, 4.5), v(-50, 50);
    Model m = skewed();
    Resultant want;
    for (int i = 0; i < 40; ++i) {
        const Point at{u(random), 1 + u(random) * 0.8};
        const double N = v(random), Mx = v(random), My = v(random);
        load(m, {PointLoad{at, N, Mx, My}, {}});
        want += {N, -N * at.y + Mx, N * at.x + My};
    }
    const Resultant r = sum_of(m);
    EXPECT_NEAR(r.Fz, want.Fz, 1e-8);
    EXPECT_NEAR(r.Mx, want.Mx, 1e-7);
    EXPECT_NEAR(r.My, want.My, 1e-7);
}

TEST(NodalLoads, PartOfAnAreaOverAnOpeningIsTold) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 1e4);
    m.slab.openings.push_back({"O", box(2, 1, 3, 3), {}});
    load(m, {AreaLoad{box(1, 0, 5, 4), 10}, {}});
    std::vector<Problem> lost;
    EXPECT_NEAR(sum_of(m, 0, &lost).Fz, 140, 1e-8);
    ASSERT_EQ(lost.size(), 1u);
    EXPECT_NE(lost[0].what.find("12.5 % of its area"), std::string::npos);
    EXPECT_EQ(lost[0].where, "case G, item 1");
}

TEST(ColumnForces, HorizontalsTurnAboutTheUnderside) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 1e4);
    m.slab.patches.push_back({"T", box(2, 1, 4, 3), 0.9, Flush::top, "", {}});
    m.columns = {column("C", 3, 2)};
    m.columns[0].pedestal_height = 0.6;
    load(m, {ColumnLoad{"C", 100, 5, 7, 10, -20}, {}});
    load(m, {ColumnLoad{"C", 50, 0, 0, 0, 0}, {}});  // a second item on the same column adds
    const ColumnForce f = column_forces(m)[0][0];
    EXPECT_EQ(f.N, 150);
    EXPECT_NEAR(f.My, 7 + 10 * 1.5, 1e-12);  // lever 0.6 + 0.9
    EXPECT_NEAR(f.Mx, 5 + 20 * 1.5, 1e-12);
}

}  // namespace
}  // namespace mossbed
