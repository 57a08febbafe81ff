#include "core/steel/provision.h"

#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/model/strip_area.h"

namespace mossbed {

std::vector<SlabPart> parts_of(const Model& m) {
    std::vector<SlabPart> out{{m.slab.thickness, concrete_of(m, "").fck, {}}};
    for (const SlabPatch& p : m.slab.patches) {
        const double fc = concrete_of(m, p.concrete).fck;
        auto it = std::find_if(out.begin(), out.end(),
                               [&](const SlabPart& q) { return q.thickness == p.thickness && q.fc == fc; });
        if (it == out.end()) it = out.insert(out.end(), SlabPart{p.thickness, fc, {}});
        if (it != out.begin()) it->patches.push_back(&p);
    }
    return out;
}

double Provision::extra_over(Face f, Direction d, Point from, Point to, double past) const {
    double As = 0;
    for (size_t e = 0; e < extra_.count(); ++e)
        if (const ExtraBars& b = extra_.bars(e);
            b.face == f && b.direction == d && extra_.clear_between(e, base(f, d)).fits())
            As += extra_.over(e, from, to, past);
    return As;
}

double Provision::least_extra_in(const SlabPart& p, Face f, Direction d, const Strip* on) const {
    if (extra_.none() || p.patches.empty()) return 0;
    std::vector<size_t> which;
    for (size_t e = 0; e < extra_.count(); ++e)
        if (const ExtraBars& x = extra_.bars(e);
            x.face == f && x.direction == d && extra_.clear_between(e, base(f, d)).fits())
            which.push_back(e);
    double least = 1e300;
    for (const SlabPatch* patch : p.patches)
        if (const Polygon area = on ? clip_to_convex(patch->outline, area_of(*on)) : Polygon(patch->outline);
            area.size() >= 3)
            if (const auto here = extra_.least_in(area, which)) least = std::min(least, *here);
    return least < 1e299 ? least : 0;
}

std::vector<std::pair<Direction, double>> mats_along(const Reinforcement& r, Point plan) {
    const Point u{dot(plan, along_bars(r, Direction::x)), dot(plan, along_bars(r, Direction::y))};
    constexpr double along = 0.9997;  // cos² of one degree
    if (u.x * u.x > along) return {{Direction::x, 1.0}};
    if (u.y * u.y > along) return {{Direction::y, 1.0}};
    return {{Direction::x, u.x * u.x}, {Direction::y, u.y * u.y}};
}

StripProvision::StripProvision(const StripDemand& demand, const Provision& steel, const Model& m)
    : demand_(demand), steel_(steel), m_(m) {
    const ExtraBarsProvision& extra = steel.extra();
    for (size_t e = 0; e < extra.count(); ++e) {
        extra_over_.emplace_back(demand.strips.size()), crosses_.emplace_back(demand.strips.size());
        const ExtraBars& bars = extra.bars(e);
        const double past = steel.depth(bars.face, bars.direction, m.slab.thickness) / 1000;
        for (int i = 0; i < int(demand.strips.size()); ++i) {
            auto& row = extra_over_[e][size_t(i)];
            row.assign(demand.stations(i).size(), 0.0);
            auto& crosses = crosses_[e][size_t(i)];
            crosses.assign(row.size(), 0);
            const Strip& t = demand.strips[size_t(i)].strip;
            const Point along = demand.direction(i), left = left_of(along);
            // A section on a rim sees the bars that end there.
            const double hair = 1e-5, length = distance(t.axis[0], t.axis[1]);
            auto place = [&](size_t k) {
                return t.axis[0] + std::clamp(demand.station(i, int(k)).s, hair, std::max(hair, length - hair)) * along;
            };
            double works = 0;
            for (const auto& [d, share] : mats_along(m.steel, demand.direction(i)))
                if (d == bars.direction) works = share;
            if (works < 1)  // some of them, or all, lie across
                tbb::parallel_for(size_t(0), row.size(), [&](size_t k) {
                    const Point at = place(k);
                    crosses[k] = extra.over(e, at - t.reach[1] * left, at + t.reach[0] * left, 0) > 0;
                });
            if (works == 0) continue;
            tbb::parallel_for(size_t(0), row.size(), [&](size_t k) {
                const Point at = place(k);
                row[k] = works * extra.over(e, at - t.reach[1] * left, at + t.reach[0] * left, past);
            });
        }
    }
}

double StripProvision::extra(Face f, int strip, int station, const ChosenBars* instead, Direction d) const {
    double As = 0;
    const ExtraBarsProvision& extra = steel_.extra();
    for (size_t e = 0; e < extra.count(); ++e) {
        const ExtraBars& b = extra.bars(e);
        const double over = extra_over_[e][size_t(strip)][size_t(station)];
        if (b.face != f || over == 0) continue;
        const ChosenBars& base = instead && b.direction == d ? *instead : steel_.base(f, b.direction);
        if (extra.clear_between(e, base).fits()) As += over;
    }
    return As;
}

double StripProvision::provided(Face f, int strip, int station, double width) const {
    double As = extra(f, strip, station);
    for (const auto& [d, share] : mats_along(m_.steel, demand_.direction(strip)))
        As += share * steel_.base(f, d).area() * width;
    return As;
}

Direction StripProvision::depth_direction(int strip, Face f) const {
    if (mats_along(m_.steel, demand_.direction(strip)).size() == 1)
        return demand_.strips[size_t(strip)].strip.direction;
    return across(f == Face::top ? m_.steel.outer_top : m_.steel.outer_bottom);
}

BarSizes StripProvision::sizes(Face f, int strip, int station, BarSizes base) const {
    const ExtraBarsProvision& extra = steel_.extra();
    if (extra.none()) return base;
    const Direction d = depth_direction(strip, f);
    const ChosenBars& own = steel_.base(f, d);
    const double own_size = base.own > 0 ? base.own : own.diameter > 0 ? own.diameter : usual_bar;
    const double width = demand_.section(strip, station).width();
    double steel = own.area() * width, moment = steel * own_size;
    BarSizes out{own_size, base.other > 0 ? base.other : steel_.base(f, across(d)).diameter};
    if (out.other <= 0) out.other = usual_bar;
    for (size_t e = 0; e < extra.count(); ++e) {
        const ExtraBars& b = extra.bars(e);
        if (b.face != f) continue;
        if (b.direction == d) {
            const double As = extra_over_[e][size_t(strip)][size_t(station)];
            steel += As, moment += As * b.diameter;
        } else if (crosses_[e][size_t(strip)][size_t(station)]) {
            out.other = std::max(out.other, b.diameter);
        }
    }
    if (steel > 0) out.own = moment / steel;
    return out;
}

bool StripProvision::works_along(Direction d, int strip) const {
    const auto mats = mats_along(m_.steel, demand_.direction(strip));
    return std::any_of(mats.begin(), mats.end(), [&](const auto& mat) { return mat.first == d; });
}

}  // namespace mossbed
