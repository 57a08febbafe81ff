#include "core/arrange/make.h"

#include <algorithm>

#include "core/arrange/edit_strips.h"
#include "core/arrange/rims.h"
#include "core/model/edit.h"
#include "core/model/load_values.h"

namespace mossbed {

namespace {

template <class T>
void take_pattern(std::vector<T>& into, const std::vector<T>& list, const std::vector<T>* before) {
    if (!list.empty())
        into = {list.back()};
    else if (before && !before->empty())
        into = *before;
    else
        into = {T{}};
    into[0].id = pattern;
}

// "K" where the others are K1, K2 …; else the usual letter.
template <class T>
std::string fresh_name(const std::vector<T>& list, const std::string& usual) {
    std::vector<std::string> taken;
    for (const T& t : list) taken.push_back(t.id);
    const std::string stem = list.empty() ? usual : stem_of(list.back().id);
    return fresh_id(stem.empty() ? usual : stem, taken);
}

std::string name_of_line(const Model& m, const std::vector<Point>& path) {
    const Point d = path.back() - path.front();
    std::vector<std::string> taken;
    for (const SettingOutLine& l : m.setting_out) taken.push_back(l.id);
    return fresh_id(std::abs(d.x) < 1e-6 ? "x" : std::abs(d.y) < 1e-6 ? "y" : "line-", taken);
}

Shape shape_of_figure(const Figure& f) { return f.circle ? Shape(*f.circle) : Shape(f.points); }

template <class T>
T like_pattern(const std::vector<T>& patterns) {
    T t = patterns.empty() ? T{} : patterns[0];
    t.id.clear();
    return t;
}

std::string make_load(Model& m, const Figure& f, const Model& patterns, Thing* made) {
    if (patterns.loads.cases.empty() || patterns.loads.cases[0].items.size() <= member_pattern)
        return "there is no case";
    LoadCase* c = find_id(m.loads.cases, patterns.loads.cases[0].id);
    if (!c) return "there is no load case to put it in; add one";
    const size_t n = f.points.size();
    const bool is_area = f.is_closed && n > 2, is_path = !f.is_closed && n > 1;
    LoadItem i = patterns.loads.cases[0].items[is_area ? area_pattern : is_path ? line_pattern : point_pattern];
    if (auto* l = std::get_if<PointLoad>(&i.load); l && n == 1)
        l->at = f.points[0];
    else if (auto* p = std::get_if<LineLoad>(&i.load))
        p->path = f.points;
    else if (auto* a = std::get_if<AreaLoad>(&i.load))
        a->outline = f.points;
    else
        return "a load needs a place";
    c->items.push_back(std::move(i));
    if (made) *made = load_thing(c->id, c->items.size() - 1);
    return {};
}

}  // namespace

Model patterns_of(const Model& m, const Model* before) {
    Model p;
    take_pattern(p.columns, m.columns, before ? &before->columns : nullptr);
    take_pattern(p.walls, m.walls, before ? &before->walls : nullptr);
    take_pattern(p.ribs, m.ribs, before ? &before->ribs : nullptr);
    take_pattern(p.slab.patches, m.slab.patches, before ? &before->slab.patches : nullptr);
    take_pattern(p.ground.patches, m.ground.patches, before ? &before->ground.patches : nullptr);
    take_pattern(p.steel.extra, m.steel.extra, before ? &before->steel.extra : nullptr);
    take_pattern(p.steel.links, m.steel.links, before ? &before->steel.links : nullptr);
    LoadCase loads;
    loads.id = pattern;
    loads.items = {{PointLoad{{}, 100, 0, 0}, {}},
                   {LineLoad{{}, {10, 10}}, {}},
                   {AreaLoad{{}, 5, {}}, {}},
                   {WallLoad{{}, 10}, {}}};
    p.loads.cases = before && before->loads.cases.size() == 1 ? before->loads.cases : std::vector<LoadCase>{loads};
    if (m.slab.patches.empty() && (!before || before->slab.patches.empty()))  // thicker than the slab
        p.slab.patches[0].thickness = std::round(20 * 1.5 * m.slab.thickness) / 20;
    if (m.ribs.empty() && (!before || before->ribs.empty()))
        p.ribs[0].depth = std::max(p.ribs[0].depth, std::round(20 * 2 * m.slab.thickness) / 20);
    return p;
}

std::string load_member_at(Model& m, Point at, const Model& patterns, Thing* made) {
    if (patterns.loads.cases.empty() || patterns.loads.cases[0].items.size() <= member_pattern)
        return "there is no case";
    const std::string& into = patterns.loads.cases[0].id;
    if (!find_id(m.loads.cases, into)) return "there is no load case to put it in; add one";
    Thing hit;
    double nearest = 0.15;  // m beyond its faces
    auto look = [&](const auto& list, ThingKind kind, auto width) {
        for (const auto& t : list)
            for (size_t i = 0; i + 1 < t.path.size(); ++i)
                if (const double d = distance_to_segment(at, t.path[i], t.path[i + 1]) - width(t) / 2; d < nearest)
                    nearest = d, hit = {kind, t.id};
    };
    look(m.walls, ThingKind::wall, [](const Wall& w) { return w.thickness; });
    look(m.ribs, ThingKind::rib, [](const Rib& r) { return r.width; });
    if (hit.id.empty()) return "there is no wall or rib here; click on one";
    set_member_load(m, into, hit,
                    values_of_load(patterns.loads.cases[0].items[member_pattern])
                        .front()
                        .get(patterns.loads.cases[0].items[member_pattern]));
    if (made) *made = hit;
    return {};
}

std::string make_thing(Model& m, ThingKind kind, const Figure& f, const Model& patterns, Thing* made) {
    const size_t n = f.points.size();
    const bool is_area = f.is_closed && n > 2, is_path = !f.is_closed && n > 1;
    auto add = [&](auto& list, auto thing, const std::string& name) {
        thing.id = name;
        if (made) *made = {kind, name};
        list.push_back(std::move(thing));
    };
    switch (kind) {
        case ThingKind::slab_side:
            if (!is_area) return "an outline needs an area";
            if (f.circle)
                m.slab.outline = *f.circle;
            else if (f.ring)
                m.slab.outline = *f.ring;
            else
                m.slab.outline = f.points;
            if (made) *made = {kind, "", 0};
            return {};
        case ThingKind::opening: {
            if (!is_area || f.ring) return "an opening needs an area";
            Opening o;
            o.outline = shape_of_figure(f);
            add(m.slab.openings, std::move(o), fresh_name(m.slab.openings, "O"));
            return {};
        }
        case ThingKind::patch: {
            if (!is_area || f.ring) return "a patch needs an area";
            SlabPatch t = like_pattern(patterns.slab.patches);
            t.outline = shape_of_figure(f);
            add(m.slab.patches, std::move(t), fresh_name(m.slab.patches, "T"));
            return {};
        }
        case ThingKind::ground_patch: {
            if (!is_area || f.ring) return "a patch needs an area";
            GroundPatch g = like_pattern(patterns.ground.patches);
            g.outline = f.points;
            add(m.ground.patches, std::move(g), fresh_name(m.ground.patches, "G"));
            return {};
        }
        case ThingKind::strip: {
            if (!is_path || n != 2) return "a strip needs two points, the ends of its axis";
            if (patterns.steel.strips)  // its pattern first, then those that are laid out now
                own_strips(m, {patterns.steel.strips->begin() + 1, patterns.steel.strips->end()});
            Strip s = patterns.steel.strips ? patterns.steel.strips->front() : Strip{};
            s.axis = {f.points[0], f.points[1]};
            const Point along = f.points[1] - f.points[0];
            s.direction = std::abs(dot(along, along_bars(m.steel, Direction::x))) >=
                                  std::abs(dot(along, along_bars(m.steel, Direction::y)))
                              ? Direction::x
                              : Direction::y;
            const std::string name = draw_strip(m, std::move(s));
            if (made) *made = {kind, name};
            return {};
        }
        case ThingKind::extra_bars: {
            if (!is_area || f.ring) return "extra bars need an area";
            ExtraBars e = like_pattern(patterns.steel.extra);
            e.outline = f.points;
            add(m.steel.extra, std::move(e), fresh_name(m.steel.extra, "X"));
            return {};
        }
        case ThingKind::links: {
            if (!is_area || f.ring) return "links need an area";
            ShearLinks l = like_pattern(patterns.steel.links);
            l.outline = f.points;
            add(m.steel.links, std::move(l), fresh_name(m.steel.links, "L"));
            return {};
        }
        case ThingKind::column: {
            if (n != 1) return "a column needs a place";
            Column c = like_pattern(patterns.columns);
            c.at = f.points[0];
            add(m.columns, std::move(c), fresh_name(m.columns, "C"));
            return {};
        }
        case ThingKind::wall: {
            if (!is_path) return "a wall needs a length";
            Wall w = like_pattern(patterns.walls);
            w.path = f.points;
            add(m.walls, std::move(w), fresh_name(m.walls, "W"));
            return {};
        }
        case ThingKind::rib: {
            if (!is_path) return "a rib needs a length";
            Rib r = like_pattern(patterns.ribs);
            r.path = f.points;
            add(m.ribs, std::move(r), fresh_name(m.ribs, "R"));
            return {};
        }
        case ThingKind::setting_out: {
            if (!is_path) return "a line needs a length";
            SettingOutLine l;
            l.path = f.points;
            add(m.setting_out, std::move(l), name_of_line(m, f.points));
            return {};
        }
        case ThingKind::load:
            return make_load(m, f, patterns, made);
        default:
            return "that cannot be drawn";
    }
}

namespace {

// Calls f(shape or path, whether it is closed) for the corners of a thing that has some.
template <class M, class F>
void with_corners_of(M& m, const Thing& t, F f) {
    auto in = [&](auto& list, auto get) {
        for (auto& one : list)
            if (one.id == t.id) get(one);
    };
    const auto area = [&](auto& one) { f(one.outline, true); };
    const auto line = [&](auto& one) { f(one.path, false); };
    if (t.kind == ThingKind::opening) in(m.slab.openings, area);
    if (t.kind == ThingKind::patch) in(m.slab.patches, area);
    if (t.kind == ThingKind::ground_patch) in(m.ground.patches, area);
    if (t.kind == ThingKind::extra_bars) in(m.steel.extra, area);
    if (t.kind == ThingKind::links) in(m.steel.links, area);
    if (t.kind == ThingKind::wall) in(m.walls, line);
    if (t.kind == ThingKind::rib) in(m.ribs, line);
    if (t.kind == ThingKind::setting_out) in(m.setting_out, line);
    if (t.kind != ThingKind::load) return;
    if (auto* i = find_load(m, t)) {
        if (auto* l = std::get_if<LineLoad>(&i->load)) f(l->path, false);
        if (auto* a = std::get_if<AreaLoad>(&i->load)) f(a->outline, true);
    }
}

std::optional<Circle> circle_of(const Shape& s) { return s.circle(); }
std::optional<Circle> circle_of(const std::vector<Point>&) { return {}; }
void make_round(Shape& s, const Circle& c) { s = Shape(c); }
void make_round(std::vector<Point>&, const Circle&) {}

}  // namespace

std::vector<Point> corners_of(const Model& m, const Thing& t) {
    std::vector<Point> out;
    if (const Strip* s = t.kind == ThingKind::strip && m.steel.strips ? find_id(*m.steel.strips, t.id) : nullptr) {
        const auto grips = grips_of(*s);
        return {grips.begin(), grips.end()};
    }
    with_corners_of(m, t, [&](const auto& points, bool) {
        if (const auto c = circle_of(points))
            out = {c->centre + Point{c->radius, 0}};
        else
            out = points;
    });
    return out;
}

std::string move_corner(Model& m, const Thing& t, int corner, Point to) {
    if (t.kind == ThingKind::strip) {
        const std::string why = move_grip(m, t.id, corner, to);
        return why.empty() ? why : "it " + why;
    }
    std::string why = "there is no such corner";
    with_corners_of(m, t, [&](auto& points, bool closed) {
        if (const auto c = circle_of(points)) {
            const double r = distance(c->centre, to);
            why = r < 0.01 ? "its radius would be nothing" : "";
            if (why.empty()) make_round(points, {c->centre, r});
            return;
        }
        if (corner < 0 || corner >= int(points.size())) return;
        std::vector<Point> next = points;
        next[size_t(corner)] = to;
        const bool joined = !closed && points.size() > 3 && distance(points.front(), points.back()) < 1e-6;
        if (joined && corner == 0) next.back() = to;
        if (joined && corner + 1 == int(points.size())) next.front() = to;
        why = closed ? fault_of_outline(next) : "";
        for (size_t i = 0; i + 1 < next.size() && why.empty(); ++i)
            if (distance(next[i], next[i + 1]) < 0.01) why = "a piece would have no length";
        if (why.empty()) std::copy(next.begin(), next.end(), points.begin());
    });
    return why;
}

std::string add_corner(Model& m, const Thing& t, Point near) {
    std::string why = "it has no corners";
    with_corners_of(m, t, [&](auto& points, bool closed) {
        if (circle_of(points)) return;
        size_t best = 0;
        double least = 1e300;
        const size_t n = points.size(), sides = closed ? n : n - 1;
        for (size_t i = 0; i < sides; ++i)
            if (const double d = distance_to_segment(near, points[i], points[(i + 1) % n]); d < least)
                least = d, best = i;
        const Point q = nearest_on_segment(near, points[best], points[(best + 1) % n]);
        why = distance(q, points[best]) < 0.01 || distance(q, points[(best + 1) % n]) < 0.01 ? "there is one already"
                                                                                             : "";
        if (why.empty()) points.insert(points.begin() + long(best) + 1, q);
    });
    return why;
}

std::string remove_corner(Model& m, const Thing& t, int corner) {
    std::string why = "it has no corners";
    with_corners_of(m, t, [&](auto& points, bool closed) {
        if (circle_of(points) || corner < 0 || corner >= int(points.size())) return;
        if (closed) {
            Polygon ring = points;
            why = remove_corner(ring, corner);
            if (why.empty()) points.erase(points.begin() + corner);
            return;
        }
        why = points.size() <= 2 ? "a line needs two ends" : "";
        if (why.empty()) points.erase(points.begin() + corner);
    });
    return why;
}

}  // namespace mossbed
