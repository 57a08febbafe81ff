#include "core/base/dense.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cstring>
#include <limits>
#include <vector>

#include "core/base/cache_lines.h"

extern "C" void dpotrf_(const char* uplo, const int* n, double* a, const int* lda, int* info);

namespace mossbed {

namespace {

// Libraries pack the large matrix anew for each product, which with a dozen columns costs more than the product. Here
// it streams past once: four rows at a time, times three or six columns that lie one after the other, as registers
// allow. Each lane sums every eighth or sixteenth term, 32 of them, before they are taken up in double.
constexpr long together = 4, terms = 32, most_lanes = 16, most = 24;  // rows, columns
using Four [[gnu::vector_size(16)]] = float;
using Sixteen [[gnu::vector_size(64)]] = float;

// Of four sums in lanes, `apart` registers from each other, those of their lanes.
template <class Register>
inline __attribute__((always_inline)) Four sums_of(const Register* of, long apart) {
    Four part[together];
    for (int r = 0; r < together; ++r) {
        Four lanes[sizeof(Register) / sizeof(Four)];
        std::memcpy(lanes, of + r * apart, sizeof lanes);
        part[r] = lanes[0];
        if constexpr (sizeof lanes == 2 * sizeof(Four)) part[r] += lanes[1];
    }
    const auto pairs = [](const Four& a, const Four& b) {  // a0 + a2, b0 + b2, a1 + a3, b1 + b3
        return __builtin_shufflevector(a, b, 0, 4, 1, 5) + __builtin_shufflevector(a, b, 2, 6, 3, 7);
    };
    const Four a = pairs(part[0], part[1]), b = pairs(part[2], part[3]);
    return __builtin_shufflevector(a, b, 0, 1, 4, 5) + __builtin_shufflevector(a, b, 2, 3, 6, 7);
}
// Four quarters at a time: taken up one by one, that was a quarter of the product.
inline __attribute__((always_inline)) Four sums_of(const Sixteen* of, long apart) {
#define PAIRS(a, b)                                                                            \
    (__builtin_shufflevector(a, b, 0, 16, 1, 17, 4, 20, 5, 21, 8, 24, 9, 25, 12, 28, 13, 29) + \
     __builtin_shufflevector(a, b, 2, 18, 3, 19, 6, 22, 7, 23, 10, 26, 11, 27, 14, 30, 15, 31))
    const Sixteen a = PAIRS(of[0], of[apart]), b = PAIRS(of[2 * apart], of[3 * apart]),
                  all = __builtin_shufflevector(a, b, 0, 1, 16, 17, 4, 5, 20, 21, 8, 9, 24, 25, 12, 13, 28, 29) +
                        __builtin_shufflevector(a, b, 2, 3, 18, 19, 6, 7, 22, 23, 10, 11, 26, 27, 14, 15, 30, 31);
#undef PAIRS
    Four quarter[4];
    std::memcpy(quarter, &all, sizeof quarter);
    return (quarter[0] + quarter[1]) + (quarter[2] + quarter[3]);
}
// sum (together numbers a column) += the product of four rows with C columns of x, which lie `stride` apart; n: a
// multiple of the lanes. What lies `ahead` of the rows is fetched already. Sums are named one by one, row by row, since
// compilers keep no array of them in registers.
#define EACH_COLUMN(DO) DO(0) DO(1) DO(2) DO(3) DO(4) DO(5)
// clang-format off
#define EACH_SUM(DO)                                                                      \
    DO(0) DO(1) DO(2) DO(3) DO(4) DO(5) DO(6) DO(7) DO(8) DO(9) DO(10) DO(11)             \
    DO(12) DO(13) DO(14) DO(15) DO(16) DO(17) DO(18) DO(19) DO(20) DO(21) DO(22) DO(23)
// clang-format on
template <class Register, int C>
inline __attribute__((always_inline)) void add_products(const float* const* rows, long ahead, const float* x,
                                                        long stride, long n, double* sum) {
    constexpr long lanes = sizeof(Register) / sizeof(float);
    for (long from = 0; from < n; from += terms * lanes) {
        const long to = std::min(n, from + terms * lanes);
#define ZERO(k) [[maybe_unused]] Register sum##k{};
        EACH_SUM(ZERO)
#undef ZERO
        for (long j = from; j < to; j += lanes) {
            Register a;
#define LOAD(c)                      \
    [[maybe_unused]] Register in##c; \
    if ((c) < C) std::memcpy(&in##c, x + (c)*stride + j, sizeof a);
            EACH_COLUMN(LOAD)
#undef LOAD
#define ADD(k)                                             \
    if ((k) < together * C) {                              \
        if ((k) % C == 0) {                                \
            std::memcpy(&a, rows[(k) / C] + j, sizeof a);  \
            __builtin_prefetch(rows[(k) / C] + j + ahead); \
        }                                                  \
        sum##k += a * ((k) % C == 0   ? in0                \
                       : (k) % C == 1 ? in1                \
                       : (k) % C == 2 ? in2                \
                       : (k) % C == 3 ? in3                \
                       : (k) % C == 4 ? in4                \
                                      : in5);              \
    }
            EACH_SUM(ADD)
#undef ADD
        }
        Register of[together * C];
#define TAKE(k) \
    if ((k) < together * C) of[k] = sum##k;
        EACH_SUM(TAKE)
#undef TAKE
        for (int c = 0; c < C; ++c) {
            using Doubles [[gnu::vector_size(32)]] = double;
            Doubles all;
            std::memcpy(&all, sum + c * together, sizeof all);
            all += __builtin_convertvector(sums_of(of + c, C), Doubles);
            std::memcpy(sum + c * together, &all, sizeof all);
        }
    }
}
#undef EACH_SUM
#undef EACH_COLUMN
// Of all columns, shared out evenly.
template <class Register, int C>
inline __attribute__((always_inline)) void add_all(const float* const* rows, long ahead, const float* x, long stride,
                                                   long n, long columns, double* sum) {
    for (long parts = (columns + C - 1) / C; parts > 0; --parts) {
        const long now = (columns + parts - 1) / parts;
        if (now == 1) add_products<Register, 1>(rows, ahead, x, stride, n, sum);
        if (now == 2) add_products<Register, 2>(rows, ahead, x, stride, n, sum);
        if (now == 3) add_products<Register, 3>(rows, ahead, x, stride, n, sum);
        if constexpr (C > 3) {
            if (now == 4) add_products<Register, 4>(rows, ahead, x, stride, n, sum);
            if (now == 5) add_products<Register, 5>(rows, ahead, x, stride, n, sum);
            if (now == 6) add_products<Register, 6>(rows, ahead, x, stride, n, sum);
        }
        columns -= now, x += now * stride, sum += now * together;
    }
}
using AddAll = void (*)(const float* const*, long, const float*, long, long, long, double*);
void add_plain(const float* const* rows, long ahead, const float* x, long stride, long n, long columns, double* sum) {
    add_all<Four, 3>(rows, ahead, x, stride, n, columns, sum);
}
#if defined(__x86_64__) && defined(__GNUC__)
__attribute__((target("avx2,fma"))) void add_by_eights(const float* const* rows, long ahead, const float* x,
                                                       long stride, long n, long columns, double* sum) {
    add_all<Floats, 3>(rows, ahead, x, stride, n, columns, sum);
}
__attribute__((target("avx512f"))) void add_by_sixteens(const float* const* rows, long ahead, const float* x,
                                                        long stride, long n, long columns, double* sum) {
    add_all<Sixteen, 6>(rows, ahead, x, stride, n, columns, sum);
}
#endif
AddAll written_for(Registers registers) {
#if defined(__x86_64__) && defined(__GNUC__)
    if (registers == Registers::sixteens) return add_by_sixteens;
    if (registers == Registers::eights) return add_by_eights;
#endif
    return add_plain;
}

void multiply_all(const Eigen::Ref<const RowMatrix>& a, const Eigen::MatrixXd& x, Eigen::MatrixXd& out,
                  Registers registers) {
    out.setZero(a.rows(), x.cols());
    // A common scale keeps the range of single precision out of sight.
    const double scale = x.size() > 0 ? x.cwiseAbs().maxCoeff() : 0;
    if (a.rows() == 0 || !(scale > std::numeric_limits<double>::min())) return;
    const long n = x.rows(), whole = n / most_lanes * most_lanes,
               stride = (n + most_lanes - 1) / most_lanes * most_lanes;
    const AddAll add = written_for(registers);
    for (long first = 0; first < x.cols();) {
        const long left = x.cols() - first, passes = (left + most - 1) / most, columns = (left + passes - 1) / passes;
        CacheLines<float> memory(stride * columns);
        float* const in = memory.data();
        for (long c = 0; c < columns; ++c) {
            for (long j = 0; j < n; ++j) in[c * stride + j] = float(x(j, first + c) * (1 / scale));
            std::fill(in + c * stride + n, in + (c + 1) * stride, 0.0f);
        }
        constexpr long near = terms * most_lanes;  // so many terms of all columns and of eight rows stay close
        constexpr long step = 16 * together;
        tbb::parallel_for(long(0), (a.rows() + step - 1) / step, [&](long k) {
            const long begin = k * step, end = std::min(a.rows(), begin + step);
            double sums[step * most] = {};
            for (long from = 0; from < n; from += near)
                for (long i = begin; i < end; i += together) {
                    double* const sum = sums + (i - begin) * columns;
                    const float* rows[together];
                    for (long r = 0; r < together; ++r) rows[r] = a.row(std::min(i + r, end - 1)).data() + from;
                    const long to = std::min(whole, from + near);
                    if (from < to) add(rows, together * a.outerStride(), in + from, stride, to - from, columns, sum);
                    if (whole == n || n > from + near) continue;
                    float rest[together][most_lanes] = {};  // beyond them others begin, or nothing
                    for (long r = 0; r < together; ++r) {
                        std::memcpy(rest[r], rows[r] + (whole - from), size_t(n - whole) * sizeof(float));
                        rows[r] = rest[r];
                    }
                    add(rows, 0, in + whole, stride, most_lanes, columns, sum);
                }
            for (long i = 0; i < end - begin; ++i)
                for (long c = 0; c < columns; ++c)
                    out(begin + i, first + c) +=
                        scale * sums[i / together * together * columns + c * together + i % together];
        });
        first += columns;
    }
}

}  // namespace

void multiply(const Eigen::Ref<const RowMatrix>& a, const Eigen::MatrixXd& x, Eigen::MatrixXd& out,
              Registers registers) {
    const long n = x.rows();
    for (long c = 0; c < x.cols(); ++c)
        if (4 * (x.col(c).array() != 0).count() >= n) return multiply_all(a, x, out, registers);
    std::vector<char> counts(size_t(n), 0);
    for (long c = 0; c < x.cols(); ++c)
        for (long j = 0; j < n; ++j) counts[size_t(j)] |= x(j, c) != 0;
    std::vector<int> some;  // columns of `a` that count
    for (long j = 0; j < n; ++j)
        if (counts[size_t(j)]) some.push_back(int(j));
    if (some.empty() || 4 * long(some.size()) >= n) return multiply_all(a, x, out, registers);
    RowMatrix part(a.rows(), long(some.size()));
    tbb::parallel_for(long(0), a.rows(), [&](long i) {
        for (size_t k = 0; k < some.size(); ++k) part(i, long(k)) = a(i, some[k]);
    });
    multiply_all(part, x(some, Eigen::all), out, registers);
}

bool cholesky_in_place(Eigen::MatrixXd& a) {
    const int n = int(a.rows());
    int info = 0;
    dpotrf_("L", &n, a.data(), &n, &info);
    return info == 0;
}

}  // namespace mossbed
