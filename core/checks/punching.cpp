// Punching at columns whose perimeters stay on the slab. The others stand in the Ledger as not checked.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include "core/checks/checks.h"
#include "core/codes/code.h"

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
Inside inside_of(const Polygon& perimeter, const Mesh& mesh, const Finder& finder) {
    Inside out;
    finder.over(box_of(perimeter), [&](int e) {
        const Polygon part = clip_to_convex(perimeter, mesh.polygon(e));
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
        for (int k = 0; k < corners(mesh.elements[e]); ++k) out.nodes.push_back({mesh.elements[e][k], w[k]});
    });
    return out;
}

constexpr int rings = 40;  // distances at which the inside of perimeters is integrated; linear between

class ColumnPunching {
  public:
    ColumnPunching(const Answer& a, const DesignCode& code, const std::vector<std::vector<double>>& slab_loads,
                   const std::vector<std::vector<ColumnForce>>& forces, const Finder& finder, int column)
        : a_(a),
          m_(*a.model),
          code_(code),
          loads_(slab_loads),
          forces_(forces),
          finder_(finder),
          k_(column),
          column_(m_.columns[column]) {}

    std::optional<PunchingAnswer> answer;
    Row row;

    void run() {
        row.id = "punching", row.title = "Punching " + column_.id, row.item = column_.id, row.unit = "MPa",
        row.at = column_.at, row.clause = code_.punching_clause();
        const double h = thickness_at(m_, column_.at);
        const double d = mean_depth(h);
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
        for (const SlabPatch& t : m_.slab.patches)
            if (&t != under && touches(reach, t.outline))
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
            const double d_slab = mean_depth(m_.slab.thickness);
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
    double mean_depth(double h) const {  // m, bottom face, mean of both layers
        const auto size = [&](Direction d) {
            return a_.steel.base(Face::bottom, d).diameter > 0 ? a_.steel.base(Face::bottom, d).diameter : 16.0;
        };
        const Direction outer = m_.steel.outer_bottom;
        const double phi_o = size(outer), phi_i = size(outer == Direction::x ? Direction::y : Direction::x);
        return h - (m_.steel.cover_bottom + (phi_o / 2 + (phi_o + phi_i / 2)) / 2) / 1000;
    }

    // Bottom steel ratio over the column's width and 3 d to each side, 6.4.4(1).
    double ratio(Direction dir, double d) const {
        double area = a_.steel.base(Face::bottom, dir).area();
        const double half = column_.smaller_size() / 2 + 3 * d;
        for (const ExtraBars& e : m_.steel.extra) {
            if (e.face != Face::bottom || e.direction != dir || e.spacing <= 0) continue;
            int inside = 0;
            const Point across = dir == Direction::x ? Point{0, 1} : Point{1, 0};
            for (int k = 0; k < 32; ++k)
                inside += contains(e.outline, column_.at + (half * ((k + 0.5) / 16 - 1)) * across);
            area += inside / 32.0 * 3.14159265358979 / 4 * e.diameter * e.diameter * 1000 / e.spacing;
        }
        return area / (1000 * 1000 * d);
    }

    void refuse(std::string why) { row.note = std::move(why); }

    void judge(const Polygon& loaded, double d, double h, double furthest, const char* governs) {
        PunchingCase p;
        p.loaded = loaded, p.centre = column_.at, p.angle = column_.angle, p.d = d, p.furthest = furthest;
        p.round = column_.round() && std::string(governs) == "perimeter";
        p.c1 = column_.size[0], p.c2 = column_.round() ? column_.size[0] : column_.size[1];
        if (std::string(governs) == "step") {
            const Box b = box_of(loaded);
            p.c1 = b.width(), p.c2 = b.height(), p.angle = 0;
        }
        p.rho_x = ratio(Direction::x, d), p.rho_y = ratio(Direction::y, d);
        p.fck = concrete_of(m_, m_.slab.concrete).fck;
        for (const Opening& o : m_.slab.openings) p.openings.push_back(anticlockwise(o.outline));
        const double last = std::min(code_.furthest_perimeter(d), furthest);
        std::vector<Inside> inside(rings + 1);
        inside[0] = inside_of(loaded, a_.mesh, finder_);
        for (int i = 1; i <= rings; ++i) inside[i] = inside_of(spread_out(loaded, last * i / rings), a_.mesh, finder_);
        for (size_t c = 0; c < a_.combinations.size(); ++c) {
            const CombinationAnswer& comb = a_.combinations[c];
            if (comb.combination.purpose != "strength" || !comb.is_solved()) continue;
            any_ = true;
            ColumnForce f;
            for (size_t i = 0; i < a_.cases.size(); ++i)
                if (auto it = comb.combination.factors.find(a_.cases[i].id); it != comb.combination.factors.end())
                    f.add(it->second, forces_[i][k_]);
            const Point along = turned({f.My, -f.Mx}, -p.angle);  // where the force is moved to, in the column's axes
            p.V = f.N, p.M1 = along.x, p.M2 = along.y;
            std::array<double, rings + 1> relief{};
            for (int i = 0; i <= rings; ++i) {
                for (auto [node, w] : inside[i].nodes) relief[i] += w * comb.spring[node];
                for (auto [e, area] : inside[i].elements) relief[i] -= area * loads_[c][e];
            }
            p.relief = [&relief, last](double a) {
                const double t = std::clamp(a / last * rings, 0.0, double(rings));
                const int i = std::min(rings - 1, int(t));
                return relief[i] + (t - i) * (relief[i + 1] - relief[i]);
            };
            Working by;
            const PunchingVerdict v = code_.punching(p, &by);
            const double face_use = v.face && std::string(governs) == "perimeter" ? v.face->utilisation : 0;
            const double use = std::max(v.utilisation, face_use);
            if (answer && use <= answer->utilisation) continue;
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
        if (row.status == Status::over)
            row.note =
                face
                    ? "Stress at the column's face: a larger column, stronger concrete or a thicker slab would mend it."
                    : "A thicker slab, a patch round the column, more bottom steel or stronger concrete would mend it.";
    }

    const Answer& a_;
    const Model& m_;
    const DesignCode& code_;
    const std::vector<std::vector<double>>& loads_;
    const std::vector<std::vector<ColumnForce>>& forces_;
    const Finder& finder_;
    int k_;
    const Column& column_;
    bool any_ = false;
    std::vector<WorkingLine> working_;
};

}  // namespace

void check_punching(Answer& a, const std::vector<CaseLoads>& cases, const Finder& finder) {
    const Model& m = *a.model;
    if (m.columns.empty()) return;
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
            if (auto it = a.combinations[c].combination.factors.find(a.cases[i].id);
                it != a.combinations[c].combination.factors.end())
                for (size_t e = 0; e < a.mesh.elements.size(); ++e) loads[c][e] += it->second * spread[i][e];
    const auto forces = column_forces(m);
    std::vector<std::unique_ptr<ColumnPunching>> columns;
    for (int k = 0; k < int(m.columns.size()); ++k)
        columns.push_back(std::make_unique<ColumnPunching>(a, *code, loads, forces, finder, k));
    tbb::parallel_for(size_t(0), columns.size(), [&](size_t k) { columns[k]->run(); });
    for (auto& c : columns) {
        if (c->answer) a.punching.push_back(*c->answer);
        a.checks.push_back(c->row);
    }
}

}  // namespace mossbed
