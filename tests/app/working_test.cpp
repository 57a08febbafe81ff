// The Working and the menu of the right button: from a column, a strip and a map; copied, printed; corners.
#include <QClipboard>
#include <QMenu>
#include <QMimeData>
#include <QPrinter>
#include <QPushButton>
#include <QTemporaryDir>

#include "app/plan_menu.h"
#include "app/working_view.h"
#include "core/model/edit.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class WorkingWindow : public Window {
  protected:
    WorkingWindow() {
        EXPECT_TRUE(w.open_file(demo));
        EXPECT_TRUE(in_step());
        w.plan()->show_all();
        act("stop-3");
    }
    const Row* row(const std::string& id, const std::string& item = "") {
        for (const Row& r : w.desk()->rows())
            if (r.id == id && (item.empty() || r.item == item)) return &r;
        return nullptr;
    }
    QStringList menu_at(double x, double y) {
        QTest::mouseMove(plan(), at(x, y));
        QTest::mousePress(plan(), Qt::RightButton, {}, at(x, y));
        QTest::mouseRelease(plan(), Qt::RightButton, {}, at(x, y));
        QStringList all;
        menu_ = w.findChild<QMenu*>("plan-menu");
        if (menu_)
            for (QAction* a : menu_->actions())
                if (!a->isSeparator()) all << a->text();
        return all;
    }
    void choose_in_menu(const QString& begins) {
        ASSERT_TRUE(menu_);
        for (QAction* a : menu_->actions())
            if (a->text().startsWith(begins)) {
                a->trigger();
                menu_->close();
                QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
                return;
            }
        FAIL() << begins.toStdString();
    }
    void shut_menu() {
        if (menu_) menu_->close();
        QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
    size_t n_corners() { return std::get<Polygon>(model().slab.outline).size(); }
    QPointer<QMenu> menu_;
};

TEST_F(WorkingWindow, OpensFromAColumnByTheRightButtonAndByItsPage) {
    const Column* c = find_id(model().columns, "C15");
    const QStringList deeds = menu_at(c->at.x, c->at.y);
    EXPECT_TRUE(deeds.contains("Take column C15 in hand")) << deeds.join("|").toStdString();
    choose_in_menu("Working: Punching C15");
    ASSERT_TRUE(w.working()->isVisible());
    EXPECT_TRUE(w.working()->sheet().contains("Punching C15"));
    QTest::keyClick(w.working(), Qt::Key_Escape);
    EXPECT_FALSE(w.working()->isVisible());
    w.desk()->choose({{ThingKind::column, "C15"}});
    QTest::mouseClick(widget<QPushButton>("column-working"), Qt::LeftButton);
    EXPECT_TRUE(w.working()->isVisible());
}

TEST_F(WorkingWindow, OpensFromTheMapForWhatTheMapIsAbout) {
    QStringList deeds = menu_at(5, 20);
    EXPECT_TRUE(deeds.filter("Working: Bearing").size() == 1 && deeds.filter("Base in contact").size() == 1)
        << deeds.join("|").toStdString();
    shut_menu();
    act("stop-5");  // moments: the strips that hold the place
    deeds = menu_at(5, 20);
    ASSERT_FALSE(deeds.filter("Working: Bending").isEmpty()) << deeds.join("|").toStdString();
    choose_in_menu("Working: Bending");
    EXPECT_TRUE(w.working()->isVisible());
    EXPECT_TRUE(w.working()->sheet().contains("cover at the"));
}

TEST_F(WorkingWindow, CarriesWhatACheckerNeedsToSign) {
    const Row* r = row("punching", "C15");
    ASSERT_TRUE(r && !r->working.empty());
    w.ledger()->show_row(r->key());
    w.ledger()->open_working();
    const QString sheet = w.working()->sheet();
    for (const char* what : {"column, size along its x", "thickness of the slab", "cover at the bottom",
                             "bottom bars along x", "bottom bars along y", "f_ck", "γ_c", "W_1", "Table 6.1",
                             "area inside that perimeter", "eccentricity at the face", "v_Rd", "Use 0."})
        EXPECT_TRUE(sheet.contains(QString::fromUtf8(what))) << what;
    // β again by hand from what stands there: 1 + Σ k |M| / W · u / V.
    std::map<std::string, double> last;
    double by_hand = 1;
    for (const Term& t : r->working) {
        if (t.symbol == "β" && t.text.rfind("eccentricity, both", 0) == 0) {
            for (const char* n : {"1", "2"})
                if (last.count(std::string("W_") + n))
                    for (const Measure& m : t.put_in)
                        if (m.symbol == std::string("|M_") + n + "|")
                            by_hand += last[std::string("k_") + n] * m.value / last[std::string("W_") + n] * last["u"] /
                                       last["V_Ed,red"];
            EXPECT_NEAR(t.value, by_hand, 1e-9);
        }
        last[t.symbol] = t.value;
    }
    EXPECT_GT(by_hand, 1);
    EXPECT_FALSE(w.findChild<SketchView*>("working-sketch")->is_empty());
}

TEST_F(WorkingWindow, IsCopiedAsATableAndPrintedAsASheet) {
    w.ledger()->show_row(row("punching", "C15")->key());
    w.ledger()->open_working();
    QTest::keyClick(w.working(), Qt::Key_C, Qt::ControlModifier);
    const QString text = QApplication::clipboard()->text();
    EXPECT_TRUE(text.startsWith("Punching C15"));
    EXPECT_TRUE(text.contains("Step\tHow\tValue\tUnit"));
    EXPECT_GT(text.count('\n'), 20);
    ASSERT_TRUE(QApplication::clipboard()->mimeData()->hasHtml());
    QTemporaryDir folder;
    QPrinter printer(QPrinter::HighResolution);
    printer.setOutputFormat(QPrinter::PdfFormat);
    printer.setOutputFileName(folder.filePath("working.pdf"));
    w.working()->print_on(&printer);
    QFile pdf(folder.filePath("working.pdf"));
    ASSERT_TRUE(pdf.open(QIODevice::ReadOnly));
    EXPECT_TRUE(pdf.readAll().startsWith("%PDF"));
    EXPECT_GT(pdf.size(), 10000);
}

TEST_F(WorkingWindow, EveryRowHasASheetAndAConclusionThatAgreesWithIt) {
    for (const Row& r : std::vector<Row>(w.desk()->rows())) {
        w.working()->show_row(r.key());
        const QString said = widget<QLabel>("working-conclusion")->text();
        EXPECT_EQ(said.contains("passes"), r.status == Status::pass) << r.title;
        EXPECT_EQ(said.startsWith("Not checked"), r.status == Status::not_checked) << r.title;
        EXPECT_FALSE(said.contains('_') || said.contains("slab.")) << said.toStdString();  // no key of the file
    }
}

TEST_F(WorkingWindow, CornersAreAddedAndRemovedByTheRightButtonAndInTheTray) {
    act("stop-1");
    const Polygon before = std::get<Polygon>(model().slab.outline);
    const Point a = before[0], b = before[1], on = a + 0.3 * (b - a);
    menu_at(on.x, on.y);
    choose_in_menu("Add a corner here");
    ASSERT_EQ(n_corners(), before.size() + 1);
    const Point added = std::get<Polygon>(model().slab.outline)[1];
    EXPECT_NEAR(distance(added, on), 0, 0.2);
    EXPECT_NEAR(cross(unit(b - a), added - a), 0, 1e-9);  // the outline is as it was
    ASSERT_TRUE(in_step());
    menu_at(added.x, added.y);
    choose_in_menu("Remove corner 2");
    EXPECT_EQ(std::get<Polygon>(model().slab.outline), before);
    w.desk()->choose({{ThingKind::slab_side, "", 0}});
    QTest::mouseClick(widget<QPushButton>("add-corner"), Qt::LeftButton);
    EXPECT_EQ(n_corners(), before.size() + 1);
    act("undo");
    EXPECT_EQ(std::get<Polygon>(model().slab.outline), before);
}

TEST_F(WorkingWindow, TheCutIsLaidThroughAPlaceByTheRightButton) {
    menu_at(5, 20);
    choose_in_menu("Cut along y through here");
    EXPECT_NEAR(w.desk()->cut[0].x, 5, 0.1);
    EXPECT_EQ(w.desk()->cut[0].x, w.desk()->cut[1].x);
}

TEST(Corners, StayWhereTheOutlineWouldFallApart) {
    Polygon p{{0, 0}, {4, 0}, {4, 4}};
    EXPECT_EQ(remove_corner(p, 0), "an outline needs three corners");
    EXPECT_EQ(p.size(), 3u);
    EXPECT_NE(remove_corner(p, 9), "");
    // A notch with its sides crossing once the corner at its mouth is gone.
    p = {{0, 0}, {10, 0}, {10, 6}, {6, 6}, {6, 2}, {4, 2}, {4, 8}, {0, 8}};
    Polygon q = p;
    EXPECT_EQ(remove_corner(q, 4), "");
    q = {{0, 0}, {10, 0}, {10, 10}, {5, 1}, {0, 10}, {-5, 5}};
    EXPECT_EQ(remove_corner(q, 3), "");
    // The side from (0, 0) to (9, 8) would run through the tooth at (6, 4).
    q = {{0, 0}, {9, 0}, {9, 8}, {0, 8}, {0, 5}, {6, 4}, {0, 3}};
    EXPECT_EQ(remove_corner(q, 1), "without it two sides would cross");
    EXPECT_EQ(q.size(), 7u);
    EXPECT_EQ(with_corner(p, 0, {-3, 1}).size(), p.size());  // beyond the side
    EXPECT_EQ(with_corner(p, 0, {3, 0.4})[1].x, 3);
}

}  // namespace
}  // namespace mossbed
