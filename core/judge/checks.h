// The judges that need no design code, each with its file: fields in, rows with their workings out.
#pragma once
#include "core/judge/judge.h"

namespace mossbed {

std::vector<Row> judge_equilibrium(const Fields& f);  // combinations that were not solved
std::vector<Row> judge_bearing(const Fields& f);
// What the largest contact pressure of this combination is compared with, kPa: the allowable one for service
// combinations on springs; on coupled ground, whose rim pressure has no bound, nothing is.
std::optional<double> limit_of_largest_pressure(const Model& model, const Combination& combination);
std::vector<Row> judge_resistance(const Fields& f);  // of the ground, by its strengths
std::vector<Row> judge_contact(const Fields& f);
std::vector<Row> judge_settlement(const Fields& f);  // largest, slope between neighbouring columns, tilt
std::vector<Row> look_at_model(const Fields& f);  // slips: load on nothing, no self-weight, problems that are warnings
std::vector<Row> judge_stability(const Fields& f);  // sliding, overturning, flotation, water that was forgotten

// Edges of the Delaunay triangulation of the columns that stay on the slab, as pairs of indices.
std::vector<std::pair<int, int>> neighbouring_columns(const Model& model);

}  // namespace mossbed
