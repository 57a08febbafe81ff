// Springs under the nodes, from the ground model.
#pragma once
#include "core/mesh/mesh.h"
#include "core/plate/plate.h"
#include "core/solve/contact.h"

namespace mossbed {

// "uniform": one modulus; "patches": by plan area, the later patch wins, ground.modulus elsewhere.
Bed make_bed(const Model& model, const Mesh& mesh, const Plate& plate);

}  // namespace mossbed
