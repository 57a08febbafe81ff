// The fields of a model, each once: its key in the file, its member, and what is known of it (facts.h). Reading,
// writing, the schema, validation, the Tray and tables are made from here: `fields(v, thing)` calls v(key, member,
// facts) for each. A visitor gives operator()(key, member, facts) for values, `choice(key, member, allowed)` for words
// that are no enumeration, `raw` for JSON kept as text, `group` for keys without a type of their own, and `id`.
#pragma once
#include "core/model/facts.h"
#include "core/model/model.h"

namespace mossbed {

using Allowed = std::initializer_list<const char*>;

namespace facts {
constexpr Facts positive(const char* label, Unit unit, const char* help = "", double low = 0, double high = 0) {
    return {.label = label,
            .unit = unit,
            .help = help,
            .least = 0,
            .above_least = true,
            .usual_low = low,
            .usual_high = high};
}
constexpr Facts not_negative(const char* label, Unit unit, const char* help = "", double high = 0) {
    return {.label = label, .unit = unit, .help = help, .least = 0, .usual_high = high};
}
constexpr Facts level(const char* label, const char* help = "") {
    return {.label = label, .unit = Unit::metre, .help = help, .least = -1e10, .most = 1e10};
}
constexpr Facts plain(const char* label, Unit unit, const char* help = "") {
    return {.label = label, .unit = unit, .help = help};
}
constexpr Facts called(const char* noun, Facts f) {
    f.noun = noun;
    return f;
}
constexpr Facts said(const char* help) { return {.help = help}; }
constexpr Facts required(const char* help = "") { return {.help = help, .required = true}; }
constexpr Facts at_least_two() { return {.required = true, .fewest = 2}; }
}  // namespace facts

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
    v("fck", c.fck, facts::positive("fck", Unit::megapascal, "characteristic cylinder strength", 8, 120));
    v("E", c.E, facts::positive("E", Unit::megapascal, "", 1000, 1e12));
    v("nu", c.nu, {.label = "ν (Poisson's ratio)", .least = 0, .most = 0.499});
    v("unit_weight", c.unit_weight,
      {.label = "Unit weight",
       .unit = Unit::kilonewton_per_cubic_metre,
       .least = 0,
       .usual_low = 10,
       .usual_high = 40});
}
template <class V>
void fields(V& v, Steel& s) {
    v.id(s.id);
    v("fyk", s.fyk, facts::positive("fyk", Unit::megapascal, "characteristic yield strength", 150, 1000));
    v("E", s.E, facts::positive("E", Unit::megapascal));
}
template <class V>
void fields(V& v, Stratum& s) {
    v.id(s.id);
    v("description", s.description);
    v("unit_weight", s.unit_weight, facts::plain("γ", Unit::kilonewton_per_cubic_metre, "above the water"));
    v("saturated_unit_weight", s.saturated_unit_weight,
      facts::plain("γ sat.", Unit::kilonewton_per_cubic_metre, "below the water"));
    v("E", s.E, facts::plain("E", Unit::megapascal, "Young's modulus, drained"));
    v("nu", s.nu, facts::plain("ν", Unit::none));
    v("E_reload", s.E_reload,
      facts::plain("E reload", Unit::megapascal, "on reloading, up to what the excavation took off"));
    v("cu", s.cu, facts::plain("cu", Unit::kilopascal));
    v("phi", s.phi, facts::plain("φ′", Unit::degrees));
    v("c", s.c, facts::plain("c′", Unit::kilopascal));
    v("compression_index", s.compression_index, facts::plain("Cc", Unit::none));
    v("recompression_index", s.recompression_index, facts::plain("Cr", Unit::none));
    v("void_ratio", s.void_ratio, facts::plain("e₀", Unit::none));
    v("preconsolidation", s.preconsolidation, facts::plain("σ′p", Unit::kilopascal));
    v("cv", s.cv, facts::plain("cv", Unit::square_metre_per_year, "coefficient of consolidation"));
    v("drainage_path", s.drainage_path,
      facts::plain("Path", Unit::metre, "longest way of the water out; null: by the layers next to it"));
    v("E_basis", s.E_basis, facts::said("where E comes from; a proposal names its correlation"));
}
template <class V>
void fields(V& v, BoreholeLayer& l) {
    v("stratum", l.stratum, facts::required());
    v("bottom", l.bottom, {.label = "Bottom", .unit = Unit::metre, .help = "level", .required = true});
}
template <class V>
void fields(V& v, BlowCount& b) {
    v("level", b.level, {.label = "Level", .unit = Unit::metre, .required = true});
    v("N", b.N, {.label = "N", .help = "blows for 0.3 m", .required = true});
}
template <class V>
void fields(V& v, Borehole& b) {
    v.id(b.id);
    v("at", b.at, facts::required());
    v("ground_level", b.ground_level, facts::level("Ground"));
    v("water_level", b.water_level, facts::level("Water"));
    v("layers", b.layers);
    v("blow_counts", b.blow_counts, facts::said("standard penetration tests"));
}
template <class V>
void fields(V& v, GroundPatch& p) {
    v.id(p.id);
    v("outline", p.outline, facts::required());
    v("modulus", p.modulus, facts::positive("Modulus", Unit::kilonewton_per_cubic_metre, "", 500, 500000));
}
template <class V>
void fields(V& v, Ground& g) {
    v("model", g.model, {.label = "Ground model"});
    v("modulus", g.modulus,
      facts::positive("Modulus of subgrade reaction", Unit::kilonewton_per_cubic_metre, "", 500, 500000));
    v("tension", g.tension, {.label = "The ground may pull (tension)", .help = "true lets the ground pull"});
    v("allowable_pressure", g.allowable_pressure,
      facts::positive("Allowable pressure", Unit::kilopascal,
                      "compared with the contact pressure of service combinations", 20, 5000));
    v("allowable_is", g.allowable_is,
      {.label = "It allows a pressure that is",
       .help = "gross: the contact pressure; net: less the total overburden that was dug out"});
    v.group("allowable_raised", g.raised_keys, [&](auto& r) {
        r("wind", g.raised_in_wind, facts::called("the factor", facts::positive("Raised in wind by", Unit::none)));
        r("seismic", g.raised_in_earthquake,
          facts::called("the factor", facts::positive("Raised in earthquakes by", Unit::none)));
    });
    v.group("resistance", g.resistance_keys, [&](auto& r) {
        r("approach", g.resistance_approach,
          {.label = "Safety of the resistance",
           .help = "of EN 1997-1 Annex D; null: DA2 where combinations are by EN 1990, else global"});
        r("factor", g.resistance_factor,
          facts::called("the factor", facts::positive("Global factor on it", Unit::none)));
    });
    v("yield_pressure", g.yield_pressure,
      facts::positive("Yield pressure, if any", Unit::kilopascal, "null: elastic in compression"));
    v("friction_angle_base", g.friction_angle_base, {.label = "Friction angle of the base", .unit = Unit::degrees, .least = 0, .most = 60});
    v("adhesion_base", g.adhesion_base, facts::not_negative("Adhesion of the base", Unit::kilopascal));
    v("ground_level", g.ground_level, facts::level("Ground level", "null: from the boreholes"));
    v("founding_level", g.founding_level, facts::level("Founding level", "null: underside of the slab"));
    v("water_level", g.water_level, facts::level("Water level", "null: from the boreholes, or no water"));
    v("settlement_method", g.settlement_method, {.label = "Settlement of strata"});
    v("rigid_base_level", g.rigid_base_level, facts::level("Rigid base level, if any"));
    v("depth_limit_ratio", g.depth_limit_ratio,
      facts::positive("Depth-limit ratio", Unit::none,
                      "strata count down to where added stress falls to this share of the overburden"));
    v("excavation_relief", g.excavation_relief, {.label = "Excavation relief: reload first"});
    v("combination_for_springs", g.combination_for_springs);
    v("years", g.years, facts::said("at which consolidation is reported"));
    v("strata", g.strata);
    v("boreholes", g.boreholes);
    v("patches", g.patches);
}
template <class V>
void fields(V& v, Opening& o) {
    v.id(o.id);
    v("outline", o.outline, facts::required());
}
template <class V>
void fields(V& v, SlabPatch& p) {
    v.id(p.id);
    v("outline", p.outline, facts::required());
    v("thickness", p.thickness, facts::positive("Thickness", Unit::metre, "", 0.1, 6));
    v("flush", p.flush, {.label = "Flush with the slab at"});
    v("concrete", p.concrete);
}
template <class V>
void fields(V& v, Slab& s) {
    v("outline", s.outline, facts::required());
    v("openings", s.openings);
    v("thickness", s.thickness, facts::positive("Thickness", Unit::metre, "", 0.1, 6));
    v("top_level", s.top_level, facts::level("Level of its top"));
    v("concrete", s.concrete);
    v("self_weight", s.self_weight, {.label = "Carry the slab's weight"});
    v("stiffness_factor", s.stiffness_factor,
      facts::called("the factor", facts::positive("Stiffness, of uncracked", Unit::none,
                                                  "on E of the slab's concrete: cracked, long-term")));
    v("patches", s.patches);
}
template <class V>
void fields(V& v, Column& c) {
    v.id(c.id);
    v("at", c.at, facts::required());
    v("shape", c.shape, {.label = "Shape"});
    v("size", c.size,
      {.label = "Size",
       .noun = "a size",
       .unit = Unit::metre,
       .help = "[diameter] for a circle",
       .least = 0,
       .above_least = true,
       .usual_low = 0.08,
       .usual_high = 8,
       .fewest = 1,
       .most_items = 2});
    v("angle", c.angle, {.label = "Turned by", .unit = Unit::degrees, .help = "anticlockwise"});
    v("pedestal_height", c.pedestal_height,
      facts::called("the pedestal's height", facts::not_negative("Pedestal height", Unit::metre, "", 10)));
    v("stiff_footprint", c.stiff_footprint);
    v.group("starter_bars", c.starter_keys, [&](auto& b) {
        b("diameter", c.starter_diameter,
          facts::positive("Starter bars, diameter", Unit::millimetre, "bars that anchor a pull of the column", 6, 50));
        b("number", c.starter_number, {.label = "Starter bars, number", .least = 1, .most = 200});
    });
    v.group("links", c.links.keys, [&](auto& b) {
        PunchingLinks& l = c.links;
        b("diameter", l.diameter,
          facts::positive("Links, diameter", Unit::millimetre, "legs that hold back a punching cone", 6, 25));
        b("legs", l.legs, {.label = "Links, legs a perimeter", .least = 2, .most = 200});
        b("perimeters", l.perimeters, {.label = "Links, perimeters", .least = 1, .most = 40});
        b("spacing", l.spacing,
          facts::positive("Links, between perimeters", Unit::millimetre, "outward from the column", 40, 1500));
        b("first", l.first,
          facts::positive("Links, first from the face", Unit::millimetre, "empty: as far as the code allows", 20, 1000));
    });
}
template <class V>
void fields(V& v, Wall& w) {
    v.id(w.id);
    v("path", w.path, facts::at_least_two());
    v("thickness", w.thickness, facts::positive("Thickness", Unit::metre, "", 0.05, 5));
    v("height", w.height, facts::positive("Height", Unit::metre, "", 0.05, 100));
    v("stiffens", w.stiffens, {.label = "It stiffens the slab"});
    v("stiffness_factor", w.stiffness_factor,
      facts::called("the factor", facts::positive("Stiffness, of uncracked", Unit::none,
                                                  "on E of its concrete where it stiffens: openings, cracks")));
}
template <class V>
void fields(V& v, Rib& r) {
    v.id(r.id);
    v("path", r.path, facts::at_least_two());
    v("width", r.width, facts::positive("Width", Unit::metre, "", 0.1, 5));
    v("depth", r.depth, facts::positive("Depth", Unit::metre, "its whole depth, the slab's included", 0.15, 8));
    v("flush", r.flush, {.label = "Flush with the slab at", .help = "the face of the slab that the rib shares"});
    v("concrete", r.concrete);
    v("over_openings", r.over_openings, {.label = "At openings", .help = "stop at the rim, or carry over the opening"});
    v("stiffness_factor", r.stiffness_factor,
      facts::called("the factor", facts::positive("Stiffness, of uncracked", Unit::none, "on E of its concrete")));
}
template <class V>
void fields(V& v, Pile& p) {
    v.id(p.id);
    v("at", p.at, facts::required());
    v("diameter", p.diameter, facts::positive("Diameter", Unit::metre));
    v("length", p.length, facts::positive("Length", Unit::metre));
    v("stiffness", p.stiffness, facts::plain("Stiffness", Unit::kilonewton_per_metre, "null: from the strata"));
    v("capacity_compression", p.capacity_compression,
      facts::plain("Capacity in compression", Unit::kilonewton, "null: unlimited"));
    v("capacity_tension", p.capacity_tension, facts::plain("Capacity in tension", Unit::kilonewton, "null: unlimited"));
    v("concrete", p.concrete);
}
template <class V>
void fields(V& v, LoadCase& c) {
    v.id(c.id);
    v("title", c.title);
    v("action", c.action, {.label = "Action of this case"});
    v.choice("category", c.category, Allowed{"A", "B", "C", "D", "E", "F", "G", "H"});
    v("reversible", c.reversible, {.label = "Acts in both signs (reversible)"});
    v("group", c.group, facts::said("cases of one group never act together"));
    v("direction", c.direction, facts::said("of an earthquake, for its pairs of 100 % and 30 %"));
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
    v("combinations", l.combinations, facts::said("absent: written by settings.combination_rules"));
    v.raw("rules", l.rules);
}
template <class V>
void fields(V& v, ShearLinks& l) {
    v.id(l.id);
    v("outline", l.outline, facts::required());
    v("diameter", l.diameter, facts::positive("Diameter", Unit::millimetre, "", 6, 25));
    v("spacing", l.spacing, facts::positive("Spacing", Unit::millimetre, "between legs, both ways", 50, 1500));
}
template <class V>
void fields(V& v, ExtraBars& e) {
    v.id(e.id);
    v("outline", e.outline, facts::required());
    v("face", e.face);
    v("direction", e.direction);
    v("diameter", e.diameter,
      facts::called("the bar diameter", facts::positive("Diameter", Unit::millimetre, "", 6, 50)));
    v("spacing", e.spacing,
      facts::called("the bar spacing", facts::positive("Spacing", Unit::millimetre, "", 50, 400)));
    v("held_at_rims", e.held_at_rims,
      {.label = "U-bars at rims",
       .help = "where they end at a rim or an opening they are lapped with U-bars and count in full"});
}
template <class V>
void fields(V& v, Strip& s) {
    v.id(s.id);
    v("direction", s.direction);
    v("axis", s.axis, facts::required());
    v("reach", s.reach, {.label = "Reach", .unit = Unit::metre, .help = "left and right of the axis"});
}
template <class V>
void fields(V& v, Bars& b) {
    v("diameter", b.diameter, facts::positive("Bar diameter", Unit::millimetre, "", 6, 50));
    v("spacing", b.spacing, facts::positive("Bar spacing", Unit::millimetre, "", 50, 400));
}
template <class V>
void fields(V& v, Reinforcement& s) {
    v("steel", s.steel);
    v("angle", s.angle,
      {.label = "Bars x at",
       .unit = Unit::degrees,
       .help = "of the bars called x, and of strips laid out along them, anticlockwise from the plan's x",
       .least = -90,
       .most = 90});
    v("cover_top", s.cover_top,
      facts::called("the cover", facts::not_negative("Top", Unit::millimetre, "cover to the outermost bar")));
    v("cover_bottom", s.cover_bottom,
      facts::called("the cover", facts::not_negative("Bottom", Unit::millimetre, "cover to the outermost bar")));
    v("outer_top", s.outer_top);
    v("outer_bottom", s.outer_bottom);
    v.group("base", s.base_keys, [&](auto& b) {
        b("top_x", s.top_x, facts::said("empty: chosen by the program"));
        b("top_y", s.top_y, facts::said("empty: chosen by the program"));
        b("bottom_x", s.bottom_x, facts::said("empty: chosen by the program"));
        b("bottom_y", s.bottom_y, facts::said("empty: chosen by the program"));
    });
    v("extra", s.extra);
    v("links", s.links);
    v("strips", s.strips, facts::said("absent: laid out automatically"));
    v("minimum_on_both_faces", s.minimum_on_both_faces);
    v("designed_by", s.designed_by,
      {.label = "Bars designed by",
       .help = "strips: by those laid out or drawn; points: by moments at every point, averaged over a stated width"});
    v("averaged_over", s.averaged_over,
      {.label = "Points averaged over",
       .noun = "the width that moments by points are averaged over",
       .unit = Unit::metre,
       .help = "across the bars; empty: a cell of the mesh, peaks being those of the support's faces",
       .least = 0.1,
       .most = 20});
    v("twisting", s.twisting,
      {.label = "Twisting moments reach the bars (mx ± |mxy|)",
       .help = "strips are designed for mx ± |mxy|; off: for mx alone, and the Ledger says so"});
    v("sizes", s.sizes,
      {.label = "Bar sizes",
       .noun = "a bar size",
       .unit = Unit::millimetre,
       .help = "bar sizes to choose from",
       .least = 0,
       .above_least = true,
       .fewest = 1});
    v("spacings", s.spacings,
      {.label = "Bar spacings",
       .noun = "a spacing",
       .unit = Unit::millimetre,
       .help = "bar spacings to choose from",
       .least = 0,
       .above_least = true,
       .fewest = 1});
    v("stock_length", s.stock_length,
      {.label = "Stock length",
       .noun = "the stock length",
       .unit = Unit::metre,
       .help = "longer bars are lapped",
       .least = 2,
       .most = 30});
    v("most_marks", s.most_marks,
      {.label = "Groups of bars, at most",
       .noun = "the most groups of bars",
       .help = "base and extra bars that are put together by the program",
       .least = 4,
       .most = 200});
}
template <class V>
void fields(V& v, Limits& c) {
    v("settlement_limit", c.settlement_limit,
      {.label = "Settlement",
       .noun = "the limit",
       .unit = Unit::metre,
       .shown = Unit::millimetre,
       .least = 0,
       .above_least = true});
    v("distortion_limit", c.distortion_limit,
      {.label = "Slope between columns 1 in", .noun = "the limit", .one_in = true, .least = 0, .above_least = true});
    v("tilt_limit", c.tilt_limit,
      {.label = "Tilt 1 in", .noun = "the limit", .one_in = true, .least = 0, .above_least = true});
    v("contact_ratio_limit", c.contact_ratio_limit,
      {.label = "Least share in contact",
       .noun = "the least share of the base in contact",
       .help = "least share of the base in contact",
       .least = 0,
       .most = 1});
    v("crack_width_limit", c.crack_width_limit,
      facts::called("the limit", facts::positive("Crack width", Unit::millimetre)));
    v("sliding_factor", c.sliding_factor, facts::called("the factor", facts::positive("Sliding factor", Unit::none)));
    v("overturning_factor", c.overturning_factor,
      facts::called("the factor", facts::positive("Overturning factor", Unit::none)));
    v("flotation_factor", c.flotation_factor,
      facts::called("the factor", facts::positive("Flotation factor", Unit::none)));
}
template <class V>
void fields(V& v, SettingOutLine& l) {
    v.id(l.id);
    v("path", l.path, facts::at_least_two());
}
template <class V>
void fields(V& v, Underlay& u) {
    v.id(u.id);
    v("file", u.file, facts::required("a picture, as named from the model's folder, or from the root"));
    v("at", u.at, facts::said("its lower left corner"));
    v("width", u.width, facts::positive("Width on the ground", Unit::metre, "", 0.1, 1000));
    v("angle", u.angle, {.label = "Turned by", .unit = Unit::degrees, .help = "anticlockwise, about that corner"});
    v("strength", u.strength, {.label = "Strength", .help = "0 nothing, 1 in full", .least = 0, .most = 1});
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
    v("setting_out", m.setting_out);
    v("underlays", m.underlays, facts::said("pictures behind the plan; nothing rests on them"));
    v("loads", m.loads);
    v.group("mesh", m.mesh_keys,
            [&](auto& g) { g("size", m.mesh_size, facts::positive("Mesh size", Unit::metre, "", 0.01, 10)); });
    v("steel", m.steel);
    v("checks", m.checks);
}

}  // namespace mossbed
