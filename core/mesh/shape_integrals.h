// Integrals with the shape functions of whole elements and of their quarters. At all points of these but one the shape
// functions are known and need not be looked up in the element.
#pragma once
#include "core/mesh/mesh.h"

namespace mossbed {

using ShapeValues = std::array<double, 4>;

namespace shape_integrals {
// `p`: a polygon within the element, N at its corners; they run evenly along its sides, and in a triangle everywhere.
template <class Corners, class F>
void over(const Mesh& mesh, int element, const Corners& p, const std::array<ShapeValues, 4>& N, F f) {
    auto between = [&](size_t i, size_t j) {
        ShapeValues mean;
        for (size_t k = 0; k < 4; ++k) mean[k] = 0.5 * (N[i][k] + N[j][k]);
        return mean;
    };
    const bool linear = corners(mesh.elements[size_t(element)]) == 3;
    std::array<ShapeValues, 5> at{between(0, 1), between(1, 2), between(2, 0), {}, {}};
    if (!linear) at[2] = weights_at(mesh, element, 0.5 * (p[0] + p[2]));
    if (p.size() == 4) at[3] = between(2, 3), at[4] = between(3, 0);
    auto triangle = [&](size_t b, size_t c, const ShapeValues& ab, const ShapeValues& bc, const ShapeValues& ca) {
        const double w = cross(p[b] - p[0], p[c] - p[0]) / 6;
        if (w == 0) return;
        f(0.5 * (p[0] + p[b]), w, ab), f(0.5 * (p[b] + p[c]), w, bc), f(0.5 * (p[c] + p[0]), w, ca);
    };
    triangle(1, 2, at[0], at[1], at[2]);
    if (p.size() == 4) triangle(2, 3, at[2], at[3], at[4]);
}
}  // namespace shape_integrals

// f(point, weight, N) over an element, at the points and with the weights of `integrate`.
template <class F>
void integrate_shapes(const Mesh& mesh, int element, F f) {
    constexpr std::array<ShapeValues, 4> N{{{1, 0, 0, 0}, {0, 1, 0, 0}, {0, 0, 1, 0}, {0, 0, 0, 1}}};
    shape_integrals::over(mesh, element, mesh.polygon(element), N, f);
}

// The same over the part that is nearest to its corner k (`nearest_to_corners` in node_shares.h).
template <class F>
void integrate_shapes_near(const Mesh& mesh, int element, const std::array<Point, 4>& part, size_t k, F f) {
    const size_t c = size_t(corners(mesh.elements[size_t(element)])), next = (k + 1) % c, before = (k + c - 1) % c;
    std::array<ShapeValues, 4> N{};
    N[0][k] = 1, N[1][k] = N[1][next] = N[3][k] = N[3][before] = 0.5;
    for (size_t i = 0; i < c; ++i) N[2][i] = 1 / double(c);
    shape_integrals::over(mesh, element, part, N, f);
}

}  // namespace mossbed
