// Cases, the table of combinations, envelopes and small maps, driven by hand.
#include <QClipboard>
#include <QHeaderView>
#include <QToolButton>

#include "app/combination_table.h"
#include "app/small_maps.h"
#include "core/codes/combination_rules.h"
#include "core/model/edit.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class CombinationWindow : public Window {
  protected:
    // The demo with its rows left to the rules: two floors of load, wind from two sides, a tide.
    void open_by_rule() {
        ASSERT_TRUE(w.open_file(demo));
        Model m = model();
        m.loads.combinations.reset();
        m.mesh_size = 2;
        find_id(m.loads.cases, "WX")->group = find_id(m.loads.cases, "WY")->group = "wind";
        w.desk()->document()->apply("By rule", std::move(m));
        ASSERT_TRUE(in_step(60000));
        act("stop-2");
        QTest::mouseClick(widget<QPushButton>("open-combinations"), Qt::LeftButton);
        settle();
        table_ = widget<CombinationTable>("table-combinations");
        ASSERT_TRUE(table_);
    }
    LoadCase* find_id(std::vector<LoadCase>& all, const std::string& id) {
        for (LoadCase& c : all)
            if (c.id == id) return &c;
        return nullptr;
    }
    const Combination* row(const std::string& id) { return mossbed::find_id(w.desk()->combinations(), id); }
    QModelIndex cell(const std::string& id, const QString& head) {
        for (int c = 0; c < rows()->columnCount(); ++c)
            if (rows()->headerData(c, Qt::Horizontal, Qt::DisplayRole).toString() == head)
                return rows()->index(rows()->row_of(id), c);
        return {};
    }
    CombinationModel* rows() { return table_->rows(); }
    void click_cell(const QModelIndex& i) {
        table_->scrollTo(i);
        QTest::mouseClick(table_->viewport(), Qt::LeftButton, {}, table_->visualRect(i).center());
    }
    void type_in(const QModelIndex& i, const QString& text) {
        click_cell(i);
        QTest::keyClick(table_, Qt::Key_Return);
        QApplication::processEvents();
        auto* line = qobject_cast<QLineEdit*>(QApplication::focusWidget());
        ASSERT_TRUE(line);
        line->selectAll();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
        QApplication::processEvents();
    }
    QString said() { return widget<QLabel>("strip-text")->text(); }
    CombinationTable* table_ = nullptr;
};

TEST_F(CombinationWindow, ARowClickedIsTheOneOnTheMap) {
    open_by_rule();
    ASSERT_TRUE(row("U.WX"));
    rows()->turn(Purpose::strength);
    click_cell(rows()->index(rows()->row_of("U.WX"), 0));
    EXPECT_EQ(w.desk()->combination_id, "U.WX");
    auto* name = widget<QToolButton>("combination");
    EXPECT_TRUE(name->toolTip().startsWith("U.WX · (6.10), WX leads"));
    for (int width : {1280, 1024, 1500}) {  // its beginning is never cut off
        w.resize(width, 800);
        settle();
        EXPECT_TRUE(name->text().startsWith("U.WX"));
        EXPECT_LT(name->fontMetrics().horizontalAdvance(name->text()), name->width() - 20) << width;
    }
    EXPECT_TRUE(widget<QLabel>("combination-rule")->text().contains("Table A1.2(B)"));
}

TEST_F(CombinationWindow, AFactorTypedMakesTheRowOnesOwnAndOneUndoGivesItBack) {
    open_by_rule();
    EXPECT_FALSE(model().loads.combinations);
    rows()->turn(Purpose::strength);
    type_in(cell("U.WX", "R"), "1.2*0.9");
    ASSERT_TRUE(model().loads.combinations);
    EXPECT_NEAR(row("U.WX")->factors.at("R"), 1.08, 1e-12);
    EXPECT_FALSE(row("U.WX")->generated_by);
    EXPECT_TRUE(row("U.WY")->generated_by) << "the others stay by rule";
    EXPECT_TRUE(said().contains("made by hand")) << said().toStdString();
    type_in(cell("U.WX", "R"), "much");
    EXPECT_NEAR(row("U.WX")->factors.at("R"), 1.08, 1e-12);
    EXPECT_TRUE(said().contains("not taken")) << said().toStdString();
    act("undo");
    EXPECT_FALSE(model().loads.combinations);
    EXPECT_NEAR(row("U.WX")->factors.at("R"), 1.5, 1e-12);
}

TEST_F(CombinationWindow, ANewCaseRemakesTheRowsAndKeepsThoseMadeByHand) {
    open_by_rule();
    rows()->turn(Purpose::strength);
    type_in(cell("U.WX", "R"), "1.1");
    const size_t n = w.desk()->combinations().size();
    act("lower-pane-turn");
    settle();
    QTest::mouseClick(widget<QPushButton>("add-case"), Qt::LeftButton);
    settle();
    pick("case-action", "snow");
    EXPECT_GT(w.desk()->combinations().size(), n);
    EXPECT_TRUE(row("U.L1+WX"));
    EXPECT_NEAR(row("U.WX")->factors.at("R"), 1.1, 1e-12);
    EXPECT_FALSE(row("U.WX")->factors.count("L1"));
    QTest::mouseClick(widget<QPushButton>("delete-case"), Qt::LeftButton);
    settle();
    EXPECT_FALSE(row("U.L1+WX"));
    EXPECT_EQ(w.desk()->combinations().size(), n);
    EXPECT_TRUE(in_step(60000));
}

TEST_F(CombinationWindow, SpaceSwitchesARowOffAndDeleteTakesOnlyWhatIsByHand) {
    open_by_rule();
    rows()->turn(Purpose::strength);
    click_cell(cell("U.WX", "row"));
    QTest::keyClick(table_, Qt::Key_Space);
    EXPECT_FALSE(row("U.WX")->active);
    EXPECT_NE(w.desk()->combination_id, "U.WX") << "what is off has no map";
    ASSERT_TRUE(in_step(60000));
    EXPECT_FALSE(w.desk()->answer()->find("U.WX"));
    click_cell(cell("U.WY", "row"));
    QTest::keyClick(table_, Qt::Key_Delete);
    ASSERT_TRUE(row("U.WY"));
    EXPECT_FALSE(row("U.WY")->active);
    EXPECT_TRUE(said().contains("switched off")) << said().toStdString();
    QTest::mouseClick(widget<QToolButton>("add-row"), Qt::LeftButton);
    const std::string mine = w.desk()->combination_id;
    ASSERT_TRUE(row(mine));
    EXPECT_FALSE(row(mine)->generated_by);
    click_cell(cell(mine, "row"));
    QTest::keyClick(table_, Qt::Key_Delete);
    EXPECT_FALSE(row(mine));
}

TEST_F(CombinationWindow, RowsThatGovernNothingFoldAwayAndHeadsTurnThem) {
    open_by_rule();
    const int few = rows()->rowCount();
    EXPECT_LT(few, int(w.desk()->combinations().size()));
    EXPECT_TRUE(rows()->about(Purpose::service).contains("folded away"))
        << rows()->about(Purpose::service).toStdString();
    QTest::mouseClick(table_->viewport(), Qt::LeftButton, {}, table_->visualRect(rows()->index(0, 0)).center());
    EXPECT_GT(rows()->rowCount(), few);
    for (const CombinationSummary& s : w.desk()->summaries())
        if (s.governs > 0) EXPECT_GE(rows()->row_of(s.id), 0) << s.id;
}

TEST_F(CombinationWindow, SortsWithinItsGroupsByWhatCameOfTheRows) {
    open_by_rule();
    rows()->turn(Purpose::service);
    const int column = rows()->columnCount() - 2;  // settlement
    Q_EMIT table_->horizontalHeader()->sectionClicked(column);
    double before = 1e9;
    int n = 0;
    for (int r = 1; r < rows()->rowCount() && !rows()->head(r); ++r, ++n) {
        const CombinationSummary* s = w.desk()->summary_of(rows()->row(r)->id);
        ASSERT_TRUE(s);
        EXPECT_LE(s->max_settlement, before);
        before = s->max_settlement;
    }
    EXPECT_GT(n, 5);
}

TEST_F(CombinationWindow, ABlockIsPastedIntoFactorsAsOneEdit) {
    open_by_rule();
    rows()->turn(Purpose::strength);
    const QModelIndex from = cell("U.WX", "G");
    ASSERT_TRUE(from.isValid());
    click_cell(from);
    const std::string next = rows()->row(from.row() + 1)->id;
    QApplication::clipboard()->setText("1.2\t1.4\n1,25\tmuch\n");
    QTest::keyClick(table_, Qt::Key_V, Qt::ControlModifier);
    EXPECT_EQ(row("U.WX")->factors.at("G"), 1.2);
    EXPECT_EQ(row("U.WX")->factors.at("R"), 1.4);
    EXPECT_TRUE(said().contains("1 cells not taken")) << said().toStdString();
    EXPECT_EQ(w.desk()->document()->undo_stack()->undoText(), "Paste into the combinations");
    EXPECT_TRUE(row(next));
}

TEST_F(CombinationWindow, TheListBeginsWithEnvelopesThatMapCutAndReadingFollow) {
    open_by_rule();
    const std::vector<EnvelopeChoice> all = w.desk()->envelopes();
    ASSERT_GE(all.size(), 4u);
    EXPECT_EQ(all[0], (EnvelopeChoice{Purpose::service, Extreme::largest}));
    w.desk()->choose_combination(w.desk()->combinations()[0].id);
    act("stop-3");
    act("last-combination");  // before the first row: the last envelope
    ASSERT_TRUE(w.desk()->envelope());
    for (size_t k = 1; k < all.size(); ++k) act("last-combination");
    EXPECT_EQ(w.desk()->envelope(), all[0]);
    EXPECT_EQ(w.desk()->name_of_view(), "largest of service");
    // Nowhere below any row of the purpose; by the row that it is equal to.
    const Answer& a = *w.desk()->answer();
    const FieldMap& most = w.desk()->map();
    for (int c : combinations_for(a, Purpose::service)) {
        const FieldMap one = make_map(a, a.combinations[size_t(c)], Quantity::pressure);
        for (size_t e = 0; e < one.corner.size(); ++e)
            for (int k = 0; k < corners(a.mesh.elements[e]); ++k)
                ASSERT_GE(most.corner[e][size_t(k)], one.corner[e][size_t(k)]);
    }
    const Point at{3, 3};
    const auto by = w.desk()->governing_at(at);
    ASSERT_TRUE(by);
    QTest::mouseMove(plan(), this->at(3, 3));
    QApplication::processEvents();
    EXPECT_TRUE(plan()->reading().contains(QString::fromStdString(*by))) << plan()->reading().toStdString();
    EXPECT_TRUE(widget<QLabel>("contact-facts")->text().contains("least in contact"));
    act("next-combination");
    EXPECT_EQ(w.desk()->envelope(), all[1]);
    w.desk()->choose_combination("S.WX");
    EXPECT_FALSE(w.desk()->envelope());
}

TEST_F(CombinationWindow, ASmallMapClickedIsTheOneOnThePlan) {
    open_by_rule();
    auto* maps = widget<SmallMaps>("small-maps");
    ASSERT_GE(maps->count(), 6);
    EXPECT_TRUE(maps->about().startsWith("All for service, one scale: 0 to")) << maps->about().toStdString();
    const std::string before = w.desk()->combination_id;
    for (int k = 0; k < 3; ++k) {
        auto* now = widget<SmallMaps>("small-maps");
        QTest::mouseClick(now, Qt::LeftButton, {}, now->place_of(k).center().toPoint());
        settle();
    }
    EXPECT_NE(w.desk()->combination_id, before);
}

TEST_F(CombinationWindow, RulesAreChosenAndWrittenBesideRowsMadeByHand) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    const auto by_hand = *model().loads.combinations;
    act("stop-2");
    press("open-combinations");
    press("write-by-rule");
    EXPECT_GT(model().loads.combinations->size(), by_hand.size() + 10);
    for (const Combination& c : by_hand) {
        ASSERT_TRUE(row(c.id)) << c.id;
        EXPECT_EQ(*row(c.id), c);
    }
    pick("combination-rules", "ASCE 7-16");
    EXPECT_TRUE(row("U5.WX+WY")) << "without groups both blow at once";
    EXPECT_FALSE(row("U.WX"));
    EXPECT_EQ(*row(by_hand[0].id), by_hand[0]);
}

TEST_F(CombinationWindow, CasesAreCopiedScaledOrderedAndGrouped) {
    ASSERT_TRUE(w.open_file(demo));
    ASSERT_TRUE(in_step());
    act("stop-2");
    w.desk()->load_case = "K";
    w.desk()->tell(Desk::view);
    const double before = column_load(model(), "K", "C1").N;
    press("copy-case");
    EXPECT_EQ(w.desk()->load_case, "K-1");
    type("case-factor", "-2");
    press("scale-case");
    EXPECT_NEAR(column_load(model(), "K-1", "C1").N, -2 * before, 1e-9);
    EXPECT_NEAR(column_load(model(), "K", "C1").N, before, 1e-9);
    const auto place = [&] {
        for (size_t i = 0; i < model().loads.cases.size(); ++i)
            if (model().loads.cases[i].id == "K-1") return i;
        return size_t(99);
    };
    const size_t at = place();
    press("case-up");
    EXPECT_EQ(place(), at - 1);
    press("case-down");
    EXPECT_EQ(place(), at);
    auto* group = widget<QComboBox>("case-group");
    group->lineEdit()->setFocus();
    QTest::keyClicks(group->lineEdit(), "cranes");
    QTest::keyClick(group->lineEdit(), Qt::Key_Return);
    EXPECT_EQ(mossbed::find_id(model().loads.cases, std::string("K-1"))->group, "cranes");
    type("fill-depth", "0.5");
    settle();
    type("fill-weight", "20");
    const auto& items = mossbed::find_id(model().loads.cases, std::string("K-1"))->items;
    const auto* fill = std::get_if<SlabLoad>(&items.back().load);
    ASSERT_TRUE(fill && fill->fill);
    EXPECT_NEAR(fill->pressure(), 10, 1e-12);
}

TEST_F(CombinationWindow, ANumberOfTheRulesIsChangedInItsTable) {
    open_by_rule();
    w.lower()->show_table(TableKind::rules);
    settle();
    auto* t = w.lower()->table();
    ASSERT_TRUE(t);
    int row = -1;
    for (int r = 0; r < t->rows()->n_things(); ++r)
        if (t->rows()->table().cell(r, 0).text == "U (6.10)" && t->rows()->table().cell(r, 1).text == "permanent γ")
            row = r;
    ASSERT_GE(row, 0);
    EXPECT_EQ(t->rows()->rowCount(), t->rows()->n_things());  // no row to add
    EXPECT_TRUE(t->rows()->setData(t->rows()->index(row, 2), "1.2", Qt::EditRole));
    settle();
    EXPECT_FALSE(model().loads.rules.empty());
    bool found = false;
    for (const Combination& c : w.desk()->combinations())
        if (c.id.rfind("U.", 0) == 0 && c.generated_by && c.factors.count("G") && c.factors.at("G") == 1.2)
            found = true;
    EXPECT_TRUE(found);
    w.desk()->document()->undo_stack()->undo();
    EXPECT_TRUE(model().loads.rules.empty());
}

}  // namespace
}  // namespace mossbed
