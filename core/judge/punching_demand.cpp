#include "core/judge/punching_demand.h"

#include <tbb/parallel_for.h>

#include "core/base/polygons.h"

namespace mossbed {

ForceAt PressedInside::at(const std::vector<Curve>& of, size_t combination, double a) const {
    if (of.empty()) return {};
    const Curve& r = of[combination];
    const double t = std::clamp(a / reach * rings, 0.0, double(rings));
    const size_t i = size_t(std::min(rings - 1, int(t)));
    const double u = t - double(i);
    const size_t middle = std::min(i + 1, size_t(rings - 1));
    auto between = [&](auto value) {
        const double from = value(r[i]), to = value(r[i + 1]);
        const double bend = value(r[middle + 1]) - 2 * value(r[middle]) + value(r[middle - 1]);
        return std::clamp(from + u * (to - from) - u * (1 - u) / 2 * bend, std::min(from, to), std::max(from, to));
    };
    return {
        between([](const ForceAt& f) { return f.F; }),
        {between([](const ForceAt& f) { return f.moment.x; }), between([](const ForceAt& f) { return f.moment.y; })}};
}

bool PunchedRegion::operator==(const PunchedRegion& o) const {
    auto same = [](const HalfPlane& a, const HalfPlane& b) { return a.on_line == b.on_line && a.inward == b.inward; };
    return area.outline == o.area.outline && area.centre == o.area.centre && reach == o.reach &&
           course.outward == o.course.outward && course.to_rims == o.course.to_rims && own_columns == o.own_columns &&
           std::equal(area.kept.begin(), area.kept.end(), o.area.kept.begin(), o.area.kept.end(), same);
}

namespace {

class Integrator {
  public:
    Integrator(const Fields& f, const std::vector<HandedOn>& walls,
               const std::vector<std::vector<ColumnForce>>& columns)
        : f_(f), walls_(walls), columns_(columns), loads_(slab_loads(f)), others_(f) {
        std::vector<Box> places;
        for (const Column& c : f.model->columns) places.push_back({c.at, c.at});
        columns_by_place_ = BoxBins(std::move(places));
    }

    PressedInside round(const PunchedRegion& r) const {
        PressedInside p;
        p.reach = r.reach;
        p.ground.resize(f_.combinations.size());
        const Polygon swept = swept_to_rims(r.area, r.course);
        const AroundLoaded around(swept, r.reach, f_, r.area.centre, r.area.kept);
        for (int i = 0; i <= PressedInside::rings; ++i) {
            const double a = r.reach * i / PressedInside::rings;
            const Polygon ring = kept_part(i == 0 ? swept : spread_out(swept, a), r.area.kept);
            const Inside inside = around.inside(ring, a);
            for (size_t c = 0; c < f_.combinations.size(); ++c)
                if (f_.combinations[c].has_field()) p.ground[c][size_t(i)] = ground(inside, c);
            add_others(r, ring, size_t(i), p);
        }
        return p;
    }

  private:
    ForceAt ground(const Inside& inside, size_t combination) const {
        const CombinationAnswer& c = f_.combinations[combination];
        ForceAt up;
        for (const auto& [node, w, moment] : inside.nodes) up.add(c.spring[size_t(node)], {w, moment});
        for (const auto& [e, area, moment] : inside.elements) up.add(-loads_[combination][size_t(e)], {area, moment});
        return up;
    }
    // What else stands inside: in each combination what presses and what pulls, each of them in full.
    void add_others(const PunchedRegion& r, const Polygon& ring, size_t i, PressedInside& p) const {
        auto put = [&](size_t c, double N, ForceAt one) {  // N times `one`, whose force is one kN or nothing
            if (N == 0 || !f_.combinations[c].has_field()) return;
            auto& to = N > 0 ? p.down : p.up;
            if (to.empty()) to.resize(f_.combinations.size());
            to[c][i].add(std::abs(N), one);
        };
        std::vector<ForceAt> lines(f_.combinations.size());  // with what walls hand on: one force a combination
        for (size_t k = 0; k < f_.case_loads.size(); ++k) {
            const LoadsByPlace::Inside in = others_.inside(ring, k, r.area.centre);
            if (in.sizes == 0) continue;
            for (size_t c = 0; c < f_.combinations.size(); ++c) {
                const double f = factor_in(f_.combinations[c], f_.cases[k].id);
                lines[c].add(f, in.lines);
                if (in.down.F != 0) put(c, f * in.down.F, {1, 1 / in.down.F * in.down.moment});
                if (in.up.F != 0) put(c, -f * in.up.F, {1, 1 / in.up.F * in.up.moment});
            }
        }
        const Box box = box_of(ring);
        for (int k : columns_by_place_.over(box)) {
            const Point at = f_.model->columns[size_t(k)].at;
            if (std::find(r.own_columns.begin(), r.own_columns.end(), k) != r.own_columns.end() || !contains(ring, at))
                continue;
            for (size_t c = 0; c < f_.combinations.size(); ++c) {
                ColumnForce sum;
                for (size_t n = 0; n < f_.cases.size(); ++n)
                    sum.add(factor_in(f_.combinations[c], f_.cases[n].id), columns_[n][size_t(k)]);
                put(c, sum.N, {1, at - r.area.centre});
            }
        }
        for (const HandedOn& w : walls_)
            if (box.overlaps({w.at, w.at}) && contains(ring, w.at))
                for (size_t c = 0; c < w.N.size(); ++c) lines[c].add(w.N[c], {1, w.at - r.area.centre});
        for (size_t c = 0; c < lines.size(); ++c)
            if (const double F = lines[c].F; std::abs(F) > 1e-9) put(c, F, {1, 1 / F * lines[c].moment});
    }
    const Fields& f_;
    const std::vector<HandedOn>& walls_;
    const std::vector<std::vector<ColumnForce>>& columns_;
    std::vector<std::vector<double>> loads_;  // kPa, per combination and element
    LoadsByPlace others_;
    BoxBins columns_by_place_;
};

}  // namespace

std::shared_ptr<const PunchingDemand> find_punching_demand(const Fields& f, std::vector<PunchedRegion> regions,
                                                           const std::vector<HandedOn>& walls,
                                                           const std::vector<std::vector<ColumnForce>>& columns,
                                                           const std::shared_ptr<const PunchingDemand>& before,
                                                           const Progress& progress) {
    if (before && before->solution == f.stages.solution && before->loading == f.stages.loading &&
        before->regions == regions)
        return before;
    auto out = std::make_shared<PunchingDemand>();
    out->solution = f.stages.solution, out->loading = f.stages.loading;
    out->regions = std::move(regions);
    out->inside.resize(out->regions.size());
    const Integrator inside(f, walls, columns);
    tbb::parallel_for(size_t(0), out->regions.size(), [&](size_t k) {
        progress.end_if_stopped();
        out->inside[k] = inside.round(out->regions[k]);
    });
    return out;
}

}  // namespace mossbed
