// The plan of a model as a DXF drawing in mm: a layer a kind of thing, names as texts; what geometry does not say rides
// as extended data, so that the drawing imports again to the same things.
#pragma once
#include "core/model/model.h"

namespace mossbed {

// Text of the file (ASCII DXF of release 2000). Throws Trouble where it cannot be made.
std::string write_drawing(const Model& model);

}  // namespace mossbed
