#include "core/answer/solve_contact.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>
#include <numeric>

#include "core/answer/carry.h"
#include "core/answer/explain.h"
#include "core/answer/solve.h"
#include "core/base/both.h"
#include "core/base/units.h"
#include "core/contact/contact.h"

namespace mossbed {
namespace {

// kPa upward on the underside at each node, from the water loads of a combination; empty when it has none.
std::vector<double> water_pressure(const Model& model, const Combination& c, const Mesh& mesh) {
    std::vector<double> out;
    for (const LoadCase& k : model.loads.cases) {
        const double factor = factor_in(c, k.id);
        if (factor == 0) continue;
        for (const LoadItem& i : k.items)
            if (auto u = std::get_if<Uplift>(&i.load)) {
                out.resize(mesh.nodes.size());
                for (size_t n = 0; n < mesh.nodes.size(); ++n)
                    out[n] += factor * water_weight * std::max(0.0, u->to_level - underside_at(model, mesh.nodes[n]));
            }
    }
    return out;
}

struct Going {  // combinations that have an equilibrium, and their loads
    std::vector<size_t> index;
    Eigen::MatrixXd loads;
};

class ContactStage {
  public:
    ContactStage(std::shared_ptr<const Model> model, const ContactRequest& request, Stages& made,
                 const Earlier& earlier, const Progress& progress)
        : model_(std::move(model)),
          m_(*model_),
          request_(request),
          made_(made),
          earlier_(earlier),
          progress_(progress),
          mesh_(made.meshed->mesh),
          out_(std::make_shared<Solution>()) {}

    void run(std::vector<CombinationAnswer> combinations) {
        if (is_answered_already(combinations)) {
            made_.supported = earlier_.stages.supported;
            made_.solution = with_words_of(combinations, earlier_.stages.solution);
            return;
        }
        progress_.report(0.2, "contact");
        out_->combinations = std::move(combinations);
        solve_all();
        if (yield_ && !request_.coarse) add_without_yield();
        made_.solution = out_;
    }

  private:
    void solve_all() {
        Going going;
        std::shared_ptr<const Supported> supported = made_.supported;
        std::exception_ptr trouble;
        both([&] { going = find_equilibria(); },
             [&] {
                 if (supported || made_.subsoil->no_springs) return;
                 try {
                     supported = make_supports(m_, made_, earlier_, progress_);
                 } catch (...) {
                     trouble = std::current_exception();
                 }
             });
        if (going.index.empty()) return;  // nothing has one: each combination says why
        if (made_.subsoil->no_springs) throw Trouble(*made_.subsoil->no_springs);
        if (trouble) std::rethrow_exception(trouble);
        made_.supported = std::move(supported);
        solve(going);
        recover_forces();
    }
    // A pressure that the ground can no more than yield to holds down moments and shears: what concrete and steel are
    // designed for is solved a second time without that bound wherever it is reached.
    void add_without_yield() {
        std::vector<CombinationAnswer> again;
        for (const CombinationAnswer& c : out_->combinations)
            if (c.combination.purpose == Purpose::strength &&
                (c.ending == Ending::yields_through || (c.is_solved() && c.yield_ratio > 0))) {
                again.emplace_back();
                again.back().combination = c.combination, again.back().without_yield = true;
            }
        if (again.empty()) return;
        ContactStage stage(model_, request_, made_, earlier_, progress_);
        stage.yield_.reset(), stage.with_yield_ = out_.get(), stage.found_ = std::move(without_yield_);
        stage.out_->combinations = std::move(again);
        stage.solve_all();
        if (out_->modulus.empty()) out_->modulus = stage.out_->modulus;
        for (CombinationAnswer& c : stage.out_->combinations) out_->combinations.push_back(std::move(c));
    }

    const Unknowns& of() const { return made_.stiffness->plate.of; }
    // The earlier solution is that of the same supports, loads and combinations.
    bool is_answered_already(const std::vector<CombinationAnswer>& now) const {
        const Stages& was = earlier_.stages;
        if (!was.solution || was.loading != made_.loading || was.subsoil != made_.subsoil ||
            !has_same_supports(m_, made_, earlier_))
            return false;
        const auto before = as_listed(was.solution->combinations);
        return std::equal(now.begin(), now.end(), before.begin(), before.end(),
                          [](const auto& a, const auto& b) { return acts_alike(a.combination, b.combination); });
    }
    // But for the words beside it.
    static bool acts_alike(const Combination& a, Combination b) {
        b.title = a.title, b.generated_by = a.generated_by, b.keys = a.keys;
        return a == b;
    }
    static std::shared_ptr<const Solution> with_words_of(const std::vector<CombinationAnswer>& now,
                                                         const std::shared_ptr<const Solution>& was) {
        if (std::equal(now.begin(), now.end(), was->combinations.begin(),
                       [](const auto& a, const auto& b) { return a.combination == b.combination; }))
            return was;
        auto out = std::make_shared<Solution>(*was);
        for (CombinationAnswer& c : out->combinations)
            for (const CombinationAnswer& k : now)
                if (k.combination.id == c.combination.id) c.combination = k.combination;
        return out;
    }

    bool coupled() const { return m_.ground.model == GroundModel::coupled; }

    Going find_equilibria() {
        const Polygon hull = convex_hull(mesh_.nodes);
        const Eigen::MatrixXd& per_case = made_.loading->nodal;
        std::vector<double> removed;
        if (with_yield_)
            removed = with_yield_->combinations.front().removed;
        else if (const auto& g = made_.subsoil->ground)
            for (Point p : mesh_.nodes) removed.push_back(g->layers->removed_total(p));
        Going going;
        const size_t n = out_->combinations.size();
        Eigen::MatrixXd loads = Eigen::MatrixXd::Zero(per_case.rows(), long(n));
        tbb::parallel_for(size_t(0), n, [&](size_t k) {
            progress_.end_if_stopped();
            CombinationAnswer& c = out_->combinations[k];
            for (size_t i = 0; i < m_.loads.cases.size(); ++i)
                if (const double factor = factor_in(c, m_.loads.cases[i].id); factor != 0)
                    loads.col(long(k)) += factor * per_case.col(long(i));
            c.applied = resultant_of(of(), loads.col(long(k)), mesh_.nodes);
            c.water = water_pressure(m_, c.combination, mesh_);
            c.removed = removed;
            c.ending = Ending::solved;
            if (!m_.ground.tension) look_for_balance(c, hull);  // a base that no spring may pull on
            if (c.ending != Ending::solved && c.explanation.empty())
                c.explanation = why_no_equilibrium(c, m_, made_.loading->totals);
        });
        for (size_t k = 0; k < n; ++k)
            if (out_->combinations[k].ending == Ending::solved) {
                if (going.index.size() < k) loads.col(long(going.index.size())) = loads.col(long(k));
                going.index.push_back(k);
            }
        loads.conservativeResize(Eigen::NoChange, long(going.index.size()));
        going.loads = std::move(loads);
        return going;
    }

    void look_for_balance(CombinationAnswer& c, const Polygon& hull) const {
        c.balance = find_balance(c.applied, hull);
        c.ending = c.balance.ending;
        if (c.ending != Ending::solved || !yield_ || c.applied.Fz <= 0) return;
        const double reached = yield_load_factor(c.applied, mesh_.nodes, made_.meshed->shares.area, *yield_);
        if (reached > 1.0001) return;
        c.ending = Ending::yields_through;
        c.explanation =
            fmt::format("The ground yields through: it can bear {:.2f} of these loads at {:.0f} kPa; enlarge the base.",
                        reached, *yield_);
    }

    void solve(const Going& going) {
        const Supported& s = *made_.supported;
        supports_ = s.bed.supports;
        if (coupled()) planes_.emplace(*made_.subsoil->ground->patches, mesh_);
        if (!yield_)
            std::fill(supports_.highest.begin(), supports_.highest.end(), std::numeric_limits<double>::infinity());
        out_->modulus = s.bed.modulus;
        if (found_.empty())
            search(going);
        else
            search(read_what_was_found(going));
        if (!coupled()) return;
        // One to show for all: that which the ground was looked at for, or the first.
        out_->modulus = out_->combinations[going.index[0]].modulus;
        for (size_t k : going.index)
            if (out_->combinations[k].combination.id == made_.subsoil->combination)
                out_->modulus = out_->combinations[k].modulus;
    }

    // What a search with yield went on to find without; gives the others.
    Going read_what_was_found(const Going& going) {
        Going rest;
        rest.loads.resize(going.loads.rows(), going.loads.cols());
        tbb::parallel_for(size_t(0), going.index.size(), [&](size_t k) {
            if (const auto it = found_.find(id_of(going, k)); it != found_.end())
                read(out_->combinations[going.index[k]], it->second);
        });
        for (size_t k = 0; k < going.index.size(); ++k) {
            if (found_.contains(id_of(going, k))) continue;
            rest.loads.col(long(rest.index.size())) = going.loads.col(long(k));
            rest.index.push_back(going.index[k]);
        }
        rest.loads.conservativeResize(Eigen::NoChange, long(rest.index.size()));
        return rest;
    }

    void search(const Going& going) {
        if (going.index.empty()) return;
        const Supported& s = *made_.supported;
        ContactOptions options;
        std::optional<GroundCoupling> ground;
        if (coupled()) {
            const GroundAnswer& g = *made_.subsoil->ground;
            ground.emplace(GroundCoupling{*g.patches, s.flexibility, s.index ? &*s.index : nullptr, s.near});
            options.ground = &*ground;
            options.tolerance = request_.rough ? 1e-3 : request_.coarse ? 1e-5 : 1e-7;
            options.start = start_of(where_to_start(names_of(going)));
            if (yield_ && !request_.coarse) options.again = again_without_yield(going, options.start);
        } else {
            options.tolerance = request_.coarse ? 1e-6 : 1e-11;
            options.estimate = [&](const std::vector<int>& lifting) {
                std::vector<std::string> names;
                names.reserve(lifting.size());
                for (int k : lifting) names.push_back(id_of(going, size_t(k)));
                const Carried from = where_to_start(names);
                return Estimated{s.bed.supports.settlements(from.x), from.known};
            };
        }
        std::vector<ContactState> states = find_contact(
            {of(), made_.stiffness->matrix, *s.factor, supports_, mesh_.nodes}, going.loads, options, within_contact());
        tbb::parallel_for(size_t(0), going.index.size(),
                          [&](size_t k) { read(out_->combinations[going.index[k]], states[k]); });
        for (size_t k = going.index.size(); k < states.size(); ++k)
            without_yield_[id_of(going, size_t(*states[k].without_yield_of))] = std::move(states[k]);
    }

    // Those that concrete and steel are designed for, with what the earlier answer had more without yield.
    AgainWithoutYield again_without_yield(const Going& going, const ContactStart& was) const {
        AgainWithoutYield again;
        for (size_t k : going.index)
            again.wanted.push_back(out_->combinations[k].combination.purpose == Purpose::strength);
        if (!is_carried() || was.known.empty()) return again;
        again.more = start_of(carried(names_of(going), true));
        if (again.more.known.empty()) return again;
        again.more.force -= was.force, again.more.seen -= was.seen;
        for (size_t k = 0; k < was.known.size(); ++k) again.more.known[k] &= was.known[k];
        return again;
    }

    const std::string& id_of(const Going& going, size_t k) const {
        return out_->combinations[going.index[k]].combination.id;
    }

    std::vector<std::string> names_of(const Going& going) const {
        std::vector<std::string> names;
        for (size_t k = 0; k < going.index.size(); ++k) names.push_back(id_of(going, k));
        return names;
    }

    // The earlier answer where it knows these combinations on a slab that is nearly this one; for a large mesh one of
    // some 600 nodes else. What neither knows begins from nothing.
    Carried where_to_start(const std::vector<std::string>& combinations) const {
        if (with_yield_) return start_without_yield(combinations);
        if (is_carried())
            if (Carried c = carried(combinations, false); c.any()) return c;
        Carried none{std::vector<char>(combinations.size(), 0),
                     Eigen::MatrixXd::Zero(of().count(), long(combinations.size())),
                     {}};
        if (request_.coarse || mesh_.nodes.size() < 1500) return none;
        SolveOptions o;
        o.combinations = combinations;
        o.checks = false, o.rough = true;
        o.mesh_size = size_to_start_from(m_, mesh_.size);
        Progress quiet;
        quiet.stop = progress_.stop;
        try {
            const auto coarse = mossbed::solve(m_, o, nullptr, quiet);
            return carry(*coarse->stages.meshed, *coarse->stages.solution, *made_.meshed, of(), combinations);
        } catch (const Trouble&) {  // the fine mesh finds its way without
            return none;
        }
    }

    bool is_carried() const {
        return earlier_.model && earlier_.model->ground.model == m_.ground.model && earlier_.stages.solution;
    }
    Carried carried(const std::vector<std::string>& combinations, bool without_yield) const {
        Carried c =
            carry(*earlier_.stages.meshed, *earlier_.stages.solution, *made_.meshed, of(), combinations, without_yield);
        // Beyond that, beginning from nothing is as near.
        constexpr double least = 0.75, most = 1.3;
        for (size_t k = 0; k < combinations.size(); ++k) {
            if (!c.known[k]) continue;
            const double by = growth_of(combinations[k]);
            if (by >= least && by <= most)
                scale(c, long(k), by, without_yield);
            else
                c.known[k] = 0;
        }
        return c;
    }
    // How many times as much a combination presses on each square metre as in the earlier answer; nought where that
    // cannot be said.
    double growth_of(const std::string& id) const {
        auto mean = [&](const std::vector<CombinationAnswer>& all, const Meshed& on) {
            const auto is_it = [&](const CombinationAnswer& c) { return c.combination.id == id; };
            const auto it = std::find_if(all.begin(), all.end(), is_it);
            const std::vector<double>& area = on.shares.area;
            return it == all.end() ? 0.0 : it->applied.Fz / std::accumulate(area.begin(), area.end(), 0.0);
        };
        const double now = mean(out_->combinations, *made_.meshed),
                     was = mean(earlier_.stages.solution->combinations, *earlier_.stages.meshed);
        return now > 0 && was > 0 ? now / was : 0;
    }
    // Where the ground yields it goes on yielding.
    void scale(Carried& c, long column, double by, bool without_yield) const {
        c.x.col(column) *= by;
        const double yield = without_yield ? 1e300 : yield_.value_or(1e300) * (1 - 1e-9);
        for (double& p : c.pressure.col(column))
            if (p < yield) p *= by;
    }

    // Of a second solution: the same combination with the yield that was just found, and what the earlier answer found
    // more without it.
    Carried start_without_yield(const std::vector<std::string>& combinations) const {
        Carried start = carry(*made_.meshed, *with_yield_, *made_.meshed, of(), combinations);
        if (!is_carried()) return start;
        const Carried was = carried(combinations, false), without = carried(combinations, true);
        for (long k = 0; k < long(combinations.size()); ++k) {
            if (!without.known[size_t(k)]) continue;
            if (!start.known[size_t(k)] || !was.known[size_t(k)]) {
                start.known[size_t(k)] = 1;
                start.x.col(k) = without.x.col(k), start.pressure.col(k) = without.pressure.col(k);
                continue;
            }
            start.x.col(k) += without.x.col(k) - was.x.col(k);
            for (long i = 0; i < start.pressure.rows(); ++i)
                if (double& p = start.pressure(i, k); m_.ground.tension || p > 0) {  // what lifts goes on lifting
                    p += without.pressure(i, k) - was.pressure(i, k);
                    if (!m_.ground.tension) p = std::max(p, 0.0);
                }
        }
        return start;
    }

    ContactStart start_of(const Carried& c) const {
        if (!c.any()) return {};
        const Bed& bed = made_.supported->bed;
        ContactStart s{Eigen::MatrixXd::Zero(bed.supports.count(), c.pressure.cols()), bed.supports.settlements(c.x),
                       c.known};
        for (size_t i = 0; i < mesh_.nodes.size(); ++i)
            s.force.row(bed.of_node[i]) += c.pressure.row(long(i)) * made_.meshed->shares.area[i];
        return s;
    }

    // Pressures, sums and extremes from a state of the supports.
    void read(CombinationAnswer& c, const ContactState& state) const {
        const Bed& bed = made_.supported->bed;
        const Supports& supports = supports_;
        c.ending = state.ending;
        c.newton_steps = state.newton_steps, c.rounds = state.rounds;
        c.residual = state.residual, c.equilibrium_error = state.equilibrium_error;
        c.motion = {of(), state.x};
        const size_t n = mesh_.nodes.size();
        c.spring.resize(n), c.pressure.resize(n);
        if (coupled()) {
            std::vector<double> p = state.force;
            for (int j = 0; j < supports.count(); ++j) p[size_t(j)] /= supports.area[size_t(j)];
            c.pressure = planes_->of_nodes(p);
            for (int j = 0; j < supports.count(); ++j)
                if (state.force[size_t(j)] <= supports.lowest[size_t(j)])
                    p[size_t(j)] = -supports.stiffness[size_t(j)] / supports.area[size_t(j)] *
                                   std::max(0.0, state.settlement[size_t(j)] - supports.settlement(j, state.x));
            c.hold = planes_->of_nodes(p);
        }
        for (size_t i = 0; i < n; ++i) {
            const size_t j = size_t(bed.of_node[i]);
            c.spring[i] = state.force[j] / supports.area[j];
            // The nodal pressure is that of the settlement there; where the modulus changes from node to node it is
            // the support's own force, so that sums hold.
            if (!coupled())
                c.pressure[i] = m_.ground.model == GroundModel::profile
                                    ? c.spring[i]
                                    : supports.force(int(j), c.settlement(int(i))) / supports.area[j];
        }
        find_extremes(c);
        if (coupled()) read_coupling(c, state);
        if (const auto& g = made_.subsoil->ground) {
            c.patch_force.assign(size_t(g->patches->count()), 0);
            for (size_t i = 0; i < n; ++i)
                c.patch_force[size_t(g->patches->of_node[i])] += c.spring[i] * made_.meshed->shares.area[i];
        }
        // "Solved" is said of what balances, and of numbers.
        if (c.ending == Ending::solved && !(c.equilibrium_error <= 1e-8 && c.motion.x.allFinite()))
            c.ending = Ending::not_converged;
        if (c.ending == Ending::not_converged && c.explanation.empty())
            c.explanation = why_no_contact(c, m_, mesh_, c.modulus.empty() ? out_->modulus : c.modulus);
    }

    void find_extremes(CombinationAnswer& c) const {
        const Bed& bed = made_.supported->bed;
        const std::vector<double>& area = made_.meshed->shares.area;
        double whole = 0, pressed = 0, yields = 0;
        c.max_pressure = -1e300, c.min_pressure = 1e300;
        for (size_t i = 0; i < area.size(); ++i) {
            whole += area[i];
            if (coupled() ? c.spring[i] > 0 : c.pressure[i] > 0) pressed += area[i];
            if (yield_ && c.spring[i] >= *yield_ * (1 - 1e-6)) yields += area[i];
            c.min_pressure = std::min(c.min_pressure, c.pressure[i]);
            if (c.pressure[i] > c.max_pressure) c.max_pressure = c.pressure[i], c.max_pressure_at = mesh_.nodes[i];
            const double F = c.spring[i] * area[i];
            const Point at = mesh_.nodes[i] + bed.offset[i];
            c.ground_reaction += {F, -F * at.y, F * at.x};
        }
        c.contact_ratio = pressed / whole;
        c.yield_ratio = yields / whole;
        if (!bed.element_modulus.empty()) find_largest_by_cell(c);
    }

    // The largest pressure beside a border of ground patches is that of the stiffer side, not the node's mean of both.
    void find_largest_by_cell(CombinationAnswer& c) const {
        const Bed& bed = made_.supported->bed;
        const double yield = yield_.value_or(1e300);
        c.max_pressure = -1e300;
        for (int e = 0; e < int(mesh_.elements.size()); ++e)
            for (int k = 0; k < corners(mesh_.elements[e]); ++k) {
                const size_t i = size_t(mesh_.elements[e][k]);
                const double p = std::min(yield, c.pressure[i] * bed.element_modulus[size_t(e)] / bed.modulus[i]);
                if (p > c.max_pressure) c.max_pressure = p, c.max_pressure_at = mesh_.nodes[i];
            }
    }

    void read_coupling(CombinationAnswer& c, const ContactState& state) const {
        c.compatibility = state.compatibility, c.outer = state.outer;
        c.modulus.resize(mesh_.nodes.size());
        for (size_t i = 0; i < c.modulus.size(); ++i) {
            const double settled = c.settlement(int(i));
            c.modulus[i] = settled > 0 ? c.pressure[i] / settled : 0;
        }
        if (c.ending == Ending::not_converged && c.compatibility > 1e-4 && c.equilibrium_error <= 1e-8)
            c.explanation = fmt::format(
                "Slab and ground still differ by {:.1e} of the largest settlement after {} rounds; a finer mesh or an "
                "even thickness may help.",
                c.compatibility, c.rounds);
    }

    // What the search tells of itself, which begins anew more than once, as a share of the whole that never falls.
    Progress within_contact() const {
        Progress p;
        p.stop = progress_.stop;
        if (progress_.tell)
            p.tell = [this, furthest = 0.0](double share, const char* step) mutable {
                furthest = std::max(furthest, share);
                progress_.report(with_yield_ ? 0.5 + 0.1 * furthest : 0.2 + 0.3 * furthest, step);
            };
        return p;
    }

    void recover_forces() {
        progress_.end_if_stopped();
        progress_.report(with_yield_ ? 0.6 : 0.5, "moments");
        std::vector<CombinationAnswer*> solved;
        std::vector<const Eigen::VectorXd*> x;
        for (CombinationAnswer& c : out_->combinations)
            if (c.has_field()) solved.push_back(&c), x.push_back(&c.motion.x);
        auto fields = slot_forces(made_.stiffness->plate, mesh_, made_.stiffness->slots, x, progress_);
        for (size_t k = 0; k < solved.size(); ++k) solved[k]->forces = std::move(fields[k]);
    }

    std::shared_ptr<const Model> model_;
    const Model& m_;
    const ContactRequest& request_;
    Stages& made_;
    const Earlier& earlier_;
    const Progress& progress_;
    const Mesh& mesh_;
    std::shared_ptr<Solution> out_;
    std::optional<double> yield_ = m_.ground.yield_pressure;  // kPa
    Supports supports_;                                       // with that bound or without
    std::optional<PatchPlanes> planes_;                       // on coupled ground
    const Solution* with_yield_ = nullptr;                    // of a second solution: the first
    std::map<std::string, ContactState> without_yield_;       // by combination: what the search found besides
    std::map<std::string, ContactState> found_;               // of a second solution: what the first one found of it
};

std::vector<CombinationAnswer> asked_for(const Model& model, const std::vector<std::string>& ids) {
    std::vector<CombinationAnswer> out;
    for (Combination& c : combinations_of(model)) {
        if (!ids.empty() && std::find(ids.begin(), ids.end(), c.id) == ids.end()) continue;
        out.emplace_back();
        out.back().combination = std::move(c);
    }
    for (const std::string& id : ids)
        if (std::none_of(out.begin(), out.end(), [&](const auto& c) { return c.combination.id == id; }))
            throw Trouble({fmt::format("there is no active combination \"{}\"", id),
                           "the request",
                           "name one of the model's",
                           Severity::error,
                           {}});
    return out;
}

}  // namespace

double size_to_start_from(const Model& model, double size) {
    const double cells = model.ground.model == GroundModel::coupled ? 250 : 500;
    return std::max(1.5 * size, std::sqrt(net_area(model) / cells));
}

void solve_contact(const std::shared_ptr<const Model>& model, const ContactRequest& request, Stages& made,
                   const Earlier& earlier, const Progress& progress) {
    ContactStage(model, request, made, earlier, progress).run(asked_for(*model, request.combinations));
}

}  // namespace mossbed
