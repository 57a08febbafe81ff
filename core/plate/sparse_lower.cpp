#include "core/plate/sparse_lower.h"

#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <span>
#include <utility>

#include "core/base/whole_loop.h"

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
    out.block = m.block, out.forces = m.forces;
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

// Of each unknown the rows that look at it, ascending.
struct LookedAtBy {
    struct Look {
        int row, at;  // the number of the row; where the unknown stands in it
    };
    std::vector<int> start;
    std::vector<Look> by;
    LookedAtBy(int unknowns, const std::vector<SparseRow>& rows) : start(size_t(unknowns) + 1, 0) {
        for (const SparseRow& b : rows)
            for (int i = 0; i < b.n; ++i) ++start[size_t(b.row[i]) + 1];
        for (size_t i = 1; i < start.size(); ++i) start[i] += start[i - 1];
        by.resize(size_t(start.back()));
        std::vector<int> next(start.begin(), start.end() - 1);
        for (size_t k = 0; k < rows.size(); ++k)
            for (int i = 0; i < rows[k].n; ++i) by[size_t(next[size_t(rows[k].row[i])]++)] = {int(k), i};
    }
    std::span<const Look> of(int unknown) const {
        return {by.data() + start[size_t(unknown)], size_t(start[size_t(unknown) + 1] - start[size_t(unknown)])};
    }
};

class Columns {
  public:
    explicit Columns(int n) : n_(n), memory_([n] { return std::vector<int>(static_cast<size_t>(n), -1); }) {}
    // each(column, where) for all, on all cores; `where` is memory of the core, one number an unknown, less than nought
    // at first and to be left so.
    template <class Each>
    void for_each(Each each) {
        constexpr int at_a_time = 256;
        for_each_whole(0, (n_ + at_a_time - 1) / at_a_time, [&](long part) {
            std::vector<int>& where = memory_.local();
            const int from = int(part) * at_a_time;
            for (int c = from; c < std::min(n_, from + at_a_time); ++c) each(c, where);
        });
    }

  private:
    int n_;
    tbb::enumerable_thread_specific<std::vector<int>> memory_;
};

}  // namespace

SparseLower with_room(const SparseLower& m, const std::vector<SparseRow>& rows) {
    const int n = m.size();
    const LookedAtBy looked_at(n, rows);
    Columns columns(n);
    std::vector<std::vector<int>> missing(static_cast<size_t>(n));
    columns.for_each([&](int c, std::vector<int>& where) {
        if (looked_at.of(c).empty()) return;
        std::vector<int>& more = missing[size_t(c)];
        const int *own = &m.row[size_t(m.start[size_t(c)])], *end = m.row.data() + m.start[size_t(c) + 1];
        for (const int* r = own; r != end; ++r) where[size_t(*r)] = 0;
        for (const auto& [k, at] : looked_at.of(c))
            for (int i = 0; i < rows[size_t(k)].n; ++i)
                if (const int r = rows[size_t(k)].row[i]; r >= c && std::exchange(where[size_t(r)], 0) < 0)
                    more.push_back(r);
        for (const int* r = own; r != end; ++r) where[size_t(*r)] = -1;
        for (int r : more) where[size_t(r)] = -1;
        std::sort(more.begin(), more.end());
    });
    if (std::all_of(missing.begin(), missing.end(), [](const auto& more) { return more.empty(); })) return m;
    SparseLower out;
    out.block = m.block, out.forces = m.forces;
    out.start.push_back(0);
    for (int c = 0; c < n; ++c)
        out.start.push_back(out.start.back() + m.start[size_t(c) + 1] - m.start[size_t(c)] +
                            int(missing[size_t(c)].size()));
    out.row.resize(size_t(out.start.back())), out.value.resize(out.row.size());
    columns.for_each([&](int c, std::vector<int>&) {
        size_t to = size_t(out.start[size_t(c)]);
        auto next = missing[size_t(c)].begin();
        const auto end = missing[size_t(c)].end();
        auto fill = [&](int before) {
            for (; next != end && *next < before; ++next) out.row[to] = *next, out.value[to++] = 0;
        };
        for (size_t k = size_t(m.start[size_t(c)]); k < size_t(m.start[size_t(c) + 1]); ++k) {
            fill(m.row[k]);
            out.row[to] = m.row[k], out.value[to++] = m.value[k];
        }
        fill(n);
    });
    return out;
}

SparseLower with_forces(const SparseLower& m, const std::vector<SparseRow>& rows) {
    if (rows.empty()) return m;
    const int n = m.size();
    const LookedAtBy looked_at(n, rows);
    SparseLower out;
    out.block = m.block, out.forces = m.forces + int(rows.size());
    out.start.reserve(size_t(n) + rows.size() + 1);
    out.row.reserve(m.row.size() + looked_at.by.size() + rows.size()), out.value.reserve(out.row.capacity());
    out.start.push_back(0);
    for (int c = 0; c < n; ++c) {
        const auto from = m.start[size_t(c)], to = m.start[size_t(c) + 1];
        out.row.insert(out.row.end(), m.row.begin() + from, m.row.begin() + to);
        out.value.insert(out.value.end(), m.value.begin() + from, m.value.begin() + to);
        for (const auto& [k, at] : looked_at.of(c)) out.row.push_back(n + k), out.value.push_back(0);
        out.start.push_back(int(out.row.size()));
    }
    for (int k = 0; k < int(rows.size()); ++k)
        out.row.push_back(n + k), out.value.push_back(-1), out.start.push_back(int(out.row.size()));
    return out;
}

void set_forces(SparseLower& m, const std::vector<SparseRow>& rows, const std::vector<double>& scale) {
    const int first = m.size() - int(rows.size());
    for_each_whole(0, long(rows.size()), [&](long k) {
        const SparseRow& b = rows[size_t(k)];
        for (int i = 0; i < b.n; ++i) *m.find(first + int(k), b.row[i]) = std::sqrt(scale[size_t(k)]) * b.weight[i];
    });
}

void add_outer_products(SparseLower& m, const std::vector<SparseRow>& rows, const std::vector<double>& scale) {
    const LookedAtBy looked_at(m.size(), rows);
    Columns columns(m.size());
    columns.for_each([&](int c, std::vector<int>& where) {
        const auto by = looked_at.of(c);
        if (by.empty()) return;
        const int from = m.start[size_t(c)], to = m.start[size_t(c) + 1];
        for (int k = from; k < to; ++k) where[size_t(m.row[size_t(k)])] = k;
        for (const auto& [k, at] : by) {
            const SparseRow& b = rows[size_t(k)];
            for (int i = 0; i < b.n; ++i)
                if (b.row[i] >= c)
                    m.value[size_t(where[size_t(b.row[i])])] += scale[size_t(k)] * b.weight[i] * b.weight[at];
        }
        for (int k = from; k < to; ++k) where[size_t(m.row[size_t(k)])] = -1;
    });
}

}  // namespace mossbed
