#include "core/validate/validate.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/box_bins.h"
#include "core/base/polygons.h"
#include "core/codes/code.h"
#include "core/codes/combination_rules.h"
#include "core/ground/soil_profile.h"
#include "core/model/columns_by_id.h"
#include "core/model/fields.h"
#include "core/model/levels.h"
#include "core/validate/faults.h"

namespace mossbed {
namespace {
constexpr double cells_of_column = 33;  // round each
}

double expected_cells(const Model& m) {
    return net_area(m) / (m.mesh_size * m.mesh_size) + cells_of_column * double(m.columns.size());
}

namespace {

// Goes through all fields of a model and holds each number against its facts.
class Ranges {
  public:
    Ranges(std::vector<Problem>& found, std::string where, bool is_single, std::optional<Point> at = {})
        : found_(found), where_(std::move(where)), is_single_(is_single), at_(at) {}

    template <class T>
    void operator()(const char* key, T& t, const Facts& f = {}) {
        if constexpr (std::is_same_v<T, double>)
            judge(key, t, f);
        else if constexpr (std::is_same_v<T, std::optional<double>>) {
            if (t) judge(key, *t, f);
        } else if constexpr (std::is_same_v<T, std::vector<double>>) {
            for (double v : t) judge(key, v, f);
        } else {
            enter(key, t);
        }
    }
    void choice(const char*, std::string&, Allowed) {}
    void id(std::string&) {}
    void raw(const char*, std::string&) {}
    template <class F>
    void group(const char* key, Keys&, F each) {
        Ranges inner(found_, place(key), true);
        each(inner);
    }

  private:
    // Things of a list are named by their kind and id; the rest by the keys of the file.
    static std::string kind(const Concrete&) { return "concrete"; }
    static std::string kind(const Steel&) { return "steel"; }
    static std::string kind(const Stratum&) { return "stratum"; }
    static std::string kind(const Borehole&) { return "borehole"; }
    static std::string kind(const GroundPatch&) { return "ground patch"; }
    static std::string kind(const Opening&) { return "opening"; }
    static std::string kind(const SlabPatch&) { return "patch"; }
    static std::string kind(const Column&) { return "column"; }
    static std::string kind(const Wall&) { return "wall"; }
    static std::string kind(const Rib&) { return "rib"; }
    static std::string kind(const Pile&) { return "pile"; }
    static std::string kind(const LoadCase&) { return "case"; }
    static std::string kind(const Combination&) { return "combination"; }
    static std::string kind(const ExtraBars&) { return "extra bars"; }
    static std::string kind(const ShearLinks&) { return "links"; }
    static std::string kind(const Strip&) { return "strip"; }
    static std::optional<Point> at_of(const Column& c) { return c.at; }
    template <class T>
    static std::optional<Point> at_of(const T&) {
        return {};
    }

    std::string place(const char* key) const { return where_.empty() ? key : where_ + "." + key; }
    void judge(const char* key, double v, const Facts& f) {
        const std::string where = is_single_ ? place(key) : where_;
        if (!f.allows(v))
            found_.push_back({f.why_not(v), where, f.how_to_mend(), Severity::error, at_});
        else if (f.is_unusual(v))
            found_.push_back({fmt::format("{}, usual is {:g} to {:g}", f.why_not(v), f.usual_low, f.usual_high), where,
                              f.unit_to_check(v), Severity::warning, at_});
    }
    template <class T>
    void enter(const char* key, T& t) {
        if constexpr (requires(Ranges & r) { fields(r, t); }) {
            Ranges inner(found_, place(key), true);
            fields(inner, t);
        }
    }
    template <class T>
    void enter(const char* key, std::optional<std::vector<T>>& list) {
        if (list) enter(key, *list);
    }
    template <class T>
    void enter(const char*, std::vector<T>& list) {
        if constexpr (requires(T & t, Ranges & r) { kind(t), fields(r, t); })
            for (T& t : list) {
                Ranges inner(found_, kind(t) + " " + t.id, false, at_of(t));
                fields(inner, t);
            }
    }

    std::vector<Problem>& found_;
    std::string where_;
    bool is_single_;
    std::optional<Point> at_;
};

class Judge : Faults {
  public:
    explicit Judge(const Model& m) : m_(m), columns_(m.columns) {}

    std::vector<Problem> all() {
        ids();
        outline();
        if (!has_errors(found_)) inner_outlines();
        ranges();
        materials();
        ground();
        columns();
        walls_ribs_piles();
        loads();
        steel();
        return std::move(found_);
    }

  private:
    void positive(const std::string& where, const char* what, double v) {
        if (!(v > 0) || !std::isfinite(v)) error(where, fmt::format("{} is {:g}", what, v), "give a number above zero");
    }
    bool finite(const Polygon& p) {
        return std::all_of(p.begin(), p.end(), [](Point q) { return std::isfinite(q.x) && std::isfinite(q.y); });
    }

    template <class T>
    void unique(const char* kind, const std::vector<T>& list) {
        std::set<std::string> seen;
        for (const T& t : list)
            if (!seen.insert(t.id).second)
                error(fmt::format("{} {}", kind, t.id), "this id is used twice", "give each its own id");
    }
    void ids() {
        unique("concrete", m_.concretes), unique("steel", m_.steels), unique("stratum", m_.ground.strata);
        unique("borehole", m_.ground.boreholes), unique("ground patch", m_.ground.patches);
        unique("opening", m_.slab.openings), unique("patch", m_.slab.patches), unique("column", m_.columns);
        unique("wall", m_.walls), unique("rib", m_.ribs), unique("pile", m_.piles),
            unique("setting-out line", m_.setting_out), unique("case", m_.loads.cases);
        if (m_.loads.combinations) unique("combination", *m_.loads.combinations);
        unique("extra bars", m_.steel.extra), unique("links", m_.steel.links);
        if (m_.steel.strips) unique("strip", *m_.steel.strips);
    }

    // A corner that lies many times as far away as all the others reach: most often one coordinate in mm.
    static std::optional<size_t> stray_corner(const Polygon& p) {
        auto span = [&](size_t without) {
            Box b;
            for (size_t i = 0; i < p.size(); ++i)
                if (i != without) b.add(p[i]);
            return std::max(b.width(), b.height());
        };
        auto extreme = [&](auto value) {
            return size_t(std::max_element(p.begin(), p.end(), [&](Point a, Point b) { return value(a) < value(b); }) -
                          p.begin());
        };
        if (p.size() < 4) return {};
        const double whole = span(p.size());
        for (size_t i : {extreme([](Point q) { return q.x; }), extreme([](Point q) { return -q.x; }),
                         extreme([](Point q) { return q.y; }), extreme([](Point q) { return -q.y; })})
            if (whole > 12 * span(i)) return i;
        return {};
    }

    bool ring_is_sound(const std::string& where, const Polygon& p, Severity stray = Severity::warning) {
        if (!finite(p))
            return error(where, "a corner is not a number", "give every corner two plain numbers in m"), false;
        if (const auto i = stray_corner(p)) {
            found_.push_back(
                {fmt::format("corner {} at ({:g}, {:g}) lies far from all the others", *i + 1, p[*i].x, p[*i].y), where,
                 "give it in m; a coordinate may be in mm", stray, p[*i]});
            if (stray == Severity::error) return false;
        }
        if (p.size() < 3) return error(where, fmt::format("it has {} corners", p.size()), "give at least three"), false;
        const Polygon q = without_repeats(p, 1e-6);
        if (q.size() < 3 || std::abs(signed_area(convex_hull(q))) < 1e-6)
            return error(where, "its area is zero", "move the corners apart so that it encloses an area",
                         q.empty() ? Point{} : q[0]),
                   false;
        if (auto c = self_crossing(q))
            return error(where,
                         fmt::format(
                             "its side from corner {} crosses or touches the side from corner {} at ({:.3g}, {:.3g})",
                             c->first + 1, c->second + 1, c->at.x, c->at.y),
                         "move a corner so that the outline does not meet itself", c->at),
                   false;
        return true;
    }

    void outline() {
        const Slab& s = m_.slab;
        if (auto c = std::get_if<Circle>(&s.outline))
            positive("slab.outline", "the radius", c->radius);
        else if (auto r = std::get_if<Ring>(&s.outline)) {
            positive("slab.outline", "the inner radius", r->inner);
            if (!(r->outer > r->inner))
                error("slab.outline",
                      fmt::format("the outer radius {:g} m is not larger than the inner {:g} m", r->outer, r->inner),
                      "make the outer radius larger");
        } else if (std::get<Polygon>(s.outline).empty()) {
            error("slab", "there is no slab yet", "draw its outline");
        } else {
            ring_is_sound("slab.outline", std::get<Polygon>(s.outline), Severity::error);
        }
        if (has_errors(found_)) return;
        const Box b = box_of(outer_rim(s.outline, 1.0));
        const double span = std::max(b.width(), b.height());
        if (std::max({std::abs(b.low.x), std::abs(b.low.y), std::abs(b.high.x), std::abs(b.high.y)}) > 1e8)
            return error("slab.outline", "it lies more than 100 000 km from the origin, where millimetres are lost",
                         "subtract an origin near the slab from all coordinates");
        if (span > 5000)
            return error("slab.outline", fmt::format("the slab is {:.0f} m long", span),
                         "give its corners in m; one of them may be in mm", b.high);
        if (span > 500)
            warn("slab.outline", fmt::format("the slab is {:.0f} m long", span),
                 "check that its corners are in m, not mm");
        if (span < 0.5)
            warn("slab.outline", fmt::format("the slab is {:.2f} m long", span), "check that its corners are in m");
        if (s.thickness > span && s.thickness > 5)
            warn("slab.thickness", fmt::format("the slab is {:g} m thick, more than it is long", s.thickness),
                 "give the thickness in m, not mm");
        if (m_.mesh_size > 0) size_of_the_job();
        if (!find_id(m_.concretes, s.concrete))
            error("slab.concrete", fmt::format("there is no concrete \"{}\"", s.concrete),
                  "name one of the concretes or add it");
    }

    // What would take minutes or more memory than a machine has is refused before it begins.
    void size_of_the_job() {
        constexpr double most_cells = 250'000, most_values = 12e6;
        const double cells = expected_cells(m_), columns = cells_of_column * double(m_.columns.size());
        if (cells > most_cells) {
            const double left = most_cells - columns;
            const double size = left > 0 ? std::ceil(100 * std::sqrt(net_area(m_) / left)) / 100 : 0;
            return error(
                "mesh.size",
                columns > 0.2 * cells
                    ? fmt::format("{:g} m on this slab with {} columns makes some {:.0f} thousand cells", m_.mesh_size,
                                  m_.columns.size(), cells / 1000)
                    : fmt::format("{:g} m on this slab makes some {:.0f} thousand cells", m_.mesh_size, cells / 1000),
                left > 0 ? fmt::format("use {:g} m or more", size) : "divide the slab into several models");
        }
        const double combinations =
            m_.loads.combinations ? double(std::count_if(m_.loads.combinations->begin(), m_.loads.combinations->end(),
                                                         [](const Combination& c) { return c.active; }))
                                  : 1;
        if (cells * combinations > most_values)
            error("mesh.size",
                  fmt::format(
                      "{:g} m on this slab makes some {:.0f} thousand cells for each of {:.0f} combinations, more "
                      "than fits into memory",
                      m_.mesh_size, cells / 1000, combinations),
                  fmt::format("use a larger size, or set combinations aside until some {:.0f} are active",
                              most_values / cells));
    }

    bool inside_rim(const Polygon& p) {
        const Polygon rim = outer_rim(m_.slab.outline, 0.1);
        for (Point q : p)
            if (!contains(rim, q) && distance_to_rim(rim, q) > 1e-6) return false;
        for (size_t i = 0; i < p.size(); ++i)  // no edge may leave through a re-entrant corner
            for (size_t k = 1; k < 8; ++k) {
                const Point q = p[i] + (double(k) / 8) * (p[(i + 1) % p.size()] - p[i]);
                if (!contains(rim, q) && distance_to_rim(rim, q) > 1e-6) return false;
            }
        return true;
    }

    void inner_outlines() {
        const auto& openings = m_.slab.openings;
        for (const Opening& o : openings) {
            const std::string where = "opening " + o.id;
            if (!ring_is_sound(where, o.outline)) continue;
            if (!inside_rim(o.outline))
                error(where, "it reaches outside the slab", "move it inside, or notch the slab's outline instead",
                      centroid(o.outline));
        }
        for (size_t i = 0; i < openings.size(); ++i)
            for (size_t j = i + 1; j < openings.size(); ++j)
                if (finite(openings[i].outline) && finite(openings[j].outline) &&
                    touch(openings[i].outline, openings[j].outline))
                    error("opening " + openings[j].id, "it overlaps opening " + openings[i].id,
                          "move them apart or make one of the two", centroid(openings[j].outline));
        for (const SlabPatch& t : m_.slab.patches) {
            const std::string where = "patch " + t.id;
            if (!ring_is_sound(where, t.outline)) continue;
            if (!touch(t.outline, outer_rim(m_.slab.outline, 0.25)))
                warn(where, "it lies off the slab and does nothing", "move it onto the slab", centroid(t.outline));
            if (!t.concrete.empty() && !find_id(m_.concretes, t.concrete))
                error(where, fmt::format("there is no concrete \"{}\"", t.concrete),
                      "name one of the concretes or add it");
        }
        for (size_t i = 0; i < m_.slab.patches.size(); ++i)
            for (size_t j = i + 1; j < m_.slab.patches.size(); ++j)
                if (box_of(m_.slab.patches[i].outline).overlaps(box_of(m_.slab.patches[j].outline)) &&
                    share_area(m_.slab.patches[i].outline, m_.slab.patches[j].outline))
                    warn("patch " + m_.slab.patches[j].id, "it overlaps patch " + m_.slab.patches[i].id,
                         "the later one counts where they overlap", centroid(m_.slab.patches[j].outline));
    }

    void ranges() {
        Ranges all(found_, "", true);
        fields(all, const_cast<Model&>(m_));  // nothing is written
    }
    void materials() {
        if (!find_id(m_.steels, m_.steel.steel))
            error("steel.steel", fmt::format("there is no steel \"{}\"", m_.steel.steel),
                  "name one of the steels or add it");
    }

    void ground() {
        const Ground& g = m_.ground;
        for (const GroundPatch& p : g.patches)
            if (ring_is_sound("ground patch " + p.id, p.outline)) {
                const std::string where = "ground patch " + p.id;
                if (g.model == GroundModel::patches && !found_outline_error() &&
                    !touch(p.outline, outer_rim(m_.slab.outline, 0.25)))
                    warn(where, "it lies off the slab and does nothing", "move it below the slab", centroid(p.outline));
            }
        if (g.model == GroundModel::patches)
            for (size_t i = 0; i < g.patches.size(); ++i)
                for (size_t j = i + 1; j < g.patches.size(); ++j)
                    if (box_of(g.patches[i].outline).overlaps(box_of(g.patches[j].outline)) &&
                        share_area(g.patches[i].outline, g.patches[j].outline))
                        warn("ground patch " + g.patches[j].id, "it overlaps ground patch " + g.patches[i].id,
                             "the later one counts where they overlap", centroid(g.patches[j].outline));
        const bool needed = g.model == GroundModel::profile || g.model == GroundModel::coupled;
        if (needed || !g.boreholes.empty())
            for (Problem p : problems_of_strata(m_)) {
                if (!needed && p.severity == Severity::error) p.severity = Severity::warning;
                found_.push_back(std::move(p));
            }
        const auto& combinations = m_.loads.combinations;
        if (needed && g.combination_for_springs && combinations && !find_id(*combinations, *g.combination_for_springs))
            error("ground.combination_for_springs",
                  fmt::format("there is no combination \"{}\"", *g.combination_for_springs),
                  "name one of the combinations, or none to have it chosen");
        if (g.model != GroundModel::patches && !g.patches.empty())
            warn("ground.patches", "they act only in the ground model \"patches\"",
                 "set ground.model to \"patches\" or remove them");
    }

    void columns() {
        if (found_outline_error()) return;
        const Box extent = box_of(outer_rim(m_.slab.outline, 1.0));
        const double span = std::max(extent.width(), extent.height());
        std::vector<Box> places;
        for (const Column& c : m_.columns) {
            constexpr double far = 1e9;
            bool has_place = finite({c.at}) && c.size.size() >= (c.round() ? 1u : 2u);
            for (double s : c.size) has_place &= std::abs(s) < far;
            places.push_back(has_place ? box_of(footprint(c)) : Box{});
        }
        const BoxBins by_place(places);
        for (const Column& c : m_.columns) {
            const std::string where = "column " + c.id;
            if (!std::isfinite(c.at.x) || !std::isfinite(c.at.y)) {
                error(where, "its position is not a number", "give two plain numbers in m");
                continue;
            }
            const size_t want = c.round() ? 1 : 2;
            if (c.size.size() < want) {
                error(where,
                      fmt::format("a {} needs {} size{}, it has {}", name_of(c.shape), want, want > 1 ? "s" : "",
                                  c.size.size()),
                      c.round() ? "give [diameter]" : "give [x size, y size] in m", c.at);
                continue;
            }
            bool sized = true;
            for (size_t i = 0; i < want; ++i) {
                sized &= c.size[i] > 0 && std::isfinite(c.size[i]);
                if (c.size[i] > span) {
                    error(where, fmt::format("a size is {:g} m, more than the slab is long", c.size[i]),
                          "give the size in m, not mm", c.at);
                    sized = false;
                }
                if (c.size[i] < 1e-3 && c.size[i] > 0) {
                    error(where, fmt::format("a size is {:g} m", c.size[i]), "give a millimetre or more", c.at);
                    sized = false;
                }
            }
            if (!on_slab(m_, c.at)) {
                error(where, "its centre lies off the slab", "move it onto the slab or delete it", c.at);
                continue;
            }
            if (sized && !m_.slab.openings.empty())
                for (const Polygon foot = footprint(c); const Opening& o : m_.slab.openings)
                    if (share_area(foot, o.outline))
                        warn(where, "its footprint reaches over opening " + o.id,
                             "move one of the two; only what stands on slab carries", c.at);
            if (!sized) continue;
            const Polygon own = footprint(c);
            for (int k : by_place.over(box_of(own)))
                if (const Column& o = m_.columns[size_t(k)]; &o < &c && touch(own, footprint(o)))
                    error(where, "its footprint overlaps that of column " + o.id,
                          "move one or delete the one entered twice", c.at);
        }
    }
    bool found_outline_error() const {
        return std::any_of(found_.begin(), found_.end(), [](const Problem& p) {
            return p.severity == Severity::error && (p.where.rfind("slab", 0) == 0 || p.where.rfind("opening", 0) == 0);
        });
    }

    void walls_ribs_piles() {
        if (!found_outline_error()) {
            for (const Wall& w : m_.walls) wall(w);
            for (const Rib& r : m_.ribs) rib(r);
            ribs_on_ribs();
        }
        if (!m_.piles.empty()) error("piles", "this version cannot solve piles yet", "remove them from the model");
    }

    bool path_is_sound(const std::string& where, const std::vector<Point>& path) {
        if (path.size() < 2) return error(where, "its path has fewer than two points", "give two or more"), false;
        if (!finite(path))
            return error(where, "a point of its path is not a number", "give every point two plain numbers in m"),
                   false;
        for (size_t k = 0; k + 1 < path.size(); ++k)
            if (distance(path[k], path[k + 1]) < 1e-3)
                return error(where, fmt::format("points {} and {} of its path are one", k + 1, k + 2), "leave one out",
                             path[k]),
                       false;
        return true;
    }
    // Points of a path, a step of some 5 cm to a tenth of a piece apart, with the direction there; the first that
    // fails.
    template <class Test>
    static std::optional<Point> first_along(const std::vector<Point>& path, Test fails) {
        for (size_t k = 0; k + 1 < path.size(); ++k) {
            const double l = distance(path[k], path[k + 1]);
            const int n = int(std::clamp(l / 0.05, 10.0, 400.0));
            for (int i = 0; i <= n; ++i) {
                const Point p = path[k] + (double(i) / n) * (path[k + 1] - path[k]);
                if (fails(p, unit(path[k + 1] - path[k]))) return p;
            }
        }
        return {};
    }
    bool within(const Polygon& rim, Point p) const { return contains(rim, p) || distance_to_rim(rim, p) <= 1e-6; }
    // "opening O1", or the hole of a ring, that a point lies in; empty where there is slab.
    std::string opening_at(Point p) const {
        auto is_in = [&](const Polygon& hole) { return contains(hole, p) && distance_to_rim(hole, p) > 1e-6; };
        for (const Opening& o : m_.slab.openings)
            if (is_in(o.outline)) return "opening " + o.id;
        if (const auto hole = inner_rim(m_.slab.outline, 0.1); hole && is_in(*hole)) return "the hole of the ring";
        return {};
    }

    void wall(const Wall& w) {
        const std::string where = "wall " + w.id;
        if (!path_is_sound(where, w.path) || !w.stiffens) return;
        const Polygon rim = outer_rim(m_.slab.outline, 0.1);
        if (auto at = first_along(w.path, [&](Point p, Point) { return !within(rim, p); }))
            warn(where, "part of it stands off the slab", "only what stands on the slab stiffens it", *at);
        if (auto at = first_along(w.path, [&](Point p, Point) { return !opening_at(p).empty(); }))
            warn(where, fmt::format("it crosses {} and is taken to span it as a deep beam", opening_at(*at)),
                 "end it at the opening, or set stiffens to false, if it does not", *at);
    }

    void rib(const Rib& r) {
        const std::string where = "rib " + r.id;
        if (!path_is_sound(where, r.path)) return;
        if (!r.concrete.empty() && !find_id(m_.concretes, r.concrete))
            error(where, fmt::format("there is no concrete \"{}\"", r.concrete), "name one of the concretes or add it");
        if (!(r.width > 0) || !(r.depth > 0)) return;  // said by its range
        if (r.depth <= m_.slab.thickness + 1e-4)
            return error(where,
                         fmt::format("it is {:g} m deep, no deeper than the slab's {:g} m", r.depth, m_.slab.thickness),
                         "its depth is the whole one, the slab's included; make it deeper or delete it", r.path[0]);
        const Polygon rim = outer_rim(m_.slab.outline, 0.1);
        if (auto at = first_along(r.path, [&](Point p, Point) { return !within(rim, p); }))
            return error(where, "it leaves the slab", "end it at the slab's rim, or push the rim out", *at);
        beyond_rim(where, r, rim);
        if (r.over_openings == OverOpenings::stop)
            if (auto at = first_along(r.path, [&](Point p, Point) { return !opening_at(p).empty(); }))
                warn(where, fmt::format("it stops at {}", opening_at(*at)),
                     "set over_openings to \"carry\" if it spans the opening", *at);
        for (const SlabPatch& t : m_.slab.patches)
            if (outside({levels_of(m_, r)}, slab_levels(m_, &t)).empty() &&
                first_along(r.path, [&](Point p, Point) { return contains(t.outline, p); }))
                warn(where, fmt::format("it lies wholly within patch {}, where it adds nothing", t.id),
                     "make it deeper or end it at the patch", centroid(t.outline));
    }
    void beyond_rim(const std::string& where, const Rib& r, const Polygon& rim) {
        auto reaches_beyond = [&](double share) {
            return first_along(r.path, [&](Point p, Point t) {
                const Point side = (share * r.width) * left_of(t);
                return !within(rim, p + side) || !within(rim, p - side);
            });
        };
        if (auto at = reaches_beyond(0.1))
            error(where, "nearly half of it lies beyond the slab's rim",
                  "move its axis in by half its width, or push the rim out", *at);
        else if (auto side = reaches_beyond(0.499))
            warn(where, "part of its width lies beyond the slab's rim; what lies there weighs nothing",
                 "move its axis in by half its width, or push the rim out", *side);
    }

    // The middle of a stretch that two pieces of paths have in common; none where they only cross or meet.
    static std::optional<Point> common_stretch(Point a, Point b, Point c, Point d) {
        const Point t = unit(b - a);
        if (std::abs(cross(t, unit(d - c))) > 1e-3 || std::abs(cross(c - a, t)) > 1e-3) return {};
        double from = dot(c - a, t), to = dot(d - a, t);
        if (from > to) std::swap(from, to);
        from = std::max(from, 0.0), to = std::min(to, distance(a, b));
        if (to - from < 1e-3) return {};
        return a + (0.5 * (from + to)) * t;
    }
    void ribs_on_ribs() {
        for (size_t i = 0; i < m_.ribs.size(); ++i)
            for (size_t j = i; j < m_.ribs.size(); ++j) {
                const std::vector<Point>&p = m_.ribs[i].path, &q = m_.ribs[j].path;
                std::optional<Point> at;
                for (size_t k = 0; k + 1 < p.size() && !at; ++k)
                    for (size_t l = i == j ? k + 1 : 0; l + 1 < q.size() && !at; ++l)
                        at = common_stretch(p[k], p[k + 1], q[l], q[l + 1]);
                if (at)
                    error("rib " + m_.ribs[j].id,
                          i == j ? "its path runs over itself" : "it lies on top of rib " + m_.ribs[i].id,
                          "delete one of the two or move it", *at);
            }
    }

    void loads() {
        for (const LoadCase& c : m_.loads.cases) {
            int n = 0;
            twice(c);
            for (const LoadItem& item : c.items) {
                const std::string where = fmt::format("case {}, item {}", c.id, ++n);
                std::visit([&](const auto& l) { load(where, l); }, item.load);
            }
        }
        rules();
        if (!m_.loads.combinations) return;
        for (const Combination& k : *m_.loads.combinations) {
            if (k.active &&
                std::none_of(k.factors.begin(), k.factors.end(), [](const auto& f) { return f.second != 0; }))
                warn("combination " + k.id, "it holds no case", "give it factors, switch it off or delete it");
            for (auto& [id, f] : k.factors) {
                if (!find_id(m_.loads.cases, id))
                    error("combination " + k.id, fmt::format("there is no case \"{}\"", id),
                          "name one of the cases or add it");
                if (!std::isfinite(f)) error("combination " + k.id, "a factor is not a number", "give a plain number");
                if (std::abs(f) > 10)
                    warn("combination " + k.id, fmt::format("the factor of {} is {:g}", id, f), "check it");
            }
        }
    }
    // The same reaction twice is summed, which is seldom what was meant.
    void twice(const LoadCase& c) {
        std::map<std::string, int> times;
        for (const LoadItem& item : c.items)
            if (const auto* l = std::get_if<ColumnLoad>(&item.load)) ++times[l->column];
        for (const auto& [column, n] : times)
            if (n > 1) {
                const Column* k = columns_.find(column);
                warn("case " + c.id,
                     fmt::format("column {} stands in it {}; they are summed", column,
                                 n == 2 ? "twice" : fmt::format("{} times", n)),
                     "delete all but one, or make one of them", k ? std::optional(k->at) : std::nullopt);
            }
    }
    // Rules that cannot be read matter where combinations are by rule; else they are told only.
    void rules() {
        std::vector<Problem> found;
        if (m_.loads.combinations)
            rules_of(m_, found);
        else
            combinations_by_rule(m_, found);
        for (Problem& p : found) {
            if (m_.loads.combinations) p.severity = Severity::warning;
            found_.push_back(std::move(p));
        }
    }
    void all_finite(const std::string& where, std::initializer_list<double> values) {
        for (double v : values) {
            if (!std::isfinite(v)) error(where, "a value is not a number", "give plain numbers");
            if (std::abs(v) > 1e12)
                error(where, fmt::format("a value is {:g}", v), "give forces in kN; no building brings as much");
            else if (std::abs(v) > 1e6)
                warn(where, fmt::format("a value is {:g}", v), "check that forces are in kN, not N");
        }
    }
    void pressed(const std::string& where, double p, const std::optional<FillDepth>& fill) {
        all_finite(where, {p});
        if (!fill) return;
        all_finite(where, {fill->depth, fill->unit_weight});
        if (fill->depth < 0)
            error(where, fmt::format("the depth is {:g} m", fill->depth), "give what lies on the slab, in m");
        if (fill->unit_weight < 0 || fill->unit_weight > 100)
            error(where, fmt::format("the unit weight is {:g} kN/m³", fill->unit_weight),
                  "give kN/m³: water 9.81, soil 16 to 22");
    }
    void load(const std::string& where, const ColumnLoad& l) {
        if (!columns_.find(l.column))
            error(where, fmt::format("there is no column \"{}\"", l.column),
                  "name one of the columns or delete the load");
        all_finite(where, {l.N, l.Mx, l.My, l.Hx, l.Hy});
    }
    void load(const std::string& where, const PointLoad& l) {
        all_finite(where, {l.at.x, l.at.y, l.N, l.Mx, l.My});
        if (!found_outline_error() && !on_slab(m_, l.at) &&
            distance_to_rim(outer_rim(m_.slab.outline, 0.1), l.at) > 1e-6)
            error(where, fmt::format("the point ({:g}, {:g}) lies off the slab", l.at.x, l.at.y),
                  "move it onto the slab", l.at);
    }
    void load(const std::string& where, const LineLoad& l) {
        all_finite(where, {l.q[0], l.q[1]});
        if (l.path.size() < 2) error(where, "the line has fewer than two points", "give two or more");
    }
    void load(const std::string& where, const WallLoad& l) {
        if (!find_id(m_.walls, l.wall))
            error(where, fmt::format("there is no wall \"{}\"", l.wall), "name one of the walls");
        all_finite(where, {l.q});
    }
    void load(const std::string& where, const RibLoad& l) {
        all_finite(where, {l.q});
        if (!find_id(m_.ribs, l.rib))
            error(where, fmt::format("there is no rib \"{}\"", l.rib), "name one of the ribs");
    }
    void load(const std::string& where, const AreaLoad& l) {
        pressed(where, l.p, l.fill);
        ring_is_sound(where, l.outline);
    }
    void load(const std::string& where, const SlabLoad& l) { pressed(where, l.p, l.fill); }
    void load(const std::string& where, const PileLoad& l) {
        all_finite(where, {l.N});
        if (!find_id(m_.piles, l.pile))
            error(where, fmt::format("there is no pile \"{}\"", l.pile), "name one of the piles or delete the load");
    }
    void load(const std::string& where, const Uplift& l) { all_finite(where, {l.to_level}); }

    void steel() {
        const Reinforcement& s = m_.steel;
        cover("steel.cover_top", "cover_top", s.cover_top), cover("steel.cover_bottom", "cover_bottom", s.cover_bottom);
        if (s.cover_top + s.cover_bottom > 800 * m_.slab.thickness)
            warn("steel",
                 fmt::format("the covers of {:g} and {:g} mm leave little of the slab's {:g} mm", s.cover_top,
                             s.cover_bottom, 1000 * m_.slab.thickness),
                 "check that covers are in mm");
        for (Face f : {Face::top, Face::bottom})
            for (Direction d : {Direction::x, Direction::y})
                if (const Bars& b = s.base(f, d); b.stated())
                    bars(fmt::format("steel.base.{}_{}", name_of(f), name_of(d)), *b.diameter, *b.spacing);
        for (const ExtraBars& e : s.extra) {
            const std::string where = "extra bars " + e.id;
            bars(where, e.diameter, e.spacing);
            ring_is_sound(where, e.outline);
            if (has_slab(m_) && e.outline.size() >= 3 && !share_area(e.outline, outer_rim(m_.slab.outline, 0.25)))
                warn(where, "they lie off the slab and count for nothing", "move them onto the slab, or delete them");
        }
        lap_fits_into_stock(s);
        for (const ShearLinks& l : s.links) {
            bars("links " + l.id, l.diameter, l.spacing);
            ring_is_sound("links " + l.id, l.outline);
        }
        if (s.strips)
            for (const Strip& t : *s.strips) {
                if (distance(t.axis[0], t.axis[1]) < 1e-6)
                    error("strip " + t.id, "its axis has no length", "move its ends apart");
                if (!(t.reach[0] >= 0 && t.reach[1] >= 0))
                    error("strip " + t.id, "a reach is negative", "give m to the left and right of its axis");
                if (!(t.reach[0] + t.reach[1] > 0))
                    error("strip " + t.id, "it has no width", "give a reach to the left or right");
            }
        if (s.sizes.empty() || s.spacings.empty())
            error("steel.sizes", "the list is empty", "give at least one bar size and one spacing");
    }

    void lap_fits_into_stock(const Reinforcement& s) {
        const auto code = make_code(m_.settings);
        if (!code || !(s.stock_length > 0)) return;
        double largest = 0;
        for (Face f : {Face::top, Face::bottom})
            for (Direction d : {Direction::x, Direction::y}) {
                const Bars& b = s.base(f, d);
                if (b.stated()) largest = std::max(largest, *b.diameter);
            }
        for (const ExtraBars& e : s.extra) largest = std::max(largest, e.diameter);
        if (largest <= 0) return;
        const double lap =
            code->lap_length(largest, concrete_of(m_, m_.slab.concrete).fck, steel_of(m_).fyk, false) / 1000;
        if (lap >= s.stock_length)
            error("steel.stock_length",
                  fmt::format("bars of {:g} m are shorter than the lap of {:.2f} m that ϕ{:g} needs", s.stock_length,
                              lap, largest),
                  "give the length that bars come in, 12 m say, or take thinner bars");
    }
    // A cover that leaves no room for a bar. One that nobody stated is no fault: thin slabs are solved for their own
    // sake, and their design rows then say that no depth is left.
    void cover(const std::string& where, const char* key, double c) {
        double thinnest = m_.slab.thickness;
        for (const SlabPatch& t : m_.slab.patches) thinnest = std::min(thinnest, t.thickness);
        if (thinnest > 0 && c >= 1000 * thinnest && m_.steel.keys.count(key))
            error(where,
                  fmt::format("the cover of {:g} mm is not less than the {:g} mm of the slab", c, 1000 * thinnest),
                  "give the cover in mm, less than the slab is thick");
    }
    void bars(const std::string& where, double diameter, double spacing) {
        if (diameter >= spacing && spacing > 0)
            error(where,
                  fmt::format("the bars touch: a spacing of {:g} mm is not above the diameter of {:g} mm", spacing,
                              diameter),
                  "give mm, e.g. 16 at 200");
        else if (spacing > 0 && spacing < 20)
            error(where, fmt::format("the spacing of {:g} mm is closer than bars can be laid", spacing),
                  "give mm, e.g. 16 at 200");
    }

    const Model& m_;
    ColumnsById columns_;
};

}  // namespace

std::vector<Problem> problems_of(const Model& model) {
    std::vector<Problem> found = Judge(model).all();
    for (Problem& p : problems_of_settings(model.settings)) found.push_back(std::move(p));
    return found;
}

}  // namespace mossbed
