// The elements: patch tests, and the convergence study that chose between the two families
// (docs/verification/plate.md).
#include <fmt/format.h>

#include <numbers>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::load;
using testing::Page;
using testing::raft;
using testing::settlement;
using testing::solve_supported;

constexpr double pi = std::numbers::pi;

// A square of one metre cut into five distorted quadrilaterals (MacNeal and Harder 1985), or into triangles.
Mesh distorted(bool triangles) {
    Mesh m;
    m.nodes = {{0, 0}, {1, 0}, {1, 1}, {0, 1}, {.2, .15}, {.75, .2}, {.7, .72}, {.25, .65}};
    const std::vector<Element> quads = {{0, 1, 5, 4}, {1, 2, 6, 5}, {2, 3, 7, 6}, {3, 0, 4, 7}, {4, 5, 6, 7}};
    for (const Element& q : quads) {
        if (!triangles)
            m.elements.push_back(q);
        else
            m.elements.push_back({q[0], q[1], q[2], -1}), m.elements.push_back({q[0], q[2], q[3], -1});
    }
    m.patch.assign(m.elements.size(), -1);
    m.footprint.assign(m.elements.size(), -1);
    m.size = 0.5;
    return m;
}

// Rows of a plate with three unknowns a node.
int row(long node, Unknown u = Unknown::s) { return int(Unknowns(0).row(node, u)); }
PlateForces force(const std::vector<PlateForceField>& f, long slot) { return f[0][slot]; }

struct PatchCase {
    Family family;
    bool triangles;
    double h;
};
class PatchTest : public ::testing::TestWithParam<PatchCase> {};
class ThickPatchTest : public PatchTest {};

// Constant curvature: s = x² + ½ xy + 2 y² /…, slopes its gradient, held on the rim; inside it must come out exactly.
TEST_P(PatchTest, ConstantCurvatureIsExactOnADistortedMesh) {
    const auto [family, triangles, h] = GetParam();
    const Mesh mesh = distorted(triangles);
    Model m = raft(box(0, 0, 1, 1), h, 1e4);
    const Plate plate = make_plate(m, mesh, family);
    const SparseLower K = assemble(plate, mesh);
    auto s = [](Point p) { return 1e-3 * (p.x * p.x + p.x * p.y + p.y * p.y) / 2; };
    auto bx = [](Point p) { return 1e-3 * (p.x + p.y / 2); };
    auto by = [](Point p) { return 1e-3 * (p.y + p.x / 2); };
    Eigen::VectorXd x = Eigen::VectorXd::Zero(24);
    std::vector<int> held;
    for (int i = 0; i < 4; ++i) {
        x[row(i, Unknown::s)] = s(mesh.nodes[size_t(i)]), x[row(i, Unknown::bx)] = bx(mesh.nodes[size_t(i)]),
                 x[row(i, Unknown::by)] = by(mesh.nodes[size_t(i)]);
        for (Unknown u : {Unknown::s, Unknown::bx, Unknown::by}) held.push_back(row(i, u));
    }
    const Eigen::VectorXd inner = solve_supported(K, -K.times(x).col(0), held);
    x += inner;
    for (int i = 4; i < 8; ++i) EXPECT_NEAR(x[row(i)], s(mesh.nodes[size_t(i)]), 2e-9) << "node " << i;
    // Moments: κ = 1e-3 (1, 1, ½·2), m = −D (κx + ν κy) …
    const Slots slots_ = make_slots(plate, mesh);
    const auto f = slot_forces(plate, mesh, slots_, {&x});
    const double D = plate.section[0].bending(), nu = plate.section[0].nu;
    for (size_t k = 0; k < slots_.node.size(); ++k) {
        EXPECT_NEAR(force(f, long(k)).mx, -D * 1e-3 * (1 + nu), 1e-5 * D * 1e-3);
        EXPECT_NEAR(force(f, long(k)).mxy, -D * 1e-3 * (1 - nu) / 2, 1e-5 * D * 1e-3);
    }
}

// Constant shear in a very thick plate: s = γ x with no slopes.
TEST_P(ThickPatchTest, ConstantShearIsExactOnADistortedMesh) {
    const auto [family, triangles, h] = GetParam();
    const Mesh mesh = distorted(triangles);
    const Plate plate = make_plate(raft(box(0, 0, 1, 1), h, 1e4), mesh, family);
    const SparseLower K = assemble(plate, mesh);
    Eigen::VectorXd x = Eigen::VectorXd::Zero(24);
    std::vector<int> held;
    for (int i = 0; i < 8; ++i) {
        if (i < 4) x[row(i, Unknown::s)] = 1e-3 * mesh.nodes[size_t(i)].x, held.push_back(row(i));
        held.push_back(row(i, Unknown::bx)), held.push_back(row(i, Unknown::by));
    }
    x += solve_supported(K, -K.times(x).col(0), held);
    for (int i = 4; i < 8; ++i) EXPECT_NEAR(x[row(i)], 1e-3 * mesh.nodes[size_t(i)].x, 1e-6) << "node " << i;
}
INSTANTIATE_TEST_SUITE_P(Both, ThickPatchTest,
                         ::testing::Values(PatchCase{Family::mitc, false, 1000}, PatchCase{Family::mitc, true, 1000},
                                           PatchCase{Family::dkm, false, 1000}, PatchCase{Family::dkm, true, 1000}));
INSTANTIATE_TEST_SUITE_P(Both, PatchTest,
                         ::testing::Values(PatchCase{Family::mitc, false, 0.01}, PatchCase{Family::mitc, true, 0.01},
                                           PatchCase{Family::dkm, false, 0.01}, PatchCase{Family::dkm, true, 0.01},
                                           PatchCase{Family::mitc, false, 0.5}, PatchCase{Family::dkm, false, 0.5},
                                           PatchCase{Family::dkm, true, 0.5}, PatchCase{Family::mitc, false, 1000},
                                           PatchCase{Family::mitc, true, 1000}, PatchCase{Family::dkm, false, 1000},
                                           PatchCase{Family::dkm, true, 1000}));

TEST(Plate, RigidMotionsCostNothing) {
    for (Family family : {Family::mitc, Family::dkm})
        for (bool triangles : {false, true}) {
            const Mesh mesh = distorted(triangles);
            const SparseLower K = assemble(make_plate(raft(box(0, 0, 1, 1), 0.3, 1e4), mesh, family), mesh);
            Eigen::MatrixXd r = Eigen::MatrixXd::Zero(24, 3);
            for (int i = 0; i < 8; ++i) {
                r(row(i), 0) = 1;
                r(row(i), 1) = mesh.nodes[size_t(i)].x, r(row(i, Unknown::bx), 1) = 1;
                r(row(i), 2) = mesh.nodes[size_t(i)].y, r(row(i, Unknown::by), 2) = 1;
            }
            EXPECT_LT(K.times(r).cwiseAbs().maxCoeff(), 1e-9 * K.value[0]);
        }
}

// --- the convergence study

struct Held {
    double centre = 0, moment = 0;  // m, kN·m/m at the middle
};

// q = 10 kPa on a plate held along its rim: `clamped`, or `soft` (s only), or `hard` (s and the slope along the rim).
Held held_plate(const Model& m, double size, Family family, const std::string& how) {
    const Mesh mesh = build_mesh(m, size);
    const Plate plate = make_plate(m, mesh, family);
    const SparseLower K = assemble(plate, mesh);
    Eigen::VectorXd f = Eigen::VectorXd::Zero(K.size());
    const std::vector<double> area = node_shares(mesh).area;
    for (size_t i = 0; i < mesh.nodes.size(); ++i) f[row(long(i))] = 10 * area[i];
    std::vector<int> held;
    const auto& rim = mesh.rims[0];
    for (size_t k = 0; k < rim.size(); ++k) {
        const int i = rim[k];
        held.push_back(row(i));
        const Point a = mesh.nodes[size_t(rim[(k + rim.size() - 1) % rim.size()])],
                    b = mesh.nodes[size_t(rim[(k + 1) % rim.size()])], p = mesh.nodes[size_t(i)];
        const bool corner = std::abs(cross(unit(p - a), unit(b - p))) > 0.5;
        if (how == "clamped" || (how == "hard" && corner))
            held.push_back(row(i, Unknown::bx)), held.push_back(row(i, Unknown::by));
        else if (how == "hard")
            held.push_back(std::abs((b - a).x) > std::abs((b - a).y) ? row(i, Unknown::bx) : row(i, Unknown::by));
    }
    const Eigen::VectorXd x = solve_supported(K, f, held);
    const Slots slots_ = make_slots(plate, mesh);
    const auto forces = slot_forces(plate, mesh, slots_, {&x});
    const Finder finder(mesh);
    const Box b = box_of(outer_rim(m.slab.outline, 0.1));
    const Finder::Hit h = finder.nearest(b.middle());
    Held out;
    for (int k = 0; k < corners(mesh.elements[size_t(h.element)]); ++k) {
        out.centre += h.weight[size_t(k)] * x[row(mesh.elements[size_t(h.element)][size_t(k)])];
        out.moment += h.weight[size_t(k)] * force(forces, slots_.of_corner[size_t(h.element)][size_t(k)]).mx;
    }
    return out;
}

// Navier's double series for a simply supported square of side a under q, with Mindlin's shear term (hard support):
// s = Σ q_mn/(D α⁴) (1 + D α²/(κGh)),  α² = (mπ/a)² + (nπ/a)²; mx does not change with shear.
Held navier(double a, double q, const PlateSection& p) {
    Held out;
    for (int m = 1; m < 400; m += 2)
        for (int n = 1; n < 400; n += 2) {
            const double am = m * pi / a, an = n * pi / a, alpha2 = am * am + an * an;
            const double sign = ((m + n) / 2 - 1) % 2 == 0 ? 1 : -1, qmn = 16 * q / (pi * pi * m * n);
            out.centre += sign * qmn / (p.bending() * alpha2 * alpha2) * (1 + p.bending() * alpha2 / p.shear());
            out.moment += sign * qmn * (am * am + p.nu * an * an) / (alpha2 * alpha2);
        }
    return out;
}

std::string percent(double v, double reference) { return fmt::format("{:+.2f} %", 100 * (v / reference - 1)); }
const char* name(Family f) { return f == Family::dkm ? "DKMQ, DKMT" : "MITC4, MITC3"; }

TEST(Convergence, TheStudyThatChoseTheElements) {
    Page page("plate.md", "Plate elements",
              {"case", "source", "quantity", "reference", "elements", "size", "value", "difference"});
    page.words(
        "Two families of Reissner–Mindlin elements on the meshes of the program itself (quadrilaterals and triangles "
        "mixed). "
        "q = 10 kPa, E = 30 GPa, ν = 0.3. The program uses MITC4 and MITC3: their moments at the coarse size are "
        "nearer in every case, which is what steel is designed from, and thick slabs on coarse meshes suit them; DKMQ "
        "and DKMT settle a little more exactly.");
    std::map<Family, double> sum;  // of the moments' errors at the coarse size, for the choice
    auto study = [&](const std::string& what, const std::string& source, const Model& m, const std::string& how,
                     double centre, double moment, std::array<double, 2> sizes, double close) {
        for (Family f : {Family::mitc, Family::dkm})
            for (size_t k = 0; k < 2; ++k) {
                const Held s = held_plate(m, sizes[k], f, how);
                page.row({what, source, "settlement at the middle, mm", fmt::format("{:.5f}", 1000 * centre), name(f),
                          fmt::format("{:.3f}", sizes[k]), fmt::format("{:.5f}", 1000 * s.centre),
                          percent(s.centre, centre)});
                if (moment != 0)
                    page.row({what, source, "mx at the middle, kN·m/m", fmt::format("{:.4f}", moment), name(f),
                              fmt::format("{:.3f}", sizes[k]), fmt::format("{:.4f}", s.moment),
                              percent(s.moment, moment)});
                if (k == 0 && moment != 0) sum[f] += std::abs(s.moment / moment - 1);
                if (k == 1) {
                    EXPECT_NEAR(s.centre, centre, close * centre) << what << " " << name(f);
                    if (moment != 0) EXPECT_NEAR(s.moment, moment, 2 * close * moment) << what << " " << name(f);
                }
            }
    };
    for (double h : {0.01, 0.1, 1.0}) {
        const Model m = raft(box(0, 0, 4, 4), h, 1, 30000, 0.3);
        const Held n = navier(4, 10, {30e6, 0.3, h});
        study(fmt::format("simply supported square, 4 m, h = {:g} m", h), "Navier, with Mindlin's shear", m, "hard",
              n.centre, n.moment, {0.5, 0.25}, 0.01);
    }
    {
        Model m = raft({}, 0.05, 1, 30000, 0.3);
        m.slab.outline = Circle{{0, 0}, 2};
        const PlateSection p{30e6, 0.3, 0.05};
        // Timoshenko and Woinowsky-Krieger (1959) §16, with the shear term q a²/(4 κGh)
        study("clamped circle, radius 2 m, h = 0.05 m", "Timoshenko 1959 §16", m, "clamped",
              10 * 16 / (64 * p.bending()) + 10 * 4 / (4 * p.shear()), 10 * 4 * 1.3 / 16, {0.5, 0.25}, 0.015);
    }
    {  // Morley (1963): simply supported 30° rhombus, thin: s = 0.000408 q a⁴/D at the middle (singular corners)
        const double a = 4, c = std::cos(pi / 6), s = std::sin(pi / 6);
        const Model m = raft({{0, 0}, {a, 0}, {a + a * c, a * s}, {a * c, a * s}}, 0.04, 1, 30000, 0.3);
        const PlateSection p{30e6, 0.3, 0.04};
        study("simply supported 30° rhombus, 4 m, h = 0.04 m", "Morley 1963", m, "soft",
              0.000408 * 10 * std::pow(a, 4) / p.bending(), 0, {0.25, 0.125}, 0.06);
    }
    EXPECT_LT(sum[Family::mitc], sum[Family::dkm]) << "the choice of elements is no longer the better one";
}

// Two roads to one answer: the families share nothing but the plate theory.
TEST(Convergence, BothFamiliesAgreeOnARaftUnderOneColumn) {
    Page page("raft-one-column.md", "A free raft on springs under one column",
              {"elements", "size", "nodes", "settlement at the column, mm", "settlement at the corner, mm",
               "mx 1.5 m off, kN·m/m"});
    page.words("8 × 6 × 0.5 m, E = 33 GPa, k = 20 000 kN/m³, 1500 kN at (3, 2.5) over 0.5 × 0.5 m.");
    std::map<std::pair<Family, double>, std::array<double, 3>> found;
    for (Family family : {Family::mitc, Family::dkm})
        for (double size : {0.5, 0.25, 0.125}) {
            Model m = raft(box(0, 0, 8, 6), 0.5, 20000);
            m.columns = {testing::column("C", 3, 2.5)};
            m.columns[0].stiff_footprint = false;
            const Mesh mesh = build_mesh(m, size);
            const Plate plate = make_plate(m, mesh, family);
            SparseLower K = assemble(plate, mesh);
            Eigen::VectorXd f = Eigen::VectorXd::Zero(K.size());
            load(m, {ColumnLoad{"C", 1500, 0, 0, 0, 0}, {}});
            const Finder finder(mesh);
            std::vector<Problem> lost;
            f = nodal_loads(plate.of, mesh, case_loads(m, mesh, finder, lost)).col(0);
            const std::vector<double> area = node_shares(mesh).area;
            for (size_t i = 0; i < mesh.nodes.size(); ++i) *K.find(row(long(i)), row(long(i))) += 20000 * area[i];
            const Eigen::VectorXd x = solve_supported(K, f, {});
            const Slots slots_ = make_slots(plate, mesh);
            const auto forces = slot_forces(plate, mesh, slots_, {&x});
            auto at = [&](Point p, auto value) {
                const Finder::Hit h = finder.nearest(p);
                double v = 0;
                for (int k = 0; k < corners(mesh.elements[size_t(h.element)]); ++k)
                    v += h.weight[size_t(k)] * value(h.element, k);
                return v;
            };
            auto s = [&](int e, int k) { return 1000 * x[row(mesh.elements[size_t(e)][size_t(k)])]; };
            auto mx = [&](int e, int k) { return force(forces, slots_.of_corner[size_t(e)][size_t(k)]).mx; };
            found[{family, size}] = {at({3, 2.5}, s), at({8, 6}, s), at({4.5, 2.5}, mx)};
            if (size == 0.125) EXPECT_NEAR(at({3, 2.5}, mx), 373, 10);
            const auto& v = found[{family, size}];
            page.row({name(family), fmt::format("{:.3f}", size), std::to_string(mesh.nodes.size()),
                      fmt::format("{:.4f}", v[0]), fmt::format("{:.4f}", v[1]), fmt::format("{:.3f}", v[2])});
        }
    const auto &a = found[{Family::mitc, 0.125}], &b = found[{Family::dkm, 0.125}], &rough = found[{Family::mitc, 0.5}];
    for (int k = 0; k < 3; ++k) EXPECT_NEAR(a[size_t(k)], b[size_t(k)], 0.01 * std::abs(b[size_t(k)]) + 1e-3);
    EXPECT_NEAR(rough[0], b[0], 0.005 * b[0]);  // the default mesh is within half a per cent in settlement
    // and two per cent in moment away from the load, or a half of the largest (373 kN·m/m under the column) where it is
    // small
    EXPECT_NEAR(rough[2], a[2], std::max(0.02 * std::abs(a[2]), 0.005 * 373));
}

}  // namespace
}  // namespace mossbed
