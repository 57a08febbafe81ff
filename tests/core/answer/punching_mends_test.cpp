// What would mend a punched place: each passes, one step less does not, and each is a model of its own.
#include "core/answer/punching_mends.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include "tests/core/judge/pad.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

Model over(double N = 3000) {
    Model m = designed_raft(box(0, 0, 8, 8), 0.5);
    m.ground.modulus = 10000;
    m.columns = {column("A", 4, 4, 0.4)};
    load(m, {ColumnLoad{"A", N, 0, 0, 0, 0}, {}});
    return m;
}
double use(const Model& m) { return solve(m)->punching.at(0).utilisation; }

TEST(PunchingMends, EachPassesAndOneStepLessDoesNot) {
    const Model m = over();
    ASSERT_GT(use(m), 1.05);
    int told = 0;
    const auto mends = punching_mends(m, "A", nullptr, [&](const PunchingMend&) { ++told; });
    ASSERT_EQ(mends.size(), 5u);
    EXPECT_EQ(told, 5);
    for (const PunchingMend& mend : mends) {
        if (!mend.model) continue;
        EXPECT_LE(use(*mend.model), 1 + 1e-9) << mend.what;
        EXPECT_NEAR(use(*mend.model), mend.use, 1e-3) << mend.what;
        EXPECT_FALSE(mend.what.empty());
        ASSERT_FALSE(mend.series.empty());
        for (const auto& s : mend.series) EXPECT_FALSE(s.of.empty() || s.tries.empty()) << mend.what;
    }
    ASSERT_EQ(mends[0].kind, PunchingMend::Kind::thickness);
    ASSERT_TRUE(mends[0].model);
    Model less = *mends[0].model;
    less.slab.thickness -= 0.02;
    EXPECT_GT(use(less), 1);
    EXPECT_THAT(mends[0].what, HasSubstr(fmt::format("{:.2f} m", mends[0].model->slab.thickness)));
    ASSERT_TRUE(mends[1].model);
    EXPECT_EQ(mends[1].model->slab.patches.size(), 1u);
    EXPECT_EQ(mends[1].model->slab.thickness, m.slab.thickness);
    ASSERT_TRUE(mends[3].model);
    less = *mends[3].model;
    for (double& s : less.columns[0].size) s -= 0.05;
    EXPECT_GT(use(less), 1);
    EXPECT_EQ(mends[4].kind, PunchingMend::Kind::links);
}

PunchingMend links_for(const Model& m) { return punching_mends(m, "A", nullptr).back(); }

TEST(PunchingMends, LinksAreTheFewestPerimetersAndLegsThatPass) {
    const Model m = over(2100);
    ASSERT_GT(use(m), 1.02);
    const PunchingMend mend = links_for(m);
    ASSERT_TRUE(mend.model) << mend.why_not;
    EXPECT_LE(use(*mend.model), 1 + 1e-9);
    EXPECT_THAT(mend.what, HasSubstr("links ϕ"));
    EXPECT_EQ(mend.series.size(), 3u);
    Model less = *mend.model;
    less.columns[0].links.legs = *less.columns[0].links.legs - 2;
    EXPECT_GT(use(less), 1);
    less = *mend.model;
    less.columns[0].links.perimeters = *less.columns[0].links.perimeters - 1;
    EXPECT_GT(use(less), 1);
}

TEST(PunchingMends, LinksAreNotAskedForWherePunchingPassesWithoutNorWhereTheyCannotHelp) {
    Model m = over(900);
    EXPECT_THAT(links_for(m).why_not, HasSubstr("passes without"));
    PunchingLinks& l = m.columns[0].links;
    l.diameter = 12, l.legs = 20, l.perimeters = 4, l.spacing = 200;
    const PunchingMend none = links_for(m);
    EXPECT_EQ(none.what, "no links");
    ASSERT_TRUE(none.model);
    EXPECT_FALSE(none.model->columns[0].links.stated());
    m = over(9000);  // the stress at the face
    EXPECT_THAT(links_for(m).why_not, HasSubstr("no links pass"));
    EXPECT_FALSE(links_for(m).model);
}

TEST(PunchingMends, WhatPassesIsMadeSmallerWhereItMayBe) {
    const Model m = over(900);
    ASSERT_LT(use(m), 0.6);
    const auto mends = punching_mends(m, "A", nullptr);
    ASSERT_TRUE(mends[0].model);
    EXPECT_LT(mends[0].model->slab.thickness, m.slab.thickness);
    EXPECT_LE(use(*mends[0].model), 1 + 1e-9);
}

TEST(PunchingMends, WhatIsNotWorkedOutCannotBeTriedAndAPatchIsNotPutOnAnother) {
    Model m = over();
    EXPECT_THROW(punching_mends(m, "B", nullptr), Trouble);
    m.slab.patches.push_back({"T1", box(3, 3, 5, 5), 0.55, Flush::top, "", {}});
    for (const PunchingMend& mend : punching_mends(m, "A", nullptr))
        if (mend.kind == PunchingMend::Kind::patch) {
            EXPECT_FALSE(mend.model);
            EXPECT_THAT(mend.why_not, HasSubstr("patch already"));
        }
    std::atomic<bool> stop{true};
    Progress p;
    p.stop = &stop;
    EXPECT_THROW(punching_mends(m, "A", nullptr, {}, p), Stopped);
}

}  // namespace
}  // namespace mossbed::testing
