// Punching at columns whose perimeters stay on the slab and keep clear of one another, downward and, where they pull,
// upward with the top steel. The others, walls and heavy point loads stand in the Ledger as not checked, with the
// reason.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include "core/base/polygons.h"
#include "core/codes/worst_perimeter.h"
#include "core/judge/concentrated_loads.h"
#include "core/judge/design.h"
#include "core/judge/punching_demand.h"
#include "core/judge/strip_judge.h"

namespace mossbed {
namespace {

struct Shared {  // by all columns
    const Fields& fields;
    const Model& m;
    const DesignCode& code;
    const Provision& steel;
    const PunchingDemand& demand;
    std::vector<std::vector<ColumnForce>> forces;                                              // per case and column
    double depth(double h, Face f) const { return mean_depth(m, steel.bars(), f, h) / 1000; }  // m
    double depth(double h) const { return std::max(depth(h, Face::bottom), depth(h, Face::top)); }
    double reach(double h) const { return code.furthest_perimeter(std::max(1e-3, depth(h))); }
};

// How far a column's perimeters may reach: round its footprint, and round the thicker patch that it stands on.
std::vector<Polygon> reaches_of(const Shared& s, const Column& c) {
    std::vector<Polygon> out{spread_out(footprint(c), s.reach(thickness_at(s.m, c.at)))};
    for (const SlabPatch& t : s.m.slab.patches)
        if (t.thickness > s.m.slab.thickness && contains(t.outline, c.at) &&
            !lies_within(out[0], anticlockwise(t.outline)))
            out.push_back(spread_out(convex_hull(t.outline), s.reach(s.m.slab.thickness)));
    return out;
}

// Another column's perimeter, or a wall, that this column's perimeters touch; empty when there is none.
std::string what_meets(const Shared& s, const Column& column) {
    const std::vector<Polygon> mine = reaches_of(s, column);
    auto met = [&](const Polygon& theirs) {
        return std::any_of(mine.begin(), mine.end(), [&](const Polygon& p) { return touch(p, theirs); });
    };
    Box box;
    for (const Polygon& p : mine)
        for (Point q : p) box.add(q);
    double far = s.code.furthest_perimeter(s.m.slab.thickness);  // no perimeter of another reaches further than this
    for (const SlabPatch& t : s.m.slab.patches) {
        const Box b = box_of(t.outline);
        far = std::max(far, s.code.furthest_perimeter(t.thickness) + b.width() + b.height());
    }
    for (const Column& c : s.m.columns) {
        if (&c == &column) continue;
        const double wide = far + c.size[0] + c.size.back();
        if (Box reach{box.low - Point{wide, wide}, box.high + Point{wide, wide}}; !reach.overlaps({c.at, c.at}))
            continue;
        for (const Polygon& theirs : reaches_of(s, c))
            if (met(theirs)) return "that of column " + c.id;
    }
    for (const Wall& w : s.m.walls)
        for (size_t i = 0; i + 1 < w.path.size(); ++i)
            if (met(body_of(w, i))) return "wall " + w.id;
    return "";
}

// Why a column is not checked in this version, or the step in thickness beyond which it is checked once more.
struct Surroundings {
    std::string refused;
    const SlabPatch* step = nullptr;
};
Surroundings look_round(const Shared& s, const Column& column) {
    const Model& m = s.m;
    const double h = thickness_at(m, column.at), d = s.depth(h);
    if (std::min(s.depth(h, Face::top), s.depth(h, Face::bottom)) <= 0)
        return {"The covers leave no effective depth; thicken the slab."};
    const Polygon rim = outer_rim(m.slab.outline, 0.1), loaded = footprint(column);
    const Polygon reach = spread_out(loaded, s.code.furthest_perimeter(d));
    if (!lies_within(reach, rim))
        return {"Its control perimeter leaves the slab; edge and corner columns are not worked out in this version."};
    if (auto hole = inner_rim(m.slab.outline, 0.1); hole && touch(reach, *hole))
        return {"Its control perimeter reaches the hole of the ring; edge columns are not worked out in this version."};
    // A step in thickness near by: perimeters stop at the step, and go round it once more with the slab's depth.
    const SlabPatch* under = nullptr;
    for (const SlabPatch& t : m.slab.patches)
        if (contains(t.outline, column.at)) under = &t;
    if (under && under->thickness == m.slab.thickness) under = nullptr;  // another concrete, no step
    for (const SlabPatch& t : m.slab.patches)
        if (&t != under && t.thickness != h && touch(reach, t.outline))
            return {"A thickness step of patch " + t.id +
                    " crosses its perimeters, which is not worked out in this version."};
    if (!under || lies_within(reach, anticlockwise(under->outline))) return {};
    const Polygon step = anticlockwise(under->outline);
    if (!lies_within(loaded, step))
        return {"Its footprint crosses the edge of patch " + under->id + ", which is not worked out in this version."};
    if (!is_convex(step) || under->thickness < m.slab.thickness)
        return {"The step of patch " + under->id +
                " has a re-entrant corner or is thinner than the slab, which is not worked out in this version."};
    if (!lies_within(spread_out(step, s.code.furthest_perimeter(s.depth(m.slab.thickness))), rim))
        return {"The perimeter beyond patch " + under->id +
                " leaves the slab, which is not worked out in this version."};
    return {"", under};
}

// Perimeters round one loaded area, a column's footprint or the thick patch it stands on, under all combinations.
class Round {
  public:
    // `bars`: the face in tension, bottom for a column that presses, top for one that pulls.
    Round(const Shared& s, int column, const PressedInside& inside, double h, double furthest, const char* governs,
          Face bars)
        : s_(s),
          k_(column),
          bars_(bars),
          of_column_(std::string(governs) == "perimeter"),
          governs_(governs),
          inside_(inside),
          area_(inside.area),
          h_(h),
          d_(s.depth(h, bars)),
          furthest_(furthest),
          last_(std::min(s.code.furthest_perimeter(d_), furthest)) {
        p_.c1 = area_.c1, p_.c2 = area_.c2, p_.round = area_.round, p_.d = d_, p_.fc = weakest_concrete();
        const Box extent = box_of(spread_out(area_.outline, last_));
        const Point at = area_.centre;
        p_.rho_x = ratio(Direction::x, std::max(extent.high.x - at.x, at.x - extent.low.x));
        p_.rho_y = ratio(Direction::y, std::max(extent.high.y - at.y, at.y - extent.low.y));
        for (const Opening& o : s_.m.slab.openings) openings_.push_back(anticlockwise(o.outline));
        face_ = Perimeters(area_, s_.code.perimeter_rule(d_), {}).at(0);
        perimeters_ = perimeters_of(area_);
    }

    struct Found : WorstPerimeter {
        std::optional<PunchingVerdict> face;
        double use = 0;
        bool no_number = false;
    };
    // The worst perimeter of one combination; with `by` the derivation of that one.
    Found judge(const CombinationAnswer& c, const ColumnForce& f, Working* by) const {
        PunchingCase p = p_;
        PunchedArea area = area_;
        if (area.round && length({f.My, f.Mx}) > 0)  // a round column has no axes of its own: the resultant moment
            area.angle = std::atan2(-f.Mx, f.My) * 180 / 3.14159265358979323846;
        const Point along = turned({f.My, -f.Mx}, -area.angle);  // where the force is moved to, in the column's axes
        const double sense = is_upward() ? -1 : 1;
        p.V = sense * f.N, p.upward = is_upward();
        p.M1 = along.x, p.M2 = area.round ? 0 : along.y;
        const bool own_axes = area.round && !perimeters_.empty() && perimeters_[0].shaded;
        const std::vector<Perimeter> perimeters = own_axes ? perimeters_of(area) : perimeters_;
        const size_t k = size_t(&c - s_.fields.combinations.data());
        auto relief_at = [&](double a) { return sense * inside_.at(k, a); };
        Found out{find_worst_perimeter(s_.code, p, perimeters, relief_at, by), {}, 0, false};
        out.face = s_.code.punching_at_face(p, face_, by);
        const double face_use = out.face && of_column_ ? out.face->utilisation : 0;
        out.use = std::max(out.verdict.utilisation, face_use);
        out.no_number = std::isnan(out.verdict.utilisation) || std::isnan(face_use);
        return out;
    }
    bool is_upward() const { return bars_ == Face::top; }
    // What the engineer gave: a checker needs it on the same sheet.
    void write_inputs(Working& by) const {
        const Reinforcement& steel = s_.m.steel;
        if (area_.round) {
            by.line({.text = of_column_ ? "column, diameter" : "loaded area, diameter",
                     .symbol = "c",
                     .value = 1000 * area_.c1,
                     .unit = Unit::millimetre});
        } else {
            const char* what = of_column_ ? "column" : "patch it stands on";
            by.line({.text = fmt::format("{}, size along its x", what),
                     .symbol = "c_1",
                     .value = 1000 * area_.c1,
                     .unit = Unit::millimetre});
            by.line({.text = fmt::format("{}, size along its y", what),
                     .symbol = "c_2",
                     .value = 1000 * area_.c2,
                     .unit = Unit::millimetre});
        }
        by.line({.text = "thickness of the slab", .symbol = "h", .value = 1000 * h_, .unit = Unit::millimetre});
        by.line({.text = fmt::format("cover at the {}, to the outermost bar, along {}", name_of(bars_),
                                     name_of(is_upward() ? steel.outer_top : steel.outer_bottom)),
                 .symbol = "c_nom",
                 .value = is_upward() ? steel.cover_top : steel.cover_bottom,
                 .unit = Unit::millimetre});
        for (Direction d : {Direction::x, Direction::y})
            by.line({.text = fmt::format("{} bars along {}: {}", name_of(bars_), name_of(d),
                                         words_of(s_.steel.base(bars_, d))),
                     .symbol = fmt::format("a_s,{}", name_of(d)),
                     .value = s_.steel.base(bars_, d).area(),
                     .unit = Unit::square_millimetre_per_metre});
        by.line({.text = "concrete, the weakest that a perimeter passes through",
                 .symbol = "f_ck",
                 .value = p_.fc,
                 .unit = Unit::megapascal});
    }
    void write_area(const Found& f, Working& by) const {
        by.line({.text = "area inside that perimeter, openings included",
                 .symbol = "A",
                 .value = std::abs(signed_area(outline(f.at.a))),
                 .unit = Unit::square_metre});
    }
    std::string governs(const Found& f) const {
        return of_column_ && f.face && f.face->utilisation > f.verdict.utilisation ? "face" : governs_;
    }
    Polygon outline(double a) const { return spread_out(area_.outline, a); }

  private:
    std::vector<Perimeter> perimeters_of(const PunchedArea& area) const {
        return perimeters_to_try(s_.code, area, openings_, d_, furthest_);
    }
    // Ratio of the steel in tension over the column's width and what the code counts to each side: base bars, and extra
    // bars as far as they are anchored beyond the perimeter furthest out, whose half along the bars is `half_along` m.
    double ratio(Direction dir, double half_along) const {
        const Column& column = s_.m.columns[size_t(k_)];
        const double half = column.smaller_size() / 2 + s_.code.steel_beside_column(d_);
        const Point across = dir == Direction::x ? Point{0, 1} : Point{-1, 0};
        const double extra =
            s_.steel.extra_over(bars_, dir, column.at - half * across, column.at + half * across, half_along);
        return (s_.steel.base(bars_, dir).area() + extra / (2 * half)) / (1000 * 1000 * d_);
    }
    // The weakest concrete that a perimeter may pass through, MPa.
    double weakest_concrete() const {
        const Polygon reach = spread_out(area_.outline, last_);
        const auto& patches = s_.m.slab.patches;
        double fc = 1e300;
        bool all_in_one = false;
        for (auto it = patches.rbegin(); it != patches.rend() && !all_in_one; ++it) {
            if (!touch(reach, it->outline)) continue;
            fc = std::min(fc, concrete_of(s_.m, it->concrete).fck);
            all_in_one = lies_within(reach, anticlockwise(it->outline));
        }
        return all_in_one ? fc : std::min(fc, concrete_of(s_.m, s_.m.slab.concrete).fck);
    }
    const Shared& s_;
    int k_;
    Face bars_;
    bool of_column_;
    std::string governs_;
    const PressedInside& inside_;
    const PunchedArea& area_;
    double h_, d_, furthest_, last_;
    PunchingCase p_;  // all but forces
    std::vector<Polygon> openings_;
    std::vector<Perimeter> perimeters_;  // about the area's own axes
    Perimeter face_;
};

class ColumnPunching {
  public:
    ColumnPunching(const Shared& s, int column) : s_(s), k_(column), column_(s.m.columns[size_t(column)]) {}

    std::optional<PunchingAnswer> answer;
    Row row;
    std::optional<Row> starters;

    void run() {
        row = row_of("punching", "Punching " + column_.id, column_.id);
        row.unit = Unit::megapascal, row.at = column_.at, row.clause = s_.code.punching_clause();
        const Surroundings round = look_round(s_, column_);
        if (!round.refused.empty()) {
            row.note = round.refused;
            return;
        }
        const PunchingDemand::OfColumn& pressed = s_.demand.columns[size_t(k_)];
        double furthest = 1e300;
        if (round.step) {
            const Polygon step = anticlockwise(round.step->outline);
            for (Point q : pressed.footprint.area.outline) furthest = std::min(furthest, distance_to_rim(step, q));
            judge(*pressed.step, s_.m.slab.thickness, 1e300, "step");
        }
        judge(pressed.footprint, thickness_at(s_.m, column_.at), furthest, "perimeter");
        finish();
        add_starters();
    }

  private:
    void judge(const PressedInside& inside, double h, double furthest, const char* governs) {
        const Round down(s_, k_, inside, h, furthest, governs, Face::bottom);
        std::optional<Round> up;  // where it is wanted
        for (const CombinationAnswer& c : s_.fields.combinations) {
            if (!is_design(c)) continue;
            any_ = true;
            ColumnForce f;
            for (size_t i = 0; i < s_.fields.cases.size(); ++i)
                f.add(factor_in(c, s_.fields.cases[i].id), s_.forces[i][size_t(k_)]);
            if (f.N < most_pull_) most_pull_ = f.N, pulls_in_ = c.combination.id;
            if (f.N < 0 && !up) up.emplace(s_, k_, inside, h, furthest, governs, Face::top);
            const Round& round = f.N < 0 ? *up : down;
            const Round::Found found = round.judge(c, f, nullptr);
            no_number_ |= found.no_number;
            if (answer && !(found.use > answer->utilisation)) continue;
            take(round, found, c, f);
            Working by;
            round.write_inputs(by);
            round.write_area(round.judge(c, f, &by), by);
            row.working = std::move(by.terms);
        }
    }
    void take(const Round& round, const Round::Found& found, const CombinationAnswer& c, const ColumnForce& f) {
        const PunchingVerdict& v = found.verdict;
        PunchingAnswer out;
        out.id = column_.id, out.combination = c.combination.id, out.perimeter = found.at.length, out.V = f.N;
        const double sense = round.is_upward() ? -1 : 1;  // as results have them: down the column and less of it
        out.relief = sense * found.relief, out.V_net = sense * v.V_net, out.beta = v.beta,
        out.v_from_moment = v.v_from_moment;
        out.v = v.v, out.v_limit = v.v_limit, out.utilisation = found.use;
        if (found.face) out.face = {found.face->v, found.face->v_limit, found.face->utilisation};
        out.governs = round.governs(found);
        out.outline = round.outline(found.at.a);
        answer = out;
    }

    void finish() {
        if (!any_) return leave("There is no solved strength combination to check it with.");
        if (!answer) return leave("No force acts on this column in a strength combination.");
        const bool face = answer->governs == "face";
        row.value = face ? answer->face->v : answer->v, row.limit = face ? answer->face->v_limit : answer->v_limit;
        row.combination = answer->combination;
        row.judge(answer->utilisation);
        if (row.status == Status::over) {
            row.note =
                std::isinf(answer->utilisation)
                    ? "Openings near by shade the whole perimeter: nothing is left to carry it. Move them away."
                : face
                    ? "Stress at the column's face: a larger column, stronger concrete or a thicker slab would mend it."
                : answer->V < 0
                    ? "It pulls: a thicker slab, more top steel or stronger concrete would mend it."
                    : "A thicker slab, a patch round the column, more bottom steel or stronger concrete would mend it.";
            return;
        }
        if (no_number_) return leave("A stress of its perimeters came out as no number.");
        if (const std::string near = what_meets(s_, column_); !near.empty())
            return leave(
                fmt::format("Its perimeter meets {}: what acts together is not checked as one in this version.{}", near,
                            alone("Alone")));
        if (most_pull_ < -1e-6 && !has_starters())
            leave(fmt::format(
                "It pulls with {:.0f} kN in {}; whether starter bars anchor that is not known: give them. "
                "Its use is {:.2f}{}.",
                -most_pull_, pulls_in_, answer->utilisation, answer->V < 0 ? ", upward with the top steel" : ""));
    }
    bool has_starters() const { return column_.starter_diameter && column_.starter_number; }
    double concrete_of_column() const {  // MPa, of the slab or the patch below it
        std::string id = s_.m.slab.concrete;
        for (const SlabPatch& t : s_.m.slab.patches)
            if (contains(t.outline, column_.at)) id = t.concrete;
        return concrete_of(s_.m, id).fck;
    }
    // Whether the column's own bars hold its pull in the slab.
    void add_starters() {
        if (most_pull_ >= -1e-6 || !has_starters()) return;
        const Steel* steel = find_id(s_.m.steels, s_.m.steel.steel);
        Row r = row_of("anchorage", "Starter bars " + column_.id, column_.id);
        r.at = column_.at, r.unit = Unit::kilonewton, r.combination = pulls_in_, r.clause = s_.code.punching_clause();
        if (!steel) {
            r.note = "The bars' steel is not known.";
        } else {
            Working by;
            const double h = thickness_at(s_.m, column_.at), there = 1000 * h - s_.m.steel.cover_bottom;
            by.line({.text = "pull in " + pulls_in_, .symbol = "N", .value = -most_pull_, .unit = Unit::kilonewton});
            const DesignCode::Starters need = s_.code.starter_bars(*column_.starter_diameter, *column_.starter_number,
                                                                   -most_pull_, concrete_of_column(), steel->fyk, &by);
            by.line(
                {.text = "depth that is there, down to the bottom cover", .value = there, .unit = Unit::millimetre});
            r.value = -most_pull_, r.limit = need.force;
            const double by_force = -most_pull_ / need.force, by_depth = need.depth / std::max(there, 1e-3);
            r.judge(std::max(by_force, by_depth));
            if (by_depth > by_force)
                by.line(term_of_use("use by depth", need.depth, there, Unit::millimetre, r));
            else
                by.line(term_of_use("use", -most_pull_, need.force, Unit::kilonewton, r));
            if (r.status == Status::over)
                r.note = by_depth > by_force ? "The slab is too thin for their anchorage: smaller bars, more of them."
                                             : "More bars, or larger ones.";
            r.working = std::move(by.terms);
        }
        starters = std::move(r);
    }
    void leave(std::string why) {
        row.status = Status::not_checked, row.utilisation.reset();
        row.note = std::move(why);
    }
    std::string alone(const char* how) const { return fmt::format(" {} its use is {:.2f}.", how, answer->utilisation); }

    const Shared& s_;
    int k_;
    const Column& column_;
    bool any_ = false, no_number_ = false;
    double most_pull_ = 0;  // kN, negative
    std::string pulls_in_;
};

}  // namespace

std::vector<Row> judge_punching(const Fields& a, const BaseBars& bars,
                                const std::shared_ptr<const PunchingDemand>& before, Judgement& out,
                                const Progress& progress) {
    const Model& m = *a.model;
    if (m.columns.empty() && m.walls.empty() && !has_concentrated_loads(m)) return {};
    const auto code = make_code(m.settings);
    if (!code) {
        Row row = row_of("punching", "Punching");
        row.note = why_no_code(m.settings);
        return {row};
    }
    const Provision steel(m, code.get(), bars);
    out.punching_demand = find_punching_demand(
        a, [&](double h) { return code->furthest_perimeter(h); }, before, progress);
    const Shared slab{a, m, *code, steel, *out.punching_demand, column_forces(m)};
    std::vector<std::unique_ptr<ColumnPunching>> columns;
    columns.reserve(m.columns.size());
    for (int k = 0; k < int(m.columns.size()); ++k) columns.push_back(std::make_unique<ColumnPunching>(slab, k));
    tbb::parallel_for(size_t(0), columns.size(), [&](size_t k) {
        progress.end_if_stopped();
        columns[k]->run();
    });
    std::vector<Row> rows;
    for (auto& c : columns) {
        if (c->answer) out.punching.push_back(*c->answer);
        rows.push_back(std::move(c->row));
        if (c->starters) rows.push_back(std::move(*c->starters));
    }
    for (Row& r : look_at_concentrated_loads(a, *code, steel, progress)) rows.push_back(std::move(r));
    return rows;
}

}  // namespace mossbed
