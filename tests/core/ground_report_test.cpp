// Ground reports: AGS4 and CSV, what is understood and what is said about the rest.
#include "core/file/ground_report.h"

#include <gmock/gmock.h>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using ::testing::HasSubstr;

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
    EXPECT_EQ(line_of(with("\"DATA\",\"B1\",\"0\",\"1\"\r\n"), "cells, the headings"), "line 7");
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
