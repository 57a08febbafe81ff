// Primitives: where they fall on the paper, and what the pointer finds among them.
#include "drawing/drawing.h"

#include <gtest/gtest.h>

#include <set>

#include "drawing/labels.h"

namespace mossbed {
namespace {

constexpr View twenty{20, {100, 400}};  // 20 paper units a metre, the origin at (100, 400)

TEST(View, GoesToThePaperAndBack) {
    View v;
    Box plan, paper;
    plan.add({-3, 2}), plan.add({9, 7});
    paper.add({10, 20}), paper.add({410, 320});
    v.show(plan, paper);
    EXPECT_NEAR(v.scale, 400.0 / 12, 1e-12);  // the wider side fills the paper
    const Point p = v.back(v.at({1.25, 3.5}));
    EXPECT_NEAR(p.x, 1.25, 1e-12);
    EXPECT_NEAR(p.y, 3.5, 1e-12);
    EXPECT_LT(v.at({0, 7}).y, v.at({0, 2}).y);  // y up in the plan, down on the paper
    const Point middle = v.at(plan.middle());
    EXPECT_NEAR(middle.x, 210, 1e-9);
    EXPECT_NEAR(middle.y, 170, 1e-9);
}

TEST(Layers, HaveNamesOfTheirOwnForFiles) {
    std::set<std::string> names;
    for (int i = 0; i <= int(Layer::notes); ++i) names.insert(name_of(Layer(i)));
    EXPECT_EQ(names.size(), size_t(Layer::notes) + 1);
    EXPECT_STREQ(name_of(Layer::over_limit), "over-limit");
    EXPECT_STREQ(name_of(Layer::notes), "notes");
}

TEST(Picking, WhatLiesOnTopIsFoundFirst) {
    Drawing d;
    d.add(Layer::openings, closed(Polygon{{0, 0}, {4, 0}, {4, 4}, {0, 4}}, {Role::ink, 1}, {Role::sheet, {}, {}}))
        .thing = Thing{ThingKind::opening, "pit"};
    d.add(Layer::columns, closed(Polygon{{1, 1}, {2, 1}, {2, 2}, {1, 2}}, {Role::sheet, 1}, {Role::ink, {}, {}}))
        .thing = Thing{ThingKind::column, "C1"};
    const auto both = things_at(d, twenty, twenty.at({1.5, 1.5}));
    ASSERT_EQ(both.size(), 2u);
    EXPECT_EQ(both[0].id, "C1");
    EXPECT_EQ(both[1].id, "pit");
    const auto pit = things_at(d, twenty, twenty.at({3.5, 3.5}));
    ASSERT_EQ(pit.size(), 1u);
    EXPECT_EQ(pit[0].id, "pit");
    EXPECT_TRUE(things_at(d, twenty, twenty.at({6, 6})).empty());
}

TEST(Picking, AnOutlineThatIsNotFilledIsHitOnItsLineOnly) {
    Drawing d;
    d.add(Layer::patches, closed(Polygon{{0, 0}, {4, 0}, {4, 4}, {0, 4}}, {Role::ink, 1, Dash::dashed})).thing =
        Thing{ThingKind::patch, "runway"};
    EXPECT_TRUE(things_at(d, twenty, twenty.at({2, 2})).empty());
    const Point on = twenty.at({2, 0});
    EXPECT_EQ(things_at(d, twenty, on + Point{0, 3}).size(), 1u);
    EXPECT_TRUE(things_at(d, twenty, on + Point{0, 5}).empty());  // its reach is 4
}

TEST(Picking, AWallIsAsThickAsItIs) {
    Drawing d;
    d.add(Layer::walls, open({{0, 0}, {5, 0}}, {Role::ink, 2, Dash::solid, 0.8})).thing = Thing{ThingKind::wall, "W1"};
    EXPECT_EQ(things_at(d, twenty, twenty.at({2, 0.39})).size(), 1u);  // half of 0.8 m at 20 a metre: 8
    EXPECT_TRUE(things_at(d, twenty, twenty.at({2, 0.5})).empty());
    EXPECT_TRUE(things_at(d, twenty, twenty.at({5.6, 0})).empty());  // open: no side back to its beginning
}

TEST(Picking, ASideOfAnOutlineIsAPartOfIt) {
    Drawing d;
    Mark& m = d.add(Layer::rim, closed(Polygon{{0, 0}, {4, 0}, {4, 4}, {0, 4}}, {}));
    m.thing = Thing{ThingKind::slab_side, "", -1}, m.by_side = true;
    for (auto [at, side] : {std::pair{Point{2, 0}, 0}, {{4, 2}, 1}, {{2, 4}, 2}, {{0, 2}, 3}}) {
        const auto things = things_at(d, twenty, twenty.at(at));
        ASSERT_EQ(things.size(), 1u);
        EXPECT_EQ(things[0].part, side);
    }
}

TEST(Picking, ASymbolKeepsItsSizeAtEveryScale) {
    Drawing d;
    d.add(Layer::handles, symbol({3, 3}, box_on_paper(-4, -4, 4, 4), {Role::moss, 1}, {Role::sheet, {}, {}})).thing =
        Thing{ThingKind::slab_corner, "", 0};
    d.add(Layer::boreholes, Disc{{6, 3}, {0, 20}, 5, {Role::ink, 1}, {}}).thing = Thing{ThingKind::borehole, "BH1"};
    for (double scale : {5.0, 80.0}) {
        const View v{scale, {0, 500}};
        EXPECT_EQ(things_at(d, v, v.at({3, 3}) + Point{7, 0}).size(), 1u) << scale;
        EXPECT_TRUE(things_at(d, v, v.at({3, 3}) + Point{9, 0}).empty()) << scale;
        EXPECT_EQ(things_at(d, v, v.at({6, 3}) + Point{0, -20}).size(), 1u) << scale;  // offsets run up
        const Box b = extent_on_paper(d, v, {ThingKind::slab_corner, "", 0});
        EXPECT_NEAR(b.width(), 8, 1e-9);
    }
    EXPECT_TRUE(extent_on_paper(d, twenty, {ThingKind::column, "C9"}).empty());
}

TEST(Labels, ATextGoesWhereNothingIsWrittenYet) {
    Drawing d;
    Box paper;
    paper.add({0, 0}), paper.add({300, 300});
    Labels labels(d, bare_paper(), paper);
    Text t;
    t.at = on_bare_paper(100, 100), t.text = "C19";
    labels.write(Layer::names, t, {{5, 0}, {-5, 0}});
    labels.write(Layer::names, t, {{5, 0}, {-5, 0}});
    labels.write(Layer::names, t, {{5, 0}, {-5, 0}});  // nowhere left: at the first place again
    auto written = [&](size_t i) { return std::get<Text>(d.marks[i].what); };
    EXPECT_EQ(written(0).offset, (Point{5, 0}));
    EXPECT_EQ(written(1).offset, (Point{-5, 0}));
    EXPECT_EQ(written(1).align, Align::right);
    EXPECT_EQ(written(2).offset, (Point{5, 0}));
}

TEST(Labels, NoTextIsCutByTheEdgeOfThePaper) {
    Drawing d;
    Box paper;
    paper.add({0, 0}), paper.add({300, 300});
    Labels labels(d, bare_paper(), paper);
    Text t;
    t.at = on_bare_paper(290, 100), t.text = "170 kPa max";
    labels.write(Layer::notes, t, {{5, 0}, {-5, 0}});
    EXPECT_LT(std::get<Text>(d.marks[0].what).offset.x, 0);
}

}  // namespace
}  // namespace mossbed
