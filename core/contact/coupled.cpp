// Supports joined through layered ground: the settlement bowl and the contact pressures fit each other,
//     s(r) = B x where lowest < r < highest,  s(r) ≥ B x where r = lowest (lifted),  s(r) ≤ B x where r = highest
// With Ka = K + Bᵀ D B factored once, D springs of the right size, the plate is eliminated: B x = B Ka⁻¹ (f − Rᵀ r +
// Bᵀ D σ), σ being s where the patch is in contact and its own settlement u elsewhere; what is left is solved by
// generalised conjugate residuals (Eisenstat, Elman and Schultz 1983), scaled by D, inside a semi-smooth Newton (active
// set) method safeguarded by a line search on the complementarity residual. The flexibility need not be symmetric. All
// combinations go in lockstep: one product with it and one block of right-hand sides a round. Where strain is
// logarithmic, an outer loop goes on by Newton's method with the ground's own slope. What is asked for without yield
// too begins as soon as it is nearly found with it.
#include <tbb/parallel_for.h>

#include <Eigen/Eigenvalues>
#include <memory>
#include <utility>

#include "core/contact/contact.h"
#include "core/contact/near_inverse.h"
#include "core/contact/plate_flexibility.h"
#include "core/ground/reload_columns.h"

namespace mossbed {
namespace {

using Vector = Eigen::VectorXd;
using Matrix = Eigen::MatrixXd;

enum class Touch : char { contact, lifted, yielding };

// One combination on its way. The driver gives it products with the flexibility and with F; it asks for them in turn.
//   look ─▶ (products) ─▶ step: ways, (products), … ─▶ new state ─▶ look …  ─▶ done
// What is looked at is known from the products of the step wherever that was linear; products are asked for only with
// what differs, and before the end once with all of it.
class Walker {
  public:
    Walker(const Supports& supports, const GroundCoupling& ground, std::shared_ptr<NearRows> near, Vector g,
           double tolerance)
        : supports_(&supports),
          c_(ground.flexibility),
          centre_(ground.patches.centre.data()),
          near_(std::move(near)),
          n_(supports.count()),
          g_(std::move(g)) {
        D_ = Eigen::Map<const Vector>(supports.stiffness.data(), n_);
        scale_ = D_.cwiseProduct(g_).norm() / std::sqrt(double(n_));
        ask(tolerance);
        rate_ = Vector::Ones(n_);
        shift_ = Vector::Zero(n_);
        begin_again();
    }
    void begin_again() {  // in full contact
        slow_.clear();
        touch_.assign(size_t(n_), Touch::contact);
        v_ = D_.cwiseProduct(g_);
        known_ = false;
        begin_anew();
    }
    // In place of full contact: forces (kN) and the plate's settlements (m) to start from. Where a force is at its
    // lowest the slab is taken to lift, where it is at its highest the ground to yield.
    void start(const Eigen::Ref<const Vector>& force, const Eigen::Ref<const Vector>& seen) {
        started_ = true;
        for (long i = 0; i < n_; ++i) {
            Touch& touch = touch_[size_t(i)];
            touch = force[i] <= lower(i)                ? Touch::lifted
                    : force[i] >= upper(i) * (1 - 1e-9) ? Touch::yielding
                                                        : Touch::contact;
            v_[i] = touch == Touch::contact ? force[i] : D_[i] * seen[i];
        }
    }
    // The same combination where supports bear other bounds, from the forces and settlements given. What is known of
    // where this one is stays known.
    Walker on_other_bounds(const Supports& supports, const Vector& force, const Vector& seen, double tolerance) const {
        Walker other(*this);
        other.supports_ = &supports;
        other.ask(tolerance);
        other.newton_steps = other.rounds = 0;
        other.begin_anew();
        other.start(force, seen);
        return other;
    }
    bool done() const { return done_; }
    bool failed() const { return failed_; }
    // Whether a search that starts from here loses little, though this one goes on.
    bool is_close() const { return off_ <= 3000 * goal_; }

    // Whether all of it is looked at, for which the plate is wanted to the last digit.
    bool looks_at_all() const { return looking_ && at_all_; }

    // How many columns are wanted now, and whether the k-th of them presses the ground.
    size_t wanted() const { return looking_ ? 1 : asked_.size(); }
    bool presses(size_t k) const { return looking_ || asked_[k].presses; }
    // The patch forces whose settlement is wanted, and how far they stay below the threshold of reloading (see
    // Flexibility); then, with that settlement, the forces y that the plate's side is wanted for; then what it gave:
    // F y, less the settlements under the loads where all of it is looked at. After the last column go_on().
    void forces(size_t k, Eigen::Ref<Vector> r, Eigen::Ref<Vector> spare) const {
        if (looking_) {
            r = forces_of(v_);
            if (c_.has_relief()) spare = spare_of(r);
            if (at_all_) return;
            if (c_.has_relief()) spare -= spare_;
            r -= r_;
            return;
        }
        r = asked_[k].direction;
        for (long i = 0; i < n_; ++i) {
            if (touch_[size_t(i)] != Touch::contact) r[i] = 0;
            if (c_.has_relief()) spare[i] = again_[size_t(i)] ? -r[i] : 0;
        }
    }
    // Patch forces r, and t = D times the settlement that the springs of the factor are to forget again.
    void plate_wants(size_t k, const Eigen::Ref<const Vector>& settled, Eigen::Ref<Vector> r, Eigen::Ref<Vector> t) {
        if (looking_) {
            const Vector before_r = at_all_ ? Vector::Zero(n_) : r_, before_t = at_all_ ? Vector::Zero(n_) : t_;
            if (at_all_) product_ = c_.has_relief() ? Vector(-c_.spared) : Vector(Vector::Zero(n_));
            product_ += settled;
            r_ = forces_of(v_);
            if (c_.has_relief()) spare_ = spare_of(r_);
            settle();
            r = r_ - before_r, t = t_ - before_t;
            return;
        }
        Way& way = asked_[k];
        way.settled = settled;
        for (long i = 0; i < n_; ++i) {
            const bool contact = touch_[size_t(i)] == Touch::contact;
            r[i] = contact ? way.direction[i] : 0;
            t[i] = contact ? D_[i] * settled[i] : way.direction[i];
        }
    }
    void take(size_t k, const Eigen::Ref<const Vector>& Fy) {
        if (!looking_) {
            asked_[k].plate = Fy;
            return;
        }
        at_all_ ? Bx_ = -Fy : Bx_ -= Fy;
        known_ = true;
    }
    void go_on() {
        ++rounds;
        looking_ ? looked(true) : follow_ways();
    }

    // Whether the plate was looked at to the last digit where this ended.
    bool knows_plate() const { return done_ && !failed_ && at_all_; }

    Vector forces_of(const Vector& v) const {
        Vector r(n_);
        for (long i = 0; i < n_; ++i) r[i] = touch_[size_t(i)] == Touch::contact ? v[i] : bound(i);
        return r;
    }
    const Vector& forgotten() const { return t_; }
    const Vector& settled() const { return s_; }
    Vector force() const { return forces_of(v_); }
    const Vector& seen() const { return Bx_; }  // the plate's settlement, once it is done
    bool yields() const { return std::find(touch_.begin(), touch_.end(), Touch::yielding) != touch_.end(); }
    const std::vector<Touch>& touch() const { return touch_; }
    // The ground as C r + beyond·r + shift from here on, `by_slope` that without the shift at forces `at`; `rate`: how
    // much faster than by C each patch settles under its own force, to find steps by. Goes on until `part` of what is
    // then off is left, or by `tolerance` nothing. has_come(): nothing was off to begin with.
    void renew(std::shared_ptr<const IndexSlope> beyond, Vector rate, const Vector& at, const Vector& by_slope,
               Vector shift, double tolerance, double part) {
        if (known_ && r_ == at)
            beyond_ = std::move(beyond), product_ = by_slope;
        else
            set_slope(std::move(beyond));
        ask(tolerance);
        rate_ = std::move(rate), shift_ = std::move(shift), part_ = part;
        done_ = failed_ = has_come_ = false;
        part_of_the_way_ = true;
        off_there_ = 0, steps_here_ = 0;
        last_merit_ = norm_before_ = 1e300;
        begin_look();
    }
    void forget_slope() { set_slope(nullptr); }
    // What a product with the flexibility leaves out.
    void add_beyond(const Eigen::Ref<const Vector>& r, Eigen::Ref<Vector> settled) const {
        if (beyond_) beyond_->add_product(r, settled);
    }
    bool has_come() const { return has_come_; }
    // Whether little was off there to begin with.
    bool is_near_the_end() const { return off_there_ <= 30 * goal_; }
    void park() { done_ = true; }
    int newton_steps = 0, rounds = 0;

  private:
    // A change of the step's unknowns, forces where patches touch and D times the plate's settlement elsewhere; what
    // it was wanted to do to the residual; what the ground settles and F gives by it, and what that does to the
    // residual. Once it is followed that is own·effect + Σ of_others times the effects of those before, all square to
    // each other and of length one.
    struct Way {
        Vector direction, wanted, settled, plate, effect;
        bool presses = true;  // else no force changes
        Vector of_others{};
        double own = 0, by = 0;  // `by` times its effect is gone
    };

    void ask(double tolerance) { goal_ = tolerance * scale_, gap_goal_ = 5 * tolerance; }
    double threshold(long i) const { return c_.threshold[size_t(i)]; }
    double lower(long i) const { return supports_->lowest[size_t(i)]; }
    double upper(long i) const { return supports_->highest[size_t(i)]; }
    double bound(long i) const { return touch_[size_t(i)] == Touch::yielding ? upper(i) : lower(i); }
    Vector spare_of(const Eigen::Ref<const Vector>& r) const {
        return (Eigen::Map<const Vector>(c_.threshold.data(), n_) - r).cwiseMax(0);
    }
    void settle() {  // the ground under product_, and what the springs of the factor are to forget
        s_ = product_ + shift_;
        t_ = v_;
        for (long i = 0; i < n_; ++i)
            if (touch_[size_t(i)] == Touch::contact) t_[i] = D_[i] * s_[i];
    }

    void set_slope(std::shared_ptr<const IndexSlope> beyond) {
        if (beyond == beyond_) return;
        if (known_) {
            if (beyond_) beyond_->add_product(-r_, product_);
            if (beyond) beyond->add_product(r_, product_);
        }
        beyond_ = std::move(beyond);
    }
    void begin_look() { looking_ = true, at_all_ = !known_; }
    void begin_anew() {
        asked_.clear(), free_ways_.clear();
        steps_here_ = 0;
        done_ = failed_ = settled_ = trial_ = relooked_ = started_ = false;
        last_merit_ = norm_before_ = off_ = 1e300;
        begin_look();
    }
    // At the end, or at what seems to be one.
    void end_here() {
        if (at_all_) {
            finish();
        } else {
            begin_look();
            at_all_ = true;
        }
    }

    // Residual at v_, contact by its signs. `known`: all of it is, else what the threshold of reloading changes is
    // still to be looked at, together with what else changes.
    void looked(bool known) {
        const Vector& Bx = Bx_;
        e_.resize(n_);
        double merit = 0, gap = 0, largest = 0;
        std::vector<Touch> next(touch_);
        bool changed = false;
        for (long i = 0; i < n_; ++i) {
            const double r = touch_[size_t(i)] == Touch::contact ? v_[i] : bound(i);
            e_[i] = touch_[size_t(i)] == Touch::contact ? D_[i] * (s_[i] - Bx[i]) : v_[i] - D_[i] * Bx[i];
            const double z = r - D_[i] * (s_[i] - Bx[i]);  // where the pressure wants to go
            const double kept = std::clamp(z, lower(i), upper(i));
            merit += (r - kept) * (r - kept);
            largest = std::max(largest, std::abs(Bx[i]));
            gap = std::max(gap, std::abs(r - kept) / D_[i]);
            next[size_t(i)] = z <= lower(i) ? Touch::lifted : z > upper(i) ? Touch::yielding : Touch::contact;
            changed |= next[size_t(i)] != touch_[size_t(i)];
        }
        merit = std::sqrt(merit);
        if (!std::isfinite(merit)) return fail();
        if (known && ends_here(merit, gap, gap_goal_ * largest, changed)) return;
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
        if (!known) return begin_look();
        // Late in a hunt that goes on and on, half of the last step is taken where the whole one did not help.
        if (trial_ && steps_here_ > 25 && merit > 0.999 * last_merit_ && share_ > 0.05) {
            share_ /= 2;
            touch_ = touch_before_;
            v_ = v_before_ + share_ * (v_trial_ - v_before_);
            relooked_ = false;
            return begin_look();
        }
        last_merit_ = merit;
        moved_ = changed || relooked_ || started_;
        settled_ = !moved_;
        started_ = false;
        begin_step();
    }
    // `gap`: the worst of a patch, m, and what it may be.
    bool ends_here(double merit, double gap, double gap_goal, bool changed) {
        // A norm over all patches says little of a small one: the worst counts too.
        const bool fits = gap <= gap_goal;
        const double off = off_ = std::max(merit, e_.norm()) / std::sqrt(double(n_));
        if (part_of_the_way_ && off_there_ == 0) {
            off_there_ = off;
            has_come_ = fits && off <= goal_;
        }
        if (fits && off <= goal_) return end_here(), true;
        // What single precision has left by then is not worth rounds of its own.
        if (at_all_ && trial_ && gap <= 3 * gap_goal && off <= 3 * goal_) return end_here(), true;
        if (part_of_the_way_ && off <= part_ * off_there_) return finish(), true;
        // Products in single precision leave something: where whole steps no longer help, close by, that is all there
        // is.
        if (trial_ && !changed && merit > 0.5 * last_merit_ && off <= 30 * goal_ && gap <= 30 * gap_goal)
            return end_here(), true;
        return false;
    }
    void begin_step() {
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
        // The closer, the better the last step came out (Eisenstat and Walker 1996, choice 2); not closer than what the
        // next patch that lifts or yields brings back anyway.
        const double better = norm / norm_before_,
                     forcing = moved_ ? 0.35 : std::clamp(0.9 * better * better, 0.02, 0.2);
        norm_before_ = norm;
        const double wanted = std::max(goal_, part_of_the_way_ ? part_ * off_there_ : 0);
        const bool last = wanted <= goal_;  // else a new slope follows, and closer would be in vain
        step_goal_ =
            std::max(settled_ ? 0.0 : forcing * norm,
                     std::min((last ? 0.1 : 0.35) * norm, (last ? 0.3 : 0.9) * wanted * std::sqrt(double(n_))));
        std::vector<char> counts(size_t(n_), 0);
        for (long i = 0; i < n_; ++i) counts[size_t(i)] = touch_[size_t(i)] == Touch::contact;
        near_.restrict_to(counts);
        v_before_ = v_, touch_before_ = touch_;
        ways_.clear();
        left_ = e_;
        want_to_do(-e_ / norm);
        add_slow_directions();
        add_free_ways();
    }

    // What a long step found slowly, mostly where a wing of the slab lifts that a little more pressure beside it turns
    // as a whole, is as slow in the next one, where a few more patches touch or fewer: of all directions in its ways
    // those that did least of what was wanted of them are ways of the next from the outset (Parks, de Sturler and
    // others 2006; harmonic Ritz vectors).
    struct Slow {
        Vector direction, wanted;
        std::vector<Touch> touch;
    };
    void keep_slow_directions() {
        constexpr long fewest = 6, most = 2;  // ways of a step; directions
        constexpr double share = 0.25;        // of what was wanted
        const long m = long(ways_.size());
        if (m < fewest) return;
        Matrix done = Matrix::Zero(m, m), wanted(n_, m);  // by the ways' effects, which are square to each other
        for (long k = 0; k < m; ++k) {
            const Way& way = ways_[size_t(k)];
            done.col(k).head(k) = way.of_others, done(k, k) = way.own;
            wanted.col(k) = way.wanted;
        }
        const Matrix rounding = 1e-9 * Matrix::Identity(m, m);  // where two want nearly the same
        const Eigen::GeneralizedSelfAdjointEigenSolver<Matrix> shares(done.transpose() * done,
                                                                      wanted.transpose() * wanted + rounding);
        if (shares.info() != Eigen::Success) return;
        slow_.clear();
        for (long k = 0; k < most && shares.eigenvalues()[k] < share * share; ++k) {
            const Vector by = shares.eigenvectors().col(k);
            Slow slow{Vector::Zero(n_), wanted * by, touch_};
            for (long l = 0; l < m; ++l) slow.direction += by[l] * ways_[size_t(l)].direction;
            slow_.push_back(std::move(slow));
        }
    }
    void add_slow_directions() {
        for (const Slow& slow : slow_) {
            Vector direction = slow.direction, wanted = slow.wanted;
            for (long i = 0; i < n_; ++i)
                if (slow.touch[size_t(i)] != touch_[size_t(i)]) direction[i] = wanted[i] = 0;
            if (const double size = wanted.norm(); size > 0) want(direction / size, wanted / size, true);
        }
    }

    // Where the slab is free of the ground, over the region that lifts or yields, the springs of the factor are to be
    // forgotten, and the plate's smooth motions there are most of what a step finds slowly. Ways from the outset are
    // more of the gap as it is, and that tilted: like them it grows from nothing at the border. They lie on patches
    // next to which all are free, so that later steps, where a few more or less touch, go by them again without asking.
    void add_free_ways() {
        constexpr long fewest = 30;  // patches, else a step finds them as soon
        const auto is_free = [this](long i) { return touch_[size_t(i)] != Touch::contact; };
        long many = 0;
        for (long i = 0; i < n_; ++i) many += is_free(i);
        const auto holds = [&](const Way& way) {
            for (long i = 0; i < n_; ++i)
                if (way.direction[i] != 0 && !is_free(i)) return false;
            return true;
        };
        if (!free_ways_.empty() && 2 * many < 3 * free_before_ &&
            std::all_of(free_ways_.begin(), free_ways_.end(), holds)) {
            for (const Way& way : free_ways_) follow(way);
            return;
        }
        free_ways_.clear();
        if (many < fewest) return;
        free_before_ = many;
        const Neighbours& near = near_.neighbours();
        std::vector<int> inside;
        Point middle;
        double sum = 0;
        for (int i = 0; i < int(n_); ++i) {
            bool all = is_free(i);
            for (int k = 0; k < near.size(i) && all; ++k) all = !near.is_next(i, k) || is_free(near.of(i)[k]);
            if (!all) continue;
            inside.push_back(i);
            middle = middle + D_[i] * centre_[i], sum += D_[i];
        }
        if (long(inside.size()) < fewest) return;
        middle = (1 / sum) * middle;
        std::vector<Vector> square;  // to each other: of what two have in common single precision leaves little
        for (int k = 0; k < 3; ++k) {
            Vector direction = Vector::Zero(n_);
            for (int i : inside) {
                const Point from = centre_[i] - middle;
                direction[i] = D_[i] * (s_[i] - Bx_[i]) * (k == 0 ? 1 : k == 1 ? from.x : from.y);
            }
            const double whole = direction.norm();
            for (const Vector& other : square) direction -= other.dot(direction) * other;
            if (const double norm = direction.norm(); norm > 1e-3 * whole) square.push_back(direction / norm);
        }
        for (const Vector& direction : square) want(direction, direction, false);
    }

    // From what a step should do to the residual to a step, roughly.
    Vector prepared(const Vector& q) const {
        Vector w = Vector::Zero(n_);
        for (long i = 0; i < n_; ++i)
            if (touch_[size_t(i)] == Touch::contact) w[i] = q[i] / (D_[i] * rate_[i]);
        w = near_.times(w);
        for (long i = 0; i < n_; ++i) {
            if (touch_[size_t(i)] != Touch::contact)
                w[i] = q[i];
            else if (again_[size_t(i)])
                w[i] *= c_.reload_ratio;
        }
        return w;
    }

    void want(Vector direction, Vector wanted, bool presses) {
        Way& way = asked_.emplace_back();
        way.direction = std::move(direction), way.wanted = std::move(wanted), way.presses = presses;
    }
    void want_to_do(const Vector& q) { want(prepared(q), q, true); }
    // What was asked for is known.
    void follow_ways() {
        bool any = false;
        for (Way& way : std::exchange(asked_, {})) {
            if (!way.presses) free_ways_.push_back(way);
            any |= follow(std::move(way));
        }
        if (!any || left_.norm() <= step_goal_ || ways_.size() >= 80) return end_step();
        want_to_do(-left_ / left_.norm());
    }
    // Goes as far along it as lessens the residual most, where it is another way than those before: what it does to the
    // residual is square to what they do.
    bool follow(Way way) {
        way.effect.resize(n_);
        for (long i = 0; i < n_; ++i)
            way.effect[i] = touch_[size_t(i)] == Touch::contact ? D_[i] * (way.settled[i] + way.plate[i])
                                                                : way.direction[i] + D_[i] * way.plate[i];
        const double whole = way.effect.norm();
        if (!std::isfinite(whole)) return false;
        way.of_others = Vector::Zero(long(ways_.size()));
        for (int pass = 0; pass < 2; ++pass)  // twice is enough
            for (size_t k = 0; k < ways_.size(); ++k) {
                const double c = ways_[k].effect.dot(way.effect);
                way.effect -= c * ways_[k].effect;
                way.of_others[long(k)] += c;
            }
        way.own = way.effect.norm();
        if (!(way.own > 1e-6 * whole)) return false;
        way.effect /= way.own;
        way.by = -way.effect.dot(left_);
        left_ += way.by * way.effect;
        ways_.push_back(std::move(way));
        return true;
    }

    void end_step() {
        keep_slow_directions();
        for (size_t k = ways_.size(); k-- > 0;) {
            const Way& way = ways_[k];
            const double by = way.by / way.own;
            for (size_t l = 0; l < k; ++l) ways_[l].by -= by * way.of_others[long(l)];
            v_ += by * way.direction, product_ += by * way.settled, Bx_ -= by * way.plate;
        }
        v_trial_ = v_;
        share_ = 1;
        trial_ = true;
        ways_.clear();
        begin_look();
        r_ = forces_of(v_);
        settle();
        bool passed = false;
        if (c_.has_relief()) {  // linear, but where the threshold of reloading was passed
            for (long i = 0; i < n_; ++i) {
                const bool again = touch_[size_t(i)] == Touch::contact ? again_[size_t(i)] != 0 : r_[i] < threshold(i);
                spare_[i] = again ? threshold(i) - r_[i] : 0;
                passed |= again != (r_[i] < threshold(i));
            }
        }
        looked(!passed);
    }

    void finish() { done_ = true; }
    void fail() { done_ = failed_ = true; }

    const Supports* supports_;
    const Flexibility& c_;
    const Point* centre_;  // of patches
    NearInverse near_;
    long n_;
    std::shared_ptr<const IndexSlope> beyond_;
    Vector g_, D_, rate_, shift_, v_, e_, v_before_, v_trial_;
    // At v_ once it is looked at: patch forces, how far they stay below the threshold, the flexibility's product with
    // them, the ground's settlement, what the factor's springs are to forget, the plate's settlement.
    Vector r_, spare_, product_, s_, t_, Bx_;
    bool known_ = false, at_all_ = true;
    bool moved_ = false;  // other patches lift or yield than before the last step
    std::vector<Touch> touch_, touch_before_;
    std::vector<char> again_;
    std::vector<Way> asked_, ways_, free_ways_;   // products are wanted with; of this step; to be gone again
    std::vector<Slow> slow_;                      // likewise, once products are known
    long free_before_ = 0;                        // patches that were free when they were made
    Vector left_;                                 // of the residual
    double scale_ = 0, goal_ = 0, gap_goal_ = 0;  // of a patch's force; what it may be off; of the largest settlement
    bool part_of_the_way_ = false, has_come_ = false;
    double off_there_ = 0, off_ = 1e300, part_ = 0;  // off at a new slope, now; of the first what may be left
    double last_merit_ = 1e300, share_ = 1, step_goal_ = 0, norm_before_ = 1e300;
    int steps_here_ = 0;
    bool looking_ = true, done_ = false, failed_ = false, settled_ = false, trial_ = false, relooked_ = false,
         started_ = false;
};

// All combinations together: walks them to their contact, follows strain that is not in proportion to stress, and
// closes the sums.
class CoupledSolver {
  public:
    CoupledSolver(const ContactSystem& system, const Matrix& loads, const ContactOptions& options,
                  const Progress& progress)
        : system_(system),
          supports_(system.supports),
          unyielding_(system.supports),
          ground_(*options.ground),
          flexibility_(ground_.flexibility),
          plate_(system),
          loads_(loads),
          options_(options),
          progress_(progress),
          near_(std::make_shared<NearRows>(
              ground_.near ? ground_.near : std::make_shared<const Neighbours>(ground_.patches, ground_.flexibility))),
          n_(supports_.count()),
          D_(Eigen::Map<const Vector>(supports_.stiffness.data(), n_)) {
        std::fill(unyielding_.highest.begin(), unyielding_.highest.end(), std::numeric_limits<double>::infinity());
    }

    std::vector<ContactState> run() {
        set_out();
        walk();
        collect();
        if (ground_.index) follow_strain();
        find_plate();
        return states(close_sums());
    }

  private:
    void set_out() {
        Matrix x = loads_;
        system_.factor.solve_in_single(x);  // good enough to begin from
        full_contact_ = supports_.settlements(x);
        for (long c = 0; c < loads_.cols(); ++c) {
            of_.push_back(c), x_.emplace_back();
            walkers_.emplace_back(supports_, ground_, near_, full_contact_.col(c),
                                  ground_.index ? 3e-3 : options_.tolerance);
            const ContactStart& s = options_.start;
            begun_again_.push_back(0);
            started_.push_back(!s.known.empty() && s.known[size_t(c)]);
            if (!started_.back()) continue;
            walkers_.back().start(s.force.col(c), s.seen.col(c));
            if (ground_.index) walkers_.back().park();  // nearer to the true strain than the flexibility's secants
        }
    }

    bool is_again(size_t k) const { return of_[k] != long(k); }
    bool is_wanted_again(size_t k) const {
        return !begun_again_[k] && !options_.again.wanted.empty() && options_.again.wanted[k] &&
               !walkers_[k].failed() && walkers_[k].yields();
    }
    // While the others still search, so that late rounds carry more than a column or two.
    void begin_again_without_yield(size_t k) {
        Vector force = walkers_[k].force(), seen = walkers_[k].seen();
        if (const ContactStart& more = options_.again.more; !more.known.empty() && more.known[k]) {
            for (long i = 0; i < n_; ++i)
                if (const double lowest = supports_.lowest[size_t(i)]; force[i] > lowest)  // what lifts goes on lifting
                    force[i] = std::max(lowest, force[i] + more.force(i, long(k)));
            seen += more.seen.col(long(k));
        }
        of_.push_back(long(k)), x_.emplace_back();
        walkers_.push_back(walkers_[k].on_other_bounds(unyielding_, force, seen, options_.tolerance));
        started_.push_back(1);
        begun_again_[k] = 1, begun_again_.push_back(1);
    }

    // Lockstep: one product with the flexibility and one block of right-hand sides a round. Who wants the plate to the
    // last digit waits until all do, since that takes a round of its own.
    void walk() {
        const bool relief = ground_.flexibility.has_relief();
        for (;;) {
            progress_.end_if_stopped();
            std::vector<size_t> going;
            for (size_t k = 0; k < walkers_.size(); ++k)
                if (!walkers_[k].done()) going.push_back(k);
            if (going.empty()) return;
            const auto looking = [&](size_t k) { return walkers_[k].looks_at_all(); };
            const bool at_all = std::all_of(going.begin(), going.end(), looking);
            if (!at_all) std::erase_if(going, looking);
            progress_.report(1 - double(going.size()) / double(walkers_.size()), "contact");
            struct Column {
                size_t walker, of_it;
            };
            std::vector<Column> columns;  // those first that press the ground
            std::vector<std::vector<long>> of(going.size());
            long pressing = 0;
            for (bool presses : {true, false}) {
                for (size_t g = 0; g < going.size(); ++g)
                    for (size_t k = 0; k < walkers_[going[g]].wanted(); ++k)
                        if (walkers_[going[g]].presses(k) == presses) {
                            of[g].push_back(long(columns.size()));
                            columns.push_back({going[g], k});
                        }
                if (presses) pressing = long(columns.size());
            }
            const long m = long(columns.size());
            Matrix pressed(n_, pressing), spare(n_, relief ? pressing : 0);
            Vector none;
            tbb::parallel_for(0L, pressing, [&](long c) {
                const auto [walker, k] = columns[size_t(c)];
                if (relief)
                    walkers_[walker].forces(k, pressed.col(c), spare.col(c));
                else
                    walkers_[walker].forces(k, pressed.col(c), none);
            });
            progress_.end_if_stopped();
            Matrix s = Matrix::Zero(n_, m);
            s.leftCols(pressing) = flexibility_.times(pressed, spare);
            if (ground_.index)
                tbb::parallel_for(0L, pressing, [&](long c) {
                    walkers_[columns[size_t(c)].walker].add_beyond(pressed.col(c), s.col(c));
                });
            progress_.end_if_stopped();
            Matrix r(n_, m), t(n_, m), x;
            tbb::parallel_for(0L, m, [&](long c) {
                const auto [walker, k] = columns[size_t(c)];
                walkers_[walker].plate_wants(k, s.col(c), r.col(c), t.col(c));
            });
            if (at_all) {
                x.resize(loads_.rows(), m);
                for (long c = 0; c < m; ++c) x.col(c) = -loads_.col(of_[columns[size_t(c)].walker]);
                supports_.add_pressing(r, 1, x);
                supports_.add_as_seen(t, -1, x);
                system_.factor.solve_in_place(x);
            }
            const Matrix Fy = at_all ? supports_.settlements(x) : plate_.settlements(r, t);
            tbb::parallel_for(size_t(0), going.size(), [&](size_t g) {
                progress_.end_if_stopped();
                Walker& walker = walkers_[going[g]];
                for (long c : of[g]) walker.take(columns[size_t(c)].of_it, Fy.col(c));
                walker.go_on();
                if (walker.knows_plate()) x_[going[g]] = -x.col(of[g][0]);
            });
            for (size_t k : going)
                if (walkers_[k].failed() && std::exchange(started_[k], 0)) walkers_[k].begin_again();
            for (size_t k : going)
                if ((walkers_[k].done() || walkers_[k].is_close()) && !ground_.index && is_wanted_again(k))
                    begin_again_without_yield(k);
        }
    }

    void collect() {
        const long n = long(walkers_.size()), known = loads_.cols();
        loads_.conservativeResize(Eigen::NoChange, n);
        for (long c = known; c < n; ++c) loads_.col(c) = loads_.col(of_[size_t(c)]);
        r_.resize(n_, n);
        for (long c = 0; c < n; ++c) r_.col(c) = walkers_[size_t(c)].force();
    }

    bool in_contact(long c, long i) const { return walkers_[size_t(c)].touch()[size_t(i)] == Touch::contact; }

    // On the way of one combination to the true strain.
    struct Follower {
        Vector from, to, step;  // patch forces that strain was looked at, where its search came from there, by what
        Vector to_before, by_before;        // likewise a step before
        double off = 1e300, least = 1e300;  // how far it came, and the least of all steps
        double part = 0.2;                  // what a step may leave of what is off
        int vain = 0, since = 0;            // steps that came no nearer to the end; steps since the least
        bool done = false;
        // Where to look at strain from now: where it has come to. Where that led to and fro, across the stress that a
        // clay has borne before, between the last two by the secant rule (Anderson 1965, one step kept).
        Vector next() const {
            if (vain == 0 || step == by_before) return to;
            const Vector changed = step - by_before;
            const double back = std::clamp(step.dot(changed) / changed.squaredNorm(), 0.0, 0.9);
            return to - back * (to - to_before);
        }
    };

    // Where strain is not in proportion to stress: Newton's method, each combination with the ground's own slope.
    void follow_strain() {
        std::vector<Follower> followers(walkers_.size());
        for (int most = 60; outer_ < most; ++outer_) {
            std::vector<size_t> going;
            for (size_t c = 0; c < walkers_.size(); ++c)
                if (!followers[c].done && !walkers_[c].failed()) going.push_back(c);
            if (going.empty()) break;
            look_at_strain(going, followers);
            walk();
            for (size_t c : going) {
                Follower& f = followers[c];
                const Walker& w = walkers_[c];
                f.to_before = std::exchange(f.to, w.force()), f.by_before = std::exchange(f.step, f.to - f.from);
                const double off = f.step.norm(), before = std::exchange(f.off, off), left = f.part;
                if (before < 1e300) {
                    f.part = std::clamp(0.5 * off / before, 0.01, 0.2);
                    f.vain += off > 0.7 * before;
                }
                f.since = off < 0.8 * f.least ? 0 : f.since + 1;
                f.least = std::min(f.least, off);
                const double furthest = f.step.cwiseAbs().maxCoeff(),
                             small = 10 * options_.tolerance * f.from.cwiseAbs().maxCoeff();
                // Where what single precision leaves is all that is off, it comes no nearer. And none is looked at once
                // more of which the next step, by how these came nearer to each other, would be small.
                f.done = furthest <= small ? w.has_come() || (w.is_near_the_end() && off > 0.5 * before)
                                           : f.vain == 0 && std::max(off / before, left) * furthest <= 0.3 * small;
                f.done |= f.since >= 3 && off <= 3e-5 * f.to.norm();  // with thousands of patches that is above `small`
                if (f.done) walkers_[c].forget_slope();
                if (!(f.done || off <= 0.4 * f.to.norm()) || !is_wanted_again(c)) continue;
                begin_again_without_yield(c);
                walkers_.back().park();
                followers.emplace_back();
                most = outer_ + 60;
            }
        }
        collect();
    }
    void look_at_strain(const std::vector<size_t>& going, std::vector<Follower>& followers) {
        const long m = long(going.size());
        Matrix at(n_, m);
        for (long k = 0; k < m; ++k) {
            Follower& f = followers[going[size_t(k)]];
            at.col(k) = f.from = f.to.size() > 0 ? f.next() : walkers_[going[size_t(k)]].force();
        }
        const Matrix product = ground_.flexibility.settlements(at);
        Matrix beyond;
        const Matrix truth = ground_.index->settlements(product, at, progress_, &beyond);
        const IndexStrain::Slopes slopes = ground_.index->slopes(beyond, slopes_, progress_);
        tbb::parallel_for(0L, m, [&](long k) {
            const Follower& f = followers[going[size_t(k)]];
            const std::shared_ptr<const IndexSlope> slope = slopes[size_t(k)];
            Vector by_slope = product.col(k), rate(n_);
            slope->add_product(at.col(k), by_slope);
            for (long i = 0; i < n_; ++i)
                rate[i] = std::max(0.02, 1 + slope->own(int(i)) / double(ground_.flexibility.first(i, i)));
            walkers_[going[size_t(k)]].renew(slope, std::move(rate), f.from, by_slope, truth.col(k) - by_slope,
                                             options_.tolerance, f.part);
        });
    }

    // The plate under these forces, where the search did not end by looking at it; forces follow what the last residual
    // leaves between slab and ground.
    void find_plate() {
        std::vector<long> open;
        seen_.resize(n_, loads_.cols());
        for (long c = 0; c < loads_.cols(); ++c)
            if (walkers_[size_t(c)].knows_plate())
                seen_.col(c) = walkers_[size_t(c)].seen();
            else
                open.push_back(c);
        const long m = long(open.size());
        Matrix r(n_, m), t(n_, m), f(loads_.rows(), m);
        for (long k = 0; k < m; ++k) {
            const long c = open[size_t(k)];
            r.col(k) = r_.col(c), t.col(k) = walkers_[size_t(c)].forgotten(), f.col(k) = loads_.col(c);
        }
        supports_.add_pressing(r, -1, f);
        supports_.add_as_seen(t, 1, f);
        system_.factor.solve_in_place(f);
        const Matrix seen = supports_.settlements(f);
        for (long k = 0; k < m; ++k) {
            const long c = open[size_t(k)];
            x_[size_t(c)] = f.col(k), seen_.col(c) = seen.col(k);
        }
        for (long c = 0; c < loads_.cols(); ++c)
            for (long i = 0; i < n_; ++i)
                if (in_contact(c, i)) {
                    r_(i, c) += D_[i] * (seen_(i, c) - walkers_[size_t(c)].settled()[i]);
                    r_(i, c) = std::max(supports_.lowest[size_t(i)], r_(i, c));
                }
    }

    // What is left out of balance, far below the tolerance asked for, is put back as a linear field on the pressed
    // patches, so that sums hold to rounding. Gives the errors that remain.
    std::vector<double> close_sums() {
        const RigidMotions motions(system_.of, system_.nodes, supports_);
        std::vector<double> errors(size_t(loads_.cols()));
        tbb::parallel_for(0L, loads_.cols(), [&](long c) {
            const RigidMotions::Sums asked = motions.of_loads(loads_.col(c));
            const double size = motions.size_of(loads_.col(c));
            RigidMotions::Sums off = asked - motions.of_forces(r_.col(c));
            for (int pass = 0; pass < 2 && !motions.is_rounding(off, size, 1e-15); ++pass) {
                Vector weight = Vector::Zero(n_);
                for (long j = 0; j < n_; ++j)
                    if (in_contact(c, j)) weight[j] = std::abs(r_(j, c));
                const auto a = motions.carried_by(weight, off);
                if (!a || a->cwiseAbs().maxCoeff() > 1e-3) break;  // not rounding: leave it to be seen
                for (long j = 0; j < n_; ++j) r_(j, c) += weight[j] * motions.at_support(*a, int(j));
                off = asked - motions.of_forces(r_.col(c));
            }
            errors[size_t(c)] = motions.error(off, size);
        });
        return errors;
    }

    std::vector<ContactState> states(const std::vector<double>& errors) {
        const Matrix truth = ground_.settlements(r_);
        Matrix unbalanced = loads_;
        supports_.add_pressing(r_, -1, unbalanced);
        Matrix x(loads_.rows(), loads_.cols());
        for (long c = 0; c < loads_.cols(); ++c) x.col(c) = x_[size_t(c)];
        unbalanced -= system_.plate.times(x);
        std::vector<ContactState> out(size_t(loads_.cols()));
        tbb::parallel_for(0L, loads_.cols(), [&](long c) {
            ContactState& s = out[size_t(c)];
            const Walker& w = walkers_[size_t(c)];
            if (is_again(size_t(c))) s.without_yield_of = of_[size_t(c)];
            s.x = std::move(x_[size_t(c)]);
            s.force.assign(r_.col(c).data(), r_.col(c).data() + n_);
            s.settlement.assign(truth.col(c).data(), truth.col(c).data() + n_);
            s.newton_steps = w.newton_steps, s.rounds = w.rounds, s.outer = outer_;
            s.equilibrium_error = errors[size_t(c)];
            s.compatibility = misfit_of_slab(c, truth);
            s.residual = share_of_largest(system_.of, unbalanced.col(c), loads_.col(c));
            s.ending = !w.failed() && s.compatibility <= 1e-4 && s.equilibrium_error <= 1e-8 ? Ending::solved
                                                                                             : Ending::not_converged;
        });
        return out;
    }
    double misfit_of_slab(long c, const Matrix& truth) const {
        const double largest = std::max(truth.col(c).cwiseAbs().maxCoeff(), seen_.col(c).cwiseAbs().maxCoeff());
        double off = 0;
        for (long i = 0; i < n_; ++i) {
            const double gap = truth(i, c) - seen_(i, c);
            if (in_contact(c, i)) off = std::max(off, std::abs(gap));
            if (walkers_[size_t(c)].touch()[size_t(i)] == Touch::lifted)
                off = std::max(off, -gap);  // through the ground
        }
        return largest > 0 ? off / largest : 0;
    }

    const ContactSystem& system_;
    const Supports& supports_;
    Supports unyielding_;
    const GroundCoupling& ground_;
    ReloadColumns flexibility_;
    const PlateFlexibility plate_;
    Matrix loads_;  // a column a walker
    const ContactOptions& options_;
    const Progress& progress_;
    std::shared_ptr<NearRows> near_;
    long n_;
    Vector D_;
    Matrix full_contact_;  // the plate's settlements on springs, a column of the loads asked for
    std::vector<Walker> walkers_;
    std::vector<Vector> x_;          // per walker: the plate where it was looked at to the last digit
    std::vector<long> of_;           // per walker: the column of the loads asked for
    std::vector<char> begun_again_;  // per walker: without yield
    std::vector<char> started_;      // per combination: on its way from a start, which may have been a bad one
    Matrix r_, seen_;                // forces of the supports; the plate's settlements there
    IndexStrain::Slopes slopes_;     // made so far, to be used again
    int outer_ = 0;
};

}  // namespace

std::vector<ContactState> find_coupled_contact(const ContactSystem& system, const Matrix& loads,
                                               const ContactOptions& options, const Progress& progress) {
    return CoupledSolver(system, loads, options, progress).run();
}

}  // namespace mossbed
