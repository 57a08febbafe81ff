// Extra bars count where they lie on the slab, are anchored and fit beside the base bars.
#include "core/steel/extra_bars.h"

#include "core/codes/en1992/european_code.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::raft;

Model with_bars(Polygon outline, double diameter = 16, double spacing = 200) {
    Model m = raft(box(0, 0, 10, 6), 0.5, 20000);
    ExtraBars e;
    e.id = "E1", e.outline = std::move(outline), e.diameter = diameter, e.spacing = spacing;
    m.steel.extra = {e};
    return m;
}
const EuropeanCode code;

// Clauses: EN 1992-1-1 | 8.4.2(2), 8.4.3(2) | anchorage length of straight bars, for extra bars
TEST(EN1992_8_4, AnchorageLengthByHand) {
    // C30, ϕ16, good bond: fctm = 2.896, fctd = 0.7 · 2.896/1.5 = 1.3517, fbd = 2.25 · 1.3517 = 3.0413;
    // l = 16/4 · 434.78/3.0413 = 571.8 mm; poor bond: /0.7; ϕ40: η2 = 0.92
    EXPECT_NEAR(code.anchorage_length(16, 30, 500, true, nullptr), 571.8, 0.3);
    EXPECT_NEAR(code.anchorage_length(16, 30, 500, false, nullptr), 571.8 / 0.7, 0.5);
    EXPECT_NEAR(code.anchorage_length(40, 30, 500, true, nullptr), 571.8 * 2.5 / 0.92, 1);
}

// Clause: EN 1992-1-1 | 9.2.1.3(2), (3) | extra bars beyond the section by d and their anchorage, linear within it
TEST(ExtraBars, CountInFullOnlyBeyondTheirAnchorage) {
    const Model m = with_bars(box(2, 1, 6, 3));
    const ExtraBarsProvision p(m, &code);
    const double l = 0.5718;
    EXPECT_DOUBLE_EQ(p.anchored(0, {4, 2}, 0), 1);
    EXPECT_NEAR(p.anchored(0, {2 + l / 2, 2}, 0), 0.5, 1e-3);          // half its anchorage from the end
    EXPECT_NEAR(p.anchored(0, {6 - l / 2, 2}, 0), 0.5, 1e-3);          // at the other end too
    EXPECT_NEAR(p.anchored(0, {2 + 0.4 + l / 2, 2}, 0.4), 0.5, 1e-3);  // a section 0.4 m away along it needs it
    EXPECT_DOUBLE_EQ(p.anchored(0, {4, 3.01}, 0), 0);
    EXPECT_NEAR(p.over(0, {4, 0}, {4, 6}, 0), 2 * 1005.3, 2 * 1005.3 / 30);  // 2 m of ϕ16 at 200
}

TEST(ExtraBars, EndAtRimsAndOpeningsAndDoNotCountOffTheSlab) {
    Model m = with_bars(box(-3, -1, 6, 3));  // drawn over the rim
    Opening o;
    o.id = "O", o.outline = box(3, 1, 4, 2);
    m.slab.openings = {o};
    const ExtraBarsProvision p(m, &code);
    EXPECT_DOUBLE_EQ(p.anchored(0, {-1, 1}, 0), 0);
    EXPECT_NEAR(p.anchored(0, {0.5718 / 2, 0.5}, 0), 0.5, 1e-3);  // no anchorage outside the rim
    EXPECT_DOUBLE_EQ(p.anchored(0, {3.5, 1.5}, 0), 0);            // in the opening
    EXPECT_NEAR(p.anchored(0, {3 - 0.5718 / 2, 1.5}, 0), 0.5, 1e-3);
    EXPECT_DOUBLE_EQ(p.anchored(0, {3.5, 0.5}, 0), 1);  // passes it by
}

TEST(ExtraBars, TheLeastOverAPatchIsFoundNotSampled) {
    const double full = 1005.31, l = 0.5718;  // ϕ16 at 200, mm²/m; its anchorage, m
    const Polygon patch = box(2, 1, 5, 3);
    auto least = [&](const Model& m) {
        std::vector<size_t> all(m.steel.extra.size());
        for (size_t i = 0; i < all.size(); ++i) all[i] = i;
        return *ExtraBarsProvision(m, &code).least_in(patch, all);
    };
    EXPECT_NEAR(least(with_bars(box(1, 0.5, 6, 4))), full, 1);              // a metre beyond it on both sides
    EXPECT_NEAR(least(with_bars(box(1.7, 0.5, 6, 4))), full * 0.3 / l, 1);  // 0.3 m only at one end
    EXPECT_NEAR(least(with_bars(box(1, 0.5, 6, 2.9999))), 0, 1e-9);         // a strip of 0.1 mm has none
    EXPECT_NEAR(least(with_bars({{1, 0.5}, {5.2, 0.5}, {5.2, 1.05}, {6, 1.05}, {6, 4}, {1, 4}})), full * 0.2 / l, 1);
    Model two = with_bars(box(1, 0.5, 6, 2));
    two.steel.extra.push_back(two.steel.extra[0]);
    two.steel.extra[1].id = "E2", two.steel.extra[1].outline = box(1, 2, 6, 4);
    EXPECT_NEAR(least(two), full, 1);  // side by side they leave nothing out
    two.steel.extra[1].outline = box(1, 0.5, 6, 4);
    EXPECT_NEAR(least(two), full, 1);  // over each other in part: the least is one of them
    Model cut = with_bars(box(1, 0.5, 6, 4));
    Opening o;
    o.id = "O", o.outline = box(3.31, 1.52, 3.33, 1.54);  // 20 mm: a sample would miss it
    cut.slab.openings = {o};
    EXPECT_NEAR(least(cut), 0, 1);
    EXPECT_FALSE(ExtraBarsProvision(cut, &code).least_in(box(20, 20, 21, 21), {0}));
}

// Clause: EN 1992-1-1 | 8.2(2) | clear distance between bars
TEST(ExtraBars, ThatDoNotFitBetweenBaseBarsAreNotCountedAndSaySo) {
    // ϕ32 at 100 between ϕ32 at 100: 20 bars a metre, clear (1000 − 640)/20 = 18 mm, 32 wanted
    Model m = with_bars(box(2, 1, 6, 5), 32, 100);
    const ExtraBarsProvision p(m, &code);
    EXPECT_NEAR(p.clear_between(0, {32, 100, false, true}).distance, 18, 1e-9);
    EXPECT_FALSE(p.clear_between(0, {32, 100, false, true}).fits());
    EXPECT_TRUE(p.clear_between(0, {16, 200, false, true}).fits());
    m.steel.bottom_x = m.steel.bottom_y = {32, 100};
    testing::load(m, {SlabLoad{30}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    const auto a = solve(m);
    bool said = false;
    for (const Row& r : a->checks)
        if (r.id == "spacing" && r.item == "E1") said = r.status == Status::over && !r.note.empty();
    EXPECT_TRUE(said);
    for (const StripAnswer& s : a->steel.strips)
        for (const SectionRow& r : s.sections)
            if (s.strip.direction == Direction::x) {
                EXPECT_NEAR(r.bottom_provided / r.width, 8042.5, 1);  // base only
            }
    // Two sets over each other are close as well, though each alone is not.
    m = with_bars(box(2, 1, 6, 5), 25, 100);
    m.steel.extra.push_back(m.steel.extra[0]);
    m.steel.extra[1].id = "E2";
    const ExtraBarsProvision two(m, &code);
    Model beside = m;  // side by side they share a side, not a metre of slab
    beside.steel.extra[1].outline = box(6, 1, 9, 5);
    EXPECT_TRUE(ExtraBarsProvision(beside, &code).clear_between(0, {16, 200, false, true}).fits());
    EXPECT_TRUE(
        ExtraBarsProvision(with_bars(box(2, 1, 6, 5), 25, 100), &code).clear_between(0, {16, 200, false, true}).fits());
    EXPECT_FALSE(two.clear_between(0, {16, 200, false, true}).fits());
}

// What counts over a section is integrated exactly; many samples must come to the same.
TEST(ExtraBars, OverASectionAreTheSumOfWhatCountsAlongIt) {
    Model m = with_bars({{1, 0.5}, {7, 1}, {6.5, 5.2}, {3, 3.5}, {1.5, 5}});  // no side along the bars or across them
    m.slab.openings = {{"O", box(3, 2, 4, 3), {}}};
    const ExtraBarsProvision p(m, &code);
    for (auto [from, to] : {std::pair{Point{2.2, 0}, Point{2.2, 6}},
                            {{5.5, 0.2}, {5.0, 5.9}},
                            {{3.5, 0}, {3.5, 6}},
                            {{1.2, 6}, {6.9, 0.4}}})
        for (double past : {0.0, 0.3}) {
            constexpr int n = 40000;
            double sum = 0;
            for (int k = 0; k < n; ++k) sum += p.anchored(0, from + ((k + 0.5) / n) * (to - from), past);
            const double sampled = sum / n * distance(from, to) * p.area(0);
            EXPECT_NEAR(p.over(0, from, to, past), sampled, 2e-4 * sampled + 0.05) << from.x << ", past " << past;
        }
    EXPECT_EQ(p.over(0, {20, 0}, {20, 6}, 0), 0);
}

}  // namespace
}  // namespace mossbed
