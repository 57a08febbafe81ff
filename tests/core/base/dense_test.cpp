#include "core/base/dense.h"

#include <gtest/gtest.h>

#include <random>

namespace mossbed {
namespace {

Eigen::MatrixXd random(long rows, long columns, unsigned seed) {
    std::mt19937 bits(seed);
    std::normal_distribution<double> g;
    return Eigen::MatrixXd::NullaryExpr(rows, columns, [&] { return g(bits); });
}

TEST(Multiply, IsTheProductWhateverTheSizes) {
    for (long n : {1L, 3L, 8L, 31L, 32L, 33L, 257L})
        for (long columns : {1L, 2L, 7L, 8L, 9L, 16L, 17L, 24L, 25L, 40L}) {
            const RowMatrix a = random(n + 5, n, 1).cast<float>();
            const Eigen::MatrixXd x = random(n, columns, 2), exact = a.cast<double>() * x;
            Eigen::MatrixXd out;
            multiply(a, x, out);
            EXPECT_LT((out - exact).cwiseAbs().maxCoeff(), 1e-6 * std::max(1.0, exact.cwiseAbs().maxCoeff()))
                << n << " " << columns;
            const Eigen::MatrixXd once = out;
            multiply(a, x, out);
            EXPECT_EQ(out, once);  // what it held is gone
        }
}

TEST(Multiply, LeavesOutWhatMeetsZerosOnly) {
    const RowMatrix a = random(100, 100, 3).cast<float>();
    Eigen::MatrixXd x = random(100, 5, 4);
    for (long i = 0; i < 100; ++i)
        if (i % 7) x.row(i).setZero();
    Eigen::MatrixXd out;
    multiply(a, x, out);
    EXPECT_LT((out - a.cast<double>() * x).cwiseAbs().maxCoeff(), 1e-5);
    multiply(a, Eigen::MatrixXd::Zero(100, 3), out);
    EXPECT_TRUE(out.isZero(0));
    EXPECT_EQ(out.cols(), 3);
}

TEST(Multiply, IsGoodToAMillionthWhereEverythingAddsUp) {
    const RowMatrix a = random(50, 4000, 5).cwiseAbs().cast<float>();
    const Eigen::MatrixXd x = random(4000, 3, 6).cwiseAbs(), exact = a.cast<double>() * x;
    Eigen::MatrixXd out;
    multiply(a, x, out);
    EXPECT_LT(((out - exact).array() / exact.array()).abs().maxCoeff(), 2e-7);
}

}  // namespace
}  // namespace mossbed
