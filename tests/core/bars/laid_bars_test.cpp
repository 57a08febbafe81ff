// Bars as objects: where they lie, their shapes, laps, numbers and weights, by hand.
#include "core/bars/laid_bars.h"

#include "core/answer/solve.h"
#include "core/bars/schedule.h"
#include "core/base/units.h"
#include "core/codes/en1992/european_code.h"
#include "tests/core/judge/pad.h"

namespace mossbed {
namespace {

using testing::box;
using testing::pad_model;

const EuropeanCode code;

LaidBars bars_of(const Model& m) {
    const auto a = solve(m);
    return list_bars(*a, *a);
}
std::vector<const BarMark*> marks(const LaidBars& list, BarKind kind, const std::string& face = "",
                                  const std::string& direction = "") {
    std::vector<const BarMark*> out;
    for (const BarMark& m : list.marks)
        if (m.kind == kind && (face.empty() || m.face == face) && (direction.empty() || m.direction == direction))
            out.push_back(&m);
    return out;
}

// Clause: EN 1992-1-1 | 8.7.3(1), Table 8.3 | laps, all bars at one place
TEST(EN1992_8_7, LapLengthByHand) {
    // ϕ16 in C30, good bond: l_b,rqd = 571.8, times 1.5; ϕ6 in C50: 1.5 · 10 ϕ … at least 200 mm
    EXPECT_NEAR(code.lap_length(16, 30, 500, true, nullptr), 1.5 * 571.8, 0.5);
    EXPECT_NEAR(code.lap_length(6, 90, 200, true, nullptr), 200, 1e-9);
    Working by;
    code.lap_length(16, 30, 500, false, &by);
    EXPECT_NE(by.terms.back().clause.find("8.7.3"), std::string::npos);
}

// Clauses: EN 1992-1-1 | 8.3, Table 8.1N; 9.3.1.4 | the least bend; legs of U-bars at rims
TEST(EN1992_8_3, LeastBendAndLegs) {
    EXPECT_EQ(code.least_bend(16), 64);
    EXPECT_EQ(code.least_bend(20), 140);
    EXPECT_EQ(code.least_leg_at_rim(700), 1400);
}

// BS 8666:2020, Table 5
TEST(Shapes, LengthsByHand) {
    EXPECT_DOUBLE_EQ(length_of_shape("00", {3900}, 16, 32), 3900);
    EXPECT_DOUBLE_EQ(length_of_shape("11", {500, 2000}, 16, 32), 500 + 2000 - 16 - 16);
    EXPECT_DOUBLE_EQ(length_of_shape("21", {1400, 600, 1400}, 20, 70), 3400 - 70 - 40);
    EXPECT_DOUBLE_EQ(length_of_shape("51", {600, 250, 120}, 10, 20), 2 * 970 - 50 - 50);
    EXPECT_DOUBLE_EQ(length_of_shape("98", {300, 500, 300, 300}, 12, 24), 300 + 1000 + 300 + 300 - 48 - 48);
}

TEST(LaidBars, ThoseOfAPadByHand) {
    const LaidBars list = bars_of(pad_model());  // 4 × 4 m, bottom ϕ20 at 150, top ϕ16 at 200, covers 50
    const auto base = marks(list, BarKind::base, "bottom", "x");
    ASSERT_EQ(base.size(), 1u);
    EXPECT_EQ(base[0]->shape, "00");
    EXPECT_EQ(base[0]->length, 3900);  // 4000 less covers
    EXPECT_EQ(base[0]->number, 26);    // from 60 mm, every 150 to 3940: 1 + ⌊3880/150⌋
    EXPECT_NEAR(base[0]->kg(), 26 * 3.9 * 3.14159265 / 4 * 0.02 * 0.02 * 7850, 1e-3);
    const auto u = marks(list, BarKind::at_rim, "", "x");
    ASSERT_EQ(u.size(), 1u);
    EXPECT_EQ(u[0]->shape, "21");
    EXPECT_EQ(u[0]->number, 52);                            // one at either end of a bottom bar
    EXPECT_EQ(u[0]->sides[1], 600);                         // 700 less covers
    EXPECT_EQ(u[0]->sides[0], 1400);                        // 2 h; the lap of ϕ20 is shorter
    EXPECT_EQ(marks(list, BarKind::chair)[0]->number, 16);  // one a square metre
    EXPECT_TRUE(marks(list, BarKind::trimmer).empty() && marks(list, BarKind::extra).empty());
}

TEST(LaidBars, NumbersAndWeightsAreThoseOfTheBarsDrawn) {
    Model m = testing::designed_raft(box(0, 0, 30, 13), 0.6);
    m.columns = {testing::column("C1", 15, 6)};
    testing::load(m, {ColumnLoad{"C1", 3000, 0, 0, 0, 0}, {}});
    Opening o;
    o.id = "O1", o.outline = box(20, 4, 22, 6);
    m.slab.openings = {o};
    ExtraBars e;
    e.id = "E1", e.outline = box(10, 3, 19, 9), e.diameter = 16, e.spacing = 150, e.held_at_rims = true;
    m.steel.extra = {e};
    const LaidBars list = bars_of(m);
    std::vector<int> drawn(list.marks.size());
    double kg = 0;
    for (const LaidBar& b : list.bars) {
        const BarMark& k = list.marks[size_t(b.mark)];
        ++drawn[size_t(b.mark)];
        kg += k.length / 1000 * 3.14159265358979 / 4 * k.diameter * k.diameter * 1e-6 * 7850;
        if (k.kind == BarKind::base || k.kind == BarKind::extra)
            EXPECT_NEAR(1000 * distance(b.from, b.to), k.length, 1);
        if (k.kind == BarKind::base) {  // none crosses the opening
            const Point middle = 0.5 * (b.from + b.to);
            EXPECT_FALSE(middle.x > 20 && middle.x < 22 && middle.y > 4 && middle.y < 6);
        }
    }
    for (size_t k = 0; k < list.marks.size(); ++k) EXPECT_EQ(drawn[k], list.marks[k].number) << list.marks[k].mark;
    EXPECT_NEAR(list.kg(), kg, 1e-6 * kg);
    double by_kind = 0;
    for (BarKind k : {BarKind::base, BarKind::extra, BarKind::at_rim, BarKind::trimmer, BarKind::link, BarKind::chair})
        by_kind += list.kg(k);
    EXPECT_NEAR(by_kind, kg, 1e-6 * kg);
}

TEST(LaidBars, LongerThanTheStockTheyAreLapped) {
    Model m = testing::designed_raft(box(0, 0, 30, 4), 0.6);
    m.columns = {testing::column("C1", 15, 2)};
    testing::load(m, {ColumnLoad{"C1", 3000, 0, 0, 0, 0}, {}});
    const double lap = code.lap_length(20, 30, 500, true, nullptr) / 1000;
    const LaidBars list = bars_of(m);
    double longest = 0, along = 0;
    int lines = 0;
    for (const LaidBar& b : list.bars) {
        const BarMark& k = list.marks[size_t(b.mark)];
        if (k.kind != BarKind::base || k.face != "bottom" || k.direction != "x") continue;
        longest = std::max(longest, k.length), along += k.length / 1000;
        if (b.from.x < 0.1) ++lines;
    }
    EXPECT_EQ(longest, 12000);
    // Two laps in each line of 29.9 m and no more than they must be, 25 mm aside.
    EXPECT_GE(along / lines, 29.9 + 2 * lap - 1e-6);
    EXPECT_LE(along / lines, 29.9 + 2 * lap + 0.026);
    m.steel.stock_length = 20;
    for (const BarMark& k : bars_of(m).marks)
        if (k.kind == BarKind::base) EXPECT_LE(k.length, 20000);
}

TEST(LaidBars, AtAStepTheDeeperOnesAreBentUpAndTheOthersGoOn) {
    Model m = pad_model();
    SlabPatch p;
    p.id = "P", p.outline = box(1, 1, 3, 3), p.thickness = 1.0, p.flush = Flush::top;
    m.slab.patches = {p};
    const LaidBars list = bars_of(m);
    int bent = 0;
    for (const BarMark* k : marks(list, BarKind::base, "bottom"))
        if (k->shape == "21") {
            bent += k->number;
            EXPECT_EQ(k->sides[0], 900);   // 1000 less covers
            EXPECT_EQ(k->sides[1], 2000);  // from side to side
        }
    EXPECT_GT(bent, 20);
    for (const BarMark* k : marks(list, BarKind::base, "top")) EXPECT_EQ(k->shape, "00");  // that face is level
}

TEST(LaidBars, OpeningsAreTrimmedWithHalfOfWhatTheyCutOnEachSide) {
    Model m = testing::designed_raft(box(0, 0, 12, 12), 0.6);
    m.columns = {testing::column("C1", 3, 3)};
    testing::load(m, {ColumnLoad{"C1", 3000, 0, 0, 0, 0}, {}});
    Opening o;
    o.id = "O1", o.outline = box(6, 6, 8, 7.2);
    m.slab.openings = {o};
    const LaidBars list = bars_of(m);
    const auto x = marks(list, BarKind::trimmer, "bottom", "x"), y = marks(list, BarKind::trimmer, "bottom", "y");
    ASSERT_EQ(x.size(), 1u);
    EXPECT_EQ(x[0]->number, 2 * 4);  // 1.2 m at 150: 8 cut, 4 to a side
    EXPECT_EQ(y[0]->number, 2 * 7);  // 2.0 m: 13.3, 7 to a side
    const double lap = code.lap_length(20, 30, 500, true, nullptr);
    EXPECT_LE(x[0]->length, 2000 + 2 * lap);
    EXPECT_GT(x[0]->length, 2000 + 2 * lap - 26);
    EXPECT_EQ(x[0]->where, "opening O1");
}

TEST(Schedule, RowsAddUpAndTheWorkbookHoldsThem) {
    const LaidBars list = bars_of(pad_model());
    const auto rows = schedule_rows(list);
    ASSERT_EQ(rows.size(), list.marks.size());
    double kg = 0;
    for (const auto& r : rows) {
        ASSERT_EQ(r.size(), schedule_heads().size());
        kg += std::stod(r[11]);
        EXPECT_NEAR(std::stod(r[8]) / 1000 * std::stod(r[9]), std::stod(r[10]), 1e-3);
    }
    EXPECT_NEAR(kg, list.kg(), 1e-3 * double(rows.size()));
    const std::string csv = schedule_csv(list);
    EXPECT_EQ(csv.substr(0, csv.find('\n')),
              "mark,diameter_mm,shape_code,A_mm,B_mm,C_mm,D_mm,E_mm,length_mm,number,total_m,weight_kg,face,direction,"
              "where");
    EXPECT_EQ(size_t(std::count(csv.begin(), csv.end(), '\n')), rows.size() + 1);
    const std::string book = schedule_xlsx(list, "A pad", 11.2);
    EXPECT_EQ(book.substr(0, 2), "PK");
    EXPECT_GT(book.size(), 4000u);
}

TEST(LaidBars, OnACircleTheyComeInFewLengthsAndStayOnTheSlab) {
    Model m = pad_model();
    m.slab.outline = Circle{{2, 2}, 6};
    m.steel.strips.reset();
    const LaidBars list = bars_of(m);
    EXPECT_LE(marks(list, BarKind::base, "bottom", "x").size(), 26u);
    EXPECT_GE(marks(list, BarKind::base, "bottom", "x").size(), 10u);
    for (const LaidBar& b : list.bars)
        for (Point p : {b.from, b.to}) EXPECT_LE(distance(p, {2, 2}), 6.0);
}

TEST(LaidBars, WithoutACodeThereAreNone) {
    Model m = pad_model();
    m.settings.design_code = "ACI 318-19";
    EXPECT_TRUE(bars_of(m).marks.empty());
}

}  // namespace
}  // namespace mossbed
