// Tables in the lower pane: typed, pasted, copied, sorted, and in step with what is chosen on the plan.
#include <QClipboard>
#include <QHeaderView>
#include <QPushButton>
#include <QTemporaryDir>

#include "core/model/edit.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class TableWindow : public Window {
  protected:
    TableWindow() {
        w.desk()->hold(true);
        Model m = new_model();
        m.slab.outline = Polygon{{0, 0}, {12, 0}, {12, 8}, {0, 8}};
        w.desk()->document()->apply("Begin", m);
        w.plan()->show_all();
        w.desk()->go_to(Stop::loads);
    }
    TableView* open(TableKind kind = TableKind::columns) {
        w.lower()->show_table(kind);
        QApplication::processEvents();
        return w.lower()->table();
    }
    QModelIndex cell(int row, const char* head) {
        TableView* t = w.lower()->table();
        return t->model()->index(row, t->rows()->table().column_of(head));
    }
    void put(int row, const char* head, const QString& text) {
        TableView* t = w.lower()->table();
        t->setFocus();
        t->setCurrentIndex(cell(row, head));
        QTest::keyClicks(t, text.left(1));  // typing begins the cell anew
        QTest::keyClicks(w.focusWidget(), text.mid(1));
        QTest::keyClick(w.focusWidget(), Qt::Key_Return);
        QApplication::processEvents();
    }
    void paste(const QString& text, int row = 0, const char* head = "column") {
        TableView* t = open();
        t->setCurrentIndex(cell(row, head));
        QApplication::clipboard()->setText(text);
        QTest::keyClick(t, Qt::Key_V, Qt::ControlModifier);
    }
    QString said() { return widget<QLabel>("strip-text")->text(); }
    int steps() { return w.desk()->document()->undo_stack()->index(); }
    static constexpr const char* six =
        "C1\t1\t1\trectangle\t0.4\t0.4\t0\t0\t900\t300\n"
        "C2\t6\t1\trectangle\t0.4\t0.4\t0\t0\t1200\t400\n"
        "C3\t11\t1\trectangle\t0.4\t0.4\t0\t0\t900\t300\n"
        "C4\t1\t7\tcircle\t0.5\t\t0\t0\t900\t300\n"
        "C5\t6\t7\trectangle\t0.4\t0.6\t30\t0\t1200\t400\n"
        "C6\t11\t7\trectangle\t0.4\t0.4\t0\t0\t900\t300\n";
};

TEST_F(TableWindow, SixColumnsWithLoadsArePastedInOneStep) {
    const int before = steps();
    paste(six);
    ASSERT_EQ(model().columns.size(), 6u) << said().toStdString();
    EXPECT_EQ(steps(), before + 1);
    EXPECT_TRUE(model().columns[3].round());
    EXPECT_EQ(model().columns[4].angle, 30);
    EXPECT_EQ(column_load(model(), "G", "C5").N, 1200);
    EXPECT_EQ(column_load(model(), "Q", "C6").N, 300);
    EXPECT_TRUE(said().contains("6 added"));
    act("undo");
    EXPECT_TRUE(model().columns.empty());
    act("redo");
    EXPECT_EQ(model().columns.size(), 6u);
}

TEST_F(TableWindow, WhatIsCopiedPastesBackToTheSame) {
    paste(six);
    TableView* t = open();
    const Model before = model();
    t->setFocus();
    t->selectAll();
    QTest::keyClick(t, Qt::Key_C, Qt::ControlModifier);
    const QString all = QApplication::clipboard()->text();
    EXPECT_TRUE(all.startsWith("column\tx [m]\ty [m]\tshape")) << all.toStdString();
    EXPECT_EQ(all.count('\n'), 7);
    QTest::keyClick(t, Qt::Key_V, Qt::ControlModifier);  // with heads it goes by names: nothing changes
    EXPECT_TRUE(model() == before);
    EXPECT_TRUE(said().contains("nothing changed")) << said().toStdString();
    // Into an empty model: the same columns and loads.
    act("undo");
    QTest::keyClick(t, Qt::Key_V, Qt::ControlModifier);
    ASSERT_EQ(model().columns.size(), 6u);
    for (size_t k = 0; k < 6; ++k) {
        EXPECT_EQ(model().columns[k].at.x, before.columns[k].at.x);
        EXPECT_EQ(model().columns[k].size, before.columns[k].size);
        EXPECT_EQ(column_load(model(), "G", model().columns[k].id).N, column_load(before, "G", before.columns[k].id).N);
    }
}

TEST_F(TableWindow, RubbishIsLeftOutByLineAndTheRestIsTaken) {
    paste(
        "C1\t1\t1\nC2\tsix\t1\nC1\t3\t3\nC4\t\t2\nC5\t2 "
        "ft\t=1+1\nC6\t4\t4\thexagon\t-3\n\xF0\x9F\x8C\xBF\t5\t5\t\t\t\t\t\t\t\t\t\tbeyond\n");
    std::vector<std::string> ids;
    for (const Column& c : model().columns) ids.push_back(c.id);
    EXPECT_EQ(ids, (std::vector<std::string>{"C1", "C6", "\xF0\x9F\x8C\xBF"})) << said().toStdString();
    EXPECT_TRUE(said().contains("“six”") && said().contains("line 2")) << said().toStdString();
    EXPECT_TRUE(said().contains("already")) << said().toStdString();  // C1 twice
    EXPECT_TRUE(said().contains("beyond the last column")) << said().toStdString();
    EXPECT_EQ(model().columns[1].size[0], 0.4);  // −3 m is no size
    const Model before = model();
    for (const QString& rubbish : {QString(), QString("\n\n\n"), QString(4000, 'x'), QString("\"\"\"\t\"\n"),
                                   QString::fromUtf8("\xEF\xBB\xBFid\tx\n"), QString(QChar(0)) + "\t\t"}) {
        paste(rubbish, 9, "column");
        EXPECT_EQ(model().columns.size(), before.columns.size()) << said().toStdString();
    }
}

TEST_F(TableWindow, TenThousandPastedRowsAreTakenAndUndone) {
    QStringList rows;
    for (int k = 0; k < 10000; ++k)
        rows << QString("P%1\t%2\t%3").arg(k).arg(0.1 + 0.1 * (k % 100)).arg(0.05 + k / 100 * 0.07);
    paste(rows.join('\n'));
    EXPECT_EQ(model().columns.size(), 10000u) << said().toStdString();
    EXPECT_EQ(w.lower()->table()->model()->rowCount(), 10001);
    w.grab();
    act("undo");
    EXPECT_TRUE(model().columns.empty());
    paste(QString("a\tb\n").repeated(60000));
    EXPECT_TRUE(said().contains("more than")) << said().toStdString();
}

TEST_F(TableWindow, TypingIntoTheLastRowBeginsANewThing) {
    open();
    put(0, "x", "3");
    ASSERT_EQ(model().columns.size(), 1u);
    EXPECT_EQ(model().columns[0].at.x, 3);
    put(0, "y", "4");
    put(0, "G N", "2*350 kN");
    EXPECT_EQ(column_load(model(), "G", "C1").N, 700);
    put(0, "G N", "many");
    EXPECT_EQ(column_load(model(), "G", "C1").N, 700);
    EXPECT_TRUE(said().contains("not taken")) << said().toStdString();
    put(0, "shape", "circ");  // the beginning of a word is enough
    EXPECT_TRUE(model().columns[0].round());
    put(0, "column", "B1");
    EXPECT_EQ(column_load(model(), "G", "B1").N, 700);
}

TEST_F(TableWindow, ANumberKeepsTheDigitsThatAreNotShown) {
    Model m = model();
    Column c;
    c.id = "C1", c.at = {1.0 / 3, 2};
    m.columns = {c};
    w.desk()->document()->apply("Place", m);
    TableView* t = open();
    t->setFocus();
    t->setCurrentIndex(cell(0, "x"));
    QTest::keyClick(t, Qt::Key_Return);  // opened and shut again
    QTest::keyClick(w.focusWidget(), Qt::Key_Return);
    QApplication::processEvents();
    EXPECT_EQ(model().columns[0].at.x, 1.0 / 3);
    t->setCurrentIndex(cell(0, "x"));
    QTest::keyClick(t, Qt::Key_C, Qt::ControlModifier);
    EXPECT_NEAR(QApplication::clipboard()->text().toDouble(), 1.0 / 3, 1e-12);
}

TEST_F(TableWindow, WhatIsChosenInTheTableIsChosenOnThePlanAndBack) {
    paste(six);
    TableView* t = open();
    t->setCurrentIndex(cell(2, "x"));
    EXPECT_EQ(ids_of(w.desk()->chosen, ThingKind::column), (std::set<std::string>{"C3"}));
    act("choose-tool");
    click(6, 1);
    ASSERT_EQ(ids_of(w.desk()->chosen, ThingKind::column), (std::set<std::string>{"C2"}));
    const auto rows = t->selectionModel()->selectedRows();
    ASSERT_EQ(rows.size(), 1);
    EXPECT_EQ(rows[0].row(), 1);
    t->setCurrentIndex(cell(0, "x"));
    t->selectionModel()->select(QItemSelection(cell(0, "x"), cell(1, "y")), QItemSelectionModel::ClearAndSelect);
    EXPECT_EQ(w.desk()->chosen.size(), 2u);
    QTest::mouseClick(widget<QToolButton>("delete-rows"), Qt::LeftButton);
    EXPECT_EQ(model().columns.size(), 4u);
    EXPECT_EQ(column_load(model(), "G", "C1").N, 0);  // its loads went with it
}

TEST_F(TableWindow, RowsThatGoWhileSelectedLeaveTheRestChosen) {
    paste(six);
    Model more = model();
    for (const char* id : {"C7", "C8"}) more.columns.push_back(more.columns[0]), more.columns.back().id = id;
    for (const char* id : {"B1", "B2", "B3"}) {
        Borehole b;
        b.id = id;
        b.at = Point{double(more.ground.boreholes.size()), 10};
        more.ground.boreholes.push_back(b);
    }
    Model fewer = more;
    fewer.columns.resize(6), fewer.ground.boreholes.resize(1);
    w.desk()->document()->apply("Fewer", fewer);
    w.desk()->document()->apply("More", more);
    // Both tables have been opened, and follow, whichever of them is in front.
    for (const TableKind front : {TableKind::columns, TableKind::boreholes}) {
        open(TableKind::columns), open(TableKind::boreholes), open(front);
        w.desk()->choose({{ThingKind::column, "C1"},
                          {ThingKind::column, "C8"},
                          {ThingKind::borehole, "B1"},
                          {ThingKind::borehole, "B3"}});
        act("undo");
        EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::column, "C1"}, {ThingKind::borehole, "B1"}}));
        EXPECT_EQ(open(TableKind::columns)->rows()->n_things(), 6);
        EXPECT_EQ(open(TableKind::boreholes)->rows()->n_things(), 1);
        act("redo");
        EXPECT_EQ(w.lower()->table()->rows()->n_things(), 3);
    }
}

TEST_F(TableWindow, SortingMovesTheViewOnlyAndNamesSortAsPeopleCount) {
    paste(six);
    Model m = model();
    m.columns[2].id = "C10";
    w.desk()->document()->apply("Rename", m);
    TableView* t = open();
    t->sortByColumn(0, Qt::AscendingOrder);
    const auto names = [&] {
        QStringList all;
        for (int r = 0; r < t->model()->rowCount(); ++r) all << t->model()->index(r, 0).data().toString();
        return all;
    };
    EXPECT_EQ(names(), (QStringList{"C1", "C2", "C4", "C5", "C6", "C10", "new …"}));
    t->sortByColumn(1, Qt::DescendingOrder);
    EXPECT_EQ(names().last(), "new …");
    EXPECT_EQ(model().columns[2].id, "C10");
    put(0, "y", "6.5");  // the row that is edited stays where it is, and is the right one
    const std::string first = t->model()->index(0, 0).data().toString().toStdString();
    EXPECT_EQ(find_id(model().columns, first)->at.y, 6.5);
    // Pasted downwards it goes by the order that is seen.
    t->setCurrentIndex(cell(0, "turned"));
    QApplication::clipboard()->setText("11\n22\n");
    QTest::keyClick(t, Qt::Key_V, Qt::ControlModifier);
    EXPECT_EQ(find_id(model().columns, first)->angle, 11);
    EXPECT_EQ(find_id(model().columns, t->model()->index(1, 0).data().toString().toStdString())->angle, 22);
}

TEST_F(TableWindow, DeleteEmptiesCellsAndEscapeGivesTheCutBack) {
    paste(six);
    TableView* t = open();
    t->setFocus();
    t->setCurrentIndex(cell(1, "G N"));
    QTest::keyClick(t, Qt::Key_Delete);
    EXPECT_EQ(column_load(model(), "G", "C2").N, 0);
    t->setCurrentIndex(cell(1, "x"));
    QTest::keyClick(t, Qt::Key_Delete);
    EXPECT_EQ(model().columns[1].at.x, 6);  // a place is needed
    EXPECT_TRUE(said().contains("stays"));
    QTest::keyClick(t, Qt::Key_Escape);
    EXPECT_FALSE(w.lower()->shows_table());
    act("lower-pane-turn");
    EXPECT_TRUE(w.lower()->shows_table());
    act("stop-0");  // the ground has other tables
    EXPECT_FALSE(w.lower()->shows_table());
}

TEST_F(TableWindow, FieldsOverSeveralColumnsSetTheirLoadsToo) {
    paste(six);
    w.desk()->choose({{ThingKind::column, "C1"}, {ThingKind::column, "C2"}});
    auto* loads = widget<QTableWidget>("column-loads");
    EXPECT_EQ(loads->item(0, 1)->text(), "several");
    EXPECT_EQ(loads->item(0, 2)->text(), "0");
    loads->setFocus();
    loads->setCurrentCell(0, 1);
    loads->editItem(loads->item(0, 1));
    QTest::keyClicks(w.focusWidget(), "810");
    QTest::keyClick(w.focusWidget(), Qt::Key_Return);
    QApplication::processEvents();
    EXPECT_EQ(column_load(model(), "G", "C1").N, 810);
    EXPECT_EQ(column_load(model(), "G", "C2").N, 810);
    EXPECT_EQ(column_load(model(), "G", "C3").N, 900);
}

TEST_F(TableWindow, ACaseIsRenamedWhereverItIsNamed) {
    paste(six);
    act("stop-2");
    auto* cases = widget<QTableWidget>("cases");
    cases->item(0, 0)->setText("DL");
    QApplication::processEvents();
    EXPECT_EQ(model().loads.cases[0].id, "DL");
    EXPECT_EQ(column_load(model(), "DL", "C2").N, 1200);
    EXPECT_FALSE(w.desk()->combinations().empty());
    for (const Combination& k : w.desk()->combinations()) {
        EXPECT_EQ(k.factors.count("G"), 0u) << k.id;
        EXPECT_EQ(k.factors.count("DL"), 1u) << k.id;
    }
    cases = widget<QTableWidget>("cases");
    cases->item(1, 0)->setText("DL");
    QApplication::processEvents();
    EXPECT_EQ(model().loads.cases[1].id, "Q");
    EXPECT_TRUE(said().contains("already")) << said().toStdString();
}

TEST(Clipboard, IsReadAsSpreadsheetsWriteIt) {
    EXPECT_EQ(cells_of("a\tb\r\n\"c\td\"\t\"e \"\"f\"\"\"\r\n"),
              (std::vector<QStringList>{{"a", "b"}, {"c\td", "e \"f\""}}));
    EXPECT_EQ(cells_of("1,5;2\n"), (std::vector<QStringList>{{"1,5", "2"}}));
    EXPECT_TRUE(cells_of("\n\n").empty());
}

}  // namespace
}  // namespace mossbed
