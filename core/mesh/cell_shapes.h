// Integrals of an element's shape functions over parts of it, from the moments of the parts' outlines alone: what acts
// on a cut cell needs no look-up of places in it.
#pragma once
#include <span>

#include "core/mesh/mesh.h"

namespace mossbed {

// ∫ p^i q^j over a part of a cell, in the cell's own coordinates, up to the third degree.
struct CellMoments {
    double one = 0, p = 0, q = 0, pp = 0, pq = 0, qq = 0, ppp = 0, ppq = 0, pqq = 0, qqq = 0;
};

// A field over a cell by 1, p, q, p², pq, q².
using CellField = std::array<double, 6>;

// In the coordinates p, q in which the cell is nearest to the unit square, a bilinear shape function is 1, ξ, η and ξη
// put together, with ξ = p − t_p ξη and η = q − t_q ξη; ξη is taken as the polynomial of second degree in p and q that
// is nearest to it over the cell. Exact on parallelograms and triangles; on all cells shape functions sum to one and
// give fields that are linear in the plan exactly.
class CellShapes {
  public:
    CellShapes() = default;
    CellShapes(const Mesh& mesh, int element);
    CellMoments moments(std::span<const Point> part) const;  // `part` lies in the cell; its orientation gives the sign
    CellField field(const std::array<double, 4>& at_corners) const;  // Σ N_i f_i; of a triangle the first three

    struct Integral {
        double whole = 0;  // ∫ f, m² times its unit
        Point moment;      // ∫ f (r − about), m³ times its unit
    };
    Integral integral(const CellField& f, const CellMoments& m, Point about) const {
        std::array<double, 3> sum{};
        add_integrals(f.data(), 1, m, about, sum.data());
        return {sum[0], {sum[1], sum[2]}};
    }
    // Of `count` fields side by side: of the k-th the i-th coefficient stands at i · count + k. Adds to what is in
    // `to`: first all wholes, then the moments' x, then their y.
    void add_integrals(const double* fields, size_t count, const CellMoments& m, Point about, double* to) const;

  private:
    Point at_, u_, v_;  // r = at + p u + q v
    double det_ = 1, tp_ = 0, tq_ = 0;
    bool triangle_ = false;
    CellField product_{0, 0, 0, 0, 1, 0};  // ξη
};

std::vector<CellShapes> shapes_of_cells(const Mesh& mesh);

}  // namespace mossbed
