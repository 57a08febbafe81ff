// Loads drawn on the Plan, dragged, edited in the Tray and in their table.
#include <QClipboard>
#include <QHeaderView>
#include <QToolButton>

#include "app/table_view.h"
#include "core/model/edit.h"
#include "core/model/load_values.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class LoadWindow : public Window {
  protected:
    void begin() {
        draw_raft();
        ASSERT_TRUE(in_step());
        act("stop-2");
        settle();
        w.desk()->load_case = "Q";
        w.desk()->tell(Desk::view);
    }
    const std::vector<LoadItem>& items() { return find_id(model().loads.cases, std::string("Q"))->items; }
};

TEST_F(LoadWindow, PointsLinesAndAreasAreDrawnWithTheirOwnToolsIntoTheCaseInHand) {
    begin();
    act("point-load-tool");
    type("pattern-N", "250");
    click(4, 4);
    ASSERT_EQ(items().size(), 1u);
    const auto& point = std::get<PointLoad>(items()[0].load);
    EXPECT_EQ(point.N, 250);
    EXPECT_NEAR(point.at.x, 4, 0.06);
    act("line-load-tool");
    click(2, 3), click(8, 3);
    QTest::keyClick(plan(), Qt::Key_Return);
    ASSERT_EQ(items().size(), 2u);
    EXPECT_EQ(std::get<LineLoad>(items()[1].load).path.size(), 2u);
    act("area-load-tool");
    QTest::mouseClick(widget<QPushButton>("figure-rectangle"), Qt::LeftButton);
    settle();
    click(6, 5), click(9, 7);
    ASSERT_EQ(items().size(), 3u);
    EXPECT_NEAR(std::abs(signed_area(std::get<AreaLoad>(items()[2].load).outline)), 6, 0.3);
    EXPECT_EQ(w.desk()->chosen, (Things{load_thing("Q", 2)}));
    type("load-p", "12");
    EXPECT_EQ(std::get<AreaLoad>(items()[2].load).p, 12);
    ASSERT_TRUE(in_step());
    const CaseTotal* total = find_id(w.desk()->answer()->cases, std::string("Q"));
    double sum = 0;
    for (const LoadItem& i : items()) sum += force_of_load(model(), i);
    EXPECT_NEAR(total->on_slab.Fz, sum, 1e-6 * sum);
}

TEST_F(LoadWindow, ALoadIsDraggedWholeByItsCornersAndDeleted) {
    begin();
    act("area-load-tool");
    QTest::mouseClick(widget<QPushButton>("figure-rectangle"), Qt::LeftButton);
    settle();
    click(2, 2), click(4, 4);
    QTest::keyClick(plan(), Qt::Key_Escape);
    const Polygon before = std::get<AreaLoad>(items()[0].load).outline;
    drag(at(3, 2), at(5, 3));  // on its rim
    const Polygon moved = std::get<AreaLoad>(items()[0].load).outline;
    EXPECT_NEAR(box_of(moved).low.x - box_of(before).low.x, 2, 0.3);
    EXPECT_NEAR(box_of(moved).width(), box_of(before).width(), 1e-9);
    const Point corner = box_of(moved).high;
    drag(at(corner.x, corner.y), at(corner.x + 1, corner.y + 1));
    EXPECT_GT(box_of(std::get<AreaLoad>(items()[0].load).outline).high.x, corner.x + 0.6);
    EXPECT_EQ(w.desk()->document()->undo_stack()->undoText(), "Move a corner of load Q/1");
    QTest::keyClick(plan(), Qt::Key_Delete);
    EXPECT_TRUE(items().empty());
    EXPECT_TRUE(w.desk()->chosen.empty());
}

TEST_F(LoadWindow, SeveralAreEditedTogetherMovedToAnotherCaseAndWrittenAsDepth) {
    begin();
    Model m = model();
    for (LoadCase& c : m.loads.cases)
        if (c.id == "Q")
            c.items = {{AreaLoad{{{2, 2}, {4, 2}, {4, 4}, {2, 4}}, 5}, {}},
                       {AreaLoad{{{5, 2}, {7, 2}, {7, 4}, {5, 4}}, 8}, {}}};
    w.desk()->document()->apply("Two", std::move(m));
    w.desk()->choose({load_thing("Q", 0), load_thing("Q", 1)});
    settle();
    EXPECT_EQ(widget<QLineEdit>("load-p")->text(), "") << "several";
    type("load-p", "9");
    for (const LoadItem& i : items()) EXPECT_EQ(std::get<AreaLoad>(i.load).p, 9);
    press("load-fill");
    for (const LoadItem& i : items()) EXPECT_NEAR(std::get<AreaLoad>(i.load).fill->depth, 0.5, 1e-12);
    type("load-depth", "2");
    for (const LoadItem& i : items()) EXPECT_NEAR(std::get<AreaLoad>(i.load).pressure(), 36, 1e-12);
    auto* to = widget<QComboBox>("load-case");
    to->setCurrentIndex(0);
    Q_EMIT to->activated(0);
    settle();
    EXPECT_TRUE(items().empty());
    EXPECT_EQ(model().loads.cases[0].items.size(), 2u);
    EXPECT_EQ(w.desk()->chosen, (Things{load_thing("G", 0), load_thing("G", 1)}));
    act("undo");
    EXPECT_EQ(items().size(), 2u);
}

TEST_F(LoadWindow, TheTableOfLoadsTakesAndGivesEverySort) {
    begin();
    QTest::mouseClick(widget<QToolButton>("pane-loads"), Qt::LeftButton);
    auto* table = widget<TableView>("table-loads");
    ASSERT_TRUE(table);
    QApplication::clipboard()->setText(
        "case\ton\twhere, or its name\tN\tq\tp\n"
        "Q\tpoint\t3, 3\t120\t\t\n"
        "Q\tline\t2, 2; 6, 2\t\t15\t\n"
        "G\tslab\twhole slab\t\t\t2.5\n"
        "Q\tline\t2, 2\t\t15\t\n");
    table->setFocus();
    QTest::keyClick(table, Qt::Key_V, Qt::ControlModifier);
    ASSERT_GE(items().size(), 2u);
    EXPECT_EQ(std::get<PointLoad>(items()[0].load).N, 120);
    EXPECT_EQ(std::get<LineLoad>(items()[1].load).q[0], 15);
    EXPECT_EQ(std::get<SlabLoad>(model().loads.cases[0].items.at(0).load).p, 2.5);
    EXPECT_TRUE(widget<QLabel>("strip-text")->text().contains("line 5"))
        << widget<QLabel>("strip-text")->text().toStdString();
}

TEST_F(LoadWindow, TheLoadSheetHasCasesOnlySumsAndFillsDown) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    act("stop-2");
    QTest::mouseClick(widget<QToolButton>("pane-load-sheet"), Qt::LeftButton);
    auto* table = widget<TableView>("table-load sheet");
    const auto& columns = table->rows()->table().columns();
    EXPECT_EQ(columns[1].key, "G/N");
    double sum = 0;
    for (const Column& c : model().columns) sum += column_load(model(), "G", c.id).N;
    EXPECT_TRUE(table->rows()->sums().contains(look::number(sum, 0))) << table->rows()->sums().toStdString();
    int largest = 0;
    for (int r = 0; r < table->rows()->n_things(); ++r) largest += table->rows()->table().cell(r, 1).is_largest;
    EXPECT_EQ(largest, 1);
    const double top = *table->rows()->table().cell(0, 1).number;
    for (int r = 0; r < 3; ++r)
        table->selectionModel()->select(table->model()->index(r, 1), QItemSelectionModel::Select);
    QTest::keyClick(table, Qt::Key_D, Qt::ControlModifier);
    for (int r = 0; r < 3; ++r) EXPECT_EQ(table->rows()->table().cell(r, 1).number, top) << r;
}

TEST_F(LoadWindow, WaterHasALevelInItsCaseAndAWallALoadInTheCaseInHand) {
    begin();
    QTest::mouseClick(widget<QPushButton>("add-case"), Qt::LeftButton);
    settle();
    pick("case-action", "groundwater");
    type("uplift-level", "0.4");
    const auto& water = find_id(model().loads.cases, std::string("L1"))->items;
    ASSERT_EQ(water.size(), 1u);
    EXPECT_EQ(std::get<Uplift>(water[0].load).to_level, 0.4);
    w.desk()->load_case = "Q";
    Model m = model();
    m.walls = {{"W1", {{3, 3}, {8, 3}}, 0.25, 3, false, 1, {}}};
    w.desk()->document()->apply("A wall", std::move(m));
    w.desk()->choose({{ThingKind::wall, "W1"}});
    settle();
    type("thing-load", "35");
    EXPECT_EQ(member_load(model(), "Q", {ThingKind::wall, "W1"}), 35);
    ASSERT_TRUE(in_step());
    EXPECT_NEAR(find_id(w.desk()->answer()->cases, std::string("Q"))->on_slab.Fz, 5 * 35, 1e-6);
}

// Whatever is shown, the window fits on a small screen.
TEST_F(LoadWindow, NoTabAndNoTableMakesTheWindowWiderThanAThousand) {
    ASSERT_TRUE(w.open_file(SOURCE_DIR "/examples/sandpiper-row.mossbed"));  // with curves of ribs
    ASSERT_TRUE(in_step());
    EXPECT_EQ(w.width(), 1280) << "as it was asked for";
    w.resize(1000, 700);
    for (int stop = 0; stop < 7; ++stop) {
        act(QString("stop-%1").arg(stop));
        for (QToolButton* tab : w.findChildren<QToolButton*>()) {
            if (!tab->objectName().startsWith("pane-") || !tab->isVisible()) continue;
            QTest::mouseClick(tab, Qt::LeftButton);
            settle();
            EXPECT_LE(w.minimumSizeHint().width(), 1000) << "stop " << stop << ", " << tab->objectName().toStdString();
            EXPECT_LE(w.width(), 1000);
        }
    }
}

TEST_F(LoadWindow, AWallIsLoadedByAClickWithTheToolForIt) {
    begin();
    Model m = model();
    m.walls = {{"W1", {{2, 4}, {8, 4}}, 0.3, 3, true, 1, {}}};
    w.desk()->document()->apply("Put a wall", m);
    settle();
    act("member-load-tool");
    type("pattern-q", "42");
    click(5, 4);
    EXPECT_EQ(member_load(model(), "Q", {ThingKind::wall, "W1"}), 42);
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::wall, "W1"}}));
    EXPECT_EQ(w.desk()->document()->undo_stack()->undoText(), "Load wall W1");
    click(5, 1);  // nothing stands here
    EXPECT_EQ(items().size(), 1u);
}

}  // namespace
}  // namespace mossbed
