// Constants of nature and of the trade, with their units.
#pragma once

namespace mossbed {

constexpr double water_weight = 9.81;   // kN/m³
constexpr double steel_density = 7850;  // kg/m³

}  // namespace mossbed
