#include "core/base/dense.h"

#include <tbb/parallel_for.h>
#if defined(__x86_64__) && defined(__GNUC__)
#include <immintrin.h>
#endif

extern "C" void dpotrf_(const char* uplo, const int* n, double* a, const int* lda, int* info);

namespace mossbed {

namespace {

// Libraries pack the large matrix anew for each product, which with a dozen columns costs more than the product. Here
// it streams past once: up to together(V) rows of it by 8 · V columns that lie side by side, summed in double every 32
// terms.
constexpr long lanes = 8, terms = 32;
constexpr int together(int V) { return 8 / V; }  // eight sums at a time hide how long one takes
struct Part {                                    // of the rows: all `n` columns, or those in the list
    long n = 0, stride = 0;
    const int* column = nullptr;
};

#if defined(__x86_64__) && defined(__GNUC__)
template <int V>
__attribute__((target("avx2,fma"))) void stream_wide(const float* a, const Part& p, int rows, const float* x,
                                                     double* out) {
    constexpr int R = together(V);
    const float* at[R];
    for (int r = 0; r < R; ++r) at[r] = a + std::min(r, rows - 1) * p.stride;
    for (long from = 0; from < p.n; from += terms) {
        const long to = std::min(p.n, from + terms);
        __m256 sum[R][V];
        for (auto& row : sum)
            for (__m256& s : row) s = _mm256_setzero_ps();
        for (long j = from; j < to; ++j) {
            __m256 in[V];
            for (int v = 0; v < V; ++v) in[v] = _mm256_loadu_ps(x + j * (V * lanes) + v * lanes);
            for (int r = 0; r < R; ++r) {
                const __m256 one = _mm256_broadcast_ss(at[r] + (p.column ? p.column[j] : j));
                for (int v = 0; v < V; ++v) sum[r][v] = _mm256_fmadd_ps(one, in[v], sum[r][v]);
            }
        }
        for (int r = 0; r < rows; ++r)
            for (int v = 0; v < V; ++v) {
                float part[lanes];
                _mm256_storeu_ps(part, sum[r][v]);
                for (int c = 0; c < lanes; ++c) out[(r * V + v) * lanes + c] += double(part[c]);
            }
    }
}
bool has_wide() { return __builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma"); }
#else
template <int V>
void stream_wide(const float*, const Part&, int, const float*, double*) {}
bool has_wide() { return false; }
#endif
template <int V>
void stream(const float* a, const Part& p, int rows, const float* x, double* out) {
    for (int r = 0; r < rows; ++r)
        for (long from = 0; from < p.n; from += terms) {
            float sum[V * lanes] = {};
            for (long j = from; j < std::min(p.n, from + terms); ++j)
                for (int c = 0; c < V * lanes; ++c)
                    sum[c] += a[long(r) * p.stride + (p.column ? p.column[j] : j)] * x[j * long(V * lanes) + c];
            for (int c = 0; c < V * lanes; ++c) out[long(r) * V * lanes + c] += double(sum[c]);
        }
}

}  // namespace

void multiply(const RowMatrix& a, const Eigen::MatrixXd& x, Eigen::MatrixXd& out, bool add) {
    if (!add) out.setZero(a.rows(), x.cols());
    // A common scale keeps the range of single precision out of sight.
    const double scale = x.size() > 0 ? x.cwiseAbs().maxCoeff() : 0;
    if (a.rows() == 0 || !(scale > 0)) return;
    std::vector<int> some;  // columns of `a` that count
    for (long j = 0; j < x.rows(); ++j)
        if (!x.row(j).isZero(0)) some.push_back(int(j));
    const bool few = 2 * long(some.size()) < x.rows();
    const Part part{few ? long(some.size()) : x.rows(), a.cols(), few ? some.data() : nullptr};
    const bool wide = has_wide();
    const auto one = wide ? stream_wide<1> : stream<1>, two = wide ? stream_wide<2> : stream<2>;
    const long step = 64;
    for (long first = 0; first < x.cols();) {
        const long left = x.cols() - first, width = left > lanes ? 2 * lanes : lanes, columns = std::min(left, width);
        const int block = together(int(width / lanes));
        std::vector<float> in(size_t(part.n * width), 0.0f);
        for (long c = 0; c < columns; ++c)
            for (long j = 0; j < part.n; ++j)
                in[size_t(j * width + c)] = float(x(few ? some[size_t(j)] : j, first + c) / scale);
        tbb::parallel_for(long(0), (a.rows() + step - 1) / step, [&](long k) {
            for (long i = k * step; i < std::min(a.rows(), (k + 1) * step); i += block) {
                const int rows = int(std::min<long>(block, a.rows() - i));
                double sum[8 * lanes] = {};
                (width == lanes ? one : two)(a.data() + i * a.cols(), part, rows, in.data(), sum);
                for (int r = 0; r < rows; ++r)
                    for (long c = 0; c < columns; ++c) out(i + r, first + c) += scale * sum[r * width + c];
            }
        });
        first += columns;
    }
}

bool cholesky_in_place(Eigen::MatrixXd& a) {
    const int n = int(a.rows());
    int info = 0;
    dpotrf_("L", &n, a.data(), &n, &info);
    return info == 0;
}

}  // namespace mossbed
