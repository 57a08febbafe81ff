#include "core/plate/sparse_lower.h"

#include <tbb/parallel_for.h>

#include <algorithm>

namespace mossbed {

Eigen::MatrixXd SparseLower::times(const Eigen::MatrixXd& x) const {
    Eigen::MatrixXd y = Eigen::MatrixXd::Zero(x.rows(), x.cols());
    tbb::parallel_for(long(0), long(x.cols()), [&](long c) {
        for (int j = 0; j < size(); ++j) {
            double sum = value[start[j]] * x(j, c);
            const double xj = x(j, c);
            for (int k = start[j] + 1; k < start[j + 1]; ++k) {
                sum += value[k] * x(row[k], c);
                y(row[k], c) += value[k] * xj;
            }
            y(j, c) += sum;
        }
    });
    return y;
}

double* SparseLower::find(int r, int column) {
    const auto from = row.begin() + start[size_t(column)], to = row.begin() + start[size_t(column) + 1];
    const auto it = std::lower_bound(from, to, r);
    return it != to && *it == r ? &value[size_t(it - row.begin())] : nullptr;
}

SparseLower without_zeros(const SparseLower& m) {
    SparseLower out;
    out.block = m.block;
    out.start.reserve(m.start.size());
    out.start.push_back(0);
    for (int j = 0; j < m.size(); ++j) {
        for (int k = m.start[size_t(j)]; k < m.start[size_t(j) + 1]; ++k)
            if (m.row[size_t(k)] == j || m.value[size_t(k)] != 0)
                out.row.push_back(m.row[size_t(k)]), out.value.push_back(m.value[size_t(k)]);
        out.start.push_back(int(out.row.size()));
    }
    return out;
}

namespace {

// The same matrix with room (zeros) for every pair of unknowns that a row couples.
SparseLower with_room(SparseLower m, const std::vector<SparseRow>& rows) {
    std::vector<std::vector<int>> missing(size_t(m.size()));
    bool any = false;
    for (const SparseRow& b : rows)
        for (int i = 0; i < b.n; ++i)
            for (int j = 0; j < b.n; ++j)
                if (b.row[i] >= b.row[j] && !m.find(b.row[i], b.row[j]))
                    missing[size_t(b.row[j])].push_back(b.row[i]), any = true;
    if (!any) return m;
    SparseLower out;
    out.block = m.block;
    out.start.push_back(0);
    for (size_t j = 0; j < missing.size(); ++j) {
        std::vector<int>& more = missing[j];
        std::sort(more.begin(), more.end());
        more.erase(std::unique(more.begin(), more.end()), more.end());
        auto next = more.begin();
        for (int k = m.start[j]; k < m.start[j + 1]; ++k) {
            for (; next != more.end() && *next < m.row[size_t(k)]; ++next)
                out.row.push_back(*next), out.value.push_back(0);
            out.row.push_back(m.row[size_t(k)]), out.value.push_back(m.value[size_t(k)]);
        }
        for (; next != more.end(); ++next) out.row.push_back(*next), out.value.push_back(0);
        out.start.push_back(int(out.row.size()));
    }
    return out;
}

}  // namespace

SparseLower with_outer_products(SparseLower m, const std::vector<SparseRow>& rows, const std::vector<double>& scale) {
    m = with_room(std::move(m), rows);
    for (size_t k = 0; k < rows.size(); ++k) {
        const SparseRow& b = rows[k];
        for (int i = 0; i < b.n; ++i)
            for (int j = 0; j < b.n; ++j)
                if (b.row[i] >= b.row[j]) *m.find(b.row[i], b.row[j]) += scale[k] * b.weight[i] * b.weight[j];
    }
    return m;
}

}  // namespace mossbed
