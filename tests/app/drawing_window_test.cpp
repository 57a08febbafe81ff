// Drawing and changing by hand: every kind drawn, moved, copied, mirrored, deleted, undone, with real events.
#include <QScrollArea>
#include <QScrollBar>
#include <QTemporaryDir>
#include <QWheelEvent>
#include <random>

#include "core/arrange/choice.h"
#include "core/file/model_file.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class DrawingTest : public Window {
  protected:
    void keys(const QString& text) {
        plan()->setFocus();
        QTest::keyClicks(plan(), text);
    }
    void enter(const QString& text = {}) {
        keys(text);
        QTest::keyClick(plan(), Qt::Key_Return);
    }
    void press(const QString& name) {
        auto* b = widget<QAbstractButton>(name);
        ASSERT_TRUE(b);
        b->click();
    }
    void figure(const QString& name) { press("figure-" + name); }
    void rectangle_by_keys(const QString& tool, const QString& corner, const QString& sizes, bool fresh = true) {
        if (fresh) act(tool), figure("rectangle");
        enter(corner), enter(sizes);
    }
    void line_by_keys(std::initializer_list<const char*> points) {
        for (const char* p : points) enter(p);
        enter();
    }
    QString said() { return widget<QLabel>("strip-text")->text(); }
    size_t steps() { return size_t(w.desk()->document()->undo_stack()->index()); }
    void begin() {  // a 12 × 8 rectangle at the slab's stop
        rectangle_by_keys("draw-tool", "0, 0", "12 x 8");
        w.desk()->go_to(Stop::slab);
        plan()->show_all();
        QApplication::processEvents();
    }
    const Polygon& ring() { return std::get<Polygon>(model().slab.outline); }
};

TEST_F(DrawingTest, ARaftWithPitPatchesCoreAndRibsIsDrawnInUnderFortyActions) {
    // An L of corners, typed: 1 tool + 6 corners + 1 to close.
    int actions = 0;
    auto counted = [&](auto deed) { deed(), ++actions; };
    counted([&] { act("draw-tool"); });
    for (const char* corner : {"0, 0", "24, 0", "24, 8", "12, 8", "12, 16", "0, 16"}) counted([&] { enter(corner); });
    counted([&] { enter(); });
    ASSERT_EQ(ring().size(), 6u);
    w.desk()->go_to(Stop::slab);
    plan()->show_all();
    // A pit, two patches, each a rectangle.
    counted([&] { act("opening-tool"); });
    counted([&] { figure("rectangle"); });
    counted([&] { enter("8, 4"); });
    counted([&] { enter("2 x 1.5"); });
    counted([&] { act("patch-tool"); });
    counted([&] { figure("rectangle"); });
    counted([&] { enter("2, 10"); });
    counted([&] { enter("3 x 3"); });
    counted([&] { enter("18, 2"); });
    counted([&] { enter("4 x 4"); });
    // The core: a closed line of walls.
    counted([&] { act("wall-tool"); });
    for (const char* p : {"14, 2", "17, 2", "17, 6", "14, 6", "14, 2"}) counted([&] { enter(p); });
    counted([&] { enter(); });
    // One rib, then three more as copies in a row.
    counted([&] { act("rib-tool"); });
    counted([&] { enter("1, 1"); });
    counted([&] { enter("1, 15"); });
    counted([&] { enter(); });
    counted([&] { act("choose-tool"); });
    counted([&] { type("copies-x", "3"); });
    counted([&] { type("by-x", "3.5"); });
    counted([&] { press("copy-rows"); });
    EXPECT_LT(actions, 40);
    ASSERT_EQ(model().slab.openings.size(), 1u);
    EXPECT_NEAR(signed_area(model().slab.openings[0].outline), 3, 1e-9);
    ASSERT_EQ(model().slab.patches.size(), 2u);
    EXPECT_EQ(model().slab.patches[1].outline, (Polygon{{18, 2}, {22, 2}, {22, 6}, {18, 6}}));
    ASSERT_EQ(model().walls.size(), 1u);
    EXPECT_EQ(model().walls[0].path.size(), 5u);
    ASSERT_EQ(model().ribs.size(), 4u);
    EXPECT_EQ(model().ribs[3].path[0], (Point{11.5, 1}));
    EXPECT_EQ(w.desk()->chosen.size(), 3u);  // the copies
    ASSERT_TRUE(in_step());
}

TEST_F(DrawingTest, EachKindIsDrawnCopiedMirroredDeletedAndUndone) {
    begin();
    const struct {
        const char* tool;
        std::vector<const char*> typed;
        ThingKind kind;
    } all[] = {{"column-tool", {"1, 2"}, ThingKind::column},
               {"wall-tool", {"1, 2", "by 1, 0", ""}, ThingKind::wall},
               {"rib-tool", {"1, 2", "3 at 90", ""}, ThingKind::rib},
               {"line-tool", {"1, 0", "1, 8", ""}, ThingKind::setting_out},
               {"opening-tool", {"1, 2", "2, 2", "2, 3", ""}, ThingKind::opening},
               {"patch-tool", {"1, 2", "2, 2", "2, 4", ""}, ThingKind::patch},
               {"ground-patch-tool", {"1, 2", "2, 2", "2, 4", ""}, ThingKind::ground_patch},
               {"extra-bars-tool", {"1, 2", "2, 2", "2, 4", ""}, ThingKind::extra_bars},
               {"links-tool", {"1, 2", "2, 2", "2, 4", ""}, ThingKind::links}};
    for (const auto& one : all) {
        const Model before = model();
        const size_t at = steps();
        act(one.tool);
        for (const char* t : one.typed) enter(t);
        EXPECT_EQ(steps(), at + 1) << one.tool << said().toStdString();
        ASSERT_EQ(w.desk()->chosen.size(), 1u) << one.tool;
        EXPECT_EQ(w.desk()->chosen.begin()->kind, one.kind);
        act("choose-tool");
        type("copies-x", "2"), type("by-x", "1.5"), press("copy-rows");
        EXPECT_EQ(w.desk()->chosen.size(), 2u) << one.tool << said().toStdString();
        press("mirror-copy-x");  // about x = 6
        EXPECT_EQ(w.desk()->chosen.size(), 2u) << one.tool << said().toStdString();
        EXPECT_EQ(steps(), at + 3) << one.tool;
        press(one.kind == ThingKind::column ? "delete-columns" : "delete-things");
        EXPECT_EQ(steps(), at + 4) << one.tool;
        const Model after = model();
        for (int k = 0; k < 4; ++k) act("undo");
        EXPECT_EQ(model(), before) << one.tool;
        for (int k = 0; k < 4; ++k) act("redo");
        EXPECT_EQ(model(), after) << one.tool;
        for (int k = 0; k < 4; ++k) act("undo");
    }
}

TEST_F(DrawingTest, CirclesAndRingsAreDrawnByHandAndTheirRadiusIsHeld) {
    act("draw-tool"), figure("ring");
    enter("0, 0"), enter("9"), enter("4");
    ASSERT_TRUE(std::holds_alternative<Ring>(model().slab.outline));
    EXPECT_EQ(std::get<Ring>(model().slab.outline), (Ring{{0, 0}, 4, 9}));
    w.desk()->go_to(Stop::slab), plan()->show_all();
    QApplication::processEvents();
    drag(at(0, -4), at(0, -3));  // the rim of the hole: the slab is pushed inward there
    EXPECT_NEAR(std::get<Ring>(model().slab.outline).inner, 3, 0.11);
    click(0, 9);
    type("push", "0.5");
    EXPECT_NEAR(std::get<Ring>(model().slab.outline).outer, 9.5, 1e-9);
    type("slab-inner-radius", "2");
    EXPECT_EQ(std::get<Ring>(model().slab.outline).inner, 2);
    act("opening-tool"), figure("circle");
    enter("6, 0"), enter("0.8");
    ASSERT_EQ(model().slab.openings.size(), 1u);
    act("choose-tool");
    drag(at(6.8, 0), at(7.2, 0));
    EXPECT_NEAR(model().slab.openings[0].outline.circle()->radius, 1.2, 0.06);
    type("circle-radius", "0.6");
    EXPECT_EQ(model().slab.openings[0].outline.circle()->radius, 0.6);
}

TEST_F(DrawingTest, WhatIsUnderTheHandIsAnsweredBeforeItIsSet) {
    begin();
    ASSERT_TRUE(in_step());
    act("patch-tool"), figure("rectangle");
    click(2, 2);
    EXPECT_TRUE(model().slab.patches.empty());
    QTest::mouseMove(plan(), at(4, 4));
    ASSERT_EQ(model().slab.patches.size(), 1u);  // follows
    EXPECT_TRUE(w.desk()->document()->previewing());
    QTest::mouseMove(plan(), at(5, 5));
    EXPECT_NEAR(model().slab.patches.at(0).outline[2].x, 5, 0.3);
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < 20000 && !(w.desk()->answer()->coarse && w.desk()->answer()->model->slab.patches.size() == 1))
        QApplication::processEvents(QEventLoop::AllEvents, 10);
    EXPECT_EQ(w.desk()->answer()->model->slab.patches.size(), 1u);
    QTest::keyClick(plan(), Qt::Key_Escape);
    EXPECT_TRUE(model().slab.patches.empty());
    EXPECT_FALSE(w.desk()->document()->previewing());
    EXPECT_EQ(plan()->tool(), ToolKind::choose);
}

TEST_F(DrawingTest, AnotherToolTakenGivesTheFigureUp) {
    begin();
    const Model before = model();
    for (const char* other : {"choose-tool", "column-tool"}) {
        act("wall-tool");
        enter("2, 2");
        QTest::mouseMove(plan(), at(5, 2));
        EXPECT_EQ(model().walls.size(), 1u);
        act(other);
        EXPECT_EQ(model(), before) << other;
        EXPECT_FALSE(w.desk()->document()->previewing());
    }
}

TEST_F(DrawingTest, UndoWhileDrawingGivesTheFigureUpAndNothingElse) {
    begin();
    const size_t at_begin = steps();
    act("wall-tool");
    enter("2, 2");
    QTest::mouseMove(plan(), at(5, 2));
    EXPECT_EQ(model().walls.size(), 1u);
    act("undo");
    EXPECT_TRUE(model().walls.empty());
    EXPECT_EQ(steps(), at_begin);
    QTest::mouseMove(plan(), at(6, 3));
    EXPECT_TRUE(model().walls.empty());  // nothing is under way any more
    EXPECT_EQ(plan()->tool(), ToolKind::wall);
}

TEST_F(DrawingTest, SizesOfWhatIsDrawnNextAreTypedBeforeAndRemembered) {
    begin();
    act("rib-tool");
    type("pattern-width", "0.6"), type("pattern-depth", "1.4");
    line_by_keys({"1, 2", "11, 2"});
    ASSERT_EQ(model().ribs.size(), 1u);
    EXPECT_EQ(model().ribs[0].width, 0.6);
    EXPECT_EQ(model().ribs[0].depth, 1.4);
    line_by_keys({"1, 4", "11, 4"});
    ASSERT_EQ(model().ribs.size(), 2u);
    EXPECT_EQ(model().ribs[1].depth, 1.4);
    EXPECT_EQ(model().ribs[1].id, "R2");
    // Typed beside ribs that stand, it outlives answers and a figure that is given up.
    w.desk()->choose({});
    type("pattern-width", "0.5");
    ASSERT_TRUE(in_step());
    enter("1, 6");
    QTest::mouseMove(plan(), at(5, 6)), QTest::mouseMove(plan(), at(5, 30));
    act("undo");
    line_by_keys({"1, 6", "11, 6"});
    ASSERT_EQ(model().ribs.size(), 3u);
    EXPECT_EQ(model().ribs[2].width, 0.5);
}

TEST_F(DrawingTest, BadFiguresAreRefusedWithTheReason) {
    begin();
    act("opening-tool"), figure("rectangle");
    enter("2, 2"), enter("3");
    EXPECT_TRUE(said().contains("two sizes")) << said().toStdString();
    act("wall-tool");
    enter("2, 2"), enter("by 0, 0");
    EXPECT_TRUE(said().contains("no length")) << said().toStdString();
    act("column-tool");
    enter("20, 2");
    EXPECT_TRUE(said().contains("off the slab")) << said().toStdString();
    EXPECT_TRUE(model().columns.empty());
    act("opening-tool"), figure("corners");
    for (const char* p : {"2, 2", "5, 2", "5, 5"}) enter(p);
    enter("3, 1");
    EXPECT_TRUE(said().contains("would cross")) << said().toStdString();
    act("rib-tool");
    enter("2, 2"), enter("30, 2"), enter();
    EXPECT_TRUE(model().ribs.empty());
    EXPECT_TRUE(said().contains("leaves the slab")) << said().toStdString();
}

TEST_F(DrawingTest, ACopyThatFallsOffAndAMoveOffTheSlabAreRefused) {
    begin();
    act("column-tool"), enter("2, 2"), act("choose-tool");
    const Model before = model();
    type("copies-x", "4"), type("by-x", "3"), press("copy-rows");
    EXPECT_TRUE(said().contains("not done")) << said().toStdString();
    EXPECT_EQ(model(), before);
    drag(at(2, 2), at(2, -1.5));
    EXPECT_EQ(model(), before);
    EXPECT_FALSE(w.desk()->document()->previewing());
}

TEST_F(DrawingTest, SeveralRimsArePushedTogetherAndInsideOutIsRefused) {
    begin();
    act("choose-tool");
    click(6, 0), click(12, 6, Qt::ShiftModifier);
    EXPECT_EQ(w.desk()->chosen.size(), 2u);
    type("push", "1");
    EXPECT_NEAR(signed_area(ring()), 13 * 9, 1e-9);
    press("all-rims");
    type("push", "-5");
    EXPECT_NEAR(signed_area(ring()), 13 * 9, 1e-9);
    EXPECT_TRUE(said().contains("turn round")) << said().toStdString();
    type("push", "-0.5");
    EXPECT_NEAR(signed_area(ring()), 12 * 8, 1e-9);
}

TEST_F(DrawingTest, TheRimIsFittedRoundWhatStands) {
    begin();
    act("column-tool"), type("pattern-size-x", "0.4"), type("pattern-size-y", "0.4");
    for (const char* p : {"2, 2", "8, 2", "2, 6"}) enter(p);
    act("choose-tool"), w.desk()->choose({});
    type("overhang", "0.8"), press("fit-rectangle");
    EXPECT_NEAR(signed_area(ring()), (6 + 0.4 + 1.6) * (4 + 0.4 + 1.6), 1e-9);
    press("fit-stepped");
    EXPECT_NEAR(signed_area(ring()), 8 * 2 + 2 * 4, 1e-9);
    act("undo"), act("undo");
    EXPECT_NEAR(signed_area(ring()), 96, 1e-9);
}

TEST_F(DrawingTest, ColumnsCanStandBeforeThereIsASlabAndTheRimIsFittedRoundThem) {
    act("column-tool");
    for (const char* p : {"0, 0", "6, 0", "6, 4"}) enter(p);
    ASSERT_EQ(model().columns.size(), 3u);
    plan()->show_all(), act("choose-tool"), w.desk()->choose({});
    QApplication::processEvents();
    click(6, 4);
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::column, "C3"}}));  // it is seen
    w.desk()->choose({});
    type("overhang", "1"), press("fit-rectangle");
    EXPECT_NEAR(signed_area(ring()), (6 + 0.4 + 2) * (4 + 0.4 + 2), 1e-9);
}

TEST_F(DrawingTest, TheWheelOverASliderOrAChoiceScrollsAndEditsNothing) {
    begin();
    w.desk()->choose({});
    const Model before = model();
    w.resize(1100, 700);  // the page is longer than the Tray
    QApplication::processEvents();
    for (const char* name : {"mesh-fineness", "concrete-class"}) {
        auto* on = widget<QWidget>(name);
        const QPointF at = on->rect().center();
        QWheelEvent e(at, on->mapToGlobal(at), {}, {0, -240}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(on, &e);
        EXPECT_EQ(model(), before) << name;
    }
    EXPECT_GT(widget<QScrollArea>("tray")->verticalScrollBar()->value(), 0);
}

TEST_F(DrawingTest, AnythingIsChosenByRubberBandMovedByArrowsAndNamed) {
    begin();
    act("column-tool"), enter("3, 3"), act("wall-tool");
    line_by_keys({"5, 3", "7, 3"});
    act("choose-tool"), w.desk()->choose({});
    drag(at(2, 2), at(8, 4));
    EXPECT_EQ(w.desk()->chosen.size(), 2u);
    plan()->setFocus();
    QTest::keyClick(plan(), Qt::Key_Up, Qt::ShiftModifier);
    EXPECT_EQ(model().columns[0].at, (Point{3, 4}));
    EXPECT_EQ(model().walls[0].path[1], (Point{7, 4}));
    act("undo");
    EXPECT_EQ(model().columns[0].at, (Point{3, 3}));
    w.desk()->choose({{ThingKind::wall, "W1"}});
    type("thing-name", "core");
    EXPECT_EQ(model().walls[0].id, "core");
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::wall, "core"}}));
    act("choose-all");
    EXPECT_EQ(w.desk()->chosen.size(), 2u + 4);
    type("by-x", "1"), press("move-by");  // all by 1 m along x, the slab too
    EXPECT_EQ(ring()[0], (Point{1, 0}));
    EXPECT_EQ(model().walls[0].path[0], (Point{6, 3}));
}

TEST_F(DrawingTest, CornersOfAThingAreDragged) {
    begin();
    act("opening-tool"), figure("corners");
    for (const char* p : {"4, 3", "6, 3", "6, 5", "4, 5"}) enter(p);
    enter(), act("choose-tool");
    drag(at(6, 5), at(7, 6));
    EXPECT_NEAR(model().slab.openings[0].outline[2].x, 7, 0.2);
    const Model before = model();
    drag(at(4, 3), at(6.6, 5.7));  // past the others: no further
    EXPECT_FALSE(self_crossing(model().slab.openings[0].outline));
    EXPECT_EQ(model().slab.openings[0].outline.size(), before.slab.openings[0].outline.size());
}

TEST_F(DrawingTest, APictureLiesUnderThePlanIsScaledAndSavedWithTheModel) {
    QTemporaryDir folder;
    QImage image(200, 100, QImage::Format_RGB32);
    image.fill(Qt::red);
    ASSERT_TRUE(image.save(folder.filePath("site.png")));
    ASSERT_TRUE(w.open_file(folder.filePath("site.png")));  // as it is when dropped
    ASSERT_EQ(model().underlays.size(), 1u);
    type("underlay-width", "10"), type("underlay-strength", "1");
    plan()->show_all();
    QApplication::processEvents();
    const auto colour = [&](double x, double y) { return plan()->grab().toImage().pixelColor(at(x, y)); };
    EXPECT_GT(colour(9.5, 4.5).red(), 240);  // 10 m wide, so 5 m high
    EXPECT_LT(colour(9.5, 4.5).blue(), 30);
    EXPECT_GT(colour(9.5, 5.5).blue(), 200);
    type("underlay-reads", "5"), type("underlay-is", "8"), press("underlay-scale");
    EXPECT_EQ(model().underlays[0].width, 16);
    ASSERT_TRUE(w.save_to(folder.filePath("raft.mossbed")));
    const auto again = load_model(folder.filePath("raft.mossbed").toStdString());
    ASSERT_TRUE(again.model);
    EXPECT_EQ(again.model->underlays[0].width, 16);
    press("underlay-away");
    EXPECT_TRUE(model().underlays.empty());
    QFile bad(folder.filePath("bad.png"));
    ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
    bad.write("no picture");
    bad.close();
    EXPECT_FALSE(w.open_file(bad.fileName()));
    EXPECT_TRUE(said().contains("no picture"));
}

TEST_F(DrawingTest, RowsOfATableAreChosenOnThePlanAndTheOtherWayRound) {
    begin();
    act("rib-tool");
    line_by_keys({"1, 2", "11, 2"}), line_by_keys({"1, 6", "11, 6"});
    act("choose-tool"), w.desk()->choose({});
    w.lower()->show_table(TableKind::ribs);
    TableView* t = w.lower()->table();
    ASSERT_EQ(t->rows()->n_things(), 2);
    t->selectRow(1);
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::rib, "R2"}}));
    w.desk()->choose({{ThingKind::rib, "R1"}});
    EXPECT_EQ(t->selectionModel()->selectedRows().at(0).row(), 0);
    t->rows()->paste("0.7", {0}, t->rows()->table().column_of("width"));
    EXPECT_EQ(model().ribs[0].width, 0.7);
    t->rows()->paste("\"2, 3; 6, 3; 6, 5\"", {0}, t->rows()->table().column_of("all its points"));
    EXPECT_EQ(model().ribs[0].path.size(), 3u);
}

TEST_F(DrawingTest, RandomEditsLoseAndStrandNothing) {
    begin();
    const int seed = qEnvironmentVariableIntValue("MOSSBED_RANDOM_SEED");
    std::mt19937 random(seed ? unsigned(seed) : 20261127U);
    auto u = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    auto text = [&](double x, double y) { return QString("%1, %2").arg(x, 0, 'f', 2).arg(y, 0, 'f', 2); };
    static const char* tools[] = {"column-tool", "wall-tool", "rib-tool", "opening-tool", "patch-tool", "line-tool"};
    w.desk()->hold(true);  // the hand is looked at, not the solving
    const int n_edits = seed ? 1000 : 400;
    for (int k = 0; k < n_edits; ++k) {
        switch (int(u(0, 9))) {
            case 0:
            case 1:
                act(tools[size_t(u(0, 6))]);
                for (int i = 0; i < 4; ++i) enter(text(u(0, 12), u(0, 8)));
                enter();
                break;
            case 2:
                act("choose-tool"), click(u(0, 12), u(0, 8), u(0, 1) < 0.5 ? Qt::ShiftModifier : Qt::NoModifier);
                break;
            case 3:
                act("choose-tool"), drag(at(u(0, 12), u(0, 8)), at(u(0, 12), u(0, 8)), u(0, 1) < 0.9);
                QTest::mouseRelease(plan(), Qt::LeftButton, {}, at(3, 3));
                break;
            case 4:
                for (const char* name : {"copy-rows", "mirror-copy-x", "turn", "offset", "all-like"})
                    if (auto* b = w.findChild<QAbstractButton*>(name);
                        b && u(0, 1) < 0.25 && model().columns.size() < 60)
                        b->click();
                break;
            case 5:
                plan()->setFocus(), QTest::keyClick(plan(), u(0, 1) < 0.5 ? Qt::Key_Delete : Qt::Key_Left);
                break;
            case 6:
                act("undo");
                break;
            case 7:
                act(u(0, 1) < 0.5 ? "redo" : "undo");
                break;
            default:
                QTest::keyClick(plan(), Qt::Key_Escape);
        }
        for (const Thing& t : w.desk()->chosen) ASSERT_TRUE(is_there(model(), t)) << k;
        if (w.desk()->document()->previewing()) ASSERT_NE(plan()->tool(), ToolKind::choose) << k;
        std::set<std::string> names;
        for (const Column& c : model().columns) ASSERT_TRUE(names.insert(c.id).second) << k << " " << c.id;
        for (const LoadCase& c : model().loads.cases)
            for (const LoadItem& i : c.items)
                if (auto* l = std::get_if<ColumnLoad>(&i.load)) ASSERT_TRUE(find_id(model().columns, l->column)) << k;
    }
    act("choose-tool");
    const Model last = model();
    QUndoStack* stack = w.desk()->document()->undo_stack();
    const int n = stack->index();
    stack->setIndex(0);
    EXPECT_FALSE(has_slab(model()));
    stack->setIndex(n);
    EXPECT_EQ(model(), last);
    const auto again = read_model(write_model(last));
    ASSERT_TRUE(again.model);
    EXPECT_EQ(write_model(*again.model), write_model(last));
}

}  // namespace
}  // namespace mossbed
