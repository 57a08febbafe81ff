// The margin of one face and direction of bars over the slab: what strips have beyond what they need, in per cent of
// what they have; below nought where they are short, and −100 where no amount fits or no strip lies.
#pragma once
#include "core/fields/field_map.h"
#include "core/judge/judge.h"

namespace mossbed {

struct MarginMap {
    FieldMap map;
    struct Tightest {
        Point at;
        double use = 0;  // needed over provided
        std::string strip, combination;
    };
    std::optional<Tightest> tightest;
};

// With minimum steel, over all strength combinations. Empty where strips have no sections.
MarginMap margin_map(const Fields& fields, const Judgement& judged, Face face, Direction direction);

}  // namespace mossbed
