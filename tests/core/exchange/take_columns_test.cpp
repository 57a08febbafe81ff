// A table taken into a model: new columns, moved ones, loads replaced, and what is told of it.
#include "core/exchange/take_columns.h"

#include <gmock/gmock.h>

#include "core/answer/solve.h"
#include "core/codes/combination_rules.h"
#include "core/model/edit.h"
#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using namespace testing;
using ::testing::ElementsAre;
using ::testing::HasSubstr;

ColumnTable table(const std::string& text, bool loads_only = false) {
    ColumnTableOptions o;
    o.loads_only = loads_only;
    return read_column_table(read_cells(text), o);
}

TEST(TakeColumns, ANewModelGetsColumnsCasesCombinationsAndASlabThatSolves) {
    const Taken t = take_columns(new_model(),
                                 table("id,x,y,size,angle,DL N,LL N,W+x Mx\nC1,0,0,400x400,0,475,180,20\n"
                                       "C2,8,0,400x800,90,810,322,20\nC3,0,6,Ø500,0,500,200,20\n"),
                                 {false, 0.75});
    EXPECT_EQ(t.added, 3);
    EXPECT_TRUE(t.made_slab);
    const Box b = box_of(std::get<Polygon>(t.model.slab.outline));
    EXPECT_NEAR(b.low.x, -0.25 - 0.75, 1e-6);
    EXPECT_NEAR(b.high.x, 8 + 0.4 + 0.75, 1e-9) << "the turned column's own corner";
    EXPECT_NEAR(b.high.y, 6 + 0.25 + 0.75, 1e-6);
    std::vector<std::string> ids;
    for (const LoadCase& c : t.model.loads.cases) ids.push_back(c.id);
    EXPECT_THAT(ids, ElementsAre("DL", "LL", "W+x")) << "the empty cases that a new model begins with are gone";
    EXPECT_EQ(t.model.loads.cases[0].action, Action::permanent);
    EXPECT_EQ(t.model.loads.cases[1].action, Action::imposed);
    EXPECT_EQ(t.model.loads.cases[2].action, Action::wind);
    EXPECT_FALSE(t.model.loads.combinations) << "the rules write them for the cases that came";
    EXPECT_FALSE(has_errors(problems_of(t.model)));
    EXPECT_TRUE(solve(t.model)->combinations[0].is_solved());
}

Model standing() {
    Model m = raft(box(0, 0, 9, 7), 0.6, 20000);
    m.columns = {column("C1", 1.5, 1.5), column("C2", 7.5, 1.5)};
    load(m, {ColumnLoad{"C1", 100, 1, 2, 3, 4}, {}});
    load(m, {ColumnLoad{"C1", 50, 0, 0, 0, 0}, {}});  // a second item: both make its load
    load(m, {ColumnLoad{"C2", 200, 0, 0, 0, 0}, {}});
    load(m, {SlabLoad{5}, {}});
    m.loads.cases[0].title = "Permanent";
    return m;
}

TEST(TakeColumns, LoadsOfTheTableReplaceWhatStoodThereAndNothingElse) {
    const Model m = standing();
    const std::string id = m.loads.cases[0].id;
    const Taken t = take_columns(m, table("id," + id + " N\nC1,300\nC9,5\n", true), {true, 1});
    const ColumnLoad l = column_load(t.model, id, "C1");
    EXPECT_EQ(l.N, 300);
    EXPECT_EQ(l.Mx, 0) << "a load is replaced whole";
    EXPECT_EQ(column_load(t.model, id, "C2").N, 200);
    EXPECT_EQ(t.model.loads.cases[0].items.size(), 3u) << "the slab's load stays";
    EXPECT_EQ(t.model.columns, m.columns);
    ASSERT_EQ(t.problems.size(), 1u);
    EXPECT_THAT(t.problems[0].sentence(), HasSubstr("line 3: column C9: the model has no such column"));
    EXPECT_THAT(t.changes, ElementsAre(HasSubstr("C1: " + id + " N 150 → 300 kN; " + id + " Mx 1 → 0 kN·m")));
    EXPECT_FALSE(t.made_slab);
}

TEST(TakeColumns, ColumnsThatStandAreMovedAndResizedAndThatIsTold) {
    const Model m = standing();
    const Taken t = take_columns(m, table("id,x,y,size\nC2,7,1.5,400x600\nC3,4,5,Ø500\n"), {});
    EXPECT_EQ(t.added, 1);
    EXPECT_EQ(t.moved, 1);
    EXPECT_EQ(t.resized, 1);
    EXPECT_EQ(t.model.columns[1].at, (Point{7, 1.5}));
    EXPECT_THAT(t.changes, ElementsAre("C2: moved from (7.5, 1.5) to (7, 1.5) m; another size or angle"));
    EXPECT_THAT(t.missing, ElementsAre("C1"));
    EXPECT_EQ(t.model.slab.outline, m.slab.outline);
    EXPECT_EQ(t.model.loads, m.loads);
}

TEST(TakeColumns, AColumnWhereAnotherOfTheModelStandsIsRefused) {
    const Taken t =
        take_columns(standing(), table("id,x,y,size\nK1,1.5,1.5,400x400\nK2,7.5,1.5,400x400\nC2,4,4,400x400\n"), {});
    EXPECT_EQ(t.added, 1) << "K2 takes the place that C2 leaves";
    ASSERT_EQ(t.problems.size(), 1u);
    EXPECT_THAT(t.problems[0].sentence(), HasSubstr("line 2: column K1: it stands where the model's column C1 stands"));
}

TEST(TakeColumns, TheSameTableAgainChangesNothing) {
    const ColumnTable rows = table("id,x,y,size,G N,G Mx,Q N\nC1,0,0,400x400,475,1,180\nC2,8,0,400x800,810,0,0\n");
    const Taken once = take_columns(new_model(), rows, {});
    const Taken again = take_columns(once.model, rows, {});
    EXPECT_TRUE(again.same_as_before());
    EXPECT_EQ(again.model, once.model);
}

TEST(TakeColumns, CasesGoByIdOrTitleWhateverTheirCapitals) {
    Model m = standing();
    m.loads.cases[0].id = "G";
    m.loads.combinations = std::vector<Combination>(1);
    m.loads.combinations->at(0).factors = {{"G", 1.0}};
    const Taken t = take_columns(m, table("id,case,N\nC1,PERMANENT,1\nC2,g,2\nC1,Crane,3\n"), {});
    EXPECT_EQ(column_load(t.model, "G", "C1").N, 1);
    EXPECT_EQ(column_load(t.model, "G", "C2").N, 2);
    EXPECT_THAT(t.cases_added, ElementsAre("Crane"));
    std::string said;
    for (const Problem& p : t.problems) said += p.sentence() + "\n";
    EXPECT_THAT(said, HasSubstr("case Crane is new and in no combination")) << "combinations made by hand stay";
    EXPECT_THAT(said, HasSubstr("choose its action"));
    EXPECT_EQ(t.model.loads.combinations, m.loads.combinations);
}

TEST(TakeColumns, TwoNamesOfOneCaseAreNotSummed) {
    Model m = standing();
    m.loads.cases[0].id = "G";
    const Taken t = take_columns(m, table("id,case,N\nC1,G,1\nC1,Permanent,2\n"), {});
    EXPECT_EQ(column_load(t.model, "G", "C1").N, 1);
    ASSERT_FALSE(t.problems.empty());
    EXPECT_THAT(t.problems[0].sentence(), HasSubstr("line 3: column C1: G and Permanent are one case of the model"));
}

TEST(TakeColumns, NamesOfCasesSuggestTheirAction) {
    for (auto [name, action] : {std::pair{"G", Action::permanent},
                                {"DL", Action::permanent},
                                {"G1", Action::permanent},
                                {"Self weight", Action::permanent},
                                {"Q", Action::imposed},
                                {"LL2", Action::imposed},
                                {"Live", Action::imposed},
                                {"W+x", Action::wind},
                                {"Wind -y", Action::wind},
                                {"EX", Action::seismic},
                                {"Ey-", Action::seismic},
                                {"S", Action::snow},
                                {"Snow drift", Action::snow},
                                {"Crane", Action::other},
                                {"Gantry", Action::other},
                                {"Water", Action::groundwater}})
        EXPECT_EQ(action_by_name(name), action) << name;
}

}  // namespace
}  // namespace mossbed
