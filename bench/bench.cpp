// Speed as ratios within one run. f is one supernodal factorisation and solution of the same plate on one thread.
// Nothing here passes or fails: absolute times belong to the machine, the ratios are what is watched
// (docs/decisions.md).
#include <benchmark/benchmark.h>
#include <fmt/format.h>
#include <sys/wait.h>
#include <unistd.h>

#include <atomic>
#include <chrono>
#include <cstdio>
#include <fstream>
#include <map>
#include <thread>

#include "bench/growth.h"
#include "core/answer/curve.h"
#include "core/answer/least_steel.h"
#include "core/answer/solve.h"
#include "core/answer/solve_contact.h"
#include "core/base/dense.h"
#include "core/base/one_thread.h"
#include "core/contact/contact.h"
#include "core/file/model_file.h"
#include "core/judge/margin_map.h"

using namespace mossbed;

namespace {

// A slab with a grid of columns, sized by its nodes: 5 m bays, half a metre of mesh.
Model grid_raft(int bays_x, int bays_y) {
    Model m;
    const double x = 5.0 * bays_x + 3, y = 5.0 * bays_y + 3;
    m.slab.outline = Polygon{{0, 0}, {x, 0}, {x, y}, {0, y}};
    m.slab.thickness = 0.7;
    m.ground.modulus = 15000;
    for (int i = 0; i <= bays_x; ++i)
        for (int j = 0; j <= bays_y; ++j) {
            Column c;
            c.id = fmt::format("C{}-{}", i, j);
            c.at = {1.5 + 5 * i, 1.5 + 5 * j};
            m.columns.push_back(c);
        }
    return m;
}

// With a load on each column, in one combination.
Model loaded(Model m) {
    m.loads.cases = {LoadCase{}};
    m.loads.cases[0].id = "G";
    for (const Column& c : m.columns)
        m.loads.cases[0].items.push_back({ColumnLoad{c.id, 900 + double(c.at.x), 0, 0, 0, 0}, {}});
    Combination k;
    k.id = "S1", k.factors = {{"G", 1.0}};
    m.loads.combinations = std::vector<Combination>{k};
    return m;
}

struct Problem10k {
    Model model;
    Mesh mesh;
    NodeShares shares;
    Plate plate;
    Bed bed;
    SparseLower K, full;
    explicit Problem10k(Model m, double size = 0) : model(std::move(m)) {
        mesh = build_mesh(model, size, {}, size == 0);
        shares = node_shares(mesh);
        plate = make_plate(model, mesh);
        bed = bed_of_springs(model, mesh, shares, plate.of);
        K = assemble(plate, mesh);
        full = bed.supports.with_springs(K);
    }
    ContactSystem with(const Factor& factor) const { return {plate.of, K, factor, bed.supports, mesh.nodes}; }
    long row(int node) const { return plate.of.row(node, Unknown::s); }
    // Column loads that differ by combination; in seven of ten, columns of one side pull up and that side lifts.
    Eigen::MatrixXd loads(int n, bool lifting) const {
        Eigen::MatrixXd f = Eigen::MatrixXd::Zero(plate.of.count(), n);
        double reach = 0;
        for (const Column& c : model.columns) reach = std::max(reach, c.at.x);
        for (int c = 0; c < n; ++c) {
            const bool lifts = lifting && c % 10 < 7;
            for (size_t k = 0; k < model.columns.size(); ++k) {
                double N = 900 + 50 * double((int(k) * 7 + c * 3) % 9);
                if (lifts && model.columns[k].at.x > (0.9 - 0.05 * (c % 10)) * reach)
                    N = -260 - 20 * (c % 7);  // one side pulls up
                f(row(mesh.column_node[k]), c) = N;
            }
            for (size_t i = 0; i < mesh.nodes.size(); ++i) f(row(int(i)), c) += 4 * shares.area[i];
        }
        return f;
    }
};

const Problem10k& problem(int which) {
    static const Problem10k small(grid_raft(5, 4)), large(grid_raft(11, 8));
    return which == 0 ? small : large;
}
// The same raft with ribs along every other row of columns: five unknowns a node.
Model with_ribs(Model m) {
    const Box b = box_of(std::get<Polygon>(m.slab.outline));
    for (double y = b.low.y + 1.5; y < b.high.y; y += 10) {
        Rib r;
        r.id = fmt::format("R{}", m.ribs.size() + 1), r.flush = Flush::top, r.depth = 1.2;
        r.path = {{b.low.x, y}, {b.high.x, y}};
        m.ribs.push_back(r);
    }
    return m;
}
const Problem10k& ribbed(int which) {
    static const Problem10k small(with_ribs(grid_raft(5, 4))), large(with_ribs(grid_raft(11, 8)));
    return which == 0 ? small : large;
}
Model read_or_throw(const std::string& path) {
    Loaded l = load_model(path);
    if (!l.model) throw std::runtime_error(path + " cannot be read");
    return *l.model;
}
// Tern Quay with fourteen combinations made by hand, by which pace is measured; the example itself has its rows by
// rule.
const Model& demo() {
    static const Model m = read_or_throw(EXAMPLES "/../tests/data/quay.mossbed");
    return m;
}

// By the library on one thread, the measure of all others; or as answers are made, assembly as well if told so.
enum class By { library, fronts, assembly_and_fronts };
void factor_of(benchmark::State& s, const Problem10k& p, By by) {
    Factor f(p.full, p.mesh.nodes);
    f.factorize(p.full);
    if (by == By::library) f.factorize_by_library(p.full);  // its own analysis is not counted
    Eigen::MatrixXd b = p.loads(1, false);
    for (auto _ : s) {
        if (by == By::assembly_and_fronts) benchmark::DoNotOptimize(assemble(p.plate, p.mesh).value.data());
        by == By::library ? f.factorize_by_library(p.full) : f.factorize(p.full);
        Eigen::MatrixXd x = b;
        f.solve_in_place(x);
        benchmark::DoNotOptimize(x.data());
    }
    s.counters["nodes"] = double(p.mesh.nodes.size());
}
void bare_factor(benchmark::State& s) { factor_of(s, problem(int(s.range(0))), By::library); }
void own_factor(benchmark::State& s) { factor_of(s, problem(int(s.range(0))), By::fronts); }
void linear_solution(benchmark::State& s) { factor_of(s, problem(int(s.range(0))), By::assembly_and_fronts); }
void ribbed_factor(benchmark::State& s) { factor_of(s, ribbed(int(s.range(0))), By::library); }
void ribbed_assembly(benchmark::State& s) {
    const Problem10k& p = ribbed(int(s.range(0)));
    for (auto _ : s) benchmark::DoNotOptimize(assemble(p.plate, p.mesh).value.data());
}
void analysis(benchmark::State& s) {
    const Problem10k& p = problem(int(s.range(0)));
    for (auto _ : s) Factor f(p.full, p.mesh.nodes);
}
void mesh(benchmark::State& s) {
    const Problem10k& p = problem(int(s.range(0)));
    for (auto _ : s) benchmark::DoNotOptimize(build_mesh(p.model).nodes.size());
}
void assembly(benchmark::State& s) {
    const Problem10k& p = problem(int(s.range(0)));
    for (auto _ : s) benchmark::DoNotOptimize(assemble(p.plate, p.mesh).value.data());
}
void linear_40(benchmark::State& s) {
    const Problem10k& p = problem(int(s.range(0)));
    Factor f(p.full, p.mesh.nodes);
    f.factorize(p.full);
    const Eigen::MatrixXd b = p.loads(40, false);
    for (auto _ : s) {
        Eigen::MatrixXd x = b;
        f.solve_in_place(x);
        benchmark::DoNotOptimize(x.data());
    }
}
void contact_40(benchmark::State& s) {
    const Problem10k& p = problem(int(s.range(0)));
    Factor f(p.full, p.mesh.nodes);
    f.factorize(p.full);
    const Eigen::MatrixXd b = p.loads(40, true);
    double rounds = 0, lifted = 0, share = 0, steps = 0;
    for (auto _ : s) {
        // As solve() does it: where something lifts, a coarse mesh is asked first; its cost is counted.
        const Estimate estimate = [&](const std::vector<int>& lifting) {
            const Problem10k coarse(p.model, size_to_start_from(p.model, p.mesh.size));
            Factor rough(coarse.full, coarse.mesh.nodes);
            rough.factorize(coarse.full);
            const Eigen::MatrixXd all = coarse.loads(40, true);
            Eigen::MatrixXd some(all.rows(), long(lifting.size()));
            for (size_t k = 0; k < lifting.size(); ++k) some.col(long(k)) = all.col(lifting[k]);
            const auto found = find_contact(coarse.with(rough), some, {.tolerance = 1e-6});
            const Finder finder(coarse.mesh);
            Eigen::MatrixXd settlement = Eigen::MatrixXd::Zero(long(p.mesh.nodes.size()), long(lifting.size()));
            for (size_t i = 0; i < p.mesh.nodes.size(); ++i) {
                const Finder::Hit h = finder.nearest(p.mesh.nodes[i]);
                for (size_t k = 0; k < lifting.size(); ++k)
                    for (int q = 0; q < corners(coarse.mesh.elements[h.element]); ++q)
                        settlement(long(i), long(k)) +=
                            h.weight[q] * found[k].x[coarse.row(coarse.mesh.elements[h.element][q])];
            }
            return Estimated{settlement, std::vector<char>(lifting.size(), 1)};
        };
        const auto states =
            find_contact(p.with(f), b, {.tolerance = 1e-10, .estimate = s.range(1) ? estimate : Estimate{}});
        rounds = lifted = share = steps = 0;
        for (const ContactState& c : states) {
            rounds += c.rounds;
            steps += c.newton_steps;
            double off = 0, all = 0;
            for (size_t i = 0; i < p.mesh.nodes.size(); ++i)
                all += p.shares.area[i], off += c.force[i] == 0 ? p.shares.area[i] : 0;
            lifted += off > 0;
            share += off / all;
        }
    }
    s.counters["rounds_each"] = rounds / 40;
    s.counters["steps_each"] = steps / 40;
    s.counters["lifting"] = lifted;
    s.counters["lifted_share"] = share / std::max(1.0, lifted);
}
void demo_full(benchmark::State& s) {
    for (auto _ : s) benchmark::DoNotOptimize(solve(demo()).get());
}
// After an edit: of a cover (all but the judges kept), of a combination (mesh and factor kept), of a load likewise.
void demo_ledger_again(benchmark::State& s) {
    const auto before = solve(demo());
    Model edited = demo();
    edited.steel.cover_bottom += 5;
    for (auto _ : s) benchmark::DoNotOptimize(solve(edited, {}, before.get()).get());
}
// Base and extra bars put together; and one size of them changed, the bars listed anew with it.
void demo_least_steel(benchmark::State& s) {
    const auto before = solve(demo());
    double lighter = 0;
    for (auto _ : s) {
        const LeastSteel found = least_steel(demo(), 0, before.get());
        lighter = 1 - found.scheme().kg / found.uniform_kg.value_or(found.scheme().kg);
    }
    s.counters["lighter"] = lighter;
}
void demo_bar_again(benchmark::State& s) {
    const LeastSteel found = least_steel(demo(), 0, nullptr);
    const auto before = solve(*found.model);
    Model edited = *found.model;
    edited.steel.bottom_x.diameter = *edited.steel.bottom_x.diameter + 4;
    for (auto _ : s) {
        const auto a = solve(edited, {}, before.get());
        benchmark::DoNotOptimize(margin_map(*a, *a, Face::bottom, Direction::x).map.least);
    }
}
// 500 columns in 40 strength combinations: a cover changes, so that all is judged again and nothing solved.
void many_columns_again(benchmark::State& s) {
    Model m = loaded(grid_raft(24, 19));
    m.mesh_size = 1.5;
    m.steels = {Steel{}};
    m.steel.steel = m.steels[0].id;
    m.steel.bottom_x = m.steel.bottom_y = m.steel.top_x = m.steel.top_y = {20, 150};
    Combination k = (*m.loads.combinations)[0];
    k.purpose = Purpose::strength;
    m.loads.combinations->clear();
    for (int i = 0; i < 40; ++i) {
        k.id = fmt::format("U{}", i), k.factors["G"] = 1 + 0.01 * i;
        m.loads.combinations->push_back(k);
    }
    const auto before = solve(m);
    m.steel.cover_bottom += 5;
    for (auto _ : s) benchmark::DoNotOptimize(solve(m, {}, before.get()).get());
    s.counters["columns"] = double(before->punching.size());
}
void demo_combination_again(benchmark::State& s) {
    const auto before = solve(demo());
    Model edited = demo();
    (*edited.loads.combinations)[0].factors.begin()->second *= 1.05;
    for (auto _ : s) benchmark::DoNotOptimize(solve(edited, {}, before.get()).get());
}
void demo_contact_only(benchmark::State& s) {
    SolveOptions o;
    o.checks = false;
    for (auto _ : s) benchmark::DoNotOptimize(solve(demo(), o).get());
}
// The same models on springs, and with clay whose strain is by compression index.
const Model& on_springs() {
    static const Model m = [] {
        Model s = demo();
        s.ground.model = GroundModel::uniform;
        return s;
    }();
    return m;
}
const Model& one_dimensional(bool by_index) {
    static const std::array<Model, 2> both = [] {
        Model m = demo();
        m.ground.settlement_method = SettlementMethod::one_dimensional;
        Model index = m;
        for (Stratum& s : index.ground.strata)
            if (s.id == "alluvium")
                s.compression_index = 0.3, s.recompression_index = 0.05, s.void_ratio = 1.1, s.preconsolidation = 60;
            else if (s.id == "firm-clay")
                s.compression_index = 0.15, s.recompression_index = 0.03, s.void_ratio = 0.7, s.preconsolidation = 150;
        return std::array{m, index};
    }();
    return both[by_index];
}
void demo_on_springs(benchmark::State& s) {
    for (auto _ : s) benchmark::DoNotOptimize(solve(on_springs()).get());
}
// The example on springs, its rows by rule; and the demo with sixty of which half lift a side in the wind.
const Model& by_rule() {
    static const Model m = [] {
        Model r = read_or_throw(EXAMPLES "/tern-quay.mossbed");
        r.ground.model = GroundModel::profile;
        return r;
    }();
    return m;
}
const Model& sixty() {
    static const Model m = [] {
        Model r = on_springs();
        r.loads.combinations.emplace();
        for (int i = 0; i < 60; ++i) {
            Combination c;
            c.id = fmt::format("S{}", i + 1);
            c.factors = i % 2 ? std::map<std::string, double>{{"G", 1}, {"WX", 1.2 + 0.02 * i}}
                              : std::map<std::string, double>{{"G", 1}, {"R", 0.4 + 0.02 * i}, {"K", 0.7}};
            r.loads.combinations->push_back(std::move(c));
        }
        return r;
    }();
    return m;
}
void demo_factor(benchmark::State& s) {
    static const Problem10k p(on_springs());
    Factor f(p.full, p.mesh.nodes);
    Eigen::MatrixXd b = Eigen::MatrixXd::Ones(p.plate.of.count(), 1);
    for (auto _ : s) {
        f.factorize(p.full);
        Eigen::MatrixXd x = b;
        f.solve_in_place(x);
        benchmark::DoNotOptimize(x.data());
    }
}
void demo_sixty(benchmark::State& s) {
    double lift = 0;
    for (auto _ : s) {
        const auto a = solve(sixty());
        lift = 0;
        for (const CombinationAnswer& c : a->combinations) lift += c.is_solved() && c.contact_ratio < 0.999;
    }
    s.counters["lifting"] = lift;
}
void demo_by_rule(benchmark::State& s) {
    for (auto _ : s) benchmark::DoNotOptimize(solve(by_rule()).get());
}
void demo_curve(benchmark::State& s) {
    const std::string id = combinations_of(by_rule()).front().id;
    for (auto _ : s) benchmark::DoNotOptimize(load_settlement_curve(by_rule(), {id, 2, 20, {}}).steps.size());
}
void demo_one_dimensional(benchmark::State& s) {
    for (auto _ : s) benchmark::DoNotOptimize(solve(one_dimensional(s.range(0) != 0)).get());
}
void demo_after_edit(benchmark::State& s) {
    const auto before = solve(demo());
    Model edited = demo();
    switch (s.range(0)) {
        case 0:
            edited.columns[3].at.x += 0.1;
            break;
        case 1:
            for (Point& p : std::get<Polygon>(edited.slab.outline)) p.x += p.x > 30 ? 0.1 : 0;
            break;
        case 2:
            for (Combination& c : *edited.loads.combinations)
                for (auto& [id, factor] : c.factors) factor *= 1.05;
            break;
        default:
            edited.slab.thickness += 0.05;
    }
    for (auto _ : s) benchmark::DoNotOptimize(solve(edited, {}, before.get()).get());
}
// A column follows the hand by 5 cm a frame, each frame going on from the one before; as the window does it.
void drag_frame(benchmark::State& s, Model m) {
    SolveOptions o;
    o.checks = false;
    o.mesh_size = size_for_a_look(m);
    auto last = solve(m, o);
    const double from = m.columns[3].at.x;
    for (auto _ : s) {
        m.columns[3].at.x = m.columns[3].at.x > from + 1 ? from : m.columns[3].at.x + 0.05;
        last = solve(m, o, last.get());
    }
}
void demo_drag_frame(benchmark::State& s) { drag_frame(s, demo()); }
void demo_drag_frame_on_springs(benchmark::State& s) { drag_frame(s, on_springs()); }
void large_100k(benchmark::State& s) {
    const Model m = loaded(grid_raft(33, 28));
    for (auto _ : s) {
        const auto a = solve(m);
        s.counters["nodes"] = double(a->mesh.nodes.size());
    }
}

// Layered ground with clay that thickens to one side.
Ground layered_ground() {
    Ground g;
    g.model = GroundModel::coupled, g.founding_level = -1.5;
    auto stratum = [](const char* id, double E, double nu) {
        Stratum s;
        s.id = id, s.E = E, s.nu = nu, s.E_reload = 3.5 * E;
        return s;
    };
    g.strata = {stratum("fill", 15, 0.3), stratum("clay", 6, 0.35), stratum("till", 25, 0.3), stratum("sand", 70, 0.3)};
    int k = 0;
    for (auto [x, y, bottom] : {std::array{-5.0, -5.0, -3.5}, {40.0, -4.0, -8.0}, {15.0, 30.0, -5.5}}) {
        Borehole b;
        b.id = fmt::format("B{}", ++k), b.at = {x, y}, b.ground_level = 0.0, b.water_level = -1.0;
        b.layers = {{"fill", -2.5, {}}, {"clay", bottom, {}}, {"till", bottom - 5, {}}, {"sand", -30, {}}};
        g.boreholes.push_back(b);
    }
    return g;
}

// A full answer with some 6 000 patches, for its memory: in a process of its own, so that nothing else counts.
void solve_many_patches(bool by_index) {
    Model m = loaded(grid_raft(15, 12));
    m.ground = layered_ground();
    if (by_index) {
        m.ground.settlement_method = SettlementMethod::one_dimensional;
        Stratum& clay = m.ground.strata[1];
        clay.compression_index = 0.3, clay.recompression_index = 0.05, clay.void_ratio = 1.1;
        clay.preconsolidation = 60;
    }
    const auto a = solve(m);
    // its own peak: what wait4 tells counts the process it was forked from too
    std::ifstream status("/proc/self/status");
    std::string line;
    while (std::getline(status, line) && !line.starts_with("VmHWM:")) {
    }
    fmt::print("{} {}\n", a->stages.subsoil->ground->patches->count(), std::atof(line.c_str() + 6));
}
void memory(benchmark::State& s) {
    for (auto _ : s) {
        int out[2];
        if (pipe(out) != 0) return s.SkipWithError("no pipe");
        const pid_t child = fork();
        if (child == 0) {
            dup2(out[1], STDOUT_FILENO);
            execl("/proc/self/exe", "mossbed-bench", s.range(0) ? "--many-patches-by-index" : "--many-patches",
                  nullptr);
            _exit(1);
        }
        close(out[1]);
        char said[32] = {};
        if (child < 0 || read(out[0], said, sizeof said - 1) <= 0) s.SkipWithError("no answer");
        close(out[0]);
        waitpid(child, nullptr, 0);
        double patches = 0, kib = 0;
        if (std::sscanf(said, "%lf %lf", &patches, &kib) != 2) s.SkipWithError("no answer");
        s.counters["GiB"] = kib / (1 << 20);
        s.counters["patches"] = patches;
    }
}

// Some 4 000 patches; the plate of problem(2).
struct CoupledProblem {
    Model model;
    std::optional<Problem10k> plate;
    std::shared_ptr<LayeredGround> ground;
    std::shared_ptr<const ContactPatches> patches;
    Flexibility C;
    Bed bed;
    std::optional<Factor> factor;
    CoupledProblem() : model(grid_raft(6, 4)) {
        model.ground = layered_ground();
        plate.emplace(model, 0.46);
        Polygon rim;
        for (int i : plate->mesh.rims[0]) rim.push_back(plate->mesh.nodes[size_t(i)]);
        ground = std::make_shared<LayeredGround>(std::make_shared<const Model>(model),
                                                 std::vector<Polygon>{anticlockwise(rim)}, plate->mesh.nodes);
        ground->find_limit(80);
        patches = std::make_shared<const ContactPatches>(make_contact_patches(plate->mesh, plate->shares));
        C = ground->flexibility(patches, 80);
        bed = bed_of_patches(model, *patches, plate->plate.of);
        size_springs(bed, *patches, C, 80);
        const SparseLower full = bed.supports.with_springs(plate->K);
        factor.emplace(full, plate->mesh.nodes);
        factor->factorize(full);
    }
};
const CoupledProblem& coupled_problem() {
    static const CoupledProblem p;
    return p;
}
void dense_cholesky(benchmark::State& s) {
    const CoupledProblem& p = coupled_problem();
    hold_algebra_to_one_thread();
    const Eigen::MatrixXd C = p.C.first.cast<double>();
    const Eigen::MatrixXd A = (C + C.transpose()) / 2;
    for (auto _ : s) {
        Eigen::MatrixXd L = A;
        if (!cholesky_in_place(L)) s.SkipWithError("the flexibility is not positive definite");
    }
    s.counters["patches"] = double(p.patches->count());
}
void form_flexibility(benchmark::State& s) {
    const CoupledProblem& p = coupled_problem();
    for (auto _ : s) benchmark::DoNotOptimize(p.ground->flexibility(p.patches, 80).first.data());
}
void coupled_plate_factor(benchmark::State& s) {
    const CoupledProblem& p = coupled_problem();
    const SparseLower m = p.bed.supports.with_springs(p.plate->K);
    Factor f(m, p.plate->mesh.nodes);
    f.factorize_by_library(m);  // its own analysis is not counted
    for (auto _ : s) benchmark::DoNotOptimize(f.factorize_by_library(m));
}
// Arguments: combinations, whether one side lifts, how closely (the power of ten of the residual).
void coupled(benchmark::State& s) {
    const CoupledProblem& p = coupled_problem();
    const int n = int(s.range(0));
    const bool lifts = s.range(1) != 0;
    Eigen::MatrixXd loads = p.plate->loads(lifts ? 10 * n : n, lifts);
    if (lifts) {  // those of ten that lift, 10 to 40 % of the base
        Eigen::MatrixXd some(loads.rows(), n);
        for (int k = 0; k < n; ++k) some.col(k) = loads.col(10 * k + k % 7);
        loads = some;
    }
    const GroundCoupling joined{*p.patches, p.C};
    double rounds = 0, steps = 0, off = 0, share = 0, unsolved = 0;
    for (auto _ : s) {
        const auto states =
            find_contact({p.plate->plate.of, p.plate->K, *p.factor, p.bed.supports, p.plate->mesh.nodes}, loads,
                         {.tolerance = std::pow(10.0, -double(s.range(2))), .ground = &joined});
        rounds = steps = off = share = unsolved = 0;
        for (const ContactState& c : states) {
            rounds += c.rounds, steps += c.newton_steps, off = std::max(off, c.compatibility);
            unsolved += c.ending != Ending::solved;
            double all = 0, lifted = 0;
            for (int j = 0; j < p.patches->count(); ++j)
                all += p.patches->area[size_t(j)], lifted += c.force[size_t(j)] == 0 ? p.patches->area[size_t(j)] : 0;
            share += lifted / all;
        }
    }
    s.counters["rounds_each"] = rounds / n;
    s.counters["steps_each"] = steps / n;
    s.counters["misfit"] = off;
    s.counters["lifted_share"] = share / n;
    s.counters["unsolved"] = unsolved;
}

// A full answer with the most of one thing, or a fifth of that.
void growth(benchmark::State& s) {
    const Growth& g = growths[size_t(s.range(0))];
    const Model m = with_many(g.what, s.range(1) ? g.most : g.most / 5, s.range(2) ? demo() : on_springs());
    for (auto _ : s) benchmark::DoNotOptimize(solve(m));
}
// The quick look that the window shows before the full answer, with the most of one thing, from nothing.
void look_growth(benchmark::State& s) {
    const Model m = with_many(growths[size_t(s.range(0))].what, growths[size_t(s.range(0))].most,
                              s.range(1) ? demo() : on_springs());
    if (!takes_long(m)) return s.SkipWithError("none is shown");
    SolveOptions o;
    o.checks = false;
    o.mesh_size = size_for_a_look(m);
    for (auto _ : s) benchmark::DoNotOptimize(solve(m, o));
}
// The longest that a stop had to wait for, in ms, of stops at 8 moments of a full answer with the most of one thing.
void stop_growth(benchmark::State& s) {
    const Growth& g = growths[size_t(s.range(0))];
    const Model m = with_many(g.what, g.most, s.range(1) ? demo() : on_springs());
    using Clock = std::chrono::steady_clock;
    const auto begin = Clock::now();
    benchmark::DoNotOptimize(solve(m));
    const std::chrono::duration<double> whole = Clock::now() - begin;
    double longest = 0;
    for (auto _ : s)
        for (int k = 0; k < 8; ++k) {
            std::atomic<bool> stop{false};
            Clock::time_point asked;
            std::thread hand([&] {
                std::this_thread::sleep_for(whole * ((k + 0.5) / 8));
                asked = Clock::now();
                stop = true;
            });
            Progress progress;
            progress.stop = &stop;
            bool stopped = false;
            try {
                solve(m, {}, nullptr, progress);
            } catch (const Stopped&) {
                stopped = true;
            }
            const auto end = Clock::now();
            hand.join();
            if (stopped) longest = std::max(longest, std::chrono::duration<double>(end - asked).count());
        }
    s.SetIterationTime(longest);
}

BENCHMARK(bare_factor)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(own_factor)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(linear_solution)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(ribbed_factor)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(ribbed_assembly)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(analysis)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(mesh)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(assembly)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(linear_40)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(contact_40)
    ->Args({0, 0})
    ->Args({0, 1})
    ->Args({1, 0})
    ->Args({1, 1})
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK(dense_cholesky)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(form_flexibility)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(coupled_plate_factor)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(coupled)
    ->Args({1, 0, 6})
    ->Args({1, 1, 6})
    ->Args({20, 0, 6})
    ->Args({20, 1, 6})
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK(demo_full)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(demo_ledger_again)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(demo_least_steel)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(demo_bar_again)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(many_columns_again)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(demo_combination_again)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(demo_contact_only)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(demo_drag_frame)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(demo_drag_frame_on_springs)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(demo_on_springs)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(demo_factor)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(demo_sixty)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(demo_by_rule)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(demo_curve)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(demo_after_edit)->DenseRange(0, 3)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(demo_one_dimensional)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime()->Repetitions(3);
BENCHMARK(growth)
    ->ArgsProduct({{0, 1, 2, 3, 4, 5}, {0, 1}, {0, 1}})
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime()
    ->Iterations(1);
BENCHMARK(look_growth)
    ->Args({0, 0})
    ->Args({0, 1})
    ->Args({5, 1})
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime()
    ->Iterations(1);
BENCHMARK(stop_growth)
    ->ArgsProduct({{1, 2, 3, 4, 5}, {0, 1}})
    ->Args({0, 0})
    ->Unit(benchmark::kMillisecond)
    ->UseManualTime()
    ->Iterations(1);
BENCHMARK(memory)->Arg(0)->Arg(1)->Unit(benchmark::kSecond)->UseRealTime()->Iterations(1);
BENCHMARK(large_100k)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(1);

class Ratios : public benchmark::ConsoleReporter {
  public:
    void ReportRuns(const std::vector<Run>& runs) override {
        ConsoleReporter::ReportRuns(runs);
        for (const Run& r : runs)
            if (!r.error_occurred && r.run_type == Run::RT_Iteration) {
                std::string name = r.benchmark_name();  // the least of all repetitions, as of one
                if (const size_t at = name.find("/repeats:"); at != std::string::npos)
                    name.erase(at, name.find('/', at + 1) - at);
                const auto [it, first] = times_.try_emplace(name, r.GetAdjustedRealTime());
                it->second = std::min(it->second, r.GetAdjustedRealTime());
                for (const auto& [what, n] : r.counters) counts_[name + "/" + what] = double(n);
            }
    }
    void Finalize() override {
        auto time = [&](const std::string& name) {
            const auto it = times_.find(name);
            return it == times_.end() ? std::nan("") : it->second;
        };
        fmt::print(
            "\nRatios of this run (f: bare factorisation by the library and solution of the same plate, one thread)\n");
        for (int w : {0, 1}) {
            const auto n = [&](const char* what) { return time(fmt::format("{}/{}/real_time", what, w)); };
            const double f = n("bare_factor");
            if (!std::isfinite(f)) continue;
            fmt::print("  {:>6} nodes: f = {:.1f} ms\n", problem(w).mesh.nodes.size(), f);
            if (const double five = n("ribbed_factor"); std::isfinite(five))
                fmt::print(
                    "    five unknowns a node, ribs ({} nodes): {:.2f} f (at most 3.5), assembly {:.2f} times that of "
                    "three\n",
                    ribbed(w).mesh.nodes.size(), five / f, n("ribbed_assembly") / n("assembly"));
            fmt::print("    mesh                                         {:6.2f} f   (1.2)\n", n("mesh") / f);
            fmt::print("    assembly, pattern and values                 {:6.2f} f   (0.3 with a known pattern)\n",
                       n("assembly") / f);
            fmt::print("    symbolic analysis, once a mesh               {:6.2f} f\n", n("analysis") / f);
            fmt::print("    one linear combination on the factor, of 40  {:6.3f} f   (0.03)\n",
                       n("linear_40") / 40 / f);
            fmt::print("    40 combinations, 28 lifting, together        {:6.1f} f   (30)\n",
                       time(fmt::format("contact_40/{}/1/real_time", w)) / f);
            fmt::print("    factor by fronts + solution, all cores       {:6.2f} f\n", n("own_factor") / f);
            fmt::print("    assembly + factor + solution over bare       {:6.2f}     (1.15)\n",
                       n("linear_solution") / f);
        }
        if (const double d = time("dense_cholesky/real_time"), f = time("coupled_plate_factor/real_time");
            std::isfinite(d) && std::isfinite(f)) {
            fmt::print(
                "  coupled ground, {} patches: d = {:.0f} ms (dense Cholesky factorisation of the flexibility, one "
                "thread), f = {:.1f} ms\n",
                coupled_problem().patches->count(), d, f);
            fmt::print("    forming the flexibility                      {:6.2f} d   (0.7)\n",
                       time("form_flexibility/real_time") / d);
            auto line = [&](const char* what, const char* name, int n, const char* goal) {
                const double t = time(fmt::format("coupled/{}/real_time", name));
                fmt::print("    {:<44} {:6.2f} d = {:.0f} f, {:.2f} d each   ({})\n", what, t / d, t / f, t / d / n,
                           goal);
            };
            line("one combination in full contact", "1/0/6", 1, "1 d");
            line("one combination that lifts, from nothing", "1/1/6", 1, "5 d");
            line("20 combinations in full contact", "20/0/6", 20, "20 share");
            line("20 combinations that lift", "20/1/6", 20, "20 share");
            fmt::print("    20 combinations that lift, each               {:5.1f} f   (7)\n",
                       time("coupled/20/1/6/real_time") / 20 / f);
        }
        for (int by_index : {0, 1})
            if (const std::string name = fmt::format("memory/{}/iterations:1/real_time/", by_index);
                counts_.count(name + "GiB"))
                fmt::print("  memory at {:.0f} patches{:<32} {:6.2f} GiB (2)\n", counts_[name + "patches"],
                           by_index ? ", strain by compression index" : "", counts_[name + "GiB"]);
        print_growth();
        if (!std::isfinite(time("demo_full/real_time"))) return;
        fmt::print(
            "  demo: full answer {:.0f} ms, contact only {:.0f} ms, frame while dragging {:.0f} ms ({:.2f} of a full "
            "answer)\n",
            time("demo_full/real_time"), time("demo_contact_only/real_time"), time("demo_drag_frame/real_time"),
            time("demo_drag_frame/real_time") / time("demo_full/real_time"));
        if (const double springs = time("demo_on_springs/real_time"); std::isfinite(springs)) {
            fmt::print("  demo on coupled ground, over a full answer on springs, {:.0f} ms\n", springs);
            fmt::print("    from nothing                                 {:6.2f}     (2.5)\n",
                       time("demo_full/real_time") / springs);
            const char* edits[] = {"a column moved", "a rim moved", "all loads", "the thickness"};
            for (int k = 0; k < 4; ++k)
                fmt::print("    after an edit: {:<30}{:6.2f}     (1.5)\n", edits[k],
                           time(fmt::format("demo_after_edit/{}/real_time", k)) / springs);
            fmt::print("    a frame while dragging over one on springs   {:6.2f}     (1.5)\n",
                       time("demo_drag_frame/real_time") / time("demo_drag_frame_on_springs/real_time"));
            fmt::print("    strain by compression index over elastic     {:6.2f}     (4)\n",
                       time("demo_one_dimensional/1/real_time") / time("demo_one_dimensional/0/real_time"));
        }
        if (const double f = time("demo_factor/real_time"); std::isfinite(f))
            fmt::print(
                "  demo on springs: f = {:.1f} ms; full answer with 60 combinations, {:.0f} lifting, {:.0f} f (60); "
                "rows "
                "by rule written and solved in {:.1f} s (2); a curve of 20 steps {:.1f} s (3)\n",
                f, counts_["demo_sixty/real_time/lifting"], time("demo_sixty/real_time") / f,
                time("demo_by_rule/real_time") / 1000, time("demo_curve/real_time") / 1000);
        fmt::print("  {:.0f} columns × 40 combinations, all judged again: {:.2f} s (1)\n",
                   counts_["many_columns_again/real_time/columns"], time("many_columns_again/real_time") / 1000);
        fmt::print(
            "  demo after an edit: of a cover {:.0f} ms ({:.3f} of a full answer), of a combination {:.0f} ms "
            "({:.2f})\n",
            time("demo_ledger_again/real_time"), time("demo_ledger_again/real_time") / time("demo_full/real_time"),
            time("demo_combination_again/real_time"),
            time("demo_combination_again/real_time") / time("demo_full/real_time"));
        fmt::print(
            "  demo: base and extra bars put together in {:.1f} s (1), {:.0f} % lighter than base bars alone (15); a "
            "bar "
            "changed {:.0f} ms (50)\n",
            time("demo_least_steel/real_time") / 1000, 100 * counts_["demo_least_steel/real_time/lighter"],
            time("demo_bar_again/real_time"));
    }

  private:
    void print_growth() const {
        auto time = [&](const std::string& name) {
            const auto it = times_.find(name);
            return it == times_.end() ? std::nan("") : it->second;
        };
        bool any = false;
        for (int k = 0; k < int(std::size(growths)); ++k)
            for (int coupled : {0, 1}) {
                auto of = [&](int full) {
                    return time(fmt::format("growth/{}/{}/{}/iterations:1/real_time", k, full, coupled));
                };
                const double whole = of(1);
                if (!std::isfinite(whole)) continue;
                if (!std::exchange(any, true))
                    fmt::print("  a full answer with many of one thing: how much longer for five times as many (5)\n");
                fmt::print("    {:>5} {:<22} {:<14} {:6.2f}     {:.1f} s", growths[k].most, growths[k].name,
                           coupled ? "coupled ground" : "springs", whole / of(0), whole / 1000);
                const double stop = time(fmt::format("stop_growth/{}/{}/iterations:1/manual_time", k, coupled));
                if (std::isfinite(stop)) fmt::print(", a stop within {:.0f} ms (500)", stop);
                const double look = time(fmt::format("look_growth/{}/{}/iterations:1/real_time", k, coupled));
                if (std::isfinite(look))
                    fmt::print(", a quick look after {:.2f} s ({:.3f})", look / 1000, look / whole);
                fmt::print("\n");
            }
    }
    std::map<std::string, double> times_, counts_;
};

}  // namespace

int main(int argc, char** argv) {
    if (argc == 2 && std::string_view(argv[1]).starts_with("--many-patches")) {
        solve_many_patches(std::string_view(argv[1]).ends_with("index"));
        return 0;
    }
    benchmark::Initialize(&argc, argv);
    Ratios reporter;
    benchmark::RunSpecifiedBenchmarks(&reporter);
    return 0;
}
