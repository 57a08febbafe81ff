// Strips across the slab: their layout, the forces at their sections, required and provided steel.
// M positive puts the bottom face in tension, V = dM/ds, over the strip's width; kN·m, kN, mm².
#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/base/bar_area.h"
#include "core/model/model.h"

namespace mossbed {

struct SectionRow {
    double s = 0;  // m along the axis, from where it enters the slab
    Point at;      // middle of the cut
    std::string combination;
    double width = 0;                              // m of slab across the strip here
    double M = 0, V = 0;                           // slab, ribs and walls together, about the slab's mid-plane
    std::optional<double> M_members, V_members;    // of it what ribs and walls carry, where they cross the strip
    double N = 0;                                  // kN, of the slab, tension positive
    double T = 0;                                  // kN·m: ∫ |twisting moment| over the width
    double M_design_bottom = 0, M_design_top = 0;  // with twisting, inside supports as at their faces; ≥ 0 and ≤ 0
    bool in_support = false;                       // steel is then that of the faces
    std::optional<double> top_required, bottom_required;  // none: no amount fits
    double top_provided = 0, bottom_provided = 0;
};

struct StripAnswer {
    Strip strip;  // as laid out, axis trimmed to the slab
    bool column_band = false;
    // Of the band under a single line of columns the reach of the whole line, of whose moment it takes a share; else
    // nothing.
    std::array<double, 2> line{0, 0};
    bool is_band_of_line() const { return line[0] + line[1] > 0; }
    bool turned_round = false;  // drawn with the other direction than its axis has
    // Reach (left, right) over which one-way shear is judged: for a column band its whole panel, mid-span to mid-span;
    // for a drawn strip its own; nothing for a middle band, which lies in the panels of its neighbours.
    std::array<double, 2> panel{0, 0};
    std::vector<SectionRow> sections;
};

struct ChosenBars {                    // of one face and direction
    double diameter = 0, spacing = 0;  // mm
    bool chosen = false;               // by the program
    bool fits = true;                  // false: nothing in the lists is enough
    double area() const { return spacing > 0 ? area_of_bar(diameter) * 1000 / spacing : 0; }  // mm²/m
};

struct BaseBars {  // laid all over the slab
    ChosenBars top_x, top_y, bottom_x, bottom_y;
    const ChosenBars& base(Face f, Direction d) const {
        return f == Face::top ? (d == Direction::x ? top_x : top_y) : (d == Direction::x ? bottom_x : bottom_y);
    }
    ChosenBars& base(Face f, Direction d) { return const_cast<ChosenBars&>(std::as_const(*this).base(f, d)); }
};

struct SteelAnswer : BaseBars {
    std::vector<StripAnswer> strips;
    double steel_kg = 0, concrete_m3 = 0;  // base and extra bars without laps
    std::optional<double> kg_per_m3() const {
        return steel_kg > 0 && concrete_m3 > 0 ? std::optional(steel_kg / concrete_m3) : std::nullopt;
    }
};

// How far a column's moment may be taken as even across a strip, and what part of the moment that width takes: a design
// code says so.
struct BandRule {
    std::function<double(const Column&, double c)> width;  // m, of a column c wide across the strip
    double share = 0;                                      // of the line's moment
};

// The strips of the model; or column bands and middle bands laid out from the columns, along the bars of both
// directions. Lines gather columns within a quarter of the usual spacing. A column off the grid lays out strips only
// near it, and lines that stand in different parts of the slab each in theirs. Bands reach a quarter of the span to
// each side; at the ends to the rim, where that is no further than half the span. A single line has a band as wide as
// the rule says, with a strip on either side; a slab without columns, or with columns that stand round, equal strips.
// They are named after the setting-out line that they lie on, else by number.
std::vector<StripAnswer> lay_out_strips(const Model& model, const BandRule& band);

// Even strips of both directions right across the slab along the bars, no wider than `width`, m: what bars are designed
// by where that is moments by points, averaged over the width. Named after where their middle lies across the bars.
std::vector<StripAnswer> lay_out_points(const Model& model, double width);
// As the model says it, or a cell of the mesh; half a metre at least.
double width_of_points(const Model& model);

// m², of the slab's base not covered by a strip of this direction.
double uncovered_area(const Model& model, const std::vector<StripAnswer>& strips, Direction direction);

}  // namespace mossbed
