#include "core/ground/patch_groups.h"

#include <gtest/gtest.h>

#include <Eigen/Dense>

namespace mossbed {
namespace {

// A lattice of patches of a metre each way, half as wide from the middle on.
ContactPatches lattice(int columns, int rows) {
    ContactPatches p;
    double x = 0;
    for (int i = 0; i < columns; ++i) {
        const double width = i < columns / 2 ? 1 : 0.5;
        for (int j = 0; j < rows; ++j) {
            p.centre.push_back({x + width / 2, j + 0.5}), p.area.push_back(width);
            p.spread.push_back({width * width / 12, 0, 1.0 / 12}), p.size2.push_back((width * width + 1) / 2);
        }
        x += width;
    }
    return p;
}

// Rows of an influence that fades with distance, whole and shortened.
struct Rows {
    explicit Rows(const ContactPatches& p) : groups(p), whole(p.count(), p.count()), shortened(groups.lengths()) {
        std::vector<float> row;
        for (int i = 0; i < p.count(); ++i) {
            for (int j = 0; j < p.count(); ++j)
                whole(i, j) = float(1 / std::hypot(2.0, distance(p.centre[size_t(i)], p.centre[size_t(j)])));
            row.resize(size_t(groups.length(i)));
            const Eigen::VectorXf all = whole.row(i);
            groups.shorten(i, all.data(), 1, row.data());
            const float one = 1;
            shortened.set_row(groups.row(i), row.data(), &one, 1);
        }
    }
    Eigen::VectorXd times(const Eigen::VectorXd& forces) const {
        Eigen::VectorXd out = Eigen::VectorXd::Zero(forces.size());
        groups.add_product(shortened, forces, out);
        return out;
    }
    PatchGroups groups;
    Eigen::MatrixXf whole;
    ShortRows shortened;
};

TEST(PatchGroups, TakeEvenPressureAsItIs) {
    const ContactPatches p = lattice(40, 30);
    const Rows rows(p);
    const Eigen::VectorXd forces = 50 * Eigen::Map<const Eigen::VectorXd>(p.area.data(), p.count()),
                          exact = rows.whole.cast<double>() * forces, got = rows.times(forces);
    EXPECT_LT((got - exact).cwiseAbs().maxCoeff(), 1e-4 * exact.maxCoeff());
    for (int i = 0; i < p.count(); ++i) {
        EXPECT_LT(rows.groups.length(i), p.count() / 3);
        EXPECT_NEAR(rows.shortened(rows.groups.row(i), rows.groups.own(i)), rows.whole(i, i), 1e-4 * rows.whole(i, i));
    }
}

TEST(PatchGroups, TellNearPatchesApartAndFarOnesByTheirGroup) {
    const ContactPatches p = lattice(40, 30);
    const Rows rows(p);
    for (int j : {0, 345, 700, 1199}) {
        const Eigen::VectorXd of = rows.times(Eigen::VectorXd::Unit(p.count(), j));
        for (int i = 0; i < p.count(); ++i) {
            const double d = distance(p.centre[size_t(i)], p.centre[size_t(j)]), exact = double(rows.whole(i, j));
            // a group is some 3.6 m wide: what is nearer than 3 m stands in the same one or beside it
            EXPECT_NEAR(of[i], exact, (d < 3 ? 1e-4 : 0.5) * exact);
        }
    }
}

TEST(PatchGroups, AddWhatTheyMultiply) {
    const ContactPatches p = lattice(2, 2);  // of four all are near
    const Rows rows(p);
    const Eigen::VectorXd before = Eigen::VectorXd::Constant(4, 3), forces = Eigen::Vector4d(1e6, -2e6, 0, 3e6);
    Eigen::VectorXd out = before;
    rows.groups.add_product(rows.shortened, Eigen::VectorXd::Zero(4), out);
    EXPECT_EQ(out, before);
    rows.groups.add_product(rows.shortened, forces, out);
    const Eigen::VectorXd exact = before + rows.whole.cast<double>() * forces;
    EXPECT_LT((out - exact).cwiseAbs().maxCoeff(), 1e-4 * exact.cwiseAbs().maxCoeff());
}

}  // namespace
}  // namespace mossbed
