// EN 1992-1-1 by hand, punching, strips, bars, checks. The hand calculation stands above the number.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <numbers>
#include <numeric>

#include "core/answer/convergence.h"
#include "core/codes/en1992/european_code.h"
#include "core/codes/worst_perimeter.h"
#include "core/fields/cut_forces.h"
#include "core/judge/checks.h"
#include "core/steel/choose_bars.h"
#include "tests/core/judge/pad.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using ::testing::HasSubstr;
using testing::load;
using testing::only;
using testing::pad_model;
using testing::Page;
using testing::raft;

constexpr double pi = std::numbers::pi;
const EuropeanCode code;

const Row* find(const Answer& a, const std::string& id, const std::string& item = "") {
    for (const Row& r : a.checks)
        if (r.id == id && (item.empty() || r.item == item)) return &r;
    return nullptr;
}

// --- 6.1 bending, 9.2.1.1 minimum

// Clauses: EN 1992-1-1 | 3.1.7(3), 6.1, 5.5(4) | bending with the rectangular block, x/d ≤ 0.448 (to C50/60)
TEST(EN1992_6_1, SteelForAMomentByHand) {
    // b 1000, d 450, C30/37, B500, M 300: fcd 20; 2M/(f b d²) = 0.148148; z = d (1 + √(1 − 0.148148))/2 = 432.67;
    // As = 300e6/(434.783 · 432.67) = 1594.8
    const auto As = code.flexural_steel({1000, 500, 450, 30, 500, 200000}, 300, nullptr);
    ASSERT_TRUE(As);
    EXPECT_NEAR(*As, 1594.8, 0.2);
}
TEST(EN1992_6_1, BeyondTheDuctileDepthNoSteelFits) {
    // x/d ≤ 0.448: M = 20 · 1000 · 0.8·0.448·450 · (450 − 0.8·0.448·450/2) = 1191.5 kN·m
    const Section s{1000, 500, 450, 30, 500, 200000};
    EXPECT_TRUE(code.flexural_steel(s, 1191, nullptr));
    EXPECT_FALSE(code.flexural_steel(s, 1193, nullptr));
    EXPECT_NEAR(code.least_depth(s, 1191.5), 450, 0.2);
}
TEST(EN1992_6_1, HighStrengthConcreteHasTheSmallerBlock) {
    // C80: λ = 0.725, η = 0.85: f = 0.85 · 80/1.5 = 45.333; 2M/(f b d²) = 0.0653595; z = d (1 + √(1 − …))/2 = 442.52;
    // As = 1559.25
    EXPECT_NEAR(*code.flexural_steel({1000, 500, 450, 80, 500, 200000}, 300, nullptr), 1559.25, 0.1);
}
// Clauses: EN 1992-1-1 | 9.2.1.1(1), 9.3.1.1(1) | minimum steel, of each thickness and concrete for itself
TEST(EN1992_9_2_1_1, MinimumSteel) {
    EXPECT_NEAR(code.minimum_steel({1000, 500, 450, 30, 500, 200000}, nullptr), 0.26 * 2.8965 / 500 * 450000,
                0.5);  // fctm = 0.3 · 30^⅔
    EXPECT_NEAR(code.minimum_steel({1000, 500, 450, 12, 500, 200000}, nullptr), 0.0013 * 450000,
                1e-9);  // the lower bound
}
// Clauses: EN 1992-1-1 | 6.2.2(1) | shear without links, less 0.15 of a pull in the slab's plane (σ_cp; a push is left
// out)
TEST(EN1992_6_2_2, ShearWithoutLinksByHand) {
    // d 450, ρ 0.5 %, C30: k = 1.6667; v = 0.12 · 1.6667 · 15^⅓ = 0.49324; vmin = 0.035 · 1.6667^1.5 · √30 = 0.41249; V
    // = 221.96
    EXPECT_NEAR(code.shear_borne({1000, 500, 450, 30, 500, 200000}, 2250, nullptr), 221.96, 0.05);
}
TEST(EN1992_6_2_2, APullInTheSlabsPlaneTakesFromTheShearBorne) {
    // As above with σ_cp = −1 MPa: 0.49324 − 0.15 · 1 = 0.34324 MPa, V = 154.46 kN; far more pull leaves nothing
    Section s{1000, 500, 450, 30, 500, 200000};
    s.pull = 1;
    Working by;
    EXPECT_NEAR(code.shear_borne(s, 2250, &by), 154.46, 0.05);
    EXPECT_TRUE(std::any_of(by.terms.begin(), by.terms.end(), [](const Term& t) { return t.symbol == "σ_t"; }));
    s.pull = 4;
    EXPECT_EQ(code.shear_borne(s, 2250, nullptr), 0);
}
// Clause: EN 1992-1-1 | 2.4.2.4, 3.1.6, 3.2.7 | design strengths, γc 1.5, γs 1.15, αcc 1.0
TEST(EN1992, NationalChoicesAreTaken) {
    const EuropeanCode n(national_choices(R"({"alpha_cc":0.85,"gamma_s":1.0})"));
    // fcd 17, fyd 500: 2M/(17·1000·450²) = 0.174292; z = 429.45; As = 300e6/(500 · 429.45) = 1397.1
    EXPECT_NEAR(*n.flexural_steel({1000, 500, 450, 30, 500, 200000}, 300, nullptr), 1397.1, 0.3);
}

// --- 6.4.4(2) punching of a footing: each perimeter by itself

PunchedArea square() { return {box(-0.25, -0.25, 0.25, 0.25), {}, 0.5, 0.5}; }
PunchingCase pad() {
    PunchingCase p;
    p.d = 0.5, p.rho_x = p.rho_y = 0.005, p.fc = 30, p.V = 2000;
    return p;
}
struct Worst {
    PunchingVerdict verdict;
    Perimeter at;
};
Worst worst_of(const PunchingCase& p, double M1 = 0, double M2 = 0, const PunchedArea& area = square(),
               const std::vector<Polygon>& openings = {}) {
    const auto all = perimeters_to_try(code, Perimeters(area, code.perimeter_rule(p.d), openings), p.d);
    const WorstPerimeter w = find_worst_perimeter(code, p, all, [&](const Perimeter& at) {
        const double relief = 150 * (0.25 + 2 * at.a + pi * at.a * at.a);  // 150 kPa net
        return PunchingForce{relief, p.V - relief, M1, M2};
    });
    return {w.verdict, *w.at};
}

TEST(PunchingPerimeters, AreTriedAsFarAsTheRimAtWhichTheirFamilyEnds) {
    const PunchedArea area = square();
    const Perimeters round(area, code.perimeter_rule(0.5), {});
    const auto all = perimeters_to_try(code, round, 0.5), some = perimeters_to_try(code, round, 0.5, 1e300, 0, 0.6);
    ASSERT_EQ(all.size(), 40u);   // up to 2d = 1 m
    ASSERT_EQ(some.size(), 24u);  // that at the rim itself too
    for (size_t i = 0; i < some.size(); ++i) {
        EXPECT_EQ(some[i].a, all[i].a);
        EXPECT_EQ(some[i].length, all[i].length);
    }
    EXPECT_NEAR(some.back().a, 0.6, 1e-12);
    EXPECT_TRUE(perimeters_to_try(code, round, 0.5, 1e300, 0, 0.01).empty());
}

// Clauses: EN 1992-1-1 | 6.4.4(2), (6.48)–(6.50) | punching of foundations, perimeters from the face to 2d, pressing
// or, with the top steel, pulling
TEST(EN1992_6_4_4, TheWorstPerimeterOfAPadByScanning) {
    // k = 1 + √0.4 = 1.63246; v = 0.12 · 1.63246 · 15^⅓ = 0.48311 > vmin 0.39985; scan a in steps of 1 mm by hand in
    // here
    double worst = 0, at = 0;
    for (int mm = 1; mm <= 1000; ++mm) {
        const double a = 0.001 * mm;
        const double u = 2 + 2 * pi * a, net = 2000 - 150 * (0.25 + 2 * a + pi * a * a);
        const double use = net / (u * 0.5) / 1000 / (0.48311 * 2 * 0.5 / a);
        if (use > worst) worst = use, at = a;
    }
    const Worst v = worst_of(pad());
    EXPECT_NEAR(v.verdict.utilisation, worst, 0.002 * worst);
    EXPECT_NEAR(v.at.a, at, 0.03);
    EXPECT_NEAR(*v.verdict.beta, 1, 1e-12);
}
TEST(EN1992_6_4_3, MomentsOfBothDirectionsAdd) {
    const Worst w = worst_of(pad(), 100, -60);
    const PunchingVerdict& v = w.verdict;
    // W at a: c²/2 + c² + 2 c a + 4 a² + π a c;  k = 0.6 for a square
    const double a = w.at.a, u = 2 + 2 * pi * a, W = 0.375 + a + 4 * a * a + pi * a * 0.5;
    EXPECT_NEAR(*v.beta, 1 + 0.6 * 160 / v.V_net * u / W, 1e-9);
    EXPECT_NEAR(v.v, *v.beta * v.V_net / (w.at.length * 0.5) / 1000, 1e-9);
    EXPECT_NEAR(v.v_from_moment, v.v - v.V_net / (w.at.length * 0.5) / 1000, 1e-9);
}
// Clause: EN 1992-1-1 | 6.4.5(3) | face of interior, edge and corner columns, 0.4 ν fcd
TEST(EN1992_6_4_5, TheFaceOfTheColumn) {
    // u0 = 2 m; v = 2000/(2 · 0.5)/1000 = 2.0; limit 0.4 · 0.6 (1 − 30/250) · 20 = 4.224
    const Perimeter face = Perimeters(square(), code.perimeter_rule(0.5), {}).at(0);
    const auto v = code.punching_at_face(pad(), face, {0, 2000, 0, 0}, nullptr);
    ASSERT_TRUE(v);
    EXPECT_NEAR(v->v, 2.0, 1e-9);
    EXPECT_NEAR(v->v_limit, 4.224, 1e-9);
}
// Clauses: EN 1992-1-1 | 6.4.2(3) | openings shade perimeters
TEST(EN1992_6_4_2, AnOpeningNearByTakesAwayWhatItShades) {
    const Worst shaded = worst_of(pad(), 0, 0, square(), {box(0.9, -0.2, 1.3, 0.2)}), whole = worst_of(pad());
    EXPECT_LT(shaded.at.length / (2 + 2 * pi * shaded.at.a), 0.97);
    EXPECT_GT(shaded.verdict.utilisation, 1.03 * whole.verdict.utilisation);
    const Worst far = worst_of(pad(), 0, 0, square(), {box(4, -0.2, 4.4, 0.2)});  // beyond 6 d = 3 m
    EXPECT_NEAR(far.verdict.utilisation, whole.verdict.utilisation, 1e-12);
}
TEST(EN1992_6_4_2, ARoundColumnHasARoundPerimeter) {
    PunchingCase p = pad();
    p.round = true;
    const Worst v = worst_of(p, 0, 0, {round_polygon({}, 0.25, 32), {}, 0.5, 0.5, true});
    EXPECT_NEAR(v.at.length, pi * (0.5 + 2 * v.at.a), 1e-9);
}

// --- a pad under one column: everything by statics

const SectionRow* section(const StripAnswer& s, double at) {
    for (const SectionRow& r : s.sections)
        if (std::abs(r.s - at) < 1e-6) return &r;
    return nullptr;
}

TEST(Strips, APadsSectionsFollowStatics) {
    Model m = pad_model();
    m.steel.twisting = false;  // twisting_test.cpp has it
    const auto a = solve(m);
    ASSERT_EQ(a->steel.strips.size(), 2u);
    const StripAnswer& x = a->steel.strips[0];
    for (double s : {0.5, 1.0, 1.75}) {
        const SectionRow* r = section(x, s);
        ASSERT_TRUE(r) << s;
        EXPECT_NEAR(r->M, 185.625 * 4 * s * s / 2, 0.005 * 1137);  // cantilever
        EXPECT_NEAR(r->V, 185.625 * 4 * s, 0.005 * 1300);
    }
    // d = 700 − 50 − 10 = 640: M = 1136.95 at the face; As = 4 m by hand: 2M/(20·4000·640²) = 0.069394, z = 628.7, As =
    // 4159.6
    EXPECT_NEAR(*section(x, 1.75)->bottom_required, 4159.6, 25);
    EXPECT_NEAR(section(x, 1.75)->bottom_provided, 4000.0 / 150 * pi * 100, 0.5);
    // Inside the support steel is no more than at its face, though the moment is.
    const SectionRow* middle = section(x, 2.0);
    ASSERT_TRUE(middle && middle->in_support);
    EXPECT_NEAR(*middle->bottom_required, *section(x, 1.75)->bottom_required, 1);
    const Row* bending = find(*a, "bending", "X1 bottom");
    ASSERT_TRUE(bending);
    EXPECT_NEAR(*bending->utilisation, 4159.6 / 8377.6, 0.005);
    EXPECT_FALSE(bending->working.empty());
}

// On springs; on layered ground pressure peaks at rims, and how a rim patch's force is spread matters more to the
// field.
TEST(Strips, AllStripsAtACutAddUpToTheSlabInEquilibrium) {
    Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    m.ground.model = GroundModel::uniform, m.ground.modulus = 12000, m.ground.yield_pressure.reset();
    const auto a = solve(m);
    std::vector<int> solved(a->combinations.size());
    std::iota(solved.begin(), solved.end(), 0);
    for (const Point u : {Point{1, 0}, Point{0, 1}}) {
        const CutForces forces(*a, solved, u);
        for (double t : {4.6, 10.2, 15.6, 18.6}) {
            const CutForces::Cut cut = forces.at(t);
            for (long c = 0; c < long(solved.size()); ++c) {
                double M = 0, V = 0;
                for (int k = 0; k < 48; ++k)  // neighbouring strips of an odd width
                    for (const CutShare& s : forces.share(cut, -40 + 1.7 * k, -40 + 1.7 * (k + 1)))
                        M += s.M[c], V += s.V[c];
                EXPECT_NEAR(M, cut.M[c], 1e-6 * (1 + std::abs(cut.M[c])));
                EXPECT_NEAR(V, cut.V[c], 1e-6 * (1 + std::abs(cut.V[c])));
                // A metre or more off the columns the plate's own field is near what statics asks for: the share that
                // closes the sum stays small: 5 % of what is shared out and 1 % of the largest moment of the slab (3
                // MN·m).
                EXPECT_NEAR(cut.field_M[c], cut.M[c], 0.05 * cut.size_M[c] + 30)
                    << "t = " << t << ", " << a->combinations[size_t(c)].combination.id;
            }
        }
    }
}

TEST(Strips, BandsFollowTheColumnsAndCoverTheSlab) {
    Model m = raft(box(0, 0, 14, 11), 0.6, 15000);
    for (double x : {1.0, 7.0, 13.0})
        for (double y : {1.0, 5.4, 5.6, 10.0})
            if (!(y == 5.4 && x == 7) && !(y == 5.6 && x != 7))
                m.columns.push_back(column(fmt::format("C{}-{}", x, y), x, y));
    const auto strips = lay_out_strips(m, testing::band_of(2));
    std::vector<std::string> ids;
    ids.reserve(strips.size());
    for (const StripAnswer& s : strips) ids.push_back(s.strip.id);
    // 5.4 and 5.6 gather into one line; its band reaches a quarter of each span
    EXPECT_EQ(ids, (std::vector<std::string>{"X1", "X1-2", "X2", "X2-3", "X3", "Y1", "Y1-2", "Y2", "Y2-3", "Y3"}));
    EXPECT_NEAR(strips[0].strip.reach[1], 1, 1e-9);        // to the rim
    EXPECT_NEAR(strips[5].strip.reach[1], 6.0 / 4, 1e-9);  // a quarter of 6 m, to the right of an axis that runs up
    EXPECT_EQ(uncovered_area(m, strips, Direction::x), 0);
    EXPECT_EQ(uncovered_area(m, strips, Direction::y), 0);
    m.steel.strips = std::vector<Strip>{strips[0].strip};
    EXPECT_GT(uncovered_area(m, lay_out_strips(m, testing::band_of(2)), Direction::x), 100);
}

TEST(Strips, ASlabWithoutColumnsGetsEqualStrips) {
    const auto strips = lay_out_strips(raft(box(0, 0, 9, 6), 0.5, 1e4), testing::band_of(2));
    EXPECT_EQ(strips.size(), 2u + 3u);
}

// Clauses: EN 1992-1-1 | 9.3.1.1(3) | spacing: 2h ≤ 250 mm where loads are concentrated
TEST(Bars, TheLeastSteelThatPassesAndTheWiderSpacingOfEqualOnes) {
    const ChosenBars b = choose_bars({12, 16, 20}, {100, 125, 150, 200, 250}, 250,
                                     [](double d, double s) { return pi / 4 * d * d * 1000 / s >= 1000; });
    EXPECT_EQ(b.diameter, 16);
    EXPECT_EQ(b.spacing, 200);  // 1005 mm²/m
    EXPECT_TRUE(b.fits);
    EXPECT_FALSE(choose_bars({10}, {200}, 250, [](double, double) { return false; }).fits);
}

TEST(Bars, LeftOpenTheyAreChosenSoThatAllPass) {
    Model m = pad_model();
    m.steel.bottom_x = m.steel.bottom_y = m.steel.top_x = m.steel.top_y = {};
    m.steel.twisting = false;
    const auto a = solve(m);
    for (const Row& r : a->checks) {
        if (r.id == "minimum-steel" || r.id == "spacing" || (r.id == "bending" && r.item.ends_with("top"))) {
            EXPECT_EQ(r.status, Status::pass) << r.title;
        }
        if (r.id == "bending" || r.id == "minimum-steel") {
            EXPECT_LE(r.utilisation.value_or(9), 1) << r.title;  // bottom: a mean over 4 m, which is not called a pass
        }
        if (r.id == "minimum-steel") {
            EXPECT_TRUE(r.chosen) << r.title;
        }
    }
    EXPECT_TRUE(a->steel.bottom_x.chosen);
    EXPECT_GT(a->steel.bottom_x.area(), 4159.6 / 4);
    EXPECT_LT(a->steel.bottom_x.area(), 1.15 * 4159.6 / 4);  // and not wasteful
}

TEST(Bars, WhereNoSteelFitsTheThicknessThatWouldIsNamedAndDoes) {
    Model m = pad_model();
    m.slab.thickness = 0.25;  // d 190: M/(fcd b d²) = 0.394, above 0.294
    auto a = solve(m);
    const Row* r = find(*a, "bending", "X1 bottom");
    ASSERT_TRUE(r);
    EXPECT_EQ(r->status, Status::over);
    EXPECT_THAT(r->note, HasSubstr("No amount of steel fits"));
    const size_t at = r->note.find("about ");
    m.slab.thickness = std::stod(r->note.substr(at + 6));
    a = solve(m);
    EXPECT_THAT(find(*a, "bending", "X1 bottom")->note, Not(HasSubstr("No amount")));
}

// The worst basic perimeter round a square, by EN 1992-1-1 6.4.4(2) in steps of a millimetre: v = (V − p A)/(u d)
// against v_Rd,c 2d/a of C30, γc 1.5.
struct Square {
    double V, p;       // kN, kPa
    double area, rim;  // m², m, of the loaded square
    double d, As;      // m; mm²/m both ways
};
struct Scan {
    double use = 0, at = 0;  // m
};
Scan worst_by_scanning(const Square& q) {
    const double k = std::min(2.0, 1 + std::sqrt(0.2 / q.d)), rho = std::min(0.02, q.As / (1e6 * q.d));
    const double v_Rd = std::max(0.12 * k * std::cbrt(100 * rho * 30), 0.035 * std::pow(k, 1.5) * std::sqrt(30.0));
    Scan worst;
    for (int mm = 1; 0.001 * mm <= 2 * q.d; ++mm) {
        const double a = 0.001 * mm;
        const double u = q.rim + 2 * pi * a, net = q.V - q.p * (q.area + q.rim * a + pi * a * a);
        const double use = net / (u * q.d) / 1000 / (v_Rd * 2 * q.d / a);
        if (use > worst.use) worst = {use, a};
    }
    return worst;
}

TEST(Punching, OfAPadAgreesWithTheCodeFedByHand) {
    const auto a = solve(pad_model());
    ASSERT_EQ(a->punching.size(), 1u);
    const PunchingAnswer& p = a->punching[0];
    EXPECT_EQ(p.V, 2970);
    const double reach = (p.perimeter - 2) / (2 * pi);
    EXPECT_NEAR(p.relief, 185.625 * (0.25 + 2 * reach + pi * reach * reach), 0.01 * p.relief);
    // d = (640 + 620)/2 mm, ϕ20 at 150 both ways
    const Scan s = worst_by_scanning({.V = 2970, .p = 185.625, .area = 0.25, .rim = 2, .d = 0.630, .As = 2094.4});
    EXPECT_NEAR(p.utilisation, s.use, 0.006 * s.use);
    EXPECT_NEAR(reach, s.at, 0.05);  // the worst is flat in the distance
    EXPECT_NEAR(signed_area(p.outline), 0.25 + 2 * reach + pi * reach * reach, 0.01);
}

// Clause: EN 1992-1-1 | 6.4.2(8), (9)
TEST(Punching, ThePerimeterBeyondAThickPatchIsTriedToo) {
    Model m = raft(box(0, 0, 5, 5), 0.35, 2000, 1e6);
    m.columns = {column("C1", 2.5, 2.5)};
    m.slab.patches.push_back({"T1", box(1.9, 1.9, 3.1, 3.1), 1.0, Flush::top, "", {}});
    load(m, {ColumnLoad{"C1", 2820, 0, 0, 0, 0}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    m.steel.cover_bottom = 50;
    m.mesh_size = 0.25;
    const auto a = solve(m);
    ASSERT_EQ(a->punching.size(), 1u);
    EXPECT_EQ(a->punching[0].governs, "step");
    // The thick part stands on the thin slab as a square of 1.2 m: d of the thin slab with the bars that were chosen.
    const ChosenBars &x = a->steel.bottom_x, &y = a->steel.bottom_y;
    const double d_mean = (2 * (0.350 - 0.050) - x.diameter / 2000 - y.diameter / 2000 -
                           (m.steel.outer_bottom == Direction::x ? x : y).diameter / 1000) /
                          2;
    const Scan s = worst_by_scanning(
        {.V = 2820, .p = 2820.0 / 25, .area = 1.44, .rim = 4.8, .d = d_mean, .As = std::sqrt(x.area() * y.area())});
    EXPECT_NEAR(a->punching[0].utilisation, s.use, 0.01 * s.use);
    EXPECT_NEAR((a->punching[0].perimeter - 4.8) / (2 * pi), s.at, 0.06);
}

// --- loads and service checks

TEST(Loads, EveryItemReachesTheSlabWithItsForceAndMoments) {
    Model m = raft(box(0, 0, 8, 6), 0.8, 2000, 1e6);
    m.columns = {column("C1", 3, 2)};
    m.columns[0].pedestal_height = 0.4;
    m.walls.push_back({"W1", {{0.5, 5}, {6.5, 5}}, 0.25, 3, false, 1, {}});
    load(m, {ColumnLoad{"C1", 400, 30, -20, 12, -8}, {}});  // lever 0.4 + 0.8 = 1.2 m
    load(m, {PointLoad{{5, 4}, 120, -15, 10}, {}});
    load(m, {LineLoad{{{1, 1}, {7, 1}}, {10, 22}}, {}});  // 96 kN at x = 1 + 6 (10 + 44)/(3 · 32) = 4.375
    load(m, {WallLoad{"W1", 40}, {}});                    // 240 kN at (3.5, 5)
    load(m, {AreaLoad{box(4, 3, 7, 5), 15}, {}});         // 90 kN at (5.5, 4)
    load(m, {SlabLoad{4}, {}});                           // 192 kN at (4, 3)
    load(m, {Uplift{m.slab.top_level - 0.8 + 0.5}, {}});  // −9.81 · 0.5 · 48 = −235.44 at (4, 3)
    const auto a = solve(m);
    const Resultant& r = only(*a).applied;
    EXPECT_NEAR(r.Fz, 400 + 120 + 96 + 240 + 90 + 192 - 235.44, 1e-8);
    EXPECT_NEAR(r.My, 400 * 3 - 20 + 12 * 1.2 + 120 * 5 + 10 + 96 * 4.375 + 240 * 3.5 + 90 * 5.5 + (192 - 235.44) * 4,
                1e-7);
    EXPECT_NEAR(r.Mx, -(400 * 2 + 120 * 4 + 96 * 1 + 240 * 5 + 90 * 4 + (192 - 235.44) * 3) + 30 + 8 * 1.2 - 15, 1e-7);
    EXPECT_EQ(a->cases[0].Hx, 12);
    EXPECT_EQ(a->cases[0].Hy, -8);
}

TEST(Loads, SelfWeightIsThatOfTheGeometryAndStandsInThePermanentCase) {
    // slab (80 − 1.5 − 4) · 0.5 · 24 + patch 4 · 0.9 · 24 + pedestals 0.24 · 1.2 · 24 + π/4 · 0.25 · 0.8 · 24
    Model m = raft(box(0, 0, 10, 8), 0.5, 2000);
    m.concretes[0].unit_weight = 24;
    m.slab.self_weight = true;
    m.slab.openings.push_back({"O1", box(6, 3, 7, 4.5), {}});
    m.slab.patches.push_back({"T1", box(1, 1, 3, 3), 0.9, Flush::top, "K", {}});
    m.columns = {column("C1", 2, 2), column("C2", 5, 6.5)};
    m.columns[0].size = {0.6, 0.4}, m.columns[0].pedestal_height = 1.2;
    m.columns[1].shape = ColumnShape::circle, m.columns[1].size = {0.5}, m.columns[1].pedestal_height = 0.8;
    const auto a = solve(m);
    EXPECT_NEAR(only(*a).applied.Fz, 74.5 * 12 + 86.4 + 0.24 * 1.2 * 24 + pi / 16 * 0.8 * 24, 1e-6);
}

TEST(Loads, WhatLiesOffTheSlabIsTold) {
    Model m = raft(box(0, 0, 8, 6), 0.5, 2000);
    load(m, {LineLoad{{{-2, 3}, {8, 3}}, {10, 10}}, {}});
    const auto a = solve(m);
    EXPECT_NEAR(only(*a).applied.Fz, 80, 1e-6);
    const bool told = std::any_of(a->problems.begin(), a->problems.end(), [](const Problem& p) {
        return p.what.find("20.0 % of its length") != std::string::npos;
    });
    EXPECT_TRUE(told);
    EXPECT_TRUE(find(*a, "model"));  // and the Ledger does not look all well
}

TEST(Checks, BearingSettlementAndDistortionByHand) {
    // rigid: 4 × 4 m, 800 kN at e = 0.3 m: p = 50 (1 ± 6·0.3/4) = 72.5, 27.5; s = p/k
    Model m = raft(box(0, 0, 4, 4), 1.0, 10000, 1e8);
    m.columns = {column("A", 1, 2), column("B", 3, 2)};
    load(m, {ColumnLoad{"A", 280, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"B", 520, 0, 0, 0, 0}, {}});
    m.ground.allowable_pressure = 100;
    m.checks.settlement_limit = 0.010;
    m.checks.distortion_limit = 1.0 / 500;
    m.checks.contact_ratio_limit = 0.5;
    const auto a = solve(m);
    EXPECT_NEAR(*find(*a, "bearing")->utilisation, 0.725, 0.001);
    EXPECT_NEAR(find(*a, "bearing")->at->x, 4, 1e-9);
    EXPECT_NEAR(*find(*a, "settlement")->value, 7.25, 0.01);
    // slope 45 kPa / 4 m / 10000 = 1.125e-3
    EXPECT_NEAR(*find(*a, "distortion")->value, 1.125e-3, 2e-6);
    EXPECT_EQ(find(*a, "distortion")->item, "A–B");
    EXPECT_NEAR(*find(*a, "tilt")->value, 1.125e-3, 2e-6);
    EXPECT_NEAR(*find(*a, "contact")->utilisation, 0.5, 1e-9);
}

TEST(Convergence, OfTheDemoIsWithinAFewPerCent) {
    Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    m.mesh_size = 1.0;
    const Convergence c = check_convergence(m);
    EXPECT_GT(c.nodes[1], c.nodes[0]);
    EXPECT_GT(c.nodes[2], c.nodes[1]);
    ASSERT_GE(c.rows.size(), 6u);
    for (const ConvergenceRow& r : c.rows)
        if (r.title == "Bearing pressure" || r.title == "Largest settlement" || r.title == "Worst punching") {
            EXPECT_LT(std::abs(r.change()), 0.03) << r.title;
        }
    EXPECT_EQ(c.rows[0].title, "Bearing pressure");
}

TEST(Checks, NeighboursAreJoinedAcrossTheSlabNotAcrossTheGap) {
    Model m = raft({{0, 0}, {10, 0}, {10, 3}, {3, 3}, {3, 10}, {0, 10}}, 0.5, 1e4);
    m.columns = {column("A", 1.5, 1.5), column("B", 9, 1.5), column("C", 1.5, 9)};
    const auto n = neighbouring_columns(m);
    EXPECT_EQ(n, (std::vector<std::pair<int, int>>{{0, 1}, {0, 2}}));  // not B–C: the straight line leaves the L
}

TEST(Checks, NothingIsWellWhileSomethingIsUnchecked) {
    Model m = pad_model();
    m.settings.design_code = "ACI 318-19";
    const auto a = solve(m);
    EXPECT_EQ(find(*a, "bending")->status, Status::not_checked);
    ASSERT_FALSE(a->steel.strips[0].sections.empty());  // moments are statics; steel is left open
    EXPECT_FALSE(a->steel.strips[0].sections[3].bottom_required);
    EXPECT_EQ(find(*a, "punching")->status, Status::not_checked);
    EXPECT_NE(a->checks[0].status, Status::pass);  // worst first: the open ones stand before those that pass
    m = pad_model();
    m.loads.combinations->clear();
    EXPECT_TRUE(find(*solve(m), "model", "combinations"));
    m = pad_model();
    (*m.loads.combinations)[0].purpose = Purpose::stability;
    for (const char* id : {"crack-width", "anchorage"})
        EXPECT_EQ(find(*solve(m), id)->status, Status::not_checked) << id;
    for (const char* id : {"sliding", "overturning"})  // nothing pushes and nothing turns
        EXPECT_EQ(find(*solve(m), id)->status, Status::pass) << id;
}

}  // namespace
}  // namespace mossbed
