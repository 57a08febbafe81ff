#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>
#include <numeric>
#include <span>

#include "core/base/bucket_sort.h"
#include "core/base/problem.h"
#include "core/mesh/features.h"
#include "core/mesh/mesh.h"
#include "core/mesh/pair_triangles.h"
#include "core/mesh/refine_slivers.h"
#include "core/mesh/seed_points.h"
#include "core/mesh/smooth.h"

namespace mossbed {
namespace {

// The last of some outlines that a point lies in, −1 where there is none: the later one wins.
class LastOver {
  public:
    explicit LastOver(std::vector<Polygon> outlines) : outlines_(std::move(outlines)), bins_(boxes_of(outlines_)) {}
    int at(Point p) const {
        int last = -1;
        bins_.over({p, p}, [&](int i) {
            if (i > last && contains(outlines_[size_t(i)], p)) last = i;
        });
        return last;
    }

  private:
    std::vector<Polygon> outlines_;
    BoxBins bins_;
};

template <class Patches>
LastOver last_of(const Patches& patches) {
    std::vector<Polygon> outlines;
    for (const auto& p : patches) outlines.push_back(p.outline);
    return LastOver(std::move(outlines));
}

void find_regions(Mesh& mesh, const Model& model, const Features& f) {
    mesh.patch.assign(mesh.elements.size(), -1);
    mesh.footprint.assign(mesh.elements.size(), -1);
    mesh.ground_patch.assign(mesh.elements.size(), -1);
    const bool on_patches = model.ground.model == GroundModel::patches;
    const LastOver patches = last_of(model.slab.patches), ground = last_of(model.ground.patches);
    std::vector<Polygon> rims;
    for (const ColumnGrid& g : f.columns) rims.push_back(g.conforms ? g.rim : Polygon{});
    const LastOver columns(std::move(rims));
    tbb::parallel_for(size_t(0), mesh.elements.size(), [&](size_t e) {
        const Point c = centroid(mesh.polygon(int(e)));
        mesh.patch[e] = patches.at(c);
        if (on_patches) mesh.ground_patch[e] = ground.at(c);
        mesh.footprint[e] = columns.at(c);
    });
}

// Drops points that no element uses and numbers the rest along the lattice, which keeps the factor's fill low. Gives
// the new numbers, −1 for those dropped.
std::vector<int> renumber(Mesh& mesh, std::vector<char>& fixed) {
    std::vector<int> id(mesh.nodes.size(), -1);
    std::vector<Point> nodes;
    std::vector<char> new_fixed;
    for (Element& e : mesh.elements)
        for (int k = 0; k < corners(e); ++k) {
            if (id[e[k]] < 0) {
                id[e[k]] = int(nodes.size());
                nodes.push_back(mesh.nodes[e[k]]);
                new_fixed.push_back(fixed[e[k]]);
            }
            e[k] = id[e[k]];
        }
    for (int& n : mesh.column_node) n = n >= 0 ? id[n] : -1;
    mesh.nodes = std::move(nodes);
    fixed = std::move(new_fixed);
    return id;
}

// The sides of elements as they run round them: from each node to which.
class Sides {
  public:
    explicit Sides(const Mesh& mesh) {
        all_.reserve(4 * mesh.elements.size());
        for (const Element& e : mesh.elements)
            for (int k = 0, n = corners(e); k < n; ++k) all_.push_back({e[k], e[(k + 1) % n]});
        start_ = sort_in_buckets(all_, mesh.nodes.size(), [](const Side& s) { return s.first; });
    }
    using Side = std::pair<int, int>;
    std::span<const Side> from(int a) const {
        return {all_.data() + start_[size_t(a)], start_[size_t(a) + 1] - start_[size_t(a)]};
    }
    bool runs(int a, int b) const {
        return std::any_of(from(a).begin(), from(a).end(), [b](const Side& s) { return s.second == b; });
    }

  private:
    std::vector<Side> all_;
    std::vector<size_t> start_;
};

// The sides of elements that lie on lines of the model.
void find_lines(Mesh& mesh, const Sides& sides, const std::vector<FeatureEdge>& edges, const std::vector<int>& number) {
    for (const FeatureEdge& e : edges) {
        const int a = number[size_t(e.a)], b = number[size_t(e.b)];
        if (a >= 0 && b >= 0 && (sides.runs(a, b) || sides.runs(b, a)))
            for (LineOwner o : e.owners) mesh.lines.push_back({a, b, o});
    }
}

void find_rims(Mesh& mesh, const Sides& sides) {
    std::multimap<int, int> next;  // boundary edges keep the slab on their left
    for (int a = 0; a < int(mesh.nodes.size()); ++a)
        for (auto [from, to] : sides.from(a))
            if (!sides.runs(to, from)) next.insert({from, to});
    while (!next.empty()) {
        std::vector<int> chain;
        int at = next.begin()->first;
        for (auto it = next.find(at); it != next.end(); it = next.find(at)) {
            chain.push_back(at);
            at = it->second;
            next.erase(it);
        }
        mesh.rims.push_back(std::move(chain));
    }
    std::stable_sort(mesh.rims.begin(), mesh.rims.end(), [&](auto& a, auto& b) {
        auto area = [&](const std::vector<int>& c) {
            Polygon p;
            for (int i : c) p.push_back(mesh.nodes[i]);
            return signed_area(p);
        };
        return area(a) > area(b);
    });
}

void check(const Mesh& mesh, const Model& model) {
    if (mesh.elements.empty())
        throw Trouble({"no cell fits into the slab",
                       "the mesh",
                       "use a smaller mesh size or check the outline",
                       Severity::error,
                       {}});
    for (int e = 0; e < int(mesh.elements.size()); ++e) {
        const CellOutline p = mesh.polygon(e);
        for (size_t i = 0; i < p.size(); ++i) {
            const Point a = p[i], b = p[(i + 1) % p.size()], c = p[(i + p.size() - 1) % p.size()];
            if (cross(b - a, c - a) > 1e-9 * length(b - a) * length(c - a)) continue;
            std::string near = "the rim";
            double d = 1e300;
            auto nearer = [&](double dd, std::string name) {
                if (dd < d) d = dd, near = std::move(name);
            };
            for (const Opening& o : model.slab.openings) nearer(distance_to_rim(o.outline, a), "opening " + o.id);
            for (const SlabPatch& t : model.slab.patches) nearer(distance_to_rim(t.outline, a), "patch " + t.id);
            for (const Column& k : model.columns) nearer(distance(k.at, a), "column " + k.id);
            auto nearest_of = [&](const std::string& name, const std::vector<Point>& path) {
                for (size_t s = 0; s + 1 < path.size(); ++s) nearer(distance_to_segment(a, path[s], path[s + 1]), name);
            };
            for (const Rib& r : model.ribs) nearest_of("rib " + r.id, r.path);
            for (const Wall& w : model.walls) nearest_of("wall " + w.id, w.path);
            throw Trouble({fmt::format("lines lie too close to each other at ({:.3f}, {:.3f}), near {}, to be meshed",
                                       a.x, a.y, near),
                           "the mesh", "let them coincide or move them apart by a hand's breadth", Severity::error, a});
        }
    }
}

// Openings that cut the slab through leave parts that nothing joins.
void check_is_whole(const Mesh& mesh, const Model& model) {
    std::vector<int> group(mesh.nodes.size());
    std::iota(group.begin(), group.end(), 0);
    auto root = [&](int i) {
        while (group[size_t(i)] != i) i = group[size_t(i)] = group[size_t(group[size_t(i)])];
        return i;
    };
    for (const Element& e : mesh.elements)
        for (int k = 1; k < corners(e); ++k) group[size_t(root(e[size_t(k)]))] = root(e[0]);
    for (size_t i = 0; i < mesh.nodes.size(); ++i) {
        if (root(int(i)) == root(0)) continue;
        std::string near = "an opening";
        double d = 1e300;
        for (const Opening& o : model.slab.openings)
            if (const double to = distance_to_rim(o.outline, mesh.nodes[i]); to < d) d = to, near = "opening " + o.id;
        throw Trouble({fmt::format("{} cuts the slab into parts that nothing joins", near), near,
                       "leave a strip of slab beside it, or make a model of each part", Severity::error,
                       mesh.nodes[i]});
    }
}

}  // namespace

Mesh build_mesh(const Model& model, double size, const Progress& progress, bool footprints) {
    Mesh mesh;
    mesh.size = size > 0 ? size : model.mesh_size;
    const Features f = gather_features(model, mesh.size, footprints, progress);
    progress.end_if_stopped();
    Seeds seeds = seed_points(f, model, progress);
    progress.end_if_stopped();
    constexpr double sliver = 0.3;  // of shape_of
    Triangulation t = refine_slivers(
        seeds, [&](Point c) { return f.inside(c); }, mesh.size, sliver, progress);
    mesh.nodes = std::move(seeds.points);
    mesh.nodes.insert(mesh.nodes.end(), t.added.begin(), t.added.end());
    seeds.fixed.resize(mesh.nodes.size(), 1);
    mesh.column_node = seeds.column_point;
    progress.end_if_stopped();
    mesh.elements = pair_triangles(mesh.nodes, t.triangles, seeds.edges);
    progress.end_if_stopped();
    std::vector<char> fixed = seeds.fixed;
    for (int c : mesh.column_node) fixed[c] = 1;
    const std::vector<int> number = renumber(mesh, fixed);
    const Sides sides(mesh);
    progress.end_if_stopped();
    find_lines(mesh, sides, seeds.edges, number);
    smooth(mesh, fixed, 5, progress);
    progress.end_if_stopped();
    check(mesh, model);
    check_is_whole(mesh, model);
    progress.end_if_stopped();
    find_regions(mesh, model, f);
    find_rims(mesh, sides);
    return mesh;
}

}  // namespace mossbed
