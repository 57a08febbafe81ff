// One-way shear, layers of bars, minimum on one or both faces, quantities, and a slab made softer: each by another
// road.
#include <cmath>
#include <numbers>

#include "core/codes/en1992/european_code.h"
#include "core/steel/bar_regions.h"
#include "tests/core/judge/pad.h"

namespace mossbed {
namespace {

using testing::box;
using testing::load;
using testing::only;
using testing::pad_model;
using testing::raft;

constexpr double pi = std::numbers::pi;

Row row(const Answer& a, const std::string& id, const std::string& item) {
    for (const Row& r : a.checks)
        if (r.id == id && r.item == item) return r;
    return {};
}

TEST(OneWayShear, OfAPadByHand) {
    // d = 700 − 50 − 10 = 640: V at d from the face = 185.625 · 4 · (1.75 − 0.64) = 824.2 kN;
    // ρ = 8377.6/(4000 · 640) = 0.003273, k = 1 + √(200/640) = 1.559, v = 0.12 · 1.559 · (100 · 0.003273 · 30)^⅓ =
    // 0.4006 above v_min = 0.035 · 1.559^1.5 · √30 = 0.3732 MPa: V_Rd,c = 0.4006 · 4000 · 640 = 1025.5 kN
    const Row r = row(*solve(pad_model()), "one-way-shear", "X1");
    ASSERT_TRUE(r.value && r.limit);
    EXPECT_NEAR(*r.value, 824.2, 0.01 * 824.2);
    const double k = 1 + std::sqrt(200.0 / 640), rho = 4000.0 / 150 * pi * 100 / (4000.0 * 640);
    EXPECT_NEAR(*r.limit, 0.12 * k * std::cbrt(100 * rho * 30) * 4000 * 640 / 1000, 1);
    EXPECT_EQ(r.status, Status::pass);
    Model thin = pad_model();
    thin.slab.thickness = 0.5;
    EXPECT_EQ(row(*solve(thin), "one-way-shear", "X1").status, Status::over);
}

TEST(Layers, TheInnerLayerLiesADiameterDeeper) {
    Model m = pad_model();
    m.steel.twisting = false;
    auto steel = [](const Model& model, const char* strip) {
        const auto a = solve(model);
        double most = 0;
        for (const StripAnswer& s : a->steel.strips)
            if (s.strip.id == strip)
                for (const SectionRow& r : s.sections) most = std::max(most, r.bottom_required.value_or(1e9));
        return most;
    };
    const EuropeanCode code;
    // M at the face 185.625 · 4 · 1.75²/2 = 1136.95; outer d = 640, inner 640 − 20
    const double outer = *code.flexural_steel({4000, 700, 640, 30, 500, 200000}, 1136.95, nullptr),
                 inner = *code.flexural_steel({4000, 700, 620, 30, 500, 200000}, 1136.95, nullptr);
    EXPECT_NEAR(steel(m, "X1"), outer, 0.006 * outer);
    EXPECT_NEAR(steel(m, "Y1"), inner, 0.006 * inner);
    m.steel.outer_bottom = Direction::y;
    EXPECT_NEAR(steel(m, "X1"), inner, 0.006 * inner);
    EXPECT_NEAR(steel(m, "Y1"), outer, 0.006 * outer);
}

TEST(MinimumSteel, MayBeAskedOfTheTensionFaceOnly) {
    Model m = pad_model();
    m.steel.twisting = false;
    auto top_at_face = [](const Model& model) {
        const auto a = solve(model);
        for (const SectionRow& r : a->steel.strips[0].sections)
            if (std::abs(r.s - 1.75) < 1e-6) return *r.top_required;
        return -1.0;
    };
    // top d = 700 − 50 − 8 = 642: 0.26 · 2.8965/500 · 4000 · 642
    EXPECT_NEAR(top_at_face(m), 0.26 * 2.8965 / 500 * 4000 * 642, 2);
    m.steel.minimum_on_both_faces = false;
    EXPECT_DOUBLE_EQ(top_at_face(m), 0);
    m.steel.top_x = m.steel.top_y = {};
    EXPECT_EQ(row(*solve(m), "minimum-steel", "X1 bottom").id, "minimum-steel");
}

TEST(MinimumSteel, AThickPatchIsServedByItsOwnExtraBars) {
    Model m = raft(box(0, 0, 10, 8), 0.4, 20000);
    SlabPatch t;
    t.id = "T", t.outline = box(3, 2, 7, 6), t.thickness = 0.9, t.flush = Flush::middle;
    m.slab.patches = {t};
    load(m, {SlabLoad{10}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    const double alone = solve(m)->steel.bottom_x.area();
    EXPECT_GE(alone, 0.26 * 2.8965 / 500 * 1000 * (900 - 50 - 16) - 1);  // base bars must do for the patch as well
    ExtraBars e;
    e.id = "E", e.outline = box(1, 0.5, 9, 7.5), e.diameter = 16, e.spacing = 200;  // and far beyond it
    m.steel.extra = {e};
    const auto helped = solve(m);
    EXPECT_LT(helped->steel.bottom_x.area(), alone - 500);
    for (const Row& r : helped->checks)
        if (r.id == "minimum-steel") EXPECT_EQ(r.status, Status::pass) << r.title;
    // On a strip that lies on the patch they are what there is, on one beside it they count for nothing.
    m.steel.strips = std::vector<Strip>{{"on", Direction::x, {Point{3, 4}, {7, 4}}, {2, 2}, {}},
                                        {"beside", Direction::x, {Point{0, 1}, {10, 1}}, {1, 1}, {}}};
    const auto by_strip = solve(m);
    const double base = by_strip->steel.bottom_x.area();
    EXPECT_NEAR(*row(*by_strip, "minimum-steel", "on bottom").limit, base + 1005.3, 1);
    EXPECT_NE(row(*by_strip, "minimum-steel", "on bottom").note.find("0.90 m thick"), std::string::npos);
    EXPECT_NEAR(*row(*by_strip, "minimum-steel", "beside bottom").limit, base, 1e-9);
}

TEST(MinimumSteel, AndSpacingAreJudgedByStripAndWhereNoneLiesByMat) {
    // A slab whose right half is a thick plate; one strip lies on each half, nothing runs along y.
    Model m = raft(box(0, 0, 10, 8), 0.12, 20000);
    SlabPatch t;
    t.id = "T", t.outline = box(5, 0, 10, 8), t.thickness = 0.5, t.flush = Flush::middle;
    m.slab.patches = {t};
    m.steel.bottom_x = m.steel.bottom_y = m.steel.top_x = m.steel.top_y = {16, 300};
    m.steel.cover_top = m.steel.cover_bottom = 25;
    m.steel.strips = std::vector<Strip>{{"L", Direction::x, {Point{0, 4}, {5, 4}}, {4, 4}, {}},
                                        {"R", Direction::x, {Point{5, 4}, {10, 4}}, {4, 4}, {}}};
    load(m, {SlabLoad{10}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    const auto a = solve(m);
    // 0.26 · 2.8965/500 · 1000 · d, d = h − 25 − 8; largest spacing 2 h up to 250 mm (9.3.1.1(3))
    EXPECT_NEAR(*row(*a, "minimum-steel", "L bottom").value, 0.26 * 2.8965 / 500 * 1000 * 87, 1);
    EXPECT_NEAR(*row(*a, "minimum-steel", "R bottom").value, 0.26 * 2.8965 / 500 * 1000 * 467, 1);
    EXPECT_NEAR(*row(*a, "spacing", "L top").limit, 240, 1e-9);
    EXPECT_NEAR(*row(*a, "spacing", "R top").limit, 250, 1e-9);
    // Along y there is no strip: the whole mat, by its parts, at the worst of them.
    EXPECT_NEAR(*row(*a, "minimum-steel", "bottom y").value, 0.26 * 2.8965 / 500 * 1000 * 451, 1);
    EXPECT_NEAR(*row(*a, "spacing", "bottom y").limit, 240, 1e-9);
    EXPECT_EQ(row(*a, "minimum-steel", "bottom x").id, "");
}

TEST(Quantities, AreWhatTheGeometrySays) {
    Model m = pad_model();
    Opening o;
    o.id = "O", o.outline = box(0.5, 0.5, 1, 1);
    m.slab.openings = {o};
    SlabPatch t;
    t.id = "T", t.outline = box(2.5, 0, 4, 1), t.thickness = 1.0, t.flush = Flush::middle;
    m.slab.patches = {t};
    ExtraBars e;
    e.id = "E", e.outline = box(1, 2.5, 3, 3.5), e.diameter = 20, e.spacing = 100;
    m.steel.extra = {e};
    const auto a = solve(m);
    EXPECT_NEAR(a->steel.concrete_m3, (16 - 0.25) * 0.7 + 1.5 * 0.3, 1e-6);
    const double mat = 2 * pi * 100 * 1000 / 150 + 2 * pi * 64 * 1000 / 200;  // mm² a metre, both directions and faces
    EXPECT_NEAR(a->steel.steel_kg, (mat * 15.75 + 2 * pi * 100 * 1000 / 100) * 1e-6 * 7850, 0.5);
}

TEST(Quantities, ExtraBarsWeighWhereTheyLieOnTheSlab) {
    // 4 × 4 m pad with an opening of 1 × 1 m; ϕ20 at 100 drawn from −1 to 3 by 0 to 2 over a quarter of it: 3 · 2 − 0.5
    // m²
    Model m = pad_model();
    Opening o;
    o.id = "O", o.outline = box(0.5, 1.5, 1.5, 2.5);
    m.slab.openings = {o};
    const auto bare = solve(m);
    ExtraBars e;
    e.id = "E", e.outline = box(-1, 0, 3, 2), e.diameter = 20, e.spacing = 100;
    m.steel.extra = {e};
    const auto with = solve(m);
    const double mm2_a_metre = 3.14159265358979 / 4 * 400 * 10;
    EXPECT_NEAR(with->steel.steel_kg - bare->steel.steel_kg, 5.5 * mm2_a_metre * 1e-6 * 7850, 0.01);
    const auto regions = regions_of(m, with->steel);
    ASSERT_EQ(regions.size(), 5u);
    EXPECT_NEAR(area_on_slab(regions[0], with->mesh), 15, 1e-9);
    EXPECT_NEAR(area_on_slab(regions[4], with->mesh), 5.5, 1e-9);
    EXPECT_EQ(regions[4].id, "E");
}

TEST(StiffnessFactor, IsAFactorOnE) {
    Model soft = raft(box(0, 0, 8, 6), 0.5, 20000, 33000);
    load(soft, {PointLoad{{3, 2}, 900, 0, 0}, {}});
    Model same = soft;
    soft.slab.stiffness_factor = 0.4;
    same.concretes[0].E = 0.4 * 33000;
    const auto a = solve(soft), b = solve(same);
    for (int i = 0; i < int(a->mesh.nodes.size()); ++i)
        EXPECT_NEAR(only(*a).settlement(i), only(*b).settlement(i), 1e-12);
}

TEST(Profile, SpringsAreThePressureOverWhatTheStrataSettleUnderIt) {
    // One layer of 6 m, one-dimensional, wide base: near its middle s = p H/E_oed, k = E_oed/H
    Model m = raft(box(0, 0, 60, 60), 1, 20000);
    m.ground.model = GroundModel::profile, m.ground.settlement_method = SettlementMethod::one_dimensional;
    m.ground.excavation_relief = false;
    Stratum s;
    s.id = "clay", s.E = 12, s.nu = 0.25;
    m.ground.strata = {s};
    Borehole b;
    b.id = "B", b.ground_level = -1, b.layers = {{"clay", -7, {}}};
    m.ground.boreholes = {b};
    m.ground.rigid_base_level = -7;
    m.mesh_size = 4;
    load(m, {SlabLoad{50}, {}});
    const auto a = solve(m);
    const double E_oed = 12000 * 0.75 / (1.25 * 0.5);
    double middle = 0, corner = 0;
    for (size_t i = 0; i < a->mesh.nodes.size(); ++i) {
        if (distance(a->mesh.nodes[i], {30, 30}) < 3) middle = a->modulus[i];
        if (distance(a->mesh.nodes[i], {0, 0}) < 0.1) corner = a->modulus[i];
    }
    EXPECT_NEAR(middle / (E_oed / 6), 1, 0.01);
    EXPECT_NEAR(corner / (E_oed / 6), 4, 0.15);  // under a corner a quarter of the stress
}

}  // namespace
}  // namespace mossbed
