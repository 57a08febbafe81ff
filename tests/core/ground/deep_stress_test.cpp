#include "core/ground/deep_stress.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

#include "core/ground/patch_groups.h"

namespace mossbed {
namespace {

using std::numbers::pi;

// Rectangles side by side, as wide as `widths` says and 0.8 m long.
ContactPatches strips(const std::vector<double>& widths, int rows, Point corner = {0, 0}) {
    ContactPatches p;
    double x = corner.x;
    for (double w : widths) {
        for (int j = 0; j < rows; ++j) {
            const double y = corner.y + 0.8 * j;
            p.centre.push_back({x + w / 2, y + 0.4}), p.area.push_back(0.8 * w);
            p.spread.push_back({w * w / 12, 0, 0.64 / 12}), p.size2.push_back((w * w + 0.64) / 2);
        }
        x += w;
    }
    return p;
}
ContactPatches base() {
    std::vector<double> widths(16, 1.0);
    widths.insert(widths.end(), 12, 0.5);
    return strips(widths, 20);
}
std::vector<std::vector<DeepStress::Depths>> each(const ContactPatches& p,
                                                  const std::vector<DeepStress::Depths>& depths) {
    return {size_t(p.count()), depths};
}
Eigen::MatrixXd even(const ContactPatches& p, double pressure) {
    return pressure * Eigen::Map<const Eigen::VectorXd>(p.area.data(), p.count());
}

// Under one corner of a rectangle a by b that bears one kPa (Steinbrenner 1934).
double under_corner(double a, double b, double z) {
    const double sign = (a < 0) != (b < 0) ? -1 : 1;
    a = std::abs(a), b = std::abs(b);
    const double r1 = a * a + z * z, r2 = b * b + z * z, r3 = std::sqrt(a * a + b * b + z * z);
    return sign * (std::atan(a * b / (z * r3)) + a * b * z / r3 * (1 / r1 + 1 / r2)) / (2 * pi);
}
double under_rectangle(Point low, Point high, Point p, double z) {
    const double x0 = low.x - p.x, x1 = high.x - p.x, y0 = low.y - p.y, y1 = high.y - p.y;
    return under_corner(x1, y1, z) - under_corner(x0, y1, z) - under_corner(x1, y0, z) + under_corner(x0, y0, z);
}
// The mean of f over a patch 0.8 m long and over a sublayer, by points of Gauss.
template <class F>
double mean_over(const ContactPatches& p, int i, DeepStress::Depths d, const F& f) {
    const double g = std::sqrt(0.6), at[] = {-g, 0, g}, weight[] = {5.0 / 18, 8.0 / 18, 5.0 / 18};
    const double width = p.area[size_t(i)] / 0.8;
    double sum = 0;
    for (int x = 0; x < 3; ++x)
        for (int y = 0; y < 3; ++y)
            for (int z = 0; z < 3; ++z)
                sum += weight[x] * weight[y] * weight[z] *
                       f(p.centre[size_t(i)] + Point{at[x] * width / 2, at[y] * 0.4},
                         (d.z0 + d.z1) / 2 + at[z] * (d.z1 - d.z0) / 2);
    return sum;
}

TEST(DeepStress, IsThatUnderARectangle) {
    const ContactPatches p = base();  // 22 m by 16 m
    const double top = DeepStress::from(p);
    const std::vector<DeepStress::Depths> depths{
        {top, top + 0.5}, {top + 0.5, top + 1}, {6, 6.4}, {11, 12}, {24.5, 25}};
    const DeepStress deep(p, each(p, depths), 1e9);
    const auto stations = deep.at_stations(even(p, 50));
    double off = 0;
    for (int i = 0; i < p.count(); i += 7) {
        const Eigen::MatrixXd got = deep.below(i, stations);
        ASSERT_EQ(got.rows(), long(depths.size()));
        for (size_t k = 0; k < depths.size(); ++k)
            off = std::max(off, std::abs(got(long(k), 0) - 50 * mean_over(p, i, depths[k], [](Point at, double z) {
                                                               return under_rectangle({0, 0}, {22, 16}, at, z);
                                                           })));
    }
    EXPECT_LT(off, 2e-3 * 50);
    EXPECT_GT(off, 0);  // interpolated
}

TEST(DeepStress, IsTheMeanOverSublayersThatAreThickForTheirDepth) {
    ContactPatches p;
    for (int i = 0; i < 20; ++i)
        for (int j = 0; j < 20; ++j) {
            p.centre.push_back({0.1 * i + 0.05, 0.1 * j + 0.05}), p.area.push_back(0.01);
            p.spread.push_back({0.01 / 12, 0, 0.01 / 12}), p.size2.push_back(0.01);
        }
    const double top = DeepStress::from(p);
    EXPECT_NEAR(top, 0.4, 1e-9);
    const DeepStress deep(p, each(p, {{top, top + 0.5}}), 1e9);
    const auto stations = deep.at_stations(even(p, 1));
    for (int i : {0, 7, 150, 210}) {
        double mean = 0;
        for (int k = 0; k < 50; ++k)
            mean += under_rectangle({0, 0}, {2, 2}, p.centre[size_t(i)], top + 0.01 * k + 0.005) / 50;
        EXPECT_NEAR(deep.below(i, stations)(0, 0), mean, 2e-3) << i;
    }
}

TEST(DeepStress, OfWavesOfEveryLengthErrsByLittleOfTheirHeight) {
    // Under pressure cos k·x everywhere, Δσz = (1 + kz) exp(−kz) cos k·x; patches end, so far inside.
    const ContactPatches p = strips(std::vector<double>(60, 0.5), 50, {-15, -20});
    const double top = DeepStress::from(p);
    const std::vector<DeepStress::Depths> depths{{top + 0.1, top + 0.5}, {4.2, 4.7}};
    const DeepStress deep(p, each(p, depths), 1e9);
    for (double length : {2.0, 3.0, 4.0, 5.0, 6.0}) {
        const double k = 2 * pi / length;
        Eigen::MatrixXd forces = even(p, 1);
        for (int j = 0; j < p.count(); ++j)  // the mean over the patch
            forces(j, 0) *= std::cos(k * p.centre[size_t(j)].x) * std::sin(0.25 * k) / (0.25 * k);
        const auto stations = deep.at_stations(forces);
        int seen = 0;
        for (int i = 0; i < p.count(); ++i) {
            if (distance(p.centre[size_t(i)], {0, 0}) > 1.5) continue;
            const Eigen::MatrixXd got = deep.below(i, stations);
            for (size_t d = 0; d < depths.size(); ++d)
                EXPECT_NEAR(
                    got(long(d), 0),
                    mean_over(p, i, depths[d],
                              [&](Point at, double z) { return (1 + k * z) * std::exp(-k * z) * std::cos(k * at.x); }),
                    6e-3)
                    << length << " " << depths[d].z0;
            ++seen;
        }
        EXPECT_GT(seen, 5);
    }
}

TEST(DeepStress, IsTheSameWhetherItsNumbersAreKeptOrNot) {
    const ContactPatches p = base();
    std::mt19937 bits(3);
    std::uniform_real_distribution<double> g;
    std::vector<std::vector<DeepStress::Depths>> below(size_t(p.count()));
    for (auto& sublayers : below) {  // each its own, some none
        double z = DeepStress::from(p) + g(bits);
        for (int k = int(12 * g(bits)) - 2; k > 0; --k)
            sublayers.push_back({z, z + 0.4}), z += 0.4 + 2 * (g(bits) > 0.9);
    }
    const DeepStress kept(p, below, 1e9), anew(p, below, 10);
    EXPECT_EQ(kept.numbers_kept(), kept.stations() * p.count());
    EXPECT_EQ(anew.numbers_kept(), 0);
    Eigen::MatrixXd forces(p.count(), 3);
    for (double& f : forces.reshaped()) f = 100 * g(bits);
    const auto b = anew.at_stations(forces), a = kept.at_stations(forces);
    EXPECT_EQ(a, b);
    long rows = 0;
    for (int i = 0; i < p.count(); ++i) {
        const Eigen::MatrixXd of = kept.below(i, a);
        ASSERT_EQ(of.rows(), long(below[size_t(i)].size()));
        ASSERT_EQ(of.cols(), 3);
        rows += of.rows();
        for (long k = 0; k < of.rows(); ++k) {  // and is what all patches add, each by itself
            double sum = 0;
            for (int j = 0; j < p.count(); ++j) {
                const auto d = below[size_t(i)][size_t(k)];
                const double z = (d.z0 + d.z1) / 2, off = distance(p.centre[size_t(j)], p.centre[size_t(i)]),
                             s = off * off + z * z;
                sum += forces(j, 1) * 3 * z * z * z / (2 * pi * std::pow(s, 2.5));
            }
            EXPECT_NEAR(of(k, 1), sum, 0.015 * sum) << i << " " << k;
        }
    }
    EXPECT_GT(rows, 1000);
    const DeepStress none(p, each(p, {}), 1e9);
    EXPECT_EQ(none.stations(), 0);
    EXPECT_EQ(none.below(3, none.at_stations(forces)).rows(), 0);
}

TEST(DeepStress, IsTheMeanOverPatchesThatLieAskew) {
    // As if long ones, 2 m by 0.2 m, turned by 35 degrees, under a twisted load: against each pair by itself.
    ContactPatches p;
    const double along = 4.0 / 12, across = 0.04 / 12, c = std::cos(0.61), s = std::sin(0.61);
    for (int i = -15; i <= 15; ++i)
        for (int j = -15; j <= 15; ++j) {
            p.centre.push_back({0.8 * i, 0.8 * j}), p.area.push_back(0.64);
            p.spread.push_back(
                {c * c * along + s * s * across, c * s * (along - across), s * s * along + c * c * across});
            p.size2.push_back(6 * (along + across));
        }
    DistantLoads loads;
    for (int j = 0; j < p.count(); ++j) loads.add(p.centre[size_t(j)], p.spread[size_t(j)]);
    Eigen::MatrixXd forces(p.count(), 1);
    for (int j = 0; j < p.count(); ++j) forces(j, 0) = 0.64 * p.centre[size_t(j)].x * p.centre[size_t(j)].y;
    const double z = 1.3 * DeepStress::from(p);
    const DeepStress deep(p, each(p, {{z - 0.005, z + 0.005}}), 1e9);
    const auto stations = deep.at_stations(forces);
    Eigen::VectorXf each_by_itself(p.count());
    for (int i = 0; i < p.count(); ++i) {
        if (distance(p.centre[size_t(i)], {0, 0}) > 4) continue;
        loads.stress(p.centre[size_t(i)], p.spread[size_t(i)], z, each_by_itself.data());
        // The twist alone makes Sxy kPa of it, of patches that press and of those that settle.
        EXPECT_NEAR(deep.below(i, stations)(0, 0), each_by_itself.cast<double>().dot(forces.col(0)), 0.02) << i;
    }
}

TEST(DeepStress, HasFewerStationsTheDeeper) {
    const ContactPatches p = base();
    const auto number = [&](double z) { return DeepStress(p, each(p, {{z, z + 0.1}}), 0).stations(); };
    EXPECT_LT(number(8), number(4));
    EXPECT_LT(number(16), number(8));
    EXPECT_LT(number(16), p.count());
}

TEST(DistantLoads, TellAPatchFromAPointByItsSecondMoments) {
    // Two squares of 1 m, at four times that depth: against points of Gauss on both.
    const double g = std::sqrt(0.6), at[] = {-g / 2, 0, g / 2}, weight[] = {5.0 / 18, 8.0 / 18, 5.0 / 18};
    const std::array<double, 3> square{1.0 / 12, 0, 1.0 / 12};
    for (Point d : {Point{0, 0}, Point{1, 0}, Point{1, 1}, Point{3, 2}, Point{9, 1}}) {
        DistantLoads loads;
        loads.add(d, square);
        float got = 0;
        loads.stress({0, 0}, square, 4, &got);
        double sum = 0;
        for (int a = 0; a < 3; ++a)
            for (int b = 0; b < 3; ++b)
                for (int x = 0; x < 3; ++x)
                    for (int y = 0; y < 3; ++y) {
                        const Point of = d + Point{at[a] - at[x], at[b] - at[y]};
                        sum += weight[a] * weight[b] * weight[x] * weight[y] * 192 /
                               (2 * pi * std::pow(dot(of, of) + 16, 2.5));
                    }
        const double point = 192 / (2 * pi * std::pow(dot(d, d) + 16, 2.5));
        EXPECT_NEAR(got, sum, 4e-3 * 192 / (2 * pi * 1024));  // of the largest there is
        EXPECT_LT(std::abs(got - sum), 0.1 * std::abs(point - sum) + 1e-5);
    }
}

TEST(PatchGroups, KnowStressFarBelowByGroups) {
    const ContactPatches p = base();
    const PatchGroups groups(p);
    const double z = 1.2 * DeepStress::from(p);
    DistantLoads all;
    for (int j = 0; j < p.count(); ++j) all.add(p.centre[size_t(j)], p.spread[size_t(j)]);
    std::vector<float> whole(size_t(p.count())), exact, got;
    for (int i = 0; i < p.count(); i += 13) {
        exact.resize(size_t(groups.length(i))), got.resize(exact.size());
        all.stress(p.centre[size_t(i)], p.spread[size_t(i)], z, whole.data());
        groups.shorten(i, whole.data(), 1, exact.data());
        groups.stress(i, z, got.data());
        const float most = *std::max_element(exact.begin(), exact.end());
        for (size_t k = 0; k < exact.size(); ++k) EXPECT_NEAR(got[k], exact[k], 5e-3f * most) << i << " " << k;
    }
}

}  // namespace
}  // namespace mossbed
