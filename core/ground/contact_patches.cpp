#include "core/ground/contact_patches.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <map>
#include <numeric>

#include "core/base/point_bins.h"
#include "core/base/polygons.h"
#include "core/mesh/elements_round.h"
#include "core/mesh/shape_integrals.h"

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

// The parts of elements that make up the share of each node, and how a pressure on a part goes to the element's nodes:
// ∫ N over it.
class Shares {
  public:
    struct Part {
        Piece piece;
        std::array<double, 4> to{};
        // Nodes at the corners after and before, and whether the sides to them lie on a rim.
        int after = 0, before = 0;
        bool rim_after = false, rim_before = false;
    };
    explicit Shares(const Mesh& mesh) : mesh_(mesh), of_(mesh.elements.size()), round_(mesh) {
        tbb::parallel_for(0, int(mesh.elements.size()), [&](int number) {
            const Element& e = mesh.elements[size_t(number)];
            const size_t c = size_t(corners(e));
            const auto pieces = nearest_to_corners(mesh, number);
            for (size_t k = 0; k < c; ++k) {
                Part& part = of_[size_t(number)][k];
                part.piece = pieces[k];
                part.after = e[(k + 1) % c], part.before = e[(k + c - 1) % c];
                part.rim_after = !has_side(part.after, e[k]), part.rim_before = !has_side(e[k], part.before);
                integrate_shapes_near(mesh, number, part.piece, k, [&](Point, double w, const ShapeValues& N) {
                    for (size_t m = 0; m < c; ++m) part.to[m] += w * N[m];
                });
            }
        });
    }
    template <class F>
    void each(int node, F of) const {  // part, element
        for (auto [number, corner] : round_.of(node))
            of(of_[size_t(number)][size_t(corner)], mesh_.elements[size_t(number)]);
    }

  private:
    bool has_side(int from, int to) const {
        for (auto [number, corner] : round_.of(from)) {
            const Element& e = mesh_.elements[size_t(number)];
            if (e[size_t(corner + 1) % size_t(corners(e))] == to) return true;
        }
        return false;
    }
    const Mesh& mesh_;
    std::vector<std::array<Part, 4>> of_;  // per element, by its corners
    ElementsRound round_;
};

// Whose patch a node may share. Far from rims: with others in a square cell. Near one, but not on it, pressure changes
// fast across it and slowly along it: with another as far from it, beside it. Else with none.
struct Sharing {
    bool is_near = false;
    long pair = -1, row = 0;  // of nodes on a rim; how far from it
};

// Nodes of rims in pairs side by side, from corner to corner counted from both ends, so that what is symmetric stays
// so. Those within `reach` of a corner, and what is left over in the middle, are single.
struct RimNode {
    int node;
    long pair = -1;
    double spacing = 0;  // m, of the pair
};
std::vector<RimNode> pair_rims(const Mesh& mesh, double reach) {
    std::vector<RimNode> out;
    for (const std::vector<int>& chain : mesh.rims) {
        const size_t n = chain.size();
        auto at = [&](size_t k) { return mesh.nodes[size_t(chain[k % n])]; };
        std::vector<size_t> corners;
        for (size_t k = 0; k < n; ++k) {
            const Point u = at(k) - at(k + n - 1), v = at(k + 1) - at(k);
            if (dot(u, v) < 0.866 * length(u) * length(v)) corners.push_back(k);  // by 30 degrees and more
        }
        const bool is_round = corners.empty();
        if (is_round) corners.push_back(0);
        for (size_t c = 0; c < corners.size(); ++c) {
            const size_t first = corners[c], last = c + 1 < corners.size() ? corners[c + 1] : corners[0] + n;
            size_t from = first, to = last;  // between them nodes go in pairs
            if (!is_round) {
                while (from < to && distance(at(from), at(first)) <= reach) ++from;
                while (to > from && distance(at(to), at(last)) <= reach) --to;
                to += to > from;
            }
            const size_t half = (to - from) / 2;
            const size_t begin = out.size();
            for (size_t k = first; k < last; ++k) out.push_back({chain[k % n]});
            for (size_t k = 0; k + 1 < half; k += 2)
                for (size_t one : {from + k, to - 2 - k}) {
                    RimNode &a = out[begin + one - first], &b = out[begin + one + 1 - first];
                    a.pair = b.pair = a.node;
                    a.spacing = b.spacing = distance(at(one), at(one + 1));
                }
        }
    }
    return out;
}

std::vector<Sharing> find_sharing(const Mesh& mesh, const PatchSizes& sizes) {
    std::vector<Sharing> out(mesh.nodes.size());
    const double reach2 = sizes.reach * sizes.reach;
    const std::vector<RimNode> rim = pair_rims(mesh, sizes.reach);
    const double cell = std::max(sizes.reach, mesh.size);
    PointBins rims(cell), columns(cell);
    for (size_t k = 0; k < rim.size(); ++k) rims.add(int(k), mesh.nodes[size_t(rim[k].node)]);
    for (size_t c = 0; c < sizes.fine_at_column.size(); ++c)
        if (const int node = mesh.column_node[c]; node >= 0 && sizes.fine_at_column[c])
            columns.add(node, mesh.nodes[size_t(node)]);
    tbb::parallel_for(size_t(0), out.size(), [&](size_t i) {
        auto away = [&](int node) {
            const Point d = mesh.nodes[size_t(node)] - mesh.nodes[i];
            return dot(d, d);
        };
        Sharing& s = out[i];
        s.is_near = columns.any_near(mesh.nodes[i], [&](int node) { return away(node) <= reach2; });
        if (s.is_near) return;
        int nearest = -1;
        double least = reach2;
        rims.any_near(mesh.nodes[i], [&](int k) {
            const double d = away(rim[size_t(k)].node);
            if (d < least || (d == least && (nearest < 0 || k < nearest))) nearest = k, least = d;
            return false;
        });
        if (nearest < 0) return;
        s.is_near = true;
        const RimNode& on_rim = rim[size_t(nearest)];
        if (on_rim.pair < 0) return;
        s.row = std::lround(std::sqrt(least) / (0.5 * on_rim.spacing));
        if (s.row > 0) s.pair = on_rim.pair;  // on the rim itself pressure peaks, and yields
    });
    return out;
}

// Gives each node its patch, and returns how many there are.
int gather_nodes(const Mesh& mesh, const NodeShares& shares, const PatchSizes& sizes, std::vector<int>& of_node) {
    const int n = int(mesh.nodes.size());
    Box box;
    for (Point p : mesh.nodes) box.add(p);
    double area = 0;
    for (double a : shares.area) area += a;
    // A whole number of cells of the mesh, so that every patch has as many nodes as the next.
    const double several = mesh.size > 0 ? std::floor(sizes.side / mesh.size + 1e-9) : 0;
    double side = several >= 2 ? several * mesh.size : 0, fine = 0;
    const std::vector<Sharing> sharing =
        side > 0 ? find_sharing(mesh, sizes) : std::vector<Sharing>(size_t(n), Sharing{.is_near = true});
    for (;;) {
        int count = 0;
        std::map<std::array<long, 3>, int> shared;
        for (int i = 0; i < n; ++i) {
            const Sharing& by = sharing[size_t(i)];
            const double s = by.is_near ? fine : side;
            std::array<long, 3> place{2, by.pair, by.row};
            if (s > 0) {
                const Point p = mesh.nodes[size_t(i)] - box.low;
                const double shift = 0.5 * std::min(1.0, mesh.size / s);  // borders between nodes of a lattice
                place = {long(by.is_near), long(std::floor(p.x / s + shift)), long(std::floor(p.y / s + shift))};
            } else if (by.pair < 0) {
                of_node[size_t(i)] = count++;
                continue;
            }
            const auto [at, is_new] = shared.try_emplace(place, count);
            if (is_new) ++count;
            of_node[size_t(i)] = at->second;
        }
        if (count <= sizes.most) return count;
        fine = fine == 0 ? std::sqrt(area / sizes.most) : 1.05 * fine;
        side = std::max(side, fine);
    }
}

using Edge = std::pair<Point, Point>;

bool is_before(Point a, Point b) { return a.x != b.x ? a.x < b.x : a.y < b.y; }
bool begins_before(const Edge& s, const Edge& t) {
    return s.first == t.first ? is_before(s.second, t.second) : is_before(s.first, t.first);
}

// Rings of edges (in order) that follow each other, without the corners that take next to nothing from the area: on a
// lattice the middles of sides, which are straight.
std::vector<Edge> thinned(const std::vector<Edge>& edges, double area) {
    std::vector<char> used(edges.size(), 0);
    auto next_from = [&](Point p) {
        auto it = std::lower_bound(edges.begin(), edges.end(), p,
                                   [](const Edge& e, Point q) { return is_before(e.first, q); });
        while (it != edges.end() && it->first == p && used[size_t(it - edges.begin())]) ++it;
        return it != edges.end() && it->first == p ? it : edges.end();
    };
    std::vector<Edge> out;
    for (size_t i = 0; i < edges.size(); ++i) {
        if (used[i]) continue;
        Polygon ring;
        for (auto it = edges.begin() + long(i); it != edges.end(); it = next_from(it->second)) {
            ring.push_back(it->first);
            used[size_t(it - edges.begin())] = 1;
        }
        ring = without_small_corners(std::move(ring), 0.01 * area);
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

ContactPatches make_contact_patches(const Mesh& mesh, const NodeShares& shares, const PatchSizes& sizes,
                                    const Progress& progress) {
    const Shares share(mesh);
    progress.end_if_stopped();
    ContactPatches out;
    out.of_node.resize(mesh.nodes.size());
    const size_t patches = size_t(gather_nodes(mesh, shares, sizes, out.of_node));
    out.node_offset.resize(mesh.nodes.size());
    for (auto* of : {&out.nodes, &out.spread_to}) of->resize(patches);
    for (auto* of : {&out.area, &out.polygon_area, &out.outline_area, &out.size2}) of->assign(patches, 0);
    out.pieces.resize(patches), out.edges.resize(patches), out.shares.resize(patches);
    out.centre.resize(patches), out.spread.resize(patches);
    for (int i = 0; i < int(mesh.nodes.size()); ++i)
        out.nodes[size_t(out.of_node[size_t(i)])].push_back({i, shares.area[size_t(i)]});
    progress.end_if_stopped();
    tbb::parallel_for(size_t(0), patches, [&](size_t p) {
        progress.end_if_stopped();
        const Point about = mesh.nodes[size_t(out.nodes[p][0].first)];
        Moments all;
        std::vector<std::pair<int, double>> to;
        std::vector<Edge> rim;
        auto is_own = [&](int node) { return out.of_node[size_t(node)] == int(p); };
        for (const auto& [node, area] : out.nodes[p]) {
            const Point at = mesh.nodes[size_t(node)];
            Moments m;
            share.each(node, [&](const Shares::Part& part, const Element& e) {
                m.add(part.piece, at);
                if (out.nodes[p].size() > 1) all.add(part.piece, about);
                out.pieces[p].push_back(part.piece);
                const Piece& q = part.piece;  // corner, middle of the side after it, middle of all, of the side before
                if (part.rim_after) rim.push_back({q[0], q[1]});
                if (!is_own(part.after)) rim.push_back({q[1], q[2]});
                if (!is_own(part.before)) rim.push_back({q[2], q[3]});
                if (part.rim_before) rim.push_back({q[3], q[0]});
                for (int k = 0; k < corners(e); ++k) to.push_back({e[size_t(k)], part.to[size_t(k)]});
            });
            out.node_offset[size_t(node)] = {m.x / m.area, m.y / m.area};
            out.shares[p].push_back({at + out.node_offset[size_t(node)], m.area, m.spread()});
            out.area[p] += area;
            if (out.nodes[p].size() == 1) all = m;
        }
        for (auto& [node, w] : out.nodes[p]) w /= out.area[p];
        double sum = 0;
        for (const auto& [node, part] : to) sum += part;
        std::stable_sort(to.begin(), to.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        for (const auto& [node, part] : to) {
            if (out.spread_to[p].empty() || out.spread_to[p].back().first != node)
                out.spread_to[p].push_back({node, 0});
            out.spread_to[p].back().second += part / sum;
        }
        out.polygon_area[p] = all.area;
        out.centre[p] = about + Point{all.x / all.area, all.y / all.area};
        out.spread[p] = all.spread();
        out.size2[p] = 6 * (out.spread[p][0] + out.spread[p][2]);
        std::sort(rim.begin(), rim.end(), begins_before);
        out.edges[p] = thinned(rim, all.area);
        for (const auto& [a, b] : out.edges[p]) out.outline_area[p] += cross(a - about, b - about) / 2;
    });
    progress.end_if_stopped();
    out.beside = patches_beside(mesh, out);
    return out;
}

std::vector<int> same_patches(const ContactPatches& patches, const ContactPatches& others) {
    std::vector<int> sorted(others.centre.size());
    std::iota(sorted.begin(), sorted.end(), 0);
    auto at = [&](int k) { return others.centre[size_t(k)]; };
    std::sort(sorted.begin(), sorted.end(), [&](int a, int b) { return is_before(at(a), at(b)); });
    std::vector<int> out(patches.centre.size(), -1);
    for (size_t i = 0; i < out.size(); ++i) {
        const auto found = std::lower_bound(sorted.begin(), sorted.end(), patches.centre[i],
                                            [&](int k, Point p) { return is_before(at(k), p); });
        if (found == sorted.end()) continue;
        const auto k = size_t(*found);
        if (patches.centre[i] == others.centre[k] && patches.pieces[i] == others.pieces[k] &&
            patches.shares[i] == others.shares[k] && patches.edges[i] == others.edges[k] &&
            patches.spread[i] == others.spread[k] && patches.size2[i] == others.size2[k] &&
            patches.outline_area[i] == others.outline_area[k])
            out[i] = *found;
    }
    return out;
}

PatchPlanes::PatchPlanes(const ContactPatches& patches, const Mesh& mesh) : nodes_of_patches_(patches.of_node.size()) {
    for (size_t p = 0; p < patches.centre.size(); ++p) {
        Patch of{besides_.size(), 0, nodes_.size(), 0};
        // Least squares with weights 1/d².
        double xx = 0, xy = 0, yy = 0;
        for (int q : patches.beside[p]) {
            const Point d = patches.centre[size_t(q)] - patches.centre[p], way = (1 / dot(d, d)) * d;
            xx += way.x * d.x, xy += way.x * d.y, yy += way.y * d.y;
            besides_.push_back({q, way});
        }
        of.besides_end = besides_.size();
        const double det = xx * yy - xy * xy;
        for (size_t k = of.besides; k < of.besides_end; ++k) {
            const Point way = besides_[k].slope;
            besides_[k].slope = det > 1e-9 * xx * yy
                                    ? Point{(yy * way.x - xy * way.y) / det, (xx * way.y - xy * way.x) / det}
                                    : Point{};
        }
        // At the middle of a node's share, less the mean, which on a mesh that is not a lattice is not quite nought.
        Point mean;
        for (const auto& [node, share] : patches.nodes[p]) {
            const Point at = mesh.nodes[size_t(node)] + patches.node_offset[size_t(node)] - patches.centre[p];
            nodes_.push_back({node, at});
            mean = mean + share * at;
        }
        of.nodes_end = nodes_.size();
        for (size_t k = of.nodes; k < of.nodes_end; ++k) nodes_[k].at = nodes_[k].at - mean;
        patches_.push_back(of);
    }
}

std::vector<double> PatchPlanes::of_nodes(const std::vector<double>& per_patch) const {
    std::vector<double> out(nodes_of_patches_);
    for (size_t p = 0; p < patches_.size(); ++p) {
        const Patch& of = patches_[p];
        const double own = per_patch[p];
        double least = own, most = own;
        Point slope;
        for (size_t k = of.besides; k < of.besides_end; ++k) {
            const double there = per_patch[size_t(besides_[k].patch)];
            slope = slope + (there - own) * besides_[k].slope;
            least = std::min(least, there), most = std::max(most, there);
        }
        double kept = 1;
        for (size_t k = of.nodes; k < of.nodes_end; ++k) {
            const double r = dot(slope, nodes_[k].at), room = r > 0 ? most - own : own - least;
            if (std::abs(r) > room) kept = std::min(kept, room / std::abs(r));
        }
        for (size_t k = of.nodes; k < of.nodes_end; ++k)
            out[size_t(nodes_[k].node)] = std::clamp(own + kept * dot(slope, nodes_[k].at), least, most);  // rounding
    }
    return out;
}

}  // namespace mossbed
