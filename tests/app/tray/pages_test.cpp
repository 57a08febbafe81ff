// The pages of the Tray, on a Desk of their own: what they show of the model, what typing does to it, what stays.
#include "app/tray/tray.h"

#include <gtest/gtest.h>

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QTest>

#include "app/tray/pages.h"

namespace mossbed {
namespace {

class TrayTest : public ::testing::Test {
  protected:
    TrayTest() {
        desk.hold(true);  // pages are looked at, nothing is solved
        Model m = new_model();
        m.slab.outline = Polygon{{0, 0}, {10, 0}, {10, 6}, {0, 6}};
        for (auto [id, x] : {std::pair{"C1", 2.0}, {"C2", 8.0}}) {
            Column c;
            c.id = id, c.at = {x, 3}, c.size = {0.4, 0.6};
            m.columns.push_back(c);
        }
        Wall w;
        w.id = "W1", w.path = {{1, 1}, {4, 1}};
        m.walls = {w};
        desk.document()->apply("Begin", m);
        tray.resize(340, 500);
        tray.show();
        desk.go_to(Stop::slab);
    }
    const Model& model() { return desk.now(); }
    template <class T>
    T* widget(const QString& name) {
        T* found = tray.findChild<T*>(name);
        EXPECT_TRUE(found) << name.toStdString();
        return found;
    }
    void type(const QString& name, const QString& text) {
        auto* line = widget<QLineEdit>(name);
        ASSERT_TRUE(line);
        line->setFocus();
        line->selectAll();
        text.isEmpty() ? QTest::keyClick(line, Qt::Key_Delete) : QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
    }
    std::string undo_text() { return desk.document()->undo_stack()->undoText().toStdString(); }
    Desk desk;
    Tray tray{&desk};
};

TEST_F(TrayTest, ADefaultIsGreyUntilItIsOwned) {
    EXPECT_TRUE(widget<QLineEdit>("thickness")->property("standard").toBool());
    type("thickness", "0.8");
    EXPECT_EQ(model().slab.thickness, 0.8);
    EXPECT_FALSE(widget<QLineEdit>("thickness")->property("standard").toBool());
    desk.document()->undo_stack()->undo();
    EXPECT_TRUE(widget<QLineEdit>("thickness")->property("standard").toBool());
    EXPECT_EQ(widget<QLineEdit>("thickness")->text(), "0.6");
}

TEST_F(TrayTest, APageStaysWhileItsThingDoes) {
    auto* before = widget<QLineEdit>("thickness");
    type("thickness", "0.7");
    type("mesh-size", "0.4");
    EXPECT_EQ(widget<QLineEdit>("thickness"), before);  // focus and scroll are not torn away
    desk.go_to(Stop::steel);
    EXPECT_FALSE(tray.findChild<QLineEdit*>("thickness"));
    EXPECT_TRUE(widget<QLineEdit>("cover-top"));
}

TEST_F(TrayTest, ARangeComesFromWhatTheModelSaysOfTheField) {
    for (const char* bad : {"0", "-1", "750"}) {
        type("thickness", bad);
        EXPECT_TRUE(widget<QLabel>("thickness-fault")->text().contains("out of reason")) << bad;
        EXPECT_EQ(model().slab.thickness, 0.6);
    }
    const Field::Range slope = range_of(find_field(model(), "checks/tilt_limit")->facts);
    EXPECT_EQ(slope.low, 0);
    EXPECT_TRUE(slope.above_low);
    const Field::Range limit = range_of(find_field(model(), "checks/settlement_limit")->facts);
    EXPECT_EQ(limit.low, 0);
    const Field::Range share = range_of(find_field(model(), "checks/contact_ratio_limit")->facts);
    EXPECT_EQ(share.high, 1);
}

TEST_F(TrayTest, SwitchesAndChoicesAreEditsWithANameOfTheirOwn) {
    widget<QCheckBox>("self-weight")->click();
    EXPECT_FALSE(model().slab.self_weight);
    EXPECT_EQ(undo_text(), "Switch the self-weight");
    desk.go_to(Stop::ground);
    auto* kind = widget<QComboBox>("ground-model");
    EXPECT_EQ(kind->currentText(), "one modulus");
    kind->setCurrentIndex(3);
    Q_EMIT kind->activated(3);
    EXPECT_EQ(model().ground.model, GroundModel::coupled);
    EXPECT_EQ(undo_text(), "Choose the ground model");
    EXPECT_TRUE(widget<QComboBox>("settlement-method"));  // that only strata have
}

TEST_F(TrayTest, ThingsThatDifferShowATickThatIsNeither) {
    Model m = model();
    Wall w = m.walls[0];
    w.id = "W2", w.stiffens = false, w.path = {{1, 5}, {4, 5}};
    m.walls.push_back(w);
    desk.document()->apply("Add a wall", m);
    desk.choose({{ThingKind::wall, "W1"}, {ThingKind::wall, "W2"}});
    auto* stiffens = widget<QCheckBox>("thing-stiffens");
    EXPECT_EQ(stiffens->checkState(), Qt::PartiallyChecked);
    type("thing-height", "4");
    EXPECT_EQ(model().walls[0].height, 4);
    EXPECT_EQ(model().walls[1].height, 4);
    QTest::mouseClick(widget<QPushButton>("delete-things"), Qt::LeftButton);
    EXPECT_TRUE(model().walls.empty());
    EXPECT_EQ(undo_text(), "Delete 2 walls");
    EXPECT_TRUE(widget<QLineEdit>("thickness"));  // the page of the stop again
}

TEST_F(TrayTest, AColumnMadeRoundHasOneSizeAndMadeSquareTwo) {
    desk.choose({{ThingKind::column, "C1"}});
    auto* shape = widget<QComboBox>("column-shape");
    Q_EMIT shape->activated(1);
    EXPECT_EQ(model().columns[0].size, std::vector<double>{0.4});
    Q_EMIT shape->activated(0);
    EXPECT_EQ(model().columns[0].size, (std::vector<double>{0.4, 0.4}));
}

TEST_F(TrayTest, LoadsOfAColumnTakeUnitsAndRefuseWords) {
    desk.choose({{ThingKind::column, "C2"}});
    auto* loads = widget<QTableWidget>("column-loads");
    loads->item(0, 1)->setText("1.2 MN");
    loads->item(0, 2)->setText("30*2");
    EXPECT_EQ(std::get<ColumnLoad>(model().loads.cases[0].items.at(0).load).N, 1200);
    EXPECT_EQ(std::get<ColumnLoad>(model().loads.cases[0].items.at(0).load).Mx, 60);
    QString said;
    QObject::connect(&desk, &Desk::message, [&](const QString& s, bool) { said = s; });
    loads->item(0, 3)->setText("much");
    EXPECT_TRUE(said.contains("not taken"));
    EXPECT_EQ(loads->item(0, 3)->text(), "0");
}

TEST_F(TrayTest, BarsBeginWithBothTheirNumbersAndGoTogether) {
    desk.go_to(Stop::steel);
    type("bar-top-x", "20");
    EXPECT_EQ(model().steel.top_x.diameter, 20);
    EXPECT_TRUE(model().steel.top_x.spacing);
    type("spacing-top-x", "");
    EXPECT_FALSE(model().steel.top_x.stated());
}

TEST_F(TrayTest, ASlopeIsTypedAsOneInSoManyAndASettlementInMillimetres) {
    desk.go_to(Stop::ground);
    type("tilt-limit", "750");
    EXPECT_NEAR(*model().checks.tilt_limit, 1 / 750.0, 1e-12);
    type("settlement-limit", "25");
    EXPECT_NEAR(*model().checks.settlement_limit, 0.025, 1e-12);
    type("settlement-limit", "");
    EXPECT_FALSE(model().checks.settlement_limit);  // no limit
}

TEST_F(TrayTest, EveryPageIsMadeForWhatIsInHand) {
    auto key = [&] { return page_for(&desk)->key(); };
    EXPECT_EQ(key().rfind("slab", 0), 0u);
    desk.choose({{ThingKind::slab_side, "", 1}});
    EXPECT_EQ(key(), "rim 1");
    desk.choose({{ThingKind::column, "C1"}, {ThingKind::column, "C2"}});
    EXPECT_EQ(key(), "columns C1 C2 | G | Q");
    desk.choose({{ThingKind::wall, "W1"}});
    EXPECT_EQ(key().rfind("things", 0), 0u);
    desk.choose({});
    for (auto [stop, name] : {std::pair{Stop::ground, "ground"},
                              {Stop::loads, "loads"},
                              {Stop::contact, "contact"},
                              {Stop::shear, "shear"},
                              {Stop::steel, "steel"},
                              {Stop::sheets, "sheets"}}) {
        desk.go_to(stop);
        EXPECT_EQ(key().rfind(name, 0), 0u) << name;
    }
    desk.document()->apply("Begin again", new_model());
    EXPECT_EQ(key(), "beginnings");
    QTest::mouseClick(widget<QPushButton>("begin-rectangle"), Qt::LeftButton);  // the page that is clicked goes
    QApplication::processEvents();
    EXPECT_TRUE(has_slab(model()));
    EXPECT_TRUE(widget<QLineEdit>("thickness"));
}

}  // namespace
}  // namespace mossbed
