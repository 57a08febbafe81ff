#include "core/base/short_rows.h"

#include <gtest/gtest.h>

#include <Eigen/Dense>
#include <random>

namespace mossbed {
namespace {

using RowMajor = Eigen::Matrix<float, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

RowMajor random(long rows, long columns, unsigned seed) {
    std::mt19937 bits(seed);
    std::normal_distribution<float> g;
    return RowMajor::NullaryExpr(rows, columns, [&] { return g(bits); });
}

// Every kind that this machine has.
std::vector<Registers> kinds() {
    std::vector<Registers> out{Registers::eights};
    if (widest_registers() == Registers::sixteens) out.push_back(Registers::sixteens);
    return out;
}

TEST(ShortRows, HoldSumsOfRowsToTwoParts100000OfTheLargest) {
    for (Registers kind : kinds())
        for (long n : {1L, 7L, 8L, 9L, 15L, 16L, 17L, 31L, 32L, 33L, 64L, 71L, 128L, 145L, 300L}) {
            const RowMajor rows = random(3, n, 1);
            const Eigen::RowVector3f weight(2.0f, -0.5f, 1e-3f);
            const Eigen::RowVectorXf exact = weight * rows;
            ShortRows a({n, n}, kind);
            a.set_row(1, rows.data(), weight.data(), 3);
            for (long j = 0; j < n; ++j) {
                EXPECT_NEAR(a(1, j), exact[j], 2e-5f * exact.cwiseAbs().maxCoeff()) << n << " " << j;
                EXPECT_EQ(a(0, j), 0);
            }
        }
}

TEST(ShortRows, MultiplyEachByItsOwnLength) {
    for (Registers kind : kinds()) {
        const std::vector<long> lengths{1, 32, 65, 300, 7};
        ShortRows a(lengths, kind);
        const float one = 1;
        for (size_t i = 0; i < lengths.size(); ++i)
            a.set_row(long(i), random(1, lengths[i], unsigned(i)).data(), &one, 1);
        for (size_t i = 0; i < lengths.size(); ++i) {
            const long n = lengths[i];
            Eigen::VectorXf x = Eigen::VectorXf::Constant(ShortRows::padded(n), 1e30f);  // what lies beyond is not read
            x.head(n) = 1e6f * random(n, 1, 3);
            ASSERT_GE(x.size(), n);
            double exact = 0, size = 0;
            for (long j = 0; j < n; ++j) {
                const double part = double(a(long(i), j)) * double(x[j]);
                exact += part, size += std::abs(part);
            }
            EXPECT_NEAR(a.times(long(i), x.data()), exact, 1e-6 * size) << n;
        }
    }
}

TEST(ShortRows, TakeARowAnewWhateverItHeld) {
    const float one = 1, some[] = {3, -4, 5}, none[] = {0, 0, 0};
    ShortRows a({3});
    a.set_row(0, some, &one, 1);
    EXPECT_NEAR(a(0, 1), -4, 1e-4);
    a.set_row(0, none, &one, 1);
    for (long j = 0; j < 3; ++j) EXPECT_EQ(a(0, j), 0);
    const std::vector<float> x(size_t(ShortRows::padded(3)), 1.0f);
    EXPECT_EQ(a.times(0, x.data()), 0);
}

}  // namespace
}  // namespace mossbed
