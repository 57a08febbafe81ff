#include "core/ground/contact_patches.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>

#include "core/base/point_bins.h"

namespace mossbed {
namespace {

// Area, centroid and second moments over area of quadrilaterals together.
struct Moments {
    double area = 0, x = 0, y = 0, xx = 0, xy = 0, yy = 0;  // first and second about the origin given
    std::array<double, 3> spread() const {                  // about the centroid, over area
        const double u = x / area, v = y / area;
        return {xx / area - u * u, xy / area - u * v, yy / area - v * v};
    }
    void add(const std::array<Point, 4>& q, Point about) {
        integrate(q, [&](Point p, double w) {
            const Point d = p - about;
            area += w, x += w * d.x, y += w * d.y, xx += w * d.x * d.x, xy += w * d.x * d.y, yy += w * d.y * d.y;
        });
    }
};

using Piece = std::array<Point, 4>;

// The parts of elements that make up the share of each node, and how a pressure on a share goes to nodes: ∫ N over it.
struct Shares {
    std::vector<std::vector<Piece>> pieces;
    std::vector<std::vector<std::pair<int, double>>> spread;
};
Shares shares_of_nodes(const Mesh& mesh) {
    struct Corner {
        Piece piece;
        std::array<double, 4> to{};
    };
    std::vector<std::array<Corner, 4>> of(mesh.elements.size());
    tbb::parallel_for(0, int(mesh.elements.size()), [&](int number) {
        const Element& e = mesh.elements[size_t(number)];
        const int c = corners(e);
        for (int k = 0; k < c; ++k) {
            Corner& corner = of[size_t(number)][size_t(k)];
            corner.piece = nearest_to_corner(mesh, number, k);
            integrate(corner.piece, [&](Point q, double w) {
                const auto N = weights_at(mesh, number, q);
                for (int m = 0; m < c; ++m) corner.to[size_t(m)] += w * N[size_t(m)];
            });
        }
    });
    Shares out{std::vector<std::vector<Piece>>(mesh.nodes.size()),
               std::vector<std::vector<std::pair<int, double>>>(mesh.nodes.size())};
    for (size_t number = 0; number < of.size(); ++number) {
        const Element& e = mesh.elements[number];
        for (int k = 0; k < corners(e); ++k) {
            const Corner& corner = of[number][size_t(k)];
            out.pieces[size_t(e[k])].push_back(corner.piece);
            for (int m = 0; m < corners(e); ++m) out.spread[size_t(e[k])].push_back({e[m], corner.to[size_t(m)]});
        }
    }
    return out;
}

// Whether a node lies within `reach` of a rim, an opening or a column.
std::vector<char> near_features(const Mesh& mesh, double reach) {
    std::vector<char> near(mesh.nodes.size(), reach > 0 ? 0 : 1);
    if (!(reach > 0)) return near;
    PointBins features(reach);
    for (const auto& rim : mesh.rims)
        for (int i : rim) features.add(i, mesh.nodes[size_t(i)]);
    for (int i : mesh.column_node)
        if (i >= 0) features.add(i, mesh.nodes[size_t(i)]);
    for (size_t i = 0; i < mesh.nodes.size(); ++i)
        near[i] = features.any_near(mesh.nodes[i], [&](int k) {
            const Point d = mesh.nodes[size_t(k)] - mesh.nodes[i];
            return dot(d, d) <= reach * reach;
        });
    return near;
}

// Nodes in one square cell share a patch. Returns the number of patches.
int gather_in_cells(const Mesh& mesh, const NodeShares& shares, const PatchSizes& sizes, std::vector<int>& of_node) {
    const int n = int(mesh.nodes.size());
    Box box;
    for (Point p : mesh.nodes) box.add(p);
    double area = 0;
    for (double a : shares.area) area += a;
    // A whole number of cells of the mesh, so that every patch has as many nodes as the next.
    const double several = mesh.size > 0 ? std::floor(sizes.side / mesh.size + 1e-9) : 0;
    double side = several >= 2 ? several * mesh.size : 0, fine = 0;
    const std::vector<char> near = near_features(mesh, side > 0 ? sizes.reach : 0);
    for (;;) {
        int count = 0;
        std::map<std::array<long, 3>, int> cell;
        for (int i = 0; i < n; ++i) {
            const bool is_near = near[size_t(i)] != 0;
            const double s = is_near ? fine : side;
            if (s == 0) {
                of_node[size_t(i)] = count++;
                continue;
            }
            const Point p = mesh.nodes[size_t(i)] - box.low;
            const double shift = 0.5 * std::min(1.0, mesh.size / s);  // borders between nodes of a lattice
            const auto [at, is_new] = cell.try_emplace(
                {long(is_near), long(std::floor(p.x / s + shift)), long(std::floor(p.y / s + shift))}, count);
            if (is_new) ++count;
            of_node[size_t(i)] = at->second;
        }
        if (count <= sizes.most) return count;
        fine = fine == 0 ? std::sqrt(area / sizes.most) : 1.05 * fine;
        side = std::max(side, fine);
    }
}

// The rim of pieces that lie side by side: edges that two of them share run both ways and cancel.
std::vector<std::pair<Point, Point>> rim_of(const std::vector<Piece>& pieces) {
    auto less = [](Point a, Point b) { return a.x != b.x ? a.x < b.x : a.y < b.y; };
    auto order = [&](const std::pair<Point, Point>& s, const std::pair<Point, Point>& t) {
        return s.first == t.first ? less(s.second, t.second) : less(s.first, t.first);
    };
    std::map<std::pair<Point, Point>, int, decltype(order)> left(order);
    for (const Piece& q : pieces)
        for (int k = 0; k < 4; ++k) {
            const Point a = q[size_t(k)], b = q[size_t(k + 1) % 4];
            const auto back = left.find({b, a});
            if (back == left.end())
                ++left[{a, b}];
            else if (--back->second == 0)
                left.erase(back);
        }
    std::vector<std::pair<Point, Point>> out;
    for (const auto& [edge, times] : left)
        for (int k = 0; k < times; ++k) out.push_back(edge);
    return out;
}

// Rings of edges that follow each other, without the corners that take next to nothing from the area: on a lattice the
// middles of sides, which are straight.
std::vector<std::pair<Point, Point>> thinned(const std::vector<std::pair<Point, Point>>& edges, double area) {
    auto less = [](Point a, Point b) { return a.x != b.x ? a.x < b.x : a.y < b.y; };
    std::multimap<Point, Point, decltype(less)> next(less);
    for (const auto& [a, b] : edges) next.insert({a, b});
    std::vector<std::pair<Point, Point>> out;
    while (!next.empty()) {
        Polygon ring;
        Point end;
        for (auto it = next.begin(); it != next.end(); it = next.find(end)) {
            ring.push_back(it->first);
            end = it->second;
            next.erase(it);
        }
        while (ring.size() > 3) {
            auto taken = [&](size_t k) {
                const size_t n = ring.size();
                const Point a = ring[(k + n - 1) % n], b = ring[k], c = ring[(k + 1) % n];
                return std::abs(cross(b - a, c - a)) / 2;
            };
            size_t least = 0;
            for (size_t k = 1; k < ring.size(); ++k)
                if (taken(k) < taken(least)) least = k;
            if (taken(least) > 0.01 * area) break;
            ring.erase(ring.begin() + long(least));
        }
        for (size_t k = 0; k < ring.size(); ++k) out.push_back({ring[k], ring[(k + 1) % ring.size()]});
    }
    return out;
}

// For each patch of several nodes those that share a cell with it, in ascending order.
std::vector<std::vector<int>> patches_beside(const Mesh& mesh, const ContactPatches& patches) {
    std::vector<std::vector<int>> out(patches.nodes.size());
    for (const Element& e : mesh.elements)
        for (int k = 0; k < corners(e); ++k)
            for (int l = 0; l < corners(e); ++l) {
                const int p = patches.of_node[size_t(e[size_t(k)])], q = patches.of_node[size_t(e[size_t(l)])];
                if (p != q && patches.nodes[size_t(p)].size() > 1) out[size_t(p)].push_back(q);
            }
    for (auto& of : out) {
        std::sort(of.begin(), of.end());
        of.erase(std::unique(of.begin(), of.end()), of.end());
    }
    return out;
}

}  // namespace

ContactPatches make_contact_patches(const Mesh& mesh, const NodeShares& shares, const PatchSizes& sizes) {
    const int n = int(mesh.nodes.size());
    const Shares share = shares_of_nodes(mesh);
    ContactPatches out;
    out.of_node.resize(mesh.nodes.size());
    const int patches = gather_in_cells(mesh, shares, sizes, out.of_node);
    out.node_offset.resize(mesh.nodes.size());
    out.spread_to.resize(size_t(patches));
    out.nodes.resize(size_t(patches)), out.pieces.resize(size_t(patches)), out.edges.resize(size_t(patches));
    out.shares.resize(size_t(patches));
    out.area.assign(size_t(patches), 0);
    for (int i = 0; i < n; ++i) {
        const size_t p = size_t(out.of_node[i]);
        Moments m;
        for (const Piece& q : share.pieces[size_t(i)]) m.add(q, mesh.nodes[i]), out.pieces[p].push_back(q);
        out.node_offset[i] = {m.x / m.area, m.y / m.area};
        out.shares[p].push_back({mesh.nodes[i] + out.node_offset[i], m.area, m.spread()});
        out.nodes[p].push_back({i, shares.area[i]});
        out.area[p] += shares.area[i];
    }
    out.polygon_area.resize(size_t(patches)), out.outline_area.resize(size_t(patches));
    out.centre.resize(size_t(patches)), out.spread.resize(size_t(patches)), out.size2.resize(size_t(patches));
    tbb::parallel_for(size_t(0), out.nodes.size(), [&](size_t p) {
        for (auto& [node, w] : out.nodes[p]) w /= out.area[p];
        std::map<int, double> to;
        double sum = 0;
        for (auto [node, w] : out.nodes[p])
            for (auto [i, part] : share.spread[size_t(node)]) to[i] += part, sum += part;
        for (auto [i, part] : to) out.spread_to[p].push_back({i, part / sum});
        const Point about = mesh.nodes[out.nodes[p][0].first];
        Moments m;
        for (const Piece& q : out.pieces[p]) m.add(q, about);
        out.polygon_area[p] = m.area;
        out.centre[p] = about + Point{m.x / m.area, m.y / m.area};
        out.spread[p] = m.spread();
        out.size2[p] = 6 * (out.spread[p][0] + out.spread[p][2]);
        out.edges[p] = thinned(rim_of(out.pieces[p]), m.area);
        for (const auto& [a, b] : out.edges[p]) out.outline_area[p] += cross(a - about, b - about) / 2;
    });
    out.beside = patches_beside(mesh, out);
    return out;
}

std::vector<double> pressures_of_nodes(const ContactPatches& patches, const Mesh& mesh,
                                       const std::vector<double>& per_patch) {
    std::vector<double> out(patches.of_node.size());
    for (size_t p = 0; p < per_patch.size(); ++p) {
        const double own = per_patch[p];
        double xx = 0, xy = 0, yy = 0, xv = 0, yv = 0, least = own, most = own;
        for (int q : patches.beside[p]) {
            const Point d = patches.centre[size_t(q)] - patches.centre[p];
            const double v = per_patch[size_t(q)] - own, w = 1 / dot(d, d);
            xx += w * d.x * d.x, xy += w * d.x * d.y, yy += w * d.y * d.y, xv += w * d.x * v, yv += w * d.y * v;
            least = std::min(least, own + v), most = std::max(most, own + v);
        }
        const double det = xx * yy - xy * xy;
        const Point slope =
            det > 1e-9 * xx * yy ? Point{(yy * xv - xy * yv) / det, (xx * yv - xy * xv) / det} : Point{};
        // At the middle of a node's share, less the mean, which on a mesh that is not a lattice is not quite nought.
        double mean = 0;
        auto rise = [&](int node) {
            return dot(slope, mesh.nodes[size_t(node)] + patches.node_offset[size_t(node)] - patches.centre[p]) - mean;
        };
        double sum = 0;
        for (auto [node, share] : patches.nodes[p]) sum += share * rise(node);
        mean = sum;
        double kept = 1;
        for (auto [node, share] : patches.nodes[p]) {
            const double r = rise(node), room = r > 0 ? most - own : own - least;
            if (std::abs(r) > room) kept = std::min(kept, room / std::abs(r));
        }
        for (auto [node, share] : patches.nodes[p]) out[size_t(node)] = own + kept * rise(node);
    }
    return out;
}

}  // namespace mossbed
