#include "core/file/model_file.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <sys/stat.h>
#include <unistd.h>

#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using ::testing::HasSubstr;

std::string first_fault(const std::string& text) {
    const Loaded l = read_model(text);
    EXPECT_FALSE(l.model);
    for (const Problem& p : l.problems)
        if (p.severity == Severity::error) return p.sentence();
    return "";
}
std::string minimal(const std::string& more = "") {
    return R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[4,0],[4,4],[0,4]]})" + more + "}";
}
std::string scratch(const std::string& name) {
    return (std::filesystem::temp_directory_path() / fmt::format("mossbed-{}-{}", getpid(), name)).string();
}

TEST(ModelFile, EverythingButTheOutlineMayBeLeftOut) {
    const Loaded l = read_model(minimal());
    ASSERT_TRUE(l.model);
    EXPECT_TRUE(l.problems.empty());
    EXPECT_EQ(l.model->slab.thickness, 0.6);
    EXPECT_EQ(l.model->ground.modulus, 20000);
    EXPECT_FALSE(l.model->loads.combinations);  // none: written by rules; an empty list would mean none at all
    EXPECT_FALSE(l.model->steel.strips);
}

TEST(ModelFile, EveryValueThatNumbersRestOnStandsInTheFile) {
    const std::string saved = write_model(*read_model(minimal(R"(,"columns":[{"id":"C/1","at":[1,1]}])")).model);
    const auto j = nlohmann::json::parse(saved);
    EXPECT_EQ(j["slab"]["thickness"], 0.6);
    EXPECT_EQ(j["ground"]["modulus"], 20000);
    EXPECT_TRUE(j["checks"]["contact_ratio_limit"].is_null());  // "none" is a value too
    EXPECT_EQ(j["columns"][0]["size"], nlohmann::json({0.4, 0.4}));
    for (const char* pointer : {"/ground", "/slab/thickness", "/columns/0/size", "/checks", "/mesh"})
        EXPECT_THAT(j["unset"], ::testing::Contains(pointer));
    for (const char* pointer : {"/slab", "/slab/outline", "/columns", "/columns/0/at"})
        EXPECT_THAT(j["unset"], ::testing::Not(::testing::Contains(pointer)));
    // Read again nothing of it counts as set, and it is written the same.
    const Loaded again = read_model(saved);
    ASSERT_TRUE(again.model);
    EXPECT_TRUE(again.problems.empty());
    EXPECT_EQ(again.model->ground.keys.count("modulus"), 0u);
    EXPECT_EQ(again.model->columns[0].keys.count("size"), 0u);
    EXPECT_EQ(again.model->slab.keys.count("outline"), 1u);
    EXPECT_EQ(write_model(*again.model), saved);
}

TEST(ModelFile, AValueThatNobodySetIsKeptThoughTheDefaultIsAnotherToday) {
    const Loaded l = read_model(minimal(R"(,"ground":{"modulus":31000,"tension":false},"unset":["/ground/modulus"])"));
    ASSERT_TRUE(l.model);
    EXPECT_EQ(l.model->ground.modulus, 31000);
    EXPECT_EQ(l.model->ground.keys.count("modulus"), 0u);  // shown in grey
    EXPECT_EQ(l.model->ground.keys.count("tension"), 1u);
    EXPECT_THAT(first_fault(minimal(R"(,"unset":"/ground")")), HasSubstr("a list of texts"));
}

TEST(ModelFile, AKeyGivenTwiceIsRefused) {
    EXPECT_THAT(first_fault(minimal(R"(,"loads":{"cases":[]},"loads":{"cases":[{"id":"G"}]})")),
                HasSubstr("the key \"loads\" is given twice"));
    EXPECT_THAT(first_fault(minimal(R"(,"ground":{"modulus":1,"tension":false,"modulus":2})")),
                HasSubstr("ground: the key \"modulus\" is given twice"));
    EXPECT_TRUE(read_model(minimal(R"(,"columns":[{"id":"A","at":[1,1]},{"id":"B","at":[2,2]}])")).model);
}

TEST(ModelFile, ALoadItemSaysOnePlaceAndTheSlabOnlyWithTrue) {
    auto with = [](const char* item) {
        return minimal(std::string(R"(,"loads":{"cases":[{"id":"G","items":[)") + item + "]}]}");
    };
    EXPECT_THAT(first_fault(with(R"({"slab":false,"p":5})")), HasSubstr("only true is meant here, not false"));
    EXPECT_THAT(first_fault(with(R"({"slab":1,"p":5})")), HasSubstr("only true"));
    EXPECT_THAT(first_fault(with(R"({"slab":true,"point":[1,1],"p":5})")), HasSubstr("names point and slab"));
    EXPECT_TRUE(read_model(with(R"({"slab":true,"p":5})")).model);
}

TEST(ModelFile, NotesOfManyMegabytesAreShared) {
    Model m = *read_model(minimal()).model;
    m.notes = std::string(30'000'000, 'x');
    const Model copy = m;
    EXPECT_EQ(&copy.notes.str(), &m.notes.str());
    EXPECT_EQ(read_model(write_model(m)).model->notes, m.notes);
}

TEST(ModelFile, AnEmptyListOfCombinationsIsNotTheSameAsNone) {
    const Loaded l = read_model(minimal(R"(,"loads":{"combinations":[]})"));
    ASSERT_TRUE(l.model && l.model->loads.combinations);
    EXPECT_TRUE(l.model->loads.combinations->empty());
    EXPECT_THAT(write_model(*l.model), HasSubstr("\"combinations\": []"));
}

TEST(ModelFile, UnknownKeysSurviveALoadAndASaveAtEveryDepth) {
    const std::string text = minimal(
        R"(,"colour":"green","columns":[{"id":"C1","at":[1,1],"mark":{"a":[1,2]}}],"mesh":{"size":0.4,"kind":"x"},"steel":{"base":{"rows":3}},)"
        R"("loads":{"cases":[{"id":"G","items":[{"slab":true,"p":2,"why":"stones"}]}],"combinations":[]})");
    const Loaded l = read_model(text);
    ASSERT_TRUE(l.model);
    EXPECT_EQ(l.problems.size(), 5u);  // each is told
    const std::string saved = write_model(*l.model);
    for (const char* part :
         {"\"colour\": \"green\"", "\"mark\"", "\"kind\": \"x\"", "\"rows\": 3", "\"why\": \"stones\""})
        EXPECT_THAT(saved, HasSubstr(part));
    const Loaded again = read_model(saved);
    ASSERT_TRUE(again.model);
    EXPECT_EQ(write_model(*again.model), saved);
}

TEST(ModelFile, AStatedDefaultStaysStated) {
    const Loaded l =
        read_model(minimal(R"(,"ground":{"modulus":20000,"allowable_pressure":150,"yield_pressure":null})"));
    ASSERT_TRUE(l.model);
    const std::string saved = write_model(*l.model);
    EXPECT_THAT(saved, HasSubstr("\"allowable_pressure\": 150"));
    EXPECT_THAT(saved, HasSubstr("\"yield_pressure\": null"));
    EXPECT_THAT(saved, HasSubstr("\"/checks\""));  // there with its values, and named as set by nobody
}

TEST(ModelFile, TheDemoComesBackAsItWas) {
    const Loaded l = load_model(SOURCE_DIR "/tests/data/quay.mossbed");
    ASSERT_TRUE(l.model);
    const Loaded again = read_model(write_model(*l.model));
    ASSERT_TRUE(again.model);
    EXPECT_EQ(*again.model, *l.model);
}

TEST(ModelFile, EveryOutlineAndLoadItemIsRead) {
    const Loaded l = read_model(
        R"({"format":"mossbed","version":1,"slab":{"outline":{"ring":{"centre":[1,2],"inner":3,"outer":6}}},"columns":[{"id":"C1","at":[5.5,2],"shape":"circle","size":[0.5]}],)"
        R"("walls":[{"id":"W1","path":[[1,6],[2,6]]}],"loads":{"cases":[{"id":"G","items":[{"column":"C1","N":1,"Hx":2},{"point":[1,6],"N":3,"Mx":4},{"line":[[1,6],[2,6]],"q":[5,6]},)"
        R"({"wall":"W1","q":7},{"area":[[0,5],[1,5],[1,6]],"p":8},{"slab":true,"p":9},{"uplift_to_level":-1}]}],"combinations":[]}})");
    ASSERT_TRUE(l.model) << (l.problems.empty() ? "" : l.problems[0].sentence());
    EXPECT_TRUE(std::holds_alternative<Ring>(l.model->slab.outline));
    const auto& items = l.model->loads.cases[0].items;
    ASSERT_EQ(items.size(), 7u);
    EXPECT_EQ(std::get<ColumnLoad>(items[0].load).Hx, 2);
    EXPECT_EQ(std::get<LineLoad>(items[2].load).q[1], 6);
    EXPECT_EQ(std::get<Uplift>(items[6].load).to_level, -1);
    EXPECT_EQ(*read_model(write_model(*l.model)).model, *l.model);
}

TEST(ModelFile, TextsOfEveryKindComeBack) {
    Model m = *read_model(minimal()).model;
    for (const char* title :
         {"ends in a backslash \\", "\"quoted\", twice: \"x,y\"", "a\tb\nc", "Möwe, 岸壁: ∑", "\\\"", ",:,:"}) {
        m.title = title;
        m.concretes[0].id = title;
        m.slab.concrete = title;
        const Loaded l = read_model(write_model(m));
        ASSERT_TRUE(l.model) << title;
        EXPECT_EQ(l.model->title, title);
        EXPECT_EQ(l.model->slab.concrete, title);
    }
}

TEST(ModelFile, WhatIsShortStandsOnOneLine) {
    const std::string text = write_model(*read_model(minimal()).model);
    EXPECT_THAT(text, HasSubstr("\"outline\": [[0, 0], [4, 0], [4, 4], [0, 4]]"));
    for (size_t a = 0, b; (b = text.find('\n', a)) != std::string::npos; a = b + 1) EXPECT_LT(b - a, 150u);
}

// --- bad input: what, where, and what would mend it

TEST(BadFile, ATextForANumberIsNamedWithItsPlace) {
    const std::string s =
        first_fault(R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[4,0],[4,4]],"thickness":"0,6"}})");
    EXPECT_THAT(s, HasSubstr("slab.thickness"));
    EXPECT_THAT(s, HasSubstr("a number is expected"));
    EXPECT_THAT(s, HasSubstr("decimal point"));
}
TEST(BadFile, AColumnIsNamedById) {
    EXPECT_THAT(first_fault(minimal(R"(,"columns":[{"id":"C9","at":[1]}])")), HasSubstr("columns[C9].at"));
}
TEST(BadFile, AnUnknownWordListsTheKnownOnes) {
    const std::string s = first_fault(minimal(R"(,"ground":{"model":"uniforme"})"));
    EXPECT_THAT(s, HasSubstr("\"uniforme\""));
    EXPECT_THAT(s, HasSubstr("\"coupled\""));
}
TEST(BadFile, ANewerVersionIsRefusedPlainly) {
    EXPECT_THAT(first_fault(R"({"format":"mossbed","version":7,"slab":{"outline":[[0,0],[1,0],[1,1]]}})"),
                HasSubstr("version 7"));
}
TEST(BadFile, AnotherJsonIsNotAModel) {
    EXPECT_THAT(first_fault(R"({"name":"x"})"), HasSubstr("not a Moss Bed model"));
}
TEST(BadFile, NaNIsNotANumber) {
    EXPECT_THAT(first_fault(R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[4,NaN],[4,4]]}})"),
                HasSubstr("line 1"));
}
TEST(BadFile, AHugeNumberIsRefused) {
    EXPECT_FALSE(first_fault(R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[4,0],[4,1e999]]}})").empty());
}
TEST(BadFile, AnEmptyFileSaysSo) { EXPECT_THAT(first_fault(""), HasSubstr("empty")); }
TEST(BadFile, AnItemWithoutAPlaceIsNamed) {
    EXPECT_THAT(first_fault(minimal(R"(,"loads":{"cases":[{"id":"G","items":[{"N":5}]}]})")),
                HasSubstr("loads.cases[G].items[0]"));
}
TEST(BadFile, TheSchemaCatchesWhatTheReaderLets) {
    EXPECT_THAT(first_fault(minimal(R"(,"ground":{"modulus":-5})")), HasSubstr("ground.modulus"));
}

TEST(BadFile, CutAnywhereItNeitherCrashesNorHalfLoads) {
    const std::string whole = read_text(SOURCE_DIR "/tests/data/quay.mossbed");
    for (size_t n = 0; n + 2 < whole.size(); n += 1 + whole.size() / 400) {
        const Loaded l = read_model(whole.substr(0, n));
        ASSERT_FALSE(l.model) << "cut at " << n;
        ASSERT_FALSE(l.problems.empty());
    }
}

TEST(BadFile, EveryByteSpoiltIsEitherReadOrExplained) {
    const std::string whole = minimal(
        R"(,"columns":[{"id":"C1","at":[1,1]}],"loads":{"cases":[{"id":"G","items":[{"column":"C1","N":5}]}]})");
    for (size_t i = 0; i < whole.size(); ++i)
        for (char c : {'\0', '"', '{', ']', '9', '\xff'}) {
            std::string spoilt = whole;
            spoilt[i] = c;
            const Loaded l = read_model(spoilt);
            EXPECT_TRUE(l.model || !l.problems.empty());
        }
}

TEST(BadFile, FiftyMegabytesOfGarbageAndDeepNestsAreRefusedQuickly) {
    std::string garbage(50'000'000, '\0');
    unsigned seed = 7;
    for (char& c : garbage) c = char((seed = seed * 1664525u + 1013904223u) >> 24);
    EXPECT_FALSE(first_fault(garbage).empty());
    garbage[0] = '{';
    EXPECT_FALSE(first_fault(garbage).empty());
    EXPECT_THAT(first_fault("{\"a\":" + std::string(5'000'000, '[')), HasSubstr("64 deep"));
}

// --- saving

TEST(Saving, WritesBesideAndRenames) {
    const std::string path = scratch("save.mossbed");
    save_text("old", path);
    save_text("new", path);
    EXPECT_EQ(read_text(path), "new");
    for (const auto& f : std::filesystem::directory_iterator(std::filesystem::temp_directory_path()))
        EXPECT_EQ(f.path().string().find(path + "~part"), std::string::npos) << "left behind";
    std::filesystem::remove(path);
}

TEST(Saving, AFolderThatIsNotThereLosesNothingAndSaysWhy) {
    try {
        save_text("x", "/no/such/folder/a.mossbed");
        FAIL();
    } catch (const Trouble& t) {
        EXPECT_THAT(t.problem.sentence(), HasSubstr("/no/such/folder/a.mossbed"));
        EXPECT_FALSE(t.problem.mend.empty());
    }
}

TEST(Saving, AFullDiskLeavesTheOldFile) {
    struct stat st {};
    if (stat("/dev/full", &st) != 0) GTEST_SKIP() << "no /dev/full here";
    // The part file is made to be the full device, as a link that the writer follows.
    const std::string path = scratch("full.mossbed"), part = path + "~part" + std::to_string(getpid());
    save_text("old", path);
    ASSERT_EQ(symlink("/dev/full", part.c_str()), 0);
    EXPECT_THROW(save_text(std::string(100000, 'x'), path), Trouble);
    EXPECT_EQ(read_text(path), "old");
    std::filesystem::remove(part);
    std::filesystem::remove(path);
}

TEST(ModelFile, OpeningsAndPatchesMayBeCirclesAndStayCircles) {
    const std::string text =
        R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[8,0],[8,6],[0,6]],"openings":[{"id":"O1","outline":{"circle":{"centre":[2,3],"radius":0.8}}}],)"
        R"("patches":[{"id":"T1","outline":{"circle":{"centre":[6,3],"radius":1.2}},"thickness":1}]}})";
    const Loaded l = read_model(text);
    ASSERT_TRUE(l.model) << (l.problems.empty() ? "" : l.problems[0].sentence());
    Model m = *l.model;
    EXPECT_NEAR(signed_area(m.slab.openings[0].outline), 3.14159265 * 0.64, 1e-6);
    EXPECT_EQ(m.slab.patches[0].outline.circle(), (Circle{{6, 3}, 1.2}));
    EXPECT_NE(write_model(m).find("\"circle\""), std::string::npos);
    EXPECT_EQ(*read_model(write_model(m)).model, m);
    m.slab.openings[0].outline[0].x += 0.1;  // a corner moved: it is a ring of corners then
    EXPECT_FALSE(m.slab.openings[0].outline.circle());
    EXPECT_EQ(*read_model(write_model(m)).model->slab.openings[0].outline.begin(), m.slab.openings[0].outline[0]);
    const Loaded bad = read_model(
        R"({"format":"mossbed","version":1,"slab":{"outline":[[0,0],[8,0],[8,6]],"openings":[{"id":"O1","outline":{"circle":{"centre":[2,3],"radius":0}}}]}})");
    EXPECT_FALSE(bad.model);
    ASSERT_FALSE(bad.problems.empty());
    EXPECT_NE(bad.problems[0].sentence().find("radius is not above zero"), std::string::npos);
}

TEST(ModelFile, OfARaftWhoseSlabIsNotDrawnYetIsReadAgain) {
    Model m;
    m.slab.outline = Polygon{};
    m.columns = {testing::column("C1", 2, 3)};
    Underlay u;
    u.id = "U1", u.file = "site.png", u.width = 40, u.angle = 12;
    m.underlays = {u};
    const Loaded again = read_model(write_model(m));
    ASSERT_TRUE(again.model) << again.problems.at(0).sentence();
    EXPECT_FALSE(has_slab(*again.model));
    EXPECT_EQ(again.model->columns.at(0).at, (Point{2, 3}));
    EXPECT_EQ(again.model->underlays.at(0).angle, 12);
    EXPECT_EQ(write_model(*again.model), write_model(m));
}

}  // namespace
}  // namespace mossbed
