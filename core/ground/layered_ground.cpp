#include "core/ground/layered_ground.h"

#include <tbb/parallel_for.h>

#include <mutex>
#include <numbers>
#include <numeric>

#include "core/base/polygons.h"
#include "core/ground/flexibility_row.h"

namespace mossbed {

using std::numbers::pi;

double IndexLaw::strain(double added) const {
    const double last = first + std::max(added, 0.0);
    return last <= yields ? before * std::log(last / first) : at_yield + after * std::log(last / yields);
}

double IndexLaw::rate(double added) const {
    const double last = first + std::max(added, 0.0);
    return (last > yields ? after : before) / last;
}

IndexLaw Sublayer::law(double removed, const Stratum& s) const {
    IndexLaw law;
    const double now = std::max(effective, 1e-3);
    law.first = std::max(now - relief * removed, 0.01 * now);  // after excavation
    law.yields = std::max(s.preconsolidation.value_or(0), now);
    const double per = 1 / ((1 + *s.void_ratio) * std::numbers::ln10);
    law.after = per * *s.compression_index;
    law.before = per * s.recompression_index.value_or(*s.compression_index);
    law.at_yield = law.before * std::log(law.yields / law.first);
    return law;
}

double Sublayer::strain(double removed, double added, const Stratum& s) const {
    return by_index ? law(removed, s).strain(added) : added / E;
}

LayeredGround::LayeredGround(std::shared_ptr<const Model> model, std::vector<Polygon> base,
                             std::vector<Point> looked_at)
    : model_(std::move(model)),
      ground_(model_->ground),
      profile_(ground_),
      base_(std::move(base)),
      looked_at_(std::move(looked_at)) {
    for (const Polygon& b : base_)
        plain_base_.push_back(without_small_corners(b, 1e-5 * std::abs(signed_area(base_[0]))));
    founding_ = founding_level(*model_);
    const Box box = box_of(base_.at(0));
    width_ = std::min(box.width(), box.height());
    if (ground_.settlement_method == SettlementMethod::one_dimensional)
        for (const Stratum& s : ground_.strata) has_index_ |= s.compression_index && s.void_ratio;
    limit_.level =
        ground_.rigid_base_level ? std::max(*ground_.rigid_base_level, profile_.deepest()) : profile_.deepest();
}

SoilColumn LayeredGround::column(Point p) const {
    SoilColumn c = profile_.at(p);
    if (!c.layers.empty() && c.layers.front().top < founding_) c.layers.front().top = founding_;
    return c;
}

double LayeredGround::removed_effective(Point p) const {
    return std::max(0.0, column(p).effective_stress(founding_, ground_.strata));
}
double LayeredGround::removed_total(Point p) const {
    return std::max(0.0, column(p).total_stress(founding_, ground_.strata));
}

double LayeredGround::base_stress(Point p, double z) const {
    double sum = 0;
    for (const Polygon& b : plain_base_) sum += stress_below(b, p, z);
    return sum;
}

std::vector<Sublayer> LayeredGround::sublayers(Point p, double pressure) const {
    std::vector<Sublayer> out;
    const SoilColumn c = column(p);
    const bool confined = ground_.settlement_method == SettlementMethod::one_dimensional;
    const double removed = ground_.excavation_relief ? std::max(0.0, c.effective_stress(founding_, ground_.strata)) : 0;
    for (const SoilLayer& l : c.layers) {
        const double top = std::min(l.top, founding_), bottom = std::max(l.bottom, limit_.level);
        if (top - bottom <= 1e-9) continue;
        const Stratum& s = ground_.strata[size_t(l.stratum)];
        Sublayer sub;
        sub.stratum = l.stratum, sub.place = l.place;
        sub.z0 = founding_ - top, sub.z1 = founding_ - bottom;
        sub.E = 1000 * s.E, sub.E_reload = 1000 * s.E_reload.value_or(s.E), sub.nu = s.nu;
        if (confined) {
            const double f = (1 - s.nu) / ((1 + s.nu) * (1 - 2 * s.nu));
            sub.E *= f, sub.E_reload *= f, sub.nu = 0;
        }
        if (!confined || !s.compression_index || !s.void_ratio) {
            out.push_back(sub);
            continue;
        }
        const int n = int(std::ceil((top - bottom) / std::min(0.5, width_ / 20) - 1e-9));
        const double z0 = sub.z0, h = (sub.z1 - sub.z0) / n;
        for (int k = 0; k < n; ++k) {
            sub.z0 = z0 + k * h, sub.z1 = z0 + (k + 1) * h;
            sub.by_index = true;
            const double z = (sub.z0 + sub.z1) / 2, unit_stress = base_stress(p, z);
            sub.effective = c.effective_stress(founding_ - z, ground_.strata);
            sub.relief = ground_.excavation_relief ? unit_stress : 0;
            const double added = std::max(pressure, 1.0) * std::max(unit_stress, 1e-3);
            sub.E = sub.E_reload = added / sub.strain(removed, added, s);
            out.push_back(sub);
        }
    }
    return out;
}

namespace {

// Compressions from the integrals at every boundary (one more than sublayers), kPa times them.
std::vector<LayerShare> compress(const std::vector<Sublayer>& subs, const std::vector<Stratum>& strata, double founding,
                                 double removed, const std::vector<LoadedArea>& first,
                                 const std::vector<LoadedArea>& again) {
    std::vector<LayerShare> out;
    for (size_t k = 0; k < subs.size(); ++k) {
        const Sublayer& s = subs[k];
        auto between = [&](const std::vector<LoadedArea>& g, double nu) {
            return 2 * (1 - nu) * (g[k].inverse - g[k + 1].inverse) + g[k].cubed - g[k + 1].cubed;
        };
        double by;
        if (s.by_index) {
            const double h = s.z1 - s.z0, added = (between(first, 0) + between(again, 0)) / (2 * pi * h);
            by = h * s.strain(removed, added, strata[size_t(s.stratum)]);
        } else {
            const double f = (1 + s.nu) / (2 * pi);
            by = f / s.E * between(first, s.nu) + f / s.E_reload * between(again, s.nu);
        }
        if (out.empty() || out.back().place != s.place)
            out.push_back({s.stratum, s.place, founding - s.z0, founding - s.z1, 0});
        out.back().bottom = founding - s.z1;
        out.back().settlement += by;
    }
    return out;
}

std::vector<double> boundaries(const std::vector<Sublayer>& subs) {
    std::vector<double> z;
    z.reserve(subs.size() + 1);
    for (const Sublayer& s : subs) z.push_back(s.z0);
    if (!subs.empty()) z.push_back(subs.back().z1);
    return z;
}

// What the flexibility's rows are made of, see flexibility_row.h.
RowTerms terms_of(const std::vector<Sublayer>& subs) {
    RowTerms t;
    t.z = boundaries(subs);
    const size_t n = t.z.size();
    t.P.assign(n, 0), t.Q.assign(n, 0), t.P_again.assign(n, 0), t.Q_again.assign(n, 0);
    for (size_t k = 0; k < subs.size(); ++k) {
        const Sublayer& s = subs[k];
        const double f = (1 + s.nu) / (2 * pi);
        for (auto [at, sign] : {std::pair{k, 1.0}, std::pair{k + 1, -1.0}}) {
            t.P[at] += sign * 2 * (1 - s.nu) * f / s.E, t.Q[at] += sign * f / s.E;
            t.P_again[at] += sign * 2 * (1 - s.nu) * f / s.E_reload, t.Q_again[at] += sign * f / s.E_reload;
        }
    }
    return t;
}

}  // namespace

std::vector<LayerShare> LayeredGround::settle_evenly(Point p, double pressure) const {
    const std::vector<Sublayer> subs = sublayers(p, pressure);
    if (subs.empty()) return {};
    const double removed = ground_.excavation_relief ? removed_effective(p) : 0;
    const double again = std::min(pressure, removed), beyond = pressure - again;
    std::vector<LoadedArea> a, b;
    for (double z : boundaries(subs)) {
        LoadedArea sum;
        for (const Polygon& ring : base_) {
            const LoadedArea part = loaded_area(ring, p, z);
            sum.inverse += part.inverse, sum.cubed += part.cubed;
        }
        a.push_back({beyond * sum.inverse, beyond * sum.cubed});
        b.push_back({again * sum.inverse, again * sum.cubed});
    }
    return compress(subs, ground_.strata, founding_, removed, a, b);
}

std::vector<LayerShare> LayeredGround::settle(Point p, const ContactPatches& patches, const std::vector<double>& force,
                                              const std::vector<double>& removed, double pressure) const {
    const std::vector<Sublayer> subs = sublayers(p, pressure);
    if (subs.empty()) return {};
    const std::vector<double> z = boundaries(subs);
    std::vector<LoadedArea> a(z.size()), b(z.size());
    for (int j = 0; j < patches.count(); ++j) {
        if (force[size_t(j)] == 0) continue;
        const double again =
            removed.empty() ? 0 : std::min(force[size_t(j)], removed[size_t(j)] * patches.area[size_t(j)]);
        for (size_t k = 0; k < z.size(); ++k) {
            const LoadedArea one = under_patch(patches, j, p, z[k]);
            const double beyond = force[size_t(j)] - again;
            a[k].inverse += beyond * one.inverse, a[k].cubed += beyond * one.cubed;
            b[k].inverse += again * one.inverse, b[k].cubed += again * one.cubed;
        }
    }
    return compress(subs, ground_.strata, founding_, ground_.excavation_relief ? removed_effective(p) : 0, a, b);
}

std::vector<double> LayeredGround::added_stress(Point p, const ContactPatches& patches,
                                                const std::vector<double>& force,
                                                const std::vector<double>& depths) const {
    std::vector<double> out;
    for (double z : depths) {
        double sum = 0;
        for (int j = 0; j < patches.count(); ++j) {
            const double F = force[size_t(j)];
            if (F == 0) continue;
            const Point d = p - patches.centre[size_t(j)];
            const double s = dot(d, d) + z * z;
            if (s > near_factor * patches.size2[size_t(j)]) {
                sum += F * 3 * z * z * z / (2 * pi * s * s * std::sqrt(s));
            } else if (z > 0) {
                double unit_stress = 0;
                for (const auto& [a, b] : patches.edges[size_t(j)]) unit_stress += stress_of_edge(a, b, p, z);
                sum += F / patches.outline_area[size_t(j)] * unit_stress;
            } else if (std::any_of(patches.pieces[size_t(j)].begin(), patches.pieces[size_t(j)].end(),
                                   [&](auto& q) { return contains(Polygon(q.begin(), q.end()), p); })) {
                sum += F / patches.polygon_area[size_t(j)];
            }
        }
        out.push_back(sum);
    }
    return out;
}

namespace {

// The terms of the deepest boundary, taken off the others.
RowTerms take_deepest(RowTerms& t) {
    RowTerms out;
    for (auto term : {&RowTerms::z, &RowTerms::P, &RowTerms::Q, &RowTerms::P_again, &RowTerms::Q_again})
        if (!(t.*term).empty()) (out.*term).push_back((t.*term).back()), (t.*term).pop_back();
    return out;
}

}  // namespace

// What a flexibility is made of above the deepest boundary.
struct RowsAbove {
    std::shared_ptr<const ContactPatches> patches;
    double largest2 = 0;          // of their size2
    Point middle;                 // that rows were made about
    std::vector<RowTerms> terms;  // per patch
    ReusedMatrix first, again;    // `again` empty where it is in proportion
};

Flexibility LayeredGround::flexibility(std::shared_ptr<const ContactPatches> of, double pressure,
                                       const Progress& progress, const Flexibility* before) const {
    const ContactPatches& patches = *of;
    const long n = patches.count();
    Flexibility c;
    std::vector<RowTerms> terms(size_t(n), RowTerms{}), deepest(terms);
    std::vector<double> removed(size_t(n), 0.0), low(size_t(n), 1e300), high(size_t(n), 0.0);
    tbb::parallel_for(long(0), n, [&](long i) {
        const Point p = patches.centre[size_t(i)];
        const std::vector<Sublayer> subs = sublayers(p, pressure);
        terms[size_t(i)] = terms_of(subs);
        deepest[size_t(i)] = take_deepest(terms[size_t(i)]);
        removed[size_t(i)] = ground_.excavation_relief ? removed_effective(p) : 0;
        for (const Sublayer& s : subs)
            low[size_t(i)] = std::min(low[size_t(i)], s.E_reload / s.E),
            high[size_t(i)] = std::max(high[size_t(i)], s.E_reload / s.E);
    });
    const double least = *std::min_element(low.begin(), low.end()), most = *std::max_element(high.begin(), high.end());
    bool two = false;
    if (*std::max_element(removed.begin(), removed.end()) > 0 && (most > 1 + 1e-12 || least < 1 - 1e-12)) {
        for (long i = 0; i < n; ++i) c.threshold.push_back(removed[size_t(i)] * patches.area[size_t(i)]);
        c.reload_ratio = most;
        two = most - least > 1e-9 * most;
        if (!two) c.less_share = 1 - 1 / most;
    }
    const RowMaker rows(patches);
    const RowsAbove* was = before ? before->above.get() : nullptr;
    if (was && two != (was->again.size() > 0)) was = nullptr;
    std::shared_ptr<RowsAbove> anew;
    std::vector<int> same;  // patches in what was before
    std::optional<RowMaker::Made> made;
    if (was && was->patches == of && was->terms == terms) {
        c.above = before->above;
    } else {
        if (was && was->largest2 == rows.largest2() && was->middle == rows.middle()) {
            same = same_patches(patches, *was->patches);
            made.emplace(rows, same);
        }
        anew = std::make_shared<RowsAbove>();
        anew->first.make(n, n);
        if (two) anew->again.make(n, n);
        c.above = anew;
    }
    c.first.make(n, n);
    if (two) c.less.make(n, n);
    tbb::parallel_for(long(0), n, [&](long i) {
        if (progress.stopped()) return;
        if (anew) {
            float *const first = anew->first.data() + i * n, *const again = two ? anew->again.data() + i * n : nullptr;
            if (const long k = made ? same[size_t(i)] : -1; k >= 0 && was->terms[size_t(k)] == terms[size_t(i)])
                rows.row(int(i), terms[size_t(i)], first, again, *made, was->first.row(k).data(),
                         two ? was->again.row(k).data() : nullptr);
            else
                rows.row(int(i), terms[size_t(i)], first, again);
        }
        rows.row(int(i), deepest[size_t(i)], c.first.data() + i * n, two ? c.less.data() + i * n : nullptr);
        c.first.row(i) += c.above->first.row(i);
        if (two) c.less.row(i) = c.first.row(i) - (c.less.row(i) + c.above->again.row(i));
    });
    progress.end_if_stopped();
    if (anew)
        anew->patches = of, anew->largest2 = rows.largest2(), anew->middle = rows.middle(),
        anew->terms = std::move(terms);
    if (c.has_relief()) {
        const Eigen::Map<const Eigen::VectorXd> t(c.threshold.data(), n);
        c.spared = c.times(Eigen::MatrixXd::Zero(n, 1), t);
    }
    return c;
}

Eigen::MatrixXd Flexibility::times(const Eigen::MatrixXd& r, const Eigen::MatrixXd& spare) const {
    Eigen::MatrixXd out;
    if (spare.size() > 0 && less.size() == 0) {
        multiply(first, r + less_share * spare, out);
        return out;
    }
    multiply(first, r, out);
    std::vector<long> some;  // columns where anything is below the threshold
    for (long c = 0; c < spare.cols(); ++c)
        if (!spare.col(c).isZero(0)) some.push_back(c);
    if (some.empty()) return out;
    Eigen::MatrixXd more;
    multiply(less, spare(Eigen::all, some), more);
    out(Eigen::all, some) += more;
    return out;
}

Eigen::MatrixXd Flexibility::settlements(const Eigen::MatrixXd& r) const {
    if (!has_relief()) return times(r, {});
    const Eigen::Map<const Eigen::VectorXd> t(threshold.data(), long(threshold.size()));
    return times(r, (t.replicate(1, r.cols()) - r).cwiseMax(0)).colwise() - spared;
}

double degree_of_consolidation(double cv, double path, double years) {
    const double T = cv * years / (path * path);
    if (T <= 0) return 0;
    if (T < 0.05) return std::sqrt(4 * T / pi);  // where the series is slow the half-space is exact to 1e-5
    double rest = 0;
    for (int m = 0; m < 40; ++m) {
        const double M = (2 * m + 1) * pi / 2;
        rest += 2 / (M * M) * std::exp(-M * M * T);
    }
    return std::clamp(1 - rest, 0.0, 1.0);
}

}  // namespace mossbed
