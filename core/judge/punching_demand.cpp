#include "core/judge/punching_demand.h"

#include <tbb/parallel_for.h>

#include "core/base/counted.h"
#include "core/base/polygons.h"

namespace mossbed {

ForceAt Standing::within(double a, size_t combination) const {
    const auto beyond = std::upper_bound(from.begin(), from.end(), a + 1e-9);
    return beyond == from.begin() ? ForceAt{} : held[size_t(beyond - from.begin()) - 1][combination];
}

ForceAt PressedInside::of_ground(double a, size_t combination) const {
    const Curve& r = ground[combination];
    const double t = std::clamp(a / reach * rings, 0.0, double(rings));
    const size_t i = size_t(std::min(rings - 1, int(t)));
    const size_t first = std::min(i > 0 ? i - 1 : 0, size_t(rings - 3));
    const double x = t - double(first);
    const std::array<double, 4> share{-(x - 1) * (x - 2) * (x - 3) / 6, x * (x - 2) * (x - 3) / 2,
                                      -x * (x - 1) * (x - 3) / 2, x * (x - 1) * (x - 2) / 6};
    auto between = [&](auto value) {
        const double from = value(r[i]), to = value(r[i + 1]);
        double there = 0;
        for (size_t k = 0; k < 4; ++k) there += share[k] * value(r[first + k]);
        return std::clamp(there, std::min(from, to), std::max(from, to));
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
        : f_(f), walls_(walls), columns_(columns), shapes_(shapes_of_cells(f.mesh)), loads_(slab_loads(f)), others_(f) {
        std::vector<Box> places;
        for (const Column& c : f.model->columns) places.push_back({c.at, c.at});
        columns_by_place_ = BoxBins(std::move(places));
        for (const CombinationAnswer& c : f.combinations) {
            factors_.emplace_back();
            for (const CaseTotal& k : f.cases) factors_.back().push_back(factor_in(c, k.id));
        }
        whole_.resize(f.mesh.elements.size());
        tbb::parallel_for(size_t(0), whole_.size(), [&](size_t e) {
            const PartOfCell all = shapes_[e].over(f.mesh.polygon(int(e)), corner_of(int(e)));
            whole_[e].resize(f.combinations.size());
            for (size_t c = 0; c < f.combinations.size(); ++c)
                if (f.combinations[c].has_field()) add_ground(int(e), all, c, whole_[e][c]);
        });
    }

    PressedInside round(const PunchedRegion& r) const {
        PressedInside p;
        p.reach = r.reach;
        p.ground.resize(f_.combinations.size());
        const Polygon swept = swept_to_rims(r.area, r.course);
        std::vector<double> distances;
        for (int i = 0; i <= PressedInside::rings; ++i) distances.push_back(r.reach * i / PressedInside::rings);
        const size_t n = f_.combinations.size();
        std::vector<ForceAt> joined(n * distances.size()), cut(joined);  // per perimeter and combination
        elements_inside(swept, distances, f_, shapes_, r.area.centre, r.area.kept, [&](const PartInside& part) {
            for (size_t c = 0; c < n; ++c) {
                if (!f_.combinations[c].has_field()) continue;
                ForceAt& up = (part.beyond ? joined : cut)[part.perimeter * n + c];
                if (part.of) {
                    add_ground(part.element, *part.of, c, up);
                } else {
                    const ForceAt& of = whole_[size_t(part.element)][c];
                    up.add(1, {of.F, of.moment + of.F * (corner_of(part.element) - r.area.centre)});
                }
            }
        });
        for (size_t c = 0; c < n; ++c) {
            ForceAt all;
            for (size_t i = 0; i < distances.size(); ++i) {
                all.add(1, joined[i * n + c]);
                p.ground[c][i] = all;
                p.ground[c][i].add(1, cut[i * n + c]);
            }
        }
        stand_round(r, swept, p);
        return p;
    }

  private:
    Point corner_of(int element) const { return f_.mesh.nodes[size_t(f_.mesh.elements[size_t(element)][0])]; }
    // Pressure from below less slab loads.
    void add_ground(int element, const PartOfCell& part, size_t combination, ForceAt& up) const {
        const std::vector<double>& spring = f_.combinations[combination].spring;
        const Element& corner = f_.mesh.elements[size_t(element)];
        for (size_t k = 0; k < size_t(corners(corner)); ++k)
            up.add(spring[size_t(corner[k])] * f_.pressure_beside(element, corner[k]),
                   {part.weight[k], part.moment[k]});
        up.add(-loads_[combination][size_t(element)], {part.area, part.first});
    }
    // All else that stands within reach: in each combination what presses and what pulls, each of them in full; what
    // acts along lines together.
    void stand_round(const PunchedRegion& r, const Polygon& swept, PressedInside& p) const {
        const size_t n = f_.combinations.size();
        struct Thing {
            double from;
            Point arm;
            bool along_line;
            std::vector<double> N;  // kN down, per combination
        };
        std::vector<Thing> things;
        auto add = [&](Point at, bool along_line, auto force) {
            const double from = contains(swept, at) ? 0 : distance_to_rim(swept, at);
            if (from > r.reach) return;
            for (const HalfPlane& k : r.area.kept)
                if (dot(at - k.on_line, k.inward) < 0) return;
            Thing t{from, at - r.area.centre, along_line, std::vector<double>(n, 0.0)};
            for (size_t c = 0; c < n; ++c)
                if (f_.combinations[c].has_field()) t.N[c] = force(c);
            things.push_back(std::move(t));
        };
        const Box box = box_of(swept).grown(r.reach);
        for (size_t k = 0; k < f_.case_loads.size(); ++k)
            others_.each(box, k, [&](Point at, double N, bool along_line) {
                add(at, along_line, [&](size_t c) { return factors_[c][k] * N; });
            });
        for (int k : columns_by_place_.over(box))
            if (std::find(r.own_columns.begin(), r.own_columns.end(), k) == r.own_columns.end())
                add(f_.model->columns[size_t(k)].at, false, [&](size_t c) {
                    double N = 0;
                    for (size_t i = 0; i < f_.cases.size(); ++i) N += factors_[c][i] * columns_[i][size_t(k)].N;
                    return N;
                });
        for (const HandedOn& w : walls_)
            if (box.overlaps({w.at, w.at})) add(w.at, true, [&](size_t c) { return w.N[c]; });
        std::stable_sort(things.begin(), things.end(), [](const Thing& a, const Thing& b) { return a.from < b.from; });
        std::vector<ForceAt> lines(n);
        std::array<std::vector<ForceAt>, 2> held{lines, lines};
        std::array<bool, 2> any{};
        for (size_t i = 0; i < things.size(); ++i) {
            const Thing& t = things[i];
            for (size_t c = 0; c < n; ++c)
                if (t.along_line)
                    lines[c].add(t.N[c], {1, t.arm});
                else if (t.N[c] != 0)
                    held[t.N[c] < 0][c].add(std::abs(t.N[c]), {1, t.arm});
            if (i + 1 < things.size() && things[i + 1].from < t.from + 1e-9) continue;
            for (bool up : {false, true}) {
                std::vector<ForceAt> all = held[up];
                for (size_t c = 0; c < n; ++c)
                    if (const double F = up ? -lines[c].F : lines[c].F; F > 1e-9) all[c].add(up ? -1 : 1, lines[c]);
                for (const ForceAt& one : all) any[up] |= one.F != 0;
                Standing& to = up ? p.up : p.down;
                to.from.push_back(t.from), to.held.push_back(std::move(all));
            }
        }
        if (!any[false]) p.down = {};
        if (!any[true]) p.up = {};
    }
    const Fields& f_;
    const std::vector<HandedOn>& walls_;
    const std::vector<std::vector<ColumnForce>>& columns_;
    std::vector<CellShapes> shapes_;
    std::vector<std::vector<double>> loads_;  // kPa, per combination and element
    LoadsByPlace others_;
    BoxBins columns_by_place_;
    std::vector<std::vector<double>> factors_;  // per combination and case
    std::vector<std::vector<ForceAt>> whole_;   // of each element about its first corner, per combination
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
    Counted counted(progress, 0.75, 0.9, out->regions.size(), "punching");
    tbb::parallel_for(size_t(0), out->regions.size(), [&](size_t k) {
        progress.end_if_stopped();
        out->inside[k] = inside.round(out->regions[k]);
        counted.one_more();
    });
    return out;
}

}  // namespace mossbed
