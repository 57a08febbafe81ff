// The numbers of the rules as a table: each with its clause, changed in the model's own copy.
#include <gmock/gmock.h>

#include "core/codes/combination_rules.h"
#include "core/tables/table.h"
#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

int row_of(const Table& t, const std::string& set, const std::string& what) {
    for (int r = 0; r < t.n_rows(); ++r)
        if (t.cell(r, 0).text == set && t.cell(r, 1).text == what) return r;
    return -1;
}
Model with_storage() {
    Model m = raft(box(0, 0, 8, 6), 0.5, 20000);
    LoadCase r, w;
    r.id = "R", r.action = Action::imposed, r.category = "E", r.items = {{SlabLoad{10}, {}}};
    w.id = "W", w.action = Action::wind, w.items = {{SlabLoad{-1}, {}}};
    m.loads.cases.push_back(r), m.loads.cases.push_back(w);
    m.loads.combinations.reset();
    return m;
}
double factor(const Model& m, const std::string& row, const std::string& of) {
    for (const Combination& c : combinations_in(m))
        if (c.id == row) return c.factors.count(of) ? c.factors.at(of) : 0;
    return -1;
}

TEST(RulesTable, ShowsEveryNumberWithItsSetAndItsClause) {
    Model m = with_storage();
    const auto t = table_of(TableKind::rules, m);
    const int psi = row_of(*t, "imposed E", "ψ0"), lead = row_of(*t, "U (6.10)", "leads wind γ");
    ASSERT_GE(psi, 0);
    ASSERT_GE(lead, 0);
    EXPECT_EQ(*t->cell(psi, 2).number, 1.0);
    EXPECT_THAT(t->cell(psi, 3).text, ::testing::HasSubstr("Table A1.1"));
    EXPECT_EQ(*t->cell(lead, 2).number, 1.5);
    EXPECT_GE(row_of(*t, "U (6.10)", "permanent γ where it helps"), 0);
    EXPECT_EQ(row_of(*t, "Ua (6.10a)", "permanent γ"), -1);  // of the other variant
    for (int r = 0; r < t->n_rows(); ++r) EXPECT_FALSE(t->cell(r, 3).text.empty()) << t->cell(r, 1).text;
    m.settings.combination_rules = "ASCE 7-16";
    EXPECT_GT(table_of(TableKind::rules, m)->n_rows(), 20);
}

TEST(RulesTable, AChangedNumberActsIsKeptInTheModelAndEmptiedIsAsPublishedAgain) {
    Model m = with_storage();
    const double before = factor(m, "U.W", "R");
    EXPECT_DOUBLE_EQ(before, 1.5);
    {
        const auto t = table_of(TableKind::rules, m);
        const int row = row_of(*t, "imposed E", "ψ0");
        EXPECT_EQ(t->set(row, 2, 0.8, ""), "");
        EXPECT_FALSE(t->cell(row, 2).is_standard);
        EXPECT_NE(t->set(row, 3, {}, "my clause"), "");
    }
    EXPECT_FALSE(m.loads.rules.empty());
    EXPECT_DOUBLE_EQ(factor(m, "U.W", "R"), 1.5 * 0.8);
    const auto t = table_of(TableKind::rules, m);
    EXPECT_EQ(t->set(row_of(*t, "imposed E", "ψ0"), 2, {}, ""), "");
    EXPECT_TRUE(m.loads.rules.empty());  // nothing differs any more
    std::string why;
    EXPECT_EQ(t->add_row(-1, &why), -1);
    EXPECT_FALSE(why.empty());
    EXPECT_NE(remove_rows(TableKind::rules, m, {t->thing(0)}), "");
}

TEST(RulesTable, ASpoiltCopyHasNoRowsAndHarmsNothing) {
    Model m = with_storage();
    m.loads.rules = "{ not";
    EXPECT_EQ(table_of(TableKind::rules, m)->n_rows(), 0);
    m.loads.rules = "[3, 4]";
    EXPECT_EQ(table_of(TableKind::rules, m)->n_rows(), 0);
    EXPECT_EQ(m.loads.rules, "[3, 4]");
}

}  // namespace
}  // namespace mossbed::testing
