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

struct Block {  // of one supernode
    long columns = 0, rows = 0;
    const double* value = nullptr;
    const int* row = nullptr;
    const double* at(long i, long j) const { return value + i + j * rows; }
};
Block block_of(const Supernodes& l, int s) {
    return {l.first[s + 1] - l.first[s], l.rows[s + 1] - l.rows[s], l.value + l.values[s], l.row + l.rows[s]};
}

// R rows from i on, below the supernode's own: x(row) −= Σ_j L(i, j) x_j.
template <int V, int R>
WIDE inline void take_from_rows(const Block& b, long i, const double* own, double* x) {
    Columns<V> sum[R];
    for (int r = 0; r < R; ++r) sum[r] = load<V>(x + long(b.row[i + r]) * (lanes * V));
    for (long j = 0; j < b.columns; ++j) {
        const Columns<V> xj = load<V>(own + j * (lanes * V));
        for (int r = 0; r < R; ++r) take(sum[r], b.at(i + r, j), xj);
    }
    for (int r = 0; r < R; ++r) store<V>(x + long(b.row[i + r]) * (lanes * V), sum[r]);
}
// R columns from j on: x_j −= Σ_i L(i, j) x(row) over the rows below, which stand gathered in `below`.
template <int V, int R>
WIDE inline void take_from_columns(const Block& b, long j, const double* below, double* own) {
    Columns<V> sum[R];
    for (int r = 0; r < R; ++r) sum[r] = load<V>(own + (j + r) * (lanes * V));
    for (long i = b.columns; i < b.rows; ++i) {
        const Columns<V> xi = load<V>(below + (i - b.columns) * (lanes * V));
        for (int r = 0; r < R; ++r) take(sum[r], b.at(i, j + r), xi);
    }
    for (int r = 0; r < R; ++r) store<V>(own + (j + r) * (lanes * V), sum[r]);
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
        long i = b.columns;
        for (; i + R <= b.rows; i += R) take_from_rows<V, R>(b, i, own, x);
        for (; i < b.rows; ++i) take_from_rows<V, 1>(b, i, own, x);
    }
    std::vector<double> below(size_t(l.most_rows * W));
    for (int s = l.count; s-- > 0;) {  // Lᵀ x = y
        const Block b = block_of(l, s);
        double* own = x + long(l.first[s]) * W;
        for (long i = b.columns; i < b.rows; ++i)
            store<V>(below.data() + (i - b.columns) * W, load<V>(x + long(b.row[i]) * W));
        long j = 0;
        for (; j + R <= b.columns; j += R) take_from_columns<V, R>(b, j, below.data(), own);
        for (; j < b.columns; ++j) take_from_columns<V, 1>(b, j, below.data(), own);
        for (j = b.columns; j-- > 0;) {
            Columns<V> xj = load<V>(own + j * W);
            for (long i = j + 1; i < b.columns; ++i) take(xj, b.at(i, j), load<V>(own + i * W));
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
