#include "drawing/map_shapes.h"

#include <bit>
#include <cstdint>
#include <unordered_map>

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

std::vector<Vertex> corners_of(const Mesh& mesh, const FieldMap& map, size_t e) {
    std::vector<Vertex> c;
    c.reserve(4);
    for (int k = 0; k < corners(mesh.elements[e]); ++k)
        c.push_back({mesh.nodes[size_t(mesh.elements[e][size_t(k)])], map.corner[e][size_t(k)]});
    return c;
}

template <class F>
void triangles(const std::vector<Vertex>& c, F each) {
    if (c.size() == 3) return each(c);
    const Vertex m{0.25 * (c[0].at + c[1].at + c[2].at + c[3].at), (c[0].v + c[1].v + c[2].v + c[3].v) / 4};
    for (size_t k = 0; k < 4; ++k) each(std::vector<Vertex>{c[k], c[(k + 1) % 4], m});
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
        for (size_t i = 0; i < piece.size(); ++i) {
            const Point a = piece[i].at, b = piece[(i + 1) % piece.size()].at;
            if (a == b) continue;
            if (auto back = edges_.find({b, a}); back != edges_.end()) {
                if (--back->second == 0) edges_.erase(back);
            } else {
                ++edges_[{a, b}];
            }
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

std::vector<BandArea> band_areas(const Mesh& mesh, const FieldMap& map, const Bands& bands) {
    std::vector<Patchwork> work(size_t(std::max(1, bands.n)));
    const double step = bands.step();
    auto band_of = [&](double v) { return std::clamp(int(std::floor((v - bands.low) / step)), 0, bands.n - 1); };
    std::vector<Vertex> part;
    for (size_t e = 0; e < mesh.elements.size(); ++e) {
        const std::vector<Vertex> c = corners_of(mesh, map, e);
        int low = bands.n, high = -1;
        for (const Vertex& v : c) low = std::min(low, band_of(v.v)), high = std::max(high, band_of(v.v));
        if (low == high) {
            work[size_t(low)].add(c);
            continue;
        }
        triangles(c, [&](const std::vector<Vertex>& t) {
            const int first = band_of(std::min({t[0].v, t[1].v, t[2].v})),
                      last = band_of(std::max({t[0].v, t[1].v, t[2].v}));
            for (int b = first; b <= last; ++b) {
                part = t;
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
    for (size_t e = 0; e < mesh.elements.size(); ++e)
        triangles(corners_of(mesh, map, e), [&](const std::vector<Vertex>& t) {
            std::vector<Point> cut;
            for (size_t k = 0; k < 3; ++k) {
                const Vertex &a = t[k], &b = t[(k + 1) % 3];
                if ((a.v < level) != (b.v < level)) cut.push_back(crossing(a, b, level));
            }
            if (cut.size() == 2 && cut[0] != cut[1]) segments.push_back({cut[0], cut[1]});
        });
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
    for (size_t e = 0; e < map.corner.size(); ++e) {
        const std::vector<Vertex> c = corners_of(mesh, map, e);
        const auto in = std::count_if(c.begin(), c.end(), [&](const Vertex& v) { return sign * (v.v - level) >= 0; });
        if (in == 0) continue;
        if (size_t(in) == c.size()) {
            work.add(c);
            continue;
        }
        triangles(c, [&](std::vector<Vertex> t) {
            clip(t, level, sign);
            if (t.size() > 2) work.add(t);
        });
    }
    return rings_of(work.rings());
}

}  // namespace mossbed
