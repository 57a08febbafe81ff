// Ground reports: AGS4 and CSV, what is understood and what is said about the rest.
#include "core/exchange/ground_report.h"

#include <gmock/gmock.h>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;

const char* examples = SOURCE_DIR "/examples/";

TEST(GroundReport, ReadsTheDemosAgs4) {
    const GroundReport r = read_ground_report(read_text(std::string(examples) + "tern-quay.ags"));
    EXPECT_TRUE(r.problems.empty());
    ASSERT_EQ(r.holes.size(), 3u);
    EXPECT_EQ(r.holes[0].layers.size(), 4u);
    EXPECT_DOUBLE_EQ(r.holes[0].layers[1].base, 6.3);
    EXPECT_DOUBLE_EQ(*r.holes[0].water_depth, 1.0);  // after the longer wait, not the strike at 1.5 m
    EXPECT_THAT(r.holes[0].layers[1].description, HasSubstr("\"shell\""));  // doubled quotation marks
    ASSERT_EQ(r.codes.size(), 4u);
    EXPECT_EQ(r.codes[1].code, "ALV");
    EXPECT_NEAR(*r.codes[1].mean_blows, (3 + 4 + 4) / 3.0, 0.34);
}

TEST(GroundReport, PlacesTheReportOnTheBuildingsGrid) {
    const GroundReport r = read_ground_report(read_text(std::string(examples) + "tern-quay.ags"));
    Placing p;
    p.origin = {512340, 187655}, p.turn = 18;
    p.stratum_of = {{"MG", "top"}, {"ALV", "clay"}, {"FCL", "clay"}, {"SND", "sand"}};
    const Model m = with_report({}, r, p);
    ASSERT_EQ(m.ground.boreholes.size(), 3u);
    EXPECT_NEAR(m.ground.boreholes[0].at.x, -4, 0.01);
    EXPECT_NEAR(m.ground.boreholes[0].at.y, 3, 0.01);
    EXPECT_EQ(m.ground.boreholes[0].layers.size(), 3u);  // two codes became one stratum, their layers one layer
    EXPECT_NEAR(m.ground.boreholes[0].layers[1].bottom, 0.1 - 10.9, 1e-9);
    EXPECT_NEAR(m.ground.boreholes[0].blow_counts[0].level, 0.1 - 1.2, 1e-9);
    EXPECT_NEAR(*m.ground.boreholes[0].water_level, -0.9, 1e-9);
    ASSERT_EQ(m.ground.strata.size(), 3u);
    EXPECT_THAT(m.ground.strata[0].E_basis, HasSubstr("Stroud"));  // a proposal names its correlation
    EXPECT_THAT(m.ground.strata[1].E_basis, HasSubstr("Stroud and Butler"));
    // Saved and loaded, nothing is lost; taken over again, nothing comes twice.
    const Loaded l = read_model([&] {
        Model whole = m;
        whole.slab.outline = testing::box(0, 0, 5, 5);
        return write_model(whole);
    }());
    ASSERT_TRUE(l.model);
    EXPECT_EQ(l.model->ground.boreholes[0].blow_counts.size(), m.ground.boreholes[0].blow_counts.size());
    EXPECT_EQ(with_report(m, r, p).ground.boreholes.size(), 3u);
    EXPECT_EQ(with_report(m, r, p).ground.strata.size(), 3u);
}

TEST(GroundReport, ReadsTheSameFromCsv) {
    const GroundReport a = read_ground_report(read_text(std::string(examples) + "tern-quay.ags"));
    const GroundReport c = read_ground_report(read_text(std::string(examples) + "tern-quay-boreholes.csv"));
    EXPECT_TRUE(c.problems.empty());
    ASSERT_EQ(c.holes.size(), 3u);
    for (size_t k = 0; k < 3; ++k) {
        ASSERT_EQ(c.holes[k].layers.size(), a.holes[k].layers.size());
        for (size_t l = 0; l < c.holes[k].layers.size(); ++l)
            EXPECT_NEAR(c.holes[k].layers[l].base, a.holes[k].layers[l].base, 1e-9);
    }
}

std::string line_of(const GroundReport& r, const std::string& part) {
    for (const Problem& p : r.problems)
        if (p.sentence().find(part) != std::string::npos) return p.where;
    return "nothing said";
}

TEST(GroundReport, SaysInWhichLineWhatIsWrong) {
    const std::string head =
        "\"GROUP\",\"LOCA\"\r\n\"HEADING\",\"LOCA_ID\",\"LOCA_NATE\",\"LOCA_NATN\",\"LOCA_GL\"\r\n"
        "\"DATA\",\"B1\",\"10\",\"20\",\"1.5\"\r\n\r\n\"GROUP\",\"GEOL\"\r\n"
        "\"HEADING\",\"LOCA_ID\",\"GEOL_TOP\",\"GEOL_BASE\",\"GEOL_DESC\",\"GEOL_GEOL\"\r\n";
    auto with = [&](const std::string& rows) { return read_ags4(head + rows); };
    EXPECT_EQ(line_of(with("\"DATA\",\"B1\",\"0\",\"x\",\"CLAY\",\"C\"\r\n"), "not a number"), "line 7");
    EXPECT_EQ(line_of(with("\"DATA\",\"B1\",\"2\",\"1\",\"CLAY\",\"C\"\r\n"), "not below its top"), "line 7");
    EXPECT_EQ(line_of(with("\"DATA\",\"B9\",\"0\",\"1\",\"CLAY\",\"C\"\r\n"), "in no LOCA row"), "line 7");
    EXPECT_EQ(line_of(with("\"DATA\",\"B1\",\"0\",\"1\",\"CLAY\r\n"), "not closed"), "line 7");
    EXPECT_EQ(line_of(with("\"DATA\",\"B1\",\"0\",\"1\"\r\n"), "cut short before its GEOL_DESC"), "line 7");
    EXPECT_EQ(line_of(with("\"DATA\",\"B1\",\"0\",\"1\",\"CLAY\",\"C\",\"more\"\r\n"), "cells, the headings"),
              "line 7");
    EXPECT_EQ(line_of(with("\"DATUM\",\"B1\"\r\n"), "starts with \"DATUM\""), "line 7");
    EXPECT_EQ(
        line_of(with("\"DATA\",\"B1\",\"0\",\"1\",\"CLAY\",\"C\"\r\n\"DATA\",\"B1\",\"3\",\"5\",\"SAND\",\"S\"\r\n"),
                "leave a gap"),
        "hole B1");
    EXPECT_TRUE(has_errors(read_ground_report("").problems));
    EXPECT_TRUE(has_errors(read_ground_report("a,b\n1,2\n").problems));
    EXPECT_EQ(line_of(read_borehole_csv("borehole;x;y;stratum;bottom_depth\nB1;1;2;clay;4\nB1;1;2;sand;3\n"),
                      "above the one before"),
              "line 3");
    // A report without soils that fit leaves the rest of the model as it is.
    EXPECT_TRUE(with_report({}, read_ground_report("rubbish"), {}).ground.boreholes.empty());
}

// Two holes of which one has a damaged row; the other must come through whole, the damaged one not at all.
struct Damaged {
    const char* what;
    std::string rows, said, where;
};
const std::string two_holes =
    "\"GROUP\",\"LOCA\"\r\n\"HEADING\",\"LOCA_ID\",\"LOCA_NATE\",\"LOCA_NATN\",\"LOCA_GL\",\"LOCA_FDEP\"\r\n"
    "\"DATA\",\"B1\",\"10\",\"20\",\"1.5\",\"9\"\r\n\"DATA\",\"B2\",\"30\",\"20\",\"1.8\",\"9\"\r\n\r\n\"GROUP\","
    "\"GEOL\"\r\n"
    "\"HEADING\",\"LOCA_ID\",\"GEOL_TOP\",\"GEOL_BASE\",\"GEOL_DESC\",\"GEOL_GEOL\"\r\n"
    "\"DATA\",\"B1\",\"0\",\"2\",\"FILL\",\"F\"\r\n\"DATA\",\"B1\",\"2\",\"9\",\"SAND\",\"S\"\r\n"
    "\"DATA\",\"B2\",\"0\",\"2\",\"FILL\",\"F\"\r\n";  // nine lines and an empty one

TEST(GroundReport, AHoleWithADamagedLayerIsLeftOutWholeByNameAndLine) {
    const std::string last = "\"DATA\",\"B2\",\"5\",\"9\",\"SAND\",\"S\"\r\n";
    for (const Damaged& d : std::vector<Damaged>{
             {"a quote not closed", "\"DATA\",\"B2\",\"2\",\"5\",\"soft CLAY\r\n" + last, "not closed", "line 11"},
             {"cut short", "\"DATA\",\"B2\",\"2\"\r\n" + last, "cut short", "line 11"},
             {"text for a depth", "\"DATA\",\"B2\",\"2\",\"about 5\",\"CLAY\",\"C\"\r\n" + last, "not a number",
              "line 11"},
             {"swapped", "\"DATA\",\"B2\",\"5\",\"2\",\"CLAY\",\"C\"\r\n" + last, "not below its top", "line 11"},
             {"no base in the middle", "\"DATA\",\"B2\",\"2\",\"\",\"CLAY\",\"C\"\r\n" + last, "not a number",
              "line 11"},
             {"a layer missing", last, "leave a gap between 2.00 m and 5.00 m", "hole B2"},
             {"overlapping", "\"DATA\",\"B2\",\"1.6\",\"5\",\"CLAY\",\"C\"\r\n" + last,
              "overlap between 1.60 m and 2.00 m", "hole B2"},
         }) {
        const GroundReport r = read_ground_report(two_holes + d.rows);
        EXPECT_EQ(line_of(r, d.said), d.where) << d.what;
        EXPECT_TRUE(r.anything_left_out()) << d.what;
        const Model m = with_report({}, r, {});
        ASSERT_EQ(m.ground.boreholes.size(), 1u) << d.what;
        EXPECT_EQ(m.ground.boreholes[0].id, "B1");
        EXPECT_EQ(m.ground.strata.size(), 2u) << d.what;  // and no stratum that only the damaged hole has
    }
    // Whole it is taken; a row of a layer that names no hole makes every hole doubtful.
    const std::string clay = "\"DATA\",\"B2\",\"2\",\"5\",\"CLAY\",\"C\"\r\n";
    EXPECT_EQ(with_report({}, read_ground_report(two_holes + clay + last), {}).ground.boreholes.size(), 2u);
    EXPECT_TRUE(
        with_report({}, read_ground_report(two_holes + clay + last + "\"DATA\",\"\",\"2\",\"5\",\"CLAY\",\"C\"\r\n"),
                    {})
            .ground.boreholes.empty());
}

TEST(GroundReport, ALastLayerWithoutABaseTakesTheHolesFinalDepth) {
    const GroundReport r = read_ground_report(two_holes + "\"DATA\",\"B2\",\"2\",\"\",\"SAND\",\"S\"\r\n");
    EXPECT_EQ(line_of(r, "final depth of 9.00 m is taken"), "line 11");
    EXPECT_FALSE(r.anything_left_out());
    EXPECT_NEAR(with_report({}, r, {}).ground.boreholes[1].layers.back().bottom, 1.8 - 9, 1e-9);
    EXPECT_EQ(line_of(read_ground_report(two_holes), "its layers end at 2.00 m, the hole at 9.00 m"), "hole B2");
}

TEST(GroundReport, AGroundLevelThatIsMissingIsNeverZero) {
    std::string text = two_holes + "\"DATA\",\"B2\",\"2\",\"9\",\"SAND\",\"S\"\r\n";
    text.replace(text.find("\"1.5\""), 5, "\"\"");
    const GroundReport r = read_ground_report(text);
    Model m;
    EXPECT_EQ(with_report(m, r, {}).ground.boreholes.size(), 1u);
    auto said = problems_of_taking(r, {}, m);
    ASSERT_EQ(said.size(), 1u);
    EXPECT_EQ(said[0].severity, Severity::error);
    EXPECT_THAT(said[0].sentence(), HasSubstr("hole B1: it has no ground level"));
    m.ground.ground_level = 3;  // the model's own level may stand for it, and that is said
    EXPECT_NEAR(with_report(m, r, {}).ground.boreholes[0].layers[0].bottom, 1, 1e-9);
    EXPECT_THAT(problems_of_taking(r, {}, m)[0].sentence(), HasSubstr("the model's 3.00 m is taken"));
    EXPECT_EQ(
        line_of(read_borehole_csv("borehole,x,y,stratum,bottom_level\nB1,1,2,clay,-4\n"), "no ground level to count"),
        "line 2");
}

TEST(GroundReport, ARowWithoutANameSpoilsTheHoleAboveIt) {
    const GroundReport r = read_borehole_csv(
        "borehole,x,y,ground_level,stratum,bottom_depth\nB1,1,2,0.5,clay,4\n,,,,sand,9\nB2,5,2,0.6,clay,5\n");
    const Model m = with_report({}, r, {});
    ASSERT_EQ(m.ground.boreholes.size(), 1u);
    EXPECT_EQ(m.ground.boreholes[0].id, "B2");
    EXPECT_EQ(line_of(r, "hole B1 is left out"), "line 3");
}

TEST(GroundReport, OfTwoHolesOfOneNameNoneIsTaken) {
    std::string text = two_holes + "\"DATA\",\"B2\",\"2\",\"9\",\"SAND\",\"S\"\r\n";
    text.insert(text.find("\"DATA\",\"B2\""), "\"DATA\",\"B1\",\"40\",\"20\",\"1.5\",\"9\"\r\n");
    const GroundReport r = read_ground_report(text);
    EXPECT_EQ(line_of(r, "a second hole of that name; the first is in line 3"), "line 4");
    EXPECT_EQ(with_report({}, r, {}).ground.boreholes.size(), 1u);
}

TEST(GroundReport, TheHighestRestingLevelIsTheWater) {
    const std::string whole =
        two_holes +
        "\"DATA\",\"B2\",\"2\",\"9\",\"SAND\",\"S\"\r\n"
        "\"GROUP\",\"WSTG\"\r\n\"HEADING\",\"LOCA_ID\",\"WSTG_DPTH\"\r\n\"DATA\",\"B1\",\"2.1\"\r\n\"DATA\",\"B1\","
        "\"8\"\r\n\"DATA\",\"B2\",\"2.4\"\r\n"
        "\"GROUP\",\"WSTD\"\r\n\"HEADING\",\"LOCA_ID\",\"WSTG_DPTH\",\"WSTD_NMIN\",\"WSTD_POST\"\r\n"
        "\"DATA\",\"B1\",\"2.1\",\"5\",\"1.9\"\r\n\"DATA\",\"B1\",\"2.1\",\"20\",\"1.6\"\r\n\"DATA\",\"B1\",\"8\","
        "\"60\",\"6.2\"\r\n";
    const GroundReport r = read_ground_report(whole);
    ASSERT_EQ(r.holes.size(), 2u);
    EXPECT_DOUBLE_EQ(*r.holes[0].water_depth, 1.6);
    EXPECT_EQ(line_of(r, "of 2 water strikes the highest resting level counts: 1.60 m"), "hole B1");
    EXPECT_DOUBLE_EQ(*r.holes[1].water_depth, 2.4);
    EXPECT_EQ(line_of(r, "its water level is a strike at 2.40 m, not one at rest"), "hole B2");
    EXPECT_FALSE(r.anything_left_out());
}

TEST(GroundReport, OtherUnitsOtherVersionsAndOtherEncodings) {
    std::string feet = two_holes;
    feet.insert(feet.find("\"DATA\",\"B1\",\"0\""), "\"UNIT\",\"\",\"ft\",\"ft\",\"\",\"\"\r\n");
    EXPECT_EQ(line_of(read_ground_report(feet), "GEOL_BASE is given in ft"), "line 8");
    EXPECT_TRUE(with_report({}, read_ground_report(feet), {}).ground.boreholes.empty());
    const GroundReport old = read_ground_report("\"**PROJ\"\r\n\"*PROJ_ID\"\r\n\"X\"\r\n");
    EXPECT_TRUE(old.holes.empty());
    EXPECT_THAT(old.problems.at(0).sentence(), HasSubstr("AGS 3"));
    const GroundReport latin =
        read_ground_report(two_holes + "\"DATA\",\"B2\",\"2\",\"9\",\"Dense SAND, 35\xB0, 200 \xB5m\",\"S\"\r\n");
    ASSERT_EQ(latin.holes.size(), 2u);
    EXPECT_EQ(latin.holes[1].layers[1].description, "Dense SAND, 35°, 200 µm");
}

TEST(GroundReport, NamesThatClashAndCodesThatNoLayerHasAreSaid) {
    const GroundReport r = read_ground_report(two_holes + "\"DATA\",\"B2\",\"2\",\"9\",\"SAND\",\"S\"\r\n");
    Model m;
    Borehole old;
    old.id = "B1";
    m.ground.boreholes = {old};
    Placing p;
    p.stratum_of = {{"F", "fil"}, {"X", "clay"}};
    std::string all;
    for (const Problem& q : problems_of_taking(r, p, m)) all += q.sentence() + "\n";
    EXPECT_THAT(all, Not(HasSubstr("code S")));
    Stratum known;
    known.id = "S", known.E = 77;
    m.ground.strata = {known};
    all.clear();
    for (const Problem& q : problems_of_taking(r, p, m)) all += q.sentence() + "\n";
    EXPECT_THAT(all, HasSubstr("code S: the model has a stratum of that name (E 77 MPa)"));
    EXPECT_EQ(with_report(m, r, p).ground.strata[0].E, 77);
    EXPECT_THAT(all, HasSubstr("hole B1: it replaces the model's borehole of that name"));
    EXPECT_THAT(all, HasSubstr("code X: no layer of the report has this code; name one of F, S"));
    EXPECT_THAT(all, HasSubstr("the model has no stratum \"fil\""));
}

TEST(GroundReport, BoreholeTablesHaveTheHabitsOfTables) {
    // Title lines, other words, units, decimal commas, thousands.
    const GroundReport r = read_ground_report(
        "Otter Bridge, boreholes;;;;;;\n\nHole ID;Easting [m];Northing [m];GL [m];Water;Geology;Depth to base [cm]\n"
        "BH1;512.345,5;1.000,25;4,2;3,0;fill;150\nBH1;;;;;clay;1.250,5\nBH2;512.360;1.010;4;;clay;900\n");
    EXPECT_TRUE(r.problems.empty());
    ASSERT_EQ(r.holes.size(), 2u);
    EXPECT_EQ(r.holes[0].at->x, 512345.5);
    EXPECT_EQ(r.holes[0].ground_level, 4.2);
    EXPECT_NEAR(*r.holes[0].water_depth, 1.2, 1e-9);
    ASSERT_EQ(r.holes[0].layers.size(), 2u);
    EXPECT_EQ(r.holes[0].layers[0].base, 1.5);
    EXPECT_EQ(r.holes[0].layers[1].base, 12.505);
    EXPECT_EQ(r.holes[1].at->x, 512360) << "by the table's habit";
}

TEST(GroundReport, SurvivesBeingCutAnywhere) {
    const std::string text = read_text(std::string(examples) + "tern-quay.ags");
    for (size_t n = 0; n < text.size(); n += 37) {
        const GroundReport r = read_ground_report(text.substr(0, n));
        EXPECT_LE(r.holes.size(), 3u);
        with_report({}, r, {});
        std::string spoilt = text;
        spoilt[n] = '"';
        with_report({}, read_ground_report(spoilt), {});
    }
}

}  // namespace
}  // namespace mossbed
