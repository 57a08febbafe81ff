// Strips by hand: drawn, split, joined; those along a new one give way.
#include "core/arrange/edit_strips.h"

#include "core/arrange/choice.h"
#include "core/arrange/make.h"
#include "core/arrange/rims.h"
#include "core/model/edit.h"
#include "core/model/strip_area.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::raft;

Strip strip(const std::string& id, Point a, Point b, double left, double right, Direction d = Direction::x) {
    Strip s;
    s.id = id, s.direction = d, s.axis = {a, b}, s.reach = {left, right};
    return s;
}
// 12 × 6 m, three strips along x of 2 m and one along y.
Model three_strips() {
    Model m = raft(box(0, 0, 12, 6), 0.5, 20000);
    m.steel.strips =
        std::vector<Strip>{strip("X1", {0, 1}, {12, 1}, 1, 1), strip("X2", {0, 3}, {12, 3}, 1, 1),
                           strip("X3", {0, 5}, {12, 5}, 1, 1), strip("Y1", {6, 0}, {6, 6}, 6, 6, Direction::y)};
    return m;
}
double covered(const Model& m, Direction d) {
    double sum = 0;
    for (const Strip& s : *m.steel.strips)
        if (s.direction == d) sum += signed_area(area_of(s));
    return sum;
}
const Strip& of(const Model& m, const std::string& id) { return *find_id(*m.steel.strips, id); }

TEST(EditStrips, OneThatIsDrawnTakesItsPlaceOutOfThoseAlongIt) {
    Model m = three_strips();
    const std::string id = draw_strip(m, strip("", {4, 2}, {8, 2}, 0.5, 1.5));  // y 0.5 to 2.5 over 4 m
    EXPECT_EQ(of(m, id).reach, (std::array{0.5, 1.5}));
    EXPECT_NEAR(covered(m, Direction::x), 72, 1e-9);  // nothing lost, nothing twice
    for (double x : {1.0, 5.0, 11.0})
        for (double y : {0.2, 1.0, 2.2, 3.0, 5.0}) {
            int n = 0;
            for (const Strip& s : *m.steel.strips)
                if (s.direction == Direction::x && lies_on(s, {x, y}, 0)) ++n;
            EXPECT_EQ(n, 1) << x << " " << y;
        }
    EXPECT_EQ(of(m, "Y1").reach, (std::array{6.0, 6.0}));  // across it: left alone
    std::set<std::string> names;
    for (const Strip& s : *m.steel.strips) EXPECT_TRUE(names.insert(s.id).second) << s.id;
}

TEST(EditStrips, OneThatIsCoveredWhollyIsGoneAndOneDrawnTheOtherWayRoundDoesTheSame) {
    Model m = three_strips();
    const std::string id = draw_strip(m, strip("", {12, 3}, {0, 3}, 1, 1.5));  // its left is to the south
    EXPECT_EQ(find_id(*m.steel.strips, "X2"), nullptr);
    EXPECT_NEAR(of(m, "X3").reach[1], 0.5, 1e-12);  // 4.5 to 6
    EXPECT_NEAR(of(m, "X1").reach[0], 1, 1e-12);
    EXPECT_NEAR(covered(m, Direction::x), 72, 1e-9);
    EXPECT_EQ(of(m, id).axis[0], (Point{12, 3}));
}

TEST(EditStrips, SplitsKeepTheAreaAndTheNameOfTheFirst) {
    Model m = three_strips();
    EXPECT_EQ(split_strip_along(m, "X2", 0.25), "");
    ASSERT_EQ(m.steel.strips->size(), 5u);
    EXPECT_NEAR(of(m, "X2").reach[0], 0.25, 1e-12);
    EXPECT_EQ((*m.steel.strips)[2].id, "X2-1");  // behind it
    EXPECT_NEAR(of(m, "X2-1").reach[0] + of(m, "X2-1").reach[1], 0.75, 1e-12);
    EXPECT_EQ(split_strip_across(m, "X3", 5), "");
    EXPECT_NEAR(of(m, "X3").axis[1].x, 5, 1e-12);
    EXPECT_NEAR(covered(m, Direction::x), 72, 1e-9);
    const Model before = m;
    EXPECT_NE(split_strip_along(m, "X1", 1.2), "");
    EXPECT_NE(split_strip_across(m, "X1", 12.5), "");
    EXPECT_NE(split_strip_across(m, "no", 1), "");
    EXPECT_EQ(m, before);
}

TEST(EditStrips, JoinsTheNeighbourOnThatSideOnly) {
    Model m = three_strips();
    EXPECT_EQ(join_strip(m, "X2", StripSide::left), "");
    EXPECT_EQ(find_id(*m.steel.strips, "X3"), nullptr);
    EXPECT_EQ(of(m, "X2").reach, (std::array{3.0, 1.0}));
    EXPECT_NE(join_strip(m, "X2", StripSide::left), "");  // the rim
    EXPECT_EQ(join_strip(m, "X2", StripSide::right), "");
    EXPECT_NEAR(covered(m, Direction::x), 72, 1e-9);
    EXPECT_NE(join_strip(m, "Y1", StripSide::left).find("left"), std::string::npos);
}

TEST(EditStrips, AreDrawnByTwoPointsAndMakeTheLaidOnesTheModelsOwn) {
    Model m = three_strips();
    Model patterns = patterns_of(m);
    patterns.steel.strips = std::vector<Strip>{strip(pattern, {}, {}, 0.5, 0.7)};
    patterns.steel.strips->insert(patterns.steel.strips->end(), m.steel.strips->begin(), m.steel.strips->end());
    m.steel.strips.reset();
    Figure f;
    f.points = {{1, 3}, {11, 3}};
    Thing made;
    EXPECT_EQ(make_thing(m, ThingKind::strip, f, patterns, &made), "");
    ASSERT_TRUE(m.steel.strips && is_there(m, made));
    EXPECT_EQ(of(m, made.id).reach, (std::array{0.5, 0.7}));
    EXPECT_NEAR(covered(m, Direction::x), 72, 1e-9);
    EXPECT_EQ(rename_thing(m, made, "core"), "");
    EXPECT_NE(rename_thing(m, {ThingKind::strip, "core"}, "X1"), "");
    f.points = {{1, 3}, {11, 3}, {11, 5}};
    EXPECT_NE(make_thing(m, ThingKind::strip, f, patterns, &made), "");
    m = without(m, {{ThingKind::strip, "core"}});
    EXPECT_EQ(find_id(*m.steel.strips, "core"), nullptr);
}

TEST(EditStrips, TheirEndsFollowTheRim) {
    Model m = three_strips();
    EXPECT_EQ(push_rims(m, {1}, 1.5), "");  // the eastern side
    EXPECT_NEAR(of(m, "X2").axis[1].x, 13.5, 1e-9);
}

TEST(EditStrips, ASideDraggedTakesTheStripBesideItAlong) {
    Model m = three_strips();
    const Thing x2{ThingKind::strip, "X2"};
    const auto grips = corners_of(m, x2);  // left, right, beginning, end
    ASSERT_EQ(grips.size(), 4u);
    EXPECT_EQ(grips[0], (Point{6, 4}));
    EXPECT_EQ(grips[3], (Point{12, 3}));
    EXPECT_EQ(move_corner(m, x2, 0, {7, 4.6}), "");  // how far along it is held does not matter
    EXPECT_NEAR(of(m, "X2").reach[0], 1.6, 1e-12);
    EXPECT_EQ(of(m, "X2").axis, (std::array{Point{0, 3}, Point{12, 3}}));
    EXPECT_NEAR(of(m, "X3").reach[1], 0.4, 1e-12);
    EXPECT_NEAR(covered(m, Direction::x), 72, 1e-9);
    EXPECT_EQ(of(m, "Y1").reach, (std::array{6.0, 6.0}));
    // Not further than the one beside it leaves room for, nor over itself; nothing is changed then.
    const Model before = m;
    EXPECT_NE(move_corner(m, x2, 0, {6, 6.2}).find("would leave strip X3 no width"), std::string::npos);
    EXPECT_NE(move_corner(m, x2, 1, {6, 5}).find("no width"), std::string::npos);
    EXPECT_NE(move_corner(m, x2, 7, {6, 5}), "");
    EXPECT_NE(move_corner(m, {ThingKind::strip, "none"}, 0, {6, 5}), "");
    EXPECT_EQ(m, before);
}

TEST(EditStrips, AnEndDraggedMovesAlongItOnlyAndWhatFollowsGoesAlong) {
    Model m = three_strips();
    ASSERT_EQ(split_strip_across(m, "X1", 5), "");
    EXPECT_EQ(move_grip(m, "X1", 3, {7, 4}), "");
    EXPECT_EQ(of(m, "X1").axis[1], (Point{7, 1}));
    double ends_at = 0, starts_at = 0;
    for (const Strip& s : *m.steel.strips)
        if (s.id != "X1" && s.direction == Direction::x && s.axis[0].y == 1)
            starts_at = s.axis[0].x, ends_at = s.axis[1].x;
    EXPECT_NEAR(starts_at, 7, 1e-12);
    EXPECT_NEAR(ends_at, 12, 1e-12);
    EXPECT_NEAR(covered(m, Direction::x), 72, 1e-9);
    // One drawn the other way round is held by the same sides.
    Strip& x3 = *find_id(*m.steel.strips, std::string("X3"));
    std::swap(x3.axis[0], x3.axis[1]);
    EXPECT_EQ(move_grip(m, "X3", 0, {6, 4.5}), "");  // its left is to the south
    EXPECT_NEAR(of(m, "X3").reach[0], 0.5, 1e-12);
    EXPECT_NEAR(of(m, "X2").reach[0], 1.5, 1e-12);
}

TEST(EditStrips, StripsMadeOnesOwnAreStated) {
    Model m = three_strips();
    const std::vector<Strip> laid = *m.steel.strips;
    m.steel.strips.reset();
    own_strips(m, laid);
    for (const Strip& s : *m.steel.strips) EXPECT_TRUE(s.keys.count("reach") && s.keys.count("axis")) << s.id;
    const std::string id = draw_strip(m, strip("", {4, 2}, {8, 2}, 0.5, 1.5));
    EXPECT_TRUE(of(m, id).keys.count("reach"));
}

}  // namespace
}  // namespace mossbed
