// Nothing typed is lost: fields and cells in the real window, by real keys and clicks.
#include <QPushButton>
#include <QTemporaryDir>
#include <QUndoStack>

#include "core/model/edit.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class HandTest : public Window {
  protected:
    HandTest() {
        Model m = new_model();
        m.slab.outline = Polygon{{0, 0}, {12, 0}, {12, 8}, {0, 8}};
        m.mesh_size = 1;
        for (auto [id, x] : {std::pair{"C1", 3.0}, {"C2", 9.0}}) {
            Column c;
            c.id = id, c.at = {x, 4};
            m.columns.push_back(c);
        }
        column_load(m, "G", "C1").N = column_load(m, "G", "C2").N = 500;
        w.desk()->document()->apply("Begin", m);
        w.plan()->show_all();
        w.desk()->go_to(Stop::slab);
        QApplication::processEvents();
    }
    Line* line(const QString& name) { return widget<Line>(name); }
    void click_into(const QString& name) { QTest::mouseClick(line(name), Qt::LeftButton, {}, QPoint(50, 10)); }
    void keys(const QString& text) { QTest::keyClicks(w.focusWidget(), text); }
    void key(Qt::Key k, Qt::KeyboardModifiers m = {}) { QTest::keyClick(w.focusWidget(), k, m); }
    QString said() { return widget<QLabel>("strip-text")->text(); }
    int steps() { return w.desk()->document()->undo_stack()->index(); }
};

TEST_F(HandTest, TabGoesToTheNextNumberAndTypingReplacesIt) {
    w.desk()->choose({{ThingKind::column, "C1"}});
    click_into("column-x");
    EXPECT_EQ(line("column-x")->selectedText(), "3");  // all of it, by a click
    keys("7.2");
    key(Qt::Key_Tab);
    EXPECT_EQ(w.focusWidget(), line("column-y"));
    EXPECT_EQ(line("column-y")->selectedText(), "4");  // kept through the refresh that the edit brought
    keys("2");
    key(Qt::Key_Tab);
    EXPECT_EQ(find_id(model().columns, "C1")->at.x, 7.2);
    EXPECT_EQ(find_id(model().columns, "C1")->at.y, 2);
    ASSERT_TRUE(in_step());  // an answer that arrives takes nothing away either
    click_into("column-angle");
    keys("15");
    w.desk()->tell(~0);
    EXPECT_EQ(line("column-angle")->text(), "15");
}

TEST_F(HandTest, ADoubleClickTakesTheWholeNumber) {
    click_into("thickness");
    QTest::mouseDClick(line("thickness"), Qt::LeftButton, {}, QPoint(80, 10));
    EXPECT_EQ(line("thickness")->selectedText(), line("thickness")->text());
}

TEST_F(HandTest, WhatIsTypedIsTakenByEveryWayOfLeaving) {
    const std::vector<std::pair<const char*, std::function<void()>>> ways{
        {"a stop by key", [&] { act("stop-3"); }},
        {"a stop by mouse",
         [&] { QTest::mouseClick(w.findChild<QWidget*>("trail"), Qt::LeftButton, {}, QPoint(20, 20)); }},
        {"a click on the plan", [&] { click(11.5, 7.5); }},
        {"a click on a tool", [&] { QTest::mouseClick(widget<QToolButton>("tool-column"), Qt::LeftButton); }},
        {"the combination", [&] { QTest::mouseClick(widget<QToolButton>("combination-on"), Qt::LeftButton); }},
        {"a row of the Ledger", [&] { QTest::mouseClick(w.ledger()->viewport(), Qt::LeftButton, {}, QPoint(40, 10)); }},
        {"undo, which then takes it back", [&] { QTest::keyClick(w.focusWidget(), Qt::Key_Z, Qt::ControlModifier); }}};
    double h = 0.6;
    for (const auto& [way, leave] : ways) {
        act("choose-tool");
        w.desk()->choose({});
        w.desk()->go_to(Stop::slab);
        click_into("thickness");
        const int before = steps();
        h += 0.01;
        keys(plain(h));
        leave();
        if (QString(way).startsWith("undo")) {
            EXPECT_NEAR(model().slab.thickness, h - 0.01, 1e-9) << way;
            act("redo");
        }
        EXPECT_NEAR(model().slab.thickness, h, 1e-9) << way;
        EXPECT_EQ(steps(), before + 1) << way;  // one step an edit
    }
}

TEST_F(HandTest, SavingTakesWhatIsTypedOrSaysWhyItDoesNot) {
    QTemporaryDir folder;
    const QString path = folder.filePath("raft.mossbed");
    click_into("thickness");
    keys("0.77");
    ASSERT_TRUE(w.save_to(path));
    EXPECT_EQ(load_model(path.toStdString()).model->slab.thickness, 0.77);
    EXPECT_FALSE(w.desk()->document()->modified());
    keys("much");
    EXPECT_FALSE(w.save_to(path));
    EXPECT_TRUE(said().contains("Mend it")) << said().toStdString();
    EXPECT_EQ(line("thickness")->text(), "much");  // there to be mended
    key(Qt::Key_Escape);
    EXPECT_EQ(line("thickness")->text(), "0.77");
    EXPECT_TRUE(w.save_to(path));
    keys("0.0x");
    EXPECT_FALSE(w.close());  // nor does it close over it
    EXPECT_TRUE(w.isVisible());
    key(Qt::Key_Escape);
}

TEST_F(HandTest, NonsenseThatIsLeftIsGivenUpAndThatIsSaid) {
    for (const char* bad : {"abc", "--", "1/0", "9999", "0", "3 bananas", "1e999"}) {
        click_into("thickness");
        keys(bad);
        act("stop-3");
        EXPECT_TRUE(said().contains("was not taken") && said().contains("0.6 stays")) << bad << said().toStdString();
        EXPECT_EQ(model().slab.thickness, 0.6) << bad;
        act("stop-1");
        EXPECT_EQ(line("thickness")->text(), "0.6") << bad;
    }
    // With the page still there it is said where it was typed.
    click_into("thickness");
    keys("abc");
    key(Qt::Key_Tab);
    EXPECT_EQ(line("thickness")->text(), "0.6");
    EXPECT_TRUE(widget<QLabel>("thickness-fault")->isVisible());
    EXPECT_TRUE(widget<QLabel>("thickness-fault")->text().contains("“abc” was not taken"));
}

TEST_F(HandTest, MessagesMoveNothing) {
    const auto where = [&] {
        std::vector<QRect> all;
        for (const char* name : {"trail", "plan", "cut", "tray", "ledger", "thickness", "mesh-size", "self-weight"}) {
            auto* x = w.findChild<QWidget*>(name);
            all.emplace_back(x->mapTo(&w, QPoint()), x->size());
        }
        return all;
    };
    ASSERT_TRUE(in_step());
    QApplication::processEvents();
    const auto before = where();
    w.say(QString("A long sentence that has to be broken into several lines. ").repeated(9), true);
    QApplication::processEvents();
    EXPECT_EQ(where(), before);
    click_into("thickness");
    keys("abc");
    key(Qt::Key_Return);
    QApplication::processEvents();
    EXPECT_TRUE(widget<QLabel>("thickness-fault")->isVisible());
    EXPECT_EQ(where(), before);
    key(Qt::Key_Escape);
}

TEST_F(HandTest, EscapePutsDownWhatIsInHandFromAnywhere) {
    act("column-tool");
    w.desk()->choose({{ThingKind::column, "C1"}});
    click_into("column-x");  // the focus is in the Tray
    keys("5");
    key(Qt::Key_Escape);  // first what is typed
    EXPECT_EQ(line("column-x")->text(), "3");
    EXPECT_EQ(w.plan()->tool(), ToolKind::column);
    key(Qt::Key_Escape);  // then the tool
    EXPECT_EQ(w.plan()->tool(), ToolKind::choose);
    EXPECT_FALSE(w.desk()->chosen.empty());
    key(Qt::Key_Escape);  // then what is chosen
    EXPECT_TRUE(w.desk()->chosen.empty());
    EXPECT_EQ(find_id(model().columns, "C1")->at.x, 3);
    // In a cell it shuts the cell only.
    w.desk()->choose({{ThingKind::column, "C1"}});
    auto* loads = widget<QTableWidget>("column-loads");
    loads->setCurrentCell(0, 1);
    loads->editItem(loads->item(0, 1));
    keys("77");
    key(Qt::Key_Escape);
    EXPECT_EQ(column_load(model(), "G", "C1").N, 500);
    EXPECT_FALSE(w.desk()->chosen.empty());
}

TEST_F(HandTest, UndoFromAFieldReachesTheModelAndFromACellToo) {
    w.desk()->choose({{ThingKind::column, "C1"}});
    click_into("column-x");
    keys("5");
    key(Qt::Key_Return);
    EXPECT_EQ(find_id(model().columns, "C1")->at.x, 5);
    key(Qt::Key_Z, Qt::ControlModifier);  // the focus is still in the line
    EXPECT_EQ(find_id(model().columns, "C1")->at.x, 3);
    EXPECT_EQ(line("column-x")->text(), "3");
    key(Qt::Key_Y, Qt::ControlModifier);
    EXPECT_EQ(find_id(model().columns, "C1")->at.x, 5);
    auto* loads = widget<QTableWidget>("column-loads");
    loads->setFocus();
    loads->setCurrentCell(0, 1);
    loads->editItem(loads->item(0, 1));
    keys("77");
    key(Qt::Key_Z, Qt::ControlModifier);  // the typed number becomes an edit, and that is taken back
    EXPECT_EQ(column_load(model(), "G", "C1").N, 500);
    act("redo");
    EXPECT_EQ(column_load(model(), "G", "C1").N, 77);
}

TEST_F(HandTest, ACellThatIsLeftByAClickOnTheTrailIsTaken) {
    w.desk()->choose({{ThingKind::column, "C2"}});
    auto* loads = widget<QTableWidget>("column-loads");
    loads->setFocus();
    loads->setCurrentCell(0, 1);
    loads->editItem(loads->item(0, 1));
    EXPECT_EQ(static_cast<Line*>(w.focusWidget())->selectedText(), "500");
    keys("2*310");
    QTest::mouseClick(w.findChild<QWidget*>("trail"), Qt::LeftButton, {}, QPoint(20, 20));
    EXPECT_EQ(column_load(model(), "G", "C2").N, 620);
}

TEST_F(HandTest, WhateverChangesTheModelInADragPutsTheDragDown) {
    const std::vector<std::pair<const char*, std::function<void()>>> ways{
        {"undo", [&] { act("undo"); }},
        {"Escape", [&] { QTest::keyClick(plan(), Qt::Key_Escape); }},
        {"an edit by another way",
         [&] {
             w.desk()->document()->apply("Delete", without(model(), {{ThingKind::column, "C2"}}));
         }},
        {"New", [&] { w.desk()->document()->start_new(); }}};
    for (const auto& [way, interrupt] : ways) {
        w.desk()->go_to(Stop::slab);
        const QPoint from = at(3, 4), to = at(6, 6);
        drag(from, to, false);
        EXPECT_NEAR(find_id(model().columns, "C1")->at.x, 6, 0.2) << way;
        interrupt();
        const Model after = model();
        QTest::mouseMove(plan(), to + QPoint(30, 0));
        QTest::mouseRelease(plan(), Qt::LeftButton, {}, to + QPoint(30, 0));
        EXPECT_TRUE(model() == after) << way;  // what is left of the drag does nothing
        EXPECT_FALSE(w.desk()->document()->previewing()) << way;
        if (QString(way) == "undo" || QString(way) == "Escape")
            EXPECT_EQ(find_id(model().columns, "C1")->at.x, 3) << way;
        if (QString(way).startsWith("an edit")) act("undo");
    }
    EXPECT_FALSE(has_slab(model()));  // New is no step that undo takes back
}

TEST_F(HandTest, NewAndOpenStartClean) {
    ASSERT_TRUE(w.open_file(demo) && in_step());
    w.desk()->choose({{ThingKind::column, "C15"}});
    w.desk()->set_bands(Bands{0, 10, 5});
    for (const Row& r : w.desk()->rows())
        if (r.utilisation && r.at) {
            w.desk()->fly_to(r);
            break;
        }
    QTemporaryDir folder;
    Model m = model();
    m.slab.thickness += 0.2;
    save_model(m, folder.filePath("thicker.mossbed").toStdString());
    ASSERT_TRUE(w.open_file(folder.filePath("thicker.mossbed")));
    EXPECT_TRUE(w.desk()->rows().empty());  // not those of the other file
    EXPECT_EQ(w.desk()->answer(), nullptr);
    EXPECT_TRUE(w.desk()->chosen.empty() && !w.desk()->flag);
    ASSERT_TRUE(in_step());
    for (const Row& r : w.desk()->rows()) EXPECT_EQ(w.desk()->use_before(r), std::nullopt);  // no moves against it
    EXPECT_NE(w.desk()->bands().high, 10);
    act("new");
    EXPECT_TRUE(w.desk()->rows().empty());
    EXPECT_EQ(w.desk()->answer(), nullptr);
}

TEST_F(HandTest, EverythingFadesTogetherWhenTheModelCannotBeSolvedAndNothingWhileItIsInStep) {
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(w.desk()->is_old());
    w.desk()->choose({{ThingKind::column, "C1"}});
    type("column-x", "40");  // off the slab
    EXPECT_FALSE(in_step());
    EXPECT_TRUE(w.desk()->is_old());
    EXPECT_TRUE(w.plan()->scene().stale);
    act("undo");
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(w.desk()->is_old());
    EXPECT_FALSE(w.plan()->scene().stale);
    w.desk()->choose({});
    act("stop-3");  // what the Tray says of the answer too
    EXPECT_FALSE(widget<QLabel>("contact-facts")->property("of-before").toBool());
    w.desk()->hold(true);  // nothing will follow: then it is old after a moment
    w.desk()->choose({{ThingKind::column, "C1"}});
    type("column-x", "5");
    QTest::qWait(350);
    EXPECT_TRUE(w.desk()->is_old());
    w.desk()->choose({});
    EXPECT_TRUE(widget<QLabel>("contact-facts")->property("of-before").toBool());
}

}  // namespace
}  // namespace mossbed
