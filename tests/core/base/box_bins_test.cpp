// Boxes found by place: the same as by looking at all of them.
#include "core/base/box_bins.h"

#include <gtest/gtest.h>

#include <random>

namespace mossbed {
namespace {

std::vector<Box> random_boxes(int n, double largest, std::mt19937& random) {
    std::uniform_real_distribution<double> at(-50, 70), size(0, largest);
    std::vector<Box> out;
    for (int i = 0; i < n; ++i) {
        const Point low{at(random), at(random)};
        out.push_back({low, low + Point{size(random), i % 3 ? size(random) : 0}});
    }
    return out;
}
std::vector<int> by_looking_at_all(const std::vector<Box>& boxes, const Box& asked) {
    std::vector<int> out;
    for (int i = 0; i < int(boxes.size()); ++i)
        if (!boxes[size_t(i)].empty() && boxes[size_t(i)].overlaps(asked)) out.push_back(i);
    return out;
}

TEST(BoxBins, FindEachThatOverlapsOnceWhateverTheSizes) {
    std::mt19937 random(3);
    for (double largest : {1.0, 3.0, 200.0}) {
        std::vector<Box> boxes = random_boxes(400, largest, random);
        boxes[7] = Box{};  // nothing
        const BoxBins bins(boxes);
        size_t found = 0;
        for (const Box& asked : random_boxes(300, largest, random)) {
            EXPECT_EQ(bins.over(asked), by_looking_at_all(boxes, asked));
            found += bins.over(asked).size();
        }
        for (const Box& asked : random_boxes(40, 90, random))  // over many cells, and past them all
            EXPECT_EQ(bins.over(asked), by_looking_at_all(boxes, asked));
        for (const Box& b : boxes)  // rims count
            if (!b.empty()) EXPECT_FALSE(bins.over({b.high, b.high}).empty());
        EXPECT_GT(found, largest > 100 ? 10000u : 0u);
    }
}

TEST(BoxBins, EndAtTheFirstThatIsWanted) {
    const BoxBins bins({{{0, 0}, {1, 1}}, {{0.5, 0.5}, {2, 2}}, {{5, 5}, {6, 6}}});
    int looked = 0;
    EXPECT_TRUE(bins.any_over({{0, 0}, {9, 9}}, [&](int) { return ++looked == 2; }));
    EXPECT_EQ(looked, 2);
    EXPECT_FALSE(bins.any_over({{3, 3}, {4, 4}}, [](int) { return true; }));
    EXPECT_FALSE(BoxBins().any_over({{0, 0}, {9, 9}}, [](int) { return true; }));
    EXPECT_FALSE(BoxBins({Box{}}).any_over({{0, 0}, {9, 9}}, [](int) { return true; }));
}

}  // namespace
}  // namespace mossbed
