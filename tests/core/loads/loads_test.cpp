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

Rib rib(const std::string& id, std::vector<Point> path, double depth = 1.1, Flush flush = Flush::top) {
    Rib r;
    r.id = id, r.path = std::move(path), r.width = 0.4, r.depth = depth, r.flush = flush;
    return r;
}
// Weight of slab and ribs less that of the slab, over 25 kN/m³: the volume of the ribs outside the slab, m³.
double rib_volume(Model m) {
    m.slab.self_weight = true;
    const double all = sum_of(m).Fz;
    m.ribs.clear();
    return (all - sum_of(m).Fz) / 25;
}

TEST(Weights, RibsThatCrossMeetOrTurnHaveTheirCommonVolumeOnce) {
    Model m = raft(box(0, 0, 12, 10), 0.5, 1e4);
    const double A = 0.4 * 0.6;  // outside the slab
    m.ribs = {rib("R1", {{0, 5}, {12, 5}})};
    EXPECT_NEAR(rib_volume(m), 12 * A, 1e-9);
    m.ribs.push_back(rib("R2", {{6, 0}, {6, 10}}));  // a cross
    EXPECT_NEAR(rib_volume(m), 22 * A - 0.16 * 0.6, 1e-9);
    m.ribs[1] = rib("R2", {{6, 0}, {6, 5}});  // a tee
    EXPECT_NEAR(rib_volume(m), 17 * A - 0.08 * 0.6, 1e-9);
    m.ribs[1] = rib("R2", {{6, 0}, {6, 10}}, 0.8);  // a shallower one: 0.3 m of it cross
    EXPECT_NEAR(rib_volume(m), 12 * A + 10 * 0.4 * 0.3 - 0.16 * 0.3, 1e-9);
    m.ribs[1] = rib("R2", {{6, 0}, {6, 10}}, 1.1, Flush::bottom);  // on the other side of the slab
    EXPECT_NEAR(rib_volume(m), 22 * A, 1e-9);
    m.ribs = {rib("R1", {{1, 1}, {9, 1}, {9, 8}, {1, 8}, {1, 1}})};  // a closed loop, mitred
    EXPECT_NEAR(rib_volume(m), 30 * A, 1e-9);
    m.ribs = {rib("R1", {{1, 1}, {9, 1}}), rib("R2", {{9, 1}, {9, 8}})};  // a corner of two
    EXPECT_NEAR(rib_volume(m), 15 * A, 1e-9);
    m.ribs = {rib("R1", {{0, 5}, {12, 5}}, 1.1, Flush::middle)};
    EXPECT_NEAR(rib_volume(m), 12 * A, 1e-9);
}

TEST(Weights, InAThickerPatchLessOfARibStandsOut) {
    Model m = raft(box(0, 0, 12, 10), 0.5, 1e4);
    m.ribs = {rib("R1", {{0, 5}, {12, 5}})};
    m.slab.patches.push_back({"T", box(4, 3, 6, 7), 0.8, Flush::top, "", {}});
    EXPECT_NEAR(rib_volume(m), 10 * 0.24 + 2 * 0.4 * 0.3, 1e-9);
}

TEST(Weights, ARibCarriedOverAnOpeningWeighsItsWholeDepthThereAndKeepsItsPlace) {
    Model m = raft(box(0, 0, 12, 10), 0.5, 1e4);
    m.slab.openings.push_back({"O", box(4, 3, 6.5, 7), {}});
    m.ribs = {rib("R1", {{0, 5}, {12, 5}})};
    EXPECT_NEAR(rib_volume(m), 9.5 * 0.24, 1e-9);
    m.ribs[0].over_openings = OverOpenings::carry;
    EXPECT_NEAR(rib_volume(m), 9.5 * 0.24 + 2.5 * 0.4 * 1.1, 1e-9);
    m.slab.self_weight = false;
    load(m, {RibLoad{"R1", 30}, {}});
    std::vector<Problem> lost;
    const Resultant r = sum_of(m, 0, &lost);
    EXPECT_NEAR(r.Fz, 12 * 30, 1e-6);
    EXPECT_NEAR(r.My, 12 * 30 * 6, 1e-5);  // as if it lay on a whole beam
    EXPECT_TRUE(lost.empty());
}

TEST(Weights, AWallOnARibIsNotWeighedTwiceWithinIt) {
    Model m = raft(box(0, 0, 12, 10), 0.5, 1e4);
    m.ribs = {rib("R1", {{0, 5}, {12, 5}}, 1.1, Flush::bottom)};
    m.walls = {{"W1", {{2, 5}, {8, 5}}, 0.2, 3, true, 1, {}}};
    m.slab.self_weight = true;
    const double all = sum_of(m).Fz;
    m.walls.clear();
    EXPECT_NEAR(all - sum_of(m).Fz, 25 * 6 * 0.2 * (3 - 0.6), 1e-8);
}

TEST(NodalLoads, WaterPressesDeeperUnderRibsThatHang) {
    // Buoyancy of what hangs in the water: its volume times 9.81.
    Model m = raft(box(0, 0, 12, 10), 0.5, 1e4);
    load(m, {Uplift{0.2}, {}});
    const double slab = sum_of(m).Fz;
    m.ribs = {rib("R1", {{0, 5}, {12, 5}}), rib("R2", {{6, 0}, {6, 10}})};
    EXPECT_NEAR(sum_of(m).Fz - slab, -9.81 * (22 * 0.24 - 0.096), 1e-8);
    m.loads.cases[0].items = {{Uplift{-0.8}, {}}};  // below the slab's underside at −0.5, above the ribs' at −1.1
    EXPECT_NEAR(sum_of(m).Fz, -9.81 * (22 * 0.4 - 0.16) * 0.3, 1e-8);
    m.ribs[0].flush = m.ribs[1].flush = Flush::bottom;
    EXPECT_NEAR(sum_of(m).Fz, 0, 1e-12);
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
