#include "core/base/dense.h"

#include <tbb/parallel_for.h>

#include <array>
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
constexpr int sums(int V) { return V == 3 ? 12 : 8; }  // at a time, to hide how long one takes, and as registers allow
constexpr int together(int V) { return sums(V) / V; }
struct Part {  // of the rows: all `n` columns, or those in the list
    long n = 0, stride = 0;
    const int* column = nullptr;
};

#if defined(__x86_64__) && defined(__GNUC__)
#define WIDE __attribute__((target("avx2,fma")))
WIDE inline void add_to(double* to, __m256 sum) {
    _mm256_storeu_pd(to, _mm256_add_pd(_mm256_loadu_pd(to), _mm256_cvtps_pd(_mm256_castps256_ps128(sum))));
    _mm256_storeu_pd(to + 4, _mm256_add_pd(_mm256_loadu_pd(to + 4), _mm256_cvtps_pd(_mm256_extractf128_ps(sum, 1))));
}
// Sums of eight rows each, or of four rows and two or three parts of the columns. Named one by one, since compilers
// keep no array of them in registers; `listed`, or the choice would be made at each term.
#define EACH_SUM(DO) DO(0) DO(1) DO(2) DO(3) DO(4) DO(5) DO(6) DO(7) DO(8) DO(9) DO(10) DO(11)
template <int V, bool listed>
WIDE void stream_terms(const float* a, const Part& p, int rows, const float* x, double* out) {
#define START(k) [[maybe_unused]] const float* const at##k = a + std::min((k) / V, rows - 1) * p.stride;
    EACH_SUM(START)
#undef START
    for (long from = 0; from < p.n; from += terms) {
        const long to = std::min(p.n, from + terms);
#define ZERO(k) [[maybe_unused]] __m256 sum##k = _mm256_setzero_ps();
        EACH_SUM(ZERO)
#undef ZERO
        for (long j = from; j < to; ++j) {
            const long c = listed ? p.column[j] : j;
            const __m256 in0 = _mm256_loadu_ps(x + j * (V * lanes)),
                         in1 = V > 1 ? _mm256_loadu_ps(x + j * (V * lanes) + lanes) : in0,
                         in2 = V > 2 ? _mm256_loadu_ps(x + j * (V * lanes) + 2 * lanes) : in0;
#define ADD(k)         \
    if ((k) < sums(V)) \
        sum##k = _mm256_fmadd_ps(_mm256_broadcast_ss(at##k + c), (k) % V == 0 ? in0 : (k) % V == 1 ? in1 : in2, sum##k);
            EACH_SUM(ADD)
#undef ADD
        }
#define TAKE(k) \
    if ((k) < sums(V) && (k) / V < rows) add_to(out + (k)*lanes, sum##k);
        EACH_SUM(TAKE)
#undef TAKE
    }
}
#undef EACH_SUM
template <int V>
void stream_wide(const float* a, const Part& p, int rows, const float* x, double* out) {
    (p.column ? stream_terms<V, true> : stream_terms<V, false>)(a, p, rows, x, out);
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

void multiply(const RowMatrix& a, const Eigen::MatrixXd& x, Eigen::MatrixXd& out) {
    out.setZero(a.rows(), x.cols());
    // A common scale keeps the range of single precision out of sight.
    const double scale = x.size() > 0 ? x.cwiseAbs().maxCoeff() : 0;
    if (a.rows() == 0 || !(scale > 0)) return;
    std::vector<int> some;  // columns of `a` that count
    for (long j = 0; j < x.rows(); ++j)
        if (!x.row(j).isZero(0)) some.push_back(int(j));
    const bool few = 2 * long(some.size()) < x.rows();
    const Part part{few ? long(some.size()) : x.rows(), a.cols(), few ? some.data() : nullptr};
    const bool wide = has_wide();
    const std::array by_parts{wide ? stream_wide<1> : stream<1>, wide ? stream_wide<2> : stream<2>,
                              wide ? stream_wide<3> : stream<3>};
    constexpr long step = 64, near = 32 * terms;
    for (long first = 0; first < x.cols();) {
        const long left = x.cols() - first, parts = std::min(3L, (left + lanes - 1) / lanes), width = parts * lanes,
                   columns = std::min(left, width);
        const int block = together(int(parts));
        std::vector<float> in(size_t(part.n * width), 0.0f);
        for (long j = 0; j < part.n; ++j) {
            const double* const from = &x(few ? some[size_t(j)] : j, first);
            for (long c = 0; c < columns; ++c) in[size_t(j * width + c)] = float(from[c * x.rows()] / scale);
        }
        tbb::parallel_for(long(0), (a.rows() + step - 1) / step, [&](long k) {
            const long begin = k * step, end = std::min(a.rows(), begin + step);
            double sum[step * 3 * lanes] = {};
            for (long from = 0; from < part.n; from += near) {  // what `in` has there stays close while rows pass
                const Part now{std::min(near, part.n - from), part.stride, few ? part.column + from : nullptr};
                for (long i = begin; i < end; i += block)
                    by_parts[size_t(parts - 1)](a.data() + i * a.cols() + (few ? 0 : from), now,
                                                int(std::min<long>(block, end - i)), in.data() + from * width,
                                                sum + (i - begin) * width);
            }
            for (long i = begin; i < end; ++i)
                for (long c = 0; c < columns; ++c) out(i, first + c) += scale * sum[(i - begin) * width + c];
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
