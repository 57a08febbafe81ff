#include "core/base/dense.h"

#include <gtest/gtest.h>

#include <limits>
#include <random>
#include <vector>

namespace mossbed {
namespace {

Eigen::MatrixXd random(long rows, long columns, unsigned seed) {
    std::mt19937 bits(seed);
    std::normal_distribution<double> g;
    return Eigen::MatrixXd::NullaryExpr(rows, columns, [&] { return g(bits); });
}

std::vector<Registers> all_registers() {  // of this machine
    std::vector<Registers> all{Registers::plain};
    for (Registers r : {Registers::eights, Registers::sixteens})
        if (r <= widest_registers()) all.push_back(r);
    return all;
}

TEST(Multiply, IsTheProductWhateverTheSizes) {
    for (Registers registers : all_registers())
        for (long n : {1L, 3L, 15L, 16L, 17L, 257L, 512L, 1030L})
            for (long columns : {1L, 2L, 3L, 4L, 5L, 6L, 7L, 8L, 13L, 24L, 25L, 40L}) {
                const RowMatrix a = random(n % 70 + 5, n, 1).cast<float>();
                const Eigen::MatrixXd x = random(n, columns, 2), exact = a.cast<double>() * x;
                Eigen::MatrixXd out;
                multiply(a, x, out, registers);
                EXPECT_LT((out - exact).cwiseAbs().maxCoeff(), 1e-6 * std::max(1.0, exact.cwiseAbs().maxCoeff()))
                    << int(registers) << " " << n << " " << columns;
                const Eigen::MatrixXd once = out;
                multiply(a, x, out, registers);
                EXPECT_EQ(out, once);  // what it held is gone
            }
}

TEST(Multiply, GivesAColumnTheSameWhateverStandsBesideIt) {
    const RowMatrix a = random(90, 1100, 7).cast<float>();
    Eigen::MatrixXd x = random(1100, 23, 8), all, one;
    x.row(3).setConstant(9);  // the largest of each: one scale
    for (Registers registers : all_registers()) {
        multiply(a, x, all, registers);
        for (long c : {0L, 5L, 22L}) {
            multiply(a, x.col(c), one, registers);
            EXPECT_EQ(one, all.col(c)) << int(registers) << " " << c;
        }
    }
}

TEST(Multiply, TakesWhatIsSmallBeyondSinglePrecisionForWhatItIs) {
    const RowMatrix a = random(10, 20, 9).cast<float>();
    const Eigen::MatrixXd x = 1e-200 * random(20, 2, 10), exact = a.cast<double>() * x;
    Eigen::MatrixXd out;
    multiply(a, x, out);
    EXPECT_LT((out - exact).cwiseAbs().maxCoeff(), 1e-6 * exact.cwiseAbs().maxCoeff());
    multiply(a, 5e-324 * Eigen::MatrixXd::Ones(20, 2), out);
    EXPECT_TRUE(out.isZero(0));  // not infinite
}

TEST(Multiply, LeavesOutWhatMeetsZerosOnly) {
    const RowMatrix a = random(100, 100, 3).cast<float>();
    Eigen::MatrixXd x = random(100, 5, 4);
    for (long i = 0; i < 100; ++i)
        if (i % 7) x.row(i).setZero();
    Eigen::MatrixXd out, alone;
    multiply(a, x, out);
    EXPECT_LT((out - a.cast<double>() * x).cwiseAbs().maxCoeff(), 1e-5);
    RowMatrix nowhere_else = a;
    for (long i = 0; i < 100; ++i)
        if (i % 7) nowhere_else.col(i).setConstant(std::numeric_limits<float>::quiet_NaN());
    multiply(nowhere_else, x, alone);
    EXPECT_EQ(alone, out);
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
