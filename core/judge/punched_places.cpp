#include "core/judge/punched_places.h"

#include <fmt/format.h>

#include <map>
#include <numeric>

#include "core/base/box_bins.h"
#include "core/base/polygons.h"

namespace mossbed {

PunchedSlab::PunchedSlab(const Model& model, const DesignCode& of, const Provision& provision)
    : m(model),
      code(of),
      steel(provision),
      rim(outer_rim(model.slab.outline, 0.1)),
      hole(inner_rim(model.slab.outline, 0.1)) {
    for (const Opening& o : m.slab.openings) openings.push_back(anticlockwise(o.outline));
    for (const Rib& r : m.ribs)
        for (Polygon& body : bodies_along(r.path, r.width))
            if (r.depth > thickness_at(m, centroid(body)) + 1e-9)
                ribs.push_back({r.id, anticlockwise(std::move(body))});
}

const std::string* PunchedSlab::rib_under(const Polygon& area) const {
    for (const auto& [id, body] : ribs)
        if (share_area(body, area)) return &id;
    return nullptr;
}

double reach_of(const PunchedSlab& slab, const PunchedPlace& place) {
    return std::max(1e-3, std::min(slab.code.furthest_perimeter(place.thickness, place.links_end), place.furthest));
}

std::vector<double> PunchedSlab::link_perimeters(const Column& c) const {
    std::vector<double> out;
    if (!c.links.whole()) return out;
    constexpr double grid = 0.005;  // m, as people lay them
    const double by_code = code.first_link_perimeter(depth(thickness_at(m, c.at), Face::bottom));
    const double first =
        c.links.first ? *c.links.first / 1000 : std::max(grid, grid * std::floor(by_code / grid + 1e-9));
    for (int i = 0; i < int(*c.links.perimeters); ++i) out.push_back(first + i * *c.links.spacing / 1000);
    return out;
}

namespace {

// The patch that a point stands on; none on the plain slab.
const SlabPatch* patch_at(const Model& m, Point p) {
    const SlabPatch* under = nullptr;
    for (const SlabPatch& t : m.slab.patches)
        if (contains(t.outline, p)) under = &t;
    return under;
}

bool overlaps_opening(const PunchedSlab& s, const Polygon& area) {
    return std::any_of(s.openings.begin(), s.openings.end(), [&](const Polygon& o) { return share_area(o, area); });
}

// A hair inside the rim counts as at it: footprints are often typed flush with it.
bool stands_on_slab(const PunchedSlab& s, const PunchedArea& area) {
    constexpr double hair = 1e-3;
    auto drawn_in = [&](Point q) { return q + std::min(hair, distance(q, area.centre)) * unit(area.centre - q); };
    return std::all_of(area.outline.begin(), area.outline.end(), [&](Point q) {
        return contains(s.rim, drawn_in(q)) && !(s.hole && contains(*s.hole, drawn_in(q)));
    });
}

// Fills in what is round the area: openings near, thinner slab near, the courses of its perimeters.
void look_round(const PunchedSlab& s, PunchedPlace& p) {
    const double reach = reach_of(s, p), shade = s.code.perimeter_rule(s.depth(p.thickness)).shade_within;
    const Box near = box_of(p.area.outline).grown(std::max(reach, shade));
    p.slab.rim = s.rim, p.slab.hole = s.hole;
    for (const Polygon& o : s.openings)  // one that lies inside the loaded area, as in a core of walls, hides nothing
        if (near.overlaps(box_of(o)) && !lies_within(o, p.area.outline)) p.slab.openings.push_back(o);
    const Polygon region = spread_out(p.area.outline, reach);
    const Model& m = s.m;
    const SlabPatch* under = patch_at(m, p.area.centre);
    bool steps = false;
    for (const SlabPatch& t : m.slab.patches) steps |= t.thickness < p.thickness - 1e-9 && touch(region, t.outline);
    steps |= m.slab.thickness < p.thickness - 1e-9 && !(under && lies_within(region, anticlockwise(under->outline)));
    if (steps)
        p.slab.thinner = [&m, under, h = p.thickness](Point q) -> std::optional<SlabAround::Thinner> {
            const SlabPatch* there = patch_at(m, q);
            const double t = there ? there->thickness : m.slab.thickness;
            if (there == under || t >= h - 1e-9) return {};
            // distance from the step: the rim of the thin patch, or of the thick one that the area stands on
            double beyond = 1e300;
            if (there) beyond = distance_to_rim(there->outline, q);
            if (under && under->thickness >= h - 1e-9) beyond = std::min(beyond, distance_to_rim(under->outline, q));
            return SlabAround::Thinner{t, beyond};
        };
    p.courses = perimeter_courses(p.area, p.slab, reach);
    if (!p.courses[0].leaves_slab) p.slab.rim.clear(), p.slab.hole.reset();  // nobody asks again
}

PunchedArea area_of(const Column& c) {
    return {footprint(c), c.at, c.size[0], c.round() ? c.size[0] : c.size[1], c.round(), c.angle, {}, true};
}

// The hull of several areas, along the line through its furthest corners' box.
PunchedArea hull_of(const std::vector<Polygon>& parts) {
    std::vector<Point> all;
    for (const Polygon& p : parts) all.insert(all.end(), p.begin(), p.end());
    PunchedArea a;
    a.outline = convex_hull(std::move(all));
    a.one_column = false;
    // its own axes: those of the smallest box round it
    double least = 1e300;
    for (size_t i = 0; i < a.outline.size(); ++i) {
        const Point u = unit(a.outline[(i + 1) % a.outline.size()] - a.outline[i]), v = left_of(u);
        double u0 = 1e300, u1 = -1e300, v0 = 1e300, v1 = -1e300;
        for (Point q : a.outline) {
            u0 = std::min(u0, dot(q, u)), u1 = std::max(u1, dot(q, u));
            v0 = std::min(v0, dot(q, v)), v1 = std::max(v1, dot(q, v));
        }
        if (const double area = (u1 - u0) * (v1 - v0); area < least - 1e-9) {
            least = area;
            a.c1 = u1 - u0, a.c2 = v1 - v0, a.angle = std::atan2(u.y, u.x) * 180 / 3.14159265358979323846;
            a.centre = 0.5 * (u0 + u1) * u + 0.5 * (v0 + v1) * v;
        }
    }
    return a;
}

std::string carried_by(const std::string& rib) {
    return fmt::format(
        "It stands on rib {}, which carries it: what the slab beside the rib takes is not worked out as "
        "punching.",
        rib);
}

// Why the covers give no effective depth to check with, in a slab h m thick.
std::string why_no_depth(const PunchedSlab& s, double h) {
    for (Face f : {Face::bottom, Face::top}) {
        const double cover = f == Face::bottom ? s.m.steel.cover_bottom : s.m.steel.cover_top;
        if (!(cover > 0)) return fmt::format("The cover at the {} is nought: give it at Steel, in mm.", name_of(f));
        if (cover > 500 * h)
            return fmt::format(
                "The cover of {:g} mm at the {} is more than half of the {:g} mm of slab: give it in mm, or thicken "
                "the "
                "slab.",
                cover, name_of(f), 1000 * h);
    }
    const bool some = std::min(s.depth(h, Face::top), s.depth(h, Face::bottom)) > 0;
    return some ? "" : "The covers leave no effective depth; thicken the slab.";
}

// Why a column is not checked at all.
std::string why_not(const PunchedSlab& s, const Column& c) {
    const double h = thickness_at(s.m, c.at);
    if (std::string why = why_no_depth(s, h); !why.empty()) return why;
    const PunchedArea area = area_of(c);
    if (!stands_on_slab(s, area))
        return "It reaches over the slab's rim: move it in, or widen the slab, so that all of its footprint stands on "
               "it.";
    if (overlaps_opening(s, area.outline)) return "An opening lies under its footprint: move one of them.";
    if (const std::string* rib = s.rib_under(area.outline)) return carried_by(*rib);
    const SlabPatch* under = patch_at(s.m, c.at);
    for (const SlabPatch& t : s.m.slab.patches)
        if (t.thickness != h || &t == under)
            if (share_area(t.outline, area.outline) && !lies_within(area.outline, anticlockwise(t.outline)) &&
                (&t == under ? s.m.slab.thickness : t.thickness) != h)
                return fmt::format(
                    "Its footprint reaches over the edge of patch {}: make the patch larger than the column.", t.id);
    return "";
}

class Columns {
  public:
    explicit Columns(const PunchedSlab& s) : s_(s), m_(s.m) {
        std::vector<Box> boxes, wider;
        for (const Column& c : m_.columns) {
            footprints_.push_back(footprint(c));
            boxes.push_back(box_of(footprints_.back()));
            const double h = thickness_at(m_, c.at);
            const auto links = s.link_perimeters(c);
            reach_.push_back(links.empty() ? s.reach(h) : s.code.furthest_perimeter(s.depth(h), links.back()));
            const SlabPatch* step = thick_patch(c);
            steps_.push_back(step);
            on_step_.push_back(step ? hull_of({step->outline}).outline : footprints_.back());
            wider.push_back(box_of(on_step_.back()));
        }
        by_place_ = BoxBins(boxes), by_step_ = BoxBins(wider);
    }
    std::vector<PunchedItem> all() {
        const size_t n = m_.columns.size();
        std::vector<PunchedItem> items(n);
        for (size_t k = 0; k < n; ++k) items[k] = alone(int(k));
        find_groups(items);
        return items;
    }

  private:
    // The thicker patch that a column stands on, round which perimeters go once more.
    const SlabPatch* thick_patch(const Column& c) const {
        const SlabPatch* under = patch_at(m_, c.at);
        return under && under->thickness > m_.slab.thickness + 1e-9 ? under : nullptr;
    }
    PunchedItem alone(int k) const {
        const Column& c = m_.columns[size_t(k)];
        PunchedItem item{c.id, "Punching " + c.id, c.at, {k}, why_not(s_, c), {}};
        if (!item.refused.empty()) return item;
        PunchedPlace p;
        p.area = area_of(c);
        p.thickness = thickness_at(m_, c.at);
        if (const auto links = s_.link_perimeters(c); !links.empty()) p.links_end = links.back();
        // further off than the nearest neighbour's face perimeters go round both
        by_place_.over(box_of(p.area.outline).grown(reach_[size_t(k)]), [&](int o) {
            if (o != k) p.furthest = std::min(p.furthest, gap_between(p.area.outline, footprints_[size_t(o)]));
        });
        p.furthest = std::max(p.furthest, 1e-3);
        look_round(s_, p);
        if (steps_[size_t(k)]) item.places.push_back(beyond_step({on_step_[size_t(k)]}));
        item.places.push_back(std::move(p));
        return item;
    }
    PunchedPlace beyond_step(const std::vector<Polygon>& parts) const {
        PunchedPlace step;
        step.governs = "step", step.has_face = false;
        step.area = hull_of(parts);
        step.thickness = m_.slab.thickness;
        look_round(s_, step);
        return step;
    }
    // Pairs whose perimeters meet, and all together that stand nearer to each other than perimeters reach.
    void find_groups(std::vector<PunchedItem>& items) const {
        const int n = int(m_.columns.size());
        const double furthest = *std::max_element(reach_.begin(), reach_.end());
        std::vector<int> joined(static_cast<size_t>(n));
        std::iota(joined.begin(), joined.end(), 0);
        auto root = [&](int i) {
            while (joined[size_t(i)] != i) i = joined[size_t(i)];
            return i;
        };
        for (int k = 0; k < n; ++k) {
            const double mine = reach_[size_t(k)];
            const double far = mine + furthest;
            by_step_.over(box_of(on_step_[size_t(k)]).grown(far), [&](int o) {
                if (o <= k) return;
                const double gap = gap_between(footprints_[size_t(k)], footprints_[size_t(o)]);
                const bool beside = gap <= mine + reach_[size_t(o)];
                const bool steps_meet =
                    (steps_[size_t(k)] || steps_[size_t(o)]) && steps_[size_t(k)] != steps_[size_t(o)] &&
                    gap_between(on_step_[size_t(k)], on_step_[size_t(o)]) <= 2 * s_.reach(m_.slab.thickness);
                if (!beside && !steps_meet) return;
                items.push_back(together({k, o}, beside, steps_meet));
                if (gap <= std::min(mine, reach_[size_t(o)])) joined[size_t(root(o))] = root(k);
            });
        }
        std::map<int, std::vector<int>> groups;
        for (int k = 0; k < n; ++k) groups[root(k)].push_back(k);
        for (auto& [first, members] : groups)
            if (members.size() > 2) items.push_back(together(std::move(members), true, false));
    }
    PunchedItem together(std::vector<int> members, bool beside, bool steps_meet) const {
        std::string id;
        std::vector<Polygon> parts, with_steps;
        double h = 1e300, links_end = 0;
        PunchedItem item;
        for (int k : members) {
            const Column& c = m_.columns[size_t(k)];
            id += (id.empty() ? "" : "+") + c.id;
            parts.push_back(footprints_[size_t(k)]), with_steps.push_back(on_step_[size_t(k)]);
            h = std::min(h, thickness_at(m_, c.at));
            if (const auto links = s_.link_perimeters(c); !links.empty()) links_end = std::max(links_end, links.back());
            if (item.refused.empty()) item.refused = why_not(s_, c);
        }
        item.title = "Punching " +
                     (members.size() > 4 ? fmt::format("{} to {}, {} columns", m_.columns[size_t(members[0])].id,
                                                       m_.columns[size_t(members.back())].id, members.size())
                                         : id) +
                     " together";
        item.id = id, item.columns = std::move(members);
        PunchedPlace p;
        p.area = hull_of(parts);
        p.thickness = h, p.has_face = false, p.links_end = links_end;
        item.at = p.area.centre;
        if (item.refused.empty() && (overlaps_opening(s_, p.area.outline) || !stands_on_slab(s_, p.area)))
            item.refused = "The slab between them is not whole: what acts together there is not worked out.";
        if (!item.refused.empty()) return item;
        if (steps_meet) item.places.push_back(beyond_step(with_steps));
        if (beside) {
            look_round(s_, p);
            item.places.push_back(std::move(p));
        }
        return item;
    }

    const PunchedSlab& s_;
    const Model& m_;
    std::vector<Polygon> footprints_, on_step_;
    std::vector<const SlabPatch*> steps_;
    std::vector<double> reach_;
    BoxBins by_place_, by_step_;
};

class Walls {
  public:
    explicit Walls(const PunchedSlab& s) : s_(s), m_(s.m) {
        for (size_t w = 0; w < m_.walls.size(); ++w) {
            const Wall& wall = m_.walls[w];
            for (size_t i = 0; i + 1 < wall.path.size(); ++i)
                if (distance(wall.path[i], wall.path[i + 1]) > 1e-6)
                    pieces_.push_back({int(w), wall.path[i], wall.path[i + 1], wall.thickness, body_of(wall, i)});
        }
    }
    std::vector<PunchedItem> all() {
        for (const Wall& w : m_.walls)
            items_.push_back({w.id, "Punching at wall " + w.id, w.path.empty() ? Point{} : w.path[0], {}, "", {}});
        for (size_t i = 0; i < pieces_.size(); ++i)
            for (bool first : {true, false}) look_at_end(i, first);
        wholes();
        return std::move(items_);
    }

  private:
    struct Piece {
        int wall;
        Point a, b;
        double thickness;
        Polygon body;
        double length() const { return distance(a, b); }
    };
    bool at_one_place(Point p, Point q, const Piece& r) const { return distance(p, q) < 0.75 * r.thickness; }
    double depth(Point at) const { return std::max(1e-3, s_.depth(thickness_at(m_, at))); }
    Polygon leg(const Piece& r, Point node, Point along, double l, double back) const {
        const Point n = 0.5 * r.thickness * left_of(along), from = node - back * along, to = node + l * along;
        return anticlockwise({from - n, to - n, to + n, from + n});
    }
    void look_at_end(size_t i, bool first) {
        const Piece& r = pieces_[i];
        const Point node = first ? r.a : r.b, along = unit(first ? r.b - r.a : r.a - r.b);
        std::vector<std::pair<size_t, Point>> others;  // that begin here too, and their ways
        for (size_t j = 0; j < pieces_.size(); ++j) {
            if (j == i) continue;
            const Piece& o = pieces_[j];
            if (at_one_place(node, o.a, o))
                others.push_back({j, unit(o.b - o.a)});
            else if (at_one_place(node, o.b, o))
                others.push_back({j, unit(o.a - o.b)});
            else if (contains(o.body, node))
                return;  // it ends against the side of another wall
        }
        if (others.size() > 1) return;  // several meet: no end and no corner
        const double d = depth(node), l = s_.code.length_at_wall_end(r.thickness, r.length(), d);
        PunchedPlace p;
        p.has_face = false;
        p.thickness = thickness_at(m_, node);
        if (others.empty()) {
            p.area = hull_of({leg(r, node, along, l, 0)});
            p.area.kept = {{node + l * along, -1.0 * along}};
            p.what = fmt::format("its end at ({:.2f}, {:.2f})", node.x, node.y);
        } else {
            if (others[0].first < i) return;  // a corner belongs to the first of its walls
            const Piece& o = pieces_[others[0].first];
            const Point way = others[0].second;
            if (std::abs(dot(along, way)) > 0.94) return;  // it goes straight on
            const double lo = s_.code.length_at_wall_end(o.thickness, o.length(), d);
            p.area = hull_of({leg(r, node, along, l, o.thickness / 2), leg(o, node, way, lo, r.thickness / 2)});
            p.area.kept = {{node + l * along, -1.0 * along}, {node + lo * way, -1.0 * way}};
            p.what = fmt::format("its corner at ({:.2f}, {:.2f})", node.x, node.y);
        }
        p.area.centre = centroid(p.area.outline);
        take(r.wall, std::move(p));
    }
    void take(int wall, PunchedPlace p) {
        PunchedItem& item = items_[size_t(wall)];
        if (!item.refused.empty()) return;
        if (item.refused = why_no_depth(s_, p.thickness); !item.refused.empty()) return;
        if (!stands_on_slab(s_, p.area))
            item.refused =
                "It reaches over the slab's rim or a re-entrant corner: what is left there is not worked out.";
        else if (const std::string* rib = s_.rib_under(p.area.outline); rib && p.area.kept.size() > 0)
            item.refused = carried_by(*rib);
        else if (rib && std::all_of(pieces_.begin(), pieces_.end(),
                                    [&](const Piece& r) { return r.wall != wall || s_.rib_under(r.body); }))
            item.refused = carried_by(*rib);
        if (!item.refused.empty()) return;
        look_round(s_, p);
        item.places.push_back(std::move(p));
    }
    // Walls that touch one another as one loaded area.
    void wholes() {
        std::vector<int> joined(m_.walls.size());
        std::iota(joined.begin(), joined.end(), 0);
        auto root = [&](int i) {
            while (joined[size_t(i)] != i) i = joined[size_t(i)];
            return i;
        };
        for (size_t i = 0; i < pieces_.size(); ++i)
            for (size_t j = i + 1; j < pieces_.size(); ++j)
                if (touch(pieces_[i].body, pieces_[j].body))
                    joined[size_t(root(pieces_[j].wall))] = root(pieces_[i].wall);
        std::map<int, std::vector<Polygon>> bodies;
        std::map<int, std::vector<int>> members;
        for (const Piece& p : pieces_) bodies[root(p.wall)].push_back(p.body);
        for (int w = 0; w < int(m_.walls.size()); ++w) members[root(w)].push_back(w);
        for (auto& [first, parts] : bodies) {
            PunchedPlace p;
            p.has_face = false;
            p.area = hull_of(parts);
            p.thickness = 1e300;
            for (Point q : p.area.outline) p.thickness = std::min(p.thickness, thickness_at(m_, q));
            p.what = "round the whole of it";
            if (members[first].size() == 1) {
                take(first, std::move(p));
                continue;
            }
            PunchedItem together;
            for (int w : members[first]) together.id += (together.id.empty() ? "" : "+") + m_.walls[size_t(w)].id;
            together.title = "Punching " + together.id + " together";
            together.at = p.area.centre;
            items_.push_back(std::move(together));
            take(int(items_.size()) - 1, std::move(p));
        }
        // A wall whose both ends run into others has nothing of its own.
        std::erase_if(items_, [](const PunchedItem& i) { return i.places.empty() && i.refused.empty(); });
    }

    const PunchedSlab& s_;
    const Model& m_;
    std::vector<Piece> pieces_;
    std::vector<PunchedItem> items_;
};

}  // namespace

std::vector<PunchedItem> punched_columns(const PunchedSlab& s) {
    return s.m.columns.empty() ? std::vector<PunchedItem>{} : Columns(s).all();
}
std::vector<PunchedItem> punched_walls(const PunchedSlab& s) { return Walls(s).all(); }

PunchedItem punched_point(const PunchedSlab& s, Point at, std::string id, std::string title) {
    constexpr double small = 0.002;  // m across: it is not known what it stands on
    PunchedItem item{std::move(id), std::move(title), at, {}, "", {}};
    PunchedPlace p;
    p.area = {round_polygon(at, small / 2, 16), at, small, small, true, 0, {}, true};
    p.thickness = thickness_at(s.m, at), p.has_face = false, p.no_size = true;
    item.refused = why_no_depth(s, p.thickness);
    if (item.refused.empty() && !on_slab(s.m, at)) item.refused = "It does not stand on the slab.";
    if (item.refused.empty()) {
        look_round(s, p);
        item.places.push_back(std::move(p));
    }
    return item;
}

}  // namespace mossbed
