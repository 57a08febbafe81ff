// Bars designed by moments at points: even strips as narrow as the width averaged over, and the map beside.
#include <gmock/gmock.h>

#include "core/judge/required_map.h"
#include "core/steel/strip_demand.h"
#include "tests/core/judge/pad.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

const Row* find(const Answer& a, const std::string& id, const std::string& item) {
    for (const Row& r : a.checks)
        if (r.id == id && r.item == item) return &r;
    return nullptr;
}
// 10 × 6 × 0.6 m under two columns.
Model two_columns() {
    Model m = designed_raft(box(0, 0, 10, 6));
    m.columns = {column("A", 3, 3), column("B", 7, 3)};
    load(m, {ColumnLoad{"A", 1500, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"B", 1200, 0, 0, 0, 0}, {}});
    m.steel.designed_by = DesignedBy::points;
    return m;
}
double most_required(const Answer& a, Face f) {  // mm² a metre of width, over strips along x
    double most = 0;
    for (const StripAnswer& s : a.steel.strips)
        for (const SectionRow& r : s.sections)
            if (const auto& As = f == Face::bottom ? r.bottom_required : r.top_required;
                As && s.strip.direction == Direction::x)
                most = std::max(most, *As / r.width);
    return most;
}

TEST(Points, StripsAreEvenAndNoWiderThanTheWidthAveragedOver) {
    Model m = two_columns();
    m.steel.averaged_over = 1.1;
    EXPECT_DOUBLE_EQ(width_of_points(m), 1.1);
    const auto strips = lay_out_points(m, 1.1);
    ASSERT_EQ(strips.size(), 6u + 10u);  // 6 of 1.0 m along x, 10 along y
    for (const StripAnswer& s : strips) EXPECT_NEAR(s.strip.reach[0] + s.strip.reach[1], 1, 1e-9);
    EXPECT_EQ(strips[2].strip.id, "x at 2.50");
    EXPECT_EQ(strips[6].strip.id, "y at 0.50");
    for (Direction d : {Direction::x, Direction::y}) EXPECT_EQ(uncovered_area(m, strips, d), 0);
    m.steel.averaged_over.reset();
    EXPECT_DOUBLE_EQ(width_of_points(m), 0.5);  // a cell
    m.mesh_size = 0.2;
    EXPECT_DOUBLE_EQ(width_of_points(m), 0.5);  // half a metre at least
}

TEST(Points, TheWiderTheMeanTheLowerThePeakAndTheSumStays) {
    Model m = two_columns();
    double before = 1e300;
    for (double w : {0.5, 1.0, 2.0, 6.0}) {
        m.steel.averaged_over = w;
        const auto a = solve(m);
        const double most = most_required(*a, Face::bottom);
        EXPECT_LT(most, before * 1.0001) << w;
        before = most;
        // At the face of column A all strips together carry what statics says.
        double M = 0;
        for (const StripAnswer& s : a->steel.strips)
            if (s.strip.direction == Direction::x)
                for (const SectionRow& r : s.sections)
                    if (std::abs(r.s - 2.75) < 1e-6) {
                        M += r.M;
                        break;
                    }
        Model whole = m;
        whole.steel.designed_by = DesignedBy::strips;
        whole.steel.strips = std::vector<Strip>{{"all", Direction::x, {Point{0, 3}, {10, 3}}, {3, 3}, {}}};
        const auto one = solve(whole);
        double all = 0;
        for (const SectionRow& r : one->steel.strips.at(0).sections)
            if (std::abs(r.s - 2.75) < 1e-6) all = r.M;
        EXPECT_NEAR(M, all, 1e-6 * std::abs(all)) << w;
    }
    EXPECT_GT(before, 0);
}

TEST(Points, OneWayShearIsThatOfThePanelsAndBendingThatOfThePoints) {
    Model m = two_columns();
    m.steel.averaged_over = 1.0;
    const auto points = solve(m);
    m.steel.designed_by = DesignedBy::strips;
    const auto strips = solve(m);
    int shear = 0;
    for (const Row& r : strips->checks)
        if (r.id == "one-way-shear") {
            ++shear;
            const Row* same = find(*points, r.id, r.item);
            ASSERT_TRUE(same) << r.item;
            EXPECT_DOUBLE_EQ(*same->value, *r.value);
            EXPECT_DOUBLE_EQ(*same->limit, *r.limit);
        }
    EXPECT_GT(shear, 0);
    EXPECT_TRUE(find(*points, "bending", "x at 2.50 bottom"));
    EXPECT_TRUE(find(*points, "minimum-steel", "y at 0.50 top"));
    EXPECT_FALSE(find(*strips, "bending", "x at 2.50 bottom"));
    // A mean over more than a column's moment may be taken as even is told.
    EXPECT_FALSE(find(*points, "model", "points"));
    m.steel.designed_by = DesignedBy::points, m.steel.averaged_over = 5;
    const auto wide = solve(m);
    ASSERT_TRUE(find(*wide, "model", "points"));
    EXPECT_THAT(find(*wide, "model", "points")->note, HasSubstr("column A"));
}

TEST(Points, BaseBarsAreChosenSoThatEveryPointPasses) {
    Model m = two_columns();
    m.steel.bottom_x = m.steel.bottom_y = m.steel.top_x = m.steel.top_y = {};
    const auto a = solve(m);
    for (const Row& r : a->checks)
        if (r.id == "bending") EXPECT_NE(r.status, Status::over) << r.title;
    const double by_points = a->steel.bottom_x.area();
    m.steel.designed_by = DesignedBy::strips;
    EXPECT_GE(by_points, solve(m)->steel.bottom_x.area());
}

TEST(RequiredMap, IsTheMomentAndTheTwistingMomentByHand) {
    Model m = two_columns();
    m.steel.minimum_on_both_faces = false;
    const auto a = solve(m);
    const RequiredMap bottom = required_map(*a, *a, Face::bottom, Direction::x);
    ASSERT_EQ(bottom.map.corner.size(), a->mesh.elements.size());
    EXPECT_FALSE(bottom.no_fit);
    // Between the columns and the rim, off every support: d = 600 − 50 − 10, fyd = 434.8, fcd = 20 MPa.
    const double d = 540, fyd = 500 / 1.15, fcd = 20;
    int looked = 0, mixed_signs = 0;
    for (size_t e = 0; e < a->mesh.elements.size(); ++e)
        for (int k = 0; k < corners(a->mesh.elements[e]); ++k) {
            const int node = a->mesh.elements[e][size_t(k)];
            const Point p = a->mesh.nodes[size_t(node)];
            if (distance(p, {3, 3}) < 0.6 || distance(p, {7, 3}) < 0.6) continue;
            const PlateForces f = only(*a).forces[a->slots.of_corner[e][size_t(k)]];
            const bool mixed = f.my + std::abs(f.mxy) < 0;  // hogs across: nothing to be taken there
            mixed_signs += mixed;
            const double twist = mixed ? f.mxy * f.mxy / -f.my : std::abs(f.mxy);
            const double M = std::max(0.0, f.mx + twist) * 1e6;  // N·mm a metre
            // M = A fyd (d − A fyd / (2 · 1000 fcd))
            const double block = d - std::sqrt(std::max(0.0, d * d - 2 * M / (1000 * fcd)));
            const double least = 0.26 * 2.8965 / 500 * 1000 * d;
            EXPECT_NEAR(bottom.map.corner[e][size_t(k)], std::max(1000 * fcd * block / fyd, least), 2);
            ++looked;
        }
    EXPECT_GT(looked, 500);
    EXPECT_GT(mixed_signs, 0);
    // Inside a column no more than at its faces, which is where the largest lies.
    double inside = 0;
    for (size_t e = 0; e < a->mesh.elements.size(); ++e)
        for (int k = 0; k < corners(a->mesh.elements[e]); ++k)
            if (const Point p = a->mesh.nodes[size_t(a->mesh.elements[e][size_t(k)])];
                std::abs(p.x - 3) < 0.2 && std::abs(p.y - 3) < 0.2)
                inside = std::max(inside, bottom.map.corner[e][size_t(k)]);
    EXPECT_GT(inside, 0);
    EXPECT_LE(inside, bottom.map.most);
    EXPECT_NEAR(std::abs(bottom.map.most_at.x - (bottom.map.most_at.x < 5 ? 3 : 7)), 0.25, 0.3);
}

TEST(RequiredMap, AveragedItIsLowerAtColumnsAndWhereNothingFitsItIsSaid) {
    Model m = two_columns();
    const auto a = solve(m);
    const double peak = required_map(*a, *a, Face::bottom, Direction::x).map.most;
    m.steel.averaged_over = 2;
    const auto b = solve(m);
    const double mean = required_map(*b, *b, Face::bottom, Direction::x).map.most;
    EXPECT_LT(mean, 0.95 * peak);
    EXPECT_GT(mean, 0.4 * peak);
    Model thin = two_columns();
    thin.slab.thickness = 0.2;
    const auto c = solve(thin);
    const RequiredMap map = required_map(*c, *c, Face::bottom, Direction::x);
    ASSERT_TRUE(map.no_fit);
    const Row* over = nullptr;
    for (const Row& r : c->checks)
        if (r.id == "bending" && r.status == Status::over && !over) over = &r;
    ASSERT_TRUE(over);
    EXPECT_THAT(over->note, HasSubstr("No amount of steel fits"));
    for (const auto& at : map.map.corner)
        for (double v : at) EXPECT_LE(v, map.map.most);
}

TEST(RequiredMap, TurnsWithTheBars) {
    Model m = two_columns();
    m.steel.averaged_over = 1;
    const auto a = solve(m);
    const FieldMap y = required_map(*a, *a, Face::bottom, Direction::y).map;
    m.steel.angle = 90;
    m.steel.outer_bottom = Direction::y;  // so that bars along the plan's y lie as they did
    const auto b = solve(m);
    const FieldMap x = required_map(*b, *b, Face::bottom, Direction::x).map;
    ASSERT_EQ(x.corner.size(), y.corner.size());
    for (size_t e = 0; e < x.corner.size(); ++e)
        for (size_t k = 0; k < 4; ++k) EXPECT_NEAR(x.corner[e][k], y.corner[e][k], 1e-6 * y.most);
}

TEST(RequiredMap, WithoutADesignThereIsNone) {
    Model m = two_columns();
    (*m.loads.combinations)[0].purpose = Purpose::service;
    const auto a = solve(m);
    EXPECT_TRUE(required_map(*a, *a, Face::bottom, Direction::x).map.corner.empty());
}

}  // namespace
}  // namespace mossbed::testing
