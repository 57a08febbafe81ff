// One-way shear of strips, with links where areas of them are given, d or more off every support's face.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include "core/judge/strip_judge.h"
#include "core/steel/shear_links.h"

namespace mossbed {
namespace {

double shear(const std::vector<CutShare>& panel, long c) {
    double V = 0;
    for (const CutShare& s : panel) V += s.V[c];
    return std::abs(V);
}

Face tension_face(const std::vector<CutShare>& panel, long c) {
    double M = 0;
    for (const CutShare& s : panel) M += s.M[c];
    return M >= 0 ? Face::bottom : Face::top;
}

// Ends of the width at a station.
std::array<Point, 2> width_at(const StripJudge& j, int strip, int station) {
    const StripAnswer& s = j.demand.strips[size_t(strip)];
    const Point at = j.demand.at(strip, station), left = left_of(j.demand.direction(strip));
    return {at - s.panel[1] * left, at + s.panel[0] * left};
}

// Over the width that is looked at, which may be wider than the strip.
double steel_over(const StripJudge& j, int strip, int station, Face f, double width, Point from, Point to) {
    const StripAnswer& s = j.demand.strips[size_t(strip)];
    if (j.steel.extra().none() || s.panel == s.strip.reach) return j.strips.provided(f, strip, station, width);
    double As = 0;
    for (const auto& [d, share] : mats_along(j.m.steel, j.demand.direction(strip)))
        As += share * (j.steel.base(f, d).area() * width +
                       j.steel.extra_over(f, d, from, to, j.steel.depth(f, d, j.m.slab.thickness) / 1000));
    return As;
}

double borne(const StripJudge& j, int strip, int station, long c, Working* by) {
    const auto& panel = j.demand.section(strip, station).panel;
    const RequiredSteel needs = j.needs();
    double V = 0;
    const Face f = tension_face(panel, c);
    const auto [from, to] = width_at(j, strip, station);
    const double width = SectionDemand::width_of(panel), As = steel_over(j, strip, station, f, width, from, to);
    const auto links =
        j.m.steel.links.empty() ? std::vector<std::pair<const ShearLinks*, double>>{} : links_over(j.m, from, to);
    double bare = 1;
    for (const auto& [l, share] : links) bare -= share;
    for (const CutShare& s : panel) {
        Section section = needs.section(f, j.strips.depth_direction(strip, f), s, j.strips.sizes(f, strip, station));
        if (s.N.size()) section.pull = std::max(0.0, s.N[c]) / (1000 * s.width * s.thickness);
        auto add = [&](double share) {
            if (by && !links.empty())
                by->line({.text = section.link > 0 ? fmt::format("share of the width with links ϕ{:g} at {:g} mm",
                                                                 section.link, section.link_spacing)
                                                   : "share of the width without links",
                          .value = share});
            V += share * j.code.shear_borne(section, As * s.width / width, by);
        };
        if (bare > 1e-9) add(bare);
        for (const auto& [l, share] : links) section.link = l->diameter, section.link_spacing = l->spacing, add(share);
    }
    return V;
}

std::optional<Row> judge_strip(const StripJudge& j, int strip) {
    const auto& sections = j.demand.sections(strip);
    double worst = -1;
    int at = 0;
    long comb = 0;
    for (int k = 0; k < int(sections.size()); ++k) {
        const auto& panel = sections[size_t(k)].panel;
        if (panel.empty() || j.demand.is_sliver(panel, strip)) continue;
        const bool pulled = std::any_of(panel.begin(), panel.end(), [](const CutShare& s) { return s.N.size() > 0; });
        std::array<double, 2> known{-1, -1};  // by face in tension, where no pull lessens it
        for (long c = 0; c < j.demand.n_design; ++c) {
            double fresh = -1;
            double& bears = pulled ? fresh : known[tension_face(panel, c) == Face::bottom ? 0 : 1];
            if (bears < 0) bears = borne(j, strip, k, c, nullptr);
            if (const double use = shear(panel, c) / bears; use > worst) worst = use, at = k, comb = c;
        }
    }
    if (worst < 0) return {};
    const StripAnswer& s = j.demand.strips[size_t(strip)];
    const auto& panel = sections[size_t(at)].panel;
    Row row = row_of("one-way-shear", "One-way shear " + s.strip.id, s.strip.id);
    row.unit = Unit::kilonewton, row.clause = j.code.shear_clause();
    row.combination = j.name_of_combination(comb), row.at = j.demand.at(strip, at);
    const auto ends = width_at(j, strip, at);  // the width that it is averaged over, drawn on the plan
    row.area = {ends[0], ends[1]};
    Working by;
    by.line({.text = "section along " + s.strip.id + ", d or more off every face",
             .symbol = "s",
             .value = j.demand.station(strip, at).s,
             .unit = Unit::metre});
    by.line({.text = s.column_band ? "width: the panel of the column band, mid-span to mid-span" : "width of the strip",
             .symbol = "b",
             .value = SectionDemand::width_of(panel),
             .unit = Unit::metre});
    const bool members = !sections[size_t(at)].members.none();
    row.value = by.line({.text = fmt::format("shear over the width in {}{}", row.combination,
                                             members ? ", of the slab; what ribs and walls carry is theirs" : ""),
                         .symbol = "V",
                         .value = shear(panel, comb),
                         .unit = Unit::kilonewton});
    row.limit = borne(j, strip, at, comb, &by);
    row.judge(*row.value / *row.limit);
    by.line(term_of_use("use", *row.value, *row.limit, row.unit, row));
    if (row.status == Status::over) row.note = "Thicken the slab here, or give links over the width of this section.";
    row.working = std::move(by.terms);
    return row;
}

}  // namespace

std::vector<Row> judge_one_way_shear(const StripJudge& j) {
    std::vector<std::optional<Row>> found(j.demand.strips.size());
    tbb::parallel_for(size_t(0), found.size(), [&](size_t i) { found[i] = judge_strip(j, int(i)); });
    std::vector<Row> rows;
    for (auto& row : found)
        if (row) rows.push_back(std::move(*row));
    return rows;
}

}  // namespace mossbed
