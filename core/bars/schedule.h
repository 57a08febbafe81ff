// The schedule of bars: a row a mark. Columns mark, diameter_mm, shape_code, A_mm … E_mm, length_mm, number, total_m,
// weight_kg, face, direction, where.
#pragma once
#include "core/bars/laid_bars.h"

namespace mossbed {

const std::vector<std::string>& schedule_heads();
std::vector<std::vector<std::string>> schedule_rows(const LaidBars& list);
std::string schedule_csv(const LaidBars& list);
// The bytes of a workbook: the schedule with its sums, and the weights by kind. Throws Trouble where it cannot be made.
std::string schedule_xlsx(const LaidBars& list, const std::string& title, double concrete_m3);

}  // namespace mossbed
