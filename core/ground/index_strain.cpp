#include "core/ground/index_strain.h"

#include <tbb/parallel_for.h>

#include <numbers>

namespace mossbed {

using std::numbers::pi;

IndexStrain::IndexStrain(std::shared_ptr<const LayeredGround> ground, std::shared_ptr<const ContactPatches> patches,
                         double pressure, const Progress& progress, const IndexStrain* before, double most)
    : ground_(std::move(ground)), patches_(std::move(patches)), rows_(*patches_), start_{0} {
    const int n = patches_->count();
    std::vector<std::vector<Sublayer>> below(size_t(n), std::vector<Sublayer>{});
    removed_.assign(size_t(n), 0);
    tbb::parallel_for(0, n, [&](int i) {
        const Point p = patches_->centre[size_t(i)];
        for (const Sublayer& l : ground_->sublayers(p, pressure))
            if (l.by_index) below[size_t(i)].push_back(l);
        if (ground_->ground().excavation_relief) removed_[size_t(i)] = ground_->removed_effective(p);
    });
    for (const auto& b : below) {
        layers_.insert(layers_.end(), b.begin(), b.end());
        start_.push_back(int(layers_.size()));
    }
    const auto alike = [](const Sublayer& a, const Sublayer& b) { return a.z0 == b.z0 && a.z1 == b.z1; };
    if (before && before->patches_ == patches_ && before->start_ == start_ &&
        std::equal(layers_.begin(), layers_.end(), before->layers_.begin(), alike)) {
        stress_ = before->stress_;
        return;
    }
    if (double(layers_.size()) * n > most) return;
    auto stress = std::make_shared<RowMatrix>(long(layers_.size()), n);
    tbb::parallel_for(0, n, [&](int i) {
        if (!progress.stopped()) add_rows(i, stress->data() + long(start_[size_t(i)]) * n);
    });
    progress.end_if_stopped();
    stress_ = std::move(stress);
}

// The mean of Δσz over a sublayer is the compression by unit confined modulus over its thickness.
void IndexStrain::add_rows(int i, float* to) const {
    const int n = patches_->count();
    auto at = [&](double z, std::vector<float>& row) {
        row.resize(size_t(n));
        rows_.row(i, {{z}, {1 / pi}, {1 / (2 * pi)}, {0}, {0}}, row.data(), nullptr);
    };
    std::vector<float> above, below;
    for (int k = start_[size_t(i)]; k < start_[size_t(i) + 1]; ++k, to += n) {
        const Sublayer& l = layers_[size_t(k)];
        if (k > start_[size_t(i)] && layers_[size_t(k) - 1].z1 == l.z0)
            std::swap(above, below);
        else
            at(l.z0, above);
        at(l.z1, below);
        const float per_metre = float(1 / (l.z1 - l.z0));
        for (int j = 0; j < n; ++j) to[j] = (above[size_t(j)] - below[size_t(j)]) * per_metre;
    }
}

Eigen::MatrixXd IndexStrain::settlements(const Eigen::MatrixXd& by_flexibility, const Eigen::MatrixXd& forces,
                                         Eigen::MatrixXd* rate, const Progress& progress,
                                         Eigen::MatrixXd* beyond) const {
    const int n = patches_->count();
    Eigen::MatrixXd s = by_flexibility;
    if (rate) rate->setOnes(s.rows(), s.cols());
    if (beyond) beyond->resize(long(layers_.size()), s.cols());
    auto strain = [&](int i, const Eigen::MatrixXd& added, long from) {  // kPa, a row a sublayer from `from` on
        for (int k = start_[size_t(i)]; k < start_[size_t(i) + 1]; ++k) {
            const Sublayer& l = layers_[size_t(k)];
            const Stratum& stratum = ground_->ground().strata[size_t(l.stratum)];
            const double h = l.z1 - l.z0;
            for (long m = 0; m < forces.cols(); ++m) {
                const double more = added(k - from, m);
                s(i, m) += h * (l.strain(removed_[size_t(i)], more, stratum) - more / l.E);
                if (!rate && !beyond) continue;
                const double faster = h * (l.strain_rate(removed_[size_t(i)], more, stratum) - 1 / l.E);
                if (rate && by_flexibility(i, m) > 0) (*rate)(i, m) += more * faster / by_flexibility(i, m);
                if (beyond) (*beyond)(k, m) = faster;
            }
        }
    };
    if (stress_) {
        Eigen::MatrixXd added;
        multiply(*stress_, forces, added);
        tbb::parallel_for(0, n, [&](int i) { strain(i, added, 0); });
    } else {
        tbb::parallel_for(0, n, [&](int i) {
            if (progress.stopped()) return;
            RowMatrix rows(start_[size_t(i) + 1] - start_[size_t(i)], n);
            add_rows(i, rows.data());
            strain(i, rows.cast<double>() * forces, start_[size_t(i)]);
        });
    }
    progress.end_if_stopped();
    return s;
}

std::vector<ShortMatrix> IndexStrain::slopes(const Eigen::MatrixXd& beyond, const Progress& progress) const {
    const int n = patches_->count();
    std::vector<ShortMatrix> out(size_t(beyond.cols()), ShortMatrix(n, n));
    tbb::parallel_for(0, n, [&](int i) {
        if (progress.stopped()) return;
        const long first = start_[size_t(i)], count = start_[size_t(i) + 1] - first;
        RowMatrix anew(stress_ ? 0 : count, n);
        if (!stress_) add_rows(i, anew.data());
        const float* const stress = stress_ ? stress_->data() + first * n : anew.data();
        for (long m = 0; m < beyond.cols(); ++m) {
            const Eigen::VectorXf weight = beyond.col(m).segment(first, count).cast<float>();
            out[size_t(m)].set_row(i, stress, weight.data(), count);
        }
    });
    progress.end_if_stopped();
    return out;
}

}  // namespace mossbed
