// Springs that see many unknowns have their force as an unknown: against the same springs by outer products.
#include <tbb/task_arena.h>

#include <map>

#include "core/contact/plate_flexibility.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;

// A slab on square patches, of some 16 nodes or more, which see slopes too, and a spring of its own under every tenth
// node.
struct OnPatches {
    testing::System slab;
    Supports patches{slab.plate.of};
    SparseLower full, reference;
    int many = 0;
    std::optional<Factor> factor, by_products;

    OnPatches(double width, double height, double thickness, double stiffness, double side = 1.6)
        : slab(testing::raft(box(0, 0, width, height), thickness, 12000), 0.4) {
        std::map<std::pair<int, int>, std::vector<int>> patch;
        const std::vector<Point>& nodes = slab.mesh.nodes;
        for (int i = 0; i < int(nodes.size()); ++i)
            patch[{int(nodes[size_t(i)].x / side), int(nodes[size_t(i)].y / side)}].push_back(i);
        for (const auto& [place, of] : patch) {
            Support s;
            for (int i : of) s.sees.push_back({i, 1.0 / double(of.size()), {0.02 + 0.001 * (i % 7), -0.01}});
            s.stiffness = stiffness * (1 + 0.1 * (place.first + place.second));
            patches.add(s);
            many += of.size() > 13;
        }
        for (int i = 0; i < int(nodes.size()); i += 10) {
            Support s;
            s.sees = {{i, 1, {}}}, s.stiffness = 0.03 * stiffness;
            patches.add(s);
        }
        full = patches.with_springs(slab.K);
        const Supports::Rows& seen = patches.seen();
        std::vector<SparseRow> rows;
        for (int j = 0; j < patches.count(); ++j) {
            const int from = seen.start[size_t(j)];
            rows.push_back({&seen.row[size_t(from)], &seen.weight[size_t(from)], seen.start[size_t(j) + 1] - from});
        }
        reference = with_room(slab.K, rows);
        add_outer_products(reference, rows, patches.stiffness);
        factor.emplace(full, slab.mesh.nodes), by_products.emplace(reference, slab.mesh.nodes);
        if (!factor->factorize(full) || !by_products->factorize(reference))
            throw std::runtime_error("the slab is not held");
    }
    ContactSystem system(const Factor& f) const { return {slab.plate.of, slab.K, f, patches, slab.mesh.nodes}; }
    int unknowns() const { return slab.plate.of.count(); }
};

double difference(const Eigen::MatrixXd& a, const Eigen::MatrixXd& b) {
    return (a - b).cwiseAbs().maxCoeff() / b.cwiseAbs().maxCoeff();
}

TEST(Forces, EliminatedLeaveWhatOuterProductsAdd) {
    const OnPatches on(6.4, 4.8, 0.4, 20000);
    ASSERT_GT(on.many, 6);
    EXPECT_EQ(on.full.forces, on.many);
    EXPECT_EQ(on.full.size(), on.unknowns() + on.many);
    EXPECT_LT(on.full.row.size(), on.reference.row.size() / 2);
    const int n = on.unknowns();
    const Eigen::MatrixXd all = on.full.times(Eigen::MatrixXd::Identity(on.full.size(), on.full.size()));
    EXPECT_EQ(all.bottomRightCorner(on.many, on.many), -Eigen::MatrixXd::Identity(on.many, on.many));
    const Eigen::MatrixXd B = all.bottomLeftCorner(on.many, n);
    EXPECT_LT(
        difference(all.topLeftCorner(n, n) + B.transpose() * B, on.reference.times(Eigen::MatrixXd::Identity(n, n))),
        1e-14);
}

TEST(Forces, AreSolvedWithThePlateToRounding) {
    for (auto [thickness, stiffness] : {std::pair{0.4, 2e4}, {1.5, 300.0}, {0.08, 4e5}}) {
        SCOPED_TRACE(::testing::Message() << thickness << " m on " << stiffness << " kN/m");
        OnPatches on(20, 12, thickness, stiffness);
        EXPECT_EQ(on.factor->size(), on.full.size());
        const Eigen::MatrixXd b = Eigen::MatrixXd::Random(on.unknowns(), 19);
        Eigen::MatrixXd x = b, want = b, few = b.leftCols(3);
        on.factor->solve_in_place(x), on.by_products->solve_in_place(want), on.factor->solve_in_place(few);
        EXPECT_LT(difference(x, want), 1e-9);
        EXPECT_LT(difference(few, want.leftCols(3)), 1e-9);
        EXPECT_LT(difference(on.reference.times(x), b), 1e-6);
        on.factor->keep_single(), on.by_products->keep_single();
        Eigen::MatrixXd single = b, single_by_products = b;
        on.factor->solve_in_single(single), on.by_products->solve_in_single(single_by_products);
        EXPECT_LT(difference(single, want), std::max(2e-5, 3 * difference(single_by_products, want)));
        const Eigen::MatrixXd r = Eigen::MatrixXd::Random(on.patches.count(), 9);
        EXPECT_LT(difference(PlateFlexibility(on.system(*on.factor)).settlements(r, 0.5 * r),
                             PlateFlexibility(on.system(*on.by_products)).settlements(r, 0.5 * r)),
                  1e-4);
    }
}

TEST(Forces, GiveTheSameOnOneCoreAndOnMany) {
    OnPatches on(20, 12, 0.4, 2e4);
    Eigen::MatrixXd many = Eigen::MatrixXd::Random(on.unknowns(), 5), one = many;
    on.factor->solve_in_place(many);
    tbb::task_arena(1).execute([&] {
        Factor f(on.full, on.slab.mesh.nodes);
        ASSERT_TRUE(f.factorize(on.full));
        f.solve_in_place(one);
    });
    EXPECT_EQ(many, one);
}

TEST(Forces, FillTheFactorLessThanOuterProducts) {
    const OnPatches on(40, 30, 0.5, 8e4, 3.2);  // 64 nodes a patch
    EXPECT_LT(double(on.factor->bytes()), 0.75 * double(on.by_products->bytes()));
}

TEST(Forces, WithTheSignOfAPlateAreRefused) {
    OnPatches on(6.4, 4.8, 0.4, 20000);
    SparseLower wrong = on.full;
    *wrong.find(wrong.size() - 1, wrong.size() - 1) = 1e9;
    EXPECT_FALSE(on.factor->factorize(wrong));
    EXPECT_TRUE(on.factor->factorize(on.full));
}

}  // namespace
}  // namespace mossbed
