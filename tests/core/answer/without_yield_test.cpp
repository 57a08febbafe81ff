// On layered ground that bears no more than a bound, strength combinations that reach it are searched a second time
// without: in the same search, from what was just found.
#include "tests/core/answer/differences.h"
#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

Stratum soil(const std::string& id, double E) {
    Stratum s;
    s.id = id, s.E = E, s.nu = 0.3, s.unit_weight = 19, s.saturated_unit_weight = 20;
    return s;
}

Combination of_g(const std::string& id, Purpose purpose, double factor) {
    Combination c;
    c.id = id, c.purpose = purpose, c.factors = {{"G", factor}};
    return c;
}

// Service and strength that reach the bound below the heavy end, one that does not and one that the ground cannot bear
// at all.
Model heavy_at_one_end(bool by_index) {
    Model m = raft(box(0, 0, 12, 8), 0.6, 10000);
    m.mesh_size = 0.8;
    m.ground.model = GroundModel::coupled;
    m.ground.strata = {soil("clay", 8), soil("sand", 40)};
    Borehole b;
    b.id = "A", b.at = Point{2, 2}, b.ground_level = 0, b.layers = {{"clay", -5, {}}, {"sand", -15, {}}};
    m.ground.boreholes = {b};
    m.ground.rigid_base_level = -15;
    m.ground.yield_pressure = 130;
    if (by_index) strain_by_index(m);
    load(m, {SlabLoad{25}, {}});
    load(m, {PointLoad{{9, 3.5}, 3200, 0, 0}, {}});
    m.loads.combinations = {of_g("S", Purpose::service, 1), of_g("low", Purpose::strength, 0.3),
                            of_g("U", Purpose::strength, 1.1), of_g("through", Purpose::strength, 4)};
    return m;
}

double furthest(const std::vector<double>& a, const std::vector<double>& b) {
    EXPECT_EQ(a.size(), b.size());
    double off = 0, largest = 0;
    for (size_t i = 0; i < std::min(a.size(), b.size()); ++i)
        off = std::max(off, std::abs(a[i] - b[i])), largest = std::max(largest, std::abs(b[i]));
    return off / largest;
}

class WithoutYield : public ::testing::TestWithParam<bool> {};
INSTANTIATE_TEST_SUITE_P(, WithoutYield, ::testing::Bool(),
                         [](const auto& by_index) { return by_index.param ? "ByIndex" : "Elastic"; });

TEST_P(WithoutYield, IsTheSolutionOfTheSameSlabOnGroundWithoutBound) {
    Model m = heavy_at_one_end(GetParam());
    const auto a = solve(m);
    m.ground.yield_pressure.reset();
    const auto free = solve(m);
    ASSERT_EQ(a->combinations.size(), 6u);
    EXPECT_GT(a->combinations[0].yield_ratio, 0);  // service keeps the bound
    EXPECT_TRUE(a->combinations[1].is_solved());
    EXPECT_EQ(a->combinations[1].yield_ratio, 0);  // nothing to be searched again
    EXPECT_GT(a->combinations[2].yield_ratio, 0.02);
    EXPECT_EQ(a->combinations[3].ending, Ending::yields_through);
    for (size_t k : {4u, 5u}) {
        const CombinationAnswer &c = a->combinations[k], &wanted = free->combinations[k - 2];
        EXPECT_TRUE(c.without_yield);
        EXPECT_EQ(c.combination.id, wanted.combination.id);
        ASSERT_TRUE(c.is_solved()) << c.explanation;
        EXPECT_EQ(c.yield_ratio, 0);
        EXPECT_LT(c.compatibility, 1e-5);
        EXPECT_LT(c.equilibrium_error, 1e-9);
        EXPECT_LT(furthest(c.pressure, wanted.pressure), 1e-5);
        EXPECT_NEAR(c.contact_ratio, wanted.contact_ratio, 1e-12);
        EXPECT_EQ(c.applied.Fz, wanted.applied.Fz);
        std::vector<double> moved, should;
        for (int i = 0; i < int(a->mesh.nodes.size()); ++i)
            moved.push_back(c.settlement(i)), should.push_back(wanted.settlement(i));
        EXPECT_LT(furthest(moved, should), 1e-6);
        EXPECT_GT(c.max_pressure, 1.1 * 130);
    }
}

TEST_P(WithoutYield, AfterAnEditItIsFoundFromTheLastAnswerAsFromNothing) {
    const Model before = heavy_at_one_end(GetParam());
    const auto last = solve(before);
    for (int edit = 0; edit < 3; ++edit) {
        Model m = before;
        if (edit == 0) (*m.loads.combinations)[2].factors["G"] = 1.15;
        if (edit == 1) std::get<Polygon>(m.slab.outline)[1].x = std::get<Polygon>(m.slab.outline)[2].x = 12.1;
        if (edit == 2) (*m.loads.combinations)[1].factors["G"] = 1.05;  // what did not yield does now
        const auto cold = solve(m), started = solve(m, {}, last.get());
        EXPECT_EQ(cold->combinations.size(), edit == 2 ? 7u : 6u);
        const Differences d(*cold, *started);
        EXPECT_LT(d.worst(), 1e-5) << edit << ": " << d.in_words();
        if (edit == 0) EXPECT_LT(started->combinations[4].rounds, cold->combinations[4].rounds + 3);
    }
}

}  // namespace
}  // namespace mossbed::testing
