#include "core/answer/explain.h"

#include <fmt/format.h>

namespace mossbed {
namespace {

// The cases that do it are those whose absence would change most.
std::string why_it_lifts(const CombinationAnswer& c, const std::vector<CaseTotal>& cases) {
    std::string up;
    double down = 0, total_up = 0;
    for (const CaseTotal& k : cases) {
        const double F = factor_in(c, k.id) * k.on_slab.Fz;
        if (F < 0)
            up += fmt::format("{}{} {:.0f} kN", up.empty() ? "" : ", ", k.id, -F), total_up -= F;
        else
            down += F;
    }
    if (c.balance.net_uplift <= 1e-6 * (down + total_up))
        return fmt::format(
            "Nothing presses the slab down: {:.0f} kN act downward and {:.0f} kN upward, while moments turn it; add "
            "weight.",
            down, total_up);
    return fmt::format(
        "The slab lifts free: {:.0f} kN act upward ({}) against {:.0f} kN downward, {:.0f} kN too little; add "
        "weight or hold it down.",
        total_up, up, down, c.balance.net_uplift);
}

std::string why_it_overturns(const CombinationAnswer& c, const Model& model, const std::vector<CaseTotal>& cases) {
    std::string by;
    double most = 0;
    const Polygon hull = convex_hull(outer_rim(model.slab.outline, 0.25));
    const Point m = centroid(hull);
    for (const CaseTotal& k : cases) {
        const Resultant& r = k.on_slab;
        const double turn = std::abs(factor_in(c, k.id)) * std::hypot(r.My - r.Fz * m.x, r.Mx + r.Fz * m.y);
        if (turn > most) most = turn, by = k.id;
    }
    const Box base = box_of(hull);
    if (c.balance.outside > 20 * std::max(base.width(), base.height()))
        return fmt::format(
            "The slab overturns: only {:.3g} kN press it down while case {} turns it most, so that the resultant lands "
            "far outside the base; add weight or take off moment.",
            c.applied.Fz, by);
    return fmt::format(
        "The slab overturns: the resultant of {:.0f} kN lands at ({:.2f}, {:.2f}), {}; case {} turns it most; widen "
        "the base on that side or add weight.",
        c.applied.Fz, c.balance.landing.x, c.balance.landing.y,
        c.balance.outside < 0.005 ? "on the edge of the base"
                                  : fmt::format("{:.2f} m outside the base", c.balance.outside),
        by);
}

}  // namespace

std::string why_no_equilibrium(const CombinationAnswer& c, const Model& model, const std::vector<CaseTotal>& cases) {
    if (c.ending == Ending::lifts_free) return why_it_lifts(c, cases);
    if (c.ending == Ending::overturns) return why_it_overturns(c, model, cases);
    return "";
}

std::string why_no_contact(const CombinationAnswer& c, const Model& model, const Mesh& mesh,
                           const std::vector<double>& modulus) {
    const Polygon hull = convex_hull(mesh.nodes);
    const Box box = box_of(hull);
    const double span = std::max(box.width(), box.height());
    const double inside = model.ground.tension ? span : depth_in_convex(hull, c.balance.landing);
    if (!c.motion.x.allFinite() || !std::isfinite(c.equilibrium_error))
        return "The loads are too large to be computed with; check their units.";
    if (model.ground.yield_pressure)
        return fmt::format(
            "No contact area was found in {} rounds; the ground may be close to yielding through at {:.0f} kPa; "
            "enlarge "
            "the base or lessen the eccentricity.",
            c.rounds, *model.ground.yield_pressure);
    if (inside < 0.02 * span)
        return fmt::format(
            "No contact area was found in {} rounds; the resultant lands {:.3f} m inside the base, where only a sliver "
            "presses; move it inward.",
            c.rounds, inside);
    const Concrete& concrete = concrete_of(model, model.slab.concrete);
    const PlateSection plain{concrete.E * 1000 * model.slab.stiffness_factor, concrete.nu, model.slab.thickness};
    double k = 0;
    for (double v : modulus) k += v / double(modulus.size());
    return fmt::format(
        "No contact area was found in {} rounds, though the resultant lands well inside the base. The slab bends "
        "within some {:.2g} m on this ground, against cells of {:.2g} m: check the units of thickness, E and the "
        "ground's stiffness, or mesh finer.",
        c.rounds, std::pow(plain.bending() / std::max(k, 1e-12), 0.25), mesh.size);
}

}  // namespace mossbed
