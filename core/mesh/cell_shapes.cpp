#include "core/mesh/cell_shapes.h"

#include <tbb/parallel_for.h>

#include <Eigen/Dense>

#include "core/base/wide.h"

namespace mossbed {
namespace {

// What a side adds, as the fan from the origin has it: over a triangle (0, P, Q) the integral of p^i q^j is
// cross(P, Q) / (i + j + 2) times its mean along PQ.
void add_side(CellMoments& m, Point a, Point b) {
    const double c = cross(a, b);
    m.one += c / 2;
    m.p += c / 6 * (a.x + b.x), m.q += c / 6 * (a.y + b.y);
    const double axx = a.x * a.x, ayy = a.y * a.y, bxx = b.x * b.x, byy = b.y * b.y, abx = a.x * b.x, aby = a.y * b.y;
    m.pp += c / 12 * (axx + abx + bxx), m.qq += c / 12 * (ayy + aby + byy);
    m.pq += c / 24 * (2 * a.x * a.y + a.x * b.y + b.x * a.y + 2 * b.x * b.y);
    m.ppp += c / 20 * (axx + bxx) * (a.x + b.x), m.qqq += c / 20 * (ayy + byy) * (a.y + b.y);
    m.ppq += c / 60 * (a.y * (3 * axx + 2 * abx + bxx) + b.y * (axx + 2 * abx + 3 * bxx));
    m.pqq += c / 60 * (a.x * (3 * ayy + 2 * aby + byy) + b.x * (ayy + 2 * aby + 3 * byy));
}

// `frame`: what a field's integral, and those times p and q, add to a moment's x and y; then to the whole.
struct Frame {
    double x, px, qx, y, py, qy, det;
};
MOSSBED_WIDE void add_fields(const double* f, size_t n, const CellMoments& m, const Frame& in, double* to) {
    for (size_t k = 0; k < n; ++k) {
        const double a = f[k], b = f[n + k], c = f[2 * n + k], d = f[3 * n + k], e = f[4 * n + k], g = f[5 * n + k];
        const double one = a * m.one + b * m.p + c * m.q + d * m.pp + e * m.pq + g * m.qq,
                     p = a * m.p + b * m.pp + c * m.pq + d * m.ppp + e * m.ppq + g * m.pqq,
                     q = a * m.q + b * m.pq + c * m.qq + d * m.ppq + e * m.pqq + g * m.qqq;
        to[k] += in.det * one;
        to[n + k] += in.x * one + in.px * p + in.qx * q;
        to[2 * n + k] += in.y * one + in.py * p + in.qy * q;
    }
}

CellField monomials(double p, double q) { return {1, p, q, p * p, p * q, q * q}; }

// Least squares over the cell, by three points of Gauss each way.
CellField product_in(double tp, double tq) {
    Eigen::Matrix<double, 6, 6> normal = Eigen::Matrix<double, 6, 6>::Zero();
    Eigen::Matrix<double, 6, 1> right = Eigen::Matrix<double, 6, 1>::Zero();
    const double g = std::sqrt(0.6);
    for (const double xi : {-g, 0.0, g})
        for (const double eta : {-g, 0.0, g}) {
            const double w = (xi == 0 ? 8 : 5) * (eta == 0 ? 8 : 5);
            const auto m = monomials(xi + tp * xi * eta, eta + tq * xi * eta);
            const Eigen::Map<const Eigen::Matrix<double, 6, 1>> row(m.data());
            normal += w * row * row.transpose();
            right += w * xi * eta * row;
        }
    CellField out;
    Eigen::Map<Eigen::Matrix<double, 6, 1>>(out.data()) = normal.ldlt().solve(right);
    return out;
}

}  // namespace

CellShapes::CellShapes(const Mesh& mesh, int element) {
    const Element& e = mesh.elements[size_t(element)];
    const Point a = mesh.nodes[size_t(e[0])], b = mesh.nodes[size_t(e[1])], c = mesh.nodes[size_t(e[2])];
    if (e[3] < 0) {
        triangle_ = true;
        at_ = a, u_ = b - a, v_ = c - a, det_ = cross(u_, v_);
        return;
    }
    const Point d = mesh.nodes[size_t(e[3])];
    at_ = 0.25 * (a + b + c + d), u_ = 0.25 * (b + c - a - d), v_ = 0.25 * (c + d - a - b);
    const Point t = 0.25 * (a + c - b - d);
    det_ = cross(u_, v_);
    tp_ = cross(t, v_) / det_, tq_ = cross(u_, t) / det_;
    if (std::abs(tp_) + std::abs(tq_) > 1e-9) product_ = product_in(tp_, tq_);
}

CellMoments CellShapes::moments(std::span<const Point> part) const {
    CellMoments m;
    if (part.size() < 3) return m;
    const double per = 1 / det_;
    auto to_cell = [&](Point r) { return Point{per * cross(r - at_, v_), per * cross(u_, r - at_)}; };
    Point last = to_cell(part.back());
    for (const Point r : part) {
        const Point now = to_cell(r);
        add_side(m, last, now);
        last = now;
    }
    return m;
}

void CellShapes::add_integrals(const double* fields, size_t count, const CellMoments& m, Point about,
                               double* to) const {
    const Point arm = det_ * (at_ - about), u = det_ * u_, v = det_ * v_;
    add_fields(fields, count, m, {arm.x, u.x, v.x, arm.y, u.y, v.y, det_}, to);
}

CellField CellShapes::field(const std::array<double, 4>& f) const {
    if (triangle_) return {f[0], f[1] - f[0], f[2] - f[0], 0, 0, 0};
    // by 1, ξ, η and ξη, and then ξ and η by p, q and ξη
    const double one = (f[0] + f[1] + f[2] + f[3]) / 4, xi = (-f[0] + f[1] + f[2] - f[3]) / 4,
                 eta = (-f[0] - f[1] + f[2] + f[3]) / 4,
                 product = (f[0] - f[1] + f[2] - f[3]) / 4 - tp_ * xi - tq_ * eta;
    CellField out{one, xi, eta, 0, 0, 0};
    for (size_t k = 0; k < out.size(); ++k) out[k] += product * product_[k];
    return out;
}

std::vector<CellShapes> shapes_of_cells(const Mesh& mesh) {
    std::vector<CellShapes> out(mesh.elements.size());
    tbb::parallel_for(size_t(0), out.size(), [&](size_t e) { out[e] = CellShapes(mesh, int(e)); });
    return out;
}

}  // namespace mossbed
