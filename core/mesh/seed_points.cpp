#include "core/mesh/seed_points.h"

#include <algorithm>
#include <numbers>
#include <unordered_map>

#include "core/base/point_bins.h"

namespace mossbed {
namespace {

// Lattice coordinates along one axis: through the key coordinates in order of their rank as far as they keep apart,
// and evenly between them, no further apart than about the mesh size.
std::vector<double> lattice_lines(const std::vector<double>& keys_by_rank, double low, double high, double size) {
    std::vector<double> chosen{low, high};
    for (double k : keys_by_rank) {
        if (k < low || k > high) continue;
        const double d = std::abs(*std::min_element(chosen.begin(), chosen.end(), [k](double a, double b) {
            return std::abs(a - k) < std::abs(b - k);
        }) - k);
        if (d >= 0.62 * size) chosen.push_back(k);
    }
    std::sort(chosen.begin(), chosen.end());
    std::vector<double> lines{chosen[0]};
    for (size_t i = 1; i < chosen.size(); ++i) {
        const double gap = chosen[i] - chosen[i - 1];
        const int n = std::max(1, int(std::ceil(gap / size - 0.08)));
        for (int k = 1; k <= n; ++k) lines.push_back(chosen[i - 1] + gap * k / n);
    }
    return lines;
}

// Accepted points and feature edges by place, to keep candidates clear of them.
class Near {
  public:
    explicit Near(double cell) : cell_(cell) {}
    void add(Point p) { cells_[{at(p.x), at(p.y)}].points.push_back(p); }
    void add(Point a, Point b) {
        const Box box = box_of({a, b});
        for (long y = at(box.low.y); y <= at(box.high.y); ++y)
            for (long x = at(box.low.x); x <= at(box.high.x); ++x) cells_[{x, y}].edges.push_back({a, b});
    }
    bool clear(Point p, double from_points, double from_edges) const {
        const double far = std::max(from_points, from_edges);
        for (long y = at(p.y - far); y <= at(p.y + far); ++y)
            for (long x = at(p.x - far); x <= at(p.x + far); ++x) {
                const auto it = cells_.find({x, y});
                if (it == cells_.end()) continue;
                for (Point q : it->second.points)
                    if (distance(p, q) < from_points) return false;
                for (auto& [a, b] : it->second.edges)
                    if (distance_to_segment(p, a, b) < from_edges) return false;
            }
        return true;
    }

  private:
    long at(double v) const { return std::lround(std::floor(v / cell_)); }
    double cell_;
    struct Cell {
        std::vector<Point> points;
        std::vector<std::pair<Point, Point>> edges;
    };
    std::unordered_map<std::pair<long, long>, Cell, PointBins::Hash> cells_;
};

class Seeder {
  public:
    Seeder(const Features& f, const Model& m, const Progress& progress)
        : f_(f), model_(m), progress_(progress), near_(f.size) {
        std::vector<Box> boxes;
        for (const ColumnGrid& g : f.columns) boxes.push_back(g.conforms ? box_of(g.rim) : Box{});
        footprints_by_place_ = BoxBins(boxes);
    }

    Seeds all() {
        lay_lattice();
        divide_edges();
        for (size_t i = 0; i < f_.columns.size(); ++i) seed_column(f_.columns[i], model_.columns[i]);
        for (size_t i = 0; i < f_.columns.size(); ++i) {
            progress_.end_if_stopped();
            ring_column(f_.columns[i], model_.columns[i]);
        }
        seed_lattice();
        return std::move(out_);
    }

  private:
    Point to_frame(Point p) const { return turned(p, -f_.main_direction); }
    Point from_frame(Point p) const { return turned(p, f_.main_direction); }

    void lay_lattice() {
        std::vector<double> kx, ky;
        auto key = [&](Point p) {
            const Point q = to_frame(p);
            kx.push_back(q.x), ky.push_back(q.y);
        };
        Box b;
        for (Point p : f_.rim) b.add(to_frame(p));
        const bool round = f_.rim.size() > 40;
        if (!round)
            for (Point p : f_.rim) key(p);
        for (const Polygon& o : f_.openings)
            if (o.size() <= 12)
                for (Point p : o) key(p);
        for (const Column& c : model_.columns) key(c.at);
        for (const SlabPatch& t : model_.slab.patches)
            for (Point p : t.outline) key(p);
        for (const Rib& r : model_.ribs)
            for (Point p : r.path) key(p);
        for (const Wall& w : model_.walls)
            for (Point p : w.path) key(p);
        if (model_.ground.model == GroundModel::patches)
            for (const GroundPatch& g : model_.ground.patches)
                if (g.outline.size() <= 12)
                    for (Point p : g.outline) key(p);
        xs_ = lattice_lines(kx, b.low.x, b.high.x, f_.size);
        ys_ = lattice_lines(ky, b.low.y, b.high.y, f_.size);
    }

    int place(Point p, bool fixed) {
        out_.points.push_back(p);
        out_.fixed.push_back(fixed);
        near_.add(p);
        return int(out_.points.size()) - 1;
    }

    double footprint_cell(Point middle) const {  // the length of a cell side on a footprint's rim there, 0 elsewhere
        constexpr double on_rim = 2e-3;
        for (int i : footprints_by_place_.over(Box{middle, middle}.grown(on_rim))) {
            const ColumnGrid& g = f_.columns[size_t(i)];
            for (size_t k = 0; k < g.rim.size(); ++k) {
                const Point a = g.rim[k], b = g.rim[(k + 1) % g.rim.size()];
                if (distance_to_segment(middle, a, b) > on_rim) continue;
                if (model_.columns[size_t(i)].round()) return distance(a, b);
                return distance(a, b) / (k % 2 == 0 ? g.cells_x : g.cells_y);
            }
        }
        return 0;
    }

    // Shares along a → b where the edge is to be divided.
    std::vector<double> divisions(Point a, Point b) const {
        const double l = distance(a, b);
        if (const double cell = footprint_cell(0.5 * (a + b)); cell > 0)
            return evenly(0, 1, std::max(1, int(std::lround(l / cell))));
        std::vector<double> stops{0};
        const Point p = to_frame(a), q = to_frame(b);
        const bool along_x = std::abs(p.y - q.y) < 1e-6 * l, along_y = std::abs(p.x - q.x) < 1e-6 * l;
        if (along_x || along_y) {
            const double from = along_x ? p.x : p.y, to = along_x ? q.x : q.y;
            std::vector<double> inner;
            for (double c : along_x ? xs_ : ys_)
                if (const double t = (c - from) / (to - from); t * l > 0.3 * f_.size && (1 - t) * l > 0.3 * f_.size)
                    inner.push_back(t);
            std::sort(inner.begin(), inner.end());
            stops.insert(stops.end(), inner.begin(), inner.end());
        }
        stops.push_back(1);
        std::vector<double> out{0};
        for (size_t i = 0; i + 1 < stops.size(); ++i) graded(a, b, stops[i], stops[i + 1], out);
        return out;
    }
    static std::vector<double> evenly(double t0, double t1, int n) {
        std::vector<double> out;
        for (int k = 0; k <= n; ++k) out.push_back(t0 + (t1 - t0) * k / n);
        return out;
    }
    // Appends stops after t0 up to t1 so that each piece is about the local size long.
    void graded(Point a, Point b, double t0, double t1, std::vector<double>& out) const {
        constexpr int samples = 24;
        std::array<double, samples + 1> sum{};
        const double step = distance(a, b) * (t1 - t0) / samples;
        for (int k = 0; k < samples; ++k) {
            const double t = t0 + (t1 - t0) * (k + 0.5) / samples;
            sum[k + 1] = sum[k] + step / f_.size_at(a + t * (b - a));
        }
        const int n = std::max(1, int(std::ceil(sum[samples] - 0.12)));
        for (int k = 1; k < n; ++k) {
            const double want = sum[samples] * k / n;
            const int i = int(std::upper_bound(sum.begin(), sum.end(), want) - sum.begin()) - 1;
            const double frac = (want - sum[i]) / (sum[i + 1] - sum[i]);
            out.push_back(t0 + (t1 - t0) * (i + frac) / samples);
        }
        out.push_back(t1);
    }

    void divide_edges() {
        std::vector<int> id(f_.points.size(), -1);
        auto corner = [&](int i) { return id[i] >= 0 ? id[i] : id[i] = place(f_.points[i], true); };
        for (const FeatureEdge& e : f_.edges) {
            const Point a = f_.points[e.a], b = f_.points[e.b];
            progress_.end_if_stopped();
            const std::vector<double> stops = divisions(a, b);
            int last = corner(e.a);
            for (size_t k = 1; k < stops.size(); ++k) {
                const int next = k + 1 == stops.size() ? corner(e.b) : place(a + stops[k] * (b - a), true);
                out_.edges.push_back({last, next, e.owners});
                near_.add(out_.points[last], out_.points[next]);
                last = next;
            }
        }
        for (const ColumnGrid& g : f_.columns) out_.column_point.push_back(corner(g.centre));
    }

    void seed_column(const ColumnGrid& g, const Column& c) {
        if (!g.conforms) return;
        // Beside the axis of a rib or wall that crosses the footprint its own points stand.
        auto place_clear = [&](Point p, double spacing) {
            if (near_.clear(p, 0.5 * spacing, 0.4 * spacing)) place(p, false);
        };
        if (c.round()) {
            const double r = c.size[0] / 2, side = distance(g.rim[0], g.rim[1]);
            const int rings = std::max(1, int(std::lround(r / std::max(side, r / 4))));
            for (int j = 1; j < rings; ++j) {
                const double share = 1 - double(j) / rings;
                const int n = std::max(8, 4 * int(std::lround(g.cells_x * share / 4)));
                for (int k = 0; k < n; ++k)
                    place_clear(c.at + turned({r * share, 0}, c.angle + 360.0 * k / n),
                                std::min(r / rings, 6 * r * share / n));
            }
            return;
        }
        for (int iy = 1; iy < g.cells_y; ++iy)
            for (int ix = 1; ix < g.cells_x; ++ix) {
                if (2 * ix == g.cells_x && 2 * iy == g.cells_y) continue;  // the centre is there already
                place_clear(c.at + turned({c.size[0] * (double(ix) / g.cells_x - 0.5),
                                           c.size[1] * (double(iy) / g.cells_y - 0.5)},
                                          c.angle),
                            std::min(c.size[0] / g.cells_x, c.size[1] / g.cells_y));
            }
    }

    bool on_lattice(const Column& c) const {
        const Point q = to_frame(c.at);
        auto has = [](const std::vector<double>& v, double x) {
            return std::any_of(v.begin(), v.end(), [x](double a) { return std::abs(a - x) < 1e-6; });
        };
        const double turn = std::remainder(c.angle - f_.main_direction, 90.0);
        return has(xs_, q.x) && has(ys_, q.y) && (c.round() || std::abs(turn) < 1e-6);
    }

    // Rings of growing cells between the footprint and the lattice.
    void ring_column(const ColumnGrid& g, const Column& c) {
        if (!g.conforms) return;
        const double half = c.smaller_size() / 2, h = f_.size;
        const double cell = cell_beside_footprint(c.smaller_size(), h);
        const double to_lattice = h * std::ceil((half + 0.55 * cell) / h) - half;
        std::vector<double> offset{0};
        double grow = cell;
        while (offset.back() < to_lattice - 1e-9) offset.push_back(offset.back() + grow), grow *= 1.4;
        const double squeeze = to_lattice / offset.back();
        const size_t last = on_lattice(c) ? offset.size() - 1 : offset.size();
        std::vector<Point> rim;  // corners of the cells on the footprint, in the column's own axes
        for (size_t i = 0; i < g.rim.size(); ++i) {
            const int n = c.round() ? 1 : (i % 2 == 0 ? g.cells_x : g.cells_y);
            for (int k = 0; k < n; ++k)
                rim.push_back(
                    turned(g.rim[i] + (double(k) / n) * (g.rim[(i + 1) % g.rim.size()] - g.rim[i]) - c.at, -c.angle));
        }
        const double ax = c.size[0] / 2, ay = c.round() ? ax : c.size[1] / 2;
        for (size_t j = 1; j < last; ++j) {
            const double d = offset[j] * squeeze;
            const double spacing = std::min(h, cell * (half + d) / half);
            for (Point p : rim) {
                const Point q = c.at + turned({p.x * (ax + d) / ax, p.y * (ay + d) / ay}, c.angle);
                if (f_.inside(q) && near_.clear(q, 0.5 * std::min(spacing, (offset[j] - offset[j - 1]) * squeeze * 1.4),
                                                0.4 * std::min(spacing, cell)))
                    place(q, false);
            }
        }
        const double taken = to_lattice + (on_lattice(c) ? -1e-6 : 0.45 * h);
        zones_.push_back({c.at, ax + taken, ay + taken, c.angle, c.round()});
    }

    void seed_lattice() {
        std::vector<Box> boxes;
        for (const Zone& z : zones_) boxes.push_back(box_of(rectangle(z.at, 2 * z.x, 2 * z.y, z.angle)));
        const BoxBins zones(boxes);
        for (double y : ys_) {
            progress_.end_if_stopped();
            for (double x : xs_) {
                const Point p = from_frame({x, y});
                if (zones.any_over({p, p}, [&](int i) { return zones_[size_t(i)].has(p); })) continue;
                const double s = std::min(f_.size_at(p), f_.size);
                if (near_.clear(p, 0.52 * s, 0.4 * s) && f_.inside(p)) place(p, false);
            }
        }
    }

    struct Zone {  // round a column, where the lattice gives way to its rings
        Point at;
        double x, y, angle;
        bool round;
        bool has(Point p) const {
            const Point q = turned(p - at, -angle);
            return round ? length(q) < x : std::abs(q.x) < x && std::abs(q.y) < y;
        }
    };

    const Features& f_;
    const Model& model_;
    const Progress& progress_;
    Near near_;
    Seeds out_;
    std::vector<double> xs_, ys_;
    std::vector<Zone> zones_;
    BoxBins footprints_by_place_;
};

}  // namespace

Seeds seed_points(const Features& features, const Model& model, const Progress& progress) {
    return Seeder(features, model, progress).all();
}

}  // namespace mossbed
