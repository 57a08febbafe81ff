#include "core/contact/supports.h"

#include <tbb/parallel_for.h>

#include <type_traits>

namespace mossbed {

void Supports::add_row(Rows& to, const std::vector<Support::Share>& shares) const {
    for (const Support::Share& s : shares)
        for (auto [of, lever] : {std::pair{Unknown::s, 1.0}, {Unknown::bx, s.offset.x}, {Unknown::by, s.offset.y}}) {
            if (lever == 0) continue;
            to.row.push_back(int(of_.row(s.node, of)));
            to.weight.push_back(s.weight * lever);
        }
    to.start.push_back(int(to.row.size()));
}

void Supports::add(const Support& s) {
    add_row(sees_, s.sees);
    add_row(presses_, s.presses.empty() ? s.sees : s.presses);
    stiffness.push_back(s.stiffness), lowest.push_back(s.lowest), highest.push_back(s.highest);
    area.push_back(s.area), kind.push_back(s.kind);
}

namespace {

// Columns are taken four at a time, so that the rows are looked up once for them.
template <class Body>
void for_columns(long columns, const Body& body) {
    tbb::parallel_for(0L, (columns + 3) / 4, [&](long b) {
        if (4 * b + 4 <= columns) return body(4 * b, std::integral_constant<int, 4>());
        for (long c = 4 * b; c < columns; ++c) body(c, std::integral_constant<int, 1>());
    });
}

}  // namespace

Eigen::MatrixXd Supports::settlements(const Matrix& x) const {
    Matrix s(count(), x.cols());
    for_columns(x.cols(), [&](long c, auto width) {
        const double* const from = x.col(c).data();
        for (int j = 0; j < count(); ++j) {
            double sum[width()] = {};
            for (int k = sees_.start[j]; k < sees_.start[j + 1]; ++k)
                for (int q = 0; q < width(); ++q) sum[q] += sees_.weight[k] * from[q * x.rows() + sees_.row[k]];
            for (int q = 0; q < width(); ++q) s(j, c + q) = sum[q];
        }
    });
    return s;
}

void Supports::add_spread(const Rows& rows, const Matrix& forces, double sign, Matrix& f) {
    for_columns(forces.cols(), [&](long c, auto width) {
        double* const to = f.col(c).data();
        for (long j = 0; j < forces.rows(); ++j) {
            double force[width()];
            bool any = false;
            for (int q = 0; q < width(); ++q) {
                force[q] = sign * forces(j, c + q);
                any |= force[q] != 0;
            }
            if (!any) continue;
            for (int k = rows.start[size_t(j)]; k < rows.start[size_t(j) + 1]; ++k) {
                const double weight = rows.weight[size_t(k)];
                double* const at = to + rows.row[size_t(k)];
                for (int q = 0; q < width(); ++q) at[q * f.rows()] += weight * force[q];
            }
        }
    });
}

void Supports::add_as_seen(const Matrix& forces, double sign, Matrix& f) const { add_spread(sees_, forces, sign, f); }

void Supports::add_pressing(const Matrix& forces, double sign, Matrix& f) const {
    add_spread(presses_, forces, sign, f);
}

Eigen::VectorXd Supports::work_of_pressing(const Vector& x) const {
    Vector work = Vector::Zero(count());
    for (int j = 0; j < count(); ++j)
        for (int k = presses_.start[j]; k < presses_.start[j + 1]; ++k)
            work[j] += presses_.weight[k] * x[presses_.row[k]];
    return work;
}

std::pair<std::vector<SparseRow>, std::vector<double>> Supports::springs(bool many) const {
    constexpr int few = 40;  // unknowns, that are coupled each with each
    std::pair<std::vector<SparseRow>, std::vector<double>> out;
    for (int j = 0; j < count(); ++j) {
        const int n = sees_.start[size_t(j) + 1] - sees_.start[size_t(j)];
        if ((n > few) != many) continue;
        out.first.push_back(
            {&sees_.row[size_t(sees_.start[size_t(j)])], &sees_.weight[size_t(sees_.start[size_t(j)])], n});
        out.second.push_back(stiffness[size_t(j)]);
    }
    return out;
}

SparseLower Supports::with_room(const SparseLower& plate) const {
    return with_forces(mossbed::with_room(plate, springs(false).first), springs(true).first);
}

void Supports::add_springs(SparseLower& to) const {
    const auto [few, of_few] = springs(false);
    const auto [many, of_many] = springs(true);
    add_outer_products(to, few, of_few);
    set_forces(to, many, of_many);
}

SparseLower Supports::with_springs(const SparseLower& plate) const {
    SparseLower out = with_room(plate);
    add_springs(out);
    return out;
}

RigidMotions::RigidMotions(const Unknowns& of, const std::vector<Point>& nodes, const Supports& supports) : of_(of) {
    Point middle;
    for (Point p : nodes) middle = middle + (1.0 / double(nodes.size())) * p;
    for (Point p : nodes) {
        from_middle_.push_back(p - middle);
        span_ = std::max(span_, distance(p, middle));
    }
    Eigen::MatrixXd x = Eigen::MatrixXd::Zero(of.count(), 3);
    for (int k = 0; k < 3; ++k) {
        Eigen::VectorXd motion = x.col(k);
        move(Sums::Unit(k), motion);
        x.col(k) = motion;
    }
    modes_ = supports.settlements(x);
    // What a unit force does on each motion: the loads it presses with, times the motion.
    pressed_.resize(supports.count(), 3);
    for (int k = 0; k < 3; ++k) pressed_.col(k) = supports.work_of_pressing(x.col(k));
}

RigidMotions::Sums RigidMotions::of_loads(const Eigen::VectorXd& f) const {
    Sums sum(0, 0, 0);
    for (size_t i = 0; i < from_middle_.size(); ++i) {
        const double F = f[of_.row(long(i), Unknown::s)];
        sum += Sums(F, F * from_middle_[i].x + f[of_.row(long(i), Unknown::bx)],
                    F * from_middle_[i].y + f[of_.row(long(i), Unknown::by)]);
    }
    return sum;
}

RigidMotions::Sums RigidMotions::of_forces(const Eigen::VectorXd& r) const { return pressed_.transpose() * r; }

double RigidMotions::size_of(const Eigen::VectorXd& f) const {
    double size = 0;
    for (long i = 0; i < of_.nodes(); ++i)
        size += std::abs(f[of_.row(i, Unknown::s)]) +
                (std::abs(f[of_.row(i, Unknown::bx)]) + std::abs(f[of_.row(i, Unknown::by)])) / std::max(span_, 1e-9);
    return size;
}

double RigidMotions::error(const Sums& off, double size) const {
    if (!(size > 0)) return 0;
    return std::max(std::abs(off[0]), std::max(std::abs(off[1]), std::abs(off[2])) / std::max(span_, 1e-9)) / size;
}

bool RigidMotions::is_rounding(const Sums& off, double size, double share) const {
    return off.cwiseAbs().maxCoeff() <= share * size * std::max(1.0, span_);
}

std::optional<RigidMotions::Sums> RigidMotions::carried_by(const Eigen::VectorXd& weight, const Sums& sums) const {
    Eigen::Matrix3d tangent = Eigen::Matrix3d::Zero();
    for (long j = 0; j < weight.size(); ++j)
        if (weight[j] != 0) tangent += weight[j] * modes_.row(j).transpose() * modes_.row(j);
    const Eigen::FullPivLU<Eigen::Matrix3d> lu(tangent);
    if (!lu.isInvertible()) return std::nullopt;
    return lu.solve(sums);
}

void RigidMotions::move(const Sums& a, Eigen::VectorXd& x) const {
    for (size_t i = 0; i < from_middle_.size(); ++i) {
        x[of_.row(long(i), Unknown::s)] += a[0] + a[1] * from_middle_[i].x + a[2] * from_middle_[i].y;
        x[of_.row(long(i), Unknown::bx)] += a[1];
        x[of_.row(long(i), Unknown::by)] += a[2];
    }
}

}  // namespace mossbed
