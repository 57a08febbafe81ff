// Links in whole models: round columns, at rims, of pairs, turned; where they end; areas of them across strips.
#include <gmock/gmock.h>

#include <numbers>

#include "core/file/model_file.h"
#include "core/steel/shear_links.h"
#include "tests/core/judge/pad.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;
constexpr double pi = std::numbers::pi;

PunchingLinks links(double diameter, double legs, double perimeters, double spacing) {
    PunchingLinks l;
    l.diameter = diameter, l.legs = legs, l.perimeters = perimeters, l.spacing = spacing;
    return l;
}
Row row(const Answer& a, const std::string& id, const std::string& title) {
    for (const Row& r : a.checks)
        if (r.id == id && r.title == title) return r;
    Row none;
    none.title = "no such row";
    return none;
}
const PunchingAnswer& of(const Answer& a, const std::string& id) {
    for (const PunchingAnswer& p : a.punching)
        if (p.id == id) return p;
    throw std::runtime_error("no punching of " + id);
}
Model under(double N, Point at = {5, 5}) {
    Model m = designed_raft(box(0, 0, 10, 10), 0.6);
    m.columns = {column("C", at.x, at.y, 0.5)};
    load(m, {ColumnLoad{"C", N, 0, 0, 0, 0}, {}});
    return m;
}

// Clauses: EN 1992-1-1 | 6.4.5(1), (4), (6.52), 9.4.3
TEST(Links, LiftTheUseAsByHand) {
    Model m = under(2600);
    const auto bare = solve(m);
    m.columns[0].links = links(14, 20, 6, 250);
    const auto held = solve(m);
    EXPECT_GT(of(*bare, "C").utilisation, 1);
    EXPECT_LT(of(*held, "C").utilisation, 0.95 * of(*bare, "C").utilisation);
    EXPECT_EQ(row(*held, "spacing", "Links C").status, Status::pass);
    EXPECT_EQ(of(*held, "C").link_legs.size(), 120u);
    EXPECT_TRUE(of(*bare, "C").link_legs.empty());
    EXPECT_NE(row(*bare, "spacing", "Links C").title, "Links C");
    // Tried again from the record: what is borne at every perimeter within 2d and beyond the links.
    const double d = 0.53, rho = 400 * pi / 4 / 0.15 / 1000 / 530, f = 250 + 0.25 * 530;
    const double v_c = 0.12 * (1 + std::sqrt(200 / 530.0)) * std::cbrt(100 * rho * 30);
    const double pressure = 2600.0 / 100, leg = pi / 4 * 14 * 14, first = 0.265, s = 0.25;
    auto use = [&](double a, bool with) {
        const double u = 2 + 2 * pi * a, area = 0.25 + 2 * a + pi * a * a, V = 2600 - pressure * area;
        const double concrete = v_c * std::max(1.0, 2 * d / a);
        double n = 0;
        for (int i = 0; i < 6; ++i) n += first + i * s <= a ? 1 : 0;
        n = std::min(n, 0.75 * std::min(a, 2 * d) / s);
        const double v =
            with ? std::max(concrete, std::min(1.5 * concrete, 0.75 * concrete + n * 20 * leg * f / (u * d * 1e6)))
                 : concrete;
        return V / (u * d) / 1000 / v;
    };
    double worst = 0;
    for (int i = 1; i <= 40; ++i) worst = std::max(worst, use(2 * d * i / 40, true));
    worst = std::max(worst, use(first + 5 * s + 1.5 * d, false));
    EXPECT_NEAR(of(*held, "C").utilisation, worst, 0.03 * worst);  // the ground of the solved raft is not quite even
}

TEST(Links, MustReachWhereConcreteBearsAlone) {
    Model m = under(2900);
    m.columns[0].links = links(20, 30, 2, 250);
    const auto few = solve(m);
    m.columns[0].links = links(20, 30, 8, 250);
    const auto many = solve(m);
    EXPECT_GT(of(*few, "C").utilisation, of(*many, "C").utilisation * 1.05);
    EXPECT_GT(of(*few, "C").a, 0.265 + 0.25 + 1.5 * 0.53 - 1e-6);
    EXPECT_THAT(row(*few, "punching", "Punching C").note, HasSubstr("Beyond its links"));
}

TEST(Links, AtARimLegsStandOnTheSlabAndThoseTowardsTheRimHoldNoOpenPerimeter) {
    Model m = under(900, {5, 0.6});
    m.columns[0].links = links(12, 14, 4, 250);
    const auto a = solve(m);
    const PunchingAnswer& p = of(*a, "C");
    EXPECT_EQ(p.link_legs.size(), 56u);
    for (Point q : p.link_legs) {
        EXPECT_TRUE(contains(box(0, 0, 10, 10), q)) << q.x << " " << q.y;
        EXPECT_FALSE(contains(box(4.75, 0.35, 5.25, 0.85), q));
    }
    ASSERT_EQ(p.position, "edge");
    const Model bare = under(900, {5, 0.6});
    EXPECT_LT(p.utilisation, of(*solve(bare), "C").utilisation);
    Model turned_one = m;  // the other rim: the same
    turned_one.columns[0].at = {5, 9.4};
    EXPECT_NEAR(of(*solve(turned_one), "C").utilisation, p.utilisation, 0.005 * p.utilisation);
}

TEST(Links, AskewTheSame) {
    Model m = under(2600);
    m.columns[0].links = links(14, 20, 6, 250);
    const double straight = of(*solve(m), "C").utilisation;
    Model askew = m;
    for (Point& p : *std::get_if<Polygon>(&askew.slab.outline)) p = turned(p, 33);
    askew.columns[0].at = turned(askew.columns[0].at, 33), askew.columns[0].angle = 33;
    EXPECT_NEAR(of(*solve(askew), "C").utilisation, straight, 0.01 * straight);
}

TEST(Links, ThoseThatBreakARuleOrAreHalfGivenCountForNothingAndSaySo) {
    Model m = under(2600);
    const double bare = of(*solve(m), "C").utilisation;
    m.columns[0].links = links(14, 20, 6, 450);
    const auto wide = solve(m);
    EXPECT_NEAR(of(*wide, "C").utilisation, bare, 1e-4);
    EXPECT_EQ(row(*wide, "spacing", "Links C").status, Status::over);
    EXPECT_THAT(row(*wide, "spacing", "Links C").note, HasSubstr("450 mm apart"));
    EXPECT_THAT(row(*wide, "punching", "Punching C").note, HasSubstr("do not count: perimeters are 450 mm"));
    m.columns[0].links = {};
    m.columns[0].links.diameter = 12;
    const auto half = solve(m);
    EXPECT_NEAR(of(*half, "C").utilisation, bare, 1e-4);
    EXPECT_EQ(row(*half, "spacing", "Links C").status, Status::not_checked);
    EXPECT_THAT(row(*half, "spacing", "Links C").note, HasSubstr("belong together"));
}

TEST(Links, OfBothColumnsHoldAPairThoseOfOneDoNot) {
    Model m = designed_raft(box(0, 0, 10, 10), 0.6);
    m.columns = {column("P", 4.5, 5, 0.4), column("Q", 5.5, 5, 0.4)};
    for (const char* id : {"P", "Q"}) load(m, {ColumnLoad{id, 2000, 0, 0, 0, 0}, {}});
    const double bare = of(*solve(m), "P+Q").utilisation;
    for (Column& c : m.columns) c.links = links(16, 24, 6, 250);
    const double both = of(*solve(m), "P+Q").utilisation;
    m.columns[1].links = {};
    const auto one = solve(m);
    EXPECT_GT(bare, 1);
    EXPECT_LT(both, 0.95 * bare);
    EXPECT_NEAR(of(*one, "P+Q").utilisation, bare, 1e-4);
    EXPECT_THAT(row(*one, "punching", "Punching P+Q together").note, HasSubstr("not all of these columns"));
}

TEST(Links, HoldAPullToo) {
    Model m = under(-1500);
    m.ground.tension = true;
    m.columns[0].starter_diameter = 20, m.columns[0].starter_number = 16;
    const double bare = of(*solve(m), "C").utilisation;
    m.columns[0].links = links(14, 20, 6, 250);
    const PunchingAnswer p = of(*solve(m), "C");
    EXPECT_LT(p.V, 0);
    EXPECT_LT(p.utilisation, 0.97 * bare);
}

TEST(Links, AreWrittenAndReadBack) {
    Model m = under(2600);
    m.columns[0].links = links(14, 20, 6, 250);
    m.steel.links = {{"L1", box(1, 1, 3, 3), 12, 200, {}}};
    const std::string text = write_model(m);
    const auto read = read_model(text);
    ASSERT_TRUE(read.model);
    EXPECT_EQ(read.model->columns[0].links.legs, 20);
    EXPECT_EQ(read.model->columns[0].links.first, std::nullopt);
    ASSERT_EQ(read.model->steel.links.size(), 1u);
    EXPECT_EQ(read.model->steel.links[0].outline, m.steel.links[0].outline);
    EXPECT_EQ(write_model(*read.model), text);
}

TEST(LinksOver, PartsOfALineEachOnceByTheDenser) {
    Model m = designed_raft(box(0, 0, 10, 10));
    m.steel.links = {{"L1", box(2, 0, 6, 10), 10, 200, {}},
                     {"L2", box(5, 0, 7, 10), 12, 200, {}},
                     {"L3", box(8, 0, 9, 1), 12, 200, {}}};
    const auto over = links_over(m, {0, 5}, {10, 5});
    ASSERT_EQ(over.size(), 2u);
    EXPECT_EQ(over[0].first->id, "L1");
    EXPECT_NEAR(over[0].second, 0.3, 1e-12);
    EXPECT_NEAR(over[1].second, 0.2, 1e-12);
    EXPECT_TRUE(links_over(m, {0, 5}, {1.5, 5}).empty());
}

// Clause: EN 1992-1-1 | 6.2.3(3), 9.3.2
TEST(LinksOver, HoldOneWayShearOfStripsAsFarAsTheyLieAcross) {
    Model m = pad_model();
    m.slab.thickness = 0.45;  // thin: one-way shear is near its limit
    auto worst = [](const Answer& a) {
        Row most;
        for (const Row& r : a.checks)
            if (r.id == "one-way-shear" && r.utilisation.value_or(0) > most.utilisation.value_or(-1)) most = r;
        return most;
    };
    const Row bare = worst(*solve(m));
    ASSERT_TRUE(bare.utilisation && bare.limit);
    m.steel.links = {{"L1", box(0, 0, 4, 4), 10, 200, {}}};
    const Row held = worst(*solve(m));
    EXPECT_LT(*held.utilisation, 0.7 * *bare.utilisation);
    m.steel.links = {{"L1", box(0, 0, 4, 4), 14, 350, {}}};  // further apart than 0.75 d
    EXPECT_NEAR(*worst(*solve(m)).utilisation, *bare.utilisation, 1e-6);
    std::string working;
    for (const Term& t : worst(*solve(m)).working) working += t.text + "\n";
    EXPECT_THAT(working, HasSubstr("links do not count: the legs are more than 0.75 d apart"));
}

}  // namespace
}  // namespace mossbed::testing
