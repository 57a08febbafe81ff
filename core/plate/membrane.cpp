#include "core/plate/membrane.h"

namespace mossbed {
namespace {

// Rows of strain for a shape with this gradient, in the two columns of its displacements.
template <class M>
void put(M& strain, int column, Point gradient) {
    strain(0, column) = gradient.x, strain(1, column + 1) = gradient.y;
    strain(2, column) = gradient.y, strain(2, column + 1) = gradient.x;
}

}  // namespace

MembraneElement::MembraneElement(const Point* corners, int n, const PlateSection& section) : n_(n) {
    for (int k = 0; k < n; ++k) p_[size_t(k)] = corners[k];
    const double nu = section.nu, c = section.membrane();
    C_ << c, nu * c, 0, nu * c, c, 0, 0, 0, (1 - nu) / 2 * c;
}

MembraneElement::Place MembraneElement::quad_at(double xi, double eta, Strain* strain) const {
    static constexpr double sx[4] = {-1, 1, 1, -1}, sy[4] = {-1, -1, 1, 1};
    double dxi[4], deta[4];
    Place at;
    for (int k = 0; k < 4; ++k) {
        dxi[k] = sx[k] * (1 + sy[k] * eta) / 4;
        deta[k] = sy[k] * (1 + sx[k] * xi) / 4;
        at.x_xi = at.x_xi + dxi[k] * p_[size_t(k)];
        at.x_eta = at.x_eta + deta[k] * p_[size_t(k)];
    }
    at.det = cross(at.x_xi, at.x_eta);
    if (!strain) return at;
    strain->setZero();
    for (int k = 0; k < 4; ++k)
        put(*strain, 2 * k,
            {(at.x_eta.y * dxi[k] - at.x_xi.y * deta[k]) / at.det,
             (-at.x_eta.x * dxi[k] + at.x_xi.x * deta[k]) / at.det});
    return at;
}

MembraneElement::Strain MembraneElement::triangle(double* area) const {
    const Point u = p_[1] - p_[0], v = p_[2] - p_[0];
    const double det = cross(u, v), l_r[3] = {-1, 1, 0}, l_s[3] = {-1, 0, 1};
    *area = det / 2;
    Strain out = Strain::Zero();
    for (int k = 0; k < 3; ++k)
        put(out, 2 * k, {(v.y * l_r[k] - u.y * l_s[k]) / det, (-v.x * l_r[k] + u.x * l_s[k]) / det});
    return out;
}

MembraneElement::Matrix MembraneElement::stiffness() const {
    if (n_ == 3) {
        double area = 0;
        const Strain B = triangle(&area);
        return area * B.transpose() * C_ * B;
    }
    // Modes 1 − ξ² and 1 − η² in both directions, their gradients by the Jacobian of the middle, scaled by its
    // determinant over the one here: so the modes do no work on a constant stress, and any patch of them is exact.
    const Place middle = quad_at(0, 0, nullptr);
    Matrix K = Matrix::Zero();
    Eigen::Matrix<double, 4, 8> coupling = Eigen::Matrix<double, 4, 8>::Zero();
    Eigen::Matrix4d own = Eigen::Matrix4d::Zero();
    const double g = 1 / std::sqrt(3.0);
    for (double eta : {-g, g})
        for (double xi : {-g, g}) {
            Strain B;
            const Place at = quad_at(xi, eta, &B);
            Eigen::Matrix<double, 3, 4> G = Eigen::Matrix<double, 3, 4>::Zero();
            put(G, 0, (-2 * xi / at.det) * Point{middle.x_eta.y, -middle.x_eta.x});
            put(G, 2, (-2 * eta / at.det) * Point{-middle.x_xi.y, middle.x_xi.x});
            const Eigen::Matrix<double, 3, 8> CB = C_ * B;
            K += at.det * B.transpose() * CB;
            coupling += at.det * G.transpose() * CB;
            own += at.det * G.transpose() * C_ * G;
        }
    return K - coupling.transpose() * own.ldlt().solve(coupling);
}

MembraneElement::MiddleForces MembraneElement::middle_forces() const {
    if (n_ == 3) {
        double area = 0;
        return C_ * triangle(&area);
    }
    Strain B;
    quad_at(0, 0, &B);
    return C_ * B;
}

}  // namespace mossbed
