#include "core/plate/fronts.h"

#include <tbb/task_group.h>

#include <algorithm>
#include <atomic>
#include <memory>
#include <utility>

#include "core/base/one_thread.h"
#include "core/base/whole_loop.h"

extern "C" {
void dpotrf_(const char* uplo, const int* n, double* a, const int* lda, int* info);
void dtrsm_(const char* side, const char* uplo, const char* trans, const char* diag, const int* m, const int* n,
            const double* alpha, const double* a, const int* lda, double* b, const int* ldb);
void dsyrk_(const char* uplo, const char* trans, const int* n, const int* k, const double* alpha, const double* a,
            const int* lda, const double* beta, double* c, const int* ldc);
void dgemm_(const char* transa, const char* transb, const int* m, const int* n, const int* k, const double* alpha,
            const double* a, const int* lda, const double* b, const int* ldb, const double* beta, double* c,
            const int* ldc);
}

namespace mossbed {

namespace {

constexpr double one = 1;

// A front: `columns` that it eliminates, and below them `rest` rows.
struct Front {
    int columns = 0, rows = 0, rest = 0;
    double* own;   // rows by columns
    double* left;  // rest by rest: what is left for the parent; both lower triangles by columns
};
// Its columns from `from` to `to`, whose pivots have one sign.
struct Run {
    int from = 0, to = 0;
    double sign = 1;
    int columns() const { return to - from; }
};

// `n` rows from `at` on, counted from the front's first: L21 = ± A21 L11⁻ᵀ.
void eliminate_rows(const Front& f, const Run& r, int at, int n) {
    const int columns = r.columns();
    double* const first = f.own + size_t(r.from) * size_t(f.rows);
    dtrsm_("R", "L", "T", "N", &n, &columns, &r.sign, first + r.from, &f.rows, first + at, &f.rows);
}
// `n` columns from `at` on, likewise, from the diagonal down to the last row: ∓= L21 L21ᵀ. Own ones that come later, or
// what is left.
void take_columns(const Front& f, const Run& r, int at, int n) {
    const double* const l = f.own + size_t(r.from) * size_t(f.rows);
    const int columns = r.columns();
    const double by = -r.sign;
    const bool is_own = at < f.columns;
    const int apart = is_own ? f.rows : f.rest, shift = is_own ? 0 : f.columns;
    double* const to = (is_own ? f.own : f.left) + size_t(at - shift) * size_t(apart);
    dsyrk_("L", "N", &n, &columns, &by, l + at, &f.rows, &one, to + (at - shift), &apart);
    if (const int below = f.rows - at - n; below > 0)
        dgemm_("N", "T", &below, &n, &columns, &by, l + at + n, &f.rows, l + at, &f.rows, &one, to + (at - shift) + n,
               &apart);
}
bool eliminate(const Front& f, const Run& r) {
    double* const pivots = f.own + size_t(r.from) * size_t(f.rows) + r.from;
    const int columns = r.columns(), later = f.columns - r.to;
    if (r.sign < 0)
        for (int j = 0; j < columns; ++j)
            for (int i = j; i < columns; ++i) pivots[size_t(j) * size_t(f.rows) + size_t(i)] *= -1;
    int info = 0;
    dpotrf_("L", &columns, pivots, &f.rows, &info);
    if (info != 0) return false;
    const int below = f.rows - r.to;
    if (below == 0) return true;
    constexpr double large = 4e6;  // multiplications, some milliseconds
    if (double(below) * columns * (f.rows - r.from) < large) {
        eliminate_rows(f, r, r.to, below);
        if (later > 0) take_columns(f, r, r.to, later);
        if (f.rest > 0) take_columns(f, r, f.columns, f.rest);
        return true;
    }
    constexpr int width = 64;
    auto in_parts = [&](int from, int to, auto part) {
        for_each_whole(0, (to - from + width - 1) / width, [&](long k) {
            hold_algebra_to_one_thread();
            const int at = from + int(k) * width;
            part(f, r, at, std::min(width, to - at));
        });
    };
    in_parts(r.to, f.rows, eliminate_rows);
    in_parts(r.to, f.columns, take_columns);
    in_parts(f.columns, f.rows, take_columns);
    return true;
}

}  // namespace

Fronts::Fronts(const Supernodes<double>& l, EliminationTree tree, const SparseLower& pattern, const int* order,
               const std::vector<int>& negative)
    : tree_(std::move(tree)),
      in_parent_(size_t(l.rows[l.count]), 0),
      place_(pattern.row.size()),
      work_(size_t(l.count) + 1, 0.0) {
    for (int s = 0; s < l.count; ++s) {
        const int columns = l.first[s + 1] - l.first[s], rows = l.rows[s + 1] - l.rows[s];
        const int parent = tree_.parent[size_t(s)];
        for (int j = 0; j < columns; ++j) work_[size_t(s)] += double(rows - j) * (rows - j);
        work_[size_t(parent)] += work_[size_t(s)];
        if (parent == l.count) continue;
        const int* of_parent = l.row + l.rows[parent];  // ascending, as these, with all of these among them
        int at = 0;
        for (int k = l.rows[s] + columns; k < l.rows[s + 1]; ++k) {
            while (of_parent[at] != l.row[k]) ++at;
            in_parent_[size_t(k)] = at;
        }
    }
    const int n = pattern.size();
    if (!negative.empty()) negative_.assign(size_t(n), 0);
    for (int i : negative) negative_[size_t(i)] = 1;
    std::vector<int> position(size_t(n), 0);
    for (int i = 0; i < n; ++i) position[size_t(order[i])] = i;
    constexpr int at_a_time = 256;
    for_each_whole(0, (n + at_a_time - 1) / at_a_time, [&](long part) {
        const int begin = int(part) * at_a_time, end = std::min(n, begin + at_a_time);
        int s = -1, at = 0;  // where the entry before was found: mostly this one stands there too, or next to it
        for (int j = begin; j < end; ++j)
            for (int k = pattern.start[size_t(j)]; k < pattern.start[size_t(j) + 1]; ++k) {
                const int a = position[size_t(j)], b = position[size_t(pattern.row[size_t(k)])];
                const int low = std::min(a, b), high = std::max(a, b);
                if (const int of = tree_.of_column[size_t(low)]; of != s) s = of, at = 0;
                const int *row = l.row + l.rows[s], rows = l.rows[s + 1] - l.rows[s];
                if (row[at] != high && (++at == rows || row[at] != high))
                    at = int(std::lower_bound(row, row + rows, high) - row);
                place_[size_t(k)] = l.values[s] + (low - l.first[s]) * rows + at;
            }
    });
}

struct Fronts::Work {
    const Fronts& plan;
    const Supernodes<double>& l;
    double* value;
    const Progress& progress;
    double smallest_task;                         // multiplications; a tenth of a millisecond at least
    std::vector<std::unique_ptr<double[]>> left;  // by each supernode for its parent
    std::atomic<bool> has_its_signs;

    void eliminate_one(int s) {
        Front f;
        f.columns = l.first[s + 1] - l.first[s], f.rows = l.rows[s + 1] - l.rows[s], f.rest = f.rows - f.columns;
        f.own = value + l.values[s];
        const size_t rest = size_t(f.rest), rows = size_t(f.rows);
        if (f.rest > 0) left[size_t(s)] = std::make_unique_for_overwrite<double[]>(rest * rest);
        f.left = left[size_t(s)].get();
        for (size_t j = 0; j < rest; ++j) std::fill_n(f.left + j * rest + j, rest - j, 0.0);
        for (int child : plan.tree_.children[size_t(s)]) {
            const int own = l.first[child + 1] - l.first[child];
            const int n = l.rows[child + 1] - l.rows[child] - own;
            const int* at = plan.in_parent_.data() + l.rows[child] + own;
            const double* from = left[size_t(child)].get();
            for (int j = 0; j < n; ++j, from += n) {
                double* to = at[j] < f.columns ? f.own + size_t(at[j]) * rows
                                               : f.left + size_t(at[j] - f.columns) * rest - f.columns;
                for (int i = j; i < n; ++i) to[at[i]] += from[i];
            }
            left[size_t(child)].reset();
        }
        const char* const negative = plan.negative_.empty() ? nullptr : &plan.negative_[size_t(l.first[s])];
        for (Run r; r.to < f.columns;) {
            r.from = r.to;
            r.sign = negative && negative[r.from] ? -1 : 1;
            r.to = negative ? int(std::find_if(negative + r.from, negative + f.columns,
                                               [&](char n) { return n != negative[r.from]; }) -
                                  negative)
                            : f.columns;
            if (!eliminate(f, r)) {
                has_its_signs = false;
                return;
            }
        }
    }
    bool is_worth_a_task(int s) const { return plan.work_[size_t(s)] >= smallest_task; }
    // All that hangs on s, and s itself (`count`: the roots). Down the way along which one branch at a time is worth a
    // task, so that no chain, however long, is gone down by calls in calls; the others meanwhile; then up again.
    void eliminate_branch(int s) {
        hold_algebra_to_one_thread();
        if (s < l.count && !is_worth_a_task(s)) {
            progress.end_if_stopped();
            for (int k = plan.tree_.first_below[size_t(s)]; k <= s && has_its_signs; ++k) eliminate_one(k);
            return;
        }
        tbb::task_group_context alone(tbb::task_group_context::isolated);  // done to the end, as in whole_loop.h
        tbb::task_group others(alone);
        std::vector<int> way;
        for (int next = s; next >= 0;) {
            way.push_back(std::exchange(next, -1));
            const std::vector<int>& children = plan.tree_.children[size_t(way.back())];
            const auto is_worth = [this](int child) { return is_worth_a_task(child); };
            if (std::count_if(children.begin(), children.end(), is_worth) == 1)
                next = *std::find_if(children.begin(), children.end(), is_worth);
            for (int child : children)
                if (child != next) others.run([this, child] { eliminate_branch(child); });
        }
        others.wait();
        for (size_t k = way.size(); k-- > 0;) {
            progress.end_if_stopped();
            if (way[k] < l.count && has_its_signs) eliminate_one(way[k]);
        }
    }
};

bool Fronts::factorize(const Supernodes<double>& l, const SparseLower& m, double* value,
                       const Progress& progress) const {
    constexpr int at_a_time = 64;  // supernodes
    for_each_whole(0, (l.count + at_a_time - 1) / at_a_time, [&](long part) {
        const int begin = int(part) * at_a_time, end = std::min(l.count, begin + at_a_time);
        std::fill(value + l.values[begin], value + l.values[end], 0.0);
    });
    constexpr size_t entries = 8192;
    for_each_whole(0, long((place_.size() + entries - 1) / entries), [&](long part) {
        const size_t begin = size_t(part) * entries, end = std::min(place_.size(), begin + entries);
        for (size_t k = begin; k < end; ++k) value[size_t(place_[k])] = m.value[k];
    });
    Work work{*this, l, value, progress, std::max(1e6, 0.02 * work_[size_t(l.count)]), {}, true};
    work.left.resize(size_t(l.count));
    work.eliminate_branch(l.count);
    return work.has_its_signs;
}

}  // namespace mossbed
