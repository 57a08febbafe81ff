#include "core/judge/punching_demand.h"

#include <tbb/parallel_for.h>

#include "core/base/polygons.h"
#include "core/judge/inside_perimeter.h"

namespace mossbed {

double PressedInside::at(size_t combination, double a) const {
    const auto& r = relief[combination];
    const double t = std::clamp(a / reach * rings, 0.0, double(rings));
    const size_t i = size_t(std::min(rings - 1, int(t)));
    const double u = t - double(i);
    const size_t middle = std::min(i + 1, size_t(rings - 1));
    const double bend = r[middle + 1] - 2 * r[middle] + r[middle - 1];
    const double between = r[i] + u * (r[i + 1] - r[i]) - u * (1 - u) / 2 * bend;
    return std::clamp(between, std::min(r[i], r[i + 1]), std::max(r[i], r[i + 1]));
}

namespace {

class Integrator {
  public:
    explicit Integrator(const Fields& f) : f_(f), loads_(slab_loads(f)), others_(f) {}

    PressedInside round(PunchedArea area, double reach) const {
        PressedInside p;
        p.area = std::move(area), p.reach = reach;
        p.relief.resize(f_.combinations.size());
        const AroundLoaded around(p.area.outline, reach, f_);
        for (int i = 0; i <= PressedInside::rings; ++i) {
            const double a = reach * i / PressedInside::rings;
            const Polygon ring = i == 0 ? p.area.outline : spread_out(p.area.outline, a);
            const Inside inside = around.inside(ring, a);
            std::vector<LoadsByPlace::Inside> others;
            for (size_t k = 0; k < f_.case_loads.size(); ++k) others.push_back(others_.inside(ring, k));
            for (size_t c = 0; c < f_.combinations.size(); ++c)
                if (f_.combinations[c].has_field()) p.relief[c][size_t(i)] = relief(inside, others, c);
        }
        return p;
    }

  private:
    double relief(const Inside& inside, const std::vector<LoadsByPlace::Inside>& others, size_t combination) const {
        const CombinationAnswer& c = f_.combinations[combination];
        double up = 0;
        for (auto [node, w] : inside.nodes) up += w * c.spring[size_t(node)];
        for (auto [e, area] : inside.elements) up -= area * loads_[combination][size_t(e)];
        for (size_t k = 0; k < others.size(); ++k)  // what else presses inside the perimeter counts in full
            if (const double F = factor_in(c, f_.cases[k].id); F != 0)
                up -= std::max(0.0, F * others[k].down) + std::max(0.0, F * others[k].up);
        return up;
    }
    const Fields& f_;
    std::vector<std::vector<double>> loads_;  // kPa, per combination and element
    LoadsByPlace others_;
};

// The thicker patch that a column stands on, where perimeters may go round it.
const SlabPatch* step_under(const Model& m, const Column& c) {
    const SlabPatch* under = nullptr;
    for (const SlabPatch& t : m.slab.patches)
        if (contains(t.outline, c.at)) under = &t;
    return under && under->thickness > m.slab.thickness && is_convex(anticlockwise(under->outline)) ? under : nullptr;
}

bool is_same(const PunchingDemand& before, const Fields& f, const std::function<double(double)>& reach) {
    if (before.solution != f.stages.solution || before.loading != f.stages.loading) return false;
    for (size_t k = 0; k < before.columns.size(); ++k)
        if (before.columns[k].footprint.reach != reach(thickness_at(*f.model, f.model->columns[k].at))) return false;
    return true;
}

}  // namespace

std::shared_ptr<const PunchingDemand> find_punching_demand(const Fields& f, const std::function<double(double)>& reach,
                                                           const std::shared_ptr<const PunchingDemand>& before,
                                                           const Progress& progress) {
    if (before && is_same(*before, f, reach)) return before;
    const Model& m = *f.model;
    auto out = std::make_shared<PunchingDemand>();
    out->solution = f.stages.solution, out->loading = f.stages.loading;
    out->columns.resize(m.columns.size());
    const Integrator inside(f);
    tbb::parallel_for(size_t(0), m.columns.size(), [&](size_t k) {
        progress.end_if_stopped();
        const Column& c = m.columns[k];
        out->columns[k].footprint =
            inside.round({footprint(c), c.at, c.size[0], c.round() ? c.size[0] : c.size[1], c.round(), c.angle},
                         reach(thickness_at(m, c.at)));
        if (const SlabPatch* step = step_under(m, c)) {
            const Box b = box_of(step->outline);
            out->columns[k].step =
                inside.round({anticlockwise(step->outline), c.at, b.width(), b.height()}, reach(m.slab.thickness));
        }
    });
    return out;
}

}  // namespace mossbed
