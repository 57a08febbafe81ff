// What the plate settles under forces at its supports, against a dense solution by Eigen.
#include "core/contact/plate_flexibility.h"

#include <random>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

// A slab of 8 by 6 m on patches: each sees a few nodes, askew to them, and presses on others.
struct OnPatches {
    testing::System slab{testing::raft(testing::box(0, 0, 8, 6), 0.4, 12000), 0.8};
    Supports patches{slab.plate.of};
    SparseLower full;
    Factor factor;
    OnPatches() : full(with_patches()), factor(full, slab.mesh.nodes) {
        if (!factor.factorize(full)) throw std::runtime_error("the slab is not held");
    }
    ContactSystem system() const { return {slab.plate.of, slab.K, factor, patches, slab.mesh.nodes}; }

  private:
    SparseLower with_patches() {
        const int nodes = int(slab.mesh.nodes.size());
        for (int i = 0; i < nodes; ++i) {
            Support s;
            const int next = (i + 1) % nodes;
            s.sees = {{i, 0.7, {0.02, -0.01}}, {next, 0.3, {-0.03, 0.01}}};
            if (i % 3) s.presses = {{i, 0.6, {}}, {next, 0.3, {}}, {(i + 2) % nodes, 0.1, {}}};
            s.stiffness = 8000 + 10 * i;
            patches.add(s);
        }
        return patches.with_springs(slab.K);
    }
};

Eigen::MatrixXd by_chance(long rows, long columns, unsigned seed) {
    std::mt19937 chance(seed);
    std::uniform_real_distribution<double> value(-50, 100);
    return Eigen::MatrixXd::NullaryExpr(rows, columns, [&] { return value(chance); });
}

TEST(PlateFlexibility, GivesTheSettlementsOfADenseSolution) {
    OnPatches on;
    const long n = on.slab.plate.of.count(), supports = on.patches.count();
    Eigen::MatrixXd A = Eigen::MatrixXd::Zero(n, n), B(supports, n), R(supports, n);
    for (int j = 0; j < n; ++j)
        for (int k = on.full.start[size_t(j)]; k < on.full.start[size_t(j) + 1]; ++k)
            A(on.full.row[size_t(k)], j) = A(j, on.full.row[size_t(k)]) = on.full.value[size_t(k)];
    for (long i = 0; i < n; ++i) {
        const Eigen::VectorXd unit = Eigen::VectorXd::Unit(n, i);
        for (int j = 0; j < supports; ++j) B(j, i) = on.patches.settlement(j, unit);
        R.col(i) = on.patches.work_of_pressing(unit);
    }
    const Eigen::LDLT<Eigen::MatrixXd> inverse(A);
    for (const bool single : {false, true}) {
        if (single) on.factor.keep_single();
        const PlateFlexibility plate(on.system());
        for (long columns : {1, 7, 8, 9, 16, 17, 33}) {
            SCOPED_TRACE(::testing::Message() << columns << (single ? " in single precision" : ""));
            Eigen::MatrixXd r = by_chance(supports, columns, 1), t = by_chance(supports, columns, 2);
            r.col(0) *= 1e-6, t.col(0) *= 1e-6;  // each to its own size
            const Eigen::MatrixXd want = B * inverse.solve(R.transpose() * r - B.transpose() * t),
                                  got = plate.settlements(r, t);
            ASSERT_EQ(got.rows(), supports);
            ASSERT_EQ(got.cols(), columns);
            for (long c = 0; c < columns; ++c)
                EXPECT_LT((got.col(c) - want.col(c)).cwiseAbs().maxCoeff(),
                          (single ? 2e-5 : 1e-10) * want.col(c).cwiseAbs().maxCoeff())
                    << c;
        }
    }
}

TEST(PlateFlexibility, AColumnIsTheSameWhateverStandsBesideIt) {
    OnPatches on;
    on.factor.keep_single();
    const PlateFlexibility plate(on.system());
    const Eigen::MatrixXd r = by_chance(on.patches.count(), 13, 3), t = by_chance(on.patches.count(), 13, 4),
                          all = plate.settlements(r, t);
    for (long c = 0; c < 13; ++c) EXPECT_EQ(plate.settlements(r.col(c), t.col(c)), all.col(c)) << c;
    EXPECT_EQ(plate.settlements(r.leftCols(0), t.leftCols(0)).cols(), 0);
}

}  // namespace
}  // namespace mossbed
