#include "core/base/short_rows.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/base/wide.h"

namespace mossbed {

namespace {

constexpr long lanes = 8, together = 4 * lanes;
using Shorts [[gnu::vector_size(2 * lanes)]] = std::int16_t;

// Four sums at a time hide how long one takes.
MOSSBED_WIDE float dot(const std::int16_t* a, const float* x, long n) {
    Floats sum[4] = {};
    for (long j = 0; j < n; j += together)
        for (int k = 0; k < 4; ++k) {
            Shorts of;
            Floats by;
            std::memcpy(&of, a + j + k * lanes, sizeof of);
            std::memcpy(&by, x + j + k * lanes, sizeof by);
            sum[k] += __builtin_convertvector(of, Floats) * by;
        }
    const Floats all = (sum[0] + sum[1]) + (sum[2] + sum[3]);
    float out = 0;
    for (int q = 0; q < lanes; ++q) out += all[q];
    return out;
}

// Σ weight_k · row_k of `count` rows that lie n numbers apart, `blocks` times eight numbers of it.
template <int blocks>
inline __attribute__((always_inline)) void add_up_some(const float* rows, const float* weight, long count, long n,
                                                       float* sum) {
    Floats of[blocks] = {};
    for (long k = 0; k < count; ++k)
        for (int q = 0; q < blocks; ++q) {
            Floats row;
            std::memcpy(&row, rows + k * n + q * lanes, sizeof row);
            of[q] += weight[k] * row;
        }
    std::memcpy(sum, of, sizeof of);
}
MOSSBED_WIDE void add_up(const float* rows, const float* weight, long count, long n, float* sum) {
    long j = 0;
    for (; j + 8 * lanes <= n; j += 8 * lanes) add_up_some<8>(rows + j, weight, count, n, sum + j);
    for (; j + lanes <= n; j += lanes) add_up_some<1>(rows + j, weight, count, n, sum + j);
    if (j < n && n >= lanes) {  // some of the last eight once more
        add_up_some<1>(rows + n - lanes, weight, count, n, sum + n - lanes);
        return;
    }
    for (; j < n; ++j) {
        sum[j] = 0;
        for (long k = 0; k < count; ++k) sum[j] += weight[k] * rows[k * n + j];
    }
}
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

ShortRows::ShortRows(const std::vector<long>& lengths) : length_(lengths), scale_(lengths.size(), 0.0f) {
    long end = 0;
    for (long n : lengths) start_.push_back(end), end += padded(n);
    number_.assign(size_t(end), 0);
}

void ShortRows::set_row(long i, const float* rows, const float* weights, long count) {
    const long n = length_[size_t(i)];
    std::vector<float> sum(size_t(n), 0.0f);
    add_up(rows, weights, count, n, sum.data());
    const float largest = largest_of(sum.data(), n);
    scale_[size_t(i)] = largest / 32767;
    std::int16_t* const to = number_.data() + start_[size_t(i)];
    if (largest > 0)
        round_to(to, sum.data(), 32767 / largest, n);
    else
        std::fill(to, to + n, std::int16_t(0));
}

double ShortRows::times(long i, const float* x) const {
    return double(scale_[size_t(i)]) * double(dot(number_.data() + start_[size_t(i)], x, padded(length_[size_t(i)])));
}

}  // namespace mossbed
