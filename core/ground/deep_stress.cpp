#include "core/ground/deep_stress.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <iterator>
#include <numbers>
#include <span>
#include <utility>

#include "core/base/wide.h"
#include "core/ground/flexibility_row.h"

namespace mossbed {
namespace {

struct Seen {
    const float *x, *y, *xx, *xy, *yy;
};
// With s = ρ² and f = c s^(−5/2) a pair is f + ½ S : ∇∇f at the centres, S the sum of both second moments.
MOSSBED_WIDE void stress_of(int n, Seen a, float x, float y, float xx, float xy, float yy, float z2, float c,
                            float* __restrict out) {
    for (int j = 0; j < n; ++j) {
        const float dx = a.x[j] - x, dy = a.y[j] - y;
        const float Sxx = a.xx[j] + xx, Sxy = a.xy[j] + xy, Syy = a.yy[j] + yy;
        const float inv = 1 / (dx * dx + dy * dy + z2), f = c * std::sqrt(inv) * inv * inv;
        const float along = Sxx * dx * dx + 2 * Sxy * dx * dy + Syy * dy * dy;
        out[j] = f * (1 + inv * (-2.5f * (Sxx + Syy) + 17.5f * inv * along));
    }
}

// The sum of `count` rows of m numbers that lie one after the other, each times its weight, added to `to`.
MOSSBED_WIDE void add_rows(const double* rows, const double* weight, int count, long m, double* __restrict to) {
    for (; count > 0; count -= 2, weight += 2, rows += 2 * m)
        for (long q = 0; q < m; ++q) to[q] += weight[0] * rows[q] + weight[1] * rows[m + q];
}

// What each of the values at −2, −1, … 3 counts at 0 ≤ u ≤ 1, by the polynomial through all of them, and in its slope
// and second derivative there.
struct Lagrange {
    explicit Lagrange(double u) {
        for (int k = 0; k < across; ++k) {
            double v = 1, d = 0, dd = 0;
            for (int l = 0; l < across; ++l) {
                if (l == k) continue;
                const double per = 1.0 / (k - l), by = (u + 2 - l) * per;
                dd = dd * by + 2 * d * per;
                d = d * by + v * per;
                v *= by;
            }
            value[size_t(k)] = v, slope[size_t(k)] = d, second[size_t(k)] = dd;
        }
    }
    static constexpr int across = 6;
    std::array<double, across> value, slope, second;
};

}  // namespace

void DistantLoads::add(Point at, const std::array<double, 3>& spread) {
    x_.push_back(float(at.x)), y_.push_back(float(at.y));
    xx_.push_back(float(spread[0])), xy_.push_back(float(spread[1])), yy_.push_back(float(spread[2]));
}

void DistantLoads::stress(Point at, const std::array<double, 3>& spread, double z, float* out) const {
    stress_of(count(), {x_.data(), y_.data(), xx_.data(), xy_.data(), yy_.data()}, float(at.x), float(at.y),
              float(spread[0]), float(spread[1]), float(spread[2]), float(z * z),
              float(3 * z * z * z / (2 * std::numbers::pi)), out);
}

double DeepStress::from(const ContactPatches& patches) {
    double largest2 = 0, area = 0;
    for (double s : patches.size2) largest2 = std::max(largest2, s);
    for (double a : patches.area) area += a;
    return std::max({0.01, std::sqrt(near_factor * largest2), std::sqrt(area / std::max(1, patches.count())) / apart});
}

DeepStress::DeepStress(const ContactPatches& patches, const std::vector<std::vector<Depths>>& below, double most,
                       const Progress& progress) {
    const int n = patches.count();
    double top = 1e300, bottom = 0;
    for (const auto& sublayers : below)
        for (const Depths& d : sublayers) top = std::min(top, d.z0), bottom = std::max(bottom, d.z1);
    window_of_.assign(size_t(n) + 1, 0), below_of_.assign(size_t(n) + 1, 0);
    if (bottom == 0) return;
    level_.push_back(top);
    while (level_.back() < bottom || level_.size() < levels) level_.push_back(further * level_.back());
    level_.push_back(further * level_.back());
    // Per patch its levels, and in each sublayer what they count.
    for (int i = 0; i < n; ++i) below_of_[size_t(i) + 1] = below_of_[size_t(i)] + long(below[size_t(i)].size());
    below_.resize(size_t(below_of_.back()));
    std::vector<int> first(size_t(n), 0), last(size_t(n), -1);  // none
    tbb::parallel_for(0, n, [&](int i) {
        int &low = first[size_t(i)], &high = last[size_t(i)];
        const std::span of(below_.begin() + below_of_[size_t(i)], below_.begin() + below_of_[size_t(i) + 1]);
        for (size_t k = 0; k < of.size(); ++k) {
            of[k] = weigh(below[size_t(i)][k]);
            low = high < 0 ? of[k].first : std::min(low, of[k].first);
            high = std::max(high, of[k].first + levels - 1);
        }
        for (Below& b : of) b.first -= low;
    });
    for (int i = 0; i < n; ++i)
        window_of_[size_t(i) + 1] = window_of_[size_t(i)] + (last[size_t(i)] - first[size_t(i)] + 1);
    find_stations(patches, first, last, progress);
    const Point middle = box_of(patches.centre).middle();
    for (Station& s : station_) s.at = s.at - middle;
    for (int j = 0; j < n; ++j) loads_.add(patches.centre[size_t(j)] - middle, patches.spread[size_t(j)]);
    if (double(stations()) * n > most) return;
    rows_.resize(stations(), n);
    tbb::parallel_for(0L, stations(), [&](long k) {
        if (!progress.stopped()) row(k, rows_.row(k).data());
    });
    progress.end_if_stopped();
}

DeepStress::Below DeepStress::weigh(Depths d) const {
    const double z = (d.z0 + d.z1) / 2, half = (d.z1 - d.z0) / 2;
    const int above = int(std::upper_bound(level_.begin(), level_.end(), z) - level_.begin()) - 1;
    Below b{std::clamp(above - 1, 0, int(level_.size()) - levels), {}};
    const double* const level = &level_[size_t(b.first)];
    const double step = std::log(further), gauss = std::sqrt(0.6);
    // z·Δσz goes by 1/z below a point load and by z below a wide one: as smooth over the logarithm of z in both.
    for (const auto& [at, share] :
         {std::pair{z - gauss * half, 5.0 / 18}, {z, 8.0 / 18}, {z + gauss * half, 5.0 / 18}}) {
        const double u = std::log(at / level[0]) / step;
        for (int k = 0; k < levels; ++k) {
            double weight = share * level[k] / at;
            for (int l = 0; l < levels; ++l)
                if (l != k) weight *= (u - l) / (k - l);
            b.weight[size_t(k)] += weight;
        }
    }
    return b;
}

void DeepStress::find_stations(const ContactPatches& patches, const std::vector<int>& first,
                               const std::vector<int>& last, const Progress& progress) {
    using Place = std::pair<long, long>;  // row, column
    const int n = patches.count();
    window_.resize(size_t(window_of_.back()));
    std::vector<std::vector<Place>> of_level(level_.size());
    // Of the patches that a level counts for: the window, the patch, the cell it lies in, its width, the place there.
    const auto each = [&](int level, auto&& with) {
        const double h = apart * level_[size_t(level)];
        for (int i = 0; i < n; ++i) {
            if (level < first[size_t(i)] || level > last[size_t(i)]) continue;
            const Point c = (1 / h) * patches.centre[size_t(i)];
            const Place at{long(std::floor(c.y)), long(std::floor(c.x))};
            with(size_t(window_of_[size_t(i)] + level - first[size_t(i)]), i, at, h,
                 Point{c.x - double(at.second), c.y - double(at.first)});
        }
    };
    tbb::parallel_for(0, int(level_.size()), [&](int level) {
        if (progress.stopped()) return;
        std::vector<Place> cells, wide;
        each(level, [&](size_t, int, Place at, double, Point) { cells.push_back(at); });
        std::sort(cells.begin(), cells.end());
        for (const auto& [r, c] : cells)
            for (long k = c - 2; k < c + 4; ++k)
                if (wide.empty() || wide.back() < Place{r, k}) wide.push_back({r, k});
        for (long by = -2; by < 4; ++by) {
            std::vector<Place> moved(wide), both;
            for (Place& p : moved) p.first += by;
            std::vector<Place>& all = of_level[size_t(level)];
            std::set_union(all.begin(), all.end(), moved.begin(), moved.end(), std::back_inserter(both));
            all = std::move(both);
        }
    });
    progress.end_if_stopped();
    std::vector<long> before{0};
    for (size_t level = 0; level < level_.size(); ++level) {
        const double h = apart * level_[level];
        for (const auto& [r, c] : of_level[level]) station_.push_back({{h * double(c), h * double(r)}, level_[level]});
        before.push_back(long(station_.size()));
    }
    // The mean over a patch: what its second moments make of the polynomials.
    tbb::parallel_for(0, int(level_.size()), [&](int level) {
        if (progress.stopped()) return;
        const std::vector<Place>& all = of_level[size_t(level)];
        each(level, [&](size_t k, int i, Place at, double h, Point in) {
            const Lagrange x(in.x), y(in.y);
            const auto& S = patches.spread[size_t(i)];
            for (size_t r = 0; r < across; ++r) {
                const Place row{at.first + long(r) - 2, at.second - 2};
                window_[k].station[r] =
                    before[size_t(level)] + (std::lower_bound(all.begin(), all.end(), row) - all.begin());
                for (size_t c = 0; c < across; ++c)
                    window_[k].weight[r][c] = x.value[c] * y.value[r] +
                                              (S[0] * x.second[c] * y.value[r] + 2 * S[1] * x.slope[c] * y.slope[r] +
                                               S[2] * x.value[c] * y.second[r]) /
                                                  (2 * h * h);
            }
        });
    });
    progress.end_if_stopped();
}

DeepStress::Stresses DeepStress::at_stations(const Eigen::MatrixXd& forces, const Progress& progress) const {
    Eigen::MatrixXd out;
    if (rows_.rows() == stations()) {
        multiply(rows_, forces, out);
        return out;
    }
    out.resize(stations(), forces.cols());
    constexpr long together = 1024;
    for (long begin = 0; begin < stations(); begin += together) {
        RowMatrix rows(std::min(together, stations() - begin), loads_.count());
        tbb::parallel_for(0L, rows.rows(), [&](long k) {
            if (!progress.stopped()) row(begin + k, rows.row(k).data());
        });
        progress.end_if_stopped();
        Eigen::MatrixXd some;
        multiply(rows, forces, some);
        out.middleRows(begin, rows.rows()) = some;
    }
    return out;
}

DeepStress::Stresses DeepStress::below(int patch, const Stresses& at_stations) const {
    const long window = window_of_[size_t(patch)], windows = window_of_[size_t(patch) + 1] - window,
               from = below_of_[size_t(patch)], count = below_of_[size_t(patch) + 1] - from;
    const long m = at_stations.cols();
    Stresses on_levels(windows, m), out(count, m);
    for (long l = 0; l < windows; ++l) {
        const Window& w = window_[size_t(window + l)];
        double* const to = on_levels.row(l).data();
        std::fill_n(to, m, 0.0);
        for (size_t r = 0; r < across; ++r)
            add_rows(at_stations.row(w.station[r]).data(), w.weight[r].data(), across, m, to);
    }
    for (long k = 0; k < count; ++k) {
        const Below& b = below_[size_t(from + k)];
        std::fill_n(out.row(k).data(), m, 0.0);
        add_rows(on_levels.row(b.first).data(), b.weight.data(), levels, m, out.row(k).data());
    }
    return out;
}

}  // namespace mossbed
