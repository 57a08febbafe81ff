// The Steel stop: a strip taken by a click or with its row, its lines in the lower pane; extra bars laid by hand.
#include <QCheckBox>
#include <QTemporaryDir>

#include "app/bars_switch.h"
#include "app/ledger.h"
#include "core/arrange/edit_strips.h"
#include "core/file/text_file.h"
#include "core/model/strip_area.h"
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
    void type_points(std::initializer_list<const char*> points) {  // into the plan, as a tool takes them
        for (const char* point : points) {
            plan()->setFocus();
            QTest::keyClicks(plan(), point);
            QTest::keyClick(plan(), Qt::Key_Return);
        }
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
    type_points({"1, 10", "20, 10", ""});
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
    // Strips wider than a column's moment may be taken as even over say so, folded into one line.
    int wide = 0, lines = 0;
    for (const Row& r : w.desk()->rows()) wide += r.id == "model" && r.title.ends_with("spreads a column's moment");
    const LedgerModel* ledger = w.ledger()->entries();
    for (int k = 0; k < ledger->rowCount(); ++k)
        if (const Row* r = ledger->row(ledger->index(k)); r && r->title.ends_with("spreads a column's moment")) {
            ++lines;
            EXPECT_EQ(ledger->entry(ledger->index(k))->others, wide - 1);
        }
    EXPECT_GT(wide, 3);
    EXPECT_EQ(lines, 1);
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
    type_points({"1, 10", "20, 10", ""});
    ASSERT_TRUE(in_step());
    ASSERT_TRUE(model().steel.strips);
    EXPECT_EQ(model().steel.strips->back().reach, (std::array{0.8, 0.4}));
    EXPECT_GE(model().steel.strips->size(), laid);
    for (const Row& r : w.desk()->rows()) EXPECT_FALSE(r.title.ends_with("overlap")) << r.title;
}

TEST_F(SteelWindow, ASideOfAStripOfOnesOwnIsDraggedAndTheOneBesideGoesAlong) {
    press("own-strips");
    ASSERT_TRUE(in_step());
    click(5, 8);
    settle();
    const std::string id = strip();
    const Model before = model();
    const Strip was = *find_id(*before.steel.strips, id);
    const double width = was.reach[0] + was.reach[1];
    const Point held = grips_of(was)[0], out = left_of(unit(was.axis[1] - was.axis[0]));
    const Point wanted = held + 0.6 * out;
    const QPoint from = at(held.x, held.y), to = at(wanted.x, wanted.y);
    QTest::mouseMove(plan(), from);
    settle();
    EXPECT_TRUE(plan()->hint().contains("Drag the side")) << plan()->hint().toStdString();
    drag(from, to);
    ASSERT_TRUE(in_step());
    const Strip& now = *find_id(*model().steel.strips, id);
    EXPECT_NEAR(now.reach[0] + now.reach[1], width + 0.5, 0.25);  // it snaps
    EXPECT_EQ(now.axis, was.axis);
    double area = 0, area_before = 0;
    for (const Strip& s : *model().steel.strips) area += std::abs(signed_area(area_of(s)));
    for (const Strip& s : *before.steel.strips) area_before += std::abs(signed_area(area_of(s)));
    EXPECT_NEAR(area, area_before, 1e-6);  // what one gains the other loses
    EXPECT_TRUE(widget<QAction>("undo")->text().contains("Move a side of strip"));
    act("undo");
    EXPECT_EQ(model(), before);
}

TEST_F(SteelWindow, SteelRequiredByPointsStandsBesideAndDesignsWhereItIsChosen) {
    act("map-required");
    settle();
    ASSERT_EQ(w.desk()->quantity, Quantity::required);
    ASSERT_FALSE(w.desk()->map().corner.empty());
    auto* square = w.findChild<BarsSwitch*>();
    EXPECT_TRUE(square->isVisible());
    const double bottom = w.desk()->map().most;
    w.desk()->look_at_bars(Face::top, Direction::x);
    EXPECT_EQ(w.desk()->quantity, Quantity::required);  // the map stays, of another face
    EXPECT_NE(w.desk()->map().most, bottom);
    w.desk()->look_at_bars(Face::bottom, Direction::x);
    type("averaged-over", "2 m");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(model().steel.averaged_over, 2.0);
    EXPECT_LT(w.desk()->map().most, bottom);
    const size_t strips = w.desk()->answer()->steel.strips.size();
    const size_t laid = w.desk()->strips_laid().size();
    EXPECT_EQ(strips, laid);
    auto* by = widget<QComboBox>("designed-by");
    by->setCurrentIndex(1);
    Q_EMIT by->activated(1);
    ASSERT_TRUE(in_step());
    EXPECT_EQ(model().steel.designed_by, DesignedBy::points);
    EXPECT_EQ(w.desk()->answer()->steel.strips.size(), 18u + 12u);  // 36 × 24 m in strips of 2 m
    EXPECT_EQ(w.desk()->strips_laid().size(), laid);                // what can be made one's own are the others
    bool rows = false;
    for (const Row& r : w.desk()->rows()) rows |= r.id == "bending" && r.item.starts_with("x at ");
    EXPECT_TRUE(rows);
    act("undo");
    ASSERT_TRUE(in_step());
    EXPECT_EQ(w.desk()->answer()->steel.strips.size(), laid);
}

TEST_F(SteelWindow, ExtraBarsAreLaidWhereTheStripInHandIsShort) {
    type("bar-bottom-x", "10"), type("spacing-bottom-x", "250");
    ASSERT_TRUE(in_step());
    const Row* worst = nullptr;
    for (const Row& r : w.desk()->rows())
        if (r.id == "bending" && r.status == Status::over && r.item.ends_with("bottom") && !worst) worst = &r;
    ASSERT_TRUE(worst);
    const std::string item = worst->item;
    w.desk()->fly_to(Row(*worst));
    settle();
    ASSERT_TRUE(item.starts_with(strip() + " "));
    const size_t before = model().steel.extra.size();
    press("extra-along");
    ASSERT_TRUE(in_step());
    EXPECT_GT(model().steel.extra.size(), before);
    for (const Row& r : w.desk()->rows())
        if (r.id == "bending" && r.item == item) EXPECT_EQ(r.status, Status::pass) << *r.utilisation;
    EXPECT_TRUE(widget<QAction>("undo")->text().contains("Lay extra bars along strip"));
    const size_t now = model().steel.extra.size();
    press("extra-along");  // it has enough: nothing happens, and that is said
    ASSERT_TRUE(in_step());
    EXPECT_EQ(now, model().steel.extra.size());
    act("undo");
    EXPECT_EQ(model().steel.extra.size(), before);
}

}  // namespace
}  // namespace mossbed
