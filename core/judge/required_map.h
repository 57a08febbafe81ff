// Steel that moments by points ask of one face and direction of bars, beside what strips are designed for.
#pragma once
#include "core/fields/field_map.h"
#include "core/judge/judge.h"

namespace mossbed {

struct RequiredMap {
    FieldMap map;  // mm²/m, minimum counted
    std::optional<FieldMap>
        no_fit;  // below nought where no amount fits; `map` shows the most that fits elsewhere there
};

// At every corner of an element the largest, over the strength combinations, of the plate's own moment across the bars
// with its twisting moment (Wood and Armer 1968: m ± |m_nt|; with mixed signs, where the moment across is so large and
// of the other sign that bars across are not needed, m ± m_nt²/|m_t|; not below nought; half the thickness times a pull
// in the slab's plane besides), averaged across the bars over `steel.averaged_over`, if that is given; inside a support
// no more than at its faces, along the bars. Depth, thickness and concrete are those of the element. Empty where
// nothing is designed.
RequiredMap required_map(const Fields& fields, const Judgement& judged, Face face, Direction direction);

}  // namespace mossbed
