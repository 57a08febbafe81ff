#include "core/ground/contact_patches.h"

#include <map>
#include <numeric>

namespace mossbed {
namespace {

// Area, centroid and second moments over area of quadrilaterals together.
struct Moments {
    double area = 0, x = 0, y = 0, xx = 0, xy = 0, yy = 0;  // first and second about the origin given
    void add(const std::array<Point, 4>& q, Point about) {
        integrate(Polygon(q.begin(), q.end()), [&](Point p, double w) {
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
    Shares out{std::vector<std::vector<Piece>>(mesh.nodes.size()),
               std::vector<std::vector<std::pair<int, double>>>(mesh.nodes.size())};
    for (int number = 0; number < int(mesh.elements.size()); ++number) {
        const Element& e = mesh.elements[size_t(number)];
        const int c = corners(e);
        Point middle;
        for (int k = 0; k < c; ++k) middle = middle + (1.0 / c) * mesh.nodes[e[k]];
        for (int k = 0; k < c; ++k) {
            const Point p = mesh.nodes[e[k]], next = mesh.nodes[e[(k + 1) % c]],
                        before = mesh.nodes[e[(k + c - 1) % c]];
            auto& pieces = out.pieces[size_t(e[k])];
            pieces.push_back({p, 0.5 * (p + next), middle, 0.5 * (p + before)});
            std::array<double, 4> to{};
            integrate(Polygon(pieces.back().begin(), pieces.back().end()), [&](Point q, double w) {
                const auto N = weights_at(mesh, number, q);
                for (int m = 0; m < c; ++m) to[size_t(m)] += w * N[size_t(m)];
            });
            for (int m = 0; m < c; ++m) out.spread[size_t(e[k])].push_back({e[m], to[size_t(m)]});
        }
    }
    return out;
}

// Nodes in one square cell share a patch; cells grow until they are few enough. Returns their number.
int gather_in_cells(const Mesh& mesh, const NodeShares& shares, int most, std::vector<int>& of_node) {
    Box box;
    for (Point p : mesh.nodes) box.add(p);
    double area = 0;
    for (double a : shares.area) area += a;
    for (double side = std::sqrt(area / most);; side *= 1.05) {
        std::map<std::pair<long, long>, int> cell;
        for (size_t i = 0; i < mesh.nodes.size(); ++i) {
            const std::pair<long, long> key{std::lround((mesh.nodes[i].x - box.low.x) / side),
                                            std::lround((mesh.nodes[i].y - box.low.y) / side)};
            of_node[i] = cell.try_emplace(key, int(cell.size())).first->second;
        }
        if (int(cell.size()) <= most) return int(cell.size());
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

}  // namespace

ContactPatches make_contact_patches(const Mesh& mesh, const NodeShares& shares, int most) {
    const int n = int(mesh.nodes.size());
    const Shares share = shares_of_nodes(mesh);
    ContactPatches out;
    out.of_node.resize(mesh.nodes.size());
    std::iota(out.of_node.begin(), out.of_node.end(), 0);
    const int patches = n > most ? gather_in_cells(mesh, shares, most, out.of_node) : n;
    out.node_offset.resize(mesh.nodes.size());
    out.spread_to.resize(size_t(patches));
    out.nodes.resize(size_t(patches)), out.pieces.resize(size_t(patches)), out.edges.resize(size_t(patches));
    out.area.assign(size_t(patches), 0);
    for (int i = 0; i < n; ++i) {
        const size_t p = size_t(out.of_node[i]);
        Moments m;
        for (const Piece& q : share.pieces[size_t(i)]) m.add(q, mesh.nodes[i]), out.pieces[p].push_back(q);
        out.node_offset[i] = {m.x / m.area, m.y / m.area};
        out.nodes[p].push_back({i, shares.area[i]});
        out.area[p] += shares.area[i];
    }
    for (size_t p = 0; p < out.nodes.size(); ++p) {
        for (auto& [node, w] : out.nodes[p]) w /= out.area[p];
        std::map<int, double> to;
        double sum = 0;
        for (auto [node, w] : out.nodes[p])
            for (auto [i, part] : share.spread[size_t(node)]) to[i] += part, sum += part;
        for (auto [i, part] : to) out.spread_to[p].push_back({i, part / sum});
        const Point about = mesh.nodes[out.nodes[p][0].first];
        Moments m;
        for (const Piece& q : out.pieces[p]) m.add(q, about);
        const double x = m.x / m.area, y = m.y / m.area;
        out.polygon_area.push_back(m.area);
        out.centre.push_back(about + Point{x, y});
        out.spread.push_back({m.xx / m.area - x * x, m.xy / m.area - x * y, m.yy / m.area - y * y});
        out.size2.push_back(6 * (out.spread.back()[0] + out.spread.back()[2]));
        out.edges[p] = rim_of(out.pieces[p]);
    }
    return out;
}

}  // namespace mossbed
