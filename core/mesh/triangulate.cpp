#include "core/mesh/triangulate.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include <map>

namespace mossbed {
namespace {
using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Vertex = CGAL::Triangulation_vertex_base_with_info_2<int, Kernel>;
using Face = CGAL::Constrained_triangulation_face_base_2<Kernel>;
using Data = CGAL::Triangulation_data_structure_2<Vertex, Face>;
using Delaunay = CGAL::Constrained_Delaunay_triangulation_2<Kernel, Data, CGAL::Exact_predicates_tag>;
}  // namespace

Triangulation triangulate(const std::vector<Point>& points, const std::vector<FeatureEdge>& edges,
                          const std::function<bool(Point)>& keep) {
    Delaunay d;
    std::vector<Delaunay::Vertex_handle> handle(points.size());
    Delaunay::Face_handle hint;
    for (size_t i = 0; i < points.size(); ++i) {
        handle[i] = d.insert({points[i].x, points[i].y}, hint);
        handle[i]->info() = int(i);
        hint = handle[i]->face();
    }
    const size_t before = d.number_of_vertices();
    for (const FeatureEdge& e : edges)
        if (handle[e.a] != handle[e.b]) d.insert_constraint(handle[e.a], handle[e.b]);
    Triangulation out;
    if (d.number_of_vertices() != before) {  // constraints met away from a given point: number what was added
        std::map<Delaunay::Vertex_handle, int> given;
        for (auto h : handle) given[h] = h->info();
        for (auto v = d.finite_vertices_begin(); v != d.finite_vertices_end(); ++v)
            if (!given.count(v)) {
                v->info() = int(points.size() + out.added.size());
                out.added.push_back({v->point().x(), v->point().y()});
            }
    }
    for (auto f = d.finite_faces_begin(); f != d.finite_faces_end(); ++f) {
        std::array<int, 3> t;
        Point c;
        std::array<Point, 3> p;
        for (int k = 0; k < 3; ++k) {
            t[k] = f->vertex(k)->info();
            p[k] = {f->vertex(k)->point().x(), f->vertex(k)->point().y()};
            c = c + (1.0 / 3) * p[k];
        }
        const double longest = std::max({distance(p[0], p[1]), distance(p[1], p[2]), distance(p[2], p[0])});
        if (cross(p[1] - p[0], p[2] - p[0]) < 1e-7 * longest * longest) continue;  // hull slivers along straight rims
        if (keep(c)) out.triangles.push_back(t);
    }
    return out;
}

}  // namespace mossbed
