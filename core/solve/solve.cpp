#include "core/solve/solve.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>

#include "core/checks/checks.h"
#include "core/ground/bed.h"
#include "core/model/validate.h"
#include "core/solve/contact.h"

namespace mossbed {

const CombinationAnswer* Answer::find(const std::string& id) const {
    for (const CombinationAnswer& c : combinations)
        if (c.combination.id == id) return &c;
    return nullptr;
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
}

Resultant resultant_of(const Eigen::VectorXd& f, const std::vector<Point>& nodes) {
    Resultant r;
    for (size_t i = 0; i < nodes.size(); ++i) {
        const double F = f[3 * long(i)];
        r += {F, -F * nodes[i].y - f[3 * long(i) + 2], F * nodes[i].x + f[3 * long(i) + 1]};
    }
    return r;
}

// Where the slab lifts, from a mesh of some 600 nodes: columns as `combinations`, a row a node of the fine mesh.
Eigen::MatrixXd coarse_settlements(const Answer& fine, const std::vector<std::string>& combinations,
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
                        s(long(i), long(c)) += h.weight[q] * k->settlement(coarse->mesh.elements[h.element][q]);
        }
    } catch (const Trouble&) {
        // The coarse mesh could not be made: the fine one finds its way without it.
    }
    return s;
}

void solve_contact(Answer& a, const std::vector<CaseLoads>& cases, const Eigen::MatrixXd& per_case,
                   const Progress& progress) {
    const Bed bed = make_bed(*a.model, a.mesh, a.plate);
    a.modulus = bed.modulus;
    const SparseLower K = assemble(a.plate, a.mesh, progress);
    const SparseLower full = with_springs(K, bed);
    Factor factor(full);
    if (progress.stopped()) throw Stopped{};
    if (!factor.factorize(full))
        throw Trouble({"the equations cannot be solved: slab and ground differ too much in stiffness",
                       "the model",
                       "check the units of thickness, E of the concrete and modulus of the ground",
                       Severity::error,
                       {}});

    // A base that no spring may pull on needs equilibrium first.
    const Polygon hull = convex_hull(a.mesh.nodes);
    std::vector<long> going;
    Eigen::MatrixXd loads(per_case.rows(), long(a.combinations.size()));
    for (size_t k = 0; k < a.combinations.size(); ++k) {
        CombinationAnswer& c = a.combinations[k];
        Eigen::VectorXd f = Eigen::VectorXd::Zero(per_case.rows());
        for (size_t i = 0; i < a.model->loads.cases.size(); ++i)
            if (auto it = c.combination.factors.find(a.model->loads.cases[i].id); it != c.combination.factors.end())
                f += it->second * per_case.col(long(i));
        c.applied = resultant_of(f, a.mesh.nodes);
        if (!bed.tension) {
            c.balance = find_balance(c.applied, hull);
            c.ending = c.balance.ending;
            if (c.ending == Ending::solved && bed.yield && c.applied.Fz > 0) {
                const double reached = yield_load_factor(c.applied, a.mesh.nodes, bed.area, *bed.yield);
                if (reached <= 1.0001) {
                    c.ending = Ending::yields_through;
                    c.explanation = fmt::format(
                        "The ground yields through: it can bear {:.2f} of these loads at {:.0f} kPa; enlarge the base.",
                        reached, *bed.yield);
                }
            }
        } else {
            c.ending = Ending::solved;
        }
        if (c.ending == Ending::solved) {
            loads.col(long(going.size())) = f;
            going.push_back(long(k));
        } else if (c.explanation.empty()) {
            c.explanation = explain(c, *a.model, cases);
        }
    }
    std::vector<size_t> ids(going.begin(), going.end());
    const Estimate estimate =
        a.coarse || a.mesh.nodes.size() < 1500 ? Estimate{} : [&](const std::vector<int>& lifting) {
            return coarse_settlements(
                a,
                [&] {
                    std::vector<std::string> names;
                    for (int k : lifting) names.push_back(a.combinations[ids[size_t(k)]].combination.id);
                    return names;
                }(),
                progress);
        };
    const std::vector<ContactState> states = find_contact(
        K, factor, bed, a.mesh.nodes, loads.leftCols(long(going.size())), progress, a.coarse ? 1e-6 : 1e-11, estimate);
    for (size_t k = 0; k < going.size(); ++k) {
        CombinationAnswer& c = a.combinations[going[k]];
        read_contact(c, states[k], bed, a.mesh);
        if (c.ending == Ending::not_converged)
            c.explanation = bed.yield
                                ? fmt::format(
                                      "No contact area was found in {} rounds; the ground is close to yielding through "
                                      "at {:.0f} kPa; enlarge the base or lessen the eccentricity.",
                                      c.rounds, *bed.yield)
                                : fmt::format(
                                      "No contact area was found in {} rounds; the resultant lands {:.3f} m inside the "
                                      "base, where only a sliver presses; move it inward.",
                                      c.rounds, depth_in_convex(hull, c.balance.landing));
    }
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
