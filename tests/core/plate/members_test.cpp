// Slabs that stretch in their plane, and ribs and walls on them, against elementary statics and section theory.
#include "core/plate/members.h"

#include "core/plate/membrane.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

constexpr double E = 30e6;  // kPa

TEST(Membrane, CarriesAnEvenStrainExactlyOnAnyQuadrilateralAndTriangle) {
    const PlateSection section{E, 0.3, 0.4, 0};
    const double a = 2e-4, b = -1e-4, c = 3e-4;  // ∂U/∂x, ∂V/∂y, ∂U/∂y + ∂V/∂x
    const Point quad[4] = {{0, 0}, {2.1, 0.3}, {1.7, 1.9}, {-0.2, 1.1}}, triangle[3] = {{0, 0}, {1.4, 0.2}, {0.3, 1.1}};
    for (int n : {4, 3}) {
        const Point* p = n == 4 ? quad : triangle;
        const MembraneElement element(p, n, section);
        Eigen::Matrix<double, 8, 1> u = Eigen::Matrix<double, 8, 1>::Zero();
        for (int k = 0; k < n; ++k) u[2 * k] = a * p[k].x + c * p[k].y, u[2 * k + 1] = b * p[k].y;
        const Eigen::Vector3d f = element.middle_forces() * u;
        const double C = E * 0.4 / (1 - 0.09);
        EXPECT_NEAR(f[0], C * (a + 0.3 * b), 1e-9 * C);
        EXPECT_NEAR(f[1], C * (b + 0.3 * a), 1e-9 * C);
        EXPECT_NEAR(f[2], C * 0.35 * c, 1e-9 * C);
        // its energy is that of the even strain: the incompatible modes add nothing
        double area = 0;
        for (int k = 0; k < n; ++k) area += 0.5 * cross(p[k], p[(k + 1) % n]);
        const double energy = area * (f[0] * a + f[1] * b + f[2] * c);
        EXPECT_NEAR(u.dot(element.stiffness() * u), energy, 1e-9 * energy);
    }
}

TEST(Membrane, IsFreeInItsThreeRigidMotionsAndInNoOther) {
    const Point p[4] = {{0, 0}, {2.1, 0.3}, {1.7, 1.9}, {-0.2, 1.1}};
    const Eigen::SelfAdjointEigenSolver<MembraneElement::Matrix> modes(
        MembraneElement(p, 4, {E, 0.2, 0.5, 0}).stiffness());
    const auto& v = modes.eigenvalues();
    EXPECT_LT(std::abs(v[2]), 1e-9 * v[7]);
    EXPECT_GT(v[3], 1e-3 * v[7]);
}

TEST(Membrane, ABendingFlangeIsNotStiffenedByItsCells) {
    // A cell of 1 × 1 m bent in its plane by linear strain: energy E h κ² / 12 per metre; the bilinear field alone has
    // 1 / (1 − ν²) + (1 − ν) / 2 / (1 − ν²) … of it.
    const double nu = 0.2, h = 0.3, kappa = 1e-3;
    const Point p[4] = {{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}};
    Eigen::Matrix<double, 8, 1> u = Eigen::Matrix<double, 8, 1>::Zero();
    for (int k = 0; k < 4; ++k) u[2 * k] = kappa * p[k].x * p[k].y;
    const double energy = u.dot(MembraneElement(p, 4, {E, nu, h, 0}).stiffness() * u);
    EXPECT_NEAR(energy, E * h * kappa * kappa / 12, 0.01 * energy);
}

TEST(Members, APieceByItselfIsTheExactShearFlexibleBeam) {
    // Cantilever of 3 m, 0.4 × 0.9 m, 80 kN at its end, over an opening: P L³ / 3EI + P L / κGA.
    MemberPiece p;
    p.s1 = 3, p.along = unit({3, 4}), p.spans_opening = true;
    p.section = {E, E / 2.4, 0.36, 0.4 * 0.729 / 12, torsion_constant(0.4, 0.9), 0.3, 0};
    const MemberMatrix K = member_stiffness(p);
    Eigen::Matrix<double, 5, 1> f = Eigen::Matrix<double, 5, 1>::Zero();
    f[0] = 80;
    const Eigen::Matrix<double, 5, 1> end = K.bottomRightCorner<5, 5>().ldlt().solve(f);
    EXPECT_NEAR(end[0], 80 * 27 / (3 * E * p.section.I) + 80 * 3 / (p.section.G * 0.3), 1e-9);
    Eigen::VectorXd x = Eigen::VectorXd::Zero(10);
    x.tail<5>() = end;
    p.b = 1;
    const MemberForces forces = member_forces(p, Unknowns(2, 5), x);
    EXPECT_NEAR(forces.V, 80, 1e-9);             // dM/ds …
    EXPECT_NEAR(forces.M, -80 * 3 / 2.0, 1e-9);  // … from −240 at the held end, top in tension, to 0
    EXPECT_NEAR(forces.N, 0, 1e-9);
}

TEST(Members, RigidMotionsOfTheSlabStrainNothing) {
    MemberPiece p;
    p.b = 1, p.s1 = 2, p.along = unit({2, 1});
    p.section = {E, E / 2.4, 0.24, 0.0072, 0.003, 0.2, -0.45};
    const Point at[2] = {{1, 3}, Point{1, 3} + 2 * p.along};
    Eigen::MatrixXd motion = Eigen::MatrixXd::Zero(10, 6);
    for (int k : {0, 1}) {
        const long r = 5 * k;
        motion(r, 0) = 1;
        motion(r, 1) = at[k].x, motion(r + 1, 1) = 1;  // tilts: s = x, bx = 1
        motion(r, 2) = at[k].y, motion(r + 2, 2) = 1;
        motion(r + 3, 3) = 1, motion(r + 4, 4) = 1;
        motion(r + 3, 5) = -at[k].y, motion(r + 4, 5) = at[k].x;
    }
    const MemberMatrix K = member_stiffness(p);
    EXPECT_LT((K * motion).cwiseAbs().maxCoeff(), 1e-9 * K.cwiseAbs().maxCoeff());
}

TEST(Members, ASquareTwistsAsTimoshenkoAndGoodierSay) {
    EXPECT_NEAR(torsion_constant(0.5, 0.5), 0.1406 * std::pow(0.5, 4), 5e-3 * 0.1406 * std::pow(0.5, 4));
    EXPECT_NEAR(torsion_constant(0.3, 0.6), 0.229 * 0.6 * 0.027, 5e-3 * 0.229 * 0.6 * 0.027);
}

// A strip 6 × 1.2 m with a rib along its middle.
Model ribbed_strip(Flush flush, double depth = 0.9) {
    Model m = raft(box(0, 0, 6, 1.2), 0.3, 20000, 30000, 0.0);
    m.mesh_size = 0.2;
    Rib r;
    r.id = "R1", r.path = {{0, 0.6}, {6, 0.6}}, r.width = 0.4, r.depth = depth, r.flush = flush;
    m.ribs = {r};
    return m;
}

TEST(Members, ACantileverOfSlabAndRibBendsAsItsTeeSection) {
    // Slab 1.2 × 0.3, rib 0.4 × 0.6 outside it, centroids 0.45 m apart. P = 100 kN at the tip, L = 6 m.
    const double A1 = 0.36, A2 = 0.24, I = 1.2 * 0.027 / 12 + 0.4 * 0.216 / 12 + A1 * A2 / (A1 + A2) * 0.45 * 0.45;
    const double GA = E / 2 * 5.0 / 6 * (A1 + A2), by_hand = 100 * 216 / (3 * E * I) + 100 * 6 / GA;
    for (Flush flush : {Flush::bottom, Flush::top}) {
        const System s(ribbed_strip(flush), 0.2);
        ASSERT_TRUE(s.plate.of.has_plane());
        std::vector<int> held;
        Eigen::VectorXd f = Eigen::VectorXd::Zero(s.plate.of.count());
        int at_tip = 0;
        for (Point p : s.mesh.nodes) at_tip += p.x > 6 - 1e-9;
        for (long i = 0; i < long(s.mesh.nodes.size()); ++i) {
            if (s.mesh.nodes[size_t(i)].x < 1e-9)
                for (int k = 0; k < 5; ++k) held.push_back(int(s.row(i)) + k);
            if (s.mesh.nodes[size_t(i)].x > 6 - 1e-9) f[s.row(i)] = 100.0 / at_tip;
        }
        const Eigen::VectorXd x = solve_supported(s.K, f, held);
        for (long i = 0; i < long(s.mesh.nodes.size()); ++i)
            if (const Point p = s.mesh.nodes[size_t(i)]; p.x > 6 - 1e-9 && std::abs(p.y - 0.6) < 1e-9)
                EXPECT_NEAR(x[s.row(i)], by_hand, 0.015 * by_hand) << name_of(flush);  // the flange lags a little
        // half way the rib carries N = M / (I) · A2 · its distance from the common centroid, of M = −300 kN·m
        for (const MemberPiece& p : s.plate.members.pieces) {
            if (std::abs(0.5 * (p.s0 + p.s1) - 3) > 0.11) continue;
            const MemberForces r = member_forces(p, s.plate.of, x);
            const double M = -100 * (6 - 0.5 * (p.s0 + p.s1)), z = A1 / (A1 + A2) * 0.45;
            EXPECT_NEAR(r.N, (flush == Flush::bottom ? -1 : 1) * M / I * A2 * z, 0.02 * std::abs(M / I * A2 * z));
            EXPECT_NEAR(r.M, M / I * 0.4 * 0.216 / 12, 0.02 * std::abs(M / I * 0.0072));
        }
    }
}

TEST(Members, WithoutRibsWallsOrStepsASlabKeepsThreeUnknowns) {
    Model m = ribbed_strip(Flush::bottom);
    m.ribs.clear();
    m.walls = {{"W1", {{0, 0.6}, {6, 0.6}}, 0.2, 3, false, 1, {}}};
    m.slab.patches = {{"T", box(2, 0, 4, 1.2), 0.5, Flush::middle, "", {}}};
    EXPECT_FALSE(System(m).plate.of.has_plane());
    m.slab.patches[0].flush = Flush::top;
    EXPECT_TRUE(System(m).plate.of.has_plane());
    m.slab.patches.clear(), m.walls[0].stiffens = true;
    EXPECT_TRUE(System(m).plate.of.has_plane());
}

TEST(Members, PlaneAndBendingMeetOnlyWhereSomethingJoinsThem) {
    Model m = raft(box(0, 0, 8, 6), 0.4, 2e4);
    Rib r;
    r.id = "R1", r.path = {{0, 3}, {8, 3}}, r.flush = Flush::top, r.depth = 1.0;
    m.ribs = {r};
    const Mesh mesh = build_mesh(m);
    const Plate plate = make_plate(m, mesh);
    SparseLower K = assemble(plate, mesh);
    int joined = 0, apart = 0;
    for (int i = 0; i < int(mesh.nodes.size()); ++i) {
        bool meets = false;
        for (Unknown b : {Unknown::s, Unknown::bx, Unknown::by})
            for (Unknown p : {Unknown::u, Unknown::v})
                meets |= K.find(int(plate.of.row(i, p)), int(plate.of.row(i, b))) != nullptr;
        const bool on_rib = std::abs(mesh.nodes[size_t(i)].y - 3) < 1e-9;
        EXPECT_EQ(meets, on_rib) << i;
        ++(on_rib ? joined : apart);
    }
    EXPECT_GT(joined, 10);
    EXPECT_GT(apart, 100);
}

TEST(Members, PiecesFollowThePathFromEndToEnd) {
    Model m = raft(box(0, 0, 8, 6), 0.3, 20000);
    Rib r;
    r.id = "R1", r.path = {{1, 1}, {7, 1}, {7, 5}, {1, 5}, {1, 1}}, r.depth = 0.8, r.flush = Flush::top;
    m.ribs = {r};
    m.columns = {column("C1", 1, 1), column("C2", 7, 1), column("C3", 4, 1.1)};  // one of them beside the axis
    const System s(m);
    ASSERT_EQ(s.plate.members.list.size(), 1u);
    double at = 0;
    for (int k : s.plate.members.list[0].pieces) {
        const MemberPiece& p = s.plate.members.pieces[size_t(k)];
        EXPECT_NEAR(p.s0, at, 1e-6);
        EXPECT_NEAR(distance(s.mesh.nodes[size_t(p.a)], s.mesh.nodes[size_t(p.b)]), p.s1 - p.s0, 1e-3);
        EXPECT_NEAR(p.section.e, -0.4, 1e-9);  // 0.5 m below the slab's 0.3
        at = p.s1;
    }
    EXPECT_NEAR(at, 20, 1e-6);
}

TEST(Members, StopAtOpeningsOrAreCarriedOver) {
    Model m = raft(box(0, 0, 10, 4), 0.3, 20000);
    Opening o;
    o.id = "O1", o.outline = box(4, 1, 6, 3);
    m.slab.openings = {o};
    Rib r;
    r.id = "R1", r.path = {{0, 2}, {10, 2}}, r.depth = 0.8, r.flush = Flush::top;
    m.ribs = {r};
    auto length_and_spans = [](const Model& model) {
        const System s(model);
        std::pair<double, int> out{0, 0};
        for (const MemberPiece& p : s.plate.members.pieces) out.first += p.s1 - p.s0, out.second += p.spans_opening;
        return out;
    };
    auto [stopped, none] = length_and_spans(m);
    EXPECT_NEAR(stopped, 8, 1e-6);
    EXPECT_EQ(none, 0);
    m.ribs[0].over_openings = OverOpenings::carry;
    auto [carried, one] = length_and_spans(m);
    EXPECT_NEAR(carried, 10, 1e-6);
    EXPECT_EQ(one, 1);
}

TEST(Members, OfAPatchOnlyWhatStandsOutOfItIsRib) {
    // Rib 0.9 deep hanging below a slab of 0.3; in the patch, 0.5 thick and flush at the top, 0.4 m of it are left.
    Model m = ribbed_strip(Flush::top);
    m.slab.patches = {{"T", box(2, 0, 4, 1.2), 0.5, Flush::top, "", {}}};
    const System s(m);
    for (const MemberPiece& p : s.plate.members.pieces) {
        const double middle = 0.5 * (p.s0 + p.s1);
        EXPECT_NEAR(p.section.A, 0.4 * (middle > 2 && middle < 4 ? 0.4 : 0.6), 1e-9);
    }
    m.ribs[0].flush = Flush::middle;  // 0.3 m above and 0.3 below: two pieces that turn as one
    m.slab.patches.clear();
    const MemberSection c = System(m).plate.members.pieces[0].section;
    EXPECT_NEAR(c.A, 0.24, 1e-12);
    EXPECT_NEAR(c.e, 0, 1e-12);
    EXPECT_NEAR(c.I, 2 * (0.4 * 0.027 / 12 + 0.12 * 0.09), 1e-12);
}

}  // namespace
}  // namespace mossbed
