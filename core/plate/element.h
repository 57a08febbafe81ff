// Reissner–Mindlin plate elements with three unknowns a node: settlement s (m, down) and the slopes bx, by of the
// cross-sections, which in a thin slab are ∂s/∂x and ∂s/∂y. As rotation vectors: θx = −by, θy = bx.
//   m = −D (∇b) so that a positive moment puts the bottom face in tension; v = κGh (∇s − b), κ = 5/6.
// Two families are kept, for the convergence study of docs/verification and as a check on each other:
//   mitc: assumed covariant shear strains, four nodes after Bathe and Dvorkin (1985), three nodes after Lee and Bathe
//   (2004); dkm:  discrete Kirchhoff–Mindlin, DKMQ and DKMT after Katili (1993a, b): quadratic slopes along the sides
//   whose extra
//         term follows from the mean shear of the side. Neither locks from very thin to very thick.
#pragma once
#include <Eigen/Dense>
#include <array>

#include "core/base/geometry.h"

namespace mossbed {

enum class Family { mitc, dkm };

struct PlateSection {
    double E = 33e6;  // kPa
    double nu = 0.2;
    double h = 0.5;    // m
    double level = 0;  // of the mid-plane, m above the datum (stiff footprints not counted)
    double bending() const { return E * h * h * h / (12 * (1 - nu * nu)); }  // D, kN·m
    double shear() const { return 5.0 / 6 * E / (2 * (1 + nu)) * h; }        // κGh, kN/m
    double membrane() const { return E * h / (1 - nu * nu); }                // kN/m
};

using ElementMatrix = Eigen::Matrix<double, 12, 12>;
using MiddleForces = Eigen::Matrix<double, 5, 12>;  // mx, my, mxy, vx, vy at the element's middle

class PlateElement {
  public:
    // n = 3 or 4 corners, anticlockwise, convex.
    PlateElement(Family family, const Point* corners, int n, const PlateSection& section);

    ElementMatrix stiffness() const;     // rows and columns 3k + (0 s, 1 bx, 2 by); beyond 3n zero
    MiddleForces middle_forces() const;  // times the element's unknowns; there they are most exact

  private:
    template <int rows>
    using Rows = Eigen::Matrix<double, rows, 12, Eigen::RowMajor>;  // per unknown of the element
    struct Strains {
        Rows<3> bend;   // ∂bx/∂x, ∂by/∂y, ∂bx/∂y + ∂by/∂x
        Rows<2> shear;  // γx, γy
        double det = 0;
    };
    Strains quad_at(double xi, double eta) const;
    Strains triangle_at(double r, double s) const;
    void prepare_sides();

    Family family_;
    std::array<Point, 4> p_;
    int n_;
    PlateSection section_;
    Eigen::Matrix3d D_;
    std::array<double, 4> side_length_{}, phi_{};
    std::array<Point, 4> side_unit_{};
    Rows<4> bulge_;  // extra slope at mid-side per unknown (dkm)
};

}  // namespace mossbed
