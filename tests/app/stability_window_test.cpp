// Stability in the window: the curve, all combinations at a glance, forgotten water, the place that bearing is about.
#include <QApplication>
#include <QClipboard>
#include <QLabel>

#include "app/chart_library.h"
#include "app/curve_pane.h"
#include "app/skyline.h"
#include "drawing/plan.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class StabilityWindow : public Window {
  protected:
    void begin(const std::function<void(Model&)>& change = {}) {
        draw_raft();
        Model m = model();
        m.columns = {Column{}};
        m.columns[0].id = "C1", m.columns[0].at = {3, 3}, m.columns[0].size = {0.5, 0.5};
        m.loads.cases[0].items.push_back({ColumnLoad{"C1", 900, 0, 0, 0, 0}, {}});
        if (change) change(m);
        w.desk()->document()->apply("Load it", std::move(m));
        ASSERT_TRUE(in_step());
        act("stop-3");
        settle();
    }
    bool curve_there() {
        return QTest::qWaitFor([&] { return w.desk()->curve != nullptr || !w.desk()->curve_report.endsWith("…"); },
                               20000) &&
               w.desk()->curve;
    }
    const Row* row(const std::string& id, const std::string& item = {}) {
        for (const Row& r : w.desk()->rows())
            if (r.id == id && r.item == item) return &r;
        return nullptr;
    }
    QString said() { return widget<QLabel>("strip-text")->text(); }
};

TEST_F(StabilityWindow, TheCurveIsDrawnReadCopiedAndFollowsTheModel) {
    begin();
    QTest::mouseClick(widget<QToolButton>("pane-curve"), Qt::LeftButton);
    ASSERT_TRUE(curve_there());
    auto* pane = widget<CurvePane>("curve-pane");
    EXPECT_EQ(w.desk()->curve->steps.size(), 20u);
    EXPECT_GE(pane->chart()->graphCount(), int(w.desk()->curve->points.size()) + 1);
    EXPECT_TRUE(widget<QLabel>("curve-words")->text().contains("stands up to × 2.00"));
    EXPECT_TRUE(pane->reading(1.02).startsWith("× 1.00: middle"));
    EXPECT_FALSE(plan()->scene().traced.empty());
    QTest::keyClick(pane, Qt::Key_C, Qt::ControlModifier);
    EXPECT_TRUE(QApplication::clipboard()->text().startsWith("factor\tsettlement at middle [m]"));
    EXPECT_EQ(QApplication::clipboard()->text().count('\n'), 21);
    const double before = w.desk()->curve->steps.back().settlement[0];
    Model m = model();
    m.ground.modulus *= 2;
    w.desk()->document()->apply("Stiffer ground", std::move(m));
    EXPECT_FALSE(w.desk()->curve);  // it was of another model
    ASSERT_TRUE(in_step());
    ASSERT_TRUE(curve_there());
    EXPECT_LT(w.desk()->curve->steps.back().settlement[0], 0.7 * before);
    w.desk()->pick_for_curve({2, 2});
    ASSERT_TRUE(curve_there());
    EXPECT_EQ(w.desk()->curve->points, (std::vector<Point>{{2, 2}}));
    // Points that settle alike: their names stand one below the other, and the lowest above the axis.
    for (double x : {2.1, 2.2, 2.3}) w.desk()->pick_for_curve({x, 2});
    ASSERT_TRUE(curve_there());
    ASSERT_EQ(w.desk()->curve->points.size(), 4u);
    std::vector<double> names;
    for (const std::string& of : w.desk()->curve->names)
        for (int i = 0; i < pane->chart()->itemCount(); ++i)
            if (auto* t = qobject_cast<QCPItemText*>(pane->chart()->item(i)))
                if (t->text() == " " + QString::fromStdString(of)) names.push_back(t->position->pixelPosition().y());
    std::sort(names.begin(), names.end());
    ASSERT_EQ(names.size(), 4u);
    EXPECT_LT(names.back(), pane->chart()->axisRect()->bottom() - 4);
    for (size_t i = 1; i < names.size(); ++i) EXPECT_GT(names[i] - names[i - 1], 11);
    QTest::keyClick(pane, Qt::Key_Escape);
    settle();
    EXPECT_TRUE(plan()->scene().traced.empty());
}

TEST_F(StabilityWindow, ACurveThatEndsSaysWhereAndWhy) {
    begin([](Model& m) { m.ground.yield_pressure = 60; });
    QTest::mouseClick(widget<QToolButton>("pane-curve"), Qt::LeftButton);
    type("curve-to", "40");
    ASSERT_TRUE(curve_there());
    EXPECT_EQ(w.desk()->curve->steps.back().ending, Ending::yields_through);
    EXPECT_TRUE(widget<QLabel>("curve-words")->text().contains("yields through"));
}

TEST_F(StabilityWindow, AllCombinationsStandInASkylineAndOneIsClicked) {
    begin([](Model& m) {
        m.loads.combinations = std::vector<Combination>{};
        for (int k = 0; k < 5; ++k) {
            Combination c;
            c.id = "K" + std::to_string(k), c.factors = {{"G", 0.5 + k}};
            c.purpose = k < 3 ? Purpose::service : Purpose::strength;
            m.loads.combinations->push_back(c);
        }
    });
    auto* line = widget<Skyline>("skyline");
    ASSERT_TRUE(line);
    const QRectF place = line->place_of("K2");
    ASSERT_FALSE(place.isEmpty());
    EXPECT_TRUE(line->tip_at(place.center()).startsWith("K2: "));
    EXPECT_GT(line->place_of("K4").top(), place.top());  // of another purpose
    QTest::mouseClick(line, Qt::LeftButton, {}, place.center().toPoint());
    EXPECT_EQ(w.desk()->combination_id, "K2");
    EXPECT_TRUE(line->tip_at({1e4, 1e4}).isEmpty());
}

TEST_F(StabilityWindow, ForgottenWaterIsPutInByOneClick) {
    begin([](Model& m) {
        m.slab.top_level = -2, m.ground.water_level = -1;
        Combination s, t;
        s.id = "S", s.factors = {{"G", 1.0}};
        t.id = "T", t.purpose = Purpose::stability, t.factors = {{"G", 1.0}};
        m.loads.combinations = std::vector<Combination>{s, t};
    });
    ASSERT_TRUE(row("model", "water"));
    EXPECT_EQ(Ledger::link_of(*row("model", "water")), "put it in ›");
    Q_EMIT w.findChild<Ledger*>()->lead_wanted(row("model", "water")->leads_to);
    ASSERT_TRUE(in_step());
    const LoadCase* water = find_id(model().loads.cases, std::string("GW"));
    ASSERT_TRUE(water);
    EXPECT_EQ(std::get<Uplift>(water->items.at(0).load).to_level, -1);
    for (const Combination& c : *model().loads.combinations) EXPECT_EQ(c.factors.at("GW"), 1) << c.id;
    EXPECT_FALSE(row("model", "water"));
    EXPECT_TRUE(row("flotation", "T"));
    EXPECT_TRUE(said().contains("GW"));
    EXPECT_EQ(w.desk()->document()->undo_stack()->undoText(), "Put the water in");
}

TEST_F(StabilityWindow, WhatOverturnsShowsWhereItLands) {
    begin([](Model& m) {
        Combination s;
        s.id = "S", s.factors = {{"G", 1.0}};
        m.loads.combinations = std::vector<Combination>{s};
        m.loads.cases[0].items = {{PointLoad{{3, 3}, 100, 0, 900}, {}}};
        m.slab.self_weight = false;
    });
    const Row* r = row("overturning", "S");
    ASSERT_TRUE(r);
    EXPECT_TRUE(r->no_equilibrium);
    EXPECT_NEAR(r->at->x, 12, 1e-6);
    w.desk()->fly_to(*r);
    settle();
    bool shown = false;
    const Drawing d = plan_drawing(plan()->scene(), View{20, {100, 400}}, {{0, 0}, {900, 500}});
    for (const Mark& k : d.marks)
        if (const auto* t = std::get_if<Text>(&k.what)) shown |= t->text.find("S overturns: its resultant lands") == 0;
    EXPECT_TRUE(shown);
}

TEST_F(StabilityWindow, TheStretchThatBearingIsAboutIsHatched) {
    begin([](Model& m) {
        Stratum clay;
        clay.id = "clay", clay.E = 6;
        m.ground.strata = {clay};
        Borehole b;
        b.id = "B", b.ground_level = m.slab.top_level, b.layers = {{"clay", m.slab.top_level - 15, {}}};
        m.ground.boreholes = {b};
        m.ground.model = GroundModel::coupled, m.ground.allowable_pressure = 20;
    });
    const Row* r = row("bearing");
    ASSERT_TRUE(r);
    ASSERT_GE(r->area.size(), 3u);
    w.desk()->fly_to(*r);
    EXPECT_EQ(plan()->scene().flag_area, r->area);
    EXPECT_EQ(plan()->scene().is_flag_over, r->status == Status::over);
    w.desk()->go_to(Stop::slab);
    EXPECT_TRUE(plan()->scene().flag_area.empty());
}

TEST_F(StabilityWindow, SafetyAndResistanceAreTypedAtGround) {
    begin();
    act("stop-0");
    settle();
    type("base-friction", "32");
    EXPECT_EQ(model().ground.friction_angle_base, 32);
    type("base-friction", "75");  // no soil
    EXPECT_EQ(model().ground.friction_angle_base, 32);
    type("base-adhesion", "6");
    EXPECT_EQ(model().ground.adhesion_base, 6);
}

}  // namespace
}  // namespace mossbed
