// Plate elements stretched in their own mid-plane: plane stress with two unknowns a corner, the displacements U, V (m,
// along +x, +y) of that mid-plane. Beside the bilinear field a quadrilateral has the incompatible modes of Taylor,
// Beresford and Wilson (1976), without which a flange bent in its plane would be too stiff; a triangle has constant
// strain. A slab on unknowns of a reference plane has U = u + e bx, V = v + e by, e (m) the height of the mid-plane
// over it: a point z above the reference plane moves by u + z ∂s/∂x, s the settlement (down).
#pragma once
#include "core/plate/element.h"

namespace mossbed {

class MembraneElement {
  public:
    using Matrix = Eigen::Matrix<double, 8, 8>;        // rows 2k + (0 U, 1 V); beyond 2n zero
    using MiddleForces = Eigen::Matrix<double, 3, 8>;  // nx, ny, nxy at the middle, kN/m, tension positive

    // n = 3 or 4 corners, anticlockwise, convex.
    MembraneElement(const Point* corners, int n, const PlateSection& section);

    Matrix stiffness() const;
    MiddleForces middle_forces() const;

  private:
    using Strain = Eigen::Matrix<double, 3, 8>;  // ∂U/∂x, ∂V/∂y, ∂U/∂y + ∂V/∂x
    struct Place {
        Point x_xi, x_eta;
        double det = 0;
    };
    Place quad_at(double xi, double eta, Strain* strain) const;
    Strain triangle(double* area) const;

    std::array<Point, 4> p_;
    int n_;
    Eigen::Matrix3d C_;  // kN/m
};

}  // namespace mossbed
