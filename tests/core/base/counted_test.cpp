#include "core/base/counted.h"

#include <gtest/gtest.h>
#include <tbb/parallel_for.h>

#include <vector>

namespace mossbed {
namespace {

TEST(Counted, TellsInSomeFiftyStepsThatNeverGoBack) {
    for (size_t total : {1ul, 7ul, 50ul, 99ul, 20000ul}) {
        std::vector<double> told;  // one at a time: the counter sees to it
        Progress p;
        p.tell = [&](double share, const char* step) {
            EXPECT_STREQ(step, "sorting");
            told.push_back(share);
        };
        Counted counted(p, 0.2, 0.6, total, "sorting");
        tbb::parallel_for(size_t(0), total, [&](size_t) { counted.one_more(); });
        EXPECT_LE(told.size(), 50u) << total;
        for (size_t k = 0; k < told.size(); ++k) {
            EXPECT_GT(told[k], k == 0 ? 0.2 : told[k - 1]) << total;
            EXPECT_LE(told[k], 0.6 + 1e-12) << total;
        }
        if (total < 50) {
            ASSERT_FALSE(told.empty()) << total;
            EXPECT_DOUBLE_EQ(told.back(), 0.6) << total;
        }
    }
}

TEST(Counted, IsSilentWhereNobodyListens) {
    const Progress nobody;
    Counted counted(nobody, 0, 1, 3, "sorting");
    for (int k = 0; k < 3; ++k) EXPECT_NO_THROW(counted.one_more());
}

}  // namespace
}  // namespace mossbed
