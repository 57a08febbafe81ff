// Strips as they are laid out: lines gathered where they stand, single lines, names, turned bars; and what the band of
// a single line is designed for.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include "tests/core/judge/pad.h"

namespace mossbed::testing {
namespace {

using ::testing::ElementsAre;

std::vector<std::string> ids_of(const std::vector<StripAnswer>& strips, Direction d) {
    std::vector<std::string> out;
    for (const StripAnswer& s : strips)
        if (s.strip.direction == d) out.push_back(s.strip.id);
    return out;
}
const StripAnswer& named(const std::vector<StripAnswer>& strips, const std::string& id) {
    for (const StripAnswer& s : strips)
        if (s.strip.id == id) return s;
    throw std::runtime_error("no strip " + id);
}
double width(const StripAnswer& s) { return s.strip.reach[0] + s.strip.reach[1]; }
double length_of(const StripAnswer& s) { return distance(s.strip.axis[0], s.strip.axis[1]); }

Model grid(Polygon outline, const std::vector<double>& xs, const std::vector<double>& ys) {
    Model m = designed_raft(std::move(outline));
    for (double x : xs)
        for (double y : ys) m.columns.push_back(column(fmt::format("C{}", m.columns.size() + 1), x, y));
    return m;
}
// Each place of the slab lies in one strip of each direction.
void covers_once(const Model& m, const std::vector<StripAnswer>& strips) {
    const Polygon rim = outer_rim(m.slab.outline, 0.25);
    const Box b = box_of(rim);
    for (Direction d : {Direction::x, Direction::y})
        for (double x = b.low.x + 0.137; x < b.high.x; x += 0.61)
            for (double y = b.low.y + 0.171; y < b.high.y; y += 0.57) {
                if (!contains(rim, {x, y})) continue;
                int n = 0;
                for (const StripAnswer& s : strips) {
                    const Point u = unit(s.strip.axis[1] - s.strip.axis[0]), r = Point{x, y} - s.strip.axis[0];
                    const double t = dot(r, u), off = cross(u, r);
                    n += s.strip.direction == d && t >= 0 && t < length_of(s) && off <= s.strip.reach[0] &&
                         off > -s.strip.reach[1];
                }
                ASSERT_EQ(n, 1) << x << ", " << y << " along " << name_of(d);
            }
}

TEST(StripLayout, AColumnOffTheGridLaysOutStripsOnlyNearIt) {
    Model m = grid(box(0, 0, 30, 12), {3, 9, 15, 21, 27}, {0.5, 6, 11.5});
    const auto regular = lay_out_strips(m, band_of(2));
    m.columns.push_back(column("stray", 12, 3.2));
    const auto strips = lay_out_strips(m, band_of(2));
    // Along x the bands far from it are as they were, on both sides of a stretch of some six metres.
    const auto before = ids_of(regular, Direction::x), after = ids_of(strips, Direction::x);
    EXPECT_THAT(before, ElementsAre("X1", "X1-2", "X2", "X2-3", "X3"));
    double stretch = 0;
    for (const StripAnswer& s : strips)
        if (s.strip.direction == Direction::x && s.column_band && std::abs(s.strip.axis[0].y - 3.2) < 1e-9)
            stretch = length_of(s);
    EXPECT_NEAR(stretch, 6, 0.2);
    const StripAnswer& first = named(strips, after.front());
    EXPECT_EQ(first.strip.reach, named(regular, "X1").strip.reach);
    EXPECT_NEAR(first.strip.axis[1].x, 9, 0.2);
    covers_once(m, regular);
    covers_once(m, strips);
}

TEST(StripLayout, WingsWithGridsOfTheirOwnKeepThem) {
    // Lines at 0.5, 6, 11.5 to the left, at 2, 8 to the right: 2 and 0.5 are too near for both to run through.
    Model m = grid(box(0, 0, 36, 12), {3, 9, 15}, {0.5, 6, 11.5});
    for (double x : {21.0, 27.0, 33.0})
        for (double y : {3.2, 8.8}) m.columns.push_back(column(fmt::format("D{}", m.columns.size()), x, y));
    const auto strips = lay_out_strips(m, band_of(2));
    covers_once(m, strips);
    for (const StripAnswer& s : strips) {
        if (s.strip.direction != Direction::x || !s.column_band) continue;
        const double y = s.strip.axis[0].y;
        const bool of_left = std::abs(y - 0.5) < 0.1 || std::abs(y - 6) < 0.1 || std::abs(y - 11.5) < 0.1;
        if (of_left)
            EXPECT_NEAR(s.strip.axis[1].x, 18, 0.1) << s.strip.id;
        else
            EXPECT_NEAR(s.strip.axis[0].x, 18, 0.1) << s.strip.id;
    }
}

TEST(StripLayout, ASingleLineHasABandAndAStripOnEitherSide) {
    Model m = grid(box(0, 0, 18, 8), {3, 9, 15}, {4});
    const auto strips = lay_out_strips(m, band_of(1.9));
    EXPECT_THAT(ids_of(strips, Direction::x), ElementsAre("X1-low", "X1", "X1-high"));
    const StripAnswer& band = named(strips, "X1");
    EXPECT_NEAR(width(band), 1.9, 1e-9);
    EXPECT_TRUE(band.is_band_of_line());
    EXPECT_NEAR(band.line[0] + band.line[1], 8, 1e-9);
    EXPECT_NEAR(band.panel[0] + band.panel[1], 8, 1e-9);  // one-way shear of the whole
    EXPECT_FALSE(named(strips, "X1-low").is_band_of_line());
    EXPECT_EQ(ids_of(strips, Direction::y).size(), 5u);
    covers_once(m, strips);
    const auto narrow = lay_out_strips(grid(box(0, 3, 18, 5), {3, 9, 15}, {4}), band_of(1.98));
    EXPECT_THAT(ids_of(narrow, Direction::x), ElementsAre("X1"));
    EXPECT_FALSE(named(narrow, "X1").is_band_of_line());
}

TEST(StripLayout, AWideOverhangIsAStripOfItsOwn) {
    const Model m = grid(box(0, 0, 18, 20), {3, 9, 15}, {7, 13});
    const auto strips = lay_out_strips(m, band_of(2));
    EXPECT_THAT(ids_of(strips, Direction::x), ElementsAre("X1-rim", "X1", "X1-2", "X2", "X2-rim"));
    for (const StripAnswer& s : strips) EXPECT_LT(width(s), 6) << s.strip.id;
    covers_once(m, strips);
}

TEST(StripLayout, TheyAreNamedAfterTheSettingOutLinesTheyLieOn) {
    Model m = grid(box(0, 0, 18, 12), {3, 9, 15}, {0.5, 6, 11.5});
    SettingOutLine l;
    l.id = "axis B", l.path = {{-1, 6.1}, {19, 6.1}};
    m.setting_out = {l};
    l.id = "7", l.path = {{9, 0}, {9, 20}};
    m.setting_out.push_back(l);
    const auto strips = lay_out_strips(m, band_of(2));
    EXPECT_THAT(ids_of(strips, Direction::x), ElementsAre("X1", "X1-axis B", "axis B", "axis B-X3", "X3"));
    EXPECT_THAT(ids_of(strips, Direction::y), ElementsAre("Y1", "Y1-7", "7", "7-Y3", "Y3"));
}

TEST(StripLayout, FollowsTheBarsWhenTheyAreTurned) {
    Model m = grid(box(0, 0, 18, 12), {3, 9, 15}, {0.5, 6, 11.5});
    const auto straight = lay_out_strips(m, band_of(2));
    Model askew = m;
    for (Point& p : *std::get_if<Polygon>(&askew.slab.outline)) p = turned(p, 30);
    for (Column& c : askew.columns) c.at = turned(c.at, 30), c.angle = 30;
    askew.steel.angle = 30;
    const auto strips = lay_out_strips(askew, band_of(2));
    ASSERT_EQ(strips.size(), straight.size());
    for (size_t k = 0; k < strips.size(); ++k) {
        EXPECT_EQ(strips[k].strip.id, straight[k].strip.id);
        for (size_t i : {0u, 1u}) {
            EXPECT_NEAR(distance(strips[k].strip.axis[i], turned(straight[k].strip.axis[i], 30)), 0, 1e-9);
            EXPECT_NEAR(strips[k].strip.reach[i], straight[k].strip.reach[i], 1e-9);
        }
    }
    covers_once(askew, strips);
}

// An L with columns on a grid, loads of different sizes and extra bars; straight, and turned with its bars.
Model l_shape(double turn) {
    Model m = designed_raft({{0, 0}, {18, 0}, {18, 6}, {8, 6}, {8, 14}, {0, 14}}, 0.5);
    m.steel.bottom_x = {20, 125}, m.steel.bottom_y = {16, 150};
    m.mesh_size = 0.4;
    double N = 500;
    for (Point at : {Point{1, 1}, {7, 1}, {17, 1}, {1, 5}, {7, 5}, {12, 3}, {17, 5}, {1, 13}, {7, 13}, {4, 9}}) {
        const std::string id = fmt::format("C{}", m.columns.size() + 1);
        Column c = column(id, at.x, at.y);
        c.angle = turn;
        m.columns.push_back(c);
        load(m, {ColumnLoad{id, N += 60, 0, 0, 0, 0}, {}});
    }
    m.steel.extra = {{"E", box(2, 7, 7, 11), Face::bottom, Direction::x, 20, 200, {}}};
    for (Point& p : *std::get_if<Polygon>(&m.slab.outline)) p = turned(p, turn);
    for (Column& c : m.columns) c.at = turned(c.at, turn);
    for (Point& p : m.steel.extra[0].outline) p = turned(p, turn);
    m.steel.angle = turn;
    return m;
}
TEST(StripLayout, TurnedWithItsBarsAnLNeedsTheSameSteel) {
    const auto a = solve(l_shape(0)), b = solve(l_shape(30));
    auto use = [](const Answer& of, const std::string& item) {
        for (const Row& r : of.checks)
            if (r.id == "bending" && r.item == item) return r.utilisation.value_or(-1);
        return -2.0;
    };
    int n = 0;
    for (const Row& r : a->checks)
        if (r.id == "bending" && r.utilisation && *r.utilisation > 0.2) {
            EXPECT_NEAR(use(*b, r.item), *r.utilisation, 0.03 * *r.utilisation) << r.item;
            ++n;
        }
    EXPECT_GT(n, 6);
    EXPECT_NEAR(a->steel.steel_kg, b->steel.steel_kg, 0.002 * a->steel.steel_kg);
}

TEST(StripLayout, AMirroredSlabHasTheMirroredStrips) {
    // Two columns near one line, one beside it, one in another row: which of them stand beside each other says the
    // usual spacing, seen from either side.
    Model m = designed_raft(box(0, 0, 12.2, 10.5));
    m.columns = {column("C1", 1.8, 2.6), column("C2", 2.0, 7.8), column("C3", 6.1, 7.8), column("C4", 10.2, 2.6)};
    auto edges = [](const Model& of, bool mirrored) {
        std::vector<double> out;
        for (const StripAnswer& s : lay_out_strips(of, band_of(2)))
            if (s.strip.direction == Direction::y)
                for (double x : {s.strip.axis[0].x - s.strip.reach[0], s.strip.axis[0].x + s.strip.reach[1]})
                    out.push_back(mirrored ? 12.2 - x : x);
        std::sort(out.begin(), out.end());
        return out;
    };
    const auto before = edges(m, false);
    for (Column& c : m.columns) c.at.x = 12.2 - c.at.x;
    const auto after = edges(m, true);
    ASSERT_EQ(before.size(), after.size());
    for (size_t k = 0; k < before.size(); ++k) EXPECT_NEAR(before[k], after[k], 1e-9);
}

TEST(StripLayout, ColumnsThatStandRoundGetEqualStripsNoWiderThanABand) {
    // Twelve on a ring: lines through them would leave strips of half a metre.
    Model m = raft(box(0, 0, 1, 1), 0.6, 20000);
    m.slab.outline = Ring{{0, 0}, 6, 10};
    for (int i = 0; i < 12; ++i)
        m.columns.push_back(column(fmt::format("C{}", i), 8 * std::cos(M_PI * i / 6), 8 * std::sin(M_PI * i / 6)));
    const BandRule band{[](const Column&, double c) { return c + 3 * 0.53; }, 2.0 / 3};
    auto strips = lay_out_strips(m, band);
    ASSERT_EQ(strips.size(), 20u);  // half of 8 π/6 is 2.09 m, so ten of 2 m each way
    for (const StripAnswer& s : strips) {
        EXPECT_NEAR(s.strip.reach[0] + s.strip.reach[1], 2, 0.02);
        EXPECT_FALSE(s.column_band);
    }
    EXPECT_NEAR(uncovered_area(m, strips, Direction::x), 0, 1e-9);
    EXPECT_NEAR(uncovered_area(m, strips, Direction::y), 0, 1e-9);
    // One in the middle: a strip lies over it.
    m.columns.push_back(column("M", 0, 0));
    strips = lay_out_strips(m, band);
    EXPECT_EQ(std::count_if(strips.begin(), strips.end(),
                            [](const StripAnswer& s) {
                                return s.strip.direction == Direction::x && std::abs(s.strip.axis[0].y) < 0.01;
                            }),
              1);
    // A grid is none, whatever the rim.
    m.columns.clear();
    for (int i = 0; i < 16; ++i)
        m.columns.push_back(column(fmt::format("C{}", i), -6 + 4.0 * (i % 4), -6 + 4.0 * (i / 4)));
    m.slab.outline = Circle{{0, 0}, 10};
    strips = lay_out_strips(m, band);
    EXPECT_TRUE(std::any_of(strips.begin(), strips.end(), [](const StripAnswer& s) { return s.column_band; }));
}

TEST(StripLayout, BarsAskewToTheSidesAreTold) {
    auto told = [](const Model& m) -> std::optional<Row> {
        const auto a = solve(m);
        for (const Row& r : a->checks)
            if (r.id == "model" && r.item == "bars askew") return r;
        return std::nullopt;
    };
    Model m = l_shape(30);
    EXPECT_FALSE(told(m));
    m.steel.angle = 0;
    ASSERT_TRUE(told(m));
    EXPECT_THAT(told(m)->note, ::testing::HasSubstr("at 30.0°"));
    EXPECT_EQ(told(m)->status, Status::not_checked);
    m.steel.angle = -60;  // along the other sides
    EXPECT_FALSE(told(m));
    m.slab.outline = Circle{{0, 0}, 20};
    EXPECT_FALSE(told(m));
}

// A single column on a stiff pad: the whole asks for M = p B l²/2 at the face; its band takes two thirds at least.
TEST(BandOfALine, TakesTwoThirdsAtLeastAndSaysSo) {
    Model m = pad_model();
    m.steel.twisting = false;
    m.steel.strips.reset();
    const auto a = solve(m);
    auto at_face = [&](const std::string& id) -> const SectionRow& {
        for (const SectionRow& r : named(a->steel.strips, id).sections)
            if (std::abs(r.s - 1.75) < 1e-6) return r;
        throw std::runtime_error("no section");
    };
    const double whole = 185.625 * 4 * 1.75 * 1.75 / 2;
    EXPECT_NEAR(at_face("X1").M + at_face("X1-low").M + at_face("X1-high").M, whole, 0.003 * whole);
    EXPECT_NEAR(width(named(a->steel.strips, "X1")), 0.5 + 3 * 0.63, 1e-9);  // d: mean of both layers
    EXPECT_NEAR(at_face("X1").M_design_bottom, std::max(at_face("X1").M, 2 * whole / 3), 0.003 * whole);
    EXPECT_NEAR(at_face("X1-low").M_design_bottom, at_face("X1-low").M, 1e-9);
    for (const Row& r : a->checks)
        if (r.id == "bending" && r.item == "X1 bottom") {
            std::string working;
            for (const Term& t : r.working) working += t.text + "|" + t.symbol + "|" + t.formula + "\n";
            EXPECT_THAT(working, ::testing::HasSubstr("M_line"));
            EXPECT_THAT(working, ::testing::HasSubstr("c + 3d"));
            return;
        }
    FAIL() << "no row of the band";
}
TEST(BandOfALine, AMeanThatWouldPassDoesNotWhereTheColumnConcentratesIt) {
    Model m = designed_raft(box(0, 0, 10, 10), 0.6);
    m.ground.modulus = 2000;
    m.columns = {column("A", 5, 5, 0.4)};
    load(m, {ColumnLoad{"A", 2000, 0, 0, 0, 0}, {}});
    m.steel.bottom_x = m.steel.bottom_y = {20, 155};
    auto worst = [](const Model& of) {
        const auto a = solve(of);
        double most = 0;
        for (const Row& r : a->checks)
            if (r.id == "bending" && r.item.ends_with("bottom")) most = std::max(most, r.utilisation.value_or(0));
        return most;
    };
    const double band = worst(m);
    m.steel.strips = std::vector<Strip>{{"X1", Direction::x, {Point{0, 5}, Point{10, 5}}, {5, 5}, {}},
                                        {"Y1", Direction::y, {Point{5, 0}, Point{5, 10}}, {5, 5}, {}}};
    const double mean = worst(m);
    EXPECT_GT(band, 1);
    EXPECT_LT(mean, 0.6);
    // 2/3 of the line in c + 3d = 1.99 of 10 m: 3.35 times the mean, less what twisting adds to the mean
    EXPECT_GT(band, 2.5 * mean);
    EXPECT_LT(band, 3.6 * mean);
}

}  // namespace
}  // namespace mossbed::testing
