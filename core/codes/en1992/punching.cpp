#include <fmt/format.h>

#include <limits>
#include <numbers>

#include "core/codes/en1992/european_code.h"

namespace mossbed {
namespace {

constexpr double pi = std::numbers::pi;

// Share k of a moment that unbalanced shear takes, Table 6.1; c1 lies along the eccentricity.
double share_of_moment(double c1, double c2) {
    const double r = c1 / c2;
    if (r <= 0.5) return 0.45;
    if (r <= 1) return 0.45 + (r - 0.5) / 0.5 * 0.15;
    if (r <= 2) return 0.6 + (r - 1) * 0.1;
    return std::min(0.8, 0.7 + (r - 2) * 0.1);
}

struct Perimeter {
    double u = 0, W1 = 0, W2 = 0;  // m, m²: W = ∫|e| dl about the column's axes, (6.40)
};

// The wedge that an opening shades, seen from the column's centre, 6.4.2(3) and Figure 6.14.
struct Wedge {
    double middle, half;  // angles
    bool has(double t) const { return std::abs(std::remainder(t - middle, 2 * pi)) < half; }
};
std::vector<Wedge> wedges(const PunchingCase& p) {
    std::vector<Wedge> out;
    for (const Polygon& o : p.openings) {
        double gap = 1e300;
        for (size_t i = 0; i < o.size(); ++i)
            for (Point q : {o[i], o[(i + 1) % o.size()]})
                gap = std::min(gap, contains(p.loaded, q) ? 0 : distance_to_rim(p.loaded, q));
        for (Point q : p.loaded) gap = std::min(gap, distance_to_rim(o, q));
        if (gap > 6 * p.d) continue;
        const Point to = centroid(o) - p.centre;
        const double middle = std::atan2(to.y, to.x);
        double low = 0, high = 0, near = 1e300, far = 0, side = 0;
        for (Point q : o) {
            const Point r = q - p.centre;
            const double t = std::remainder(std::atan2(r.y, r.x) - middle, 2 * pi);
            low = std::min(low, t), high = std::max(high, t);
            const double along = dot(r, unit(to));
            near = std::min(near, along), far = std::max(far, along);
            side = std::max(side, std::abs(cross(r, unit(to))));
        }
        const double l1 = far - near, l2 = 2 * side;
        const double wider = l1 > l2 && l2 > 0 ? std::sqrt(l1 / l2) : 1;  // l2 becomes √(l1 l2)
        out.push_back({middle + (low + high) / 2, (high - low) / 2 * wider});
    }
    return out;
}

Perimeter perimeter_at(const PunchingCase& p, double a, const std::vector<Wedge>& shade) {
    if (shade.empty() && p.round) {
        const double D = p.c1 + 2 * a;
        return {pi * D, D * D, D * D};
    }
    const bool rectangle = p.loaded.size() == 4 && std::abs(signed_area(p.loaded) - p.c1 * p.c2) < 1e-9;
    if (shade.empty() && rectangle) {
        auto W = [&](double c1, double c2) {
            return c1 * c1 / 2 + c1 * c2 + 2 * c2 * a + 4 * a * a + pi * a * c1;
        };  // (6.41) at a
        return {2 * (p.c1 + p.c2) + 2 * pi * a, W(p.c1, p.c2), W(p.c2, p.c1)};
    }
    Perimeter out;
    const Point e1 = turned({1, 0}, p.angle), e2 = turned({0, 1}, p.angle);
    auto piece = [&](Point from, Point to) {
        const Point m = 0.5 * (from + to) - p.centre;
        const double t = std::atan2(m.y, m.x), l = distance(from, to);
        for (const Wedge& w : shade)
            if (w.has(t)) return;
        out.u += l, out.W1 += std::abs(dot(m, e1)) * l, out.W2 += std::abs(dot(m, e2)) * l;
    };
    const Polygon& q = p.loaded;
    for (size_t i = 0; i < q.size(); ++i) {
        const Point last = q[(i + q.size() - 1) % q.size()], b = q[i], next = q[(i + 1) % q.size()];
        const Point n0 = unit(left_of(last - b)),
                    n1 = unit(left_of(b - next));  // outward normals of the sides before and after
        const double t0 = std::atan2(n0.y, n0.x), turn = std::remainder(std::atan2(n1.y, n1.x) - t0, 2 * pi);
        const int arcs = std::max(1, int(std::abs(turn) / (pi / 60)));
        for (int k = 0; k < arcs; ++k) {
            auto on = [&](int j) {
                return b + a * Point{std::cos(t0 + turn * j / arcs), std::sin(t0 + turn * j / arcs)};
            };
            piece(on(k), on(k + 1));
        }
        const Point from = b + a * n1, to = next + a * n1;
        for (int k = 0; k < 40; ++k) piece(from + (k / 40.0) * (to - from), from + ((k + 1) / 40.0) * (to - from));
    }
    return out;
}

}  // namespace

PunchingVerdict EuropeanCode::punching(const PunchingCase& p, Working* by) const {
    const double d = p.d, d_mm = 1000 * d, fck = p.fck;
    const double k = std::min(2.0, 1 + std::sqrt(200 / d_mm));
    const double rho = std::min(0.02, std::sqrt(p.rho_x * p.rho_y));
    const double v_basic = n_.C_Rdc / n_.gamma_c * k * std::cbrt(100 * rho * fck);
    const double v_least = n_.v_min * std::pow(k, 1.5) * std::sqrt(fck);
    const double k1 = p.round ? 0.6 : share_of_moment(p.c1, p.c2), k2 = p.round ? 0.6 : share_of_moment(p.c2, p.c1);
    const std::vector<Wedge> shade = wedges(p);

    // (6.51): β from the moments of both directions added, with V_red and W at the perimeter looked at.
    auto beta_at = [&](const Perimeter& m, double V) {
        return 1 + (k1 * std::abs(p.M1) / m.W1 + k2 * std::abs(p.M2) / m.W2) * m.u / V;
    };
    PunchingVerdict out;
    if (p.V <= 0) return out;  // a pull is not punching downward: the caller says so
    const double last = std::min(furthest_perimeter(d), p.furthest);
    auto at = [&](double a) {
        PunchingVerdict v;
        const Perimeter m = perimeter_at(p, a, shade);
        v.a = a, v.perimeter = m.u, v.relief = p.relief(a), v.V_net = p.V - v.relief;
        v.v_limit = std::max(v_basic, v_least) * 2 * d / a;  // (6.50)
        if (v.V_net <= 0) return v;
        if (m.u <= 1e-9 * d) {  // no perimeter is left that could carry it
            v.utilisation = std::numeric_limits<double>::infinity();
            return v;
        }
        v.beta = beta_at(m, v.V_net);
        v.v = *v.beta * v.V_net / (m.u * d) / 1000;
        v.v_from_moment = (*v.beta - 1) * v.V_net / (m.u * d) / 1000;
        v.utilisation = v.v / v.v_limit;
        return v;
    };
    constexpr int steps = 40;
    for (int i = 1; i <= steps; ++i)
        if (const PunchingVerdict v = at(last * i / steps); v.utilisation > out.utilisation || out.a == 0) out = v;

    // Face of the column, 6.4.5(3): u0 the footprint's perimeter, the whole force.
    const Perimeter face = perimeter_at(p, 0, {});
    const double limit = n_.v_Rd_max * 0.6 * (1 - fck / 250) * fcd(fck);
    const double v_face = beta_at(face, p.V) * p.V / (face.u * d) / 1000;
    out.face = PunchingAnswer::FaceStress{v_face, limit, v_face / limit};

    if (by) {
        by->line("force down the column", "V_Ed", p.V, "kN");
        by->line("moments into the slab",
                 fmt::format("|M_Ed| = {:.0f} and {:.0f} kN·m, eccentric along x and y of the column", std::abs(p.M1),
                             std::abs(p.M2)),
                 std::hypot(p.M1, p.M2), "kN·m");
        by->line("effective depth, mean of both layers", "d", d_mm, "mm");
        by->line("size effect, 6.4.4(1)", fmt::format("k = 1 + √(200/{:.0f}) ≤ 2", d_mm), k, "");
        by->line("tension steel, 6.4.4(1)", fmt::format("ρ = √({:.5f} · {:.5f}) ≤ 0.02", p.rho_x, p.rho_y), rho, "");
        by->line("(6.47) without its 2d/a", fmt::format("{:.3f} k (100 ρ {:.0f})^⅓", n_.C_Rdc / n_.gamma_c, fck),
                 v_basic, "MPa");
        by->line("least, (6.3N)", fmt::format("{:.3f} k^1.5 √{:.0f}", n_.v_min, fck), v_least, "MPa");
        by->line("perimeters tried from the face to 2d; worst at", "a", 1000 * out.a, "mm");
        by->line("perimeter there", shade.empty() ? "u" : "u, less what openings shade, 6.4.2(3)", out.perimeter, "m");
        by->line("ground pressure less slab loads inside it, 6.4.4(2)", "ΔV_Ed", out.relief, "kN");
        by->line("net force, (6.48)", "V_Ed,red = V_Ed − ΔV_Ed", out.V_net, "kN");
        if (out.beta)
            by->line("eccentricity, (6.51), both directions added",
                     fmt::format("β = 1 + Σ k M u/(V_red W), k = {:.2f}, {:.2f}", k1, k2), *out.beta, "");
        by->line("stress, (6.49)", "v_Ed = β V_Ed,red/(u d)", out.v, "MPa");
        by->line(
            "borne, (6.50)",
            fmt::format("v_Rd = max(v, v_min) · 2d/a = {:.3f} · {:.2f}", std::max(v_basic, v_least), 2 * d / out.a),
            out.v_limit, "MPa");
        by->line("use at the perimeter", "v_Ed/v_Rd", out.utilisation, "");
        by->line("stress at the face, (6.53)", fmt::format("β V_Ed/(u0 d), u0 = {:.2f} m", face.u), v_face, "MPa");
        by->line("limit at the face, 6.4.5(3)", fmt::format("{:.2f} · 0.6 (1 − {:.0f}/250) fcd", n_.v_Rd_max, fck),
                 limit, "MPa");
    }
    return out;
}

}  // namespace mossbed
