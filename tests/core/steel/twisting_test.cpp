// Twisting moments reach the steel of strips (Wood and Armer 1968).
#include <gmock/gmock.h>

#include "core/codes/en1992/european_code.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using ::testing::HasSubstr;
using testing::load;
using testing::raft;

// 8 × 8 × 0.6 m on springs, 2500 kN at two opposite corners: the slab saddles, its diagonals carry what x and y do not.
Model saddle() {
    Model m = raft(box(0, 0, 8, 8), 0.6, 20000);
    m.columns = {column("A", 0.6, 0.6), column("B", 7.4, 7.4)};
    load(m, {ColumnLoad{"A", 2500, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"B", 2500, 0, 0, 0, 0}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    Strip x, y;
    x.id = "X", x.axis = {Point{0, 4}, Point{8, 4}}, x.reach = {1, 1};
    y.id = "Y", y.direction = Direction::y, y.axis = {Point{4, 0}, Point{4, 8}}, y.reach = {1, 1};
    m.steel.strips = std::vector<Strip>{x, y};
    return m;
}
const SectionRow* at(const StripAnswer& s, double where) {
    for (const SectionRow& r : s.sections)
        if (std::abs(r.s - where) < 1e-6) return &r;
    return nullptr;
}

// Clauses: EN 1992-1-1 | 3.1.7(3), 6.1, 5.5(4)
TEST(Twisting, TheDesignMomentIsTheMomentAndTheIntegralOfTheTwist) {
    const auto a = solve(saddle());
    const CombinationAnswer& c = a->combinations[0];
    // ∫ |mxy| over the cut at x = 3, y from 3 to 5, from nodal values by the trapezoid rule: another road.
    const Finder finder(a->mesh);
    double T = 0;
    constexpr int n = 400;
    for (int k = 0; k < n; ++k) {
        const Finder::Hit h = finder.at({3, 3 + 2 * (k + 0.5) / n});
        double mxy = 0;
        for (int i = 0; i < corners(a->mesh.elements[h.element]); ++i)
            mxy += h.weight[size_t(i)] * a->force_at_node(c, a->mesh.elements[h.element][size_t(i)], &PlateForces::mxy);
        T += std::abs(mxy) * 2 / n;
    }
    const SectionRow* r = at(a->steel.strips[0], 3);
    ASSERT_TRUE(r);
    EXPECT_GT(T, 150);  // it is no trifle here
    EXPECT_NEAR(r->T, T, 0.01 * T);
    EXPECT_DOUBLE_EQ(r->M_design_bottom, std::max(0.0, r->M + r->T));
    EXPECT_DOUBLE_EQ(r->M_design_top, std::min(0.0, r->M - r->T));
    // Steel by hand for that moment: b 2000, d 600 − 50 − 8 = 542 (16 mm before any are chosen is what the strip took
    // unless bars were chosen since).
    const EuropeanCode code;
    const double phi = a->steel.bottom_x.diameter, d = 600 - 50 - phi / 2;
    const auto As = code.flexural_steel({2000, 600, d, 30, 500, 200000}, r->M_design_bottom, nullptr);
    const double least = code.minimum_steel({2000, 600, d, 30, 500, 200000}, nullptr);
    EXPECT_NEAR(*r->bottom_required, std::max(*As, least), 1);
}

TEST(Twisting, BarsForThePlainMomentsAreNotEnoughAndTheLedgerSaysWhy) {
    Model m = saddle();
    m.steel.twisting = false;
    auto row = [](const Answer& a, const std::string& id, const std::string& item) {
        for (const Row& r : a.checks)
            if (r.id == id && r.item == item) return r;
        return Row{};
    };
    const auto plain = solve(m);
    EXPECT_THAT(row(*plain, "model", "twisting").note, HasSubstr("twisting moments reach no steel"));
    m.steel.twisting = true;
    for (Face f : {Face::top, Face::bottom})
        for (Direction d : {Direction::x, Direction::y}) {
            const ChosenBars& b = plain->steel.base(f, d);
            m.steel.base(f, d) = {b.diameter, b.spacing};
        }
    const auto twisted = solve(m);
    EXPECT_EQ(row(*twisted, "model", "twisting").id, "");
    int over = 0;
    for (const Row& r : twisted->checks) over += r.id == "bending" && r.status == Status::over;
    EXPECT_GT(over, 0);
    const Row bottom = row(*twisted, "bending", "X bottom");
    EXPECT_TRUE(std::any_of(bottom.working.begin(), bottom.working.end(),
                            [](const Term& l) { return l.text.find("Wood and Armer") != std::string::npos; }));
}

// Twist is the same whichever way a strip is drawn, and none in a slab that bends in one direction only.
TEST(Twisting, VanishesInPureBendingAndDoesNotDependOnTheAxisSense) {
    Model m = raft(box(0, 0, 12, 2), 0.5, 20000, 33000, 0);
    load(m, {LineLoad{{{6, 0}, {6, 2}}, {100, 100}}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    Strip s;
    s.id = "S", s.axis = {Point{0, 1}, Point{12, 1}}, s.reach = {1, 1};
    m.steel.strips = std::vector<Strip>{s};
    const auto bent = solve(m);
    for (const SectionRow& r : bent->steel.strips[0].sections) EXPECT_LT(r.T, 0.02 * 160) << r.s;  // M up to 160
    Model one = saddle(), other = saddle();
    std::swap((*other.steel.strips)[0].axis[0], (*other.steel.strips)[0].axis[1]);
    const auto a = solve(one), b = solve(other);
    EXPECT_NEAR(at(a->steel.strips[0], 3)->T, at(b->steel.strips[0], 5)->T, 1e-6);
}

}  // namespace
}  // namespace mossbed
