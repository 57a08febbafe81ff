// Anchorage of extra bars and laps of base bars, as rows; slips of strips and bars that are told.
#include <gmock/gmock.h>

#include "core/answer/solve.h"
#include "core/codes/en1992/european_code.h"
#include "core/validate/validate.h"
#include "tests/core/judge/pad.h"

namespace mossbed {
namespace {

using testing::box;
using ::testing::HasSubstr;
using testing::pad_model;

const Row* row_called(const Answer& a, const std::string& title) {
    for (const Row& r : a.checks)
        if (r.title == title) return &r;
    return nullptr;
}
// Base bars of half what the column asks, and extra bars to a length.
Model pad_with_extra(double half) {
    Model m = pad_model();
    m.steel.bottom_x = {16, 200};
    ExtraBars e;
    e.id = "E1", e.outline = box(2 - half, 0, 2 + half, 4), e.diameter = 16, e.spacing = 200;
    m.steel.extra = {e};
    return m;
}

// Clause: EN 1992-1-1 | 8.4, 9.2.1.3 | extra bars beyond the last section that asks for them, by the shift and their
// anchorage
TEST(Anchorage, OfExtraBarsIsWhatTheyGoOnBeyondTheSectionThatAsks) {
    Model m = pad_with_extra(1.9);
    m.steel.twisting = false;
    const auto a = solve(m);
    const Row* r = row_called(*a, "Anchorage of extra bars E1");
    ASSERT_TRUE(r);
    EXPECT_EQ(r->status, Status::pass);
    // By hand at the column's face, s = 1.75: M = p · 4 · 1.75²/2, d = 700 − 50 − 8, EN 6.1 with C30.
    double worst = 0;
    const double a_base = 3.14159265 / 4 * 256 * 1000 / 200, d = 642,
                 anchorage = EuropeanCode().anchorage_length(16, 30, 500, true, nullptr);
    for (double s = 0.1; s <= 1.75; s += 0.01) {
        const double M = 185.625 * s * s / 2 * 1e6, K = M / (1000 * d * d * 20);  // a metre; fcd = 20
        const double As = d * (1 - std::sqrt(1 - 2 * K)) * 20 * 1000 / 434.78;
        if (As <= a_base) continue;
        const double wanted = d + anchorage * std::min(1.0, (As - a_base) / a_base);
        worst = std::max(worst, wanted / (1000 * (s - 0.1)));
    }
    ASSERT_GT(worst, 0);
    EXPECT_NEAR(*r->utilisation, worst, 0.06 * worst);  // sections stand at the mesh's pace
    EXPECT_FALSE(r->working.empty());
}

TEST(Anchorage, TooShortBarsAreOverAndSoIsBending) {
    const auto a = solve(pad_with_extra(0.9));
    const Row* r = row_called(*a, "Anchorage of extra bars E1");
    ASSERT_TRUE(r);
    EXPECT_EQ(r->status, Status::over);
    EXPECT_THAT(r->note, HasSubstr("longer"));
    EXPECT_EQ(row_called(*a, "Bending X1 bottom")->status, Status::over);
}

TEST(Anchorage, UBarsHoldWhatEndsAtARim) {
    Model m = pad_with_extra(1.2);
    m.steel.extra[0].outline = box(0, 0, 4, 4);
    m.steel.extra[0].spacing = 100;
    for (bool held : {false, true}) {
        m.steel.extra[0].held_at_rims = held;
        const auto a = solve(m);
        const Row* r = row_called(*a, "Anchorage of extra bars E1");
        EXPECT_EQ(r->utilisation.value() == 0, held);
        if (held) EXPECT_THAT(r->note, HasSubstr("U-bars"));
    }
    // Near the rim they bring all of their steel then.
    m.steel.extra[0].held_at_rims = true;
    const auto a = solve(m);
    const SectionRow& first = a->steel.strips[0].sections.front();
    EXPECT_NEAR(first.bottom_provided, 4 * (1005.3 + 2010.6), 2);
}

TEST(Anchorage, BarsThatNothingAsksForSaySo) {
    Model m = pad_model();
    ExtraBars e;
    e.id = "E1", e.outline = box(1, 1, 3, 3), e.face = Face::top;
    m.steel.extra = {e};
    EXPECT_THAT(row_called(*solve(m), "Anchorage of extra bars E1")->note, HasSubstr("No section asks"));
}

TEST(Anchorage, LapsAreHeldAgainstTheStock) {
    Model m = pad_model();
    const auto a = solve(m);
    const Row* r = row_called(*a, "Laps of base bars");
    ASSERT_TRUE(r);
    // ϕ20 bottom, good bond: 714.8 · 1.5; ϕ16 top, poor bond: 571.8 / 0.7 · 1.5
    EXPECT_NEAR(*r->value, 1.5 * 0.5718 / 0.7, 2e-3);
    EXPECT_EQ(*r->limit, 12);
    m.steel.stock_length = 1.1;
    const auto problems = problems_of(m);
    EXPECT_TRUE(std::any_of(problems.begin(), problems.end(), [](const Problem& p) {
        return p.severity == Severity::error && p.sentence().find("shorter than the lap") != std::string::npos;
    }));
}

TEST(Slips, OfStripsAndBarsAreTold) {
    Model m = pad_model();
    m.steel.strips->push_back({"OFF", Direction::x, {Point{10, 10}, Point{14, 10}}, {1, 1}, {}});
    m.steel.strips->push_back({"X9", Direction::x, {Point{0, 3}, Point{4, 3}}, {0.5, 0.5}, {}});
    const auto a = solve(m);
    EXPECT_TRUE(row_called(*a, "Strip OFF lies off the slab"));
    const Row* both = row_called(*a, "Strips X1 and X9 overlap");
    ASSERT_TRUE(both);
    EXPECT_THAT(both->note, HasSubstr("4.0 m²"));
    ExtraBars e;
    e.id = "E1", e.outline = box(8, 8, 9, 9);
    m.steel.extra = {e};
    const auto problems = problems_of(m);
    EXPECT_TRUE(std::any_of(problems.begin(), problems.end(),
                            [](const Problem& p) { return p.sentence().find("off the slab") != std::string::npos; }));
}

TEST(Depth, IsThatOfTheBarsThatLieAtTheSection) {
    // Extra ϕ32 across the outer layer hold the inner ones off by 16 mm more than base ϕ16.
    Model m = pad_model();
    m.steel.bottom_x = m.steel.bottom_y = {16, 150};
    m.steel.outer_bottom = Direction::x;
    auto needs = [&] {
        const auto a = solve(m);
        double most = 0;
        for (const SectionRow& s : a->steel.strips[1].sections) most = std::max(most, *s.bottom_required);
        return most;
    };
    const double before = needs();
    ExtraBars e;
    e.id = "E1", e.outline = box(0, 0, 4, 4), e.diameter = 32, e.spacing = 300;
    m.steel.extra = {e};
    const double d = 700 - 50 - 16 - 8;
    EXPECT_NEAR(needs() / before, d / (d - 16), 0.004);
}

}  // namespace
}  // namespace mossbed
