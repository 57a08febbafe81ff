// The Ground stop in the real window: layers dragged in the Cut, numbers in the Tray, a report taken over.
#include <gtest/gtest.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QTest>

#include "app/cut_view.h"
#include "app/depth_view.h"
#include "app/main_window.h"
#include "core/answer/solve.h"

namespace mossbed {
namespace {

class GroundWindow : public ::testing::Test {
  protected:
    GroundWindow() {
        w.resize(1280, 800);
        w.show();
        EXPECT_TRUE(QTest::qWaitForWindowExposed(&w));
        Model m = new_model();
        m.slab.outline = Polygon{{0, 0}, {12, 0}, {12, 8}, {0, 8}};
        m.slab.top_level = -0.4;
        m.mesh_size = 1;
        m.loads.cases[0].items = {{SlabLoad{40}, {}}};
        Combination s;
        s.id = "S1", s.factors = {{m.loads.cases[0].id, 1.0}};
        m.loads.combinations = std::vector<Combination>{s};
        m.ground.model = GroundModel::coupled;
        for (auto [id, E] : {std::pair{"clay", 6.0}, {"sand", 50.0}}) {
            Stratum t;
            t.id = id, t.E = E;
            m.ground.strata.push_back(t);
        }
        int k = 0;
        for (auto [x, y, bottom] : {std::array{-1.0, 4.0, -3.0}, {13.0, 4.0, -7.0}, {6.0, 12.0, -5.0}}) {
            Borehole b;
            b.id = "BH" + std::to_string(++k), b.at = {x, y}, b.ground_level = 0.0, b.water_level = -2.0;
            b.layers = {{"clay", bottom, {}}, {"sand", -20, {}}};
            m.ground.boreholes.push_back(b);
        }
        w.desk()->document()->apply("Begin", m);
        w.desk()->go_to(Stop::ground);
        w.plan()->show_all();
    }
    ~GroundWindow() override { w.desk()->document()->undo_stack()->setClean(); }
    bool wait(const std::function<bool()>& until, int ms = 30000) {
        QElapsedTimer t;
        t.start();
        while (t.elapsed() < ms) {
            QApplication::processEvents(QEventLoop::AllEvents, 10);
            if (until()) return true;
        }
        return false;
    }
    bool in_step() {
        return wait([&] { return w.desk()->in_step() && !w.desk()->engine()->busy(); });
    }
    const Model& model() { return w.desk()->now(); }
    template <class T>
    T* widget(const QString& name) {
        T* found = w.findChild<T*>(name);
        EXPECT_TRUE(found) << name.toStdString();
        return found;
    }
    void press(const QString& name) {
        if (auto* b = widget<QPushButton>(name)) QTest::mouseClick(b, Qt::LeftButton);
        QApplication::processEvents();
    }
    TableView* open(TableKind kind) {
        w.lower()->show_table(kind);
        return w.lower()->table();
    }
    // As typed: the cell in hand, keys, Enter.
    void set(TableKind kind, int row, const char* head, const QString& text) {
        TableView* t = open(kind);
        const QModelIndex at = t->model()->index(row, t->rows()->table().column_of(head));
        ASSERT_TRUE(at.isValid()) << head;
        t->setFocus();
        t->setCurrentIndex(at);
        QTest::keyClick(t, Qt::Key_Return);
        auto* line = qobject_cast<Line*>(w.focusWidget());
        ASSERT_TRUE(line) << head;
        text.isEmpty() ? QTest::keyClick(line, Qt::Key_Delete) : QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
        QApplication::processEvents();
    }
    MainWindow w;
};

TEST_F(GroundWindow, ALayersBottomIsDraggedWhereItMeetsABorehole) {
    ASSERT_TRUE(in_step());
    const double before = w.desk()->chart()->settlement;
    auto* cut = widget<CutView>("cut");
    ASSERT_TRUE(cut);
    cut->grab();
    // The handle of BH2's clay is found where the pointer turns into the up-and-down arrow.
    std::optional<QPoint> handle;
    for (int y = 30; y < cut->height() - 4 && !handle; y += 10)
        for (int x = cut->width() * 3 / 4; x < cut->width() - 8 && !handle; x += 10) {
            QTest::mouseMove(cut, {x, y});
            if (cut->cursor().shape() == Qt::SizeVerCursor && cut->toolTip().contains("clay")) handle = QPoint(x, y);
        }
    ASSERT_TRUE(handle);
    QTest::mousePress(cut, Qt::LeftButton, {}, *handle);
    for (int k = 1; k <= 5; ++k) QTest::mouseMove(cut, *handle + QPoint(0, 4 * k));
    QTest::mouseRelease(cut, Qt::LeftButton, {}, *handle + QPoint(0, 20));
    const double bottom = model().ground.boreholes[1].layers[0].bottom;
    EXPECT_LT(bottom, -7.2);
    EXPECT_GT(bottom, -20);
    EXPECT_EQ(w.desk()->document()->undo_stack()->undoText().toStdString(), "Move the bottom of clay in BH2");
    ASSERT_TRUE(in_step());
    EXPECT_GT(w.desk()->chart()->settlement, before);  // more clay settles more
    w.desk()->document()->undo_stack()->undo();
    EXPECT_EQ(model().ground.boreholes[1].layers[0].bottom, -7);
}

TEST_F(GroundWindow, AClickPinsTheDepthChartAndANumberTypedMovesIt) {
    ASSERT_TRUE(in_step());
    const QPoint at = w.plan()->on_screen({9, 5}).toPoint();
    QTest::mouseClick(w.plan(), Qt::LeftButton, {}, at);
    ASSERT_TRUE(w.desk()->pin);
    EXPECT_NEAR(w.desk()->pin->x, 9, 0.1);
    auto* chart = widget<DepthView>("depth-chart");
    ASSERT_TRUE(chart && chart->shown());
    EXPECT_NEAR(chart->shown()->at.x, 9, 0.1);
    EXPECT_EQ(chart->shown()->layers[0].stratum, "clay");
    const double before = chart->shown()->settlement;
    EXPECT_TRUE(widget<QLabel>("depth-numbers")->text().contains("clay"));
    set(TableKind::strata, 0, "E drained", "3");  // E of the clay halved
    EXPECT_EQ(model().ground.strata[0].E, 3);
    ASSERT_TRUE(in_step());
    EXPECT_GT(w.desk()->chart()->settlement, 1.4 * before);
    set(TableKind::strata, 0, "E drained", "soft");
    EXPECT_EQ(model().ground.strata[0].E, 3);  // not a number: said, and nothing changes
}

TEST_F(GroundWindow, ABoreholeInHandShowsItsLayers) {
    QTest::mouseClick(w.plan(), Qt::LeftButton, {}, w.plan()->on_screen({13, 4}).toPoint());
    EXPECT_EQ(w.desk()->borehole(), 1);
    auto* layers = widget<QTableWidget>("layers");
    ASSERT_TRUE(layers);
    EXPECT_EQ(layers->rowCount(), 2);
    layers->item(0, 1)->setText("-6.5");
    EXPECT_EQ(model().ground.boreholes[1].layers[0].bottom, -6.5);
    press("add-borehole");
    ASSERT_EQ(model().ground.boreholes.size(), 4u);
    EXPECT_EQ(model().ground.boreholes[3].layers.size(), 2u);  // begins with what the others say there
    EXPECT_TRUE(in_step());
    press("delete-borehole");
    EXPECT_EQ(model().ground.boreholes.size(), 3u);
}

TEST_F(GroundWindow, CellsTakeUnitsAndExpressionsAndRefuseTheRest) {
    set(TableKind::strata, 0, "E drained", "8000 kPa");
    EXPECT_EQ(model().ground.strata[0].E, 8);
    set(TableKind::boreholes, 0, "x", "-2*0.75");
    EXPECT_EQ(model().ground.boreholes[0].at.x, -1.5);
    set(TableKind::boreholes, 0, "water", "");  // no water found
    EXPECT_FALSE(model().ground.boreholes[0].water_level);
    set(TableKind::boreholes, 0, "y", "");  // a place it must have
    EXPECT_EQ(model().ground.boreholes[0].at.y, 4);
    set(TableKind::boreholes, 0, "ground", "2 kN");
    EXPECT_EQ(model().ground.boreholes[0].ground_level, 0);
    EXPECT_TRUE(widget<QLabel>("strip-text")->text().contains("not taken"));
    set(TableKind::strata, 0, "stratum", "silt");
    EXPECT_EQ(model().ground.boreholes[0].layers[0].stratum, "silt");
    set(TableKind::layers, 1, "stratum", "silt");  // sand under silt in BH1
    EXPECT_EQ(model().ground.boreholes[0].layers[1].stratum, "silt");
    set(TableKind::layers, 0, "thick", "2.5");  // from 0 down; what lies below goes with it
    EXPECT_EQ(model().ground.boreholes[0].layers[0].bottom, -2.5);
    EXPECT_EQ(model().ground.boreholes[0].layers[1].bottom, -19.5);
}

TEST_F(GroundWindow, WhatAStratumsModulusRestsOnStandsBesideIt) {
    Model m = model();
    m.ground.strata[0].E_basis = "proposal: 0.9 N (Stroud)";
    w.desk()->document()->apply("Propose", m);
    TableView* t = open(TableKind::strata);
    const int basis = t->rows()->table().column_of("E from"), E = t->rows()->table().column_of("E drained");
    EXPECT_EQ(t->model()->index(0, basis).data().toString(), "proposal: 0.9 N (Stroud)");
    EXPECT_EQ(t->model()->headerData(E, Qt::Horizontal).toString(), "E drained\nMPa");
    EXPECT_TRUE(widget<QLabel>("strata-basis")->text().contains("Stroud"));
    set(TableKind::strata, 0, "E drained", "7");  // now it is the engineer's
    EXPECT_EQ(model().ground.strata[0].E_basis, "");
}

TEST_F(GroundWindow, AReportIsPreviewedMappedPlacedAndTakenOver) {
    w.desk()->read_report(SOURCE_DIR "/examples/tern-quay.ags");
    auto* codes = widget<QTableWidget>("report-codes");
    ASSERT_TRUE(codes);
    ASSERT_EQ(codes->rowCount(), 4);
    EXPECT_TRUE(widget<QLabel>("report-summary")->text().contains("3 boreholes"));
    codes->item(1, 4)->setText("clay");
    codes->item(2, 4)->setText("clay");
    codes->item(3, 4)->setText("sand");
    EXPECT_EQ(model().ground.boreholes[0].layers.size(), 2u);  // nothing is taken yet
    press("take-report");
    ASSERT_TRUE(wait([&] { return !w.desk()->taking; }));
    ASSERT_EQ(model().ground.boreholes.size(), 3u);  // of the same names: replaced
    EXPECT_EQ(model().ground.boreholes[0].layers.size(), 3u);
    EXPECT_EQ(model().ground.strata.size(), 3u);
    EXPECT_EQ(model().ground.strata[0].E, 6);  // a stratum that was there keeps its numbers
    EXPECT_TRUE(widget<QLabel>("strata-basis")->text().contains("Stroud"));
    EXPECT_EQ(w.desk()->document()->undo_stack()->undoText().toStdString(), "Take over 3 boreholes");
}

TEST_F(GroundWindow, OneClickComparesGroundsAndBracketsThem) {
    ASSERT_TRUE(in_step());
    press("compare-grounds");
    ASSERT_TRUE(wait([&] { return !w.desk()->checking_mesh(); }));
    const QString table = widget<QLabel>("comparison-report")->text();
    for (const char* word : {"uniform", "profile", "coupled", "largest pressure", "settlement, middle", "hogging"})
        EXPECT_TRUE(table.contains(word)) << word;
    press("bracket-ground");
    ASSERT_TRUE(wait([&] { return !w.desk()->checking_mesh(); }));
    EXPECT_TRUE(widget<QLabel>("bracket-report")->text().contains("× ½"));
    Model m = model();
    m.slab.thickness = 0.9;
    w.desk()->document()->apply("Thicken", m);
    EXPECT_TRUE(w.desk()->comparison_report.isEmpty());  // it was about another model
}

TEST_F(GroundWindow, HelpersTurnABearingValueIntoAModulus) {
    Model m = model();
    m.ground.model = GroundModel::uniform, m.ground.allowable_pressure = 150, m.checks.settlement_limit = 0.05;
    w.desk()->document()->apply("Uniform", m);
    press("modulus-by-settlement");
    EXPECT_EQ(model().ground.modulus, 3000);
    press("modulus-by-bearing");
    EXPECT_EQ(model().ground.modulus, 18000);
    EXPECT_TRUE(widget<QLabel>("modulus-by-bearing-text")->text().contains("25 mm"));
}

}  // namespace
}  // namespace mossbed
