#include "core/fields/moving_mean.h"

#include <algorithm>

namespace mossbed {
namespace {

// Nodes in square bins of a third of the window's side, so that a window is summed over few of them.
class Bins {
  public:
    Bins(const Fields& f, const CombinationAnswer& c, double side) : f_(f), c_(c), half_(side / 2), bin_(side / 3) {
        const Box box = box_of(f.mesh.nodes);
        low_ = box.low;
        nx_ = int(box.width() / bin_) + 1, ny_ = int(box.height() / bin_) + 1;
        bins_.resize(size_t(nx_) * size_t(ny_));
        for (size_t i = 0; i < f.mesh.nodes.size(); ++i)
            bins_[size_t(row(f.mesh.nodes[i].y)) * size_t(nx_) + size_t(column(f.mesh.nodes[i].x))].push_back(int(i));
    }
    struct Sum {
        double force = 0, area = 0;
    };
    Sum over(Point middle) const {
        Sum s;
        for (int y = row(middle.y - half_); y <= row(middle.y + half_); ++y)
            for (int x = column(middle.x - half_); x <= column(middle.x + half_); ++x)
                for (int i : bins_[size_t(y) * size_t(nx_) + size_t(x)]) {
                    const Point d = f_.mesh.nodes[size_t(i)] - middle;
                    if (std::abs(d.x) > half_ || std::abs(d.y) > half_) continue;
                    s.area += f_.shares.area[size_t(i)];
                    s.force += f_.shares.area[size_t(i)] * c_.spring[size_t(i)];
                }
        return s;
    }

  private:
    int column(double x) const { return std::clamp(int(std::floor((x - low_.x) / bin_)), 0, nx_ - 1); }
    int row(double y) const { return std::clamp(int(std::floor((y - low_.y) / bin_)), 0, ny_ - 1); }
    const Fields& f_;
    const CombinationAnswer& c_;
    double half_, bin_;
    Point low_;
    int nx_ = 1, ny_ = 1;
    std::vector<std::vector<int>> bins_;
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
    const Bins bins(f, c, side);
    std::vector<Bins::Sum> sums;
    double widest = 0;
    for (Point p : f.mesh.nodes) {
        sums.push_back(bins.over(p));
        widest = std::max(widest, sums.back().area);
    }
    const double enough = 0.9 * std::min(widest, side * side);
    MovingMean best;
    for (size_t i = 0; i < sums.size(); ++i)
        if (sums[i].area >= enough && (best.area.empty() || sums[i].force / sums[i].area > best.value))
            best = {sums[i].force / sums[i].area, f.mesh.nodes[i], square(f.mesh.nodes[i], side), {}};
    return best;
}

std::optional<MovingMean> largest_over_shares(const Fields& f, const CombinationAnswer& c, double side) {
    const std::vector<Column>& columns = f.model->columns;
    if (columns.empty()) return {};
    std::vector<Bins::Sum> sums(columns.size());
    for (size_t i = 0; i < f.mesh.nodes.size(); ++i) {
        size_t nearest = 0;
        for (size_t k = 1; k < columns.size(); ++k)
            if (distance(columns[k].at, f.mesh.nodes[i]) < distance(columns[nearest].at, f.mesh.nodes[i])) nearest = k;
        sums[nearest].area += f.shares.area[i];
        sums[nearest].force += f.shares.area[i] * c.spring[i];
    }
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
