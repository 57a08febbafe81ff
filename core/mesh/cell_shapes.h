// Integrals of an element's shape functions over parts of it, from the moments of the parts' outlines alone: what acts
// on a cut cell needs no look-up of places in it.
#pragma once
#include <span>

#include "core/mesh/mesh.h"

namespace mossbed {

struct PartOfCell {
    std::array<double, 4> weight{};  // ∫ N_i, m²
    std::array<Point, 4> moment{};   // ∫ N_i (r − about), m³
    double area = 0;                 // ∫ 1, m²
    Point first;                     // ∫ (r − about), m³
};

// In the coordinates p, q in which the cell is nearest to the unit square, a bilinear shape function is 1, ξ, η and ξη
// put together, with ξ = p − t_p ξη and η = q − t_q ξη; ξη is taken as the polynomial of second degree in p and q that
// is nearest to it over the cell. Exact on parallelograms and triangles; on all cells shape functions sum to one and
// give fields that are linear in the plan exactly.
class CellShapes {
  public:
    CellShapes() = default;
    CellShapes(const Mesh& mesh, int element);
    // `part` lies in the cell; its orientation gives the sign.
    PartOfCell over(std::span<const Point> part, Point about) const;

  private:
    Point at_, u_, v_;  // r = at + p u + q v
    double det_ = 1, tp_ = 0, tq_ = 0;
    bool triangle_ = false;
    std::array<double, 6> product_{0, 0, 0, 0, 1, 0};  // ξη by 1, p, q, p², pq, q²
};

std::vector<CellShapes> shapes_of_cells(const Mesh& mesh);

}  // namespace mossbed
