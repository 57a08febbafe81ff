// Solving in stages: an edit pays for what it touches, and an answer that goes on from another is the answer.
#include "core/answer/stages.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include <nlohmann/json.hpp>

#include "core/validate/validate.h"
#include "tests/core/answer/differences.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using json = nlohmann::ordered_json;

// Something of everything that a stage reads: an opening, patches of slab and ground, a round column, a wall, strata.
const char* const everything = R"({
 "format": "mossbed", "version": 1, "title": "All of it",
 "settings": {"design_code": "EN 1992-1-1", "national": {"gamma_c": 1.5}, "display_units": "metric"},
 "concretes": [{"id": "C30/37", "fck": 30, "E": 33000, "nu": 0.2, "unit_weight": 25},
               {"id": "C40", "fck": 40, "E": 35000, "nu": 0.2, "unit_weight": 24}],
 "steels": [{"id": "B500", "fyk": 500, "E": 200000}],
 "ground": {"model": "profile", "modulus": 15000, "allowable_pressure": 200, "yield_pressure": 400,
  "founding_level": -1.0, "water_level": -3.0, "settlement_method": "elastic", "rigid_base_level": -14.0,
  "depth_limit_ratio": 0.2, "excavation_relief": true, "years": [2, 10],
  "strata": [{"id": "clay", "unit_weight": 19, "saturated_unit_weight": 20, "E": 12, "nu": 0.3, "E_reload": 40,
              "cv": 2.0, "drainage_path": 3.0},
             {"id": "sand", "unit_weight": 18, "saturated_unit_weight": 20, "E": 50, "nu": 0.3}],
  "boreholes": [{"id": "B1", "at": [0, 0], "ground_level": 0, "water_level": -3,
                 "layers": [{"stratum": "clay", "bottom": -6}, {"stratum": "sand", "bottom": -15}]},
                {"id": "B2", "at": [12, 2], "ground_level": 0.2,
                 "layers": [{"stratum": "clay", "bottom": -8}, {"stratum": "sand", "bottom": -15}]}],
  "patches": [{"id": "P", "outline": [[0, 0], [4, 0], [4, 8], [0, 8]], "modulus": 30000}]},
 "slab": {"outline": [[0, 0], [12, 0], [12, 8], [0, 8]], "thickness": 0.5, "top_level": -0.5, "concrete": "C30/37",
  "self_weight": true, "stiffness_factor": 0.9,
  "openings": [{"id": "O", "outline": [[8, 3], [9, 3], [9, 4], [8, 4]]}],
  "patches": [{"id": "T", "outline": [[2, 2], [5, 2], [5, 5], [2, 5]], "thickness": 0.8, "flush": "top",
               "concrete": "C40"}]},
 "columns": [{"id": "C1", "at": [3.5, 3.5], "size": [0.4, 0.5], "angle": 10, "pedestal_height": 0.2},
             {"id": "C2", "at": [10, 5.5], "shape": "circle", "size": [0.5], "stiff_footprint": false}],
 "walls": [{"id": "W", "path": [[6, 1], [6, 7]], "thickness": 0.25, "height": 3.0, "stiffens": false}],
 "loads": {
  "cases": [
   {"id": "G", "action": "permanent", "items": [
     {"column": "C1", "N": 900, "Mx": 20, "My": -30, "Hx": 5}, {"column": "C2", "N": 700}, {"wall": "W", "q": 40}]},
   {"id": "Q", "action": "imposed", "items": [
     {"column": "C1", "N": 200}, {"point": [9, 1], "N": 50, "Mx": 4}, {"line": [[1, 1], [1, 7]], "q": [10, 20]},
     {"area": [[7, 5], [9, 5], [9, 7], [7, 7]], "p": 12}, {"slab": true, "p": 3}]},
   {"id": "U", "action": "permanent", "items": [{"uplift_to_level": -0.8}]}],
  "combinations": [
   {"id": "S", "purpose": "service", "factors": {"G": 1, "Q": 1, "U": 1}, "frequency": "quasi-permanent"},
   {"id": "D", "purpose": "strength", "factors": {"G": 1.35, "Q": 1.5}}]},
 "mesh": {"size": 2.0},
 "steel": {"steel": "B500", "cover_top": 40, "cover_bottom": 50, "outer_top": "x", "outer_bottom": "y",
  "base": {"top_x": {"diameter": 12, "spacing": 200}},
  "extra": [{"id": "E", "outline": [[1, 1], [9, 1], [9, 6], [1, 6]], "face": "bottom", "direction": "x", "diameter": 12,
             "spacing": 200}],
  "minimum_on_both_faces": true, "twisting": true, "sizes": [12, 16, 20, 25], "spacings": [100, 150, 200]},
 "checks": {"settlement_limit": 0.05, "distortion_limit": 0.002, "tilt_limit": 0.002, "contact_ratio_limit": 0.8,
  "crack_width_limit": 0.3}
})";

Model model_of(const json& j) {
    Loaded l = read_model(j.dump());
    EXPECT_TRUE(l.model) << (l.problems.empty() ? "" : l.problems[0].sentence());
    return l.model ? *l.model : Model{};
}

// All that a user sees of an answer, as text with ten digits.
std::string seen(const Answer& a) {
    std::string s;
    for (const Row& r : a.checks) {
        s += fmt::format("{}|{}|{}|{:.10g}|{:.10g}|{:.10g}|{}|{}\n", r.key(), r.title, name_of(r.status),
                         r.utilisation.value_or(-1), r.value.value_or(-1), r.limit.value_or(-1), r.clause, r.note);
        for (const Term& t : r.working) s += fmt::format("   {} {} {:.10g}\n", t.text, t.formula, t.value);
    }
    for (const CombinationAnswer& c : a.combinations) {
        s += fmt::format("{} {} {} {:.10g} {:.10g}\n", c.combination.id, name_of(c.ending), c.explanation,
                         c.max_pressure, c.contact_ratio);
        if (c.has_field())
            for (int i = 0; i < int(a.mesh.nodes.size()); i += 7) s += fmt::format(" {:.10g}", c.settlement(i));
    }
    for (const StripAnswer& t : a.steel.strips)
        for (const SectionRow& r : t.sections)
            s += fmt::format("{} {:.10g} {:.10g} {:.10g} {:.10g}\n", t.strip.id, r.s, r.M,
                             r.bottom_required.value_or(-1), r.bottom_provided);
    for (const Problem& p : a.problems) s += p.sentence() + "\n";
    return s;
}

std::shared_ptr<const Answer> solved(const Model& m, const Answer* previous = nullptr) {
    try {
        return solve(m, {}, previous);
    } catch (const Trouble&) {
        return nullptr;
    }
}

// Every number, word and switch of the file in turn, so that no stage can forget that it reads one.
void each_edit(json& j, const std::string& path, const std::function<void(const std::string&)>& look) {
    if (j.is_structured()) {
        for (auto it = j.begin(); it != j.end(); ++it)
            each_edit(*it, path + "/" + (j.is_object() ? it.key() : std::to_string(it - j.begin())), look);
        return;
    }
    const json was = j;
    if (j.is_number_integer() || j.is_number_float())
        j = j.get<double>() == 0 ? json(0.1) : json(j.get<double>() * 1.03);
    else if (j.is_boolean())
        j = !j.get<bool>();
    else
        return;
    look(path);
    j = was;
}

TEST(Stages, WhicheverNumberIsEditedTheAnswerIsThatOfAColdStart) {
    for (const char* ground : {"profile", "patches", "coupled"}) {
        json j = json::parse(everything);
        j["ground"]["model"] = ground;
        const auto before = solved(model_of(j));
        ASSERT_TRUE(before);
        int edits = 0, reused = 0;
        const int every = std::string(ground) == "profile" ? 1 : 4;
        each_edit(j, "", [&](const std::string& path) {
            if (path == "/version" || ++edits % every) return;
            const Loaded l = read_model(j.dump());
            if (!l.model || has_errors(problems_of(*l.model))) return;
            const auto cold = solved(*l.model), warm = solved(*l.model, before.get());
            ASSERT_EQ(!cold, !warm) << ground << path;
            if (!cold) return;
            if (std::string(ground) == "coupled") {  // found by going on from it: to the tolerance
                const testing::Differences d(*cold, *warm);
                EXPECT_LT(d.worst(), 1e-5) << path << ": " << d.in_words();
                EXPECT_LT(d.of_settlement(), 2e-7) << path;
            } else {
                EXPECT_EQ(seen(*cold), seen(*warm)) << ground << path;
            }
            reused += warm->stages.solution == before->stages.solution;
        });
        EXPECT_GT(reused, every == 1 ? 20 : 5) << ground;  // bars, covers, limits …
    }
}

struct Edit {
    const char* what;
    void (*make)(Model&);
    bool mesh, stiffness, loading, supported, solution;  // kept
};

TEST(Stages, AnEditPaysForWhatItTouches) {
    const Model m = [] {
        json j = json::parse(everything);
        j["ground"]["model"] = "patches";
        return model_of(j);
    }();
    const auto before = solved(m);
    ASSERT_TRUE(before);
    const std::vector<Edit> edits{
        {"nothing", [](Model&) {}, true, true, true, true, true},
        {"a cover", [](Model& m) { m.steel.cover_bottom = 60; }, true, true, true, true, true},
        {"base bars",
         [](Model& m) {
             m.steel.bottom_x = {20, 150};
         },
         true, true, true, true, true},
        {"extra bars", [](Model& m) { m.steel.extra.clear(); }, true, true, true, true, true},
        {"the strength of concrete", [](Model& m) { m.concretes[0].fck = 35; }, true, true, true, true, true},
        {"a limit", [](Model& m) { m.checks.settlement_limit = 0.03; }, true, true, true, true, true},
        {"the allowable pressure", [](Model& m) { m.ground.allowable_pressure = 120; }, true, true, true, true, true},
        {"a factor of the code", [](Model& m) { m.settings.national = R"({"gamma_c":1.4})"; }, true, true, true, true,
         true},
        {"a combination", [](Model& m) { (*m.loads.combinations)[1].factors["Q"] = 1.2; }, true, true, true, true,
         false},
        {"a load", [](Model& m) { std::get<ColumnLoad>(m.loads.cases[0].items[0].load).N = 950; }, true, true, false,
         true, false},
        {"a modulus of the ground", [](Model& m) { m.ground.patches[0].modulus = 25000; }, true, true, true, false,
         false},
        {"the stiffness of concrete", [](Model& m) { m.concretes[0].E = 30000; }, true, false, true, false, false},
        {"the thickness", [](Model& m) { m.slab.thickness = 0.55; }, true, false, false, false, false},
        {"a column moved", [](Model& m) { m.columns[0].at.x += 0.2; }, false, false, false, false, false},
    };
    for (const Edit& e : edits) {
        Model edited = m;
        e.make(edited);
        const auto a = solved(edited, before.get());
        ASSERT_TRUE(a) << e.what;
        EXPECT_EQ(a->stages.meshed == before->stages.meshed, e.mesh) << e.what;
        EXPECT_EQ(a->stages.stiffness == before->stages.stiffness, e.stiffness) << e.what;
        EXPECT_EQ(a->stages.loading == before->stages.loading, e.loading) << e.what;
        EXPECT_EQ(a->stages.supported == before->stages.supported, e.supported) << e.what;
        EXPECT_EQ(a->stages.solution == before->stages.solution, e.solution) << e.what;
    }
}

TEST(Stages, EquationsOfAKnownPatternAreNotAnalysedAgain) {
    Model m = testing::raft(box(0, 0, 8, 6), 0.5, 20000);
    m.columns = {testing::column("C", 3, 2)};
    testing::load(m, {ColumnLoad{"C", 900, 0, 0, 0, 0}, {}});
    const auto first = solve(m);
    EXPECT_TRUE(first->stages.stiffness->analysed);
    m.slab.thickness = 0.6;
    const auto thicker = solve(m, {}, first.get()), cold = solve(m);
    EXPECT_NE(thicker->stages.stiffness, first->stages.stiffness);
    EXPECT_FALSE(thicker->stages.stiffness->analysed);
    const Eigen::VectorXd &x = testing::only(*thicker).motion.x, &y = testing::only(*cold).motion.x;
    EXPECT_LT((x - y).cwiseAbs().maxCoeff(), 1e-9 * y.cwiseAbs().maxCoeff());
    m.columns[0].at = {5, 4};
    EXPECT_TRUE(solve(m, {}, thicker.get())->stages.stiffness->analysed);
}

TEST(Stages, ACoarseFrameAndAFullAnswerDoNotMix) {
    const Model m = model_of(json::parse(everything));
    SolveOptions coarse;
    coarse.checks = false;
    coarse.mesh_size = 2.0;  // the model's own: only the footprints differ
    const auto frame = solve(m, coarse);
    const auto full = solve(m, {}, frame.get());
    EXPECT_NE(full->stages.meshed, frame->stages.meshed);
    EXPECT_EQ(seen(*full), seen(*solve(m)));
    EXPECT_FALSE(frame->demand);
}

// Each column is a node of the coarsest mesh, but what another answer begins from need not have a patch for each.
TEST(Stages, ARoughAnswerUnderManyColumnsHasFewPatches) {
    Model m = testing::raft(box(0, 0, 66, 66), 0.5, 2e4);
    for (int i = 0; i < 44 * 44; ++i) {
        m.columns.push_back(testing::column(fmt::format("C{}", i), 0.75 + 1.5 * (i % 44), 0.75 + 1.5 * (i / 44), 0.3));
        testing::load(m, {ColumnLoad{m.columns.back().id, 60 + 0.1 * (i % 44), 0, 0, 0, 0}, {}});
    }
    m.ground.model = GroundModel::coupled;
    Stratum sand;
    sand.id = "sand", sand.E = 30, sand.nu = 0.3, sand.unit_weight = 19, sand.saturated_unit_weight = 20;
    m.ground.strata = {sand};
    Borehole b;
    b.id = "A", b.at = Point{33, 33}, b.ground_level = 0, b.layers = {{"sand", -12, {}}};
    m.ground.boreholes = {b}, m.ground.rigid_base_level = -12;
    SolveOptions o;
    o.checks = false, o.mesh_size = 3;
    const auto close = solve(m, o);
    o.rough = true;
    const auto rough = solve(m, o);
    EXPECT_GT(close->ground->patches->count(), 44 * 44);
    EXPECT_LE(rough->ground->patches->count(), 1500);
    EXPECT_GT(rough->ground->patches->count(), 1000);
    auto largest = [](const Answer& a) {
        double most = 0;
        for (size_t i = 0; i < a.mesh.nodes.size(); ++i) most = std::max(most, testing::only(a).settlement(int(i)));
        return most;
    };
    EXPECT_NEAR(largest(*rough), largest(*close), 0.02 * largest(*close));
}

TEST(Stages, WhatTakesLongIsKnownBeforehand) {
    Model m = model_of(json::parse(everything));
    m.mesh_size = 0.5;
    EXPECT_FALSE(takes_long(m));
    Model fine = m;
    fine.mesh_size = 0.04;  // 60 000 cells
    EXPECT_TRUE(takes_long(fine));
    Model many = m;
    const Combination c = many.loads.combinations->front();
    for (int k = 0; k < 5000; ++k)
        many.loads.combinations->push_back(c), many.loads.combinations->back().id = fmt::format("K{}", k);
    EXPECT_TRUE(takes_long(many));
    for (Combination& k : *many.loads.combinations) k.active = &k == &many.loads.combinations->front();
    EXPECT_FALSE(takes_long(many));  // those put aside are not solved

    EXPECT_GT(size_for_a_look(fine), 0.3);
    m.mesh_size = 5;
    EXPECT_EQ(size_for_a_look(m), 5);  // no finer than the model's
}

// Eight hundred corners, and nodes mostly on the rim: the depth limit is found below the middle.
TEST(Stages, ALookAtABaseOfManyCornersSettlesAsTheWholeAnswer) {
    Model m = model_of(json::parse(everything));
    m.ground.model = GroundModel::coupled, m.ground.rigid_base_level.reset(), m.ground.patches.clear();
    m.slab.openings.clear(), m.slab.patches.clear(), m.walls.clear(), m.columns.clear(), m.loads.cases.resize(1);
    m.columns = {testing::column("C1", 0, 0, 0.5)};
    m.loads.cases[0].items = {{AreaLoad{box(-5, -5, 5, 5), 60}, {}}};
    Polygon rim;
    for (int i = 0; i < 800; ++i) {
        const double t = 2 * std::numbers::pi * i / 800;
        rim.push_back((8 + 0.1 * std::cos(20 * t)) * Point{std::cos(t), std::sin(t)});
    }
    m.slab.outline = rim, m.mesh_size = 0.8;
    Combination c;
    c.id = "S", c.factors = {{m.loads.cases[0].id, 1}};
    m.loads.combinations = std::vector<Combination>{c};
    SolveOptions o;
    o.checks = false, o.mesh_size = 2;
    const auto look = solve(m, o), whole = solve(m);
    auto largest = [](const Answer& a) {
        double most = 0;
        for (size_t i = 0; i < a.mesh.nodes.size(); ++i) most = std::max(most, testing::only(a).settlement(int(i)));
        return most;
    };
    EXPECT_NEAR(look->ground->layers->limit().level, whole->ground->layers->limit().level, 1e-3);
    EXPECT_NEAR(largest(*look), largest(*whole), 0.01 * largest(*whole));
}

TEST(Stages, WhereNothingHasEquilibriumThatIsKeptToo) {
    Model m = testing::raft(box(0, 0, 6, 4), 0.4, 2e4);
    testing::load(m, {PointLoad{{3, 2}, -100, 0, 0}, {}});
    const auto before = solve(m);
    ASSERT_EQ(before->combinations[0].ending, Ending::lifts_free);
    EXPECT_FALSE(before->stages.supported);
    m.steel.cover_top = 45;
    const auto after = solve(m, {}, before.get());
    EXPECT_EQ(after->stages.solution, before->stages.solution);
    EXPECT_EQ(after->combinations[0].explanation, before->combinations[0].explanation);
}

TEST(Stages, ANoteOnACombinationTakesThePressuresAsTheyWere) {
    Model m = model_of(json::parse(everything));
    const auto before = solve(m, {});
    (*m.loads.combinations)[0].title = "looked at twice";
    const auto after = solve(m, {}, before.get());
    EXPECT_EQ(after->combinations[0].combination.title, "looked at twice");
    EXPECT_EQ(before->combinations[0].combination.title, "");
    EXPECT_EQ(after->stages.supported, before->stages.supported);
    EXPECT_EQ(after->combinations[0].pressure, before->combinations[0].pressure);
}

}  // namespace
}  // namespace mossbed
