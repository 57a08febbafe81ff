#include "core/loads/nodal_loads.h"

#include <fmt/format.h>

#include <map>
#include <string_view>

#include "core/base/paths.h"
#include "core/base/units.h"
#include "core/loads/member_bodies.h"
#include "core/mesh/shape_integrals.h"
#include "core/model/columns_by_id.h"

namespace mossbed {
namespace {

const double gauss_two[] = {0.5 - 0.5 / std::sqrt(3.0), 0.5 + 0.5 / std::sqrt(3.0)};  // shares of a length

Resultant of_force(double N, Point p) { return {N, -N * p.y, N * p.x}; }

// The parts of a polygon that lie in each element.
std::vector<AreaPiece> parts(const Polygon& outline, const Mesh& mesh, const Finder& finder) {
    std::vector<AreaPiece> out;
    const Polygon ring = anticlockwise(outline);
    finder.over(box_of(ring), [&](int e) {
        Polygon part = clip_to_convex(ring, mesh.polygon(e));
        if (part.size() >= 3 && signed_area(part) > 1e-14) out.push_back({std::move(part), e, {}, 0, {}});
    });
    return out;
}

class CaseBuilder {
  public:
    CaseBuilder(const Model& m, const Mesh& mesh, const Finder& finder, std::vector<Problem>& lost)
        : m_(m), mesh_(mesh), finder_(finder), lost_(lost), columns_(m.columns), ribs_(rib_bodies(m)) {}

    CaseLoads build(const LoadCase& c) {
        out_ = {};
        out_.pressure.assign(mesh_.elements.size(), 0.0);
        int n = 0;
        for (const LoadItem& item : c.items) {
            where_ = fmt::format("case {}, item {}", c.id, ++n);
            act_ = {};
            std::visit([&](const auto& l) { add(l); }, item.load);
            out_.acts.push_back(act_);
        }
        return std::move(out_);
    }

    void add_weight(CaseLoads& to) {
        out_ = std::move(to);
        act_ = {};
        const double before = out_.stated.Fz;
        for (int e = 0; e < int(mesh_.elements.size()); ++e) {
            const double w = weight_of(mesh_.patch[e]);
            out_.pressure[e] += w;
            state(of_force(w * mesh_.area(e), centroid(mesh_.polygon(e))));
        }
        const double gamma = concrete_of(m_, m_.slab.concrete).unit_weight;
        for (const Column& c : m_.columns)
            if (c.pedestal_height > 0)
                spread(footprint(c), c.at, std::abs(signed_area(footprint(c))) * c.pedestal_height * gamma, 0, 0);
        for (const Wall& w : m_.walls) {
            where_ = "the weight of wall " + w.id;
            const double q = w.thickness * w.height * gamma;
            line(w.path, q, q, w.stiffens);
            take_ribs_out(w, gamma);
        }
        for (const BodyPart& b : ribs_) weigh(b);
        for (const Rib& r : m_.ribs)
            if (r.over_openings == OverOpenings::carry) weigh_spans(r);
        out_.self_weight = out_.stated.Fz - before;
        act_.down += act_.up, act_.up = {};  // what of a wall lies in a rib was taken off
        out_.acts.push_back(act_);
        to = std::move(out_);
    }

  private:
    double weight_of(int patch) const {  // kPa
        if (patch < 0) return m_.slab.thickness * concrete_of(m_, m_.slab.concrete).unit_weight;
        const SlabPatch& t = m_.slab.patches[patch];
        return t.thickness * concrete_of(m_, t.concrete).unit_weight;
    }

    const SlabPatch* patch_of(int element) const {
        const int patch = mesh_.patch[size_t(element)];
        return patch < 0 ? nullptr : &m_.slab.patches[size_t(patch)];
    }
    static double height_of(const std::vector<Levels>& levels) {
        double h = 0;
        for (const Levels& l : levels) h += l.height();
        return h;
    }
    // Lays pressure(element) kPa on what of a plan shape lies on the slab.
    template <class Pressure>
    void lay(const Polygon& plan, Pressure pressure) {
        for (AreaPiece& p : parts(plan, mesh_, finder_)) {
            p.a = pressure(p.element);
            if (p.a == 0) continue;
            state(of_force(p.a * signed_area(p.outline), centroid(p.outline)));
            out_.areas.push_back(std::move(p));
        }
    }
    // What of a rib lies outside the slab.
    void weigh(const BodyPart& b) {
        const double gamma = concrete_of(m_, m_.ribs[size_t(b.rib)].concrete).unit_weight;
        lay(b.plan, [&](int e) { return gamma * height_of(outside(b.levels, slab_levels(m_, patch_of(e)))); });
    }
    // Over an opening there is no slab in it.
    void weigh_spans(const Rib& r) {
        const double q = concrete_of(m_, r.concrete).unit_weight * r.width * r.depth;
        for (const Span& s : opening_spans(m_, r.path)) {
            state(of_force(q * (s.s1 - s.s0), 0.5 * (s.from + s.to)));
            carry(s, q, q);
        }
    }
    // A wall's height counts from the slab: what of it lies in a rib is the rib's.
    void take_ribs_out(const Wall& w, double gamma) {
        for (const Polygon& body : bodies_along(w.path, w.thickness))
            for (const BodyPart& b : ribs_)
                if (const Polygon common = clip_to_convex(anticlockwise(body), b.plan); common.size() > 2)
                    lay(common, [&](int e) {
                        const std::vector<Levels> own{levels_of(m_, w, patch_of(e))};
                        std::vector<Levels> rest = own;
                        for (const Levels& l : b.levels) rest = outside(rest, l);
                        return gamma * (height_of(rest) - height_of(own));
                    });
    }
    // The ends of a member that spans an opening take what lies on it, as those of a beam held there: shares
    // L (7 q0 + 3 q1) / 20 and moments L² (3 q0 + 2 q1) / 60, likewise at the other end.
    void carry(const Span& s, double q0, double q1) {
        const double l = s.s1 - s.s0;
        const Point t = unit(s.to - s.from);
        auto end = [&](Point at, double N, double M) {
            const Finder::Hit hit = finder_.nearest(at);
            out_.points.push_back({at, hit.element, N, -M * t.y, M * t.x});  // M turns the slope along the path
        };
        end(s.from, l * (7 * q0 + 3 * q1) / 20, l * l * (3 * q0 + 2 * q1) / 60);
        end(s.to, l * (3 * q0 + 7 * q1) / 20, -l * l * (2 * q0 + 3 * q1) / 60);
    }

    void add(const ColumnLoad& l) {
        const Column* c = columns_.find(l.column);
        if (!c) return;
        const double lever = c->pedestal_height + thickness_at(m_, c->at);  // of the horizontals, down to the underside
        out_.Hx += l.Hx, out_.Hy += l.Hy;
        act_.Mx = l.Mx, act_.My = l.My, act_.Hx = l.Hx, act_.Hy = l.Hy, act_.lever = lever;
        spread(footprint(*c), c->at, l.N, l.Mx - l.Hy * lever, l.My + l.Hx * lever);
    }
    void add(const PointLoad& l) {
        state(of_force(l.N, l.at));
        out_.stated.Mx += l.Mx, out_.stated.My += l.My;
        act_.Mx = l.Mx, act_.My = l.My;
        point(l.at, l.N, l.Mx, l.My);
    }
    void add(const LineLoad& l) { line(l.path, l.q[0], l.q[1]); }
    void add(const WallLoad& l) {
        if (const Wall* w = find_id(m_.walls, l.wall)) line(w->path, l.q, l.q, w->stiffens);
    }
    void add(const RibLoad& l) {
        if (const Rib* r = find_id(m_.ribs, l.rib)) line(r->path, l.q, l.q, r->over_openings == OverOpenings::carry);
    }
    void add(const AreaLoad& l) {
        const Polygon ring = anticlockwise(l.outline);
        state(of_force(l.pressure() * signed_area(ring), centroid(ring)));
        double landed = 0;
        for (AreaPiece& p : parts(ring, mesh_, finder_)) {
            landed += signed_area(p.outline);
            p.a = l.pressure();
            out_.areas.push_back(std::move(p));
        }
        tell_lost(signed_area(ring) - landed, signed_area(ring), l.pressure(), "of its area", centroid(ring));
    }
    void add(const SlabLoad& l) {
        for (int e = 0; e < int(mesh_.elements.size()); ++e) press(e, l.pressure());
    }
    void add(const PileLoad&) {}  // models with piles are refused (validate.h)
    void add(const Uplift& l) {
        act_.is_water = true;
        const size_t before = out_.areas.size();
        for (int e = 0; e < int(mesh_.elements.size()); ++e) {
            const Point c = centroid(mesh_.polygon(e));
            const double p = std::max(0.0, water_weight * (l.to_level - underside_at(m_, c)));
            press(e, -p);
            out_.uplift += p * mesh_.area(e);
        }
        // The underside of a rib that hangs below the slab lies deeper in the water.
        for (const BodyPart& b : ribs_)
            lay(b.plan, [&](int e) {
                const double slab = slab_levels(m_, patch_of(e)).low, low = std::min(slab, b.levels.front().low);
                return -water_weight * (std::max(0.0, l.to_level - low) - std::max(0.0, l.to_level - slab));
            });
        uplift_of_ribs(before);
    }
    void uplift_of_ribs(size_t first) {
        for (size_t i = first; i < out_.areas.size(); ++i)
            out_.uplift -= out_.areas[i].a * signed_area(out_.areas[i].outline);
    }

    void press(int e, double p) {
        out_.pressure[e] += p;
        state(of_force(p * mesh_.area(e), centroid(mesh_.polygon(e))));
    }
    void state(const Resultant& r) {
        out_.stated += r;
        (r.Fz < 0 ? act_.up : act_.down) += r;
    }

    // N evenly over the part of the footprint that lies on the slab (linearly where a part is missing, so that the sums
    // are right), and the moments as an even couple: a column built into the slab turns its cross-section.
    void spread(const Polygon& outline, Point centre, double N, double Mx, double My) {
        state(of_force(N, centre));
        out_.stated.Mx += Mx, out_.stated.My += My;
        if (N == 0 && Mx == 0 && My == 0) return;
        std::vector<AreaPiece> on = parts(outline, mesh_, finder_);
        Eigen::Matrix3d sums = Eigen::Matrix3d::Zero();  // ∫ (1, x, y)ᵀ(1, x, y) about the centre
        for (const AreaPiece& p : on)
            integrate(p.outline, [&](Point q, double w) {
                const Eigen::Vector3d f(1, q.x - centre.x, q.y - centre.y);
                sums += w * f * f.transpose();
            });
        const double size = std::sqrt(std::abs(signed_area(outline)));
        if (on.empty() || sums(0, 0) < 0.05 * size * size) return point(centre, N, Mx, My);
        const Eigen::Vector3d p = sums.ldlt().solve(Eigen::Vector3d(N, 0, 0));
        for (AreaPiece& piece : on) {
            piece.origin = centre, piece.a = p[0], piece.b = {p[1], p[2]};
            piece.couple_x = Mx / sums(0, 0), piece.couple_y = My / sums(0, 0);
            piece.of_column = true;
            out_.areas.push_back(std::move(piece));
        }
    }

    void point(Point at, double N, double Mx, double My) {
        const Finder::Hit hit = finder_.nearest(at);
        out_.points.push_back({at, hit.element, N, Mx, My});
    }

    // Where it is carried, what lies over an opening goes to the rims of it.
    void line(const std::vector<Point>& path, double q0, double q1, bool is_carried = false) {
        const double whole = length_of(path);
        double done = 0, landed = 0;
        if (whole <= 0) return;
        for (size_t i = 0; i + 1 < path.size(); ++i) {
            const Point a = path[i], b = path[i + 1];
            const double l = distance(a, b);
            auto q = [&](double t) { return q0 + (q1 - q0) * (done + t * l) / whole; };
            for (double t : gauss_two) state(of_force(l / 2 * q(t), a + t * (b - a)));
            landed += lay_segment(a, b, q);
            done += l;
        }
        if (is_carried)
            for (const Span& s : opening_spans(m_, path)) {
                auto q = [&](double at) { return q0 + (q1 - q0) * at / whole; };
                carry(s, q(s.s0), q(s.s1));
                landed += s.s1 - s.s0;
            }
        tell_lost(whole - landed, whole, std::max(std::abs(q0), std::abs(q1)), "of its length", path[0]);
    }

    // Cuts a → b at every element edge; a piece on an edge that two elements share goes to the first. Returns the
    // length that found an element.
    template <class Q>
    double lay_segment(Point a, Point b, Q q) {
        const double l = distance(a, b);
        if (l <= 0) return 0;
        std::vector<std::array<double, 2>> spans;
        std::vector<int> owner;
        finder_.over(box_of({a, b}), [&](int e) {
            const Polygon p = mesh_.polygon(e);
            double t0 = 0, t1 = 1;
            for (size_t k = 0; k < p.size(); ++k) {
                const Point n = unit(left_of(p[(k + 1) % p.size()] - p[k]));
                const double da = dot(a - p[k], n) + 1e-9, db = dot(b - p[k], n) + 1e-9;
                if (da < 0 && db < 0)
                    t1 = -1;
                else if (da < 0)
                    t0 = std::max(t0, da / (da - db));
                else if (db < 0)
                    t1 = std::min(t1, da / (da - db));
            }
            if ((t1 - t0) * l > 1e-8) spans.push_back({t0, t1}), owner.push_back(e);
        });
        std::vector<size_t> order(spans.size());
        for (size_t i = 0; i < order.size(); ++i) order[i] = i;
        std::sort(order.begin(), order.end(), [&](size_t i, size_t j) {
            return spans[i][0] != spans[j][0] ? spans[i][0] < spans[j][0] : owner[i] < owner[j];
        });
        double reached = 0, landed = 0;
        for (size_t i : order) {
            const double t0 = std::max(spans[i][0], reached), t1 = spans[i][1];
            if ((t1 - t0) * l <= 1e-8) continue;
            out_.lines.push_back({a + t0 * (b - a), a + t1 * (b - a), owner[i], q(t0), q(t1)});
            landed += (t1 - t0) * l;
            reached = t1;
        }
        return landed;
    }

    void tell_lost(double missing, double whole, double size, const char* of_what, Point at) {
        if (missing > 1e-3 * whole && size != 0)
            lost_.push_back(
                {fmt::format("{:.1f} % {} lies off the slab and is not carried", 100 * missing / whole, of_what),
                 where_, "shorten it or extend the slab", Severity::warning, at});
    }

    const Model& m_;
    const Mesh& mesh_;
    const Finder& finder_;
    std::vector<Problem>& lost_;
    ColumnsById columns_;
    std::vector<BodyPart> ribs_;
    CaseLoads out_;
    Act act_;
    std::string where_;
};

}  // namespace

std::vector<CaseLoads> case_loads(const Model& model, const Mesh& mesh, const Finder& finder,
                                  std::vector<Problem>& lost) {
    CaseBuilder builder(model, mesh, finder, lost);
    std::vector<CaseLoads> out;
    for (const LoadCase& c : model.loads.cases) out.push_back(builder.build(c));
    if (model.slab.self_weight)
        for (size_t i = 0; i < out.size(); ++i)
            if (model.loads.cases[i].action == Action::permanent) {
                builder.add_weight(out[i]);
                break;
            }
    return out;
}

Eigen::MatrixXd nodal_loads(const Unknowns& of, const Mesh& mesh, const std::vector<CaseLoads>& cases) {
    Eigen::MatrixXd f = Eigen::MatrixXd::Zero(of.count(), long(cases.size()));
    const int n_elements = int(mesh.elements.size());
    // ∫ N_i over each element, once for all cases.
    std::vector<std::array<double, 4>> shares(n_elements);
    for (int e = 0; e < n_elements; ++e) {
        shares[e] = {};
        integrate_shapes(mesh, e, [&](Point, double w, const ShapeValues& N) {
            for (int k = 0; k < 4; ++k) shares[e][k] += w * N[k];
        });
    }
    auto put = [&](long c, int e, Point q, double F) {
        const auto N = weights_at(mesh, e, q);
        for (int k = 0; k < corners(mesh.elements[e]); ++k) f(of.row(mesh.elements[e][k], Unknown::s), c) += F * N[k];
    };
    auto turn = [&](long c, int e, Point q, double Mx, double My) {
        const auto N = weights_at(mesh, e, q);
        for (int k = 0; k < corners(mesh.elements[e]); ++k) {
            f(of.row(mesh.elements[e][k], Unknown::bx), c) += N[k] * My;  // bx = θy
            f(of.row(mesh.elements[e][k], Unknown::by), c) -= N[k] * Mx;  // by = −θx
        }
    };
    for (long c = 0; c < long(cases.size()); ++c) {
        for (int e = 0; e < n_elements; ++e)
            if (cases[c].pressure[e] != 0)
                for (int k = 0; k < corners(mesh.elements[e]); ++k)
                    f(of.row(mesh.elements[e][k], Unknown::s), c) += cases[c].pressure[e] * shares[e][k];
        for (const AreaPiece& p : cases[c].areas)
            integrate(p.outline, [&](Point q, double w) {
                put(c, p.element, q, w * p.at(q));
                turn(c, p.element, q, w * p.couple_x, w * p.couple_y);
            });
        for (const LinePiece& p : cases[c].lines) {  // two Gauss points: exact for a linear load on linear shapes
            const double l = distance(p.from, p.to);
            for (double t : gauss_two)
                put(c, p.element, p.from + t * (p.to - p.from), l / 2 * (p.q0 + t * (p.q1 - p.q0)));
        }
        for (const PointPiece& p : cases[c].points) {
            put(c, p.element, p.at, p.N);
            turn(c, p.element, p.at, p.Mx, p.My);
        }
    }
    return f;
}

Resultant resultant_of(const Unknowns& of, const Eigen::VectorXd& f, const std::vector<Point>& nodes) {
    Resultant r;
    for (size_t i = 0; i < nodes.size(); ++i) {
        const double F = f[of.row(long(i), Unknown::s)];
        r += {F, -F * nodes[i].y - f[of.row(long(i), Unknown::by)], F * nodes[i].x + f[of.row(long(i), Unknown::bx)]};
    }
    return r;
}

std::vector<std::vector<ColumnForce>> column_forces(const Model& model) {
    std::vector<std::vector<ColumnForce>> out(model.loads.cases.size(), std::vector<ColumnForce>(model.columns.size()));
    std::map<std::string_view, size_t> by_id;
    for (size_t k = 0; k < model.columns.size(); ++k) by_id[model.columns[k].id] = k;
    for (size_t c = 0; c < out.size(); ++c)
        for (const LoadItem& item : model.loads.cases[c].items)
            if (auto l = std::get_if<ColumnLoad>(&item.load))
                if (const auto it = by_id.find(l->column); it != by_id.end()) {
                    const size_t k = it->second;
                    const double lever = model.columns[k].pedestal_height + thickness_at(model, model.columns[k].at);
                    out[c][k].add(1, {l->N, l->Mx - l->Hy * lever, l->My + l->Hx * lever, l->Hx, l->Hy});
                }
    return out;
}

}  // namespace mossbed
