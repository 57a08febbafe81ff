// Where a hand over the plan means to point: at a column, a corner, an end, a middle or a crossing; on a line, square
// to it or in line with something; else at a round coordinate. Paper units decide what is near.
#pragma once
#include "core/model/model.h"
#include "drawing/drawing.h"

namespace mossbed {

struct Snap {
    Point at;
    std::string note;  // what it snapped to, to stand beside the pointer; empty: a round coordinate
    bool is_round() const { return note.empty(); }
};

struct SnapTo {
    Things moving{};              // go with the hand: not snapped to
    std::vector<Point> drawn{};   // points of the figure in hand
    std::optional<Point> from{};  // the last of them: level, upright and square are seen from there
    bool free = false;            // nothing is snapped to
};

// The order: points of things; crossings of lines; the foot of a perpendicular from `from`; places on a line, where one
// in line with something before others; level with or above something; a multiple of 0.1 m (0.05 m where a metre is
// large).
Snap snap(const Model& model, const View& view, Point pointer, const SnapTo& to = {});

}  // namespace mossbed
