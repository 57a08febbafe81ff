// Moments and shears of the plate, by name: m positive puts the bottom face in tension, kN·m/m; v in kN/m.
#pragma once
#include <Eigen/Dense>

#include "core/base/geometry.h"

namespace mossbed {

struct PlateForces {
    double mx = 0, my = 0, mxy = 0, vx = 0, vy = 0;
    friend PlateForces operator+(const PlateForces& a, const PlateForces& b) {
        return {a.mx + b.mx, a.my + b.my, a.mxy + b.mxy, a.vx + b.vx, a.vy + b.vy};
    }
    friend PlateForces operator*(double f, const PlateForces& a) {
        return {f * a.mx, f * a.my, f * a.mxy, f * a.vx, f * a.vy};
    }
    friend PlateForces operator-(const PlateForces& a, const PlateForces& b) { return a + (-1.0 * b); }
};

// In axes of which the first is the unit vector `along`, the second to its left.
inline PlateForces turned(const PlateForces& f, Point along) {
    const double c = along.x, s = along.y;
    return {f.mx * c * c + f.my * s * s + 2 * f.mxy * c * s, f.mx * s * s + f.my * c * c - 2 * f.mxy * c * s,
            (f.my - f.mx) * c * s + f.mxy * (c * c - s * s), f.vx * c + f.vy * s, f.vy * c - f.vx * s};
}

// Those of one combination at many places: slots of nodes, or middles of elements.
class PlateForceField {
  public:
    static constexpr int components = 5;  // rows a place, in the order of PlateForces

    PlateForceField() = default;
    explicit PlateForceField(Eigen::VectorXd rows) : rows_(std::move(rows)) {}
    long count() const { return rows_.size() / components; }
    bool none() const { return rows_.size() == 0; }
    PlateForces operator[](long place) const {
        const double* p = rows_.data() + components * place;
        return {p[0], p[1], p[2], p[3], p[4]};
    }
    template <class M>
    static auto rows_of(M& matrix, long place) {  // of a matrix with a column a combination
        return matrix.template middleRows<components>(components * place);
    }

  private:
    Eigen::VectorXd rows_;
};

}  // namespace mossbed
