#include "core/judge/punching_demand.h"

#include <tbb/parallel_for.h>

#include <numeric>

#include "core/base/counted.h"
#include "core/base/polygons.h"
#include "core/judge/concentrated_loads.h"

namespace mossbed {

ForceAt Standing::within(double a, size_t combination) const {
    const auto beyond = std::upper_bound(from.begin(), from.end(), a + 1e-9);
    return beyond == from.begin() ? ForceAt{} : held[size_t(beyond - from.begin()) - 1][combination];
}

namespace {

// Along the cubic through four of every `stride`-th ring, kept between the two beside it; t counts rings.
ForceAt followed(const PressedInside::Curve& rings, int stride, double t) {
    const int last = PressedInside::rings / stride;
    t = std::clamp(t / stride, 0.0, double(last));
    const int i = std::min(last - 1, int(t)), first = std::clamp(i - 1, 0, last - 3);
    const double x = t - double(first);
    const std::array<double, 4> share{-(x - 1) * (x - 2) * (x - 3) / 6, x * (x - 2) * (x - 3) / 2,
                                      -x * (x - 1) * (x - 3) / 2, x * (x - 1) * (x - 2) / 6};
    auto between = [&](auto value) {
        auto of = [&](int k) { return value(rings[size_t(k * stride)]); };
        const double from = of(i), to = of(i + 1);
        double there = 0;
        for (int k = 0; k < 4; ++k) there += share[size_t(k)] * of(first + k);
        return std::clamp(there, std::min(from, to), std::max(from, to));
    };
    return {
        between([](const ForceAt& f) { return f.F; }),
        {between([](const ForceAt& f) { return f.moment.x; }), between([](const ForceAt& f) { return f.moment.y; })}};
}

// Whether every `stride`-th ring will do, of which all are known. Between four of them the cubic is off by at most 0.04
// of the fourth difference of five.
bool is_smooth(const PressedInside::Curve& rings, int stride, double reach) {
    constexpr double share = 3e-3;  // of the largest force
    double largest = 0;
    for (int i = 0; i <= PressedInside::rings; i += stride) largest = std::max(largest, std::abs(rings[size_t(i)].F));
    for (int i = 0; i + 4 * stride <= PressedInside::rings; i += stride) {
        ForceAt difference;
        for (int k = 0; k <= 4; ++k)
            difference.add(std::array{1., -4., 6., -4., 1.}[size_t(k)], rings[size_t(i + k * stride)]);
        if (std::abs(difference.F) > share * largest || length(difference.moment) > share * largest * reach)
            return false;
    }
    return true;
}

}  // namespace

ForceAt PressedInside::of_ground(double a, size_t combination) const {
    return followed(ground[combination], 1, a / reach * rings);
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
        columns_by_place_ = BoxBins(places);
        for (size_t c = 0; c < f.combinations.size(); ++c) {
            if (is_design(f.combinations[c])) design_.push_back(c);
            factors_.emplace_back();
            for (const CaseTotal& k : f.cases) factors_.back().push_back(factor_in(f.combinations[c], k.id));
        }
        cells_.reserve(f.mesh.elements.size());
        for (int e = 0; e < int(f.mesh.elements.size()); ++e) cells_.push_back(f.mesh.polygon(e));
        const size_t n = design_.size();
        up_.resize(6 * n * f.mesh.elements.size()), whole_.resize(3 * n * f.mesh.elements.size());
        tbb::parallel_for(size_t(0), f.mesh.elements.size(), [&](size_t e) {
            for (size_t k = 0; k < n; ++k) {
                CellField up = shapes_[e].field(pressures(int(e), design_[k]));
                up[0] -= loads_[design_[k]][e];
                for (size_t i = 0; i < up.size(); ++i) up_[(6 * e + i) * n + k] = up[i];
            }
            add(int(e), shapes_[e].moments(cells_[e]), cells_[e][0], &whole_[3 * e * n]);
        });
    }

    PressedInside round(const PunchedRegion& r) const {
        PressedInside p;
        p.reach = r.reach;
        p.ground.resize(f_.combinations.size());
        const Polygon swept = swept_to_rims(r.area, r.course);
        press_round(r, swept, p);
        stand_round(r, swept, p);
        return p;
    }

  private:
    std::array<double, 4> pressures(int element, size_t combination) const {
        const std::vector<double>& spring = f_.combinations[combination].spring;
        const Element& corner = f_.mesh.elements[size_t(element)];
        std::array<double, 4> out{};
        for (size_t k = 0; k < size_t(corners(corner)); ++k)
            out[k] = spring[size_t(corner[k])] * f_.pressure_beside(element, corner[k]);
        return out;
    }
    // Forces side by side: of each combination that is designed for F, then of each the moment's x, then its y.
    using Forces = std::vector<double>;
    void add(int element, const CellMoments& part, Point about, double* to) const {
        const size_t n = design_.size();
        shapes_[size_t(element)].add_integrals(&up_[6 * n * size_t(element)], n, part, about, to);
    }
    void add_all_of(int element, Point about, double* to) const {
        const size_t n = design_.size();
        const double* const whole = &whole_[3 * n * size_t(element)];
        const Point arm = cells_[size_t(element)][0] - about;
        for (size_t k = 0; k < n; ++k) {
            const double F = whole[k];
            to[k] += F, to[n + k] += whole[n + k] + F * arm.x, to[2 * n + k] += whole[2 * n + k] + F * arm.y;
        }
    }
    // The ground's part, at every fourth ring; at those between too where what they say of each other is not as good.
    void press_round(const PunchedRegion& r, const Polygon& swept, PressedInside& p) const {
        constexpr int last = PressedInside::rings;
        ElementsInside elements(swept, r.reach, {f_.finder, cells_, shapes_}, r.area.kept);
        Forces held(3 * design_.size(), 0.0);
        for (const int e : elements.held()) add_all_of(e, r.area.centre, held.data());
        auto smooth = [&](int stride) {
            return std::all_of(design_.begin(), design_.end(),
                               [&](size_t c) { return is_smooth(p.ground[c], stride, r.reach); });
        };
        integrate_rings(r, elements, held, 0, 4, p);
        int stride = 4;
        for (; stride > 1 && !smooth(stride); stride /= 2) integrate_rings(r, elements, held, stride / 2, stride, p);
        for (const size_t c : design_) {
            const PressedInside::Curve known = p.ground[c];
            for (int i = 0; i < last; ++i)
                if (i % stride != 0) p.ground[c][size_t(i)] = followed(known, stride, i);
        }
    }
    // Every `by`-th ring from the one given on.
    void integrate_rings(const PunchedRegion& r, ElementsInside& elements, const Forces& held, int from, int by,
                         PressedInside& p) const {
        std::vector<double> distances;
        for (int i = from; i <= PressedInside::rings; i += by) distances.push_back(r.reach * i / PressedInside::rings);
        const size_t n = design_.size();
        std::vector<Forces> joined(distances.size(), Forces(3 * n, 0.0)), cut(joined);
        elements.at(distances, [&](const PartInside& part) {
            double* const to = (part.beyond ? joined : cut)[part.perimeter].data();
            if (part.of)
                add(part.element, *part.of, r.area.centre, to);
            else
                add_all_of(part.element, r.area.centre, to);
        });
        Forces all = held;
        for (size_t i = 0; i < distances.size(); ++i) {
            for (size_t k = 0; k < all.size(); ++k) all[k] += joined[i][k], cut[i][k] += all[k];
            for (size_t k = 0; k < n; ++k)
                p.ground[design_[k]][size_t(from) + size_t(by) * i] = {cut[i][k], {cut[i][n + k], cut[i][2 * n + k]}};
        }
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
                if (is_design(f_.combinations[c])) t.N[c] = force(c);
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
    std::vector<CellOutline> cells_;
    std::vector<std::vector<double>> loads_;  // kPa, per combination and element
    LoadsByPlace others_;
    BoxBins columns_by_place_;
    std::vector<std::vector<double>> factors_;  // per combination and case
    std::vector<size_t> design_;                // combinations that are designed for
    std::vector<double> up_;     // pressure from below less slab loads, kPa: per element fields of those side by side
    std::vector<double> whole_;  // of all of each element about its first corner, as forces side by side
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
    // By size, lest a large one at the end keeps the others waiting; those alike as they lie side by side.
    std::vector<int> size;
    std::vector<size_t> order(out->regions.size());
    for (const PunchedRegion& r : out->regions) {
        const Box box = box_of(r.area.outline).grown(r.reach);
        size.push_back(std::ilogb(box.width() * box.height()) / 3);
    }
    std::iota(order.begin(), order.end(), size_t(0));
    std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return size[a] > size[b]; });
    tbb::parallel_for(size_t(0), order.size(), [&](size_t i) {
        progress.end_if_stopped();
        const size_t k = order[i];
        out->inside[k] = inside.round(out->regions[k]);
        counted.one_more();
    });
    return out;
}

}  // namespace mossbed
