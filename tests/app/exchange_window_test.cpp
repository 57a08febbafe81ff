// Tables, drawings and reports of other programs, dropped on the window, looked at, changed and taken over.
#include <QCheckBox>
#include <QClipboard>
#include <QDragEnterEvent>
#include <QDropEvent>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QTableWidget>
#include <QTemporaryDir>

#include "core/model/edit.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class ExchangeWindow : public Window {
  protected:
    void drop(const QString& path) {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(path)});
        QDragEnterEvent enter({300, 300}, Qt::CopyAction, &data, Qt::LeftButton, {});
        QApplication::sendEvent(&w, &enter);
        QDropEvent drop(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, {});
        QApplication::sendEvent(&w, &drop);
        settle();
    }
    QString write(const QString& name, const QByteArray& text) {
        QFile f(folder.filePath(name));
        EXPECT_TRUE(f.open(QIODevice::WriteOnly));
        f.write(text);
        return f.fileName();
    }
    QString text_of(const QString& name) {
        auto* t = widget<QPlainTextEdit>(name);
        return t ? t->toPlainText() : QString();
    }
    QString said() { return widget<QLabel>("strip-text")->text(); }
    QTemporaryDir folder;
};

const QString columns_of_quay = SOURCE_DIR "/examples/tern-quay-columns.csv",
              plan_of_quay = SOURCE_DIR "/examples/tern-quay-plan.dxf";

// From nothing to the first Ledger: four actions.
TEST_F(ExchangeWindow, TernQuayIsBuiltFromADrawingAndATable) {
    drop(plan_of_quay);
    ASSERT_TRUE(w.desk()->taking_drawing);
    EXPECT_EQ(w.desk()->stop, Stop::slab);
    EXPECT_FALSE(plan()->scene().coming_lines.empty());
    press("take-drawing");
    drop(columns_of_quay);
    ASSERT_TRUE(w.desk()->taking_table);
    EXPECT_FALSE(w.desk()->taking_drawing);
    press("take-table");
    ASSERT_TRUE(in_step());
    EXPECT_FALSE(w.desk()->rows().empty());

    const auto quay = load_model(SOURCE_DIR "/examples/tern-quay.mossbed");
    ASSERT_TRUE(quay.model);
    const Model &m = model(), &want = *quay.model;
    EXPECT_EQ(m.slab.outline, want.slab.outline);
    EXPECT_EQ(m.slab.thickness, want.slab.thickness);
    ASSERT_EQ(m.slab.openings.size(), want.slab.openings.size());
    EXPECT_EQ(m.slab.openings[0].outline, want.slab.openings[0].outline);
    ASSERT_EQ(m.walls.size(), want.walls.size());
    for (size_t k = 0; k < m.walls.size(); ++k) EXPECT_EQ(m.walls[k].path, want.walls[k].path);
    ASSERT_EQ(m.columns.size(), want.columns.size());
    for (const Column& c : want.columns) {
        const Column* got = find_id(m.columns, c.id);
        ASSERT_TRUE(got) << c.id;
        EXPECT_LT(distance(got->at, c.at), 1e-6);
        ASSERT_EQ(got->size.size(), c.size.size());
        for (size_t i = 0; i < c.size.size(); ++i) EXPECT_NEAR(got->size[i], c.size[i], 1e-5);
        for (const LoadCase& of : want.loads.cases) {
            if (of.action == Action::groundwater) continue;  // no column brings it
            const std::string id = of.id == "G" ? "G" : of.title;
            const ColumnLoad a = column_load(m, id, c.id), b = column_load(want, of.id, c.id);
            EXPECT_NEAR(a.N, b.N, 1e-9) << id << " " << c.id;
            EXPECT_NEAR(a.Mx, b.Mx, 1e-9) << id << " " << c.id;
            EXPECT_NEAR(a.My, b.My, 1e-9) << id << " " << c.id;
            EXPECT_NEAR(a.Hx, b.Hx, 1e-9) << id << " " << c.id;
        }
    }
    // Each is one step of undo; the drawing lies under the plan.
    EXPECT_EQ(m.underlays.size(), 1u);
    act("undo"), act("undo");
    EXPECT_FALSE(has_slab(model()));
    EXPECT_TRUE(model().columns.empty());
}

TEST_F(ExchangeWindow, ATableShowsWhatItWasTakenForAndFollowsChanges) {
    drop(write("t.csv",
               "id;x;y;size;G;Q N;Q My;note\nC1;0;0;400x400;475;180;20;a\nC2;8;0;400x600;810;322;-5;b\n"
               "C3;8;eins;400x600;1;2;3;c\nTotal;;;;1286;504;;\n"));
    ASSERT_TRUE(w.desk()->taking_table);
    EXPECT_TRUE(widget<QLabel>("table-summary")->text().contains("2 columns, 2 loads in 1 case"));
    EXPECT_TRUE(text_of("table-left-out").contains("line 4: column C3: y is \"eins\", which is not a number"));
    EXPECT_TRUE(text_of("table-warnings").contains("\"G\""));
    auto* heads = widget<QTableWidget>("table-heads");
    ASSERT_EQ(heads->rowCount(), 8);
    // A head that says too little is told what it is.
    pick("head-holds-4", "N");
    heads = widget<QTableWidget>("table-heads");
    heads->item(4, 2)->setText("G");
    settle();
    EXPECT_EQ(w.desk()->taking_table->table.cases, (std::vector<std::string>{"G", "Q"}));
    EXPECT_EQ(widget<QTableWidget>("table-sums")->item(0, 1)->text(), "1285");
    pick("head-unit-4", "MN");
    EXPECT_NEAR(w.desk()->taking_table->table.sum_of("G").N, 1285000, 1e-6);
    pick("head-unit-4", "–");
    // The sense of signs, by the largest moment: My turns towards +x.
    EXPECT_TRUE(widget<QLabel>("table-sense")->text().contains("harder towards +x"));
    ASSERT_TRUE(plan()->scene().coming_moment);
    EXPECT_NEAR(plan()->scene().coming_moment->towards.x, 1, 1e-9);
    pick("table-signs", "reactions on the frame");
    EXPECT_TRUE(widget<QLabel>("table-sense")->text().contains("harder towards −x"));
    EXPECT_NEAR(plan()->scene().coming_moment->towards.x, -1, 1e-9);
    EXPECT_NEAR(w.desk()->taking_table->table.sum_of("Q").N, 502, 1e-9) << "N stays";
    pick("table-signs", "loads on the slab");
    type("table-rim", "1.5");
    settle();
    plan()->grab();
    press("take-table");
    ASSERT_EQ(model().columns.size(), 2u);
    EXPECT_EQ(column_load(model(), "G", "C2").N, 810);
    EXPECT_EQ(column_load(model(), "Q", "C1").My, 20);
    EXPECT_NEAR(box_of(std::get<Polygon>(model().slab.outline)).low.x, -0.2 - 1.5, 1e-9);
    EXPECT_TRUE(in_step());
}

TEST_F(ExchangeWindow, TheTableIsReadAgainAndSaysWhatChanged) {
    const QString path = write("t.csv", "id,x,y,size,G N\nC1,0,0,400x400,475\nC2,8,0,400x600,810\n");
    drop(path);
    press("take-table");
    EXPECT_TRUE(w.desk()->can_read_table_again());
    write("t.csv", "id,x,y,size,G N\nC1,0,0,400x400,500\nC2,8.5,0,400x600,810\n");
    act("read-table-again");
    settle();
    ASSERT_TRUE(w.desk()->taking_table);
    EXPECT_EQ(text_of("table-changes"), "C1: G N 475 → 500 kN\nC2: moved from (8, 0) to (8.5, 0) m");
    EXPECT_EQ(column_load(model(), "G", "C1").N, 475) << "not before it is taken";
    auto* only = widget<QCheckBox>("table-loads-only");
    only->click();
    settle();
    EXPECT_EQ(text_of("table-changes"), "C1: G N 475 → 500 kN");
    press("take-table");
    EXPECT_EQ(column_load(model(), "G", "C1").N, 500);
    EXPECT_EQ(model().columns[1].at.x, 8);
    act("undo");
    EXPECT_EQ(column_load(model(), "G", "C1").N, 475);
    // The same again brings nothing, and says so.
    act("redo");
    act("read-table-again");
    settle();
    EXPECT_TRUE(widget<QLabel>("table-nothing")->text().contains("stands in the model already"));
    press("leave-table");
    EXPECT_FALSE(w.desk()->taking_table);
}

TEST_F(ExchangeWindow, WhatWasChangedInHowATableIsReadHoldsOnlyWhileItReadsTheSame) {
    const QString path = write("t.csv", "id,x,y,size,G\n,m,m,mm,kN\nC1,0,0,400x400,475\n");
    drop(path);
    pick("head-holds-4", "N");
    press("take-table");
    ASSERT_EQ(column_load(model(), "G", "C1").N, 475);  // of the case that such loads are taken for
    write("t.csv", "id,x,y,size,G\n,m,m,mm,kN\nC1,0,0,400x400,500\n");
    act("read-table-again");
    settle();
    EXPECT_EQ(w.desk()->taking_table->table.sum_of("G").N, 500) << "G is N as before";
    press("take-table");
    write("t.csv", "id,x,y,size,G\n,m,m,mm,MN\nC1,0,0,400x400,0.5\n");  // the unit is another
    act("read-table-again");
    settle();
    EXPECT_TRUE(w.desk()->taking_table->table.loads.empty()) << "nothing is read in the unit of before";
}

TEST_F(ExchangeWindow, AnEditBeneathAPreviewKeepsItTrue) {
    drop(write("t.csv", "id,x,y,size,G N\nC1,0,0,400x400,475\nC2,8,0,400x600,810\n"));
    press("take-table");
    drop(write("u.csv", "id,G N\nC1,500\nC2,820\n"));
    EXPECT_EQ(text_of("table-changes").count('\n'), 1);
    act("undo");  // the columns are gone: their loads cannot be taken
    settle();
    ASSERT_TRUE(w.desk()->taking_table);
    EXPECT_TRUE(text_of("table-left-out").contains("line 2: column C1: it has no place"));
    EXPECT_FALSE(w.findChild<QPushButton*>("take-table"));
}

TEST_F(ExchangeWindow, ATableComesFromTheClipboardAsFromASpreadsheet) {
    QApplication::clipboard()->setText("id\tx\ty\tsize\tG N\nA1\t0\t0\tØ500\t1.234,5\nA2\t6,5\t0\t400x400\t800");
    act("read-clipboard");
    settle();
    ASSERT_TRUE(w.desk()->taking_table);
    EXPECT_EQ(w.desk()->taking_table->table.sum_of("G").N, 2034.5);
    press("take-table");
    EXPECT_EQ(model().columns.size(), 2u);
    EXPECT_FALSE(w.desk()->can_read_table_again()) << "there is no file to read again";
    QApplication::clipboard()->setText("");
    act("read-clipboard");
    EXPECT_TRUE(said().contains("no text on the clipboard"));
}

TEST_F(ExchangeWindow, ADrawingIsPlacedAndItsLayersAreToldWhatTheyHold) {
    drop(plan_of_quay);
    pick("layer-role-6", "left out");  // WALLS
    EXPECT_TRUE(w.desk()->taking_drawing->plan.walls.empty());
    pick("drawing-unit", "cm");
    EXPECT_NEAR(box_of(std::get<Polygon>(*w.desk()->taking_drawing->plan.outline)).width(), 360, 1);
    pick("drawing-unit", "mm");
    type("drawing-x", "10");
    settle();
    EXPECT_NEAR(box_of(std::get<Polygon>(*w.desk()->taking_drawing->plan.outline)).low.x, -10, 1e-6);
    widget<QCheckBox>("drawing-keep")->setChecked(false);
    press("take-drawing");
    EXPECT_TRUE(model().walls.empty());
    EXPECT_TRUE(model().underlays.empty());
    EXPECT_NEAR(box_of(std::get<Polygon>(model().slab.outline)).low.x, -10, 1e-6);
    EXPECT_TRUE(in_step());
}

TEST_F(ExchangeWindow, AKeptDrawingLiesFaintWhereItWasDrawn) {
    const QString path =
        write("d.dxf",
              "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n6\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n"
              "0\nLWPOLYLINE\n8\nSLAB\n90\n4\n70\n1\n10\n0\n20\n0\n10\n10\n20\n0\n10\n10\n20\n8\n10\n0\n20\n8\n"
              "0\nLINE\n8\nNOTES\n10\n12\n20\n-2\n11\n12\n21\n6\n0\nENDSEC\n0\nEOF\n");
    drop(path);
    press("take-drawing");
    ASSERT_EQ(model().underlays.size(), 1u);
    EXPECT_NEAR(model().underlays[0].width, 12, 1e-9);
    EXPECT_EQ(model().underlays[0].at, (Point{0, -2}));
    Model m = model();
    m.underlays[0].strength = 1;
    w.desk()->document()->apply("Darken", m);
    QApplication::processEvents();
    const QImage image = plan()->grab().toImage();
    int dark = 0;  // beside the slab, where only the drawing has a line
    for (int dx = -3; dx <= 3; ++dx) {
        const QPoint p = at(12, 2) + QPoint(dx, 0);
        if (image.rect().contains(p)) dark += image.pixelColor(p).lightness() < 120;
    }
    EXPECT_GT(dark, 0);
    ASSERT_TRUE(w.save_to(folder.filePath("raft.mossbed")));
    EXPECT_EQ(load_model(folder.filePath("raft.mossbed").toStdString()).model->underlays.size(), 1u);
}

TEST_F(ExchangeWindow, WhatIsDroppedIsKnownByWhatStandsInIt) {
    drop(SOURCE_DIR "/examples/tern-quay-boreholes.csv");  // a table, but of boreholes
    EXPECT_TRUE(w.desk()->taking);
    EXPECT_EQ(w.desk()->stop, Stop::ground);
    drop(SOURCE_DIR "/tests/data/tables/reactions.xlsx");
    EXPECT_FALSE(w.desk()->taking);
    ASSERT_TRUE(w.desk()->taking_table);
    EXPECT_EQ(w.desk()->taking_table->table.columns.size(), 2u);
    drop(write("x.dwg", QByteArray("AC1032\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0", 24)));
    EXPECT_TRUE(said().contains("DWG"));
    EXPECT_TRUE(w.desk()->taking_table) << "what was looked at stays";
    drop(write("x.xlsx", "PK\x03\x04 cut off"));
    EXPECT_TRUE(said().contains("cannot be unpacked"));
    drop(SOURCE_DIR "/tests/data/quay-on-springs.mossbed");
    EXPECT_EQ(model().columns.size(), 26u);
    EXPECT_FALSE(w.desk()->taking_table) << "another model, nothing on the way into it";
}

TEST_F(ExchangeWindow, WhatIsExportedComesInAgain) {
    ASSERT_TRUE(w.open_file(demo));
    const Model before = model();
    ASSERT_TRUE(w.write_export(folder.filePath("plan.dxf")));
    ASSERT_TRUE(w.write_export(folder.filePath("columns.csv")));
    act("new");
    drop(folder.filePath("plan.dxf"));
    press("take-drawing");
    drop(folder.filePath("columns.csv"));
    EXPECT_EQ(w.findChild<QPlainTextEdit*>("table-left-out"), nullptr);
    press("take-table");
    EXPECT_EQ(model().slab.outline, before.slab.outline);
    EXPECT_EQ(model().columns.size(), before.columns.size());
    for (const LoadCase& c : before.loads.cases)
        for (const Column& k : before.columns)
            EXPECT_NEAR(column_load(model(), c.id, k.id).N, column_load(before, c.id, k.id).N, 1e-9) << c.id << k.id;
    EXPECT_FALSE(w.write_export("/no/such/folder/x.csv"));
}

TEST_F(ExchangeWindow, TwentyThousandRowsAreLookedAtWithoutLag) {
    QByteArray text = "id;x;y;size;case;N;My\n";
    for (int i = 0; i < 500; ++i)
        for (int k = 0; k < 40; ++k)
            text += QString("K%1;%2;%3;400x500;L%4;%5,5;%6\n")
                        .arg(i)
                        .arg(i % 25 * 6)
                        .arg(i / 25 * 5)
                        .arg(k)
                        .arg(300 + i)
                        .arg(k)
                        .toUtf8();
    w.desk()->hold(true);
    drop(write("big.csv", text));
    ASSERT_TRUE(w.desk()->taking_table);
    EXPECT_EQ(w.desk()->taking_table->table.loads.size(), 20000u);
    pick("table-signs", "reactions on the frame");
    press("take-table");
    EXPECT_EQ(model().columns.size(), 500u);
    EXPECT_EQ(model().loads.cases.size(), 41u) << "and G, which carries the slab";
    EXPECT_EQ(column_load(model(), "L39", "K499").My, -39);
}

}  // namespace
}  // namespace mossbed
