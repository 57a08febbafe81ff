// Points of integrals over whole elements and their quarters against shape functions looked up place by place; elements
// round nodes against all of them.
#include "core/mesh/shape_integrals.h"

#include <random>

#include "core/mesh/elements_round.h"
#include "core/mesh/node_shares.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using namespace testing;

struct Seen {
    Point at;
    double weight;
    ShapeValues N;
};

void expect_same(const std::vector<Seen>& known, const std::vector<Seen>& looked_up) {
    ASSERT_EQ(known.size(), looked_up.size());
    for (size_t i = 0; i < known.size(); ++i) {
        EXPECT_EQ(known[i].at, looked_up[i].at);
        EXPECT_EQ(known[i].weight, looked_up[i].weight);
        for (size_t k = 0; k < 4; ++k) EXPECT_NEAR(known[i].N[k], looked_up[i].N[k], 1e-12) << i << " " << k;
    }
}

Mesh askew(int corners, std::mt19937& random) {
    auto u = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    Mesh m;
    const Point far{u(-50, 50), u(-50, 50)};
    for (Point q : {Point{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
        m.nodes.push_back(far + u(0.1, 0.2) * q + Point{u(-0.05, 0.05), u(-0.05, 0.05)});
    m.elements = {{0, 1, 2, corners == 4 ? 3 : -1}};
    return m;
}

TEST(ShapeIntegrals, AreTakenAtThePointsOfOthersWithTheShapeFunctionsThere) {
    std::mt19937 random(5);
    for (int corners : {3, 4})
        for (int turn = 0; turn < 40; ++turn) {
            const Mesh m = askew(corners, random);
            auto look_up = [&](const auto& polygon) {
                std::vector<Seen> out;
                integrate(polygon, [&](Point q, double w) { out.push_back({q, w, weights_at(m, 0, q)}); });
                return out;
            };
            std::vector<Seen> whole;
            integrate_shapes(m, 0, [&](Point q, double w, const ShapeValues& N) { whole.push_back({q, w, N}); });
            expect_same(whole, look_up(m.polygon(0)));
            const auto parts = nearest_to_corners(m, 0);
            for (size_t k = 0; k < size_t(corners); ++k) {
                std::vector<Seen> near;
                integrate_shapes_near(m, 0, parts[k], k, [&](Point q, double w, const ShapeValues& N) {
                    near.push_back({q, w, N});
                });
                expect_same(near, look_up(parts[k]));
            }
        }
}

TEST(ElementsRound, AreAllThatHaveTheNodeForACornerInTheirOrder) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 20000);
    m.columns = {column("C", 2.2, 1.7)};
    m.slab.openings = {{"O", box(4, 1, 5, 2.3), {}}};
    const Mesh mesh = build_mesh(m, 0.6);
    const ElementsRound round(mesh);
    for (int node = 0; node < int(mesh.nodes.size()); ++node) {
        std::vector<std::pair<int, int>> all, found;
        for (int e = 0; e < int(mesh.elements.size()); ++e)
            for (int k = 0; k < corners(mesh.elements[size_t(e)]); ++k)
                if (mesh.elements[size_t(e)][size_t(k)] == node) all.push_back({e, k});
        for (auto [element, corner] : round.of(node)) found.push_back({element, corner});
        EXPECT_EQ(found, all);
        EXPECT_FALSE(all.empty());
    }
}

}  // namespace
}  // namespace mossbed
