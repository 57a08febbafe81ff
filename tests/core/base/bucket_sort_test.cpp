#include "core/base/bucket_sort.h"

#include <gtest/gtest.h>

#include <random>

namespace mossbed {
namespace {

TEST(BucketSort, OrdersAsAnyOtherAndSaysWhereBucketsBegin) {
    std::mt19937 chance(7);
    for (int size : {0, 1, 40, 700}) {
        std::vector<std::pair<int, int>> all;
        for (int i = 0; i < size; ++i) all.push_back({int(chance() % 90), int(chance() % 5)});
        auto expected = all;
        std::sort(expected.begin(), expected.end());
        const std::vector<size_t> start = sort_in_buckets(all, 100, [](const auto& p) { return p.first; });
        EXPECT_EQ(all, expected);
        ASSERT_EQ(start.size(), 101u);
        EXPECT_EQ(start.back(), all.size());
        for (int b = 0; b < 100; ++b)
            for (size_t k = start[size_t(b)]; k < start[size_t(b) + 1]; ++k) EXPECT_EQ(all[k].first, b);
    }
}

}  // namespace
}  // namespace mossbed
