#include "core/plate/sparse_lower.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>

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

namespace {

// The same matrix with room (zeros) for every pair of unknowns that a row couples.
SparseLower with_room(const SparseLower& m, const std::vector<SparseRow>& rows) {
    std::vector<std::map<int, double>> column(size_t(m.size()));
    for (int j = 0; j < m.size(); ++j)
        for (int k = m.start[size_t(j)]; k < m.start[size_t(j) + 1]; ++k)
            column[size_t(j)][m.row[size_t(k)]] += m.value[size_t(k)];
    for (const SparseRow& b : rows)
        for (int i = 0; i < b.n; ++i)
            for (int j = 0; j < b.n; ++j)
                if (b.row[i] >= b.row[j]) column[size_t(b.row[j])][b.row[i]] += 0;
    SparseLower out;
    out.block = m.block;
    out.start.push_back(0);
    for (const auto& c : column) {
        for (auto [r, v] : c) out.row.push_back(r), out.value.push_back(v);
        out.start.push_back(int(out.row.size()));
    }
    return out;
}

bool has_room(SparseLower& m, const std::vector<SparseRow>& rows) {
    for (const SparseRow& b : rows)
        for (int i = 0; i < b.n; ++i)
            for (int j = 0; j < b.n; ++j)
                if (b.row[i] >= b.row[j] && !m.find(b.row[i], b.row[j])) return false;
    return true;
}

}  // namespace

SparseLower with_outer_products(SparseLower m, const std::vector<SparseRow>& rows, const std::vector<double>& scale) {
    if (!has_room(m, rows)) m = with_room(m, rows);
    for (size_t k = 0; k < rows.size(); ++k) {
        const SparseRow& b = rows[k];
        for (int i = 0; i < b.n; ++i)
            for (int j = 0; j < b.n; ++j)
                if (b.row[i] >= b.row[j]) *m.find(b.row[i], b.row[j]) += scale[k] * b.weight[i] * b.weight[j];
    }
    return m;
}

}  // namespace mossbed
