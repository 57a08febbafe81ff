#include "core/mesh/smooth.h"

#include <utility>

#include "core/mesh/elements_round.h"
#include "core/mesh/pair_triangles.h"

namespace mossbed {
namespace {

double shape(const Mesh& m, int element) {
    const Element& e = m.elements[element];
    const Point a = m.nodes[e[0]], b = m.nodes[e[1]], c = m.nodes[e[2]];
    if (e[3] >= 0) return quad_shape(a, b, c, m.nodes[e[3]]);
    // 1 for an equilateral triangle: area over the sum of the squared sides
    return 2 * std::sqrt(3.0) * cross(b - a, c - a) / (dot(b - a, b - a) + dot(c - b, c - b) + dot(a - c, a - c));
}

}  // namespace

void smooth(Mesh& mesh, const std::vector<char>& fixed, int passes, const Progress& progress) {
    const ElementsRound round(mesh);
    std::vector<double> shapes;
    for (int e = 0; e < int(mesh.elements.size()); ++e) shapes.push_back(shape(mesh, e));
    std::vector<char> open(mesh.nodes.size(), 1);  // something round it moved since it was looked at
    for (int pass = 0; pass < passes; ++pass)
        for (size_t i = 0; i < mesh.nodes.size(); ++i) {
            if (i % 1024 == 0) progress.end_if_stopped();
            const auto here = round.of(int(i));
            if (fixed[i] || here.empty() || !std::exchange(open[i], 0)) continue;
            double worst = 1;
            for (auto [e, corner] : here) worst = std::min(worst, shapes[size_t(e)]);
            if (worst > 0.93) continue;  // good cells are left alone
            Point sum;
            double weight = 0;
            for (auto [e, corner] : here) {
                const CellOutline p = mesh.polygon(e);
                const double a = std::abs(signed_area(p));
                sum = sum + a * centroid(p);
                weight += a;
            }
            if (weight <= 0) continue;
            const Point old = mesh.nodes[i], middle = (1 / weight) * sum;
            for (double step : {1.0, 0.4}) {
                mesh.nodes[i] = old + step * (middle - old);
                double now = 1;
                for (auto [e, corner] : here) now = std::min(now, shape(mesh, e));
                if (now > worst + 1e-9) {
                    for (auto [e, corner] : here) {
                        shapes[size_t(e)] = shape(mesh, e);
                        for (int k = 0; k < corners(mesh.elements[e]); ++k) open[size_t(mesh.elements[e][k])] = 1;
                    }
                    break;
                }
                mesh.nodes[i] = old;
            }
        }
}

}  // namespace mossbed
