// The same answer by another road: one thread and many, nodes numbered otherwise, moved, turned.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <numeric>
#include <random>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using testing::load;
using testing::raft;

// A raft one side of which lifts, with an opening and a thick patch.
Model lifting_raft() {
    Model m = raft(box(0, 0, 12, 7), 0.6, 15000);
    m.slab.openings.push_back({"O", box(5, 3, 6.2, 4), {}});
    m.slab.patches.push_back({"T", box(1, 1, 4, 3.5), 0.9, Flush::middle, "", {}});
    m.columns = {column("A", 2, 2), column("B", 9, 2), column("C", 2.5, 5.5), column("D", 10, 5)};
    load(m, {ColumnLoad{"A", 1800, 20, -35, 0, 0}, {}});
    load(m, {ColumnLoad{"B", -260, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"C", 900, 0, 40, 0, 0}, {}});
    load(m, {ColumnLoad{"D", 150, 0, 0, 0, 0}, {}});
    load(m, {SlabLoad{3}, {}});
    return m;
}

// The window's small quay has fourteen combinations: several blocks of right-hand sides, cuts and columns side by side.
TEST(SameAnswer, OneThreadAndManyGiveTheSameBits) {
    const Model m = *load_model(SOURCE_DIR "/tests/data/quay-on-springs.mossbed").model;
    std::shared_ptr<const Answer> one;
    {
        tbb::global_control limit(tbb::global_control::max_allowed_parallelism, 1);
        one = solve(m);
    }
    std::shared_ptr<const Answer> many;
    {
        tbb::global_control more(tbb::global_control::max_allowed_parallelism, 5);  // more than there are cores
        many = solve(m);
    }
    ASSERT_EQ(one->combinations.size(), many->combinations.size());
    for (size_t c = 0; c < one->combinations.size(); ++c)
        EXPECT_EQ(one->combinations[c].motion.x, many->combinations[c].motion.x) << one->combinations[c].combination.id;
    ASSERT_EQ(one->checks.size(), many->checks.size());
    for (size_t i = 0; i < one->checks.size(); ++i) {
        EXPECT_EQ(one->checks[i].key(), many->checks[i].key());
        EXPECT_EQ(one->checks[i].utilisation, many->checks[i].utilisation) << one->checks[i].title;
    }
}

// The nodes of a mesh under other numbers.
Mesh shuffled(const Mesh& mesh, unsigned seed, std::vector<int>& number) {
    number.resize(mesh.nodes.size());
    std::iota(number.begin(), number.end(), 0);
    std::shuffle(number.begin(), number.end(), std::mt19937(seed));
    Mesh out = mesh;
    for (size_t i = 0; i < mesh.nodes.size(); ++i) out.nodes[size_t(number[i])] = mesh.nodes[i];
    for (Element& e : out.elements)
        for (int k = 0; k < corners(e); ++k) e[size_t(k)] = number[size_t(e[size_t(k)])];
    for (int& n : out.column_node) n = number[size_t(n)];
    return out;
}

TEST(SameAnswer, WhateverNumbersTheNodesHave) {
    const Model m = lifting_raft();
    const testing::System plain(m);
    const auto a = find_contact(plain.contact(), plain.of_cases(), {});
    ASSERT_EQ(a[0].ending, Ending::solved);
    const NodalMotion one{plain.plate.of, a[0].x};
    double largest = 0;
    for (long i = 0; i < plain.plate.of.nodes(); ++i) largest = std::max(largest, std::abs(one.settlement(i)));
    for (unsigned seed : {1u, 2u, 3u}) {
        std::vector<int> number;
        const testing::System other(m, shuffled(plain.mesh, seed, number));
        const auto b = find_contact(other.contact(), other.of_cases(), {});
        ASSERT_EQ(b[0].ending, Ending::solved);
        const NodalMotion two{other.plate.of, b[0].x};
        for (long i = 0; i < plain.plate.of.nodes(); ++i)
            EXPECT_NEAR(one.settlement(i), two.settlement(number[size_t(i)]), 1e-8 * largest);
        double lifted = 0, lifted_too = 0;
        for (double r : a[0].force) lifted += r == 0;
        for (double r : b[0].force) lifted_too += r == 0;
        EXPECT_GT(lifted, 10);
        EXPECT_EQ(lifted, lifted_too);
        // moments at the nodes too
        const Slots sa = make_slots(plain.plate, plain.mesh), sb = make_slots(other.plate, other.mesh);
        const auto fa = slot_forces(plain.plate, plain.mesh, sa, {&a[0].x}),
                   fb = slot_forces(other.plate, other.mesh, sb, {&b[0].x});
        for (size_t e = 0; e < plain.mesh.elements.size(); e += 7)
            EXPECT_NEAR(fa[0][sa.of_corner[e][0]].mx, fb[0][sb.of_corner[e][0]].mx, 1e-4);
    }
}

TEST(SameAnswer, WhereverTheSlabLies) {
    Model m = lifting_raft(), moved = m;
    const Point by{41250.5, -7300.25};
    auto shift = [&](Polygon& p) {
        for (Point& q : p) q = q + by;
    };
    shift(std::get<Polygon>(moved.slab.outline));
    shift(moved.slab.openings[0].outline), shift(moved.slab.patches[0].outline);
    for (Column& c : moved.columns) c.at = c.at + by;
    const auto a = solve(m), b = solve(moved);
    ASSERT_TRUE(a->combinations[0].is_solved() && b->combinations[0].is_solved());
    EXPECT_NEAR(a->combinations[0].max_pressure, b->combinations[0].max_pressure,
                1e-3 * a->combinations[0].max_pressure);
    EXPECT_NEAR(a->combinations[0].contact_ratio, b->combinations[0].contact_ratio, 1e-3);
}

}  // namespace
}  // namespace mossbed
