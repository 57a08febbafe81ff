#include "core/ground/reload_columns.h"

#include <tbb/parallel_for.h>

namespace mossbed {

Eigen::MatrixXd ReloadColumns::times(const Eigen::MatrixXd& r, const Eigen::MatrixXd& spare) {
    if (spare.size() == 0 || of_.less.size() == 0) return of_.times(r, spare);
    const long n = r.rows();
    has_.resize(size_t(n), 0);
    std::vector<long> columns;
    std::vector<char> met(size_t(n), 0);
    for (long c = 0; c < spare.cols(); ++c) {
        char any = 0;
        for (long i = 0; i < n; ++i) {
            const char is = spare(i, c) != 0;
            met[size_t(i)] |= is, any |= is;
        }
        if (any) columns.push_back(c);
    }
    std::vector<int> missing;
    for (int i = 0; i < int(n); ++i)
        if (met[size_t(i)] && !has_[size_t(i)]) missing.push_back(i);
    if (2 * long(patch_.size() + missing.size()) > n) return of_.times(r, spare);
    Eigen::MatrixXd out;
    multiply(of_.first, r, out);
    if (columns.empty()) return out;
    if (!missing.empty()) add(missing);
    Eigen::MatrixXd some = Eigen::MatrixXd::Zero(less_.cols(), long(columns.size())), more;
    for (size_t c = 0; c < columns.size(); ++c)
        for (size_t k = 0; k < patch_.size(); ++k) some(long(k), long(c)) = spare(patch_[k], columns[c]);
    multiply(less_, some, more);
    for (size_t c = 0; c < columns.size(); ++c) out.col(columns[c]) += more.col(long(c));
    return out;
}

void ReloadColumns::add(const std::vector<int>& patches) {
    const long had = long(patch_.size()), needs = had + long(patches.size());
    for (int i : patches) patch_.push_back(i), has_[size_t(i)] = 1;
    RowMatrix wider;
    if (needs > less_.cols()) wider.resize(of_.less.rows(), (needs / 64 + 2) * 64);
    tbb::parallel_for(0L, of_.less.rows(), [&](long i) {
        if (wider.size() > 0) {
            wider.row(i).setZero();
            wider.row(i).head(had) = less_.row(i).head(had);
        }
        RowMatrix& to = wider.size() > 0 ? wider : less_;
        for (long k = had; k < needs; ++k) to(i, k) = of_.less(i, patch_[size_t(k)]);
    });
    if (wider.size() > 0) less_ = std::move(wider);
}

}  // namespace mossbed
