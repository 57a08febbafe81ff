#include "core/fields/depth_chart.h"

namespace mossbed {
std::vector<Drainage> drainage_of(const std::vector<SoilLayer>& column, double founding,
                                  const std::vector<Stratum>& strata) {
    struct Run {
        double root = 0;  // Σ H/√cv: layers of other cv count as thickness over its root
        bool up = false, down = false;
    };
    std::vector<Drainage> out(column.size());
    auto slow = [&](size_t i) { return strata[size_t(column[i].stratum)].cv.has_value(); };
    auto below_base = [&](size_t i) { return column[i].bottom < founding; };
    for (size_t i = 0; i < column.size(); ++i) {
        if (!slow(i) || !below_base(i)) continue;
        size_t end = i;
        Run run;
        run.up = true;  // the ground above drains, or the base does
        for (; end < column.size() && slow(end); ++end)
            run.root += (std::min(column[end].top, founding) - column[end].bottom) /
                        std::sqrt(*strata[size_t(column[end].stratum)].cv);
        run.down = end < column.size();  // below the last layer nothing is known to drain
        for (size_t k = i; k < end; ++k) {
            const Stratum& s = strata[size_t(column[k].stratum)];
            out[k] = {s.drainage_path.value_or(run.root * std::sqrt(*s.cv) * (run.down ? 0.5 : 1)), run.up, run.down,
                      s.drainage_path.has_value()};
        }
        i = end;
    }
    return out;
}

namespace {

const Drainage* drainage_of_layer(const LayerShare& l, const std::vector<SoilLayer>& column,
                                  const std::vector<Drainage>& drainage) {
    for (size_t i = 0; i < column.size(); ++i)
        if (column[i].place == l.place && column[i].stratum == l.stratum) return &drainage[i];
    return nullptr;
}

}  // namespace

double settlement_after(const std::vector<LayerShare>& layers, const std::vector<Stratum>& strata,
                        const std::vector<SoilLayer>& column, double founding, double years) {
    const std::vector<Drainage> drainage = drainage_of(column, founding, strata);
    double sum = 0;
    for (const LayerShare& l : layers) {
        const Stratum& s = strata[size_t(l.stratum)];
        const Drainage* d = drainage_of_layer(l, column, drainage);
        sum += l.settlement * (s.cv && d && d->path > 0 ? degree_of_consolidation(*s.cv, d->path, years) : 1);
    }
    return sum;
}

std::optional<DepthChart> depth_chart(const Fields& a, const std::string& combination, Point at) {
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
    const auto layers = g.layers->settle(at, *g.patches, c->patch_force, g.removed, a.stages.subsoil->pressure);
    for (const LayerShare& l : layers) d.settlement += l.settlement;
    bool slow = false;
    const std::vector<Drainage> drainage = drainage_of(column.layers, d.founding, strata);
    for (const LayerShare& l : layers) {
        const Stratum& s = strata[size_t(l.stratum)];
        DepthChart::Layer row{s.id, l.top, l.bottom, l.settlement, d.settlement > 0 ? l.settlement / d.settlement : 0,
                              {},   {}};
        if (const Drainage* way = drainage_of_layer(l, column.layers, drainage); s.cv && way) {
            row.drainage = *way, slow = true;
            row.years_to_90 = 0.848 * way->path * way->path / *s.cv;  // T90 = 0.848
        }
        d.layers.push_back(std::move(row));
    }
    if (slow)
        for (double y : a.model->ground.years)
            d.times.push_back({y, settlement_after(layers, strata, column.layers, d.founding, y)});
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
    const std::vector<double> added = g.layers->added_stress(at, *g.patches, c->patch_force, below);
    for (size_t k = 0, m = 0; k < depths.size(); ++k)
        if (depths[k] > 0) d.stations[k].added = added[m++];
    return d;
}

}  // namespace mossbed
