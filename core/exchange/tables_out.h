// Columns with their loads, and the mesh's nodes, as CSV.
#pragma once
#include "core/fields/fields.h"

namespace mossbed {

// A row a column, wide: name, place and size in m, angle, then the components of each case that any column has, in kN
// and kN·m. Imports again to the same columns and loads.
std::string columns_csv(const Model& model);
// A row a node: number, x, y (m), and of each combination that is given settlement (mm) and pressure (kPa).
std::string nodes_csv(const Fields& fields);

}  // namespace mossbed
