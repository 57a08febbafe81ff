#include "core/codes/combination_edits.h"

#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

Model two_cases() {
    Model m = raft(box(0, 0, 10, 8), 0.6, 20000);
    m.loads.cases[0].action = Action::permanent;
    LoadCase q;
    q.id = "Q", q.action = Action::imposed;
    m.loads.cases.push_back(q);
    m.loads.combinations.reset();
    return m;
}
const Combination& row(const Model& m, const std::string& id) { return *find_id(*m.loads.combinations, id); }

TEST(CombinationEdits, AFactorMakesARowOnesOwnAndNotesAndSwitchesDoNot) {
    Model m = two_cases();
    EXPECT_EQ(set_factor(m, "U.Q", "Q", 1.5), "");
    EXPECT_TRUE(row(m, "U.Q").generated_by) << "nothing changed";
    set_note(m, "U.Q", "full store"), set_active(m, {"U.Q"}, false);
    EXPECT_TRUE(row(m, "U.Q").generated_by);
    EXPECT_EQ(set_factor(m, "U.Q", "Q", 0), "");
    EXPECT_FALSE(row(m, "U.Q").generated_by);
    EXPECT_EQ(row(m, "U.Q").factors, (std::map<std::string, double>{{"G", 1.35}}));
    EXPECT_NE(set_factor(m, "U.Q", "R", 1), "");
    EXPECT_NE(set_factor(m, "U.R", "Q", 1), "");
}

TEST(CombinationEdits, NamesStayTheirOwnAndTheSpringsFollow) {
    Model m = two_cases();
    m.ground.combination_for_springs = "Q.1";
    EXPECT_EQ(rename_combination(m, "U.Q", "full"), "");
    EXPECT_NE(rename_combination(m, "full", "T.Q"), "");
    EXPECT_NE(rename_combination(m, "full", ""), "");
    m.ground.combination_for_springs = "full";
    EXPECT_EQ(rename_combination(m, "full", "store"), "");
    EXPECT_EQ(m.ground.combination_for_springs, "store");
    remake_combinations(m);
    EXPECT_TRUE(find_id(*m.loads.combinations, std::string("store"))) << "an equal row keeps the name it was given";
}

TEST(CombinationEdits, RowsByRuleAreSwitchedOffAndRowsByHandGo) {
    Model m = two_cases();
    const std::string mine = add_combination(m, "U.Q");
    EXPECT_EQ(mine, "U1");
    EXPECT_EQ(row(m, mine).factors, row(m, "U.Q").factors);
    const Dropped d = drop_combinations(m, {mine, "U.Q"});
    EXPECT_EQ(d.gone, 1);
    EXPECT_EQ(d.off, 1);
    EXPECT_FALSE(find_id(*m.loads.combinations, mine));
    EXPECT_FALSE(row(m, "U.Q").active);
    remake_combinations(m);
    EXPECT_FALSE(row(m, "U.Q").active) << "what is off stays off";
}

TEST(CombinationEdits, AnotherPurposeIsByHand) {
    Model m = two_cases();
    EXPECT_EQ(set_purpose(m, "S.Q", Purpose::trace), "");
    EXPECT_EQ(row(m, "S.Q").purpose, Purpose::trace);
    EXPECT_FALSE(row(m, "S.Q").frequency);
    EXPECT_FALSE(row(m, "S.Q").generated_by);
}

TEST(CombinationEdits, CasesAreCopiedScaledOrderedAndDropped) {
    Model m = two_cases();
    m.columns = {column("C1", 5, 4)};
    load(m, {ColumnLoad{"C1", 100, 10, 20, 3, 4}, {}});
    load(m, {LineLoad{{{0, 0}, {1, 0}}, {5, 7}}, {}});
    load(m, {SlabLoad{0, FillDepth{1.2, 18}}, {}});
    load(m, {Uplift{-1}, {}});
    const std::string copy = copy_case(m, "G");
    ASSERT_EQ(m.loads.cases[1].id, copy);
    scale_case(m, copy, -2);
    const auto& items = m.loads.cases[1].items;
    EXPECT_EQ(std::get<ColumnLoad>(items[0].load), (ColumnLoad{"C1", -200, -20, -40, -6, -8}));
    EXPECT_EQ(std::get<LineLoad>(items[1].load).q, (std::array<double, 2>{-10, -14}));
    EXPECT_NEAR(std::get<SlabLoad>(items[2].load).pressure(), -43.2, 1e-12);
    EXPECT_EQ(std::get<Uplift>(items[3].load).to_level, -1) << "a level is no load";
    EXPECT_EQ(std::get<ColumnLoad>(m.loads.cases[0].items[0].load).N, 100);
    EXPECT_TRUE(move_case(m, copy, 1));
    EXPECT_FALSE(move_case(m, copy, 1));
    EXPECT_EQ(m.loads.cases[2].id, copy);
    m.loads.combinations = combinations_in(m);
    drop_case(m, copy);
    for (const Combination& c : *m.loads.combinations) EXPECT_FALSE(c.factors.count(copy));
    EXPECT_EQ(copy_case(m, "none"), "");
}

}  // namespace
}  // namespace mossbed::testing
