// mossbed-cli as it is used: files in, files out, exit codes, sentences on standard error.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <sys/wait.h>
#include <unistd.h>

#include <filesystem>
#include <nlohmann/json.hpp>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validation_results.hpp>
#include <valijson/validator.hpp>

#include "core/file/results_file.h"
#include "core/file/schema.h"
#include "helpers.h"

namespace mossbed {
namespace {

using nlohmann::json;
using ::testing::HasSubstr;

struct Ran {
    int exit = -1;
    std::string out, err;
};
class Cli : public ::testing::Test {
  protected:
    Cli() : folder_(std::filesystem::temp_directory_path() / fmt::format("mossbed-cli-{}", getpid())) {
        std::filesystem::create_directories(folder_);
    }
    ~Cli() override { std::filesystem::remove_all(folder_); }
    std::string path(const std::string& name) const { return (folder_ / name).string(); }
    std::string write(const std::string& name, const std::string& text) const {
        save_text(text, path(name));
        return path(name);
    }
    Ran run(const std::string& arguments) const {
        const int status =
            std::system(fmt::format("'{}' {} >'{}' 2>'{}'", CLI, arguments, path("out"), path("err")).c_str());
        return {WEXITSTATUS(status), read_text(path("out")), read_text(path("err"))};
    }
    std::filesystem::path folder_;
};
const std::string demo = SOURCE_DIR "/examples/tern-quay.mossbed";

TEST_F(Cli, SolveWritesAResultsFileThatFitsItsSchema) {
    const Ran r = run(fmt::format("solve '{}' --out '{}'", demo, path("r.json")));
    EXPECT_EQ(r.exit, 0) << r.err;
    EXPECT_TRUE(r.out.empty());
    const json j = json::parse(read_text(path("r.json")));
    valijson::Schema schema;
    const json text = json::parse(results_schema_text());
    valijson::SchemaParser().populateSchema(valijson::adapters::NlohmannJsonAdapter(text), schema);
    valijson::Validator validator;
    valijson::ValidationResults results;
    EXPECT_TRUE(validator.validate(schema, valijson::adapters::NlohmannJsonAdapter(j), &results));
    EXPECT_EQ(j["model_sha256"], sha256(read_text(demo)));
    const size_t n = j["mesh"]["nodes"].size();
    for (const json& c : j["combinations"]) {
        for (const char* key : {"settlement", "pressure", "modulus", "rotation", "moments", "shears"})
            EXPECT_EQ(c[key].size(), n) << key;
        EXPECT_NEAR(c["applied"][0].get<double>(), c["ground_reaction"][0].get<double>(), 1e-5);
    }
    EXPECT_EQ(j["punching"].size(), 26u);
    EXPECT_FALSE(j["strips"][0]["sections"].empty());
    for (const json& c : j["checks"]) EXPECT_TRUE(c["status"] != "over") << c["title"];  // the demo passes
}

TEST_F(Cli, OneCombinationGivesARowAtEverySection) {
    const Ran r = run(fmt::format("solve '{}' --combination U3 --mesh-size 0.8 --out '{}'", demo, path("r.json")));
    ASSERT_EQ(r.exit, 0) << r.err;
    const json j = json::parse(read_text(path("r.json")));
    ASSERT_EQ(j["combinations"].size(), 1u);
    for (const json& s : j["strips"]) {
        std::set<double> seen;
        for (const json& row : s["sections"]) {
            EXPECT_EQ(row["combination"], "U3");
            EXPECT_TRUE(seen.insert(row["s"].get<double>()).second);
        }
    }
}

TEST_F(Cli, AServiceCombinationAskedForHasItsSectionsToo) {
    const Ran r = run(
        fmt::format("solve '{}' --combination S1 --combination U1 --mesh-size 0.8 --out '{}'", demo, path("r.json")));
    ASSERT_EQ(r.exit, 0) << r.err;
    std::map<std::string, int> rows;
    const json j = json::parse(read_text(path("r.json")));
    for (const json& s : j["strips"])
        for (const json& row : s["sections"]) ++rows[row["combination"].get<std::string>()];
    EXPECT_GT(rows["S1"], 100);
    EXPECT_EQ(rows["S1"], rows["U1"]);
}

TEST_F(Cli, CheckPrintsTheLedgerAndItsExitTells) {
    Ran r = run(fmt::format("check '{}' --json '{}'", demo, path("c.json")));
    EXPECT_EQ(r.exit, 0);
    EXPECT_THAT(r.out, HasSubstr("Bearing pressure"));
    EXPECT_THAT(r.out, HasSubstr("self-weight"));
    EXPECT_EQ(json::parse(read_text(path("c.json")))["format"], "mossbed-checks");
    Model m = *load_model(demo).model;
    m.ground.allowable_pressure = 60;
    save_model(m, path("over.mossbed"));
    EXPECT_EQ(run(fmt::format("check '{}'", path("over.mossbed"))).exit, 1);
}

TEST_F(Cli, NoEquilibriumIsExitZeroForSolveAndOneForCheck) {
    const std::string p = write(
        "floats.mossbed",
        R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[4,0],[4,4],[0,4]],"thickness":0.4,"self_weight":false},
      "loads":{"cases":[{"id":"W","action":"groundwater","items":[{"uplift_to_level":1}]}],"combinations":[{"id":"T","purpose":"stability","factors":{"W":1}}]}})");
    Ran r = run(fmt::format("solve '{}' --out '{}'", p, path("r.json")));
    EXPECT_EQ(r.exit, 0);
    EXPECT_THAT(r.err, HasSubstr("lifts free"));
    EXPECT_EQ(json::parse(read_text(path("r.json")))["combinations"][0]["status"], "lifts free");
    EXPECT_EQ(run(fmt::format("check '{}'", p)).exit, 1);
}

TEST_F(Cli, BadInputIsExitTwoWithOneSentenceALine) {
    for (auto [text, words] :
         {std::pair{R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[8,6],[8,0],[0,6]]}})", "crosses"},
          {R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[4,0],[4,4]],"thickness":-1}})",
           "slab.thickness"},
          {"not json", "not a Moss Bed model"}}) {
        const Ran r = run(fmt::format("solve '{}' --out '{}'", write("bad.mossbed", text), path("r.json")));
        EXPECT_EQ(r.exit, 2);
        EXPECT_THAT(r.err, HasSubstr(words));
        EXPECT_FALSE(std::filesystem::exists(path("r.json")));
    }
    EXPECT_EQ(run("solve /no/such.mossbed --out /tmp/x.json").exit, 2);
    EXPECT_EQ(run(fmt::format("solve '{}' --combination ZZ --out '{}'", demo, path("r.json"))).exit, 2);
    EXPECT_EQ(run("frobnicate").exit, 2);
    EXPECT_EQ(run("--help").exit, 0);
}

TEST_F(Cli, SchemaIsTheOneInTheDocs) {
    EXPECT_EQ(json::parse(run("schema").out), json::parse(read_text(SOURCE_DIR "/docs/format/mossbed.schema.json")));
}

TEST(Sha256, OfAbcIsTheOneOfTheStandard) {
    EXPECT_EQ(sha256("abc"), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
    EXPECT_EQ(sha256(""), "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
}

}  // namespace
}  // namespace mossbed
