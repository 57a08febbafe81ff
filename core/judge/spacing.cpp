// Largest spacing of the base bars by strip and face, and clear distances of base and extra bars.
#include <fmt/format.h>

#include "core/judge/strip_judge.h"

namespace mossbed {
namespace {

Row judge_mat(const StripJudge& j, const JudgedMat& mat) {
    const ChosenBars& bars = j.steel.base(mat.face, mat.direction);
    Row row = row_of("spacing", "Spacing " + mat.item, mat.item);
    row.unit = Unit::millimetre, row.clause = j.code.spacing_clause(), row.at = mat.at;
    Working by;
    double thickness = 1e300;
    for (const SlabPart& part : mat.parts) thickness = std::min(thickness, part.thickness);
    row.value = bars.spacing, row.limit = j.code.largest_spacing(1000 * thickness, &by);
    row.judge(*row.value / *row.limit);
    by.line({.text = fmt::format("spacing of the bars along {}: {}", name_of(mat.direction), words_of(bars)),
             .value = bars.spacing,
             .unit = Unit::millimetre});
    const double least = j.code.least_clear_distance(bars.diameter, &by);
    const double clear =
        by.line({.text = "clear distance between them",
                 .formula = "{s} − {ϕ}",
                 .put_in = {{"s", bars.spacing, Unit::millimetre}, {"ϕ", bars.diameter, Unit::millimetre}},
                 .value = bars.spacing - bars.diameter,
                 .unit = Unit::millimetre});
    if (clear < least - 1e-9 && row.status == Status::pass) {
        row.value = clear, row.limit = least;
        row.judge(least / std::max(clear, 1e-3));
        row.note = "The bars lie too close: take larger ones further apart.";
    }
    row.working = std::move(by.terms);
    return row;
}

Row judge_extra(const StripJudge& j, size_t e) {
    const ExtraBarsProvision& extra = j.steel.extra();
    const ExtraBars& x = extra.bars(e);
    const ChosenBars& base = j.steel.base(x.face, x.direction);
    const auto clear = extra.clear_between(e, base);
    Row row = row_of("spacing", "Clear distance of extra bars " + x.id, x.id);
    row.unit = Unit::millimetre, row.clause = j.code.spacing_clause(), row.at = centroid(x.outline);
    row.value = clear.distance, row.limit = clear.least;
    row.judge(clear.distance > 0 ? clear.least / clear.distance : 1e9);
    if (!clear.fits())
        row.note =
            "Too close to the base bars and other extra bars of that layer: they are not counted. Space them wider, or "
            "take larger ones.";
    Working by;
    by.line({.text = "base bars of that layer: " + words_of(base), .value = base.spacing, .unit = Unit::millimetre});
    by.line({.text = fmt::format("extra bars: ϕ{:.0f} at {:.0f} mm", x.diameter, x.spacing),
             .value = x.spacing,
             .unit = Unit::millimetre});
    by.line({.text = "clear distance, all laid evenly", .value = clear.distance, .unit = Unit::millimetre});
    j.code.least_clear_distance(clear.largest, &by);
    j.code.anchorage_length(x.diameter, concrete_of(j.m, j.m.slab.concrete).fck, steel_of(j.m).fyk,
                            x.face == Face::bottom, &by);
    row.working = std::move(by.terms);
    return row;
}

}  // namespace

std::vector<Row> judge_spacing(const StripJudge& j) {
    std::vector<Row> rows;
    for (const JudgedMat& mat : j.mats) rows.push_back(judge_mat(j, mat));
    for (size_t e = 0; e < j.steel.extra().count(); ++e) rows.push_back(judge_extra(j, e));
    return rows;
}

}  // namespace mossbed
