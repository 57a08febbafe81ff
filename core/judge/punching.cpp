// Punching of all that stands on the slab: columns alone and together with neighbours, walls, heavy points; downward
// and, where a column pulls, upward with the top steel. What cannot be judged stands in the Ledger as not checked, with
// the reason.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <numbers>

#include "core/base/counted.h"
#include "core/base/polygons.h"
#include "core/codes/worst_perimeter.h"
#include "core/fields/member_lines.h"
#include "core/judge/alike_areas.h"
#include "core/judge/concentrated_loads.h"
#include "core/judge/design.h"
#include "core/judge/punched_places.h"
#include "core/judge/punching_links.h"

namespace mossbed {
namespace {

// What all places are judged by. The rows keep it for their workings.
struct Shared {
    Shared(const Fields& f, std::shared_ptr<const DesignCode> by, const BaseBars& bars)
        : fields(f),
          kept(std::move(by)),
          steel(*fields.model, kept.get(), bars),
          slab(*fields.model, *kept, steel),
          forces(column_forces(*fields.model)) {
        const auto listed_ones = as_listed(fields.combinations);
        for (const CombinationAnswer& c : fields.combinations) {
            const auto same = [&](const CombinationAnswer& o) { return o.combination.id == c.combination.id; };
            listed.push_back(size_t(std::find_if(listed_ones.begin(), listed_ones.end(), same) - listed_ones.begin()));
        }
    }
    Shared(const Shared&) = delete;

    const Fields fields;
    const std::shared_ptr<const DesignCode> kept;
    const Provision steel;
    const PunchedSlab slab;
    const std::vector<std::vector<ColumnForce>> forces;  // per case and column
    std::vector<size_t> listed;                          // of each combination its place among those listed
    std::vector<PunchedItem> items;
    std::vector<size_t> first;  // of each item's regions in the demand
    std::shared_ptr<const PunchingDemand> demand;
    std::vector<std::optional<LinksOfColumn>> links;  // per column
    mutable AlikeAreas alike;
    const Model& m() const { return slab.m; }
    const DesignCode& code() const { return slab.code; }
};

ColumnForce force_in(const Shared& s, const CombinationAnswer& c, int column) {
    ColumnForce f;
    for (size_t i = 0; i < s.fields.cases.size(); ++i)
        f.add(factor_in(c, s.fields.cases[i].id), s.forces[i][size_t(column)]);
    return f;
}

// A family's perimeters are nearer than any rim at which they do not end themselves, so many m; past that one a course
// with one rim more goes on.
double first_rim(const PunchedPlace& place, const PerimeterCourse& course) {
    double first = 1e300;
    for (const PerimeterCourse& c : place.courses)
        for (size_t i = 0; i < c.outward.size(); ++i)
            if (std::find(course.outward.begin(), course.outward.end(), c.outward[i]) == course.outward.end())
                first = std::min(first, c.to_rims[i]);
    return first;
}

// One family of perimeters of one place, for one face in tension: bottom where it presses, top where it pulls.
class Round {
  public:
    Round(const Shared& s, const PunchedItem& item, const PunchedPlace& place, const PerimeterCourse& course,
          const PressedInside& inside, Face bars)
        : s_(s),
          item_(item),
          place_(place),
          bars_(bars),
          inside_(inside),
          opens_(!course.outward.empty()),
          d_(s.slab.depth(place.thickness, bars)),
          perimeters_(place.area, s.code().perimeter_rule(d_), place.slab, course) {
        add_links();
        double links_end = 0;
        for (const LinkLegs& l : p_.links) links_end = std::max(links_end, l.end());
        last_ = std::min(s.code().furthest_perimeter(d_, links_end), reach_of(s.slab, place));
        if (std::any_of(s.fields.combinations.begin(), s.fields.combinations.end(),
                        [](const CombinationAnswer& c) { return c.forces.has_plane(); }))
            for (Point q : perimeters_.region(last_))
                if (const Finder::Hit hit = s.fields.finder.at(q); hit.element >= 0)
                    along_.push_back({hit, thickness_at(s.m(), q)});
        p_.round = place.area.round && course.outward.empty(), p_.d = d_, p_.upward = is_upward();
        p_.fc = weakest_concrete();
        for (const SlabPatch& t : s.m().slab.patches) add_thinner(t.thickness);
        add_thinner(s.m().slab.thickness);
        inner_ = std::min(last_, s.code().furthest_perimeter(d_));
        // Rims that only perimeters beyond links come near make no edge or corner column of it; and what pulls and what
        // adds to it near by is not carried to rims that far.
        const double near = s.code().furthest_perimeter(place.thickness);
        is_near_ = std::none_of(course.to_rims.begin(), course.to_rims.end(), [near](double to) { return to > near; });
        find_tried(links_end);
        p_beyond_ = p_;
        set_ratios(p_, inner_);
        if (last_ > inner_) set_ratios(p_beyond_, last_);
    }

    struct Found : WorstPerimeter {
        std::optional<PunchingVerdict> face;
        double V = 0;  // kN, positive
        double use = -1;
        bool no_number = false, beyond_links = false;
    };
    // The worst perimeter of one combination; with `by` the derivation of that one. A use below nought: no force acts.
    Found judge(const CombinationAnswer& c, Working* by) const {
        const size_t k = size_t(&c - s_.fields.combinations.data());
        const ForceAt from = force(c, k);
        Found out;
        out.V = from.F;
        if (from.F <= 1e-9) return out;
        const auto& others = is_upward() ? inside_.up : inside_.down;
        const ForceAt at_once = item_.columns.empty() ? others.within(0, k) : ForceAt{};  // is in V already
        auto acts = [&](const Perimeter& at) {
            // Beyond links what adds to a pull is what acts near it: further off it belongs to other columns.
            const double a = is_upward() ? std::min(at.a, inner_) : at.a;
            ForceAt more = inside_.of_ground(a, k);  // all that adds to the force there
            if (!is_upward()) more = {-more.F, -1.0 * more.moment};
            more.add(1, others.within(a, k)).add(-1, at_once);
            // Inside an open perimeter what acts bends the slab towards the rim; the column's own moment is what
            // counts.
            if (opens_) more.moment = {};
            return about(at, from, more);
        };
        const PunchingCase p = with(p_, from.F, c), p_beyond = with(p_beyond_, from.F, c);
        const WorstPerimeter within = find_worst_perimeter(s_.code(), p, tried_->within, acts),
                             beyond = find_worst_perimeter(s_.code(), p_beyond, tried_->beyond, acts);
        out.beyond_links = beyond.at && (!within.at || beyond.verdict.utilisation > within.verdict.utilisation);
        static_cast<WorstPerimeter&>(out) = out.beyond_links ? beyond : within;
        if (!out.at) return out;
        if (by) s_.code().punching(out.beyond_links ? p_beyond : p, *out.at, out.force, by);
        if (place_.has_face && is_near_)
            out.face = s_.code().punching_at_face(p, tried_->face, about(tried_->face, from, {}), by);
        const double face_use = out.face ? out.face->utilisation : 0;
        out.use = std::max(out.verdict.utilisation, face_use);
        out.no_number = std::isnan(out.verdict.utilisation) || std::isnan(face_use);
        return out;
    }
    bool is_upward() const { return bars_ == Face::top; }
    // Side of the square, m, that a force must stand on for the stress at its face; 0 where the code has no such limit.
    double least_side(double V) const {
        PunchingCase p = p_;
        p.V = V;
        Perimeter metre;
        metre.length = metre.reduced = 1;
        const auto v = s_.code().punching_at_face(p, metre, {0, V, 0, 0});
        return v ? v->utilisation / 4 : 0;
    }
    bool governed_by_face(const Found& f) const { return f.face && f.face->utilisation > f.verdict.utilisation; }
    const PunchedPlace& place() const { return place_; }

    // What the engineer gave: a checker needs it on the same sheet.
    void write_inputs(Working& by) const {
        const Reinforcement& steel = s_.m().steel;
        const PunchedArea& area = place_.area;
        const char* what = place_.governs == std::string("step") ? "patch it stands on"
                           : !place_.what.empty()                ? place_.what.c_str()
                           : item_.columns.size() > 1            ? "round all of them"
                           : item_.columns.empty()               ? "loaded area"
                                                                 : "column";
        if (area.round) {
            by.line({.text = std::string(what) + ", diameter",
                     .symbol = "c",
                     .value = 1000 * area.c1,
                     .unit = Unit::millimetre});
        } else {
            by.line({.text = std::string(what) + ", size along its x",
                     .symbol = "c_1",
                     .value = 1000 * area.c1,
                     .unit = Unit::millimetre});
            by.line({.text = std::string(what) + ", size along its y",
                     .symbol = "c_2",
                     .value = 1000 * area.c2,
                     .unit = Unit::millimetre});
        }
        by.line({.text = "thickness of the slab",
                 .symbol = "h",
                 .value = 1000 * place_.thickness,
                 .unit = Unit::millimetre});
        by.line({.text = fmt::format("cover at the {}, to the outermost bar, along {}", name_of(bars_),
                                     name_of(is_upward() ? steel.outer_top : steel.outer_bottom)),
                 .symbol = "c_nom",
                 .value = is_upward() ? steel.cover_top : steel.cover_bottom,
                 .unit = Unit::millimetre});
        for (Direction d : {Direction::x, Direction::y})
            by.line({.text = fmt::format("{} bars along {}: {}", name_of(bars_), name_of(d),
                                         words_of(s_.slab.steel.base(bars_, d))),
                     .symbol = fmt::format("a_s,{}", name_of(d)),
                     .value = s_.slab.steel.base(bars_, d).area(),
                     .unit = Unit::square_millimetre_per_metre});
        by.line({.text = "concrete, the weakest that a perimeter passes through",
                 .symbol = "f_ck",
                 .value = p_.fc,
                 .unit = Unit::megapascal});
    }
    void write_area(const Found& f, Working& by) const {
        by.line({.text = "area inside that perimeter, openings included",
                 .symbol = "A",
                 .value = std::abs(signed_area(outline(f.at->a))),
                 .unit = Unit::square_metre});
    }
    Polygon outline(double a) const { return perimeters_.outline(a); }
    // Why links that are given do not count; nothing where they do, or there are none.
    const std::string& links_broken() const { return links_broken_; }
    bool has_links() const { return !p_.links.empty(); }
    // What the eye wants of it, once it is known to be the worst.
    void describe(const Found& found, const CombinationAnswer& c, PunchingAnswer& out) const {
        const double a = found.at->a;
        out.a = a, out.d = d_, out.centre = place_.area.centre, out.loaded = place_.area.outline;
        out.outline = outline(a), out.lines = perimeters_.lines(a);
        // One place at a time, when somebody looks: all of them would be most of what thousands of columns weigh.
        struct Acting {
            std::shared_ptr<const DesignCode> code;
            PunchingCase p;
            Perimeter at;
            PunchingForce force;
        };
        const auto acting = std::make_shared<const Acting>(s_.kept, with(p_, found.V, c), *found.at, found.force);
        out.stress_at = [acting, centre = out.centre](Point q) {
            return acting->code->punching_stress(acting->p, acting->at, acting->force, q - centre);
        };
    }

  private:
    PunchingCase with(PunchingCase p, double V, const CombinationAnswer& c) const {
        p.V = V, p.pull = pull(c);
        return p;
    }
    // Links of the columns that punch, as far as they keep the rules and all of the columns have some; round a patch
    // none count.
    void add_links() {
        if (place_.governs == std::string("step")) return;
        const Polygon swept = swept_to_rims(place_.area, perimeters_.course());
        p_.fy_links = steel_of(s_.m()).fyk;
        for (int k : item_.columns) {
            const auto& links = s_.links[size_t(k)];
            if (!links) continue;
            const Column& c = s_.m().columns[size_t(k)];
            const LinkRules rules = link_rules(s_.slab, c, *links, bars_);
            if (!rules.broken.empty())
                links_broken_ = (item_.columns.size() > 1 ? c.id + ": " : "") + rules.broken;
            else if (LinkLegs legs = legs_beyond(*links, swept); !legs.rings.empty())
                p_.links.push_back(std::move(legs));
        }
        if (p_.links.size() < item_.columns.size()) {
            if (!p_.links.empty() && links_broken_.empty()) links_broken_ = "not all of these columns have some";
            p_.links.clear();
        }
    }
    // Tension steel for perimeters up to `furthest` m.
    void set_ratios(PunchingCase& p, double furthest) const {
        const Polygon out = s_.slab.steel.extra().none() ? Polygon{} : spread_out(place_.area.outline, furthest);
        auto half_along = [&](Direction d) {
            double half = 0;
            for (Point q : out)
                half = std::max(half, std::abs(dot(q - place_.area.centre, along_bars(s_.m().steel, d))));
            return half;
        };
        p.rho_x = ratio(Direction::x, half_along(Direction::x)),
        p.rho_y = ratio(Direction::y, half_along(Direction::y));
    }
    // What comes down (or pulls up) through the loaded area, and its moment about the area's centre.
    ForceAt force(const CombinationAnswer& c, size_t k) const {
        if (item_.columns.empty()) return (is_upward() ? inside_.up : inside_.down).within(0, k);
        ForceAt sum;
        const double sense = is_upward() ? -1 : 1;
        for (int column : item_.columns) {
            const ColumnForce f = force_in(s_, c, column);
            // A pull beside it relieves nothing; where all together pull, what presses among them does press.
            if (sense * f.N <= 0 && !is_upward()) continue;
            const Point arm = s_.m().columns[size_t(column)].at - place_.area.centre;
            sum.add(sense, {f.N, f.N * arm + Point{f.My, -f.Mx}});
        }
        return sum;
    }
    // Mean pull in the slab's plane along the perimeter furthest out, MPa; none where the slab does not stretch.
    double pull(const CombinationAnswer& c) const {
        if (!c.forces.has_plane() || along_.empty()) return 0;
        double stress = 0;
        for (const auto& [hit, thickness] : along_) {
            const Element& e = s_.fields.mesh.elements[size_t(hit.element)];
            for (int k = 0; k < corners(e); ++k) {
                const PlateForces q = c.forces[s_.fields.slots.of_corner[size_t(hit.element)][size_t(k)]];
                stress += hit.weight[size_t(k)] * (q.nx + q.ny) / 2 / (1000 * thickness);
            }
        }
        return std::max(0.0, stress / double(along_.size()));
    }
    PunchingForce about(const Perimeter& at, const ForceAt& from, const ForceAt& more) const {
        PunchingForce f;
        f.relief = -more.F, f.V = from.F + more.F;
        const Point M = from.moment + more.moment;
        f.M1 = dot(M, at.axis1), f.M2 = dot(M, at.axis2);
        constexpr double nothing = 1e-5;  // m of eccentricity
        for (double* m : {&f.M1, &f.M2})
            if (std::abs(*m) < nothing * std::abs(f.V)) *m = 0;
        return f;
    }
    // Round places that are alike once.
    void find_tried(double links_end) {
        const PunchedArea& area = place_.area;
        const PerimeterCourse& course = perimeters_.course();
        const PerimeterRule rule = s_.code().perimeter_rule(d_);
        const double rim = first_rim(place_, course);
        std::vector<double> key{d_, last_, inner_, links_end};
        if (AlikeAreas::lies_free(area, place_.slab, place_.courses)) {
            tried_ = s_.alike.find(area, std::move(key), [&](const PunchedArea& moved) {
                return try_round(Perimeters(moved, rule, place_.slab, course), place_.slab, links_end, rim);
            });
        } else if (const auto near = AlikeAreas::slab_beside_rim(area, place_.slab, place_.courses, rule, last_)) {
            const SlabAround slab{*near, {}, {}, {}};
            PerimeterCourse moved_course = course;
            for (double& to : moved_course.to_rims) to = AlikeAreas::rounded(to);
            const double moved_rim = AlikeAreas::rounded(rim);
            for (double v : {moved_rim, double(is_near_), double(is_upward())}) key.push_back(v);
            for (Point u : course.outward) key.push_back(u.x), key.push_back(u.y);
            for (double to : moved_course.to_rims) key.push_back(to);
            key.push_back(double(near->size()));
            for (Point q : *near) key.push_back(q.x), key.push_back(q.y);
            tried_ = s_.alike.find(area, std::move(key), [&](const PunchedArea& moved) {
                return try_round(Perimeters(moved, rule, slab, moved_course), slab, links_end, moved_rim);
            });
        } else {
            tried_ = std::make_shared<const PerimetersTried>(try_round(perimeters_, place_.slab, links_end, rim));
        }
    }
    PerimetersTried try_round(const Perimeters& perimeters, const SlabAround& slab, double links_end,
                              double rim) const {
        PerimetersTried out;
        out.face = perimeters.at(0);
        if (is_near_ || (last_ > inner_ && !is_upward())) {
            out.within = perimeters_to_try(s_.code(), perimeters, d_, last_, links_end, rim);
            keep_sensible(perimeters, slab, out.within);
        }
        if (last_ > inner_) {
            const auto first = std::find_if(out.within.begin(), out.within.end(),
                                            [this](const Perimeter& p) { return p.a > inner_ + 1e-9; });
            out.beyond.assign(first, out.within.end()), out.within.erase(first, out.within.end());
        }
        if (!is_near_) out.within.clear();
        return out;
    }
    // A closed perimeter that leaves the slab stands aside for open ones; an open one counts where it is the shorter.
    void keep_sensible(const Perimeters& round, const SlabAround& slab, std::vector<Perimeter>& tried) const {
        const PerimeterCourse& course = round.course();
        // What is left in the corners of a slab that perimeters otherwise leave is none; nor is a straight line one,
        // which is what one-way shear looks at.
        auto too_little = [opens = opens_](const Perimeter& p) {
            const double straight = 1e-3 * p.length * p.length;
            if (p.length > 0 && std::min(p.first1, p.first2) < straight * (opens ? 20 : 1)) return true;
            return p.unshaded < p.a + (p.c1 + p.c2) / 2;
        };
        std::erase_if(tried, too_little);
        if (course.outward.empty()) return;
        const double own_rim = *std::min_element(course.to_rims.begin(), course.to_rims.end());
        const Perimeters closed(round.area(), s_.code().perimeter_rule(d_), slab, place_.courses[0]);
        std::erase_if(tried, [&](const Perimeter& p) { return p.a <= own_rim && p.length >= closed.at(p.a).length; });
    }
    void add_thinner(double h) {
        if (h < place_.thickness - 1e-9) p_.thinner.push_back({h, std::max(1e-6, s_.slab.depth(h, bars_))});
    }
    // Ratio of the steel in tension over the area's width and what the code counts to each side: base bars, and extra
    // bars as far as they are anchored beyond the perimeter furthest out, whose half along the bars is `half_along` m.
    double ratio(Direction dir, double half_along) const {
        const PunchedArea& a = place_.area;
        const double half = (item_.columns.size() == 1 ? s_.m().columns[size_t(item_.columns[0])].smaller_size()
                                                       : std::min(a.c1, a.c2)) /
                                2 +
                            s_.code().steel_beside_column(d_);
        const Point at = item_.columns.size() == 1 ? s_.m().columns[size_t(item_.columns[0])].at : a.centre;
        const Point across = left_of(along_bars(s_.m().steel, dir));
        const double extra = s_.slab.steel.extra_over(bars_, dir, at - half * across, at + half * across, half_along);
        return (s_.slab.steel.base(bars_, dir).area() + extra / (2 * half)) / (1000 * 1000 * d_);
    }
    // The weakest concrete that a perimeter may pass through, MPa.
    double weakest_concrete() const {
        const Model& m = s_.m();
        const auto& patches = m.slab.patches;
        const Polygon reach = patches.empty() ? Polygon{} : spread_out(place_.area.outline, last_);
        double fc = 1e300;
        bool all_in_one = false;
        for (auto it = patches.rbegin(); it != patches.rend() && !all_in_one; ++it) {
            if (!touch(reach, it->outline)) continue;
            fc = std::min(fc, concrete_of(m, it->concrete).fck);
            all_in_one = lies_within(reach, anticlockwise(it->outline));
        }
        return all_in_one ? fc : std::min(fc, concrete_of(m, m.slab.concrete).fck);
    }
    const Shared& s_;
    const PunchedItem& item_;
    const PunchedPlace& place_;
    Face bars_;
    const PressedInside& inside_;
    bool opens_, is_near_ = true;
    double d_, last_ = 0, inner_ = 0;  // m: the perimeters furthest out, and without links
    Perimeters perimeters_;
    PunchingCase p_, p_beyond_;  // all but the force; beyond links, with the steel that is there
    std::shared_ptr<const PerimetersTried> tried_;
    std::string links_broken_;
    std::vector<std::pair<Finder::Hit, double>> along_;  // places of the perimeter furthest out, thickness there
};

const char* name_of(Position p) {
    switch (p) {
        case Position::edge:
            return "edge";
        case Position::corner:
            return "corner";
        case Position::wall_end:
            return "wall-end";
        case Position::wall_corner:
            return "wall-corner";
        default:
            return "interior";
    }
}

class ItemPunching {
  public:
    ItemPunching(std::shared_ptr<const Shared> s, size_t k)
        : kept_(std::move(s)), s_(*kept_), item_(s_.items[k]), first_(s_.first[k]) {}

    std::optional<PunchingAnswer> answer;
    Row row;
    std::optional<Row> starters;

    void run() {
        row = row_of("punching", item_.title, item_.id);
        row.unit = Unit::megapascal, row.at = item_.at, row.clause = s_.code().punching_clause();
        if (!item_.refused.empty()) {
            row.note = item_.refused;
            return;
        }
        size_t region = first_;
        uses_.assign(as_listed(s_.fields.combinations).size(), std::numeric_limits<float>::quiet_NaN());
        for (const PunchedPlace& place : item_.places)
            for (const PerimeterCourse& course : place.courses) judge(place, course, s_.demand->inside[region++]);
        if (answer) answer->uses = std::move(uses_);
        if (item_.columns.size() == 1) find_pull();
        finish();
        add_starters();
    }

  private:
    void judge(const PunchedPlace& place, const PerimeterCourse& course, const PressedInside& inside) {
        std::array<std::optional<Round>, 2> rounds;  // by face, where it is wanted
        const Round* worst_round = nullptr;
        Round::Found worst;
        const CombinationAnswer* worst_in = nullptr;
        for (const CombinationAnswer& c : s_.fields.combinations) {
            if (!is_design(c)) continue;
            any_ = true;
            for (Face bars : {Face::bottom, Face::top}) {
                if (!acts(c, bars, inside)) continue;
                acts_ = true;
                auto& round = rounds[bars == Face::top];
                if (!round) round.emplace(s_, item_, place, course, inside, bars);
                const Round::Found found = round->judge(c, nullptr);
                no_number_ |= found.no_number;
                if (place.no_size) least_side_ = std::max(least_side_, round->least_side(found.V));
                if (found.use < 0) continue;
                float& of_this = uses_[s_.listed[size_t(&c - s_.fields.combinations.data())]];
                if (!(of_this > float(found.use))) of_this = float(found.use);
                if (answer && !(found.use > answer->utilisation)) continue;
                take(*round, found, c);
                worst_round = &*round, worst = found, worst_in = &c;
            }
        }
        if (!worst_round) return;
        worst_round->describe(worst, *worst_in, *answer);
        if (item_.columns.size() == 1) {
            answer->force = force_in(s_, *worst_in, item_.columns[0]);
            answer->link_legs.clear();
            if (const auto& links = s_.links[size_t(item_.columns[0])])
                for (const auto& ring : links->legs)
                    answer->link_legs.insert(answer->link_legs.end(), ring.begin(), ring.end());
        }
        row.working = Derivation([kept = kept_, item = &item_, place = &place, course = &course, inside = &inside,
                                  bars = worst_round->is_upward() ? Face::top : Face::bottom, c = worst_in] {
            const Round round(*kept, *item, *place, *course, *inside, bars);
            Working by;
            round.write_inputs(by);
            const Round::Found found = round.judge(*c, &by);
            round.write_area(found, by);
            return std::move(by.terms);
        });
    }
    // Whether something presses (or pulls) through the item at all.
    bool acts(const CombinationAnswer& c, Face bars, const PressedInside& inside) const {
        if (item_.columns.empty()) return !(bars == Face::top ? inside.up : inside.down).empty();
        double sum = 0, most = 0;
        for (int k : item_.columns) sum += force_in(s_, c, k).N, most = std::max(most, force_in(s_, c, k).N);
        return bars == Face::top ? sum < 0 : most > 0;
    }
    void take(const Round& round, const Round::Found& found, const CombinationAnswer& c) {
        const PunchingVerdict& v = found.verdict;
        PunchingAnswer out;
        out.id = item_.id, out.combination = c.combination.id, out.perimeter = found.at->length;
        const double sense = round.is_upward() ? -1 : 1;  // as results have them: down the column and less of it
        out.V = sense * found.V, out.relief = sense * found.force.relief, out.V_net = sense * found.force.V;
        out.beta = v.beta, out.v_from_moment = v.v_from_moment;
        out.v = v.v, out.v_limit = v.v_limit, out.utilisation = found.use;
        if (found.face) out.face = {found.face->v, found.face->v_limit, found.face->utilisation};
        out.governs = round.governed_by_face(found) ? "face" : round.place().governs;
        out.position = name_of(found.at->position);
        where_ = round.place().what;
        links_broken_ = round.links_broken(), beyond_links_ = found.beyond_links, has_links_ = round.has_links();
        no_more_links_ = v.links_at_most;
        answer = std::move(out);
    }

    void find_pull() {
        for (const CombinationAnswer& c : s_.fields.combinations)
            if (is_design(c))
                if (const double N = force_in(s_, c, item_.columns[0]).N; N < most_pull_)
                    most_pull_ = N, pulls_in_ = c.combination.id;
    }

    void finish() {
        if (!any_) return leave("There is no solved strength combination to check it with.");
        if (!answer && acts_)
            return leave("No perimeter round it is left on the slab: rims or openings lie too near on all sides.");
        if (!answer)
            return leave(item_.columns.size() == 1 ? "No force acts on this column in a strength combination."
                                                   : "No force acts here in a strength combination.");
        const bool face = answer->governs == "face";
        row.value = face ? answer->face->v : answer->v, row.limit = face ? answer->face->v_limit : answer->v_limit;
        row.combination = answer->combination;
        row.judge(answer->utilisation);
        if (row.status == Status::over) {
            row.note =
                std::isinf(answer->utilisation) && answer->perimeter > 0
                    ? "The pull in the slab's plane leaves no strength: tie the base, or thicken the slab."
                : std::isinf(answer->utilisation)
                    ? "Openings near by shade the whole perimeter: nothing is left to carry it. Move them away."
                : face
                    ? "Stress at the column's face: a larger column, stronger concrete or a thicker slab would mend it."
                : answer->V < 0
                    ? "It pulls: a thicker slab, more top steel or stronger concrete would mend it."
                    : "A thicker slab, a patch round it, more bottom steel, stronger concrete or links would mend it.";
            if (!links_broken_.empty())
                row.note = "Its links do not count: " + links_broken_ + ".";
            else if (!face && beyond_links_)
                row.note = "Beyond its links: more perimeters of them, or a thicker slab would mend it.";
            else if (!face && no_more_links_)
                row.note =
                    "More links do not help: they may lift the strength no further. A thicker slab or stronger "
                    "concrete would.";
            else if (!face && has_links_)
                row.note = "More link legs, thicker ones or perimeters nearer to each other would mend it.";
            if (!where_.empty()) row.note = "Worst " + words_of_place() + ". " + row.note;
            return;
        }
        if (no_number_) return leave("A stress of its perimeters came out as no number.");
        const bool open = answer->position == "edge" || answer->position == "corner";
        const char* to = answer->position == "edge" ? "rim" : "corner";
        if (!where_.empty())
            row.note = "Worst " + words_of_place() + (open ? fmt::format(", open to the {}.", to) : ".");
        else if (open)
            row.note = fmt::format("The perimeter open to the {} governs.", to);
        if (!links_broken_.empty()) row.note = "Its links do not count: " + links_broken_ + ".";
        if (least_side_ > 0)
            row.note = fmt::format(
                "What it stands on is not given: for the stress at its face it must be {:.0f} mm square or larger.",
                std::ceil(1000 * least_side_));
        if (most_pull_ < -1e-6 && !has_starters())
            leave(fmt::format(
                "It pulls with {:.0f} kN in {}; whether starter bars anchor that is not known: give them. "
                "Its use is {:.2f}{}.",
                -most_pull_, pulls_in_, answer->utilisation, answer->V < 0 ? ", upward with the top steel" : ""));
    }
    std::string words_of_place() const { return where_.starts_with("round") ? where_ : "at " + where_; }
    bool has_starters() const { return column().starter_diameter && column().starter_number; }
    const Column& column() const { return s_.m().columns[size_t(item_.columns[0])]; }
    // Whether the column's own bars hold its pull in the slab.
    void add_starters() {
        if (item_.columns.size() != 1 || most_pull_ >= -1e-6 || !has_starters()) return;
        const Steel* steel = find_id(s_.m().steels, s_.m().steel.steel);
        Row r = row_of("anchorage", "Starter bars " + column().id, column().id);
        r.at = column().at, r.unit = Unit::kilonewton, r.combination = pulls_in_,
        r.clause = s_.code().punching_clause();
        if (!steel) {
            r.note = "The bars' steel is not known.";
        } else {
            Working by;
            const double h = thickness_at(s_.m(), column().at), there = 1000 * h - s_.m().steel.cover_bottom;
            by.line({.text = "pull in " + pulls_in_, .symbol = "N", .value = -most_pull_, .unit = Unit::kilonewton});
            const DesignCode::Starters need =
                s_.code().starter_bars(*column().starter_diameter, *column().starter_number, -most_pull_,
                                       strength_below(s_.m(), column().at), steel->fyk, &by);
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

    const std::shared_ptr<const Shared> kept_;
    const Shared& s_;
    const PunchedItem& item_;
    size_t first_;  // the item's first region in the demand
    bool any_ = false, acts_ = false, no_number_ = false;
    std::vector<float> uses_;
    double most_pull_ = 0;   // kN, negative
    double least_side_ = 0;  // m, of a load whose area is not known
    std::string pulls_in_, where_, links_broken_;
    bool has_links_ = false, beyond_links_ = false, no_more_links_ = false;
};

// What walls that stiffen hand on along their length, beyond what stands on them: their shear's growth.
std::vector<HandedOn> handed_on_by_walls(const Fields& f, const Progress& progress) {
    std::vector<HandedOn> out;
    if (std::none_of(f.model->walls.begin(), f.model->walls.end(), [](const Wall& w) { return w.stiffens; }))
        return out;
    for (const MemberLine& line : member_lines(f, {}, progress)) {
        if (line.kind != Member::Kind::wall) continue;
        const long n = long(line.stations.size());
        auto shear = [&](long i, long c) { return i <= 0 || i >= n - 1 ? 0.0 : line.V_alone(i, c); };  // free ends
        for (long i = 0; i + 1 < n; ++i) {
            HandedOn h;
            h.at = 0.5 * (line.stations[size_t(i)].at + line.stations[size_t(i) + 1].at);
            for (long c = 0; c < long(f.combinations.size()); ++c) {
                const double N = shear(i + 1, c) - shear(i, c);
                h.N.push_back(std::isfinite(N) ? N : 0);
            }
            out.push_back(std::move(h));
        }
    }
    return out;
}

}  // namespace

std::vector<StressInDirection> stresses_round(const PunchingAnswer& p) {
    std::vector<StressInDirection> out;
    if (!p.stress_at) return out;
    constexpr double step = 0.05;  // m
    for (const auto& line : p.lines)
        for (size_t i = 0; i + 1 < line.size(); ++i) {
            const int n = std::clamp(int(distance(line[i], line[i + 1]) / step), 1, 40);
            for (int k = 0; k < n; ++k) {
                const Point q = line[i] + ((k + 0.5) / n) * (line[i + 1] - line[i]), way = q - p.centre;
                const double t = std::atan2(way.y, way.x) * 180 / std::numbers::pi;
                out.push_back({t < 0 ? t + 360 : t, p.stress_at(q)});
            }
        }
    std::sort(out.begin(), out.end(), [](const auto& x, const auto& y) { return x.direction < y.direction; });
    return out;
}

std::vector<Row> judge_punching(const Fields& a, const BaseBars& bars,
                                const std::shared_ptr<const PunchingDemand>& before, Judgement& out,
                                const Progress& progress) {
    const Model& m = *a.model;
    if (m.columns.empty() && m.walls.empty() && !has_concentrated_loads(m)) return {};
    const std::shared_ptr<const DesignCode> code = make_code(m.settings);
    if (!code) {
        Row row = row_of("punching", "Punching");
        row.note = why_no_code(m.settings);
        return {row};
    }
    const auto shared = std::make_shared<Shared>(a, code, bars);
    const PunchedSlab& slab = shared->slab;
    std::vector<PunchedItem>& items = shared->items;
    items = punched_columns(slab);
    for (PunchedItem& w : punched_walls(slab)) items.push_back(std::move(w));
    std::vector<Row> rows = look_at_concentrated_loads(a, slab, items, progress);

    std::vector<PunchedRegion> regions;
    for (const PunchedItem& item : items) {
        shared->first.push_back(regions.size());
        for (const PunchedPlace& p : item.places)
            for (const PerimeterCourse& c : p.courses)  // to where it comes to a rim, where what lies in it has a bend
                regions.push_back(
                    {p.area, c, std::max(1e-3, std::min(reach_of(slab, p), first_rim(p, c))), item.columns});
    }
    out.punching_demand =
        find_punching_demand(a, std::move(regions), handed_on_by_walls(a, progress), shared->forces, before, progress);
    shared->demand = out.punching_demand;
    shared->links = lay_links(slab, items);
    std::vector<std::unique_ptr<ItemPunching>> judged;
    for (size_t k = 0; k < items.size(); ++k) judged.push_back(std::make_unique<ItemPunching>(shared, k));
    Counted counted(progress, 0.9, 1, judged.size(), "punching");
    tbb::parallel_for(size_t(0), judged.size(), [&](size_t k) {
        progress.end_if_stopped();
        judged[k]->run();
        counted.one_more();
    });
    for (auto& j : judged) {
        if (j->answer) out.punching.push_back(std::move(*j->answer));
        rows.push_back(std::move(j->row));
        if (j->starters) rows.push_back(std::move(*j->starters));
    }
    for (size_t k = 0; k < m.columns.size(); ++k)
        if (auto row = judge_links(slab, m.columns[k], shared->links[k])) rows.push_back(std::move(*row));
    return rows;
}

}  // namespace mossbed
