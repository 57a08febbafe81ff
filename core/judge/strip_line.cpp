#include "core/judge/strip_line.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/model/strip_area.h"
#include "core/steel/provision.h"
#include "core/steel/strip_demand.h"

namespace mossbed {
namespace {

void add_forces(const Fields& f, const StripDemand& demand, size_t strip, const std::string& combination,
                StripLine& out) {
    std::vector<long> picked;
    for (long c = 0; c < long(demand.combinations.size()); ++c) {
        const std::string& id = f.combinations[size_t(demand.combinations[size_t(c)])].combination.id;
        if (combination.empty() ? c < demand.n_design : id == combination) picked.push_back(c);
    }
    const auto& stations = demand.stations(int(strip));
    for (size_t k = 0; k < stations.size(); ++k) {
        const SectionDemand& d = demand.section(int(strip), int(k));
        if (d.shares.empty()) continue;
        out.s.push_back(stations[k].s), out.width.push_back(d.width());
        double most = -1e300, least = 1e300, shear_most = -1e300, shear_least = 1e300;
        for (long c : picked) {
            most = std::max(most, d.M(c)), least = std::min(least, d.M(c));
            shear_most = std::max(shear_most, d.V(c)), shear_least = std::min(shear_least, d.V(c));
        }
        if (picked.empty()) continue;
        out.M_most.push_back(most), out.M_least.push_back(least);
        out.V_most.push_back(shear_most), out.V_least.push_back(shear_least);
    }
}

// Rows at one place follow each other, those of both sides of a jump too: the most of them stands on both.
void add_steel(const StripAnswer& strip, StripLine& out) {
    const double nan = std::nan("");
    const auto& rows = strip.sections;
    size_t at = 0;
    for (size_t i = 0; i < rows.size();) {
        size_t j = i;
        double bottom = 0, top = 0;
        for (; j < rows.size() && rows[j].s == rows[i].s; ++j) {
            const SectionRow& r = rows[j];
            auto take = [&](Face face, const std::optional<double>& needs, double has, double& most) {
                most = needs && !std::isnan(most) ? std::max(most, *needs / r.width) : nan;
                const double use = !needs ? 1e9 : has > 0 ? *needs / has : *needs > 0 ? 1e9 : 0;
                if (!out.tightest || use > out.tightest->use)
                    out.tightest = {r.s, use, needs ? *needs / r.width : nan, has / r.width, face, r.combination};
            };
            take(Face::bottom, r.bottom_required, r.bottom_provided, bottom);
            take(Face::top, r.top_required, r.top_provided, top);
        }
        for (; at < out.s.size() && out.s[at] <= rows[i].s; ++at) {
            out.needs_bottom.push_back(bottom), out.needs_top.push_back(top);
            out.has_bottom.push_back(rows[i].bottom_provided / rows[i].width);
            out.has_top.push_back(rows[i].top_provided / rows[i].width);
        }
        i = j;
    }
}

std::string words_of_bars(double diameter, double spacing) {
    return diameter > 0 ? fmt::format("ϕ{:g} at {:g}", diameter, spacing) : std::string();
}

void add_bars(const Model& m, const BaseBars& base, const Strip& strip, StripLine& out) {
    const Point from = strip.axis[0], u = unit(strip.axis[1] - from);
    if (mats_along(m.steel, u).size() > 1) return;
    const ChosenBars &bottom = base.base(Face::bottom, strip.direction), &top = base.base(Face::top, strip.direction);
    out.base_bottom = words_of_bars(bottom.diameter, bottom.spacing);
    out.base_top = words_of_bars(top.diameter, top.spacing);
    const Polygon area = area_of(strip);
    for (const ExtraBars& e : m.steel.extra) {
        if (e.direction != strip.direction) continue;
        const Polygon shared = clip_to_convex(e.outline, area);
        if (shared.size() < 3 || std::abs(signed_area(shared)) < 0.02 * std::abs(signed_area(area))) continue;
        StripLine::Extra x{e.id, words_of_bars(e.diameter, e.spacing), e.face, 1e300, -1e300};
        for (Point p : shared) x.from = std::min(x.from, dot(p - from, u)), x.to = std::max(x.to, dot(p - from, u));
        out.extra.push_back(std::move(x));
    }
    std::sort(out.extra.begin(), out.extra.end(), [](const auto& a, const auto& b) { return a.from < b.from; });
}

}  // namespace

StripLine strip_line(const Fields& f, const Judgement& judged, size_t strip, const std::string& combination) {
    StripLine out;
    if (strip >= judged.steel.strips.size() || !judged.demand || strip >= judged.demand->strips.size()) return out;
    const StripAnswer& of = judged.steel.strips[strip];
    out.strip = of.strip.id, out.is_envelope = combination.empty();
    add_forces(f, *judged.demand, strip, combination, out);
    add_steel(of, out);
    add_bars(*f.model, judged.steel, of.strip, out);
    const Point from = of.strip.axis[0], u = unit(of.strip.axis[1] - from);
    const double length = distance(from, of.strip.axis[1]);
    for (const Column& c : f.model->columns) {
        const double off = cross(u, c.at - from);
        if (off > of.strip.reach[0] || off < -of.strip.reach[1]) continue;
        StripLine::Support support{c.id, 1e300, -1e300};
        for (Point p : footprint(c))
            support.from = std::min(support.from, dot(p - from, u)),
            support.to = std::max(support.to, dot(p - from, u));
        if (support.to > 0 && support.from < length) out.supports.push_back(support);
    }
    std::sort(out.supports.begin(), out.supports.end(), [](const auto& a, const auto& b) { return a.from < b.from; });
    return out;
}

}  // namespace mossbed
