// The small sketch beside a Working: where its number is taken, with the lengths that it names.
#pragma once
#include "core/answer/answer.h"
#include "core/working/row.h"
#include "drawing/drawing.h"

namespace mossbed {

struct Sketch {
    Drawing drawing;
    View view;
};
// Round a column with its perimeter, of a strip in the slab, or of a place; nothing for what has none.
Sketch working_sketch(const Row& row, const Answer& answer, const Box& paper);

}  // namespace mossbed
