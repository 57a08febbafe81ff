// Extra bars laid where one strip is short of steel.
#include "core/steel/extra_along.h"

#include <gmock/gmock.h>

#include "core/codes/code.h"
#include "core/model/strip_area.h"
#include "tests/core/judge/pad.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

const Row& bending(const Answer& a, const std::string& item) {
    for (const Row& r : a.checks)
        if (r.id == "bending" && r.item == item) return r;
    throw std::runtime_error("no row " + item);
}
// 12 × 6 m on two columns, its bars short under both.
Model short_of_steel() {
    Model m = designed_raft(box(0, 0, 12, 6));
    m.columns = {column("A", 3, 3), column("B", 9, 3)};
    load(m, {ColumnLoad{"A", 2000, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"B", 1600, 0, 0, 0, 0}, {}});
    m.steel.bottom_x = m.steel.bottom_y = {16, 200};
    m.steel.strips = std::vector<Strip>{{"X", Direction::x, {Point{0, 3}, {12, 3}}, {1, 1}, {}},
                                        {"Y", Direction::y, {Point{6, 0}, {6, 6}}, {6, 6}, {}}};
    return m;
}

TEST(ExtraAlong, MakesUpWhatAStripIsShortOfAndNoMore) {
    Model m = short_of_steel();
    const auto code = make_code(m.settings);
    const auto a = solve(m);
    ASSERT_EQ(bending(*a, "X bottom").status, Status::over);
    const ExtraAlong found = extra_along(m, *code, a->steel, 0, Face::bottom);
    EXPECT_EQ(found.why, "");
    ASSERT_EQ(found.bars.size(), 2u);  // one under each column
    double most = 0;
    for (const SectionRow& r : a->steel.strips[0].sections)
        most = std::max(most, (*r.bottom_required - r.bottom_provided) / r.width);
    for (const ExtraBars& e : found.bars) {
        EXPECT_EQ(e.face, Face::bottom);
        EXPECT_EQ(e.direction, Direction::x);
        EXPECT_TRUE(e.spacing == 200 || e.spacing == 100) << e.spacing;
        const Box b = box_of(e.outline);
        EXPECT_NEAR(b.height(), 2, 1e-9);  // the strip's width
        EXPECT_LT(b.width(), 6);
        EXPECT_EQ(e.held_at_rims, b.low.x <= 0 || b.high.x >= 12);
    }
    // The largest shortage is met by the next bar above it in the list, with a little for depth.
    const ChosenBars under_a{found.bars[0].diameter, found.bars[0].spacing};
    EXPECT_GE(under_a.area(), most);
    double next = 1e300;
    for (double size : m.steel.sizes)
        for (double spacing : {100, 200})
            if (const double area = ChosenBars{size, spacing}.area(); area >= 1.03 * most) next = std::min(next, area);
    EXPECT_NEAR(under_a.area(), next, 1e-6);
    m.steel.extra = found.bars;
    EXPECT_NE(m.steel.extra[0].id, m.steel.extra[1].id);
    const auto b = solve(m);
    EXPECT_EQ(bending(*b, "X bottom").status, Status::pass);
    EXPECT_TRUE(extra_along(m, *code, b->steel, 0, Face::bottom).bars.empty());  // and has enough now
    EXPECT_TRUE(extra_along(m, *code, a->steel, 0, Face::top).bars.empty());
}

TEST(ExtraAlong, SaysWhyWhereNothingCanBeDone) {
    Model m = short_of_steel();
    const auto code = make_code(m.settings);
    m.steel.sizes = {10}, m.steel.spacings = {150};
    auto a = solve(m);
    EXPECT_THAT(extra_along(m, *code, a->steel, 0, Face::bottom).why, HasSubstr("more than any bars of the lists"));
    m = short_of_steel();
    m.slab.thickness = 0.25;
    a = solve(m);
    EXPECT_THAT(extra_along(m, *code, a->steel, 0, Face::bottom).why, HasSubstr("thicker"));
    m = short_of_steel();
    m.steel.angle = 30;
    a = solve(m);
    EXPECT_THAT(extra_along(m, *code, a->steel, 0, Face::bottom).why, HasSubstr("between the mats"));
}

}  // namespace
}  // namespace mossbed::testing
