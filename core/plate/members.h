// Ribs, and walls that stiffen, as line elements on the slab's nodes along their paths. A member moves with the slab's
// cross-sections as one body: at a height z over the plate's reference plane it is displaced by u + z b along its axis.
// Of a rib only what lies outside the slab is a member, at its true level; a wall stands on the slab's top. In a piece
// between two nodes axial strain, curvature, mean shear and twist are constant:
//   N = EA (u' + e b'),  M = −EI b',  V = κGA (s' − b),  T = −GJ bₙ',   b along the path, bₙ to its left,
// N positive in tension, M about the part's own centroid, positive where its bottom is in tension, V = dM/ds of all
// that turns with the section, T as mxy of the slab. The shear flexibility holds the bending that is left within a
// piece (MacNeal 1978, residual bending flexibility), so that a piece by itself is the exact shear-flexible beam.
// Torsion is Saint-Venant's, of the part's rectangles each on its own; warping and bending in plan are left out.
#pragma once
#include <vector>

#include "core/mesh/mesh.h"
#include "core/mesh/unknowns.h"
#include "core/model/model.h"

namespace mossbed {

struct MemberSection {
    double E = 0, G = 0;  // kPa
    double A = 0;         // m²
    double I = 0, J = 0;  // m⁴
    double A_shear = 0;   // m², 5/6 of A
    double e = 0;         // m: its centroid over the reference plane
    bool is_there() const { return A > 0; }
};

struct MemberPiece {
    int a = 0, b = 0;  // nodes, in the sense of the path
    int member = 0;
    double s0 = 0, s1 = 0;  // m along the path
    Point along;            // unit vector of the path
    MemberSection section;
    bool spans_opening = false;  // carried from rim to rim of an opening
};

struct Member {
    enum class Kind : char { rib, wall };
    Kind kind = Kind::rib;
    int index = 0;  // into the model's list of that kind
    double width = 0;
    std::vector<int> pieces;  // in the order of the path
};

struct Members {
    std::vector<Member> list;
    std::vector<MemberPiece> pieces;
    bool none() const { return pieces.empty(); }
};

// Of all ribs and stiffening walls. `reference`: level of the plate's reference plane.
Members make_members(const Model& model, const Mesh& mesh, double reference);

// On s, bx, by, u, v of its two nodes.
using MemberMatrix = Eigen::Matrix<double, 10, 10>;
MemberMatrix member_stiffness(const MemberPiece& piece);

struct MemberForces {
    double N = 0, M = 0, V = 0, T = 0;  // kN, kN·m; M at the middle of the piece
};
MemberForces member_forces(const MemberPiece& piece, const Unknowns& of, const Eigen::VectorXd& x);

// Saint-Venant's constant of a rectangle, m⁴ (Timoshenko and Goodier 1951, art. 94, by the usual approximation
// a b³ (1/3 − 0.21 b/a (1 − b⁴/(12 a⁴))), a ≥ b, within 0.5 %).
double torsion_constant(double side, double other_side);

}  // namespace mossbed
