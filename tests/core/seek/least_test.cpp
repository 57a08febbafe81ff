#include "core/seek/least.h"

#include <gtest/gtest.h>

namespace mossbed {
namespace {

Sought seek_size(double needed, SeekRange range = {1, 4, 0.1}) {
    return least_that_passes(range, [&](double size) { return std::optional(needed / size); });
}

TEST(Seek, FindsTheLeastSizeOfTheGridThatPasses) {
    for (double needed : {0.5, 1.0, 1.04, 1.1, 1.97, 3.2, 3.99}) {
        const Sought s = seek_size(needed);
        ASSERT_TRUE(s.size) << needed;
        EXPECT_GE(*s.size, needed - 1e-9);
        EXPECT_LT(*s.size - 0.1, std::max(needed, 0.91)) << needed;
        EXPECT_NEAR(*s.size, 1 + 0.1 * s.n_steps_below, 1e-9);
    }
}

TEST(Seek, SaysThatNothingPassesAndTriesNoSizeTwice) {
    const Sought none = seek_size(9);
    EXPECT_FALSE(none.size);
    EXPECT_NEAR(none.tries.back().size, 4, 1e-9);
    for (const Sought& s : {none, seek_size(2.7)})
        for (size_t i = 0; i < s.tries.size(); ++i)
            for (size_t k = 0; k < i; ++k) EXPECT_NE(s.tries[i].size, s.tries[k].size);
    EXPECT_LT(seek_size(3.99, {1, 1000, 0.001}).tries.size(), 30u);
    EXPECT_FALSE(seek_size(1, {2, 1, 0.1}).size);  // an empty range
}

TEST(Seek, WhatCannotBeJudgedDoesNotPassAndAStopEndsIt) {
    const Sought s =
        least_that_passes({1, 4, 1}, [](double size) { return size < 3 ? std::nullopt : std::optional(0.9); });
    EXPECT_EQ(s.size, 3);
    std::atomic<bool> stop{false};
    Progress progress;
    progress.stop = &stop;
    int tried = 0;
    EXPECT_THROW(least_that_passes(
                     {0, 100, 1}, [&](double) { return stop = ++tried == 3, std::optional(2.0); }, progress),
                 Stopped);
    EXPECT_EQ(tried, 3);
}

}  // namespace
}  // namespace mossbed
