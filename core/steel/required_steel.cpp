#include "core/steel/required_steel.h"

#include <algorithm>

#include "core/base/whole_loop.h"
#include "core/steel/choose_bars.h"

namespace mossbed {

Section RequiredSteel::section(Face f, Direction d, const CutShare& s, Sizes bars) const {
    const double depth = bars.own > 0 ? effective_depth(m_.steel, f, d, s.thickness, bars.own, bars.other)
                                      : steel_.depth(f, d, s.thickness);
    return {1000 * s.width, 1000 * s.thickness, depth, s.fck, steel_of(m_).fyk, steel_of(m_).E};
}

Section RequiredSteel::metre_of(const SlabPart& p, Face f, Direction d, Sizes bars) const {
    return section(f, d, CutShare{p.thickness, p.fc, 1, {}, {}, {}, {}, 0}, bars);
}

double RequiredSteel::share_of(Face f, const SectionDemand& s, const CutShare& part, long c, double M) const {
    const double total = demand_.asked_by_parts(f, s, c);
    if (total > 1e-9) return demand_.asked(f, part, c) * M / total;
    return M > 1e-9 ? M * part.width / s.width() : 0;  // of a band whose line asks while it does not
}

std::optional<double> RequiredSteel::for_moment(Face f, Direction d, const SectionDemand& s, long c, double M,
                                                Sizes bars, Working* by) const {
    double As = 0;
    for (const CutShare& part : s.shares) {
        const auto flex = code_.flexural_steel(section(f, d, part, bars), share_of(f, s, part, c, M), by);
        if (!flex) return std::nullopt;
        As += *flex;
    }
    return As;
}

std::optional<double> RequiredSteel::with_minimum(Face f, Direction d, const SectionDemand& s, long c, double M,
                                                  Sizes bars) const {
    double As = 0;
    for (const CutShare& part : s.shares) {
        const Section sec = section(f, d, part, bars);
        const double share = share_of(f, s, part, c, M);
        const auto flex = code_.flexural_steel(sec, share);
        if (!flex) return std::nullopt;
        const bool wanted = share > 1e-9 || m_.steel.minimum_on_both_faces;
        As += std::max(*flex, wanted ? code_.minimum_steel(sec) : 0);
    }
    return As;
}

double RequiredSteel::least_of_base(Face f, Direction d, Sizes bars) const {
    if (f == Face::top && !m_.steel.minimum_on_both_faces) return 0;
    double least = 0;
    for (const SlabPart& p : parts_of(m_))
        least = std::max(least, code_.minimum_steel(metre_of(p, f, d, bars)) - steel_.least_extra_in(p, f, d));
    return least;
}

double RequiredSteel::needed_depth(Face f, const CutShare& part, const Section& sec, const SectionDemand& s, long c,
                                   double M) const {
    return code_.least_depth(sec, std::max(0.0, share_of(f, s, part, c, M)));
}

double RequiredSteel::use_beyond_steel(Face f, Direction d, const SectionDemand& s, long c, double M,
                                       Sizes bars) const {
    double use = 1;
    for (const CutShare& part : s.shares) {
        const Section sec = section(f, d, part, bars);
        use = std::max(use, sec.d > 0 ? std::pow(needed_depth(f, part, sec, s, c, M) / sec.d, 2) : 1e3);
    }
    return use;
}

double RequiredSteel::thickness_that_would_do(Face f, Direction d, const SectionDemand& s, long c, double M,
                                              Sizes bars) const {
    double h = 0;
    for (const CutShare& part : s.shares) {
        const Section sec = section(f, d, part, bars);
        h = std::max(h, part.thickness + (needed_depth(f, part, sec, s, c, M) - sec.d) / 1000);
    }
    return std::ceil(h * 20 - 1e-9) / 20;  // next 50 mm
}

namespace {

// A section that may govern the bars of a face, and how much it asks of a middling bar.
struct Hard {
    double ratio;  // mm² a metre
    int strip, station;
    long c;
    double M;
};

std::vector<Hard> hardest_first(Face f, Direction d, double other, const RequiredSteel& needs,
                                const StripDemand& demand, const StripProvision& strips) {
    std::vector<std::vector<Hard>> by_strip(demand.strips.size());
    for_each_whole(0, long(by_strip.size()), [&](long strip) {
        const int i = int(strip);
        if (!strips.works_along(d, i)) return;
        demand.each_governing(f, i, [&](int k, long c, double M) {
            const SectionDemand& s = demand.section(i, k);
            const auto As = needs.with_minimum(f, d, s, c, M, {usual_bar, other});
            by_strip[size_t(i)].push_back({As ? *As / s.width() : 1e300, i, k, c, M});
        });
    });
    std::vector<Hard> hard;
    for (const auto& of : by_strip) hard.insert(hard.end(), of.begin(), of.end());
    std::sort(hard.begin(), hard.end(), [](const Hard& p, const Hard& q) { return p.ratio > q.ratio; });
    return hard;
}

void choose_mat(Face f, Direction d, Provision& steel, const Model& m, const DesignCode& code,
                const StripDemand& demand, const StripProvision& strips) {
    const RequiredSteel needs(m, code, demand, steel);
    const double other = steel.base(f, across(d)).diameter > 0 ? steel.base(f, across(d)).diameter : usual_bar;
    // Most sections never govern: the bars are first judged on the few that asked most.
    const std::vector<Hard> hard = hardest_first(f, d, other, needs, demand, strips);
    bool impossible = false;
    auto enough = [&](double size, double spacing) {
        const ChosenBars bars{size, spacing, true, true};
        if (needs.least_of_base(f, d, {size, other}) > bars.area() + 1e-9) return false;
        for (const Hard& h : hard) {
            const SectionDemand& s = demand.section(h.strip, h.station);
            const auto As = needs.with_minimum(f, d, s, h.c, h.M, strips.sizes(f, h.strip, h.station, {size, other}));
            if (!As) {
                impossible = true;
                continue;  // no bars would do: the row says so; the rest still deserves its bars
            }
            const double extra = steel.extra().none() ? 0 : strips.extra(f, h.strip, h.station, &bars, d);
            if (bars.area() * s.width() + extra < *As) return false;
        }
        return true;
    };
    ChosenBars chosen = choose_bars(m.steel.sizes, m.steel.spacings, code.largest_spacing(1000 * thinnest(m)), enough);
    if (impossible) chosen.fits = false;
    steel.base(f, d) = chosen;
}

}  // namespace

void choose_base_bars(Provision& steel, const Model& m, const DesignCode& code, const StripDemand& demand,
                      const StripProvision& strips) {
    for (Face f : {Face::top, Face::bottom}) {
        const Direction outer = f == Face::top ? m.steel.outer_top : m.steel.outer_bottom;
        for (Direction d : {outer, across(outer)})
            if (!m.steel.base(f, d).stated()) choose_mat(f, d, steel, m, code, demand, strips);
    }
}

}  // namespace mossbed
