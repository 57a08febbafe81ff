// Element matrices, the sparse factor, moments at nodes: properties that hold whatever the shape.
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <numbers>
#include <random>
#include <set>

#include "core/contact/bed.h"
#include "core/contact/contact.h"
#include "core/plate/factor.h"
#include "core/plate/supernodes.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using testing::raft;

class ElementTest : public ::testing::TestWithParam<std::tuple<Family, int, double>> {};

TEST_P(ElementTest, HasThreeRigidMotionsAndNoOtherFreeOne) {
    const auto [family, n, h] = GetParam();
    const Point quad[4] = {{0, 0}, {1.1, 0.1}, {1.3, 0.9}, {-0.1, 0.8}}, triangle[3] = {{0, 0}, {1.1, 0.2}, {0.3, 0.9}};
    const ElementMatrix K = PlateElement(family, n == 4 ? quad : triangle, n, {30e6, 0.2, h}).stiffness();
    EXPECT_LT((K - K.transpose()).cwiseAbs().maxCoeff(), 1e-12 * K.cwiseAbs().maxCoeff());
    const Eigen::VectorXd e =
        Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd>(K.topLeftCorner(3 * n, 3 * n)).eigenvalues();
    for (int i = 0; i < 3; ++i) EXPECT_LT(std::abs(e[i]), 1e-9 * e[3 * n - 1]);
    EXPECT_GT(e[3], 1e-7 * e[3 * n - 1]);
}

TEST_P(ElementTest, DoesNotMindWhichCornerComesFirstOrHowItIsTurned) {
    const auto [family, n, h] = GetParam();
    std::vector<Point> p = n == 4 ? std::vector<Point>{{0, 0}, {1.1, 0.1}, {1.3, 0.9}, {-0.1, 0.8}}
                                  : std::vector<Point>{{0, 0}, {1.1, 0.2}, {0.3, 0.9}};
    auto norm = [&](const std::vector<Point>& q) {
        return Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd>(
                   PlateElement(family, q.data(), n, {30e6, 0.2, h}).stiffness())
            .eigenvalues();
    };
    const Eigen::VectorXd first = norm(p);
    std::rotate(p.begin(), p.begin() + 1, p.end());
    if (n == 4) {
        EXPECT_LT((norm(p) - first).cwiseAbs().maxCoeff(), 1e-9 * first.maxCoeff());
    }
    for (Point& q : p) q = turned(q, 37) + Point{5, -3};
    if (n == 4) {
        EXPECT_LT((norm(p) - first).cwiseAbs().maxCoeff(), 1e-8 * first.maxCoeff());
    }
}

TEST_P(ElementTest, ItsMiddleCarriesTheMomentOfAConstantCurvature) {
    const auto [family, n, h] = GetParam();
    const Point p[4] = {{0, 0}, {1.1, 0.1}, {1.3, 0.9}, {-0.1, 0.8}};
    const PlateSection section{30e6, 0.2, h};
    const PlateElement element(family, p, n, section);
    Eigen::Matrix<double, 12, 1> x = Eigen::Matrix<double, 12, 1>::Zero();
    for (int k = 0; k < n; ++k) x[3L * k] = 0.5 * p[k].x * p[k].x, x[3L * k + 1] = p[k].x;  // s = x²/2: κx = 1
    const Eigen::VectorXd f = element.middle_forces() * x;
    EXPECT_NEAR(f[0], -section.bending(), 1e-6 * section.bending());
    EXPECT_NEAR(f[1], -0.2 * section.bending(), 1e-6 * section.bending());
    EXPECT_NEAR(f[2], 0, 1e-6 * section.bending());
}

INSTANTIATE_TEST_SUITE_P(Shapes, ElementTest,
                         ::testing::Combine(::testing::Values(Family::mitc, Family::dkm), ::testing::Values(3, 4),
                                            ::testing::Values(0.05, 0.5, 5.0)));

TEST(Factor, SolvesWhatEigenSolves) {
    const testing::System s(raft({{0, 0}, {7, 1}, {6, 6}, {1, 5}}, 0.4, 2e4));
    Factor f(s.full, s.mesh.nodes);
    ASSERT_TRUE(f.factorize(s.full));
    std::mt19937 random(1);
    std::normal_distribution<double> g;
    Eigen::MatrixXd b(s.full.size(), 7);
    for (long i = 0; i < b.size(); ++i) b.data()[i] = g(random);
    Eigen::MatrixXd x = b;
    f.solve_in_place(x);
    EXPECT_LT((s.full.times(x) - b).cwiseAbs().maxCoeff(), 1e-8 * b.cwiseAbs().maxCoeff());
    EXPECT_LT((x.col(3) - testing::solve_supported(s.full, b.col(3), {})).cwiseAbs().maxCoeff(),
              1e-9 * x.cwiseAbs().maxCoeff());
    // One by one or in a block of any width: the same.
    for (long width : {1, 3, 4, 5, 7}) {
        Eigen::MatrixXd some = b.leftCols(width);
        f.solve_in_place(some);
        EXPECT_LT((some - x.leftCols(width)).cwiseAbs().maxCoeff(), 1e-12 * x.cwiseAbs().maxCoeff()) << width;
    }
    Eigen::MatrixXd many = b.replicate(1, 3);
    f.solve_in_place(many);
    EXPECT_LT((many.rightCols(7) - x).cwiseAbs().maxCoeff(), 1e-12 * x.cwiseAbs().maxCoeff());
}

TEST(Factor, InSinglePrecisionIsNearAndOnlyOnceItIsKept) {
    testing::System s(raft({{0, 0}, {7, 1}, {6, 6}, {1, 5}}, 0.4, 2e4));
    Eigen::MatrixXd b = Eigen::MatrixXd::Random(s.full.size(), 19);
    b.col(4) *= 1e5, b.col(5) *= 1e-7;  // neither disturbs the other
    Eigen::MatrixXd x = b, rough = b;
    s.factor.solve_in_place(x);
    s.factor.solve_in_single(rough);
    EXPECT_EQ(rough, x);  // nothing kept: as it was
    s.factor.keep_single();
    rough = b;
    s.factor.solve_in_single(rough);
    for (long c = 0; c < b.cols(); ++c) EXPECT_LT((rough - x).col(c).norm(), 1e-4 * x.col(c).norm()) << c;
    // Part of a matrix, and the next factorisation keeps none of the last one's numbers.
    Eigen::MatrixXd half = b;
    s.factor.solve_in_single(half.rightCols(9));
    EXPECT_EQ(half.leftCols(10), b.leftCols(10));
    EXPECT_EQ(half.rightCols(9), rough.rightCols(9));
    SparseLower stiffer = s.full;
    for (double& v : stiffer.value) v *= 2;
    ASSERT_TRUE(s.factor.factorize(stiffer));
    Eigen::MatrixXd now = b;
    s.factor.solve_in_single(now);
    EXPECT_LT((2 * now - x).cwiseAbs().maxCoeff(), 1e-9 * x.cwiseAbs().maxCoeff());
}

// A stop cancels the loops that others are in: a factor or a solution that was begun is still one.
TEST(Factor, IsWholeInWorkThatIsBeingStopped) {
    testing::System s(raft({{0, 0}, {7, 1}, {6, 6}, {1, 5}}, 0.4, 2e4));
    s.factor.keep_single();
    const Eigen::MatrixXd b = Eigen::MatrixXd::Random(s.full.size(), 11);
    Eigen::MatrixXd x = b, stopped = b, single = b, anew = b;
    s.factor.solve_in_place(x);
    tbb::task_group_context group;
    tbb::parallel_for(
        0, 1,
        [&](int) {
            group.cancel_group_execution();
            s.factor.solve_in_place(stopped);
            s.factor.solve_in_single(single);
            Factor f(s.full, s.mesh.nodes);
            EXPECT_TRUE(f.factorize(s.full));
            f.solve_in_place(anew);
        },
        tbb::auto_partitioner(), group);
    EXPECT_EQ(stopped, x);
    EXPECT_EQ(anew, x);
    EXPECT_LT((single - x).norm(), 1e-4 * x.norm());
}

// L as CHOLMOD would store it, made up supernode by supernode.
struct MadeUp {
    std::vector<int> first, rows{0}, values{0}, row;
    std::vector<double> value;
    Supernodes<double> view() const {
        int most = 0;
        for (size_t s = 0; s + 1 < rows.size(); ++s) most = std::max(most, rows[s + 1] - rows[s]);
        return {int(first.size()) - 1, most, first.data(), rows.data(), values.data(), row.data(), value.data()};
    }
    void add(std::vector<int> below, int columns) {  // a supernode with these rows below its own
        if (first.empty()) first.push_back(0);
        const int from = first.back(), n = columns + int(below.size());
        for (int i = 0; i < columns; ++i) row.push_back(from + i);
        row.insert(row.end(), below.begin(), below.end());
        for (int j = 0; j < columns; ++j)
            for (int i = 0; i < n; ++i) value.push_back(i == j ? 2 + 0.1 * j : 0.3 + 0.01 * i * (j + 1));
        first.push_back(from + columns), rows.push_back(int(row.size())), values.push_back(int(value.size()));
    }
    Eigen::MatrixXd L() const {
        Eigen::MatrixXd l = Eigen::MatrixXd::Zero(first.back(), first.back());
        for (size_t s = 0; s + 1 < first.size(); ++s)
            for (int j = first[s]; j < first[s + 1]; ++j)
                for (int k = rows[s]; k < rows[s + 1]; ++k)
                    if (row[size_t(k)] >= j)
                        l(row[size_t(k)], j) =
                            value[size_t(values[s] + (k - rows[s]) + (j - first[s]) * (rows[s + 1] - rows[s]))];
        return l;
    }
};

TEST(Supernodes, BranchesHangOnNothingButThemselvesAndTheTrunk) {
    MadeUp two_trees;  // a chain with two branches that are cut apart, and a tree that meets neither
    two_trees.add({4, 5}, 2), two_trees.add({4, 6}, 2), two_trees.add({6}, 2), two_trees.add({}, 1);
    two_trees.add({9}, 2), two_trees.add({}, 1);
    MadeUp one;
    one.add({}, 5);
    for (const MadeUp* m : {&two_trees, &one}) {
        const Supernodes<double> l = m->view();
        const Branches b = branches_of(l, tree_of(l));
        std::vector<int> times(size_t(l.count), 0);
        for (const auto* ranges : {&b.branch, &b.trunk})
            for (const Branches::Range& r : *ranges)
                for (int s = r.from; s < r.to; ++s) ++times[size_t(s)];
        EXPECT_EQ(times, std::vector<int>(size_t(l.count), 1));
        if (!has_wide_solution()) continue;
        const Eigen::MatrixXd L = m->L();
        for (long width : side_by_side<double>) {
            Eigen::MatrixXd x = Eigen::MatrixXd::Random(width, L.rows());
            const Eigen::MatrixXd wanted = (L * L.transpose()).llt().solve(x.transpose()).transpose();
            Eigen::MatrixXd by_eights = x;
            solve_side_by_side(l, b, {}, width, x.data());
            EXPECT_LT((x - wanted).cwiseAbs().maxCoeff(), 1e-12) << width;
            solve_side_by_side(l, b, {}, width, by_eights.data(), Registers::eights);
            EXPECT_EQ(by_eights, x);  // in the same order
        }
    }
}

TEST(Factor, OneOfTheSamePatternHasItsOwnNumbers) {
    const testing::System s(raft(box(0, 0, 6, 4), 0.4, 2e4));
    SparseLower stiffer = s.full;
    for (double& v : stiffer.value) v *= 2;
    const Eigen::MatrixXd b = Eigen::MatrixXd::Ones(s.full.size(), 1);
    Eigen::MatrixXd one = b, other = b, again = b;
    s.factor.solve_in_place(one);
    Factor f = s.factor.of_same_pattern();
    EXPECT_GT(f.bytes(), s.full.value.size() * sizeof(double));
    EXPECT_TRUE(f.has_pattern_of(stiffer));
    EXPECT_FALSE(f.has_pattern_of(testing::System(raft(box(0, 0, 6, 5), 0.4, 2e4)).full));
    ASSERT_TRUE(f.factorize(stiffer));
    f.solve_in_place(other);
    s.factor.solve_in_place(again);
    EXPECT_LT((2 * other - one).cwiseAbs().maxCoeff(), 1e-12 * one.cwiseAbs().maxCoeff());
    EXPECT_EQ(again, one);
}

// Symmetric and positive definite, with random numbers where `couples` says so.
SparseLower made_up(int n, const std::function<bool(int, int)>& couples) {
    SparseLower m;
    m.block = 1, m.start = {0};
    std::mt19937 random(unsigned(n) + 7);
    std::uniform_real_distribution<double> g(-1, 1);
    for (int j = 0; j < n; ++j) {
        for (int i = j; i < n; ++i)
            if (i == j || couples(i, j)) m.row.push_back(i), m.value.push_back(i == j ? n + 1.0 : g(random));
        m.start.push_back(int(m.row.size()));
    }
    return m;
}

TEST(Factor, OfAnyPatternSolvesItsEquationsAndSeesWhereItIsNotPositive) {
    struct Case {
        const char* what;
        int n;
        std::function<bool(int, int)> couples;
    };
    const Case cases[] = {
        {"one unknown", 1, [](int, int) { return true; }},
        {"nothing couples", 40, [](int, int) { return false; }},
        {"everything couples", 70, [](int, int) { return true; }},
        {"a chain", 200, [](int i, int j) { return i - j == 1; }},
        {"all meet one", 90, [](int, int j) { return j == 0; }},
        {"a grid of 15 by 15", 225, [](int i, int j) { return i - j == 15 || (i - j == 1 && i % 15 != 0); }},
        {"a long strip", 6000, [](int i, int j) { return i - j < 90; }},
        {"three that do not meet", 90, [](int i, int j) { return i % 3 == j % 3 && i - j < 16; }},
    };
    for (const Case& c : cases) {
        SparseLower m = made_up(c.n, c.couples);
        std::vector<Point> places;  // anywhere: they make an order good or bad, not right or wrong
        for (int i = 0; i < c.n; ++i) places.push_back({double(i * 7 % 13), double(i / 5)});
        Factor f(m, places);
        ASSERT_TRUE(f.factorize(m)) << c.what;
        const Eigen::MatrixXd b = Eigen::MatrixXd::Random(c.n, 3);
        Eigen::MatrixXd x = b;
        f.solve_in_place(x);
        EXPECT_LT((m.times(x) - b).cwiseAbs().maxCoeff(), 1e-13 * c.n) << c.what;
        for (int j = 0; j < c.n; j += 1 + c.n / 13) {
            SparseLower bad = m;
            bad.value[size_t(bad.start[size_t(j)])] = -1;
            EXPECT_FALSE(f.factorize(bad)) << c.what << ", unknown " << j;
        }
        ASSERT_TRUE(f.factorize(m)) << c.what;  // and goes on from that as if nothing had been
        Eigen::MatrixXd again = b;
        f.solve_in_place(again);
        EXPECT_EQ(again, x) << c.what;
    }
}

// Against the whole matrix: rows that share unknowns, one that names an unknown twice, one of nothing.
TEST(OuterProducts, AreAddedWhereTheyCoupleAndThePatternGrowsByNoMore) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> g(-1, 1);
    const int n = 700;
    const SparseLower m = made_up(n, [](int i, int j) { return i - j < 3; });
    std::vector<std::vector<int>> at{{}, {3, 500, 3}};
    for (int k = 0; k < 60; ++k) {
        std::set<int> some;
        while (some.size() < size_t(1 + k % 9)) some.insert(int(random() % 97 * 7 % unsigned(n)));
        at.emplace_back(some.begin(), some.end());
        std::shuffle(at.back().begin(), at.back().end(), random);
    }
    std::vector<std::vector<double>> weight;
    std::vector<SparseRow> rows;
    std::vector<double> scale;
    Eigen::MatrixXd whole = m.times(Eigen::MatrixXd::Identity(n, n));
    std::set<std::pair<int, int>> pattern;
    for (int j = 0; j < n; ++j)
        for (int k = m.start[size_t(j)]; k < m.start[size_t(j) + 1]; ++k) pattern.insert({m.row[size_t(k)], j});
    for (const auto& of : at) {
        Eigen::VectorXd b = Eigen::VectorXd::Zero(n);
        weight.emplace_back();
        for (int i : of) weight.back().push_back(g(random)), b[i] += weight.back().back();
        scale.push_back(1 + g(random));
        whole += scale.back() * b * b.transpose();
        for (int i : of)
            for (int j : of)
                if (i >= j) pattern.insert({i, j});
    }
    for (size_t k = 0; k < at.size(); ++k) rows.push_back({at[k].data(), weight[k].data(), int(at[k].size())});
    SparseLower with = with_room(m, rows);
    EXPECT_EQ((with.times(Eigen::MatrixXd::Identity(n, n)) - m.times(Eigen::MatrixXd::Identity(n, n))).norm(), 0);
    add_outer_products(with, rows, scale);
    EXPECT_LT((with.times(Eigen::MatrixXd::Identity(n, n)) - whole).cwiseAbs().maxCoeff(), 1e-12 * n);
    EXPECT_EQ(with.row.size(), pattern.size());
    for (int j = 0; j < n; ++j) {
        const auto from = with.row.begin() + with.start[size_t(j)], to = with.row.begin() + with.start[size_t(j) + 1];
        EXPECT_EQ(*from, j);
        EXPECT_TRUE(std::is_sorted(from, to));
        for (auto r = from; r != to; ++r) EXPECT_TRUE(pattern.count({*r, j})) << *r << " " << j;
    }
    const SparseLower again = with_room(with, rows);
    EXPECT_TRUE(again.row == with.row && again.value == with.value);  // with room already
}

// Groups of unknowns are analysed in place of unknowns: bending and plane of a node are two, which meet at some nodes
// only, and within a group something may be missing.
TEST(Factor, OfNodesWithSeveralUnknownsSolvesTheirEquations) {
    for (int block : {2, 3, 5}) {
        const int wide = 9, high = 8, n = wide * high * block;
        auto couples = [&](int i, int j) {
            const int p = i / block, q = j / block;
            if (std::abs(p % wide - q % wide) > 1 || std::abs(p / wide - q / wide) > 1) return false;
            const bool same_group = (i % block < 3) == (j % block < 3);
            return same_group ? (i * 5 + j) % 7 != 0 : p % 4 == 0 || q % 4 == 0;
        };
        SparseLower m = made_up(n, couples);
        m.block = block;
        std::vector<Point> places;
        for (int i = 0; i < wide * high; ++i) places.push_back({double(i % wide), double(i / wide)});
        Factor f(m, places);
        ASSERT_TRUE(f.factorize(m)) << block;
        const Eigen::MatrixXd b = Eigen::MatrixXd::Random(n, 3);
        Eigen::MatrixXd x = b;
        f.solve_in_place(x);
        EXPECT_LT((m.times(x) - b).cwiseAbs().maxCoeff(), 1e-13 * n) << block;
        std::vector<int> order(f.order(), f.order() + n);
        for (size_t i = 0; i + 1 < order.size(); ++i)  // those of a group stand together
            if (const int next = (order[i] + 1) % block; next != 0 && next != 3) {
                EXPECT_EQ(order[i + 1], order[i] + 1);
            }
        std::sort(order.begin(), order.end());
        for (int i = 0; i < n; ++i) ASSERT_EQ(order[size_t(i)], i) << block;
        EXPECT_TRUE(f.factorize_by_library(m)) << block;
        EXPECT_LE(f.bytes(), sizeof(double) * size_t(n) * size_t(n)) << block;
    }
}

// Large enough that single fronts are shared out too.
TEST(Factor, IsTheSameOnOneCoreAndOnManyAndStopsWhenAsked) {
    const testing::System s(raft(box(0, 0, 42, 30), 0.5, 2e4), 0.45);
    const Eigen::MatrixXd b = Eigen::MatrixXd::Random(s.full.size(), 2);
    Eigen::MatrixXd many = b, one = b;
    s.factor.solve_in_place(many);
    EXPECT_LT((s.full.times(many) - b).cwiseAbs().maxCoeff(), 1e-7);
    Factor f = s.factor.of_same_pattern();
    std::atomic<bool> stop{true};
    EXPECT_THROW(f.factorize(s.full, {&stop, {}}), Stopped);
    EXPECT_THROW(Factor(s.full, s.mesh.nodes, {&stop, {}}), Stopped);
    tbb::task_arena(1).execute([&] { ASSERT_TRUE(f.factorize(s.full)); });
    f.solve_in_place(one);
    EXPECT_EQ(one, many);
}

TEST(Factor, APlateWithoutGroundIsNotPositiveDefinite) {
    const testing::System s(raft(box(0, 0, 4, 3), 0.4, 2e4));
    SparseLower loose = s.K;
    for (size_t i = 0; i < s.mesh.nodes.size(); ++i) loose.value[size_t(loose.start[size_t(s.row(long(i)))])] -= 1e3;
    Factor f(loose, s.mesh.nodes);
    EXPECT_FALSE(f.factorize(loose));
}

TEST(Springs, TheirSumsAndSecondMomentsAreThoseOfTheBase) {
    // Σ A = area, Σ A x = first moment, Σ A (x + offset)² = second moment but for offset²/4 at the rim
    const testing::System s(raft(box(0, 0, 6, 4), 0.4, 2e4));
    double A = 0, Sx = 0, Ixx = 0;
    for (size_t i = 0; i < s.mesh.nodes.size(); ++i) {
        A += s.shares.area[i];
        const double x = s.mesh.nodes[i].x - 3 + s.bed.offset[i].x;
        Sx += s.shares.area[i] * x, Ixx += s.shares.area[i] * x * x;
    }
    EXPECT_NEAR(A, 24, 1e-9);
    EXPECT_NEAR(Sx, 0, 1e-9);
    EXPECT_NEAR(Ixx, 4 * 216.0 / 12, 0.003 * 72);
    // An opening and a skew rim change nothing in this.
    Model m = raft({{0, 0}, {7, 1}, {6, 6}, {1, 5}}, 0.4, 2e4);
    m.slab.openings.push_back({"O", box(3, 2, 4, 3.5), {}});
    const testing::System t(m);
    double area = 0;
    Point first;
    for (size_t i = 0; i < t.mesh.nodes.size(); ++i) {
        area += t.shares.area[i];
        first = first + t.shares.area[i] * (t.mesh.nodes[i] + t.bed.offset[i]);
    }
    const Polygon rim = std::get<Polygon>(m.slab.outline);
    EXPECT_NEAR(area, signed_area(rim) - 1.5, 1e-9);
    EXPECT_NEAR(first.x, signed_area(rim) * centroid(rim).x - 1.5 * 3.5, 1e-9);
}

TEST(Slots, AStepInThicknessHasTwoValuesAndTheFileTheLarger) {
    Model m = raft(box(0, 0, 6, 4), 0.4, 2e4);
    m.slab.patches.push_back({"T", box(2, 1, 4, 3), 0.8, Flush::middle, "", {}});
    m.columns = {column("C", 3, 2)};
    m.columns[0].stiff_footprint = false;
    testing::load(m, {ColumnLoad{"C", 1000, 0, 0, 0, 0}, {}});
    const auto a = solve(m);
    int corner = -1;
    for (int i = 0; i < int(a->mesh.nodes.size()); ++i)
        if (distance(a->mesh.nodes[size_t(i)], {2, 2}) < 1e-6) corner = i;
    ASSERT_GE(corner, 0);
    const auto& here = a->slots.of_node[size_t(corner)];
    ASSERT_EQ(here.size(), 2u);
    const CombinationAnswer& c = a->combinations[0];
    const double one = c.forces[here[0]].my, two = c.forces[here[1]].my;
    EXPECT_NE(one, two);  // my along the step: stiffness differs eightfold
    EXPECT_EQ(a->force_at_node(c, corner, &PlateForces::my), std::abs(one) > std::abs(two) ? one : two);
    EXPECT_NEAR(c.forces[here[0]].mx, c.forces[here[1]].mx,
                0.2 * std::abs(c.forces[here[0]].mx) + 3);  // mx across it goes on
}

TEST(Slots, FitsReproduceALinearMomentField) {
    // Weights sum to one and have their centre at the node, so a linear field comes back exactly.
    Model m = raft({{0, 0}, {7, 1}, {6, 6}, {1, 5}}, 0.4, 2e4);
    m.slab.openings.push_back({"O", box(3, 2, 4, 3.5), {}});
    m.columns = {column("C", 2, 3)};
    const testing::System s(m);
    const Slots slots_ = make_slots(s.plate, s.mesh);
    for (size_t k = 0; k < slots_.node.size(); ++k) {
        double sum = 0;
        Point centre;
        for (auto [e, w] : slots_.fit[k]) sum += w, centre = centre + w * centroid(s.mesh.polygon(e));
        EXPECT_NEAR(sum, 1, 1e-9);
        if (slots_.fit[k].size() >= 8) {
            EXPECT_LT(distance(centre, s.mesh.nodes[size_t(slots_.node[k])]), 1e-6) << "slot " << k;
        }
    }
}

TEST(StiffFootprint, KeepsTheSlabFlatUnderTheColumn) {
    Model m = raft(box(0, 0, 6, 5), 0.3, 2e4);
    m.columns = {column("C", 3, 2.5, 0.8)};
    testing::load(m, {ColumnLoad{"C", 900, 0, 0, 0, 0}, {}});
    auto dip = [&] {
        const auto a = solve(m);
        return testing::settlement(*a, {3, 2.5}) - testing::settlement(*a, {3.4, 2.5});
    };
    const double stiff = dip();
    m.columns[0].stiff_footprint = false;
    EXPECT_LT(stiff, 0.35 * dip());
}

// --- equilibrium before solving

TEST(Balance, IsFoundByWhereTheResultantLands) {
    const Polygon hull = box(0, 0, 6, 4);
    EXPECT_EQ(find_balance({100, -200, 300}, hull).ending, Ending::solved);  // lands at (3, 2)
    const Balance over = find_balance({100, -200, 700}, hull);               // at (7, 2)
    EXPECT_EQ(over.ending, Ending::overturns);
    EXPECT_NEAR(over.outside, 1, 1e-12);
    EXPECT_EQ(find_balance({100, -200, 600}, hull).ending, Ending::overturns);  // on the very rim
    const Balance up = find_balance({-50, 10, 0}, hull);
    EXPECT_EQ(up.ending, Ending::lifts_free);
    EXPECT_EQ(up.net_uplift, 50);
    EXPECT_EQ(find_balance({0, 10, 0}, hull).ending, Ending::lifts_free);  // a pure moment
    EXPECT_EQ(find_balance({0, 0, 0}, hull).ending, Ending::solved);       // nothing acts
}

TEST(YieldFactor, IsThePlasticLimitOfTheBase) {
    std::vector<Point> nodes;
    std::vector<double> area;
    const int n = 60;
    for (int i = 0; i < n; ++i)
        for (int j = 0; j < n; ++j)
            nodes.push_back({6 * (i + 0.5) / n, 4 * (j + 0.5) / n}), area.push_back(24.0 / (n * n));
    EXPECT_NEAR(yield_load_factor({1200, -2400, 3600}, nodes, area, 80), 80 * 24 / 1200.0, 0.01);
    // e = 1 m along x: a block 4 m long, 80 · 16 = 1280 kN
    EXPECT_NEAR(yield_load_factor({1200, -2400, 4800}, nodes, area, 80), 1280 / 1200.0, 0.01);
}

}  // namespace
}  // namespace mossbed
