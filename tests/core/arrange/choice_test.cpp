#include "core/arrange/choice.h"

#include "core/arrange/make.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

Model rows() {
    Model m = raft(box(0, 0, 12, 8), 0.5, 2e4);
    m.columns = {column("K3", 9, 1), column("K1", 3, 1), column("K2", 6, 1.2), column("K9", 3, 5, 0.7)};
    m.slab.openings = {{"O1", box(9, 5, 10, 6), {}}};
    m.walls = {{"W1", {{1, 7}, {5, 7}}, 0.25, 3, true, 1, {}}};
    ColumnLoad l;
    l.column = "K3", l.N = 80;
    load(m, {l, {}});
    l.column = "K9", l.N = 20;
    load(m, {l, {}}), load(m, {WallLoad{"W1", 10}, {}});
    return m;
}

TEST(Choice, AllLikeAColumnAreThoseOfItsShapeAndSize) {
    EXPECT_EQ(all_like(rows(), {ThingKind::column, "K1"}).size(), 3u);
    EXPECT_EQ(all_like(rows(), {ThingKind::column, "K9"}), (Things{{ThingKind::column, "K9"}}));
    EXPECT_TRUE(all_like(rows(), {ThingKind::column, "nobody"}).empty());
}

TEST(Choice, WhatLiesInTheBoxWholeIsWithin) {
    Box b;
    b.add({2, 0}), b.add({7, 6});
    EXPECT_EQ(things_within(rows(), b),
              (Things{{ThingKind::column, "K1"}, {ThingKind::column, "K2"}, {ThingKind::column, "K9"}}));
    b.add({0, 8});
    EXPECT_TRUE(things_within(rows(), b).count({ThingKind::wall, "W1"}));
}

TEST(Choice, WhatGoesWithADeletionIsSaidInForces) {
    EXPECT_EQ(hanging_on(rows(), {{ThingKind::column, "K3"}}), "loads in G (80 kN)");
    EXPECT_EQ(hanging_on(rows(), {{ThingKind::column, "K3"}, {ThingKind::wall, "W1"}}),
              "loads in G (120 kN)");  // 80 + 4 × 10
    EXPECT_EQ(hanging_on(rows(), {{ThingKind::opening, "O1"}}), "");
}

TEST(FaultOfEdit, TellsOnlyWhatTheEditBrought) {
    const Model before = rows();
    Model after = before;
    after.columns[0].at = {20, 1};
    EXPECT_NE(fault_of_edit(before, after).find("K3"), std::string::npos);
    EXPECT_EQ(fault_of_edit(after, after), "");  // it was so
    Model mended = after;
    mended.columns[0].at = {9, 2};
    EXPECT_EQ(fault_of_edit(after, mended), "");
}

TEST(Rename, LoadsGoWithTheName) {
    Model m = rows();
    EXPECT_EQ(rename_thing(m, {ThingKind::column, "K3"}, "A1"), "");
    EXPECT_EQ(std::get<ColumnLoad>(m.loads.cases[0].items[0].load).column, "A1");
    EXPECT_NE(rename_thing(m, {ThingKind::column, "A1"}, "K9"), "");
    EXPECT_NE(rename_thing(m, {ThingKind::column, "A1"}, ""), "");
    EXPECT_EQ(rename_thing(m, {ThingKind::wall, "W1"}, "core"), "");
    EXPECT_EQ(std::get<WallLoad>(m.loads.cases[0].items[2].load).wall, "core");
}

TEST(Numbering, GoesAlongRowsFromTheLowerLeftAndLoadsKeepTheirColumns) {
    Model m = rows();
    Things all;
    for (const Column& c : m.columns) all.insert({ThingKind::column, c.id});
    number_by_place(m, all, "K");
    EXPECT_EQ(m.columns[1].id, "K1");
    EXPECT_EQ(m.columns[2].id, "K2");  // 0.2 m off the row's line
    EXPECT_EQ(m.columns[0].id, "K3");
    EXPECT_EQ(m.columns[3].id, "K4");
    EXPECT_EQ(std::get<ColumnLoad>(m.loads.cases[0].items[1].load).column, "K4");
    Model some = rows();
    number_by_place(some, {{ThingKind::column, "K3"}, {ThingKind::column, "K9"}}, "K");
    EXPECT_EQ(some.columns[0].id, "K3");
    EXPECT_EQ(some.columns[3].id, "K4");  // K1 and K2 are others'
}

TEST(Make, AFigureGetsThePatternsSizesAndAFreshName) {
    Model m = rows();
    Model like = patterns_of(m);
    EXPECT_EQ(like.columns[0].size, (std::vector<double>{0.7, 0.7}));  // of the last one
    like.ribs[0].width = 0.6;
    Thing made;
    Figure line;
    line.points = {{1, 2}, {5, 2}};
    EXPECT_EQ(make_thing(m, ThingKind::rib, line, like, &made), "");
    EXPECT_EQ(made, (Thing{ThingKind::rib, "R1"}));
    EXPECT_EQ(m.ribs[0].width, 0.6);
    EXPECT_EQ(m.ribs[0].id, "R1");
    Figure place;
    place.points = {{4, 4}};
    EXPECT_EQ(make_thing(m, ThingKind::column, place, like, &made), "");
    EXPECT_EQ(m.columns.back().id, "K4");  // K1, K2, K3 and K9 are taken
    EXPECT_NE(make_thing(m, ThingKind::opening, line, like, &made), "");
    EXPECT_NE(make_thing(m, ThingKind::wall, place, like, &made), "");
    EXPECT_EQ(make_thing(m, ThingKind::setting_out, line, like, &made), "");
    EXPECT_EQ(made.id, "y1");
    EXPECT_EQ(patterns_of(Model{}, &like).ribs[0].width, 0.6);  // without any, as it was
}

TEST(Corners, AreMovedAddedRemovedAndRefused) {
    Model m = rows();
    const Thing o{ThingKind::opening, "O1"}, w{ThingKind::wall, "W1"};
    EXPECT_EQ(corners_of(m, o).size(), 4u);
    EXPECT_EQ(move_corner(m, o, 0, {8.5, 4.5}), "");
    EXPECT_EQ(m.slab.openings[0].outline[0], (Point{8.5, 4.5}));
    EXPECT_NE(move_corner(m, o, 0, {10.5, 5.5}), "");  // across the others
    EXPECT_EQ(add_corner(m, w, {3, 7.4}), "");
    EXPECT_EQ(m.walls[0].path[1], (Point{3, 7}));
    EXPECT_NE(add_corner(m, w, {3, 7}), "");
    EXPECT_EQ(remove_corner(m, w, 1), "");
    EXPECT_NE(remove_corner(m, w, 0), "");
    m.slab.openings[0].outline = Shape(Circle{{9, 5}, 1});
    EXPECT_EQ(corners_of(m, o), (std::vector<Point>{{10, 5}}));
    EXPECT_EQ(move_corner(m, o, 0, {9, 5.4}), "");
    EXPECT_NEAR(m.slab.openings[0].outline.circle()->radius, 0.4, 1e-12);
}

}  // namespace
}  // namespace mossbed
