// An answer on layered ground that goes on from another is the answer from nothing, wherever it went on from.
#include <gtest/gtest.h>

#include <chrono>
#include <thread>

#include "core/answer/carry.h"
#include "tests/core/answer/differences.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using testing::Differences;
using testing::only;

// An L on two layers, one dipping; one combination presses evenly, one lifts a side, one makes the rim yield.
Model quay() {
    Model m = testing::raft({{0, 0}, {14, 0}, {14, 6}, {8, 6}, {8, 10}, {0, 10}}, 0.6, 10000);
    m.columns = {column("A", 1.5, 1.5), column("B", 7, 1.5), column("C", 12.5, 1.5), column("D", 1.5, 8.5),
                 column("E", 6.5, 8.5)};
    Ground& g = m.ground;
    g.model = GroundModel::coupled, g.founding_level = -1, g.yield_pressure = 180;
    m.slab.top_level = -0.4;
    auto stratum = [](const char* id, double E, double reload) {
        Stratum s;
        s.id = id, s.E = E, s.E_reload = reload, s.nu = 0.3, s.unit_weight = 18, s.saturated_unit_weight = 20;
        return s;
    };
    g.strata = {stratum("clay", 7, 25), stratum("sand", 40, 80)};
    int k = 0;
    for (auto [x, y, bottom] : {std::array{-2.0, -2.0, -4.0}, {16.0, -1.0, -8.0}, {5.0, 14.0, -5.0}}) {
        Borehole b;
        b.id = fmt::format("B{}", ++k), b.at = {x, y}, b.ground_level = 0.0;
        b.layers = {{"clay", bottom, {}}, {"sand", -25, {}}};
        g.boreholes.push_back(b);
    }
    m.loads.cases.resize(2);
    m.loads.cases[1].id = "W";
    for (const Column& c : m.columns) {
        m.loads.cases[0].items.push_back({ColumnLoad{c.id, 900, 0, 20, 0, 0}, {}});
        m.loads.cases[1].items.push_back({ColumnLoad{c.id, c.at.x < 3 ? 500.0 : -500.0, 0, 60, 0, 0}, {}});
    }
    auto combination = [](const char* id, double G, double W) {
        Combination c;
        c.id = id, c.factors = {{"G", G}, {"W", W}};
        return c;
    };
    m.loads.combinations =
        std::vector{combination("even", 1, 0), combination("lifts", 1, 1.3), combination("yields", 1.9, 0)};
    return m;
}

TEST(GoingOn, AfterAnyEditTheAnswerIsThatFromNothing) {
    const Model m = quay();
    const auto before = solve(m);
    ASSERT_LT(before->find("lifts")->contact_ratio, 0.9);
    ASSERT_GT(before->find("yields")->yield_ratio, 0.03);
    const std::vector<std::pair<const char*, std::function<void(Model&)>>> edits{
        {"a column", [](Model& e) { e.columns[2].at.x -= 0.3; }},
        {"the rim",
         [](Model& e) { std::get<Polygon>(e.slab.outline)[1].x = std::get<Polygon>(e.slab.outline)[2].x = 14.5; }},
        {"loads", [](Model& e) { (*e.loads.combinations)[1].factors["W"] = 1.5; }},
        {"the thickness", [](Model& e) { e.slab.thickness = 0.75; }},
        {"the clay", [](Model& e) { e.ground.strata[0].E = 5; }},
        {"no yield", [](Model& e) { e.ground.yield_pressure.reset(); }},
        {"pull", [](Model& e) { e.ground.tension = true; }},
        {"a finer mesh", [](Model& e) { e.mesh_size = 0.4; }},
    };
    for (const auto& [what, edit] : edits) {
        Model e = m;
        edit(e);
        const auto cold = solve(e), warm = solve(e, {}, before.get());
        const Differences d(*cold, *warm);
        EXPECT_LT(d.worst(), 1e-5) << what << ": " << d.in_words();
        int saved = 0;
        for (size_t k = 0; k < 3; ++k) saved += cold->combinations[k].rounds - warm->combinations[k].rounds;
        if (std::string(what) == "loads") EXPECT_GT(saved, 10);
    }
}

// On ground that is linear down to a depth that stays, forces and settlements grow as the loads do: the search ends
// where it begins.
TEST(GoingOn, UnderLoadsThatAllGrewItBeginsWhereTheyLead) {
    Model m = quay();
    m.ground.yield_pressure.reset(), m.ground.excavation_relief = false, m.ground.depth_limit_ratio = 0.001;
    m.loads.combinations->erase(m.loads.combinations->begin() + 2);
    const auto before = solve(m);
    ASSERT_GT(before->combinations[0].newton_steps, 0);
    for (double by : {1.1, 0.8}) {
        Model e = m;
        for (Combination& c : *e.loads.combinations)
            for (auto& [id, factor] : c.factors) factor *= by;
        const auto cold = solve(e), warm = solve(e, {}, before.get());
        for (const CombinationAnswer& c : warm->combinations) EXPECT_EQ(c.newton_steps, 0) << by << c.combination.id;
        EXPECT_LT(Differences(*cold, *warm).worst(), 1e-5) << by;
    }
}

// Half of the loads, or twice as many, are another matter than those before: nothing is taken from there.
TEST(GoingOn, UnderLoadsThatAreFarFromTheOldItBeginsFromNothing) {
    const Model m = quay();
    const auto before = solve(m);
    for (double by : {0.4, 2.0}) {
        Model e = m;
        for (Combination& c : *e.loads.combinations)
            for (auto& [id, factor] : c.factors) factor *= by;
        const auto cold = solve(e), warm = solve(e, {}, before.get());
        for (size_t k = 0; k < cold->combinations.size(); ++k) {
            const CombinationAnswer &a = cold->combinations[k], &b = warm->combinations[k];
            EXPECT_EQ(a.rounds, b.rounds) << by << a.combination.id;
            EXPECT_EQ(a.spring, b.spring) << by << a.combination.id;
        }
    }
}

TEST(GoingOn, WhereStrainIsByIndexToo) {
    Model m = quay();
    testing::strain_by_index(m);
    const auto before = solve(m);
    for (const CombinationAnswer& c : before->combinations) EXPECT_LE(c.compatibility, 5e-6) << c.combination.id;
    Model loads = m, thick = m;
    (*loads.loads.combinations)[1].factors["W"] = 1.5;
    thick.slab.thickness = 0.75;
    for (const Model* e : {&loads, &thick}) {
        const auto cold = solve(*e), warm = solve(*e, {}, before.get());
        const Differences d(*cold, *warm);
        EXPECT_LT(d.worst(), 1e-5) << d.in_words();
        // With one slope scaled row by row, the one that lifts took up to 59 rounds of the outer loop, of 60.
        for (const auto& a : {cold, warm})
            for (const CombinationAnswer& c : a->combinations) EXPECT_LE(c.outer, 30) << c.combination.id;
    }
}

TEST(GoingOn, HangsOnNoLuckWithWhatCameBefore) {
    const Model m = quay();
    const auto cold = solve(m);
    // Another slab altogether, one elsewhere, one with other combinations of the same names, one on springs.
    std::vector<Model> others(4, m);
    others[0].slab.outline = box(0, 0, 5, 4), others[0].columns.resize(1), others[0].loads.cases[0].items.resize(1),
    others[0].loads.cases[1].items.clear();
    for (Point& p : std::get<Polygon>(others[1].slab.outline)) p.y += 6;
    for (Column& c : others[1].columns) c.at.y += 6;
    std::swap((*others[2].loads.combinations)[0].factors, (*others[2].loads.combinations)[1].factors);
    others[3].ground.model = GroundModel::uniform;
    for (const Model& other : others) {
        const auto before = solve(other);
        const Differences d(*cold, *solve(m, {}, before.get()));
        EXPECT_LT(d.worst(), 1e-5) << &other - &others[0] << ": " << d.in_words();
    }
    // One that was stopped half way leaves nothing behind; there and back again is where one was.
    std::atomic<bool> stop{true};
    Progress stopped;
    stopped.stop = &stop;
    Model e = m;
    e.slab.thickness = 0.9;
    EXPECT_THROW(solve(e, {}, cold.get(), stopped), Stopped);
    const auto there = solve(e, {}, cold.get()), back = solve(m, {}, there.get());
    const Differences d(*cold, *back);
    EXPECT_LT(d.worst(), 1e-5) << d.in_words();
}

TEST(GoingOn, AStopAtAnyMomentEndsItWhateverIsUnderWayBesides) {
    // Combinations are walked at the same time: where one meets the stop, what the others share out must not be taken
    // for done.
    const Model m = quay();
    using Clock = std::chrono::steady_clock;
    const auto whole = solve(m);
    Clock::duration took = Clock::duration::max();
    for (int k = 0; k < 3; ++k) {  // once more, since the first takes longer; the least, since others may be at work
        const Clock::time_point begin = Clock::now();
        solve(m);
        took = std::min(took, Clock::now() - begin);
    }
    int stopped = 0;
    for (int k = 0; k < 60; ++k) {
        std::atomic<bool> stop{false};
        Progress p;
        p.stop = &stop;
        const std::jthread hand([&] {
            std::this_thread::sleep_for(took * k / 70);
            stop = true;
        });
        try {
            solve(m, {}, nullptr, p);
        } catch (const Stopped&) {
            ++stopped;
        }
    }
    EXPECT_GT(stopped, 20);
    const Differences d(*whole, *solve(m));
    EXPECT_EQ(d.worst(), 0) << d.in_words();
}

TEST(Carry, TakesWhatIsThereAndSaysWhatIsNot) {
    const Model m = quay();
    const auto a = solve(m, {{"even", "lifts"}, 0.8, false});
    const Unknowns of(long(a->mesh.nodes.size()));
    const Carried same = carry(*a->stages.meshed, *a->stages.solution, *a->stages.meshed, of, {"lifts", "yields"});
    EXPECT_EQ(same.known, (std::vector<char>{1, 0}));
    EXPECT_EQ(same.x.col(0), a->find("lifts")->motion.x);
    // On a finer mesh: near by what it was.
    const auto fine = solve(m, {{"lifts"}, 0.4, false});
    const Carried c = carry(*a->stages.meshed, *a->stages.solution, *fine->stages.meshed,
                            Unknowns(long(fine->mesh.nodes.size())), {"lifts"});
    double largest = 0, off = 0, force = 0;
    for (int i = 0; i < int(fine->mesh.nodes.size()); ++i) {
        const double s = only(*fine).settlement(i);
        largest = std::max(largest, std::abs(s)), off = std::max(off, std::abs(s - c.x(3L * i, 0)));
        force += c.pressure(i, 0) * fine->shares.area[size_t(i)];
    }
    EXPECT_LT(off, 0.05 * largest);
    EXPECT_NEAR(force, only(*fine).ground_reaction.Fz, 0.05 * force);
    // A slab somewhere else knows nothing of it.
    Model away = m;
    for (Point& p : std::get<Polygon>(away.slab.outline)) p.x += 7;
    for (Column& k : away.columns) k.at.x += 7;
    const auto b = solve(away, {{"even"}, 0.8, false});
    EXPECT_FALSE(carry(*b->stages.meshed, *b->stages.solution, *a->stages.meshed, of, {"even"}).any());
}

}  // namespace
}  // namespace mossbed
