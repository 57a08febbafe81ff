// Ground before a slab, materials, setting-out lines, and a first raft in few actions.
#include <QComboBox>
#include <QDragEnterEvent>
#include <QDropEvent>
#include <QMimeData>
#include <QPushButton>
#include <QTemporaryDir>

#include "core/model/edit.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class FirstRaft : public Window {
  protected:
    QString said() { return widget<QLabel>("strip-text")->text(); }
};

TEST_F(FirstRaft, AReportIsDroppedReadAndTakenOverBeforeThereIsASlab) {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(SOURCE_DIR "/examples/tern-quay.ags")});
    QDragEnterEvent enter({300, 300}, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&w, &enter);
    QDropEvent drop(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(&w, &drop);
    ASSERT_TRUE(w.desk()->taking);
    EXPECT_EQ(w.desk()->stop, Stop::ground);
    auto* holes = widget<QTableWidget>("report-holes");
    ASSERT_EQ(holes->rowCount(), 3);  // hole by hole: place and depth
    EXPECT_NE(holes->item(0, 1)->text(), "–");
    EXPECT_GT(holes->item(0, 4)->text().toDouble(), 5);
    auto* codes = widget<QTableWidget>("report-codes");
    EXPECT_EQ(codes->item(0, 1)->text(), "3");  // in how many holes
    EXPECT_FALSE(w.plan()->scene().coming.empty());
    w.grab();
    press("take-report");
    EXPECT_TRUE(w.desk()->now().ground.boreholes.size() == 3 && !has_slab(model()));
    EXPECT_TRUE(w.desk()->profile());
    // On the sheet and in the Cut, and the page of the ground stays useful.
    for (const Borehole& b : model().ground.boreholes)
        EXPECT_TRUE(w.plan()->rect().contains(at(b.at.x, b.at.y))) << b.id;
    w.grab();
    w.lower()->show_table(TableKind::layers);
    EXPECT_GT(w.lower()->table()->rows()->n_things(), 6);
    act("stop-1");
    press("begin-rectangle");
    EXPECT_TRUE(has_slab(model()));
    EXPECT_EQ(model().ground.boreholes.size(), 3u);
    EXPECT_TRUE(in_step());
}

TEST_F(FirstRaft, TheGroundStopIsEditedWithoutASlab) {
    act("stop-0");
    EXPECT_TRUE(widget<QComboBox>("ground-model"));
    type("allowable-pressure", "3 ksf");
    EXPECT_NEAR(model().ground.allowable_pressure, 143.64, 0.01);
    press("add-borehole");
    ASSERT_EQ(model().ground.boreholes.size(), 1u);
    EXPECT_TRUE(widget<QTableWidget>("layers"));
    w.grab();
    EXPECT_EQ(w.desk()->answer(), nullptr);
    EXPECT_TRUE(w.desk()->problems().empty());  // nothing is missing yet
}

TEST_F(FirstRaft, OpeningAReportPreviewsItInsteadOfCallingItABadModel) {
    EXPECT_TRUE(w.open_file(SOURCE_DIR "/examples/tern-quay-boreholes.csv"));
    EXPECT_TRUE(w.desk()->taking);
    QTemporaryDir folder;
    QFile f(folder.filePath("empty.ags"));
    ASSERT_TRUE(f.open(QIODevice::WriteOnly));
    f.close();
    w.desk()->taking.reset();
    w.open_file(folder.filePath("empty.ags"));
    w.grab();  // explained, whatever it holds
    SUCCEED();
}

TEST_F(FirstRaft, ConcreteOfAClassBringsItsModulusUntilTheEngineerOwnsIt) {
    press("begin-rectangle");
    pick("concrete-class", "C40/50");
    const auto concrete = [&] { return concrete_of(model(), model().slab.concrete); };
    EXPECT_EQ(model().slab.concrete, "C40/50");
    EXPECT_EQ(concrete().fck, 40);
    EXPECT_EQ(concrete().E, 35000);                                               // Table 3.1 of EN 1992-1-1
    EXPECT_TRUE(widget<QLineEdit>("concrete-E")->property("standard").toBool());  // grey
    type("fck", "25");
    EXPECT_EQ(concrete().E, 31000);
    type("concrete-E", "28 GPa");
    EXPECT_EQ(concrete().E, 28000);
    EXPECT_FALSE(widget<QLineEdit>("concrete-E")->property("standard").toBool());
    pick("concrete-class", "C30/37");
    EXPECT_EQ(concrete().fck, 30);
    EXPECT_EQ(concrete().E, 28000);  // the engineer's
    act("undo");
    EXPECT_EQ(concrete().fck, 25);
}

TEST_F(FirstRaft, SteelAndItsBarsAreChosenByClassAndRegionOrTyped) {
    press("begin-rectangle");
    act("stop-5");
    pick("steel-class", "B550");
    EXPECT_EQ(find_id(model().steels, model().steel.steel)->fyk, 550);
    pick("bar-list", "US, No. 3 to No. 11");
    EXPECT_EQ(model().steel.sizes.front(), 9.5);
    EXPECT_EQ(model().steel.sizes.size(), 9u);
    EXPECT_NEAR(model().steel.spacings.front(), 101.6, 1e-9);
    type("bar-sizes", "16 12 1in 12");
    EXPECT_EQ(model().steel.sizes, (std::vector<double>{12, 16, 25.4}));  // in order, none twice
    EXPECT_EQ(widget<QComboBox>("bar-list")->currentIndex(), -1);
    auto* line = widget<Line>("bar-sizes");
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, "16 thick");
    act("stop-1");
    EXPECT_EQ(model().steel.sizes.size(), 3u);
    EXPECT_TRUE(said().contains("not taken")) << said().toStdString();
}

TEST_F(FirstRaft, SettingOutLinesStayWhereTheyAreAndKeepTheirNames) {
    Model m = new_model();
    m.slab.outline = Polygon{{0, 0}, {12, 0}, {12, 8}, {0, 8}};
    for (auto [id, x, y] : {std::tuple{"C1", 2.0, 2.0},
                            {"C2", 6.0, 2.0},
                            {"C3", 10.0, 2.0},
                            {"C4", 2.0, 6.0},
                            {"C5", 6.0, 6.0},
                            {"C6", 10.0, 6.0}}) {
        Column c;
        c.id = id, c.at = {x, y};
        m.columns.push_back(c);
    }
    w.desk()->document()->apply("Begin", m);
    act("stop-1");
    EXPECT_TRUE(model().setting_out.empty());
    press("set-out");
    std::vector<std::string> ids;
    for (const SettingOutLine& l : model().setting_out) ids.push_back(l.id);
    EXPECT_EQ(ids, (std::vector<std::string>{"x1", "x2", "x3", "y1", "y2"}));
    const auto before = model().setting_out;
    w.desk()->choose({{ThingKind::column, "C2"}});
    type("column-x", "7");  // x2 has one column left on it
    EXPECT_EQ(model().setting_out, before);
    w.desk()->choose({});
    press("set-out");  // nothing new stands in a row
    EXPECT_EQ(model().setting_out.size(), before.size());
    QTemporaryDir folder;
    ASSERT_TRUE(w.save_to(folder.filePath("lines.mossbed")));
    EXPECT_EQ(load_model(folder.filePath("lines.mossbed").toStdString()).model->setting_out.size(), 5u);
    w.lower()->show_table(TableKind::setting_out);
    EXPECT_EQ(w.lower()->table()->rows()->n_things(), 5);
}

// Six columns with loads on a rectangle, ground, thickness: every click, drag, paste and Enter counts as one.
TEST_F(FirstRaft, StandsInUnderFortyActions) {
    int actions = 0;
    const auto did = [&](int n = 1) { actions += n; };
    press("begin-rectangle"), did();
    w.lower()->turn(), did();  // the table of columns
    TableView* t = w.lower()->table();
    t->setCurrentIndex(t->model()->index(0, 1)), did();
    const char* rows[6][4] = {{"2", "2", "900", "300"}, {"6", "2", "1200", "400"}, {"10", "2", "900", "300"},
                              {"2", "6", "900", "300"}, {"6", "6", "1200", "400"}, {"10", "6", "900", "300"}};
    QStringList lines{"x\ty\tG N\tQ N"};
    for (const auto& r : rows) lines << QStringList{r[0], r[1], r[2], r[3]}.join('\t');
    t->rows()->paste(lines.join('\n'), {}, 0), did();
    act("stop-0"), did();
    type("allowable-pressure", "200"), did(2);
    press("modulus-by-settlement"), did();
    act("stop-1"), did();
    type("thickness", "0.7"), did(2);
    act("stop-3"), did();
    ASSERT_TRUE(in_step());
    EXPECT_EQ(model().columns.size(), 6u);
    EXPECT_EQ(column_load(model(), "Q", "C5").N, 400);
    EXPECT_GT(use("bearing"), 0);
    EXPECT_GT(use("punching"), 0);
    EXPECT_LT(actions, 40);
}

}  // namespace
}  // namespace mossbed
