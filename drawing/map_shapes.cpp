#include "drawing/map_shapes.h"

#include <bit>
#include <cstdint>
#include <unordered_map>

#include "core/mesh/elements_round.h"

namespace mossbed {
namespace {

struct Vertex {
    Point at;
    double v;
};

// Where the value passes a level between two vertices: the same bits from either side, so that neighbours share edges.
Point crossing(const Vertex& a, const Vertex& b, double level) {
    const bool turn = b.at.x < a.at.x || (b.at.x == a.at.x && b.at.y < a.at.y);
    const Vertex &p = turn ? b : a, &q = turn ? a : b;
    return p.at + ((level - p.v) / (q.v - p.v)) * (q.at - p.at);
}

// Keeps the part of a polygon with sign·(v − level) ≥ 0.
void clip(std::vector<Vertex>& p, double level, double sign) {
    std::vector<Vertex> out;
    out.reserve(p.size() + 2);
    for (size_t i = 0; i < p.size(); ++i) {
        const Vertex &a = p[i], &b = p[(i + 1) % p.size()];
        const double da = sign * (a.v - level), db = sign * (b.v - level);
        if (da >= 0) out.push_back(a);
        if ((da > 0 && db < 0) || (da < 0 && db > 0)) out.push_back({crossing(a, b, level), level});
    }
    p.swap(out);
}

struct Cell {
    std::array<Vertex, 4> corner;
    size_t n = 0;
    Cell(const Mesh& mesh, const FieldMap& map, size_t e) : n(size_t(corners(mesh.elements[e]))) {
        for (size_t k = 0; k < n; ++k) corner[k] = {mesh.nodes[size_t(mesh.elements[e][k])], map.corner[e][k]};
    }
    const Vertex* begin() const { return corner.data(); }
    const Vertex* end() const { return corner.data() + n; }
    std::pair<double, double> range() const {
        double low = corner[0].v, high = low;
        for (size_t k = 1; k < n; ++k) low = std::min(low, corner[k].v), high = std::max(high, corner[k].v);
        return {low, high};
    }
};

template <class F>
void triangles(const Cell& cell, F each) {
    const auto& c = cell.corner;
    if (cell.n == 3) return each(std::array{c[0], c[1], c[2]});
    const Vertex m{0.25 * (c[0].at + c[1].at + c[2].at + c[3].at), (c[0].v + c[1].v + c[2].v + c[3].v) / 4};
    for (size_t k = 0; k < 4; ++k) each(std::array{c[k], c[(k + 1) % 4], m});
}

struct Bits {
    size_t operator()(const Point& p) const {
        return std::hash<uint64_t>()(std::bit_cast<uint64_t>(p.x + 0.0)) * 0x9E3779B97F4A7C15u ^
               std::hash<uint64_t>()(std::bit_cast<uint64_t>(p.y + 0.0));
    }
};
struct Edge {
    Point from, to;
    bool operator==(const Edge&) const = default;
};
struct EdgeBits {
    size_t operator()(const Edge& e) const { return 31 * Bits()(e.from) + Bits()(e.to); }
};

// Pieces with the area on their left, joined: what two of them share in opposite directions is inside. What stays
// enters and leaves each point equally often, so it always closes to rings.
class Patchwork {
  public:
    void add(const std::vector<Vertex>& piece) {
        for (size_t i = 0; i < piece.size(); ++i) add(piece[i].at, piece[(i + 1) % piece.size()].at);
    }
    void add(Point a, Point b) {  // one side
        if (a == b) return;
        if (auto back = edges_.find({b, a}); back != edges_.end()) {
            if (--back->second == 0) edges_.erase(back);
        } else {
            ++edges_[{a, b}];
        }
    }
    Rings rings() const {
        std::unordered_map<Point, std::vector<Point>, Bits> next;
        for (const auto& [e, times] : edges_)
            for (int k = 0; k < times; ++k) next[e.from].push_back(e.to);
        // in an order that does not hang on the hash
        std::vector<Point> starts;
        for (auto& [p, to] : next) {
            starts.push_back(p);
            std::sort(to.begin(), to.end(), before);
        }
        std::sort(starts.begin(), starts.end(), before);
        Rings out;
        for (Point s : starts)
            while (!next[s].empty()) {
                Polygon ring;
                Point at = s;
                do {
                    ring.push_back(at);
                    std::vector<Point>& ways = next[at];
                    if (ways.empty()) break;
                    at = ways.back();
                    ways.pop_back();
                } while (at != s);
                if (ring.size() > 2) out.push_back(std::move(ring));
            }
        return out;
    }

  private:
    static bool before(Point a, Point b) { return a.x != b.x ? a.x < b.x : a.y < b.y; }
    std::unordered_map<Edge, int, EdgeBits> edges_;
};

// Sides of whole cells that the cell beyond them shares, or not.
class Sides {
  public:
    explicit Sides(const Mesh& mesh) : mesh_(mesh), round_(mesh) {}
    // Adds what parts a cell from those that are not like it: alike(other cell) is asked of its neighbours.
    template <class F>
    void add(size_t e, F alike, Patchwork& to) const {
        const Element& cell = mesh_.elements[e];
        for (int k = 0, n = corners(cell); k < n; ++k) {
            const int a = cell[size_t(k)], b = cell[size_t((k + 1) % n)];
            const auto here = round_.of(a);
            const bool inside = std::any_of(here.begin(), here.end(), [&](const ElementsRound::Corner& o) {
                if (size_t(o.element) == e) return false;
                const Element& other = mesh_.elements[size_t(o.element)];
                return other[size_t((o.corner ? o.corner : corners(other)) - 1)] == b && alike(size_t(o.element));
            });
            if (!inside) to.add(mesh_.nodes[size_t(a)], mesh_.nodes[size_t(b)]);
        }
    }

  private:
    const Mesh& mesh_;
    ElementsRound round_;
};

std::vector<BandArea> band_areas(const Mesh& mesh, const FieldMap& map, const Bands& bands) {
    std::vector<Patchwork> work(size_t(std::max(1, bands.n)));
    const double step = bands.step();
    auto band_of = [&](double v) { return std::clamp(int(std::floor((v - bands.low) / step)), 0, bands.n - 1); };
    constexpr int none = -1;
    std::vector<int> whole_in(mesh.elements.size(), none);  // the band that all of a cell lies in
    for (size_t e = 0; e < mesh.elements.size(); ++e) {
        const auto [low, high] = Cell(mesh, map, e).range();
        if (const int b = band_of(low); b == band_of(high)) whole_in[e] = b;
    }
    const Sides sides(mesh);
    std::vector<Vertex> part;
    for (size_t e = 0; e < mesh.elements.size(); ++e) {
        if (const int b = whole_in[e]; b != none) {
            sides.add(
                e, [&](size_t other) { return whole_in[other] == b; }, work[size_t(b)]);
            continue;
        }
        triangles(Cell(mesh, map, e), [&](const std::array<Vertex, 3>& t) {
            const int first = band_of(std::min({t[0].v, t[1].v, t[2].v})),
                      last = band_of(std::max({t[0].v, t[1].v, t[2].v}));
            for (int b = first; b <= last; ++b) {
                part.assign(t.begin(), t.end());
                if (b > first) clip(part, bands.low + b * step, 1);
                if (b < last) clip(part, bands.low + (b + 1) * step, -1);
                if (part.size() > 2) work[size_t(b)].add(part);
            }
        });
    }
    std::vector<BandArea> out;
    for (int b = 0; b < bands.n; ++b)
        if (Rings r = work[size_t(b)].rings(); !r.empty()) out.push_back({b, rings_of(std::move(r))});
    return out;
}

// Segments joined to chains by their ends.
Rings chains_of(const std::vector<Edge>& segments) {
    std::unordered_map<Point, std::vector<size_t>, Bits> ends;
    for (size_t i = 0; i < segments.size(); ++i) ends[segments[i].from].push_back(i), ends[segments[i].to].push_back(i);
    std::vector<char> used(segments.size(), 0);
    Rings out;
    for (size_t s = 0; s < segments.size(); ++s) {
        if (used[s]) continue;
        used[s] = 1;
        Polygon chain{segments[s].from, segments[s].to};
        for (int side = 0; side < 2; ++side) {
            for (;;) {
                const auto& here = ends[chain.back()];
                const auto next = std::find_if(here.begin(), here.end(), [&](size_t i) { return !used[i]; });
                if (next == here.end()) break;
                used[*next] = 1;
                chain.push_back(segments[*next].from == chain.back() ? segments[*next].to : segments[*next].from);
            }
            std::reverse(chain.begin(), chain.end());
        }
        out.push_back(std::move(chain));
    }
    return out;
}

// The middle of a chain; its slope from a stretch about as long as the number, so that it does not jitter.
Isoline::Spot spot_on(const Polygon& chain) {
    double length = 0, walked = 0;
    for (size_t i = 1; i < chain.size(); ++i) length += distance(chain[i - 1], chain[i]);
    size_t i = 1;
    for (; i + 1 < chain.size(); ++i)
        if ((walked += distance(chain[i - 1], chain[i])) >= length / 2) break;
    const Point run = chain[std::min(chain.size() - 1, i + 6)] - chain[i > 6 ? i - 6 : 0];
    double turn = std::atan2(run.y, run.x) * 180 / M_PI;
    if (turn > 90) turn -= 180;
    if (turn < -90) turn += 180;
    return {chain[i], turn, length};
}

Isoline isoline_at(const Mesh& mesh, const FieldMap& map, double level) {
    std::vector<Edge> segments;
    for (size_t e = 0; e < mesh.elements.size(); ++e) {
        const Cell cell(mesh, map, e);
        if (const auto [low, high] = cell.range(); !(low < level && high >= level)) continue;
        triangles(cell, [&](const std::array<Vertex, 3>& t) {
            std::array<Point, 3> cut;
            size_t n = 0;
            for (size_t k = 0; k < 3; ++k) {
                const Vertex &a = t[k], &b = t[(k + 1) % 3];
                if ((a.v < level) != (b.v < level)) cut[n++] = crossing(a, b, level);
            }
            if (n == 2 && cut[0] != cut[1]) segments.push_back({cut[0], cut[1]});
        });
    }
    Isoline line;
    line.level = level;
    Rings chains = chains_of(segments);
    for (const Polygon& c : chains) line.spots.push_back(spot_on(c));
    line.lines = rings_of(std::move(chains));
    return line;
}

}  // namespace

MapShapes shapes_of(const Mesh& mesh, const FieldMap& map, const Bands& bands, Quantity q) {
    MapShapes out;
    out.bands = bands;
    if (map.corner.empty()) return out;
    out.areas = band_areas(mesh, map, bands);
    const bool both_ends = info(q).scale == Scale::moment ||
                           info(q).scale == Scale::margin;  // what lies beyond them is of the last colour
    for (int b = both_ends ? 0 : 1; b <= bands.n - (both_ends ? 0 : 1); ++b)
        if (Isoline l = isoline_at(mesh, map, bands.low + b * bands.step()); !l.lines->empty())
            out.isolines.push_back(std::move(l));
    return out;
}

std::shared_ptr<const Rings> region(const Mesh& mesh, const FieldMap& map, double level, bool above) {
    Patchwork work;
    const double sign = above ? 1 : -1;
    enum : char { outside, cut, inside };
    std::vector<char> lies(map.corner.size(), outside);
    for (size_t e = 0; e < map.corner.size(); ++e) {
        const Cell c(mesh, map, e);
        const auto in = std::count_if(c.begin(), c.end(), [&](const Vertex& v) { return sign * (v.v - level) >= 0; });
        lies[e] = in == 0 ? outside : size_t(in) == c.n ? inside : cut;
    }
    const Sides sides(mesh);
    std::vector<Vertex> part;
    for (size_t e = 0; e < map.corner.size(); ++e) {
        if (lies[e] == inside)
            sides.add(
                e, [&](size_t other) { return lies[other] == inside; }, work);
        if (lies[e] != cut) continue;
        triangles(Cell(mesh, map, e), [&](const std::array<Vertex, 3>& t) {
            part.assign(t.begin(), t.end());
            clip(part, level, sign);
            if (part.size() > 2) work.add(part);
        });
    }
    return rings_of(work.rings());
}

}  // namespace mossbed
