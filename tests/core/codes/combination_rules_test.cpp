// Combinations by rule against the rules written out by hand: tests/data/combinations.
#include "core/codes/combination_rules.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include <nlohmann/json.hpp>
#include <set>

#include "core/answer/solve.h"
#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

LoadCase load_case(const std::string& id, Action action, bool reversible = false) {
    LoadCase c;
    c.id = id, c.action = action, c.reversible = reversible;
    return c;
}
LoadCase imposed(const std::string& id, const std::string& category) {
    LoadCase c = load_case(id, Action::imposed);
    c.category = category;
    return c;
}
Model with_cases(std::vector<LoadCase> cases, const std::string& rules) {
    Model m;
    m.slab.outline = box(0, 0, 10, 8);
    m.loads.cases = std::move(cases);
    m.settings.combination_rules = rules;
    return m;
}
// Dwelling floors and snow; a store with a crane, wind from two sides and a tide; a tank with a roof and earthquake.
Model office(const std::string& rules) {
    return with_cases({load_case("G", Action::permanent), imposed("Q", "B"), load_case("S", Action::snow)}, rules);
}
Model store(const std::string& rules) {
    LoadCase wx = load_case("WX", Action::wind, true), wy = load_case("WY", Action::wind, true);
    wx.group = wy.group = "wind";
    return with_cases({load_case("G", Action::permanent), load_case("B", Action::soil), imposed("R", "E"),
                       imposed("K", "G"), wx, wy, load_case("T", Action::groundwater)},
                      rules);
}
Model tank(const std::string& rules) {
    LoadCase ex = load_case("EX", Action::seismic, true), ey = load_case("EY", Action::seismic, true);
    ex.direction = Direction::x, ey.direction = Direction::y;
    return with_cases({load_case("G", Action::permanent), load_case("F", Action::fluid), imposed("H", "H"),
                       imposed("Q", "C"), ex, ey},
                      rules);
}

std::vector<Combination> rows_of(const Model& m) {
    std::vector<Problem> problems;
    std::vector<Combination> rows = combinations_by_rule(m, problems);
    for (const Problem& p : problems) ADD_FAILURE() << p.sentence();
    return rows;
}
std::string written(const Combination& c) {
    std::string out = name_of(c.purpose);
    for (const auto& [id, f] : c.factors) out += fmt::format(" {:+g} {}", f, id);
    return out;
}
std::multiset<std::string> all_written(const std::vector<Combination>& rows) {
    std::multiset<std::string> out;
    for (const Combination& c : rows) out.insert(written(c));
    return out;
}
std::multiset<std::string> by_hand(const std::string& name) {
    std::ifstream in(SOURCE_DIR "/tests/data/combinations/" + name + ".txt");
    std::multiset<std::string> out;
    for (std::string line; std::getline(in, line);) out.insert(line);
    EXPECT_GT(out.size(), 5u) << name;
    return out;
}

// What one has and the other has not.
std::string difference(const std::multiset<std::string>& ours, const std::multiset<std::string>& theirs) {
    std::vector<std::string> more, less;
    std::set_difference(ours.begin(), ours.end(), theirs.begin(), theirs.end(), std::back_inserter(more));
    std::set_difference(theirs.begin(), theirs.end(), ours.begin(), ours.end(), std::back_inserter(less));
    std::string out;
    for (const std::string& row : more) out += "too many: " + row + "\n";
    for (const std::string& row : less) out += "missing: " + row + "\n";
    return out;
}

TEST(CombinationRules, WriteTheSetsOfBothStandardsAsByHand) {
    for (auto& [model, name] : {std::pair{office("EN 1990"), "office_en1990"},
                                {office("EN 1990 6.10a/b"), "office_en1990_610ab"},
                                {office("ASCE 7-16"), "office_asce7"},
                                {store("EN 1990"), "store_en1990"},
                                {store("ASCE 7-16"), "store_asce7"},
                                {tank("EN 1990"), "tank_en1990"},
                                {tank("ASCE 7-16"), "tank_asce7"}})
        EXPECT_EQ(difference(all_written(rows_of(model)), by_hand(name)), "") << name;
}

TEST(CombinationRules, EveryRowSaysItsRuleItsEquationAndItsClauseUnderANameOfItsOwn) {
    for (const char* rules : {"EN 1990", "EN 1990 6.10a/b", "ASCE 7-16"}) {
        std::set<std::string> ids;
        for (const Combination& c : rows_of(store(rules))) {
            EXPECT_TRUE(ids.insert(c.id).second) << c.id;
            ASSERT_TRUE(c.generated_by);
            EXPECT_THAT(*c.generated_by, HasSubstr(rules[0] == 'E' ? "EN 1990 (" : "ASCE 7-16 "));
            EXPECT_THAT(*c.generated_by, HasSubstr("; "));
        }
    }
    const std::vector<Combination> rows = rows_of(office("EN 1990"));
    const Combination* lead = find_id(rows, std::string("U.S"));
    ASSERT_TRUE(lead);
    EXPECT_EQ(rule_in_short(*lead), "(6.10), S leads");
    EXPECT_THAT(*lead->generated_by, HasSubstr("Table A1.2(B)"));
    EXPECT_EQ(find_id(rows, std::string("U.S.min"))->factors, (std::map<std::string, double>{{"G", 1}, {"S", 1.5}}));
}

TEST(CombinationRules, EqualRowsAreMadeOnceUnderTheLongerLasting) {
    const std::vector<Combination> rows = rows_of(with_cases({load_case("G", Action::permanent)}, "EN 1990"));
    EXPECT_EQ(all_written(rows), (std::multiset<std::string>{"service +1 G", "strength +1.35 G", "stability +0.9 G"}));
    EXPECT_EQ(rows[0].frequency, Frequency::quasi_permanent);
    EXPECT_THAT(*rows[0].generated_by, HasSubstr("also (6.16b)"));
}

TEST(CombinationRules, ImposedCasesOfOneCategoryAreOneActionAndThoseOfAGroupExcludeEachOther) {
    Model m = with_cases({load_case("G", Action::permanent), imposed("Q1", "B"), imposed("Q2", "B")}, "EN 1990");
    EXPECT_EQ(all_written(rows_of(m)).count("strength +1.35 G +1.5 Q1 +1.5 Q2"), 1u);
    m.loads.cases[1].group = m.loads.cases[2].group = "halves";
    const auto apart = all_written(rows_of(m));
    EXPECT_EQ(apart.count("strength +1.35 G +1.5 Q1"), 1u);
    EXPECT_EQ(apart.count("strength +1.35 G +1.5 Q2"), 1u);
    for (const std::string& row : apart)
        EXPECT_FALSE(row.find("Q1") != std::string::npos && row.find("Q2") != std::string::npos) << row;
}

TEST(CombinationRules, CasesOfOneGroupExcludeEachOtherAlsoAcrossActions) {
    Model m =
        with_cases({load_case("G", Action::permanent), imposed("Q", "B"), load_case("S", Action::snow)}, "EN 1990");
    m.loads.cases[1].group = m.loads.cases[2].group = "roof";
    const auto rows = all_written(rows_of(m));
    EXPECT_EQ(rows.count("strength +1.35 G +1.5 Q"), 1u);
    EXPECT_EQ(rows.count("strength +1.35 G +1.5 S"), 1u);
    for (const std::string& row : rows)
        EXPECT_FALSE(row.find(" Q") != std::string::npos && row.find(" S") != std::string::npos) << row;
}

TEST(CombinationRules, EarthquakesWithoutADirectionActAloneNeverTogether) {
    Model m = tank("EN 1990");
    m.loads.cases[5].direction.reset();
    const auto rows = rows_of(m);
    int alone = 0;
    for (const Combination& c : rows) {
        const double x = factor_in(c, "EX"), y = factor_in(c, "EY");
        EXPECT_EQ(x * y, 0) << c.id;
        alone += x != 0 || y != 0;
    }
    EXPECT_EQ(alone, 12);  // two cases, two signs; with what accompanies, without, for stability
}

TEST(CombinationRules, ANewCaseRemakesItsRowsAndLeavesHandMadeOnesIdsNotesAndSwitches) {
    Model m = office("EN 1990");
    m.loads.combinations = rows_of(m);
    Combination mine;
    mine.id = "Mine", mine.purpose = Purpose::strength, mine.factors = {{"G", 1.2}, {"Q", 1.4}};
    m.loads.combinations->insert(m.loads.combinations->begin(), mine);
    for (Combination& c : *m.loads.combinations) {
        if (c.id == "U.Q") c.active = false;
        if (c.id == "U.S") c.title = "snow governs the eaves";
    }
    m.loads.cases.push_back(load_case("W", Action::wind));
    remake_combinations(m);
    const auto& rows = *m.loads.combinations;
    ASSERT_TRUE(find_id(rows, std::string("Mine")));
    EXPECT_EQ(*find_id(rows, std::string("Mine")), mine);
    EXPECT_FALSE(find_id(rows, std::string("U.Q"))->active);
    EXPECT_EQ(find_id(rows, std::string("U.S"))->title, "snow governs the eaves");
    EXPECT_NEAR(find_id(rows, std::string("U.S"))->factors.at("W"), 0.9, 1e-12);
    EXPECT_TRUE(find_id(rows, std::string("U.W")));
    // Other rules: a row that they do not give, and that bears a note, goes on as made by hand.
    Model after = m;
    for (Combination& c : *after.loads.combinations)
        if (c.id == "U.Q.min") c.title = "kept";
    after.settings.combination_rules = "ASCE 7-16";
    remake_combinations(after);
    const Combination* kept = find_id(*after.loads.combinations, std::string("U.Q.min"));
    ASSERT_TRUE(kept);
    EXPECT_FALSE(kept->generated_by);
    EXPECT_EQ(kept->factors, (std::map<std::string, double>{{"G", 1}, {"Q", 1.5}}));
}

TEST(CombinationRules, ARowMadeByHandStandsInPlaceOfAnEqualOneByRule) {
    Model m = office("EN 1990");
    Combination mine;
    mine.id = "full", mine.purpose = Purpose::strength, mine.factors = {{"G", 1.35}, {"Q", 1.5}, {"S", 0.75}};
    m.loads.combinations = std::vector<Combination>{mine};
    remake_combinations(m);
    EXPECT_EQ(m.loads.combinations->size(), 1u) << "a list made by hand stays as it is until it is asked for";
    remake_combinations(m, true);
    EXPECT_EQ(m.loads.combinations->size(), by_hand("office_en1990").size());
    EXPECT_EQ(all_written(*m.loads.combinations), by_hand("office_en1990"));
}

TEST(CombinationRules, AModelWithoutCombinationsIsSolvedByItsRules) {
    Model m = office("EN 1990");
    load(m, {SlabLoad{20, {}}, {}});
    m.mesh_size = 2;
    const auto a = solve(m);
    EXPECT_EQ(a->combinations.size(), by_hand("office_en1990").size());
    EXPECT_TRUE(a->model->loads.combinations);
    const CombinationAnswer* u = a->find("U.Q");
    ASSERT_TRUE(u);
    EXPECT_NEAR(u->applied.Fz, 1.35 * 80 * (20 + 0.6 * 25), 1e-6);
    m.loads.combinations.emplace();
    EXPECT_TRUE(solve(m)->combinations.empty()) << "an empty list means none";
}

std::string edited(const std::function<void(nlohmann::json&)>& change) {
    auto j = nlohmann::json::parse(rule_file_of("EN 1990"));
    change(j);
    return j.dump();
}
std::vector<std::string> sentences_of(const std::string& rules) {
    Model m = office("EN 1990");
    m.loads.rules = rules;
    std::vector<std::string> out;
    for (const Problem& p : problems_of(m))
        if (p.severity == Severity::error) out.push_back(p.sentence());
    return out;
}

TEST(CombinationRules, TheEngineersCopyIsTakenInPlaceOfTheFile) {
    Model m = office("EN 1990");
    m.loads.rules = edited([](auto& j) { j["sets"][3]["permanent"] = 1.3; });
    EXPECT_EQ(all_written(rows_of(m)).count("strength +1.3 G +1.5 Q +0.75 S"), 1u);
    EXPECT_TRUE(sentences_of(m.loads.rules).empty());
}

TEST(CombinationRules, ARuleFileWithAHoleIsToldByItsPlace) {
    using ::testing::ElementsAre;
    EXPECT_THAT(sentences_of(edited([](auto& j) { j["sets"][3].erase("permanent"); })),
                ElementsAre(HasSubstr("loads.rules.sets[U].permanent: a number is missing")));
    EXPECT_THAT(sentences_of(edited([](auto& j) { j["sets"][3]["lead"][1]["factor"] = "1.5"; })),
                ElementsAre(HasSubstr("loads.rules.sets[U].lead[1].factor: \"1.5\" is no number")));
    EXPECT_THAT(sentences_of(edited([](auto& j) { j["sets"][3].erase("clause"); })),
                ElementsAre(HasSubstr("clause: a text is missing")));
    EXPECT_THAT(sentences_of(edited([](auto& j) { j["psi"].erase(4); })),
                ElementsAre(HasSubstr("ψ of imposed, category E is missing")));
    EXPECT_THAT(sentences_of(edited([](auto& j) { j["sets"][3]["permanant_relieves"] = 1; })),
                ElementsAre(HasSubstr("\"permanant_relieves\" means nothing here")));
    EXPECT_THAT(sentences_of(edited([](auto& j) { j["sets"][3]["purpose"] = "ultimate"; })),
                ElementsAre(HasSubstr("\"ultimate\" is not known")));
    EXPECT_THAT(sentences_of("{"), ElementsAre(HasSubstr("loads.rules: it is no JSON")));
    EXPECT_FALSE(sentences_of("{}").empty());
    EXPECT_FALSE(sentences_of("[1]").empty());
    EXPECT_FALSE(sentences_of(edited([](auto& j) { j["sets"] = nullptr; })).empty());
}

TEST(CombinationRules, UnknownRulesAreRefusedWithTheOnesThatAreKnown) {
    Model m = office("EN 1991");
    std::vector<Problem> problems;
    EXPECT_TRUE(combinations_by_rule(m, problems).empty());
    ASSERT_EQ(problems.size(), 1u);
    EXPECT_THAT(problems[0].sentence(), HasSubstr("\"EN 1990 6.10a/b\", \"ASCE 7-16\""));
    m.loads.combinations.emplace();  // made by hand: told, and no reason not to solve
    for (const Problem& p : problems_of(m)) EXPECT_EQ(p.severity, Severity::warning) << p.sentence();
}

TEST(CombinationRules, MoreRowsThanAnybodyReadsAreRefused) {
    std::vector<LoadCase> cases{load_case("G", Action::permanent)};
    for (int i = 0; i < 14; ++i) cases.push_back(load_case("W" + std::to_string(i), Action::wind, true));
    std::vector<Problem> problems;
    EXPECT_TRUE(combinations_by_rule(with_cases(cases, "EN 1990"), problems).empty());
    ASSERT_EQ(problems.size(), 1u);
    EXPECT_THAT(problems[0].sentence(), HasSubstr("one group"));
}

// What the program uses stands in the list of clauses that people read.
TEST(CombinationRules, EveryClauseOfTheRuleFilesStandsInTheListOfClauses) {
    std::ifstream in(SOURCE_DIR "/docs/codes.md");
    const std::string list((std::istreambuf_iterator<char>(in)), {});
    std::function<void(const nlohmann::json&)> look = [&](const nlohmann::json& j) {
        if (j.is_object() && j.contains("clause")) {
            const std::string c = j["clause"];
            EXPECT_NE(list.find(c), std::string::npos) << c;
        }
        if (j.is_structured())
            for (const auto& inner : j) look(inner);
    };
    for (const std::string& text : rule_files()) look(nlohmann::json::parse(text));
}

}  // namespace
}  // namespace mossbed::testing
