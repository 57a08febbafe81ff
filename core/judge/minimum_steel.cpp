// Minimum steel by strip and face, at the part of the slab that asks most: a thick patch asks for more than the slab
// round it.
#include <fmt/format.h>

#include "core/judge/strip_judge.h"

namespace mossbed {
namespace {

Row judge_part(const StripJudge& j, const JudgedMat& mat, const SlabPart& part) {
    const ChosenBars& bars = j.steel.base(mat.face, mat.direction);
    Working by;
    const double least = j.code.minimum_steel(j.needs().metre_of(part, mat.face, mat.direction), &by);
    const double extra = j.steel.least_extra_in(part, mat.face, mat.direction, mat.strip), have = bars.area() + extra;
    Row row = row_of("minimum-steel", "Minimum steel " + mat.item, mat.item);
    row.unit = Unit::square_millimetre_per_metre, row.clause = j.code.minimum_clause(), row.value = least,
    row.limit = have, row.at = part.patches.empty() ? mat.at : centroid(part.patches[0]->outline);
    by.line({.text = fmt::format("base bars along {}: {}", name_of(mat.direction), words_of(bars)),
             .value = bars.area(),
             .unit = Unit::square_millimetre_per_metre});
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
    if (!part.patches.empty()) {
        const std::string where = fmt::format("It is the part {:.2f} m thick that asks most.", part.thickness);
        row.note = row.note.empty() ? where : where + " " + row.note;
    }
    row.working = std::move(by.terms);
    return row;
}

}  // namespace

std::vector<Row> judge_minimum_steel(const StripJudge& j) {
    std::vector<Row> rows;
    for (const JudgedMat& mat : j.mats) {
        const bool none = j.steel.base(mat.face, mat.direction).area() == 0;
        if (mat.face == Face::top && !j.m.steel.minimum_on_both_faces && none) continue;
        std::optional<Row> worst;
        for (const SlabPart& part : mat.parts)
            if (Row row = judge_part(j, mat, part); !worst || *row.utilisation > *worst->utilisation)
                worst = std::move(row);
        if (worst) rows.push_back(std::move(*worst));
    }
    return rows;
}

}  // namespace mossbed
