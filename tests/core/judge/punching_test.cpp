// Punching of whole models: what comes down less what pushes back, by other roads; turned, mirrored, at rims, at steps,
// along walls; and what is refused.
#include <gmock/gmock.h>

#include <numbers>
#include <random>

#include "tests/core/judge/pad.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;
constexpr double pi = std::numbers::pi;

const PunchingAnswer& of(const Answer& a, const std::string& id) {
    for (const PunchingAnswer& p : a.punching)
        if (p.id == id) return p;
    throw std::runtime_error("no punching of " + id);
}
Row row_of(const Answer& a, const std::string& item) {
    for (const Row& r : a.checks)
        if (r.id == "punching" && r.item == item) return r;
    Row none;
    none.title = "no such row";
    return none;
}
// Ground pressure over an outline, kN, by a raster.
double ground_inside(const Answer& a, const Polygon& outline) {
    const Box b = box_of(outline);
    const double step = 0.01;
    double sum = 0;
    for (double x = b.low.x + step / 2; x < b.high.x; x += step)
        for (double y = b.low.y + step / 2; y < b.high.y; y += step) {
            if (!contains(outline, {x, y})) continue;
            const Finder::Hit h = a.finder.at({x, y});
            if (h.element < 0) continue;
            const auto& e = a.mesh.elements[size_t(h.element)];
            for (int k = 0; k < corners(e); ++k)
                sum += step * step * h.weight[size_t(k)] * only(a).spring[size_t(e[size_t(k)])];
        }
    return sum;
}

// Columns of all sorts: inside, at rims, at a corner, turned, round, on a thick patch, two near each other.
Model assorted() {
    Model m = designed_raft(box(0, 0, 14, 10));
    m.columns = {column("in", 7, 5),          column("rim", 7, 0.3),       column("back", 0.6, 5, 0.4),
                 column("corner", 13.6, 9.6), column("turned", 3, 3, 0.6), column("round", 10.5, 3, 0.5),
                 column("P", 2.6, 8, 0.4),    column("Q", 3.5, 8, 0.4),    column("thick", 11, 6.4, 0.4)};
    m.columns[4].size = {0.6, 0.3}, m.columns[4].angle = 30;
    m.columns[5].shape = ColumnShape::circle, m.columns[5].size = {0.5};
    m.slab.patches.push_back({"T1", box(10, 5.4, 12, 7.4), 0.9, Flush::top, "", {}});
    double N = 700;
    for (const Column& c : m.columns) load(m, {ColumnLoad{c.id, N += 40, 30, -45, 0, 0}, {}});
    return m;
}

TEST(Punching, TheForceOnAPerimeterIsThatOfTheColumnLessWhatTheGroundPushesBackInside) {
    const auto a = solve(assorted());
    ASSERT_GE(a->punching.size(), 10u);  // with the pair
    for (const PunchingAnswer& p : a->punching) {
        const double inside = ground_inside(*a, p.outline);
        EXPECT_NEAR(p.V_net, p.V - inside, 0.005 * p.V) << p.id;
        EXPECT_NEAR(p.V_net, p.V - p.relief, 1e-9) << p.id;
    }
    EXPECT_EQ(of(*a, "in").position, "interior");
    EXPECT_EQ(of(*a, "rim").position, "edge");
    EXPECT_EQ(of(*a, "back").position, "edge");
    EXPECT_EQ(of(*a, "corner").position, "corner");
    EXPECT_NEAR(of(*a, "P+Q").V, of(*a, "P").V + of(*a, "Q").V, 1e-9);
    EXPECT_THAT(row_of(*a, "rim").note, HasSubstr("open to the rim"));
}

TEST(Punching, TurnedAndMirroredModelsGiveTheSame) {
    const Model m = assorted();
    const auto straight = solve(m);
    Model mirrored = m, askew = m;
    auto each_point = [](Model& of, auto move) {
        for (Point& p : *std::get_if<Polygon>(&of.slab.outline)) p = move(p);
        for (SlabPatch& t : of.slab.patches)
            for (Point& p : t.outline) p = move(p);
        for (Column& c : of.columns) c.at = move(c.at);
    };
    each_point(mirrored, [](Point p) { return Point{14 - p.x, p.y}; });
    for (Column& c : mirrored.columns) c.angle = -c.angle;
    std::reverse(std::get_if<Polygon>(&mirrored.slab.outline)->begin(),
                 std::get_if<Polygon>(&mirrored.slab.outline)->end());
    for (SlabPatch& t : mirrored.slab.patches) std::reverse(t.outline.begin(), t.outline.end());
    for (LoadItem& i : mirrored.loads.cases[0].items) std::get_if<ColumnLoad>(&i.load)->My *= -1;
    const double turn = 27;
    each_point(askew, [&](Point p) { return turned(p, turn); });
    for (Column& c : askew.columns) c.angle += turn;
    for (LoadItem& i : askew.loads.cases[0].items) {
        auto* l = std::get_if<ColumnLoad>(&i.load);
        const Point M = turned({l->Mx, l->My}, turn);
        l->Mx = M.x, l->My = M.y;
    }
    const auto b = solve(mirrored), c = solve(askew);
    for (const PunchingAnswer& p : straight->punching) {
        EXPECT_NEAR(of(*b, p.id).utilisation, p.utilisation, 0.005 * p.utilisation) << p.id;
        EXPECT_NEAR(of(*c, p.id).utilisation, p.utilisation, 0.01 * p.utilisation) << p.id;
        EXPECT_EQ(of(*c, p.id).position, p.position) << p.id;
    }
}

// Clause: EN 1992-1-1 | 6.4.2(4), Figure 6.15
TEST(Punching, AnEdgeColumnByHand) {
    // Flush with the rim of a stiff slab: c1 = 0.4 towards it, c2 = 0.6 along it.
    Model m = designed_raft(box(0, 0, 8, 8), 0.6);
    m.concretes[0].E = 1e6;
    Column c = column("E", 0.2, 4);
    c.size = {0.4, 0.6};
    m.columns = {c, column("F", 7.8, 4)};
    load(m, {ColumnLoad{"E", 900, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"F", 900, 0, 0, 0, 0}, {}});
    const auto a = solve(m);
    const double pressure = 1800.0 / 64, d = 0.53, rho = 400 * pi / 4 / 0.15 / 1000 / 530;
    const double v_c = 0.12 * (1 + std::sqrt(200 / 530.0)) * std::cbrt(100 * rho * 30);
    double worst = 0;
    for (int i = 1; i <= 40; ++i) {
        const double x = 2 * d * i / 40, u = 0.6 + 0.8 + pi * x, reduced = 0.6 + 2 * 0.2 + pi * x;
        const double area = 0.4 * (0.6 + 2 * x) + 0.6 * x + pi * x * x / 2, V = 900 - pressure * area;
        const double beta = u / reduced;  // the ground is even, the column brings no moment: (6.44)
        worst = std::max(worst, beta * V / (u * d) / 1000 / (v_c * 2 * d / x));
    }
    EXPECT_EQ(of(*a, "E").position, "edge");
    EXPECT_NEAR(of(*a, "E").utilisation, worst, 0.02 * worst);
}

TEST(Punching, AWallsEndCarriesWhatStandsOnIt) {
    Model m = designed_raft(box(0, 0, 12, 8), 0.5);
    Wall w;
    w.id = "W1", w.path = {{2, 4}, {10, 4}}, w.thickness = 0.3, w.stiffens = false;
    m.walls = {w};
    load(m, {WallLoad{"W1", 200}, {}});
    const auto even = solve(m);
    EXPECT_THAT(row_of(*even, "W1").note, HasSubstr("whole"));
    EXPECT_NEAR(of(*even, "W1").V, 1600, 20);  // an even load: the wall as a whole
    load(m, {LineLoad{{{2, 4}, {2.6, 4}}, {900, 900}}, {}});
    const auto heavy = solve(m);
    const PunchingAnswer& p = of(*heavy, "W1");
    EXPECT_EQ(p.position, "wall-end");
    EXPECT_NEAR(p.V, 1100 * 0.3, 40);  // its end of 2b/2
    EXPECT_NEAR(*p.beta, 1.35, 1e-12);
    EXPECT_THAT(row_of(*heavy, "W1").note, HasSubstr("(2.00, 4.00)"));
}

TEST(Punching, AWallThatStiffensPressesWithItsEnds) {
    // On a slab that bends under an even load in the middle, a stiff wall hands its load to its ends.
    Model m = designed_raft(box(0, 0, 12, 8), 0.4);
    Wall w;
    w.id = "W1", w.path = {{2, 4}, {10, 4}}, w.thickness = 0.3, w.height = 4;
    m.walls = {w};
    load(m, {WallLoad{"W1", 300}, {}});
    load(m, {SlabLoad{1}, {}});
    const auto stiff = solve(m);
    m.walls[0].stiffens = false;
    const auto soft = solve(m);
    EXPECT_NEAR(of(*stiff, "W1").V + 0, of(*stiff, "W1").V, 0);
    EXPECT_NEAR(of(*soft, "W1").V, 2400, 30);
    EXPECT_EQ(of(*stiff, "W1").position, "wall-end");
    EXPECT_GT(of(*stiff, "W1").V, 1.3 * 300 * 0.3);  // more than what stands on 0.3 m of it
}

TEST(Punching, WallsOfACoreAreCheckedAtEndsCornersAndAsOne) {
    Model m = designed_raft(box(0, 0, 12, 10), 0.5);
    auto wall = [](const char* id, std::vector<Point> path) {
        Wall w;
        w.id = id, w.path = std::move(path), w.thickness = 0.25, w.stiffens = false;
        return w;
    };
    m.walls = {wall("A", {{4, 3}, {4, 6}}), wall("B", {{4, 6}, {8, 6}}), wall("C", {{8, 6}, {8, 3}})};
    for (const char* id : {"A", "B", "C"}) load(m, {WallLoad{id, 200}, {}});
    const auto a = solve(m);
    EXPECT_THAT(row_of(*a, "A").note, HasSubstr("corner at (4.00, 6.00)"));
    EXPECT_EQ(of(*a, "A").position, "wall-corner");
    EXPECT_THAT(row_of(*a, "B").note, HasSubstr("corner at (8.00, 6.00)"));  // the other stands with A
    EXPECT_NEAR(of(*a, "A+B+C").V, 2000, 20);
}

TEST(Punching, WhatCarriesNothingOrCannotBeJudgedSaysWhy) {
    Model m = designed_raft(box(0, 0, 10, 10));
    m.columns = {column("half", 0, 5), column("fits", 5, 5, 0.4), column("hole", 8, 8, 0.4),
                 column("large", 2, 2, 1.0)};
    for (const Column& c : m.columns) load(m, {ColumnLoad{c.id, 300, 0, 0, 0, 0}, {}});
    Opening o;
    o.id = "O", o.outline = box(8.1, 7.5, 8.6, 8.5);
    m.slab.openings = {o};
    m.slab.patches.push_back({"T1", box(1.7, 1.7, 2.3, 2.3), 0.9, Flush::top, "", {}});
    const auto a = solve(m);
    for (const char* id : {"half", "hole", "large"}) EXPECT_EQ(row_of(*a, id).status, Status::not_checked) << id;
    EXPECT_THAT(row_of(*a, "half").note, HasSubstr("over the slab's rim"));
    EXPECT_THAT(row_of(*a, "hole").note, HasSubstr("opening lies under"));
    EXPECT_THAT(row_of(*a, "large").note, HasSubstr("make the patch larger"));
    EXPECT_EQ(row_of(*a, "fits").status, Status::pass);
    // Covers that cannot be meant: nought, more than half of the slab.
    for (auto [cover, words] : {std::pair{0.0, "nought"}, {330.0, "more than half"}}) {
        Model odd = m;
        odd.steel.cover_bottom = cover;
        const Row r = row_of(*solve(odd), "fits");
        EXPECT_EQ(r.status, Status::not_checked) << cover;
        EXPECT_THAT(r.note, HasSubstr(words));
    }
    // A column on a deep rib is carried by it.
    Rib r;
    r.id = "R", r.path = {{0, 5}, {10, 5}}, r.width = 0.5, r.depth = 1.2;
    m.ribs = {r};
    EXPECT_THAT(row_of(*solve(m), "fits").note, HasSubstr("rib R"));
}

TEST(Punching, AStepCrossedByPerimetersCountsWithTheThinnerSlab) {
    Model m = designed_raft(box(0, 0, 10, 10), 0.8);
    m.concretes[0].E = 1e6, m.ground.modulus = 100;  // the ground's pressure stays as even
    m.columns = {column("A", 5, 5, 0.4)};
    load(m, {ColumnLoad{"A", 1500, 0, 0, 0, 0}, {}});
    const double even = of(*solve(m), "A").utilisation;
    // A narrow recess near by leaves no room for a flat crack: it bears as before. Then half the slab is thin.
    m.slab.patches.push_back({"T", box(5.6, 0, 5.9, 10), 0.4, Flush::top, "", {}});
    EXPECT_NEAR(of(*solve(m), "A").utilisation, even, 0.01 * even);
    m.slab.patches[0].outline = box(5.6, 0, 10, 10);
    const double half = of(*solve(m), "A").utilisation;
    EXPECT_GT(half, 1.02 * even);
    m.slab.thickness = 0.4, m.slab.patches.clear();
    EXPECT_LT(half, of(*solve(m), "A").utilisation);
}

TEST(Punching, OnRandomRaftsForcesBalanceAndNoFactorRunsAway) {
    std::mt19937 random(11);
    auto in = [&](double low, double high) { return std::uniform_real_distribution<double>(low, high)(random); };
    int edges = 0, corners = 0, judged = 0;
    for (int n = 0; n < 60; ++n) {
        const double w = in(5, 13), h = in(5, 11), t = in(0.4, 0.9);
        Polygon rim = box(0, 0, w, h);
        if (n % 3 == 1) rim = {{0, 0}, {w, 0}, {w, h / 2}, {w / 2, h / 2}, {w / 2, h}, {0, h}};
        if (n % 3 == 2) rim = {{0, 0}, {w, 0}, {w * 0.7, h}, {w * 0.1, h * 0.9}};
        Model m = designed_raft(rim, t);
        m.mesh_size = 0.7;
        for (int k = 0; k < 5; ++k) {
            Column c = column("C" + std::to_string(k), in(0.4, w - 0.4), in(0.4, h - 0.4), in(0.2, 0.7));
            c.size[1] *= in(0.5, 1.5), c.angle = k % 2 ? in(0, 90) : 0;
            const Polygon f = footprint(c);
            if (!std::all_of(f.begin(), f.end(), [&](Point q) { return contains(rim, q); })) continue;
            if (std::any_of(m.columns.begin(), m.columns.end(),
                            [&](const Column& o) { return distance(o.at, c.at) < 1.2; }))
                continue;
            m.columns.push_back(c);
            load(m, {ColumnLoad{c.id, in(200, 1500), in(-60, 60), in(-60, 60), 0, 0}, {}});
        }
        if (m.columns.empty()) continue;
        const auto a = solve(m);
        for (const PunchingAnswer& p : a->punching) {
            ++judged;
            edges += p.position == "edge", corners += p.position == "corner";
            EXPECT_TRUE(std::isfinite(p.utilisation) && p.utilisation > 0) << n << " " << p.id;
            EXPECT_NEAR(p.V_net, p.V - p.relief, 1e-9);
            if (p.id.find('+') != std::string::npos) continue;  // groups may have others inside
            if (p.V_net > 0.3 * p.V) {
                EXPECT_LT(*p.beta, 4) << n << " " << p.id;
            }
            if (std::any_of(m.columns.begin(), m.columns.end(), [&](const Column& c) {
                    return c.id != p.id && contains(p.outline, c.at);  // between it and the rim
                }))
                continue;
            const double inside = ground_inside(*a, p.outline);
            EXPECT_NEAR(p.relief, inside, 0.01 * p.V) << n << " " << p.id;
        }
    }
    EXPECT_GT(judged, 150);
    EXPECT_GT(edges, 20);
    EXPECT_GT(corners, 5);
}

TEST(Punching, AHeavyPointIsPunchedAsAColumnOfNoSize) {
    Model m = designed_raft(box(0, 0, 10, 10));
    m.concretes[0].E = 1e6;
    load(m, {PointLoad{{5, 5}, 900, 0, 0}, {}});
    const auto a = solve(m);
    const PunchingAnswer& p = of(*a, "G item 1");
    const double r = p.perimeter / (2 * pi);
    EXPECT_NEAR(p.V, 900, 1e-9);
    EXPECT_NEAR(p.relief, ground_inside(*a, round_polygon({5, 5}, r, 64)), 0.01 * p.relief);
    EXPECT_FALSE(p.face);
    EXPECT_THAT(row_of(*a, "G item 1").note, HasSubstr("stands on"));
}

}  // namespace
}  // namespace mossbed::testing
