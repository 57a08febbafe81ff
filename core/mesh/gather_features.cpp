#include <algorithm>
#include <map>
#include <numbers>
#include <tuple>

#include "core/mesh/features.h"

namespace mossbed {

double Features::size_at(Point p) const {
    double s = size;
    sources_by_place_.over({p, p}, [&](int i) {
        const SizeSource& f = sources[size_t(i)];
        s = std::min(s, f.size + size_growth * std::max(0.0, distance(p, f.at) - f.reach));
    });
    return s;
}

void Features::sort_sources() {
    // Of sources at one place that reach equally far only the finest counts.
    std::sort(sources.begin(), sources.end(), [](const SizeSource& a, const SizeSource& b) {
        return std::tie(a.at.x, a.at.y, a.reach, a.size) < std::tie(b.at.x, b.at.y, b.reach, b.size);
    });
    sources.erase(
        std::unique(sources.begin(), sources.end(),
                    [](const SizeSource& a, const SizeSource& b) { return a.at == b.at && a.reach == b.reach; }),
        sources.end());
    std::vector<Box> boxes;
    for (const SizeSource& f : sources)  // as far as it matters
        boxes.push_back(f.size < size ? Box{f.at, f.at}.grown(f.reach + (size - f.size) / size_growth) : Box{});
    sources_by_place_ = BoxBins(boxes);
}

bool Features::inside(Point p) const {
    if (!contains(rim, p)) return false;
    return !openings_by_place.any_over({p, p}, [&](int o) { return contains(openings[size_t(o)], p); });
}

void Features::sort_openings() { openings_by_place = BoxBins(boxes_of(openings)); }

namespace {

struct Segment {
    Point a, b;
    LineOwner owner;
};

void add_ring(std::vector<Segment>& to, const Polygon& p, LineOwner owner) {
    for (size_t i = 0; i < p.size(); ++i) to.push_back({p[i], p[(i + 1) % p.size()], owner});
}

BoxBins by_place(const std::vector<Segment>& segments, double reach) {
    std::vector<Box> boxes;
    boxes.reserve(segments.size());
    for (const Segment& s : segments) boxes.push_back(box_of({s.a, s.b}).grown(reach));
    return BoxBins(boxes);
}

// The direction, in degrees from −45 to 45, that most of the rim runs along or across.
double main_direction(const Polygon& rim) {
    if (rim.size() > 12) {  // a round rim has none
        double longest = 0, sum = 0;
        for (size_t i = 0; i < rim.size(); ++i) {
            const double l = distance(rim[i], rim[(i + 1) % rim.size()]);
            longest = std::max(longest, l);
            sum += l;
        }
        if (longest < 0.15 * sum) return 0;
    }
    std::map<long, std::pair<double, double>> votes;  // direction in hundredths of a degree → (length, exact)
    for (size_t i = 0; i < rim.size(); ++i) {
        const Point d = rim[(i + 1) % rim.size()] - rim[i];
        double t = std::atan2(d.y, d.x) * 180 / std::numbers::pi;
        t -= 90 * std::round(t / 90);
        auto& v = votes[std::lround(t * 100)];
        v.first += length(d);
        v.second = t;
    }
    double best = 0, direction = 0;
    for (auto& [key, v] : votes)
        if (v.first > best + 1e-9) best = v.first, direction = v.second;
    return direction;
}

double gap(const Polygon& p, const std::vector<Segment>& others) {
    double d = 1e300;
    for (const Segment& s : others) {
        for (Point q : p) d = std::min(d, distance_to_segment(q, s.a, s.b));
        for (size_t i = 0; i < p.size(); ++i) {
            d = std::min(d, distance_to_segment(s.a, p[i], p[(i + 1) % p.size()]));
            if (segment_crossing(p[i], p[(i + 1) % p.size()], s.a, s.b)) return 0;
        }
    }
    return d;
}

// Splits segments where they meet, merges points closer than `tolerance`, keeps each edge once.
class Arrangement {
  public:
    explicit Arrangement(double tolerance) : tolerance_(tolerance) {}

    int point(Point p) {
        const long cx = cell(p.x), cy = cell(p.y);
        for (long y = cy - 1; y <= cy + 1; ++y)
            for (long x = cx - 1; x <= cx + 1; ++x)
                if (auto it = cells_.find({x, y}); it != cells_.end())
                    for (int i : it->second)
                        if (distance(points[i], p) <= tolerance_) return i;
        points.push_back(p);
        cells_[{cx, cy}].push_back(int(points.size()) - 1);
        return int(points.size()) - 1;
    }

    std::vector<FeatureEdge> split(const std::vector<Segment>& segments, const std::vector<Point>& also) {
        struct Piece {
            int a, b;
            LineOwner owner;
            Box box;
            std::vector<int> on;
        };
        std::vector<Piece> pieces;
        for (const Segment& s : segments) {
            Piece p{point(s.a), point(s.b), s.owner, {}, {}};
            if (p.a == p.b) continue;
            p.box = box_of({points[p.a], points[p.b]}).grown(tolerance_);
            pieces.push_back(std::move(p));
        }
        for (Point q : also) point(q);
        std::vector<Box> boxes;
        boxes.reserve(pieces.size());
        for (const Piece& p : pieces) boxes.push_back(p.box);
        const BoxBins pieces_by_place(std::move(boxes));
        for (size_t i = 0; i < pieces.size(); ++i)
            for (int j : pieces_by_place.over(pieces[i].box)) {
                if (size_t(j) <= i) continue;
                Piece &p = pieces[i], &q = pieces[size_t(j)];
                const Point u = points[p.b] - points[p.a], v = points[q.b] - points[q.a];
                if (std::abs(cross(u, v)) <= 1e-9 * length(u) * length(v)) continue;  // parallel: end points do it
                if (auto at = segment_crossing(points[p.a], points[p.b], points[q.a], points[q.b])) {
                    const int k = point(*at);
                    p.on.push_back(k), q.on.push_back(k);
                }
            }
        boxes.clear();
        for (Point q : points) boxes.push_back({q, q});
        const BoxBins points_by_place(std::move(boxes));
        for (Piece& p : pieces)
            for (int k : points_by_place.over(p.box)) {
                const Point q = points[k];
                if (k != p.a && k != p.b && distance_to_segment(q, points[p.a], points[p.b]) <= tolerance_)
                    p.on.push_back(k);
            }
        std::vector<FeatureEdge> edges;
        std::map<std::pair<int, int>, size_t> seen;
        for (Piece& p : pieces) {
            const Point a = points[p.a], d = points[p.b] - a;
            p.on.push_back(p.a), p.on.push_back(p.b);
            std::sort(p.on.begin(), p.on.end(),
                      [&](int i, int j) { return dot(points[i] - a, d) < dot(points[j] - a, d); });
            p.on.erase(std::unique(p.on.begin(), p.on.end()), p.on.end());
            for (size_t k = 0; k + 1 < p.on.size(); ++k) {
                const auto [it, is_new] = seen.insert({std::minmax(p.on[k], p.on[k + 1]), edges.size()});
                if (is_new) edges.push_back({p.on[k], p.on[k + 1], {}});
                auto& owners = edges[it->second].owners;
                if (std::find(owners.begin(), owners.end(), p.owner) == owners.end()) owners.push_back(p.owner);
            }
        }
        return edges;
    }

    std::vector<Point> points;

  private:
    long cell(double x) const { return std::lround(std::floor(x / (4 * tolerance_))); }
    double tolerance_;
    std::map<std::pair<long, long>, std::vector<int>> cells_;
};

Polygon meshed_rim(const Column& c, double cell, ColumnGrid& grid) {
    if (c.round()) {
        const int n = std::max(8, 4 * int(std::ceil(std::numbers::pi * c.size[0] / cell / 4 - 1e-9)));
        grid.cells_x = grid.cells_y = n;
        return round_polygon(c.at, c.size[0] / 2, n, c.angle);
    }
    const auto even = [&](double side) { return std::max(2, 2 * int(std::ceil(side / cell / 2 - 1e-9))); };
    grid.cells_x = even(c.size[0]), grid.cells_y = even(c.size[1]);
    return footprint(c);
}

// The axes of ribs and walls.
std::vector<Segment> axes_of(const Model& model) {
    std::vector<Segment> axes;
    auto add = [&](const auto& members, LineOwner::Kind kind) {
        for (int i = 0; i < int(members.size()); ++i) {
            const std::vector<Point>& path = members[size_t(i)].path;
            for (size_t k = 0; k + 1 < path.size(); ++k) axes.push_back({path[k], path[k + 1], {kind, i}});
        }
    };
    add(model.ribs, LineOwner::Kind::rib), add(model.walls, LineOwner::Kind::wall);
    return axes;
}

// Rims, openings and patches as lines of the mesh, with what they belong to.
std::vector<Segment> lines_of(const Model& model, const Features& f, bool has_hole, double tolerance) {
    using Kind = LineOwner::Kind;
    std::vector<Segment> lines;
    add_ring(lines, f.rim, {Kind::rim, 0});
    for (int i = 0; i < int(f.openings.size()); ++i)
        add_ring(lines, f.openings[size_t(i)],
                 has_hole ? (i == 0 ? LineOwner{Kind::rim, 1} : LineOwner{Kind::opening, i - 1})
                          : LineOwner{Kind::opening, i});
    auto add_patches = [&](const auto& patches, Kind kind) {
        for (int i = 0; i < int(patches.size()); ++i)
            add_ring(lines, without_repeats(patches[size_t(i)].outline, tolerance), {kind, i});
    };
    add_patches(model.slab.patches, Kind::patch);
    if (model.ground.model == GroundModel::patches)
        add_patches(model.ground.patches, Kind::ground_patch);  // a cell, a modulus
    return lines;
}

bool is_axis(const Segment& s) { return s.owner.kind == LineOwner::Kind::rib || s.owner.kind == LineOwner::Kind::wall; }

// Whether a side of a footprint neither crosses a line nor leaves a sliver beside it; one that lies on the line is
// well, and the axis of a rib or wall may cross it.
bool is_clear_of(Point a, Point b, const Segment& s, double cell, double tolerance) {
    if (distance_to_segment(a, s.a, s.b) <= tolerance && distance_to_segment(b, s.a, s.b) <= tolerance) return true;
    if (auto at = segment_crossing(a, b, s.a, s.b); at && !is_axis(s) && distance(*at, a) > tolerance &&
                                                    distance(*at, b) > tolerance && distance(*at, s.a) > tolerance &&
                                                    distance(*at, s.b) > tolerance)
        return false;
    auto sliver = [&](double d) { return d > tolerance && d < 0.4 * cell; };
    return !sliver(distance_to_segment(s.a, a, b)) && !sliver(distance_to_segment(s.b, a, b)) &&
           !sliver(distance_to_segment(a, s.a, s.b)) && !sliver(distance_to_segment(b, s.a, s.b));
}

bool is_clear(const Polygon& rim, const std::vector<Segment>& others, double cell, double tolerance) {
    for (size_t i = 0; i < rim.size(); ++i)
        for (const Segment& s : others)
            if (!is_clear_of(rim[i], rim[(i + 1) % rim.size()], s, cell, tolerance)) return false;
    return true;
}

// Footprints that lie clear of every other line, or share a side with one, are meshed as they are; one that crosses a
// line or leaves a sliver beside it keeps only its centre node.
std::vector<Segment> add_footprints(Features& f, const Model& model, const std::vector<Segment>& lines,
                                    double tolerance) {
    std::vector<Segment> footprints;
    const BoxBins lines_by_place = by_place(lines, 0);
    std::vector<Box> boxes;
    for (const Column& c : model.columns) {
        ColumnGrid unused;
        boxes.push_back(box_of(meshed_rim(c, cell_beside_footprint(c.smaller_size(), f.size), unused)));
    }
    const BoxBins columns_by_place(std::move(boxes));
    for (const Column& c : model.columns) {
        ColumnGrid g;
        const double cell = cell_beside_footprint(c.smaller_size(), f.size);
        g.rim = meshed_rim(c, cell, g);
        const Box reach = box_of(g.rim).grown(cell);
        std::vector<Segment> others;  // those near by
        for (int i : lines_by_place.over(reach)) others.push_back(lines[size_t(i)]);
        for (int i : columns_by_place.over(reach))  // footprints before this one
            if (size_t(i) < f.columns.size() && f.columns[size_t(i)].conforms)
                add_ring(others, f.columns[size_t(i)].rim, {LineOwner::Kind::footprint, i});
        g.conforms = is_clear(g.rim, others, cell, tolerance);
        if (g.conforms) add_ring(footprints, g.rim, {LineOwner::Kind::footprint, int(f.columns.size())});
        const double around = box_of(g.rim).width() / 2 + box_of(g.rim).height() / 2;
        double fine = cell;
        if (!g.conforms) fine = std::min(fine, std::max(gap({c.at}, lines), cell / 2));
        f.sources.push_back({c.at, 0.55 * around, fine});
        f.columns.push_back(g);
    }
    return footprints;
}

// Where two lines pass close to each other, the mesh is finer there.
void refine_between(Features& f, const std::vector<Segment>& lines, double tolerance) {
    const double size = f.size;
    const BoxBins near = by_place(lines, size);
    for (size_t i = 0; i < lines.size(); ++i)
        for (int j : near.over({lines[i].a, lines[i].a})) {
            if (int(i) == j) continue;
            const Point q = lines[i].a, r = lines[size_t(j)].a, t = lines[size_t(j)].b;
            const double d = distance_to_segment(q, r, t);
            if (d <= 10 * tolerance || d >= 0.8 * size) continue;
            const Point n = nearest_on_segment(q, r, t);
            const bool corner = distance(n, r) < tolerance || distance(n, t) < tolerance;
            if (corner && distance(lines[i].a, lines[i].b) > d && f.rim.size() > 40) continue;  // sides of a round rim
            f.sources.push_back({q, 0, std::max(d, size / 10)});
        }
}

// A line that passes a column's centre by a hair would leave a sliver between them.
Point on_a_near_line(Point p, const std::vector<Segment>& lines, double reach) {
    Point nearest = p;
    for (const Segment& s : lines)
        if (const double d = distance_to_segment(p, s.a, s.b); d < reach)
            reach = d, nearest = nearest_on_segment(p, s.a, s.b);
    return nearest;
}

}  // namespace

Features gather_features(const Model& model, double size, bool with_footprints, const Progress& progress) {
    Features f;
    f.size = size;
    const double tolerance = std::min(1e-3, size / 200);
    const double chord = size;
    f.rim = without_repeats(outer_rim(model.slab.outline, chord), tolerance);
    const auto hole = inner_rim(model.slab.outline, chord);
    if (hole) f.openings.push_back(*hole);
    for (const Opening& o : model.slab.openings)
        f.openings.push_back(anticlockwise(without_repeats(o.outline, tolerance)));
    f.sort_openings();
    f.main_direction = main_direction(f.rim);

    std::vector<Segment> lines = lines_of(model, f, hole.has_value(), tolerance), footprints;
    for (const Segment& s : axes_of(model)) lines.push_back(s);
    if (with_footprints)
        footprints = add_footprints(f, model, lines, tolerance);
    else
        f.columns.resize(model.columns.size());
    progress.end_if_stopped();
    refine_between(f, lines, tolerance);
    f.sort_sources();
    progress.end_if_stopped();

    std::vector<Point> centres;
    for (const Column& c : model.columns) centres.push_back(on_a_near_line(c.at, lines, column_node_reach * size));
    lines.insert(lines.end(), footprints.begin(), footprints.end());
    Arrangement all(tolerance);
    std::vector<FeatureEdge> edges = all.split(lines, centres);
    f.points = all.points;
    for (size_t i = 0; i < f.columns.size(); ++i) f.columns[i].centre = all.point(centres[i]);
    for (const FeatureEdge& e : edges) {
        const Point m = 0.5 * (f.points[e.a] + f.points[e.b]);
        const bool keep = f.inside(m) || distance_to_rim(f.rim, m) <= 2 * tolerance ||
                          f.openings_by_place.any_over(Box{m, m}.grown(2 * tolerance), [&](int o) {
                              return distance_to_rim(f.openings[size_t(o)], m) <= 2 * tolerance;
                          });
        if (keep) f.edges.push_back(e);
    }
    return f;
}

}  // namespace mossbed
