// Tables of what is drawn: ends, all points, outlines and circles as they are typed.
#include "core/tables/table.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

Model drawn() {
    Model m = raft(box(0, 0, 12, 8), 0.5, 2e4);
    m.walls = {{"W1", {{1, 1}, {5, 1}, {5, 4}}, 0.25, 3, true, 1, {}}};
    m.slab.openings = {{"O1", box(6, 2, 8, 3), {}}, {"O2", Shape(Circle{{3, 6}, 0.5}), {}}};
    m.setting_out = {{"x1", {{2, 0}, {2, 8}}, {}}};
    load(m, {WallLoad{"W1", 12}, {}});
    return m;
}
std::string text(const Table& t, int row, const char* head) { return t.cell(row, t.column_of(head)).text; }
double number(const Table& t, int row, const char* head) { return t.cell(row, t.column_of(head)).number.value(); }

TEST(WallsTable, ShowsEndsAllPointsAndLength) {
    Model m = drawn();
    const auto t = table_of(TableKind::walls, m);
    EXPECT_EQ(number(*t, 0, "to y"), 4);
    EXPECT_EQ(text(*t, 0, "all its points"), "1, 1; 5, 1; 5, 4");
    EXPECT_EQ(number(*t, 0, "length, m"), 7);
    EXPECT_EQ(text(*t, 0, "It stiffens the slab"), "yes");
}

TEST(WallsTable, WritesThemAndRefusesWhatIsNoPath) {
    Model m = drawn();
    const auto t = table_of(TableKind::walls, m);
    EXPECT_EQ(t->set(0, t->column_of("to x"), 6.0, ""), "");
    EXPECT_EQ(m.walls[0].path[2], (Point{6, 4}));
    EXPECT_EQ(t->set(0, t->column_of("all its points"), {}, "2, 2; 9.5, 2"), "");
    EXPECT_EQ(m.walls[0].path, (std::vector<Point>{{2, 2}, {9.5, 2}}));
    for (const char* none : {"", "2, 2", "2, 2; 9", "2, 2; a, b", "2; 3; 4", "1, 2, 3; 4, 5, 6", "nan, 1; 2, 2"})
        EXPECT_NE(t->set(0, t->column_of("all its points"), {}, none), "") << none;
    EXPECT_EQ(m.walls[0].path.size(), 2u);
    EXPECT_EQ(t->set(0, t->column_of("It stiffens the slab"), {}, "no"), "");
    EXPECT_FALSE(m.walls[0].stiffens);
    EXPECT_NE(t->set(0, t->column_of("It stiffens the slab"), {}, "perhaps"), "");
    EXPECT_EQ(t->set(0, 0, {}, "core"), "");
    EXPECT_EQ(std::get<WallLoad>(m.loads.cases[0].items[0].load).wall, "core");
}

TEST(OpeningsTable, ReadsOutlinesAndCircles) {
    Model m = drawn();
    const auto t = table_of(TableKind::openings, m);
    EXPECT_EQ(text(*t, 1, "outline"), "circle 3, 6, 0.5");
    EXPECT_EQ(number(*t, 0, "area, m²"), 2);
    EXPECT_EQ(t->set(0, t->column_of("outline"), {}, "circle 7, 3, 1.5"), "");
    EXPECT_EQ(*m.slab.openings[0].outline.circle(), (Circle{{7, 3}, 1.5}));
    EXPECT_EQ(t->set(1, t->column_of("outline"), {}, "2, 5; 4, 5; 4, 7"), "");
    EXPECT_FALSE(m.slab.openings[1].outline.circle());
    for (const char* none : {"circle 1, 2", "circle 1, 2, -3", "0, 0; 1, 0"})
        EXPECT_NE(t->set(1, t->column_of("outline"), {}, none), "") << none;
    EXPECT_EQ(m.slab.openings[1].outline.size(), 3u);
}

TEST(PlanTables, NewRowsAreLikeTheLastWithNamesOfTheirOwn) {
    Model m = drawn();
    std::string why;
    for (const auto& [kind, name] : {std::pair{TableKind::walls, "W2"},
                                     {TableKind::ribs, "R1"},
                                     {TableKind::patches, "T1"},
                                     {TableKind::openings, "O3"},
                                     {TableKind::ground_patches, "G1"},
                                     {TableKind::setting_out, "line-1"}}) {
        const auto t = table_of(kind, m);
        const int row = t->add_row(-1, &why);
        EXPECT_EQ(t->cell(row, 0).text, name);
    }
    EXPECT_EQ(m.walls[1].thickness, 0.25);
    EXPECT_EQ(m.ribs[0].path.size(), 2u);
    EXPECT_EQ(signed_area(m.slab.patches[0].outline), 1);
    EXPECT_EQ(table_of(TableKind::ribs, m)->thing(0), (Thing{ThingKind::rib, "R1"}));
}

}  // namespace
}  // namespace mossbed
