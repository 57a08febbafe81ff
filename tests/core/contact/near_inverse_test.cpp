// Rows of inverses of the flexibility among patches near by, against Eigen's inverse of the whole of them.
#include "core/contact/near_inverse.h"

#include <gtest/gtest.h>

#include <numeric>
#include <random>

namespace mossbed {
namespace {

// Patches of sides between 0.5 and 1.2 m, askew, and a flexibility that is not symmetric, as where strata differ.
struct Ground {
    ContactPatches patches;
    Flexibility flexibility;
    explicit Ground(int across = 9, int up = 7) {
        std::mt19937 chance(3);
        std::uniform_real_distribution<double> shift(-0.15, 0.15), side(0.5, 1.2);
        for (int i = 0; i < across; ++i)
            for (int j = 0; j < up; ++j) {
                patches.centre.push_back({0.8 * i + shift(chance), 0.8 * j + shift(chance)});
                patches.size2.push_back(std::pow(side(chance), 2));
            }
        const int n = patches.count();
        flexibility.first.make(n, n);
        for (int i = 0; i < n; ++i)
            for (int j = 0; j < n; ++j)
                flexibility.first(i, j) = float((1 + 0.01 * i) * 1e-5 /
                                                (distance(patches.centre[size_t(i)], patches.centre[size_t(j)]) + 0.3));
    }
    bool are_near(int i, int j) const {
        const double reach = 2.3 * std::sqrt(std::max(patches.size2[size_t(i)], patches.size2[size_t(j)]));
        return i == j || distance(patches.centre[size_t(i)], patches.centre[size_t(j)]) < reach;
    }
    // By the inverse of all that is near by and counts.
    std::vector<double> row(int i, const std::vector<char>& counts) const {
        std::vector<int> near;
        for (int j = 0; j < patches.count(); ++j)
            if (counts[size_t(j)] && are_near(i, j)) near.push_back(j);
        const long m = long(near.size());
        Eigen::MatrixXd among(m, m);
        for (long k = 0; k < m; ++k)
            for (long l = 0; l < m; ++l)
                among(k, l) = 0.5 * (double(flexibility.first(near[size_t(k)], near[size_t(l)])) +
                                     double(flexibility.first(near[size_t(l)], near[size_t(k)])));
        const Eigen::MatrixXd inverse = among.inverse();
        std::vector<double> out(counts.size(), 0.0);
        for (long k = 0; k < m; ++k)
            for (long l = 0; l < m; ++l)
                if (near[size_t(k)] == i) out[size_t(near[size_t(l)])] = inverse(k, l);
        return out;
    }
};

std::vector<char> by_chance(int n, double share, unsigned seed) {
    std::mt19937 chance(seed);
    std::vector<char> out(static_cast<size_t>(n), 0);
    for (char& c : out) c = std::uniform_real_distribution<double>(0, 1)(chance) < share;
    return out;
}

TEST(NearRows, AreRowsOfTheInverseAmongThoseThatCount) {
    const Ground ground;
    NearRows rows(std::make_shared<const Neighbours>(ground.patches, ground.flexibility));
    const Neighbours& near = rows.neighbours();
    for (double share : {1.0, 0.8, 0.3, 0.05}) {
        const std::vector<char> counts = by_chance(ground.patches.count(), share, 5);
        std::vector<int> all;
        for (int i = 0; i < near.count(); ++i)
            if (counts[size_t(i)]) all.push_back(i);
        ASSERT_FALSE(all.empty());
        const auto made = rows.rows(all, counts);
        for (size_t k = 0; k < all.size(); ++k) {
            const int i = all[k];
            const std::vector<double> expected = ground.row(i, counts);
            EXPECT_EQ(near.of(i)[near.size(i) - 1], i);
            double sum = 0;
            for (int l = 0; l < near.size(i); ++l) {
                EXPECT_NEAR(made[k][l], expected[size_t(near.of(i)[l])], 2e-3 * expected[size_t(i)])
                    << share << ", patch " << i << " and " << near.of(i)[l];
                sum += std::abs(made[k][l]);
            }
            EXPECT_GT(sum, 0);
        }
        EXPECT_EQ(rows.rows(all, counts), made) << "made once";
    }
}

TEST(NearRows, OfWhatIsNotDefiniteStandAlone) {
    Ground ground(3, 3);
    for (int j = 0; j < 9; ++j)
        if (j != 4) ground.flexibility.first(4, j) = ground.flexibility.first(j, 4) = 1e-3f;  // more than itself
    NearRows rows(std::make_shared<const Neighbours>(ground.patches, ground.flexibility));
    const std::vector<char> counts(9, 1);
    const auto made = rows.rows({4}, counts);
    const int n = rows.neighbours().size(4);
    for (int k = 0; k + 1 < n; ++k) EXPECT_EQ(made[0][k], 0);
    EXPECT_FLOAT_EQ(made[0][n - 1], 1 / ground.flexibility.first(4, 4));
}

TEST(NearInverse, GoesByWhatCountsNowWhateverCountedBefore) {
    const Ground ground;
    const auto rows =
        std::make_shared<NearRows>(std::make_shared<const Neighbours>(ground.patches, ground.flexibility));
    const int n = ground.patches.count();
    Eigen::VectorXd w(n);
    for (int i = 0; i < n; ++i) w[i] = std::sin(0.7 * i);
    NearInverse often(rows);
    for (unsigned seed : {1u, 2u, 3u, 4u}) often.restrict_to(by_chance(n, 0.7, seed));
    const std::vector<char> counts = by_chance(n, 0.6, 9);
    often.restrict_to(counts);
    NearInverse once(
        std::make_shared<NearRows>(std::make_shared<const Neighbours>(ground.patches, ground.flexibility)));
    once.restrict_to(counts);
    const Eigen::VectorXd by_often = often.times(w), by_once = once.times(w);
    EXPECT_EQ(by_often, by_once);
    for (int i = 0; i < n; ++i) {
        double expected = 0;
        if (counts[size_t(i)]) {
            const std::vector<double> row = ground.row(i, counts);
            for (int j = 0; j < n; ++j) expected += row[size_t(j)] * w[j];
        }
        EXPECT_NEAR(by_once[i], expected, 0.01 * by_once.cwiseAbs().maxCoeff()) << i;
    }
}

}  // namespace
}  // namespace mossbed
