// Concrete and steel: bars, strips and punching, joined.
#pragma once
#include "core/codes/code.h"
#include "core/judge/judge.h"

namespace mossbed {

// Fills steel, punching and demand of the judgement and adds its rows. Throws Stopped.
void judge_design(const Fields& fields, const Judgement* before, Judgement& out, const Progress& progress);

// Fills punching and its demand. `before`: an earlier demand, perhaps none.
std::vector<Row> judge_punching(const Fields& fields, const BaseBars& bars,
                                const std::shared_ptr<const PunchingDemand>& before, Judgement& out,
                                const Progress& progress);

// Fills members. `code`: tells how wide a rib's flange is; perhaps none.
std::vector<Row> judge_members(const Fields& fields, const DesignCode* code, Judgement& out, const Progress& progress);

}  // namespace mossbed
