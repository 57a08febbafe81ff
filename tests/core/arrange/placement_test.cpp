// Things moved, turned, mirrored, copied, offset: places by hand, and what goes along.
#include "core/arrange/placement.h"

#include "core/arrange/choice.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

// A 12 × 8 raft with one of each, a load on each, and a few that lie on things by their place.
Model full() {
    Model m = raft(box(0, 0, 12, 8), 0.5, 2e4);
    m.columns = {column("C1", 2, 2), column("C2", 6, 2)};
    m.columns[0].size = {0.3, 0.8}, m.columns[0].angle = 10;
    m.walls = {{"W1", {{8, 1}, {8, 3}}, 0.25, 3, true, 1, {}}};
    Rib r;
    r.id = "R1", r.path = {{2, 6}, {6, 6}}, r.depth = 1.2;
    m.ribs = {r};
    m.slab.openings = {{"O1", box(9, 5, 10, 6), {}}};
    m.slab.patches = {{"T1", box(1, 1, 3, 3), 0.8, Flush::top, "", {}}};
    m.setting_out = {{"x1", {{2, 0}, {2, 8}}, {}}};
    ColumnLoad on_column;
    on_column.column = "C1", on_column.N = 100;
    load(m, {on_column, {}});
    load(m, {WallLoad{"W1", 20}, {}}), load(m, {RibLoad{"R1", 5}, {}});
    load(m, {AreaLoad{box(1, 1, 3, 3), 7}, {}});                                         // of the patch's outline
    load(m, {AreaLoad{box(4, 4, 5, 5), 9}, {}});                                         // of nothing's
    load(m, {LineLoad{{{3, 6}, {5, 6}}, {1, 2}}, {}});                                   // along the rib
    load(m, {PointLoad{{6.1, 2.1}, 30, 0, 0}, {}});                                      // on column C2
    m.steel.extra = {{"E1", box(5, 1, 7, 3), Face::bottom, Direction::x, 16, 200, {}}};  // round C2
    m.steel.strips = std::vector<Strip>{{"S1", Direction::x, {Point{0, 2}, Point{12, 2}}, {1.5, 1}, {}}};
    return m;
}
template <class T>
const T& item(const Model& m, size_t k) {
    return std::get<T>(m.loads.cases[0].items.at(k).load);
}
void expect_at(Point p, double x, double y) {
    EXPECT_NEAR(p.x, x, 1e-9);
    EXPECT_NEAR(p.y, y, 1e-9);
}

TEST(Placement, TurnsAndMirrorsAboutWhatItIsTold) {
    expect_at(Placement::turned({2, 1}, 90).of({3, 1}), 2, 2);
    expect_at(Placement::turned({2, 1}, 30).of({2, 1}), 2, 1);
    expect_at(Placement::mirrored({6, 0}, {0, 1}).of({2, 5}), 10, 5);
    expect_at(Placement::mirrored({0, 0}, {1, 1}).of({3, 1}), 1, 3);  // in the diagonal x and y change places
    EXPECT_TRUE(Placement::mirrored({0, 0}, {1, 1}).mirrors());
    EXPECT_FALSE(Placement::turned({0, 0}, 77).mirrors());
}

TEST(Placed, ThingsMoveAndWhatLiesOnThemGoesAlong) {
    const Model m = placed(full(), {{ThingKind::patch, "T1"}, {ThingKind::rib, "R1"}, {ThingKind::column, "C2"}},
                           Placement::moved({1, 0.5}));
    expect_at(m.slab.patches[0].outline[0], 2, 1.5);
    expect_at(m.ribs[0].path[1], 7, 6.5);
    expect_at(m.columns[1].at, 7, 2.5);
    expect_at(m.columns[0].at, 2, 2);  // not chosen
    expect_at(item<AreaLoad>(m, 3).outline[2], 4, 3.5);
    expect_at(item<AreaLoad>(m, 4).outline[0], 4, 4);
    expect_at(item<LineLoad>(m, 5).path[0], 4, 6.5);
    expect_at(item<PointLoad>(m, 6).at, 7.1, 2.6);
    expect_at(m.steel.extra[0].outline[0], 6, 1.5);
    expect_at((*m.steel.strips)[0].axis[0], 0, 2);  // one of its two columns stays: so does the strip
    const Model both = placed(full(), {{ThingKind::column, "C1"}, {ThingKind::column, "C2"}}, Placement::moved({0, 1}));
    expect_at((*both.steel.strips)[0].axis[1], 12, 3);
}

TEST(Placed, ThingsTurnWithTheirOwnAxes) {
    const Things those{{ThingKind::column, "C1"}, {ThingKind::wall, "W1"}, {ThingKind::extra_bars, "E1"}};
    const Model m = placed(full(), those, Placement::turned({0, 0}, 90));
    expect_at(m.columns[0].at, -2, 2);
    EXPECT_NEAR(std::remainder(m.columns[0].angle - 100, 180), 0, 1e-9);
    expect_at(m.walls[0].path[0], -1, 8);
    EXPECT_EQ(m.steel.extra[0].direction, Direction::y);
    EXPECT_GT(signed_area(m.steel.extra[0].outline), 0);
}

TEST(Placed, MirroredThingsKeepTheirWayRoundAndSwapTheirSides) {
    const Things those{{ThingKind::column, "C1"}, {ThingKind::opening, "O1"}, {ThingKind::strip, "S1"}};
    const Model m = placed(full(), those, Placement::mirrored({6, 0}, {0, 1}));
    expect_at(m.columns[0].at, 10, 2);
    EXPECT_NEAR(std::remainder(m.columns[0].angle - 170, 180), 0, 1e-9);
    // The footprint is the mirror image: each corner of it has one.
    const Polygon was = footprint(full().columns[0]), is = footprint(m.columns[0]);
    for (Point p : was)
        EXPECT_TRUE(std::any_of(is.begin(), is.end(), [p](Point q) { return distance(q, {12 - p.x, p.y}) < 1e-9; }));
    EXPECT_NEAR(signed_area(m.slab.openings[0].outline), 1, 1e-9);
    EXPECT_EQ((*m.steel.strips)[0].reach, (std::array<double, 2>{1, 1.5}));
}

TEST(Placed, AMirrorImageSolvesToTheMirrorImage) {
    Model m = full();
    m.slab.self_weight = true;
    m.steel.strips.reset();
    m.loads.cases[0].items.erase(m.loads.cases[0].items.begin() + 4);  // it lies on nothing and would stay
    const Model image = placed(m, all_of_plan(m), Placement::mirrored({0, 0}, {0, 1}));
    expect_at(box_of(std::get<Polygon>(image.slab.outline)).low, -12, 0);
    const auto a = solve(m), b = solve(image);
    const Point p{3.1, 5.2};
    const double one = nodal(*a, p, [&](int i) { return only(*a).settlement(i); }),
                 two = nodal(*b, {-p.x, p.y}, [&](int i) { return only(*b).settlement(i); });
    EXPECT_NEAR(two, one, 0.005 * one);
    EXPECT_NEAR(only(*b).applied.Fz, only(*a).applied.Fz, 1e-6 * only(*a).applied.Fz);
}

TEST(Placed, SidesAndCornersOfTheSlabMove) {
    Model m = placed(full(), {{ThingKind::slab_side, "", 1}}, Placement::moved({2, 0}));  // the right one
    const Polygon& ring = std::get<Polygon>(m.slab.outline);
    expect_at(ring[1], 14, 0), expect_at(ring[2], 14, 8), expect_at(ring[0], 0, 0);
    expect_at((*m.steel.strips)[0].axis[1], 14, 2);  // it ended on that rim
    m.slab.outline = Circle{{1, 1}, 5};
    m = placed(m, {{ThingKind::slab_side, "", 0}}, Placement::moved({2, 3}));
    EXPECT_EQ(std::get<Circle>(m.slab.outline), (Circle{{3, 4}, 5}));
}

TEST(Copies, GetFreshNamesInRowsAndCarryTheirLoads) {
    Things made;
    const Model m = with_copies(full(), {{ThingKind::column, "C1"}}, rows_of(3, {4, 0}, 2, {0, 3}), true, &made);
    ASSERT_EQ(m.columns.size(), 2u + 5);
    EXPECT_EQ(made.size(), 5u);
    std::set<std::string> names;
    for (const Column& c : m.columns) names.insert(c.id);
    EXPECT_EQ(names, (std::set<std::string>{"C1", "C2", "C3", "C4", "C5", "C6", "C7"}));
    expect_at(m.columns[2].at, 6, 2), expect_at(m.columns[3].at, 10, 2), expect_at(m.columns[6].at, 10, 5);
    double sum = 0;
    for (const LoadItem& i : m.loads.cases[0].items)
        if (auto* l = std::get_if<ColumnLoad>(&i.load)) sum += l->N;
    EXPECT_EQ(sum, 600);
    const Model bare = with_copies(full(), {{ThingKind::column, "C1"}}, rows_of(3, {4, 0}, 2, {0, 3}), false);
    EXPECT_EQ(bare.loads.cases[0].items.size(), full().loads.cases[0].items.size());
}

TEST(Copies, OfAPatchTakeTheAreaLoadThatHasItsOutline) {
    const Model m = with_copies(full(), {{ThingKind::patch, "T1"}}, {Placement::moved({0, 4})}, true);
    ASSERT_EQ(m.slab.patches.size(), 2u);
    EXPECT_EQ(m.slab.patches[1].id, "T2");
    ASSERT_EQ(m.loads.cases[0].items.size(), full().loads.cases[0].items.size() + 1);
    expect_at(std::get<AreaLoad>(m.loads.cases[0].items.back().load).outline[0], 1, 5);
}

TEST(Offset, GrowsOutlinesMovesPathsAndRefusesWhatWouldTurnInsideOut) {
    Model m = full();
    EXPECT_EQ(offset(m, {{ThingKind::opening, "O1"}}, 0.25, false), "");
    EXPECT_NEAR(signed_area(m.slab.openings[0].outline), 1.5 * 1.5, 1e-9);
    Things made;
    EXPECT_EQ(offset(m, {{ThingKind::rib, "R1"}}, 0.5, true, &made), "");  // its left is up
    ASSERT_EQ(m.ribs.size(), 2u);
    expect_at(m.ribs[1].path[0], 2, 6.5), expect_at(m.ribs[0].path[0], 2, 6);
    EXPECT_EQ(made, (Things{{ThingKind::rib, "R2"}}));
    const Model before = m;
    EXPECT_NE(offset(m, {{ThingKind::opening, "O1"}}, -1, false), "");
    EXPECT_EQ(m, before);
    m.slab.openings[0].outline = Shape(Circle{{9, 5}, 0.5});
    EXPECT_EQ(offset(m, {{ThingKind::opening, "O1"}}, 0.2, false), "");
    EXPECT_NEAR(m.slab.openings[0].outline.circle()->radius, 0.7, 1e-12);
}

TEST(Offset, OfABentPathKeepsItsPiecesParallelByThatDistance) {
    Model m = full();
    m.ribs[0].path = {{0, 0}, {4, 0}, {4, 3}};
    EXPECT_EQ(offset(m, {{ThingKind::rib, "R1"}}, 0.5, false), "");
    expect_at(m.ribs[0].path[0], 0, 0.5), expect_at(m.ribs[0].path[1], 3.5, 0.5), expect_at(m.ribs[0].path[2], 3.5, 3);
}

}  // namespace
}  // namespace mossbed
