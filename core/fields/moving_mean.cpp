#include "core/fields/moving_mean.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/wide.h"

namespace mossbed {
namespace {

struct Sum {
    double force = 0, area = 0;
    void add(const Sum& s, double sign = 1) { force += sign * s.force, area += sign * s.area; }
};

Sum share_of(const Fields& f, const CombinationAnswer& c, size_t node) {
    return {f.shares.area[node] * c.spring[node], f.shares.area[node]};
}

// Square cells over a box; what lies outside it counts to the cell at its rim.
struct Cells {
    Point low;
    double side = 1;
    int nx = 1, ny = 1;
    Cells(const Box& box, double a)
        : low(box.low), side(a), nx(int(box.width() / a) + 1), ny(int(box.height() / a) + 1) {}
    int column(double x) const { return std::clamp(int((x - low.x) / side), 0, nx - 1); }
    int row(double y) const { return std::clamp(int((y - low.y) / side), 0, ny - 1); }
    size_t at(int x, int y) const { return size_t(y) * size_t(nx) + size_t(x); }
    size_t at(Point p) const { return at(column(p.x), row(p.y)); }
    size_t count() const { return size_t(nx) * size_t(ny); }
};

MOSSBED_WIDE void add_inside(const double* x, const double* y, const double* force, const double* area, size_t n,
                             double mx, double my, double half, double& sum_force, double& sum_area) {
    double F = 0, A = 0;
#pragma omp simd reduction(+ : F, A)
    for (size_t i = 0; i < n; ++i) {
        const bool inside = std::max(std::abs(x[i] - mx), std::abs(y[i] - my)) <= half;
        F += inside ? force[i] : 0, A += inside ? area[i] : 0;
    }
    sum_force += F, sum_area += A;
}

// Nodes cell by cell along strips of cells, those of neighbours in a strip side by side.
class Strips {
  public:
    // `cell`: of each node, counted along the strips, `length` cells each.
    Strips(const std::vector<Point>& nodes, const std::vector<Sum>& shares, const std::vector<size_t>& cell,
           size_t cells, int length)
        : length_(length),
          start_(cells + 1, 0),
          x_(nodes.size()),
          y_(nodes.size()),
          force_(nodes.size()),
          area_(nodes.size()) {
        for (size_t c : cell) ++start_[c + 1];
        for (size_t c = 0; c < cells; ++c) start_[c + 1] += start_[c];
        std::vector<size_t> next(start_.begin(), start_.end() - 1);
        for (size_t i = 0; i < nodes.size(); ++i) {
            const size_t to = next[cell[i]]++;
            x_[to] = nodes[i].x, y_[to] = nodes[i].y, force_[to] = shares[i].force, area_[to] = shares[i].area;
        }
    }
    // Of one strip's cells from `first` to `last`, that one too, what lies in a square.
    void add(int strip, int first, int last, Point middle, double half, Sum& to) const {
        if (last < first) return;
        const size_t row = size_t(strip) * size_t(length_), from = start_[row + size_t(first)],
                     end = start_[row + size_t(last) + 1];
        add_inside(x_.data() + from, y_.data() + from, force_.data() + from, area_.data() + from, end - from, middle.x,
                   middle.y, half, to.force, to.area);
    }

  private:
    int length_;
    std::vector<size_t> start_;
    std::vector<double> x_, y_, force_, area_;
};

// Sums of the nodes' shares in a square: cells inside it whole, by sums from the corner of the box on, and those that
// its sides cut node by node. Bounds of both are known from the cells alone.
class Squares {
  public:
    Squares(const Fields& f, const CombinationAnswer& c, double side)
        : half_(side / 2), cells_(box_of(f.mesh.nodes), std::max(side / 24, f.mesh.size / 3)) {
        const std::vector<Point>& nodes = f.mesh.nodes;
        below_.resize(size_t(cells_.nx + 1) * size_t(cells_.ny + 1));
        std::vector<Sum> shares;
        std::vector<size_t> in_rows, in_columns;
        for (size_t i = 0; i < nodes.size(); ++i) {
            const int x = cells_.column(nodes[i].x), y = cells_.row(nodes[i].y);
            shares.push_back(share_of(f, c, i));
            in_rows.push_back(cells_.at(x, y)), in_columns.push_back(size_t(x) * size_t(cells_.ny) + size_t(y));
            below(x + 1, y + 1).add({shares[i], std::max(0.0, shares[i].force)});
        }
        rows_.emplace(nodes, shares, in_rows, cells_.count(), cells_.nx);
        columns_.emplace(nodes, shares, in_columns, cells_.count(), cells_.ny);
        for (int y = 1; y <= cells_.ny; ++y)
            for (int x = 1; x <= cells_.nx; ++x) {
                Pressing& s = below(x, y);
                s.add(below(x - 1, y)), s.add(below(x, y - 1)), s.add(below(x - 1, y - 1), -1);
            }
    }
    // Not more presses there, nor lies more area there, than in the cells that the square touches; nor less area than
    // in those inside it.
    struct Bounds {
        double pressing, area, least_area;
    };
    Bounds bounds(Point middle) const {
        const auto [x0, x1, y0, y1] = touched(middle);
        const Pressing all = whole(x0, x1 + 1, y0, y1 + 1);
        return {all.pressing, all.sum.area, whole(x0 + 1, x1, y0 + 1, y1).sum.area};
    }
    Sum over(Point middle) const {
        const auto [x0, x1, y0, y1] = touched(middle);
        Sum s = whole(x0 + 1, x1, y0 + 1, y1).sum;
        columns_->add(x0, y0, y1, middle, half_, s);
        if (x1 > x0) columns_->add(x1, y0, y1, middle, half_, s);
        rows_->add(y0, x0 + 1, x1 - 1, middle, half_, s);
        if (y1 > y0) rows_->add(y1, x0 + 1, x1 - 1, middle, half_, s);
        return s;
    }

  private:
    struct Pressing {
        Sum sum;
        double pressing = 0;  // of the force what presses
        void add(const Pressing& o, double sign = 1) { sum.add(o.sum, sign), pressing += sign * o.pressing; }
    };
    std::array<int, 4> touched(Point middle) const {  // columns and rows, the last ones as well
        return {cells_.column(middle.x - half_), cells_.column(middle.x + half_), cells_.row(middle.y - half_),
                cells_.row(middle.y + half_)};
    }
    // Of the cells of columns x0 to x1 and rows y0 to y1, without those last ones.
    Pressing whole(int x0, int x1, int y0, int y1) const {
        Pressing s;
        if (x1 <= x0 || y1 <= y0) return s;
        s.add(below(x1, y1)), s.add(below(x0, y0));
        s.add(below(x0, y1), -1), s.add(below(x1, y0), -1);
        return s;
    }
    const Pressing& below(int x, int y) const { return below_[size_t(y) * size_t(cells_.nx + 1) + size_t(x)]; }
    Pressing& below(int x, int y) { return below_[size_t(y) * size_t(cells_.nx + 1) + size_t(x)]; }
    double half_;
    Cells cells_;
    std::optional<Strips> rows_, columns_;  // of all nodes both
    std::vector<Pressing> below_;           // of the cells left of and below a corner
};

// Which column stands nearest to a place.
class NearestColumn {
  public:
    NearestColumn(const std::vector<Column>& columns, const Box& box)
        : columns_(columns),
          cells_(box, std::max(std::sqrt(box.width() * box.height() / double(columns.size())), 1e-3)),
          in_(cells_.count()) {
        for (size_t k = 0; k < columns.size(); ++k) in_[cells_.at(columns[k].at)].push_back(k);
    }
    size_t to(Point p) const {
        const int x = cells_.column(p.x), y = cells_.row(p.y);
        size_t best = 0;
        double least = distance(columns_[0].at, p);
        for (int r = 0; r < std::max(cells_.nx, cells_.ny) && (r - 1) * cells_.side <= least; ++r)  // ring by ring
            for (int v = std::max(0, y - r); v <= std::min(cells_.ny - 1, y + r); ++v)
                for (int u = std::max(0, x - r); u <= std::min(cells_.nx - 1, x + r); ++u) {
                    if (std::max(std::abs(u - x), std::abs(v - y)) != r) continue;
                    for (size_t k : in_[cells_.at(u, v)])
                        if (const double d = distance(columns_[k].at, p); d < least || (d == least && k < best))
                            least = d, best = k;
                }
        return best;
    }

  private:
    const std::vector<Column>& columns_;
    Cells cells_;
    std::vector<std::vector<size_t>> in_;
};

Polygon square(Point m, double side) {
    const double h = side / 2;
    return {{m.x - h, m.y - h}, {m.x + h, m.y - h}, {m.x + h, m.y + h}, {m.x - h, m.y + h}};
}

}  // namespace

double characteristic_side(const Fields& f, const CombinationAnswer& c) {
    const Slab& s = f.model->slab;
    const Concrete& concrete = concrete_of(*f.model, s.concrete);
    const double D = 1000 * concrete.E * s.stiffness_factor * std::pow(s.thickness, 3) /
                     (12 * (1 - concrete.nu * concrete.nu));  // kN·m
    double sum = 0, area = 0;
    for (size_t i = 0; i < c.spring.size(); ++i) {
        const double settled = c.settlement(int(i));
        if (!(c.spring[i] > 0) || !(settled > 0)) continue;
        sum += f.shares.area[i] * c.spring[i] / settled, area += f.shares.area[i];
    }
    // No less than what the mesh can tell apart.
    return std::max(4 * f.mesh.size, area > 0 ? 2 * std::pow(D * area / sum, 0.25) : 0);
}

MovingMean largest_over_square(const Fields& f, const CombinationAnswer& c, double side) {
    const Squares squares(f, c, side);
    const std::vector<Point>& nodes = f.mesh.nodes;
    std::vector<Squares::Bounds> bounds;
    bounds.reserve(nodes.size());
    for (Point p : nodes) bounds.push_back(squares.bounds(p));
    const double whole = side * side;
    double widest = 0;
    for (size_t i = 0; i < nodes.size() && widest < whole; ++i)
        if (bounds[i].area > widest) widest = std::max(widest, squares.over(nodes[i]).area);
    const double enough = 0.9 * std::min(widest, whole);
    std::vector<double> at_most;
    at_most.reserve(nodes.size());
    for (const Squares::Bounds& b : bounds) at_most.push_back(b.pressing / std::max(enough, b.least_area));
    // What one of the most promising has, the others must not stay below.
    const size_t promising = size_t(std::max_element(at_most.begin(), at_most.end()) - at_most.begin());
    const Sum first = squares.over(nodes[promising]);
    const double to_beat = first.area >= enough ? first.force / first.area : 0;
    MovingMean best;
    for (size_t i = 0; i < nodes.size(); ++i) {
        if (bounds[i].area < enough || at_most[i] < to_beat * (1 - 1e-12)) continue;
        const Sum s = squares.over(nodes[i]);
        if (s.area >= enough && (best.area.empty() || s.force / s.area > best.value))
            best = {s.force / s.area, nodes[i], square(nodes[i], side), {}};
    }
    return best;
}

std::vector<size_t> nearest_columns(const Fields& f) {
    std::vector<size_t> of;
    const NearestColumn nearest(f.model->columns, box_of(f.mesh.nodes));
    for (Point p : f.mesh.nodes) of.push_back(nearest.to(p));
    return of;
}

std::optional<MovingMean> largest_over_shares(const Fields& f, const CombinationAnswer& c, double side,
                                              const std::vector<size_t>& nearest) {
    const std::vector<Column>& columns = f.model->columns;
    if (columns.empty()) return {};
    std::vector<Sum> sums(columns.size());
    for (size_t i = 0; i < nearest.size(); ++i) sums[nearest[i]].add(share_of(f, c, i));
    size_t best = columns.size();
    for (size_t k = 0; k < columns.size(); ++k)
        if (sums[k].area >= side * side / 4 &&
            (best == columns.size() || sums[k].force / sums[k].area > sums[best].force / sums[best].area))
            best = k;
    if (best == columns.size()) return {};
    const Box box = box_of(f.mesh.nodes);
    Polygon cell{box.low, {box.high.x, box.low.y}, box.high, {box.low.x, box.high.y}};
    for (size_t k = 0; k < columns.size(); ++k) {
        if (k == best || distance(columns[k].at, columns[best].at) < 1e-9) continue;
        const Point m = 0.5 * (columns[k].at + columns[best].at), n = unit(columns[k].at - columns[best].at),
                    along = left_of(n);
        const double far = 4 * (box.width() + box.height());
        const Polygon half{m + far * along, m - far * n + far * along, m - far * n - far * along, m - far * along};
        cell = clip_to_convex(cell, anticlockwise(half));
    }
    return MovingMean{sums[best].force / sums[best].area, columns[best].at, std::move(cell), columns[best].id};
}

EffectiveArea effective_area(const Model& m, Point landing) {
    EffectiveArea out;
    if (std::holds_alternative<Ring>(m.slab.outline)) {
        out.why_not = "a ring has no effective area";
        return out;
    }
    const Polygon rim = anticlockwise(outer_rim(m.slab.outline, 0.25));
    const Polygon hull = convex_hull(rim);
    const double area = signed_area(rim);
    if (area < 0.995 * signed_area(hull)) {
        out.why_not = "the base is not convex";
        return out;
    }
    if (net_area(m) < 0.95 * area) {
        out.why_not = "openings take more than a twentieth of the base";
        return out;
    }
    Polygon mirrored;
    for (Point p : hull) mirrored.push_back(2 * landing - p);
    out.outline = clip_to_convex(hull, anticlockwise(mirrored));
    out.area = out.outline.size() > 2 ? signed_area(out.outline) : 0;
    if (out.area <= 0) out.why_not = "the resultant lands outside the base";
    return out;
}

}  // namespace mossbed
