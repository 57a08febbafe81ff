#include "core/solve/solve.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>

#include "core/checks/checks.h"
#include "core/codes/code.h"
#include "core/ground/bed.h"
#include "core/model/validate.h"
#include "core/solve/contact.h"
#include "core/solve/coupled.h"

namespace mossbed {

const CombinationAnswer* Answer::find(const std::string& id) const {
    for (const CombinationAnswer& c : combinations)
        if (c.combination.id == id) return &c;
    return nullptr;
}

std::string share_in_words(double share) {
    return share < 0.001 ? "under 0.1 %" : fmt::format("{:.1f} %", 100 * share);
}

double Answer::force_at_node(const CombinationAnswer& c, int node, int component) const {
    double best = 0;
    for (int slot : slots.of_node[node]) {
        const double v = c.forces[5 * slot + component];
        if (std::abs(v) > std::abs(best)) best = v;
    }
    return best;
}

std::vector<Combination> combinations_of(const Model& model) {
    std::vector<Combination> out;
    if (model.loads.combinations)
        for (const Combination& c : *model.loads.combinations)
            if (c.active) out.push_back(c);
    return out;
}

namespace {

std::string explain(const CombinationAnswer& c, const Model& model, const std::vector<CaseLoads>& cases) {
    // The cases that do it: those whose absence would change most.
    auto factor = [&](size_t i) {
        const auto it = c.combination.factors.find(model.loads.cases[i].id);
        return it == c.combination.factors.end() ? 0.0 : it->second;
    };
    if (c.ending == Ending::lifts_free) {
        std::string up;
        double down = 0, total_up = 0;
        for (size_t i = 0; i < cases.size(); ++i) {
            const double F = factor(i) * cases[i].on_slab.Fz;
            if (F < 0)
                up += fmt::format("{}{} {:.0f} kN", up.empty() ? "" : ", ", model.loads.cases[i].id, -F), total_up -= F;
            else
                down += F;
        }
        if (c.balance.net_uplift <= 1e-6 * (down + total_up))
            return fmt::format(
                "Nothing presses the slab down: {:.0f} kN act downward and {:.0f} kN upward, while moments turn it; "
                "add "
                "weight.",
                down, total_up);
        return fmt::format(
            "The slab lifts free: {:.0f} kN act upward ({}) against {:.0f} kN downward, {:.0f} kN too little; add "
            "weight or hold it down.",
            total_up, up, down, c.balance.net_uplift);
    }
    if (c.ending == Ending::overturns) {
        std::string by;
        double most = 0;
        const Polygon hull = convex_hull(outer_rim(model.slab.outline, 0.25));
        const Point m = centroid(hull);
        for (size_t i = 0; i < cases.size(); ++i) {
            const Resultant& r = cases[i].on_slab;
            const double turn = std::abs(factor(i)) * std::hypot(r.My - r.Fz * m.x, r.Mx + r.Fz * m.y);
            if (turn > most) most = turn, by = model.loads.cases[i].id;
        }
        const Box base = box_of(hull);
        if (c.balance.outside > 20 * std::max(base.width(), base.height()))
            return fmt::format(
                "The slab overturns: only {:.3g} kN press it down while case {} turns it most, so that the resultant lands "
                "far outside the base; add weight or take off moment.",
                c.applied.Fz, by);
        return fmt::format(
            "The slab overturns: the resultant of {:.0f} kN lands at ({:.2f}, {:.2f}), {}; case {} turns it most; "
            "widen the base on that side or add weight.",
            c.applied.Fz, c.balance.landing.x, c.balance.landing.y,
            c.balance.outside < 0.005 ? "on the edge of the base"
                                      : fmt::format("{:.2f} m outside the base", c.balance.outside),
            by);
    }
    return "";
}

double share_that_yields(const CombinationAnswer& c, const Bed& bed) {
    if (!bed.yield) return 0;
    double whole = 0, yields = 0;
    for (size_t i = 0; i < bed.area.size(); ++i) {
        whole += bed.area[i];
        if (c.spring[i] >= *bed.yield * (1 - 1e-6)) yields += bed.area[i];
    }
    return yields / whole;
}

// Sums of pressure, ratio and extremes on the nodes.
void read_contact(CombinationAnswer& c, const ContactState& state, const Bed& bed, const Mesh& mesh) {
    c.ending = state.ending;
    c.newton_steps = state.newton_steps;
    c.rounds = state.rounds;
    c.residual = state.residual;
    c.equilibrium_error = state.equilibrium_error;
    c.unknowns = state.x;
    c.pressure = state.pressure;
    c.spring = state.spring;
    double whole = 0, pressed = 0;
    c.max_pressure = -1e300, c.min_pressure = 1e300;
    for (size_t i = 0; i < bed.area.size(); ++i) {
        whole += bed.area[i];
        if (c.pressure[i] > 0) pressed += bed.area[i];
        c.min_pressure = std::min(c.min_pressure, c.pressure[i]);
        if (c.pressure[i] > c.max_pressure) c.max_pressure = c.pressure[i], c.max_pressure_at = mesh.nodes[i];
        const double F = c.spring[i] * bed.area[i];
        const Point at = mesh.nodes[i] + bed.offset[i];
        c.ground_reaction += {F, -F * at.y, F * at.x};
    }
    c.contact_ratio = pressed / whole;
    c.yield_ratio = share_that_yields(c, bed);
    // "Solved" is said of what balances, and of numbers.
    if (c.ending == Ending::solved && !(c.equilibrium_error <= 1e-8 && c.unknowns.allFinite()))
        c.ending = Ending::not_converged;
}

// Where the modulus changes from node to node the spring's own force over its area is the pressure, so that sums hold.
void take_spring_pressures(CombinationAnswer& c, const Bed& bed, const Mesh& mesh) {
    c.pressure = c.spring;
    c.max_pressure = -1e300, c.min_pressure = 1e300;
    double whole = 0, pressed = 0;
    for (size_t i = 0; i < bed.area.size(); ++i) {
        whole += bed.area[i];
        if (c.pressure[i] > 0) pressed += bed.area[i];
        c.min_pressure = std::min(c.min_pressure, c.pressure[i]);
        if (c.pressure[i] > c.max_pressure) c.max_pressure = c.pressure[i], c.max_pressure_at = mesh.nodes[i];
    }
    c.contact_ratio = pressed / whole;
}

// The largest pressure beside a border of ground patches is that of the stiffer side, not the node's mean of both.
void find_largest_by_cell(CombinationAnswer& c, const Answer& a) {
    const double yield = a.model->ground.yield_pressure.value_or(1e300);
    c.max_pressure = -1e300;
    for (int e = 0; e < int(a.mesh.elements.size()); ++e)
        for (int k = 0; k < corners(a.mesh.elements[e]); ++k) {
            const int i = a.mesh.elements[e][k];
            if (const double p = std::min(yield, c.pressure[size_t(i)] * a.pressure_beside(e, i)); p > c.max_pressure)
                c.max_pressure = p, c.max_pressure_at = a.mesh.nodes[size_t(i)];
        }
}

Resultant resultant_of(const Eigen::VectorXd& f, const std::vector<Point>& nodes) {
    Resultant r;
    for (size_t i = 0; i < nodes.size(); ++i) {
        const double F = f[3 * long(i)];
        r += {F, -F * nodes[i].y - f[3 * long(i) + 2], F * nodes[i].x + f[3 * long(i) + 1]};
    }
    return r;
}

// A nodal value of a mesh of some 600 nodes: columns as `combinations`, a row a node of the fine mesh. Zero where that
// mesh or its answer could not be made.
Eigen::MatrixXd coarse_values(const Answer& fine, const std::vector<std::string>& combinations,
                              const std::function<double(const CombinationAnswer&, int)>& value,
                              const Progress& progress) {
    SolveOptions o;
    o.combinations = combinations;
    o.checks = false;
    o.mesh_size = std::max(1.5 * fine.mesh.size, std::sqrt(net_area(*fine.model) / 500));
    Progress quiet;
    quiet.stop = progress.stop;
    Eigen::MatrixXd s = Eigen::MatrixXd::Zero(long(fine.mesh.nodes.size()), long(combinations.size()));
    try {
        const auto coarse = solve(*fine.model, o, quiet);
        const Finder finder(coarse->mesh);
        for (size_t i = 0; i < fine.mesh.nodes.size(); ++i) {
            const Finder::Hit h = finder.nearest(fine.mesh.nodes[i]);
            for (size_t c = 0; c < combinations.size(); ++c)
                if (const CombinationAnswer* k = coarse->find(combinations[c]); k && k->unknowns.size() > 0)
                    for (int q = 0; q < corners(coarse->mesh.elements[h.element]); ++q)
                        s(long(i), long(c)) += h.weight[q] * value(*k, coarse->mesh.elements[h.element][q]);
        }
    } catch (const Trouble&) {
        // The coarse mesh could not be made: the fine one finds its way without it.
    }
    return s;
}

// kPa upward on the underside at each node, from the water loads of a combination; empty when it has none.
std::vector<double> water_pressure(const Model& model, const Combination& c, const Mesh& mesh) {
    std::vector<double> out;
    for (const LoadCase& k : model.loads.cases) {
        const auto it = c.factors.find(k.id);
        if (it == c.factors.end() || it->second == 0) continue;
        for (const LoadItem& i : k.items)
            if (auto u = std::get_if<Uplift>(&i.load)) {
                out.resize(mesh.nodes.size());
                for (size_t n = 0; n < mesh.nodes.size(); ++n)
                    out[n] +=
                        it->second * water_weight * std::max(0.0, u->to_level - underside_at(model, mesh.nodes[n]));
            }
    }
    return out;
}

// The combination whose mean contact pressure sets springs and depth limit: the stated one, else the quasi-permanent,
// else the service combination, else any, with the largest downward force.
std::pair<std::string, double> find_combination_for_springs(const Model& model, const std::vector<CaseTotal>& cases) {
    auto force = [&](const Combination& c) {
        double F = 0;
        for (const CaseTotal& k : cases)
            if (auto it = c.factors.find(k.id); it != c.factors.end()) F += it->second * k.on_slab.Fz;
        return F;
    };
    const std::vector<Combination> all = model.loads.combinations.value_or(std::vector<Combination>{});
    if (const auto& stated = model.ground.combination_for_springs) {
        const Combination* c = find_id(all, *stated);
        return {*stated, c ? force(*c) : 0};
    }
    auto best_of = [&](auto fits) {
        std::pair<std::string, double> best{"", 0};
        for (const Combination& c : all)
            if (c.active && fits(c) && force(c) > best.second) best = {c.id, force(c)};
        return best;
    };
    auto best = best_of([](const Combination& c) { return c.frequency == "quasi-permanent"; });
    if (best.first.empty()) best = best_of([](const Combination& c) { return c.purpose == "service"; });
    if (best.first.empty()) best = best_of([](const Combination&) { return true; });
    return best;
}

bool from_strata(const Model& m) { return m.ground.model == "profile" || m.ground.model == "coupled"; }

// The layers below the slab, their depth limit and the pressure it is found with. Warnings go to the problems. What
// stands in the way, where springs are wanted from strata and no combination presses on them, comes back.
std::optional<Problem> look_at_ground(Answer& a) {
    const Model& m = *a.model;
    const bool needed = from_strata(m);
    if (boreholes_that_count(m.ground).empty() || has_errors(problems_of_strata(m))) return {};
    GroundAnswer g;
    std::vector<Polygon> base;
    double area = 0;
    for (const auto& chain : a.mesh.rims) {
        Polygon p;
        for (size_t k = 0; k < chain.size(); ++k) {  // corners only
            const Point at = a.mesh.nodes[size_t(chain[k])],
                        from = a.mesh.nodes[size_t(chain[(k + chain.size() - 1) % chain.size()])],
                        to = a.mesh.nodes[size_t(chain[(k + 1) % chain.size()])];
            if (std::abs(cross(at - from, to - at)) > 1e-9 * distance(from, to)) p.push_back(at);
        }
        p = anticlockwise(p);
        if (!base.empty()) std::reverse(p.begin(), p.end());
        area += signed_area(p);
        base.push_back(std::move(p));
    }
    g.layers = std::make_shared<LayeredGround>(a.model, base, a.mesh.nodes);
    const auto [id, force] = find_combination_for_springs(m, a.cases);
    g.combination = id;
    g.pressure = force / area;
    if (!(g.pressure > 0)) {
        if (!needed) return {};
        return Problem{id.empty() ? "no combination presses downward, so that no springs follow from the strata"
                                  : fmt::format("combination {} for the springs presses with {:.0f} kN", id, force),
                       "ground.combination_for_springs",
                       "name a combination whose loads press the slab down",
                       Severity::error,
                       {}};
    }
    auto layers = std::const_pointer_cast<LayeredGround>(g.layers);
    layers->find_limit(g.pressure);
    const DepthLimit& limit = g.layers->limit();
    if (limit.by == DepthLimit::By::deepest_borehole && needed)
        a.problems.push_back(
            {fmt::format("the borings stop at {:.1f} m, {:.1f} m short of the depth where {:.0f} kPa on the base no "
                         "longer counts ({:.0f} % of the overburden); nothing below them settles here",
                         limit.level, limit.short_by, g.pressure, 100 * m.ground.depth_limit_ratio),
             "ground.boreholes",
             "bore deeper, or give ground.rigid_base_level if the ground below is known to be hard",
             Severity::warning,
             {}});
    g.patches = make_contact_patches(a.mesh, a.plate);
    if (m.ground.excavation_relief)
        for (Point p : g.patches.centre) g.removed.push_back(g.layers->removed_effective(p));
    a.ground = std::move(g);
    return {};
}

struct Going {  // combinations that have an equilibrium, and their loads
    std::vector<size_t> index;
    Eigen::MatrixXd loads;
};

Going find_equilibria(Answer& a, const std::vector<CaseLoads>& cases, const Eigen::MatrixXd& per_case) {
    const Polygon hull = convex_hull(a.mesh.nodes);
    const bool tension = a.model->ground.tension;
    const std::optional<double> yield = a.model->ground.yield_pressure;
    std::vector<double> removed;
    if (a.ground)
        for (Point p : a.mesh.nodes) removed.push_back(a.ground->layers->removed_total(p));
    Going going;
    going.loads.resize(per_case.rows(), long(a.combinations.size()));
    for (size_t k = 0; k < a.combinations.size(); ++k) {
        CombinationAnswer& c = a.combinations[k];
        Eigen::VectorXd f = Eigen::VectorXd::Zero(per_case.rows());
        for (size_t i = 0; i < a.model->loads.cases.size(); ++i)
            if (auto it = c.combination.factors.find(a.model->loads.cases[i].id); it != c.combination.factors.end())
                f += it->second * per_case.col(long(i));
        c.applied = resultant_of(f, a.mesh.nodes);
        c.water = water_pressure(*a.model, c.combination, a.mesh);
        c.removed = removed;
        if (!tension) {  // a base that no spring may pull on needs equilibrium first
            c.balance = find_balance(c.applied, hull);
            c.ending = c.balance.ending;
            if (c.ending == Ending::solved && yield && c.applied.Fz > 0) {
                const double reached = yield_load_factor(c.applied, a.mesh.nodes, a.plate.tributary, *yield);
                if (reached <= 1.0001) {
                    c.ending = Ending::yields_through;
                    c.explanation = fmt::format(
                        "The ground yields through: it can bear {:.2f} of these loads at {:.0f} kPa; enlarge the base.",
                        reached, *yield);
                }
            }
        } else {
            c.ending = Ending::solved;
        }
        if (c.ending == Ending::solved) {
            going.loads.col(long(going.index.size())) = f;
            going.index.push_back(k);
        } else if (c.explanation.empty()) {
            c.explanation = explain(c, *a.model, cases);
        }
    }
    going.loads.conservativeResize(Eigen::NoChange, long(going.index.size()));
    return going;
}

Factor factor_of(const SparseLower& matrix, const Progress& progress) {
    Factor factor(matrix);
    if (progress.stopped()) throw Stopped{};
    if (!factor.factorize(matrix))
        throw Trouble({"the equations cannot be solved: slab and ground differ too much in stiffness",
                       "the model",
                       "check the units of thickness, E of the concrete and modulus of the ground",
                       Severity::error,
                       {}});
    return factor;
}

// Why no contact area was found: a base on a sliver of itself only where the resultant does land near the rim.
void explain_no_contact(CombinationAnswer& c, const Answer& a) {
    const Polygon hull = convex_hull(a.mesh.nodes);
    const Box box = box_of(hull);
    const double span = std::max(box.width(), box.height());
    const double inside = a.model->ground.tension ? span : depth_in_convex(hull, c.balance.landing);
    if (!c.unknowns.allFinite() || !std::isfinite(c.equilibrium_error)) {
        c.explanation = "The loads are too large to be computed with; check their units.";
    } else if (a.model->ground.yield_pressure) {
        c.explanation = fmt::format(
            "No contact area was found in {} rounds; the ground may be close to yielding through at {:.0f} kPa; "
            "enlarge "
            "the base or lessen the eccentricity.",
            c.rounds, *a.model->ground.yield_pressure);
    } else if (inside < 0.02 * span) {
        c.explanation = fmt::format(
            "No contact area was found in {} rounds; the resultant lands {:.3f} m inside the base, where only a sliver "
            "presses; move it inward.",
            c.rounds, inside);
    } else {
        const Concrete& concrete = concrete_of(*a.model, a.model->slab.concrete);
        const double h = a.model->slab.thickness, D = concrete.E * 1000 * a.model->slab.stiffness_factor * h * h * h /
                                                      (12 * (1 - concrete.nu * concrete.nu));
        double k = 0;
        const std::vector<double>& moduli = c.modulus.empty() ? a.modulus : c.modulus;
        for (double v : moduli) k += v / double(moduli.size());
        c.explanation = fmt::format(
            "No contact area was found in {} rounds, though the resultant lands well inside the base. The slab bends "
            "within some {:.2g} m on this ground, against cells of {:.2g} m: check the units of thickness, E and the "
            "ground's stiffness, or mesh finer.",
            c.rounds, std::pow(D / std::max(k, 1e-12), 0.25), a.mesh.size);
    }
}

void solve_on_springs(Answer& a, const Going& going, const Progress& progress) {
    const Bed bed = make_bed(*a.model, a.mesh, a.plate, a.ground ? a.ground->layers.get() : nullptr,
                             a.ground ? a.ground->pressure : 0);
    a.modulus = bed.modulus, a.element_modulus = bed.element_modulus;
    const SparseLower K = assemble(a.plate, a.mesh, progress);
    const Factor factor = factor_of(with_springs(K, bed), progress);
    const Estimate estimate =
        a.coarse || a.mesh.nodes.size() < 1500 ? Estimate{} : [&](const std::vector<int>& lifting) {
            std::vector<std::string> names;
            for (int k : lifting) names.push_back(a.combinations[going.index[size_t(k)]].combination.id);
            return coarse_values(
                a, names, [](const CombinationAnswer& c, int node) { return c.settlement(node); }, progress);
        };
    const std::vector<ContactState> states =
        find_contact(K, factor, bed, a.mesh.nodes, going.loads, progress, a.coarse ? 1e-6 : 1e-11, estimate);
    for (size_t k = 0; k < going.index.size(); ++k) {
        CombinationAnswer& c = a.combinations[going.index[k]];
        read_contact(c, states[k], bed, a.mesh);
        if (a.model->ground.model == "profile") take_spring_pressures(c, bed, a.mesh);
        if (!bed.element_modulus.empty()) find_largest_by_cell(c, a);
        if (a.ground) {
            c.patch_force.assign(size_t(a.ground->patches.count()), 0);
            for (size_t i = 0; i < bed.area.size(); ++i)
                c.patch_force[size_t(a.ground->patches.of_node[i])] += c.spring[i] * bed.area[i];
        }
        if (c.ending == Ending::not_converged) explain_no_contact(c, a);
    }
}

void solve_on_layers(Answer& a, const Going& going, const Progress& progress) {
    GroundAnswer& g = *a.ground;
    const ContactPatches& patches = g.patches;
    const auto begin = std::chrono::steady_clock::now();
    progress.report(0.2, "flexibility");
    const Flexibility C = g.layers->flexibility(patches, g.pressure, progress);
    g.form_seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();

    CoupledBed bed;
    bed.patches = &patches;
    bed.tension = a.model->ground.tension;
    bed.yield = a.model->ground.yield_pressure;
    // Springs of the right size: the settlement of each patch under even pressure.
    Eigen::MatrixXd even(patches.count(), 1);
    for (int j = 0; j < patches.count(); ++j) even(j, 0) = g.pressure * patches.area[size_t(j)];
    const auto [first, again] = C.split(patches, even);
    const Eigen::MatrixXd s = C.times(first, again);
    double total = 0;
    for (int j = 0; j < patches.count(); ++j) total += s(j, 0) / patches.count();
    for (int j = 0; j < patches.count(); ++j)
        bed.spring.push_back(even(j, 0) / std::max(s(j, 0), 1e-3 * std::max(total, 1e-12)));
    a.plate.spring_offset = patches.node_offset;

    const SparseLower K = assemble(a.plate, a.mesh, progress);
    const Factor factor = factor_of(with_patch_springs(K, bed), progress);
    const auto truth = [&](const Eigen::MatrixXd& f, Eigen::MatrixXd* rate) {
        return g.layers->settlements(patches, C, g.pressure, f, progress, rate);
    };
    Eigen::MatrixXd start;
    if (!a.coarse && a.mesh.nodes.size() >= 1500) {
        std::vector<std::string> names;
        for (size_t k : going.index) names.push_back(a.combinations[k].combination.id);
        const Eigen::MatrixXd nodal = coarse_values(
            a, names, [](const CombinationAnswer& c, int node) { return c.pressure[size_t(node)]; }, progress);
        start = Eigen::MatrixXd::Zero(patches.count(), nodal.cols());
        for (size_t i = 0; i < a.mesh.nodes.size(); ++i)
            start.row(patches.of_node[i]) +=
                nodal.row(long(i)) * a.plate.tributary[i] / patches.area[size_t(patches.of_node[i])];
    }
    const std::vector<CoupledState> states =
        find_coupled_contact(K, factor, bed, C, truth, g.layers->has_index(), a.mesh.nodes, going.loads, progress,
                             a.coarse ? 1e-5 : 3e-6, start);
    Bed as_springs;  // to read sums and extremes from
    as_springs.area = a.plate.tributary;
    as_springs.offset = a.plate.spring_offset;
    as_springs.yield = bed.yield;
    a.modulus.assign(a.mesh.nodes.size(), a.model->ground.modulus);
    for (size_t k = 0; k < going.index.size(); ++k) {
        CombinationAnswer& c = a.combinations[going.index[k]];
        ContactState state;
        state.ending = states[k].ending, state.newton_steps = states[k].newton_steps, state.rounds = states[k].rounds;
        state.residual = states[k].residual, state.equilibrium_error = states[k].equilibrium_error;
        state.x = states[k].x;
        c.patch_force = states[k].force;
        c.compatibility = states[k].compatibility;
        c.outer = states[k].outer;
        c.modulus.resize(a.mesh.nodes.size());
        for (size_t i = 0; i < a.mesh.nodes.size(); ++i) {
            const size_t j = size_t(patches.of_node[i]);
            state.pressure.push_back(c.patch_force[j] / patches.area[j]);
            const double settled = states[k].x[3 * long(i)];
            c.modulus[i] = settled > 0 ? state.pressure[i] / settled : 0;
        }
        state.spring = state.pressure;
        read_contact(c, state, as_springs, a.mesh);
        if (k == 0 || c.combination.id == g.combination) a.modulus = c.modulus;
        if (c.ending == Ending::not_converged) {
            if (c.compatibility > 1e-4 && c.equilibrium_error <= 1e-8)
                c.explanation = fmt::format(
                    "Slab and ground still differ by {:.1e} of the largest settlement after {} rounds; a finer mesh or "
                    "an even thickness may help.",
                    c.compatibility, c.rounds);
            else
                explain_no_contact(c, a);
        }
    }
}

void solve_contact(Answer& a, const std::vector<CaseLoads>& cases, const Eigen::MatrixXd& per_case,
                   const Progress& progress) {
    const std::optional<Problem> no_springs = look_at_ground(a);
    const Going going = find_equilibria(a, cases, per_case);
    if (going.index.empty()) return;  // nothing has an equilibrium: each combination says why
    if (no_springs) throw Trouble(*no_springs);
    if (a.model->ground.model == "coupled")
        solve_on_layers(a, going, progress);
    else
        solve_on_springs(a, going, progress);
}

void recover_forces(Answer& a) {
    std::vector<CombinationAnswer*> solved;
    for (CombinationAnswer& c : a.combinations)
        if (c.unknowns.size() > 0) solved.push_back(&c);
    Eigen::MatrixXd x(3 * long(a.mesh.nodes.size()), long(solved.size()));
    for (size_t k = 0; k < solved.size(); ++k) x.col(long(k)) = solved[k]->unknowns;
    const Eigen::MatrixXd f = slot_forces(a.plate, a.mesh, a.slots, x);
    for (size_t k = 0; k < solved.size(); ++k) solved[k]->forces = f.col(long(k));
}

}  // namespace

std::shared_ptr<const Answer> solve(const Model& model, const SolveOptions& options, const Progress& progress) {
    const auto begin = std::chrono::steady_clock::now();
    auto a = std::make_shared<Answer>();
    a->model = std::make_shared<const Model>(model);
    a->coarse = !options.checks;
    a->asked = !options.combinations.empty();
    a->problems = problems_of(model);
    for (Problem& p : problems_of_settings(model.settings)) a->problems.push_back(std::move(p));
    for (const Problem& p : a->problems)
        if (p.severity == Severity::error) throw Trouble(p);
    for (Combination& c : combinations_of(model)) {
        if (!options.combinations.empty() &&
            std::find(options.combinations.begin(), options.combinations.end(), c.id) == options.combinations.end())
            continue;
        CombinationAnswer answer;
        answer.combination = std::move(c);
        a->combinations.push_back(std::move(answer));
    }
    for (const std::string& id : options.combinations)
        if (!a->find(id))
            throw Trouble({fmt::format("there is no active combination \"{}\"", id),
                           "the request",
                           "name one of the model's",
                           Severity::error,
                           {}});

    progress.report(0, "mesh");
    a->mesh = build_mesh(model, options.mesh_size, progress, options.checks);
    a->quality = quality_of(a->mesh);
    a->plate = make_plate(model, a->mesh);
    a->slots = make_slots(a->plate, a->mesh);
    const Finder finder(a->mesh);
    std::vector<CaseLoads> cases = case_loads(model, a->mesh, finder, a->problems);
    const Eigen::MatrixXd per_case = nodal_loads(a->mesh, cases);
    for (size_t i = 0; i < cases.size(); ++i) {
        cases[i].on_slab = resultant_of(per_case.col(long(i)), a->mesh.nodes);
        a->cases.push_back({model.loads.cases[i].id, cases[i].on_slab, cases[i].self_weight, cases[i].uplift,
                            cases[i].Hx, cases[i].Hy});
    }
    progress.report(0.2, "contact");
    if (!a->combinations.empty()) solve_contact(*a, cases, per_case, progress);
    if (progress.stopped()) throw Stopped{};
    progress.report(0.6, "moments");
    recover_forces(*a);
    make_checks(*a, cases, finder, options.checks, progress);
    a->seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
    progress.report(1, "done");
    return a;
}

}  // namespace mossbed
