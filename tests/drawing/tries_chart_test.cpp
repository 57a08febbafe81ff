// The little charts of what was tried: a dot a size, those that pass apart from those that do not, the least ringed.
#include "drawing/tries_chart.h"

#include <gtest/gtest.h>

namespace mossbed {
namespace {

std::vector<const Disc*> dots(const Drawing& d) {
    std::vector<const Disc*> out;
    for (const Mark& m : d.marks)
        if (const auto* disc = std::get_if<Disc>(&m.what)) out.push_back(disc);
    return out;
}
const Box paper{{0, 0}, {300, tries_chart_height}};

TEST(TriesChart, ADotForEachSizeTheLeastThatPassesRinged) {
    PunchingMend m;
    m.series = {{"thickness, m", {{0.5, 1.2}, {0.7, 0.8}, {0.6, 0.99}, {0.55, std::nullopt}}}};
    const Drawing d = tries_chart(m, paper);
    const auto all = dots(d);
    ASSERT_EQ(all.size(), 3u);  // one could not be judged
    EXPECT_EQ(all[0]->fill.tone.role, Role::rust);
    EXPECT_EQ(all[1]->fill.tone.role, Role::moss);
    int ringed = 0;
    for (const Disc* disc : all) ringed += disc->stroke.tone.role == Role::ink;
    EXPECT_EQ(ringed, 1);
    EXPECT_EQ(all[2]->stroke.tone.role, Role::ink);
    EXPECT_LT(all[0]->at.x, all[2]->at.x);
    EXPECT_LT(all[2]->at.x, all[1]->at.x);
    EXPECT_GT(all[0]->at.y, all[1]->at.y);  // paper's y runs down, the plan's up
}
TEST(TriesChart, SeriesStandBesideEachOtherAndNothingLeavesThePaper) {
    PunchingMend m;
    m.series = {
        {"diameter, mm", {{10, 9.0}, {12, 0.9}}}, {"perimeters", {{2, 1e9}, {4, 0.5}}}, {"legs of each", {{8, 0.1}}}};
    const Drawing d = tries_chart(m, paper);
    const auto all = dots(d);
    ASSERT_EQ(all.size(), 5u);
    EXPECT_LT(all[1]->at.x, all[2]->at.x);
    EXPECT_LT(all[3]->at.x, all[4]->at.x);
    for (const Disc* disc : all) {
        EXPECT_GE(disc->at.x, 0);
        EXPECT_LE(disc->at.x, 300);
        EXPECT_LE(-disc->at.y, tries_chart_height);
        EXPECT_GE(-disc->at.y, 0);
    }
    EXPECT_TRUE(dots(tries_chart({}, paper)).empty());
}

}  // namespace
}  // namespace mossbed
