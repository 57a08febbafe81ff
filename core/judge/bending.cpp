// Bending of strips: steel required over steel provided, at the worst section of each face.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include "core/judge/strip_judge.h"

namespace mossbed {
namespace {

struct Worst {
    double use = -1;
    int station = 0;
    long c = 0;
    double M = 0;
};

Worst find_worst(const StripJudge& j, int strip, Face f) {
    const RequiredSteel needs = j.needs();
    const Direction d = j.strips.depth_direction(strip, f);
    Worst w;
    j.demand.each_governing(f, strip, [&](int station, long c, double M) {
        const SectionDemand& s = j.demand.section(strip, station);
        const auto As = needs.for_moment(f, d, s, c, M, j.strips.sizes(f, strip, station), nullptr);
        const double have = j.strips.provided(f, strip, station, s.width());
        const double use = As ? (*As > 0 ? (have > 0 ? *As / have : 1e9) : 0) : 1e12 + std::abs(M) / s.width();
        if (use > w.use) w = {use, station, c, M};
    });
    return w;
}

void write_moments(const StripJudge& j, int strip, Face f, const Worst& w, Working& by) {
    const StripDemand& demand = j.demand;
    const SectionDemand& s = demand.section(strip, w.station);
    const Station& t = demand.station(strip, w.station);
    by.line({.text = fmt::format("section along strip {}{}", demand.strips[size_t(strip)].strip.id,
                                 t.in_support ? ", inside a support: moment of its face" : ""),
             .symbol = "s",
             .value = t.s,
             .unit = Unit::metre});
    by.line({.text = "width of slab across it", .symbol = "b", .value = s.width(), .unit = Unit::metre});
    by.line({.text = "moment over the width in " + j.name_of_combination(w.c) + ", statics of the cut",
             .symbol = "M",
             .value = s.M(w.c),
             .unit = Unit::kilonewton_metre});
    const bool stretches = s.shares[0].N.size() > 0;
    if (!s.members.none())
        by.line({.text = "of it what ribs and walls across the strip carry, N · e counted",
                 .symbol = "M_r",
                 .value = s.members.M[w.c],
                 .unit = Unit::kilonewton_metre});
    if (stretches) {
        by.line({.text = "what the slab carries, about its own mid-plane",
                 .symbol = "M_s",
                 .value = s.M_of_slab(w.c),
                 .unit = Unit::kilonewton_metre});
        by.line({.text = "its pull, half of it to each face; a push is left out",
                 .symbol = "P",
                 .formula = "N · h/2",
                 .value = s.pull(w.c),
                 .unit = Unit::kilonewton_metre});
    }
    if (demand.twisting)
        by.line({.text = "twisting moment over the width (Wood and Armer 1968)",
                 .symbol = "T",
                 .formula = "∫ |m_xy| across the cut",
                 .value = s.T(w.c),
                 .unit = Unit::kilonewton_metre});
    const bool bottom = f == Face::bottom;
    if (bottom && !s.line.empty()) {
        by.line(
            {.text = "what the whole line of columns asks, twisting counted; of it the band takes its share at least",
             .symbol = "M_line",
             .value = demand.asked_of_line(s, w.c),
             .unit = Unit::kilonewton_metre});
        by.line({.text = fmt::format("share of a band of {}, of practice", j.code.width_of_concentration_rule()),
                 .symbol = "r",
                 .value = demand.share_of_band});
    }
    const char* more = bottom ? " + " : " − ";
    std::string formula = stretches ? fmt::format("M_s{}P", more) : "M";
    formula += demand.twisting ? fmt::format("{}T, not {} nought", more, bottom ? "below" : "above")
                               : "; twisting is left out";
    if (bottom && !s.line.empty()) formula = "max(" + formula + "; r · M_line)";
    by.line({.text = t.in_support ? "design moment, no more than at the support's faces" : "design moment",
             .symbol = "M_d",
             .formula = formula,
             .value = bottom ? w.M : -w.M,
             .unit = Unit::kilonewton_metre});
}

// What the engineer gave: a checker needs it on the same sheet.
void write_inputs(const StripJudge& j, int strip, Face f, const Worst& w, Working& by) {
    const CutShare& share = j.demand.section(strip, w.station).shares[0];
    by.line(
        {.text = "thickness of the slab", .symbol = "h", .value = 1000 * share.thickness, .unit = Unit::millimetre});
    const bool bottom = f == Face::bottom;
    by.line({.text = fmt::format("cover at the {}, to the outermost bar, along {}", name_of(f),
                                 name_of(bottom ? j.m.steel.outer_bottom : j.m.steel.outer_top)),
             .symbol = "c_nom",
             .value = bottom ? j.m.steel.cover_bottom : j.m.steel.cover_top,
             .unit = Unit::millimetre});
}

double write_steel(const StripJudge& j, int strip, Face f, const Worst& w, Working& by) {
    const double width = j.demand.section(strip, w.station).width();
    for (const auto& [mat, share] : mats_along(j.m.steel, j.demand.direction(strip))) {
        const ChosenBars& bars = j.steel.base(f, mat);
        by.line({.text = fmt::format("base bars along {}: {}{}", name_of(mat), words_of(bars),
                                     share < 1 ? ", times cos² of the angle between" : ""),
                 .formula = share < 1 ? "{cos²} · {a_s} · {b}" : "{a_s} · {b}",
                 .put_in = {{"cos²", share, Unit::none, 2},
                            {"a_s", bars.area(), Unit::square_millimetre_per_metre},
                            {"b", width, Unit::metre}},
                 .value = share * bars.area() * width,
                 .unit = Unit::square_millimetre});
    }
    if (const double extra = j.strips.extra(f, strip, w.station); extra > 0)
        by.line({.text = "extra bars, as far as they are anchored beyond the section",
                 .value = extra,
                 .unit = Unit::square_millimetre});
    return by.line({.text = "steel provided",
                    .symbol = "A_s,prov",
                    .value = j.strips.provided(f, strip, w.station, width),
                    .unit = Unit::square_millimetre});
}

Row row_of_worst(const StripJudge& j, int strip, Face f, const Worst& w) {
    const SectionDemand& s = j.demand.section(strip, w.station);
    const StripAnswer& t = j.demand.strips[size_t(strip)];
    const Direction d = j.strips.depth_direction(strip, f);
    const std::string item = fmt::format("{} {}", t.strip.id, name_of(f));
    Row row = row_of("bending", "Bending " + item, item);
    row.unit = Unit::square_millimetre, row.clause = j.code.flexure_clause();
    row.combination = j.name_of_combination(w.c), row.at = j.demand.at(strip, w.station);
    Working by;
    write_inputs(j, strip, f, w, by);
    write_moments(j, strip, f, w, by);
    const RequiredSteel needs = j.needs();
    const BarSizes sizes = j.strips.sizes(f, strip, w.station);
    const auto As = needs.for_moment(f, d, s, w.c, w.M, sizes, &by);
    const double have = write_steel(j, strip, f, w, by);
    const ChosenBars& bars = j.steel.base(f, d);
    row.limit = have;
    if (As) {
        row.value = *As;
        row.judge(*As > 0 ? (have > 0 ? *As / have : 1e9) : 0);
        by.line(term_of_use("use: required over provided", *As, have, Unit::square_millimetre, row));
        if (row.status == Status::over)
            row.note = bars.chosen
                           ? "No size and spacing in the lists is enough; allow larger bars, closer spacing or a "
                             "thicker slab."
                           : fmt::format("Give {:.0f} mm²/m or more, or let the bars be chosen.", *As / s.width());
        else if (bars.chosen)
            row.chosen = true, row.note = fmt::format("Bars chosen to fit: {}.", words_of(bars));
    } else {
        row.judge(needs.use_beyond_steel(f, d, s, w.c, w.M, sizes));
        row.status = Status::over;
        row.note = fmt::format("No amount of steel fits into {:.0f} mm here; a thickness of about {:.2f} m would do.",
                               1000 * s.shares[0].thickness, needs.thickness_that_would_do(f, d, s, w.c, w.M, sizes));
    }
    row.working = std::move(by.terms);
    return row;
}

}  // namespace

std::vector<Row> judge_bending(const StripJudge& j) {
    std::vector<std::array<std::optional<Row>, 2>> found(j.demand.strips.size());
    tbb::parallel_for(size_t(0), found.size(), [&](size_t i) {
        for (Face f : {Face::bottom, Face::top})
            if (const Worst w = find_worst(j, int(i), f); w.use >= 0)
                found[i][f == Face::bottom ? 0 : 1] = row_of_worst(j, int(i), f, w);
    });
    std::vector<Row> rows;
    for (auto& both : found)
        for (auto& row : both)
            if (row) rows.push_back(std::move(*row));
    return rows;
}

}  // namespace mossbed
