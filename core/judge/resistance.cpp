// Whether the ground bears the base by its strengths, on the effective area, drained and undrained,
// for the stratum below the base and, by load spread, for those below it.
#include <fmt/format.h>

#include <algorithm>

#include "core/codes/en1997/bearing_resistance.h"
#include "core/fields/moving_mean.h"
#include "core/judge/service.h"
#include "core/stability/stability.h"

namespace mossbed {
namespace {

enum class Drainage : char { drained, undrained };
constexpr double spread = 0.5;  // m to each side a metre of depth, as a load spreads through a stronger layer

// The effective area as a rectangle of its size and of the ratio of its radii of gyration.
struct EffectiveBase {
    double B = 0, L = 0;
    Point along_L{1, 0};
    std::string why_not;
};
EffectiveBase effective_base(const Model& m, Point landing) {
    EffectiveBase out;
    EffectiveArea e = effective_area(m, landing);
    out.why_not = e.why_not;
    if (e.area <= 0) return out;
    const Point c = centroid(e.outline);
    double xx = 0, yy = 0, xy = 0;
    for (size_t i = 0; i < e.outline.size(); ++i) {  // ∫ x², y², xy over the triangles about the centroid
        const Point p = e.outline[i] - c, q = e.outline[(i + 1) % e.outline.size()] - c;
        const double w = cross(p, q) / 12;
        xx += w * (p.x * p.x + p.x * q.x + q.x * q.x), yy += w * (p.y * p.y + p.y * q.y + q.y * q.y);
        xy += w * (p.x * p.y + q.x * q.y + 0.5 * (p.x * q.y + q.x * p.y));
    }
    const double mean = (xx + yy) / 2, apart = std::hypot((xx - yy) / 2, xy);
    const double turn = apart > 1e-9 * mean ? 0.5 * std::atan2(2 * xy, xx - yy) : 0;
    const double ratio = std::sqrt((mean + apart) / std::max(mean - apart, 1e-12 * mean));
    out.B = std::sqrt(e.area / ratio), out.L = out.B * ratio;
    out.along_L = {std::cos(turn), std::sin(turn)};
    return out;
}

struct Verdict {
    double V = 0, R = 0;  // design values, kN
    double pressure = 0;  // kPa, R over the effective area
    std::string where;    // "clay, 3.2 m below the base"
    std::vector<Term> working;
    double use() const { return R > 0 ? V / R : std::numeric_limits<double>::infinity(); }
};

class Resistance {
  public:
    Resistance(const Fields& f, const SoilProfile& profile) : f_(f), m_(*f.model), profile_(profile) {
        approach_ = m_.ground.resistance_approach.value_or(usual_approach(m_.settings.combination_rules));
        const std::vector<Point> rim = outer_rim(m_.slab.outline, 1.0);
        const size_t stride = std::max<size_t>(1, rim.size() / 16);
        for (size_t i = 0; i < rim.size(); i += stride) places_.push_back(rim[i]);
        const Point middle = centre_of_base(f);
        for (Point p : rim) {
            const SoilColumn c = profile_.at(p);
            q_ = std::min(q_, std::max(0.0, c.effective_stress(base_, m_.ground.strata)));
            q_total_ = std::min(q_total_, std::max(0.0, c.total_stress(base_, m_.ground.strata)));
        }
        places_.push_back(middle);
    }

    std::optional<Row> row(Drainage drainage) {
        Row row = row_of("resistance", std::string("Bearing resistance, ") + words(drainage));
        row.item = words(drainage), row.unit = Unit::kilonewton;
        row.clause = clause_of_resistance;
        if (!is_asked_for(drainage)) return {};
        row.leads_to = "ground/strata";
        const CombinationAnswer* of = nullptr;
        std::optional<Verdict> worst;
        std::string why_not;
        for (const CombinationAnswer& c : as_listed(f_.combinations)) {
            for (const Variant& v : variants_for(c)) {
                const std::optional<Verdict> now = judged(c, v, drainage, why_not);
                if (!why_not.empty()) {
                    row.note = why_not;
                    return row;
                }
                if (now && (!worst || now->use() > worst->use())) worst = now, of = &c;
            }
        }
        if (!worst) {
            row.note = approach_ == Approach::global_factor
                           ? no_service
                           : "There is no strength combination with an equilibrium to check it with.";
            row.leads_to = "loads/combinations";
            return row;
        }
        row.value = worst->V, row.limit = worst->R, row.combination = of->combination.id;
        row.judge(worst->use());
        std::vector<Term> working = worst->working;
        working.push_back(term_of_use("use", worst->V, worst->R, Unit::kilonewton, row));
        row.working = std::move(working);
        row.note = fmt::format("In {}: {:.0f} kPa over the effective area.", worst->where, worst->pressure);
        if (!missing_below_.empty())
            row.note += fmt::format(" {} below it has no strength to be looked at.", missing_below_);
        row.leads_to.clear();
        return row;
    }

  private:
    struct Variant {                 // one way of an approach to look at a combination
        bool strengths_too = false;  // M2
        double on_resistance = 1, on_variable = 1;
        std::string words;
    };
    static const char* words(Drainage d) { return d == Drainage::drained ? "drained" : "undrained"; }

    // Every way in which the approach looks at a combination.
    std::vector<Variant> variants_for(const CombinationAnswer& c) const {
        if (c.combination.purpose == Purpose::service && (c.is_solved() || c.ending == Ending::yields_through)) {
            if (approach_ == Approach::global_factor)
                return {{false, m_.ground.resistance_factor, 1,
                         fmt::format("global factor {:g} on the resistance (ground.resistance)",
                                     m_.ground.resistance_factor)}};
            if (approach_ == Approach::DA1 && c.combination.frequency == Frequency::characteristic)
                return {
                    {true, 1, variable_factor_A2,
                     "DA1, combination 2: A2 (1.3 on variable actions), M2 (1.25 on tan φ' and c', 1.4 on c_u), R1"}};
        }
        if (c.combination.purpose == Purpose::strength && (c.is_solved() || c.ending == Ending::yields_through)) {
            if (approach_ == Approach::DA1) return {{false, 1, 1, "DA1, combination 1: A1, M1, R1"}};
            if (approach_ == Approach::DA2)
                return {{false, resistance_factor_DA2, 1, "DA2: A1, M1, R2 (1.4 on the resistance)"}};
            if (approach_ == Approach::DA3)
                return {{true, 1, 1, "DA3: A1, M2 (1.25 on tan φ' and c', 1.4 on c_u), R3"}};
        }
        return {};
    }

    // Where a stratum right below the base has a strength of that kind, or none of either.
    bool is_asked_for(Drainage d) const {
        bool any_of_kind = false, any = false;
        for (Point p : places_) {
            const SoilColumn column = profile_.at(p);
            const SoilLayer* below = layer_below(column, base_);
            if (!below) continue;
            const Stratum& s = m_.ground.strata[size_t(below->stratum)];
            any |= s.cu || s.phi;
            any_of_kind |= d == Drainage::undrained ? s.cu.has_value() : s.phi.has_value();
        }
        if (any) return any_of_kind;
        // Strengths further down only, or an approach that was chosen: it is asked for and cannot be had.
        const bool chosen =
            m_.ground.resistance_approach.has_value() || std::any_of(m_.ground.strata.begin(), m_.ground.strata.end(),
                                                                     [](const Stratum& s) { return s.cu || s.phi; });
        return chosen && d == Drainage::drained;
    }

    std::optional<Verdict> judged(const CombinationAnswer& c, const Variant& v, Drainage d, std::string& why_not) {
        Resultant all;
        double H_x = 0, H_y = 0, water = 0;
        for (const CaseTotal& k : f_.cases) {
            const LoadCase* of = find_id(m_.loads.cases, k.id);
            const bool is_variable = of && of->action != Action::permanent && of->action != Action::groundwater &&
                                     of->action != Action::soil;
            const double f = factor_in(c, k.id) * (is_variable ? v.on_variable : 1);
            all += f * k.on_slab;
            H_x += f * k.Hx, H_y += f * k.Hy, water += f * k.uplift;
        }
        if (all.Fz <= 0) return {};
        const EffectiveBase base = effective_base(m_, all.landing());
        if (base.B <= 0) {
            why_not = "There is no effective area to work with: " + base.why_not + ".";
            return {};
        }
        BearingLoad load;
        load.V = all.Fz + (d == Drainage::undrained ? std::max(0.0, water) : 0);
        load.H_L = std::abs(dot({H_x, H_y}, base.along_L)), load.H_B = std::abs(cross(base.along_L, {H_x, H_y}));
        load.B = base.B, load.L = base.L;
        std::optional<Verdict> worst;
        for (Point p : places_) {
            const auto now = least_below(p, load, v, d, c.combination.id, why_not);
            if (!why_not.empty()) return {};
            if (now && (!worst || now->use() > worst->use())) worst = now;
        }
        return worst;
    }

    // Of the layers below one place: the first carries the base, each deeper one a base widened by the spread of the
    // load.
    std::optional<Verdict> least_below(Point p, const BearingLoad& load, const Variant& v, Drainage d,
                                       const std::string& in, std::string& why_not) {
        const SoilColumn column = profile_.at(p);
        std::optional<Verdict> worst;
        bool first = true;
        for (const SoilLayer& l : column.layers) {
            if (l.bottom >= base_ - 1e-9) continue;
            const double depth = std::max(0.0, base_ - l.top);
            if (depth > 2 * load.B) break;
            const Stratum& s = m_.ground.strata[size_t(l.stratum)];
            const bool undrained = d == Drainage::undrained && s.cu;
            if (!undrained && !s.phi) {
                if (first)
                    why_not = fmt::format("Stratum {} right below the base has no {}; give it.", s.id,
                                          d == Drainage::undrained ? "cu and no φ′" : "φ′");
                else if (missing_below_.find(s.id) == std::string::npos)
                    missing_below_ += (missing_below_.empty() ? "" : ", ") + s.id;
                if (first) return {};
                continue;
            }
            if (!undrained && (*s.phi > most_phi || *s.phi < 0)) {
                why_not = fmt::format("φ′ of {} is {:g}°; the bearing factors hold up to {:g}°: check it.", s.id,
                                      *s.phi, most_phi);
                return {};
            }
            Verdict now = of_layer(column, l, s, depth, undrained, load, v, in);
            if (!worst || now.use() > worst->use()) worst = std::move(now);
            first = false;
        }
        return worst;
    }

    Verdict of_layer(const SoilColumn& column, const SoilLayer& l, const Stratum& s, double depth, bool undrained,
                     BearingLoad load, const Variant& v, const std::string& in) const {
        Verdict out;
        Working by;
        const BearingFactors on = factors_on_strength(v.strengths_too);
        const bool is_below = depth > 0.01;
        out.where = is_below ? fmt::format("{}, {:.2f} m below the base", s.id, depth) : s.id;
        by.line({.text = "force on the base in " + in + (undrained ? ", with the water below it" : ", effective"),
                 .symbol = "V",
                 .value = load.V,
                 .unit = Unit::kilonewton});
        by.line({.text = "effective area: the base's part that is symmetric about the landing point",
                 .symbol = "A'",
                 .formula = "{B'} · {L'}",
                 .put_in = {{"B'", load.B, Unit::metre}, {"L'", load.L, Unit::metre}},
                 .value = load.area(),
                 .unit = Unit::square_metre});
        const std::vector<Stratum>& strata = m_.ground.strata;
        const double level = base_ - depth;
        // What lies between base and layer weighs on it too, inside the spread and beside it.
        auto between = [&](bool total) {
            const double at = total ? column.total_stress(level, strata) : column.effective_stress(level, strata);
            const double above = total ? column.total_stress(base_, strata) : column.effective_stress(base_, strata);
            return std::max(0.0, at - above);
        };
        const double weight = is_below ? between(undrained) : 0;
        if (is_below) {
            load.B += 2 * spread * depth, load.L += 2 * spread * depth;
            load.V += weight * load.area();
            by.line(
                {.text = fmt::format("punch-through to {}: the load spreads 1 in 2 to each side down to it; with the "
                                     "ground in between",
                                     s.id),
                 .symbol = "V",
                 .formula = "V + {σ} · {B''} · {L''}",
                 .put_in = {{"σ", weight, Unit::kilopascal},
                            {"B''", load.B, Unit::metre},
                            {"L''", load.L, Unit::metre}},
                 .value = load.V,
                 .unit = Unit::kilonewton});
        }
        double R = 0;
        if (undrained) {
            by.line({.text = "undrained strength of " + s.id,
                     .symbol = "c_u",
                     .formula = "{c_u;k} / {γ_M}",
                     .put_in = {{"c_u;k", *s.cu, Unit::kilopascal}, {"γ_M", on.cu}},
                     .value = *s.cu / on.cu,
                     .unit = Unit::kilopascal});
            R = undrained_resistance(load, {*s.cu / on.cu, q_total_ + weight}, &by);
        } else {
            const double phi = std::atan(std::tan(*s.phi * M_PI / 180) / on.phi) * 180 / M_PI;
            by.line({.text = "friction angle of " + s.id,
                     .symbol = "φ'",
                     .formula = "atan(tan {φ'_k} / {γ_M})",
                     .put_in = {{"φ'_k", *s.phi, Unit::degrees}, {"γ_M", on.phi}},
                     .value = phi,
                     .unit = Unit::degrees});
            R = drained_resistance(
                load, {phi, s.c.value_or(0) / on.phi, weight_below(column, level, load.B, s), q_ + weight}, &by);
        }
        by.line({.text = v.words, .value = v.on_resistance});
        out.R = by.line({.text = "resistance",
                         .symbol = "R",
                         .formula = "{R/A'} · {A'} / {γ}",
                         .put_in = {{"R/A'", R / load.area(), Unit::kilopascal},
                                    {"A'", load.area(), Unit::square_metre},
                                    {"γ", v.on_resistance}},
                         .value = R / v.on_resistance,
                         .unit = Unit::kilonewton});
        out.V = load.V;
        by.line({.text = fmt::format("as a pressure over the effective area, beside the {:.0f} kPa that are allowed "
                                     "(ground.allowable_pressure)",
                                     m_.ground.allowable_pressure),
                 .value = out.pressure = out.R / load.area(),
                 .unit = Unit::kilopascal});
        out.working = std::move(by.terms);
        return out;
    }

    // Mean effective unit weight over B' below a level, kN/m³.
    double weight_below(const SoilColumn& column, double level, double B, const Stratum& s) const {
        const std::vector<Stratum>& strata = m_.ground.strata;
        const double mean = (column.effective_stress(level - B, strata) - column.effective_stress(level, strata)) / B;
        return mean > 0 ? mean : s.unit_weight;
    }

    const Fields& f_;
    const Model& m_;
    const SoilProfile& profile_;
    Approach approach_ = Approach::DA2;
    double base_ = founding_level(m_);
    double q_ = std::numeric_limits<double>::infinity(), q_total_ = q_;  // kPa, the least along the rim
    std::vector<Point> places_;
    std::string missing_below_;  // strata without a strength, deeper than the base
};

}  // namespace

std::vector<Row> judge_resistance(const Fields& f) {
    const Ground& g = f.model->ground;
    const bool any = std::any_of(g.strata.begin(), g.strata.end(), [](const Stratum& s) { return s.cu || s.phi; });
    if (f.coarse || (!any && !g.resistance_approach)) return {};
    const auto profile = profile_of(g);
    if (!profile) {
        if (!g.resistance_approach) return {};
        return {row_of("resistance", "Bearing resistance", "",
                       "Without boreholes it is not known which stratum carries the base; give one.")};
    }
    Resistance resistance(f, *profile);
    std::vector<Row> rows;
    for (Drainage d : {Drainage::drained, Drainage::undrained})
        if (auto row = resistance.row(d)) rows.push_back(std::move(*row));
    return rows;
}

}  // namespace mossbed
