#include "core/plate/element.h"

namespace mossbed {

PlateElement::PlateElement(Family family, const Point* corners, int n, const PlateSection& section)
    : family_(family), n_(n), section_(section) {
    for (int k = 0; k < n; ++k) p_[k] = corners[k];
    const double D = section.bending(), nu = section.nu;
    D_ << D, nu * D, 0, nu * D, D, 0, 0, 0, (1 - nu) / 2 * D;
    prepare_sides();
}

// Side k runs from corner k to corner k + 1. Katili (1993a) eq. 28–30 in our unknowns: along the side
//   b_t = linear + 4 t (1 − t) Δ,  mean shear γ = (2/3) φ Δ,  φ = 2/(κ(1−ν)) (h/L)²,
//   (2/3) L (1 + φ) Δ = s_j − s_i − L/2 (b_i + b_j)·t
void PlateElement::prepare_sides() {
    bulge_.setZero();
    for (int k = 0; k < n_; ++k) {
        const int j = (k + 1) % n_;
        const double L = side_length_[k] = distance(p_[k], p_[j]);
        const Point t = side_unit_[k] = unit(p_[j] - p_[k]);
        const double ratio = section_.h / L;
        phi_[k] = 2 / (5.0 / 6 * (1 - section_.nu)) * ratio * ratio;
        if (family_ != Family::dkm) continue;
        const double f = 1.5 / (L * (1 + phi_[k]));
        bulge_(k, 3L * j) = f;
        bulge_(k, 3L * k) = -f;
        for (int c : {k, j}) {
            bulge_(k, 3 * c + 1) = -f * L / 2 * t.x;
            bulge_(k, 3 * c + 2) = -f * L / 2 * t.y;
        }
    }
}

PlateElement::Strains PlateElement::quad_at(double xi, double eta) const {
    static constexpr double sx[4] = {-1, 1, 1, -1}, sy[4] = {-1, -1, 1, 1};
    Strains out;
    out.bend.setZero();
    double dxi[4], deta[4];
    Point x_xi, x_eta;
    for (int k = 0; k < 4; ++k) {
        dxi[k] = sx[k] * (1 + sy[k] * eta) / 4;
        deta[k] = sy[k] * (1 + sx[k] * xi) / 4;
        x_xi = x_xi + dxi[k] * p_[k];
        x_eta = x_eta + deta[k] * p_[k];
    }
    const double det = out.det = cross(x_xi, x_eta), per = 1 / det;
    auto gradient = [&](double f_xi, double f_eta) {  // natural to plan derivatives
        return Point{(x_eta.y * f_xi - x_xi.y * f_eta) * per, (-x_eta.x * f_xi + x_xi.x * f_eta) * per};
    };
    for (int k = 0; k < 4; ++k) {
        const Point g = gradient(dxi[k], deta[k]);
        out.bend(0, 3 * k + 1) = g.x, out.bend(1, 3 * k + 2) = g.y;
        out.bend(2, 3 * k + 1) = g.y, out.bend(2, 3 * k + 2) = g.x;
    }
    Eigen::Matrix<double, 1, 12> g_xi, g_eta;  // covariant shear strains
    if (family_ == Family::dkm) {
        const double p_xi[4] = {-xi * (1 - eta), (1 - eta * eta) / 2, -xi * (1 + eta), -(1 - eta * eta) / 2};
        const double p_eta[4] = {-(1 - xi * xi) / 2, -eta * (1 + xi), (1 - xi * xi) / 2, -eta * (1 - xi)};
        for (int k = 0; k < 4; ++k) {
            const Point g = gradient(p_xi[k], p_eta[k]), t = side_unit_[k];
            out.bend.row(0) += (g.x * t.x) * bulge_.row(k);
            out.bend.row(1) += (g.y * t.y) * bulge_.row(k);
            out.bend.row(2) += (g.y * t.x + g.x * t.y) * bulge_.row(k);
        }
        auto side = [&](int k, double share) { return (share * side_length_[k] / 3 * phi_[k]) * bulge_.row(k); };
        g_xi = side(0, (1 - eta) / 2) - side(2, (1 + eta) / 2);
        g_eta = side(1, (1 + xi) / 2) - side(3, (1 - xi) / 2);
    } else {
        // Tied at the middle of each side: γ_t L/2 = (s_j − s_i)/2 − (b_i + b_j)·(x_j − x_i)/4
        auto tied = [&](int i, int j) {
            Eigen::Matrix<double, 1, 12> g;
            g.setZero();
            const Point d = p_[j] - p_[i];
            g(3L * j) = 0.5, g(3L * i) = -0.5;
            for (int c : {i, j}) g(3 * c + 1) = -d.x / 4, g(3 * c + 2) = -d.y / 4;
            return g;
        };
        g_xi = (1 - eta) / 2 * tied(0, 1) + (1 + eta) / 2 * tied(3, 2);
        g_eta = (1 + xi) / 2 * tied(1, 2) + (1 - xi) / 2 * tied(0, 3);
    }
    out.shear.row(0) = (per * x_eta.y) * g_xi - (per * x_xi.y) * g_eta;
    out.shear.row(1) = (per * x_xi.x) * g_eta - (per * x_eta.x) * g_xi;
    return out;
}

PlateElement::Strains PlateElement::triangle_at(double r, double s) const {
    Strains out;
    out.bend.setZero();
    const Point u = p_[1] - p_[0], v = p_[2] - p_[0];
    const double det = out.det = cross(u, v);
    auto gradient = [&](double f_r, double f_s) {
        return Point{(v.y * f_r - u.y * f_s) / det, (-v.x * f_r + u.x * f_s) / det};
    };
    const double lambda[3] = {1 - r - s, r, s}, l_r[3] = {-1, 1, 0}, l_s[3] = {-1, 0, 1};
    for (int k = 0; k < 3; ++k) {
        const Point g = gradient(l_r[k], l_s[k]);
        out.bend(0, 3 * k + 1) = g.x, out.bend(1, 3 * k + 2) = g.y;
        out.bend(2, 3 * k + 1) = g.y, out.bend(2, 3 * k + 2) = g.x;
    }
    out.shear.setZero();
    if (family_ == Family::dkm) {
        for (int k = 0; k < 3; ++k) {
            const int j = (k + 1) % 3;
            const Point g =
                gradient(4 * (l_r[k] * lambda[j] + lambda[k] * l_r[j]), 4 * (l_s[k] * lambda[j] + lambda[k] * l_s[j]));
            const Point t = side_unit_[k];
            const Eigen::Vector3d e(g.x * t.x, g.y * t.y, g.y * t.x + g.x * t.y);
            out.bend.noalias() += e * bulge_.row(k);
            // At corner j the sides k and j meet; their mean shears fix γ there; linear between the corners.
            const Point tk = side_unit_[k], tj = side_unit_[j];
            const double c = cross(tk, tj);
            const Eigen::Matrix<double, 1, 12> gk = 2.0 / 3 * phi_[k] * bulge_.row(k),
                                               gj = 2.0 / 3 * phi_[j] * bulge_.row(j);
            out.shear.row(0) += lambda[j] / c * (tj.y * gk - tk.y * gj);
            out.shear.row(1) += lambda[j] / c * (-tj.x * gk + tk.x * gj);
        }
    } else {
        // Lee and Bathe (2004): e_r = e1_r + c s, e_s = e2_s − c r, c = e2_s − e1_r − e3_s + e3_r, tied at mid-sides.
        auto tied = [&](int i, int j, Point along) {  // strain at the middle of side i–j in the direction `along`
            Eigen::Matrix<double, 1, 12> g;
            g.setZero();
            for (int c : {i, j}) g(3 * c + 1) = -along.x / 2, g(3 * c + 2) = -along.y / 2;
            return g;
        };
        auto with_s = [](Eigen::Matrix<double, 1, 12> g, int a, int b) {
            g(3L * b) += 1, g(3L * a) -= 1;
            return g;
        };
        const auto e1_r = with_s(tied(0, 1, u), 0, 1), e2_s = with_s(tied(0, 2, v), 0, 2);
        const auto e3_r = with_s(tied(1, 2, u), 0, 1), e3_s = with_s(tied(1, 2, v), 0, 2);
        const Eigen::Matrix<double, 1, 12> c = e2_s - e1_r - e3_s + e3_r;
        const Eigen::Matrix<double, 1, 12> g_r = e1_r + s * c, g_s = e2_s - r * c;
        out.shear.row(0) = (v.y * g_r - u.y * g_s) / det;
        out.shear.row(1) = (-v.x * g_r + u.x * g_s) / det;
    }
    return out;
}

ElementMatrix PlateElement::stiffness() const {
    // The strains of all points of integration one above the other, and the forces that they make: one product.
    constexpr int most = 4, rows = 5;
    Rows<most*rows> strains = Rows<most * rows>::Zero(), forces = strains;
    int at = 0;
    auto add = [&](const Strains& s, double w) {
        strains.middleRows<3>(at) = s.bend, strains.middleRows<2>(at + 3) = s.shear;
        forces.middleRows<3>(at).noalias() = (w * s.det) * D_.lazyProduct(s.bend);
        forces.middleRows<2>(at + 3) = (w * s.det * section_.shear()) * s.shear;
        at += rows;
    };
    if (n_ == 4) {
        const double g = 1 / std::sqrt(3.0);
        for (double eta : {-g, g})
            for (double xi : {-g, g}) add(quad_at(xi, eta), 1);
    } else {
        add(triangle_at(0.5, 0), 1.0 / 6), add(triangle_at(0.5, 0.5), 1.0 / 6), add(triangle_at(0, 0.5), 1.0 / 6);
    }
    ElementMatrix K;
    K.noalias() = strains.transpose() * forces;
    return K;
}

MiddleForces PlateElement::middle_forces() const {
    const Strains s = n_ == 4 ? quad_at(0, 0) : triangle_at(1.0 / 3, 1.0 / 3);
    MiddleForces f;
    f.topRows<3>() = -D_ * s.bend;
    f.bottomRows<2>() = section_.shear() * s.shear;
    return f;
}

}  // namespace mossbed
