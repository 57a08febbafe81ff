#include "core/mesh/mesh.h"

#include <algorithm>
#include <numbers>

namespace mossbed {

double Mesh::area(int element) const { return signed_area(polygon(element)); }

double shape_of(const Mesh& mesh, int element) {
    const CellOutline p = mesh.polygon(element);
    double least = 1e300;
    for (size_t i = 0; i < p.size(); ++i) {
        const Point u = p[(i + 1) % p.size()] - p[i], v = p[(i + p.size() - 1) % p.size()] - p[i];
        least = std::min(least, cross(u, v) / std::max(length(u) * length(v), 1e-300));
    }
    return p.size() == 3 ? least * 2 / std::sqrt(3.0) : least;
}

MeshQuality quality_of(const Mesh& mesh) {
    MeshQuality q;
    q.nodes = int(mesh.nodes.size());
    q.elements = int(mesh.elements.size());
    q.smallest_angle = 180;
    int quads = 0;
    for (int e = 0; e < q.elements; ++e) {
        const CellOutline p = mesh.polygon(e);
        const double shape = shape_of(mesh, e);
        if (shape < q.worst_shape) q.worst_shape = shape, q.worst_cell = e;
        size_t band = 0;
        while (band < q.shape_bounds.size() && shape < q.shape_bounds[band]) ++band;
        ++q.by_shape[band];
        quads += p.size() == 4;
        double longest = 0, shortest = 1e300;
        for (size_t i = 0; i < p.size(); ++i) {
            const Point a = p[i], b = p[(i + 1) % p.size()], c = p[(i + p.size() - 1) % p.size()];
            longest = std::max(longest, distance(a, b));
            shortest = std::min(shortest, distance(a, b));
            const double angle = std::atan2(cross(b - a, c - a), dot(b - a, c - a)) * 180 / std::numbers::pi;
            q.smallest_angle = std::min(q.smallest_angle, angle);
        }
        q.worst_aspect = std::max(q.worst_aspect, longest / shortest);
    }
    q.quad_share = q.elements ? double(quads) / q.elements : 0;
    return q;
}

std::array<double, 4> weights_at(const Mesh& mesh, int element, Point q) {
    const Element& e = mesh.elements[element];
    const Point a = mesh.nodes[e[0]], b = mesh.nodes[e[1]], c = mesh.nodes[e[2]];
    if (e[3] < 0) {
        const double area = cross(b - a, c - a);
        const double wb = cross(q - a, c - a) / area, wc = cross(b - a, q - a) / area;
        return {1 - wb - wc, wb, wc, 0};
    }
    const Point d = mesh.nodes[e[3]];
    // position = m + ξ u + η v + ξη t
    const Point m = 0.25 * (a + b + c + d), u = 0.25 * (b + c - a - d), v = 0.25 * (c + d - a - b),
                t = 0.25 * (a + c - b - d);
    double xi = 0, eta = 0;
    bool found = false;
    for (int pass = 0; pass < 20 && !found; ++pass) {
        const Point r = q - (m + xi * u + eta * v + (xi * eta) * t);
        const Point du = u + eta * t, dv = v + xi * t;
        const double det = cross(du, dv);
        if (det == 0) break;
        const double per = 1 / det, dxi = cross(r, dv) * per, deta = cross(du, r) * per;
        xi = std::clamp(xi + dxi, -3.0, 3.0);
        eta = std::clamp(eta + deta, -3.0, 3.0);
        // What is left is exactly the bilinear term of this step; the next step would be that long.
        found = std::abs(dxi * deta * per) * (std::abs(cross(t, dv)) + std::abs(cross(du, t))) < 1e-15;
    }
    // Outside a skew cell there may be no such place, and the search ends anywhere, in the cell too.
    if (!found) {
        const Point off = q - (m + xi * u + eta * v + (xi * eta) * t);
        if (dot(off, off) > 1e-12 * (dot(u, u) + dot(v, v))) return {1, -2, 4, -2};  // as at ξ = η = 3
    }
    return {(1 - xi) * (1 - eta) / 4, (1 + xi) * (1 - eta) / 4, (1 + xi) * (1 + eta) / 4, (1 - xi) * (1 + eta) / 4};
}

namespace {
std::vector<Box> boxes_of(const Mesh& mesh) {
    std::vector<Box> out(mesh.elements.size());
    for (int e = 0; e < int(mesh.elements.size()); ++e)
        for (Point p : mesh.polygon(e)) out[size_t(e)].add(p);
    return out;
}
}  // namespace

Finder::Finder(const Mesh& mesh) : mesh_(mesh), boxes_(boxes_of(mesh)) {}

Finder::Hit Finder::at(Point p) const {
    Hit best;
    double best_outside = 1e-7;  // how far a weight may be negative
    boxes_.any_over(Box{p, p}.grown(1e-6), [&](int e) {
        const auto w = weights_at(mesh_, e, p);
        double outside = 0;
        for (int k = 0; k < corners(mesh_.elements[e]); ++k) outside = std::max({outside, -w[k], w[k] - 1});
        if (outside < best_outside) {
            best_outside = outside;
            best = {e, w};
        }
        return outside == 0;
    });
    return best;
}

Finder::Hit Finder::nearest(Point p) const {
    if (Hit h = at(p); h.element >= 0) return h;
    Hit best;
    double d = 1e300;
    for (int e = 0; e < int(mesh_.elements.size()); ++e)
        for (int k = 0; k < corners(mesh_.elements[e]); ++k)
            if (const double dk = distance(mesh_.nodes[mesh_.elements[e][k]], p); dk < d) {
                d = dk;
                best.element = e;
                best.weight = {};
                best.weight[k] = 1;
            }
    return best;
}

}  // namespace mossbed
