#include <CGAL/Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include "core/judge/checks.h"

namespace mossbed {

std::vector<std::pair<int, int>> neighbouring_columns(const Model& model) {
    using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
    using Base = CGAL::Triangulation_vertex_base_with_info_2<int, Kernel>;
    using Delaunay = CGAL::Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<Base>>;
    Delaunay d;
    for (size_t i = 0; i < model.columns.size(); ++i)
        d.insert({model.columns[i].at.x, model.columns[i].at.y})->info() = int(i);
    const Polygon rim = outer_rim(model.slab.outline, 0.25);
    const auto hole = inner_rim(model.slab.outline, 0.25);
    std::vector<std::pair<int, int>> out;
    for (auto e = d.finite_edges_begin(); e != d.finite_edges_end(); ++e) {
        const int i = e->first->vertex((e->second + 1) % 3)->info(), j = e->first->vertex((e->second + 2) % 3)->info();
        const Point p = model.columns[i].at, q = model.columns[j].at;
        bool stays = true;  // on the slab: a small opening between two columns does not part them
        for (int k = 1; k < 40 && stays; ++k) {
            const Point m = p + (k / 40.0) * (q - p);
            stays = (contains(rim, m) || distance_to_rim(rim, m) < 1e-6) && !(hole && contains(*hole, m));
        }
        if (stays) out.push_back(std::minmax(i, j));
    }
    std::sort(out.begin(), out.end());
    return out;
}

}  // namespace mossbed
