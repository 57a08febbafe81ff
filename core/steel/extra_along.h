// Extra bars along one strip, where it is short of steel.
#pragma once
#include "core/codes/code.h"
#include "core/steel/strips.h"

namespace mossbed {

struct ExtraAlong {
    std::vector<ExtraBars> bars;  // named, not in the model yet; none where nothing is short
    std::string why;              // where nothing can be done, in words that follow the strip's name
};

// For each stretch of a strip on which a face needs more than is provided, bars over the strip's width: the least of
// the model's sizes and spacings that makes up the most that is short there and lies clear of the base bars (at their
// spacing, twice or half of it where the list has that), on by the effective depth (the shift of the moment line, EN
// 1992-1-1 9.2.1.3) and their anchorage at both ends, in steps of 50 mm. `steel`: as judged, sections recorded. Bars
// that reach a rim are held there.
ExtraAlong extra_along(const Model& model, const DesignCode& code, const SteelAnswer& steel, size_t strip, Face face);

}  // namespace mossbed
