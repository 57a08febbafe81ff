#include "core/base/short_matrix.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/base/wide.h"

namespace mossbed {

namespace {

constexpr long lanes = 8, together = 4 * lanes;
using Shorts [[gnu::vector_size(2 * lanes)]] = std::int16_t;
using Floats [[gnu::vector_size(4 * lanes)]] = float;

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

// sum: Σ weight_k · row_k of `count` rows that lie one after the other.
MOSSBED_WIDE void add_up(const float* rows, const float* weight, long count, long n, float* sum) {
    long j = 0;
    for (; j + together <= n; j += together) {
        Floats of[4] = {};
        for (long k = 0; k < count; ++k)
            for (int q = 0; q < 4; ++q) {
                Floats row;
                std::memcpy(&row, rows + k * n + j + q * lanes, sizeof row);
                of[q] += weight[k] * row;
            }
        std::memcpy(sum + j, of, sizeof of);
    }
    for (; j < n; ++j) {
        sum[j] = 0;
        for (long k = 0; k < count; ++k) sum[j] += weight[k] * rows[k * n + j];
    }
}
MOSSBED_WIDE float largest_of(const float* v, long n) {
    float largest = 0;
    for (long j = 0; j < n; ++j) largest = std::max(largest, std::abs(v[j]));
    return largest;
}
MOSSBED_WIDE void round_to(std::int16_t* __restrict to, const float* __restrict v, float by, long n) {
    for (long j = 0; j < n; ++j) to[j] = std::int16_t(v[j] * by + (v[j] < 0 ? -0.5f : 0.5f));
}

}  // namespace

ShortMatrix::ShortMatrix(long rows, long cols)
    : cols_(cols),
      stride_((cols + together - 1) / together * together),
      number_(size_t(rows * stride_), 0),
      scale_(size_t(rows), 0.0f) {}

void ShortMatrix::set_row(long i, const float* rows, const float* weights, long count) {
    std::vector<float> sum(size_t(cols_), 0.0f);
    add_up(rows, weights, count, cols_, sum.data());
    const float largest = largest_of(sum.data(), cols_);
    scale_[size_t(i)] = largest / 32767;
    std::int16_t* const to = number_.data() + i * stride_;
    if (largest > 0)
        round_to(to, sum.data(), 32767 / largest, cols_);
    else
        std::fill(to, to + cols_, std::int16_t(0));
}

void ShortMatrix::add_product(const Eigen::Ref<const Eigen::VectorXd>& x, Eigen::Ref<Eigen::VectorXd> out) const {
    const double scale = x.cwiseAbs().maxCoeff();
    if (!(scale > 0)) return;
    std::vector<float> in(size_t(stride_), 0.0f);
    for (long j = 0; j < cols_; ++j) in[size_t(j)] = float(x[j] / scale);
    tbb::parallel_for(tbb::blocked_range<long>(0, long(scale_.size()), 64), [&](const tbb::blocked_range<long>& rows) {
        for (long i = rows.begin(); i < rows.end(); ++i)
            out[i] += scale * double(scale_[size_t(i)]) * double(dot(number_.data() + i * stride_, in.data(), stride_));
    });
}

}  // namespace mossbed
