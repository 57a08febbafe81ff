// Fields of the model are described once: found by their path, held against their range, written into the schema.
#include "core/model/described.h"

#include <nlohmann/json.hpp>

#include "core/codes/combination_rules.h"
#include "core/file/schema.h"
#include "core/ground/moduli.h"
#include "core/ground/soil_profile.h"
#include "core/model/edit.h"
#include "core/model/fields.h"
#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;
using nlohmann::json;

Model some() {
    Model m = raft(box(0, 0, 8, 6), 0.5, 20000);
    m.columns = {column("C1", 2, 3), column("C/2", 6, 3)};
    Wall w;
    w.id = "W1", w.path = {{1, 1}, {3, 1}};
    m.walls = {w};
    Stratum s;
    s.id = "clay";
    m.ground.strata = {s};
    Borehole b;
    b.id = "BH1", b.layers = {{"clay", -5, {}}};
    m.ground.boreholes = {b};
    return m;
}

TEST(Described, AFieldIsFoundByItsPath) {
    Model m = some();
    for (auto [path, value] : {std::pair{"slab/thickness", 0.5},
                               {"ground/modulus", 20000.0},
                               {"columns/C1/at/x", 2.0},
                               {"columns/C1/size/1", 0.5},
                               {"columns/C~12/at/x", 6.0},
                               {"concretes/K/E", 33000.0},
                               {"mesh/size", 0.5},
                               {"walls/W1/height", 3.0},
                               {"ground/strata/clay/nu", 0.3}}) {
        const auto d = find_field(m, path);
        ASSERT_TRUE(d) << path;
        EXPECT_TRUE(d->is_number());
        EXPECT_EQ(d->number(), value) << path;
    }
    for (const char* path :
         {"slab/thicknes", "columns/C9/angle", "columns/C1/size/5", "slab", "", "columns", "slab/thickness/x"})
        EXPECT_FALSE(find_field(m, path)) << path;
}

TEST(Described, WhatIsSetIsOwnedFromThenOn) {
    Model m = some();
    auto d = find_field(m, "slab/thickness");
    EXPECT_TRUE(d->is_standard());
    d->set_number(0.8);
    EXPECT_EQ(m.slab.thickness, 0.8);
    EXPECT_FALSE(find_field(m, "slab/thickness")->is_standard());
    find_field(m, "ground/settlement_method")->set_word("one-dimensional");
    EXPECT_EQ(m.ground.settlement_method, SettlementMethod::one_dimensional);
    EXPECT_TRUE(m.ground.keys.count("settlement_method"));
    find_field(m, "slab/self_weight")->switch_on(true);
    EXPECT_TRUE(m.slab.self_weight && m.slab.keys.count("self_weight"));
    find_field(m, "mesh/size")->set_number(0.7);
    EXPECT_TRUE(m.mesh_keys.count("size"));
    find_field(m, "concretes/K/fck")->set_number(40);
    EXPECT_TRUE(m.concretes[0].keys.count("fck"));
}

TEST(Described, NumbersAreShownAsPeopleWriteThem) {
    Model m = some();
    auto s = find_field(m, "checks/settlement_limit");
    EXPECT_EQ(s->facts.on_screen(), Unit::millimetre);
    EXPECT_DOUBLE_EQ(*s->number(), 50);  // 0.050 m
    s->set_number(35);
    EXPECT_DOUBLE_EQ(*m.checks.settlement_limit, 0.035);
    auto t = find_field(m, "checks/tilt_limit");
    EXPECT_DOUBLE_EQ(*t->number(), 500);  // 1 in 500
    t->set_number(250);
    EXPECT_DOUBLE_EQ(*m.checks.tilt_limit, 0.004);
}

TEST(Described, OnlyWhatMayBeMissingIsTakenAway) {
    Model m = some();
    auto limit = find_field(m, "checks/settlement_limit");
    EXPECT_TRUE(limit->may_be_empty());
    limit->set_number({});
    EXPECT_FALSE(m.checks.settlement_limit);
    auto thickness = find_field(m, "slab/thickness");
    EXPECT_FALSE(thickness->may_be_empty());
    thickness->set_number({});
    EXPECT_EQ(m.slab.thickness, 0.5);
}

TEST(Described, WordsAreThoseOfTheFile) {
    Model m = some();
    auto d = find_field(m, "columns/C1/shape");
    EXPECT_EQ(d->words(), (std::vector<std::string>{"rectangle", "circle"}));
    d->set_word("circle");
    EXPECT_EQ(m.columns[0].shape, ColumnShape::circle);
    d->set_word("star");
    EXPECT_EQ(m.columns[0].shape, ColumnShape::circle);
    EXPECT_EQ(find_field(m, "settings/design_code")->words().size(), 6u);
}

TEST(Facts, SayWhatIsWrongAndWhatWouldMendIt) {
    const Facts thickness = facts::positive("Thickness", Unit::metre, "", 0.1, 6);
    EXPECT_FALSE(thickness.allows(0));
    EXPECT_FALSE(thickness.allows(std::nan("")));
    EXPECT_TRUE(thickness.allows(0.6));
    EXPECT_EQ(thickness.why_not(-1), "the thickness is -1 m");
    EXPECT_EQ(thickness.how_to_mend(), "give a number above zero, in m");
    EXPECT_TRUE(thickness.is_unusual(600));
    EXPECT_EQ(thickness.unit_to_check(600), "check that it is in m, not mm");
    const Facts E = facts::positive("E", Unit::megapascal, "", 1000, 1e12);
    EXPECT_EQ(E.why_not(0), "E is 0 MPa");  // a symbol stays as it is
    EXPECT_EQ(E.unit_to_check(33), "check that it is in MPa, not GPa");
}

TEST(Facts, EveryNumberOutOfItsRangeIsAProblemOfItsPlace) {
    for (auto [path, bad, where] : {std::tuple{"slab/thickness", -0.5, "slab.thickness"},
                                    {"mesh/size", 0.0, "mesh.size"},
                                    {"ground/modulus", -1.0, "ground.modulus"},
                                    {"ground/yield_pressure", 0.0, "ground.yield_pressure"},
                                    {"walls/W1/thickness", 0.0, "wall W1"},
                                    {"columns/C1/pedestal_height", -1.0, "column C1"},
                                    {"steel/cover_top", -5.0, "steel.cover_top"},
                                    {"steel/base/top_x/diameter", -16.0, "steel.base.top_x.diameter"},
                                    {"checks/contact_ratio_limit", 1.5, "checks.contact_ratio_limit"},
                                    {"concretes/K/nu", 0.6, "concrete K"}}) {
        Model m = some();
        if (std::string(path).find("top_x") != std::string::npos) m.steel.top_x = {16, 200};
        auto d = find_field(m, path);
        ASSERT_TRUE(d) << path;
        d->set_number(bad);
        const auto found = problems_of(m);
        EXPECT_TRUE(std::any_of(found.begin(), found.end(), [&](const Problem& p) {
            return p.severity == Severity::error && p.where == where && !p.mend.empty();
        })) << path;
    }
}

// A visitor that only counts: nothing in the list of fields is left out of the schema.
struct Keys_ {
    std::set<std::string> keys;
    template <class T>
    void operator()(const char* key, T&, const Facts& = {}) {
        keys.insert(key);
    }
    void choice(const char* key, std::string&, Allowed) { keys.insert(key); }
    void id(std::string&) { keys.insert("id"); }
    void raw(const char* key, std::string&) { keys.insert(key); }
    template <class F>
    void group(const char* key, Keys&, F) {
        keys.insert(key);
    }
};
template <class T>
void expect_keys(const json& schema) {
    Keys_ v;
    T t{};
    fields(v, t);
    for (const std::string& k : v.keys) EXPECT_TRUE(schema["properties"].contains(k)) << k;
    for (const auto& [k, s] : schema["properties"].items())
        if (k != "format" && k != "version" && k != "unset") EXPECT_TRUE(v.keys.count(k)) << k;
}

TEST(Schema, HasTheFieldsOfTheModelNoMoreAndNoLess) {
    const json s = json::parse(model_schema());
    const json& p = s["properties"];
    expect_keys<Model>(s);
    expect_keys<Ground>(p["ground"]);
    expect_keys<Stratum>(p["ground"]["properties"]["strata"]["items"]);
    expect_keys<Slab>(p["slab"]);
    expect_keys<Column>(p["columns"]["items"]);
    expect_keys<Reinforcement>(p["steel"]);
    expect_keys<Limits>(p["checks"]);
    EXPECT_EQ(p["slab"]["properties"]["thickness"]["exclusiveMinimum"], 0);
    EXPECT_EQ(p["slab"]["properties"]["thickness"]["default"], 0.6);
    EXPECT_EQ(p["slab"]["required"], json::array({"outline"}));
    EXPECT_EQ(p["ground"]["properties"]["model"]["enum"], json::array({"uniform", "patches", "profile", "coupled"}));
    EXPECT_EQ(p["ground"]["properties"]["yield_pressure"]["type"], json::array({"number", "null"}));
}

TEST(Reading, ANumberThatMustBeAboveZeroIsRefusedWithItsPlace) {
    const Loaded l =
        read_model(R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[5,0],[5,5],[0,5]],"thickness":-0.4}})");
    ASSERT_FALSE(l.model);
    EXPECT_EQ(l.problems[0].where, "slab.thickness");
    EXPECT_EQ(l.problems[0].what, "the thickness is -0.4 m");
}

TEST(Edit, WhatGoesTakesItsLoadsWithIt) {
    Model m = some();
    load(m, {ColumnLoad{"C1", 100, 0, 0, 0, 0}, {}});
    load(m, {WallLoad{"W1", 20}, {}});
    load(m, {SlabLoad{5}, {}});
    const Model n = without(m, {{ThingKind::wall, "W1"}, {ThingKind::column, "C1"}, {ThingKind::borehole, "BH1"}});
    EXPECT_EQ(n.columns.size(), 1u);
    EXPECT_TRUE(n.walls.empty() && n.ground.boreholes.empty());
    ASSERT_EQ(n.loads.cases[0].items.size(), 1u);
    EXPECT_TRUE(std::holds_alternative<SlabLoad>(n.loads.cases[0].items[0].load));
}

TEST(Moduli, AreProposedFromTheModelsOwnNumbers) {
    Model m = some();
    m.ground.allowable_pressure = 150;
    EXPECT_NEAR(modulus_by_settlement(m).modulus, 3000, 1e-9);  // 150 / 0.050
    EXPECT_EQ(modulus_by_settlement(m).from, 0.05);
    m.checks.settlement_limit = 0.025;
    EXPECT_NEAR(modulus_by_settlement(m).modulus, 6000, 1e-9);
    EXPECT_NEAR(modulus_by_bearing(m).modulus, 18000, 1e-9);  // 40 · 3 · 150
    // 6 × 8 m on clay: k (0.3/6)(8 + 3)/(1.5 · 8)
    EXPECT_NEAR(modulus_from_plate(60000, standard_plate, m, PlateSoil::clay), 60000 * 0.05 * 11 / 12, 1e-9);
}

TEST(Combinations, ANewModelLeavesThemToTheRules) {
    const Model m = new_model();
    EXPECT_FALSE(m.loads.combinations);
    const auto all = combinations_in(m);
    auto holds = [&](Purpose purpose, const std::map<std::string, double>& factors) {
        return std::any_of(all.begin(), all.end(),
                           [&](const Combination& c) { return c.purpose == purpose && c.factors == factors; });
    };
    EXPECT_TRUE(holds(Purpose::service, {{"G", 1}, {"Q", 1}}));
    EXPECT_TRUE(holds(Purpose::strength, {{"G", 1.35}, {"Q", 1.5}}));
    EXPECT_TRUE(holds(Purpose::stability, {{"G", 0.9}, {"Q", 1.5}}));
}

TEST(Boreholes, ANewOneBeginsWithWhatTheOthersSayThere) {
    Model m = some();
    m.ground.boreholes[0].ground_level = 1, m.ground.boreholes[0].water_level = -0.333;
    const SoilProfile known(m.ground);
    const Borehole b = new_borehole(m, &known);
    EXPECT_NE(b.id, "BH1");
    EXPECT_EQ(b.ground_level, 1);
    EXPECT_EQ(b.water_level, -0.33);
    ASSERT_EQ(b.layers.size(), 1u);
    EXPECT_EQ(b.layers[0].bottom, -5);
    Model none = raft(box(0, 0, 8, 6), 0.5, 20000);
    EXPECT_EQ(new_borehole(none, nullptr).layers.size(), 1u);
}

}  // namespace
}  // namespace mossbed
