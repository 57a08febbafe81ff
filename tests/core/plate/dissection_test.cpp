// The order of elimination: a permutation whatever it is given, the same on one core and on many, and with as little
// fill as an approximate minimum degree gives.
#include "core/plate/dissection.h"

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <Eigen/OrderingMethods>
#include <Eigen/SparseCore>
#include <random>
#include <set>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using namespace testing;

using Pairs = std::set<std::pair<int, int>>;  // the larger number first

SparseLower graph_of(int n, const Pairs& pairs) {
    SparseLower g;
    g.start = {0};
    for (int j = 0; j < n; ++j) {
        g.row.push_back(j);
        for (int i = j + 1; i < n; ++i)
            if (pairs.contains({i, j})) g.row.push_back(i);
        g.start.push_back(int(g.row.size()));
    }
    return g;
}

// Which nodes of a mesh share an element.
SparseLower graph_of(const Mesh& mesh) {
    std::vector<std::set<int>> below(mesh.nodes.size());
    for (const Element& e : mesh.elements)
        for (int k = 0; k < corners(e); ++k)
            for (int l = 0; l < corners(e); ++l) below[size_t(std::min(e[k], e[l]))].insert(std::max(e[k], e[l]));
    SparseLower g;
    g.start = {0};
    for (const auto& of : below) {
        g.row.insert(g.row.end(), of.begin(), of.end());
        g.start.push_back(int(g.row.size()));
    }
    return g;
}

// Entries of the factor, by eliminating one after the other.
size_t entries(const SparseLower& g, const std::vector<int>& order) {
    std::vector<int> place(order.size());
    for (size_t i = 0; i < order.size(); ++i) place[size_t(order[i])] = int(i);
    std::vector<std::set<int>> later(order.size());  // by places
    for (int j = 0; j < g.size(); ++j)
        for (int k = g.start[size_t(j)] + 1; k < g.start[size_t(j) + 1]; ++k) {
            const int a = place[size_t(j)], b = place[size_t(g.row[size_t(k)])];
            later[size_t(std::min(a, b))].insert(std::max(a, b));
        }
    size_t sum = 0;
    for (auto& of : later) {
        sum += 1 + of.size();
        if (of.empty()) continue;
        auto& next = later[size_t(*of.begin())];
        next.insert(std::next(of.begin()), of.end());
    }
    return sum;
}

std::vector<int> by_minimum_degree(const SparseLower& g) {
    std::vector<Eigen::Triplet<double>> triplets;
    for (int j = 0; j < g.size(); ++j)
        for (int k = g.start[size_t(j)]; k < g.start[size_t(j) + 1]; ++k)
            triplets.emplace_back(g.row[size_t(k)], j, 1.0), triplets.emplace_back(j, g.row[size_t(k)], 1.0);
    Eigen::SparseMatrix<double> m(g.size(), g.size());
    m.setFromTriplets(triplets.begin(), triplets.end());
    Eigen::PermutationMatrix<Eigen::Dynamic, Eigen::Dynamic, int> p;
    Eigen::AMDOrdering<int>()(m, p);
    return {p.indices().data(), p.indices().data() + p.size()};
}

void expect_permutation(const std::vector<int>& order, int n) {
    std::set<int> seen(order.begin(), order.end());
    ASSERT_EQ(int(order.size()), n);
    ASSERT_EQ(int(seen.size()), n);
    if (n == 0) return;
    EXPECT_EQ(*seen.begin(), 0);
    EXPECT_EQ(*seen.rbegin(), n - 1);
}

TEST(Dissection, IsAPermutationWhateverMeetsWherever) {
    std::mt19937 random(4);
    for (int n : {0, 1, 2, 8, 9, 10, 33, 300})
        for (double share : {0.0, 0.02, 0.3, 1.0})
            for (bool at_one_place : {false, true}) {
                std::uniform_real_distribution<double> u(0, 1);
                Pairs pairs;
                for (int i = 0; i < n; ++i)
                    for (int j = 0; j < i; ++j)
                        if (u(random) < share) pairs.insert({i, j});
                std::vector<Point> at;
                for (int i = 0; i < n; ++i) at.push_back(at_one_place ? Point{3, 4} : Point{u(random), u(random)});
                expect_permutation(dissected_order(graph_of(n, pairs), at), n);
            }
}

TEST(Dissection, OfAGridLeavesTheFewestInTheMiddleToTheEnd) {
    // a strip of 3 by 9: the cut goes across, and the three beside it, one a row, come last
    Pairs pairs;
    std::vector<Point> at;
    auto number = [](int x, int y) { return 3 * x + y; };
    for (int x = 0; x < 9; ++x)
        for (int y = 0; y < 3; ++y) {
            at.push_back({double(x), double(y)});
            if (x > 0) pairs.insert({number(x, y), number(x - 1, y)});
            if (y > 0) pairs.insert({number(x, y), number(x, y - 1)});
        }
    const std::vector<int> order = dissected_order(graph_of(27, pairs), at);
    std::set<double> rows;
    for (int i = 24; i < 27; ++i) {
        const Point p = at[size_t(order[size_t(i)])];
        rows.insert(p.y);
        EXPECT_NEAR(p.x, 4, 1);
    }
    EXPECT_EQ(rows.size(), 3u);
}

TEST(Dissection, FillsNoMoreThanAnApproximateMinimumDegree) {
    Model askew = raft({{0, 0}, {21, 2}, {24, 13}, {9, 11}, {1, 15}}, 0.5, 2e4);
    askew.slab.openings.push_back({"O", box(10, 4, 12, 7), {}});
    std::mt19937 random(2);
    std::uniform_real_distribution<double> u(0, 1);
    for (int i = 0; i < 12; ++i)
        askew.columns.push_back(column(fmt::format("C{}", i), 2 + 1.5 * i, 3.5 + 5 * u(random), 0.4));
    for (const Model& m : {raft(box(0, 0, 22, 14), 0.5, 2e4), askew}) {
        const Mesh mesh = build_mesh(m, 0.45);
        const SparseLower g = graph_of(mesh);
        ASSERT_GT(g.size(), 1000);
        EXPECT_LT(double(entries(g, dissected_order(g, mesh.nodes))), 1.02 * double(entries(g, by_minimum_degree(g))));
    }
}

TEST(Dissection, IsTheSameOnOneCoreAndOnManyAndThoughOthersAreStopped) {
    const Mesh mesh = build_mesh(raft(box(0, 0, 40, 30), 0.5, 2e4), 0.42);
    const SparseLower g = graph_of(mesh);
    ASSERT_GT(g.size(), 6000);
    const std::vector<int> many = dissected_order(g, mesh.nodes);
    expect_permutation(many, g.size());
    std::vector<int> one, stopped;
    tbb::task_arena(1).execute([&] { one = dissected_order(g, mesh.nodes); });
    EXPECT_EQ(one, many);
    tbb::task_group_context group;
    tbb::parallel_for(
        0, 1,
        [&](int) {
            group.cancel_group_execution();
            stopped = dissected_order(g, mesh.nodes);
        },
        tbb::simple_partitioner(), group);
    EXPECT_EQ(stopped, many);
}

}  // namespace
}  // namespace mossbed
