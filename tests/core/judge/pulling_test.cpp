// Columns that pull: punched upward with the top steel, held by their starter bars.
#include <gmock/gmock.h>

#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

// A rigid pad of 8 × 8 m pressed at its corners; a column in the middle pulls with N kN.
Model pulled(double N) {
    Model m = raft(box(0, 0, 8, 8), 0.55, 5000, 1e6);
    m.steels = {Steel{}};
    m.steel.steel = "B500", m.steel.cover_top = 40, m.steel.cover_bottom = 50;
    m.steel.top_x = m.steel.top_y = {25, 125}, m.steel.bottom_x = m.steel.bottom_y = {12, 150};
    m.concretes[0].fck = 30;
    m.columns = {column("A", 4, 4)};
    for (Point p : {Point{0.8, 0.8}, Point{7.2, 0.8}, Point{7.2, 7.2}, Point{0.8, 7.2}})
        load(m, {PointLoad{p, 1200, 0, 0}, {}});
    load(m, {ColumnLoad{"A", -N, 0, 0, 0, 0}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    return m;
}
const Row* row_of(const Answer& a, const std::string& id) {
    for (const Row& r : a.checks)
        if (r.id == id && r.item == "A") return &r;
    return nullptr;
}
// (6.47) to (6.50) upward, by hand: what presses up inside adds to the pull.
double by_hand(double N) {
    const double p = (4 * 1200 - N) / 64, d = 0.485, c = 0.5, rho = 625 * M_PI / 4 / 0.125 / 485000;
    const double k = 1 + std::sqrt(200 / 485.0),
                 v_c = std::max(0.12 * k * std::cbrt(100 * rho * 30), 0.035 * std::pow(k, 1.5) * std::sqrt(30));
    double worst = 0;
    for (int i = 1; i <= 40; ++i) {
        const double a = 2 * d * i / 40, u = 4 * c + 2 * M_PI * a, A = c * c + 4 * c * a + M_PI * a * a;
        worst = std::max(worst, (N + p * A) / (u * d) / 1000 / (v_c * 2 * d / a));
    }
    return worst;
}

// Clauses: EN 1992-1-1 | 6.4.4(2), (6.48)–(6.50)
TEST(Pulling, IsPunchedUpwardWithTheTopSteel) {
    for (double N : {1500.0, 2700.0}) {
        const auto a = solve(pulled(N));
        ASSERT_EQ(a->punching.size(), 5u);  // with the four points that press its corners
        const PunchingAnswer& p = a->punching[0];
        ASSERT_EQ(p.id, "A");
        EXPECT_NEAR(p.utilisation, by_hand(N), 0.02 * by_hand(N));
        EXPECT_NEAR(p.V, -N, 1e-9);
        EXPECT_GT(p.relief, 0);  // presses up, down the column's sense: it does not lessen the pull
        EXPECT_NEAR(p.V_net, p.V - p.relief, 1e-9);
        EXPECT_EQ(row_of(*a, "punching")->combination, "S");
    }
    EXPECT_GT(by_hand(2700), 1);
    EXPECT_EQ(row_of(*solve(pulled(2700)), "punching")->status, Status::over);
    // The top has the bars; with the bottom's the pull would not stand as it does.
    Model weak = pulled(1500);
    weak.steel.top_x = weak.steel.top_y = {12, 150};
    EXPECT_GT(solve(weak)->punching[0].utilisation, 1.15 * by_hand(1500));
}

// Clause: EN 1992-1-1 | 8.4.4(1), Table 8.2 | starter bars of columns that pull, bent at the far face (α1 0.7)
TEST(Pulling, StarterBarsHoldThePullOrSaySo) {
    Model m = pulled(1500);
    ASSERT_LT(by_hand(1500), 1);
    auto a = solve(m);
    EXPECT_EQ(row_of(*a, "punching")->status, Status::not_checked);
    EXPECT_THAT(row_of(*a, "punching")->note, HasSubstr("starter bars"));
    m.columns[0].starter_diameter = 20, m.columns[0].starter_number = 12;
    a = solve(m);
    EXPECT_EQ(row_of(*a, "punching")->status, Status::pass);
    const Row* r = row_of(*a, "anchorage");
    ASSERT_TRUE(r);
    const double N_Rd = 12 * M_PI / 4 * 400 * 500 / 1.15 / 1000;
    EXPECT_NEAR(*r->limit, N_Rd, 0.01);
    // l_b = 20/4 · 434.8 / (2.25 · 1.35) = 714 mm; 0.7 of it by the share of the force, of 500 mm that are there.
    const double fctd = 0.7 * 0.3 * std::cbrt(900.0) / 1.5, l_b = 5 * 500 / 1.15 / (2.25 * fctd);
    EXPECT_NEAR(*r->utilisation, std::max(1500 / N_Rd, 0.7 * l_b * 1500 / N_Rd / 500), 1e-3);
    m.columns[0].starter_number = 8;
    EXPECT_EQ(row_of(*solve(m), "anchorage")->status, Status::over);
    m.columns[0].starter_diameter = 40, m.columns[0].starter_number = 3;
    a = solve(m);
    EXPECT_THAT(row_of(*a, "anchorage")->note, HasSubstr("too thin"));
}

TEST(Pulling, StarterBarsAreKeptInTheFile) {
    Model m = pulled(100);
    m.columns[0].starter_diameter = 16, m.columns[0].starter_number = 8;
    const Loaded l = read_model(write_model(m));
    ASSERT_TRUE(l.model);
    EXPECT_EQ(l.model->columns[0].starter_diameter, 16);
    EXPECT_EQ(l.model->columns[0].starter_number, 8);
    EXPECT_THAT(write_model(m), HasSubstr("\"starter_bars\""));
}

}  // namespace
}  // namespace mossbed::testing
