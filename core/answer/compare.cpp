#include "core/answer/compare.h"

#include <algorithm>

#include "core/fields/best_fit_plane.h"

namespace mossbed {

std::vector<GroundRow> compare_grounds(const Model& model, const std::string& combination, const Progress& progress) {
    std::vector<GroundRow> out;
    int n = 0;
    std::shared_ptr<const Answer> earlier;
    for (GroundModel ground : {GroundModel::uniform, GroundModel::profile, GroundModel::coupled}) {
        progress.report(n++ / 3.0, name_of(ground));
        GroundRow row;
        row.model = name_of(ground);
        Model m = model;
        m.ground.model = ground;
        SolveOptions o;
        o.combinations = {combination};
        Progress quiet;
        quiet.stop = progress.stop;
        try {
            const auto a = solve(m, o, earlier.get(), quiet);
            earlier = a;
            const CombinationAnswer& c = a->combinations.at(0);
            if (!c.is_solved()) {
                row.why_not = c.explanation;
            } else {
                row.max_pressure = c.max_pressure, row.yield_ratio = c.yield_ratio, row.contact_ratio = c.contact_ratio;
                const Finder::Hit h = a->finder.nearest(centroid(outer_rim(m.slab.outline, 0.5)));
                row.settlement_middle = 0;
                for (int k = 0; k < corners(a->mesh.elements[h.element]); ++k)
                    row.settlement_middle += h.weight[k] * c.settlement(a->mesh.elements[h.element][k]);
                row.settlement_rim = 0;
                for (int i : a->mesh.rims[0]) row.settlement_rim += c.settlement(i) / double(a->mesh.rims[0].size());
                row.settlement_largest = -1e300;
                for (int i = 0; i < int(a->mesh.nodes.size()); ++i)
                    row.settlement_largest = std::max(row.settlement_largest, c.settlement(i));
                const SettledPlane plane = best_fit_plane(*a, c);
                row.tilt_x = plane.along_x, row.tilt_y = plane.along_y;
                std::vector<char> covered(a->mesh.nodes.size());  // inside a footprint moments are not for design
                for (size_t e = 0; e < a->mesh.elements.size(); ++e)
                    if (a->mesh.footprint[e] >= 0)
                        for (int k = 0; k < corners(a->mesh.elements[e]); ++k)
                            covered[size_t(a->mesh.elements[e][k])] = 1;
                row.sagging = row.hogging = 0;
                for (int i = 0; i < int(a->mesh.nodes.size()); ++i)
                    if (!covered[size_t(i)])
                        for (auto component : {&PlateForces::mx, &PlateForces::my}) {
                            const double v = a->force_at_node(c, i, component);
                            row.sagging = std::max(row.sagging, v), row.hogging = std::min(row.hogging, v);
                        }
            }
        } catch (const Trouble& t) {
            row.why_not = t.problem.sentence();
        }
        out.push_back(std::move(row));
    }
    return out;
}

Model with_ground_stiffness(Model m, double factor) {
    m.ground.modulus *= factor;
    for (GroundPatch& p : m.ground.patches) p.modulus *= factor;
    for (Stratum& s : m.ground.strata) {
        s.E *= factor;
        if (s.E_reload) *s.E_reload *= factor;
        if (s.compression_index) *s.compression_index /= factor;
        if (s.recompression_index) *s.recompression_index /= factor;
    }
    return m;
}

std::vector<BracketRow> bracket_ground(const Model& model, const Progress& progress) {
    std::vector<BracketRow> out;
    const std::vector<Compared>& asked = compared_checks();
    out.reserve(asked.size());
    for (const auto& [id, title] : asked)
        out.push_back({title,
                       Unit::none,
                       {not_a_number, not_a_number, not_a_number},
                       {not_a_number, not_a_number, not_a_number}});
    const std::array<double, 3> factor{0.5, 1, 2};
    std::shared_ptr<const Answer> earlier;
    for (size_t k = 0; k < 3; ++k) {
        progress.report(double(k) / 3, "ground");
        Progress quiet;
        quiet.stop = progress.stop;
        const auto a = solve(with_ground_stiffness(model, factor[k]), {}, earlier.get(), quiet);
        earlier = a;
        for (size_t i = 0; i < asked.size(); ++i)
            for (const Row& r : a->checks)
                if (r.id == asked[i].id && r.value &&
                    (std::isnan(out[i].value[k]) || r.utilisation.value_or(0) > out[i].use[k])) {
                    out[i].value[k] = *r.value, out[i].unit = r.unit;
                    if (r.utilisation) out[i].use[k] = *r.utilisation;
                }
    }
    std::erase_if(out, [](const BracketRow& r) { return std::isnan(r.value[1]); });
    return out;
}

}  // namespace mossbed
