// What the model holds, on the plan: patches, openings, ribs, walls, columns, boreholes.
#include "core/base/paths.h"
#include "core/model/levels.h"
#include "drawing/ground_parts.h"
#include "drawing/plan_parts.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

// Under the thing itself, so that it shows as a rim round it: chosen things have one look, whatever they are.
void mark_chosen(PlanDraft& d, Path outline, double wider) {
    outline.fill = {};
    outline.stroke = {Role::moss, wider + 9, Dash::solid, outline.stroke.true_width};
    d.drawing.add(Layer::chosen, outline);
    outline.stroke.tone = Role::sheet, outline.stroke.width = wider + 4;
    d.drawing.add(Layer::chosen, std::move(outline));
}

void draw_outline(PlanDraft& d, Layer layer, ThingKind kind, const std::string& id, Path path) {
    if (d.is_chosen(kind, id)) mark_chosen(d, path, 0);
    d.drawing.add(layer, std::move(path)).thing = Thing{kind, id};
}

// Within the foot of an area, as far along as it reaches or a little further, within its head, below it.
void write_name(PlanDraft& d, const Box& area, const std::string& text) {
    Text t;
    t.at = area.low, t.text = text, t.halo = true;
    const double up = d.view.scale * area.height(),
                 last = d.view.scale * area.width() - d.labels.box_of(t).width() + 40;
    std::vector<Point> places;
    for (double y : {9.0, up - 9})
        for (double x = 4; x == 4 || x < last; x += 10) places.push_back({x, y});
    for (double x : {4.0, 64.0}) places.push_back({x, -9});
    d.labels.write(Layer::names, std::move(t), places);
}

// The levels of its faces that lie off the slab's.
std::string steps_of(const Model& m, const SlabPatch& t) {
    const Levels slab = slab_levels(m, nullptr), own = slab_levels(m, &t);
    std::string text;
    if (std::abs(own.high - slab.high) > 5e-4) text += ", top " + typeset(written(own.high, 2));
    if (std::abs(own.low - slab.low) > 5e-4) text += ", underside " + typeset(written(own.low, 2));
    return text;
}

}  // namespace

void draw_patches(PlanDraft& d) {
    for (const SlabPatch& t : d.model.slab.patches) {
        if (t.outline.empty()) continue;
        draw_outline(d, Layer::patches, ThingKind::patch, t.id, closed(t.outline, {Role::ink, 1.1, Dash::dashed}));
    }
    if (!d.scene.boreholes) return;
    const bool act = d.model.ground.model == GroundModel::patches;
    for (const GroundPatch& g : d.model.ground.patches) {
        if (g.outline.empty()) continue;
        draw_outline(d, Layer::ground, ThingKind::ground_patch, g.id,
                     closed(g.outline, {act ? Role::water : Role::faint, 1.2, Dash::dash_dotted}));
    }
}

void write_names_of_patches(PlanDraft& d) {
    for (const SlabPatch& t : d.model.slab.patches)
        if (!t.outline.empty())
            write_name(
                d, box_of(t.outline),
                t.id + " " + written(t.thickness, 2) + " m" + (d.scene.load_case.empty() ? steps_of(d.model, t) : ""));
    if (!d.scene.boreholes) return;
    const bool act = d.model.ground.model == GroundModel::patches;
    for (const GroundPatch& g : d.model.ground.patches)
        if (!g.outline.empty())
            write_name(d, box_of(g.outline),
                       g.id + " " + typeset(written(g.modulus, 0)) + " kN/m³" + (act ? "" : ", does not act"));
}

void draw_openings(PlanDraft& d) {
    for (const Opening& o : d.model.slab.openings) {
        draw_outline(d, Layer::openings, ThingKind::opening, o.id,
                     closed(o.outline, {Role::ink, 1.4}, {Role::sheet, {}, {}}));
        const size_t n = o.outline.size();
        for (size_t i = 0; i + 2 < n; ++i)
            d.drawing.add(Layer::openings, open({o.outline[i], o.outline[(i + 2) % n]}, {Role::faint, 0.8}));
    }
}

// The sides of all cells as hairlines, where they stand far enough apart to be told from each other.
void draw_mesh(PlanDraft& d) {
    if (!d.scene.answer) return;
    const Mesh& mesh = d.scene.answer->mesh;
    constexpr double apart = 3;  // paper units
    if (mesh.size * d.view.scale < apart) return;
    Rings sides;
    for (const Element& e : mesh.elements)
        for (int k = 0, n = corners(e); k < n; ++k) {
            const int a = e[size_t(k)], b = e[size_t((k + 1) % n)];
            if (a < b) sides.push_back({mesh.nodes[size_t(a)], mesh.nodes[size_t(b)]});
        }
    for (const auto& rim : mesh.rims)  // of a side at a rim only one cell knows
        for (size_t i = 0; i < rim.size(); ++i)
            sides.push_back({mesh.nodes[size_t(rim[i])], mesh.nodes[size_t(rim[(i + 1) % rim.size()])]});
    // A dark line on a pale one: it is read on any colour of the map.
    Path all{rings_of(std::move(sides)), false, {}, 0, {Tone(Role::sheet, 120), 1.6}, {}};
    d.drawing.add(Layer::map, all);
    all.stroke = {Tone(Role::ink, 150), 0.6};
    d.drawing.add(Layer::map, std::move(all));
}

void mark_worst_cell(PlanDraft& d) {
    if (!d.scene.answer || d.scene.answer->coarse) return;
    const Mesh& mesh = d.scene.answer->mesh;
    const MeshQuality& q = d.scene.answer->quality;
    if (q.worst_cell < 0) return;
    const Polygon worst = mesh.polygon(q.worst_cell);
    d.drawing.add(Layer::over_limit, closed(worst, {Role::ochre, 2.4}));
    d.drawing.add(Layer::over_limit, Disc{centroid(worst), {}, 11, {Role::ochre, 1.6}, {}});
    Text t;
    t.at = centroid(worst), t.text = "worst cell " + written(q.worst_shape, 2), t.halo = true;
    d.labels.write(Layer::names, std::move(t), {{14, 10}, {-14, 10}, {14, -10}, {-14, -10}});
}

namespace {

// The edges of a rib, mitred: one ring, or an outer and an inner one where its path is closed.
std::vector<Polygon> edges_of(const Rib& r) {
    const std::vector<Polygon> bodies = bodies_along(r.path, r.width);
    if (bodies.empty()) return {};
    Polygon left{bodies[0][3]}, right{bodies[0][0]};
    for (const Polygon& b : bodies) left.push_back(b[2]), right.push_back(b[1]);
    if (distance(r.path.front(), r.path.back()) < 1e-6 && r.path.size() > 3) {
        left.pop_back(), right.pop_back();
        return {left, right};
    }
    left.insert(left.end(), right.rbegin(), right.rend());
    return {left};
}

}  // namespace

// Dashed where it hangs below the slab and is hidden, with its axis.
void draw_ribs(PlanDraft& d) {
    for (const Rib& r : d.model.ribs) {
        const Dash dash = r.flush == Flush::bottom ? Dash::solid : Dash::dashed;
        for (Polygon& edge : edges_of(r)) {
            if (!d.is_chosen(ThingKind::rib, r.id))  // a rim of paper, so that it shows on a dark map
                d.drawing.add(Layer::ribs, closed(edge, {Tone(Role::sheet, 170), 3.2}));
            draw_outline(d, Layer::ribs, ThingKind::rib, r.id, closed(std::move(edge), {Role::ink, 1.3, dash}));
        }
        Mark& axis = d.drawing.add(Layer::ribs, open(r.path, {Role::faint, 0.7, Dash::dash_dotted}));
        axis.thing = Thing{ThingKind::rib, r.id}, axis.reach = std::max(4.0, d.view.scale * r.width / 2);
    }
}

void write_names_of_ribs(PlanDraft& d) {
    for (const Rib& r : d.model.ribs) {
        const bool is_chosen = d.is_chosen(ThingKind::rib, r.id);
        if (r.path.size() < 2 || (d.view.scale <= 13 && !is_chosen)) continue;
        const size_t longest = longest_piece(r.path);
        const Point a = r.path[longest], b = r.path[longest + 1];
        Text t;
        t.halo = true, t.bold = is_chosen;
        t.text = r.id + " " + written(r.width, 2) + " × " + written(r.depth, 2) + " m";
        const Point along = unit(b - a), across = left_of(along);
        const Box room = d.labels.box_of(t);
        const double l = d.view.scale * distance(a, b),
                     off = (d.view.scale * r.width + std::abs(across.x) * room.width() +
                            std::abs(across.y) * room.height()) /
                               2 +
                           2;
        t.at = a + 0.3 * (b - a);
        std::vector<Point> places;  // beside it, near its first third or further on
        for (double further : {0.0, 0.2, 0.4})
            for (double side : {-off, off}) places.push_back(side * across + (further * l) * along);
        d.labels.write_if_free(Layer::names, std::move(t), places);
    }
}

void draw_walls(PlanDraft& d) {
    for (const Wall& w : d.model.walls) {
        if (!d.is_chosen(ThingKind::wall, w.id))  // a rim of paper, so that it shows on a dark map
            d.drawing.add(Layer::walls, open(w.path, {Role::sheet, 2.1, Dash::solid, w.thickness}));
        draw_outline(d, Layer::walls, ThingKind::wall, w.id, open(w.path, {Role::ink, 2, Dash::solid, w.thickness}));
    }
}

void draw_columns(PlanDraft& d) {
    for (const Column& k : d.model.columns) {
        // In section: solid while it is small, hatched where it can be seen.
        const bool is_large = k.smaller_size() * d.view.scale > 16;
        Path shape = is_large ? closed(footprint(k), {Role::ink, 1.6}, {Role::white, Pattern::slanted, Role::ink})
                              : closed(footprint(k), {Role::sheet, 1}, {Role::ink, {}, {}});
        if (d.is_chosen(ThingKind::column, k.id)) mark_chosen(d, shape, 1);
        d.drawing.add(Layer::columns, std::move(shape)).thing = Thing{ThingKind::column, k.id};
    }
}

void write_names_of_columns(PlanDraft& d) {
    for (const Column& k : d.model.columns) {
        const bool chosen = d.is_chosen(ThingKind::column, k.id);
        if (d.view.scale <= 13 && !chosen) continue;
        Box b;
        for (Point q : footprint(k)) b.add(q);
        Text t;
        t.at = k.at, t.text = k.id, t.bold = chosen, t.halo = true;
        const double beside = d.view.scale * b.width() / 2 + (chosen ? 8 : 3),
                     above = d.view.scale * b.height() / 2 + (chosen ? 9 : 5);
        d.labels.write(Layer::names, std::move(t),
                       {{beside, above}, {-beside, above}, {beside, -above}, {-beside, -above}});
    }
}

// A ring where it stands, its log beside it, to one scale for all.
void draw_boreholes(PlanDraft& d) {
    const Ground& g = d.model.ground;
    double deepest = 1;
    for (const Borehole& b : g.boreholes)
        if (!b.layers.empty()) deepest = std::max(deepest, ground_level_of(d.model, b) - b.layers.back().bottom);
    for (const Borehole& b : g.boreholes) {
        const bool held = d.is_chosen(ThingKind::borehole, b.id);
        const Stroke line{held ? Role::moss : Role::ink, held ? 2.4 : 1.4};
        Mark& ring = d.drawing.add(Layer::boreholes, Disc{b.at, {}, 6, line, {Role::white, {}, {}}});
        ring.thing = Thing{ThingKind::borehole, b.id}, ring.reach = 6;
        d.drawing.add(Layer::boreholes, stroke_at(b.at, {-9, 0}, {9, 0}, line));
        d.drawing.add(Layer::boreholes, stroke_at(b.at, {0, -9}, {0, 9}, line));
        const double height = 64;
        const Point at = d.view.at(b.at);
        auto log_from = [&](double left) {
            Box log;
            log.add({at.x + left, at.y - height / 2}), log.add({at.x + left + 11, at.y + height / 2});
            return log;
        };
        const double left = d.labels.is_free(log_from(13)) ? 13 : -24;  // on the side where nothing stands
        double above = ground_level_of(d.model, b), y = height / 2;
        for (const BoreholeLayer& l : b.layers) {
            const double h = std::max(0.0, above - l.bottom) / deepest * height;
            d.drawing.add(Layer::boreholes, symbol(b.at, box_on_paper(left, y - h, left + 11, y), {Role::ink, 0.7},
                                                   soil_fill(stratum_index(g, l.stratum))));
            y -= h, above = l.bottom;
        }
        Text name;
        name.at = b.at, name.text = b.id, name.tone = line.tone, name.halo = true;
        d.labels.write(Layer::boreholes, std::move(name), {{0, 18}, {0, -18}});
        d.labels.keep_clear(log_from(left));
    }
    for (const auto& [id, where] : d.scene.coming) {
        d.drawing.add(Layer::boreholes, Disc{where, {}, 8, {Role::ochre, 1.8, Dash::dashed}, {}});
        Text name;
        name.at = where, name.text = id, name.halo = true;
        d.labels.write(Layer::boreholes, std::move(name), {{11, 0}, {-11, 0}});
    }
    if (!d.scene.pin) return;
    d.drawing.add(Layer::notes, stroke_at(*d.scene.pin, {0, 0}, {0, 18}, {Role::sheet, 4}));
    d.drawing.add(Layer::notes, stroke_at(*d.scene.pin, {0, 0}, {0, 18}, {Role::moss, 1.8}));
    d.drawing.add(Layer::notes, Disc{*d.scene.pin, {0, 20}, 5, {Role::moss, 1.8}, {Role::moss, {}, {}}});
}

// Of a table or a drawing that is looked at before it is taken.
void draw_coming(PlanDraft& d) {
    if (!d.scene.coming_lines.empty()) {
        Path path;
        path.rings = rings_of(Rings(d.scene.coming_lines)), path.closed = false, path.stroke = {Role::ochre, 1.4};
        d.drawing.add(Layer::notes, std::move(path));
    }
    if (const auto& m = d.scene.coming_moment) {
        const double length = 46, head = 9;
        const Point tip = length * m->towards, side = left_of(m->towards);
        const Stroke arrow{Role::rust, 2.2};
        d.drawing.add(Layer::notes, stroke_at(m->at, {0, 0}, tip, {Role::sheet, 5}));
        d.drawing.add(Layer::notes, stroke_at(m->at, {0, 0}, tip, arrow));
        for (double s : {1.0, -1.0})
            d.drawing.add(Layer::notes,
                          stroke_at(m->at, tip, tip - head * m->towards + (s * 0.5 * head) * side, arrow));
        Text t;
        t.at = m->at, t.text = m->words, t.tone = Role::rust, t.halo = true;
        d.labels.write(Layer::notes, std::move(t),
                       {tip + 12 * m->towards, tip + 16 * side, tip - 16 * side, tip + 30 * m->towards});
    }
    for (const auto& [id, at] : d.scene.coming_names) {
        Text name;
        name.at = at, name.text = id, name.halo = true;
        d.labels.write(Layer::notes, std::move(name), {{9, 9}, {-9, 9}, {9, -9}, {-9, -9}});
    }
}

}  // namespace mossbed
