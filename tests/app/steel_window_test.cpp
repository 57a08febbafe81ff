// The Steel stop: a strip taken by a click or with its row, its lines in the lower pane; extra bars laid by hand.
#include <QCheckBox>
#include <QTemporaryDir>

#include "app/bars_switch.h"
#include "core/file/text_file.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class SteelWindow : public Window {
  protected:
    SteelWindow() {
        EXPECT_TRUE(w.open_file(demo));
        EXPECT_TRUE(in_step());
        w.desk()->go_to(Stop::steel);
        settle();
    }
    template <class F>
    bool until(F done) {
        QElapsedTimer t;
        t.start();
        while (t.elapsed() < 30000 && !done()) QApplication::processEvents(QEventLoop::AllEvents, 10);
        return done();
    }
    std::string strip() { return w.desk()->strip() ? w.desk()->strip()->strip.id : std::string(); }
};

TEST_F(SteelWindow, TheWorstStripIsInHandAndAClickTakesAnotherThenTheOneAcross) {
    std::string worst;
    for (const Row& r : w.desk()->rows())
        if (r.id == "bending" && worst.empty()) worst = r.item;
    EXPECT_TRUE(worst.starts_with(strip() + " "));
    w.desk()->look_at(Quantity::mx);
    QTest::mouseMove(plan(), at(5, 8));
    click(5, 8);  // on the band of y2, beside columns and lines
    settle();
    EXPECT_EQ(strip(), "y2");
    click(5, 8);
    settle();
    EXPECT_NE(strip(), "y2");
    EXPECT_EQ(w.desk()->strip()->strip.direction, Direction::y);
    EXPECT_EQ(w.desk()->quantity, Quantity::my);
}

TEST_F(SteelWindow, ItsLinesStandInTheLowerPaneAndThePointerReadsThem) {
    w.lower()->turn();
    StripPane* pane = w.lower()->strip();
    ASSERT_TRUE(pane && pane->isVisible());
    settle();
    pane->repaint();
    EXPECT_EQ(widget<QToolButton>("pane-strip")->text(), "Strip " + QString::fromStdString(strip()));
    EXPECT_TRUE(pane->reading(QPointF(pane->width() / 2.0, 60)).contains("mm²/m"));
    widget<QToolButton>("strip-moment")->click();
    settle();
    EXPECT_EQ(pane->part(), StripPart::moment);
    EXPECT_TRUE(pane->reading(QPointF(pane->width() / 2.0, 60)).contains("kN·m"));
    EXPECT_TRUE(pane->reading(QPointF(2, 60)).isEmpty());
    for (const Row& r : w.desk()->rows())
        if (r.id == "bending" && !r.item.starts_with(strip() + " ")) {
            w.desk()->fly_to(r);
            settle();
            EXPECT_TRUE(r.item.starts_with(strip() + " ")) << r.item;
            break;
        }
    w.desk()->go_to(Stop::contact);
    EXPECT_FALSE(w.lower()->shows_other());
}

TEST_F(SteelWindow, BarsAreTurnedAndExtraBarsLaidByHand) {
    type("steel-angle", "20");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(model().steel.angle, 20);
    const Point u = unit(w.desk()->strip()->strip.axis[1] - w.desk()->strip()->strip.axis[0]);
    EXPECT_NEAR(std::min(std::abs(cross(u, turned({1, 0}, 20))), std::abs(dot(u, turned({1, 0}, 20)))), 0, 1e-9);
    act("undo");
    ASSERT_TRUE(in_step());
    act("extra-bars-tool");
    type("pattern-diameter", "16"), type("pattern-spacing", "150");
    for (const char* corner : {"10, 4", "18, 4", "18, 10", "10, 10", ""}) {
        plan()->setFocus();
        QTest::keyClicks(plan(), corner);
        QTest::keyClick(plan(), Qt::Key_Return);
    }
    ASSERT_EQ(model().steel.extra.size(), 1u);
    EXPECT_EQ(model().steel.extra[0].diameter, 16);
    EXPECT_EQ(model().steel.extra[0].spacing, 150);
    auto* held = widget<QCheckBox>("thing-held");
    ASSERT_TRUE(held);
    held->click();
    ASSERT_TRUE(in_step());
    EXPECT_TRUE(model().steel.extra[0].held_at_rims);
}

TEST_F(SteelWindow, TheSquareTheKeysAndARowSayWhichBarsAreShown) {
    auto* square = widget<BarsSwitch>("bars-switch");
    ASSERT_TRUE(square->isVisible());
    EXPECT_EQ(w.desk()->quantity, Quantity::margin);
    EXPECT_FALSE(w.desk()->map().corner.empty());
    const FieldMap bottom = w.desk()->map();
    QTest::mouseClick(square, Qt::LeftButton, {}, square->side(Face::top, Direction::x).center().toPoint());
    settle();
    EXPECT_EQ(w.desk()->bars_face, Face::top);
    EXPECT_NE(w.desk()->map().corner, bottom.corner);
    QTest::mouseClick(square, Qt::LeftButton, {}, square->side(Face::bottom, Direction::y).center().toPoint());
    EXPECT_EQ(name_of_bars(w.desk()->bars_face, w.desk()->bars_direction), "bottom y");
    square->setFocus();
    QTest::keyClick(square, Qt::Key_Right);
    EXPECT_EQ(name_of_bars(w.desk()->bars_face, w.desk()->bars_direction), "top y");
    act("bars-next");
    EXPECT_EQ(name_of_bars(w.desk()->bars_face, w.desk()->bars_direction), "bottom x");
    for (const Row& r : w.desk()->rows())
        if (r.id == "bending" && r.item.ends_with(" top") && r.item[0] == 'y') {
            w.desk()->fly_to(r);
            EXPECT_EQ(name_of_bars(w.desk()->bars_face, w.desk()->bars_direction), "top x");
            break;
        }
    w.desk()->look_at(Quantity::mx);
    settle();
    EXPECT_FALSE(square->isVisible());
    // Where it is used most has a ring and a number, and bars are drawn.
    w.desk()->look_at_bars(Face::bottom, Direction::x);
    settle();
    const PlanScene scene = plan()->scene();
    ASSERT_TRUE(scene.bars && scene.tightest);
    EXPECT_FALSE(scene.bars->bars.empty());
    EXPECT_TRUE(scene.tightest_words.starts_with("tightest "));
    w.desk()->pointer_at = Point{20, 7};
    EXPECT_TRUE(plan()->reading().contains("%")) << plan()->reading().toStdString();
}

TEST_F(SteelWindow, BarsArePutTogetherWeighedTakenAsOneEditAndUndone) {
    QTest::mouseClick(widget<QPushButton>("seek-least-steel"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return w.desk()->least_steel.has_value(); }));
    settle();
    auto* chart = widget<QWidget>("least-chart");
    ASSERT_TRUE(chart->isVisible());
    chart->repaint();
    const double before = w.desk()->answer()->steel.steel_kg;
    const LeastSteel found = *w.desk()->least_steel;
    EXPECT_LT(found.scheme().kg, 0.85 * before);
    const Model was = model();
    QTest::mouseClick(widget<QPushButton>("take-least-steel"), Qt::LeftButton);
    ASSERT_TRUE(in_step());
    EXPECT_EQ(model().steel.extra.size(), found.scheme().extra.size());
    EXPECT_NEAR(w.desk()->answer()->steel.steel_kg, found.scheme().kg, 1e-3 * found.scheme().kg);
    for (const Row& r : w.desk()->rows())
        if (r.id == "bending" || r.id == "minimum-steel") EXPECT_NE(r.status, Status::over) << r.title;
    EXPECT_FALSE(w.desk()->least_steel);  // it was about the model before
    EXPECT_TRUE(widget<QPushButton>("seek-least-steel")->isVisible());
    EXPECT_TRUE(widget<QLabel>("bar-weights")->text().contains("extra"));
    // Extra bars in hand turn the Weave to their face and direction.
    const ExtraBars& e = model().steel.extra.back();
    w.desk()->choose({{ThingKind::extra_bars, e.id}});
    EXPECT_EQ(w.desk()->bars_face, e.face);
    act("undo");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(model(), was);
}

TEST_F(SteelWindow, TheLimitOnGroupsIsKeptAndTooFewSayWhy) {
    type("most-groups", "6");
    QTest::mouseClick(widget<QPushButton>("seek-least-steel"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return w.desk()->least_steel.has_value(); }));
    EXPECT_LE(w.desk()->least_steel->scheme().groups(), 6);
    type("bar-sizes", "10"), type("bar-spacings", "250");
    ASSERT_TRUE(in_step());
    QTest::mouseClick(widget<QPushButton>("seek-least-steel"), Qt::LeftButton);
    ASSERT_TRUE(until([&] { return w.desk()->least_steel_report.contains("enough"); }));
    EXPECT_FALSE(w.desk()->least_steel);
}

TEST_F(SteelWindow, TheScheduleStandsInTheLowerPaneAndIsWritten) {
    QTest::mouseClick(widget<QToolButton>("pane-bars"), Qt::LeftButton);
    settle();
    BarsTable* table = w.lower()->bars();
    ASSERT_TRUE(table && table->isVisible());
    EXPECT_EQ(table->rows()->rowCount(), int(w.desk()->bars().marks.size()));
    EXPECT_GT(table->rows()->rowCount(), 10);
    for (int r = 0; r < table->rows()->rowCount(); ++r)
        if (table->rows()->mark(r)->face == "top" && table->rows()->mark(r)->direction == "y") {
            table->selectRow(r);
            EXPECT_EQ(name_of_bars(w.desk()->bars_face, w.desk()->bars_direction), "top y");
            break;
        }
    QTemporaryDir folder;
    ASSERT_TRUE(w.write_bars(folder.filePath("bars.csv")));
    EXPECT_TRUE(read_text(folder.filePath("bars.csv").toStdString()).starts_with("mark,diameter_mm,shape_code"));
    ASSERT_TRUE(w.write_bars(folder.filePath("bars.xlsx")));
    EXPECT_TRUE(read_text(folder.filePath("bars.xlsx").toStdString()).starts_with("PK"));
    EXPECT_FALSE(w.write_bars("/no/such/folder/bars.csv"));
    QTest::keyClick(table, Qt::Key_Escape);
    settle();
    EXPECT_FALSE(w.lower()->shows_other());
}

TEST_F(SteelWindow, OneDrawnAsTheFirstEditKeepsThoseThatWereLaidOut) {
    const size_t laid = w.desk()->strips_laid().size();
    act("strip-tool");
    for (const char* point : {"1, 10", "20, 10", ""}) {
        plan()->setFocus();
        QTest::keyClicks(plan(), point);
        QTest::keyClick(plan(), Qt::Key_Return);
    }
    ASSERT_TRUE(in_step());
    ASSERT_TRUE(model().steel.strips);
    EXPECT_GE(model().steel.strips->size(), laid);
}

TEST_F(SteelWindow, StripsAreTakenOverReshapedDrawnAndLaidOutAnew) {
    const size_t laid = w.desk()->strips_laid().size();
    press("own-strips");
    ASSERT_TRUE(in_step());
    ASSERT_TRUE(model().steel.strips);
    EXPECT_EQ(model().steel.strips->size(), laid);
    click(5, 8);  // takes one, and its page lies in the Tray
    settle();
    const std::string id = strip();
    ASSERT_EQ(w.desk()->chosen, (Things{{ThingKind::strip, id}}));
    const Strip before = *find_id(*model().steel.strips, id);
    type("strip-left", "2.5");
    ASSERT_TRUE(in_step());
    EXPECT_NEAR(find_id(*model().steel.strips, id)->reach[0], 2.5, 1e-9);
    act("undo");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(*find_id(*model().steel.strips, id), before);
    press("split-along");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(model().steel.strips->size(), laid + 1);
    press("join-left");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(model().steel.strips->size(), laid);
    for (size_t k : {0, 1}) EXPECT_NEAR(find_id(*model().steel.strips, id)->reach[k], before.reach[k], 1e-9);
    w.desk()->set_cut({before.axis[0].x + 3, -1}, {before.axis[0].x + 3, 30});
    press("split-across");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(model().steel.strips->size(), laid + 1);
    type("thing-name", "core band");
    ASSERT_TRUE(in_step());
    EXPECT_TRUE(find_id(*model().steel.strips, std::string("core band")));
    EXPECT_EQ(strip(), "core band");
    QTest::keyClick(plan(), Qt::Key_Delete);
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(find_id(*model().steel.strips, std::string("core band")));
    bool told = false;
    for (const Row& r : w.desk()->rows()) told |= r.id == "model" && r.title.starts_with("Strip missing");
    EXPECT_TRUE(told);
    // Drawn over others they give way; laid out anew all of them are the program's again.
    w.desk()->choose({});
    press("lay-strips");
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(model().steel.strips);
    act("strip-tool");
    type("pattern-left", "0.8"), type("pattern-right", "0.4");
    for (const char* point : {"1, 10", "20, 10", ""}) {
        plan()->setFocus();
        QTest::keyClicks(plan(), point);
        QTest::keyClick(plan(), Qt::Key_Return);
    }
    ASSERT_TRUE(in_step());
    ASSERT_TRUE(model().steel.strips);
    EXPECT_EQ(model().steel.strips->back().reach, (std::array{0.8, 0.4}));
    EXPECT_GE(model().steel.strips->size(), laid);
    for (const Row& r : w.desk()->rows()) EXPECT_FALSE(r.title.ends_with("overlap")) << r.title;
}

}  // namespace
}  // namespace mossbed
