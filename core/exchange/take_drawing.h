// A drawn plan taken into a model: the outline in place of the old one; of all else what is new beside what stands.
#pragma once
#include "core/exchange/drawing_plan.h"

namespace mossbed {

struct TakenDrawing {
    Model model;
    std::vector<std::string> added;    // "column C3", "opening O1"
    std::vector<std::string> kept;     // that stood there already, at the same place
    std::vector<std::string> missing;  // of kinds that are drawn: what the drawing does not have, left as it is
    bool outline = false;              // replaced, or made
};

// What stands at the place of a drawn thing (to a millimetre) stays as it is, with its name, loads and thickness;
// columns take the drawn size and angle. What the drawing does not have stays too.
TakenDrawing take_drawing(const Model& model, const DrawnPlan& plan);

}  // namespace mossbed
