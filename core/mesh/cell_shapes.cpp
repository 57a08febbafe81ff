#include "core/mesh/cell_shapes.h"

#include <tbb/parallel_for.h>

#include <Eigen/Dense>

namespace mossbed {
namespace {

// ∫ p^i q^j over a polygon up to the third degree, as sums over its sides of the fan from the origin: over a triangle
// (0, P, Q) the integral is cross(P, Q) / (i + j + 2) times the mean of p^i q^j along PQ.
struct Moments {
    double one = 0, p = 0, q = 0, pp = 0, pq = 0, qq = 0, ppp = 0, ppq = 0, pqq = 0, qqq = 0;
    void add_side(Point a, Point b) {
        const double c = cross(a, b);
        one += c / 2;
        p += c / 6 * (a.x + b.x), q += c / 6 * (a.y + b.y);
        const double axx = a.x * a.x, ayy = a.y * a.y, bxx = b.x * b.x, byy = b.y * b.y, abx = a.x * b.x,
                     aby = a.y * b.y;
        pp += c / 12 * (axx + abx + bxx), qq += c / 12 * (ayy + aby + byy);
        pq += c / 24 * (2 * a.x * a.y + a.x * b.y + b.x * a.y + 2 * b.x * b.y);
        ppp += c / 20 * (axx + bxx) * (a.x + b.x), qqq += c / 20 * (ayy + byy) * (a.y + b.y);
        ppq += c / 60 * (a.y * (3 * axx + 2 * abx + bxx) + b.y * (axx + 2 * abx + 3 * bxx));
        pqq += c / 60 * (a.x * (3 * ayy + 2 * aby + byy) + b.x * (ayy + 2 * aby + 3 * byy));
    }
};

std::array<double, 6> monomials(double p, double q) { return {1, p, q, p * p, p * q, q * q}; }

// Least squares over the cell, by three points of Gauss each way.
std::array<double, 6> product_in(double tp, double tq) {
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
    std::array<double, 6> out;
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

PartOfCell CellShapes::over(std::span<const Point> part, Point about) const {
    PartOfCell out;
    if (part.size() < 3) return out;
    const double per = 1 / det_;
    auto to_cell = [&](Point r) { return Point{per * cross(r - at_, v_), per * cross(u_, r - at_)}; };
    Moments m;
    Point last = to_cell(part.back());
    for (const Point r : part) {
        const Point now = to_cell(r);
        m.add_side(last, now);
        last = now;
    }
    // ∫ of a function, and of it times p and q; then m², m³.
    struct Of {
        double f, p, q;
        Of operator+(const Of& o) const { return {f + o.f, p + o.p, q + o.q}; }
        Of operator*(double s) const { return {s * f, s * p, s * q}; }
    };
    auto give = [&](const Of& of, double& whole, Point& moment) {
        whole = det_ * of.f;
        moment = whole * (at_ - about) + (det_ * of.p) * u_ + (det_ * of.q) * v_;
    };
    const Of one{m.one, m.p, m.q}, p{m.p, m.pp, m.pq}, q{m.q, m.pq, m.qq};
    give(one, out.area, out.first);
    if (triangle_) {
        give(one + (p + q) * -1, out.weight[0], out.moment[0]);
        give(p, out.weight[1], out.moment[1]);
        give(q, out.weight[2], out.moment[2]);
        return out;
    }
    const Of product = one * product_[0] + p * product_[1] + q * product_[2] + Of{m.pp, m.ppp, m.ppq} * product_[3] +
                       Of{m.pq, m.ppq, m.pqq} * product_[4] + Of{m.qq, m.pqq, m.qqq} * product_[5];
    const Of xi = p + product * -tp_, eta = q + product * -tq_;
    constexpr std::array<std::array<double, 2>, 4> corner{{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}};
    for (size_t k = 0; k < 4; ++k) {
        const auto [x, y] = corner[k];
        give((one + xi * x + eta * y + product * (x * y)) * 0.25, out.weight[k], out.moment[k]);
    }
    return out;
}

std::vector<CellShapes> shapes_of_cells(const Mesh& mesh) {
    std::vector<CellShapes> out(mesh.elements.size());
    tbb::parallel_for(size_t(0), out.size(), [&](size_t e) { out[e] = CellShapes(mesh, int(e)); });
    return out;
}

}  // namespace mossbed
