#include "core/checks/depth_chart.h"

namespace mossbed {
namespace {

double path_of(const Stratum& s, const LayerShare& l) { return s.drainage_path.value_or((l.top - l.bottom) / 2); }

}  // namespace

double settlement_after(const std::vector<LayerShare>& layers, const std::vector<Stratum>& strata, double years) {
    double sum = 0;
    for (const LayerShare& l : layers) {
        const Stratum& s = strata[size_t(l.stratum)];
        sum += l.settlement * (s.cv ? degree_of_consolidation(*s.cv, path_of(s, l), years) : 1);
    }
    return sum;
}

std::optional<DepthChart> depth_chart(const Answer& a, const std::string& combination, Point at) {
    const CombinationAnswer* c = a.find(combination);
    if (!a.ground || !c || c->patch_force.empty()) return {};
    const GroundAnswer& g = *a.ground;
    const std::vector<Stratum>& strata = a.model->ground.strata;
    DepthChart d;
    d.at = at;
    d.combination = combination;
    const SoilColumn column = g.layers->column(at);
    d.column = column.layers;
    d.ground_level = column.ground_level, d.water_level = column.water_level;
    d.founding = g.layers->founding(), d.limit = g.layers->limit().level;
    d.removed = g.layers->removed_effective(at);
    if (on_slab(*a.model, at)) {
        double best = 1e300;
        for (size_t i = 0; i < a.mesh.nodes.size(); ++i)
            if (const double r = distance(a.mesh.nodes[i], at); r < best) best = r, d.contact = c->pressure[i];
    }
    const auto layers = g.layers->settle(at, g.patches, c->patch_force, g.removed, g.pressure);
    for (const LayerShare& l : layers) d.settlement += l.settlement;
    bool slow = false;
    for (const LayerShare& l : layers) {
        const Stratum& s = strata[size_t(l.stratum)];
        DepthChart::Layer row{s.id, l.top, l.bottom, l.settlement, d.settlement > 0 ? l.settlement / d.settlement : 0,
                              {}};
        if (s.cv) row.years_to_90 = 0.848 * path_of(s, l) * path_of(s, l) / *s.cv, slow = true;  // T90 = 0.848
        d.layers.push_back(std::move(row));
    }
    if (slow)
        for (double y : a.model->ground.years) d.times.push_back({y, settlement_after(layers, strata, y)});
    const double bottom =
        std::max(std::min(g.layers->profile().deepest(), d.limit), d.limit - 0.35 * (d.founding - d.limit)) -
        0.02 * (d.founding - d.limit);
    std::vector<double> depths;
    const double top = std::max(d.ground_level, d.founding);
    for (int k = 0; k <= 60; ++k) {
        const double level = top + (bottom - top) * k / 60;
        d.stations.push_back({level, column.effective_stress(level, strata), 0});
        depths.push_back(d.founding - level);
    }
    std::vector<double> below;
    for (double z : depths)
        if (z > 0) below.push_back(z);
    const std::vector<double> added = g.layers->added_stress(at, g.patches, c->patch_force, below);
    for (size_t k = 0, m = 0; k < depths.size(); ++k)
        if (depths[k] > 0) d.stations[k].added = added[m++];
    return d;
}

}  // namespace mossbed
