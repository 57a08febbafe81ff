// Items of load cases in files, and slips of loads and combinations that no number shows.
#include <gmock/gmock.h>

#include <nlohmann/json.hpp>

#include "core/model/edit.h"
#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

Loaded read_items(const std::string& items) {
    return read_model(R"({"format": "mossbed", "version": 1, "slab": {"outline": [[0,0],[8,0],[8,6],[0,6]],
        "openings": [{"id": "O1", "outline": [[5,4],[6,4],[6,5],[5,5]]}]},
        "loads": {"cases": [{"id": "B", "action": "soil", "group": "fill", "items": )" +
                      items + R"(}, {"id": "EX", "action": "seismic", "direction": "x", "items": []}]}})");
}
std::vector<std::string> faults_of(const Loaded& l) {
    std::vector<std::string> out;
    for (const Problem& p : l.problems)
        if (p.severity == Severity::error) out.push_back(p.sentence());
    return out;
}

TEST(LoadItems, DepthTimesUnitWeightIsReadKeptAndPresses) {
    const Loaded l = read_items(R"([{"slab": true, "depth": 1.2, "unit_weight": 18},
        {"area": [[0,0],[4,0],[4,2.5],[0,2.5]], "depth": 0.5, "unit_weight": 20}])");
    ASSERT_TRUE(l.model) << faults_of(l)[0];
    const Loaded again = read_model(write_model(*l.model));
    ASSERT_TRUE(again.model);
    EXPECT_EQ(again.model->loads, l.model->loads);
    EXPECT_EQ(l.model->loads.cases[0].group, "fill");
    EXPECT_EQ(l.model->loads.cases[1].direction, Direction::x);
    Model m = *l.model;
    m.slab.self_weight = false, m.mesh_size = 0.5;
    Combination s;
    s.id = "S", s.factors = {{"B", 1}};
    m.loads.combinations = std::vector<Combination>{s};
    const auto a = solve(m);
    EXPECT_NEAR(only(*a).applied.Fz, 21.6 * 47 + 10 * 10, 1e-6);
    EXPECT_NEAR(only(*a).applied.My, 21.6 * (48 * 4 - 5.5) + 100 * 2, 1e-6);
}

TEST(LoadItems, HalfAFillAndAPressureBesideOneAreRefused) {
    EXPECT_THAT(faults_of(read_items(R"([{"slab": true, "depth": 1.2}])")),
                ::testing::ElementsAre(HasSubstr("the unit weight, kN/m³, is missing")));
    EXPECT_THAT(faults_of(read_items(R"([{"slab": true, "unit_weight": 18}])")),
                ::testing::ElementsAre(HasSubstr("the depth, m, is missing")));
    EXPECT_THAT(faults_of(read_items(R"([{"slab": true, "p": 3, "depth": 1, "unit_weight": 18}])")),
                ::testing::ElementsAre(HasSubstr("gives p beside depth")));
    const Loaded deep = read_items(R"([{"slab": true, "depth": -1, "unit_weight": 180}])");
    ASSERT_TRUE(deep.model);
    std::string all;
    for (const Problem& p : problems_of(*deep.model)) all += p.sentence();
    EXPECT_THAT(all, HasSubstr("the depth is -1 m"));
    EXPECT_THAT(all, HasSubstr("the unit weight is 180 kN/m³"));
}

TEST(LoadItems, AnUnknownCategoryAndDirectionAreRefusedByName) {
    EXPECT_THAT(faults_of(read_model(R"({"format": "mossbed", "version": 1, "slab": {"outline": [[0,0],[8,0],[8,6]]},
        "loads": {"cases": [{"id": "Q", "action": "imposed", "category": "Z"}]}})")),
                ::testing::ElementsAre(HasSubstr("\"Z\" is not one of the words known here")));
    EXPECT_FALSE(faults_of(read_model(R"({"format": "mossbed", "version": 1, "slab": {"outline": [[0,0],[8,0],[8,6]]},
        "loads": {"cases": [{"id": "E", "action": "seismic", "direction": "up"}]}})"))
                     .empty());
}

TEST(LoadItems, ALoadOnAPileIsKeptAndAPileThatIsNotThereTold) {
    const Loaded l = read_items(R"([{"pile": "P1", "N": -60}])");
    ASSERT_TRUE(l.model);
    EXPECT_EQ(read_model(write_model(*l.model)).model->loads, l.model->loads);
    std::string all;
    for (const Problem& p : problems_of(*l.model)) all += p.sentence();
    EXPECT_THAT(all, HasSubstr("there is no pile \"P1\""));
}

TEST(LoadItems, OfMembersAndWaterAreSetCaseByCase) {
    Model m = raft(box(0, 0, 8, 6), 0.6, 20000);
    m.walls = {{"W1", {{1, 1}, {7, 1}}, 0.25, 3, false, 1, {}}};
    load(m, {WallLoad{"W1", 10}, {}});
    load(m, {WallLoad{"W1", 5}, {}});
    const Thing wall{ThingKind::wall, "W1"};
    EXPECT_EQ(member_load(m, "G", wall), 15);
    set_member_load(m, "G", wall, 12);
    EXPECT_EQ(m.loads.cases[0].items.size(), 1u);
    EXPECT_EQ(member_load(m, "G", wall), 12);
    set_member_load(m, "G", wall, 0);
    EXPECT_TRUE(m.loads.cases[0].items.empty());
    EXPECT_FALSE(uplift_level(m, "G"));
    set_uplift_level(m, "G", -1), set_uplift_level(m, "G", -0.5);
    EXPECT_EQ(uplift_level(m, "G"), -0.5);
    EXPECT_EQ(m.loads.cases[0].items.size(), 1u);
}

std::string slips_of(const Model& m) {
    std::string all;
    const auto a = solve(m);
    for (const Row& r : a->checks)
        if (r.id == "model") all += r.title + ": " + r.note + "\n";
    return all;
}

TEST(LoadSlips, TheSameReactionTwiceACombinationOfNothingAndOneWithoutWeightAreTold) {
    Model m = raft(box(0, 0, 8, 6), 0.6, 20000);
    m.slab.self_weight = true, m.mesh_size = 2;
    m.columns = {column("C1", 4, 3)};
    load(m, {ColumnLoad{"C1", 300, 0, 0, 0, 0}, {}});
    EXPECT_THAT(slips_of(m), ::testing::Not(HasSubstr("twice")));
    load(m, {ColumnLoad{"C1", 300, 0, 0, 0, 0}, {}});
    LoadCase second;
    second.id = "G2", second.action = Action::permanent;
    second.items = {{SlabLoad{5}, {}}};
    m.loads.cases.push_back(second);
    Combination none, light;
    none.id = "S0", light.id = "S2", light.factors = {{"G2", 1}};
    m.loads.combinations->push_back(none), m.loads.combinations->push_back(light);
    const std::string all = slips_of(m);
    EXPECT_THAT(all, HasSubstr("column C1 stands in it twice; they are summed"));
    EXPECT_THAT(all, HasSubstr("combination S0: it holds no case"));
    EXPECT_THAT(all, HasSubstr("2 combinations without self-weight"));
    EXPECT_THAT(all, HasSubstr("stands in case G, which S0, S2 leave out"));
}

}  // namespace
}  // namespace mossbed::testing
