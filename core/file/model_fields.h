// The keys of NAME.mossbed, once, for reading and for writing alike: `fields(v, thing)` calls v(key, member) for each.
// A visitor gives operator()(key, member) for values and `choice(key, member, allowed)` for words.
#pragma once
#include "core/model/model.h"

namespace mossbed::file {

using Allowed = std::initializer_list<const char*>;

template <class V, class T>
void fields(V& v, T& t);

template <class V>
void fields(V& v, Settings& s) {
    v.choice("design_code", s.design_code,
             Allowed{"EN 1992-1-1", "ACI 318-19", "ACI 350-06", "ACI 350-20", "IS 456", "CSA A23.3-19"});
    v("combination_rules", s.combination_rules);
    v.raw("national", s.national);
    v("display_units", s.display_units);
}
template <class V>
void fields(V& v, Concrete& c) {
    v.id(c.id);
    v("fck", c.fck);
    v("E", c.E);
    v("nu", c.nu);
    v("unit_weight", c.unit_weight);
}
template <class V>
void fields(V& v, Steel& s) {
    v.id(s.id);
    v("fyk", s.fyk);
    v("E", s.E);
}
template <class V>
void fields(V& v, Stratum& s) {
    v.id(s.id);
    v("description", s.description);
    v("unit_weight", s.unit_weight);
    v("saturated_unit_weight", s.saturated_unit_weight);
    v("E", s.E);
    v("nu", s.nu);
    v("E_reload", s.E_reload);
    v("cu", s.cu);
    v("phi", s.phi);
    v("c", s.c);
    v("compression_index", s.compression_index);
    v("recompression_index", s.recompression_index);
    v("void_ratio", s.void_ratio);
    v("preconsolidation", s.preconsolidation);
    v("cv", s.cv);
    v("drainage_path", s.drainage_path);
    v("E_basis", s.E_basis);
}
template <class V>
void fields(V& v, BoreholeLayer& l) {
    v("stratum", l.stratum);
    v("bottom", l.bottom);
}
template <class V>
void fields(V& v, BlowCount& b) {
    v("level", b.level);
    v("N", b.N);
}
template <class V>
void fields(V& v, Borehole& b) {
    v.id(b.id);
    v("at", b.at);
    v("ground_level", b.ground_level);
    v("water_level", b.water_level);
    v("layers", b.layers);
    v("blow_counts", b.blow_counts);
}
template <class V>
void fields(V& v, GroundPatch& p) {
    v.id(p.id);
    v("outline", p.outline);
    v("modulus", p.modulus);
}
template <class V>
void fields(V& v, Ground& g) {
    v("model", g.model);
    v("modulus", g.modulus);
    v("tension", g.tension);
    v("allowable_pressure", g.allowable_pressure);
    v("yield_pressure", g.yield_pressure);
    v("friction_angle_base", g.friction_angle_base);
    v("adhesion_base", g.adhesion_base);
    v("ground_level", g.ground_level);
    v("founding_level", g.founding_level);
    v("water_level", g.water_level);
    v("settlement_method", g.settlement_method);
    v("rigid_base_level", g.rigid_base_level);
    v("depth_limit_ratio", g.depth_limit_ratio);
    v("excavation_relief", g.excavation_relief);
    v("combination_for_springs", g.combination_for_springs);
    v("years", g.years);
    v("strata", g.strata);
    v("boreholes", g.boreholes);
    v("patches", g.patches);
}
template <class V>
void fields(V& v, Opening& o) {
    v.id(o.id);
    v("outline", o.outline);
}
template <class V>
void fields(V& v, SlabPatch& p) {
    v.id(p.id);
    v("outline", p.outline);
    v("thickness", p.thickness);
    v("flush", p.flush);
    v("concrete", p.concrete);
}
template <class V>
void fields(V& v, Slab& s) {
    v("outline", s.outline);
    v("openings", s.openings);
    v("thickness", s.thickness);
    v("top_level", s.top_level);
    v("concrete", s.concrete);
    v("self_weight", s.self_weight);
    v("stiffness_factor", s.stiffness_factor);
    v("patches", s.patches);
}
template <class V>
void fields(V& v, Column& c) {
    v.id(c.id);
    v("at", c.at);
    v("shape", c.shape);
    v("size", c.size);
    v("angle", c.angle);
    v("pedestal_height", c.pedestal_height);
    v("stiff_footprint", c.stiff_footprint);
}
template <class V>
void fields(V& v, Wall& w) {
    v.id(w.id);
    v("path", w.path);
    v("thickness", w.thickness);
    v("height", w.height);
    v("stiffens", w.stiffens);
}
template <class V>
void fields(V& v, Rib& r) {
    v.id(r.id);
    v("path", r.path);
    v("width", r.width);
    v("depth", r.depth);
    v("flush", r.flush);
    v("concrete", r.concrete);
}
template <class V>
void fields(V& v, Pile& p) {
    v.id(p.id);
    v("at", p.at);
    v("diameter", p.diameter);
    v("length", p.length);
    v("stiffness", p.stiffness);
    v("capacity_compression", p.capacity_compression);
    v("capacity_tension", p.capacity_tension);
    v("concrete", p.concrete);
}
template <class V>
void fields(V& v, LoadCase& c) {
    v.id(c.id);
    v("title", c.title);
    v("action", c.action);
    v.choice("category", c.category, Allowed{"A", "B", "C", "D", "E", "F", "G", "H"});
    v("reversible", c.reversible);
    v("items", c.items);
}
template <class V>
void fields(V& v, Combination& c) {
    v.id(c.id);
    v("title", c.title);
    v("purpose", c.purpose);
    v("factors", c.factors);
    v("frequency", c.frequency);
    v("safety", c.safety);
    v("active", c.active);
    v("generated_by", c.generated_by);
}
template <class V>
void fields(V& v, Loads& l) {
    v("cases", l.cases);
    v("combinations", l.combinations);
}
template <class V>
void fields(V& v, ExtraBars& e) {
    v.id(e.id);
    v("outline", e.outline);
    v("face", e.face);
    v("direction", e.direction);
    v("diameter", e.diameter);
    v("spacing", e.spacing);
}
template <class V>
void fields(V& v, Strip& s) {
    v.id(s.id);
    v("direction", s.direction);
    v("axis", s.axis);
    v("reach", s.reach);
}
template <class V>
void fields(V& v, Reinforcement& s) {
    v("steel", s.steel);
    v("cover_top", s.cover_top);
    v("cover_bottom", s.cover_bottom);
    v("outer_top", s.outer_top);
    v("outer_bottom", s.outer_bottom);
    v.group("base", s.base_keys, [&](auto& b) {
        b("top_x", s.top_x);
        b("top_y", s.top_y);
        b("bottom_x", s.bottom_x);
        b("bottom_y", s.bottom_y);
    });
    v("extra", s.extra);
    v("strips", s.strips);
    v("minimum_on_both_faces", s.minimum_on_both_faces);
    v("twisting", s.twisting);
    v("sizes", s.sizes);
    v("spacings", s.spacings);
}
template <class V>
void fields(V& v, Limits& c) {
    v("settlement_limit", c.settlement_limit);
    v("distortion_limit", c.distortion_limit);
    v("tilt_limit", c.tilt_limit);
    v("contact_ratio_limit", c.contact_ratio_limit);
    v("crack_width_limit", c.crack_width_limit);
    v("sliding_factor", c.sliding_factor);
    v("overturning_factor", c.overturning_factor);
    v("flotation_factor", c.flotation_factor);
}
template <class V>
void fields(V& v, Model& m) {
    v("title", m.title);
    v("notes", m.notes);
    v("settings", m.settings);
    v("concretes", m.concretes);
    v("steels", m.steels);
    v("ground", m.ground);
    v("slab", m.slab);
    v("columns", m.columns);
    v("walls", m.walls);
    v("ribs", m.ribs);
    v("piles", m.piles);
    v("loads", m.loads);
    v.group("mesh", m.mesh_keys, [&](auto& g) { g("size", m.mesh_size); });
    v("steel", m.steel);
    v("checks", m.checks);
}

}  // namespace mossbed::file
