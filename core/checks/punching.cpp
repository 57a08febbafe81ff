// Punching at columns whose perimeters stay on the slab and keep clear of one another. The others, columns that pull,
// walls and heavy point loads stand in the Ledger as not checked, with the reason.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <set>

#include "core/checks/checks.h"
#include "core/codes/code.h"
#include "core/steel/extra_bars.h"

namespace mossbed {
namespace {

// A convex polygon moved outward by `a`, corners round.
Polygon spread_out(const Polygon& p, double a) {
    Polygon out;
    for (size_t i = 0; i < p.size(); ++i) {
        const Point last = p[(i + p.size() - 1) % p.size()], b = p[i], next = p[(i + 1) % p.size()];
        const Point n0 = unit(left_of(last - b)), n1 = unit(left_of(b - next));
        const double t0 = std::atan2(n0.y, n0.x),
                     turn = std::remainder(std::atan2(n1.y, n1.x) - t0, 2 * 3.14159265358979);
        const int arcs = std::max(1, int(std::ceil(std::abs(turn) / 0.2)));
        // chords bulge out so that the area is that of the arc
        const double bulge = std::sqrt(std::abs(turn / arcs) / std::max(1e-12, std::sin(std::abs(turn / arcs))));
        for (int k = 0; k <= arcs; ++k) {
            const double r = k == 0 || k == arcs ? a : a * bulge;
            out.push_back(b + r * Point{std::cos(t0 + turn * k / arcs), std::sin(t0 + turn * k / arcs)});
        }
    }
    return without_repeats(out, 1e-9);
}

bool is_convex(const Polygon& p) {
    for (size_t i = 0; i < p.size(); ++i)
        if (cross(p[(i + 1) % p.size()] - p[i], p[(i + 2) % p.size()] - p[(i + 1) % p.size()]) < -1e-9) return false;
    return true;
}

bool lies_within(const Polygon& inner, const Polygon& outer) {
    for (Point q : inner)
        if (!contains(outer, q)) return false;
    for (size_t i = 0; i < inner.size(); ++i)
        for (size_t j = 0; j < outer.size(); ++j)
            if (segment_crossing(inner[i], inner[(i + 1) % inner.size()], outer[j], outer[(j + 1) % outer.size()]))
                return false;
    return true;
}

bool touches(const Polygon& a, const Polygon& b) {
    return contains(a, b[0]) || contains(b, a[0]) || [&] {
        for (size_t i = 0; i < a.size(); ++i)
            for (size_t j = 0; j < b.size(); ++j)
                if (segment_crossing(a[i], a[(i + 1) % a.size()], b[j], b[(j + 1) % b.size()])) return true;
        return false;
    }();
}

// What lies inside a perimeter, by nodes and elements: pressure times the first, slab loads times the second.
struct Inside {
    std::vector<std::pair<int, double>> nodes, elements;  // ∫N_i, area
};
// The perimeter `a_perimeter` m round a convex loaded area. Elements whose corners are all nearer to it than that lie
// wholly inside (the perimeter is convex) and need no clipping.
Inside inside_of(const Polygon& perimeter, const Polygon& loaded, double a_perimeter, const Answer& a,
                 const Finder& finder) {
    const Mesh& mesh = a.mesh;
    Inside out;
    finder.over(box_of(perimeter), [&](int e) {
        const Polygon whole = mesh.polygon(e);
        const bool all_inside = a_perimeter > 0 && std::all_of(whole.begin(), whole.end(), [&](Point q) {
                                    return contains(loaded, q) || distance_to_rim(loaded, q) < 0.99 * a_perimeter;
                                });
        const Polygon part = all_inside ? whole : clip_to_convex(perimeter, whole);
        if (part.size() < 3) return;
        std::array<double, 4> w{};
        double area = 0;
        integrate(part, [&](Point q, double f) {
            const auto N = weights_at(mesh, e, q);
            for (int k = 0; k < 4; ++k) w[k] += f * N[k];
            area += f;
        });
        if (area <= 0) return;
        out.elements.push_back({e, area});
        for (int k = 0; k < corners(mesh.elements[e]); ++k) {
            const int node = mesh.elements[e][k];
            out.nodes.push_back({node, w[k] * a.pressure_beside(e, node)});
        }
    });
    return out;
}

// Point and line loads of one case within a perimeter, kN down and kN up apart.
struct LoadsInside {
    double down = 0, up = 0;
};
LoadsInside loads_inside(const Polygon& perimeter, const CaseLoads& loads) {
    LoadsInside out;
    const Box box = box_of(perimeter);
    auto add = [&](Point at, double N) {
        if (N != 0 && box.overlaps({at, at}) && contains(perimeter, at)) (N > 0 ? out.down : out.up) += N;
    };
    for (const PointPiece& p : loads.points) add(p.at, p.N);
    for (const LinePiece& l : loads.lines) {
        const Box along{{std::min(l.from.x, l.to.x), std::min(l.from.y, l.to.y)},
                        {std::max(l.from.x, l.to.x), std::max(l.from.y, l.to.y)}};
        if (!box.overlaps(along)) continue;
        constexpr int parts = 8;
        for (int k = 0; k < parts; ++k) {
            const double t = (k + 0.5) / parts;
            add(l.from + t * (l.to - l.from), distance(l.from, l.to) / parts * (l.q0 + t * (l.q1 - l.q0)));
        }
    }
    return out;
}

bool is_design(const CombinationAnswer& c) { return c.combination.purpose == "strength" && c.is_solved(); }

// Mean effective depth of both layers of the bottom face, m, in a slab h thick.
double mean_bottom_depth(const Answer& a, double h) {
    const auto size = [&](Direction d) {
        return a.steel.base(Face::bottom, d).diameter > 0 ? a.steel.base(Face::bottom, d).diameter : 16.0;
    };
    const Direction outer = a.model->steel.outer_bottom;
    const double phi_o = size(outer), phi_i = size(outer == Direction::x ? Direction::y : Direction::x);
    return h - (a.model->steel.cover_bottom + (phi_o / 2 + (phi_o + phi_i / 2)) / 2) / 1000;
}

constexpr int rings = 40;  // distances at which the inside of perimeters is integrated; linear between

class ColumnPunching {
  public:
    ColumnPunching(const Answer& a, const DesignCode& code, const std::vector<CaseLoads>& cases,
                   const std::vector<std::vector<double>>& slab_loads,
                   const std::vector<std::vector<ColumnForce>>& forces, const ExtraBarsProvision& extra,
                   const Finder& finder, int column)
        : a_(a),
          m_(*a.model),
          code_(code),
          cases_(cases),
          loads_(slab_loads),
          forces_(forces),
          extra_(extra),
          finder_(finder),
          k_(column),
          column_(m_.columns[column]) {}

    std::optional<PunchingAnswer> answer;
    Row row;

    void run() {
        row.id = "punching", row.title = "Punching " + column_.id, row.item = column_.id, row.unit = "MPa",
        row.at = column_.at, row.clause = code_.punching_clause();
        const double h = thickness_at(m_, column_.at);
        const double d = mean_bottom_depth(a_, h);
        if (d <= 0) return refuse("The covers leave no effective depth; thicken the slab.");
        const Polygon rim = outer_rim(m_.slab.outline, 0.1);
        const Polygon loaded = footprint(column_);
        if (!lies_within(spread_out(loaded, code_.furthest_perimeter(d)), rim))
            return refuse(
                "Its control perimeter leaves the slab; edge and corner columns are not worked out in this version.");
        if (auto hole = inner_rim(m_.slab.outline, 0.1);
            hole && touches(spread_out(loaded, code_.furthest_perimeter(d)), *hole))
            return refuse(
                "Its control perimeter reaches the hole of the ring; edge columns are not worked out in this version.");

        // A step in thickness near by: perimeters stop at the step, and go round it once more with the slab's depth.
        double furthest = 1e300;
        const SlabPatch* under = nullptr;
        for (const SlabPatch& t : m_.slab.patches)
            if (contains(t.outline, column_.at)) under = &t;
        const Polygon reach = spread_out(loaded, code_.furthest_perimeter(d));
        if (under && under->thickness == m_.slab.thickness) under = nullptr;  // another concrete, no step
        for (const SlabPatch& t : m_.slab.patches)
            if (&t != under && t.thickness != h && touches(reach, t.outline))
                return refuse("A thickness step of patch " + t.id +
                              " crosses its perimeters, which is not worked out in this version.");
        if (under && !lies_within(reach, anticlockwise(under->outline))) {
            const Polygon step = anticlockwise(under->outline);
            if (!lies_within(loaded, step))
                return refuse("Its footprint crosses the edge of patch " + under->id +
                              ", which is not worked out in this version.");
            if (!is_convex(step) || under->thickness < m_.slab.thickness)
                return refuse(
                    "The step of patch " + under->id +
                    " has a re-entrant corner or is thinner than the slab, which is not worked out in this version.");
            const double d_slab = mean_bottom_depth(a_, m_.slab.thickness);
            if (!lies_within(spread_out(step, code_.furthest_perimeter(d_slab)), rim))
                return refuse("The perimeter beyond patch " + under->id +
                              " leaves the slab, which is not worked out in this version.");
            furthest = 1e300;
            for (Point q : loaded) furthest = std::min(furthest, distance_to_rim(step, q));
            judge(step, d_slab, m_.slab.thickness, 1e300, "step");
        }
        judge(loaded, d, h, furthest, "perimeter");
        finish();
    }

  private:
    // Bottom steel ratio over the column's width and 3 d to each side, 6.4.4(1): base bars, and extra bars as far as
    // they are anchored beyond the perimeter furthest out, whose half along the bars is `half_along` m.
    double ratio(Direction dir, double d, double half_along) const {
        double area = a_.steel.base(Face::bottom, dir).area();
        const double half = column_.smaller_size() / 2 + 3 * d;
        const Point along = dir == Direction::x ? Point{1, 0} : Point{0, 1}, across = left_of(along);
        for (size_t e = 0; e < extra_.count(); ++e) {
            const ExtraBars& bars = extra_.bars(e);
            if (bars.face != Face::bottom || bars.direction != dir) continue;
            if (!extra_.clear_between(e, a_.steel.base(Face::bottom, dir)).fits()) continue;
            double share = 0;
            constexpr int samples = 32;
            for (int k = 0; k < samples; ++k)
                share += extra_.anchored(e, column_.at + (half * ((2 * k + 1.0) / samples - 1)) * across, half_along);
            area += share / samples * extra_.area(e);
        }
        return area / (1000 * 1000 * d);
    }

    // The weakest concrete that a perimeter may pass through, MPa.
    double weakest_concrete(const Polygon& reach) const {
        double fck = 1e300;
        bool all_in_one = false;
        for (auto it = m_.slab.patches.rbegin(); it != m_.slab.patches.rend() && !all_in_one; ++it) {
            if (!touches(reach, it->outline)) continue;
            fck = std::min(fck, concrete_of(m_, it->concrete).fck);
            all_in_one = lies_within(reach, anticlockwise(it->outline));
        }
        return all_in_one ? fck : std::min(fck, concrete_of(m_, m_.slab.concrete).fck);
    }

    void refuse(std::string why) { row.note = std::move(why); }

    void judge(const Polygon& loaded, double d, double h, double furthest, const char* governs) {
        PunchingCase p;
        p.loaded = loaded, p.centre = column_.at, p.angle = column_.angle, p.d = d, p.furthest = furthest;
        const bool of_column = std::string(governs) == "perimeter";
        p.round = column_.round() && of_column;
        p.c1 = column_.size[0], p.c2 = column_.round() ? column_.size[0] : column_.size[1];
        if (std::string(governs) == "step") {
            const Box b = box_of(loaded);
            p.c1 = b.width(), p.c2 = b.height(), p.angle = 0;
        }
        for (const Opening& o : m_.slab.openings) p.openings.push_back(anticlockwise(o.outline));
        const double last = std::min(code_.furthest_perimeter(d), furthest);
        const Polygon outmost = spread_out(loaded, last);
        const Box extent = box_of(outmost);
        p.rho_x = ratio(Direction::x, d, std::max(extent.high.x - column_.at.x, column_.at.x - extent.low.x));
        p.rho_y = ratio(Direction::y, d, std::max(extent.high.y - column_.at.y, column_.at.y - extent.low.y));
        p.fck = weakest_concrete(outmost);
        std::vector<Inside> inside(rings + 1);
        inside[0] = inside_of(loaded, loaded, 0, a_, finder_);
        std::vector<std::vector<LoadsInside>> others(rings + 1, std::vector<LoadsInside>(cases_.size()));
        for (int i = 0; i <= rings; ++i) {
            const Polygon ring = i == 0 ? loaded : spread_out(loaded, last * i / rings);
            if (i > 0) inside[i] = inside_of(ring, loaded, last * i / rings, a_, finder_);
            for (size_t k = 0; k < cases_.size(); ++k)
                if (!cases_[k].points.empty() || !cases_[k].lines.empty()) others[i][k] = loads_inside(ring, cases_[k]);
        }
        for (size_t c = 0; c < a_.combinations.size(); ++c) {
            const CombinationAnswer& comb = a_.combinations[c];
            if (!is_design(comb)) continue;
            any_ = true;
            ColumnForce f;
            for (size_t i = 0; i < a_.cases.size(); ++i) f.add(factor_in(comb, a_.cases[i].id), forces_[i][k_]);
            if (f.N < most_pull_) most_pull_ = f.N, pulls_in_ = comb.combination.id;
            if (p.round && length({f.My, f.Mx}) > 0)  // a round column has no axes of its own: the resultant moment
                p.angle = std::atan2(-f.Mx, f.My) * 180 / 3.14159265358979323846;
            const Point along = turned({f.My, -f.Mx}, -p.angle);  // where the force is moved to, in the column's axes
            p.V = f.N, p.M1 = along.x, p.M2 = p.round ? 0 : along.y;
            std::array<double, rings + 1> relief{};
            for (int i = 0; i <= rings; ++i) {
                for (auto [node, w] : inside[i].nodes) relief[i] += w * comb.spring[node];
                for (auto [e, area] : inside[i].elements) relief[i] -= area * loads_[c][e];
                for (size_t k = 0; k < cases_.size(); ++k)  // what else presses inside the perimeter counts in full
                    if (const double F = factor_in(comb, a_.cases[k].id); F != 0)
                        relief[i] -= std::max(0.0, F * others[i][k].down) + std::max(0.0, F * others[i][k].up);
            }
            p.relief = [&relief, last](double a) {
                const double t = std::clamp(a / last * rings, 0.0, double(rings));
                const int i = std::min(rings - 1, int(t));
                return relief[i] + (t - i) * (relief[i + 1] - relief[i]);
            };
            Working by;
            const PunchingVerdict v = code_.punching(p, &by);
            const double face_use = v.face && of_column ? v.face->utilisation : 0;
            const double use = std::max(v.utilisation, face_use);
            if (std::isnan(v.utilisation) || std::isnan(face_use)) no_number_ = true;
            if (answer && !(use > answer->utilisation)) continue;
            PunchingAnswer out;
            out.id = column_.id, out.combination = comb.combination.id, out.perimeter = v.perimeter, out.V = f.N,
            out.relief = v.relief, out.V_net = v.V_net;
            out.beta = v.beta, out.v_from_moment = v.v_from_moment, out.v = v.v, out.v_limit = v.v_limit,
            out.utilisation = use, out.face = v.face;
            out.governs = face_use > v.utilisation ? "face" : governs;
            out.outline = spread_out(loaded, v.a);
            answer = out;
            working_ = std::move(by.lines);
        }
    }

    void finish() {
        if (!any_) return refuse("There is no solved strength combination to check it with.");
        if (!answer) return refuse("No force comes down this column in a strength combination.");
        const bool face = answer->governs == "face";
        row.value = face ? answer->face->v : answer->v, row.limit = face ? answer->face->v_limit : answer->v_limit;
        row.combination = answer->combination;
        row.judge(answer->utilisation);
        row.working = working_;
        if (row.status == Status::over) {
            row.note =
                std::isinf(answer->utilisation)
                    ? "Openings near by shade the whole perimeter: nothing is left to carry it. Move them away."
                : face
                    ? "Stress at the column's face: a larger column, stronger concrete or a thicker slab would mend it."
                    : "A thicker slab, a patch round the column, more bottom steel or stronger concrete would mend it.";
            return;
        }
        if (no_number_) return leave_open("A stress of its perimeters came out as no number.");
        if (most_pull_ < -1e-6)
            return leave_open(
                fmt::format("It pulls with {:.0f} kN in {}: punching upward is not worked out in this "
                            "version.{}",
                            -most_pull_, pulls_in_, answer->V > 0 ? alone("Downward") : ""));
        if (const std::string near = what_meets_it(); !near.empty())
            return leave_open(
                fmt::format("Its perimeter meets {}: what acts together is not checked as one in this "
                            "version.{}",
                            near, alone("Alone")));
    }
    void leave_open(std::string why) {
        row.status = Status::not_checked, row.utilisation.reset();
        row.note = std::move(why);
    }
    std::string alone(const char* how) const { return fmt::format(" {} its use is {:.2f}.", how, answer->utilisation); }

    // How far a column's perimeters may reach: round its footprint, and round the thicker patch that it stands on.
    std::vector<Polygon> reaches_of(const Column& c) const {
        auto furthest = [&](double h) { return code_.furthest_perimeter(std::max(1e-3, mean_bottom_depth(a_, h))); };
        std::vector<Polygon> out{spread_out(footprint(c), furthest(thickness_at(m_, c.at)))};
        for (const SlabPatch& t : m_.slab.patches)
            if (t.thickness > m_.slab.thickness && contains(t.outline, c.at) &&
                !lies_within(out[0], anticlockwise(t.outline)))
                out.push_back(spread_out(convex_hull(t.outline), furthest(m_.slab.thickness)));
        return out;
    }

    // Another column's perimeter, or a wall, that this column's perimeters touch; empty when there is none.
    std::string what_meets_it() const {
        const std::vector<Polygon> mine = reaches_of(column_);
        auto met = [&](const Polygon& theirs) {
            return std::any_of(mine.begin(), mine.end(), [&](const Polygon& p) {
                return box_of(p).overlaps(box_of(theirs)) && touches(p, theirs);
            });
        };
        Box box;
        for (const Polygon& p : mine)
            for (Point q : p) box.add(q);
        double far = code_.furthest_perimeter(m_.slab.thickness);  // no perimeter of another reaches further than this
        for (const SlabPatch& t : m_.slab.patches) {
            const Box b = box_of(t.outline);
            far = std::max(far, code_.furthest_perimeter(t.thickness) + b.width() + b.height());
        }
        for (const Column& c : m_.columns) {
            if (&c == &column_) continue;
            const double wide = far + c.size[0] + c.size.back();
            if (Box reach{box.low - Point{wide, wide}, box.high + Point{wide, wide}}; !reach.overlaps({c.at, c.at}))
                continue;
            for (const Polygon& theirs : reaches_of(c))
                if (met(theirs)) return "that of column " + c.id;
        }
        for (const Wall& w : m_.walls)
            for (size_t i = 0; i + 1 < w.path.size(); ++i)
                if (met(body_of(w, i))) return "wall " + w.id;
        return "";
    }

    const Answer& a_;
    const Model& m_;
    const DesignCode& code_;
    const std::vector<CaseLoads>& cases_;
    const std::vector<std::vector<double>>& loads_;
    const std::vector<std::vector<ColumnForce>>& forces_;
    const ExtraBarsProvision& extra_;
    const Finder& finder_;
    int k_;
    const Column& column_;
    bool any_ = false, no_number_ = false;
    double most_pull_ = 0;  // kN, negative
    std::string pulls_in_;
    std::vector<WorkingLine> working_;
};

// Loads without a column under which they punch: points, ends and corners of lines, areas so small that they act as
// one.
struct Spot {
    Point at;
    std::string item;  // "G item 3"
    const char* what;  // "point load"
};

std::vector<Spot> concentrated_loads(const Answer& a) {
    const Model& m = *a.model;
    std::vector<Spot> spots;
    std::set<std::pair<long, long>> seen;  // one a place, to 50 mm
    for (const LoadCase& c : m.loads.cases) {
        int n = 0;
        for (const LoadItem& item : c.items) {
            const std::string name = fmt::format("{} item {}", c.id, ++n);
            auto add = [&](Point at, const char* what) {
                if (seen.insert({std::lround(at.x / 0.05), std::lround(at.y / 0.05)}).second)
                    spots.push_back({at, name, what});
            };
            if (const auto* p = std::get_if<PointLoad>(&item.load)) add(p->at, "point load");
            if (const auto* l = std::get_if<LineLoad>(&item.load))
                for (Point q : l->path) add(q, "line load");
            if (const auto* l = std::get_if<AreaLoad>(&item.load)) {
                const Box b = box_of(l->outline);
                if (std::max(b.width(), b.height()) < 4 * mean_bottom_depth(a, thickness_at(m, b.middle())))
                    add(centroid(l->outline), "area load");
            }
        }
    }
    return spots;
}

// kN within `reach` of a place in one combination, whatever their sense, and kN·m.
std::pair<double, double> force_near(const Answer& a, const CombinationAnswer& c, const std::vector<CaseLoads>& cases,
                                     Point at, double reach) {
    const Polygon circle = round_polygon(at, reach, 32);
    const Box box = box_of(circle);
    double N = 0, M = 0;
    for (size_t k = 0; k < cases.size(); ++k) {
        const double f = std::abs(factor_in(c, a.cases[k].id));
        if (f == 0) continue;
        const LoadsInside in = loads_inside(circle, cases[k]);
        N += f * (in.down - in.up);
        for (const PointPiece& p : cases[k].points)
            if (distance(p.at, at) < reach) M += f * std::hypot(p.Mx, p.My);
        for (const LoadItem& item : a.model->loads.cases[k].items)
            if (const auto* l = std::get_if<AreaLoad>(&item.load); l && box.overlaps(box_of(l->outline)))
                N += f * std::abs(l->p * signed_area(clip_to_convex(l->outline, circle)));
    }
    return {N, M};
}

// Walls punch at their ends and corners, other loads where they stand: neither is worked out, so both say so. A load is
// left alone while it is so light that no slab edge near by could make it punch: all that stands within 2d of it
// together no more than a quarter of a perimeter bears with its least strength, π v_min d² (2 π a/4 · d · v_min 2d/a).
void say_of_walls_and_concentrated_loads(Answer& a, const DesignCode& code, const std::vector<CaseLoads>& cases) {
    const Model& m = *a.model;
    if (std::none_of(a.combinations.begin(), a.combinations.end(), is_design)) return;
    auto open = [&](std::string item, std::string title, std::string note, Point at) {
        Row row;
        row.id = "punching", row.item = std::move(item), row.title = std::move(title), row.note = std::move(note);
        row.at = at, row.clause = code.punching_clause();
        a.checks.push_back(std::move(row));
    };
    for (const Wall& w : m.walls)
        if (w.path.size() > 1)
            open(w.id, "Punching at wall " + w.id,
                 "The ends and corners of a wall punch; they are not worked out in this version.", w.path[0]);
    std::set<std::string> told;
    for (const Spot& s : concentrated_loads(a)) {
        if (told.count(s.item)) continue;
        const double h = thickness_at(m, s.at), d = std::max(0.0, mean_bottom_depth(a, h));
        double most = 0, moment = 0;
        std::string in;
        for (const CombinationAnswer& c : a.combinations) {
            if (!is_design(c)) continue;
            const auto [N, M] = force_near(a, c, cases, s.at, std::max(2 * d, 1e-3));
            if (N > most) most = N, in = c.combination.id;
            moment = std::max(moment, M);
        }
        double bears = 0;
        if (d > 0) {
            const FlexureSection metre{
                1000, 1000 * h, 1000 * d, concrete_of(m, m.slab.concrete).fck, steel_of(m).fyk, steel_of(m).E};
            bears = 3.14159265358979 * code.shear_borne(metre, 0) * d;  // shear_borne: kN/m = 1000 v_min d
        }
        if (most <= bears && moment == 0) continue;
        told.insert(s.item);
        open(s.item, fmt::format("Punching at {} {}", s.what, s.item),
             fmt::format(
                 "{:.0f} kN{} within 2d of ({:.2f}, {:.2f}) in {}: a load without a column is not worked out in this "
                 "version; give a column there.",
                 most, moment > 0 ? " and moments" : "", s.at.x, s.at.y, in),
             s.at);
    }
}

}  // namespace

void check_punching(Answer& a, const std::vector<CaseLoads>& cases, const Finder& finder) {
    const Model& m = *a.model;
    if (m.columns.empty() && m.walls.empty() && concentrated_loads(a).empty()) return;
    const auto code = make_code(m.settings);
    if (!code) {
        Row row;
        row.id = "punching", row.title = "Punching",
        row.note = fmt::format("The design code {} is not in this version; use EN 1992-1-1.", m.settings.design_code);
        a.checks.push_back(row);
        return;
    }
    // Slab loads per combination and element, kPa: what acts evenly, and area loads by their mean over the element.
    std::vector<std::vector<double>> spread(cases.size(), std::vector<double>(a.mesh.elements.size(), 0.0));
    for (size_t i = 0; i < cases.size(); ++i) {
        spread[i] = cases[i].pressure;
        for (const AreaPiece& p : cases[i].areas)
            if (!p.of_column) spread[i][p.element] += p.a * signed_area(p.outline) / a.mesh.area(p.element);
    }
    std::vector<std::vector<double>> loads(a.combinations.size(), std::vector<double>(a.mesh.elements.size(), 0.0));
    for (size_t c = 0; c < a.combinations.size(); ++c)
        for (size_t i = 0; i < cases.size(); ++i)
            if (const double f = factor_in(a.combinations[c], a.cases[i].id); f != 0)
                for (size_t e = 0; e < a.mesh.elements.size(); ++e) loads[c][e] += f * spread[i][e];
    const auto forces = column_forces(m);
    const ExtraBarsProvision extra(m, code.get());
    std::vector<std::unique_ptr<ColumnPunching>> columns;
    for (int k = 0; k < int(m.columns.size()); ++k)
        columns.push_back(std::make_unique<ColumnPunching>(a, *code, cases, loads, forces, extra, finder, k));
    tbb::parallel_for(size_t(0), columns.size(), [&](size_t k) { columns[k]->run(); });
    for (auto& c : columns) {
        if (c->answer) a.punching.push_back(*c->answer);
        a.checks.push_back(c->row);
    }
    say_of_walls_and_concentrated_loads(a, *code, cases);
}

}  // namespace mossbed
