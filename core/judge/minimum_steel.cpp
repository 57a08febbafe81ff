// Minimum steel, each part of the slab for itself: a thick patch asks for more than the slab round it.
#include <fmt/format.h>

#include "core/judge/strip_judge.h"

namespace mossbed {
namespace {

std::optional<Row> judge_part(const StripJudge& j, Face f, Direction d, const SlabPart& part) {
    const ChosenBars& bars = j.steel.base(f, d);
    Working by;
    const double least = j.code.minimum_steel(j.needs().metre_of(part, f, d), &by);
    const double extra = j.steel.least_extra_in(part, f, d), have = bars.area() + extra;
    if (f == Face::top && !j.m.steel.minimum_on_both_faces && have == 0) return {};
    std::string item = fmt::format("{} {}", name_of(f), name_of(d));
    Row row = row_of("minimum-steel", "Minimum steel " + item, item);
    row.unit = Unit::square_millimetre_per_metre, row.clause = j.code.minimum_clause(), row.value = least,
    row.limit = have;
    if (!part.patches.empty()) {
        const std::string where = fmt::format(", {:.2f} m thick", part.thickness);
        row.title += where, row.item += where, row.at = centroid(part.patches[0]->outline);
    }
    by.line({.text = "base bars: " + words_of(bars), .value = bars.area(), .unit = Unit::square_millimetre_per_metre});
    if (extra > 0)
        by.line({.text = "extra bars, the least anywhere in it",
                 .value = extra,
                 .unit = Unit::square_millimetre_per_metre});
    row.judge(have > 0 ? least / have : 1e9);
    by.line(term_of_use("use", least, have, row.unit, row));
    if (row.status == Status::over)
        row.note = part.patches.empty() ? "More base bars would mend it."
                                        : "More base bars, or extra bars all over the patch, would mend it.";
    else if (bars.chosen)
        row.chosen = true, row.note = fmt::format("Bars chosen to fit: {}.", words_of(bars));
    row.working = std::move(by.terms);
    return row;
}

}  // namespace

std::vector<Row> judge_minimum_steel(const StripJudge& j) {
    std::vector<Row> rows;
    for (Face f : {Face::bottom, Face::top})
        for (Direction d : {Direction::x, Direction::y})
            for (const SlabPart& part : parts_of(j.m))
                if (auto row = judge_part(j, f, d, part)) rows.push_back(std::move(*row));
    return rows;
}

}  // namespace mossbed
