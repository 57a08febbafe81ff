// Sliding, overturning and flotation, a row each for every stability combination, whatever became of it, and for every
// other one that has no equilibrium; water that was forgotten. Cracks and anchorage are not worked out in this version
// and say so.
#include "core/stability/stability.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/codes/en1997/bearing_resistance.h"
#include "core/ground/soil_profile.h"
#include "core/judge/checks.h"
#include "core/stability/hold_down.h"

namespace mossbed {
namespace {

constexpr const char* no_stability =
    "There is no stability combination to check it with: let the rules write them, or make one by hand.";

bool is_stability(const CombinationAnswer& c) { return c.combination.purpose == Purpose::stability; }
bool is_judged(const CombinationAnswer& c) { return c.combination.purpose != Purpose::trace; }

// What a row must reach: the model's factor where safety is global; 1 where it lies in the factors of the loads, and of
// an equilibrium that only has to exist.
double required(const CombinationAnswer& c, double global) {
    return is_stability(c) && c.combination.safety == Safety::global ? global : 1.0;
}
std::string words_of_required(const CombinationAnswer& c) {
    if (!is_stability(c)) return "required: equilibrium";
    return c.combination.safety == Safety::global ? "required factor: safety is global here"
                                                  : "required: safety lies in the factors of the loads (partial)";
}

void judge_factor(Row& row, Working& by, const CombinationAnswer& c, double actual, double global) {
    row.limit = required(c, global);
    row.combination = row.item = c.combination.id;
    by.line({.text = words_of_required(c), .value = *row.limit});
    if (std::isfinite(actual)) {
        row.value = actual;
        row.judge(actual > 0 ? *row.limit / actual : std::numeric_limits<double>::infinity());
        if (row.utilisation) by.line(term_of_use("use: required over actual", *row.limit, actual, Unit::none, row));
    } else {
        row.judge(0);
    }
}

void write_by_case(const std::vector<OfCase>& cases, Unit unit, const char* holds, const char* moves, Working& by) {
    for (const OfCase& k : cases) {
        if (k.holds > 0) by.line({.text = k.id + ": " + holds, .value = k.holds, .unit = unit});
        if (k.moves > 0) by.line({.text = k.id + ": " + moves, .value = k.moves, .unit = unit});
    }
}

class Stability {
  public:
    explicit Stability(const Fields& f)
        : f_(f), m_(*f.model), hull_(hull_of_base(m_)), hold_(m_), strength_below_(shear_strength_below()) {
        look_at_water();
    }

    std::vector<Row> rows() {
        bool any = false, slides = false, turns = false, floats = false;
        for (const CombinationAnswer& c : as_listed(f_.combinations)) {
            if (!is_judged(c)) continue;
            any |= is_stability(c);
            if (is_stability(c)) slides |= add_sliding(c);
            if (is_stability(c) || c.ending == Ending::overturns) turns |= add_overturning(c);
            if (is_stability(c) || c.ending == Ending::lifts_free) floats |= add_flotation(c);
        }
        if (!slides) add_one("sliding", "Sliding", any, "No stability combination has a horizontal force.");
        if (!turns) add_one("overturning", "Overturning", any, "Nothing turns the base in a stability combination.");
        if (!floats) add_flotation_without_water(any);
        add_forgotten_water();
        return std::move(rows_);
    }

  private:
    void look_at_water() {
        water_ = known_water(m_);
        underside_ = lowest_underside(m_);
        for (const LoadCase& c : m_.loads.cases)
            for (const LoadItem& item : c.items)
                if (const auto* u = std::get_if<Uplift>(&item.load))
                    for (const CombinationAnswer& k : f_.combinations)
                        if (factor_in(k, c.id) > 0) highest_item_ = std::max(highest_item_, u->to_level);
    }
    bool wets_the_base() const { return water_ && *water_ - underside_ > 0.005; }
    std::string below_the_water() const {
        return fmt::format("The base lies {:.2f} m below the water at {:.2f} m", *water_ - underside_, *water_);
    }

    void add_one(const char* id, const char* title, bool any, const char* nothing) {
        Row row = row_of(id, title, "", any ? nothing : no_stability);
        if (any)
            row.judge(0);
        else
            row.leads_to = "loads/combinations";
        rows_.push_back(std::move(row));
    }

    // False where nothing pushes.
    bool add_sliding(const CombinationAnswer& c) {
        const Horizontal h = horizontal_of(m_, f_.case_loads, c.combination);
        if (h.size() < 1e-6) return false;
        const double N = std::max(0.0, c.is_solved() ? c.ground_reaction.Fz : c.applied.Fz);
        double whole = 0;
        for (double a : f_.shares.area) whole += a;
        const double pressed = c.is_solved() ? c.contact_ratio * whole : 0;
        const double tan_phi = std::tan(m_.ground.friction_angle_base * M_PI / 180);
        Row row = row_of("sliding", "Sliding");
        row.clause = "friction and adhesion over the pressed area against the horizontals; drained";
        Working by;
        write_push(h, N, pressed, c, by);
        by.line({.text = "friction angle of the base (ground.friction_angle_base)",
                 .symbol = "δ",
                 .value = m_.ground.friction_angle_base,
                 .unit = Unit::degrees});
        const double R = by.line({.text = "resistance, drained",
                                  .symbol = "R",
                                  .formula = "{N} tan δ + {a} {A}",
                                  .put_in = {{"N", N, Unit::kilonewton},
                                             {"a", m_.ground.adhesion_base, Unit::kilopascal},
                                             {"A", pressed, Unit::square_metre}},
                                  .value = N * tan_phi + m_.ground.adhesion_base * pressed,
                                  .unit = Unit::kilonewton});
        finish_sliding(std::move(row), std::move(by), c, R, h.size(), c.combination.id);
        if (const auto& cu = strength_below_) {
            Row undrained = row_of("sliding", "Sliding, undrained");
            undrained.clause = clause_of_undrained_sliding;
            Working of;
            write_push(h, N, pressed, c, of);
            const double R_u =
                of.line({.text = fmt::format("resistance, undrained: the least c_u below the base, of {}", cu->first),
                         .symbol = "R",
                         .formula = "min({c_u} {A}; 0.4 {N})",
                         .put_in = {{"c_u", cu->second, Unit::kilopascal},
                                    {"A", pressed, Unit::square_metre},
                                    {"N", N, Unit::kilonewton}},
                         .value = std::min(cu->second * pressed, most_of_the_force * N),
                         .unit = Unit::kilonewton});
            finish_sliding(std::move(undrained), std::move(of), c, R_u, h.size(), c.combination.id + " undrained");
        }
        return true;
    }
    void write_push(const Horizontal& h, double N, double pressed, const CombinationAnswer& c, Working& by) const {
        by.line({.text = "horizontal force in " + c.combination.id,
                 .symbol = "H",
                 .formula = "√({H_x}² + {H_y}²)",
                 .put_in = {{"H_x", h.Hx, Unit::kilonewton}, {"H_y", h.Hy, Unit::kilonewton}},
                 .value = h.size(),
                 .unit = Unit::kilonewton});
        by.line(
            {.text = c.is_solved() ? "contact force, without water" : "force down, as loaded: there is no equilibrium",
             .symbol = "N",
             .value = N,
             .unit = Unit::kilonewton});
        if (c.is_solved())
            by.line({.text = "pressed area", .symbol = "A", .value = pressed, .unit = Unit::square_metre});
    }
    void finish_sliding(Row row, Working by, const CombinationAnswer& c, double R, double H, const std::string& item) {
        const double factor = by.line({.text = "factor against sliding",
                                       .formula = "{R} / {H}",
                                       .put_in = {{"R", R, Unit::kilonewton}, {"H", H, Unit::kilonewton}},
                                       .value = R / H});
        judge_factor(row, by, c, factor, m_.checks.sliding_factor);
        row.item = item;
        if (!c.is_solved()) row.note = "It has no equilibrium: no area presses, so that nothing sticks.";
        if (c.combination.safety == Safety::partial)
            by.line({.text = "no partial factor is put on the friction or on the resistance", .value = 1});
        row.working = std::move(by.terms);
        rows_.push_back(std::move(row));
    }
    // Stratum and cu, kPa: the least right below the base, at its rim and its middle.
    std::optional<std::pair<std::string, double>> shear_strength_below() const {
        const auto profile = profile_of(m_.ground);
        if (!profile) return {};
        std::optional<std::pair<std::string, double>> least;
        std::vector<Point> places = outer_rim(m_.slab.outline, 1.0);
        places.push_back(centre_of_base(f_));
        for (Point p : places) {
            const SoilColumn column = profile->at(p);
            const SoilLayer* below = layer_below(column, founding_level(m_));
            if (!below) continue;
            const Stratum& s = m_.ground.strata[size_t(below->stratum)];
            if (s.cu && (!least || *s.cu < least->second)) least = std::pair{s.id, *s.cu};
        }
        return least;
    }

    bool add_overturning(const CombinationAnswer& c) {
        const std::vector<Turning> edges = turning_about(hull_, m_, f_.case_loads, c.combination);
        if (edges.empty() || edges.front().turns <= 0) return false;
        const Turning& worst = edges.front();
        Row row = row_of("overturning", "Overturning");
        row.clause = "about each edge of the base's hull: what holds over what turns, load by load";
        row.at = 0.5 * (worst.from + worst.to), row.area = {worst.from, worst.to};
        Working by;
        by.line({.text = fmt::format("edge from ({:.2f}, {:.2f}) to ({:.2f}, {:.2f}), the worst of {}; its length",
                                     worst.from.x, worst.from.y, worst.to.x, worst.to.y, edges.size()),
                 .value = distance(worst.from, worst.to),
                 .unit = Unit::metre});
        write_by_case(worst.by_case, Unit::kilonewton_metre, "holds", "turns", by);
        const double factor = by.line({.text = "factor against overturning",
                                       .formula = "{M_holds} / {M_turns}",
                                       .put_in = {{"M_holds", worst.holds, Unit::kilonewton_metre},
                                                  {"M_turns", worst.turns, Unit::kilonewton_metre}},
                                       .value = worst.factor()});
        judge_factor(row, by, c, factor, m_.checks.overturning_factor);
        if (c.ending == Ending::overturns) {
            say_no_equilibrium(row, c);
            row.at = c.balance.landing;
        }
        row.working = std::move(by.terms);
        rows_.push_back(std::move(row));
        return true;
    }

    bool add_flotation(const CombinationAnswer& c) {
        const Vertical v = vertical_of(m_, f_.case_loads, c.combination);
        if (!v.has_water && c.ending != Ending::lifts_free) return false;
        Row row = row_of("flotation", v.has_water ? "Flotation" : "Uplift");
        row.clause = "all that acts down over all that acts up, with the factors of the combination";
        Working by;
        write_by_case(v.by_case, Unit::kilonewton, "down", "up", by);
        const double factor = v.up > 0 ? v.down / v.up : std::numeric_limits<double>::infinity();
        by.line({.text = "factor against flotation",
                 .formula = "{F_down} / {F_up}",
                 .put_in = {{"F_down", v.down, Unit::kilonewton}, {"F_up", v.up, Unit::kilonewton}},
                 .value = factor});
        judge_factor(row, by, c, factor, m_.checks.flotation_factor);
        if (c.ending == Ending::lifts_free) say_no_equilibrium(row, c);
        if (row.status == Status::over) {
            by.line(
                {.text = "missing",
                 .formula = "{γ} {F_up} − {F_down}",
                 .put_in = {{"γ", *row.limit}, {"F_up", v.up, Unit::kilonewton}, {"F_down", v.down, Unit::kilonewton}},
                 .value = v.missing(*row.limit),
                 .unit = Unit::kilonewton});
            if (!f_.coarse)
                row.note += (row.note.empty() ? "" : " ") + words_of(hold_.so_that(c.combination, *row.limit), m_);
        }
        row.working = std::move(by.terms);
        rows_.push_back(std::move(row));
        return true;
    }

    static void say_no_equilibrium(Row& row, const CombinationAnswer& c) {
        row.title = fmt::format("{} {}", c.combination.id, name_of(c.ending));
        row.note = c.explanation;
        row.no_equilibrium = true;
        row.status = Status::over;
    }

    void add_flotation_without_water(bool any_stability) {
        Row row = row_of("flotation", "Flotation");
        if (wets_the_base()) {
            row.note = below_the_water() +
                       (highest_item_ == no_water
                            ? ", and no active combination has an item that lifts it; add one."
                            : ", and no stability combination has the water that others have; add it to one.");
            row.leads_to = highest_item_ == no_water ? "loads/cases" : "loads/combinations";
        } else if (highest_item_ > no_water) {
            row.note = any_stability ? "No stability combination has the water that others have." : no_stability;
            row.leads_to = "loads/combinations";
        } else {
            row.judge(0);
            row.note = water_ ? fmt::format("No water acts: it stands at {:.2f} m, below the base at {:.2f} m.",
                                            *water_, underside_)
                              : "No water acts: none is known and no combination has an uplift item.";
        }
        rows_.push_back(std::move(row));
    }

    // Every purpose whose combinations all leave out the water that the base stands in; then single combinations.
    void add_forgotten_water() {
        if (!wets_the_base()) return;
        std::string without;
        int dry = 0, all = 0;
        for (Purpose p : {Purpose::service, Purpose::strength, Purpose::stability}) {
            int of_purpose = 0, wet = 0;
            for (const CombinationAnswer& c : as_listed(f_.combinations))
                if (c.combination.purpose == p)
                    ++of_purpose, wet += vertical_of(m_, f_.case_loads, c.combination).has_water;
            all += of_purpose, dry += of_purpose - wet;
            if (of_purpose > 0 && wet == 0) without += (without.empty() ? "" : ", ") + std::string(name_of(p));
        }
        if (!without.empty()) {
            Row slip = row_of(
                "model", "Water below the slab left out", "water",
                below_the_water() + fmt::format(", and no combination for {} has an item that lifts it.", without));
            slip.leads_to = "loads/water";
            rows_.push_back(std::move(slip));
        } else if (dry > 0) {
            Row row = row_of("model", "Combinations without the water", "low water",
                             below_the_water() + fmt::format("; {} of {} combinations leave it out and stand for the "
                                                             "time when it is low.",
                                                             dry, all));
            row.status = Status::pass;
            rows_.push_back(std::move(row));
        }
        if (highest_item_ > no_water && highest_item_ < *water_ - 0.05) {
            Row slip =
                row_of("model", "Water higher than its items", "water level",
                       fmt::format("The ground's water stands at {:.2f} m, but no item lifts to more than {:.2f} "
                                   "m; check the two levels.",
                                   *water_, highest_item_));
            slip.leads_to = "ground/water_level";
            rows_.push_back(std::move(slip));
        }
    }

    const Fields& f_;
    const Model& m_;
    std::vector<Point> hull_;
    HoldDown hold_;
    std::optional<std::pair<std::string, double>> strength_below_;
    std::optional<double> water_;  // level, m
    double underside_ = 0, highest_item_ = no_water;
    std::vector<Row> rows_;
};

}  // namespace

std::vector<Row> judge_stability(const Fields& f) {
    std::vector<Row> rows = Stability(f).rows();
    rows.push_back(row_of(
        "crack-width", "Crack width", "",
        f.model->checks.crack_width_limit
            ? fmt::format("The limit of {:.2f} mm is compared with nothing: cracks are not worked out in this version.",
                          *f.model->checks.crack_width_limit)
            : "Not worked out in this version."));
    return rows;
}

}  // namespace mossbed
