// The margin of bars over the slab is that of the strips' sections.
#include "core/judge/margin_map.h"

#include "core/answer/solve.h"
#include "tests/core/judge/pad.h"

namespace mossbed {
namespace {

using testing::pad_model;

TEST(MarginMap, IsWhatTheWorstSectionsHaveBeyondWhatTheyNeed) {
    const auto a = solve(pad_model());
    const MarginMap m = margin_map(*a, *a, Face::bottom, Direction::x);
    ASSERT_TRUE(m.tightest);
    double worst = 0;
    for (const SectionRow& r : a->steel.strips[0].sections)
        worst = std::max(worst, *r.bottom_required / r.bottom_provided);
    EXPECT_NEAR(m.tightest->use, worst, 1e-9);
    EXPECT_EQ(m.tightest->strip, "X1");
    EXPECT_NEAR(m.tightest->at.x, 2, 0.3);           // at the column's face
    EXPECT_NEAR(m.map.least, 100 * (1 - worst), 3);  // nodes lie beside the section
    EXPECT_GT(m.map.most, m.map.least);
    // Minimum steel governs at the rim: ϕ20 at 150, d of the outer layer 700 − 50 − 10
    const double minimum = 0.26 * 2.896 / 500 * 1000 * 640, has = 3.14159265 / 4 * 400 * 1000 / 150;
    const auto hit = a->finder.at({0.05, 2});
    EXPECT_NEAR(m.map.at(hit, a->mesh), 100 * (1 - minimum / has), 0.5);
}

TEST(MarginMap, IsBelowNoughtWhereBendingIsOverAndEmptyWithoutSections) {
    Model model = pad_model();
    model.steel.bottom_x = {10, 250};
    const auto a = solve(model);
    EXPECT_LT(margin_map(*a, *a, Face::bottom, Direction::x).map.least, 0);
    EXPECT_GT(margin_map(*a, *a, Face::bottom, Direction::y).map.least, 0);
    (*model.loads.combinations)[0].purpose = Purpose::service;
    const auto none = solve(model);
    EXPECT_TRUE(margin_map(*none, *none, Face::bottom, Direction::x).map.corner.empty());
}

TEST(MarginMap, WhereNoStripLiesNothingIsSpare) {
    Model model = pad_model();
    (*model.steel.strips)[0].reach = {1, 2};  // the upper metre has none along x
    const auto a = solve(model);
    const MarginMap m = margin_map(*a, *a, Face::bottom, Direction::x);
    EXPECT_EQ(m.map.at(a->finder.at({2, 3.9}), a->mesh), -100);
}

}  // namespace
}  // namespace mossbed
