// Anchorage of extra bars: how far they must go on beyond the last section that needs them, and how far they do. Laps
// of base bars. What a section lacks, bending says: extra bars count there only as far as they are anchored.
#include <fmt/format.h>

#include "core/judge/strip_judge.h"

namespace mossbed {
namespace {

struct Worst {
    double use = -1, wanted = 0, has = 0, need = 0;  // m; mm²/m
    int strip = 0, station = 0;
    long c = 0;
};

// The middle of what of a section lies on the bars' outline; nothing where they miss it.
std::optional<Point> middle_on(const ExtraBars& e, Point from, Point to) {
    constexpr int n = 40;
    int first = -1, last = -1;
    for (int k = 0; k <= n; ++k)
        if (contains(e.outline, from + (double(k) / n) * (to - from))) {
            if (first < 0) first = k;
            last = k;
        }
    if (first < 0) return {};
    return from + (0.5 * (first + last) / n) * (to - from);
}

Worst find_worst(const StripJudge& j, size_t e) {
    const ExtraBarsProvision& extra = j.steel.extra();
    const ExtraBars& bars = extra.bars(e);
    const double past = j.steel.depth(bars.face, bars.direction, j.m.slab.thickness) / 1000, area = extra.area(e);
    const RequiredSteel needs = j.needs();
    Worst w;
    for (int i = 0; i < int(j.demand.strips.size()); ++i) {
        if (!j.strips.works_along(bars.direction, i)) continue;
        const Strip& t = j.demand.strips[size_t(i)].strip;
        const Point left = left_of(j.demand.direction(i));
        const Direction d = j.strips.depth_direction(i, bars.face);
        j.demand.each_governing(bars.face, i, [&](int k, long c, double M) {
            const Point at = j.demand.at(i, k);
            const Point from = at - t.reach[1] * left, to = at + t.reach[0] * left;
            if (!extra.may_touch(e, box_of({from, to}))) return;
            const auto q = middle_on(bars, from, to);
            if (!q) return;
            const SectionDemand& s = j.demand.section(i, k);
            const auto As = needs.for_moment(bars.face, d, s, c, M, j.strips.sizes(bars.face, i, k), nullptr);
            const double own = j.strips.extra_of(e, i, k);
            const double others = j.strips.provided(bars.face, i, k, s.width()) - own;
            constexpr double hair = 1e-3;                   // of the steel: no more than a number shows
            if (!As || *As <= (1 + hair) * others) return;  // where no amount fits, bending says so
            // Of their strength that share, however much of the section they cover.
            const double has = extra.to_nearer_end(e, *q), counts = extra.anchored(e, *q, past);
            if (counts <= 0 && own > 0)
                return;  // they end askew to the section: what counts elsewhere on it bending knows
            const double share = own > 0 ? std::min(1.0, counts * (*As - others) / own) : 1;
            const double need = share * area, wanted = past + extra.anchorage(e) * share;
            if (const double use = has > 0 ? wanted / has : 1e9; use > w.use) w = {use, wanted, has, need, i, k, c};
        });
    }
    return w;
}

Row judge_extra(const StripJudge& j, size_t e) {
    const ExtraBars& x = j.steel.extra().bars(e);
    Row row = row_of("anchorage", "Anchorage of extra bars " + x.id, x.id);
    row.unit = Unit::metre, row.clause = j.code.anchorage_clause(), row.at = centroid(x.outline);
    const Worst w = find_worst(j, e);
    Working by;
    if (w.use < 0) {
        row.judge(0);
        row.note = "No section asks for them: base bars and other extra bars are enough where they lie.";
        row.value = 0;
        return row;
    }
    row.at = j.demand.at(w.strip, w.station), row.combination = j.name_of_combination(w.c);
    by.line({.text = "section of strip " + j.demand.strips[size_t(w.strip)].strip.id + " that asks for them, at",
             .symbol = "s",
             .value = j.demand.station(w.strip, w.station).s,
             .unit = Unit::metre});
    by.line({.text = "what they must bring there",
             .symbol = "a_s",
             .value = w.need,
             .unit = Unit::square_millimetre_per_metre});
    j.code.anchorage_length(x.diameter, concrete_of(j.m, j.m.slab.concrete).fck, steel_of(j.m).fyk,
                            x.face == Face::bottom, &by);
    by.line({.text = "shift of the moment line, d",
             .symbol = "a_l",
             .value = j.steel.depth(x.face, x.direction, j.m.slab.thickness) / 1000,
             .unit = Unit::metre});
    row.value = by.line({.text = "length wanted beyond the section",
                         .formula = "{a_l} + {l_b,rqd} · {a_s} / {a_s,extra}",
                         .put_in = {{"a_l", j.steel.depth(x.face, x.direction, j.m.slab.thickness) / 1000, Unit::metre},
                                    {"l_b,rqd", j.steel.extra().anchorage(e), Unit::metre},
                                    {"a_s", w.need, Unit::square_millimetre_per_metre},
                                    {"a_s,extra", j.steel.extra().area(e), Unit::square_millimetre_per_metre}},
                         .value = w.wanted,
                         .unit = Unit::metre});
    const bool held = w.has > 1e200;
    row.limit = held ? w.wanted : w.has;
    by.line({.text = held ? "they end at rims, held by U-bars" : "they go on beyond it to their nearer end",
             .value = *row.limit,
             .unit = Unit::metre});
    row.judge(held ? 0 : w.use);
    if (row.status == Status::over)
        row.note = fmt::format("Make them {:.2f} m longer there.", w.wanted - w.has);
    else if (held)
        row.note = "U-bars hold them at the rim.";
    row.working = std::move(by.terms);
    return row;
}

// The longest lap of base bars against the stock that they are cut from.
Row judge_laps(const StripJudge& j) {
    Row row = row_of("anchorage", "Laps of base bars");
    row.item = "laps", row.unit = Unit::metre, row.clause = j.code.lap_clause();
    Working longest;
    double most = 0;
    for (Face f : {Face::bottom, Face::top})
        for (Direction d : {Direction::x, Direction::y}) {
            Working by;
            by.line({.text = fmt::format("{} {}: {}", name_of(f), name_of(d), words_of(j.steel.base(f, d))),
                     .value = j.steel.base(f, d).diameter,
                     .unit = Unit::millimetre});
            const double l = j.code.lap_length(j.steel.base(f, d).diameter, concrete_of(j.m, j.m.slab.concrete).fck,
                                               steel_of(j.m).fyk, f == Face::bottom, &by) /
                             1000;
            if (l > most) most = l, longest = std::move(by);
        }
    row.value = most;
    row.limit = longest.line({.text = "stock length", .value = j.m.steel.stock_length, .unit = Unit::metre});
    row.judge(most / *row.limit);
    row.note = row.status == Status::over
                   ? "The stock is shorter than the lap: take longer stock or thinner bars."
                   : "Counted in the schedule, with U-bars that hold base bars at rims and openings.";
    row.working = std::move(longest.terms);
    return row;
}

}  // namespace

std::vector<Row> judge_anchorage(const StripJudge& j) {
    std::vector<Row> rows{judge_laps(j)};
    for (size_t e = 0; e < j.steel.extra().count(); ++e)
        if (j.steel.extra()
                .clear_between(e, j.steel.base(j.steel.extra().bars(e).face, j.steel.extra().bars(e).direction))
                .fits())
            rows.push_back(judge_extra(j, e));
    return rows;
}

}  // namespace mossbed
