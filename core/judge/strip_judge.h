// What the judges of strips look at, and the judges, each with its file.
#pragma once
#include "core/judge/judge.h"
#include "core/steel/required_steel.h"

namespace mossbed {

// The bars of a face along a strip; or, where strips of a direction leave a part of the slab out, all of that mat.
struct JudgedMat {
    std::string item;
    Face face;
    Direction direction;
    const Strip* strip = nullptr;
    std::vector<SlabPart> parts;  // of the slab that lie in it, as the mesh has them
    Point at;
};
std::vector<JudgedMat> mats_by_strip(const Fields& fields, const StripDemand& demand);

struct StripJudge {
    const Fields& fields;
    const Model& m;
    const DesignCode& code;
    const StripDemand& demand;
    const Provision& steel;
    const StripProvision& strips;
    const std::vector<JudgedMat>& mats;
    const Progress& progress;

    RequiredSteel needs() const { return {m, code, demand, steel}; }
    const std::string& name_of_combination(long c) const {
        return fields.combinations[size_t(demand.combinations[size_t(c)])].combination.id;
    }
};

std::vector<Row> judge_bending(const StripJudge& j);
std::vector<Row> judge_minimum_steel(const StripJudge& j);
std::vector<Row> judge_spacing(const StripJudge& j);
std::vector<Row> judge_anchorage(const StripJudge& j);
std::vector<Row> judge_one_way_shear(const StripJudge& j);

// The sections of the strips for the record: of each the combinations with the largest of everything, or all that were
// asked for. Without a code what is required stays open.
std::vector<StripAnswer> record_sections(const Fields& fields, const StripDemand& demand, const StripProvision& strips,
                                         const RequiredSteel* needs);

// What the engineer must know of the strips themselves: slips and what they leave out. `code` may be none. `demand`:
// what bars are designed by, `shear` what one-way shear is judged by; the same, unless bars are designed by points.
std::vector<Row> look_at_strips(const Model& m, const StripDemand& demand, const StripDemand& shear,
                                const BaseBars& bars, const DesignCode* code);
// The first column on a drawn strip over which the moment is spread further than the code takes as even.
const Column* column_that_it_spreads(const Model& m, const StripAnswer& s, const BaseBars& bars,
                                     const DesignCode& code);
double width_of_concentration(const Model& m, const StripAnswer& s, const Column& c, const BaseBars& bars,
                              const DesignCode& code);  // m

std::string words_of(const ChosenBars& b);  // "ϕ16 at 150 mm", "none"

}  // namespace mossbed
