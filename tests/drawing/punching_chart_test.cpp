// The chart of a punched place, its cone in the Cut, and its perimeter on the plan.
#include "drawing/punching_chart.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include "drawing/cut.h"
#include "drawing/plan.h"
#include "drawing/working_sketch.h"
#include "tests/core/judge/pad.h"

namespace mossbed {
namespace {
using namespace testing;
using ::testing::Contains;
using ::testing::HasSubstr;

Model with_a_column(double Mx = 0) {
    Model m = designed_raft(box(0, 0, 10, 8));
    m.columns = {column("A", 4, 4), column("R", 9.7, 4)};
    load(m, {ColumnLoad{"A", 1500, Mx, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"R", 500, 0, 0, 0, 0}, {}});
    Combination u = (*m.loads.combinations)[0];
    for (int k = 1; k < 5; ++k) {
        u.id = "U" + std::to_string(k), u.factors["G"] = 1 - 0.1 * k;
        m.loads.combinations->push_back(u);
    }
    return m;
}
std::vector<std::string> texts(const Drawing& d) {
    std::vector<std::string> out;
    for (const Mark& m : d.marks)
        if (auto* t = std::get_if<Text>(&m.what)) out.push_back(t->text);
    return out;
}
Box paper() {
    Box b;
    b.add({0, 0}), b.add({300, punching_chart_height});
    return b;
}

TEST(PunchingChart, TheStressRoundAPerimeterIsWhatBetaSumsUp) {
    const auto a = solve(with_a_column(150));
    const PunchingAnswer& p = a->punching.at(0);
    const std::vector<StressInDirection> round = stresses_round(p);
    ASSERT_FALSE(round.empty());
    double most = 0, least = 1e9;
    for (const auto& s : round) most = std::max(most, s.v), least = std::min(least, s.v);
    EXPECT_NEAR(most, p.v, 1e-6);
    const double even = p.V_net / (p.perimeter * p.d) / 1000;
    EXPECT_NEAR(0.5 * (most + least), even, 1e-6);  // as much more on one side as less on the other
    // Mx turns the force towards −y: the south is pressed harder.
    for (const auto& s : round)
        if (std::abs(s.direction - 270) < 30) {
            EXPECT_NEAR(s.v, most, 0.01 * most);  // the ground is a little uneven along x too
        }
    EXPECT_EQ(p.uses.size(), 5u);
    for (size_t k = 1; k < p.uses.size(); ++k) EXPECT_LT(p.uses[k], p.uses[k - 1]);
    EXPECT_NEAR(p.uses[0], p.utilisation, 1e-6);
    ASSERT_TRUE(p.force);
    EXPECT_EQ(p.force->Mx, 150);
}

TEST(PunchingChart, ADotACombinationAndAGapTowardsTheRim) {
    const auto a = solve(with_a_column());
    std::vector<std::string> names;
    for (const auto& c : a->combinations) names.push_back(c.combination.id);
    const PunchingAnswer* rim = nullptr;
    for (const PunchingAnswer& p : a->punching)
        if (p.id == "R") rim = &p;
    ASSERT_TRUE(rim);
    const Drawing d = punching_chart(*rim, names, paper());
    EXPECT_EQ(std::count_if(d.marks.begin(), d.marks.end(),
                            [](const Mark& m) { return std::holds_alternative<Disc>(m.what); }),
              5);
    EXPECT_THAT(texts(d), Contains(std::string("S")));
    EXPECT_THAT(texts(d), Contains(HasSubstr("borne")));
    for (const auto& s : stresses_round(*rim))
        EXPECT_TRUE(s.direction > 60 && s.direction < 300);  // nothing to the east
    for (const Mark& m : d.marks)
        if (const auto* t = std::get_if<Text>(&m.what)) {  // all of it lies on its paper
            EXPECT_GE(-t->at.y, 0);
            EXPECT_LE(-t->at.y, punching_chart_height);
        }
}

TEST(PunchingChart, TheCutShowsTheConeAndWhatPushesBackOnlyWhereItPasses) {
    const auto a = solve(with_a_column());
    CutScene s;
    s.model = a->model.get();
    s.line = {Point{-1, 4}, Point{11, 4}};
    const AlongLine along = along_line(*a, a->combinations[0], s.line);
    s.along = &along, s.punched = &a->punching[0];
    Box sheet;
    sheet.add({0, 24}), sheet.add({940, 250});
    auto cones = [&] {
        const Drawing d = cut_drawing(s, sheet).drawing;
        return std::count_if(d.marks.begin(), d.marks.end(), [](const Mark& m) { return m.layer == Layer::punching; });
    };
    EXPECT_GE(cones(), 4);  // its fill, two flanks, the words
    EXPECT_THAT(texts(cut_drawing(s, sheet).drawing),
                Contains(HasSubstr(fmt::format("{:.0f} kN", a->punching[0].relief))));
    s.line = {Point{-1, 7}, Point{11, 7}};
    EXPECT_EQ(cones(), 0);
    s.line = {Point{-1, 4}, Point{11, 4}}, s.punched = nullptr;
    EXPECT_EQ(cones(), 0);
}

TEST(PunchingChart, TheSketchOfAWorkingShowsTheOpenPerimeterAndItsTrueDistance) {
    const auto a = solve(with_a_column());
    const PunchingAnswer* rim = nullptr;
    for (const PunchingAnswer& p : a->punching)
        if (p.id == "R") rim = &p;
    ASSERT_TRUE(rim);
    const Row* row = nullptr;
    for (const Row& r : a->checks)
        if (r.id == "punching" && r.item == "R") row = &r;
    ASSERT_TRUE(row);
    Box sheet;
    sheet.add({0, 0}), sheet.add({210, 150});
    const Sketch s = working_sketch(*row, *a, sheet);
    EXPECT_THAT(texts(s.drawing), Contains(HasSubstr(fmt::format("{:.0f} mm", 1000 * rim->a))));
    double length = 0;
    for (const Mark& m : s.drawing.marks)
        if (const auto* p = std::get_if<Path>(&m.what); p && m.layer == Layer::punching && !p->closed)
            for (const Polygon& line : *p->rings)
                for (size_t i = 0; i + 1 < line.size(); ++i) length += distance(line[i], line[i + 1]);
    EXPECT_NEAR(length, rim->perimeter, 0.01 * rim->perimeter);
}

TEST(PunchingChart, OnThePlanWhatARimTakesIsMissingAndTheOneLookedAtIsNamed) {
    const auto a = solve(with_a_column());
    PlanScene s;
    s.model = a->model.get(), s.answer = a.get(), s.combination = &a->combinations[0];
    s.quantity = Quantity::none, s.uses = true, s.punched = "R";
    Box sheet;
    sheet.add({0, 0}), sheet.add({900, 500});
    View v;
    v.show(box_of(box(-1, -1, 11, 9)), sheet);
    const Drawing d = plan_drawing(s, v, sheet);
    int lines = 0;
    for (const Mark& m : d.marks)
        if (const auto* p = std::get_if<Path>(&m.what); p && m.layer == Layer::punching && !p->closed && !p->anchor) {
            ++lines;
            for (const Polygon& ring : *p->rings)
                for (Point q : ring) EXPECT_TRUE(q.x < 10 + 1e-6);  // none beyond the rim
        }
    EXPECT_GE(lines, 2);
    EXPECT_THAT(texts(d), Contains(HasSubstr(" · S")));
    EXPECT_THAT(texts(plan_key_of_uses(sheet)), Contains(std::string("over")));
    // What the sheet says already is not said again under the pointer.
    s.hovered = "R";
    EXPECT_TRUE(plan_hair(s).marks.empty());
    std::vector<Row> rows = a->checks;  // others are nearer to their limits
    for (const char* id : {"X", "Y", "Z"}) {
        rows.push_back(row_of("punching", "Punching", id));
        rows.back().judge(0.95);
    }
    s.rows = &rows, s.hovered = "A", s.punched = "";
    EXPECT_THAT(texts(plan_hair(s)), Contains(HasSubstr("A 0.")));
}

}  // namespace
}  // namespace mossbed
