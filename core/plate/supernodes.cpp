#include "core/plate/supernodes.h"

#include <algorithm>

#include "core/base/whole_loop.h"

#if defined(__x86_64__) && defined(__GNUC__)
#include <immintrin.h>
#define WIDE __attribute__((target("avx2,fma")))
#endif

namespace mossbed {

#ifdef WIDE
namespace {

// A register of four columns in double precision, or of eight in single.
template <class Real>
struct Wide;
template <>
struct Wide<double> {
    using Register = __m256d;
    static constexpr long lanes = 4;
    WIDE static Register load(const double* x) { return _mm256_loadu_pd(x); }
    WIDE static void store(double* x, Register r) { _mm256_storeu_pd(x, r); }
    WIDE static Register all(double x) { return _mm256_set1_pd(x); }
    WIDE static Register less(Register a, Register b, Register c) { return _mm256_fnmadd_pd(a, b, c); }  // c − a b
    WIDE static Register times(Register a, Register b) { return _mm256_mul_pd(a, b); }
    WIDE static Register plus(Register a, Register b) { return _mm256_add_pd(a, b); }
};
template <>
struct Wide<float> {
    using Register = __m256;
    static constexpr long lanes = 8;
    WIDE static Register load(const float* x) { return _mm256_loadu_ps(x); }
    WIDE static void store(float* x, Register r) { _mm256_storeu_ps(x, r); }
    WIDE static Register all(float x) { return _mm256_set1_ps(x); }
    WIDE static Register less(Register a, Register b, Register c) { return _mm256_fnmadd_ps(a, b, c); }
    WIDE static Register times(Register a, Register b) { return _mm256_mul_ps(a, b); }
    WIDE static Register plus(Register a, Register b) { return _mm256_add_ps(a, b); }
};

// V registers of columns.
template <class Real, int V>
struct Columns {
    using W = Wide<Real>;
    static constexpr long width = W::lanes * V;
    typename W::Register v[V];
    WIDE inline static Columns load(const Real* x) {
        Columns c;
        for (int k = 0; k < V; ++k) c.v[k] = W::load(x + W::lanes * k);
        return c;
    }
    WIDE inline void store(Real* x) const {
        for (int k = 0; k < V; ++k) W::store(x + W::lanes * k, v[k]);
    }
    WIDE inline void take(const Real* factor, const Columns& x) {  // −= factor · x
        const auto f = W::all(*factor);
        for (int k = 0; k < V; ++k) v[k] = W::less(f, x.v[k], v[k]);
    }
    WIDE inline void scale(Real factor) {
        for (int k = 0; k < V; ++k) v[k] = W::times(v[k], W::all(factor));
    }
    WIDE inline void add(const Columns& more) {
        for (int k = 0; k < V; ++k) v[k] = W::plus(v[k], more.v[k]);
    }
};

template <class Real>
struct Block {  // of one supernode
    long columns = 0, rows = 0;
    const Real* value = nullptr;
    const int* row = nullptr;
    const Real* at(long i, long j) const { return value + i + j * rows; }
};
template <class Real>
Block<Real> block_of(const Supernodes<Real>& l, int s) {
    return {l.first[s + 1] - l.first[s], l.rows[s + 1] - l.rows[s], l.value + l.values[s], l.row + l.rows[s]};
}

// A sum waits for itself: each is made of so many that there are four at least.
constexpr int parts(int R) { return R < 4 ? 4 / R : 1; }

// R rows from i on, below the supernode's own: x(row) −= Σ_j L(i, j) x_j.
template <class Real, int V, int R>
WIDE inline void take_from_rows(const Block<Real>& b, long i, const Real* own, Real* x) {
    using C = Columns<Real, V>;
    constexpr int P = parts(R);
    C sum[P][R] = {};
    for (int r = 0; r < R; ++r) sum[0][r] = C::load(x + long(b.row[i + r]) * C::width);
    long j = 0;
    for (; j + P <= b.columns; j += P)
        for (int p = 0; p < P; ++p) {
            const C xj = C::load(own + (j + p) * C::width);
            for (int r = 0; r < R; ++r) sum[p][r].take(b.at(i + r, j + p), xj);
        }
    for (; j < b.columns; ++j)
        for (int r = 0; r < R; ++r) sum[0][r].take(b.at(i + r, j), C::load(own + j * C::width));
    for (int r = 0; r < R; ++r) {
        for (int p = 1; p < P; ++p) sum[0][r].add(sum[p][r]);
        sum[0][r].store(x + long(b.row[i + r]) * C::width);
    }
}
// R columns from j on: x_j −= Σ_i L(i, j) x(row) over the rows below, which stand gathered in `below`.
template <class Real, int V, int R>
WIDE inline void take_from_columns(const Block<Real>& b, long j, const Real* below, Real* own) {
    using C = Columns<Real, V>;
    constexpr int P = parts(R);
    C sum[P][R] = {};
    for (int r = 0; r < R; ++r) sum[0][r] = C::load(own + (j + r) * C::width);
    long i = b.columns;
    for (; i + P <= b.rows; i += P)
        for (int p = 0; p < P; ++p) {
            const C xi = C::load(below + (i + p - b.columns) * C::width);
            for (int r = 0; r < R; ++r) sum[p][r].take(b.at(i + p, j + r), xi);
        }
    for (; i < b.rows; ++i)
        for (int r = 0; r < R; ++r) sum[0][r].take(b.at(i, j + r), C::load(below + (i - b.columns) * C::width));
    for (int r = 0; r < R; ++r) {
        for (int p = 1; p < P; ++p) sum[0][r].add(sum[p][r]);
        sum[0][r].store(own + (j + r) * C::width);
    }
}
// All from `from` on, R at a time, what is left by halves of R: one at a time would wait for itself.
template <class Real, int V, int R>
WIDE inline void take_from_all_rows(const Block<Real>& b, long from, const Real* own, Real* x) {
    for (; from + R <= b.rows; from += R) take_from_rows<Real, V, R>(b, from, own, x);
    if constexpr (R > 1) take_from_all_rows<Real, V, R / 2>(b, from, own, x);
}
template <class Real, int V, int R>
WIDE inline void take_from_all_columns(const Block<Real>& b, long from, const Real* below, Real* own) {
    for (; from + R <= b.columns; from += R) take_from_columns<Real, V, R>(b, from, below, own);
    if constexpr (R > 1) take_from_all_columns<Real, V, R / 2>(b, from, below, own);
}

// L y = b and Lᵀ x = y over the supernodes of a range; `first`: the row that x begins with.
template <class Real, int V>
WIDE void go_up(const Supernodes<Real>& l, Branches::Range range, long first, Real* x) {
    using C = Columns<Real, V>;
    constexpr int R = 8 / V;  // eight sums at a time hide how long one takes
    for (int s = range.from; s < range.to; ++s) {
        const Block b = block_of(l, s);
        Real* own = x + (l.first[s] - first) * C::width;
        for (long j = 0; j < b.columns; ++j) {
            C xj = C::load(own + j * C::width);
            xj.scale(1 / *b.at(j, j));
            xj.store(own + j * C::width);
            for (long i = j + 1; i < b.columns; ++i) {
                C xi = C::load(own + i * C::width);
                xi.take(b.at(i, j), xj);
                xi.store(own + i * C::width);
            }
        }
        take_from_all_rows<Real, V, R>(b, b.columns, own, x);
    }
}
template <class Real, int V>
WIDE void go_down(const Supernodes<Real>& l, Branches::Range range, Real* below, Real* x) {
    using C = Columns<Real, V>;
    constexpr int R = 8 / V;
    for (int s = range.to; s-- > range.from;) {
        const Block b = block_of(l, s);
        Real* own = x + long(l.first[s]) * C::width;
        for (long i = b.columns; i < b.rows; ++i)
            C::load(x + long(b.row[i]) * C::width).store(below + (i - b.columns) * C::width);
        take_from_all_columns<Real, V, R>(b, 0, below, own);
        for (long j = b.columns; j-- > 0;) {
            C xj = C::load(own + j * C::width), other{};  // two sums: one would wait for itself
            long i = j + 1;
            for (; i + 2 <= b.columns; i += 2) {
                xj.take(b.at(i, j), C::load(own + i * C::width));
                other.take(b.at(i + 1, j), C::load(own + (i + 1) * C::width));
            }
            if (i < b.columns) xj.take(b.at(i, j), C::load(own + i * C::width));
            xj.add(other);
            xj.scale(1 / *b.at(j, j));
            xj.store(own + j * C::width);
        }
    }
}

template <class Real, int V>
void solve_columns(const Supernodes<Real>& l, const Branches& branches, Real* x) {
    constexpr long W = Columns<Real, V>::width;
    auto begin = [&](const Branches::Range& r) { return l.first[r.from] * W; };  // of its rows in x
    auto end = [&](const Branches::Range& r) { return l.first[r.to] * W; };
    // A branch works in a place of its own: its rows, then what it takes from those of the trunk.
    Supernodes<Real> within = l;
    within.row = branches.row.data();
    std::vector<std::vector<Real>> place(branches.branch.size());
    for_each_whole(0, long(place.size()), [&](long k) {
        const Branches::Range of = branches.branch[size_t(k)];
        std::vector<Real>& own = place[size_t(k)];
        own.assign(size_t(end(of) - begin(of) + branches.trunk_rows * W), Real(0));
        std::copy(x + begin(of), x + end(of), own.begin());
        go_up<Real, V>(within, of, l.first[of.from], own.data());
        std::copy_n(own.begin(), end(of) - begin(of), x + begin(of));
    });
    for (size_t k = 0; k < place.size(); ++k) {
        const Real* taken = place[k].data() + (end(branches.branch[k]) - begin(branches.branch[k]));
        for (const Branches::Range& t : branches.trunk)
            for (long i = begin(t); i < end(t); ++i) x[i] += *taken++;
    }
    for (const Branches::Range& t : branches.trunk) go_up<Real, V>(l, t, 0, x);
    std::vector<Real> below(size_t(l.most_rows * W));
    for (size_t k = branches.trunk.size(); k-- > 0;) go_down<Real, V>(l, branches.trunk[k], below.data(), x);
    for_each_whole(0, long(place.size()), [&](long k) {
        std::vector<Real> own(size_t(l.most_rows * W));
        go_down<Real, V>(l, branches.branch[size_t(k)], own.data(), x);
    });
}

}  // namespace

bool has_wide_solution() { return __builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma"); }
template <class Real>
void solve_side_by_side(const Supernodes<Real>& l, const Branches& branches, long width, Real* x) {
    width == Wide<Real>::lanes ? solve_columns<Real, 1>(l, branches, x) : solve_columns<Real, 2>(l, branches, x);
}
#else
bool has_wide_solution() { return false; }
template <class Real>
void solve_side_by_side(const Supernodes<Real>&, const Branches&, long, Real*) {}
#endif

template void solve_side_by_side(const Supernodes<double>&, const Branches&, long, double*);
template void solve_side_by_side(const Supernodes<float>&, const Branches&, long, float*);

template <class Real>
EliminationTree tree_of(const Supernodes<Real>& l) {
    const size_t count = size_t(l.count);
    EliminationTree tree{std::vector<int>(size_t(l.first[count])), std::vector<int>(count, l.count),
                         std::vector<int>(count), std::vector<std::vector<int>>(count + 1)};
    for (int s = 0; s < l.count; ++s)
        std::fill(&tree.of_column[size_t(l.first[s])], tree.of_column.data() + l.first[s + 1], s);
    for (int s = 0; s < l.count; ++s) {
        const int columns = l.first[s + 1] - l.first[s], rows = l.rows[s + 1] - l.rows[s];
        int& parent = tree.parent[size_t(s)];
        if (rows > columns) parent = tree.of_column[size_t(l.row[l.rows[s] + columns])];
        const std::vector<int>& below = tree.children[size_t(s)];
        tree.first_below[size_t(s)] = below.empty() ? s : tree.first_below[size_t(below[0])];
        tree.children[size_t(parent)].push_back(s);
    }
    return tree;
}
template EliminationTree tree_of(const Supernodes<double>&);

// From the roots down the dearest branch is cut into those that hang on its last supernode, while it holds more than a
// tenth of all work and there are few.
template <class Real>
Branches branches_of(const Supernodes<Real>& l, const EliminationTree& tree) {
    constexpr size_t most = 8;
    std::vector<double> work(size_t(l.count) + 1, 0.0);
    for (int s = 0; s < l.count; ++s) {
        work[size_t(s)] += double(l.first[s + 1] - l.first[s]) * (l.rows[s + 1] - l.rows[s]);
        work[size_t(tree.parent[size_t(s)])] += work[size_t(s)];
    }
    const auto& children = tree.children;
    std::vector<int> roots = children[size_t(l.count)];
    std::vector<char> in_trunk(size_t(l.count), 0);
    while (!roots.empty() && roots.size() < most) {
        const auto dearest = std::max_element(roots.begin(), roots.end(),
                                              [&](int a, int b) { return work[size_t(a)] < work[size_t(b)]; });
        const int s = *dearest;
        if (work[size_t(s)] < 0.1 * work[size_t(l.count)] || children[size_t(s)].empty()) break;
        in_trunk[size_t(s)] = 1;
        roots.erase(dearest);
        roots.insert(roots.end(), children[size_t(s)].begin(), children[size_t(s)].end());
    }
    std::sort(roots.begin(), roots.end());
    Branches out;
    for (int s : roots) out.branch.push_back({tree.first_below[size_t(s)], s + 1});
    for (int s = 0; s < l.count; ++s)
        if (in_trunk[size_t(s)]) {
            if (out.trunk.empty() || out.trunk.back().to != s) out.trunk.push_back({s, s});
            out.trunk.back().to = s + 1;
        }
    std::vector<int> at(tree.of_column.size(), -1);  // of rows of the trunk
    for (const Branches::Range& t : out.trunk)
        for (int i = l.first[t.from]; i < l.first[t.to]; ++i) at[size_t(i)] = out.trunk_rows++;
    out.row.assign(l.row, l.row + l.rows[l.count]);
    for (const Branches::Range& b : out.branch) {
        const int from = l.first[b.from], own = l.first[b.to] - from;
        for (int k = l.rows[b.from]; k < l.rows[b.to]; ++k) {
            int& i = out.row[size_t(k)];
            i = at[size_t(i)] < 0 ? i - from : own + at[size_t(i)];
        }
    }
    return out;
}
template Branches branches_of(const Supernodes<double>&, const EliminationTree&);

}  // namespace mossbed
