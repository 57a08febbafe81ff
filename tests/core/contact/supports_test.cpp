// Supports, the unknowns they see, and the closure of rigid motions.
#include <gmock/gmock.h>

#include "core/plate/assembly.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::raft;

TEST(Unknowns, AreFoundByNameInBlocksOfThreeAndFive) {
    const Unknowns three(4), five(4, Unknowns::with_plane);
    EXPECT_EQ(three.count(), 12);
    EXPECT_EQ(five.count(), 20);
    EXPECT_EQ(three.row(2, Unknown::by), 8);
    EXPECT_EQ(five.row(2, Unknown::v), 14);
    EXPECT_EQ(five.node_of(14), 2);
    EXPECT_FALSE(three.has_plane());
    Eigen::VectorXd x = Eigen::VectorXd::LinSpaced(20, 0, 19);
    const NodalMotion m{five, x};
    EXPECT_EQ(m.settlement(3), 15);
    EXPECT_EQ(m.slope_y(3), 17);
    EXPECT_EQ(five.bending_rows(x, 3), Eigen::Vector3d(15, 16, 17));
}

// The same slab with five unknowns a node, its plane held by soft springs that nothing pulls on: assembly, factor,
// contact and moments must not care how wide a node's block is.
TEST(Unknowns, ASlabWithFiveANodeSettlesAsWithThree) {
    Model m = raft(box(0, 0, 8, 6), 0.5, 15000);
    testing::load(m, {PointLoad{{2, 2}, 500, 40, -30}, {}});
    testing::load(m, {PointLoad{{7.5, 5.5}, -60, 0, 0}, {}});
    const testing::System three(m);
    Plate wide = three.plate;
    wide.of = Unknowns(three.plate.of.nodes(), Unknowns::with_plane);
    SparseLower K = assemble(wide, three.mesh);
    EXPECT_EQ(K.block, 5);
    for (long i = 0; i < wide.of.nodes(); ++i)
        for (Unknown u : {Unknown::u, Unknown::v}) *K.find(int(wide.of.row(i, u)), int(wide.of.row(i, u))) += 1e3;
    const Bed bed = bed_of_springs(m, three.mesh, three.shares, wide.of);
    const SparseLower full = bed.supports.with_springs(K);
    Factor factor(full, three.mesh.nodes);
    ASSERT_TRUE(factor.factorize(full));
    std::vector<Problem> lost;
    const Eigen::MatrixXd f =
        nodal_loads(wide.of, three.mesh, case_loads(m, three.mesh, Finder(three.mesh), lost)).col(0);
    const auto a = find_contact(three.contact(), three.of_cases().col(0), {});
    const auto b = find_contact({wide.of, K, factor, bed.supports, three.mesh.nodes}, f, {});
    ASSERT_EQ(a[0].ending, Ending::solved);
    ASSERT_EQ(b[0].ending, Ending::solved);
    const NodalMotion one{three.plate.of, a[0].x}, two{wide.of, b[0].x};
    double largest = 0, off = 0, in_plane = 0;
    for (long i = 0; i < wide.of.nodes(); ++i) {
        largest = std::max(largest, std::abs(one.settlement(i)));
        off =
            std::max({off, std::abs(one.settlement(i) - two.settlement(i)), std::abs(one.slope_x(i) - two.slope_x(i))});
        in_plane = std::max(in_plane, std::abs(two.x[wide.of.row(i, Unknown::u)]));
    }
    EXPECT_LT(off, 1e-9 * largest);
    EXPECT_EQ(in_plane, 0);
    const Slots slots = make_slots(wide, three.mesh);
    const auto mine = slot_forces(wide, three.mesh, slots, {&b[0].x}),
               theirs = slot_forces(three.plate, three.mesh, slots, {&a[0].x});
    for (long k = 0; k < mine[0].count(); k += 5) EXPECT_NEAR(mine[0][k].mx, theirs[0][k].mx, 1e-5);
}

TEST(Assembly, HasAPlaceForLineElements) {
    // Two triangles, and a line from node 0 to node 3 that no element side joins: a spring between u of the two.
    const Unknowns of(4, Unknowns::with_plane);
    Assembly sum(of, {{0, 1, 2, -1}, {1, 3, 2, -1}, {0, 3, -1, -1}});
    const Eigen::Matrix2d spring{{7, -7}, {-7, 7}};
    sum.add(2, spring, std::array{Unknown::u});
    SparseLower K = sum.take();
    EXPECT_EQ(*K.find(int(of.row(0, Unknown::u)), int(of.row(0, Unknown::u))), 7);
    EXPECT_EQ(*K.find(int(of.row(3, Unknown::u)), int(of.row(0, Unknown::u))), -7);
    EXPECT_EQ(*K.find(int(of.row(3, Unknown::u)), int(of.row(3, Unknown::u))), 7);
    double rest = 0;
    for (double v : K.value) rest += std::abs(v);
    EXPECT_EQ(rest, 21);
}

TEST(Assembly, ASupportOnNodesThatNoElementJoinsGrowsThePattern) {
    const testing::System s(raft(box(0, 0, 4, 4), 0.4, 1e4));
    Supports far(s.plate.of);
    Support both;  // half on the first node, half on the last
    const int last = int(s.mesh.nodes.size()) - 1;
    both.sees = {{0, 0.5, {0.1, 0}}, {last, 0.5, {}}};
    both.stiffness = 1000;
    far.add(both);
    SparseLower K = s.K;
    ASSERT_EQ(K.find(int(s.row(last)), int(s.row(0))), nullptr);
    SparseLower with = far.with_springs(K);
    EXPECT_DOUBLE_EQ(*with.find(int(s.row(last)), int(s.row(0))), 250);
    EXPECT_DOUBLE_EQ(*with.find(int(s.row(last)), int(s.row(0, Unknown::bx))), 25);
    // and the product is that of the sum
    Eigen::MatrixXd x = Eigen::MatrixXd::Random(K.size(), 1);
    Eigen::MatrixXd expected = K.times(x), force = Eigen::MatrixXd::Constant(1, 1, 1000 * far.settlement(0, x.col(0)));
    far.add_as_seen(force, 1, expected);
    EXPECT_LT((with.times(x) - expected).cwiseAbs().maxCoeff(), 1e-9 * expected.cwiseAbs().maxCoeff());
}

TEST(Supports, AreHeldBetweenTheirLowestAndHighest) {
    Supports s(Unknowns(1));
    Support ground;
    ground.sees = {{0, 1, {}}};
    ground.stiffness = 100, ground.highest = 5;
    s.add(ground);
    ground.lowest = -2;
    s.add(ground);
    EXPECT_EQ(s.force(0, -0.1), 0);
    EXPECT_EQ(s.force(0, 0.03), 3);
    EXPECT_EQ(s.force(0, 0.2), 5);
    EXPECT_EQ(s.force(1, -0.01), -1);
    EXPECT_EQ(s.force(1, -1), -2);
    EXPECT_FALSE(s.is_elastic(0, 0));
    EXPECT_TRUE(s.is_elastic(0, 0.05));
    EXPECT_FALSE(s.is_elastic(0, 0.051));
    EXPECT_TRUE(s.is_elastic(1, -0.01));
}

TEST(Supports, SeeAndPressTheSameHoweverManyColumnsThereAre) {
    const Unknowns of(30);
    Supports all(of);
    for (int j = 0; j < 40; ++j) {
        Support s;
        s.stiffness = 100;
        for (int k = 0; k < 3; ++k) s.sees.push_back({(7 * j + 5 * k) % 30, (1 + k) / 6.0, {0.1 * k, -0.05 * j}});
        s.presses = {{(3 * j) % 30, 1, {0.2, 0}}};
        all.add(s);
    }
    for (int columns : {1, 2, 3, 4, 5, 8, 9}) {
        Eigen::MatrixXd x(of.count(), columns), r(all.count(), columns);
        for (int c = 0; c < columns; ++c) {
            for (long i = 0; i < x.rows(); ++i) x(i, c) = std::sin(double(i + 11 * c));
            for (long i = 0; i < r.rows(); ++i)
                r(i, c) = (i + c) % 3 ? std::cos(double(i + 7 * c)) : 0;  // some press not
        }
        const Eigen::MatrixXd seen = all.settlements(x);
        Eigen::MatrixXd f = Eigen::MatrixXd::Ones(of.count(), columns), pressed = f;
        all.add_as_seen(r, -2, f);
        all.add_pressing(r, 3, pressed);
        for (int c = 0; c < columns; ++c) {
            SCOPED_TRACE(std::to_string(c) + " of " + std::to_string(columns));
            const Eigen::VectorXd own = x.col(c);
            Eigen::VectorXd as_seen = Eigen::VectorXd::Ones(of.count());
            for (int j = 0; j < all.count(); ++j) {
                EXPECT_NEAR(seen(j, c), all.settlement(j, own), 1e-14);
                all.add_as_seen(j, -2 * r(j, c), as_seen);
            }
            EXPECT_LT((f.col(c) - as_seen).cwiseAbs().maxCoeff(), 1e-13);
            // work on any motion: of the loads, and of unit forces times the forces
            EXPECT_NEAR((pressed.col(c).array() - 1).matrix().dot(own), 3 * all.work_of_pressing(own).dot(r.col(c)),
                        1e-12);
        }
    }
}

TEST(RigidMotions, SumLoadsAndForcesAboutTheMiddle) {
    // 4 × 2 m, middle (2, 1): 10 kN at node (4, 2) and a couple My = 6 there
    const testing::System s(raft(box(0, 0, 4, 2), 0.4, 1e4));
    const RigidMotions motions(s.plate.of, s.mesh.nodes, s.bed.supports);
    Eigen::VectorXd f = Eigen::VectorXd::Zero(s.plate.of.count());
    long corner = -1;
    Point mean;
    for (size_t i = 0; i < s.mesh.nodes.size(); ++i) {
        if (distance(s.mesh.nodes[i], {4, 2}) < 1e-9) corner = long(i);
        mean = mean + (1.0 / double(s.mesh.nodes.size())) * s.mesh.nodes[i];
    }
    ASSERT_GE(corner, 0);
    f[s.row(corner)] = 10, f[s.row(corner, Unknown::bx)] = 6;
    const RigidMotions::Sums sum = motions.of_loads(f);
    EXPECT_NEAR(sum[0], 10, 1e-12);
    EXPECT_NEAR(sum[1], 10 * (4 - mean.x) + 6, 1e-12);
    EXPECT_NEAR(sum[2], 10 * (2 - mean.y), 1e-12);
    // Springs carry it by a rigid motion whose forces do the same.
    const Eigen::Map<const Eigen::VectorXd> k(s.bed.supports.stiffness.data(), s.bed.supports.count());
    const auto a = motions.carried_by(k, sum);
    ASSERT_TRUE(a);
    Eigen::VectorXd r(k.size());
    for (int j = 0; j < int(k.size()); ++j) r[j] = k[j] * motions.at_support(*a, j);
    EXPECT_LT((motions.of_forces(r) - sum).cwiseAbs().maxCoeff(), 1e-9);
    // A single support cannot.
    EXPECT_FALSE(motions.carried_by(Eigen::VectorXd::Unit(k.size(), 3), sum));
}

TEST(RigidMotions, PatchesPressWhereTheirPressureDoes) {
    // Of even pressure on contact patches the forces' first moments are those of the base: 6 · 4 m², about its middle.
    Model m = raft(box(0, 0, 6, 4), 0.4, 1e4);
    const testing::System s(m);
    const ContactPatches p = make_contact_patches(s.mesh, s.shares, {.side = 0, .most = 60});
    Bed bed;
    bed.supports = Supports(s.plate.of);
    for (int j = 0; j < p.count(); ++j) {
        Support q;
        for (auto [node, w] : p.nodes[size_t(j)]) q.sees.push_back({node, w, p.node_offset[size_t(node)]});
        for (auto [node, w] : p.spread_to[size_t(j)]) q.presses.push_back({node, w, {}});
        q.area = p.area[size_t(j)];
        bed.supports.add(q);
    }
    const RigidMotions motions(s.plate.of, s.mesh.nodes, bed.supports);
    const Eigen::Map<const Eigen::VectorXd> area(bed.supports.area.data(), bed.supports.count());
    Point mean;
    for (Point q : s.mesh.nodes) mean = mean + (1.0 / double(s.mesh.nodes.size())) * q;
    const RigidMotions::Sums sum = motions.of_forces(area);
    EXPECT_NEAR(sum[0], 24, 1e-9);
    EXPECT_NEAR(sum[1], 24 * (3 - mean.x), 0.02);
    EXPECT_NEAR(sum[2], 24 * (2 - mean.y), 0.02);
}

TEST(Contact, BondedGroundYieldsWhereItIsPressed) {
    // It may pull, but presses no harder than its yield pressure.
    Model m = raft(box(0, 0, 6, 4), 0.5, 20000);
    m.ground.tension = true, m.ground.yield_pressure = 60;
    testing::load(m, {PointLoad{{1, 2}, 700, 0, 0}, {}});
    const auto a = solve(m);
    const CombinationAnswer& c = testing::only(*a);
    ASSERT_TRUE(c.is_solved()) << c.explanation;
    double most = -1e300, least = 1e300;
    for (double p : c.spring) most = std::max(most, p), least = std::min(least, p);
    EXPECT_NEAR(most, 60, 1e-9);
    EXPECT_LT(least, -1);
    EXPECT_NEAR(c.ground_reaction.Fz, 700, 1e-6);
}

}  // namespace
}  // namespace mossbed
