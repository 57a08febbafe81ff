// Closed forms of beams, plates and rigid bases on one-sided springs; equilibrium; other roads to the same answer.
#include "core/contact/contact.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <tbb/global_control.h>

#include <map>
#include <mutex>
#include <numbers>
#include <random>

#include "core/contact/bed.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using ::testing::HasSubstr;

using testing::box;
using testing::column;
using testing::load;
using testing::moment;
using testing::only;
using testing::Page;
using testing::pressure;
using testing::raft;
using testing::settlement;

constexpr double pi = std::numbers::pi;

std::string percent(double v, double reference) { return fmt::format("{:+.2f} %", 100 * (v / reference - 1)); }

Page& page() {
    static Page p("contact.md", "Slabs on springs that only push",
                  {"case", "source", "quantity", "reference", "size, m", "value", "difference"});
    return p;
}
void expect(const std::string& what, const std::string& source, const std::string& quantity, double reference,
            double size, double value, double tolerance) {
    page().row({what, source, quantity, fmt::format("{:.5g}", reference), fmt::format("{:g}", size),
                fmt::format("{:.5g}", value), percent(value, reference)});
    EXPECT_NEAR(value, reference, tolerance * std::abs(reference)) << what << ", " << quantity << ", size " << size;
}

// --- Hetényi (1946): beams on Winkler ground, as a slab one metre wide with ν = 0 and thin enough for Euler's theory.

struct Beam {
    double E = 30e6, h = 0.5, k = 20000, L = 30;
    double EI() const { return E * h * h * h / 12; }
    double lambda() const { return std::pow(k / (4 * EI()), 0.25); }
    Model model() const {
        Model m = raft(box(0, 0, L, 1), h, k, E / 1000, 0.0);
        m.ground.tension = true;
        return m;
    }
};

// Within 2 % of a moment, or 1 % of the largest one P/(4λ) where the curve is near its zero.
void expect_moment(const std::string& what, double reference, double largest, double size, double value) {
    page().row({what, "Hetényi 1946 with shear", "moment, kN·m/m", fmt::format("{:.5g}", reference),
                fmt::format("{:g}", size), fmt::format("{:.5g}", value), percent(value, reference)});
    EXPECT_NEAR(value, reference, std::max(0.02 * std::abs(reference), 0.01 * largest)) << what << ", size " << size;
}

TEST(Hetenyi, ALoadInTheMiddleOfALongBeam) {
    const Beam b;
    Model m = b.model();
    load(m, {LineLoad{{{15, 0}, {15, 1}}, {200, 200}}, {}});
    // Timoshenko beam of endless length by Fourier's integral: s = P/π ∫ (1 + EI ξ²/S) cos ξx / (EI ξ⁴ + k EI ξ²/S + k)
    // dξ and M = P/π ∫ EI ξ² cos ξx / (same) dξ. Hetényi's closed forms are the limit S → ∞.
    const double S = 5.0 / 6 * b.E / 2 * b.h, P = 200;
    auto integral = [&](double x, bool moment) {
        double sum = 0;
        const double step = 0.001;
        for (int i = 0; i < 400000; ++i) {
            const double xi = (i + 0.5) * step;
            sum += step * P / pi * (moment ? b.EI() * xi * xi : 1 + b.EI() / S * xi * xi) * std::cos(xi * x) /
                   (b.EI() * std::pow(xi, 4) + b.k * b.EI() / S * xi * xi + b.k);
        }
        return sum;
    };
    const double s0 = integral(0, false), l = b.lambda(), largest = P / (4 * l);
    EXPECT_NEAR(s0, P * l / (2 * b.k), 0.03 * s0);
    EXPECT_NEAR(integral(4, true), largest * std::exp(-4 * l) * (std::cos(4 * l) - std::sin(4 * l)), 0.01 * largest);
    for (double size : {0.5, 0.25}) {
        m.mesh_size = size;
        const auto a = solve(m);
        expect("beam, load in the middle", "Hetényi 1946 with shear", "settlement under the load, mm", 1000 * s0, size,
               1000 * settlement(*a, {15, 0.5}), 0.005);
        expect_moment("beam, load in the middle, 2 m off", integral(2, true), largest, size,
                      moment(*a, {17, 0.5}, &PlateForces::mx));
        expect_moment("beam, load in the middle, 4 m off", integral(4, true), largest, size,
                      moment(*a, {19, 0.5}, &PlateForces::mx));
    }
}

TEST(Hetenyi, ALoadAtTheEndOfALongBeam) {
    const Beam b;
    Model m = b.model();
    load(m, {LineLoad{{{0, 0}, {0, 1}}, {100, 100}}, {}});
    // thin limit: s(0) = 2 P λ/k, M(x) = −P/λ e^{−λx} sin λx; shear leaves the first nearly as it is
    for (double size : {0.5, 0.25}) {
        m.mesh_size = size;
        const auto a = solve(m);
        expect("beam, load at its end", "Hetényi 1946", "settlement at the end, mm", 2000 * 100 * b.lambda() / b.k,
               size, 1000 * settlement(*a, {0, 0.5}), 0.01);
        const double x = 2.5, M = -100 / b.lambda() * std::exp(-b.lambda() * x) * std::sin(b.lambda() * x);
        expect("beam, load at its end", "Hetényi 1946", "moment 2.5 m in, kN·m/m", M, size,
               moment(*a, {2.5, 0.5}, &PlateForces::mx), 0.02);
    }
}

// Infinite plate, load on a small area: thin limit s = P l²/(8 D), l = (D/k)^¼ (Hertz 1884), and with shear by Hankel's
// integral s = P/(2π) ∫ (1 + D ξ²/S)/(D ξ⁴ + k D ξ²/S + k) · J-mean² ξ dξ, the load spread over a disc of radius c.
TEST(InfinitePlate, ALoadOnASmallArea) {
    const double E = 30e6, nu = 0.2, h = 0.5, k = 20000, P = 1000, c = 0.25;
    const PlateSection p{E, nu, h};
    const double D = p.bending(), S = p.shear(), l = std::pow(D / k, 0.25);
    double s = 0;
    const double step = 0.002;
    for (int i = 0; i < 30000; ++i) {  // mean of the load over the disc: 2 J1(cξ)/(cξ)
        const double xi = (i + 0.5) * step;
        const double j = 2 * std::cyl_bessel_j(1, c * xi) / (c * xi);
        s += step * P / (2 * pi) * (1 + D * xi * xi / S) / (D * std::pow(xi, 4) + k * D * xi * xi / S + k) * j * xi;
    }
    EXPECT_NEAR(s, P * l * l / (8 * D), 0.08 * s);
    Model m = raft(box(-15, -15, 15, 15), h, k, E / 1000, nu);
    m.ground.tension = true;
    Column round = column("C", 0, 0);
    round.shape = ColumnShape::circle, round.size = {2 * c}, round.stiff_footprint = false;
    m.columns = {round};
    load(m, {ColumnLoad{"C", P, 0, 0, 0, 0}, {}});
    for (double size : {0.5, 0.25}) {
        m.mesh_size = size;
        expect("infinite plate, load on a disc", "Hankel's integral with shear", "settlement under it, mm", 1000 * s,
               size, 1000 * settlement(*solve(m), {0, 0}), 0.005);
    }
}

// --- rigid bases: a plane of pressure, cut off at zero

Model rigid(Polygon outline, double N, Point at) {
    Model m = raft(std::move(outline), 1.0, 20000, 1e7);
    load(m, {PointLoad{at, N, 0, 0}, {}});
    return m;
}

TEST(RigidBase, ARectangleLeansAsStaticsSays) {
    const double B = 6, L = 4, N = 1200;
    struct Case {
        double e, p_max, contact;
    };
    // e = B/12 and B/6: N/A (1 ± 6e/B); e = B/4: p = 2N/(3L(B/2 − e)), contact 3(B/2 − e)/B
    for (const Case& c : {Case{B / 12, N / (B * L) * 1.5, 1}, Case{B / 6, N / (B * L) * 2, 1},
                          Case{B / 4, 2 * N / (3 * L * (B / 2 - B / 4)), 0.75}})
        for (double size : {0.5, 0.25}) {
            Model m = rigid(box(-B / 2, -L / 2, B / 2, L / 2), N, {c.e, 0});
            m.mesh_size = size;
            const auto a = solve(m);
            const std::string what = fmt::format("rigid rectangle, e = B/{:g}", B / c.e);
            expect(what, "statics", "largest pressure, kPa", c.p_max, size, only(*a).max_pressure,
                   size == 0.5 ? 0.01 : 0.005);
            EXPECT_NEAR(only(*a).contact_ratio, c.contact, size / B);
        }
}

TEST(RigidBase, LeaningBothWaysWithinTheKern) {
    // N/A (1 + 6 ex/B + 6 ey/L) at the corner
    Model m = rigid(box(0, 0, 6, 4), 2400, {3.3, 2.2});
    const auto a = solve(m);
    expect("rigid rectangle, both ways", "statics", "largest pressure, kPa", 100 * (1 + 6 * 0.3 / 6 + 6 * 0.2 / 4), 0.5,
           only(*a).max_pressure, 0.003);
    EXPECT_NEAR(only(*a).max_pressure_at.x, 6, 1e-9);
    EXPECT_NEAR(only(*a).max_pressure_at.y, 4, 1e-9);
}

TEST(RigidBase, ACircleAtItsKern) {
    // e = R/4: pressure from zero to 2 N/A
    Model m = raft({}, 1.0, 20000, 1e7);
    m.slab.outline = Circle{{1, 2}, 3};
    load(m, {PointLoad{{1.75, 2}, 900, 0, 0}, {}});
    for (double size : {0.5, 0.25}) {
        m.mesh_size = size;
        expect("rigid circle, e = R/4", "statics", "largest pressure, kPa", 2 * 900 / (pi * 9), size,
               only(*solve(m)).max_pressure, 0.01);
    }
}

// --- invariants and other roads

Model lifting() {
    Model m = raft(box(0, 0, 12, 7), 0.4, 15000);
    m.columns = {column("C1", 2, 2), column("C2", 10, 2), column("C3", 2, 5), column("C4", 10, 5)};
    for (auto [id, N] : {std::pair{"C1", 900.}, {"C2", -120.}, {"C3", 700.}, {"C4", -60.}})
        load(m, {ColumnLoad{id, N, 20, -10, 0, 0}, {}});
    load(m, {SlabLoad{6}, {}});
    return m;
}

TEST(Contact, EquilibriumHoldsTo1e8EvenForVeryStiffSlabs) {
    for (double E : {33e3, 1e6, 1e8, 1e10}) {
        Model m = lifting();
        m.concretes[0].E = E;
        const auto a = solve(m);
        const CombinationAnswer& c = only(*a);
        ASSERT_TRUE(c.is_solved()) << c.explanation;
        EXPECT_LT(c.equilibrium_error, 1e-8) << E;
        EXPECT_NEAR(c.ground_reaction.Fz, c.applied.Fz, 1e-8 * c.applied.Fz);
        EXPECT_NEAR(c.ground_reaction.Mx, c.applied.Mx, 1e-8 * std::abs(c.applied.Fz) * 12);
        EXPECT_NEAR(c.ground_reaction.My, c.applied.My, 1e-8 * std::abs(c.applied.Fz) * 12);
    }
}

TEST(Contact, NoPressureIsNegativeAndNoSettledNodeIsWithoutIt) {
    const auto a = solve(lifting());
    const CombinationAnswer& c = only(*a);
    EXPECT_LT(c.contact_ratio, 0.9);
    for (size_t i = 0; i < a->mesh.nodes.size(); ++i)
        EXPECT_DOUBLE_EQ(c.pressure[i], 15000 * std::max(0.0, c.settlement(int(i))));
}

// The same complementarity problem by the plainest road: a full active set, refactored with another solver each time.
TEST(Contact, AgreesWithAPlainActiveSet) {
    const Model m = lifting();
    const auto a = solve(m);
    const testing::System s(m);
    const Supports& springs = s.bed.supports;
    const Eigen::VectorXd f = s.of_cases().col(0);
    std::vector<char> on(a->mesh.nodes.size(), 1);
    Eigen::VectorXd x;
    int pass = 0;
    for (; pass < 40; ++pass) {
        SparseLower A = s.K;
        for (size_t i = 0; i < on.size(); ++i) {
            if (!on[i]) continue;
            const double k = springs.stiffness[i], g[3] = {1, s.bed.offset[i].x, s.bed.offset[i].y};
            for (int c = 0; c < 3; ++c)
                for (int r = c; r < 3; ++r)
                    *A.find(int(s.row(long(i), Unknown(r))), int(s.row(long(i), Unknown(c)))) += k * g[r] * g[c];
        }
        x = testing::solve_supported(A, f, {});
        bool same = true;
        for (size_t i = 0; i < on.size(); ++i) {
            const NodalMotion motion{s.plate.of, x};
            const char now = motion.settlement(long(i)) + s.bed.offset[i].x * motion.slope_x(long(i)) +
                                 s.bed.offset[i].y * motion.slope_y(long(i)) >
                             0;
            same &= now == on[i];
            on[i] = now;
        }
        if (same) break;
    }
    ASSERT_LT(pass, 40);
    EXPECT_LT((x - only(*a).motion.x).cwiseAbs().maxCoeff(), 1e-8 * x.cwiseAbs().maxCoeff());
}

TEST(Contact, TheNumberOfThreadsDoesNotMatter) {
    const Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    std::shared_ptr<const Answer> one;
    {
        tbb::global_control limit(tbb::global_control::max_allowed_parallelism, 1);
        one = solve(m);
    }
    const auto many = solve(m);
    ASSERT_EQ(one->checks.size(), many->checks.size());
    for (size_t i = 0; i < one->checks.size(); ++i) {
        EXPECT_EQ(one->checks[i].key(), many->checks[i].key());
        EXPECT_NEAR(one->checks[i].utilisation.value_or(0), many->checks[i].utilisation.value_or(0), 1e-9);
    }
}

TEST(Contact, AMirroredSlabAnswersMirrored) {
    Model m = lifting(), mirrored = m;
    for (Column& c : mirrored.columns) c.at.x = 12 - c.at.x;
    for (LoadItem& i : mirrored.loads.cases[0].items)
        if (auto* l = std::get_if<ColumnLoad>(&i.load)) l->My = -l->My;
    const auto a = solve(m), b = solve(mirrored);
    for (Point p : {Point{2, 2}, {6, 3.5}, {10, 5}, {12, 0}})
        EXPECT_NEAR(settlement(*a, p), settlement(*b, {12 - p.x, p.y}), 2e-6);
}

TEST(Contact, AColdStartAndACoarseStartEndAlike) {
    Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    m.ground.model = GroundModel::uniform, m.ground.modulus = 12000, m.ground.yield_pressure.reset();
    SolveOptions o;
    o.combinations = {"U6"};
    const auto warm = solve(m, o);  // more than 1500 nodes: started from a coarse mesh
    const testing::System s(m);
    const Eigen::MatrixXd f = s.of_cases();
    const Eigen::MatrixXd load = f.col(0) + 1.5 * f.col(3);
    const auto cold = find_contact(s.contact(), load, {});
    EXPECT_LT(warm->combinations[0].newton_steps, cold[0].newton_steps);
    EXPECT_LT((cold[0].x - warm->combinations[0].motion.x).cwiseAbs().maxCoeff(),
              1e-8 * cold[0].x.cwiseAbs().maxCoeff());
}

// Several combinations, some that press on nearly the same supports, on ground that yields.
struct Estimating {
    testing::System s;
    Eigen::MatrixXd loads, truth;
    std::vector<ContactState> cold;
    Estimating() : s(yielding()) {
        const Eigen::MatrixXd f = s.of_cases();
        loads.resize(f.rows(), 5);
        const Eigen::VectorXd even = s.even(40);
        loads << f, 1.05 * f, f + even, f - 0.1 * even, f + 1.5 * even;
        cold = find_contact(s.contact(), loads, {});
        truth = Eigen::MatrixXd(s.bed.supports.count(), 5);
        for (int c = 0; c < 5; ++c) truth.col(c) = s.bed.supports.settlements(cold[size_t(c)].x);
    }
    static Model yielding() {
        Model m = lifting();
        m.ground.yield_pressure = 110;
        return m;
    }
    std::vector<ContactState> from(const Eigen::MatrixXd& settlement, std::vector<char> known = {1, 1, 1, 1, 1}) const {
        ContactOptions o;
        o.estimate = [&](const std::vector<int>& columns) {
            Estimated e{settlement(Eigen::all, columns), {}};
            for (int c : columns) e.known.push_back(known[size_t(c)]);
            return e;
        };
        return find_contact(s.contact(), loads, o);
    }
    int rounds(const std::vector<ContactState>& states) const {
        int sum = 0;
        for (const ContactState& c : states) sum += c.rounds;
        return sum;
    }
};

TEST(Contact, WhateverTheEstimateSaysTheContactIsTheSame) {
    const Estimating e;
    int lifting = 0, yielding = 0;
    for (int c = 0; c < 5; ++c)
        for (int j = 0; j < e.s.bed.supports.count(); ++j) {
            const double force = e.cold[size_t(c)].force[size_t(j)];
            lifting += force == 0, yielding += force == e.s.bed.supports.highest[size_t(j)];
        }
    ASSERT_GT(lifting, 50);
    ASSERT_GT(yielding, 20);
    std::mt19937 random(7);
    std::uniform_real_distribution<double> unit(-1, 1);
    Eigen::MatrixXd noise = e.truth, sliver = -e.truth.cwiseAbs(), holds_little = sliver;
    for (double& s : noise.reshaped()) s = 0.01 * unit(random);
    for (long j = 0; j < sliver.rows(); ++j) {
        if (e.s.mesh.nodes[size_t(j)].x < 0.4) sliver.row(j).setConstant(0.001);
        if (e.s.mesh.nodes[size_t(j)].x < 1.2) holds_little.row(j).setConstant(0.001);
    }
    const std::pair<const char*, Eigen::MatrixXd> estimates[] = {
        {"the truth", e.truth},
        {"the opposite", -e.truth},
        {"another combination's", e.truth(Eigen::all, std::vector{4, 3, 1, 2, 0})},
        {"all up", Eigen::MatrixXd::Constant(e.truth.rows(), 5, -0.01)},
        {"all yields", Eigen::MatrixXd::Constant(e.truth.rows(), 5, 1)},
        {"too little to stand on", sliver},
        {"little to stand on", holds_little},
        {"noise", noise},
        {"nonsense", Eigen::MatrixXd::Constant(e.truth.rows(), 5, std::nan(""))},
    };
    for (const auto& [what, settlement] : estimates) {
        const auto found = e.from(settlement);
        for (size_t c = 0; c < 5; ++c) {
            EXPECT_EQ(found[c].ending, Ending::solved) << what << ", column " << c;
            EXPECT_LT((found[c].x - e.cold[c].x).cwiseAbs().maxCoeff(), 1e-8 * e.cold[c].x.cwiseAbs().maxCoeff())
                << what << ", column " << c;
        }
    }
}

TEST(Contact, AGoodEstimateLeavesFewRounds) {
    const Estimating e;
    EXPECT_LT(e.rounds(e.from(e.truth)), 0.3 * e.rounds(e.cold));
    // One that is not known goes the long way, and alone.
    const auto but_one = e.from(e.truth, {1, 0, 1, 1, 1});
    EXPECT_EQ(but_one[1].rounds, e.cold[1].rounds);
    EXPECT_LT(but_one[0].rounds, 0.5 * e.cold[0].rounds);
}

TEST(Contact, BondedGroundPullsAndSuperposes) {
    Model m = lifting();
    m.ground.tension = true;
    const auto a = solve(m);
    EXPECT_LT(only(*a).min_pressure, -1);
    (*m.loads.combinations)[0].factors["G"] = 2;
    EXPECT_NEAR(settlement(*solve(m), {3, 3}), 2 * settlement(*a, {3, 3}), 1e-12);
}

TEST(Contact, YieldingGroundCapsThePressureAndStillBalances) {
    Model m = rigid(box(-3, -2, 3, 2), 1200, {0.8, 0});  // 50 kPa mean, elastic peak 90
    m.ground.yield_pressure = 70;
    const auto a = solve(m);
    ASSERT_TRUE(only(*a).is_solved());
    EXPECT_NEAR(only(*a).max_pressure, 70, 1e-6);
    EXPECT_NEAR(only(*a).ground_reaction.Fz, 1200, 1e-5);
    EXPECT_NEAR(only(*a).ground_reaction.My, 960, 1e-4);
}

TEST(Contact, GroundThatYieldsThroughSaysWithWhichFactor) {
    // e = 1.5 m on B = 6: the plastic block is 2 (3 − 1.5) = 3 m long: 3 · 4 · 80 = 960 of 1200 kN
    Model m = rigid(box(-3, -2, 3, 2), 1200, {1.5, 0});
    m.mesh_size = 0.25;
    m.ground.yield_pressure = 80;
    const auto a = solve(m);
    EXPECT_EQ(only(*a).ending, Ending::yields_through);
    EXPECT_NE(only(*a).explanation.find("0.80"), std::string::npos) << only(*a).explanation;
}

TEST(Equilibrium, AnEmptyCisternFloatsAndSaysByHowMuch) {
    // 8 × 6 m, 0.35 m thick, water 1.10 m above the base: weight 8·6·0.35·25 = 420, uplift 8·6·1.10·9.81 = 517.97 kN
    Model m = raft(box(0, 0, 8, 6), 0.35, 20000);
    m.slab.self_weight = true;
    load(m, {Uplift{m.slab.top_level - 0.35 + 1.10}, {}});
    const auto a = solve(m);
    EXPECT_EQ(only(*a).ending, Ending::lifts_free);
    EXPECT_NEAR(only(*a).balance.net_uplift, 97.97, 0.01);
    EXPECT_NE(only(*a).explanation.find("98 kN"), std::string::npos) << only(*a).explanation;
}

TEST(Equilibrium, AResultantOutsideTheBaseOverturnsAndTheOthersGoOn) {
    Model m = raft(box(-3, -2, 3, 2), 0.5, 20000);
    load(m, {PointLoad{{0, 0}, 500, 0, 0}, {}});
    LoadCase w;
    w.id = "W", w.action = Action::wind;
    w.items.push_back({PointLoad{{0, 0}, 0, 0, 2000}, {}});
    m.loads.cases.push_back(w);
    Combination k;
    k.id = "S2", k.factors = {{"G", 1}, {"W", 1}};
    m.loads.combinations->push_back(k);
    const auto a = solve(m);
    EXPECT_EQ(a->find("S")->ending, Ending::solved);
    EXPECT_EQ(a->find("S2")->ending, Ending::overturns);
    EXPECT_NEAR(a->find("S2")->balance.landing.x, 4, 1e-9);
    EXPECT_NEAR(a->find("S2")->balance.outside, 1, 1e-9);
    EXPECT_NE(a->find("S2")->explanation.find("1.00 m outside"), std::string::npos);
}

TEST(Equilibrium, ANearlyOverturningSlabIsStillSolved) {
    Model m = rigid(box(-3, -2, 3, 2), 300, {2.9, 0});  // contact 3 · 0.1 of 6 m
    m.mesh_size = 0.1;
    const auto a = solve(m);
    ASSERT_TRUE(only(*a).is_solved()) << only(*a).explanation;
    EXPECT_LT(only(*a).equilibrium_error, 1e-8);
    EXPECT_NEAR(only(*a).max_pressure, 2 * 300 / (3 * 4 * 0.1), 0.05 * 500);
}

// Two hundred slabs, loads and grounds by chance: what is called solved balances; what is not says why.
TEST(Contact, WhateverIsSolvedBalancesAndTheRestSaysWhy) {
    std::mt19937 random(11);
    auto u = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    int solved = 0, unfound = 0;
    for (int n = 0; n < 200; ++n) {
        const double B = u(3, 15), L = u(3, 12);
        Model m = raft(box(0, 0, B, L), u(0.15, 1.5), std::pow(10, u(3, 5.3)), std::pow(10, u(3.5, 8)));
        if (n % 7 == 0) m.slab.outline = Circle{{B / 2, L / 2}, std::min(B, L) / 2};
        m.slab.self_weight = n % 3 != 0;
        m.mesh_size = u(0.3, 0.7);
        for (int i = 0; i < 1 + n % 6; ++i)
            if (const Point p{u(0.05, 0.95) * B, u(0.05, 0.95) * L}; on_slab(m, p))
                load(m, {PointLoad{p, u(-400, 1200), u(-600, 600), u(-600, 600)}, {}});
        const auto a = solve(m);
        const CombinationAnswer& c = only(*a);
        if (c.is_solved()) {
            ++solved;
            EXPECT_LT(c.equilibrium_error, 1e-8) << "slab " << n;
            EXPECT_LT(c.residual, 1e-5) << "slab " << n;
        } else {
            EXPECT_FALSE(c.explanation.empty()) << "slab " << n;
            unfound += c.ending == Ending::not_converged;
        }
    }
    EXPECT_GT(solved, 150);
    EXPECT_LE(unfound, 1);  // only where the resultant lands within a hand of the rim
}

TEST(Solve, AStopIsHeededAtEveryReport) {
    const Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    int reports = 0;
    Progress count;
    count.tell = [&](double, const char*) { ++reports; };
    solve(m, {}, nullptr, count);
    ASSERT_GT(reports, 3);
    for (int n = 0; n < std::min(reports - 1, 12); ++n) {
        std::atomic<bool> stop{false};
        int at = 0;
        Progress p;
        p.stop = &stop;
        p.tell = [&](double, const char* step) {
            if (at++ == n && std::string(step) != "punching" && std::string(step) != "done") stop = true;
        };
        if (n < 6) {
            EXPECT_THROW(solve(m, {}, nullptr, p), Stopped) << "stop at report " << n;
        }
    }
}

TEST(Solve, HowFarItIsNeverFalls) {
    // Coupled, from a coarse mesh, a second time without yield, and punching from many threads: each tells of itself.
    const Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    std::mutex one_at_a_time;
    std::vector<std::pair<double, std::string>> told;
    Progress p;
    p.tell = [&](double share, const char* step) {
        const std::lock_guard<std::mutex> alone(one_at_a_time);
        told.emplace_back(share, step);
    };
    const auto a = solve(m, {}, nullptr, p);
    ASSERT_GT(a->punching.size(), 20u);
    std::map<std::string, int> times;
    for (size_t k = 0; k < told.size(); ++k) {
        ++times[told[k].second];
        EXPECT_LE(told[k].first, 1);
        if (k > 0) {
            EXPECT_GE(told[k].first, told[k - 1].first) << told[k - 1].second << ", then " << told[k].second;
        }
    }
    EXPECT_EQ(times["mesh"], 1);
    EXPECT_GT(times["contact"], 10);
    EXPECT_EQ(times["moments"], 2);
    EXPECT_GT(times["punching"], 20);
    EXPECT_EQ(told.back(), (std::pair<double, std::string>(1, "done")));
}

// Words of combinations that end otherwise than solved.
TEST(Endings, AFarSlabIsNotCalledFloating) {
    // At x = 10⁷ m the moments about the origin are huge beside the force; about the base they are not.
    Model m = raft(box(1e7, 0, 1e7 + 6, 5), 0.5, 20000);
    load(m, {PointLoad{{1e7 + 3, 2.5}, 1500, 0, 0}, {}});
    const auto a = solve(m);
    EXPECT_TRUE(only(*a).is_solved()) << only(*a).explanation;
    EXPECT_NEAR(only(*a).ground_reaction.Fz, 1500, 1e-6);
}

TEST(Endings, ASliverIsOnlySaidWhereTheResultantLandsOnOne) {
    // A film of soil a millionth of a millimetre thick on rock: nothing converges, and not for want of base.
    Model m = raft(box(0, 0, 6, 5), 0.5, 20000);
    m.ground.model = GroundModel::coupled;
    Stratum soil;
    soil.id = "s", soil.E = 20;
    m.ground.strata = {soil};
    Borehole b;
    b.id = "B1", b.ground_level = 0, b.layers = {{"s", -0.500000001, {}}};
    m.ground.boreholes = {b};
    m.mesh_size = 1;
    load(m, {PointLoad{{3, 2.5}, 1500, 0, 0}, {}});
    const auto a = solve(m);
    ASSERT_FALSE(only(*a).is_solved());
    EXPECT_THAT(only(*a).explanation, ::testing::Not(HasSubstr("sliver")));
    EXPECT_THAT(only(*a).explanation, HasSubstr("lands well inside"));
}

TEST(Endings, AllFloatingOnLayeredGroundIsExplainedNotRefused) {
    Model m = raft(box(0, 0, 12, 12), 0.6, 20000);
    m.ground.model = GroundModel::coupled;
    Stratum s;
    s.id = "clay";
    m.ground.strata = {s};
    Borehole b;
    b.id = "B", b.ground_level = 0, b.layers = {{"clay", -20, {}}};
    m.ground.boreholes = {b};
    m.slab.top_level = -4;
    load(m, {Uplift{-1}, {}});
    const auto a = solve(m);
    EXPECT_EQ(only(*a).ending, Ending::lifts_free);
    EXPECT_FALSE(a->ground);
    bool over = false;
    for (const Row& r : a->checks) over |= r.id == "flotation" && r.status == Status::over;
    EXPECT_TRUE(over);
}

// Clause: EN 1992-1-1 | 2.4.2.4, 3.1.6, 3.2.7
TEST(Endings, AMisspeltNationalChoiceIsRefused) {
    Model m = raft(box(0, 0, 6, 5), 0.5, 20000);
    m.settings.national = R"({"gama_c": 1.4})";
    try {
        solve(m);
        FAIL() << "solved";
    } catch (const Trouble& t) {
        EXPECT_THAT(t.problem.sentence(), HasSubstr("settings.national.gama_c"));
        EXPECT_THAT(t.problem.sentence(), HasSubstr("gamma_c"));
    }
    m.settings.national = R"({"gamma_c": -1.4})";
    EXPECT_THROW(solve(m), Trouble);
    m.settings.national = R"({"gamma_c": 14})";  // a point forgotten
    EXPECT_THROW(solve(m), Trouble);
    m.settings.national = R"({"v_min": 35})";
    EXPECT_THROW(solve(m), Trouble);
    m.settings.national = R"({"gamma_c": 1.4})";
    EXPECT_NO_THROW(solve(m));
}

}  // namespace
}  // namespace mossbed
