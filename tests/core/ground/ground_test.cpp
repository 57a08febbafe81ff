// Layered ground: formulas against published values, closed forms and sums by hand; the strata between boreholes; the
// coupled solution; bad input.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <numbers>
#include <numeric>

#include "core/answer/compare.h"
#include "core/contact/bed.h"
#include "core/contact/near_inverse.h"
#include "core/fields/depth_chart.h"
#include "core/fields/field_map.h"
#include "core/ground/index_strain.h"
#include "core/ground/influence.h"
#include "core/ground/moduli.h"
#include "core/ground/reload_columns.h"
#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using namespace testing;
using std::numbers::pi;
using ::testing::HasSubstr;

Stratum stratum(const std::string& id, double E, double nu, double weight = 18) {
    Stratum s;
    s.id = id, s.E = E, s.nu = nu, s.unit_weight = weight, s.saturated_unit_weight = 20;
    return s;
}
Borehole borehole(const std::string& id, Point at, const std::vector<std::pair<std::string, double>>& layers,
                  double ground = 0) {
    Borehole b;
    b.id = id, b.at = at, b.ground_level = ground;
    for (auto& [s, bottom] : layers) b.layers.push_back({s, bottom, {}});
    return b;
}
// A weightless raft at ground level on one deep layer.
Model on_layer(Polygon outline, double thickness, double E_concrete, double depth, double E = 20, double nu = 0.3) {
    Model m = raft(std::move(outline), thickness, 10000, E_concrete);
    m.slab.top_level = thickness;
    m.ground.model = GroundModel::coupled;
    m.ground.founding_level = 0;
    m.ground.excavation_relief = false;
    m.ground.strata = {stratum("soil", E, nu)};
    m.ground.boreholes = {borehole("B1", {1, 1}, {{"soil", -depth}})};
    m.ground.rigid_base_level = -depth;
    return m;
}
double sum(const std::vector<LayerShare>& layers) {
    double s = 0;
    for (auto& l : layers) s += l.settlement;
    return s;
}
LayeredGround ground_of(const Model& m, const Polygon& base) {
    return LayeredGround(std::make_shared<const Model>(m), {base}, base);
}

TEST(Influence, GivesNewmarksStressBelowACorner) {
    // Newmark (1935), influence values of a rectangle's corner, m = B/z, n = L/z.
    const std::vector<std::array<double, 3>> table{{0.1, 0.1, 0.0047}, {0.5, 0.5, 0.0840}, {0.5, 1.0, 0.1202},
                                                   {1.0, 1.0, 0.1752}, {1.0, 2.0, 0.1999}, {2.0, 2.0, 0.2325},
                                                   {1.0, 3.0, 0.2034}, {3.0, 3.0, 0.2439}};
    for (auto [m, n, I] : table)
        EXPECT_NEAR(stress_below(box(0, 0, 3 * m, 3 * n), {0, 0}, 3), I, 0.00006) << m << " " << n;
    // The same from his formula, to many digits.
    for (double m : {0.2, 0.7, 1.6})
        for (double n : {0.4, 2.5}) {
            const double V = m * m + n * n + 1, W = m * m * n * n, t = 2 * m * n * std::sqrt(V);
            double angle = std::atan2(t, V - W);
            const double I = (t / (V + W) * (V + 1) / V + angle) / (4 * pi);
            EXPECT_NEAR(stress_below(box(0, 0, m, n), {0, 0}, 1), I, 1e-12);
        }
}

TEST(Influence, AgreesWithHarrBelowCornersAndWithItselfOnSplitAreas) {
    const double E = 20000, nu = 0.35;
    for (double z : {0.0, 0.4, 3.0, 25.0}) {
        const LoadedArea g = loaded_area(box(0, 0, 4, 7), {0, 0}, z);
        const double w = (1 + nu) / (2 * pi * E) * (2 * (1 - nu) * g.inverse + g.cubed);
        EXPECT_NEAR(w, displacement_below_corner(1, 4, 7, z, E, nu), 1e-12 * w + 1e-15) << z;
    }
    // An L of three squares, from a point off it, is the sum of its parts.
    const Point q{5, -1};
    const LoadedArea whole = loaded_area({{0, 0}, {2, 0}, {2, 1}, {1, 1}, {1, 2}, {0, 2}}, q, 0.7);
    const LoadedArea a = loaded_area(box(0, 0, 2, 1), q, 0.7), b = loaded_area(box(0, 1, 1, 2), q, 0.7);
    EXPECT_NEAR(whole.inverse, a.inverse + b.inverse, 1e-12);
    EXPECT_NEAR(whole.cubed, a.cubed + b.cubed, 1e-12);
    EXPECT_NEAR(stress_below(box(-1, -1, 1, 1), {0, 0}, 1e-7), 1, 1e-6);
}

TEST(Ground, SettlesThreeLayersAsWorkedByHand) {
    // 12 × 8 m, 60 kPa, centre: four corners of 6 × 4 m. Harr's A and D worked out at z = 0, 3, 7 and 16 m.
    Model m = on_layer(box(0, 0, 12, 8), 0.6, 33000, 16);
    m.ground.strata = {stratum("sand", 25, 0.3), stratum("clay", 6, 0.4), stratum("gravel", 50, 0.3)};
    m.ground.boreholes = {borehole("B", {5, 3}, {{"sand", -3}, {"clay", -7}, {"gravel", -20}})};
    auto w = [](double z, double E, double nu) {
        const double B = 4, L = 6, mm = L / B, n = z / B, S = std::sqrt(1 + mm * mm + n * n);
        const double A = (std::log((S + mm) / (S - mm)) + mm * std::log((S + 1) / (S - 1))) / pi;
        const double D = n / pi * std::atan(mm / (n * S + 1e-300));
        return 4 * 60 * B * (1 - nu * nu) / (2 * E * 1000) * (A - (1 - 2 * nu) / (1 - nu) * (n > 0 ? D : 0));
    };
    const double hand = w(0, 25, 0.3) - w(3, 25, 0.3) + w(3, 6, 0.4) - w(7, 6, 0.4) + w(7, 50, 0.3) - w(16, 50, 0.3);
    LayeredGround g = ground_of(m, box(0, 0, 12, 8));
    g.find_limit(60);
    EXPECT_DOUBLE_EQ(g.limit().level, -16);
    const auto layers = g.settle_evenly({6, 4}, 60);
    ASSERT_EQ(layers.size(), 3u);
    EXPECT_NEAR(sum(layers), hand, 1e-6 * hand);
    EXPECT_NEAR(layers[1].settlement, w(3, 6, 0.4) - w(7, 6, 0.4), 1e-9);
    EXPECT_NEAR(layers[2].bottom, -16, 1e-9);
}

TEST(Ground, StrainsByCompressionIndexAsWorkedByHand) {
    // 2 m excavated above normally and over-consolidated clay; centre of 10 × 10 m under 90 kPa; 0.5 m slices by hand.
    Model m = on_layer(box(0, 0, 10, 10), 0.5, 33000, 12);
    m.ground.settlement_method = SettlementMethod::one_dimensional;
    m.ground.founding_level = -2, m.ground.excavation_relief = true;
    Stratum clay = stratum("clay", 5, 0.35, 17);
    clay.compression_index = 0.3, clay.recompression_index = 0.05, clay.void_ratio = 1.2, clay.preconsolidation = 80;
    m.ground.strata = {clay};
    m.ground.boreholes = {borehole("B", {5, 5}, {{"clay", -12}})};
    LayeredGround g = ground_of(m, box(0, 0, 10, 10));
    g.find_limit(90);
    double hand = 0;
    for (int k = 0; k < 20; ++k) {
        const double z = 0.25 + 0.5 * k;
        auto corner = [&] {
            const double q = 5 / z, V = 2 * q * q + 1, W = std::pow(q, 4), t = 2 * q * q * std::sqrt(V);
            return (t / (V + W) * (V + 1) / V + std::atan2(t, V - W)) / (4 * pi);
        };
        const double I = 4 * corner(), before = 17 * (2 + z), first = before - 34 * I, last = first + 90 * I,
                     yields = std::max(80.0, before);
        double e = 0.05 * std::log10(std::min(last, yields) / first);
        if (last > yields) e += 0.3 * std::log10(last / yields);
        hand += 0.5 * e / 2.2;
    }
    EXPECT_NEAR(g.removed_effective({5, 5}), 34, 1e-9);
    EXPECT_NEAR(sum(g.settle_evenly({5, 5}, 90)), hand, 0.005 * hand);
}

// e0 = 1.1, 50 kPa at mid-depth, 80 kPa borne before.
TEST(IndexLaw, GoesAlongTwoLogarithmsThatMeetWhatWasBorneBefore) {
    Stratum clay = stratum("clay", 5, 0.4);
    clay.compression_index = 0.3, clay.recompression_index = 0.05, clay.void_ratio = 1.1, clay.preconsolidation = 80;
    Sublayer below;
    below.by_index = true, below.effective = 50, below.relief = 0.8;
    const auto by_hand = [](double first, double last) {
        const double up_to = std::min(last, 80.0), beyond = std::max(last, 80.0);
        return (0.05 * std::log10(up_to / first) + 0.3 * std::log10(beyond / 80)) / 2.1;
    };
    for (double removed : {0.0, 30.0}) {
        const IndexLaw law = below.law(removed, clay);
        const double first = 50 - 0.8 * removed;
        for (double added : {0.0, 5.0, 29.9, 30.1, 60.0, 250.0}) {
            EXPECT_NEAR(law.strain(added), by_hand(first, first + added), 1e-12);
            EXPECT_EQ(below.strain(removed, added, clay), law.strain(added));
            if (added > 0)
                EXPECT_NEAR(law.rate(added), (law.strain(added + 1e-4) - law.strain(added - 1e-4)) / 2e-4, 1e-9);
        }
        EXPECT_EQ(law.strain(-20), 0);  // it does not swell
    }
    clay.recompression_index.reset(), clay.preconsolidation.reset();  // then one logarithm, from what lies on it now
    EXPECT_NEAR(below.law(0, clay).strain(50), 0.3 * std::log10(2) / 2.1, 1e-12);
}

TEST(Ground, LimitsTheDepthWhereTheAddedStressFallsToItsShare) {
    Model m = on_layer(box(0, 0, 6, 6), 0.5, 33000, 60);
    m.ground.rigid_base_level.reset();
    LayeredGround g(std::make_shared<const Model>(m), {box(0, 0, 6, 6)}, {{0, 0}, {3, 3}, {1, 2}});
    g.find_limit(100);
    const double z = -g.limit().level;
    EXPECT_EQ(g.limit().by, DepthLimit::By::stress_ratio);
    EXPECT_NEAR(100 * 4 * stress_below(box(0, 0, 3, 3), {0, 0}, z), 0.2 * 18 * z, 1e-6);
    m.ground.boreholes[0].layers[0].bottom = -5;  // stops short
    LayeredGround s(std::make_shared<const Model>(m), {box(0, 0, 6, 6)}, {{3, 3}});
    s.find_limit(100);
    EXPECT_EQ(s.limit().by, DepthLimit::By::deepest_borehole);
    EXPECT_NEAR(s.limit().short_by, z - 5, 1e-6);
}

// 100·I(z) = 0.2·18 z below the middle of a circle, I = 1 − (1 + R²/z²)^−1.5 (Boussinesq).
TEST(Ground, LimitsTheDepthAlikeWhereverTheNodesLieAndHoweverManySidesTheBaseHas) {
    const double R = 17.5;
    double low = 0, high = 60;
    for (int k = 0; k < 60; ++k) {
        const double z = (low + high) / 2;
        (100 * (1 - std::pow(1 + R * R / (z * z), -1.5)) > 0.2 * 18 * z ? low : high) = z;
    }
    Model m = on_layer(box(-R, -R, R, R), 0.5, 33000, 60);
    m.ground.rigid_base_level.reset();
    for (int sides : {300, 2000}) {
        Polygon rim;
        for (int i = 0; i < sides; ++i)
            rim.push_back(R * Point{std::cos(2 * pi * i / sides), std::sin(2 * pi * i / sides)});
        std::vector<Point> rim_first = rim, off_centre{{0.7 * R, 0}, {0, -0.8 * R}, {-0.6 * R, 0.6 * R}};
        for (double x = -12; x < 13; x += 3) rim_first.push_back({x, 0.3 * x});
        for (const auto& nodes : {rim_first, off_centre, rim}) {
            LayeredGround g(std::make_shared<const Model>(m), {rim}, nodes);
            g.find_limit(100);
            EXPECT_NEAR(-g.limit().level, low, 1e-3 * low) << sides << " sides, " << nodes.size() << " nodes";
        }
    }
}

TEST(Ground, LimitsNoDepthWhereNothingWeighs) {
    Model m = on_layer(box(0, 0, 6, 6), 0.5, 33000, 20);
    m.ground.rigid_base_level.reset();
    m.ground.strata[0].unit_weight = m.ground.strata[0].saturated_unit_weight = 0;
    LayeredGround g(std::make_shared<const Model>(m), {box(0, 0, 6, 6)}, {{3, 3}, {1, 1}});
    g.find_limit(100);
    EXPECT_EQ(g.limit().level, -20);
    EXPECT_EQ(g.limit().by, DepthLimit::By::deepest_borehole);
    EXPECT_GT(g.limit().short_by, 1000);
}

// Ground that falls to one side under an L with an opening: against every place of a fine grid on the base.
TEST(Ground, LimitsTheDepthWhereItIsDeepestOfAllThatLiesBelowTheBase) {
    const Polygon rim{{0, 0}, {24, 0}, {24, 9}, {10, 9}, {10, 20}, {0, 20}}, opening{{3, 3}, {3, 7}, {8, 7}, {8, 3}};
    Model m = on_layer(rim, 0.5, 33000, 60);
    m.ground.rigid_base_level.reset();
    m.ground.strata = {stratum("fill", 20, 0.3, 12), stratum("sand", 20, 0.3, 21)};
    m.ground.boreholes = {borehole("B1", {0, 0}, {{"fill", -3}, {"sand", -60}}),
                          borehole("B2", {24, 0}, {{"fill", -15}, {"sand", -60}}),
                          borehole("B3", {0, 20}, {{"fill", -9}, {"sand", -60}})};
    std::vector<Point> nodes, grid;
    for (double x = 0.1; x < 24; x += 0.2)
        for (double y = 0.1; y < 20; y += 0.2)
            if (contains(rim, {x, y}) && !contains(opening, {x, y})) grid.push_back({x, y});
    for (size_t i = 0; i < grid.size(); i += 200) nodes.push_back(grid[i]);
    LayeredGround g(std::make_shared<const Model>(m), {rim, opening}, nodes);
    g.find_limit(90);
    double deepest = 0;
    for (Point p : grid) {
        const SoilColumn c = g.column(p);
        auto counts = [&](double z) {
            return 90 * g.base_stress(p, z) >= 0.2 * c.effective_stress(-z, m.ground.strata);
        };
        if (!counts(deepest)) continue;
        double low = deepest, high = 60;
        for (int k = 0; k < 40; ++k) (counts((low + high) / 2) ? low : high) = (low + high) / 2;
        deepest = low;
    }
    EXPECT_GT(deepest, 8);
    EXPECT_NEAR(-g.limit().level, deepest, 2e-4 * deepest);
    EXPECT_GE(-g.limit().level, deepest - 1e-6);
}

TEST(Ground, WeighsBuoyantBelowTheWater) {
    Model m = on_layer(box(0, 0, 6, 6), 0.5, 33000, 20);
    m.ground.water_level = -1;
    const SoilColumn c = SoilProfile(m.ground).at({2, 2});
    EXPECT_NEAR(c.effective_stress(-4, m.ground.strata), 18 + 3 * (20 - 9.81), 1e-9);
    EXPECT_NEAR(c.total_stress(-4, m.ground.strata), 18 + 3 * 20, 1e-9);
}

TEST(Ground, ConsolidatesByTerzaghi) {
    EXPECT_NEAR(degree_of_consolidation(1, 1, 0.197), 0.5, 0.001);
    EXPECT_NEAR(degree_of_consolidation(2, 2, 2 * 0.848), 0.9, 0.001);
    EXPECT_NEAR(degree_of_consolidation(1, 1, 0.0499), degree_of_consolidation(1, 1, 0.0501), 0.001);
    Stratum slow = stratum("clay", 5, 0.3), quick = stratum("sand", 30, 0.3);
    slow.cv = 1, slow.drainage_path = 2;
    const std::vector<LayerShare> layers{{0, 0, -1, -4, 0.030}, {1, 1, -4, -9, 0.010}};
    const std::vector<SoilLayer> column{{0, 0, -1, -4}, {1, 1, -4, -9}};
    EXPECT_NEAR(settlement_after(layers, {slow, quick}, column, -1, 4 * 0.848), 0.010 + 0.9 * 0.030, 5e-5);
}

TEST(Ground, DrainsTowardsTheNeighboursThatDrain) {
    Stratum fill = stratum("fill", 10, 0.3), clay = stratum("clay", 5, 0.3), silt = stratum("silt", 8, 0.3),
            sand = stratum("sand", 40, 0.3);
    clay.cv = 1, silt.cv = 4;
    const std::vector<Stratum> strata{fill, clay, silt, sand};
    const std::vector<SoilLayer> above_sand{{0, 0, 0, -2}, {1, 1, -2, -6}, {3, 2, -6, -10}};
    auto d = drainage_of(above_sand, -1, strata);
    EXPECT_DOUBLE_EQ(d[1].path, 2);  // 4 m, up and down
    EXPECT_TRUE(d[1].up && d[1].down);
    EXPECT_DOUBLE_EQ(d[0].path, 0);  // drains at once
    const std::vector<SoilLayer> last{{0, 0, 0, -2}, {1, 1, -2, -6}};
    d = drainage_of(last, -1, strata);  // nothing is known below: out of its top only
    EXPECT_DOUBLE_EQ(d[1].path, 4);
    EXPECT_FALSE(d[1].down);
    // Clay on silt drain together: 4 m of cv 1 and 6 m of cv 4 count as 4/1 + 6/2 = 7 by the root, both ways.
    const std::vector<SoilLayer> two{{1, 0, 0, -4}, {2, 1, -4, -10}, {3, 2, -10, -12}};
    d = drainage_of(two, 0, strata);
    EXPECT_DOUBLE_EQ(d[0].path, 3.5);
    EXPECT_DOUBLE_EQ(d[1].path, 7.0);
    // What the excavation took away does not drain: the base stands in the clay, 1 m of it is left.
    d = drainage_of(above_sand, -5, strata);
    EXPECT_DOUBLE_EQ(d[1].path, 0.5);
}

// A rigid 8 × 5 m slab over three moduli: s = a + b x + c y with ∫ k s dA = N, ∫ k s x dA = N x_N, ∫ k s y dA = N y_N,
// integrals of rectangles by hand. At nodes of one side of a border it was 5 to 34 % off at the corners.
TEST(Bed, AStiffSlabOverThreeModuliSettlesAsIntegralsSay) {
    Model m = raft(box(0, 0, 8, 5), 1.5, 20000, 3.3e9);
    m.ground.model = GroundModel::patches;
    auto patch = [&](const char* id, double x0, double y0, double x1, double y1, double k) {
        GroundPatch p;
        p.id = id, p.outline = box(x0, y0, x1, y1), p.modulus = k;
        m.ground.patches.push_back(p);
    };
    patch("soft", 0, 0, 2.7, 5, 8000);
    patch("hard", 5.3, 1.9, 9, 6, 60000);  // reaches off the slab
    load(m, {PointLoad{{5.2, 2.9}, 3000, 0, 0}, {}});
    struct Part {
        double x0, y0, x1, y1, k;
    };
    const std::vector<Part> parts{
        {0, 0, 2.7, 5, 8000}, {2.7, 0, 5.3, 5, 20000}, {5.3, 0, 8, 1.9, 20000}, {5.3, 1.9, 8, 5, 60000}};
    Eigen::Matrix3d A = Eigen::Matrix3d::Zero();
    for (const Part& p : parts) {
        auto I = [](double a, double b, int n) { return (std::pow(b, n + 1) - std::pow(a, n + 1)) / (n + 1); };
        for (int i = 0; i < 3; ++i)
            for (int j = 0; j < 3; ++j) {
                const int nx = (i == 1) + (j == 1), ny = (i == 2) + (j == 2);
                A(i, j) += p.k * I(p.x0, p.x1, nx) * I(p.y0, p.y1, ny);
            }
    }
    const Eigen::Vector3d s = A.ldlt().solve(Eigen::Vector3d(3000, 3000 * 5.2, 3000 * 2.9));
    for (double size : {0.5, 0.25}) {
        SolveOptions o;
        o.mesh_size = size;
        const auto a = solve(m, o);
        ASSERT_TRUE(only(*a).is_solved());
        for (Point p :
             {Point{0, 0}, Point{8, 0}, Point{8, 5}, Point{0, 5}, Point{2.7, 0}, Point{5.3, 5}, Point{5.3, 1.9}}) {
            const double exact = s[0] + s[1] * p.x + s[2] * p.y;
            EXPECT_NEAR(settlement(*a, p) / exact, 1, 0.002) << size << " at " << p.x << ", " << p.y;
        }
        // The largest pressure is the hard side's, at its corner or border, and no cell is on two moduli.
        const double most = std::max({60000 * (s[0] + s[1] * 5.3 + s[2] * 1.9), 60000 * (s[0] + s[1] * 8 + s[2] * 1.9),
                                      60000 * (s[0] + s[1] * 5.3 + s[2] * 5), 60000 * (s[0] + s[1] * 8 + s[2] * 5)});
        EXPECT_NEAR(only(*a).max_pressure / most, 1, 0.002);
        for (size_t e = 0; e < a->mesh.elements.size(); ++e) {
            const Point c = centroid(a->mesh.polygon(int(e)));
            const int wanted = c.x < 2.7 ? 0 : c.x > 5.3 && c.y > 1.9 ? 1 : -1;
            EXPECT_EQ(a->mesh.ground_patch[e], wanted);
        }
    }
}

TEST(Profile, LaysStrataOverTheTriangleAndHoldsTheRimOutside) {
    Ground g;
    g.strata = {stratum("fill", 10, 0.3), stratum("clay", 5, 0.3), stratum("sand", 40, 0.3)};
    g.boreholes = {borehole("A", {0, 0}, {{"fill", -2}, {"clay", -4}, {"sand", -20}}),
                   borehole("B", {10, 0}, {{"fill", -2}, {"clay", -9}, {"sand", -18}}),
                   borehole("C", {0, 10}, {{"fill", -3}, {"sand", -20}})};  // no clay: it pinches out
    const SoilProfile p(g);
    auto bottom = [&](Point q, int layer) { return p.at(q).layers.at(size_t(layer)).bottom; };
    EXPECT_NEAR(bottom({5, 0}, 1), -6.5, 1e-9);
    EXPECT_NEAR(bottom({2, 3}, 1), 0.5 * -4 + 0.2 * -9 + 0.3 * -3, 1e-9);
    EXPECT_EQ(p.at({0, 10}).layers.size(), 2u);
    EXPECT_NEAR(bottom({-7, -5}, 1), -4, 1e-9);  // nearest point of the rim is A
    EXPECT_NEAR(bottom({4, -30}, 1), -6, 1e-9);  // and on the side A–B
    EXPECT_NEAR(bottom({3, 3}, 2), -20, 1e-9);   // the last layer ends with the deepest borehole
    EXPECT_NEAR(p.distance_outside({4, -30}), 30, 1e-9);
    g.boreholes.pop_back();
    const SoilProfile line(g);
    EXPECT_NEAR(line.at({5, 33}).layers[1].bottom, -6.5, 1e-9);  // constant across the line
    g.boreholes.pop_back();
    EXPECT_NEAR(SoilProfile(g).at({99, -5}).layers[1].bottom, -4, 1e-9);  // level
    g.rigid_base_level = -30;
    EXPECT_NEAR(SoilProfile(g).deepest(), -30, 1e-9);
}

TEST(Profile, MatchesLayersByOccurrenceAndReportsContradictions) {
    Ground g;
    g.strata = {stratum("clay", 5, 0.3), stratum("sand", 40, 0.3)};
    g.boreholes = {borehole("A", {0, 0}, {{"clay", -2}, {"sand", -4}, {"clay", -8}}),
                   borehole("B", {10, 0}, {{"clay", -3}, {"sand", -5}, {"clay", -9}})};
    EXPECT_EQ(order_of_layers(g).layers.size(), 3u);
    EXPECT_NEAR(SoilProfile(g).at({5, 0}).layers[1].bottom, -4.5, 1e-9);
    g.boreholes[1] = borehole("B", {10, 0}, {{"sand", -5}, {"clay", -9}});
    g.boreholes[0] = borehole("A", {0, 0}, {{"clay", -2}, {"sand", -9}});
    ASSERT_TRUE(order_of_layers(g).contradiction);
    EXPECT_THAT(*order_of_layers(g).contradiction, HasSubstr("clay"));
}

// The settlement of the whole base on a deep half-space, one combination.
struct Found {
    double middle, quarter, pressure;
};
Found solve_square(double thickness, double E, double size) {
    Model m = on_layer(box(0, 0, 10, 10), thickness, E, 4000);
    m.mesh_size = size;
    load(m, {SlabLoad{100}, {}});
    const auto a = solve(m);
    EXPECT_EQ(only(*a).ending, Ending::solved);
    EXPECT_LE(only(*a).compatibility, 1e-4);
    EXPECT_LE(only(*a).equilibrium_error, 1e-8);
    return {settlement(*a, {5, 5}), settlement(*a, {2.5, 2.5}), pressure(*a, {5, 5})};
}

TEST(Coupled, FlexibleAndRigidSquareAndCircleOnAHalfSpace) {
    Page page("ground.md", "Layered and deep ground",
              {"case", "source", "reference", "mesh 1.0 m", "mesh 0.5 m", "off"});
    auto row = [&](const std::string& what, const std::string& source, double reference, double coarse, double fine,
                   double tolerance, const char* unit, double factor) {
        EXPECT_NEAR(fine, reference, tolerance * reference) << what;
        page.row({what, source, fmt::format("{:.2f} {}", factor * reference, unit),
                  fmt::format("{:.2f}", factor * coarse), fmt::format("{:.2f}", factor * fine),
                  fmt::format("{:+.2f} %", 100 * (fine / reference - 1))});
    };
    const double pB = 100 * 10 * (1 - 0.09) / 20000;
    const Found f1 = solve_square(0.2, 20, 1.0), f2 = solve_square(0.2, 20, 0.5);
    row("flexible square, middle", "Harr (1966): 1.122 pB(1−ν²)/E", 1.1222 * pB, f1.middle, f2.middle, 0.01, "mm",
        1000);
    const double quarter = [&] {
        double w = 0;
        for (auto [x, y] : {std::pair{2.5, 2.5}, {2.5, 7.5}, {7.5, 2.5}, {7.5, 7.5}})
            w += displacement_below_corner(100, std::min(x, y), std::max(x, y), 0, 20000, 0.3);
        return w;
    }();
    row("flexible square, quarter point", "Harr (1966), corners", quarter, f1.quarter, f2.quarter, 0.01, "mm", 1000);
    row("flexible square, pressure in the middle", "the load", 100, f1.pressure, f2.pressure, 0.03, "kPa", 1);
    const Found r1 = solve_square(1.5, 3e6, 1.0), r2 = solve_square(1.5, 3e6, 0.5);
    row("rigid square", "0.868 pB(1−ν²)/E", 0.868 * pB, r1.middle, r2.middle, 0.01, "mm", 1000);

    auto circle = [](double size) {
        Model m = on_layer({}, 1.5, 1e6, 4000);
        m.slab.outline = Circle{{0, 0}, 5};
        m.mesh_size = size;
        load(m, {SlabLoad{100}, {}});
        return solve(m);
    };
    const auto c1 = circle(1.0), c2 = circle(0.5);
    row("rigid circle", "π/2 · p a (1−ν²)/E", pi / 2 * 100 * 5 * 0.91 / 20000, settlement(*c1, {0, 0}),
        settlement(*c2, {0, 0}), 0.01, "mm", 1000);
    for (double r : {0.0, 2.5, 3.5})
        row(fmt::format("rigid circle, pressure at r = {:.1f} m", r), "p / (2√(1 − r²/a²))",
            50 / std::sqrt(1 - r * r / 25), pressure(*c1, {r, 0}), pressure(*c2, {r, 0}), 0.03, "kPa", 1);

    auto layer = [](double size) {
        Model m = on_layer(box(0, 0, 12, 8), 0.2, 20, 6, 15, 0.35);
        m.mesh_size = size;
        load(m, {SlabLoad{80}, {}});
        return solve(m);
    };
    const auto l1 = layer(1.0), l2 = layer(0.5);
    const double on_layer_ref =
        4 * (displacement_below_corner(80, 4, 6, 0, 15000, 0.35) - displacement_below_corner(80, 4, 6, 6, 15000, 0.35));
    row("flexible 12 × 8 m on a 6 m layer, middle", "Steinbrenner (1934)", on_layer_ref, settlement(*l1, {6, 4}),
        settlement(*l2, {6, 4}), 0.01, "mm", 1000);
    page.words(
        "Deep ground is a layer of 4 km. The flexible slab has next to no bending stiffness, the rigid one "
        "next to no flexibility.");
}

TEST(Coupled, SettlesWithEReloadUpToTheRemovedOverburden) {
    Model m = on_layer(box(0, 0, 10, 10), 0.2, 20, 28, 15, 0.35);
    m.ground.founding_level = -3, m.slab.top_level = -2.8, m.ground.excavation_relief = true;
    m.ground.strata[0].E_reload = 45;
    load(m, {SlabLoad{100}, {}});
    const auto a = solve(m);
    const double unit_w =
        4 * (displacement_below_corner(1, 5, 5, 0, 1, 0.35) - displacement_below_corner(1, 5, 5, 25, 1, 0.35));
    EXPECT_NEAR(settlement(*a, {5, 5}), unit_w * (54.0 / 45000 + 46.0 / 15000), 0.01 * settlement(*a, {5, 5}));
}

// An eccentric stiff raft that lifts on clay that thickens to one side.
Model lifting_raft() {
    Model m = on_layer(box(0, 0, 12, 8), 0.8, 33000, 15);
    m.ground.strata = {stratum("clay", 6, 0.4), stratum("sand", 40, 0.3)};
    m.ground.boreholes = {borehole("A", {-2, -2}, {{"clay", -2}, {"sand", -15}}),
                          borehole("B", {14, -2}, {{"clay", -8}, {"sand", -15}}),
                          borehole("C", {5, 12}, {{"clay", -4}, {"sand", -15}})};
    load(m, {SlabLoad{20}, {}});
    load(m, {PointLoad{{11, 4}, 3500, 0, 0}, {}});
    return m;
}

TEST(Coupled, FitsSlabAndGroundAtEveryPatchAndNeverPulls) {
    const auto a = solve(lifting_raft());
    const CombinationAnswer& c = only(*a);
    ASSERT_EQ(c.ending, Ending::solved) << c.explanation;
    EXPECT_LT(c.contact_ratio, 0.95);
    EXPECT_GE(c.min_pressure, 0);
    EXPECT_NEAR(c.ground_reaction.Fz, 3500 + 20 * 96, 1e-4);
    // The ground's settlement by another road: point by point with exact loaded polygons.
    double largest = 0;
    for (int i = 0; i < int(a->mesh.nodes.size()); ++i) largest = std::max(largest, c.settlement(i));
    for (int i = 0; i < int(a->mesh.nodes.size()); i += 7) {
        if (length(a->acts_at(i) - a->mesh.nodes[size_t(i)]) > 1e-6)
            continue;  // the mean over a rim patch is not its middle
        const double ground =
            sum(a->ground->layers->settle(a->mesh.nodes[size_t(i)], *a->ground->patches, c.patch_force,
                                          a->ground->removed, a->stages.subsoil->pressure));
        if (c.pressure[size_t(i)] > 0)
            EXPECT_NEAR(ground, c.settlement(i), 0.012 * largest);
        else
            EXPECT_GT(ground, c.settlement(i) - 0.012 * largest);
    }
}

TEST(Coupled, WithoutLoadsNothingMovesAndOthersAreNotKeptWaiting) {
    Model m = on_layer(box(0, 0, 10, 8), 0.5, 33000, 12);
    load(m, {SlabLoad{40}, {}});
    Combination none;
    none.id = "none", none.factors = {{"G", 0.0}};
    m.loads.combinations->push_back(none);
    const auto a = solve(m);
    ASSERT_EQ(a->combinations.size(), 2u);
    const CombinationAnswer& still = a->combinations[1];
    EXPECT_EQ(still.ending, Ending::solved);
    EXPECT_LE(still.rounds, 3);
    for (int i = 0; i < int(a->mesh.nodes.size()); ++i) ASSERT_EQ(still.settlement(i), 0) << i;
    EXPECT_EQ(a->combinations[0].ending, Ending::solved);
}

// A wing of a thin slab lifts and turns as a whole: what one step found slowly the next one begins with. Without that
// the slowest took 58 rounds and all together 462.
TEST(Coupled, AWingThatLiftsIsFoundInNotManyRounds) {
    Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    m.slab.thickness = 0.5;
    const auto is_wind = [&](const std::string& id) {
        return std::any_of(m.loads.cases.begin(), m.loads.cases.end(),
                           [&](const LoadCase& k) { return k.id == id && k.action == Action::wind; });
    };
    for (Combination& c : *m.loads.combinations)
        for (auto& [id, factor] : c.factors)
            if (is_wind(id)) factor *= 1.6;
    const auto a = solve(m);
    int most = 0, all = 0;
    double least_contact = 1;
    for (const CombinationAnswer& c : a->combinations) {
        EXPECT_EQ(c.ending, Ending::solved) << c.combination.id;
        EXPECT_LT(c.compatibility, 5e-6) << c.combination.id;
        most = std::max(most, c.rounds), all += c.rounds;
        least_contact = std::min(least_contact, c.contact_ratio);
    }
    EXPECT_LT(least_contact, 0.75);  // else nothing is slow
    EXPECT_LT(most, 50);
    EXPECT_LT(all, 440);
}

TEST(Coupled, TiltsTowardsTheThickerClayAndKnowsWhichSide) {
    Model m = lifting_raft();
    m.loads.cases[0].items = {{SlabLoad{60}, {}}};
    const auto a = solve(m);
    EXPECT_GT(settlement(*a, {12, 4}), 1.3 * settlement(*a, {0, 4}));
    std::swap(m.ground.boreholes[0].layers, m.ground.boreholes[1].layers);
    const auto b = solve(m);
    EXPECT_LT(settlement(*b, {12, 4}), 0.8 * settlement(*b, {0, 4}));
}

// A slab's contact on patches of given sizes.
ContactState contact_on(const Model& m, const testing::System& slab, const PatchSizes& sizes,
                        const Eigen::MatrixXd& loads) {
    const Polygon outline = std::get<Polygon>(m.slab.outline);
    LayeredGround ground = ground_of(m, outline);
    ground.find_limit(50);
    const auto patches = std::make_shared<const ContactPatches>(make_contact_patches(slab.mesh, slab.shares, sizes));
    const ContactPatches& p = *patches;
    EXPECT_LE(p.count(), std::min(sizes.most, int(slab.mesh.nodes.size())));
    EXPECT_NEAR(std::accumulate(p.area.begin(), p.area.end(), 0.0), signed_area(outline), 1e-9);
    EXPECT_NEAR(std::accumulate(p.polygon_area.begin(), p.polygon_area.end(), 0.0), signed_area(outline), 1e-9);
    const Flexibility C = ground.flexibility(patches, 50);
    Bed bed = bed_of_patches(m, p, slab.plate.of);
    size_springs(bed, p, C, 50);
    const SparseLower with_springs = bed.supports.with_springs(slab.K);
    Factor factor(with_springs, slab.mesh.nodes);
    EXPECT_TRUE(factor.factorize(with_springs));
    const GroundCoupling joined{p, C};
    ContactOptions o;
    o.tolerance = 3e-6, o.ground = &joined;
    const auto s = find_contact({slab.plate.of, slab.K, factor, bed.supports, slab.mesh.nodes}, loads, o);
    EXPECT_EQ(s[0].ending, Ending::solved);
    GroundCoupling with_near = joined;
    with_near.near = std::make_shared<const Neighbours>(p, C);
    o.ground = &with_near;
    const auto again = find_contact({slab.plate.of, slab.K, factor, bed.supports, slab.mesh.nodes}, loads, o);
    EXPECT_EQ(again[0].x, s[0].x);
    return s[0];
}

TEST(Coupled, SharesCoarserPatchesOnLargeMeshesToTheSameAnswer) {
    const Model m = [] {
        Model m = on_layer(box(0, 0, 10, 10), 0.8, 33000, 30);
        load(m, {SlabLoad{50}, {}});
        return m;
    }();
    const testing::System slab(m);
    int node = 0;
    for (int i = 0; i < int(slab.mesh.nodes.size()); ++i)
        if (distance(slab.mesh.nodes[size_t(i)], {5, 5}) < distance(slab.mesh.nodes[size_t(node)], {5, 5})) node = i;
    std::vector<double> middle;
    for (int most : {6000, 120})
        middle.push_back(contact_on(m, slab, {.side = 0, .most = most}, slab.even(50)).x[slab.row(node)]);
    EXPECT_NEAR(middle[1], middle[0], 0.02 * middle[0]);  // patches of 0.9 m in place of 0.5 m
}

// Even load, and a heavy one at a side under which the other lifts.
TEST(Coupled, SettlesOnSharedPatchesAsOnOneANode) {
    Model m = on_layer(box(0, 0, 14, 9), 0.7, 33000, 30);
    load(m, {SlabLoad{50}, {}});
    const testing::System slab(m, 0.5);
    const auto n = long(slab.mesh.nodes.size());
    for (const bool lifts : {false, true}) {
        Eigen::MatrixXd loads = slab.even(lifts ? 4 : 50);
        int at = 0;
        for (int i = 0; i < n; ++i)
            if (distance(slab.mesh.nodes[size_t(i)], {12.5, 6}) < distance(slab.mesh.nodes[size_t(at)], {12.5, 6}))
                at = i;
        if (lifts) loads(slab.row(at), 0) += 3000;
        const ContactState shared = contact_on(m, slab, {}, loads), each = contact_on(m, slab, {.side = 0}, loads);
        ASSERT_LT(shared.force.size(), 0.55 * double(each.force.size()));
        const auto touching = [](const ContactState& s) {
            return std::count_if(s.force.begin(), s.force.end(), [](double f) { return f > 0; });
        };
        EXPECT_EQ(size_t(touching(each)) < each.force.size(), lifts);
        double largest = 0, off = 0;
        for (int i = 0; i < n; ++i) {
            largest = std::max(largest, std::abs(each.x[slab.row(i)]));
            off = std::max(off, std::abs(each.x[slab.row(i)] - shared.x[slab.row(i)]));
        }
        EXPECT_LT(off, 0.003 * largest);
        EXPECT_GT(off, 1e-7 * largest);
    }
}

TEST(Coupled, ThinSlabsHavePatchesOfTheirOwnBelowColumnsAlsoAfterAnEdit) {
    Model m = on_layer(box(0, 0, 10, 8), 0.4, 33000, 20);
    m.mesh_size = 0.5;
    m.columns = {column("C", 4.2, 4.3)};
    load(m, {PointLoad{{4.2, 4.3}, 800, 0, 0}, {}});
    load(m, {SlabLoad{20}, {}});
    auto below_column = [](const Answer& a) {
        const ContactPatches& p = *a.ground->patches;
        return p.nodes[size_t(p.of_node[size_t(a.mesh.column_node[0])])].size();
    };
    const auto thick = solve(m);
    EXPECT_GE(below_column(*thick), 4u);
    m.slab.thickness = 0.3;
    const auto cold = solve(m), edited = solve(m, {}, thick.get());
    EXPECT_EQ(below_column(*cold), 1u);
    EXPECT_EQ(below_column(*edited), 1u);
    EXPECT_EQ(edited->ground->patches->centre, cold->ground->patches->centre);
    const double s = settlement(*cold, {4.2, 4.3});
    EXPECT_NEAR(settlement(*edited, {4.2, 4.3}), s, 1e-6 * s);
}

TEST(Coupled, WhatHasLiftedEndsWhereThePressureDoesAlsoWithinAPatch) {
    Model m = on_layer(box(0, 0, 16, 8), 0.5, 33000, 15);
    m.ground.strata = {stratum("clay", 6, 0.4), stratum("sand", 40, 0.3)};
    m.ground.boreholes = {borehole("A", {-2, -2}, {{"clay", -6}, {"sand", -15}})};
    load(m, {PointLoad{{14, 4}, 4000, 0, 0}, {}});
    load(m, {SlabLoad{3}, {}});
    const auto a = solve(m);
    const CombinationAnswer& c = only(*a);
    ASSERT_TRUE(c.is_solved());
    ASSERT_LT(c.contact_ratio, 0.8);
    const FieldMap map = lifted_map(*a, c);
    const ContactPatches& patches = *a->stages.subsoil->ground->patches;
    int shared = 0, within = 0;
    for (size_t p = 0; p < patches.nodes.size(); ++p) {
        if (patches.nodes[p].size() < 4) continue;
        ++shared;
        bool holds = false, lifts = false;
        for (auto [node, share] : patches.nodes[p]) (c.hold[size_t(node)] > 0 ? holds : lifts) = true;
        within += holds && lifts;
    }
    EXPECT_GT(shared, 20);
    EXPECT_GT(within, 2);  // the border runs through patches, not round them
    // Nothing is loaded across the long axis: the border runs straight across, nearly.
    const Finder finder(a->mesh);
    auto border = [&](double y) {
        double from = 0, to = 14;
        for (int k = 0; k < 40; ++k) {
            const double x = (from + to) / 2;
            (map.at(finder.nearest({x, y}), a->mesh) < 0 ? from : to) = x;
        }
        return from;
    };
    for (int k = 0; k < 10; ++k) EXPECT_NEAR(border(2.2 + 0.4 * k), border(5.8 - 0.4 * k), 0.3) << k;
    // As much has lifted as the share in contact says.
    double lifted = 0;
    for (int i = 0; i < 160; ++i)
        for (int j = 0; j < 80; ++j)
            lifted += map.at(finder.nearest({0.1 * i + 0.05, 0.1 * j + 0.05}), a->mesh) < 0 ? 0.01 : 0;
    EXPECT_NEAR(lifted / 128, 1 - c.contact_ratio, 0.02);
}

TEST(Coupled, StrainsByCompressionIndexFitToo) {
    Model m = lifting_raft();
    strain_by_index(m);
    const auto a = solve(m);
    ASSERT_EQ(only(*a).ending, Ending::solved) << only(*a).explanation;
    EXPECT_LE(only(*a).compatibility, 1e-4);
    EXPECT_GT(only(*a).outer, 1);
}

// A stiff slab over clay that is ten times as soft beyond what it has borne before. With the rates at these forces
// alone the search goes to and fro between two of them, 6 % apart, as often as it is let.
TEST(Coupled, StrainComesToAnEndOnBothSidesOfWhatWasBorneBefore) {
    for (const auto& [borne, N] : {std::pair{125, 2700}, std::pair{130, 2800}, std::pair{135, 2900}}) {
        Model m = raft(box(0, 0, 12, 9), 0.9, 10000);
        m.mesh_size = 1;
        m.ground.model = GroundModel::coupled;
        m.ground.strata = {stratum("clay", 8, 0.3), stratum("sand", 40, 0.3)};
        m.ground.boreholes = {borehole("A", {2, 2}, {{"clay", -6}, {"sand", -15}})};
        m.ground.rigid_base_level = -15;
        strain_by_index(m);
        Stratum& clay = m.ground.strata[0];
        clay.compression_index = 0.4, clay.recompression_index = 0.03, clay.preconsolidation = borne;
        load(m, {SlabLoad{15}, {}});
        load(m, {PointLoad{{8, 5}, double(N), 0, 0}, {}});
        const auto a = solve(m);
        EXPECT_EQ(only(*a).ending, Ending::solved) << only(*a).explanation;
        EXPECT_LE(only(*a).compatibility, 1e-5);
        EXPECT_LE(only(*a).outer, 25);
    }
}

// The demo under three quarters of its loads, a metre thick, its columns anywhere: where a wing stands lightly on a
// clay that is fifteen times as soft beyond what it has borne, one combination in fourteen went to and fro without end.
TEST(Coupled, StrainComesToAnEndWhereAWingStandsLightly) {
    Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    m.ground.settlement_method = SettlementMethod::one_dimensional;
    for (Stratum& s : m.ground.strata)
        if (s.id == "alluvium")
            s.compression_index = 0.6, s.recompression_index = 0.04, s.void_ratio = 1.1, s.preconsolidation = 60;
    m.slab.thickness = 1, m.mesh_size = 0.9;
    for (Combination& c : *m.loads.combinations)
        for (auto& [id, factor] : c.factors) factor *= 0.75;
    int k = 0;
    for (Column& c : m.columns) ++k, c.at = c.at + 1.2 * Point{std::sin(8.9 * k), std::cos(8.9 * k)};
    const auto a = solve(m);
    for (const CombinationAnswer& c : a->combinations) {
        EXPECT_EQ(c.ending, Ending::solved) << c.combination.id << ": " << c.explanation;
        EXPECT_LE(c.compatibility, 1e-6) << c.combination.id;
        EXPECT_LE(c.outer, 30) << c.combination.id;
    }
}

// What a model's ground comes to, with or without what an earlier one has.
struct Formed {
    Formed(const Model& m, double pressure, const Formed* before = nullptr,
           std::shared_ptr<const ContactPatches> same = nullptr) {
        const testing::System slab(m);
        patches = same ? same : std::make_shared<const ContactPatches>(make_contact_patches(slab.mesh, slab.shares));
        auto g = std::make_shared<LayeredGround>(
            std::make_shared<const Model>(m), std::vector<Polygon>{std::get<Polygon>(m.slab.outline)}, slab.mesh.nodes);
        g->find_limit(pressure);
        ground = g;
        c = g->flexibility(patches, pressure, {}, before ? &before->c : nullptr);
        if (g->has_index()) index.emplace(g, patches, pressure, Progress{}, before ? &*before->index : nullptr);
    }
    Eigen::MatrixXd settlements() const {
        Eigen::MatrixXd forces(patches->count(), 1);
        for (int j = 0; j < patches->count(); ++j)
            forces(j, 0) = (20 + 6 * patches->centre[size_t(j)].x) * patches->area[size_t(j)];
        const Eigen::MatrixXd s = c.settlements(forces);
        return index ? index->settlements(s, forces) : s;
    }
    std::shared_ptr<const ContactPatches> patches;
    std::shared_ptr<const LayeredGround> ground;
    Flexibility c;
    std::optional<IndexStrain> index;
};
// That reloads first, two strata each at its own rate; without a rigid base, so that loads move the depth limit.
Model relieved_raft() {
    Model m = lifting_raft();
    m.ground.rigid_base_level.reset(), m.ground.founding_level = -1, m.ground.excavation_relief = true;
    m.ground.strata[0].E_reload = 20, m.ground.strata[1].E_reload = 60;
    for (Borehole& b : m.ground.boreholes) b.layers[1].bottom = -40;
    return m;
}

Formed lifting_by_index() {
    Model m = lifting_raft();
    strain_by_index(m);
    return Formed(m, 60);
}

struct Edit {
    const char* what;
    void (*make)(Model&);
    double pressure;
    bool takes = false;  // what lies above the depth limit
};
// Of each edit, on elastic strata and by index: check(what was formed before it, the model after it, the edit, by
// index).
template <class Check>
void after_each(const std::vector<Edit>& edits, const Model& model, Check check) {
    for (bool by_index : {false, true}) {
        Model m = model;
        if (by_index) strain_by_index(m);
        const Formed before(m, 60);
        for (const Edit& e : edits) {
            SCOPED_TRACE(std::string(e.what) + (by_index ? ", by index" : ""));
            Model edited = m;
            e.make(edited);
            check(before, edited, e, by_index);
        }
    }
}

TEST(Flexibility, TakesFromTheOneBeforeWhatLiesAboveTheDepthLimit) {
    const std::vector<Edit> edits{
        {"nothing", [](Model&) {}, 60, true},
        {"more load", [](Model&) {}, 75, true},
        {"a limit in the stratum above", [](Model&) {}, 8, false},
        {"softer below", [](Model& m) { m.ground.strata[1].E = 35; }, 60, false},
        {"a borehole goes deeper", [](Model& m) { m.ground.boreholes[0].layers[0].bottom = -3; }, 60, false},
        {"all reload at one rate", [](Model& m) { m.ground.strata[0].E_reload = 12, m.ground.strata[1].E_reload = 80; },
         60, false},
        {"founded deeper", [](Model& m) { m.ground.founding_level = -1.5; }, 60, false},
    };
    after_each(edits, relieved_raft(), [](const Formed& before, const Model& edited, const Edit& e, bool by_index) {
        const Formed cold(edited, e.pressure, nullptr, before.patches),
            started(edited, e.pressure, &before, before.patches);
        EXPECT_EQ(started.c.first, cold.c.first);
        EXPECT_EQ(started.c.less, cold.c.less);
        EXPECT_EQ(started.settlements(), cold.settlements());
        // by index, secants hang on the pressure
        EXPECT_EQ(started.c.above == before.c.above, e.takes && (!by_index || e.pressure == 60));
    });
    after_each({{"nothing, on other patches", [](Model&) {}, 60}}, relieved_raft(),
               [](const Formed& before, const Model& m, const Edit& e, bool) {
                   const Formed on_others(m, e.pressure, &before);
                   EXPECT_NE(on_others.c.above, before.c.above);
                   EXPECT_EQ(on_others.settlements(), before.settlements());
               });
}

TEST(Flexibility, WhatStaysBelowTheThresholdCountsInItsOwnColumnOnly) {
    const Flexibility c = Formed(relieved_raft(), 60).c;
    ASSERT_GT(c.less.size(), 0);
    const long n = c.first.rows();
    Eigen::MatrixXd r = Eigen::MatrixXd::Random(n, 12) * 40, spare = Eigen::MatrixXd::Zero(n, 12);
    for (long k : {1, 4, 11}) spare.col(k).head(n / (k + 1)) = Eigen::VectorXd::Random(n / (k + 1)).cwiseAbs() * 25;
    const Eigen::MatrixXd want = c.first.cast<double>() * r + c.less.cast<double>() * spare, got = c.times(r, spare);
    const double size = want.cwiseAbs().maxCoeff();
    EXPECT_LT((got - want).cwiseAbs().maxCoeff(), 1e-6 * size);
    EXPECT_GT((got - c.times(r, {})).col(11).cwiseAbs().maxCoeff(), 1e-3 * size);
    EXPECT_EQ(c.times(r.leftCols(1), spare.leftCols(1)), c.times(r.leftCols(1), {}));  // nothing below it
}

// By column the rows that stay below the threshold, with some number each.
Eigen::MatrixXd spare_on(const std::vector<std::vector<long>>& rows, long n) {
    Eigen::MatrixXd spare = Eigen::MatrixXd::Zero(n, long(rows.size()));
    for (size_t c = 0; c < rows.size(); ++c)
        for (long i : rows[c]) spare(i, long(c)) = 5 + double(i % 7);
    return spare;
}

TEST(ReloadColumns, GiveWhatTheWholeFlexibilityGives) {
    Model m = relieved_raft();
    m.mesh_size = 0.28;
    const Flexibility c = Formed(m, 60).c;
    const long n = c.first.rows();
    ASSERT_GT(n / 3, 128);         // which is as many as it has room for at first
    std::vector<long> many, most;  // more than that; more than half
    for (long i = 0; i < n; ++i) {
        if (i % 3 == 0) many.push_back(i);
        if (i % 5) most.push_back(i);
    }
    ReloadColumns columns(c);
    for (const auto& rows : std::vector<std::vector<std::vector<long>>>{
             {{}, {}},               // nothing below it
             {{3, n - 1}, {}},       // two patches
             {{3}, {20, 21}},        // one that is known, two that are not
             {{}, {n - 1}},          // one that is known, in another column
             {many, {3, 20}},        //
             {most, many},           // too many to keep
             {{20}, {3, 21, n - 1}}  // as before
         }) {
        const Eigen::MatrixXd r = Eigen::MatrixXd::Random(n, 2) * 40, spare = spare_on(rows, n),
                              want = c.times(r, spare), got = columns.times(r, spare);
        EXPECT_LT((got - want).cwiseAbs().maxCoeff(), 1e-6 * want.cwiseAbs().maxCoeff());
    }
    const Eigen::MatrixXd r = Eigen::MatrixXd::Random(n, 2);
    EXPECT_EQ(columns.times(r, {}), c.times(r, {}));
}

TEST(ReloadColumns, LeaveToTheWholeWhatReloadsInProportion) {
    Model m = relieved_raft();
    m.ground.strata[0].E_reload = 2 * m.ground.strata[0].E, m.ground.strata[1].E_reload = 2 * m.ground.strata[1].E;
    const Flexibility c = Formed(m, 60).c;
    ASSERT_EQ(c.less.size(), 0);
    const long n = c.first.rows();
    const Eigen::MatrixXd r = Eigen::MatrixXd::Random(n, 2), spare = spare_on({{1, 2}, {}}, n);
    EXPECT_EQ(ReloadColumns(c).times(r, spare), c.times(r, spare));
    EXPECT_GT((c.times(r, spare) - c.times(r, {})).norm(), 0);
}

TEST(Flexibility, IsTheSameWherePairsNearByAreTakenFromTheOneBefore) {
    const std::vector<Edit> edits{
        {"a column moves", [](Model& m) { m.columns[0].at.x += 0.2; }, 60},
        {"a rim and the load",
         [](Model& m) {
             for (Point& p : std::get<Polygon>(m.slab.outline)) p.x += p.x > 6 ? 0.3 : 0;
         },
         70},
        {"a column, and softer ground on one side",
         [](Model& m) { m.columns[0].at.x += 0.2, m.ground.boreholes[0].layers[0].bottom -= 0.7; }, 60},
        {"larger patches", [](Model& m) { m.mesh_size = 1.5; }, 60},
    };
    Model m = relieved_raft();
    m.columns = {testing::column("A", 4, 5)};
    after_each(edits, m, [](const Formed& before, const Model& edited, const Edit& e, bool) {
        const Formed cold(edited, e.pressure), started(edited, e.pressure, &before);
        EXPECT_EQ(started.c.first, cold.c.first);
        EXPECT_EQ(started.c.less, cold.c.less);
    });
}

TEST(IndexStrain, IsThatOfEachPointWhetherItsStressesAreKeptOrNot) {
    const Formed of = lifting_by_index();
    const auto& [p, ground, c, index] = of;
    const IndexStrain &kept = *index, anew(ground, p, 60, {}, nullptr, 0);  // its stresses kept and made anew
    const long n = p->count();
    const IndexStrain some(ground, p, 60, {}, nullptr, 4.0 * double(n * n));  // kept while there is room
    Eigen::MatrixXd forces(p->count(), 2);  // even, and five times as much at one end as at the other
    for (int j = 0; j < p->count(); ++j) {
        forces(j, 0) = 60 * p->area[size_t(j)];
        forces(j, 1) = (20 + 80 * p->centre[size_t(j)].x / 12) * p->area[size_t(j)];
    }
    const Eigen::MatrixXd by_flexibility = c.settlements(forces);
    const Eigen::MatrixXd s = kept.settlements(by_flexibility, forces), t = anew.settlements(by_flexibility, forces),
                          u = some.settlements(by_flexibility, forces);
    EXPECT_EQ(s, t);
    EXPECT_EQ(s, u);
    for (long k = 0; k < 2; ++k) {
        const std::vector<double> f(forces.col(k).begin(), forces.col(k).end());
        for (int j = 0; j < p->count(); j += 23)
            EXPECT_NEAR(s(j, k), sum(ground->settle(p->centre[size_t(j)], *p, f, {}, 60)), 0.02 * s.maxCoeff());
    }
}

TEST(IndexStrain, ItsSlopeIsWhatALittleMoreHereAndLessThereDoes) {
    const Formed of = lifting_by_index();
    const auto& [p, ground, c, index] = of;
    const IndexStrain &kept = *index, anew(ground, p, 60, {}, nullptr, 0);  // its stresses kept and made anew
    const long n = p->count();
    Eigen::MatrixXd forces(n, 1), change(n, 1);  // in waves, so that the mean rate would say nothing of it
    for (long j = 0; j < n; ++j) {
        const Point at = p->centre[size_t(j)];
        forces(j, 0) = (20 + 80 * at.x / 12) * p->area[size_t(j)];
        change(j, 0) = 1e-3 * std::cos(2 * at.x) * std::cos(at.y) * forces(j, 0);
    }
    Eigen::MatrixXd beyond, beyond_anew;
    const Eigen::MatrixXd before = kept.settlements(c.settlements(forces), forces, {}, &beyond),
                          after = kept.settlements(c.settlements(forces + change), forces + change),
                          less = kept.settlements(c.settlements(forces - change), forces - change);
    anew.settlements(c.settlements(forces), forces, {}, &beyond_anew);
    const Eigen::VectorXd by_flexibility = c.times(change, {});
    Eigen::VectorXd grown = by_flexibility, grown_anew = by_flexibility;
    IndexStrain::Slopes made, none;
    auto slope = kept.slopes(beyond, made).at(0);
    slope->add_product(change.col(0), grown);
    anew.slopes(beyond_anew, none).at(0)->add_product(change.col(0), grown_anew);
    const Eigen::VectorXd exact = (after - less) / 2;
    const double largest = exact.cwiseAbs().maxCoeff();
    // Where a clay passes the stress that it has borne before, more and less do not the same: no further off than both.
    const Eigen::VectorXd more = after - before, fewer = before - less;
    const Eigen::VectorXd off = (grown - more.cwiseMax(fewer)).cwiseMax(more.cwiseMin(fewer) - grown);
    EXPECT_LT(off.maxCoeff(), 0.01 * largest);
    EXPECT_LT((grown_anew - grown).cwiseAbs().maxCoeff(), 1e-4 * largest);
    EXPECT_GT((by_flexibility - exact).cwiseAbs().maxCoeff(), 0.1 * largest);  // which is not it
    EXPECT_NEAR(before(0, 0), (after(0, 0) + less(0, 0)) / 2, 1e-3 * before(0, 0));
    // A slope that somebody holds is left as it is, the memory of one that nobody holds is used again.
    const auto other = kept.slopes(2 * beyond, made).at(0);
    EXPECT_NE(other, slope);
    EXPECT_NEAR(other->own(7), 2 * slope->own(7), 1e-3 * std::abs(slope->own(7)));
    const void* const first = slope.get();
    const double own = slope->own(7);
    slope.reset();
    const auto third = kept.slopes(beyond, made).at(0);
    EXPECT_EQ(third.get(), first);
    EXPECT_EQ(third->own(7), own);
    EXPECT_EQ(made.size(), 2u);
}

TEST(Coupled, AgreesWithSpringsTakenFromItself) {
    // The moduli it ends on, carried to plain springs, give the same slab (theory: k = p/s at each node).
    Model m = lifting_raft();
    m.loads.cases[0].items = {{SlabLoad{60}, {}}};
    const auto a = solve(m);
    testing::System slab(m);
    slab.bed.supports = Supports(slab.plate.of);
    for (int i = 0; i < int(slab.mesh.nodes.size()); ++i) {
        Support s;
        s.sees = {{i, 1, a->acts_at(i) - a->mesh.nodes[size_t(i)]}};
        s.area = slab.shares.area[size_t(i)], s.stiffness = s.area * only(*a).modulus[size_t(i)];
        slab.bed.supports.add(s);
    }
    slab.full = slab.bed.supports.with_springs(slab.K);
    ASSERT_TRUE(slab.factor.factorize(slab.full));
    const auto s = find_contact(slab.contact(), slab.even(60), {});
    for (size_t i = 0; i < a->mesh.nodes.size(); i += 11)
        EXPECT_NEAR(s[0].x[slab.row(long(i))], only(*a).settlement(int(i)), 0.02 * only(*a).settlement(int(i)));
}

TEST(Ground, ShowsGrossAndNetPressure) {
    Model m = on_layer(box(0, 0, 10, 8), 0.5, 33000, 20);
    m.ground.founding_level = -3, m.slab.top_level = -2.5, m.ground.water_level = -1;
    load(m, {SlabLoad{100}, {}});
    load(m, {Uplift{-1}, {}});
    const auto a = solve(m);
    const CombinationAnswer& c = only(*a);
    EXPECT_NEAR(c.water[5], 2 * 9.81, 1e-9);
    EXPECT_NEAR(c.gross(5), c.pressure[5] + 19.62, 1e-9);
    EXPECT_NEAR(c.net(5), c.gross(5) - (18 + 2 * 20), 1e-9);
    EXPECT_NEAR(c.ground_reaction.Fz, (100 - 19.62) * 80, 1e-3);  // the ground carries what the water does not
}

TEST(Ground, TurnsBearingValuesIntoModuli) {
    EXPECT_DOUBLE_EQ(modulus_from_settlement(150, 0.05), 3000);
    EXPECT_DOUBLE_EQ(modulus_from_bearing(150, 3), 18000);
    EXPECT_NEAR(modulus_from_plate(60000, 0.3, 3, 3, PlateSoil::sand), 60000 * std::pow(3.3 / 6, 2), 1e-6);
    EXPECT_NEAR(modulus_from_plate(60000, 0.3, 3, 3, PlateSoil::clay), 6000, 1e-6);
}

TEST(Ground, ComparesModelsAndBracketsStiffness) {
    Model m = lifting_raft();
    m.ground.modulus = 3000;
    const auto rows = compare_grounds(m, "S");
    ASSERT_EQ(rows.size(), 3u);
    for (const GroundRow& r : rows) EXPECT_EQ(r.why_not, "") << r.model;
    EXPECT_GT(rows[2].max_pressure, rows[0].max_pressure);  // rims of layered ground press harder
    const auto bracket = bracket_ground(m);
    const auto settled =
        std::find_if(bracket.begin(), bracket.end(), [](auto& r) { return r.title == "Largest settlement"; });
    ASSERT_NE(settled, bracket.end());
    EXPECT_GT(settled->value[0], settled->value[1]);
    EXPECT_GT(settled->value[1], settled->value[2]);
    m.ground.boreholes.clear();
    EXPECT_THAT(compare_grounds(m, "S")[2].why_not, HasSubstr("no borehole"));
}

TEST(DepthChart, SharesAddUpAndSayWhichLayer) {
    Model m = lifting_raft();
    m.ground.strata[0].cv = 1.5;
    const auto a = solve(m);
    const auto chart = depth_chart(*a, "S", {9, 4});
    ASSERT_TRUE(chart);
    double shares = 0;
    for (const auto& l : chart->layers) shares += l.share;
    EXPECT_NEAR(shares, 1, 1e-9);
    EXPECT_GT(chart->layers[0].share, 0.5);  // the clay does it
    EXPECT_NEAR(chart->settlement, settlement(*a, {9, 4}), 0.03 * chart->settlement);
    ASSERT_EQ(chart->times.size(), 3u);
    EXPECT_LT(chart->times[0].settlement, chart->times[2].settlement);
    EXPECT_LE(chart->times[2].settlement, chart->settlement);
    EXPECT_FALSE(depth_chart(*a, "nonsense", {9, 4}));
}

// What is wrong, and a word its sentence must hold.
TEST(Ground, SaysWhatIsWrongWithStrataAndBoreholes) {
    auto said = [](auto spoil) {
        Model m = lifting_raft();
        spoil(m);
        std::string all;
        for (const Problem& p : problems_of(m)) all += p.sentence() + "\n";
        return all;
    };
    EXPECT_EQ(said([](Model&) {}), "");
    auto layer = [](Model& m, size_t k) -> BoreholeLayer& { return m.ground.boreholes[0].layers[k]; };
    EXPECT_THAT(said([&](Model& m) { layer(m, 0).bottom = -20; }), HasSubstr("thickness is negative"));
    EXPECT_THAT(said([&](Model& m) { layer(m, 0).bottom = 1; }), HasSubstr("above the ground"));
    EXPECT_THAT(said([](Model& m) { m.ground.strata[0].E = 0; }), HasSubstr("E is 0"));
    EXPECT_THAT(said([](Model& m) { m.ground.strata[0].nu = 0.5; }), HasSubstr("Poisson's ratio is 0.5"));
    EXPECT_THAT(said([&](Model& m) { layer(m, 0).stratum = "mud"; }), HasSubstr("\"mud\" that does not exist"));
    EXPECT_THAT(said([](Model& m) { m.ground.boreholes[1].at = m.ground.boreholes[0].at; }), HasSubstr("left out"));
    EXPECT_THAT(said([](Model& m) { m.ground.boreholes[2].at = {30, -2}; }), HasSubstr("on one line"));
    EXPECT_THAT(said([](Model& m) {
                    std::swap(m.ground.boreholes[0].layers[0].stratum, m.ground.boreholes[0].layers[1].stratum);
                }),
                HasSubstr("contradicting order"));
    EXPECT_THAT(said([](Model& m) {
                    for (auto& b : m.ground.boreholes) b.at.x += 500;
                }),
                HasSubstr("outside the boreholes"));
    EXPECT_THAT(said([](Model& m) { m.ground.founding_level = -16; }), HasSubstr("below the deepest layer"));
    EXPECT_THAT(said([](Model& m) { m.ground.rigid_base_level = 1; }), HasSubstr("above the founding level"));
    EXPECT_THAT(said([](Model& m) { m.ground.boreholes[0].layers.pop_back(); }), HasSubstr("pinch out"));
    EXPECT_THAT(said([](Model& m) { m.ground.boreholes.clear(); }), HasSubstr("no borehole"));
    EXPECT_THAT(said([](Model& m) { m.ground.combination_for_springs = "Z"; }), HasSubstr("no combination \"Z\""));
    // Where springs do not come from the strata, their faults do not stop the work.
    Model m = lifting_raft();
    m.ground.model = GroundModel::uniform, m.ground.strata[0].E = 0;
    EXPECT_FALSE(has_errors(problems_of(m)));
    EXPECT_EQ(only(*solve(m)).ending, Ending::solved);
}

TEST(Ground, WarnsWhenBoringsStopShort) {
    Model m = lifting_raft();
    m.ground.rigid_base_level.reset();
    m.ground.depth_limit_ratio = 0.02;
    const auto a = solve(m);
    EXPECT_TRUE(std::any_of(a->problems.begin(), a->problems.end(), [](const Problem& p) {
        return p.sentence().find("short of the depth") != std::string::npos;
    }));
}

}  // namespace
}  // namespace mossbed
