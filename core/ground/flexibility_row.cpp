#include "core/ground/flexibility_row.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <numeric>

#include "core/base/wide.h"

namespace mossbed {
namespace {

constexpr int block = 256;

template <class T>
struct Sources {
    const T *x, *y, *xx, *xy, *yy;
};

// What pairs of one patch and `n` sources have for every boundary: the distance² in plan, and of the sum S of their
// second moments −tr S / 2 and 3/2 d·S d.
template <class T, int most>
struct Pairs {
    T d2[most], spread[most], along[most];
};
template <class T, int most>
inline __attribute__((always_inline)) void look_at(int n, Sources<T> a, T x, T y, T xx, T xy, T yy, Pairs<T, most>& p) {
    for (int j = 0; j < n; ++j) {
        const T dx = a.x[j] - x, dy = a.y[j] - y;
        const T Sxx = a.xx[j] + xx, Sxy = a.xy[j] + xy, Syy = a.yy[j] + yy;
        p.d2[j] = dx * dx + dy * dy + T(1e-12);
        p.spread[j] = T(-0.5) * (Sxx + Syy);
        p.along[j] = T(1.5) * (Sxx * dx * dx + 2 * Sxy * dx * dy + Syy * dy * dy);
    }
}
// Adds to out (and again) the terms of one boundary. With s = ρ² and G = P s^(−1/2) + Q z² s^(−3/2) a pair of patches
// is G + ½ S : ∇∇G at their centres; the next term is below 0.1 % beyond near_factor.
template <bool both, class T, int most>
inline __attribute__((always_inline)) void add_terms(int n, const Pairs<T, most>& pairs, T z2, T P, T Q, T P2, T Q2,
                                                     T* __restrict out, T* __restrict again) {
    const T Qz = Q * z2;
    [[maybe_unused]] const T Qz2 = Q2 * z2;
    for (int j = 0; j < n; ++j) {
        const T inv = 1 / (pairs.d2[j] + z2), root = std::sqrt(inv), i3 = root * inv, i5 = i3 * inv;
        const T p = root + pairs.spread[j] * i3 + pairs.along[j] * i5;
        const T q = i3 + 3 * pairs.spread[j] * i5 + 5 * pairs.along[j] * i5 * inv;
        out[j] += P * p + Qz * q;
        if constexpr (both) again[j] += P2 * p + Qz2 * q;
    }
}

// Rows in single precision, as they are stored; lengths from the middle of the base.
using Far = Pairs<float, block>;
MOSSBED_WIDE void look_far(int n, Sources<float> a, float x, float y, float xx, float xy, float yy, Far& pairs) {
    look_at(n, a, x, y, xx, xy, yy, pairs);
}
MOSSBED_WIDE void add_far(int n, const Far& pairs, float z2, float P, float Q, float* __restrict out) {
    add_terms<false>(n, pairs, z2, P, Q, 0.0f, 0.0f, out, static_cast<float*>(nullptr));
}
MOSSBED_WIDE void add_far_both(int n, const Far& pairs, float z2, float P, float Q, float P2, float Q2,
                               float* __restrict out, float* __restrict again) {
    add_terms<true>(n, pairs, z2, P, Q, P2, Q2, out, again);
}

// One pair of patches, and one boundary.
void add_pair(Point d, const std::array<double, 3>& S, double z2, double P, double Q, double P2, double Q2, double& sum,
              double& again) {
    Pairs<double, 1> one;
    look_at(1, Sources<double>{&d.x, &d.y, &S[0], &S[1], &S[2]}, 0.0, 0.0, 0.0, 0.0, 0.0, one);
    add_terms<true>(1, one, z2, P, Q, P2, Q2, &sum, &again);
}
// The mean over four quarters of one patch by four of another: x, y, xx, xy, yy of the four of each in turn.
MOSSBED_WIDE void add_quarters(const double* of, const double* by, double z2, double P, double Q, double P2, double Q2,
                               bool both, double& sum, double& again) {
    const Sources<double> four{by, by + 4, by + 8, by + 12, by + 16};
    double first[4] = {}, second[4] = {};
    for (int q = 0; q < 4; ++q) {
        Pairs<double, 4> pairs;
        look_at(4, four, of[q], of[4 + q], of[8 + q], of[12 + q], of[16 + q], pairs);
        if (both)
            add_terms<true>(4, pairs, z2, P, Q, P2, Q2, first, second);
        else
            add_terms<false>(4, pairs, z2, P, Q, P2, Q2, first, static_cast<double*>(nullptr));
    }
    sum += (first[0] + first[1] + first[2] + first[3]) / 16;
    again += (second[0] + second[1] + second[2] + second[3]) / 16;
}

// c ± √f·(√λ1 e1 ± √λ2 e2), λ and e of the second moments over area: with f = 1 the four points of Gauss over the
// rectangle of these moments, with f = ¾ the middles of its quarters.
std::array<Point, 4> four_points(Point c, const std::array<double, 3>& S, double f) {
    const double half = (S[0] + S[2]) / 2, off = std::hypot((S[0] - S[2]) / 2, S[1]);
    const double turn = off > 1e-9 * half ? 0.5 * std::atan2(S[1], (S[0] - S[2]) / 2) : 0;
    const Point along{std::cos(turn), std::sin(turn)};
    const Point u = std::sqrt(f * std::max(0.0, half + off)) * along,
                v = std::sqrt(f * std::max(0.0, half - off)) * left_of(along);
    return {c - u - v, c + u - v, c + u + v, c - u + v};
}

constexpr int parts_each_way = 3;         // of a patch of many nodes
constexpr double much_smaller = 1.0 / 4;  // size2 over its: under such a patch its mean goes by all nodes' shares

// The shares of a patch's nodes, those in each part of its box together.
std::vector<ContactPatches::Share> gathered(const ContactPatches& patches, int patch) {
    const auto& shares = patches.shares[size_t(patch)];
    Box box;
    for (const auto& [from, to] : patches.edges[size_t(patch)]) box.add(from);
    auto place = [](double x, double low, double width) {
        return width > 0 ? std::clamp(int(parts_each_way * (x - low) / width), 0, parts_each_way - 1) : 0;
    };
    auto part_of = [&](Point p) {
        return size_t(parts_each_way * place(p.y, box.low.y, box.height()) + place(p.x, box.low.x, box.width()));
    };
    std::array<ContactPatches::Share, parts_each_way * parts_each_way> parts{};
    for (const auto& share : shares) {
        ContactPatches::Share& part = parts[part_of(share.at)];
        part.area += share.area, part.at = part.at + share.area * share.at;
    }
    for (auto& part : parts)
        if (part.area > 0) part.at = (1 / part.area) * part.at;
    for (const auto& share : shares) {
        ContactPatches::Share& part = parts[part_of(share.at)];
        const double w = share.area / part.area;
        const Point d = share.at - part.at;
        const std::array off{d.x * d.x, d.x * d.y, d.y * d.y};
        for (size_t i = 0; i < off.size(); ++i) part.spread[i] += w * (share.spread[i] + off[i]);
    }
    std::vector<ContactPatches::Share> out;
    std::copy_if(parts.begin(), parts.end(), std::back_inserter(out), [](const auto& part) { return part.area > 0; });
    return out;
}

void add_points(const std::vector<ContactPatches::Share>& shares, WeightedPoints& to) {
    for (const auto& share : shares)
        for (Point p : four_points(share.at, share.spread, 1)) to.add(p, share.area);
}

// Points and weights that take the mean over a patch of what has a kink in it: two by two of Gauss over each piece of
// it, or, where several nodes share it, over the share of each.
WeightedPoints points_over(const ContactPatches& patches, int patch) {
    WeightedPoints out;
    const auto& pieces = patches.pieces[size_t(patch)];
    if (patches.nodes[size_t(patch)].size() <= 2) {
        const double g = 0.5 / std::sqrt(3.0);
        for (const auto& q : pieces)
            for (double u : {0.5 - g, 0.5 + g})
                for (double v : {0.5 - g, 0.5 + g}) {
                    const Point du = (1 - v) * (q[1] - q[0]) + v * (q[2] - q[3]),
                                dv = (1 - u) * (q[3] - q[0]) + u * (q[2] - q[1]);
                    out.add((1 - u) * (1 - v) * q[0] + u * (1 - v) * q[1] + u * v * q[2] + (1 - u) * v * q[3],
                            std::abs(cross(du, dv)));
                }
    } else {
        add_points(patches.shares[size_t(patch)], out);
    }
    out.make_mean();
    return out;
}
// Of a patch of many nodes, as seen from another not much smaller; else none.
WeightedPoints few_points_over(const ContactPatches& patches, int patch) {
    WeightedPoints out;
    if (patches.nodes[size_t(patch)].size() <= parts_each_way * parts_each_way) return out;
    add_points(gathered(patches, patch), out);
    out.make_mean();
    return out;
}

}  // namespace

LoadedArea under_patch(const ContactPatches& patches, int j, Point p, double z) {
    const size_t k = size_t(j);
    const Point d = p - patches.centre[k];
    const double s = dot(d, d) + z * z;
    LoadedArea out;
    if (s > near_factor * patches.size2[k]) {
        const auto& S = patches.spread[k];
        const double inv = 1 / s, root = std::sqrt(inv), i3 = root * inv, i5 = i3 * inv, tr = S[0] + S[2];
        const double quad = 2 * (S[0] * d.x * d.x + 2 * S[1] * d.x * d.y + S[2] * d.y * d.y);
        out.inverse = root - 0.5 * tr * i3 + 0.75 * quad * i5;
        out.cubed = z * z * (i3 - 1.5 * tr * i5 + 3.75 * quad * i5 * inv);
        return out;
    }
    for (const auto& [a, b] : patches.edges[k]) add_edge(out, a, b, p, z);
    out.inverse /= patches.outline_area[k], out.cubed /= patches.outline_area[k];
    return out;
}

RowMaker::RowMaker(const ContactPatches& patches)
    : patches_(patches), points_(size_t(patches.count())), few_points_(points_.size()), quarters_(20 * points_.size()) {
    tbb::parallel_for(size_t(0), points_.size(), [&](size_t k) {
        points_[k] = points_over(patches, int(k)), few_points_[k] = few_points_over(patches, int(k));
        const auto quarters = four_points(patches.centre[k], patches.spread[k], 0.75);
        double* to = &quarters_[20 * k];
        for (auto coordinate : {&Point::x, &Point::y})
            for (Point q : quarters) *to++ = q.*coordinate;
        for (double moment : patches.spread[k])
            for (int q = 0; q < 4; ++q) *to++ = moment / 4;
    });
    Box box;
    for (size_t k = 0; k < points_.size(); ++k) {
        box.add(patches.centre[k]);
        largest2_ = std::max(largest2_, patches.size2[k]);
    }
    middle_ = {std::round(box.middle().x), std::round(box.middle().y)};
    std::vector<int> number(points_.size());
    std::iota(number.begin(), number.end(), 0);
    all_ = loaded(number);
}

std::unique_ptr<const RowMaker::Loaded> RowMaker::loaded(const std::vector<int>& number) const {
    auto out = std::make_unique<Loaded>();
    out->number = number;
    out->bins = PointBins(std::max(std::sqrt(near_factor * largest2_), 1e-6));
    for (int k : number) {
        const Point c = patches_.centre[size_t(k)] - middle_;
        const auto& S = patches_.spread[size_t(k)];
        out->x.push_back(float(c.x)), out->y.push_back(float(c.y));
        out->xx.push_back(float(S[0])), out->xy.push_back(float(S[1])), out->yy.push_back(float(S[2]));
        out->bins.add(k, patches_.centre[size_t(k)]);
    }
    return out;
}

RowMaker::Made::Made(const RowMaker& rows, const std::vector<int>& among) {
    std::vector<int> others;
    for (int k = 0; k < int(among.size()); ++k) {
        const int there = among[size_t(k)];
        if (there < 0)
            others.push_back(k);
        else if (k > 0 && there > 0 && among[size_t(k) - 1] == there - 1)
            ++runs_.back().count;
        else
            runs_.push_back({k, there, 1});
    }
    others_ = rows.loaded(others);
}

void RowMaker::row(int i, const RowTerms& t, float* out, float* again) const {
    set_far_pairs(i, t, *all_, out, again);
    set_near_pairs(i, t, *all_, out, again);
}

void RowMaker::row(int i, const RowTerms& t, float* out, float* again, const Made& made, const float* was,
                   const float* was_again) const {
    for (const Made::Run& r : made.runs_) {
        std::copy_n(was + r.among, r.count, out + r.from);
        if (again) std::copy_n(was_again + r.among, r.count, again + r.from);
    }
    const Loaded& others = *made.others_;
    std::vector<float> first(others.number.size()), second(again ? first.size() : 0);
    set_far_pairs(i, t, others, first.data(), again ? second.data() : nullptr);
    for (size_t k = 0; k < first.size(); ++k) {
        out[others.number[k]] = first[k];
        if (again) again[others.number[k]] = second[k];
    }
    set_near_pairs(i, t, others, out, again);
}

// In the order of `by`.
void RowMaker::set_far_pairs(int i, const RowTerms& t, const Loaded& by, float* out, float* again) const {
    const int n = int(by.number.size());
    const Point c = patches_.centre[size_t(i)] - middle_;
    const auto& S = patches_.spread[size_t(i)];
    std::fill_n(out, n, 0.0f);
    if (again) std::fill_n(again, n, 0.0f);
    // Coefficients of order one: the flexibility of a soft clay would be small for single precision's comfort.
    double largest = 0;
    for (size_t k = 0; k < t.z.size(); ++k) largest = std::max({largest, std::abs(t.P[k]), std::abs(t.P_again[k])});
    const double scale = largest > 0 ? largest : 1;
    for (int from = 0; from < n; from += block) {
        const int m = std::min(block, n - from);
        const Sources<float> a{&by.x[size_t(from)], &by.y[size_t(from)], &by.xx[size_t(from)], &by.xy[size_t(from)],
                               &by.yy[size_t(from)]};
        Far pairs;
        look_far(m, a, float(c.x), float(c.y), float(S[0]), float(S[1]), float(S[2]), pairs);
        for (size_t k = 0; k < t.z.size(); ++k) {
            const float z2 = float(t.z[k] * t.z[k]), P = float(t.P[k] / scale), Q = float(t.Q[k] / scale);
            if (again)
                add_far_both(m, pairs, z2, P, Q, float(t.P_again[k] / scale), float(t.Q_again[k] / scale), out + from,
                             again + from);
            else
                add_far(m, pairs, z2, P, Q, out + from);
        }
    }
    for (int j = 0; j < n; ++j) out[j] *= float(scale);
    if (again)
        for (int j = 0; j < n; ++j) again[j] *= float(scale);
}

// Near by: exactly where they touch, by quarters of both a little further off. By their numbers.
void RowMaker::set_near_pairs(int i, const RowTerms& t, const Loaded& by, float* out, float* again) const {
    const double near_z2 = near_factor * largest2_;
    if (std::all_of(t.z.begin(), t.z.end(), [&](double z) { return z * z > near_z2; }))
        return;  // so deep, none is near
    const size_t I = size_t(i);
    by.bins.any_near(patches_.centre[I], [&](int j) {
        const size_t J = size_t(j);
        const Point d = patches_.centre[J] - patches_.centre[I];
        const double r2 = dot(d, d), size2 = std::max(patches_.size2[I], patches_.size2[J]);
        if (!(r2 < near_factor * size2)) return false;
        const std::array<double, 3>&own = patches_.spread[I], &other = patches_.spread[J];
        const std::array both{own[0] + other[0], own[1] + other[1], own[2] + other[2]};
        const bool few = few_points_[I].count() > 0 && patches_.size2[J] > much_smaller * patches_.size2[I];
        double sum = 0, sum_again = 0;
        for (size_t k = 0; k < t.z.size(); ++k) {
            const double z = t.z[k], s = r2 + z * z;
            if (s < touching_factor * size2) {
                LoadedArea mean = seen_from(few ? few_points_[I] : points_[I], patches_.edges[J], z);
                mean.inverse /= patches_.outline_area[J], mean.cubed /= patches_.outline_area[J];
                sum += t.P[k] * mean.inverse + t.Q[k] * mean.cubed;
                if (again) sum_again += t.P_again[k] * mean.inverse + t.Q_again[k] * mean.cubed;
                continue;
            }
            if (s > near_factor * size2) {  // deep enough to be far
                add_pair(d, both, z * z, t.P[k], t.Q[k], t.P_again[k], t.Q_again[k], sum, sum_again);
                continue;
            }
            add_quarters(&quarters_[20 * I], &quarters_[20 * J], z * z, t.P[k], t.Q[k], t.P_again[k], t.Q_again[k],
                         again != nullptr, sum, sum_again);
        }
        out[j] = float(sum);
        if (again) again[j] = float(sum_again);
        return false;
    });
}

}  // namespace mossbed
