#include "core/base/short_matrix.h"

#include <gtest/gtest.h>

#include <random>

namespace mossbed {
namespace {

using RowMajor = Eigen::Matrix<float, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

RowMajor random(long rows, long columns, unsigned seed) {
    std::mt19937 bits(seed);
    std::normal_distribution<float> g;
    return RowMajor::NullaryExpr(rows, columns, [&] { return g(bits); });
}

TEST(ShortMatrix, HoldsSumsOfRowsToTwoParts100000OfTheLargest) {
    for (long n : {1L, 7L, 31L, 32L, 33L, 300L}) {
        const RowMajor rows = random(3, n, 1);
        const Eigen::RowVector3f weight(2.0f, -0.5f, 1e-3f);
        const Eigen::RowVectorXf exact = weight * rows;
        ShortMatrix a(2, n);
        a.set_row(1, rows.data(), weight.data(), 3);
        for (long j = 0; j < n; ++j) {
            EXPECT_NEAR(a(1, j), exact[j], 2e-5f * exact.cwiseAbs().maxCoeff()) << n << " " << j;
            EXPECT_EQ(a(0, j), 0);
        }
    }
}

TEST(ShortMatrix, AddsItsProduct) {
    for (long n : {1L, 32L, 65L, 300L}) {
        const RowMajor rows = random(n, n, 2);
        const float one = 1;
        ShortMatrix a(n, n);
        for (long i = 0; i < n; ++i) a.set_row(i, rows.row(i).data(), &one, 1);
        Eigen::MatrixXd held(n, n);
        for (long i = 0; i < n; ++i)
            for (long j = 0; j < n; ++j) held(i, j) = double(a(i, j));
        const Eigen::VectorXd x = 1e6 * random(n, 1, 3).cast<double>(), before = 1e6 * random(n, 1, 4).cast<double>();
        Eigen::VectorXd out = before;
        a.add_product(x, out);
        const Eigen::VectorXd exact = before + held * x;
        EXPECT_LT((out - exact).cwiseAbs().maxCoeff(), 1e-6 * exact.cwiseAbs().maxCoeff()) << n;
        a.add_product(Eigen::VectorXd::Zero(n), out);
        EXPECT_LT((out - exact).cwiseAbs().maxCoeff(), 1e-6 * exact.cwiseAbs().maxCoeff());
    }
}

TEST(ShortMatrix, TakesARowAnewWhateverItHeld) {
    const float one = 1, some[] = {3, -4, 5}, none[] = {0, 0, 0};
    ShortMatrix a(1, 3);
    a.set_row(0, some, &one, 1);
    EXPECT_NEAR(a(0, 1), -4, 1e-4);
    a.set_row(0, none, &one, 1);
    for (long j = 0; j < 3; ++j) EXPECT_EQ(a(0, j), 0);
    Eigen::VectorXd out = Eigen::VectorXd::Ones(1);
    a.add_product(Eigen::Vector3d(1, 2, 3), out);
    EXPECT_EQ(out[0], 1);
}

}  // namespace
}  // namespace mossbed
