// What is held against the allowable pressure, and what the yield pressure does.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <random>

#include "core/fields/moving_mean.h"
#include "core/judge/checks.h"
#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

Row bearing(const Answer& a) {
    for (const Row& r : a.checks)
        if (r.id == "bearing") return r;
    return {};
}

void on_clay(Model& m, double ground = 0) {
    Stratum clay;
    clay.id = "clay", clay.unit_weight = clay.saturated_unit_weight = 19, clay.E = 8;
    m.ground.strata = {clay};
    Borehole b;
    b.id = "B", b.ground_level = ground, b.layers = {{"clay", -20, {}}};
    m.ground.boreholes = {b};
}

TEST(Bearing, OnLayersTwoHeavyColumnsAreNotSpreadOverTheWholeBase) {
    Model m = raft(box(0, 0, 30, 10), 0.4, 5000);
    on_clay(m);
    m.ground.model = GroundModel::coupled, m.ground.excavation_relief = false, m.ground.allowable_pressure = 45;
    for (double x : {2.0, 8.0, 15.0, 22.0, 28.0})
        for (double y : {2.0, 8.0}) {
            const std::string id = "C" + std::to_string(m.columns.size());
            m.columns.push_back(column(id, x, y));
            load(m, {ColumnLoad{id, x == 15 ? 2000.0 : 300.0, 0, 0, 0, 0}, {}});
        }
    const auto a = solve(m);
    const CombinationAnswer& c = only(*a);
    const Row r = bearing(*a);
    const double all = c.ground_reaction.Fz / 300;
    EXPECT_GT(*r.value, 1.4 * all);
    EXPECT_LT(*r.value, c.max_pressure);
    EXPECT_EQ(r.status, Status::over);
    EXPECT_NEAR(r.at->x, 15, 3);
    EXPECT_GE(r.area.size(), 4u);
    EXPECT_THAT(r.title, HasSubstr("mean over"));
    // The square's mean, summed by hand where the row says it is.
    const double side = characteristic_side(*a, c);
    const MovingMean square = largest_over_square(*a, c, side);
    double F = 0, A = 0;
    for (size_t i = 0; i < a->mesh.nodes.size(); ++i) {
        const Point d = a->mesh.nodes[i] - square.at;
        if (std::abs(d.x) > side / 2 || std::abs(d.y) > side / 2) continue;
        F += c.spring[i] * a->shares.area[i], A += a->shares.area[i];
    }
    EXPECT_NEAR(square.value, F / A, 1e-9);
    // 2 (D/k)^¼ with the mean of pressure over settlement.
    const double D = 33e6 * std::pow(0.4, 3) / 12 / 0.96;
    EXPECT_GT(side, 2 * std::pow(D / 4500, 0.25));
    EXPECT_LT(side, 2 * std::pow(D / 300, 0.25));
}

TEST(Bearing, TheShareOfAColumnIsWhatIsNearerToItThanToOthers) {
    Model m = raft(box(0, 0, 12, 6), 0.5, 20000);
    m.columns = {column("A", 3, 3), column("B", 9, 3)};
    load(m, {ColumnLoad{"A", 1000, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"B", 400, 0, 0, 0, 0}, {}});
    const auto a = solve(m);
    const auto share = largest_over_shares(*a, only(*a), 2, nearest_columns(*a));
    ASSERT_TRUE(share);
    EXPECT_EQ(share->column, "A");
    EXPECT_NEAR(signed_area(share->area), 36, 1e-6);
    double F = 0;
    for (size_t i = 0; i < a->mesh.nodes.size(); ++i)
        if (a->mesh.nodes[i].x < 6 - 1e-9) F += only(*a).spring[i] * a->shares.area[i];
    EXPECT_NEAR(share->value, F / 36, 0.12 * share->value);
    EXPECT_FALSE(largest_over_shares(*a, only(*a), 20, nearest_columns(*a)));  // smaller than a quarter of that square
}

// Found by place; here each with each, on an L with columns by chance, two of them beyond its rim.
TEST(Bearing, MovingMeansAreThoseOfEverySquareAndShareLookedAt) {
    Model m = raft({{0, 0}, {17, 0}, {17, 7}, {9, 7}, {9, 12}, {0, 12}}, 0.5, 9000);
    std::mt19937 random(3);
    std::uniform_real_distribution<double> u(0.6, 8.4);
    for (int k = 0; k < 9; ++k) {
        const Point at{k % 2 ? 8 + u(random) : u(random), 0.75 * u(random)};
        if (std::none_of(m.columns.begin(), m.columns.end(), [&](const Column& c) { return distance(c.at, at) < 1; }))
            m.columns.push_back(column(fmt::format("C{}", k), at.x, at.y));
    }
    for (const Column& c : m.columns) load(m, {ColumnLoad{c.id, 300 + 40 * c.at.x, 0, 60, 0, 0}, {}});
    const auto solved = solve(m);
    auto more = std::make_shared<Model>(*solved->model);  // with two more where no mesh stands below them
    more->columns.push_back(column("out", 14, 30)), more->columns.push_back(column("off", -9, 2));
    const Fields a(more, solved->stages);
    const CombinationAnswer& c = a.combinations[0];
    CombinationAnswer pulled = c;  // with ground that pulls on one side
    for (size_t i = 0; i < a.mesh.nodes.size(); ++i)
        if (a.mesh.nodes[i].x < 7) pulled.spring[i] *= -0.6;
    auto mean = [&](const CombinationAnswer& c, auto counts) {
        double F = 0, A = 0;
        for (size_t i = 0; i < a.mesh.nodes.size(); ++i)
            if (counts(a.mesh.nodes[i])) F += c.spring[i] * a.shares.area[i], A += a.shares.area[i];
        return std::pair{F, A};
    };
    for (const CombinationAnswer* of : {&c, static_cast<const CombinationAnswer*>(&pulled)})
        for (double side : {0.9, 3.1, 5.2, 8.0, 13.0}) {  // the last two wider than the base's arms
            std::vector<std::pair<double, double>> squares;
            double widest = 0, most = -1e300;
            for (Point p : a.mesh.nodes) {
                squares.push_back(mean(
                    *of, [&](Point q) { return std::abs(q.x - p.x) <= side / 2 && std::abs(q.y - p.y) <= side / 2; }));
                widest = std::max(widest, squares.back().second);
            }
            for (auto [F, A] : squares)
                if (A >= 0.9 * std::min(widest, side * side)) most = std::max(most, F / A);
            EXPECT_NEAR(largest_over_square(a, *of, side).value, most, 1e-9 * std::abs(most)) << side;
        }
    const double side = 3.1;
    double share = 0;
    for (const Column& of : more->columns) {
        const auto [F, A] = mean(c, [&](Point q) {
            return std::all_of(more->columns.begin(), more->columns.end(),
                               [&](const Column& o) { return distance(of.at, q) <= distance(o.at, q); });
        });
        if (A >= side * side / 4) share = std::max(share, F / A);
    }
    EXPECT_NEAR(largest_over_shares(a, c, side, nearest_columns(a))->value, share, 1e-9 * share);
}

TEST(Bearing, EffectiveAreasOfCompactBasesAndWhyOthersHaveNone) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 20000);
    EXPECT_NEAR(effective_area(m, {3.5, 2.3}).area, 5 * 3.4, 1e-9);
    m.slab.outline = Circle{{0, 0}, 3};
    const double e = 1, r = 3;  // two segments: 2 (r² acos(e/r) − e √(r² − e²))
    EXPECT_NEAR(effective_area(m, {e, 0}).area, 2 * (r * r * std::acos(e / r) - e * std::sqrt(r * r - e * e)), 0.02);
    m.slab.outline = Ring{{0, 0}, 2, 3};
    EXPECT_THAT(effective_area(m, {0, 0}).why_not, HasSubstr("ring"));
    m.slab.outline = Polygon{{0, 0}, {6, 0}, {6, 2}, {2, 2}, {2, 6}, {0, 6}};
    EXPECT_THAT(effective_area(m, {2, 2}).why_not, HasSubstr("not convex"));
    m.slab.outline = box(0, 0, 6, 4);
    EXPECT_THAT(effective_area(m, {9, 2}).why_not, HasSubstr("outside"));
    m.slab.openings = {{"O", Shape(box(1, 1, 3, 3)), {}}};
    EXPECT_THAT(effective_area(m, {3, 2}).why_not, HasSubstr("openings"));
}

TEST(Bearing, RaisedForWindWhereTheEngineerSaysSoAndNetOfWhatWasDugOut) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 20000);
    m.ground.allowable_pressure = 50;
    load(m, {SlabLoad{45}, {}});
    LoadCase w;
    w.id = "W", w.action = Action::wind, w.items = {{SlabLoad{10}, {}}};
    m.loads.cases.push_back(w);
    Combination windy = m.loads.combinations->front();
    windy.id = "SW", windy.factors["W"] = 1;
    m.loads.combinations->push_back(windy);
    Row r = bearing(*solve(m));
    EXPECT_EQ(r.combination, "SW");
    EXPECT_NEAR(*r.utilisation, 55.0 / 50, 0.01);  // the springs of a rim act a sixth of a cell in
    m.ground.raised_in_wind = 1.25;
    r = bearing(*solve(m));
    EXPECT_EQ(r.combination, "S");  // 45 of 50 is more than 55 of 62.5
    EXPECT_NEAR(*r.utilisation, 0.9, 0.01);
    EXPECT_EQ(*limit_of_largest_pressure(m, windy), 62.5);
    m.ground.allowable_is = AllowableIs::net;
    r = bearing(*solve(m));
    EXPECT_EQ(r.status, Status::not_checked);
    EXPECT_THAT(r.note, HasSubstr("net"));
    on_clay(m, 1.0);  // the underside lies 1.5 m below the ground: 28.5 kPa
    m.slab.top_level = 0;
    r = bearing(*solve(m));
    EXPECT_THAT(r.title, HasSubstr("net"));
    EXPECT_EQ(r.combination, "SW");
    EXPECT_NEAR(*r.value, 55 - 28.5, 0.3);
    EXPECT_NEAR(*r.utilisation, *r.value / 62.5, 1e-9);
}

TEST(Yield, StrengthIsDesignedForTheWorseOfWithAndWithoutIt) {
    Model m = raft(box(0, 0, 8, 8), 0.5, 20000);
    m.steels = {Steel{}};
    m.steel.steel = "B500";
    m.steel.bottom_x = m.steel.bottom_y = m.steel.top_x = m.steel.top_y = {25, 150};  // else more bars are chosen
    m.columns = {column("C1", 4, 4)};
    load(m, {ColumnLoad{"C1", 3000, 0, 0, 0, 0}, {}});
    Combination u;
    u.id = "U", u.purpose = Purpose::strength, u.factors = {{"G", 1.35}};
    m.loads.combinations->push_back(u);
    const auto free = solve(m);
    const double peak = free->combinations[1].max_pressure;
    ASSERT_GT(peak, 1.2 * 1.35 * 3000 / 64);
    m.ground.yield_pressure = 0.85 * peak;
    const auto a = solve(m);
    ASSERT_EQ(a->combinations.size(), 3u);
    EXPECT_TRUE(a->combinations[2].without_yield);
    EXPECT_EQ(a->combinations[2].combination.id, "U");
    EXPECT_GT(a->combinations[1].yield_ratio, 0);
    EXPECT_NEAR(a->combinations[2].max_pressure, peak, 1e-6 * peak);
    EXPECT_EQ(as_listed(a->combinations).size(), 2u);
    auto use = [](const Answer& of, const std::string& id) {
        double most = 0;
        for (const Row& r : of.checks)
            if (r.id == id && r.utilisation) most = std::max(most, *r.utilisation);
        return most;
    };
    for (const char* id : {"punching", "one-way-shear"}) EXPECT_GE(use(*a, id), use(*free, id) - 1e-9) << id;
    const bool said = std::any_of(a->checks.begin(), a->checks.end(), [](const Row& r) {
        return r.id == "model" && r.status == Status::pass && r.note.find("worse of") != std::string::npos;
    });
    EXPECT_TRUE(said);
    // An edit that touches nothing of it takes the whole solution over.
    Model noted = m;
    noted.loads.combinations->back().title = "looked at";
    const auto after = solve(noted, {}, a.get());
    EXPECT_EQ(after->stages.supported, a->stages.supported);
    EXPECT_EQ(after->combinations[2].combination.title, "looked at");
}

TEST(Yield, ACombinationThatYieldsThroughIsStillDesignedFor) {
    Model m = raft(box(0, 0, 4, 4), 0.5, 20000);
    m.ground.yield_pressure = 100;
    load(m, {PointLoad{{2, 2}, 1400, 0, 0}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    Combination u = m.loads.combinations->front();
    u.id = "U", u.factors["G"] = 1.3;
    m.loads.combinations->push_back(u);
    const auto a = solve(m);
    EXPECT_EQ(a->combinations[1].ending, Ending::yields_through);
    ASSERT_EQ(a->combinations.back().combination.id, "U");
    EXPECT_TRUE(a->combinations.back().without_yield);
    EXPECT_TRUE(a->combinations.back().is_solved());
}

}  // namespace
}  // namespace mossbed::testing
