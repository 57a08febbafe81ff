#include "core/exchange/drawing_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <numbers>
#include <set>

#include "core/base/point_bins.h"
#include "core/base/polygons.h"
#include "core/exchange/cells.h"
#include "core/exchange/numbers.h"
#include "core/exchange/thing_data.h"

namespace mossbed {

const char* name_of(LayerRole role) {
    static constexpr std::array names{"left out", "slab",  "openings", "patches", "columns",
                                      "walls",    "lines", "ribs",     "piles",   "ground patches"};
    return names[size_t(role)];
}

LayerRole role_by_name(const std::string& layer) {
    const std::string s = lower(layer);
    // Words from their beginning, short ones whole: "MAT" is none of "MATERIAL".
    std::vector<std::string> tokens{""};
    for (char c : s)
        if (c >= 'a' && c <= 'z')
            tokens.back() += c;
        else
            tokens.emplace_back();
    auto has = [&](std::initializer_list<const char*> words) {
        return std::any_of(words.begin(), words.end(), [&](const std::string w) {
            return std::any_of(tokens.begin(), tokens.end(), [&](const std::string& t) {
                return w.size() > 3 ? t.rfind(w, 0) == 0 : t == w || t == w + "s";
            });
        });
    };
    if (has({"text", "note", "anno", "dim", "dimension", "hatch", "title", "frame", "legend", "viewport", "defpoint",
             "name"}))
        return LayerRole::none;
    if (has({"grid", "axis", "axes", "setting", "setout", "set"})) return LayerRole::lines;
    if (has({"open", "void", "hole", "pit", "shaft"})) return LayerRole::openings;
    if (has({"ground"})) return LayerRole::ground;
    if (has({"patch", "thick", "drop", "step"})) return LayerRole::patches;
    if (has({"pile"})) return LayerRole::piles;
    if (has({"col", "column"})) return LayerRole::columns;
    if (has({"wall"})) return LayerRole::walls;
    if (has({"rib", "beam"})) return LayerRole::ribs;
    if (has({"slab", "raft", "mat", "found", "fndn", "outline", "footing", "base"})) return LayerRole::slab;
    return LayerRole::none;
}

std::optional<double> metres_of_insunits(int code) {
    switch (code) {
        case 1:
            return 0.0254;
        case 2:
            return 0.3048;
        case 4:
            return 0.001;
        case 5:
            return 0.01;
        case 6:
            return 1.0;
        case 14:
            return 0.1;
        default:
            return {};
    }
}

bool DrawnPlan::none() const {
    return !outline && openings.empty() && patches.empty() && columns.empty() && walls.empty() && ribs.empty() &&
           piles.empty() && lines.empty() && ground.empty();
}

namespace {

constexpr double joins = 1e-3;        // m; ends nearer than that are one
constexpr double chord_off = 0.0019;  // m that a chord may be off its arc

// A ring or a path, in m.
struct Run {
    std::vector<Point> points;
    bool is_closed = false;
    std::optional<Circle> circle;
    double width = 0;
    int insert = -1, line = 0;
    ThingData data;
    std::string layer;
    double area() const {
        return circle ? std::numbers::pi * circle->radius * circle->radius : std::abs(signed_area(points));
    }
    Polygon ring() const { return circle ? round_polygon(circle->centre, circle->radius, 48) : points; }
    Shape shape() const { return circle ? Shape(*circle) : Shape(points); }
    Point middle() const { return circle ? circle->centre : centroid(points); }
};

std::string at_words(Point p) { return fmt::format("({:.3f}, {:.3f})", p.x, p.y); }

void add_arc(std::vector<Point>& to, Point a, Point b, double bulge) {
    const Point half = 0.5 * (b - a);
    const double angle = 4 * std::atan(bulge), chord = length(half);
    if (chord == 0) return;
    const double r = chord * (1 + bulge * bulge) / (2 * std::abs(bulge));
    const Point middle = a + half + ((1 - bulge * bulge) / (2 * bulge)) * left_of(half);
    const double step = 2 * std::acos(std::clamp(1 - chord_off / r, -1.0, 1.0));
    const int n = std::clamp(int(std::ceil(std::abs(angle) / std::max(step, 1e-3))), 2, 2000);
    for (int i = 1; i < n; ++i) to.push_back(middle + turned(a - middle, angle * i / n * 180 / std::numbers::pi));
}

class Planner {
  public:
    Planner(const DrawingFile& file, const PlanOptions& options) : file_(file), options_(options) {}

    DrawnPlan read() {
        find_roles();
        find_unit();
        find_origin();
        for (const DrawnShape& s : file_.shapes)
            if (!is_hidden(s.layer)) take(s);
        tell_of_file();
        slab();
        areas(LayerRole::openings, [&](const Run& r) {
            Opening o;
            o.outline = r.shape(), set_data(o, r.data);
            named(o, out_.openings, "O");
        });
        areas(LayerRole::patches, [&](const Run& r) { patch(r); });
        areas(LayerRole::ground, [&](const Run& r) {
            GroundPatch g;
            g.outline = r.ring(), set_data(g, r.data);
            if (!r.data.count("modulus"))
                warn(fmt::format("the ground patch at {} says no modulus", at_words(r.middle())),
                     fmt::format("{:g} kN/m³ is taken; give its own", g.modulus));
            named(g, out_.ground, "GP");
        });
        columns();
        walls();
        ribs();
        piles();
        lines();
        if (out_.none() && !has_errors(out_.problems)) nothing();
        return std::move(out_);
    }

  private:
    void warn(const std::string& what, const std::string& mend) {
        out_.problems.push_back({what, "the drawing", mend, Severity::warning, {}});
    }
    void leave_out(const std::string& what, const std::string& mend, std::optional<Point> at = {}) {
        out_.problems.push_back({what, "the drawing", mend, Severity::error, at});
    }
    LayerRole role(const std::string& layer) const {
        const auto it = out_.layers.find(layer);
        return it == out_.layers.end() ? LayerRole::none : it->second;
    }
    bool is_told(const std::string& layer) const { return options_.layers.count(layer) > 0; }
    // What is not shown is not meant, unless somebody says so.
    bool is_hidden(const std::string& layer) const {
        const DrawnLayer* l = file_.layer(layer);
        return l && l->is_hidden() && !is_told(layer);
    }

    void find_roles() {
        for (const DrawnShape& s : file_.shapes) {
            ++out_.shapes[s.layer];
            out_.layers.emplace(s.layer, LayerRole::none);
        }
        for (const auto& [what, n] : file_.not_read) out_.layers.emplace(what.first, LayerRole::none);
        for (const DrawnLayer& l : file_.layers)
            if (l.name != "Defpoints") out_.layers.emplace(l.name, LayerRole::none);
        for (auto& [name, role] : out_.layers) role = role_by_name(name);
        for (const auto& [name, role] : options_.layers) {
            bool found = false;
            for (auto& [known, now] : out_.layers)
                if (lower(known) == lower(name)) now = role, found = true;
            if (!found) leave_out(fmt::format("it has no layer \"{}\"", name), "its layers are " + layer_names());
        }
        // A drawing of one thing on one layer is its slab.
        const bool any = std::any_of(out_.layers.begin(), out_.layers.end(), [&](const auto& l) {
            return l.second != LayerRole::none && out_.shapes.count(l.first);
        });
        if (!any && options_.layers.empty() && out_.shapes.size() == 1) {
            out_.layers[out_.shapes.begin()->first] = LayerRole::slab;
            warn(fmt::format("its only layer \"{}\" is taken for the slab", out_.shapes.begin()->first),
                 "say which layer is what where that is wrong");
        }
    }
    std::string layer_names() const {
        std::string names;
        for (const auto& [name, n] : out_.shapes) names += (names.empty() ? "" : ", ") + name;
        return names.empty() ? "none that hold anything" : names;
    }

    Box extent() const {
        Box all, ours;
        for (const DrawnShape& s : file_.shapes) {
            if (s.kind == DrawnShape::text || is_hidden(s.layer)) continue;
            for (const DrawnVertex& v : s.vertices) {
                Box b;
                b.add(v.at);
                if (s.kind == DrawnShape::circle) b = b.grown(s.radius);
                all.add(b.low), all.add(b.high);
                if (role(s.layer) != LayerRole::none) ours.add(b.low), ours.add(b.high);
            }
        }
        return ours.empty() ? all : ours;
    }
    void find_unit() {
        if (options_.unit > 0) {
            out_.unit = options_.unit;
            return;
        }
        if (const auto u = metres_of_insunits(file_.unit)) {
            out_.unit = *u;
            return;
        }
        const Box b = extent();
        const double size = std::max(b.width(), b.height());
        out_.unit = size >= 500 ? 0.001 : 1;
        out_.unit_is_guessed = true;
        if (!b.empty())
            warn(fmt::format("it states no unit; {} is taken, which makes it {:.1f} m by {:.1f} m",
                             out_.unit == 1 ? "m" : "mm", b.width() * out_.unit, b.height() * out_.unit),
                 "say its unit where that is wrong");
    }
    void find_origin() {
        if (options_.origin) {
            out_.origin = *options_.origin;
            return;
        }
        const Box b = extent();
        const Point low = out_.unit * b.low;
        constexpr double far = 10000;  // m: a national grid
        if (!b.empty() && std::max(std::abs(low.x), std::abs(low.y)) > far) {
            out_.origin = {std::floor(low.x), std::floor(low.y)};
            warn(fmt::format("it lies at ({:.0f}, {:.0f}) m, as in a national grid; ({:.0f}, {:.0f}) became (0, 0)",
                             low.x, low.y, out_.origin.x, out_.origin.y),
                 "say its origin where another is wanted");
        }
    }
    Point place(Point drawn) const {
        const Point p = out_.unit * drawn - out_.origin;
        return {std::round(p.x * 1e7) / 1e7, std::round(p.y * 1e7) / 1e7};
    }

    void take(const DrawnShape& s) {
        const LayerRole r = role(s.layer);
        if (s.kind == DrawnShape::text) {
            if (r != LayerRole::none) texts_[size_t(r)].push_back({place(s.vertices[0].at), s.words});
            return;
        }
        Run run;
        run.insert = s.insert, run.line = s.line, run.data = s.data, run.layer = s.layer,
        run.width = s.width * out_.unit;
        const auto& v = s.vertices;
        const bool two_halves = s.is_closed && v.size() == 2 && std::abs(std::abs(v[0].bulge) - 1) < 1e-6 &&
                                std::abs(v[0].bulge - v[1].bulge) < 1e-6;
        if (s.kind == DrawnShape::circle || two_halves) {
            run.circle = s.kind == DrawnShape::circle
                             ? Circle{place(v[0].at), s.radius * out_.unit}
                             : Circle{place(0.5 * (v[0].at + v[1].at)), 0.5 * distance(v[0].at, v[1].at) * out_.unit};
            run.is_closed = true;
            out_.strokes.push_back(run.ring());
            out_.strokes.back().push_back(out_.strokes.back().front());
        } else {
            const size_t n = v.size();
            for (size_t k = 0; k < n; ++k) {
                run.points.push_back(place(v[k].at));
                if (v[k].bulge != 0 && (k + 1 < n || s.is_closed))
                    add_arc(run.points, place(v[k].at), place(v[(k + 1) % n].at), v[k].bulge);
            }
            run.is_closed = s.is_closed;
            out_.strokes.push_back(run.points);
            if (s.is_closed && !run.points.empty()) out_.strokes.back().push_back(run.points.front());
            run.points = without_near(run.points, run.is_closed);
            if (run.points.size() > 3 && !run.is_closed && distance(run.points.front(), run.points.back()) < joins)
                run.points.pop_back(), run.is_closed = true;
            if (run.points.size() < 2) return;  // a line of no length
            if (run.is_closed && run.points.size() < 3) run.is_closed = false;
        }
        if (r != LayerRole::none) runs_[size_t(r)].push_back(std::move(run));
    }
    static std::vector<Point> without_near(const std::vector<Point>& p, bool closed) {
        std::vector<Point> out;
        for (Point q : p)
            if (out.empty() || distance(out.back(), q) > 5e-4) out.push_back(q);
        while (closed && out.size() > 1 && distance(out.front(), out.back()) <= 5e-4) out.pop_back();
        return out;
    }

    void tell_of_file() {
        if (file_.is_cut_off)
            leave_out("it ends without its end mark: it was cut off, and what stood behind is missing",
                      "write it anew");
        std::map<std::string, int> hidden;
        for (const DrawnShape& s : file_.shapes)
            if (is_hidden(s.layer) && role(s.layer) != LayerRole::none) ++hidden[s.layer];
        for (const auto& [layer, n] : hidden)
            leave_out(fmt::format("layer \"{}\" is {} and left out; {} of its shapes are missing", layer,
                                  file_.layer(layer)->is_frozen ? "frozen" : "switched off", n),
                      "thaw it, or name it as what it holds");
        std::string rest;
        for (const auto& [what, n] : file_.not_read) {
            const bool ours = role(what.first) != LayerRole::none && !is_hidden(what.first);
            const bool is_note = what.second == "HATCH" || what.second == "DIMENSION" || what.second == "LEADER" ||
                                 what.second == "POINT" || what.second == "SOLID" || what.second == "MULTILEADER";
            const std::string said = fmt::format("{} {} on \"{}\"", n, what.second, what.first);
            if (ours && !is_note)
                leave_out(said + (n == 1 ? " is not read" : " are not read"),
                          "draw it as lines, arcs, circles or polylines");
            else
                rest += (rest.empty() ? "" : ", ") + said;
        }
        if (!rest.empty()) warn("left out: " + rest, "nothing to do where they are notes");
    }

    // Closed runs of a role, open ones chained to rings where they meet.
    struct Chains {
        std::vector<Run> rings, open;
    };
    Chains chained(std::vector<Run> runs) const {
        Chains out;
        std::vector<Run> open;
        for (Run& r : runs) (r.is_closed ? out.rings : open).push_back(std::move(r));
        drop_doubles(out.rings), drop_doubles(open);
        PointBins ends(joins);
        for (size_t k = 0; k < open.size(); ++k)
            ends.add(int(2 * k), open[k].points.front()), ends.add(int(2 * k + 1), open[k].points.back());
        std::vector<char> used(open.size(), 0);
        auto next = [&](Point p, Point along) {  // an end there, of several the one that goes on straightest
            int best = -1;
            double straightest = -2;
            ends.any_near(p, [&](int e) {
                const Run& r = open[size_t(e / 2)];
                const auto& q = r.points;
                const Point end = e % 2 ? q.back() : q.front(), on = e % 2 ? q[q.size() - 2] : q[1];
                if (used[size_t(e / 2)] || distance(end, p) > joins) return false;
                if (const double c = dot(unit(on - end), along); c > straightest) straightest = c, best = e;
                return false;
            });
            return best;
        };
        for (size_t k = 0; k < open.size(); ++k) {
            if (used[k]) continue;
            used[k] = 1;
            Run chain = open[k];
            for (int way = 0; way < 2 && !chain.is_closed; ++way) {
                for (;;) {
                    const auto& p = chain.points;
                    if (p.size() > 3 && distance(p.front(), p.back()) < joins) {
                        chain.points.pop_back(), chain.is_closed = true;
                        break;
                    }
                    const int e = next(p.back(), unit(p.back() - p[p.size() - 2]));
                    if (e < 0) break;
                    used[size_t(e / 2)] = 1;
                    std::vector<Point> more = open[size_t(e / 2)].points;
                    if (e % 2) std::reverse(more.begin(), more.end());
                    chain.points.insert(chain.points.end(), more.begin() + 1, more.end());
                    for (const auto& [key, value] : open[size_t(e / 2)].data) chain.data.emplace(key, value);
                }
                if (!chain.is_closed) std::reverse(chain.points.begin(), chain.points.end());
            }
            (chain.is_closed ? out.rings : out.open).push_back(std::move(chain));
        }
        return out;
    }
    static void drop_doubles(std::vector<Run>& runs) {
        std::map<std::array<long, 6>, std::vector<size_t>> by_place;
        std::vector<Run> out;
        for (Run& r : runs) {
            const Box b = box_of(r.ring());
            auto key = [](double v) { return std::lround(v / (2 * joins)); };
            const std::array<long, 6> k{
                key(b.low.x),     key(b.low.y), key(b.high.x), key(b.high.y), long(r.circle.has_value()),
                long(r.is_closed)};
            bool known = false;
            for (size_t i : by_place[k]) known |= same(out[i], r);
            if (known) continue;
            by_place[k].push_back(out.size());
            out.push_back(std::move(r));
        }
        runs = std::move(out);
    }
    static bool same(const Run& a, const Run& b) {
        if (a.circle && b.circle)
            return distance(a.circle->centre, b.circle->centre) < joins &&
                   std::abs(a.circle->radius - b.circle->radius) < joins;
        if (a.points.size() != b.points.size()) return false;
        bool forth = true, back = true;
        const size_t n = a.points.size();
        for (size_t k = 0; k < n; ++k) {
            forth = forth && distance(a.points[k], b.points[k]) < joins;
            back = back && distance(a.points[k], b.points[n - 1 - k]) < joins;
        }
        return forth || back;
    }

    // Why a ring encloses nothing that can be meant, else empty.
    static std::string fault(const Run& r) {
        if (r.circle) return "";
        if (const auto cross = self_crossing(r.points)) return "crosses itself near " + at_words(cross->at);
        if (r.area() < 1e-4) return "encloses no area";
        return "";
    }
    void tell_open(const std::vector<Run>& open, const char* what) {
        for (size_t k = 0; k < open.size() && k < 5; ++k) {
            const Point a = open[k].points.front(), b = open[k].points.back();
            leave_out(fmt::format("{} is open: {:.3f} m lie between its ends at {} and {}", what, distance(a, b),
                                  at_words(a), at_words(b)),
                      "close it", a);
        }
        if (open.size() > 5) leave_out(fmt::format("{} more of the kind are open", open.size() - 5), "close them");
    }

    void slab() {
        Chains c = chained(std::move(runs_[size_t(LayerRole::slab)]));
        std::sort(c.rings.begin(), c.rings.end(), [](const Run& a, const Run& b) { return a.area() > b.area(); });
        bool spoilt = false;
        for (const Run& r : c.rings)
            if (const std::string why = fault(r); !why.empty() && (!out_.outline || &r == &c.rings[0])) {
                leave_out("the outline of the slab " + why, "mend it", r.circle ? r.circle->centre : r.points[0]);
                spoilt = true;
            } else if (!out_.outline && !spoilt) {
                take_outline(r);
            } else if (out_.outline && why.empty()) {
                within_slab(r);
            }
        tell_open(c.open, "the outline of the slab");
    }
    void take_outline(const Run& r) {
        if (r.circle)
            out_.outline = *r.circle;
        else
            out_.outline = anticlockwise(r.points);
        rim_ = r.ring();
        out_.slab_data = r.data;
    }
    void within_slab(const Run& r) {
        const auto* whole = std::get_if<Circle>(&*out_.outline);
        if (whole && r.circle && distance(whole->centre, r.circle->centre) < joins) {
            out_.outline = Ring{whole->centre, r.circle->radius, whole->radius};
        } else if (lies_within(r.ring(), rim_)) {
            Opening o;
            o.outline = r.shape(), set_data(o, r.data);
            warn(fmt::format("a closed line within the outline, at {}, is taken for an opening", at_words(r.middle())),
                 "draw openings on a layer of their own where that is wrong");
            named(o, out_.openings, "O");
        } else {
            leave_out(fmt::format("a second outline, of {:.1f} m² at {}, is left out", r.area(), at_words(r.middle())),
                      "a raft has one outline", r.middle());
        }
    }
    template <class F>
    void areas(LayerRole role, F take) {
        const std::string one = role == LayerRole::openings  ? "an opening"
                                : role == LayerRole::patches ? "a patch"
                                                             : "a ground patch";
        Chains c = chained(std::move(runs_[size_t(role)]));
        for (Run& r : c.rings) {
            if (const std::string why = fault(r); !why.empty())
                leave_out(one + " " + why, "mend it", r.points[0]);
            else
                take(r);
        }
        tell_open(c.open, one.c_str());
    }
    template <class T>
    static void named(T thing, std::vector<T>& list, const char* stem) {
        auto taken = [&](const std::string& id) {
            return std::any_of(list.begin(), list.end(), [&](const T& t) { return t.id == id; });
        };
        if (thing.id.empty() || taken(thing.id))
            for (int n = 1; thing.id.empty() || taken(thing.id); ++n) thing.id = stem + std::to_string(n);
        list.push_back(std::move(thing));
    }

    // "900 thick", "t = 0.9 m": the first number of a text within the ring that is a thickness.
    std::optional<double> thickness_in(const Run& r) const {
        const Polygon ring = r.ring();
        for (const auto& [at, words] : texts_[size_t(LayerRole::patches)]) {
            if (!contains(ring, at)) continue;
            for (size_t i = 0; i < words.size(); ++i) {
                if (!std::isdigit(static_cast<unsigned char>(words[i]))) continue;
                const auto parts = number_and_rest(words.substr(i));
                const auto v = parts ? read_number(parts->first, {}) : std::nullopt;
                if (v && *v >= 100 && *v <= 6000) return *v / 1000;
                if (v && *v >= 0.1 && *v <= 6) return *v;
                break;
            }
        }
        return {};
    }
    void patch(const Run& r) {
        SlabPatch p;
        p.outline = r.shape(), set_data(p, r.data);
        if (!r.data.count("thickness")) {
            if (const auto t = thickness_in(r))
                p.thickness = *t;
            else
                warn(fmt::format("the patch at {} says no thickness; {:g} m is taken", at_words(r.middle()),
                                 p.thickness),
                     "write \"900 thick\" within it, or give it its own");
        }
        named(p, out_.patches, "T");
    }

    // The rectangle or circle that a ring is; nothing else stands on a slab.
    static std::optional<Column> column_of(const Run& r) {
        Column c;
        c.at = {std::round(r.middle().x * 1e7) / 1e7, std::round(r.middle().y * 1e7) / 1e7};
        if (r.circle) {
            c.shape = ColumnShape::circle, c.size = {2 * r.circle->radius};
        } else {
            std::vector<Point> p;
            const size_t n = r.points.size();
            for (size_t k = 0; k < n; ++k) {
                const Point a = r.points[(k + n - 1) % n], b = r.points[k], d = r.points[(k + 1) % n];
                if (std::abs(cross(unit(b - a), unit(d - b))) > 1e-3) p.push_back(b);
            }
            double mean = 0, off = 0;
            for (Point q : p) mean += distance(q, c.at) / double(p.size());
            for (Point q : p) off = std::max(off, std::abs(distance(q, c.at) - mean));
            if (p.size() == 4) {
                const Point u = p[1] - p[0], v = p[2] - p[1];
                const bool square =
                    std::abs(dot(unit(u), unit(v))) < 2e-3 && std::abs(length(u) - distance(p[2], p[3])) < 2e-3;
                if (!square) return {};
                c.size = {length(u), length(v)};
                c.angle = std::atan2(u.y, u.x) * 180 / std::numbers::pi;
                while (c.angle > 45 + 1e-9) c.angle -= 90, std::swap(c.size[0], c.size[1]);
                while (c.angle <= -45 + 1e-9) c.angle += 90, std::swap(c.size[0], c.size[1]);
                c.angle = std::round(c.angle * 1e4) / 1e4;
                for (double& s : c.size) s = std::round(s * 1e5) / 1e5;
            } else if (p.size() >= 12 && off < 0.02 * mean) {
                c.shape = ColumnShape::circle, c.size = {2 * std::sqrt(r.area() / std::numbers::pi)};
            } else {
                return {};
            }
        }
        const Column drawn = c;
        set_data(c, r.data);
        c.shape = drawn.shape, c.angle = drawn.angle;
        // The same rectangle, turned by quarters, as it was named before; a round one keeps its axes.
        if (const auto it = r.data.find("angle"); it != r.data.end()) {
            const double was = std::atof(it->second.c_str());
            const double quarters = (was - drawn.angle) / 90;
            if (drawn.round())
                c.angle = was;
            else if (std::abs(quarters - std::round(quarters)) < 1e-4) {
                c.angle = was;
                if (std::lround(quarters) % 2 != 0) std::swap(c.size[0], c.size[1]);
            }
        }
        return c;
    }
    void columns() {
        Chains c = chained(std::move(runs_[size_t(LayerRole::columns)]));
        // Of a block the largest ring; crosses and fillings within it are its dress.
        std::map<int, size_t> of_insert;
        std::vector<Run> rings;
        for (Run& r : c.rings) {
            if (r.insert < 0) {
                rings.push_back(std::move(r));
            } else if (const auto [it, is_new] = of_insert.emplace(r.insert, rings.size()); is_new) {
                rings.push_back(std::move(r));
            } else if (r.area() > rings[it->second].area()) {
                rings[it->second] = std::move(r);
            }
        }
        std::vector<Column> found;
        for (const Run& r : rings) {
            if (const std::string why = fault(r); !why.empty()) {
                leave_out("a column's outline " + why, "mend it", r.points[0]);
            } else if (auto k = column_of(r)) {
                if (k->size[0] > 8 || k->size.back() > 8)
                    leave_out(fmt::format("what stands at {} on a layer of columns is {:.1f} m large", at_words(k->at),
                                          k->size[0]),
                              "check the drawing's unit, or the layer", k->at);
                else
                    found.push_back(std::move(*k));
            } else {
                leave_out(fmt::format("the column at {} is neither rectangle nor circle", at_words(r.middle())),
                          "draw it as one", r.middle());
            }
        }
        std::vector<Run> loose;
        for (Run& r : c.open) {  // crosses within columns are their dress too
            const Point m = 0.5 * (r.points.front() + r.points.back());
            const bool dress = r.insert >= 0 || std::any_of(rings.begin(), rings.end(), [&](const Run& ring) {
                                   return contains(ring.ring(), m) || distance_to_rim(ring.ring(), m) < joins;
                               });
            if (!dress) loose.push_back(std::move(r));
        }
        tell_open(loose, "a column's outline");
        name_columns(found);
    }
    // By the text nearest to each, else by number, row by row from the lower left.
    void name_columns(std::vector<Column>& found) {
        const auto& texts = texts_[size_t(LayerRole::columns)];
        std::vector<std::pair<double, std::pair<size_t, size_t>>> pairs;
        for (size_t k = 0; k < found.size(); ++k)
            for (size_t t = 0; t < texts.size() && found[k].id.empty(); ++t)
                if (const double d = distance(found[k].at, texts[t].first);
                    d < 0.75 + found[k].size[0] && !texts[t].second.empty() && texts[t].second.size() <= 12)
                    pairs.push_back({d, {k, t}});
        std::sort(pairs.begin(), pairs.end());
        std::set<size_t> used;
        std::set<std::string> ids;
        for (const Column& c : found) ids.insert(c.id);
        for (const auto& [d, pair] : pairs)
            if (found[pair.first].id.empty() && !used.count(pair.second) &&
                ids.insert(texts[pair.second].second).second)
                found[pair.first].id = texts[pair.second].second, used.insert(pair.second);
        std::stable_sort(found.begin(), found.end(), [](const Column& a, const Column& b) {
            return std::abs(a.at.y - b.at.y) > 0.5 ? a.at.y < b.at.y : a.at.x < b.at.x;
        });
        for (Column& c : found) named(std::move(c), out_.columns, "C");
    }

    // The middle line of a thin rectangle, and its thickness.
    static std::optional<std::pair<std::vector<Point>, double>> middle_line(const Run& r) {
        const auto c = column_of(r);
        if (!c || c->round()) return {};
        const size_t along = c->size[0] >= c->size[1] ? 0 : 1;
        const Point u = turned(along == 0 ? Point{1, 0} : Point{0, 1}, c->angle);
        const Point half = 0.5 * c->size[along] * u;
        return std::pair{std::vector<Point>{c->at - half, c->at + half}, c->size[1 - along]};
    }
    void walls() {
        int bare = 0;
        for (Run& r : runs_[size_t(LayerRole::walls)]) {
            Wall w;
            double thickness = r.width;
            if (r.is_closed && !r.data.count("id")) {
                const auto m = middle_line(r);
                if (!m || m->second > 3) {
                    leave_out(fmt::format("the wall at {} is no thin rectangle", at_words(r.middle())),
                              "draw its middle line, or each of its straight parts as a rectangle", r.middle());
                    continue;
                }
                w.path = m->first, thickness = m->second;
            } else {
                w.path = r.points;
                if (r.is_closed) w.path.push_back(w.path.front());
            }
            set_data(w, r.data);
            if (thickness > 0 && !r.data.count("thickness")) w.thickness = thickness;
            bare += !(thickness > 0) && !r.data.count("thickness");
            named(w, out_.walls, "W");
        }
        if (bare)
            warn(fmt::format("{} walls are lines without a width; 0.25 m is taken for their thickness", bare),
                 "give them theirs, or draw them as rectangles or wide polylines");
    }
    void ribs() {
        for (Run& r : runs_[size_t(LayerRole::ribs)]) {
            Rib b;
            b.path = r.points;
            if (r.is_closed && !r.points.empty()) b.path.push_back(b.path.front());
            if (b.path.size() < 2) continue;
            if (r.width > 0) b.width = r.width;
            set_data(b, r.data);
            if (!r.data.count("depth"))
                warn(fmt::format("the rib at {} says no depth; {:g} m is taken", at_words(b.path[0]), b.depth),
                     "give it its own");
            named(b, out_.ribs, "R");
        }
    }
    void piles() {
        for (const Run& r : runs_[size_t(LayerRole::piles)]) {
            Pile p;
            p.at = r.middle();
            const auto c = r.is_closed ? column_of(r) : std::nullopt;
            if (!c || !c->round()) {
                leave_out(fmt::format("the pile at {} is no circle", at_words(r.is_closed ? p.at : r.points[0])),
                          "draw it as one");
                continue;
            }
            p.diameter = c->size[0];
            set_data(p, r.data);
            named(p, out_.piles, "P");
        }
    }
    void lines() {
        const auto& texts = texts_[size_t(LayerRole::lines)];
        for (const Run& r : runs_[size_t(LayerRole::lines)]) {
            if (r.circle) continue;  // the bubble of a name
            SettingOutLine l;
            l.path = r.points;
            if (r.is_closed) l.path.push_back(l.path.front());
            set_data(l, r.data);
            double nearest = 3;  // m from an end
            std::string near;
            for (const auto& [at, words] : texts)
                for (Point end : {l.path.front(), l.path.back()})
                    if (const double d = distance(at, end); d < nearest && !words.empty() && words.size() <= 8)
                        nearest = d, near = words;
            if (l.id.empty()) l.id = near;
            named(l, out_.lines, "L");
        }
    }

    void nothing() {
        leave_out("nothing of it is understood as a slab, openings, columns, walls or lines",
                  "name its layers: it has " + layer_names());
    }

    const DrawingFile& file_;
    const PlanOptions& options_;
    DrawnPlan out_;
    std::array<std::vector<Run>, n_layer_roles> runs_;
    std::array<std::vector<std::pair<Point, std::string>>, n_layer_roles> texts_;
    Polygon rim_;
};

}  // namespace

DrawnPlan read_plan(const DrawingFile& file, const PlanOptions& options) { return Planner(file, options).read(); }

}  // namespace mossbed
