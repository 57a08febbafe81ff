#include <gmock/gmock.h>

#include "core/arrange/make.h"
#include "core/arrange/placement.h"
#include "core/model/edit.h"
#include "core/model/load_values.h"
#include "core/tables/table.h"
#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

Model loaded() {
    Model m = raft(box(0, 0, 12, 8), 0.6, 20000);
    m.columns = {column("C1", 3, 3), column("C2", 9, 3)};
    LoadCase q;
    q.id = "Q/1", q.action = Action::imposed;  // a bar in a name
    m.loads.cases.push_back(q);
    load(m, {ColumnLoad{"C1", 500, 0, 0, 0, 0}, {}});
    load(m, {LineLoad{{{1, 1}, {5, 1}}, {10, 20}}, {}});
    load(m, {AreaLoad{{{6, 1}, {8, 1}, {8, 3}, {6, 3}}, 0, FillDepth{0.5, 20}}, {}});
    return m;
}
int column_of(const Table& t, const std::string& key) {
    for (size_t c = 0; c < t.columns().size(); ++c)
        if (t.columns()[c].key == key) return int(c);
    return -1;
}

TEST(LoadThings, AreFoundByCaseAndPlaceAlsoWhereANameHasABar) {
    Model m = loaded();
    m.loads.cases[1].items.push_back({SlabLoad{3}, {}});
    EXPECT_EQ(place_of_load(load_thing("Q/1", 0)), (std::pair<std::string, size_t>{"Q/1", 0}));
    ASSERT_TRUE(find_load(m, load_thing("Q/1", 0)));
    EXPECT_TRUE(std::holds_alternative<SlabLoad>(find_load(m, load_thing("Q/1", 0))->load));
    EXPECT_FALSE(find_load(m, load_thing("Q/1", 1)));
    EXPECT_FALSE(is_there(m, {ThingKind::load, "G/0"}));
    EXPECT_FALSE(is_there(m, {ThingKind::load, "G"}));
    EXPECT_FALSE(is_there(m, {ThingKind::column, "G/1"}));
}

TEST(LoadThings, AreMovedCopiedReshapedAndDeleted) {
    const Model m = loaded();
    const Things line{load_thing("G", 1)};
    const Model moved = placed(m, line, Placement::moved({1, 2}));
    EXPECT_EQ(std::get<LineLoad>(moved.loads.cases[0].items[1].load).path, (std::vector<Point>{{2, 3}, {6, 3}}));
    EXPECT_EQ(moved.loads.cases[0].items[2], m.loads.cases[0].items[2]);
    Things made;
    const Model twice = with_copies(m, line, {Placement::moved({0, 3})}, true, &made);
    ASSERT_EQ(twice.loads.cases[0].items.size(), 4u);
    EXPECT_EQ(std::get<LineLoad>(twice.loads.cases[0].items[3].load).path[0], (Point{1, 4}));
    EXPECT_EQ(made, (Things{load_thing("G", 3)}));
    Model shaped = m;
    EXPECT_EQ(move_corner(shaped, load_thing("G", 2), 2, {9, 4}), "");
    EXPECT_EQ(std::get<AreaLoad>(shaped.loads.cases[0].items[2].load).outline[2], (Point{9, 4}));
    EXPECT_NE(move_corner(shaped, load_thing("G", 2), 2, {6, 1}), "");
    EXPECT_EQ(add_corner(shaped, load_thing("G", 1), {3, 1}), "");
    EXPECT_EQ(std::get<LineLoad>(shaped.loads.cases[0].items[1].load).path.size(), 3u);
    const Model less = without(m, {load_thing("G", 0), load_thing("G", 2)});
    ASSERT_EQ(less.loads.cases[0].items.size(), 1u);
    EXPECT_TRUE(std::holds_alternative<LineLoad>(less.loads.cases[0].items[0].load));
    EXPECT_NEAR(middle_of(m, line)->x, 3, 1e-12);
}

TEST(LoadThings, AreMadeFromFiguresIntoTheCaseThatIsNamed) {
    Model m = loaded();
    Model patterns = patterns_of(m);
    patterns.loads.cases[0].id = "Q/1";
    Figure f;
    f.points = {{2, 2}};
    Thing made;
    EXPECT_EQ(make_thing(m, ThingKind::load, f, patterns, &made), "");
    EXPECT_EQ(made, load_thing("Q/1", 0));
    EXPECT_EQ(std::get<PointLoad>(m.loads.cases[1].items[0].load).at, (Point{2, 2}));
    f.points = {{2, 2}, {4, 2}};
    EXPECT_EQ(make_thing(m, ThingKind::load, f, patterns, nullptr), "");
    f.points = {{2, 2}, {4, 2}, {4, 4}}, f.is_closed = true;
    EXPECT_EQ(make_thing(m, ThingKind::load, f, patterns, nullptr), "");
    EXPECT_TRUE(std::holds_alternative<AreaLoad>(m.loads.cases[1].items[2].load));
    patterns.loads.cases[0].id = "none";
    EXPECT_NE(make_thing(m, ThingKind::load, f, patterns, nullptr), "");
}

TEST(LoadValues, SayForceAndPlaceOfEverySort) {
    const Model m = loaded();
    const auto& items = m.loads.cases[0].items;
    EXPECT_NEAR(force_of_load(m, items[0]), 500, 1e-12);
    EXPECT_NEAR(force_of_load(m, items[1]), 4 * 15, 1e-12);
    EXPECT_NEAR(force_of_load(m, items[2]), 4 * 10, 1e-12);
    EXPECT_EQ(place_of_load_in_words(items[0]), "C1");
    EXPECT_EQ(place_of_load_in_words(items[1]), "1, 1; 5, 1");
    LoadItem i = items[2];
    fill_instead(i, false, 0);
    EXPECT_NEAR(std::get<AreaLoad>(i.load).p, 10, 1e-12);
    fill_instead(i, true, 25);
    EXPECT_NEAR(std::get<AreaLoad>(i.load).fill->depth, 0.4, 1e-12);
}

TEST(LoadTable, HasARowAnItemAndTakesItsNumbers) {
    Model m = loaded();
    const auto t = table_of(TableKind::loads, m);
    ASSERT_EQ(t->n_rows(), 3);
    EXPECT_EQ(t->thing(1), load_thing("G", 1));
    EXPECT_EQ(t->cell(1, column_of(*t, "q2")).number, 20);
    EXPECT_TRUE(t->cell(1, column_of(*t, "N")).is_closed);
    EXPECT_EQ(t->set(1, column_of(*t, "q"), 12, ""), "");
    EXPECT_NE(t->set(1, column_of(*t, "N"), 12, ""), "");
    EXPECT_NE(t->set(1, column_of(*t, "place"), {}, "4"), "");
    EXPECT_EQ(t->set(1, column_of(*t, "place"), {}, "0, 2; 4, 2; 4, 6"), "");
    EXPECT_NE(t->set(0, column_of(*t, "place"), {}, "C9"), "");
    EXPECT_EQ(t->set(0, column_of(*t, "place"), {}, "C2"), "");
    EXPECT_EQ(std::get<ColumnLoad>(m.loads.cases[0].items[0].load).column, "C2");
    EXPECT_EQ(t->set(2, column_of(*t, "p"), 7, ""), "") << "a pressure in place of depth × unit weight";
    EXPECT_FALSE(std::get<AreaLoad>(m.loads.cases[0].items[2].load).fill);
    EXPECT_EQ(t->set(2, column_of(*t, "depth"), 0.8, ""), "");
    EXPECT_EQ(std::get<AreaLoad>(m.loads.cases[0].items[2].load).fill->depth, 0.8);
}

TEST(LoadTable, MovesItemsBetweenCasesTurnsTheirSortAndGrows) {
    Model m = loaded();
    const auto t = table_of(TableKind::loads, m);
    EXPECT_EQ(t->set(0, 1, {}, "Q/1"), "");
    EXPECT_EQ(m.loads.cases[1].items.size(), 1u);
    EXPECT_EQ(t->cell(1, column_of(*t, "q")).number, 10) << "the others are what they were";
    EXPECT_NE(t->set(0, 1, {}, "S"), "");
    std::string why;
    const int row = t->add_row(0, &why);
    EXPECT_EQ(row, 3);
    EXPECT_EQ(t->set(row, 2, {}, "uplift"), "");
    EXPECT_EQ(t->set(row, column_of(*t, "level"), -0.5, ""), "");
    EXPECT_EQ(std::get<Uplift>(m.loads.cases[1].items[1].load).to_level, -0.5);
    EXPECT_NE(t->set(row, 2, {}, "cloud"), "");
    t->drop_row(row);
    EXPECT_EQ(m.loads.cases[1].items.size(), 1u);
    EXPECT_EQ(remove_rows(TableKind::loads, m, {load_thing("G", 0)}), "");
    EXPECT_EQ(m.loads.cases[0].items.size(), 1u);
}

TEST(LoadSheet, MarksTheLargestAndTheMissing) {
    Model m = loaded();
    m.columns.push_back(column("C3", 6, 6));
    load(m, {ColumnLoad{"C2", -800, 0, 0, 0, 0}, {}});
    const auto t = table_of(TableKind::load_sheet, m);
    EXPECT_EQ(t->columns()[1].key, "G/N");
    EXPECT_TRUE(t->cell(1, 1).is_largest) << "by size";
    EXPECT_FALSE(t->cell(0, 1).is_largest);
    EXPECT_TRUE(t->cell(2, 1).is_missing);
    EXPECT_FALSE(t->cell(2, 2).is_missing) << "a case that no column has misses none";
    EXPECT_NEAR(t->sum(1), -300, 1e-12);
    std::string why;
    EXPECT_EQ(t->add_row(-1, &why), -1);
    EXPECT_THAT(why, ::testing::HasSubstr("table"));
}

TEST(LoadThings, AWallOrRibIsLoadedWhereItIsClicked) {
    Model m = loaded();
    m.walls = {{"W1", {{2, 6}, {10, 6}}, 0.3, 3, true, 1, {}}};
    Model patterns = patterns_of(m);
    patterns.loads.cases[0].id = "Q/1";
    std::get<WallLoad>(patterns.loads.cases[0].items[member_pattern].load).q = 35;
    Thing made;
    EXPECT_EQ(load_member_at(m, {5, 6.2}, patterns, &made), "");
    EXPECT_EQ(made, (Thing{ThingKind::wall, "W1"}));
    EXPECT_EQ(member_load(m, "Q/1", made), 35);
    EXPECT_EQ(load_member_at(m, {6, 6}, patterns, &made), "");  // again: the same load, not twice
    EXPECT_EQ(member_load(m, "Q/1", made), 35);
    EXPECT_THAT(load_member_at(m, {5, 3}, patterns, &made), ::testing::HasSubstr("no wall or rib here"));
}

}  // namespace
}  // namespace mossbed::testing
