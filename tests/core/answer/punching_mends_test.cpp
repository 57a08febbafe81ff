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
    ASSERT_EQ(mends.size(), 4u);
    EXPECT_EQ(told, 4);
    for (const PunchingMend& mend : mends) {
        if (!mend.model) continue;
        EXPECT_LE(use(*mend.model), 1 + 1e-9) << mend.what;
        EXPECT_NEAR(use(*mend.model), mend.use, 1e-3) << mend.what;
        EXPECT_FALSE(mend.what.empty());
        EXPECT_FALSE(mend.tries.empty());
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
