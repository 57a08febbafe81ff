#include "core/mesh/node_shares.h"

#include "core/mesh/shape_integrals.h"

namespace mossbed {

NodeShares node_shares(const Mesh& mesh) {
    NodeShares s;
    s.area.assign(mesh.nodes.size(), 0.0);
    s.offset.assign(mesh.nodes.size(), {});
    for (int e = 0; e < int(mesh.elements.size()); ++e)
        integrate_shapes(mesh, e, [&](Point q, double w, const ShapeValues& N) {
            for (int k = 0; k < corners(mesh.elements[e]); ++k) {
                const int i = mesh.elements[e][k];
                s.area[i] += w * N[k], s.offset[i] = s.offset[i] + (w * N[k]) * (q - mesh.nodes[i]);
            }
        });
    for (size_t i = 0; i < s.area.size(); ++i) s.offset[i] = (1 / (2 * s.area[i])) * s.offset[i];
    return s;
}

std::array<std::array<Point, 4>, 4> nearest_to_corners(const Mesh& mesh, int element) {
    const CellOutline cell = mesh.polygon(element);
    const size_t c = cell.size();
    Point middle;
    for (Point p : cell) middle = middle + (1.0 / double(c)) * p;
    std::array<std::array<Point, 4>, 4> out;
    for (size_t k = 0, before = c - 1; k < c; before = k++) {
        const size_t next = k + 1 < c ? k + 1 : 0;
        out[k] = {cell[k], 0.5 * (cell[k] + cell[next]), middle, 0.5 * (cell[k] + cell[before])};
    }
    return out;
}

}  // namespace mossbed
