// What strata and boreholes are told: each slip by its place, in words that say how to mend it.
#include "core/ground/soil_profile.h"
#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

Model sound() {  // three boreholes round a slab of 8 × 6 m
    Model m = raft(box(0, 0, 8, 6), 0.5, 20000);
    m.ground.model = GroundModel::coupled;
    for (const char* id : {"clay", "sand"}) {
        Stratum s;
        s.id = id, s.E = 20;
        m.ground.strata.push_back(s);
    }
    for (auto [id, x, y] : {std::tuple{"BH1", -4.0, -4.0}, {"BH2", 14.0, -3.0}, {"BH3", 4.0, 16.0}}) {
        Borehole b;
        b.id = id, b.at = {x, y}, b.ground_level = 0, b.layers = {{"clay", -4, {}}, {"sand", -12, {}}};
        m.ground.boreholes.push_back(b);
    }
    return m;
}
std::optional<Problem> said(const Model& m, const std::string& where, const std::string& what) {
    for (const Problem& p : problems_of_strata(m))
        if (p.where == where && p.what.find(what) != std::string::npos) return p;
    return {};
}

TEST(Strata, SoundOnesHaveNothingToSay) {
    for (const Problem& p : problems_of_strata(sound())) ADD_FAILURE() << p.sentence();
}

struct Slip {
    const char* name;
    void (*make)(Model&);
    const char *where, *says;
    Severity severity;
};
class StrataSlip : public ::testing::TestWithParam<Slip> {};

TEST_P(StrataSlip, IsToldByItsPlaceWithWhatWouldMendIt) {
    Model m = sound();
    GetParam().make(m);
    const auto p = said(m, GetParam().where, GetParam().says);
    ASSERT_TRUE(p) << GetParam().says;
    EXPECT_EQ(p->severity, GetParam().severity);
    EXPECT_FALSE(p->mend.empty());
}

constexpr Severity error = Severity::error, warning = Severity::warning;
INSTANTIATE_TEST_SUITE_P(
    All, StrataSlip,
    ::testing::Values(
        Slip{"StiffnessOfNought", [](Model& m) { m.ground.strata[0].E = 0; }, "stratum clay", "E is 0", error},
        Slip{"StiffnessInKilopascal", [](Model& m) { m.ground.strata[1].E = 2e5; }, "stratum sand", "usual is",
             warning},
        Slip{"SofterOnReloading", [](Model& m) { m.ground.strata[0].E_reload = 5; }, "stratum clay", "less than E",
             warning},
        Slip{"ABoreholeInMillimetres",
             [](Model& m) {
                 m.ground.boreholes[1].at = {14000, -3};
             },
             "borehole BH2", "it stands 14.0 km from the slab", warning},
        Slip{"ALayerInMillimetres", [](Model& m) { m.ground.boreholes[1].layers[1].bottom = -12000; }, "borehole BH2",
             "layer 2 (sand) is 11996 m thick", warning},
        Slip{"UndrainedPoisson", [](Model& m) { m.ground.strata[0].nu = 0.5; }, "stratum clay", "Poisson", error},
        Slip{"ConfinedAndNearlyIncompressible",
             [](Model& m) {
                 m.ground.settlement_method = SettlementMethod::one_dimensional, m.ground.strata[0].nu = 0.47;
             },
             "stratum clay", "confined modulus", warning},
        Slip{"AStratumThatFloats", [](Model& m) { m.ground.strata[1].saturated_unit_weight = 8; }, "stratum sand",
             "floats", warning},
        Slip{"IndexWithoutVoidRatio", [](Model& m) { m.ground.strata[0].compression_index = 0.3; }, "stratum clay",
             "no void ratio", warning},
        Slip{"RecompressionAboveCompression",
             [](Model& m) {
                 Stratum& s = m.ground.strata[0];
                 s.compression_index = 0.1, s.recompression_index = 0.2, s.void_ratio = 1;
             },
             "stratum clay", "larger than its compression", warning},
        Slip{"NegativeConsolidation", [](Model& m) { m.ground.strata[0].cv = -1; }, "stratum clay", "consolidation",
             error},
        Slip{"LayerUpsideDown", [](Model& m) { m.ground.boreholes[1].layers[1].bottom = -3; }, "borehole BH2",
             "thickness is negative", error},
        Slip{"LayerOfNoThickness", [](Model& m) { m.ground.boreholes[1].layers[1].bottom = -4; }, "borehole BH2",
             "no thickness", warning},
        Slip{"UnknownStratum", [](Model& m) { m.ground.boreholes[2].layers[0].stratum = "peat"; }, "borehole BH3",
             "does not exist", error},
        Slip{"NoLayers", [](Model& m) { m.ground.boreholes[0].layers.clear(); }, "borehole BH1", "left out", warning},
        Slip{"NoGroundLevel", [](Model& m) { m.ground.boreholes[0].ground_level.reset(); }, "borehole BH1",
             "no ground level", warning},
        Slip{"TwiceInOnePlace", [](Model& m) { m.ground.boreholes[2].at = m.ground.boreholes[0].at; }, "borehole BH3",
             "earlier one", warning},
        Slip{"NoneAtAll", [](Model& m) { m.ground.boreholes.clear(); }, "ground.boreholes", "no borehole", error},
        Slip{"ContradictingOrder",
             [](Model& m) {
                 std::swap(m.ground.boreholes[1].layers[0].stratum, m.ground.boreholes[1].layers[1].stratum);
             },
             "ground.boreholes", "contradicting order", error},
        Slip{"FoundedBelowAll", [](Model& m) { m.ground.founding_level = -20; }, "ground.founding_level",
             "below the deepest", error},
        Slip{"RigidBaseAboveTheSlab", [](Model& m) { m.ground.rigid_base_level = 1; }, "ground.rigid_base_level",
             "lies above", error},
        Slip{"BoringStopsShort",
             [](Model& m) {
                 m.ground.boreholes[0].layers = {{"clay", -3, {}}};
             },
             "borehole BH1", "stops at", warning},
        Slip{"OnOneLine",
             [](Model& m) {
                 m.ground.boreholes[2].at = {5, -3.5};
             },
             "ground.boreholes", "on one line", warning},
        Slip{"SlabFarOutside",
             [](Model& m) {
                 for (Borehole& b : m.ground.boreholes) b.at = b.at + Point{60, 0};
             },
             "ground.boreholes", "outside the boreholes", warning},
        Slip{"SlabInTheAir", [](Model& m) { m.slab.top_level = 3; }, "ground.founding_level", "above the ground",
             warning}),
    [](const auto& info) { return std::string(info.param.name); });

}  // namespace
}  // namespace mossbed
