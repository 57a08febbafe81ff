#include "core/fields/envelope.h"

#include <gmock/gmock.h>

#include <nlohmann/json.hpp>

#include "tests/core/helpers.h"
#include "words/results_file.h"

namespace mossbed::testing {
namespace {

// A rigid base of 6 × 4 m: σ = N/A ± M/W by hand. W of the short axis 24, N/A 50 kPa.
std::shared_ptr<const Answer> pushed_both_ways() {
    Model m = raft(box(0, 0, 6, 4), 1.0, 2000, 1e6);
    m.columns = {column("C", 3, 2)};
    m.mesh_size = 0.5;
    load(m, {ColumnLoad{"C", 1200, 0, 0, 0, 0}, {}});
    for (const char* id : {"A", "B"}) {
        LoadCase c;
        c.id = id, c.action = Action::wind;
        ColumnLoad l;
        l.column = "C", l.My = id[0] == 'A' ? 240 : -120;
        c.items = {{l, {}}};
        m.loads.cases.push_back(c);
    }
    auto row = [](const char* id, Purpose p, std::map<std::string, double> f) {
        Combination c;
        c.id = id, c.purpose = p, c.factors = std::move(f);
        return c;
    };
    m.loads.combinations = std::vector<Combination>{
        row("U", Purpose::strength, {{"G", 1.35}}), row("S1", Purpose::service, {{"G", 1}, {"A", 1}}),
        row("S2", Purpose::service, {{"G", 1}, {"B", 1}}), row("up", Purpose::service, {{"G", -1}})};
    return solve(m);
}

TEST(Envelope, HoldsLargestAndSmallestOfItsPurposeAndByWhichCombination) {
    const auto a = pushed_both_ways();
    EXPECT_EQ(combinations_for(*a, Purpose::service), (std::vector<int>{1, 2})) << "what lifts free has no field";
    EXPECT_EQ(purposes_with_fields(*a), (std::vector<Purpose>{Purpose::service, Purpose::strength}));
    const EnvelopeMap most = envelope_map(*a, {Purpose::service, Extreme::largest}, Quantity::pressure),
                      least = envelope_map(*a, {Purpose::service, Extreme::smallest}, Quantity::pressure);
    const Finder::Hit right = a->finder.nearest({6, 2}), left = a->finder.nearest({0, 2});
    EXPECT_NEAR(most.map.at(right, a->mesh), 60, 0.7);  // 50 + 240/24, by S1
    EXPECT_EQ(most.by_at(right, a->mesh), 1);
    EXPECT_NEAR(most.map.at(left, a->mesh), 55, 0.7);  // 50 + 120/24, by S2
    EXPECT_EQ(most.by_at(left, a->mesh), 2);
    EXPECT_NEAR(least.map.at(left, a->mesh), 40, 0.7);
    EXPECT_EQ(least.by_at(left, a->mesh), 1);
    EXPECT_NEAR(most.map.most, 60, 0.8);
    EXPECT_NEAR(most.map.most_at.x, 6, 1e-9);
    EXPECT_TRUE(envelope_map(*a, {Purpose::stability, Extreme::largest}, Quantity::pressure).map.corner.empty());
}

TEST(Envelope, AlongALineEnclosesEveryCombination) {
    const auto a = pushed_both_ways();
    const std::array<Point, 2> line{Point{-1, 2}, Point{7, 2}};
    const EnvelopeAlong e = envelope_along(*a, Purpose::service, line);
    double gap = 0;
    for (int c : {1, 2}) {
        const AlongLine one = along_line(*a, a->combinations[size_t(c)], line);
        for (auto of : {&AlongLine::pressure, &AlongLine::settlement, &AlongLine::moment})
            for (size_t i = 0; i < one.t.size(); ++i) {
                EXPECT_LE((one.*of)[i], (e.largest.*of)[i]);
                EXPECT_GE((one.*of)[i], (e.smallest.*of)[i]);
                gap = std::max(gap, (e.largest.*of)[i] - (e.smallest.*of)[i]);
            }
    }
    EXPECT_GT(gap, 10);
}

TEST(Envelope, StandsInTheResultsFileByIndexOfTheCombinations) {
    const auto a = pushed_both_ways();
    const auto j = nlohmann::json::parse(write_results(*a, ""));
    ASSERT_EQ(j["envelopes"].size(), 2u);
    const auto& service = j["envelopes"][0];
    EXPECT_EQ(service["purpose"], "service");
    for (const char* key : {"settlement", "pressure"})
        for (size_t n = 0; n < a->mesh.nodes.size(); ++n) {
            const double one = j["combinations"][1][key][n], other = j["combinations"][2][key][n];
            EXPECT_EQ(service[key]["max"][n], std::max(one, other));
            EXPECT_EQ(service[key]["min"][n], std::min(one, other));
            EXPECT_EQ(service[key]["max_by"][n], one >= other ? 1 : 2);
        }
    for (size_t n = 0; n < a->mesh.nodes.size(); ++n) {
        const double one = j["combinations"][1]["moments"][n][0], other = j["combinations"][2]["moments"][n][0];
        EXPECT_EQ(service["mx"]["max"][n], std::max(one, other));
    }
}

}  // namespace
}  // namespace mossbed::testing
