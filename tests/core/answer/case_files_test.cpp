// Cases as data: each file of tests/data/cases holds a sentence, how the numbers follow by hand, a model, and what is
// expected of it. A new case needs no C++.
#include <filesystem>
#include <nlohmann/json.hpp>

#include "core/file/text_file.h"
#include "core/judge/judge.h"
#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using nlohmann::json;
namespace fs = std::filesystem;

std::vector<std::string> all_cases() {
    std::vector<std::string> names;
    for (const auto& f : fs::directory_iterator(SOURCE_DIR "/tests/data/cases")) names.push_back(f.path().stem());
    std::sort(names.begin(), names.end());
    return names;
}

class Case : public ::testing::TestWithParam<std::string> {
  protected:
    void SetUp() override {
        const std::string path = SOURCE_DIR "/tests/data/cases/" + GetParam() + ".json";
        all_ = json::parse(read_text(path));
        loaded_ = read_model(all_["model"].dump());
        if (loaded_.model && !has_errors(problems_of(*loaded_.model))) answer_ = solve(*loaded_.model);
    }
    void expect_problem(const std::vector<Problem>& found, const std::string& where, const std::string& says) {
        std::string said;
        for (const Problem& p : found) {
            if (p.where == where && p.what.find(says) != std::string::npos && !p.mend.empty()) return;
            said += p.sentence() + "\n";
        }
        ADD_FAILURE() << "nothing at " << where << " says \"" << says << "\"; said was:\n" << said;
    }
    void expect_row(const json& e) {
        ASSERT_TRUE(answer_);
        const std::string id = e["row"];
        const Row* row = nullptr;
        for (const Row& r : answer_->checks)
            if (r.id == id && r.item == e.value("item", "")) row = &r;
        ASSERT_TRUE(row) << id;
        if (e.contains("value")) EXPECT_NEAR(row->value.value_or(-1e9), e["value"], e["within"]);
        if (e.contains("use")) EXPECT_NEAR(row->utilisation.value_or(-1e9), e["use"], e["within"]);
        if (e.contains("status")) EXPECT_EQ(name_of(row->status), e["status"]);
        if (e.contains("status")) EXPECT_FALSE(row->note.empty() && row->status == Status::not_checked);
    }
    void expect_combination(const json& e) {
        ASSERT_TRUE(answer_);
        const CombinationAnswer* c = answer_->find(e["combination"]);
        ASSERT_TRUE(c);
        if (e.contains("ending")) {
            EXPECT_STREQ(name_of(c->ending), std::string(e["ending"]).c_str());
            return;
        }
        ASSERT_TRUE(c->is_solved()) << c->explanation;
        for (const auto& [key, value] : std::map<std::string, double>{{"max_pressure", c->max_pressure},
                                                                      {"min_pressure", c->min_pressure},
                                                                      {"contact_ratio", c->contact_ratio},
                                                                      {"max_pressure_x", c->max_pressure_at.x},
                                                                      {"ground_reaction", c->ground_reaction.Fz}})
            if (e.contains(key)) EXPECT_NEAR(value, e[key], e["within"]) << key;
    }
    json all_;
    Loaded loaded_;
    std::shared_ptr<const Answer> answer_;
};

TEST_P(Case, IsAsItSays) {
    SCOPED_TRACE(all_["says"].get<std::string>());
    ASSERT_FALSE(all_["expect"].empty());
    for (const json& e : all_["expect"]) {
        if (e.contains("refused")) {
            EXPECT_FALSE(loaded_.model);
            expect_problem(loaded_.problems, e["refused"], e["says"]);
            continue;
        }
        ASSERT_TRUE(loaded_.model) << loaded_.problems[0].sentence();
        if (e.contains("problem")) expect_problem(problems_of(*loaded_.model), e["problem"], e["says"]);
        if (e.contains("row")) expect_row(e);
        if (e.contains("combination")) expect_combination(e);
    }
}

INSTANTIATE_TEST_SUITE_P(Files, Case, ::testing::ValuesIn(all_cases()), [](const auto& info) {
    std::string name = info.param;
    std::replace(name.begin(), name.end(), '-', '_');
    return name;
});

}  // namespace
}  // namespace mossbed
