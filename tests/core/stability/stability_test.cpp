// Sliding, overturning and flotation against sums by hand.
#include "core/stability/stability.h"

#include <gmock/gmock.h>

#include "core/arrange/placement.h"
#include "core/stability/hold_down.h"
#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

// A pad of 6 × 4 m, half a metre thick, with a column on a metre of pedestal: G presses, W pushes, turns and lifts.
Model pushed() {
    Model m = raft(box(0, 0, 6, 4), 0.5, 20000);
    m.columns = {column("C1", 2, 1)};
    m.columns[0].pedestal_height = 1;
    m.ground.friction_angle_base = 28, m.ground.adhesion_base = 4;
    load(m, {ColumnLoad{"C1", 500, 0, 0, 0, 0}, {}});
    LoadCase w;
    w.id = "W", w.action = Action::wind, w.items = {{ColumnLoad{"C1", -40, 0, 20, 60, -30}, {}}};
    m.loads.cases.push_back(w);
    Combination t;
    t.id = "T", t.purpose = Purpose::stability, t.factors = {{"G", 1.0}, {"W", 1.0}};
    m.loads.combinations->push_back(t);
    return m;
}
const Row* row_of(const Answer& a, const std::string& id, const std::string& item) {
    for (const Row& r : a.checks)
        if (r.id == id && r.item == item) return &r;
    return nullptr;
}

TEST(Overturning, AboutEachEdgeLoadByLoad) {
    const auto a = solve(pushed());
    const Row* r = row_of(*a, "overturning", "T");
    ASSERT_TRUE(r);
    // About x = 6: 500 · 4 hold; 40 · 4 of the pull, the moment of 20 and 60 · 1.5 turn. About y = 0: 500 · 1 hold;
    // 40 · 1 and 30 · 1.5 turn: the lesser.
    const double right = 500 * 4 / (40 * 4 + 20 + 60 * 1.5), low = 500 * 1 / (40 * 1 + 30 * 1.5);
    EXPECT_NEAR(*r->value, std::min(right, low), 1e-6);
    EXPECT_EQ(r->limit, 1.5);
    EXPECT_NEAR(*r->utilisation, 1.5 / *r->value, 1e-9);
    EXPECT_EQ(r->combination, "T");
    EXPECT_NEAR(r->at->y, 0, 1e-9);
    const std::vector<Turning> edges =
        turning_about(hull_of_base(*a->model), *a->model, a->case_loads, a->combinations[1].combination);
    ASSERT_EQ(edges.size(), 4u);
    for (const Turning& t : edges)
        if (std::abs(t.from.x - 6) < 1e-9 && std::abs(t.to.x - 6) < 1e-9) EXPECT_NEAR(t.factor(), right, 1e-6);
}

TEST(Overturning, TheSameBaseTurnedHasTheSameFactor) {
    Model m = pushed();
    const double straight = *row_of(*solve(m), "overturning", "T")->value;
    // Turned by 90°, so that forces and moments turn by exchange: x → y, y → −x.
    Model turned = m;
    for (Point& p : std::get<Polygon>(turned.slab.outline)) p = {-p.y, p.x};
    turned.columns[0].at = {-1, 2};
    turned.loads.cases[1].items = {{ColumnLoad{"C1", -40, -20, 0, 30, 60}, {}}};
    EXPECT_NEAR(*row_of(*solve(turned), "overturning", "T")->value, straight, 1e-9);
}

TEST(Overturning, TheSlantingEdgeOfAnLCounts) {
    Model m = raft({{0, 0}, {6, 0}, {6, 2}, {2, 2}, {2, 6}, {0, 6}}, 0.5, 20000);
    m.columns = {column("C1", 1, 1)};
    load(m, {ColumnLoad{"C1", 300, 0, 0, 50, 50}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::stability;
    const auto a = solve(m);
    const Row* r = row_of(*a, "overturning", "S");
    // The edge from (6, 2) to (2, 6) is 8/√2 − 2/√2 = 6/√2 m away; the push along it is 50 √2 at half a metre.
    EXPECT_NEAR(*r->value, 300 * 6 / std::sqrt(2) / (50 * std::sqrt(2) * 0.5), 1e-6);
}

// Clause: EN 1997-1 | 6.5.3(8) | sliding, drained: friction and adhesion of the base, characteristic
TEST(Sliding, FrictionAndAdhesionOverWhatPresses) {
    Model m = pushed();
    const auto a = solve(m);
    const Row* r = row_of(*a, "sliding", "T");
    ASSERT_TRUE(r);
    const double N = 460, H = std::hypot(60, 30), pressed = a->combinations[1].contact_ratio * 24;
    EXPECT_NEAR(*r->value, (N * std::tan(28 * M_PI / 180) + 4 * pressed) / H, 1e-6);
    EXPECT_EQ(row_of(*a, "sliding", "T undrained"), nullptr);  // no strength of the ground is known
    m.loads.combinations->back().safety = Safety::partial;
    EXPECT_EQ(row_of(*solve(m), "sliding", "T")->limit, 1.0);
}

// Clause: EN 1997-1 | 6.5.3(11)P, (12)P | sliding, undrained: c_u over the pressed area, no more than 0.4 of the force
TEST(Sliding, UndrainedByTheStratumBelow) {
    Model m = pushed();
    Stratum clay;
    clay.id = "clay", clay.cu = 20;
    m.ground.strata = {clay};
    Borehole b;
    b.id = "B", b.ground_level = 0, b.layers = {{"clay", -20, {}}};
    m.ground.boreholes = {b};
    m.slab.top_level = 0;
    const auto a = solve(m);
    const Row* r = row_of(*a, "sliding", "T undrained");
    ASSERT_TRUE(r);
    const double A = 24 * a->combinations[1].contact_ratio;
    EXPECT_NEAR(*r->value, std::min(20 * A, 0.4 * 460) / std::hypot(60, 30), 1e-6);
}

TEST(Stability, WithoutAStabilityCombinationOrAPushIsSaid) {
    Model m = pushed();
    m.loads.combinations->pop_back();
    auto a = solve(m);
    for (const char* id : {"sliding", "overturning"}) {
        const Row* r = row_of(*a, id, "");
        ASSERT_TRUE(r) << id;
        EXPECT_EQ(r->status, Status::not_checked);
        EXPECT_THAT(r->note, HasSubstr("no stability combination"));
    }
    m = pushed();
    m.loads.combinations->back().factors.erase("W");
    a = solve(m);
    EXPECT_EQ(row_of(*a, "sliding", "")->status, Status::pass);
    EXPECT_THAT(row_of(*a, "sliding", "")->note, HasSubstr("horizontal force"));
}

// 12 × 12 m, 0.6 m thick, 4.6 m below the water: 144 · 4.6 · 9.81 up, 144 · 0.6 · 25 and 2000 down.
Model basin() {
    Model m = raft(box(0, 0, 12, 12), 0.6, 5000);
    m.concretes[0].unit_weight = 25, m.slab.self_weight = true, m.slab.top_level = -5;
    m.ground.water_level = -1, m.ground.ground_level = 0;
    m.columns = {column("C1", 6, 6)};
    load(m, {ColumnLoad{"C1", 2000, 0, 0, 0, 0}, {}});
    LoadCase w;
    w.id = "W", w.action = Action::groundwater, w.items = {{Uplift{-1}, {}}};
    m.loads.cases.push_back(w);
    Combination t;
    t.id = "T", t.purpose = Purpose::stability, t.factors = {{"G", 1.0}, {"W", 1.0}};
    m.loads.combinations->push_back(t);
    return m;
}

TEST(Flotation, IsWorkedOutWhateverTheStatusAndSaysWhatWouldHoldIt) {
    const Model m = basin();
    const auto a = solve(m);
    const Row* r = row_of(*a, "flotation", "T");
    ASSERT_TRUE(r);
    const double up = 144 * 4.6 * 9.81, down = 144 * 0.6 * 25 + 2000;
    EXPECT_NEAR(*r->value, down / up, 1e-6);
    EXPECT_EQ(r->limit, 1.1);
    EXPECT_EQ(r->status, Status::over);
    EXPECT_TRUE(r->no_equilibrium);
    EXPECT_THAT(r->note, HasSubstr("lifts free"));
    EXPECT_EQ(&a->checks.front(), r);
    HoldDown hold(m);
    const HeldDown h = hold.so_that(m.loads.combinations->back(), 1.1);
    EXPECT_NEAR(h.ties, 1.1 * up - down, 1e-3);
    // Thickness grows downward into the water: 144 (25 t) + 2000 ≥ 1.1 · 144 · 9.81 (4 + t).
    ASSERT_TRUE(h.thickness.size);
    auto fails = [](double t) { return 144 * 25 * t + 2000 < 1.1 * 144 * 9.81 * (4 + t); };
    EXPECT_FALSE(fails(*h.thickness.size));
    EXPECT_TRUE(fails(*h.thickness.size - 0.05));
    // Overhang: five metres of soil at 18 kN/m³, no borehole knows better.
    ASSERT_TRUE(h.overhang.size);
    auto floats = [](double x) {
        const double A = std::pow(12 + 2 * x, 2);
        return A * 0.6 * 25 + 2000 + (A - 144) * 90 < 1.1 * A * 4.6 * 9.81;
    };
    EXPECT_FALSE(floats(*h.overhang.size));
    EXPECT_TRUE(floats(*h.overhang.size - 0.1));
    EXPECT_THAT(r->note, HasSubstr("kN of ties"));
}

TEST(Flotation, ForgottenWaterIsARowForEveryPurposeThatLeavesItOut) {
    Model m = basin();
    m.loads.cases[0].items.push_back({SlabLoad{80}, {}});  // heavy enough to stay
    m.loads.combinations->front().factors["W"] = 1;
    auto water = [](const Answer& a) { return row_of(a, "model", "water"); };
    EXPECT_EQ(water(*solve(m)), nullptr);
    Combination u;
    u.id = "U", u.purpose = Purpose::strength, u.factors = {{"G", 1.35}};
    m.loads.combinations->push_back(u);
    auto a = solve(m);
    ASSERT_TRUE(water(*a));
    EXPECT_EQ(water(*a)->status, Status::not_checked);
    EXPECT_THAT(water(*a)->note, HasSubstr("strength"));
    Combination wet = u;
    wet.id = "UW", wet.factors["W"] = 1.35;
    m.loads.combinations->push_back(wet);
    a = solve(m);
    EXPECT_EQ(water(*a), nullptr);
    ASSERT_TRUE(row_of(*a, "model", "low water"));
    EXPECT_EQ(row_of(*a, "model", "low water")->status, Status::pass);
    EXPECT_THAT(row_of(*a, "model", "low water")->note, HasSubstr("1 of 4"));
}

}  // namespace
}  // namespace mossbed::testing
