// Moments, shears and forces in its plane of the plate, by name: m about the mid-plane there, positive where the bottom
// face is in tension, kN·m/m; v and n in kN/m, n positive in tension. A slab on three unknowns a node has no n.
#pragma once
#include <Eigen/Dense>

#include "core/base/geometry.h"

namespace mossbed {

struct PlateForces {
    double mx = 0, my = 0, mxy = 0, vx = 0, vy = 0;
    double nx = 0, ny = 0, nxy = 0;
    friend PlateForces operator+(const PlateForces& a, const PlateForces& b) {
        return {a.mx + b.mx, a.my + b.my, a.mxy + b.mxy, a.vx + b.vx,
                a.vy + b.vy, a.nx + b.nx, a.ny + b.ny,   a.nxy + b.nxy};
    }
    friend PlateForces operator*(double f, const PlateForces& a) {
        return {f * a.mx, f * a.my, f * a.mxy, f * a.vx, f * a.vy, f * a.nx, f * a.ny, f * a.nxy};
    }
    friend PlateForces operator-(const PlateForces& a, const PlateForces& b) { return a + (-1.0 * b); }
};

// In axes of which the first is the unit vector `along`, the second to its left.
inline PlateForces turned(const PlateForces& f, Point along) {
    const double c = along.x, s = along.y;
    return {f.mx * c * c + f.my * s * s + 2 * f.mxy * c * s,
            f.mx * s * s + f.my * c * c - 2 * f.mxy * c * s,
            (f.my - f.mx) * c * s + f.mxy * (c * c - s * s),
            f.vx * c + f.vy * s,
            f.vy * c - f.vx * s,
            f.nx * c * c + f.ny * s * s + 2 * f.nxy * c * s,
            f.nx * s * s + f.ny * c * c - 2 * f.nxy * c * s,
            (f.ny - f.nx) * c * s + f.nxy * (c * c - s * s)};
}

// Those of one combination at many places: slots of nodes, or middles of elements.
class PlateForceField {
  public:
    static constexpr int components = 5;  // of bending, rows a place, in the order of PlateForces
    static constexpr int in_plane = 3;    // nx, ny, nxy, likewise; kept apart, where there are any

    PlateForceField() = default;
    explicit PlateForceField(Eigen::VectorXd rows, Eigen::VectorXd plane = {})
        : rows_(std::move(rows)), plane_(std::move(plane)) {}
    long count() const { return rows_.size() / components; }
    bool none() const { return rows_.size() == 0; }
    bool has_plane() const { return plane_.size() > 0; }
    PlateForces operator[](long place) const {
        const double* p = rows_.data() + components * place;
        if (!has_plane()) return {p[0], p[1], p[2], p[3], p[4]};
        const double* n = plane_.data() + in_plane * place;
        return {p[0], p[1], p[2], p[3], p[4], n[0], n[1], n[2]};
    }
    const Eigen::VectorXd& rows() const { return rows_; }
    template <class M>
    static auto plane_rows_of(M& matrix, long place) {
        return matrix.template middleRows<in_plane>(in_plane * place);
    }
    template <class M>
    static auto rows_of(M& matrix, long place) {  // of a matrix with a column a combination
        return matrix.template middleRows<components>(components * place);
    }

  private:
    Eigen::VectorXd rows_, plane_;
};

}  // namespace mossbed
