#include "core/solve/coupled.h"

#include <tbb/parallel_for.h>

#include <Eigen/SparseCholesky>

namespace mossbed {
namespace {

using Vector = Eigen::VectorXd;
using Matrix = Eigen::MatrixXd;

// B: from the plate's unknowns to mean settlements of patches, and its transpose.
Matrix settlements_of_patches(const ContactPatches& p, const Matrix& x) {
    Matrix s(p.count(), x.cols());
    for (long c = 0; c < x.cols(); ++c)
        for (long j = 0; j < p.count(); ++j) {
            double sum = 0;
            for (auto [i, w] : p.nodes[size_t(j)]) {
                const Point o = p.node_offset[size_t(i)];
                sum += w * (x(3 * i, c) + o.x * x(3 * i + 1, c) + o.y * x(3 * i + 2, c));
            }
            s(j, c) = sum;
        }
    return s;
}
// f += sign·Rᵀ r: forces spread over the patches.
void add_patch_forces(const ContactPatches& p, const Matrix& r, Matrix& f, double sign) {
    for (long c = 0; c < r.cols(); ++c)
        for (long j = 0; j < p.count(); ++j)
            for (auto [i, w] : p.spread_to[size_t(j)]) f(3 * i, c) += sign * w * r(j, c);
}
// f += sign·Bᵀ t: forces of the springs of the factor.
void add_spring_forces(const ContactPatches& p, const Matrix& t, Matrix& f, double sign) {
    for (long c = 0; c < t.cols(); ++c)
        for (long j = 0; j < p.count(); ++j)
            for (auto [i, w] : p.nodes[size_t(j)]) {
                const Point o = p.node_offset[size_t(i)];
                const double F = sign * w * t(j, c);
                f(3 * i, c) += F, f(3 * i + 1, c) += F * o.x, f(3 * i + 2, c) += F * o.y;
            }
}

// The near part of the flexibility, factored: what is left after it is smooth, so that a dozen steps do instead of
// forty. A kernel 1/r cut off at a few patches stays positive definite (∫J0 is positive).
class NearInverse {
  public:
    NearInverse(const ContactPatches& p, const Flexibility& c) {
        std::vector<Eigen::Triplet<double>> t;
        const double cell = 3 * std::sqrt(*std::max_element(p.size2.begin(), p.size2.end()));
        std::map<std::pair<long, long>, std::vector<int>> bins;
        auto bin = [&](Point q) { return std::pair{long(std::floor(q.x / cell)), long(std::floor(q.y / cell))}; };
        for (int i = 0; i < p.count(); ++i) bins[bin(p.centre[size_t(i)])].push_back(i);
        for (int i = 0; i < p.count(); ++i) {
            const auto [x, y] = bin(p.centre[size_t(i)]);
            for (long dx = -1; dx <= 1; ++dx)
                for (long dy = -1; dy <= 1; ++dy)
                    if (const auto b = bins.find({x + dx, y + dy}); b != bins.end())
                        for (int j : b->second) {
                            const Point d = p.centre[size_t(i)] - p.centre[size_t(j)];
                            const double r = std::sqrt(dot(d, d)) / cell;
                            if (j <= i && r < 1)
                                t.emplace_back(
                                    i, j,
                                    (double(c.first(i, j)) + c.first(j, i)) / 2 * (1 - r) * (1 - r) * (1 + r / 2));
                        }
        }
        Eigen::SparseMatrix<double> m(p.count(), p.count());
        m.setFromTriplets(t.begin(), t.end());
        factor_.compute(m);
        sound_ = factor_.info() == Eigen::Success;
    }
    bool sound() const { return sound_; }
    Vector times(const Vector& w) const { return factor_.solve(w); }

  private:
    Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> factor_;
    bool sound_ = false;
};

enum class Touch : char { contact, lifted, yielding };

// One combination on its way. The driver gives it products with the flexibility and with F; it asks for them in turn.
//   look ─▶ (products) ─▶ step: GMRES ─▶ … ─▶ new state ─▶ look …  ─▶ done
class Walker {
  public:
    Walker(const CoupledBed& bed, const Flexibility& c, const NearInverse& near, Vector g, double scale,
           double tolerance)
        : bed_(bed), c_(c), near_(near), n_(bed.patches->count()), g_(std::move(g)), goal_(tolerance * scale) {
        D_ = Eigen::Map<const Vector>(bed.spring.data(), n_);
        row_ = Vector::Ones(n_);
        shift_ = Vector::Zero(n_);
        touch_.assign(size_t(n_), Touch::contact);
        v_ = D_.cwiseProduct(g_);
        begin_look();
    }
    // In place of full contact: pressures to start from, kPa; where they are nil the slab is taken to lift.
    void start(const Vector& pressure) {
        started_ = true;
        for (long i = 0; i < n_; ++i) {
            const double r = pressure[i] * bed_.patches->area[size_t(i)];
            if (!bed_.tension && r <= 0) {
                touch_[size_t(i)] = Touch::lifted;
                v_[i] = 0;
            } else {
                v_[i] = r;
            }
        }
    }
    bool done() const { return done_; }
    bool failed() const { return failed_; }

    // The patch forces whose settlement is wanted now, cut into first loading and reloading; then, with that
    // settlement, the forces y that the plate's side is wanted for; then what it gave.
    void forces(Eigen::Ref<Vector> first, Eigen::Ref<Vector> again) const {
        if (looking_) {
            const Vector r = forces_of(v_);
            if (!c_.has_relief()) {
                first = r;
                return;
            }
            for (long i = 0; i < n_; ++i) again[i] = std::min(r[i], threshold(i)), first[i] = r[i] - again[i];
        } else {
            const Vector& d = direction_;
            for (long i = 0; i < n_; ++i) {
                const double r = touch_[size_t(i)] == Touch::contact ? d[i] : 0;
                const bool a = c_.has_relief() && again_[size_t(i)];
                first[i] = a ? 0 : r;
                if (c_.has_relief()) again[i] = a ? r : 0;
            }
        }
    }
    // Patch forces r, and t = D times the settlement that the springs of the factor are to forget again.
    void plate_wants(const Eigen::Ref<const Vector>& settled, Eigen::Ref<Vector> r, Eigen::Ref<Vector> t) {
        Vector s = row_.cwiseProduct(settled);
        if (looking_) s += shift_;
        const Vector& v = looking_ ? v_ : direction_;
        for (long i = 0; i < n_; ++i) {
            const bool contact = touch_[size_t(i)] == Touch::contact;
            r[i] = contact ? v[i] : looking_ ? bound(i) : 0;
            t[i] = contact ? D_[i] * s[i] : v[i];
        }
        (looking_ ? s_ : ds_) = s;
        if (looking_) t_ = t;
    }
    void take(const Eigen::Ref<const Vector>& Fy) {
        ++rounds;
        looking_ ? looked(g_ - Fy) : krylov(Fy);
    }

    Vector forces_of(const Vector& v) const {
        Vector r(n_);
        for (long i = 0; i < n_; ++i) r[i] = touch_[size_t(i)] == Touch::contact ? v[i] : bound(i);
        return r;
    }
    const Vector& forgotten() const { return t_; }
    const Vector& settled() const { return s_; }
    Vector force() const { return forces_of(v_); }
    const std::vector<Touch>& touch() const { return touch_; }
    // The ground as row·(C r) + shift from here on; goes on from where it stands.
    void renew(Vector row, Vector shift, double goal) {
        goal_ = goal;
        row_ = std::move(row), shift_ = std::move(shift);
        done_ = failed_ = false;
        steps_here_ = 0;
        begin_look();
    }
    int newton_steps = 0, rounds = 0;

  private:
    double threshold(long i) const { return c_.removed[size_t(i)] * bed_.patches->area[size_t(i)]; }
    double upper(long i) const { return bed_.yield ? *bed_.yield * bed_.patches->area[size_t(i)] : 1e300; }
    double bound(long i) const { return touch_[size_t(i)] == Touch::yielding ? upper(i) : 0; }

    void begin_look() { looking_ = true; }

    // Everything at v_ is known: residual, contact by its signs.
    void looked(const Vector& Bx) {
        Bx_ = Bx;
        e_.resize(n_);
        double merit = 0;
        std::vector<Touch> next(touch_);
        bool changed = false;
        for (long i = 0; i < n_; ++i) {
            const double r = touch_[size_t(i)] == Touch::contact ? v_[i] : bound(i);
            e_[i] = touch_[size_t(i)] == Touch::contact ? D_[i] * (s_[i] - Bx[i]) : v_[i] - D_[i] * Bx[i];
            const double z = r - D_[i] * (s_[i] - Bx[i]);  // where the pressure wants to go
            const double kept = std::clamp(z, bed_.tension ? -1e300 : 0.0, upper(i));
            merit += (r - kept) * (r - kept);
            next[size_t(i)] = !bed_.tension && z <= 0 ? Touch::lifted : z > upper(i) ? Touch::yielding : Touch::contact;
            changed |= next[size_t(i)] != touch_[size_t(i)];
        }
        merit = std::sqrt(merit);
        if (!std::isfinite(merit)) return fail();
        if (merit <= goal_ * std::sqrt(double(n_)) && e_.norm() <= goal_ * std::sqrt(double(n_))) return finish();
        if (changed && !relooked_ && !started_) {
            for (long i = 0; i < n_; ++i) {
                if (next[size_t(i)] == touch_[size_t(i)]) continue;
                v_[i] = next[size_t(i)] == Touch::contact ? bound(i)  // starts from the pressure it had
                                                          : D_[i] * Bx[i];
                touch_[size_t(i)] = next[size_t(i)];
            }
            relooked_ = true;
            return begin_look();
        }
        // Late in a hunt that goes on and on, half of the last step is taken where the whole one did not help.
        if (trial_ && steps_here_ > 25 && merit > 0.999 * last_merit_ && share_ > 0.05) {
            share_ /= 2;
            touch_ = touch_before_;
            v_ = v_before_ + share_ * (v_trial_ - v_before_);
            relooked_ = false;
            return begin_look();
        }
        last_merit_ = merit;
        settled_ = !changed && !relooked_ && !started_;
        started_ = false;
        start_krylov();
    }
    void clip() {
        for (long i = 0; i < n_; ++i)
            if (touch_[size_t(i)] == Touch::contact) v_[i] = std::clamp(v_[i], bed_.tension ? -1e300 : 0.0, upper(i));
    }

    void start_krylov() {
        relooked_ = false;
        if (++steps_here_ > 80) return fail();
        ++newton_steps;
        looking_ = false;
        std::vector<char> again(size_t(n_), 0);
        if (c_.has_relief())
            for (long i = 0; i < n_; ++i)
                again[size_t(i)] = touch_[size_t(i)] == Touch::contact && v_[i] < threshold(i);
        if (c_.has_relief() && again != again_) settled_ = false;  // which loading is a reloading still changes
        again_ = std::move(again);
        const double norm = e_.norm();
        step_goal_ = std::max(settled_ ? 0.0 : 0.05 * norm, 0.3 * goal_ * std::sqrt(double(n_)));
        basis_ = {-e_ / norm};
        direction_ = prepared(basis_.back());
        columns_.clear(), cosines_.clear(), sines_.clear();
        rhs_ = {norm};
    }

    // From what a step should do to the residual to a step, roughly.
    Vector prepared(const Vector& q) const {
        if (!near_.sound()) return q;
        Vector w = Vector::Zero(n_);
        for (long i = 0; i < n_; ++i)
            if (touch_[size_t(i)] == Touch::contact) w[i] = q[i] / (D_[i] * row_[i]);
        w = near_.times(w);
        for (long i = 0; i < n_; ++i) {
            if (touch_[size_t(i)] != Touch::contact)
                w[i] = q[i];
            else if (again_[size_t(i)])
                w[i] *= c_.reload_ratio;
        }
        return w;
    }

    void krylov(const Eigen::Ref<const Vector>& Fy) {
        const Vector& d = direction_;
        Vector w(n_);
        for (long i = 0; i < n_; ++i)
            w[i] = touch_[size_t(i)] == Touch::contact ? D_[i] * (ds_[i] + Fy[i]) : d[i] + D_[i] * Fy[i];
        std::vector<double> h;
        for (int pass = 0; pass < 2; ++pass)  // twice is enough
            for (size_t k = 0; k < basis_.size(); ++k) {
                const double c = basis_[k].dot(w);
                w -= c * basis_[k];
                if (pass == 0)
                    h.push_back(c);
                else
                    h[k] += c;
            }
        const double norm = w.norm();
        for (size_t k = 0; k < cosines_.size(); ++k) {
            const double a = h[k], b = h[k + 1];
            h[k] = cosines_[k] * a + sines_[k] * b;
            h[k + 1] = -sines_[k] * a + cosines_[k] * b;
        }
        const double a = h.back(), rho = std::hypot(a, norm);
        if (!(rho > 0)) return fail();
        cosines_.push_back(a / rho), sines_.push_back(norm / rho);
        h.back() = rho;
        columns_.push_back(h);
        rhs_.push_back(-sines_.back() * rhs_.back());
        rhs_[rhs_.size() - 2] *= cosines_.back();
        if (std::abs(rhs_.back()) <= step_goal_ || columns_.size() >= 80 || norm <= 1e-14 * rho) return end_krylov();
        basis_.push_back(w / norm);
        direction_ = prepared(basis_.back());
    }

    void end_krylov() {
        const size_t m = columns_.size();
        std::vector<double> y(m);
        for (size_t k = m; k-- > 0;) {
            double sum = rhs_[k];
            for (size_t l = k + 1; l < m; ++l) sum -= columns_[l][k] * y[l];
            y[k] = sum / columns_[k][k];
        }
        v_before_ = v_, touch_before_ = touch_;
        Vector step = Vector::Zero(n_);
        for (size_t k = 0; k < m; ++k) step += y[k] * basis_[k];
        v_ += prepared(step);
        v_trial_ = v_;
        share_ = 1;
        trial_ = true;
        basis_.clear();
        begin_look();
    }

    void finish() { done_ = true; }
    void fail() { done_ = failed_ = true; }

    const CoupledBed& bed_;
    const Flexibility& c_;
    const NearInverse& near_;
    long n_;
    Vector g_, D_, row_, shift_, v_, s_, ds_, t_, Bx_, e_, direction_, v_before_, v_trial_;
    std::vector<Touch> touch_, touch_before_;
    std::vector<char> again_;
    std::vector<Vector> basis_;
    std::vector<std::vector<double>> columns_;
    std::vector<double> cosines_, sines_, rhs_;
    double goal_, last_merit_ = 1e300, share_ = 1, step_goal_ = 0;
    int steps_here_ = 0;
    bool looking_ = true, done_ = false, failed_ = false, settled_ = false, trial_ = false, relooked_ = false,
         started_ = false;
};

}  // namespace

SparseLower with_patch_springs(const SparseLower& plate, const CoupledBed& bed) {
    const ContactPatches& p = *bed.patches;
    if (p.one_a_node()) {
        SparseLower m = plate;
        for (size_t i = 0; i < p.of_node.size(); ++i) {
            const Point o = p.node_offset[i];
            const double g[3] = {1, o.x, o.y};
            for (int c = 0; c < 3; ++c)
                for (int r = c; r < 3; ++r) m.value[m.start[3 * i + c] + r - c] += bed.spring[i] * g[r] * g[c];
        }
        return m;
    }
    // Nodes that share a patch act on each other: columns as maps, then packed again.
    std::vector<std::map<int, double>> column(size_t(plate.size()));
    for (int j = 0; j < plate.size(); ++j)
        for (int k = plate.start[size_t(j)]; k < plate.start[size_t(j) + 1]; ++k)
            column[size_t(j)][plate.row[size_t(k)]] += plate.value[size_t(k)];
    for (size_t q = 0; q < p.nodes.size(); ++q)
        for (auto [a, wa] : p.nodes[q])
            for (auto [b, wb] : p.nodes[q])
                for (int c = 0; c < 3; ++c)
                    for (int r = 0; r < 3; ++r) {
                        const int row = 3 * a + r, col = 3 * b + c;
                        if (row < col) continue;
                        const Point oa = p.node_offset[size_t(a)], ob = p.node_offset[size_t(b)];
                        const double ga[3] = {1, oa.x, oa.y}, gb[3] = {1, ob.x, ob.y};
                        column[size_t(col)][row] += bed.spring[q] * wa * wb * ga[r] * gb[c];
                    }
    SparseLower m;
    m.start.push_back(0);
    for (const auto& c : column) {
        for (auto [r, v] : c) m.row.push_back(r), m.value.push_back(v);
        m.start.push_back(int(m.row.size()));
    }
    return m;
}

std::vector<CoupledState> find_coupled_contact(const SparseLower& plate, const Factor& factor, const CoupledBed& bed,
                                               const Flexibility& flexibility,
                                               const GroundSettlements& ground_settlements, bool logarithmic,
                                               const std::vector<Point>& nodes, const Matrix& loads,
                                               const Progress& progress, double tolerance, const Matrix& start) {
    const ContactPatches& patches = *bed.patches;
    const long n = patches.count();
    std::vector<CoupledState> out(size_t(loads.cols()));
    Matrix first_x = loads;
    factor.solve_in_place(first_x);
    const Matrix g = settlements_of_patches(patches, first_x);
    const Vector D = Eigen::Map<const Vector>(bed.spring.data(), n);
    const NearInverse near(patches, flexibility);
    const auto scale = [&](long c) { return D.cwiseProduct(g.col(c)).norm() / std::sqrt(double(n)); };
    std::vector<Walker> walkers;
    for (long c = 0; c < loads.cols(); ++c)
        walkers.emplace_back(bed, flexibility, near, g.col(c), scale(c), logarithmic ? 3e-3 : tolerance);
    if (start.size() > 0)
        for (long c = 0; c < loads.cols(); ++c)
            if (start.col(c).cwiseAbs().maxCoeff() > 0) walkers[size_t(c)].start(start.col(c));
    const bool relief = flexibility.has_relief();

    auto walk = [&] {
        for (;;) {
            if (progress.stopped()) throw Stopped{};
            std::vector<size_t> going;
            for (size_t k = 0; k < walkers.size(); ++k)
                if (!walkers[k].done()) going.push_back(k);
            if (going.empty()) return;
            progress.report(1 - double(going.size()) / double(walkers.size()), "contact");
            const long m = long(going.size());
            Matrix first = Matrix::Zero(n, m), again = relief ? Matrix::Zero(n, m) : Matrix(n, 0);
            Vector none(n);
            for (long k = 0; k < m; ++k)
                if (relief)
                    walkers[going[size_t(k)]].forces(first.col(k), again.col(k));
                else
                    walkers[going[size_t(k)]].forces(first.col(k), none);
            const Matrix s = flexibility.times(first, relief ? again : Matrix());
            Matrix r(n, m), t(n, m), f = Matrix::Zero(loads.rows(), m);
            for (long k = 0; k < m; ++k) walkers[going[size_t(k)]].plate_wants(s.col(k), r.col(k), t.col(k));
            add_patch_forces(patches, r, f, 1);
            add_spring_forces(patches, t, f, -1);
            factor.solve_in_place(f);
            const Matrix Fy = settlements_of_patches(patches, f);
            tbb::parallel_for(long(0), m, [&](long k) { walkers[going[size_t(k)]].take(Fy.col(k)); });
        }
    };
    walk();

    // Where strain is not in proportion to stress: rows scaled to the true settlement until it stands still.
    Matrix r(n, loads.cols());
    auto collect = [&] {
        for (long c = 0; c < loads.cols(); ++c) r.col(c) = walkers[size_t(c)].force();
    };
    collect();
    Matrix truth;
    int outer = 0;
    if (logarithmic) {
        // Newton from r_at with row-scaled flexibility for a slope. Where it swings over a preconsolidation pressure
        // it goes on from part of the way.
        Matrix rate, at = r;
        double before = 1e300, share = 1;
        for (; outer < 60; ++outer) {
            truth = ground_settlements(at, &rate);
            const auto [first, again] = flexibility.split(patches, at);
            const Matrix product = flexibility.times(first, again);
            double off = 0;
            for (long c = 0; c < loads.cols(); ++c) {
                const double largest = truth.col(c).cwiseAbs().maxCoeff();
                for (long i = 0; i < n && largest > 0; ++i)
                    if (walkers[size_t(c)].touch()[size_t(i)] == Touch::contact)
                        off = std::max(off, std::abs(truth(i, c) - walkers[size_t(c)].settled()[i]) / largest);
            }
            if (off < 5e-5) break;
            if (off > 0.7 * before) share = std::max(0.3, 0.6 * share);
            before = off;
            const Matrix row = rate.cwiseMax(0.02).cwiseMin(50.0);
            for (long c = 0; c < loads.cols(); ++c) {
                Walker& w = walkers[size_t(c)];
                if (!w.failed())  // `off` is the worst patch, the goal a norm over all of them
                    w.renew(row.col(c), truth.col(c) - row.col(c).cwiseProduct(product.col(c)),
                            scale(c) * std::max(0.1 * tolerance, std::min(0.05, 2 / std::sqrt(double(n))) * off));
            }
            walk();
            collect();
            at += share * (r - at);
        }
    }

    // The plate under these forces; what the last residual leaves out of balance, far below the tolerance asked for, is
    // put back as a linear field on the pressed patches, so that sums hold to rounding.
    Matrix t(n, loads.cols()), f = loads;
    for (long c = 0; c < loads.cols(); ++c) t.col(c) = walkers[size_t(c)].forgotten();
    add_patch_forces(patches, r, f, -1);
    add_spring_forces(patches, t, f, 1);
    factor.solve_in_place(f);
    const Matrix Bx = settlements_of_patches(patches, f);
    for (long c = 0; c < loads.cols(); ++c) {
        const Walker& w = walkers[size_t(c)];
        for (long i = 0; i < n; ++i)
            if (w.touch()[size_t(i)] == Touch::contact) {
                r(i, c) += D[i] * (Bx(i, c) - w.settled()[i]);
                if (!bed.tension) r(i, c) = std::max(0.0, r(i, c));
            }
    }
    std::vector<double> size(out.size()), span(out.size());
    Point about;
    for (Point p : nodes) about = about + (1.0 / double(nodes.size())) * p;
    auto sums = [&](long c) {
        Eigen::Vector3d sum(0, 0, 0);
        double reach = 0, load = 0;
        for (size_t i = 0; i < nodes.size(); ++i) {
            const Point d = nodes[i] - about;
            const double F = loads(3 * long(i), c);
            sum += Eigen::Vector3d(F, F * d.x + loads(3 * long(i) + 1, c), F * d.y + loads(3 * long(i) + 2, c));
            reach = std::max(reach, length(d));
            load += std::abs(F) +
                    (std::abs(loads(3 * long(i) + 1, c)) + std::abs(loads(3 * long(i) + 2, c))) / std::max(reach, 1e-9);
        }
        size[size_t(c)] = load, span[size_t(c)] = reach;
        return sum;
    };
    std::vector<Point> acts(size_t(n), Point{});  // where a patch's force acts on the plate
    for (size_t j = 0; j < size_t(n); ++j)
        for (auto [i, wt] : patches.nodes[j])
            acts[j] = acts[j] + wt * (nodes[size_t(i)] + patches.node_offset[size_t(i)]);
    for (long c = 0; c < loads.cols(); ++c) {
        Eigen::Vector3d off;
        for (int pass = 0; pass < 3; ++pass) {
            off = sums(c);
            Eigen::Matrix3d tangent = Eigen::Matrix3d::Zero();
            for (long j = 0; j < n; ++j) {
                const Eigen::Vector3d mode(1, acts[size_t(j)].x - about.x, acts[size_t(j)].y - about.y);
                off -= r(j, c) * mode;
                if (walkers[size_t(c)].touch()[size_t(j)] == Touch::contact)
                    tangent += std::abs(r(j, c)) * mode * mode.transpose();
            }
            if (pass == 2 || off.cwiseAbs().maxCoeff() <= 1e-15 * size[size_t(c)]) break;
            const Eigen::FullPivLU<Eigen::Matrix3d> lu(tangent);
            if (!lu.isInvertible()) break;
            const Eigen::Vector3d a = lu.solve(off);
            if (a.cwiseAbs().maxCoeff() > 1e-3) break;  // not rounding: leave it to be seen
            for (long j = 0; j < n; ++j)
                if (walkers[size_t(c)].touch()[size_t(j)] == Touch::contact)
                    r(j, c) += std::abs(r(j, c)) *
                               (a[0] + a[1] * (acts[size_t(j)].x - about.x) + a[2] * (acts[size_t(j)].y - about.y));
        }
        CoupledState& s = out[size_t(c)];
        s.equilibrium_error = size[size_t(c)] > 0
                                  ? std::max(std::abs(off[0]), std::max(std::abs(off[1]), std::abs(off[2])) /
                                                                   std::max(span[size_t(c)], 1e-9)) /
                                        size[size_t(c)]
                                  : 0;
    }
    truth = ground_settlements(r, nullptr);
    Matrix unbalanced = loads;
    add_patch_forces(patches, r, unbalanced, -1);
    unbalanced -= plate.times(f);
    for (long c = 0; c < loads.cols(); ++c) {
        CoupledState& s = out[size_t(c)];
        const Walker& w = walkers[size_t(c)];
        s.x = f.col(c);
        s.force.assign(r.col(c).data(), r.col(c).data() + n);
        s.settlement.assign(truth.col(c).data(), truth.col(c).data() + n);
        s.newton_steps = w.newton_steps, s.rounds = w.rounds, s.outer = outer;
        const double largest = std::max(truth.col(c).cwiseAbs().maxCoeff(), Bx.col(c).cwiseAbs().maxCoeff());
        double off = 0;
        for (long i = 0; i < n; ++i) {
            const double gap = truth(i, c) - Bx(i, c);
            if (w.touch()[size_t(i)] == Touch::contact) off = std::max(off, std::abs(gap));
            if (w.touch()[size_t(i)] == Touch::lifted) off = std::max(off, -gap);  // through the ground
        }
        s.compatibility = largest > 0 ? off / largest : 0;
        double worst = 0;
        for (size_t i = 0; i < nodes.size(); ++i) worst = std::max(worst, std::abs(unbalanced(3 * long(i), c)));
        const double most = loads.col(c).cwiseAbs().maxCoeff();
        s.residual = most > 0 ? worst / most : 0;
        s.ending = !w.failed() && s.compatibility <= 1e-4 && s.equilibrium_error <= 1e-8 ? Ending::solved
                                                                                         : Ending::not_converged;
    }
    return out;
}

}  // namespace mossbed
