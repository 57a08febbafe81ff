#include "core/plate/supernodes.h"

#if defined(__x86_64__) && defined(__GNUC__)
#include <immintrin.h>
#define WIDE __attribute__((target("avx2,fma")))
#endif

namespace mossbed {

#ifdef WIDE
namespace {

constexpr long lanes = 4;

// V registers of four columns each.
template <int V>
struct Columns {
    __m256d v[V];
};
template <int V>
WIDE inline Columns<V> load(const double* x) {
    Columns<V> c;
    for (int k = 0; k < V; ++k) c.v[k] = _mm256_loadu_pd(x + lanes * k);
    return c;
}
template <int V>
WIDE inline void store(double* x, const Columns<V>& c) {
    for (int k = 0; k < V; ++k) _mm256_storeu_pd(x + lanes * k, c.v[k]);
}
template <int V>
WIDE inline void take(Columns<V>& from, const double* factor, const Columns<V>& x) {  // from −= factor · x
    const __m256d f = _mm256_broadcast_sd(factor);
    for (int k = 0; k < V; ++k) from.v[k] = _mm256_fnmadd_pd(f, x.v[k], from.v[k]);
}
template <int V>
WIDE inline void scale(Columns<V>& x, double factor) {
    for (int k = 0; k < V; ++k) x.v[k] = _mm256_mul_pd(x.v[k], _mm256_set1_pd(factor));
}

template <int V>
WIDE inline void add(Columns<V>& to, const Columns<V>& more) {
    for (int k = 0; k < V; ++k) to.v[k] = _mm256_add_pd(to.v[k], more.v[k]);
}

struct Block {  // of one supernode
    long columns = 0, rows = 0;
    const double* value = nullptr;
    const int* row = nullptr;
    const double* at(long i, long j) const { return value + i + j * rows; }
};
Block block_of(const Supernodes& l, int s) {
    return {l.first[s + 1] - l.first[s], l.rows[s + 1] - l.rows[s], l.value + l.values[s], l.row + l.rows[s]};
}

// A sum waits for itself: each is made of so many that there are four at least.
constexpr int parts(int R) { return R < 4 ? 4 / R : 1; }

// R rows from i on, below the supernode's own: x(row) −= Σ_j L(i, j) x_j.
template <int V, int R>
WIDE inline void take_from_rows(const Block& b, long i, const double* own, double* x) {
    constexpr int P = parts(R);
    Columns<V> sum[P][R] = {};
    for (int r = 0; r < R; ++r) sum[0][r] = load<V>(x + long(b.row[i + r]) * (lanes * V));
    long j = 0;
    for (; j + P <= b.columns; j += P)
        for (int p = 0; p < P; ++p) {
            const Columns<V> xj = load<V>(own + (j + p) * (lanes * V));
            for (int r = 0; r < R; ++r) take(sum[p][r], b.at(i + r, j + p), xj);
        }
    for (; j < b.columns; ++j)
        for (int r = 0; r < R; ++r) take(sum[0][r], b.at(i + r, j), load<V>(own + j * (lanes * V)));
    for (int r = 0; r < R; ++r) {
        for (int p = 1; p < P; ++p) add(sum[0][r], sum[p][r]);
        store<V>(x + long(b.row[i + r]) * (lanes * V), sum[0][r]);
    }
}
// R columns from j on: x_j −= Σ_i L(i, j) x(row) over the rows below, which stand gathered in `below`.
template <int V, int R>
WIDE inline void take_from_columns(const Block& b, long j, const double* below, double* own) {
    constexpr int P = parts(R);
    Columns<V> sum[P][R] = {};
    for (int r = 0; r < R; ++r) sum[0][r] = load<V>(own + (j + r) * (lanes * V));
    long i = b.columns;
    for (; i + P <= b.rows; i += P)
        for (int p = 0; p < P; ++p) {
            const Columns<V> xi = load<V>(below + (i + p - b.columns) * (lanes * V));
            for (int r = 0; r < R; ++r) take(sum[p][r], b.at(i + p, j + r), xi);
        }
    for (; i < b.rows; ++i)
        for (int r = 0; r < R; ++r) take(sum[0][r], b.at(i, j + r), load<V>(below + (i - b.columns) * (lanes * V)));
    for (int r = 0; r < R; ++r) {
        for (int p = 1; p < P; ++p) add(sum[0][r], sum[p][r]);
        store<V>(own + (j + r) * (lanes * V), sum[0][r]);
    }
}
// All from `from` on, R at a time, what is left by halves of R: one at a time would wait for itself.
template <int V, int R>
WIDE inline void take_from_all_rows(const Block& b, long from, const double* own, double* x) {
    for (; from + R <= b.rows; from += R) take_from_rows<V, R>(b, from, own, x);
    if constexpr (R > 1) take_from_all_rows<V, R / 2>(b, from, own, x);
}
template <int V, int R>
WIDE inline void take_from_all_columns(const Block& b, long from, const double* below, double* own) {
    for (; from + R <= b.columns; from += R) take_from_columns<V, R>(b, from, below, own);
    if constexpr (R > 1) take_from_all_columns<V, R / 2>(b, from, below, own);
}

template <int V>
WIDE void solve_columns(const Supernodes& l, double* x) {
    constexpr long W = lanes * V;
    constexpr int R = 8 / V;             // eight sums at a time hide how long one takes
    for (int s = 0; s < l.count; ++s) {  // L y = b
        const Block b = block_of(l, s);
        double* own = x + long(l.first[s]) * W;
        for (long j = 0; j < b.columns; ++j) {
            Columns<V> xj = load<V>(own + j * W);
            scale(xj, 1 / *b.at(j, j));
            store<V>(own + j * W, xj);
            for (long i = j + 1; i < b.columns; ++i) {
                Columns<V> xi = load<V>(own + i * W);
                take(xi, b.at(i, j), xj);
                store<V>(own + i * W, xi);
            }
        }
        take_from_all_rows<V, R>(b, b.columns, own, x);
    }
    std::vector<double> below(size_t(l.most_rows * W));
    for (int s = l.count; s-- > 0;) {  // Lᵀ x = y
        const Block b = block_of(l, s);
        double* own = x + long(l.first[s]) * W;
        for (long i = b.columns; i < b.rows; ++i)
            store<V>(below.data() + (i - b.columns) * W, load<V>(x + long(b.row[i]) * W));
        take_from_all_columns<V, R>(b, 0, below.data(), own);
        for (long j = b.columns; j-- > 0;) {
            Columns<V> xj = load<V>(own + j * W), other{};  // two sums: one would wait for itself
            long i = j + 1;
            for (; i + 2 <= b.columns; i += 2) {
                take(xj, b.at(i, j), load<V>(own + i * W));
                take(other, b.at(i + 1, j), load<V>(own + (i + 1) * W));
            }
            if (i < b.columns) take(xj, b.at(i, j), load<V>(own + i * W));
            add(xj, other);
            scale(xj, 1 / *b.at(j, j));
            store<V>(own + j * W, xj);
        }
    }
}

}  // namespace

bool has_wide_solution() { return __builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma"); }
void solve_side_by_side(const Supernodes& l, int width, double* x) {
    width == lanes ? solve_columns<1>(l, x) : solve_columns<2>(l, x);
}
#else
bool has_wide_solution() { return false; }
void solve_side_by_side(const Supernodes&, int, double*) {}
#endif

}  // namespace mossbed
