// Springs under the nodes, from the ground model.
#pragma once
#include "core/ground/layered_ground.h"
#include "core/mesh/mesh.h"
#include "core/plate/plate.h"
#include "core/solve/contact.h"

namespace mossbed {

// "uniform": one modulus; "patches": by plan area, the later patch wins, ground.modulus elsewhere, integrated over each
// node's share of cells that each stand on one; "profile": modulus
// p / s(x, y) from the settlement of each node under the even pressure p (kPa) on the whole base of layered ground.
Bed make_bed(const Model& model, const Mesh& mesh, const Plate& plate, const LayeredGround* ground = nullptr,
             double pressure = 0);

// Moduli that turn a bearing value into springs, kN/m³; pressures kPa, lengths m.
// Allowable pressure over the settlement that was allowed with it.
double modulus_from_settlement(double allowable, double settlement);
// 40 × safety factor × allowable pressure, from 25 mm at the ultimate pressure (Bowles 1996, 9-6).
double modulus_from_bearing(double allowable, double safety);
// From a plate test with a plate `plate` wide (Terzaghi 1955): on sand ((B + 0.3)/(2B))², on clay plate/B, both from
// the value for a 0.3 m plate; a rectangle B × L on clay has (L + B/2)/(1.5 L) of the square's.
enum class PlateSoil { sand, clay };
double modulus_from_plate(double k_plate, double plate, double B, double L, PlateSoil soil);

}  // namespace mossbed
