#include "core/solve/contact.h"

#include <tbb/parallel_for.h>

#include <utility>

namespace mossbed {

SparseLower with_springs(const SparseLower& plate, const Bed& bed) {
    SparseLower m = plate;
    for (size_t i = 0; i < bed.area.size(); ++i) {
        const double k = bed.area[i] * bed.modulus[i], g[3] = {1, bed.offset[i].x, bed.offset[i].y};
        for (int c = 0; c < 3; ++c)  // the node's own block stands first in its columns
            for (int r = c; r < 3; ++r) m.value[m.start[3 * i + c] + r - c] += k * g[r] * g[c];
    }
    return m;
}

namespace {

using Vector = Eigen::VectorXd;

double settlement_at_spring(const Bed& bed, long i, const Vector& x) {
    return x[3 * i] + bed.offset[i].x * x[3 * i + 1] + bed.offset[i].y * x[3 * i + 2];
}

void add_at_spring(const Bed& bed, long i, double F, Vector& f) {
    f[3 * i] += F, f[3 * i + 1] += bed.offset[i].x * F, f[3 * i + 2] += bed.offset[i].y * F;
}

constexpr int most_rounds = 2000;

double spring_force(const Bed& bed, size_t i, double s) {
    const double k = bed.area[i] * bed.modulus[i];
    if (bed.tension) return k * s;
    const double t = std::max(0.0, k * s);
    return bed.yield ? std::min(t, *bed.yield * bed.area[i]) : t;
}

bool acts(const Bed& bed, size_t i, double s) {  // the spring is elastic at this settlement
    return bed.tension || (s > 0 && !(bed.yield && bed.modulus[i] * s > *bed.yield));
}

// One combination on its way. Each round the driver hands it M⁻¹·wanted() by take(); M = K + springs of full contact.
//
//   start ──take(M⁻¹ f)──▶ newton ──▶ conjugate gradients ──▶ line search ──▶ newton …  ──▶ done
//
// Invariants: 1. Mx_ = M x_. 2. the residual of the state is f − Mx_ + spring_·s − t(s). 3. inside a step Md_ = M d_
// and Mp_ = M p_. 4. a node's `rate_` is its spring where it is elastic, else 0.
class Walker {
  public:
    Walker(const Bed& bed, Vector f, double tolerance) : bed_(bed), f_(std::move(f)), tolerance_(tolerance) {
        const long n = long(bed.area.size());
        spring_.resize(n);
        for (long i = 0; i < n; ++i) spring_[i] = bed.area[i] * bed.modulus[i];
        wanted_ = f_;
        state_.x = Vector::Zero(f_.size());
        if (f_.isZero(0)) finish(Ending::solved);
    }
    bool done() const { return done_; }
    const Vector& wanted() const { return wanted_; }
    ContactState& state() { return state_; }
    // In place of the first step: the springs that lift by this estimate give back what full contact would pull.
    void estimate(const Vector& settlement) {
        wanted_ = f_;
        for (long i = 0; i < spring_.size(); ++i)
            if (settlement[i] < 0) add_at_spring(bed_, i, spring_[i] * settlement[i], wanted_);
        guess_ = wanted_;
    }

    void take(const Eigen::Ref<const Vector>& z) {
        ++state_.rounds;
        if (!begun_) return begin(z);
        if (guess_.size() > 0) {
            state_.x = z, Mx_ = guess_;
            guess_.resize(0);
            look();
            return newton();
        }
        if (state_.rounds > most_rounds) return finish(Ending::not_converged);
        conjugate_step(z);
    }

  private:
    void begin(const Eigen::Ref<const Vector>& z) {  // z = M⁻¹ f: the slab in full contact
        begun_ = true;
        force_norm_ = std::sqrt(std::max(0.0, f_.dot(z)));
        state_.x = z, Mx_ = f_;
        look();
        newton();
    }

    // Contact and residual at x.
    void look() {
        const long n = spring_.size();
        std::vector<char> now(n);
        r_ = f_ - Mx_;
        for (long i = 0; i < n; ++i) {
            const double s = settlement_at_spring(bed_, i, state_.x);
            now[i] = acts(bed_, size_t(i), s);
            add_at_spring(bed_, i, spring_[i] * s - spring_force(bed_, size_t(i), s), r_);
        }
        same_contact_ = now == elastic_;
        elastic_ = std::move(now);
    }

    // Starts a step from the residual r_.
    void newton() {
        wanted_ = r_;
        fresh_ = true;
        if (r_.squaredNorm() == 0) finish(Ending::solved);
    }

    // Preconditioned conjugate gradients on (M − lifted springs) d = r.
    void conjugate_step(const Eigen::Ref<const Vector>& z) {
        const double rz = wanted_.dot(z);
        if (fresh_) {
            r_norm_ = std::sqrt(std::max(0.0, rz));
            if (r_norm_ <= tolerance_ * force_norm_ && same_contact_) return finish(Ending::solved);
            ++state_.newton_steps;
            // Coarse while the contact area still changes, to the end once it stands.
            goal_ = same_contact_ ? 0.3 * tolerance_ * force_norm_
                                  : std::max(0.05 * r_norm_, 0.3 * tolerance_ * force_norm_);
            d_ = Vector::Zero(f_.size()), Md_ = d_;
            p_ = z, Mp_ = r_;
            fresh_ = false;
            inner_ = 0;
        } else {
            if (std::sqrt(std::max(0.0, rz)) <= goal_ || ++inner_ > 400) return line_search();
            const double beta = rz / rz_;
            p_ = z + beta * p_;
            Mp_ = wanted_ + beta * Mp_;
        }
        rz_ = rz;
        Vector& q = q_;  // K_S p
        q = Mp_;
        for (long i = 0; i < spring_.size(); ++i)
            if (!elastic_[i]) add_at_spring(bed_, i, -spring_[i] * settlement_at_spring(bed_, i, p_), q);
        const double pq = p_.dot(q), pMp = p_.dot(Mp_);
        if (pq <= 1e-14 * pMp) {  // too few springs to hold the slab in this direction: take what there is
            if (d_.isZero(0)) d_ = p_, Md_ = Mp_;
            return line_search();
        }
        const double alpha = rz / pq;
        d_ += alpha * p_;
        Md_ += alpha * Mp_;
        wanted_ -= alpha * q;
    }

    // Slope of the energy along d at x + t d.
    double slope(double t) const {
        double g = d_.dot(Mx_) + t * d_.dot(Md_) - d_.dot(f_);
        for (long i = 0; i < spring_.size(); ++i) {
            const double d = settlement_at_spring(bed_, i, d_), s = settlement_at_spring(bed_, i, state_.x) + t * d;
            g += d * (spring_force(bed_, size_t(i), s) - spring_[i] * s);
        }
        return g;
    }

    void line_search() {
        double t = 1;
        const double g0 = slope(0), g1 = slope(1);
        if (g0 >= 0) return r_norm_ <= 1e-7 * force_norm_ ? finish(Ending::solved) : finish(Ending::not_converged);
        if (g1 > 0.5 * std::abs(g0)) {  // overshot: the slope is continuous and rising, so its zero can be bracketed
            double low = 0, high = 1;
            for (int k = 0; k < 30; ++k) {
                t = (low + high) / 2;
                const double g = slope(t);
                if (std::abs(g) < 0.1 * std::abs(g0)) break;
                (g < 0 ? low : high) = t;
            }
        }
        state_.x += t * d_;
        Mx_ += t * Md_;
        look();
        if (t != 1) same_contact_ = false;
        newton();
    }

    void finish(Ending e) {
        state_.ending = e;
        done_ = true;
    }

    const Bed& bed_;
    Vector f_, spring_, wanted_, Mx_, r_, d_, Md_, p_, Mp_, q_, guess_;
    std::vector<char> elastic_;
    ContactState state_;
    double tolerance_ = 1e-11, force_norm_ = 0, r_norm_ = 0, goal_ = 0, rz_ = 0;
    int inner_ = 0;
    bool begun_ = false, fresh_ = false, done_ = false, same_contact_ = false;
};

Eigen::Vector3d out_of_balance(const Bed& bed, const std::vector<Point>& nodes, const Vector& x, const Vector& f,
                               Point about, Eigen::Matrix3d* tangent) {
    Eigen::Vector3d sum(0, 0, 0);
    if (tangent) tangent->setZero();
    for (size_t i = 0; i < nodes.size(); ++i) {
        const Point at_node = nodes[i] - about, at_spring = at_node + bed.offset[i];
        const Eigen::Vector3d mode(1, at_spring.x, at_spring.y);  // s of the rigid motions
        const double s = settlement_at_spring(bed, long(i), x), t = spring_force(bed, i, s), F = f[3 * long(i)];
        sum += Eigen::Vector3d(F, F * at_node.x + f[3 * long(i) + 1], F * at_node.y + f[3 * long(i) + 2]) - t * mode;
        if (tangent && acts(bed, i, s)) *tangent += bed.area[i] * bed.modulus[i] * mode * mode.transpose();
    }
    return sum;
}

// A very stiff slab leaves rounding in its rigid motions, which the plate's own stiffness does not see: take it out
// there.
void settle_rigidly(const Bed& bed, const std::vector<Point>& nodes, const Vector& f, ContactState& state) {
    Point about;
    for (Point p : nodes) about = about + (1.0 / double(nodes.size())) * p;
    double span = 0, size = 0;
    for (size_t i = 0; i < nodes.size(); ++i) {
        span = std::max(span, distance(nodes[i], about));
        size += std::abs(f[3 * long(i)]) +
                (std::abs(f[3 * long(i) + 1]) + std::abs(f[3 * long(i) + 2])) / std::max(span, 1e-9);
    }
    Eigen::Vector3d off;
    for (int pass = 0; pass < 4; ++pass) {
        Eigen::Matrix3d tangent;
        off = out_of_balance(bed, nodes, state.x, f, about, &tangent);
        if (off.cwiseAbs().maxCoeff() <= 1e-14 * size * std::max(1.0, span)) break;
        const Eigen::FullPivLU<Eigen::Matrix3d> lu(tangent);
        if (!lu.isInvertible()) break;
        const Eigen::Vector3d a = lu.solve(off);
        for (size_t i = 0; i < nodes.size(); ++i) {
            state.x[3 * long(i)] += a[0] + a[1] * (nodes[i].x - about.x) + a[2] * (nodes[i].y - about.y);
            state.x[3 * long(i) + 1] += a[1];
            state.x[3 * long(i) + 2] += a[2];
        }
    }
    off = out_of_balance(bed, nodes, state.x, f, about, nullptr);
    state.equilibrium_error =
        size > 0
            ? std::max(std::abs(off[0]), std::max(std::abs(off[1]), std::abs(off[2])) / std::max(span, 1e-9)) / size
            : 0;
}

// The plain way, for the rare base that stands on a sliver of itself, where full contact is a poor preconditioner:
// Newton steps with a factor of their own, each with the line search. Ends solved only when equilibrium holds.
void settle_directly(const SparseLower& plate, const Bed& bed, const std::vector<Point>& nodes, const Vector& f,
                     ContactState& state, const Progress& progress) {
    Factor factor(with_springs(plate, bed));
    Vector& x = state.x;
    const long n = long(nodes.size());
    auto out_of_balance_at = [&](const Vector& at, const Vector& Kat) -> Vector {
        Vector r = f - Kat;
        for (long i = 0; i < n; ++i)
            add_at_spring(bed, i, -spring_force(bed, size_t(i), settlement_at_spring(bed, i, at)), r);
        return r;
    };
    double trace = 1e-3;  // of each lifted spring: more when steps fall short, less when they are taken whole
    for (int step = 0; step < 200; ++step) {
        if (progress.stopped()) throw Stopped{};
        Bed active = bed;  // a trace of each spring is left, so that the factor exists and steps stay short
        for (long i = 0; i < n; ++i)
            if (!acts(bed, size_t(i), settlement_at_spring(bed, i, x))) active.modulus[size_t(i)] *= trace;
        if (!factor.factorize(with_springs(plate, active))) break;
        const Vector Kx = plate.times(x).col(0), r = out_of_balance_at(x, Kx);
        if (r.cwiseAbs().maxCoeff() <= 1e-11 * f.cwiseAbs().maxCoeff()) break;
        Eigen::MatrixXd d = r;
        factor.solve_in_place(d);
        const Vector Kd = plate.times(d).col(0), dv = d.col(0);
        auto slope = [&](double t) { return -dv.dot(out_of_balance_at(x + t * dv, Kx + t * Kd)); };
        double t = 1;
        if (const double g0 = slope(0); slope(1) > 0.5 * std::abs(g0)) {
            double low = 0, high = 1;
            for (int k = 0; k < 40; ++k) {
                t = (low + high) / 2;
                const double g = slope(t);
                if (std::abs(g) < 0.1 * std::abs(g0)) break;
                (g < 0 ? low : high) = t;
            }
        }
        x += t * dv;
        trace = std::clamp(t < 0.3 ? 10 * trace : t == 1 ? 0.1 * trace : trace, 1e-9, 1.0);
        ++state.newton_steps;
    }
    settle_rigidly(bed, nodes, f, state);
    state.ending = state.equilibrium_error <= 1e-8 ? Ending::solved : Ending::not_converged;
}

}  // namespace

std::vector<ContactState> find_contact(const SparseLower& plate, const Factor& factor, const Bed& bed,
                                       const std::vector<Point>& nodes, const Eigen::MatrixXd& loads,
                                       const Progress& progress, double tolerance, const Estimate& estimate) {
    std::vector<Walker> walkers;
    for (long c = 0; c < loads.cols(); ++c) walkers.emplace_back(bed, loads.col(c), tolerance);
    bool first = true;
    Eigen::MatrixXd block;
    for (;;) {
        if (progress.stopped()) throw Stopped{};
        std::vector<Walker*> going;
        for (Walker& w : walkers)
            if (!w.done()) going.push_back(&w);
        if (going.empty()) break;
        progress.report(1 - double(going.size()) / double(walkers.size()), "contact");
        block.resize(loads.rows(), long(going.size()));
        for (size_t k = 0; k < going.size(); ++k) block.col(long(k)) = going[k]->wanted();
        factor.solve_in_place(block);
        tbb::parallel_for(size_t(0), going.size(), [&](size_t k) { going[k]->take(block.col(long(k))); });
        if (std::exchange(first, false) && estimate) {
            std::vector<int> lifting;
            for (int c = 0; c < int(walkers.size()); ++c)
                if (!walkers[c].done()) lifting.push_back(c);
            if (lifting.empty()) continue;
            const Eigen::MatrixXd s = estimate(lifting);
            for (size_t k = 0; k < lifting.size() && long(k) < s.cols(); ++k)
                walkers[lifting[k]].estimate(s.col(long(k)));
        }
    }
    // The residual is reported from a true product with K, not from the recurrences.
    Eigen::MatrixXd x(loads.rows(), loads.cols());
    std::vector<ContactState> out;
    for (long c = 0; c < loads.cols(); ++c) {
        ContactState& s = walkers[c].state();
        if (s.ending == Ending::solved) settle_rigidly(bed, nodes, loads.col(c), s);
        if (s.ending == Ending::not_converged || !(s.equilibrium_error <= 1e-9))
            settle_directly(plate, bed, nodes, loads.col(c), s, progress);
        x.col(c) = s.x;
    }
    const Eigen::MatrixXd Kx = plate.times(x);
    for (long c = 0; c < loads.cols(); ++c) {
        ContactState& s = walkers[c].state();
        s.pressure.resize(nodes.size());
        s.spring.resize(nodes.size());
        double worst = 0;
        for (size_t i = 0; i < nodes.size(); ++i) {
            const double t = spring_force(bed, i, settlement_at_spring(bed, long(i), s.x));
            s.spring[i] = t / bed.area[i];
            s.pressure[i] = spring_force(bed, i, s.x[3 * long(i)]) / bed.area[i];
            worst = std::max(worst, std::abs(loads(3 * long(i), c) - Kx(3 * long(i), c) - t));
        }
        const double largest = loads.col(c).cwiseAbs().maxCoeff();
        s.residual = largest > 0 ? worst / largest : 0;
        out.push_back(std::move(s));
    }
    return out;
}

}  // namespace mossbed
