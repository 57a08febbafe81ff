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

#include "core/base/sha256.h"
#include "core/file/schema.h"
#include "tests/core/helpers.h"
#include "words/results_file.h"

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
const std::string demo = SOURCE_DIR "/tests/data/quay.mossbed";

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
    EXPECT_EQ(j["punching"].size(), 29u);
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
    EXPECT_THAT(r.out, HasSubstr("Bearing: mean over"));
    EXPECT_THAT(r.out, HasSubstr("self-weight"));
    EXPECT_EQ(json::parse(read_text(path("c.json")))["format"], "mossbed-checks");
    Model m = *load_model(demo).model;
    m.ground.allowable_pressure = 60;
    save_model(m, path("over.mossbed"));
    EXPECT_EQ(run(fmt::format("check '{}'", path("over.mossbed"))).exit, 1);
}

TEST_F(Cli, BarsArePutTogetherListedAndWrittenAsATableAndAWorkbook) {
    const std::string quay = SOURCE_DIR "/tests/data/quay-on-springs.mossbed";
    Ran r = run(fmt::format("least-steel '{}' --most 8 --out '{}'", quay, path("least.mossbed")));
    EXPECT_EQ(r.exit, 0) << r.out << r.err;
    EXPECT_THAT(r.out, HasSubstr("% less"));
    const auto least = load_model(path("least.mossbed")).model;
    ASSERT_TRUE(least);
    EXPECT_GT(least->steel.extra.size(), 0u);
    EXPECT_LE(least->steel.extra.size(), 4u);
    r = run(
        fmt::format("bars '{}' --csv '{}' --xlsx '{}'", path("least.mossbed"), path("bars.csv"), path("bars.xlsx")));
    EXPECT_EQ(r.exit, 0);
    EXPECT_THAT(r.err, HasSubstr("kg/m³"));
    const std::string table = read_text(path("bars.csv"));
    EXPECT_TRUE(table.starts_with("mark,diameter_mm,shape_code,A_mm"));
    EXPECT_THAT(table, HasSubstr(",E1\n"));
    EXPECT_TRUE(read_text(path("bars.xlsx")).starts_with("PK"));
    // What cannot be: a list that is never enough, a folder that is not there, a model without a design.
    Model m = *least;
    m.steel.sizes = {8}, m.steel.spacings = {250};
    save_model(m, path("thin.mossbed"));
    r = run(fmt::format("least-steel '{}' --out '{}'", path("thin.mossbed"), path("none.mossbed")));
    EXPECT_EQ(r.exit, 2);
    EXPECT_THAT(r.err, HasSubstr("allow larger bars"));
    EXPECT_FALSE(std::filesystem::exists(path("none.mossbed")));
    EXPECT_EQ(run(fmt::format("bars '{}' --csv '{}'", path("least.mossbed"), path("no/such/bars.csv"))).exit, 2);
    m.settings.design_code = "ACI 318-19";
    save_model(m, path("aci.mossbed"));
    EXPECT_EQ(run(fmt::format("bars '{}'", path("aci.mossbed"))).exit, 2);
    EXPECT_EQ(run(fmt::format("least-steel '{}' --most 3", quay)).exit, 2);
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

TEST_F(Cli, CheckIsNotWellWhereNothingWasSolved) {
    const std::string p = write("empty.mossbed",
                                R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[4,0],[4,4],[0,4]]},
      "loads":{"cases":[{"id":"G","items":[{"slab":true,"p":5}]}],"combinations":[]}})");
    const Ran r = run(fmt::format("check '{}'", p));
    EXPECT_EQ(r.exit, 1);
    EXPECT_THAT(r.err, HasSubstr("nothing was solved"));
}

TEST_F(Cli, ResultsCarryEveryDigit) {
    const std::string p = write(
        "far.mossbed",
        R"({"format":"mossbed","version":1,"slab":{"outline":[[512340.1234,187655.4321],[512344.1234,187655.4321],[512344.1234,187659.4321],[512340.1234,187659.4321]]},
      "loads":{"cases":[{"id":"G","items":[{"slab":true,"p":5}]}],"combinations":[{"id":"S","factors":{"G":1}}]}})");
    ASSERT_EQ(run(fmt::format("solve '{}' --out '{}'", p, path("r.json"))).exit, 0);
    const json mesh = json::parse(read_text(path("r.json")))["mesh"];
    double area = 0;
    for (const json& e : mesh["elements"]) {
        Polygon q;
        for (const json& n : e) q.push_back({mesh["nodes"][n.get<size_t>()][0], mesh["nodes"][n.get<size_t>()][1]});
        EXPECT_GT(signed_area(q), 0);
        area += signed_area(q);
    }
    EXPECT_NEAR(area, 16, 1e-8);
}

TEST_F(Cli, ImportOfAReportSaysByItsExitWhatWasLeftOut) {
    const std::string into =
        write("into.mossbed", R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[9,0],[9,9],[0,9]]}})");
    auto import = [&](const std::string& rows, const std::string& more = "") {
        write("r.csv", "borehole,x,y,ground_level,stratum,bottom_depth\n" + rows);
        std::filesystem::remove(path("out.mossbed"));
        return run(fmt::format("import boreholes '{}' --into '{}' --out '{}' {}", path("r.csv"), into,
                               path("out.mossbed"), more));
    };
    EXPECT_EQ(import("B1,1,2,0.5,clay,4\nB2,5,2,0.6,clay,5\n").exit, 0);
    Ran r = import("B1,1,2,0.5,clay,4\nB2,5,2,0.6,clay,deep\n");
    EXPECT_EQ(r.exit, 1);
    EXPECT_THAT(r.err, HasSubstr("line 3"));
    EXPECT_THAT(r.out, HasSubstr("B2: left out"));
    EXPECT_EQ(load_model(path("out.mossbed")).model->ground.boreholes.size(), 1u);
    EXPECT_EQ(import("B1,1,2,,clay,4\n").exit, 2);
    EXPECT_FALSE(std::filesystem::exists(path("out.mossbed")));
    r = import("B1,1,2,0.5,clay,4\n", "--map CLY=soft");
    EXPECT_EQ(r.exit, 2);
    EXPECT_THAT(r.err, HasSubstr("code CLY"));
}

}  // namespace
}  // namespace mossbed
