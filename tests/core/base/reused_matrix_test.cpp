#include "core/base/reused_matrix.h"

#include <gtest/gtest.h>
#include <tbb/parallel_for.h>

#include <atomic>
#include <optional>
#include <vector>

namespace mossbed {
namespace {

constexpr long large = 900;  // rows and columns: 3.2 MB

ReusedMatrix made(long rows, long columns) {
    ReusedMatrix m;
    m.make(rows, columns);
    return m;
}

class Reused : public ::testing::Test {
  protected:
    // What others have left gives way to one that takes nearly all the room there is.
    Reused() { made(3900, 4000); }
};

TEST_F(Reused, StandsWhereOneStoodThatIsNoMore) {
    const float* where = nullptr;
    {
        const ReusedMatrix m = made(large, large);
        where = m.data();
    }
    const size_t kept = ReusedMatrix::kept();
    EXPECT_GE(kept, sizeof(float) * large * large);
    const ReusedMatrix a = made(large - 7, large);  // a little smaller
    EXPECT_EQ(a.data(), where);
    EXPECT_EQ(a.rows(), large - 7);
    EXPECT_EQ(a.cols(), large);
    EXPECT_LT(ReusedMatrix::kept(), kept);
    const ReusedMatrix b = made(large, large);  // while the other stands there
    EXPECT_NE(b.data(), where);
}

TEST_F(Reused, OfALittleLargerSizeStandsThereToo) {
    const float* where = nullptr;
    {
        const ReusedMatrix m = made(large + 100, large);
        where = m.data();
    }
    const ReusedMatrix a = made(large + 120, large);
    EXPECT_EQ(a.data(), where);
}

TEST_F(Reused, TakesNoMoreThanTwiceWhatItNeeds) {
    std::optional<ReusedMatrix> m = made(2 * large + 50, 2 * large);
    const float* const where = m->data();
    m.reset();
    const ReusedMatrix small = made(large, large);
    EXPECT_NE(small.data(), where);
    ReusedMatrix one = made(2 * large, 2 * large);
    EXPECT_EQ(one.data(), where);
    one.make(large, large);  // and gives it up where it needs far less itself
    EXPECT_NE(one.data(), where);
    EXPECT_EQ(one.size(), large * large);
}

TEST_F(Reused, KeepsNoMoreThanIsSaid) {
    std::vector<ReusedMatrix> many;
    for (int i = 0; i < 6; ++i) many.push_back(made(2000, 2000));  // 16 MB each
    many.clear();
    EXPECT_LE(ReusedMatrix::kept(), ReusedMatrix::most_kept);
    EXPECT_GE(ReusedMatrix::kept(), 3 * sizeof(float) * 2000 * 2000);
    const size_t before = ReusedMatrix::kept();
    { const ReusedMatrix huge = made(4200, 4200); }  // 70 MB
    EXPECT_EQ(ReusedMatrix::kept(), before);
}

TEST_F(Reused, MovesWithItsNumbers) {
    ReusedMatrix a = made(3, 2);
    for (long i = 0; i < 6; ++i) a(i / 2, i % 2) = float(i);
    ReusedMatrix b = std::move(a);
    EXPECT_EQ(a.size(), 0);
    ASSERT_EQ(b.rows(), 3);
    EXPECT_EQ(b(2, 1), 5);
    ReusedMatrix c = made(1, 1);
    c(0, 0) = 7;
    c = std::move(b);
    ASSERT_EQ(c.size(), 6);
    EXPECT_EQ(c(0, 1), 1);
    EXPECT_EQ(ReusedMatrix().size(), 0);
    Eigen::MatrixXd out;
    multiply(c, Eigen::MatrixXd::Ones(2, 1), out);
    EXPECT_EQ(out(2, 0), 9);
}

TEST_F(Reused, IsOneOwnersAloneOnAllThreads) {
    std::atomic<int> wrong = 0;
    tbb::parallel_for(0, 400, [&](int k) {
        ReusedMatrix m = made(60 + k % 5, 60);
        m.setConstant(float(k));
        for (int again = 0; again < 3; ++again) {
            const ReusedMatrix other = made(60, 60 + k % 3);
            wrong += other.data() == m.data();
        }
        wrong += !(m.array() == float(k)).all();
    });
    EXPECT_EQ(wrong, 0);
}

}  // namespace
}  // namespace mossbed
