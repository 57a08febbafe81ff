#include "core/answer/convergence.h"

namespace mossbed {

namespace {
std::optional<double> measure_of(const Row& r) {
    if (r.utilisation) return r.utilisation;
    return r.id == "rib" && r.value ? std::optional(std::abs(*r.value)) : std::nullopt;
}
}  // namespace

Convergence check_convergence(const Model& model, const Progress& progress) {
    Convergence out;
    out.size = {model.mesh_size, model.mesh_size / std::sqrt(2.0), model.mesh_size / 2};
    const std::vector<Compared>& asked = compared_checks();
    for (const auto& [id, title] : asked) out.rows.push_back({title, {not_a_number, not_a_number, not_a_number}});
    for (size_t k = 0; k < 3; ++k) {
        SolveOptions o;
        o.mesh_size = out.size[k];
        Progress part;
        part.stop = progress.stop;
        progress.report(double(k) / 3, "mesh");
        const auto a = solve(model, o, nullptr, part);
        out.nodes[k] = a->quality.nodes;
        for (size_t i = 0; i < asked.size(); ++i)
            for (const Row& r : a->checks)
                if (const auto v = measure_of(r); v && r.id == asked[i].id) {
                    out.rows[i].use[k] = std::isnan(out.rows[i].use[k]) ? *v : std::max(out.rows[i].use[k], *v);
                    out.rows[i].unit = r.utilisation ? Unit::none : r.unit;
                }
    }
    std::erase_if(out.rows, [](const ConvergenceRow& r) { return std::isnan(r.use[0]) || std::isnan(r.use[2]); });
    return out;
}

}  // namespace mossbed
