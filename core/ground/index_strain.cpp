#include "core/ground/index_strain.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <numbers>

#include "core/base/wide.h"

namespace mossbed {
namespace {

MOSSBED_WIDE void mean_between(const float* above, const float* below, float per_metre, int n, float* __restrict to) {
    for (int j = 0; j < n; ++j) to[j] = (above[j] - below[j]) * per_metre;
}

}  // namespace

using std::numbers::pi;

IndexStrain::IndexStrain(std::shared_ptr<const LayeredGround> ground, std::shared_ptr<const ContactPatches> patches,
                         double pressure, const Progress& progress, const IndexStrain* before, double most)
    : ground_(std::move(ground)), patches_(std::move(patches)), rows_(*patches_), start_{0}, first_{0} {
    const int n = patches_->count();
    const double deep = DeepStress::from(*patches_);
    struct Below {
        std::vector<Sublayer> layers;
        std::vector<IndexLaw> laws;
    };
    std::vector<Below> below(size_t(n), Below{});
    tbb::parallel_for(0, n, [&](int i) {
        const Point p = patches_->centre[size_t(i)];
        const double removed = ground_->ground().excavation_relief ? ground_->removed_effective(p) : 0;
        for (const Sublayer& l : ground_->sublayers(p, pressure))
            if (l.by_index) {
                below[size_t(i)].layers.push_back(l);
                below[size_t(i)].laws.push_back(l.law(removed, ground_->ground().strata[size_t(l.stratum)]));
            }
    });
    for (const Below& b : below) {
        layers_.insert(layers_.end(), b.layers.begin(), b.layers.end());
        laws_.insert(laws_.end(), b.laws.begin(), b.laws.end());
        const auto is_shallow = [deep](const Sublayer& l) { return l.z0 < deep; };
        first_.push_back(first_.back() + int(std::count_if(b.layers.begin(), b.layers.end(), is_shallow)));
        start_.push_back(int(layers_.size()));
    }
    const auto alike = [](const Sublayer& a, const Sublayer& b) { return a.z0 == b.z0 && a.z1 == b.z1; };
    if (before && before->patches_ == patches_ && before->start_ == start_ &&
        std::equal(layers_.begin(), layers_.end(), before->layers_.begin(), alike))
        stress_ = before->stress_, groups_ = before->groups_;
    else
        keep_stresses(most, progress);
}

void IndexStrain::keep_stresses(double most, const Progress& progress) {
    const int n = patches_->count();
    groups_ = std::make_shared<const PatchGroups>(*patches_);
    auto stress = std::make_shared<Stresses>();
    most -= 3.0 * n * n;  // the flexibility's
    std::vector<std::vector<DeepStress::Depths>> below(size_t(n), std::vector<DeepStress::Depths>{});
    for (int i = 0; i < n; ++i)
        for (int k = start_[size_t(i)] + shallow(i); k < start_[size_t(i) + 1]; ++k)
            below[size_t(i)].push_back({layers_[size_t(k)].z0, layers_[size_t(k)].z1});
    while (stress->kept < n && double(first_[size_t(stress->kept) + 1]) * n <= most) ++stress->kept;
    most -= double(first_[size_t(stress->kept)]) * n;
    stress->deep.emplace(*patches_, below, most, progress);
    stress->all.resize(first_[size_t(stress->kept)], n);
    stress->by_groups.resize(size_t(n));
    tbb::parallel_for(0, n, [&](int i) {
        if (progress.stopped()) return;
        const bool kept = i < stress->kept;
        RowMatrix anew(kept ? 0 : shallow(i), n);
        float* const rows = kept ? stress->all.data() + long(first_[size_t(i)]) * n : anew.data();
        add_rows(i, rows);
        const long length = groups_->length(i);
        stress->by_groups[size_t(i)].resize(size_t(sublayers(i) * length));
        float* to = stress->by_groups[size_t(i)].data();
        groups_->shorten(i, rows, shallow(i), to);
        to += shallow(i) * length;
        for (const DeepStress::Depths& d : below[size_t(i)]) groups_->stress(i, (d.z0 + d.z1) / 2, to), to += length;
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
    for (int k = start_[size_t(i)]; k < start_[size_t(i)] + shallow(i); ++k, to += n) {
        const Sublayer& l = layers_[size_t(k)];
        if (k > start_[size_t(i)] && layers_[size_t(k) - 1].z1 == l.z0)
            std::swap(above, below);
        else
            at(l.z0, above);
        at(l.z1, below);
        mean_between(above.data(), below.data(), float(1 / (l.z1 - l.z0)), n, to);
    }
}

Eigen::MatrixXd IndexStrain::settlements(const Eigen::MatrixXd& by_flexibility, const Eigen::MatrixXd& forces,
                                         const Progress& progress, Eigen::MatrixXd* beyond) const {
    const int n = patches_->count();
    Eigen::MatrixXd s = by_flexibility;
    if (beyond) beyond->resize(long(layers_.size()), s.cols());
    auto strain = [&](int i, const Eigen::MatrixXd& added) {  // kPa, a row a sublayer of the patch
        const long from = start_[size_t(i)], count = sublayers(i);
        std::vector<std::pair<double, double>> of;  // thickness, and the strain per kPa that the flexibility has
        for (long k = from; k < from + count; ++k)
            of.push_back({layers_[size_t(k)].z1 - layers_[size_t(k)].z0, 1 / layers_[size_t(k)].E});
        for (long m = 0; m < forces.cols(); ++m) {
            for (long k = 0; k < count; ++k) {
                const IndexLaw& law = laws_[size_t(from + k)];
                const auto [h, per] = of[size_t(k)];
                const double more = added(k, m);
                s(i, m) += h * (law.strain(more) - more * per);
                if (beyond) (*beyond)(from + k, m) = h * (law.rate(more) - per);
            }
        }
    };
    const DeepStress::Stresses stations = stress_->deep->at_stations(forces, progress);
    // Of the patches from `begin` to `end`, with what `rows` of their shallow sublayers gave.
    auto compress = [&](int begin, int end, const RowMatrix& rows) {
        Eigen::MatrixXd above;
        multiply(rows, forces, above);
        tbb::parallel_for(begin, end, [&](int i) {
            if (progress.stopped()) return;
            Eigen::MatrixXd added(sublayers(i), forces.cols());
            added.topRows(shallow(i)) = above.middleRows(first_[size_t(i)] - first_[size_t(begin)], shallow(i));
            added.bottomRows(sublayers(i) - shallow(i)) = stress_->deep->below(i, stations);
            strain(i, added);
        });
        progress.end_if_stopped();
    };
    compress(0, stress_->kept, stress_->all);
    constexpr int together = 64;
    for (int begin = stress_->kept; begin < n; begin += together) {
        const int end = std::min(n, begin + together);
        RowMatrix rows(first_[size_t(end)] - first_[size_t(begin)], n);
        tbb::parallel_for(begin, end, [&](int i) {
            if (!progress.stopped()) add_rows(i, rows.row(first_[size_t(i)] - first_[size_t(begin)]).data());
        });
        compress(begin, end, rows);
    }
    return s;
}

IndexStrain::Slopes IndexStrain::slopes(const Eigen::MatrixXd& beyond, Slopes& made, const Progress& progress) const {
    const int n = patches_->count();
    Slopes out;
    const auto is_free = [](const std::shared_ptr<IndexSlope>& slope) { return slope.use_count() == 1; };
    while (long(out.size()) < beyond.cols()) {
        auto free = std::find_if(made.begin(), made.end(), is_free);
        if (free == made.end())
            free = made.insert(free, std::make_shared<IndexSlope>(IndexSlope{ShortRows(groups_->lengths()), groups_}));
        out.push_back(*free);
    }
    tbb::parallel_for(0, n, [&](int i) {
        if (progress.stopped()) return;
        for (long m = 0; m < beyond.cols(); ++m) {
            const Eigen::VectorXf weight = beyond.col(m).segment(start_[size_t(i)], sublayers(i)).cast<float>();
            out[size_t(m)]->rows.set_row(groups_->row(i), stress_->by_groups[size_t(i)].data(), weight.data(),
                                         weight.size());
        }
    });
    progress.end_if_stopped();
    return out;
}

}  // namespace mossbed
