// The Ledger in the window: folding, searching, reasons in full, and the way to what a row lacks.
#include "app/ledger.h"

#include <QScrollBar>

#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class LedgerWindow : public Window {
  protected:
    LedgerWindow() {
        EXPECT_TRUE(w.open_file(demo));
        EXPECT_TRUE(in_step());
    }
    LedgerModel* entries() { return w.ledger()->entries(); }
    const Row* row(const std::string& id) {
        for (const Row& r : w.desk()->rows())
            if (r.id == id) return &r;
        return nullptr;
    }
    QPoint at(const std::string& key, double x, double y) {  // within the row as it stands
        const QModelIndex i = entries()->index(entries()->index_of(key));
        w.ledger()->scrollTo(i);
        const QRect r = w.ledger()->visualRect(i);
        return {x < 0 ? r.right() + int(x) : r.left() + int(x), r.top() + int(y)};
    }
};

TEST_F(LedgerWindow, RowsOfOneKindFoldUnderTheirWorstAndNothingIsLost) {
    int all = 0, folded = 0;
    for (int k = 0; k < entries()->rowCount(); ++k) {
        const LedgerModel::Entry& e = *entries()->entry(entries()->index(k));
        const Row& worst = *entries()->row(entries()->index(k));
        all += 1 + (e.is_open ? 0 : e.others);
        if (e.others > 0 && !e.is_open) {
            ++folded;
            EXPECT_GE(e.others, LedgerModel::few);
            for (const Row& r : w.desk()->rows())
                if (r.id == worst.id && r.status == worst.status && r.utilisation && worst.id == "punching")
                    EXPECT_LE(*r.utilisation, *worst.utilisation);
        }
    }
    EXPECT_EQ(all, int(w.desk()->rows().size()));
    EXPECT_GT(folded, 0);
    // A fold opens by its mark and by the arrow keys.
    int at_row = 0;
    while (entries()->entry(entries()->index(at_row))->others < LedgerModel::few) ++at_row;
    const int before = entries()->rowCount();
    const std::string key = entries()->row(entries()->index(at_row))->key();
    QTest::mouseClick(w.ledger()->viewport(), Qt::LeftButton, {}, at(key, 8, 12));
    EXPECT_GT(entries()->rowCount(), before);
    w.ledger()->setCurrentIndex(entries()->index(entries()->index_of(key)));
    QTest::keyClick(w.ledger(), Qt::Key_Left);
    EXPECT_EQ(entries()->rowCount(), before);
}

TEST_F(LedgerWindow, SearchFindsWhatIsFoldedAndEscapeClearsIt) {
    act("search");
    EXPECT_EQ(w.focusWidget()->objectName(), "ledger-search");
    QTest::keyClicks(w.focusWidget(), "punching C15");
    ASSERT_EQ(entries()->rowCount(), 1);
    EXPECT_EQ(entries()->row(entries()->index(0))->item, "C15");
    QTest::keyClick(w.focusWidget(), Qt::Key_Escape);
    EXPECT_GT(entries()->rowCount(), 10);
    QTest::keyClicks(w.findChild<QLineEdit*>("ledger-search"), "no such thing");
    EXPECT_EQ(entries()->rowCount(), 0);
}

TEST_F(LedgerWindow, WhatMovedSinceTheLastEditIsSiftedOut) {
    act("stop-1");
    type("thickness", "0.8");
    ASSERT_TRUE(in_step());
    act("moved");
    ASSERT_GT(entries()->rowCount(), 0);
    for (int k = 0; k < entries()->rowCount(); ++k)
        EXPECT_TRUE(LedgerModel::subtitle(w.desk(), *entries()->row(entries()->index(k))).contains("→"));
}

TEST_F(LedgerWindow, TheRowInHandShowsItsReasonWhole) {
    const Row* r = row("crack-width");
    ASSERT_TRUE(r);
    const QModelIndex i = entries()->index(entries()->index_of(r->key()));
    const int before = w.ledger()->visualRect(i).height();
    QTest::mouseClick(w.ledger()->viewport(), Qt::LeftButton, {}, at(r->key(), 60, 10));
    QApplication::processEvents();
    EXPECT_GT(w.ledger()->visualRect(entries()->index(entries()->index_of(r->key()))).height(), before);
}

TEST_F(LedgerWindow, ARowWithoutALimitLeadsToTheFieldThatSetsIt) {
    Model m = model();
    m.checks.contact_ratio_limit.reset();
    w.desk()->document()->apply("No limit", m);
    ASSERT_TRUE(in_step());
    const Row* r = row("contact");
    ASSERT_TRUE(r);
    ASSERT_EQ(r->status, Status::no_limit);
    EXPECT_EQ(r->leads_to, "checks/contact_ratio_limit");
    act("stop-5");
    w.desk()->choose({{ThingKind::column, "C1"}});
    QTest::mouseClick(w.ledger()->viewport(), Qt::LeftButton, {}, at(r->key(), -14, 25));
    EXPECT_EQ(w.desk()->stop, Stop::ground);
    ASSERT_TRUE(w.focusWidget());
    EXPECT_EQ(w.focusWidget()->objectName(), "contact-limit");
    QTest::keyClicks(w.focusWidget(), "0.8");
    QTest::keyClick(w.focusWidget(), Qt::Key_Return);
    ASSERT_TRUE(in_step());
    EXPECT_NE(row("contact")->status, Status::no_limit);
}

TEST_F(LedgerWindow, ItTakesTheHeightThatTheTrayLeaves) {
    act("stop-6");  // a short one
    QApplication::processEvents();
    const int at_sheets = w.ledger()->height();
    act("stop-0");  // a long page
    QApplication::processEvents();
    EXPECT_LT(w.ledger()->height(), at_sheets);
    w.resize(1920, 1080);
    QApplication::processEvents();
    act("stop-6");
    QApplication::processEvents();
    EXPECT_GT(w.ledger()->height(), 550);
}

TEST(LedgerWords, TwoNumbersOfOneQuantityHaveOneForm) {
    auto text = [](double value, double limit, Unit unit) {
        Desk d;
        Row r;
        r.value = value, r.limit = limit, r.unit = unit, r.status = Status::pass;
        return LedgerModel::subtitle(&d, r).toStdString();
    };
    EXPECT_EQ(text(105.2, 110, Unit::kilopascal), "105 of 110 kPa");
    EXPECT_EQ(text(1 / 436.2, 0.0025, Unit::none), "1/436 of 1/400");
    EXPECT_EQ(text(0.02, 0.002, Unit::none), "1/50 of 1/500");
    EXPECT_EQ(text(7.8e-21, 0.002, Unit::none), "0 of 1/500");
    EXPECT_EQ(text(0.84, 0.9, Unit::none), "0.84 of 0.90");
    EXPECT_EQ(text(110.2, 110, Unit::kilopascal), "110.2 of 110.0 kPa");  // over by what can be seen
}

}  // namespace
}  // namespace mossbed
