#include "core/mesh/node_shares.h"

namespace mossbed {

NodeShares node_shares(const Mesh& mesh) {
    NodeShares s;
    s.area.assign(mesh.nodes.size(), 0.0);
    s.offset.assign(mesh.nodes.size(), {});
    for (int e = 0; e < int(mesh.elements.size()); ++e)
        integrate(mesh.polygon(e), [&](Point q, double w) {
            const auto N = weights_at(mesh, e, q);
            for (int k = 0; k < corners(mesh.elements[e]); ++k) {
                const int i = mesh.elements[e][k];
                s.area[i] += w * N[k], s.offset[i] = s.offset[i] + (w * N[k]) * (q - mesh.nodes[i]);
            }
        });
    for (size_t i = 0; i < s.area.size(); ++i) s.offset[i] = (1 / (2 * s.area[i])) * s.offset[i];
    return s;
}

std::array<Point, 4> nearest_to_corner(const Mesh& mesh, int element, int k) {
    const Element& e = mesh.elements[size_t(element)];
    const int c = corners(e);
    Point middle;
    for (int i = 0; i < c; ++i) middle = middle + (1.0 / c) * mesh.nodes[size_t(e[size_t(i)])];
    const Point p = mesh.nodes[size_t(e[size_t(k)])], next = mesh.nodes[size_t(e[size_t((k + 1) % c)])],
                before = mesh.nodes[size_t(e[size_t((k + c - 1) % c)])];
    return {p, 0.5 * (p + next), middle, 0.5 * (p + before)};
}

}  // namespace mossbed
