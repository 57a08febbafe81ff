#include "core/contact/plate_flexibility.h"

#include <cstring>

#include "core/base/cache_lines.h"
#include "core/base/whole_loop.h"
#include "core/base/wide.h"
#include "core/plate/supernodes.h"

namespace mossbed {

namespace {

constexpr long lanes = sizeof(Floats) / sizeof(float);

// Each of `rows` sums of `width` columns that lie side by side.
MOSSBED_WIDE void sum_up(const int* start, const int* of, const float* weight, long rows, long width, const float* from,
                         float* to) {
    for (long i = 0; i < rows; ++i)
        for (long c = 0; c < width; c += lanes) {
            Floats sum{}, one;
            for (int k = start[i]; k < start[i + 1]; ++k) {
                std::memcpy(&one, from + long(of[k]) * width + c, sizeof one);
                sum += weight[k] * one;
            }
            std::memcpy(to + i * width + c, &sum, sizeof sum);
        }
}

}  // namespace

PlateFlexibility::PlateFlexibility(const ContactSystem& system)
    : supports_(system.supports), factor_(system.factor), unknowns_(system.of.count()) {
    if (!factor_.has_single()) return;
    std::vector<int> place(static_cast<size_t>(factor_.size()));
    for (int i = 0; i < factor_.size(); ++i) place[size_t(factor_.order()[i])] = i;
    const Supports::Rows &presses = supports_.pressed(), &sees = supports_.seen();
    // By unknowns what the supports have by supports.
    loads_.start.assign(place.size() + 1, 0);
    for (const Supports::Rows* rows : {&presses, &sees})
        for (int unknown : rows->row) ++loads_.start[size_t(place[size_t(unknown)]) + 1];
    for (size_t i = 0; i < place.size(); ++i) loads_.start[i + 1] += loads_.start[i];
    loads_.of.resize(presses.row.size() + sees.row.size()), loads_.weight.resize(loads_.of.size());
    std::vector<int> next(loads_.start);
    for (int j = 0; j < supports_.count(); ++j)
        for (const bool t : {false, true}) {
            const Supports::Rows& rows = t ? sees : presses;
            for (int k = rows.start[size_t(j)]; k < rows.start[size_t(j) + 1]; ++k) {
                const int at = next[size_t(place[size_t(rows.row[size_t(k)])])]++;
                loads_.of[size_t(at)] = 2 * j + t;
                loads_.weight[size_t(at)] = float(t ? -rows.weight[size_t(k)] : rows.weight[size_t(k)]);
            }
        }
    seen_.start = sees.start;
    for (int unknown : sees.row) seen_.of.push_back(place[size_t(unknown)]);
    seen_.weight.assign(sees.weight.begin(), sees.weight.end());
}

Eigen::MatrixXd PlateFlexibility::settlements(const Eigen::MatrixXd& r, const Eigen::MatrixXd& t) const {
    if (!factor_.has_single()) {
        Eigen::MatrixXd x = Eigen::MatrixXd::Zero(unknowns_, r.cols());
        supports_.add_pressing(r, 1, x);
        supports_.add_as_seen(t, -1, x);
        factor_.solve_in_place(x);
        return supports_.settlements(x);
    }
    const long n = r.rows(), columns = r.cols(), width = width_for<float>(columns), equations = factor_.size();
    Eigen::MatrixXd out(n, columns);
    for_each_whole(0, (columns + width - 1) / width, [&](long b) {
        const long first = b * width, some = std::min(width, columns - first);
        CacheLines<float> memory((2 * n + equations) * width);
        float *const forces = memory.data(), *const x = forces + 2 * n * width;
        for (long j = 0; j < n; ++j) {
            float *const to = forces + 2 * j * width, *const as_seen = to + width;
            for (long c = 0; c < some; ++c) to[c] = float(r(j, first + c)), as_seen[c] = float(t(j, first + c));
            for (long c = some; c < width; ++c) to[c] = as_seen[c] = 0;
        }
        sum_up(loads_.start.data(), loads_.of.data(), loads_.weight.data(), equations, width, forces, x);
        factor_.solve_in_single(x, width);
        sum_up(seen_.start.data(), seen_.of.data(), seen_.weight.data(), n, width, x, forces);
        for (long j = 0; j < n; ++j)
            for (long c = 0; c < some; ++c) out(j, first + c) = double(forces[j * width + c]);
    });
    return out;
}

}  // namespace mossbed
