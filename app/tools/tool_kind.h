// What the hand can hold over the plan.
#pragma once
#include "core/arrange/figure.h"
#include "core/model/thing.h"

namespace mossbed {

enum class ToolKind : char {
    choose,
    slab,
    column,
    opening,
    patch,
    wall,
    rib,
    setting_out,
    ground_patch,
    strip,
    extra_bars,
    links,
    point_load,
    line_load,
    area_load,
    member_load
};

// What a drawing tool makes, and of which figures.
ThingKind made_by(ToolKind kind);
const std::vector<FigureKind>& figures_of(ToolKind kind);
const char* title_of(FigureKind figure);  // of its button: "Rectangle"

}  // namespace mossbed
