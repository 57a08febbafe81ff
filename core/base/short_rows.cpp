#include "core/base/short_rows.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/base/wide.h"

namespace mossbed {

namespace {

constexpr long lanes = 8, together = 4 * lanes;
using Four [[gnu::vector_size(16)]] = float;
using Sixteen [[gnu::vector_size(64)]] = float;

// Several sums at a time hide how long one takes.
template <class Register>
inline __attribute__((always_inline)) float dot_by(const std::int16_t* a, const float* x, long n) {
    constexpr long wide = sizeof(Register) / sizeof(float), sums = together / wide;
    typedef std::int16_t Shorts __attribute__((vector_size(wide * sizeof(std::int16_t))));
    Register sum[sums] = {};
    for (long j = 0; j < n; j += together)
        for (long k = 0; k < sums; ++k) {
            Shorts of;
            Register by;
            std::memcpy(&of, a + j + k * wide, sizeof of);
            std::memcpy(&by, x + j + k * wide, sizeof by);
            sum[k] += __builtin_convertvector(of, Register) * by;
        }
    for (long k = 1; k < sums; ++k) sum[0] += sum[k];
    Four quarter[wide / 4], all{};
    std::memcpy(quarter, &sum[0], sizeof quarter);
    for (const Four& q : quarter) all += q;
    return (all[0] + all[1]) + (all[2] + all[3]);
}

// Σ weight_k · row_k of `count` rows that lie n numbers apart, `blocks` registers of it.
template <class Register, int blocks>
inline __attribute__((always_inline)) void add_up_some(const float* rows, const float* weight, long count, long n,
                                                       float* sum) {
    constexpr long wide = sizeof(Register) / sizeof(float);
    Register of[blocks] = {};
    for (long k = 0; k < count; ++k)
        for (int q = 0; q < blocks; ++q) {
            Register row;
            std::memcpy(&row, rows + k * n + q * wide, sizeof row);
            of[q] += weight[k] * row;
        }
    std::memcpy(sum, of, sizeof of);
}
template <class Register>
inline __attribute__((always_inline)) void add_up_by(const float* rows, const float* weight, long count, long n,
                                                     float* sum) {
    constexpr long wide = sizeof(Register) / sizeof(float);
    long j = 0;
    for (; j + 8 * wide <= n; j += 8 * wide) add_up_some<Register, 8>(rows + j, weight, count, n, sum + j);
    for (; j + wide <= n; j += wide) add_up_some<Register, 1>(rows + j, weight, count, n, sum + j);
    if (j < n && n >= wide) {  // some of the last ones once more
        add_up_some<Register, 1>(rows + n - wide, weight, count, n, sum + n - wide);
        return;
    }
    for (; j < n; ++j) {
        sum[j] = 0;
        for (long k = 0; k < count; ++k) sum[j] += weight[k] * rows[k * n + j];
    }
}

MOSSBED_WIDE float dot_in_eights(const std::int16_t* a, const float* x, long n) { return dot_by<Floats>(a, x, n); }
MOSSBED_WIDE void add_up_in_eights(const float* rows, const float* weight, long count, long n, float* sum) {
    add_up_by<Floats>(rows, weight, count, n, sum);
}
#if defined(__x86_64__) && defined(__GNUC__)
#define IN_SIXTEENS __attribute__((target("avx512f")))
IN_SIXTEENS float dot_in_sixteens(const std::int16_t* a, const float* x, long n) { return dot_by<Sixteen>(a, x, n); }
IN_SIXTEENS void add_up_in_sixteens(const float* rows, const float* weight, long count, long n, float* sum) {
    add_up_by<Sixteen>(rows, weight, count, n, sum);
}
#endif
MOSSBED_WIDE float largest_of(const float* v, long n) {
    Floats most = {};  // of every eighth
    long j = 0;
    for (; j + lanes <= n; j += lanes) {
        Floats of;
        std::memcpy(&of, v + j, sizeof of);
        of = of < 0 ? -of : of;
        most = of > most ? of : most;
    }
    float largest = 0;
    for (int q = 0; q < lanes; ++q) largest = std::max(largest, most[q]);
    for (; j < n; ++j) largest = std::max(largest, std::abs(v[j]));
    return largest;
}
MOSSBED_WIDE void round_to(std::int16_t* __restrict to, const float* __restrict v, float by, long n) {
    for (long j = 0; j < n; ++j) to[j] = std::int16_t(v[j] * by + (v[j] < 0 ? -0.5f : 0.5f));
}

}  // namespace

long ShortRows::padded(long length) { return (length + together - 1) / together * together; }

ShortRows::ShortRows(const std::vector<long>& lengths, Registers registers)
    : dot_(dot_in_eights), add_up_(add_up_in_eights), length_(lengths), scale_(lengths.size(), 0.0f) {
#ifdef IN_SIXTEENS
    if (registers == Registers::sixteens) dot_ = dot_in_sixteens, add_up_ = add_up_in_sixteens;
#endif
    long end = 0;
    for (long n : lengths) start_.push_back(end), end += padded(n);
    number_.assign(size_t(end), 0);
}

void ShortRows::set_row(long i, const float* rows, const float* weights, long count) {
    const long n = length_[size_t(i)];
    std::vector<float> sum(size_t(n), 0.0f);
    add_up_(rows, weights, count, n, sum.data());
    const float largest = largest_of(sum.data(), n);
    scale_[size_t(i)] = largest / 32767;
    std::int16_t* const to = number_.data() + start_[size_t(i)];
    if (largest > 0)
        round_to(to, sum.data(), 32767 / largest, n);
    else
        std::fill(to, to + n, std::int16_t(0));
}

double ShortRows::times(long i, const float* x) const {
    return double(scale_[size_t(i)]) * double(dot_(number_.data() + start_[size_t(i)], x, padded(length_[size_t(i)])));
}

}  // namespace mossbed
