#include "core/answer/solve.h"

#include <chrono>

#include "core/answer/solve_contact.h"
#include "core/answer/stages.h"
#include "core/codes/combination_rules.h"
#include "core/validate/validate.h"

namespace mossbed {

std::vector<Combination> combinations_of(const Model& model) {
    std::vector<Combination> out = combinations_in(model);
    std::erase_if(out, [](const Combination& c) { return !c.active; });
    return out;
}

double size_for_a_look(const Model& m) {
    const double cells = m.ground.model == GroundModel::coupled ? 250 : 500;
    return std::max(m.mesh_size, std::sqrt(std::max(net_area(m), 0.01) / cells));
}

// Times of slabs of 3 000 to 180 000 cells with 2 to 750 combinations go with cells and with cells times combinations;
// a cell on coupled ground takes as long as 1.7 on springs, and by compression index 2.6 times that.
bool takes_long(const Model& m) {
    constexpr double combinations_like_all_else = 50, most = 40'000;
    const double combinations = double(combinations_of(m).size());
    double work = expected_cells(m) * (1 + combinations / combinations_like_all_else);
    if (m.ground.model == GroundModel::coupled)
        work *= m.ground.settlement_method == SettlementMethod::one_dimensional ? 1.7 * 2.6 : 1.7;
    return work > most;
}

namespace {

Stages solve_stages(const std::shared_ptr<const Model>& model, const SolveOptions& options, const Answer* previous,
                    const Progress& progress) {
    Earlier earlier;
    if (previous) earlier = {previous->model.get(), previous->stages};
    const Model& m = *model;
    Stages made;
    progress.report(0, "mesh");
    made.meshed = make_mesh(m, {options.mesh_size, options.checks}, earlier, progress);
    make_plate_and_loads(model, options.rough, made, earlier, progress);
    solve_contact(model, {options.combinations, !options.checks, options.rough}, made, earlier, progress);
    return made;
}

}  // namespace

std::shared_ptr<const Answer> solve(const Model& model, const SolveOptions& options, const Answer* previous,
                                    const Progress& progress) {
    const auto begin = std::chrono::steady_clock::now();
    std::vector<Problem> problems = problems_of(model);
    for (const Problem& p : problems)
        if (p.severity == Severity::error) throw Trouble(p);
    const auto kept = std::make_shared<const Model>(with_combinations_listed(model));
    Fields fields(kept, solve_stages(kept, options, previous, progress));
    for (const auto* more : {&fields.stages.loading->problems, &fields.stages.subsoil->problems})
        problems.insert(problems.end(), more->begin(), more->end());
    fields.problems = std::move(problems);
    fields.asked = !options.combinations.empty(), fields.coarse = !options.checks;
    progress.end_if_stopped();
    Judgement judged = judge(fields, previous, progress);
    auto a = std::make_shared<Answer>(std::move(fields), std::move(judged));
    a->seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
    progress.report(1, "done");
    return a;
}

}  // namespace mossbed
