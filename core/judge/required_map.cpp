#include "core/judge/required_map.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/steel/required_steel.h"

namespace mossbed {
namespace {

using Weights = std::vector<std::pair<int, double>>;  // slots and their shares, which sum to one

class Pointwise {
  public:
    Pointwise(const Fields& f, const StripDemand& demand, Face face, Direction d)
        : f_(f), m_(*f.model), u_(along_bars(m_.steel, d)), width_(m_.steel.averaged_over.value_or(0)) {
        find_asked(demand, face);
        find_supports();
    }

    // What the design moment of a corner of an element is, kN·m/m.
    double design_moment(int element, int corner) const {
        const Point p = f_.mesh.nodes[size_t(f_.mesh.elements[size_t(element)][size_t(corner)])];
        const int slot = f_.slots.of_corner[size_t(element)][size_t(corner)];
        Eigen::VectorXd m = value(averaged(p, slot));
        if (const auto ends = across_support(p)) {
            const Eigen::VectorXd a = value(averaged(ends->first, -1)), b = value(averaged(ends->second, -1));
            m = m.cwiseMin(a.cwiseMax(b).cwiseMax(0));
        }
        return std::max(0.0, m.maxCoeff());
    }

  private:
    double thickness(int element) const {
        const int patch = f_.mesh.patch[size_t(element)];
        return patch < 0 ? m_.slab.thickness : m_.slab.patches[size_t(patch)].thickness;
    }
    // |m_nt|; or, where bars across have nothing to take of it on this face, m_nt² over the moment across.
    static double twisting(const PlateForces& m, double sign) {
        const double t = std::abs(m.mxy);
        return sign * m.my + t < 0 ? t * t / std::abs(m.my) : t;
    }
    void find_asked(const StripDemand& demand, Face face) {
        asked_.resize(demand.n_design, long(f_.slots.node.size()));
        const double sign = face == Face::bottom ? 1 : -1;
        for (int e = 0; e < int(f_.mesh.elements.size()); ++e)
            for (int k = 0; k < corners(f_.mesh.elements[size_t(e)]); ++k)
                for (long c = 0; c < demand.n_design; ++c) {
                    const int slot = f_.slots.of_corner[size_t(e)][size_t(k)];
                    const CombinationAnswer& of = f_.combinations[size_t(demand.combinations[size_t(c)])];
                    const PlateForces here = turned(of.forces[slot], u_);
                    asked_(c, slot) = sign * here.mx + (demand.twisting ? twisting(here, sign) : 0) +
                                      std::max(0.0, here.nx) * thickness(e) / 2;
                }
        // A footprint is stiffer than the slab, and the plate's moments, which are one at its face, jump there: the
        // mean of both sides.
        std::vector<char> in(f_.slots.node.size(), 0);
        for (int e = 0; e < int(f_.mesh.elements.size()); ++e)
            for (int k = 0; k < corners(f_.mesh.elements[size_t(e)]); ++k)
                in[size_t(f_.slots.of_corner[size_t(e)][size_t(k)])] |= f_.mesh.footprint[size_t(e)] >= 0;
        for (const std::vector<int>& of_node : f_.slots.of_node) {
            std::array<Eigen::VectorXd, 2> sum{Eigen::VectorXd::Zero(asked_.rows()),
                                               Eigen::VectorXd::Zero(asked_.rows())};
            std::array<double, 2> n{0, 0};
            for (int slot : of_node)
                sum[size_t(in[size_t(slot)])] += asked_.col(slot), n[size_t(in[size_t(slot)])] += 1;
            if (n[0] > 0 && n[1] > 0)
                for (int slot : of_node) asked_.col(slot) = 0.5 * (sum[0] / n[0] + sum[1] / n[1]);
        }
    }
    // Columns, and walls that lie across the bars.
    void find_supports() {
        auto add = [&](const Polygon& p) { supports_.push_back({p, box_of(p)}); };
        for (const Column& c : m_.columns) add(footprint(c));
        for (const Wall& w : m_.walls)
            for (size_t i = 0; i + 1 < w.path.size(); ++i) {
                const Polygon p = body_of(w, i);
                double low = 1e300, high = -1e300;
                for (Point q : p) low = std::min(low, dot(q, u_)), high = std::max(high, dot(q, u_));
                constexpr double longest = 1.5;  // m: a longer wall runs along the bars
                if (high - low < longest) add(p);
            }
    }
    // Where the line along the bars through a point inside a support leaves it.
    std::optional<std::pair<Point, Point>> across_support(Point p) const {
        for (const auto& [outline, box] : supports_) {
            if (!box.overlaps(box_of({p})) || !contains(outline, p)) continue;
            double low = 0, high = 0;
            for (size_t i = 0; i < outline.size(); ++i) {
                const Point a = outline[i], b = outline[(i + 1) % outline.size()];
                const double den = cross(u_, b - a);
                if (std::abs(den) < 1e-12) continue;
                const double t = cross(a - p, b - a) / den, s = cross(a - p, u_) / den;
                if (s >= -1e-9 && s <= 1 + 1e-9) low = std::min(low, t), high = std::max(high, t);
            }
            return std::pair{p + low * u_, p + high * u_};
        }
        return {};
    }
    // Over the width across the bars, as far as it lies on the slab. Where it is nil: the point, or its slot.
    Weights averaged(Point p, int slot) const {
        if (width_ <= 0 && slot >= 0) return {{slot, 1.0}};
        const int n = width_ <= 0 ? 1 : std::clamp(int(std::ceil(3 * width_ / f_.mesh.size)), 3, 60);
        const Point across = left_of(u_);
        Weights out;
        double hits = 0;
        for (int i = 0; i < n; ++i) {
            const Point q = p + width_ * ((i + 0.5) / n - 0.5) * across;
            const Finder::Hit h = width_ <= 0 ? f_.finder.nearest(q) : f_.finder.at(q);
            if (h.element < 0) continue;
            hits += 1;
            for (int k = 0; k < corners(f_.mesh.elements[size_t(h.element)]); ++k)
                out.push_back({f_.slots.of_corner[size_t(h.element)][size_t(k)], h.weight[size_t(k)]});
        }
        if (hits == 0) return slot >= 0 ? Weights{{slot, 1.0}} : Weights{};
        for (auto& [at, w] : out) w /= hits;
        return out;
    }
    Eigen::VectorXd value(const Weights& weights) const {
        Eigen::VectorXd v = Eigen::VectorXd::Zero(asked_.rows());
        for (const auto& [slot, w] : weights) v += w * asked_.col(slot);
        return v;
    }

    const Fields& f_;
    const Model& m_;
    Point u_;
    double width_;
    Eigen::MatrixXd asked_;  // per combination and slot, kN·m/m
    std::vector<std::pair<Polygon, Box>> supports_;
};

}  // namespace

RequiredMap required_map(const Fields& f, const Judgement& judged, Face face, Direction d) {
    const Model& m = *f.model;
    const auto code = make_code(m.settings);
    if (!judged.demand || judged.demand->n_design == 0 || !code || covers_leave_no_depth(m)) return {};
    const Provision steel(m, code.get(), judged.steel);
    const RequiredSteel needs(m, *code, *judged.demand, steel);
    const Pointwise points(f, *judged.demand, face, d);
    const bool minimum = face == Face::bottom || m.steel.minimum_on_both_faces;
    const size_t n = f.mesh.elements.size();
    RequiredMap out;
    out.map.corner.resize(n);
    FieldMap fits;
    fits.corner.assign(n, {1, 1, 1, 1});
    tbb::parallel_for(size_t(0), n, [&](size_t e) {
        const int patch = f.mesh.patch[e];
        const SlabPatch* on = patch < 0 ? nullptr : &m.slab.patches[size_t(patch)];
        const SlabPart part{on ? on->thickness : m.slab.thickness, concrete_of(m, on ? on->concrete : "").fck, {}};
        const Section section = needs.metre_of(part, face, d);
        const double least = code->minimum_steel(section);
        for (int k = 0; k < corners(f.mesh.elements[e]); ++k) {
            const double M = points.design_moment(int(e), k);
            const auto As = code->flexural_steel(section, M);
            if (!As) fits.corner[e][size_t(k)] = -1;
            out.map.corner[e][size_t(k)] = As ? std::max(*As, minimum || M > 1e-9 ? least : 0.0) : -1;
        }
    });
    bool all_fit = true;
    out.map.least = 1e300, out.map.most = -1e300;
    auto each = [&](auto use) {
        for (size_t e = 0; e < n; ++e)
            for (int k = 0; k < corners(f.mesh.elements[e]); ++k)
                use(out.map.corner[e][size_t(k)], f.mesh.nodes[size_t(f.mesh.elements[e][size_t(k)])]);
    };
    each([&](double v, Point at) {
        all_fit &= v >= 0;
        if (v > out.map.most) out.map.most = v, out.map.most_at = at;
        if (v >= 0 && v < out.map.least) out.map.least = v, out.map.least_at = at;
    });
    if (all_fit) return out;
    fits.least = -1, fits.most = 1;
    const double most = std::max(out.map.most, 0.0);
    each([&](double& v, Point) { v = v < 0 ? most : v; });
    out.map.least = std::min(out.map.least, most);
    out.no_fit = std::move(fits);
    return out;
}

}  // namespace mossbed
