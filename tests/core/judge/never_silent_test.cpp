// What cannot be judged yet must not pass: one model a fault, with the row that says so.
#include <gmock/gmock.h>

#include "core/judge/checks.h"
#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using ::testing::HasSubstr;
using testing::load;
using testing::raft;

Model designed(Polygon outline, double thickness = 0.6) {
    Model m = raft(std::move(outline), thickness, 20000);
    Combination s = (*m.loads.combinations)[0];
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    s.id = "SLS", s.purpose = Purpose::service;
    m.loads.combinations->push_back(s);
    return m;
}
Row row(const Answer& a, const std::string& id, const std::string& item = "") {
    for (const Row& r : a.checks)
        if (r.id == id && (item.empty() || r.item == item)) return r;
    Row none;
    none.status = Status::pass, none.title = "no such row";
    return none;
}
Row row(const Model& m, const std::string& id, const std::string& item = "") { return row(*solve(m), id, item); }

// A search that fails on a coarse mesh while a hand drags says nothing of the slab; of the full answer it does.
TEST(NeverSilent, ASearchThatFailedWhileDraggingIsNotCheckedAndInTheFullAnswerOver) {
    Model m = designed(box(0, 0, 8, 6));
    load(m, {SlabLoad{20}, {}});
    const auto solved = solve(m);
    auto rows = [&](Ending ending, bool coarse, std::vector<Row> (*judges)(const Fields&) = judge_equilibrium) {
        Stages stages = solved->stages;
        auto other = std::make_shared<Solution>(*stages.solution);
        other->combinations[0].ending = ending;
        stages.solution = other;
        Fields fields(solved->model, stages);
        fields.coarse = coarse;
        return judges(fields);
    };
    ASSERT_EQ(rows(Ending::not_converged, true).size(), 1u);
    EXPECT_EQ(rows(Ending::not_converged, true)[0].status, Status::not_checked);
    EXPECT_EQ(rows(Ending::not_converged, false)[0].status, Status::over);
    EXPECT_TRUE(rows(Ending::lifts_free, true).empty());
    const auto lifting = rows(Ending::lifts_free, true, judge_stability);  // by statics, on any mesh
    EXPECT_TRUE(std::any_of(lifting.begin(), lifting.end(),
                            [](const Row& r) { return r.id == "flotation" && r.status == Status::over; }));
}

TEST(NeverSilent, WhatIsNotWorkedOutStandsInEveryLedger) {
    Model m = designed(box(0, 0, 8, 6));
    load(m, {SlabLoad{20}, {}});
    const auto a = solve(m);
    for (const char* id : {"sliding", "overturning", "crack-width"}) {
        EXPECT_EQ(row(*a, id).status, Status::not_checked) << id;
        EXPECT_FALSE(row(*a, id).note.empty()) << id;
    }
    EXPECT_EQ(row(*a, "flotation").status, Status::pass);
    EXPECT_THAT(row(*a, "flotation").note, HasSubstr("No water acts"));
    m.settings.design_code = "ACI 318-19";  // without a design there is no anchorage either
    EXPECT_EQ(row(*solve(m), "anchorage").status, Status::not_checked);
}

TEST(NeverSilent, ALimitThatNobodySetIsAStatusOfItsOwn) {
    Model m = designed(box(0, 0, 8, 6));
    m.columns = {column("A", 2, 3), column("B", 6, 3)};
    load(m, {ColumnLoad{"A", 500, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"B", 300, 0, 0, 0, 0}, {}});
    m.checks.settlement_limit.reset(), m.checks.distortion_limit.reset(), m.checks.tilt_limit.reset();
    const auto a = solve(m);
    for (const char* id : {"settlement", "distortion", "tilt", "contact"}) {
        const Row r = row(*a, id);
        EXPECT_EQ(r.status, Status::no_limit) << id;
        EXPECT_TRUE(r.value) << id;
        EXPECT_FALSE(r.utilisation) << id;
    }
    EXPECT_STREQ(name_of(Status::no_limit), "no limit");
    EXPECT_EQ(a->checks.back().status, Status::no_limit);  // last: nothing is wrong with it
}

TEST(NeverSilent, ANumberThatIsNoneJudgesNothing) {
    Row r;
    r.judge(std::nan(""));
    EXPECT_EQ(r.status, Status::not_checked);
    EXPECT_FALSE(r.utilisation);
    EXPECT_FALSE(r.note.empty());
    r.judge(std::numeric_limits<double>::infinity());
    EXPECT_EQ(r.status, Status::over);
    EXPECT_FALSE(r.utilisation);
}

TEST(NeverSilent, ColumnsWhosePerimetersMeetAreJudgedTogetherToo) {
    Model m = designed(box(0, 0, 10, 10));
    m.columns = {column("A", 4.6, 5, 0.4), column("B", 5.4, 5, 0.4), column("C", 1.9, 1.9, 0.4)};
    for (const char* id : {"A", "B", "C"}) load(m, {ColumnLoad{id, 700, 0, 0, 0, 0}, {}});
    const auto a = solve(m);
    EXPECT_GT(*row(*a, "punching", "A+B").utilisation, 1.2 * *row(*a, "punching", "A").utilisation);
    EXPECT_THAT(row(*a, "punching", "A+B").title, HasSubstr("together"));
    EXPECT_EQ(row(*a, "punching", "A+C").title, "no such row");
    EXPECT_EQ(row(*a, "punching", "C").status, Status::pass);
    // Round the thick patches that they stand on, perimeters reach further.
    Model thick = m;
    thick.columns = {column("A", 3, 5, 0.4), column("B", 7, 5, 0.4)};
    thick.loads.cases[0].items.resize(2);
    EXPECT_EQ(row(thick, "punching", "A+B").title, "no such row");
    for (auto [id, x] : {std::pair{"P", 3.0}, {"Q", 7.0}}) {
        SlabPatch t;
        t.id = id, t.outline = box(x - 1.1, 3.9, x + 1.1, 6.1), t.thickness = 0.9, t.flush = Flush::middle;
        thick.slab.patches.push_back(t);
    }
    EXPECT_EQ(row(thick, "punching", "A+B").status, Status::pass);
    m.loads.cases[0].items.clear();  // a neighbour that pulls relieves nothing
    load(m, {ColumnLoad{"A", 700, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"B", -650, 0, 0, 0, 0}, {}});
    load(m, {SlabLoad{20}, {}});
    const auto b = solve(m);
    for (const PunchingAnswer& p : b->punching)
        if (p.id == "A+B") {
            EXPECT_NEAR(p.V, 700, 1e-9);
        }
    EXPECT_EQ(row(*b, "punching", "A+B").combination, "S");
}

TEST(NeverSilent, AColumnThatPullsIsNotPassed) {
    Model m = designed(box(0, 0, 10, 10));
    m.columns = {column("A", 5, 5), column("B", 2, 2), column("C", 8, 8)};
    LoadCase w;
    w.id = "W", w.items = {{ColumnLoad{"A", -900, 0, 0, 0, 0}, {}}};
    for (const char* id : {"A", "B", "C"}) load(m, {ColumnLoad{id, 400, 0, 0, 0, 0}, {}});
    m.loads.cases.push_back(w);
    (*m.loads.combinations)[0].factors["W"] = 1;
    const Row r = row(m, "punching", "A");
    EXPECT_EQ(r.status, Status::not_checked);
    EXPECT_THAT(r.note, HasSubstr("pulls with 500 kN in S"));
}

TEST(NeverSilent, WallsAndHeavyLoadsArePunchedOrSaySo) {
    Model m = designed(box(0, 0, 10, 10));
    Wall w;
    w.id = "W1", w.path = {{4, 5}, {6, 5}}, w.stiffens = false;
    m.walls = {w};
    load(m, {WallLoad{"W1", 1500}, {}});
    load(m, {PointLoad{{2, 2}, 900, 0, 0}, {}});
    load(m, {PointLoad{{8, 2}, 15, 0, 0}, {}});  // π · 0.45 MPa · 0.53² = 400 kN: no slab punches under 15
    const auto a = solve(m);
    EXPECT_NE(row(*a, "punching", "W1").status, Status::not_checked);
    EXPECT_GT(*row(*a, "punching", "W1").utilisation, 0.5);
    EXPECT_NE(row(*a, "punching", "G item 2").status, Status::not_checked);
    EXPECT_EQ(row(*a, "punching", "G item 3").title, "no such row");
    // A line as heavy as a wall's, and a machine on a small area, say so too; a load over the floor does not.
    m = designed(box(0, 0, 10, 10));
    load(m, {LineLoad{{{2, 2}, {4, 2}}, {1200, 1200}}, {}});
    load(m, {LineLoad{{{2, 8}, {8, 8}}, {40, 40}}, {}});
    load(m, {AreaLoad{box(7, 4, 7.6, 4.6), 3000}, {}});  // 1080 kN
    load(m, {AreaLoad{box(1, 4, 6, 7), 20}, {}});
    const auto b = solve(m);
    EXPECT_THAT(row(*b, "punching", "G item 1").title, HasSubstr("line load"));
    EXPECT_EQ(row(*b, "punching", "G item 2").title, "no such row");
    EXPECT_EQ(row(*b, "punching", "G item 3").status, Status::not_checked);
    EXPECT_THAT(row(*b, "punching", "G item 3").note, HasSubstr("1080 kN"));
    EXPECT_EQ(row(*b, "punching", "G item 4").title, "no such row");
}

TEST(NeverSilent, WhatPressesInsideAPerimeterCounts) {
    Model m = designed(box(0, 0, 10, 10));
    m.columns = {column("A", 5, 5, 0.4)};
    load(m, {ColumnLoad{"A", 1500, 0, 0, 0, 0}, {}});
    const auto alone = solve(m);
    load(m, {LineLoad{{{4.6, 5.6}, {5.4, 5.6}}, {500, 500}}, {}});  // 400 kN within 0.4 m of its face
    const auto beside = solve(m);
    ASSERT_FALSE(alone->punching.empty());
    const auto &p = alone->punching[0], &q = beside->punching[0];
    EXPECT_GT(q.V_net - p.V_net, 250);  // 400 less what more the ground pushes back, at about the same perimeter
    EXPECT_GT(q.utilisation, 1.1 * p.utilisation);
}

// Clause: EN 1992-1-1 | 6.4.2(3)
TEST(NeverSilent, OpeningsThatShadeAWholePerimeterLeaveNothing) {
    Model m = designed(box(0, 0, 10, 10));
    m.columns = {column("A", 5, 5, 0.4)};
    load(m, {ColumnLoad{"A", 800, 0, 0, 0, 0}, {}});
    for (auto [id, x0, y0, x1, y1] : {std::tuple{"N", 3.9, 5.5, 6.1, 6.1},
                                      {"S", 3.9, 3.9, 6.1, 4.5},
                                      {"E", 5.5, 4.55, 6.1, 5.45},
                                      {"W", 3.9, 4.55, 4.5, 5.45}}) {
        Opening o;
        o.id = id, o.outline = box(x0, y0, x1, y1);
        m.slab.openings.push_back(o);
    }
    const Row r = row(m, "punching", "A");
    EXPECT_EQ(r.status, Status::over);
    EXPECT_THAT(r.note, HasSubstr("shade the whole perimeter"));
}

TEST(NeverSilent, ConcreteOfAPatchCountsWhereItIs) {
    Model m = designed(box(0, 0, 10, 10), 0.5);
    m.columns = {column("A", 5, 5, 0.4)};
    load(m, {ColumnLoad{"A", 1200, 0, 0, 0, 0}, {}});
    const double sound = *row(m, "punching", "A").utilisation;
    Concrete weak = m.concretes[0];
    weak.id = "weak", weak.fck = 16;
    m.concretes.push_back(weak);
    SlabPatch t;
    t.id = "T", t.outline = box(3.5, 3.5, 6.5, 6.5), t.thickness = 0.5, t.concrete = "weak";
    m.slab.patches = {t};
    m.steel.strips = std::vector<Strip>{{"W", Direction::x, {Point{3.5, 5}, {6.5, 5}}, {1.5, 1.5}, {}},
                                        {"S", Direction::x, {Point{0, 1.5}, {10, 1.5}}, {1.5, 1.5}, {}}};
    const auto a = solve(m);
    EXPECT_GT(*row(*a, "punching", "A").utilisation, 1.15 * sound);  // (30/16)^⅓ = 1.233 of the same force, or more
    EXPECT_NEAR(*row(*a, "minimum-steel", "W bottom").value / *row(*a, "minimum-steel", "S bottom").value,
                0.0013 / (0.26 * 2.8965 / 500), 1e-3);
}

TEST(NeverSilent, CoversThatLeaveNoDepthAreRefusedOrNotJudged) {
    Model m = designed(box(0, 0, 8, 6));
    load(m, {SlabLoad{20}, {}});
    m.steel.cover_bottom = 610, m.steel.keys["cover_bottom"] = "";
    EXPECT_TRUE(has_errors(problems_of(m)));
    m.steel.cover_bottom = 575;
    const auto a = solve(m);
    for (const char* id : {"bending", "minimum-steel", "one-way-shear", "spacing"})
        EXPECT_EQ(row(*a, id).status, Status::not_checked) << id;
    Model thin = designed(box(0, 0, 8, 6), 0.04);  // a study of thin plates states no cover
    load(thin, {SlabLoad{1}, {}});
    EXPECT_FALSE(has_errors(problems_of(thin)));
    EXPECT_EQ(row(thin, "bending").status, Status::not_checked);
}

TEST(NeverSilent, WaterAboveTheBaseIsNotForgotten) {
    Model m = designed(box(0, 0, 8, 6));
    load(m, {SlabLoad{60}, {}});
    m.slab.top_level = -2, m.ground.water_level = -0.5;
    auto a = solve(m);
    EXPECT_EQ(row(*a, "flotation").status, Status::not_checked);
    EXPECT_THAT(row(*a, "flotation").note, HasSubstr("2.10 m below the water"));
    EXPECT_EQ(row(*a, "model", "water").status, Status::not_checked);
    load(m, {Uplift{-1.5}, {}});  // an item that knows of a lower water
    a = solve(m);
    EXPECT_EQ(row(*a, "flotation").status, Status::not_checked);
    EXPECT_THAT(row(*a, "model", "water level").note, HasSubstr("no item lifts to more than -1.50 m"));
    m.ground.water_level = -3;
    m.loads.cases[0].items.pop_back();
    EXPECT_EQ(row(m, "flotation").status, Status::pass);
    // A patch that reaches below the water counts, and water in a borehole.
    SlabPatch pit;
    pit.id = "P", pit.outline = box(1, 1, 3, 3), pit.thickness = 1.5;
    m.slab.patches = {pit};
    EXPECT_EQ(row(m, "flotation").status, Status::not_checked);
}

TEST(NeverSilent, AStripAcrossItsBarsIsJudgedWithThoseThatRunAlongIt) {
    Model m = designed(box(0, 0, 8, 6));
    load(m, {LineLoad{{{0, 3}, {8, 3}}, {300, 300}}, {}});
    m.steel.bottom_x = {20, 100}, m.steel.bottom_y = {10, 200};
    m.steel.top_x = m.steel.top_y = {16, 200};
    Strip k;
    k.id = "K", k.axis = {Point{4, 0}, Point{4, 6}}, k.reach = {2, 2};  // along y, called x
    m.steel.strips = std::vector<Strip>{k};
    const auto a = solve(m);
    EXPECT_EQ(row(*a, "bending", "K bottom").status, Status::over);
    EXPECT_THAT(row(*a, "model", "strip K").note, HasSubstr("runs along y"));
    for (const SectionRow& r : a->steel.strips[0].sections) EXPECT_NEAR(r.bottom_provided / r.width, 392.7, 1);
    // At 45° both mats work with cos² = ½ of their area.
    (*m.steel.strips)[0].axis = {Point{2.5, 1.5}, Point{5.5, 4.5}};
    const auto b = solve(m);
    for (const SectionRow& r : b->steel.strips[0].sections)
        EXPECT_NEAR(r.bottom_provided / r.width, (3141.6 + 392.7) / 2, 1);
}

TEST(NeverSilent, AMeanOverAWideStripIsNotCalledAPass) {
    Model m = designed(box(0, 0, 10, 10));
    m.columns = {column("A", 5, 5)};
    load(m, {ColumnLoad{"A", 1500, 0, 0, 0, 0}, {}});
    m.steel.bottom_x = m.steel.bottom_y = {20, 150};
    const auto a = solve(m);
    const Row band = row(*a, "bending", "X1 bottom");  // c + 3d wide, for two thirds of the whole
    ASSERT_TRUE(band.utilisation);
    Strip wide;
    wide.id = "W", wide.axis = {Point{0, 5}, Point{10, 5}}, wide.reach = {5, 5};
    m.steel.strips = std::vector<Strip>{wide};
    const auto b = solve(m);
    EXPECT_GT(*band.utilisation, 1.5 * row(*b, "bending", "W bottom").utilisation.value_or(9));
    EXPECT_THAT(row(*b, "model", "strip W width").note, HasSubstr("mean over the whole width"));
}

TEST(NeverSilent, BearingSaysWhatItComparesAndHowMuchYields) {
    Model m = designed(box(0, 0, 8, 6));
    load(m, {PointLoad{{4, 3}, 3000, 0, 0}, {}});
    EXPECT_EQ(row(m, "bearing").title, "Bearing: largest pressure");
    EXPECT_EQ(row(m, "yield").title, "no such row");
    m.ground.yield_pressure = 75;
    const auto a = solve(m);
    const CombinationAnswer& c = *a->find("SLS");
    ASSERT_TRUE(c.is_solved());
    double yields = 0;
    for (size_t i = 0; i < c.spring.size(); ++i)
        if (c.spring[i] > 75 - 1e-4) yields += a->shares.area[i];
    EXPECT_GT(yields / 48, 0.05);
    EXPECT_NEAR(c.yield_ratio, yields / 48, 1e-9);
    EXPECT_THAT(row(*a, "bearing").note, HasSubstr("of the base"));
    EXPECT_EQ(row(*a, "yield").status, Status::no_limit);
    EXPECT_NEAR(*row(*a, "yield").value, 100 * c.yield_ratio, 1e-9);
    EXPECT_THAT(row(*a, "model", "yield in strength combinations").note, HasSubstr("the worse of"));
}

// A long slab on layered ground under a load in its middle lifts at both ends: what does not press does not bear.
TEST(NeverSilent, OnLayeredGroundOnlyWhatPressesIsEffective) {
    Model m = designed(box(0, 0, 24, 3), 0.35);
    m.ground.model = GroundModel::coupled;
    Stratum s;
    s.id = "clay", s.E = 20;
    m.ground.strata = {s};
    Borehole b;
    b.id = "B", b.ground_level = 0, b.layers = {{"clay", -20, {}}};
    m.ground.boreholes = {b};
    m.slab.top_level = 0.35;
    load(m, {AreaLoad{box(11, 0.5, 13, 2.5), 500}, {}});
    const auto a = solve(m);
    const CombinationAnswer& c = *a->find("SLS");
    ASSERT_TRUE(c.is_solved());
    ASSERT_LT(c.contact_ratio, 0.85);
    const Row r = row(*a, "bearing");
    EXPECT_EQ(r.title, "Bearing: mean over a square");
    EXPECT_GT(*r.value, 2000 / (72 * c.contact_ratio));  // not 2000 kN over all 72 m², nor over all that presses
    EXPECT_LT(*r.value, c.max_pressure);
    EXPECT_NEAR(r.at->x, 12, 1.5);
}

TEST(NeverSilent, TheSlopeBetweenColumnsTellsTiltFromBending) {
    Model m = designed(box(0, 0, 10, 4), 2.0);  // stiff and loaded at one end: it tilts and hardly bends
    m.columns = {column("A", 2, 2), column("B", 8, 2)};
    load(m, {ColumnLoad{"A", 2000, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"B", 1000, 0, 0, 0, 0}, {}});
    const Row r = row(m, "distortion");
    EXPECT_EQ(r.title, "Slope between columns");
    double tilt = -1, bent = -1;
    for (const Term& l : r.working) {
        if (l.text.rfind("of it tilt", 0) == 0) tilt = l.value;
        if (l.text.rfind("angular distortion", 0) == 0) bent = l.value;
    }
    // Rigid: s = N/(k A) + M x/(k I), slope = 1000 · 3/(20000 · 4 · 10³/12) = 4.5e-4
    EXPECT_NEAR(tilt, 4.5e-4, 2e-5);
    EXPECT_LT(bent, 0.1 * tilt);
    EXPECT_NEAR(*r.value, tilt, bent + 1e-9);
}

}  // namespace
}  // namespace mossbed
