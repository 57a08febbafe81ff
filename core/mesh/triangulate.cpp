#include "core/mesh/triangulate.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include <algorithm>
#include <map>

namespace mossbed {
namespace {
using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Vertex = CGAL::Triangulation_vertex_base_with_info_2<int, Kernel>;
using Constrained = CGAL::Constrained_triangulation_face_base_2<Kernel>;
using Face = CGAL::Triangulation_face_base_with_info_2<int, Kernel, Constrained>;  // the number of its region
using Data = CGAL::Triangulation_data_structure_2<Vertex, Face>;
using Delaunay = CGAL::Constrained_Delaunay_triangulation_2<Kernel, Data, CGAL::Exact_predicates_tag>;

std::array<Point, 3> corners_of(Delaunay::Face_handle f) {
    std::array<Point, 3> p;
    for (int k = 0; k < 3; ++k) p[size_t(k)] = {f->vertex(k)->point().x(), f->vertex(k)->point().y()};
    return p;
}
double area(Delaunay::Face_handle f) {
    const auto p = corners_of(f);
    return cross(p[1] - p[0], p[2] - p[0]) / 2;
}
Point middle_of(Delaunay::Face_handle f) {
    const auto p = corners_of(f);
    return (1.0 / 3) * (p[0] + p[1] + p[2]);
}

// Numbers regions of faces that no constraint parts from each other; 0 is what reaches far away. Gives how many.
int number_regions(const Delaunay& d) {
    constexpr int none = -1;
    for (auto f = d.all_faces_begin(); f != d.all_faces_end(); ++f) f->info() = none;
    int n = 0;
    std::vector<Delaunay::Face_handle> next;
    auto flood = [&](Delaunay::Face_handle from) {
        from->info() = n;
        next = {from};
        while (!next.empty()) {
            const auto f = next.back();
            next.pop_back();
            for (int k = 0; k < 3; ++k)
                if (const auto beside = f->neighbor(k); !f->is_constrained(k) && beside->info() == none)
                    beside->info() = n, next.push_back(beside);
        }
        ++n;
    };
    flood(d.infinite_face());
    for (auto f = d.finite_faces_begin(); f != d.finite_faces_end(); ++f)
        if (f->info() == none) flood(f);
    return n;
}

}  // namespace

Triangulation triangulate(const std::vector<Point>& points, const std::vector<FeatureEdge>& edges,
                          const std::function<bool(Point)>& keep, const Progress& progress) {
    Delaunay d;
    std::vector<Delaunay::Vertex_handle> handle(points.size());
    Delaunay::Face_handle hint;
    for (size_t i = 0; i < points.size(); ++i) {
        if (i % 4096 == 0) progress.end_if_stopped();
        handle[i] = d.insert({points[i].x, points[i].y}, hint);
        handle[i]->info() = int(i);
        hint = handle[i]->face();
    }
    progress.end_if_stopped();
    const size_t before = d.number_of_vertices();
    for (const FeatureEdge& e : edges)
        if (handle[e.a] != handle[e.b]) d.insert_constraint(handle[e.a], handle[e.b]);
    progress.end_if_stopped();
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
    // One verdict for a region, at the middle of its largest face: slivers that rounding leaves along a straight rim
    // have theirs on either side of it.
    const int n_regions = number_regions(d);
    std::vector<Delaunay::Face_handle> largest(size_t(n_regions), nullptr);
    for (auto f = d.finite_faces_begin(); f != d.finite_faces_end(); ++f)
        if (auto& most = largest[size_t(f->info())]; most == nullptr || area(f) > area(most)) most = f;
    std::vector<char> kept(size_t(n_regions), 0);
    for (size_t k = 1; k < kept.size(); ++k) kept[k] = largest[k] != nullptr && keep(middle_of(largest[k]));
    for (auto f = d.finite_faces_begin(); f != d.finite_faces_end(); ++f) {
        if (!kept[size_t(f->info())]) continue;
        const auto p = corners_of(f);
        const double longest = std::max({distance(p[0], p[1]), distance(p[1], p[2]), distance(p[2], p[0])});
        if (2 * area(f) < 1e-7 * longest * longest) continue;  // on one line but for rounding
        out.triangles.push_back({f->vertex(0)->info(), f->vertex(1)->info(), f->vertex(2)->info()});
    }
    return out;
}

}  // namespace mossbed
