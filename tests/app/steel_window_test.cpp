// The Steel stop: a strip taken by a click or with its row, its lines in the lower pane; extra bars laid by hand.
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
}

}  // namespace
}  // namespace mossbed
