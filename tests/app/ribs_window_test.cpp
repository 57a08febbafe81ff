// Ribs in the window: taken in hand on the plan, edited in the Tray, their forces along the cut; the mesh at the Slab
// stop.
#include <QComboBox>
#include <QSlider>
#include <QToolButton>

#include "app/working_view.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class RibsWindow : public Window {
  protected:
    RibsWindow() {
        EXPECT_TRUE(w.open_file(SOURCE_DIR "/examples/sandpiper-row.mossbed"));
        EXPECT_TRUE(in_step());
    }
    const Rib& rib(const char* id) { return *find_id(model().ribs, id); }
    void press(const char* name) { QTest::mouseClick(widget<QToolButton>(name), Qt::LeftButton); }
    bool is_on(const char* name) { return widget<QToolButton>(name)->isChecked(); }
};

TEST_F(RibsWindow, AClickTakesARibInHandAndTheTrayChangesIt) {
    click(8.86, 4.2);  // on the rib across, beside the wall on it
    ASSERT_EQ(w.desk()->chosen, (Things{{ThingKind::rib, "R2"}}));
    EXPECT_TRUE(widget<QLabel>("rib-facts")->text().contains("hangs below the slab"));
    EXPECT_TRUE(widget<QLabel>("rib-facts")->text().contains("largest M"));
    type("thing-depth", "1.1");
    EXPECT_DOUBLE_EQ(rib("R2").depth, 1.1);
    ASSERT_TRUE(in_step());
    auto* flush = widget<QComboBox>("thing-flush");
    flush->setCurrentIndex(int(Flush::bottom));
    Q_EMIT flush->activated(int(Flush::bottom));
    EXPECT_EQ(rib("R2").flush, Flush::bottom);
    ASSERT_TRUE(in_step());
    const auto& rows = w.desk()->rows();
    EXPECT_TRUE(std::any_of(rows.begin(), rows.end(),
                            [](const Row& r) { return r.title == "Ribs above the slab and below it"; }));
}

TEST_F(RibsWindow, ARibMayHaveAConcreteOfItsOwn) {
    w.desk()->choose({{ThingKind::rib, "R1"}});
    QApplication::processEvents();
    auto* choose = widget<QComboBox>("thing-concrete");
    EXPECT_EQ(choose->currentText(), "the slab's");
    const int i = choose->findText("C40/50");
    ASSERT_GT(i, 0);
    choose->setCurrentIndex(i);
    Q_EMIT choose->activated(i);
    EXPECT_EQ(rib("R1").concrete, "C40/50");
    EXPECT_EQ(concrete_of(model(), "C40/50").fck, 40);
    EXPECT_EQ(concrete_of(model(), "C40/50").E, 35000);  // EN 1992-1-1 Table 3.1
    EXPECT_EQ(concrete_of(model(), model().slab.concrete).fck, 30);
    ASSERT_TRUE(in_step());
    choose = widget<QComboBox>("thing-concrete");
    EXPECT_EQ(choose->currentText(), "C40/50");
    Q_EMIT choose->activated(0);
    EXPECT_TRUE(rib("R1").concrete.empty());
    w.desk()->choose({{ThingKind::rib, "R1"}, {ThingKind::rib, "R2"}});
    QApplication::processEvents();
    EXPECT_EQ(widget<QComboBox>("thing-concrete")->currentText(), "the slab's");
}

TEST_F(RibsWindow, DeletingARibTakesItsLoadsAlong) {
    Model m = model();
    m.loads.cases[0].items.push_back({RibLoad{"R2", 12}, {}});
    w.desk()->document()->apply("Load the rib", m);
    w.desk()->choose({{ThingKind::rib, "R2"}});
    QTest::mouseClick(widget<QPushButton>("delete-things"), Qt::LeftButton);
    EXPECT_EQ(find_id(model().ribs, "R2"), nullptr);
    EXPECT_TRUE(std::none_of(model().loads.cases[0].items.begin(), model().loads.cases[0].items.end(),
                             [](const LoadItem& i) { return std::holds_alternative<RibLoad>(i.load); }));
    w.desk()->document()->undo();
    EXPECT_NE(find_id(model().ribs, "R2"), nullptr);
    EXPECT_TRUE(std::holds_alternative<RibLoad>(model().loads.cases[0].items.back().load));
}

TEST_F(RibsWindow, OneForceAtATimeIsDrawnAlongTheCut) {
    w.desk()->cut = {Point{0, 0.7}, Point{18, 0.7}};
    w.desk()->tell(Desk::view);
    press("cut-moment");
    EXPECT_TRUE(is_on("cut-moment"));
    press("cut-V of ribs");
    EXPECT_TRUE(is_on("cut-V of ribs"));
    EXPECT_FALSE(is_on("cut-moment"));
    press("cut-N of ribs");
    EXPECT_FALSE(is_on("cut-V of ribs"));
    press("cut-N of ribs");
    EXPECT_FALSE(is_on("cut-N of ribs"));
    w.desk()->document()->apply("Without ribs", [&] {
        Model m = model();
        m.ribs.clear();
        return m;
    }());
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(widget<QToolButton>("cut-N of ribs")->isVisible());  // nothing has a force then
    EXPECT_TRUE(widget<QToolButton>("cut-moment")->isVisible());
}

TEST_F(RibsWindow, TheSliderMakesTheMeshCoarserAndFiner) {
    w.desk()->go_to(Stop::slab);
    QApplication::processEvents();
    auto* slider = widget<QSlider>("mesh-fineness");
    const double was = model().mesh_size;
    const int cells = w.desk()->answer()->quality.elements;
    slider->setFocus();
    for (int k = 0; k < 6; ++k) QTest::keyClick(slider, Qt::Key_Left);
    EXPECT_GT(model().mesh_size, was);
    ASSERT_TRUE(in_step());
    EXPECT_LT(w.desk()->answer()->quality.elements, cells);
    EXPECT_TRUE(widget<QLabel>("mesh-makes")->text().contains("cells"));
    while (model().mesh_size > was) w.desk()->document()->undo();
    EXPECT_DOUBLE_EQ(model().mesh_size, was);
}

TEST_F(RibsWindow, AnotherModelClosesTheWorkingOfTheOneBefore) {
    const auto& rows = w.desk()->rows();
    const auto worked = std::find_if(rows.begin(), rows.end(), [](const Row& r) { return !r.working.empty(); });
    ASSERT_NE(worked, rows.end());
    w.ledger()->show_row(worked->key());
    w.ledger()->open_working();
    QApplication::processEvents();
    auto* working = w.findChild<WorkingView*>();
    ASSERT_TRUE(working->isVisible());
    ASSERT_TRUE(w.open_file(SOURCE_DIR "/examples/heron-mast.mossbed"));
    EXPECT_FALSE(working->isVisible());
}

TEST_F(Window, TheThreeExamplesAreOfferedAtTheBeginning) {
    for (const char* name : {"begin-sandpiper", "begin-heron"}) {
        w.desk()->document()->start_new();
        QApplication::processEvents();
        QTest::mouseClick(widget<QPushButton>(name), Qt::LeftButton);
        ASSERT_TRUE(in_step()) << name;
        EXPECT_FALSE(w.desk()->answer()->checks.empty());
        w.desk()->document()->undo_stack()->setClean();
    }
    EXPECT_TRUE(model().title.find("Heron Mast") == 0) << model().title;
}

}  // namespace
}  // namespace mossbed
