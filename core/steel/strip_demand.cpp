#include "core/steel/strip_demand.h"

#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/base/whole_loop.h"

namespace mossbed {
namespace {

// A strip's own axes: s along it from its start.
struct StripAxes {
    explicit StripAxes(const StripAnswer& strip)
        : from(strip.strip.axis[0]),
          u(unit(strip.strip.axis[1] - strip.strip.axis[0])),
          n(left_of(u)),
          L(distance(strip.strip.axis[0], strip.strip.axis[1])) {}
    double s(Point p) const { return dot(p - from, u); }
    std::pair<double, double> span(const Polygon& p) const {
        double low = 1e300, high = -1e300;
        for (Point c : p) low = std::min(low, s(c)), high = std::max(high, s(c));
        return {low, high};
    }
    Point from, u, n;
    double L;
};

// What a strip may rest on.
struct Footprints {
    explicit Footprints(const Model& m) {
        for (const Column& c : m.columns) columns.push_back(footprint(c));
        for (const Wall& w : m.walls)
            for (size_t i = 0; i + 1 < w.path.size(); ++i) walls.push_back(body_of(w, i));
    }
    std::vector<Polygon> columns, walls;
};

// Columns on the strip and walls across it, from face to face.
std::vector<std::pair<double, double>> supports_along(const Footprints& of, const StripAnswer& strip,
                                                      const StripAxes& x) {
    std::vector<std::pair<double, double>> out;
    auto add = [&](const Polygon& p) {
        const auto [left, right] = strip.strip.reach;
        auto beside = [&](Point q) { return dot(q - x.from, x.n); };
        if (std::all_of(p.begin(), p.end(), [&](Point q) { return beside(q) > left; }) ||
            std::all_of(p.begin(), p.end(), [&](Point q) { return beside(q) < -right; }))
            return;
        Polygon q = clip_to_half_plane(p, x.from + left * x.n, -1.0 * x.n);
        q = clip_to_half_plane(q, x.from - right * x.n, x.n);
        if (q.size() >= 3 && std::abs(signed_area(q)) >= 1e-9) out.push_back(x.span(p));
    };
    for (const Polygon& p : of.columns) add(p);
    for (const Polygon& p : of.walls) {
        const auto [low, high] = x.span(p);
        if (high - low < 1.5) add(p);  // a wall along the strip is not a support across it
    }
    return out;
}

// Where point loads, and line loads across the strip, make its shear jump.
std::vector<double> jumps_along(const Model& m, const StripAxes& x) {  // ascending
    std::vector<double> out;
    for (const LoadCase& c : m.loads.cases)
        for (const LoadItem& item : c.items) {
            if (auto p = std::get_if<PointLoad>(&item.load)) out.push_back(x.s(p->at));
            if (auto l = std::get_if<LineLoad>(&item.load))
                for (size_t i = 0; i + 1 < l->path.size(); ++i)
                    if (std::abs(dot(l->path[i + 1] - l->path[i], x.u)) < 1e-6) out.push_back(x.s(l->path[i]));
        }
    std::sort(out.begin(), out.end());
    return out;
}

// At the mesh's pace, at every support's faces and at d from them, and on both sides of jumps.
std::vector<Station> stations_of(const Fields& a, const Footprints& footprints, const StripAnswer& strip, double d) {
    const StripAxes x(strip);
    const auto supports = supports_along(footprints, strip, x);
    const std::vector<double> jumps = jumps_along(*a.model, x);
    std::vector<double> at;
    const int pace = std::max(1, int(std::ceil(2 * x.L / a.mesh.size - 1e-9)));  // two to a cell: curves stay curves
    for (int i = 0; i <= pace; ++i) at.push_back(x.L * i / pace);
    for (auto [low, high] : supports)
        for (double s : {low, high, low - d, high + d})
            if (s > 0 && s < x.L) at.push_back(s);
    std::sort(at.begin(), at.end());
    at.erase(std::unique(at.begin(), at.end(), [](double p, double q) { return std::abs(p - q) < 1e-6; }), at.end());
    std::vector<Station> out;
    for (double s : at) {
        const auto j = std::lower_bound(jumps.begin(), jumps.end(), s - 1e-6);
        if (j == jumps.end() || *j >= s + 1e-6) out.push_back({s, false, 0, 0, false, 0});
    }
    for (double j : jumps)
        if (j > 1e-6 && j < x.L - 1e-6)
            out.push_back({j, false, 0, 0, false, -1}), out.push_back({j, false, 0, 0, false, 1});
    std::sort(out.begin(), out.end(),
              [](const Station& p, const Station& q) { return p.s != q.s ? p.s < q.s : p.nudge < q.nudge; });
    for (Station& t : out) {
        t.shear = true;
        for (auto [low, high] : supports) {
            if (t.s > low + 1e-6 && t.s < high - 1e-6) {
                if (!t.in_support) t.support_from = low, t.support_to = high;
                t.support_from = std::min(t.support_from, low), t.support_to = std::max(t.support_to, high);
                t.in_support = true;
            }
            if (t.s > low - d + 1e-6 && t.s < high + d - 1e-6) t.shear = false;
        }
    }
    return out;
}

bool is_same_strip(const StripAnswer& a, const StripAnswer& b) {
    return a.strip.axis == b.strip.axis && a.strip.reach == b.strip.reach && a.panel == b.panel && a.line == b.line;
}

// Takes over from an earlier demand on the same solution what did not change: whole strips as they are, sections of
// others; says which are left to do.
class Carrying {
  public:
    struct Want {
        int strip, station;
    };
    Carrying(StripDemand& now, std::vector<std::shared_ptr<AlongStrip>>& making, const StripDemand* before) {
        const bool same = before && before->solution == now.solution && before->loading == now.loading &&
                          before->strengths == now.strengths && before->combinations == now.combinations &&
                          before->n_design == now.n_design && before->twisting == now.twisting &&
                          before->share_of_band == now.share_of_band && before->least_width == now.least_width;
        if (same) now.sums = before->sums;
        for (int i = 0; i < int(now.strips.size()); ++i) {
            const AlongStrip* from = nullptr;
            for (size_t k = 0; same && k < before->strips.size() && !from; ++k)
                if (is_same_strip(before->strips[k], now.strips[size_t(i)])) {
                    from = before->along[k].get();
                    if (from->stations == making[size_t(i)]->stations) {
                        now.along[size_t(i)] = before->along[k];
                        making[size_t(i)].reset();
                    }
                }
            if (making[size_t(i)]) carry(*making[size_t(i)], i, from);
        }
    }
    std::vector<Want> left;

  private:
    void carry(AlongStrip& now, int i, const AlongStrip* from) {
        for (int k = 0; k < int(now.stations.size()); ++k) {
            const Station& t = now.stations[size_t(k)];
            const SectionDemand* found = nullptr;
            if (from) {
                const auto it = std::find_if(from->stations.begin(), from->stations.end(), [&](const Station& b) {
                    return b.s == t.s && b.nudge == t.nudge && b.shear == t.shear;
                });
                if (it != from->stations.end()) found = &from->sections[size_t(it - from->stations.begin())];
            }
            if (found)
                now.sections[size_t(k)] = *found;
            else
                left.push_back({i, k});
        }
    }
};

// Strips of one direction share their cuts.
void cut_through(StripDemand& out, std::vector<std::shared_ptr<AlongStrip>>& making, const Fields& a,
                 std::vector<Carrying::Want> todo, const Progress& progress) {
    while (!todo.empty()) {
        progress.end_if_stopped();
        const Point u = out.direction(todo[0].strip);
        struct Cut {
            double t;
            Carrying::Want want;
        };
        std::vector<Cut> together;
        std::vector<Carrying::Want> rest;
        for (const Carrying::Want& w : todo) {
            if (length(out.direction(w.strip) - u) >= 1e-9) {
                rest.push_back(w);
                continue;
            }
            const Station& t = making[size_t(w.strip)]->stations[size_t(w.station)];
            together.push_back({dot(out.strips[size_t(w.strip)].strip.axis[0], u) + t.s + 1e-6 * t.nudge, w});
        }
        todo = rest;
        const auto known =
            std::find_if(out.sums.begin(), out.sums.end(), [u](const auto& s) { return length(s.first - u) < 1e-9; });
        const CutForces forces(a, out.combinations, u, progress, known == out.sums.end() ? nullptr : known->second);
        if (known == out.sums.end()) out.sums.push_back({u, forces.sums()});
        std::sort(together.begin(), together.end(), [](const Cut& p, const Cut& q) { return p.t < q.t; });
        std::vector<std::pair<size_t, size_t>> groups;
        for (size_t i = 0; i < together.size();) {
            size_t j = i;
            while (j < together.size() && together[j].t - together[i].t < 1e-7) ++j;
            groups.push_back({i, j});
            i = j;
        }
        tbb::parallel_for(size_t(0), groups.size(), [&](size_t g) {
            progress.end_if_stopped();
            const CutForces::Cut cut = forces.at(together[groups[g].first].t);
            for (size_t i = groups[g].first; i < groups[g].second; ++i) {
                const auto [strip, station] = together[i].want;
                const StripAnswer& s = out.strips[size_t(strip)];
                const double axis = dot(s.strip.axis[0], left_of(u));
                SectionDemand& d = making[size_t(strip)]->sections[size_t(station)];
                d.shares = forces.share(cut, axis - s.strip.reach[1], axis + s.strip.reach[0]);
                d.members = forces.members_between(cut, axis - s.strip.reach[1], axis + s.strip.reach[0]);
                if (s.is_band_of_line()) d.line = forces.share(cut, axis - s.line[1], axis + s.line[0]);
                if (s.panel[0] + s.panel[1] > 0 && making[size_t(strip)]->stations[size_t(station)].shear)
                    d.panel = forces.share(cut, axis - s.panel[1], axis + s.panel[0]);
            }
        });
    }
}

// Of the solved combinations those to design for first, then those only looked at.
void pick_combinations(StripDemand& out, const Fields& a) {
    auto add = [&](bool strength) {
        for (int k = 0; k < int(a.combinations.size()); ++k)
            if ((a.combinations[size_t(k)].combination.purpose == Purpose::strength) == strength &&
                a.combinations[size_t(k)].is_solved())
                out.combinations.push_back(k);
    };
    add(true);
    out.n_design = long(out.combinations.size());
    if (a.asked) add(false);
}

template <class F>
double sum_of(const std::vector<CutShare>& shares, F value) {
    double v = 0;
    for (const CutShare& s : shares) v += value(s);
    return v;
}

// Half the thickness times the pull in the plane, kN·m.
double pull_of(const CutShare& s, long c) { return s.N.size() ? std::max(0.0, s.N[c]) * s.thickness / 2 : 0; }

void find_governing(const StripDemand& demand, int strip, AlongStrip& along) {
    for (Face f : {Face::bottom, Face::top}) {
        std::vector<Governing>& out = f == Face::bottom ? along.bottom : along.top;
        out.resize(along.stations.size());
        for (size_t k = 0; k < out.size(); ++k) {
            const SectionDemand& d = along.sections[k];
            if (d.shares.empty() || demand.is_sliver(d.shares, strip)) continue;
            Governing& g = out[k];
            g.counts = true, g.M = -1;
            for (long c = 0; c < demand.n_design; ++c)
                if (const double M = demand.design_moment(f, along, int(k), c); M > g.M) g.M = M, g.c = c;
        }
    }
}

}  // namespace

double SectionDemand::width_of(const std::vector<CutShare>& shares) {
    return sum_of(shares, [](const CutShare& s) { return s.width; });
}
double SectionDemand::M(long c) const {
    const double slab = sum_of(shares, [c](const CutShare& s) { return s.M[c] - (s.N.size() ? s.N[c] * s.e : 0); });
    return slab + (members.none() ? 0 : members.M[c]);
}
double SectionDemand::V(long c) const {
    return sum_of(shares, [c](const CutShare& s) { return s.V[c]; }) + (members.none() ? 0 : members.V[c]);
}
double SectionDemand::T(long c) const {
    return sum_of(shares, [c](const CutShare& s) { return s.T[c]; });
}
double SectionDemand::M_of_slab(long c) const {
    return sum_of(shares, [c](const CutShare& s) { return s.M[c]; });
}
double SectionDemand::pull(long c) const {
    return sum_of(shares, [c](const CutShare& s) { return pull_of(s, c); });
}
double SectionDemand::N(long c) const {
    return sum_of(shares, [c](const CutShare& s) { return s.N.size() ? s.N[c] : 0; });
}

Point StripDemand::direction(int strip) const {
    const auto& axis = strips[size_t(strip)].strip.axis;
    return unit(axis[1] - axis[0]);
}

Point StripDemand::at(int strip, int station) const {
    return strips[size_t(strip)].strip.axis[0] + this->station(strip, station).s * direction(strip);
}

double StripDemand::asked(Face f, const CutShare& s, long c) const {
    return (f == Face::bottom ? 1 : -1) * s.M[c] + pull_of(s, c) + (twisting ? s.T[c] : 0);
}

double StripDemand::asked(Face f, const SectionDemand& d, long c) const {
    const double own = asked_by_parts(f, d, c);
    return f == Face::bottom && !d.line.empty() ? std::max(own, share_of_band * asked_of_line(d, c)) : own;
}

double StripDemand::asked_by_parts(Face f, const SectionDemand& d, long c) const {
    return sum_of(d.shares, [&](const CutShare& s) { return asked(f, s, c); });
}

double StripDemand::asked_of_line(const SectionDemand& d, long c) const {
    return sum_of(d.line, [&](const CutShare& s) { return asked(Face::bottom, s, c); });
}

double StripDemand::design_moment(Face f, int strip, int station, long c) const {
    return design_moment(f, *along[size_t(strip)], station, c);
}

double StripDemand::design_moment(Face f, const AlongStrip& of, int station, long c) const {
    const auto& along = of.stations;
    const auto& demand = of.sections;
    const Station& t = along[size_t(station)];
    double M = asked(f, demand[size_t(station)], c);
    if (t.in_support) {
        double faces = -1e300;
        for (double face : {t.support_from, t.support_to}) {
            auto k = std::lower_bound(along.begin(), along.end(), face - 1e-6,
                                      [](const Station& p, double s) { return p.s < s; });
            for (; k != along.end() && k->s <= face + 1e-6; ++k)
                if (const SectionDemand& d = demand[size_t(k - along.begin())]; !d.shares.empty())
                    faces = std::max(faces, asked(f, d, c));
        }
        if (faces > -1e299) M = std::min(M, std::max(faces, 0.0));
    }
    return std::max(M, 0.0);
}

bool StripDemand::is_sliver(const std::vector<CutShare>& shares, int strip) const {
    const auto& reach = strips[size_t(strip)].strip.reach;
    return SectionDemand::width_of(shares) < std::min(least_width, 0.5 * (reach[0] + reach[1]));
}

std::shared_ptr<const StripDemand> find_strip_demand(const Fields& a, std::vector<StripAnswer> strips,
                                                     double share_of_band, std::array<double, 2> depth,
                                                     const StripDemand* before, const Progress& progress) {
    auto out = std::make_shared<StripDemand>();
    const Model& m = *a.model;
    out->strips = std::move(strips);
    out->share_of_band = share_of_band;
    out->twisting = m.steel.twisting, out->least_width = m.slab.thickness;
    out->solution = a.stages.solution, out->loading = a.stages.loading;
    out->strengths = {concrete_of(m, m.slab.concrete).fck};
    for (const SlabPatch& p : m.slab.patches) out->strengths.push_back(concrete_of(m, p.concrete).fck);
    pick_combinations(*out, a);
    std::vector<std::shared_ptr<AlongStrip>> making(out->strips.size());
    const Footprints footprints(m);
    for_each_whole(0, long(making.size()), [&](long k) {
        const auto i = size_t(k);
        const StripAnswer& s = out->strips[i];
        making[i] = std::make_shared<AlongStrip>();
        making[i]->stations = stations_of(a, footprints, s, depth[s.strip.direction == Direction::x ? 0 : 1]);
        making[i]->sections.resize(making[i]->stations.size());
    });
    out->along.resize(making.size());
    if (!out->combinations.empty()) {
        Carrying carried(*out, making, before);
        cut_through(*out, making, a, std::move(carried.left), progress);
    }
    tbb::parallel_for(size_t(0), making.size(), [&](size_t i) {
        if (!making[i]) return;
        find_governing(*out, int(i), *making[i]);
        out->along[i] = std::move(making[i]);
    });
    return out;
}

}  // namespace mossbed
