// Springs of their own. The unknowns are the minimum of a convex energy; the active set (semi-smooth Newton) method of
// Hintermüller, Ito and Kunisch (2002) finds it. All combinations go in lockstep: one factor of K + Bᵀ k B (full
// contact) preconditions an inexact Newton step for every combination at once, one block of right-hand sides a round.
// Where an estimate says what lifts, those that press on nearly the same supports go on in a group with a factor of its
// own, of the springs that press by the estimate: that is nearly the Newton step itself, so a few rounds are left. No
// product with K is needed, since K p follows from the recurrence of conjugate gradients and other springs than the
// factor's are a diagonal correction. A line search on the energy, exact for its piecewise quadratic, makes it safe.
#include <tbb/parallel_for.h>

#include <atomic>
#include <numeric>

#include "core/contact/contact.h"

namespace mossbed {
namespace {

using Vector = Eigen::VectorXd;
constexpr int most_rounds = 2000;

// One combination on its way. Each round the driver hands it M⁻¹·wanted() by take(); M = K + spring_, those of full
// contact or, after begin_at(), those that press by an estimate.
//
//   start ──take(M⁻¹ f)──▶ newton ──▶ conjugate gradients ──▶ line search ──▶ newton …  ──▶ done
//
// Invariants: 1. Mx_ = M x_. 2. the residual of the state is f − Mx_ + spring_·s − t(s). 3. inside a step Md_ = M d_
// and Mp_ = M p_.
class Walker {
  public:
    Walker(const Supports& supports, Vector f, double tolerance)
        : supports_(supports), f_(std::move(f)), tolerance_(tolerance) {
        spring_ = Eigen::Map<const Vector>(supports.stiffness.data(), supports.count());
        wanted_ = f_;
        state_.x = Vector::Zero(f_.size());
        if (f_.isZero(0)) finish(Ending::solved);
    }
    bool done() const { return done_; }
    const Vector& wanted() const { return wanted_; }
    ContactState& state() { return state_; }
    // In place of the first step, once full contact is known: M is K + `springs` from now on, and the supports push as
    // they would at these settlements.
    void begin_at(const std::vector<double>& springs, const Vector& settlement) {
        spring_ = Eigen::Map<const Vector>(springs.data(), supports_.count());
        wanted_ = f_;
        for (int j = 0; j < supports_.count(); ++j)
            if (const double s = settlement[j], more = spring_[j] * s - supports_.force(j, s); more != 0)
                supports_.add_as_seen(j, more, wanted_);
        guess_ = wanted_;
    }
    // Back to full contact: as if nothing had been estimated.
    void begin_again() {
        spring_ = Eigen::Map<const Vector>(supports_.stiffness.data(), supports_.count());
        wanted_ = f_;
        guess_.resize(0);
        begun_ = done_ = false;
        elastic_.clear();
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
        const int n = supports_.count();
        std::vector<char> now(size_t(n), 0);
        r_ = f_ - Mx_;
        for (int j = 0; j < n; ++j) {
            const double s = supports_.settlement(j, state_.x);
            now[size_t(j)] = supports_.is_elastic(j, s);
            supports_.add_as_seen(j, spring_[j] * s - supports_.force(j, s), r_);
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
        for (int j = 0; j < supports_.count(); ++j) {
            const double rate = elastic_[size_t(j)] ? supports_.stiffness[size_t(j)] : 0;
            if (rate != spring_[j]) supports_.add_as_seen(j, (rate - spring_[j]) * supports_.settlement(j, p_), q);
        }
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
        for (int j = 0; j < supports_.count(); ++j) {
            const double d = supports_.settlement(j, d_), s = supports_.settlement(j, state_.x) + t * d;
            g += d * (supports_.force(j, s) - spring_[j] * s);
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

    const Supports& supports_;
    Vector f_, spring_, wanted_, Mx_, r_, d_, Md_, p_, Mp_, q_, guess_;
    std::vector<char> elastic_;
    ContactState state_;
    double tolerance_ = 1e-11, force_norm_ = 0, r_norm_ = 0, goal_ = 0, rz_ = 0;
    int inner_ = 0;
    bool begun_ = false, fresh_ = false, done_ = false, same_contact_ = false;
};

// One round for those that still go on: a solution for each, side by side. False when none is left.
bool walk_a_round(const Factor& factor, const std::vector<Walker*>& walkers, Eigen::MatrixXd& block) {
    std::vector<Walker*> going;
    for (Walker* w : walkers)
        if (!w->done()) going.push_back(w);
    if (going.empty()) return false;
    block.resize(going[0]->wanted().size(), long(going.size()));
    for (size_t k = 0; k < going.size(); ++k) block.col(long(k)) = going[k]->wanted();
    factor.solve_in_place(block);
    tbb::parallel_for(size_t(0), going.size(), [&](size_t k) { going[k]->take(block.col(long(k))); });
    return true;
}

// Combinations that press on nearly the same supports by their estimates.
struct Group {
    std::vector<long> columns;    // of the estimates; the first leads
    std::vector<double> springs;  // kN/m per support: where only some of them press, the mean
};

std::vector<Group> group_by_contact(const Supports& supports, const Eigen::MatrixXd& settlement) {
    constexpr double apart = 0.1;  // of all supports: more differ, and another factor pays
    constexpr size_t most = 8;     // of a group: a solution side by side
    const size_t n = size_t(supports.count());
    std::vector<std::vector<char>> presses;
    std::vector<Group> groups;
    for (long c = 0; c < settlement.cols(); ++c) {
        std::vector<char>& now = presses.emplace_back(n);
        for (size_t j = 0; j < n; ++j) now[j] = supports.is_elastic(int(j), settlement(long(j), c));
        Group* to = nullptr;
        size_t least = size_t(apart * double(n)) + 1;
        for (Group& g : groups) {
            const std::vector<char>& leader = presses[size_t(g.columns[0])];
            size_t differ = 0;
            for (size_t j = 0; j < n; ++j) differ += now[j] != leader[j];
            if (g.columns.size() < most && differ < least) least = differ, to = &g;
        }
        if (!to) to = &groups.emplace_back();
        to->columns.push_back(c);
    }
    for (Group& g : groups) {
        g.springs.assign(n, 0);
        for (long c : g.columns)
            for (size_t j = 0; j < n; ++j)
                if (presses[size_t(c)][j]) g.springs[j] += supports.stiffness[j] / double(g.columns.size());
    }
    return groups;
}

// What is enough to stand on by an estimate; with less the factor's numbers are not to be trusted.
bool holds(const Supports& supports, const std::vector<double>& springs) {
    auto sum = [](const std::vector<double>& v) { return std::accumulate(v.begin(), v.end(), 0.0); };
    return sum(springs) >= 0.05 * sum(supports.stiffness);
}

// Walks those that were estimated, each group on a factor of its own; as many at a time as there are cores or memory
// has room for. Those that stand on too little by their estimate, or have not come to their end in good time because it
// was far off, are left to go the long way with the shared factor.
void walk_in_groups(const ContactSystem& system, const std::vector<Walker*>& walkers, const Eigen::MatrixXd& settlement,
                    const Progress& progress) {
    constexpr double room = 1e9;   // bytes for all factors
    constexpr int good_time = 40;  // rounds
    const std::vector<Group> groups = group_by_contact(system.supports, settlement);
    const long fit = std::max(1L, long(room / double(system.factor.bytes())));
    const long at_a_time = std::min({fit, long(groups.size()), long(tbb::this_task_arena::max_concurrency())});
    std::atomic<size_t> next{0};
    tbb::parallel_for(0L, at_a_time, [&](long) {
        Factor factor = system.factor.of_same_pattern();
        Supports pressing = system.supports;
        Eigen::MatrixXd block;
        for (size_t k; (k = next++) < groups.size();) {
            progress.end_if_stopped();
            const Group& g = groups[k];
            std::vector<Walker*> these;
            for (long c : g.columns) these.push_back(walkers[size_t(c)]);
            pressing.stiffness = g.springs;
            if (!holds(system.supports, g.springs) || !factor.factorize(pressing.with_springs(system.plate), progress))
                continue;
            for (size_t i = 0; i < these.size(); ++i) these[i]->begin_at(g.springs, settlement.col(g.columns[i]));
            for (int round = 0; round < good_time && walk_a_round(factor, these, block); ++round)
                progress.end_if_stopped();
            for (Walker* w : these)
                if (!w->done() || w->state().ending != Ending::solved) w->begin_again();
        }
    });
}

Vector forces_at(const Supports& supports, const Vector& x) {
    Vector r(supports.count());
    for (int j = 0; j < supports.count(); ++j) r[j] = supports.force(j, supports.settlement(j, x));
    return r;
}

// A very stiff slab leaves rounding in its rigid motions, which the plate's own stiffness does not see: take it out
// there.
void settle_rigidly(const Supports& supports, const RigidMotions& motions, const Vector& f, ContactState& state) {
    const double size = motions.size_of(f);
    auto out_of_balance = [&] {
        return RigidMotions::Sums(motions.of_loads(f) - motions.of_forces(forces_at(supports, state.x)));
    };
    for (int pass = 0; pass < 4; ++pass) {
        const RigidMotions::Sums off = out_of_balance();
        if (motions.is_rounding(off, size, 1e-14)) break;
        Vector active(supports.count());
        for (int j = 0; j < supports.count(); ++j)
            active[j] = supports.is_elastic(j, supports.settlement(j, state.x)) ? supports.stiffness[j] : 0;
        const auto a = motions.carried_by(active, off);
        if (!a) break;
        motions.move(*a, state.x);
    }
    state.equilibrium_error = motions.error(out_of_balance(), size);
}

// The plain way, for the rare base that stands on a sliver of itself, where full contact is a poor preconditioner:
// Newton steps with a factor of their own, each with the line search. Ends solved only when equilibrium holds.
void settle_directly(const ContactSystem& system, const RigidMotions& motions, const Vector& f, ContactState& state,
                     const Progress& progress) {
    const SparseLower& plate = system.plate;
    const Supports& supports = system.supports;
    Factor factor(supports.with_springs(plate), system.nodes);
    Vector& x = state.x;
    auto out_of_balance_at = [&](const Vector& at, const Vector& Kat) -> Vector {
        Vector r = f - Kat;
        for (int j = 0; j < supports.count(); ++j)
            supports.add_as_seen(j, -supports.force(j, supports.settlement(j, at)), r);
        return r;
    };
    double trace = 1e-3;  // of each lifted spring: more when steps fall short, less when they are taken whole
    for (int step = 0; step < 200; ++step) {
        progress.end_if_stopped();
        Supports active = supports;  // a trace of each spring is left, so that the factor exists and steps stay short
        for (int j = 0; j < supports.count(); ++j)
            if (!supports.is_elastic(j, supports.settlement(j, x))) active.stiffness[size_t(j)] *= trace;
        if (!factor.factorize(active.with_springs(plate), progress)) break;
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
    settle_rigidly(supports, motions, f, state);
    state.ending = state.equilibrium_error <= 1e-8 ? Ending::solved : Ending::not_converged;
}

}  // namespace

std::vector<ContactState> find_contact_on_springs(const ContactSystem& system, const Eigen::MatrixXd& loads,
                                                  const ContactOptions& options, const Progress& progress) {
    const Supports& supports = system.supports;
    std::vector<Walker> walkers;
    for (long c = 0; c < loads.cols(); ++c) walkers.emplace_back(supports, loads.col(c), options.tolerance);
    std::vector<Walker*> all;
    all.reserve(walkers.size());
    for (Walker& w : walkers) all.push_back(&w);
    Eigen::MatrixXd block;
    walk_a_round(system.factor, all, block);  // full contact
    std::vector<int> lifting;
    for (int c = 0; c < int(walkers.size()); ++c)
        if (!walkers[size_t(c)].done()) lifting.push_back(c);
    if (options.estimate && !lifting.empty()) {
        const Estimated found = options.estimate(lifting);
        std::vector<Walker*> these;
        std::vector<long> known;
        for (size_t k = 0; k < lifting.size(); ++k)
            if (found.known[k] && found.settlement.col(long(k)).allFinite())
                these.push_back(all[size_t(lifting[k])]), known.push_back(long(k));
        walk_in_groups(system, these, found.settlement(Eigen::all, known), progress);
    }
    while (walk_a_round(system.factor, all, block)) {
        progress.end_if_stopped();
        const auto done = std::count_if(all.begin(), all.end(), [](const Walker* w) { return w->done(); });
        progress.report(double(done) / double(all.size()), "contact");
    }
    const RigidMotions motions(system.of, system.nodes, supports);
    std::vector<ContactState> out;
    Eigen::MatrixXd unbalanced = loads;
    for (long c = 0; c < loads.cols(); ++c) {
        ContactState& s = walkers[size_t(c)].state();
        if (s.ending == Ending::solved) settle_rigidly(supports, motions, loads.col(c), s);
        if (s.ending == Ending::not_converged || !(s.equilibrium_error <= 1e-9))
            settle_directly(system, motions, loads.col(c), s, progress);
        const Vector r = forces_at(supports, s.x);
        s.force.assign(r.begin(), r.end());
        // The residual is reported from a true product with K, not from the recurrences.
        unbalanced.col(c) -= system.plate.times(s.x).col(0);
        Eigen::MatrixXd pressed = unbalanced.col(c);
        supports.add_as_seen(Eigen::MatrixXd(r), -1, pressed);
        s.residual = share_of_largest(system.of, pressed.col(0), loads.col(c));
        out.push_back(std::move(s));
    }
    return out;
}

}  // namespace mossbed
