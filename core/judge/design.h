// Concrete and steel: bars, strips and punching, joined.
#pragma once
#include "core/judge/judge.h"

namespace mossbed {

// Fills steel, punching and demand of the judgement and adds its rows. Throws Stopped.
void judge_design(const Fields& fields, const StripDemand* before, Judgement& out, const Progress& progress);

std::vector<Row> judge_punching(const Fields& fields, const BaseBars& bars, std::vector<PunchingAnswer>& answers);

}  // namespace mossbed
