#include "core/tables/table.h"

#include <gtest/gtest.h>

#include "core/model/edit.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using namespace testing;

Model quay() {
    Model m = raft(box(0, 0, 12, 8), 0.5, 10000);
    m.columns = {column("C1", 2, 2), column("C2", 9, 2)};
    m.columns[1].shape = ColumnShape::circle, m.columns[1].size = {0.5};
    LoadCase wind;
    wind.id = "W", wind.action = Action::wind;
    m.loads.cases.push_back(wind);
    const std::string first = m.loads.cases[0].id;
    column_load(m, first, "C1").N = 400;
    column_load(m, "W", "C2").Hx = 30;
    return m;
}
int at(const Table& t, const std::string& head) {
    const int c = t.column_of(head);
    EXPECT_GE(c, 0) << head;
    return c;
}

TEST(ColumnsTable, ShowsFieldsInUnitsAndLoadsByCase) {
    Model m = quay();
    const std::string G = m.loads.cases[0].id;
    const auto t = table_of(TableKind::columns, m);
    ASSERT_EQ(t->n_rows(), 2);
    EXPECT_EQ(t->cell(0, at(*t, "x")).number, 2);
    EXPECT_EQ(t->columns()[size_t(at(*t, "x"))].full_head(), "x [m]");
    EXPECT_EQ(t->cell(1, at(*t, "shape")).text, "circle");
    EXPECT_TRUE(t->cell(1, at(*t, "size y")).is_closed);  // a diameter only
    EXPECT_EQ(t->cell(0, at(*t, G + " N")).number, 400);
    EXPECT_EQ(t->cell(1, at(*t, G + " N")).number, std::nullopt);  // no load, not a load of nought
    EXPECT_EQ(t->cell(1, at(*t, "W Hx")).number, 30);
    EXPECT_EQ(t->column_of(G + " Mx"), -1);  // nobody has one
    const auto all = table_of(TableKind::columns, m, {.all_components = true});
    EXPECT_GE(all->column_of(G + " Mx"), 0);
}

TEST(ColumnsTable, WritesFieldsWordsAndLoads) {
    Model m = quay();
    const std::string G = m.loads.cases[0].id;
    auto t = table_of(TableKind::columns, m);
    EXPECT_EQ(t->set(0, at(*t, "turned"), 30, ""), "");
    EXPECT_EQ(m.columns[0].angle, 30);
    EXPECT_EQ(t->set(0, at(*t, "shape"), {}, "circle"), "");
    EXPECT_EQ(m.columns[0].size.size(), 1u);
    EXPECT_NE(t->set(0, at(*t, "shape"), {}, "hexagon"), "");
    EXPECT_NE(t->set(0, at(*t, "x"), {}, ""), "");  // a place is needed
    EXPECT_EQ(m.columns[0].at.x, 2);
    EXPECT_EQ(t->set(1, at(*t, G + " N"), 250, ""), "");
    EXPECT_EQ(t->cell(1, at(*t, G + " N")).number, 250);
    EXPECT_EQ(column_load(std::as_const(m), G, "C2").N, 250);
    EXPECT_EQ(column_load(std::as_const(m), "W", "C2").Hx, 30);
}

TEST(ColumnsTable, ANumberSetInACellIsTheLoadHoweverManyItemsThereWere) {
    // Two items of 100 and 50 kN: the cell shows 150, and 200 typed there is 200, not 250.
    Model m = quay();
    LoadCase& c = m.loads.cases[0];
    c.items = {{ColumnLoad{"C1", 100, 5, 0, 0, 0}, {}}, {SlabLoad{2}, {}}, {ColumnLoad{"C1", 50, 0, 0, 0, 0}, {}}};
    auto t = table_of(TableKind::columns, m);
    const int N = at(*t, c.id + " N");
    EXPECT_EQ(t->cell(0, N).number, 150);
    t->set(0, N, 200, "");
    EXPECT_EQ(t->cell(0, N).number, 200);
    ASSERT_EQ(c.items.size(), 2u);
    const ColumnLoad sum = column_load(std::as_const(m), c.id, "C1");
    EXPECT_EQ(sum.N, 200);
    EXPECT_EQ(sum.Mx, 5);
    EXPECT_TRUE(std::holds_alternative<SlabLoad>(c.items[1].load));
    // The same from the page of one column.
    c.items = {{ColumnLoad{"C1", 100, 5, 0, 0, 0}, {}}, {ColumnLoad{"C1", 50, 0, 0, 0, 0}, {}}};
    set_column_load(m, c.id, "C1", &ColumnLoad::N, 70);
    EXPECT_EQ(c.items.size(), 1u);
    EXPECT_EQ(column_load(std::as_const(m), c.id, "C1").N, 70);
}

TEST(ColumnsTable, ARenamedColumnKeepsItsLoads) {
    Model m = quay();
    const std::string G = m.loads.cases[0].id;
    auto t = table_of(TableKind::columns, m);
    EXPECT_EQ(t->set(0, 0, {}, "A1"), "");
    EXPECT_EQ(column_load(std::as_const(m), G, "A1").N, 400);
    EXPECT_EQ(column_load(std::as_const(m), G, "C1").N, 0);
    EXPECT_EQ(t->cell(0, at(*t, G + " N")).number, 400);
    t->set(0, at(*t, G + " N"), 410, "");
    EXPECT_EQ(column_load(std::as_const(m), G, "A1").N, 410);
    EXPECT_EQ(t->set(0, 0, {}, "C2"), "there is a column \"C2\" already");
    EXPECT_EQ(t->set(0, 0, {}, ""), "a column needs a name");
    EXPECT_EQ(m.columns[0].id, "A1");
}

TEST(ColumnsTable, ANewRowIsLikeTheLastAndNamedFreely) {
    Model m = quay();
    auto t = table_of(TableKind::columns, m);
    std::string why;
    const int row = t->add_row(-1, &why);
    ASSERT_EQ(row, 2);
    EXPECT_EQ(m.columns[2].id, "C3");
    EXPECT_TRUE(m.columns[2].round());
    EXPECT_EQ(t->thing(2), (Thing{ThingKind::column, "C3"}));
    t->drop_row(2);
    EXPECT_EQ(m.columns.size(), 2u);
    EXPECT_EQ(t->set(0, 0, {}, "C3"), "");  // its name is free again
}

TEST(StrataTable, RenamingTakesTheLayersAlongAndWhatIsUsedCannotGo) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 10000);
    m.ground.strata.resize(2);
    m.ground.strata[0].id = "clay", m.ground.strata[0].E_basis = "proposal: 0.9 N", m.ground.strata[1].id = "sand";
    Borehole b;
    b.id = "BH1", b.ground_level = 0.0, b.layers = {{"clay", -4, {}}, {"clay", -9, {}}};
    m.ground.boreholes = {b};
    auto t = table_of(TableKind::strata, m);
    EXPECT_EQ(t->set(0, 0, {}, "soft clay"), "");
    EXPECT_EQ(m.ground.boreholes[0].layers[1].stratum, "soft clay");
    EXPECT_NE(t->set(0, 0, {}, "sand"), "");
    EXPECT_TRUE(t->cell(0, at(*t, "E drained")).is_doubtful);
    EXPECT_EQ(t->set(0, at(*t, "E drained"), 5, ""), "");
    EXPECT_FALSE(t->cell(0, at(*t, "E drained")).is_doubtful);  // typed: the engineer's
    EXPECT_EQ(t->set(0, at(*t, "E again"), {}, ""), "");        // may be missing
    EXPECT_NE(t->set(0, at(*t, "E drained"), {}, ""), "");
    const std::string why = remove_rows(TableKind::strata, m, {{ThingKind::stratum, "soft clay"}});
    EXPECT_NE(why.find("BH1"), std::string::npos) << why;
    EXPECT_EQ(remove_rows(TableKind::strata, m, {{ThingKind::stratum, "sand"}}), "");
    EXPECT_EQ(m.ground.strata.size(), 1u);
}

TEST(LayersTable, HoldsAllLayersFromTheTopAndKeepsThemInOrder) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 10000);
    m.ground.strata.resize(2);
    m.ground.strata[0].id = "clay", m.ground.strata[1].id = "sand";
    for (const char* id : {"BH1", "BH2"}) {
        Borehole b;
        b.id = id, b.ground_level = 1.0, b.layers = {{"clay", -4, {}}, {"sand", -9, {}}};
        m.ground.boreholes.push_back(b);
    }
    m.ground.boreholes[0].blow_counts = {{-2, 4, {}}, {-6, 21, {}}};
    auto t = table_of(TableKind::layers, m);
    ASSERT_EQ(t->n_rows(), 4);
    EXPECT_EQ(t->cell(0, at(*t, "thick")).number, 5);
    EXPECT_EQ(t->cell(1, at(*t, "blows N")).text, "21");
    EXPECT_EQ(t->set(0, at(*t, "thick"), 3, ""), "");  // all below moves up by two
    EXPECT_EQ(m.ground.boreholes[0].layers[1].bottom, -7);
    EXPECT_NE(t->set(0, at(*t, "thick"), -1, ""), "");
    EXPECT_NE(t->set(0, at(*t, "stratum"), {}, "gravel"), "");
    std::string why;
    EXPECT_EQ(t->add_row(0, &why), 1);  // below the first: between it and the second
    EXPECT_EQ(m.ground.boreholes[0].layers.size(), 3u);
    EXPECT_EQ(m.ground.boreholes[0].layers[1].bottom, -4.5);
    EXPECT_EQ(t->thing(2), (Thing{ThingKind::borehole, "BH1", 2}));
    EXPECT_EQ(t->set(1, 0, {}, "BH2"), "");  // to the end of the other
    EXPECT_EQ(m.ground.boreholes[1].layers.size(), 3u);
    EXPECT_EQ(t->thing(2), (Thing{ThingKind::borehole, "BH1", 1}));
    EXPECT_EQ(remove_rows(TableKind::layers, m, {{ThingKind::borehole, "BH2", 0}, {ThingKind::borehole, "BH2", 2}}),
              "");
    ASSERT_EQ(m.ground.boreholes[1].layers.size(), 1u);
    EXPECT_EQ(m.ground.boreholes[1].layers[0].stratum, "sand");
    m.ground.boreholes.clear();
    EXPECT_EQ(table_of(TableKind::layers, m)->add_row(-1, &why), -1);
    EXPECT_EQ(why, "a layer needs a borehole first");
}

TEST(ColumnsTable, TenThousandRowsAreWrittenInAPass) {  // a cell costs the same in a long table
    Model m = quay();
    auto t = table_of(TableKind::columns, m);
    const int x = at(*t, "x"), y = at(*t, "y"), N = at(*t, m.loads.cases[0].id + " N");
    for (int k = 0; k < 10000; ++k) {
        const int row = t->add_row(-1, nullptr);
        t->set(row, 0, {}, "P" + std::to_string(k));
        t->set(row, x, k % 100, ""), t->set(row, y, double(k / 100), ""), t->set(row, N, 1.0 + k, "");
    }
    EXPECT_EQ(m.columns.size(), 10002u);
    EXPECT_EQ(column_load(std::as_const(m), m.loads.cases[0].id, "P9999").N, 10000);
}

}  // namespace
}  // namespace mossbed
