#include "core/contact/near_inverse.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include "core/base/point_bins.h"
#include "core/base/whole_loop.h"
#include "core/base/wide.h"

namespace mossbed {

Neighbours::Neighbours(const ContactPatches& p, const Flexibility& c) {
    PointBins bins(reach * std::sqrt(*std::max_element(p.size2.begin(), p.size2.end())));
    for (int i = 0; i < p.count(); ++i) bins.add(i, p.centre[size_t(i)]);
    for (int i = 0; i < p.count(); ++i) {
        auto add = [&](int j) {
            const Point d = p.centre[size_t(i)] - p.centre[size_t(j)];
            const double size2 = std::max(p.size2[size_t(i)], p.size2[size_t(j)]);
            if (dot(d, d) >= reach * reach * size2) return;
            patch_.push_back(j);
            next_.push_back(dot(d, d) < next * next * size2);
        };
        bins.any_near(p.centre[size_t(i)], [&](int j) {
            if (j != i) add(j);
            return false;
        });
        add(i);
        start_.push_back(int(patch_.size()));
        block_.push_back(block_.back() + long(size(i)) * (size(i) + 1) / 2);
    }
    among_.resize(size_t(block_.back()));
    for_each_whole(0, p.count(), [&](long at) {
        const int i = int(at);
        float* to = among_.data() + block_[size_t(i)];
        for (int k = 0; k < size(i); ++k)
            for (int l = 0; l <= k; ++l) {
                const int row = of(i)[k], col = of(i)[l];
                *to++ = (c.first(row, col) + c.first(col, row)) / 2;
            }
    });
}

namespace {

constexpr int lanes = 8;
struct Eight {
    std::array<float, lanes> of{};
};
// Not by value: what cannot hold them in one register would pass them otherwise.
inline __attribute__((always_inline)) void load(const Eight& from, Floats& to) {
    std::memcpy(&to, from.of.data(), sizeof to);
}
inline __attribute__((always_inline)) void store(const Floats& from, Eight& to) {
    std::memcpy(to.of.data(), &from, sizeof from);
}
inline __attribute__((always_inline)) void subtract(const Eight& a, const Eight& b, Floats& from) {
    Floats x, y;
    load(a, x), load(b, y);
    from -= x * y;
}

// The last rows of the inverses of eight matrices of order m at once, each by rows up to the diagonal: with A = L Lᵀ
// the last column of A⁻¹ is L⁻ᵀ e / l, e the last unit vector and l the last of the diagonal. `bad`: not positive
// definite.
MOSSBED_WIDE void last_rows(int m, Eight* a, Eight* inverse, Eight* x, std::array<char, lanes>& bad) {
    auto row = [a](int i) { return a + long(i) * (i + 1) / 2; };
    Floats sum, pivot, by;
    for (int i = 0; i < m; ++i) {
        Eight* const own = row(i);
        load(own[i], pivot);
        for (int k = 0; k < i; ++k) {
            const Eight* const other = row(k);
            load(own[k], sum);
            for (int j = 0; j < k; ++j) subtract(own[j], other[j], sum);
            load(inverse[k], by);
            sum *= by;
            store(sum, own[k]);
            pivot -= sum * sum;
        }
        for (int q = 0; q < lanes; ++q) {
            const bool positive = pivot[q] > 0;
            bad[size_t(q)] |= !positive;
            inverse[i].of[size_t(q)] = positive ? 1 / std::sqrt(pivot[q]) : 0;
        }
    }
    load(inverse[m - 1], by);
    store(by * by, x[m - 1]);
    for (int j = m - 1; j-- > 0;) {
        sum = Floats{};
        for (int k = j + 1; k < m; ++k) subtract(row(k)[j], x[k], sum);
        load(inverse[j], by);
        store(sum * by, x[j]);
    }
}

}  // namespace

NearRows::NearRows(std::shared_ptr<const Neighbours> of)
    : of_(std::move(of)),
      whole_(size_t(of_->first(of_->count())), 0.0f),
      made_(size_t(of_->count())),
      busy_(made_.size()) {
    std::vector<Wanted> all;
    for (int i = 0; i < of_->count(); ++i) all.push_back({i, of_->size(i), whole_.data() + of_->first(i)});
    make(std::move(all), std::vector<char>(made_.size(), 1));
}

const float* NearRows::find(int i, const std::vector<char>& counts) const {
    const int *const from = of_->of(i), n = of_->size(i);
    for (const Row& r : made_[size_t(i)])
        if (std::equal(from, from + n, r.counts.begin(), [&](int j, char c) { return counts[size_t(j)] == c; }))
            return r.value.data();
    return nullptr;
}

std::vector<const float*> NearRows::rows(const std::vector<int>& patches, const std::vector<char>& counts) {
    std::vector<const float*> out(patches.size());
    std::vector<Wanted> wanted;
    std::vector<Row> fresh;
    std::vector<size_t> of_fresh;
    for (size_t k = 0; k < patches.size(); ++k) {
        const int i = patches[k], *const near = of_->of(i), n = of_->size(i);
        const auto many = int(std::count_if(near, near + n, [&](int j) { return counts[size_t(j)] != 0; }));
        if (many == n) {
            out[k] = whole(i);
            continue;
        }
        {
            const tbb::spin_mutex::scoped_lock lock(busy_[size_t(i)]);
            out[k] = find(i, counts);
        }
        if (out[k]) continue;
        Row row{std::vector<char>(size_t(n)), std::vector<float>(size_t(n), 0.0f)};
        for (int l = 0; l < n; ++l) row.counts[size_t(l)] = counts[size_t(near[l])];
        wanted.push_back({i, many, row.value.data()});
        fresh.push_back(std::move(row)), of_fresh.push_back(k);
    }
    make(std::move(wanted), counts);
    for (size_t f = 0; f < fresh.size(); ++f) {
        const int i = patches[of_fresh[f]];
        const tbb::spin_mutex::scoped_lock lock(busy_[size_t(i)]);
        const float*& to = out[of_fresh[f]] = find(i, counts);  // made by another meanwhile
        if (!to) to = made_[size_t(i)].emplace_back(std::move(fresh[f])).value.data();
    }
    return out;
}

void NearRows::make(std::vector<Wanted> wanted, const std::vector<char>& counts) const {
    // of one size side by side
    std::stable_sort(wanted.begin(), wanted.end(), [](const Wanted& a, const Wanted& b) { return a.size < b.size; });
    for_each_whole(0, (long(wanted.size()) + lanes - 1) / lanes, [&](long b) {
        const size_t first = size_t(b) * lanes;
        make_eight(&wanted[first], std::min<size_t>(lanes, wanted.size() - first), counts);
    });
}

void NearRows::make_eight(const Wanted* some, size_t many, const std::vector<char>& counts) const {
    const auto m = size_t(some[many - 1].size);  // the largest
    std::vector<Eight> memory(m * (m + 1) / 2 + 2 * m);
    Eight *const a = memory.data(), *const inverse = a + m * (m + 1) / 2, *const x = inverse + m;
    std::vector<int> places(lanes * m);  // in the row, of those that count
    for (size_t q = 0; q < lanes; ++q) {
        const size_t size = q < many ? size_t(some[q].size) : 0, before = m - size;
        for (size_t i = 0; i < before; ++i)
            a[i * (i + 3) / 2].of[q] = 1;  // smaller ones stand last, below a unit matrix
        if (size == 0) continue;
        const int i = some[q].patch;
        int* const at = places.data() + q * m;
        for (int k = 0, l = 0; k < of_->size(i); ++k)
            if (counts[size_t(of_->of(i)[k])]) at[l++] = k;
        for (size_t k = 0; k < size; ++k) {
            const float* const from = of_->among(i) + long(at[k]) * (at[k] + 1) / 2;
            Eight* const row = a + (before + k) * (before + k + 1) / 2 + before;
            for (size_t l = 0; l <= k; ++l) row[l].of[q] = from[at[l]];
        }
    }
    std::array<char, lanes> bad{};
    last_rows(int(m), a, inverse, x, bad);
    for (size_t q = 0; q < many; ++q) {
        const auto [i, size, to] = some[q];
        const int n = of_->size(i);
        if (bad[q])
            to[n - 1] = 1 / of_->among(i)[long(n) * (n + 1) / 2 - 1];
        else
            for (int k = 0; k < size; ++k) to[places[q * m + size_t(k)]] = x[int(m) - size + k].of[q];
    }
}

namespace {

MOSSBED_WIDE void sum_near(const Neighbours& near, const float* const* row, const char* counts, const float* of,
                           double* to) {
    for (int i = 0; i < near.count(); ++i) {
        if (!counts[i]) continue;
        const float* const by = row[i];
        const int *const at = near.of(i), n = near.size(i);
        float sum = 0;
#pragma omp simd reduction(+ : sum)
        for (int k = 0; k < n; ++k) sum += by[k] * of[at[k]];
        to[i] = double(sum);
    }
}

}  // namespace

NearInverse::NearInverse(std::shared_ptr<NearRows> rows)
    : rows_(std::move(rows)), row_(size_t(rows_->neighbours().count())), counts_(row_.size(), 1) {
    for (size_t i = 0; i < row_.size(); ++i) row_[i] = rows_->whole(int(i));
}

void NearInverse::restrict_to(const std::vector<char>& counts) {
    const Neighbours& near = rows_->neighbours();
    if (counts == counts_) return;
    std::vector<char> beside(counts.size(), 0);  // what changes; who is near is so both ways
    for (int i = 0; i < near.count(); ++i)
        if (counts[size_t(i)] != counts_[size_t(i)])
            for (int k = 0; k < near.size(i); ++k) beside[size_t(near.of(i)[k])] = 1;
    counts_ = counts;
    std::vector<int> anew;
    for (int i = 0; i < near.count(); ++i)
        if (counts_[size_t(i)] && beside[size_t(i)]) anew.push_back(i);
    const std::vector<const float*> made = rows_->rows(anew, counts_);
    for (size_t k = 0; k < anew.size(); ++k) row_[size_t(anew[k])] = made[k];
}

Eigen::VectorXd NearInverse::times(const Eigen::VectorXd& w) const {
    const Eigen::VectorXf v = w.cast<float>();
    Eigen::VectorXd out = Eigen::VectorXd::Zero(w.size());
    sum_near(rows_->neighbours(), row_.data(), counts_.data(), v.data(), out.data());
    return out;
}

}  // namespace mossbed
