// One-way shear of strips without links, d or more off every support's face.
#include <fmt/format.h>

#include "core/judge/strip_judge.h"

namespace mossbed {
namespace {

double shear(const std::vector<CutShare>& panel, long c) {
    double V = 0;
    for (const CutShare& s : panel) V += s.V[c];
    return std::abs(V);
}

double borne(const StripJudge& j, int strip, int station, long c, Working* by) {
    const auto& panel = j.demand.sections[size_t(strip)][size_t(station)].panel;
    const RequiredSteel needs = j.needs();
    double M = 0, V = 0;
    for (const CutShare& s : panel) M += s.M[c];
    const Face f = M >= 0 ? Face::bottom : Face::top;
    const double width = SectionDemand::width_of(panel), As = j.strips.provided(f, strip, station, width);
    for (const CutShare& s : panel) {
        Section section = needs.section(f, j.strips.depth_direction(strip, f), s);
        if (s.N.size()) section.pull = std::max(0.0, s.N[c]) / (1000 * s.width * s.thickness);
        V += j.code.shear_borne(section, As * s.width / width, by);
    }
    return V;
}

std::optional<Row> judge_strip(const StripJudge& j, int strip) {
    const auto& sections = j.demand.sections[size_t(strip)];
    double worst = -1;
    int at = 0;
    long comb = 0;
    for (int k = 0; k < int(sections.size()); ++k) {
        const auto& panel = sections[size_t(k)].panel;
        if (panel.empty() || j.demand.is_sliver(panel, strip)) continue;
        for (long c = 0; c < j.demand.n_design; ++c)
            if (const double use = shear(panel, c) / borne(j, strip, k, c, nullptr); use > worst)
                worst = use, at = k, comb = c;
    }
    if (worst < 0) return {};
    const StripAnswer& s = j.demand.strips[size_t(strip)];
    const auto& panel = sections[size_t(at)].panel;
    Row row = row_of("one-way-shear", "One-way shear " + s.strip.id, s.strip.id);
    row.unit = Unit::kilonewton, row.clause = j.code.shear_clause();
    row.combination = j.name_of_combination(comb), row.at = j.demand.at(strip, at);
    const Point left = left_of(j.demand.direction(strip));  // the width that it is averaged over, drawn on the plan
    row.area = {*row.at - s.panel[1] * left, *row.at + s.panel[0] * left};
    Working by;
    by.line({.text = "section along " + s.strip.id + ", d or more off every face",
             .symbol = "s",
             .value = j.demand.stations[size_t(strip)][size_t(at)].s,
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
    if (row.status == Status::over) row.note = "Thicken the slab here; links are not designed in this version.";
    row.working = std::move(by.terms);
    return row;
}

}  // namespace

std::vector<Row> judge_one_way_shear(const StripJudge& j) {
    std::vector<Row> rows;
    for (int i = 0; i < int(j.demand.strips.size()); ++i)
        if (auto row = judge_strip(j, i)) rows.push_back(std::move(*row));
    return rows;
}

}  // namespace mossbed
