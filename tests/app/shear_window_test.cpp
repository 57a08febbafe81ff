// The Shear stop by mouse and keys: a column's page, the table of all, what would mend it.
#include <QClipboard>
#include <QDir>
#include <QHeaderView>

#include "app/trail.h"
#include "app/tray/parts.h"
#include "core/file/model_file.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class ShearWindow : public Window {
  protected:
    ShearWindow() {
        EXPECT_TRUE(w.open_file(demo));
        EXPECT_TRUE(in_step());
        w.desk()->go_to(Stop::shear);
        settle();
    }
    const PunchingAnswer& of(const std::string& id) {
        for (const PunchingAnswer& p : w.desk()->answer()->punching)
            if (p.id == id) return p;
        throw std::runtime_error("no punching of " + id);
    }
};

TEST_F(ShearWindow, AColumnClickedShowsItsForcesAndTheCutItsCone) {
    click(14, 7);
    settle();
    ASSERT_EQ(w.desk()->punched(), "C9");
    const QString t = widget<QLabel>("punching-numbers")->text();
    const PunchingAnswer& p = of("C9");
    EXPECT_TRUE(t.contains(look::number(p.V, 0) + " kN")) << t.toStdString();
    EXPECT_TRUE(t.contains(look::number(*p.beta, 3)));
    EXPECT_TRUE(t.contains(QString::fromStdString(p.combination)));
    EXPECT_TRUE(widget<QWidget>("punching-chart")->isVisible());
    EXPECT_EQ(w.desk()->combination_id, p.combination);
    EXPECT_NEAR(w.desk()->cut[0].y, 7, 1e-9);
    press("punching-working");
    EXPECT_TRUE(w.working()->isVisible());
    EXPECT_TRUE(w.working()->sheet().contains("V_Ed"));
}

TEST_F(ShearWindow, ThePointerReadsTheUseOfWhatItIsOver) {
    QTest::mouseMove(plan(), at(14.1, 7.2));
    settle();
    const PunchingAnswer& p = of("C9");
    EXPECT_EQ(plan()->reading(),
              QString("C9 %1 · %2").arg(look::number(p.utilisation, 2), QString::fromStdString(p.combination)));
    w.desk()->go_to(Stop::contact);
    EXPECT_FALSE(plan()->reading().startsWith("C9"));
}

TEST_F(ShearWindow, TheTableIsSortedByUseAndTakesInHandWhatIsClicked) {
    press("punching-table-wanted");
    PunchingTable* t = w.lower()->punching();
    ASSERT_TRUE(t && t->isVisible());
    ASSERT_GT(t->rows()->rowCount(), 25);
    double before = 1e9;
    for (int r = 0; r < t->rows()->rowCount(); ++r)
        if (const auto u = t->rows()->row(r)->utilisation) {
            EXPECT_LE(*u, before);
            before = *u;
        }
    int row = t->rows()->row_of("C15");
    ASSERT_GE(row, 0);
    QTest::mouseClick(t->viewport(), Qt::LeftButton, {}, t->visualRect(t->model()->index(row, 0)).center());
    settle();
    EXPECT_EQ(w.desk()->punched(), "C15");
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::column, "C15"}}));
    // By force, and back to the greatest first.
    t->sortByColumn(6, Qt::DescendingOrder);
    EXPECT_GE(t->rows()->text_of(0, 6).remove(QChar(0x202f)).toDouble(),
              t->rows()->text_of(5, 6).remove(QChar(0x202f)).toDouble());
    t->setFocus();
    QTest::keyClick(t, Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QApplication::clipboard()->text().count('\n'), t->rows()->rowCount());
    QTest::keyClick(t, Qt::Key_Escape);
    EXPECT_FALSE(t->isVisible());
    w.lower()->show_punching();
    w.desk()->go_to(Stop::contact);  // its stop is left: the Cut again
    EXPECT_FALSE(w.lower()->shows_other());
}

TEST_F(ShearWindow, AGroupHasAPageOfItsOwnThroughTheTable) {
    Model m = model();
    Column c = *find_id(m.columns, "C9");
    c.id = "C9b", c.at = c.at + Point{1.2, 0};
    m.columns.push_back(c);
    w.desk()->document()->apply("Add a column", m);
    ASSERT_TRUE(in_step());
    w.lower()->show_punching();
    const int row = w.lower()->punching()->rows()->row_of("C9+C9b");
    ASSERT_GE(row, 0);
    w.lower()->punching()->selectRow(row);
    settle();
    EXPECT_EQ(w.desk()->punched(), "C9+C9b");
    EXPECT_TRUE(widget<QLabel>("punching-numbers")->text().contains("kN"));
    click(30, 22);  // beside the slab: let go of
    settle();
    EXPECT_EQ(w.desk()->punched(), "");
    EXPECT_TRUE(widget<QLabel>("punching-summary"));
}

// A mesh so fine that a quick look comes first: it must not read as if nothing were over.
TEST_F(ShearWindow, AfterAQuickLookPunchingIsNotJudgedYet) {
    Model m = new_model();
    m.settings = model().settings, m.mesh_size = 0.0265;
    m.slab.outline = Polygon{{0, 0}, {6, 0}, {6, 5}, {0, 5}}, m.slab.thickness = 0.5;
    Column c;
    c.id = "C1", c.at = {3, 2.5};
    m.columns = {c};
    m.loads.cases[0].items.push_back({ColumnLoad{"C1", 800, 0, 0, 0, 0}, {}});
    const auto path = QDir::temp().filePath("mossbed-fine.mossbed");
    save_model(m, path.toStdString());
    ASSERT_TRUE(w.open_file(path));
    w.desk()->go_to(Stop::shear);
    for (int k = 0; k < 2000 && !w.desk()->answer(); ++k) QTest::qWait(5);
    ASSERT_TRUE(w.desk()->answer() && w.desk()->answer()->coarse);
    EXPECT_EQ(widget<QLabel>("punching-summary")->text(), "Not judged yet: the full answer follows.");
    EXPECT_EQ(w.findChild<Trail*>("trail")->word(Stop::shear), "…");
    EXPECT_TRUE(w.desk()->is_full_old());
    EXPECT_FALSE(w.desk()->is_old());
    w.desk()->go_to(Stop::contact);
    EXPECT_EQ(widget<QLabel>("small-maps-words")->text(), "They follow with the full answer.");
    w.desk()->go_to(Stop::shear);
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(w.desk()->is_full_old());
    EXPECT_TRUE(widget<QLabel>("punching-summary")->text().contains("C1"));
    QFile::remove(path);
}

TEST(Names, AGroupOfManyIsNamedByItsFirstTwo) {
    EXPECT_EQ(name_of_group("C1+C2+C3"), "C1+C2+C3");
    EXPECT_EQ(name_of_group("Column at the north+Column at the south"), "Column at the north+Column at the south");
    std::string all = "C1";
    for (int k = 2; k <= 5000; ++k) all += "+C" + std::to_string(k);
    EXPECT_EQ(name_of_group(all), QString("C1+C2 and ") + look::number(4998, 0) + " more");
    EXPECT_EQ(short_name_of_group(all), "C1+" + look::number(4999, 0));
    EXPECT_EQ(short_name_of_group("C9+C9b+C10"), "C9+C9b+C10");
    EXPECT_EQ(count_of(1, "row") + ", " + count_of(3, "row"), "1 row, 3 rows");
}

TEST_F(ShearWindow, WhatWouldMendItIsTriedAndTakenAsOneEdit) {
    click(14, 12.2);
    settle();
    ASSERT_EQ(w.desk()->punched(), "C15");
    press("seek-mends");
    QElapsedTimer t;
    t.start();
    while (w.desk()->mends.empty() && t.elapsed() < 120000) QApplication::processEvents(QEventLoop::AllEvents, 20);
    EXPECT_TRUE(w.desk()->mends_report.endsWith("…"));  // the first stands there while others are tried
    while (!w.desk()->mends_report.isEmpty() && t.elapsed() < 120000)
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    ASSERT_EQ(w.desk()->mends.size(), 5u);
    ASSERT_TRUE(w.desk()->mends[0].model);
    const double thickness = w.desk()->mends[0].model->slab.thickness, before = model().slab.thickness;
    settle();
    auto* take = widget<QPushButton>("mend-0");
    ASSERT_TRUE(take && take->isVisibleTo(take->parentWidget()));
    EXPECT_TRUE(take->text().startsWith("slab"));
    EXPECT_TRUE(widget<QWidget>("tries-0")->isVisible());  // what was tried stands under it
    QTest::mouseClick(take, Qt::LeftButton);
    EXPECT_EQ(model().slab.thickness, thickness);
    EXPECT_TRUE(w.desk()->mends.empty());  // they were of another model
    act("undo");
    EXPECT_EQ(model().slab.thickness, before);
}

TEST_F(ShearWindow, LinksAreTypedRoundAColumnAndDoNotCountBeforeTheyAreWhole) {
    click(14, 7);
    settle();
    ASSERT_EQ(w.desk()->punched(), "C9");
    const double bare = of("C9").utilisation;
    auto row = [&]() -> const Row* {
        for (const Row& r : w.desk()->rows())
            if (r.id == "spacing" && r.title == "Links C9") return &r;
        return nullptr;
    };
    EXPECT_EQ(row(), nullptr);
    type("column-links", "14");
    ASSERT_TRUE(in_step());
    ASSERT_TRUE(row());
    EXPECT_EQ(row()->status, Status::not_checked);
    EXPECT_NEAR(of("C9").utilisation, bare, 1e-9);
    type("column-link-legs", "24"), type("column-link-perimeters", "5"), type("column-link-spacing", "200");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(row()->status, Status::pass) << row()->note;
    EXPECT_EQ(of("C9").link_legs.size(), 120u);
    EXPECT_LT(of("C9").utilisation, bare);
    act("undo"), act("undo"), act("undo"), act("undo");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(row(), nullptr);
    EXPECT_FALSE(find_id(model().columns, "C9")->links.stated());
}

TEST_F(ShearWindow, AnAreaOfLinksIsDrawnTakenInHandAndHoldsOneWayShear) {
    auto worst = [&] {
        double most = 0;
        for (const Row& r : w.desk()->rows())
            if (r.id == "one-way-shear") most = std::max(most, r.utilisation.value_or(0));
        return most;
    };
    const double bare = worst();
    act("links-tool");
    type("pattern-diameter", "12"), type("pattern-spacing", "250");
    for (const char* corner : {"1, 1", "20, 1", "20, 12", "1, 12", ""}) {
        plan()->setFocus();
        QTest::keyClicks(plan(), corner);
        QTest::keyClick(plan(), Qt::Key_Return);
    }
    ASSERT_EQ(model().steel.links.size(), 1u);
    EXPECT_EQ(model().steel.links[0].diameter, 12);
    EXPECT_EQ(model().steel.links[0].spacing, 250);
    EXPECT_EQ(w.desk()->chosen, (Things{{ThingKind::links, "L1"}}));
    ASSERT_TRUE(in_step());
    EXPECT_LE(worst(), bare);
    act("choose-tool");
    type("thing-spacing", "-5");  // refused
    EXPECT_EQ(model().steel.links[0].spacing, 250);
    type("thing-spacing", "200");
    EXPECT_EQ(model().steel.links[0].spacing, 200);
    press("delete-things");
    EXPECT_TRUE(model().steel.links.empty());
}

}  // namespace
}  // namespace mossbed
