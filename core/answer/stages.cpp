#include "core/answer/stages.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/both.h"
#include "core/contact/near_inverse.h"
#include "core/validate/validate.h"

namespace mossbed {
namespace {

template <class T>
void clear_keys(std::vector<T>& list) {
    for (T& t : list) t.keys.clear();
}

// Nobody but the judges, the file and the screen reads these.
void clear_of_judges(Model& m) {
    const Model none;
    m.title.clear(), m.notes = none.notes, m.settings = none.settings, m.steels = none.steels, m.steel = none.steel,
                     m.checks = none.checks, m.keys.clear(), m.mesh_keys.clear(), m.slab.keys.clear(),
                     m.ground.keys.clear(), m.loads.keys.clear();
    m.ground.allowable_pressure = none.ground.allowable_pressure;
    m.ground.friction_angle_base = none.ground.friction_angle_base;
    m.ground.adhesion_base = none.ground.adhesion_base;
    m.ground.years = none.ground.years;
    for (Concrete& c : m.concretes) c.fck = none.concretes[0].fck, c.keys.clear();
    clear_keys(m.columns), clear_keys(m.walls), clear_keys(m.ribs), clear_keys(m.slab.openings),
        clear_keys(m.slab.patches);
    clear_keys(m.ground.patches);
}

bool from_strata(const Model& m) {
    return m.ground.model == GroundModel::profile || m.ground.model == GroundModel::coupled;
}

bool same(Model (*read)(Model), const Earlier& earlier, const Model& now) {
    return earlier.model && read(*earlier.model) == read(now);
}

}  // namespace

Model read_by_mesh(Model m) {
    const Model none;
    clear_of_judges(m);
    m.loads = none.loads, m.concretes = none.concretes, m.piles.clear();
    for (Wall& w : m.walls) w = Wall{.id = {}, .path = std::move(w.path), .keys = {}};
    for (Rib& r : m.ribs) r = Rib{.id = {}, .path = std::move(r.path), .concrete = {}, .keys = {}};
    if (m.ground.model == GroundModel::patches) {
        auto patches = std::move(m.ground.patches);
        for (GroundPatch& p : patches) p.modulus = 0;
        m.ground = none.ground;
        m.ground.model = GroundModel::patches, m.ground.patches = std::move(patches);
    } else {
        m.ground = none.ground;
    }
    m.slab.thickness = m.slab.top_level = m.slab.stiffness_factor = 1;
    m.slab.concrete.clear(), m.slab.self_weight = true;
    for (SlabPatch& p : m.slab.patches) p.thickness = 1, p.flush = Flush::top, p.concrete.clear();
    for (Column& c : m.columns) c.pedestal_height = 0, c.stiff_footprint = true;
    return m;
}

Model read_by_stiffness(Model m) {
    const Model none;
    clear_of_judges(m);
    m.loads = none.loads, m.piles.clear(), m.ground = none.ground;
    m.slab.self_weight = true;
    for (Concrete& c : m.concretes) c.unit_weight = 0;
    return m;
}

Model read_by_loading(Model m) {
    const Model none;
    clear_of_judges(m);
    m.ground = none.ground, m.loads.combinations.reset(), m.piles.clear();
    for (Concrete& c : m.concretes) c.E = c.nu = 0;
    m.slab.stiffness_factor = 1;
    return m;
}

Model read_by_ground(Model m) {
    const Model none;
    clear_of_judges(m);
    m.loads = none.loads, m.walls.clear(), m.ribs.clear();
    return m;
}

std::shared_ptr<const Meshed> make_mesh(const Model& m, const MeshOptions& options, const Earlier& earlier,
                                        const Progress& progress) {
    if (earlier.model && earlier.stages.meshed->options == options && same(read_by_mesh, earlier, m))
        return earlier.stages.meshed;
    Mesh mesh = build_mesh(m, options.size, progress, options.footprints);
    progress.end_if_stopped();
    return std::make_shared<const Meshed>(options, std::move(mesh));
}

namespace {

std::shared_ptr<const Loading> make_loading(const Model& m, const std::shared_ptr<const Meshed>& meshed,
                                            const Unknowns& of, const Earlier& earlier) {
    if (earlier.stages.meshed == meshed && earlier.stages.stiffness->plate.of == of &&
        same(read_by_loading, earlier, m))
        return earlier.stages.loading;
    auto l = std::make_shared<Loading>();
    const Mesh& mesh = meshed->mesh;
    l->cases = case_loads(m, mesh, meshed->finder, l->problems);
    l->nodal = nodal_loads(of, mesh, l->cases);
    for (size_t i = 0; i < l->cases.size(); ++i) {
        CaseLoads& c = l->cases[i];
        c.on_slab = resultant_of(of, l->nodal.col(long(i)), mesh.nodes);
        l->totals.push_back({m.loads.cases[i].id, c.on_slab, c.self_weight, c.uplift, c.Hx, c.Hy});
    }
    return l;
}

// The combination whose mean contact pressure sets springs and depth limit: the stated one, else the quasi-permanent,
// else the service combination, else any, with the largest downward force.
std::pair<std::string, double> find_combination_for_springs(const Model& model, const std::vector<CaseTotal>& cases) {
    auto force = [&](const Combination& c) {
        double F = 0;
        for (const CaseTotal& k : cases)
            if (auto it = c.factors.find(k.id); it != c.factors.end()) F += it->second * k.on_slab.Fz;
        return F;
    };
    const std::vector<Combination> all = model.loads.combinations.value_or(std::vector<Combination>{});
    if (const auto& stated = model.ground.combination_for_springs) {
        const Combination* c = find_id(all, *stated);
        return {*stated, c ? force(*c) : 0};
    }
    auto best_of = [&](auto fits) {
        std::pair<std::string, double> best{"", 0};
        for (const Combination& c : all)
            if (c.active && fits(c) && force(c) > best.second) best = {c.id, force(c)};
        return best;
    };
    auto best = best_of([](const Combination& c) { return c.frequency == Frequency::quasi_permanent; });
    if (best.first.empty()) best = best_of([](const Combination& c) { return c.purpose == Purpose::service; });
    if (best.first.empty()) best = best_of([](const Combination&) { return true; });
    return best;
}

// The base by its corners: the outer rim first, openings clockwise.
std::vector<Polygon> outlines_of(const Mesh& mesh) {
    std::vector<Polygon> base;
    for (const auto& chain : mesh.rims) {
        Polygon p;
        for (size_t k = 0; k < chain.size(); ++k) {
            const Point at = mesh.nodes[size_t(chain[k])],
                        from = mesh.nodes[size_t(chain[(k + chain.size() - 1) % chain.size()])],
                        to = mesh.nodes[size_t(chain[(k + 1) % chain.size()])];
            if (std::abs(cross(at - from, to - at)) > 1e-9 * distance(from, to)) p.push_back(at);
        }
        p = anticlockwise(p);
        if (!base.empty()) std::reverse(p.begin(), p.end());
        base.push_back(std::move(p));
    }
    return base;
}

Problem no_pressure(const std::string& combination, double force) {
    return {combination.empty()
                ? "no combination presses downward, so that no springs follow from the strata"
                : fmt::format("combination {} for the springs presses with {:.0f} kN", combination, force),
            "ground.combination_for_springs",
            "name a combination whose loads press the slab down",
            Severity::error,
            {}};
}

Problem borings_too_short(const DepthLimit& limit, double pressure, double ratio) {
    return {fmt::format("the borings stop at {:.1f} m, {:.1f} m short of the depth where {:.0f} kPa on the base no "
                        "longer counts ({:.0f} % of the overburden); nothing below them settles here",
                        limit.level, limit.short_by, pressure, 100 * ratio),
            "ground.boreholes",
            "bore deeper, or give ground.rigid_base_level if the ground below is known to be hard",
            Severity::warning,
            {}};
}

// A load spreads through the slab on its way down: only below columns on a thin one does pressure change fast.
// A rough answer is only where another begins, however many columns a coarse mesh has to have nodes at.
PatchSizes sizes_of_patches(const Model& m, bool rough) {
    constexpr double thin = 0.35;  // m
    PatchSizes sizes;
    if (rough) sizes.most = 1500;
    for (const Column& c : m.columns) sizes.fine_at_column.push_back(thickness_at(m, c.at) < thin);
    return sizes;
}

std::shared_ptr<const Subsoil> look_at_ground(const std::shared_ptr<const Model>& model,
                                              const std::shared_ptr<const Meshed>& meshed, const Loading& loading,
                                              bool rough, const Earlier& earlier, const Progress& progress) {
    const Model& m = *model;
    const auto [id, force] = find_combination_for_springs(m, loading.totals);
    const std::vector<Polygon> base = outlines_of(meshed->mesh);
    double area = 0;
    for (const Polygon& p : base) area += signed_area(p);
    const double pressure = force / area;
    if (earlier.model && earlier.stages.subsoil->combination == id && earlier.stages.subsoil->pressure == pressure &&
        earlier.stages.meshed == meshed && same(read_by_ground, earlier, m))
        return earlier.stages.subsoil;
    auto s = std::make_shared<Subsoil>();
    s->combination = id, s->pressure = pressure;
    if (boreholes_that_count(m.ground).empty() || has_errors(problems_of_strata(m))) return s;
    if (!(pressure > 0)) {
        if (from_strata(m)) s->no_springs = no_pressure(id, force);
        return s;
    }
    GroundAnswer g;
    auto layers = std::make_shared<LayeredGround>(model, base, meshed->mesh.nodes);
    layers->find_limit(pressure);
    g.layers = layers;
    const DepthLimit& limit = layers->limit();
    if (limit.by == DepthLimit::By::deepest_borehole && from_strata(m))
        s->problems.push_back(borings_too_short(limit, pressure, m.ground.depth_limit_ratio));
    const PatchSizes sizes = sizes_of_patches(m, rough);
    if (earlier.model && earlier.stages.meshed == meshed && earlier.stages.subsoil->ground &&
        sizes_of_patches(*earlier.model, rough) == sizes)
        g.patches = earlier.stages.subsoil->ground->patches;
    else
        g.patches =
            std::make_shared<const ContactPatches>(make_contact_patches(meshed->mesh, meshed->shares, sizes, progress));
    if (m.ground.excavation_relief)
        for (Point p : g.patches->centre) g.removed.push_back(layers->removed_effective(p));
    s->ground = std::move(g);
    return s;
}

}  // namespace

void make_plate_and_loads(const std::shared_ptr<const Model>& model, bool rough, Stages& made, const Earlier& earlier,
                          const Progress& progress) {
    const Model& m = *model;
    std::shared_ptr<Stiffness> anew;
    if (earlier.stages.meshed == made.meshed && same(read_by_stiffness, earlier, m)) {
        made.stiffness = earlier.stages.stiffness;
    } else {
        made.stiffness = anew = std::make_shared<Stiffness>();
        anew->plate = make_plate(m, made.meshed->mesh);
    }
    both(
        [&] {
            if (!anew) return;
            const Mesh& mesh = made.meshed->mesh;
            const Supported* before = earlier.stages.supported.get();
            both([&] { anew->slots = make_slots(anew->plate, mesh, progress); },
                 [&] {
                     anew->matrix = assemble(anew->plate, mesh, progress);
                     if (m.ground.model == GroundModel::coupled) return;
                     if (!(before && before->factor && before->factor->has_pattern_of(anew->matrix)))
                         anew->analysed.emplace(anew->matrix, mesh.nodes, progress);
                 });
        },
        [&] {
            made.loading = make_loading(m, made.meshed, made.stiffness->plate.of, earlier);
            made.subsoil = look_at_ground(model, made.meshed, *made.loading, rough, earlier, progress);
        });
}

bool has_same_supports(const Model& m, const Stages& made, const Earlier& earlier) {
    return earlier.stages.stiffness == made.stiffness && (!from_strata(m) || earlier.stages.subsoil == made.subsoil) &&
           same(read_by_ground, earlier, m);
}

std::shared_ptr<const Supported> make_supports(const Model& m, const Stages& made, const Earlier& earlier,
                                               const Progress& progress) {
    if (earlier.stages.supported && has_same_supports(m, made, earlier)) return earlier.stages.supported;
    auto s = std::make_shared<Supported>();
    const Unknowns& of = made.stiffness->plate.of;
    const auto& g = made.subsoil->ground;
    const double pressure = made.subsoil->pressure;
    const Supported* before = earlier.stages.supported.get();
    SparseLower matrix;
    auto find_room = [&] { matrix = s->bed.supports.with_room(made.stiffness->matrix); };
    auto analyse = [&](const SparseLower& pattern) {
        const std::optional<Factor>& analysed = made.stiffness->analysed;
        if (before && before->factor && before->factor->has_pattern_of(pattern))
            s->factor.emplace(before->factor->of_same_pattern());
        else if (analysed && analysed->has_pattern_of(pattern))
            s->factor.emplace(analysed->of_same_pattern());
        else
            s->factor.emplace(pattern, made.meshed->mesh.nodes, progress);
    };
    if (m.ground.model == GroundModel::coupled) {
        progress.report(0.2, "flexibility");
        s->bed = bed_of_patches(m, *g->patches, of);
        both(
            [&] {
                s->flexibility =
                    g->layers->flexibility(g->patches, pressure, progress, before ? &before->flexibility : nullptr);
            },
            [&] { find_room(), analyse(matrix); });
        if (g->layers->has_index())
            s->index.emplace(g->layers, g->patches, pressure, progress,
                             before && before->index ? &*before->index : nullptr);
        size_springs(s->bed, *g->patches, s->flexibility, pressure);
    } else {
        s->bed = bed_of_springs(m, made.meshed->mesh, made.meshed->shares, of, g ? g->layers.get() : nullptr, pressure);
        find_room();
    }
    both([&] { s->bed.supports.add_springs(matrix); },
         [&] {
             if (m.ground.model == GroundModel::coupled)
                 s->near = std::make_shared<const Neighbours>(*g->patches, s->flexibility);
         });
    if (!s->factor) analyse(matrix);
    progress.end_if_stopped();
    if (!s->factor->factorize(matrix, progress))
        throw Trouble({"the equations cannot be solved: slab and ground differ too much in stiffness",
                       "the model",
                       "check the units of thickness, E of the concrete and modulus of the ground",
                       Severity::error,
                       {}});
    if (m.ground.model == GroundModel::coupled) s->factor->keep_single();
    return s;
}

}  // namespace mossbed
