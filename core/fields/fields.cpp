#include "core/fields/fields.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>

#include "core/base/both.h"

namespace mossbed {
namespace {

const std::vector<double> none;

}  // namespace

Meshed::Meshed(const MeshOptions& how, Mesh m)
    : options(how), mesh(std::move(m)), finder([this] {
          std::optional<Finder> made;
          both([&] { made.emplace(mesh); },
               [&] { both([&] { quality = quality_of(mesh); }, [&] { shares = node_shares(mesh); }); });
          return std::move(*made);
      }()) {}

Fields::Fields(std::shared_ptr<const Model> of, Stages made)
    : model(std::move(of)),
      stages(std::move(made)),
      mesh(stages.meshed->mesh),
      quality(stages.meshed->quality),
      shares(stages.meshed->shares),
      finder(stages.meshed->finder),
      plate(stages.stiffness->plate),
      slots(stages.stiffness->slots),
      cases(stages.loading->totals),
      case_loads(stages.loading->cases),
      ground(stages.subsoil->ground),
      combinations(stages.solution->combinations),
      modulus(stages.solution->modulus),
      element_modulus(stages.supported ? stages.supported->bed.element_modulus : none) {}

Point Fields::acts_at(int node) const {
    return mesh.nodes[size_t(node)] + (stages.supported ? stages.supported->bed.offset : shares.offset)[size_t(node)];
}

const CombinationAnswer* Fields::find(const std::string& id) const {
    for (const CombinationAnswer& c : combinations)
        if (c.combination.id == id) return &c;
    return nullptr;
}

double Fields::force_at_node(const CombinationAnswer& c, int node, double PlateForces::*component) const {
    double best = 0;
    for (int slot : slots.of_node[size_t(node)]) {
        const double v = c.forces[slot].*component;
        if (std::abs(v) > std::abs(best)) best = v;
    }
    return best;
}

Point centre_of_base(const Fields& f) {
    Point sum{0, 0};
    double area = 0;
    for (size_t e = 0; e < f.mesh.elements.size(); ++e) {
        const double a = f.mesh.area(int(e));
        sum = sum + a * centroid(f.mesh.polygon(int(e))), area += a;
    }
    return (1 / area) * sum;
}

std::pair<double, double> range_of_settlement(const Fields& a, const CombinationAnswer& c) {
    std::pair<double, double> r{1e300, -1e300};
    for (int i = 0; i < int(a.mesh.nodes.size()); ++i)
        r.first = std::min(r.first, c.settlement(i)), r.second = std::max(r.second, c.settlement(i));
    return r;
}

std::string share_in_words(double share) {
    return share < 0.001 ? "under 0.1 %" : fmt::format("{:.1f} %", 100 * share);
}

double factor_in(const Combination& c, const std::string& load_case) {
    const auto it = c.factors.find(load_case);
    return it == c.factors.end() ? 0 : it->second;
}

std::span<const CombinationAnswer> as_listed(const std::vector<CombinationAnswer>& all) {
    const auto end = std::find_if(all.begin(), all.end(), [](const CombinationAnswer& c) { return c.without_yield; });
    return {all.data(), size_t(end - all.begin())};
}

}  // namespace mossbed
