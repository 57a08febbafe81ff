// The real window, driven by mouse and keys.
#include <gtest/gtest.h>

#include <QApplication>
#include <QCheckBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>

#include "core/model/edit.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

TEST_F(Window, FromNothingToASmallRaftSavedAndReopened) {
    EXPECT_TRUE(widget<QPushButton>("begin-outline"));
    draw_raft();
    ASSERT_EQ(std::get<Polygon>(model().slab.outline).size(), 4u);
    EXPECT_NEAR(net_area(model()), 63, 0.3);
    plan()->show_all();
    act("column-tool");
    for (auto [x, y] : {std::pair{3.0, 3.0}, {8.0, 3.0}, {8.0, 6.0}, {3.0, 6.0}}) click(x, y);
    act("choose-tool");
    ASSERT_EQ(model().columns.size(), 4u);
    // Loads typed into the column's table.
    for (const char* id : {"C1", "C2", "C3", "C4"}) {
        w.desk()->choose({{ThingKind::column, id}});
        auto* table = widget<QTableWidget>("column-loads");
        ASSERT_TRUE(table);
        table->item(0, 1)->setText("900");
        table->item(1, 1)->setText("2*150");
    }
    EXPECT_EQ(column_load(model(), "G", "C3").N, 900);
    EXPECT_EQ(column_load(model(), "Q", "C3").N, 300);
    ASSERT_TRUE(in_step());
    EXPECT_GT(use("bearing"), 0.2);
    EXPECT_GT(use("punching"), 0);

    // Thinner until something is over, by hand.
    w.desk()->choose({});
    act("stop-1");
    const double before = use("punching");
    type("thickness", "0.45");
    ASSERT_TRUE(in_step());
    EXPECT_GT(use("punching"), before);
    const Row* moved = nullptr;
    for (const Row& r : w.desk()->rows())
        if (r.id == "punching" && r.utilisation) moved = &r;
    ASSERT_TRUE(moved);
    EXPECT_TRUE(LedgerModel::subtitle(w.desk(), *moved).contains("→"));  // the move since the last edit

    QTemporaryDir folder;
    const QString path = folder.filePath("small.mossbed");
    ASSERT_TRUE(w.save_to(path));
    EXPECT_FALSE(w.desk()->document()->modified());
    const Model saved = model();
    type("thickness", "0.9");
    EXPECT_TRUE(w.desk()->document()->modified());
    ASSERT_TRUE(w.open_file(path));
    EXPECT_EQ(model().slab.thickness, 0.45);
    EXPECT_EQ(write_model(model()), write_model(saved));
}

TEST_F(Window, OpensTheDemoAsItIsShipped) {
    ASSERT_TRUE(w.open_file(SOURCE_DIR "/examples/tern-quay.mossbed"));
    ASSERT_TRUE(in_step(60000));
    EXPECT_EQ(model().ground.model, GroundModel::coupled);
    EXPECT_GT(w.desk()->rows().size(), 80u);
    for (const Row& r : w.desk()->rows()) EXPECT_NE(r.status, Status::over) << r.title;
}

TEST_F(Window, WhatIsTypedWhileDrawingIsAPlaceOrIsRefused) {
    act("draw-tool");
    plan()->setFocus();
    QTest::keyClicks(plan(), "2,3.5");
    QTest::keyClick(plan(), Qt::Key_Return);
    for (const char* nonsense : {"4,", "1.2.3,5", ",", "5,6,7", "-"}) {
        QTest::keyClicks(plan(), nonsense);
        QTest::keyClick(plan(), Qt::Key_Return);
    }
    QTest::keyClicks(plan(), "8,3.5");
    QTest::keyClick(plan(), Qt::Key_Return);
    QTest::keyClicks(plan(), "8,9");
    QTest::keyClick(plan(), Qt::Key_Return);
    QTest::keyClick(plan(), Qt::Key_Return);  // closes
    const auto& ring = std::get<Polygon>(model().slab.outline);
    ASSERT_EQ(ring.size(), 3u);  // no corner at 0, where nobody pointed
    EXPECT_NEAR(ring[0].x, 2, 1e-9);
    EXPECT_NEAR(ring[2].y, 9, 1e-9);
}

TEST_F(Window, ARightPressInALeftDragDoesNotStrandWhatIsInHand) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    const Column before = *find_id(model().columns, "C9");
    const QPoint from = at(before.at.x, before.at.y);
    drag(from, from + QPoint(30, 0), false);
    ASSERT_TRUE(w.desk()->document()->previewing());
    QTest::mousePress(plan(), Qt::RightButton, {}, from + QPoint(30, 0));
    QTest::mouseRelease(plan(), Qt::RightButton, {}, from + QPoint(30, 0));
    EXPECT_TRUE(w.desk()->document()->previewing());  // still in the left hand
    QTest::mouseRelease(plan(), Qt::LeftButton, {}, from + QPoint(30, 0));
    EXPECT_FALSE(w.desk()->document()->previewing());
    EXPECT_GT(find_id(model().columns, "C9")->at.x, before.at.x);
    EXPECT_EQ(w.desk()->document()->undo_stack()->undoText().toStdString(), "Move column C9");
}

TEST_F(Window, OneThingAtATimeIsInHandWhateverItIs) {
    ASSERT_TRUE(w.open_file(demo));
    w.desk()->go_to(Stop::ground);
    plan()->show_all();
    const Borehole& b = model().ground.boreholes[0];
    w.desk()->choose({{ThingKind::column, "C1"}});
    w.desk()->choose({{ThingKind::borehole, b.id}});
    EXPECT_EQ(w.desk()->borehole(), 0);
    EXPECT_TRUE(ids_of(w.desk()->chosen, ThingKind::column).empty());
    Model m = model();
    m.ground.boreholes.erase(m.ground.boreholes.begin());
    w.desk()->document()->apply("Delete it", m);
    EXPECT_EQ(w.desk()->borehole(), -1);  // what is gone is not in hand
    EXPECT_TRUE(w.desk()->chosen.empty());
    w.desk()->document()->undo_stack()->undo();
}

TEST_F(Window, AWallAPatchAndAnOpeningAreTakenInHandByAClickWhereTheyAreDrawn) {
    ASSERT_TRUE(w.open_file(demo) && in_step());
    plan()->show_all();
    const Wall& wall = model().walls[0];
    const Point on_wall = 0.6 * wall.path[0] + 0.4 * wall.path[1];
    click(on_wall.x, on_wall.y);
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::wall, wall.id}}));
    EXPECT_TRUE(plan()->hint().contains(QString::fromStdString(wall.id)));
    type("thing-thickness", "30 cm");
    EXPECT_EQ(model().walls[0].thickness, 0.3);
    EXPECT_EQ(w.desk()->document()->undo_stack()->undoText().toStdString(), "Set the thickness");
    const SlabPatch& patch = model().slab.patches[0];
    const Point on_patch = 0.52 * patch.outline[0] + 0.48 * patch.outline[1];
    click(on_patch.x, on_patch.y);
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::patch, patch.id}}));
    const Point pit = centroid(model().slab.openings[0].outline);
    click(pit.x, pit.y, Qt::ShiftModifier);  // added to it
    EXPECT_EQ(w.desk()->chosen.size(), 2u);
    EXPECT_TRUE(widget<QLabel>("opening-facts")->text().contains("m²"));
    const size_t patches = model().slab.patches.size();
    QTest::mouseClick(widget<QPushButton>("delete-things"), Qt::LeftButton);
    EXPECT_EQ(model().slab.patches.size(), patches - 1);
    EXPECT_TRUE(model().slab.openings.empty());
    EXPECT_TRUE(w.desk()->chosen.empty());
    EXPECT_TRUE(in_step());
}

TEST_F(Window, AColumnUnderAWallIsNotReachedThroughIt) {  // what lies on top is what a click takes
    ASSERT_TRUE(w.open_file(demo) && in_step());
    const Column& c = model().columns[0];
    click(c.at.x, c.at.y);
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::column, c.id}}));
}

TEST_F(Window, FieldsOverSeveralColumnsSaySoAndSetAll) {
    ASSERT_TRUE(w.open_file(demo) && in_step());
    Things two;
    for (const Column& c : model().columns)
        if (two.empty() || (two.size() == 1 && c.size[0] != find_id(model().columns, two.begin()->id)->size[0]))
            two.insert({ThingKind::column, c.id});
    ASSERT_EQ(two.size(), 2u);
    w.desk()->choose(two);
    auto* size = widget<QLineEdit>("column-size-x");
    EXPECT_EQ(size->text(), "");
    EXPECT_EQ(size->placeholderText(), "several");
    QTest::keyClick(size, Qt::Key_Return);  // nothing typed, nothing set
    EXPECT_NE(find_id(model().columns, two.begin()->id)->size[0], find_id(model().columns, two.rbegin()->id)->size[0]);
    type("column-size-x", "0.55");
    for (const Thing& t : two) EXPECT_EQ(find_id(model().columns, t.id)->size[0], 0.55);
    type("column-size-x", "-1");
    EXPECT_TRUE(widget<QLabel>("column-size-x-fault")->text().contains("out of reason"));
    for (const Thing& t : two) EXPECT_EQ(find_id(model().columns, t.id)->size[0], 0.55);
}

TEST_F(Window, TheWorkingIsReadInMetricAndInUSCustomaryUnits) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    for (const Row& r : w.desk()->rows())
        if (r.id == "punching" && r.utilisation) {
            w.working()->show_row(r.key());
            break;
        }
    auto* lines = widget<QTableWidget>("working-lines");
    auto units = [&] {
        QStringList all;
        for (int k = 0; k < lines->rowCount(); ++k) all << lines->item(k, 3)->text();
        return all;
    };
    EXPECT_TRUE(units().contains("kN"));
    EXPECT_FALSE(units().contains("kip"));
    widget<QCheckBox>("us-units")->click();
    EXPECT_TRUE(units().contains("kip"));
    EXPECT_TRUE(units().contains("ksi"));
    EXPECT_FALSE(units().contains("MPa"));
    bool kept = false;  // the code's own formula stays in millimetres, and says so
    for (int k = 0; k < lines->rowCount(); ++k)
        kept |= lines->item(k, 1)->text().contains("√(200/") && lines->item(k, 1)->text().contains(" mm");
    EXPECT_TRUE(kept);
}

TEST_F(Window, AModelDroppedOnTheSheetIsOpened) {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(demo)});
    QDragEnterEvent enter({100, 100}, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&w, &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent drop({100, 100}, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&w, &drop);
    EXPECT_EQ(model().columns.size(), 26u);
    EXPECT_EQ(w.desk()->document()->path(), demo);
    // It stands first among the recent ones.
    auto* recent = w.findChild<QMenu*>("recent");
    ASSERT_TRUE(recent);
    Q_EMIT recent->aboutToShow();
    ASSERT_FALSE(recent->actions().isEmpty());
    EXPECT_TRUE(recent->actions()[0]->text().contains("quay-on-springs"));
}

// Presses a button of the question that comes up.
void answer_with(QMessageBox::StandardButton button) {
    QTimer::singleShot(50, [button] {
        for (QWidget* q : QApplication::topLevelWidgets())
            if (auto* box = qobject_cast<QMessageBox*>(q)) box->button(button)->click();
    });
}

TEST_F(Window, ClosingWithUnsavedChangesAsksAndCancelStays) {
    ASSERT_TRUE(w.open_file(demo));
    EXPECT_FALSE(w.desk()->document()->modified());
    Model m = model();
    m.slab.thickness = 0.8;
    w.desk()->document()->apply("Thicken", m);
    answer_with(QMessageBox::Cancel);
    w.close();
    EXPECT_TRUE(w.isVisible());
    EXPECT_EQ(model().slab.thickness, 0.8);
    answer_with(QMessageBox::Discard);
    w.close();
    EXPECT_FALSE(w.isVisible());
    EXPECT_NE(load_model(demo.toStdString()).model->slab.thickness, 0.8);  // nothing was written
}

TEST_F(Window, UndoAndRedoOfEverythingByName) {
    draw_raft();
    EXPECT_EQ(widget<QAction>("undo")->text(), "Undo Draw the slab");
    act("column-tool");
    plan()->show_all();
    click(3, 3);
    act("choose-tool");
    w.desk()->choose({});
    w.desk()->go_to(Stop::slab);
    type("thickness", "0.7");
    EXPECT_EQ(widget<QAction>("undo")->text(), "Undo Set the thickness");
    act("undo");
    EXPECT_EQ(model().slab.thickness, 0.6);
    act("undo");
    EXPECT_TRUE(model().columns.empty());
    act("undo");
    EXPECT_TRUE(std::get<Polygon>(model().slab.outline).empty());
    act("redo"), act("redo"), act("redo");
    EXPECT_EQ(model().slab.thickness, 0.7);
    EXPECT_EQ(model().columns.size(), 1u);
}

TEST_F(Window, ThePunchingTableFadesWhileAHandMovesAndKeepsItsColumns) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    w.desk()->go_to(Stop::shear);
    const auto columns = [&] { return widget<QLabel>("punching-summary")->text().count("<td"); };
    const auto is_faded = [&] { return widget<QLabel>("punching-summary")->text().contains(look::standard.name()); };
    const auto before = columns();
    EXPECT_FALSE(is_faded());
    Model m = model();
    m.slab.thickness += 0.02;
    w.desk()->document()->preview(m);
    for (int k = 0; k < 500 && !w.desk()->answer()->coarse; ++k) QTest::qWait(10);
    ASSERT_TRUE(w.desk()->answer()->coarse);
    EXPECT_TRUE(is_faded());
    EXPECT_GE(columns(), before);  // none goes
    w.desk()->document()->commit("Thicken");
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(is_faded());
    EXPECT_EQ(columns(), before);
}

TEST_F(Window, WhileAHandMovesTheLargestPressureOnCoupledGroundHasNoPeaksYet) {
    ASSERT_TRUE(w.open_file(SOURCE_DIR "/tests/data/quay.mossbed"));
    ASSERT_TRUE(in_step());
    w.desk()->go_to(Stop::contact);
    const auto most = [&] { return plan()->scene().flag_text; };
    ASSERT_NE(most().find("kPa max · "), std::string::npos) << most();
    EXPECT_TRUE(most().ends_with(" yields")) << most();
    Model m = model();
    m.columns[3].at.x += 0.3;
    w.desk()->document()->preview(m);
    for (int k = 0; k < 500 && !w.desk()->answer()->coarse; ++k) QTest::qWait(10);
    ASSERT_TRUE(w.desk()->answer()->coarse);
    EXPECT_TRUE(most().starts_with("about ") && most().ends_with("kPa max · no peaks yet")) << most();
    w.desk()->document()->commit("Move");
    ASSERT_TRUE(in_step());
    EXPECT_TRUE(most().ends_with(" yields")) << most();
}

TEST_F(Window, ARimDraggedIsFollowedByCoarseAnswersAndThenTheFullOne) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    w.desk()->go_to(Stop::contact);
    const double area = net_area(model());
    int coarse = 0;
    QObject::connect(w.desk()->engine(), &Engine::answered, w.desk(),
                     [&](const std::shared_ptr<const Answer>& a, long) { coarse += a->coarse; });
    // The right rim, between its corners and off the columns: out by about a metre.
    const QPoint from = at(36, 9.8), to = at(37, 9.8);
    QTest::mouseMove(plan(), from);
    QTest::mousePress(plan(), Qt::LeftButton, {}, from);
    for (int k = 1; k <= 16; ++k) {
        QTest::mouseMove(plan(), from + (to - from) * k / 16);
        QTest::qWait(60);
        if (k > 4) EXPECT_FALSE(w.desk()->in_step());  // and the window says so
        if (!w.desk()->answer()->coarse) continue;
        for (const Row& r : w.desk()->rows())  // concrete and steel stand for the last full answer
            EXPECT_EQ(w.desk()->is_behind(r), r.id == "punching" || r.id == "bending" || r.id == "one-way-shear" ||
                                                  r.id == "minimum-steel" || r.id == "spacing" || r.id == "anchorage");
    }
    EXPECT_GE(coarse, 2);
    EXPECT_NEAR(net_area(model()), area + 14 * 1.0, 14 * 0.1);
    QTest::mouseRelease(plan(), Qt::LeftButton, {}, to);
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(w.desk()->answer()->coarse);
    for (const Row& r : w.desk()->rows()) EXPECT_FALSE(w.desk()->is_behind(r));
    EXPECT_TRUE(widget<QAction>("undo")->text().startsWith("Undo Push rim"));
    act("undo");
    EXPECT_NEAR(net_area(model()), area, 1e-9);
}

TEST_F(Window, EscapeDuringADragTakesItBack) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    const Model before = model();
    drag(at(36, 9.8), at(38, 9.8), false);
    EXPECT_NE(model(), before);
    QTest::keyClick(plan(), Qt::Key_Escape);
    EXPECT_EQ(model(), before);
    EXPECT_FALSE(w.desk()->document()->modified());
}

TEST_F(Window, ARimIsPushedOutByATypedAmount) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    click(36, 9.8);
    EXPECT_TRUE(only_one(w.desk()->chosen, ThingKind::slab_side));
    const double area = net_area(model());
    type("push", "0.5");
    EXPECT_NEAR(net_area(model()), area + 7, 1e-6);
    EXPECT_EQ(widget<QLineEdit>("push")->text(), "0");
}

TEST_F(Window, AColumnIsMovedByHandAndDeletedByKey) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    const Column before = *find_id(model().columns, "C9");
    drag(at(before.at.x, before.at.y), at(before.at.x + 1.0, before.at.y - 0.6));
    const Column moved = *find_id(model().columns, "C9");
    EXPECT_NEAR(moved.at.x, before.at.x + 1.0, 0.31);
    EXPECT_LT(moved.at.y, before.at.y - 0.2);
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::column, "C9"}}));
    QTest::keyClick(plan(), Qt::Key_Delete);  // it carries loads: that is said first
    EXPECT_TRUE(find_id(model().columns, "C9"));
    EXPECT_TRUE(w.findChild<QLabel*>("strip-text")->text().contains("its loads in G"));
    QTest::keyClick(plan(), Qt::Key_Delete);
    EXPECT_FALSE(find_id(model().columns, "C9"));
    for (const LoadCase& c : model().loads.cases)
        for (const LoadItem& i : c.items)
            if (auto* l = std::get_if<ColumnLoad>(&i.load)) EXPECT_NE(l->column, "C9");
    ASSERT_TRUE(in_step());
}

TEST_F(Window, ALedgerRowFliesToItsPlaceAndEnterOpensItsWorking) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    int row = -1;
    for (size_t i = 0; i < w.desk()->rows().size() && row < 0; ++i)
        if (w.desk()->rows()[i].id == "punching") row = int(i);
    ASSERT_GE(row, 0);
    const std::string key = w.desk()->rows()[size_t(row)].key();
    w.ledger()->entries()->unfold_to(key);
    const QModelIndex index = w.ledger()->model()->index(w.ledger()->entries()->index_of(key), 0);
    w.ledger()->scrollTo(index);
    QTest::mouseClick(w.ledger()->viewport(), Qt::LeftButton, {}, w.ledger()->visualRect(index).center());
    ASSERT_TRUE(w.desk()->flag);
    const Row& r = w.desk()->rows()[size_t(row)];
    EXPECT_EQ(w.desk()->combination_id, r.combination);
    EXPECT_NEAR(w.desk()->cut[0].y, r.at->y, 1e-9);  // the cut goes through it
    QTest::keyClick(w.ledger(), Qt::Key_Return);
    ASSERT_TRUE(w.working()->isVisible());
    EXPECT_GT(widget<QTableWidget>("working-lines")->rowCount(), 10);
    QTest::keyClick(w.working(), Qt::Key_Escape);
    EXPECT_FALSE(w.working()->isVisible());
}

TEST_F(Window, CombinationsStepAndTheirFactorsAreEditedInTheTable) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    const std::string first = w.desk()->combination_id;
    act("next-combination");
    EXPECT_NE(w.desk()->combination_id, first);
    act("last-combination");
    EXPECT_EQ(w.desk()->combination_id, first);
}

TEST_F(Window, ABadFileIsExplainedAndTheModelInHandStays) {
    ASSERT_TRUE(w.open_file(demo));
    const Model before = model();
    QTemporaryDir folder;
    save_text("{\"format\":\"mossbed\",\"version\":1,\"slab\":{\"outline\":[[0,0],[1",
              folder.filePath("cut.mossbed").toStdString());
    EXPECT_FALSE(w.open_file(folder.filePath("cut.mossbed")));
    EXPECT_EQ(model(), before);
    EXPECT_TRUE(widget<QLabel>("strip-text")->text().contains("cut off"));
}

TEST_F(Window, AModelThatCannotBeSolvedSaysWhyAndTheLastAnswerStaysMarkedOld) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    const auto good = w.desk()->answer();
    Model m = model();
    m.columns[0].at = {100, 100};
    w.desk()->document()->apply("Throw a column away", m);
    EXPECT_FALSE(in_step(3000));
    EXPECT_EQ(w.desk()->answer(), good);
    EXPECT_TRUE(widget<QLabel>("strip-text")->text().contains("off the slab"));
    EXPECT_TRUE(widget<QLabel>("ledger-head")->text().contains("cannot solve"));  // never "all pass" over an old answer
    act("undo");
    EXPECT_TRUE(in_step());
    EXPECT_TRUE(w.desk()->problems().empty());
}

TEST_F(Window, SolvingIsHeldAndResumed) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    act("hold");
    Model m = model();
    m.slab.thickness = 0.8;
    w.desk()->document()->apply("Set the thickness", m);
    QTest::qWait(200);
    EXPECT_FALSE(w.desk()->in_step());
    act("hold");
    EXPECT_TRUE(in_step());
}

TEST_F(Window, EveryStopShowsItsTrayAndPaints) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    for (int i = 0; i < 7; ++i) {
        act(QString("stop-%1").arg(i));
        const QImage picture = w.grab().toImage();
        ASSERT_FALSE(picture.isNull());
        std::set<QRgb> colours;
        for (int x = 0; x < picture.width(); x += 7)
            for (int y = 0; y < picture.height(); y += 7) colours.insert(picture.pixel(x, y));
        EXPECT_GT(colours.size(), 12u) << "stop " << i;
    }
    for (const char* name : {"map-settlement", "map-pressure", "map-mx", "map-my"}) {
        act(name);
        EXPECT_FALSE(w.desk()->map().corner.empty());
        EXPECT_LT(w.desk()->bands().low, w.desk()->bands().high);
    }
}

TEST_F(Window, TheMeshIsCheckedAtThreeSizesWhileTheWindowGoesOn) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    act("stop-1");
    type("mesh-size", "1.2");
    ASSERT_TRUE(in_step());
    QTest::mouseClick(widget<QPushButton>("check-mesh"), Qt::LeftButton);
    EXPECT_TRUE(w.desk()->mesh_report.contains("Solving"));
    for (int i = 0; i < 1000 && w.desk()->mesh_report.contains("Solving"); ++i) QTest::qWait(20);
    EXPECT_TRUE(widget<QLabel>("mesh-report")->text().contains("Worst punching"));
    type("mesh-size", "1.1");  // another model: the report goes
    EXPECT_TRUE(w.desk()->mesh_report.isEmpty());
}

TEST_F(Window, GroundAndSteelAreEditedInTheTray) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    act("stop-0");
    type("modulus", "20 MN/m3");
    EXPECT_EQ(model().ground.modulus, 20000);
    type("settlement-limit", "3 cm");
    EXPECT_NEAR(*model().checks.settlement_limit, 0.03, 1e-12);
    type("yield-pressure", "");
    EXPECT_FALSE(model().ground.yield_pressure);
    act("stop-5");
    type("bar-bottom-x", "20");
    ASSERT_TRUE(model().steel.bottom_x.stated());  // the spacing starts from what was chosen
    EXPECT_EQ(model().steel.bottom_x.diameter, 20);
    type("spacing-bottom-x", "125");
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(w.desk()->answer()->steel.bottom_x.chosen);
    type("bar-bottom-x", "");
    EXPECT_FALSE(model().steel.bottom_x.diameter);  // back to the program's choice
    ASSERT_TRUE(in_step());
    EXPECT_TRUE(w.desk()->answer()->steel.bottom_x.chosen);
}

TEST_F(Window, ColumnsAreChosenByBandAndEditedTogether) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    w.desk()->go_to(Stop::shear);
    drag(at(0.5, 0.6), at(9.5, 8.2));
    EXPECT_EQ(ids_of(w.desk()->chosen, ThingKind::column), (std::set<std::string>{"C1", "C2", "C7", "C8"}));
    type("column-pedestal", "0.4");
    for (const char* id : {"C1", "C2", "C7", "C8"}) EXPECT_EQ(find_id(model().columns, id)->pedestal_height, 0.4);
    EXPECT_EQ(find_id(model().columns, "C3")->pedestal_height, 0);
    click(1.8, 1.8, Qt::ShiftModifier);
    EXPECT_EQ(w.desk()->chosen.size(), 3u);
}

TEST_F(Window, TheCutIsDraggedAndTurned) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    const auto before = w.desk()->cut;
    const Point middle = 0.5 * (before[0] + before[1]) + Point{0.7, 0};
    drag(at(middle.x, middle.y), at(middle.x, middle.y - 3.1));
    EXPECT_NEAR(w.desk()->cut[0].y, before[0].y - 3.1, 0.5);
    EXPECT_NEAR(w.desk()->cut[0].y, w.desk()->cut[1].y, 1e-9);
    const Point end = w.desk()->cut[1];
    drag(at(end.x, end.y), at(end.x - 6, end.y - 5));
    EXPECT_GT(std::abs(w.desk()->cut[0].y - w.desk()->cut[1].y), 3);
    EXPECT_FALSE(w.desk()->document()->modified());  // looking is not editing
}

TEST_F(Window, CasesAreAddedNamedAndDeletedWithTheirFactors) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    act("stop-2");
    QTest::mouseClick(widget<QPushButton>("add-case"), Qt::LeftButton);
    ASSERT_TRUE(find_id(model().loads.cases, "L1"));
    EXPECT_EQ(w.desk()->load_case, "L1");
    type("slab-load", "2.5");
    const auto& items = find_id(model().loads.cases, "L1")->items;
    ASSERT_EQ(items.size(), 1u);
    EXPECT_EQ(std::get<SlabLoad>(items[0].load).p, 2.5);
    w.desk()->load_case = "K";
    w.desk()->tell(Desk::view);
    QTest::mouseClick(widget<QPushButton>("delete-case"), Qt::LeftButton);
    EXPECT_FALSE(find_id(model().loads.cases, "K"));
    for (const Combination& c : *model().loads.combinations) EXPECT_FALSE(c.factors.count("K"));
    ASSERT_TRUE(in_step());
}

TEST_F(Window, DrawingTakesTypedLengthsAndCoordinates) {
    act("draw-tool");
    plan()->setFocus();
    QTest::keyClicks(plan(), "0,0");
    QTest::keyClick(plan(), Qt::Key_Return);
    QTest::mouseMove(plan(), at(5, 0));
    QTest::keyClicks(plan(), "6.5");
    QTest::keyClick(plan(), Qt::Key_Return);  // 6.5 m towards the pointer
    QTest::keyClicks(plan(), "6.5,4");
    QTest::keyClick(plan(), Qt::Key_Return);
    QTest::keyClicks(plan(), "0,4");
    QTest::keyClick(plan(), Qt::Key_Return);
    QTest::keyClick(plan(), Qt::Key_Return);  // closes
    EXPECT_NEAR(net_area(model()), 26, 1e-6);
}

}  // namespace
}  // namespace mossbed
