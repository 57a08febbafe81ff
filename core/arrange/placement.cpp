#include "core/arrange/placement.h"

#include <algorithm>
#include <unordered_set>

#include "core/arrange/rims.h"
#include "core/model/edit.h"

namespace mossbed {

namespace {

constexpr double same_place = 1e-3;  // m

// Sums of decimals end in a ninth digit or so; what is written into a file should not.
Point rounded(Point p) { return {std::round(p.x * 1e9) / 1e9, std::round(p.y * 1e9) / 1e9}; }

double degrees_of(Point d) { return std::atan2(d.y, d.x) * 180 / M_PI; }

void place(Point& p, const Placement& by) { p = rounded(by.of(p)); }
void place(std::vector<Point>& path, const Placement& by) {
    for (Point& p : path) place(p, by);
}
void place_ring(Polygon& ring, const Placement& by) {
    place(ring, by);
    if (by.mirrors() && !ring.empty()) std::reverse(ring.begin() + 1, ring.end());  // it keeps its way round
}
void place(Shape& s, const Placement& by) {
    if (const auto c = s.circle())
        s = Shape(Circle{rounded(by.of(c->centre)), c->radius});
    else
        place_ring(s, by);
}
void place(Direction& d, const Placement& by) {
    const Point was = d == Direction::x ? Point{1, 0} : Point{0, 1}, is = by.direction(was);
    if (std::abs(dot(is, was)) < std::sqrt(0.5)) d = d == Direction::x ? Direction::y : Direction::x;
}

void place_thing(Column& c, const Placement& by) {
    place(c.at, by);
    if (by.only_moves() || c.round()) return;
    const double turned_to = std::remainder(degrees_of(by.direction(turned({1, 0}, c.angle))), 180);
    c.angle = std::round(turned_to * 1e9) / 1e9;
}
void place_thing(Wall& w, const Placement& by) { place(w.path, by); }
void place_thing(Rib& r, const Placement& by) { place(r.path, by); }
void place_thing(SettingOutLine& l, const Placement& by) { place(l.path, by); }
void place_thing(Opening& o, const Placement& by) { place(o.outline, by); }
void place_thing(SlabPatch& t, const Placement& by) { place(t.outline, by); }
void place_thing(GroundPatch& g, const Placement& by) { place_ring(g.outline, by); }
void place_thing(Pile& p, const Placement& by) { place(p.at, by); }
void place_thing(Borehole& b, const Placement& by) { place(b.at, by); }
void place_thing(ShearLinks& l, const Placement& by) { place_ring(l.outline, by); }
void place_thing(ExtraBars& e, const Placement& by) { place_ring(e.outline, by), place(e.direction, by); }
void place_thing(Strip& s, const Placement& by) {
    for (Point& p : s.axis) place(p, by);
    place(s.direction, by);
    if (by.mirrors()) std::swap(s.reach[0], s.reach[1]);
}

template <class List>
void place_those(List& list, ThingKind kind, const Things& things, const Placement& by) {
    for (auto& t : list)
        if (things.count({kind, t.id})) place_thing(t, by);
}

bool same_ring(const Polygon& a, const Polygon& b) {
    return a.size() == b.size() && !a.empty() && std::all_of(a.begin(), a.end(), [&](Point p) {
               return std::any_of(b.begin(), b.end(), [p](Point q) { return distance(p, q) < same_place; });
           });
}
bool lies_along(const std::vector<Point>& line, const std::vector<Point>& path) {
    return !line.empty() && path.size() > 1 && std::all_of(line.begin(), line.end(), [&](Point p) {
        for (size_t i = 0; i + 1 < path.size(); ++i)
            if (distance_to_segment(p, path[i], path[i + 1]) < same_place) return true;
        return false;
    });
}

// What of the model lies on these things and on nothing else.
class Hanging {
  public:
    Hanging(const Model& m, const Things& things) : m_(m), things_(things) {}

    bool has(const LoadItem& item) const {
        if (const auto* a = std::get_if<AreaLoad>(&item.load)) return on_an_area(a->outline);
        if (const auto* l = std::get_if<LineLoad>(&item.load)) return on_a_line(l->path);
        if (const auto* p = std::get_if<PointLoad>(&item.load)) return on_a_column(p->at);
        return false;
    }
    bool has(const ShearLinks& l) const { return on_an_area(l.outline) || all_move(columns_in(l.outline)); }
    bool has(const ExtraBars& e) const { return on_an_area(e.outline) || all_move(columns_in(e.outline)); }
    bool has(const Strip& s) const {
        std::vector<const Column*> on;
        for (const Column& c : m_.columns)
            if (distance_to_segment(c.at, s.axis[0], s.axis[1]) < 0.05) on.push_back(&c);
        return all_move(on);
    }

  private:
    bool moves(ThingKind kind, const std::string& id) const { return things_.count({kind, id}) > 0; }
    bool on_an_area(const Polygon& ring) const {
        auto any = [&](const auto& list, ThingKind kind) {
            return std::any_of(list.begin(), list.end(),
                               [&](const auto& t) { return moves(kind, t.id) && same_ring(t.outline, ring); });
        };
        return any(m_.slab.patches, ThingKind::patch) || any(m_.slab.openings, ThingKind::opening);
    }
    bool on_a_line(const std::vector<Point>& path) const {
        auto any = [&](const auto& list, ThingKind kind) {
            return std::any_of(list.begin(), list.end(),
                               [&](const auto& t) { return moves(kind, t.id) && lies_along(path, t.path); });
        };
        return any(m_.walls, ThingKind::wall) || any(m_.ribs, ThingKind::rib);
    }
    bool on_a_column(Point p) const {
        return std::any_of(m_.columns.begin(), m_.columns.end(), [&](const Column& c) {
            return moves(ThingKind::column, c.id) && contains(footprint(c), p);
        });
    }
    std::vector<const Column*> columns_in(const Polygon& ring) const {
        std::vector<const Column*> in;
        for (const Column& c : m_.columns)
            if (contains(ring, c.at)) in.push_back(&c);
        return in;
    }
    bool all_move(const std::vector<const Column*>& some) const {
        return !some.empty() &&
               std::all_of(some.begin(), some.end(), [&](const Column* c) { return moves(ThingKind::column, c->id); });
    }
    const Model& m_;
    const Things& things_;
};

void place_load(LoadItem& item, const Placement& by) {
    if (auto* a = std::get_if<AreaLoad>(&item.load)) place_ring(a->outline, by);
    if (auto* l = std::get_if<LineLoad>(&item.load)) place(l->path, by);
    if (auto* p = std::get_if<PointLoad>(&item.load)) place(p->at, by);
}

// The slab's corners that move: chosen ones, and the ends of chosen sides. Of a round slab any side moves its centre.
void place_slab(Model& m, const Things& things, const Placement& by) {
    std::set<int> corners;
    auto* ring = std::get_if<Polygon>(&m.slab.outline);
    const int n = ring ? int(ring->size()) : 0;
    bool any = false;
    for (const Thing& t : things) {
        any |= t.kind == ThingKind::slab_side;
        if (t.kind == ThingKind::slab_corner || t.kind == ThingKind::slab_side) corners.insert(t.part);
        if (t.kind == ThingKind::slab_side && n > 0) corners.insert((t.part + 1) % n);
    }
    if (auto* c = std::get_if<Circle>(&m.slab.outline); c && any) place(c->centre, by);
    if (auto* r = std::get_if<Ring>(&m.slab.outline); r && any) place(r->centre, by);
    if (!ring) return;
    const Polygon before = *ring;
    for (int i : corners)
        if (i >= 0 && i < n) place((*ring)[size_t(i)], by);
    if (by.mirrors() && int(corners.size()) == n) std::reverse(ring->begin() + 1, ring->end());
    if (!by.mirrors()) follow_rim(m, before);
}

// Fresh names in a list that grows.
template <class T>
class Names {
  public:
    explicit Names(const std::vector<T>& list) {
        for (const T& t : list) taken_.insert(t.id);
    }
    std::string after(const std::string& id) {
        const std::string letters = stem_of(id), stem = letters.empty() ? id + "-" : letters;
        int& n = tried_[stem];
        std::string name;
        do name = stem + std::to_string(++n);
        while (!taken_.insert(name).second);
        return name;
    }

  private:
    std::unordered_set<std::string> taken_;
    std::map<std::string, int> tried_;
};

using Renamed = std::vector<std::pair<std::string, std::string>>;  // from the original to its copy, by place

template <class T>
Renamed copy_those(std::vector<T>& list, ThingKind kind, const Things& things, const Placement& by, Things* made) {
    Names<T> names(list);
    Renamed renamed;
    const size_t n = list.size();
    for (size_t i = 0; i < n; ++i) {
        if (!things.count({kind, list[i].id})) continue;
        T copy = list[i];
        place_thing(copy, by);
        copy.id = names.after(list[i].id);
        renamed.emplace_back(list[i].id, copy.id);
        if (made) made->insert({kind, copy.id});
        list.push_back(std::move(copy));
    }
    return renamed;
}

void copy_loads(LoadCase& c, const Hanging& hanging, const Renamed& columns, const Renamed& walls, const Renamed& ribs,
                const Placement& by) {
    auto named = [](const Renamed& list, const std::string& id) -> const std::string* {
        for (const auto& [from, to] : list)
            if (from == id) return &to;
        return nullptr;
    };
    const size_t n = c.items.size();
    for (size_t i = 0; i < n; ++i) {
        LoadItem copy = c.items[i];
        const std::string* to = nullptr;
        if (auto* l = std::get_if<ColumnLoad>(&copy.load); l && (to = named(columns, l->column))) l->column = *to;
        if (auto* l = std::get_if<WallLoad>(&copy.load); l && (to = named(walls, l->wall))) l->wall = *to;
        if (auto* l = std::get_if<RibLoad>(&copy.load); l && (to = named(ribs, l->rib))) l->rib = *to;
        if (!to && !hanging.has(copy)) continue;
        if (!to) place_load(copy, by);
        c.items.push_back(std::move(copy));
    }
}

// Loads that are chosen themselves; those at a place of the plan.
void copy_chosen_loads(Model& m, const Things& things, const Placement& by, Things* made) {
    for (const Thing& t : things) {
        const LoadItem* i = find_load(m, t);
        if (!i) continue;
        LoadItem copy = *i;
        place_load(copy, by);
        if (copy == *i) continue;
        LoadCase* c = find_id(m.loads.cases, place_of_load(t).first);
        c->items.push_back(std::move(copy));
        if (made) made->insert(load_thing(c->id, c->items.size() - 1));
    }
}

}  // namespace

Placement Placement::turned(Point about, double degrees) {
    const Point u = mossbed::turned({1, 0}, degrees), v = left_of(u);
    return {u, v, about - (about.x * u + about.y * v)};
}

Placement Placement::mirrored(Point on, Point along) {
    const Point d = unit(along);
    const Point u{2 * d.x * d.x - 1, 2 * d.x * d.y}, v{2 * d.x * d.y, 2 * d.y * d.y - 1};
    return {u, v, on - (on.x * u + on.y * v)};
}

std::vector<Placement> rows_of(int nx, Point dx, int ny, Point dy) {
    std::vector<Placement> places;
    for (int j = 0; j < std::max(1, ny); ++j)
        for (int i = 0; i < std::max(1, nx); ++i)
            if (i + j > 0) places.push_back(Placement::moved(double(i) * dx + double(j) * dy));
    return places;
}

Model placed(Model m, const Things& things, const Placement& by) {
    const Model before = m;
    const Hanging hanging(before, things);
    for (LoadCase& c : m.loads.cases)
        for (size_t k = 0; k < c.items.size(); ++k)
            if (hanging.has(c.items[k]) || things.count(load_thing(c.id, k))) place_load(c.items[k], by);
    auto place_hanging = [&](auto& list, ThingKind kind) {
        for (auto& t : list)
            if (things.count({kind, t.id}) || hanging.has(t)) place_thing(t, by);
    };
    place_hanging(m.steel.extra, ThingKind::extra_bars), place_hanging(m.steel.links, ThingKind::links);
    if (m.steel.strips) place_hanging(*m.steel.strips, ThingKind::strip);
    place_those(m.columns, ThingKind::column, things, by), place_those(m.walls, ThingKind::wall, things, by);
    place_those(m.ribs, ThingKind::rib, things, by), place_those(m.piles, ThingKind::pile, things, by);
    place_those(m.slab.openings, ThingKind::opening, things, by);
    place_those(m.slab.patches, ThingKind::patch, things, by);
    place_those(m.ground.patches, ThingKind::ground_patch, things, by);
    place_those(m.ground.boreholes, ThingKind::borehole, things, by);
    place_those(m.setting_out, ThingKind::setting_out, things, by);
    place_slab(m, things, by);
    return m;
}

Model with_copies(Model m, const Things& things, const std::vector<Placement>& places, bool with_loads, Things* made) {
    const Model before = m;
    const Hanging hanging(before, things);
    std::vector<size_t> n_items;
    for (const LoadCase& c : before.loads.cases) n_items.push_back(c.items.size());
    for (const Placement& by : places) {
        const Renamed columns = copy_those(m.columns, ThingKind::column, things, by, made),
                      walls = copy_those(m.walls, ThingKind::wall, things, by, made),
                      ribs = copy_those(m.ribs, ThingKind::rib, things, by, made);
        copy_those(m.piles, ThingKind::pile, things, by, made);
        copy_those(m.slab.openings, ThingKind::opening, things, by, made);
        copy_those(m.slab.patches, ThingKind::patch, things, by, made);
        copy_those(m.ground.patches, ThingKind::ground_patch, things, by, made);
        copy_those(m.setting_out, ThingKind::setting_out, things, by, made);
        copy_those(m.steel.extra, ThingKind::extra_bars, things, by, made);
        copy_those(m.steel.links, ThingKind::links, things, by, made);
        if (m.steel.strips) copy_those(*m.steel.strips, ThingKind::strip, things, by, made);
        copy_chosen_loads(m, things, by, made);
        if (!with_loads) continue;
        for (size_t k = 0; k < m.loads.cases.size(); ++k) {
            LoadCase own = before.loads.cases[k];  // copies are made of what was there, not of copies
            copy_loads(own, hanging, columns, walls, ribs, by);
            auto& items = m.loads.cases[k].items;
            items.insert(items.end(), own.items.begin() + long(n_items[k]), own.items.end());
        }
    }
    return m;
}

std::vector<Point> corners_of_load(const LoadItem& i) {
    if (const auto* l = std::get_if<LineLoad>(&i.load)) return l->path;
    if (const auto* a = std::get_if<AreaLoad>(&i.load)) return a->outline;
    return {};
}

std::optional<Point> middle_of(const Model& m, const Things& things) {
    Box b;
    auto add = [&](const auto& list, ThingKind kind, auto points) {
        for (const auto& t : list)
            if (things.count({kind, t.id}))
                for (Point p : points(t)) b.add(p);
    };
    const auto outline = [](const auto& t) -> const Polygon& { return t.outline; };
    const auto path = [](const auto& t) -> const std::vector<Point>& { return t.path; };
    const auto at = [](const auto& t) { return std::vector<Point>{t.at}; };
    add(m.columns, ThingKind::column, at), add(m.piles, ThingKind::pile, at);
    add(m.ground.boreholes, ThingKind::borehole, at);
    add(m.walls, ThingKind::wall, path), add(m.ribs, ThingKind::rib, path);
    add(m.setting_out, ThingKind::setting_out, path);
    add(m.slab.openings, ThingKind::opening, outline), add(m.slab.patches, ThingKind::patch, outline);
    add(m.ground.patches, ThingKind::ground_patch, outline), add(m.steel.extra, ThingKind::extra_bars, outline);
    add(m.steel.links, ThingKind::links, outline);
    if (m.steel.strips)
        add(*m.steel.strips, ThingKind::strip, [](const Strip& s) { return std::vector<Point>{s.axis[0], s.axis[1]}; });
    for (const Thing& t : things)
        if (const LoadItem* i = find_load(m, t)) {
            if (const auto* p = std::get_if<PointLoad>(&i->load)) b.add(p->at);
            for (Point p : corners_of_load(*i)) b.add(p);
        }
    const bool any_side = std::any_of(things.begin(), things.end(), [](const Thing& t) {
        return t.kind == ThingKind::slab_side || t.kind == ThingKind::slab_corner;
    });
    if (any_side && has_slab(m))
        for (Point p : outer_rim(m.slab.outline, 0.5)) b.add(p);
    return b.empty() ? std::nullopt : std::optional(b.middle());
}

namespace {

std::string grow(Shape& s, double by) {
    if (auto c = s.circle()) {
        if (c->radius + by <= 0.01) return "its radius would be nothing";
        s = Shape(Circle{c->centre, c->radius + by});
        return {};
    }
    Polygon ring = s;
    const std::string why = grow_ring(ring, by);
    if (why.empty()) s = ring;
    return why;
}
std::string grow(Polygon& ring, double by) { return grow_ring(ring, by); }

}  // namespace

std::string offset(Model& m, const Things& things, double by, bool as_copy, Things* made) {
    Model next = m;
    Things those = things;
    if (as_copy) {
        those.clear();
        next = with_copies(std::move(next), things, {Placement{}}, false, &those);
    }
    std::string why;
    auto shapes = [&](auto& list, ThingKind kind) {
        for (auto& t : list)
            if (why.empty() && those.count({kind, t.id}))
                if (const std::string no = grow(t.outline, by); !no.empty()) why = t.id + ": " + no;
    };
    auto paths = [&](auto& list, ThingKind kind) {
        for (auto& t : list)
            if (why.empty() && those.count({kind, t.id}))
                if (const std::string no = shift_path(t.path, by); !no.empty()) why = t.id + ": " + no;
    };
    shapes(next.slab.openings, ThingKind::opening), shapes(next.slab.patches, ThingKind::patch);
    shapes(next.ground.patches, ThingKind::ground_patch), shapes(next.steel.extra, ThingKind::extra_bars);
    shapes(next.steel.links, ThingKind::links);
    paths(next.walls, ThingKind::wall), paths(next.ribs, ThingKind::rib);
    paths(next.setting_out, ThingKind::setting_out);
    if (!why.empty()) return why;
    if (made) *made = those;
    m = std::move(next);
    return {};
}

}  // namespace mossbed
