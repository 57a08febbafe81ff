// The Cut: slab and what stands on it to scale along a line across the plan, the ground beside and below, pressure,
// settlement and moment.
#pragma once
#include "core/answer/answer.h"
#include "core/fields/along_line.h"
#include "core/ground/soil_profile.h"
#include "core/model/levels.h"
#include "drawing/drawing.h"

namespace mossbed {

enum class MemberCurve : char { moment, shear, force };

struct CutScene {
    const Model* model = nullptr;
    const AlongLine* along = nullptr;      // null or without samples: no answer yet
    const AlongLine* least = nullptr;      // of an envelope: the smallest, while `along` is the largest
    const SoilProfile* profile = nullptr;  // null: no strata that can be drawn
    std::optional<double> limit;           // level down to which the ground settles, m
    std::array<Point, 2> line{};
    bool pressure = true, settlement = true, moment = false, ground = true;
    const std::vector<MemberLine>* members = nullptr;  // forces along ribs and walls; none: not known
    std::vector<int> combinations;                     // their columns in them: one, or all of an envelope
    MemberCurve member_curve = MemberCurve::moment;    // what is drawn along a rib or wall that the cut runs along
    const PunchingAnswer* punched = nullptr;           // whose cone is shown, where the cut passes through it
    bool stale = false;                                // the answer is of before an edit: what it says is faded
    std::optional<double> hair;                        // m along the line
    bool wide = false;  // shows some ground beyond both ends of the line, and handles at the boreholes
};

// A rib or wall where the cut crosses it or runs along it, m along the line.
struct MemberInCut {
    Thing thing;
    Levels levels;
    double from = 0, to = 0;
    bool is_wall = false, is_along = false;
    double s0 = 0, sense = 1;  // along it: s of its path = s0 + sense · t
};
std::vector<MemberInCut> members_in_cut(const Model& model, const std::array<Point, 2>& line);

// How the cut stands on its paper. Drawings are in metres: along the line, and up from the top of the slab as drawn.
// The slab and what is above its underside have a scale of heights of their own, the ground below another.
struct CutFrame {
    View view;
    Box paper;                                // for the slab and the ground
    Box band;                                 // for the settlement, below: it is no depth; empty when it is not shown
    double length = 0;                        // m, of the line
    double top_level = 0, base_level = 0;     // of the slab, and its deepest underside
    double lowest_level = 0;                  // that is shown
    double slab_scale = 1, ground_scale = 1;  // paper units per m of height
    double up(double level) const;            // drawn metres
    double y(double level) const;             // on the paper
    double x(double t) const { return view.origin.x + view.scale * t; }
    double level_at(double y) const;
    double metres(double paper_units) const { return paper_units / view.scale; }
    Point at(double t, double level) const { return {t, up(level)}; }
};
CutFrame cut_frame(const CutScene& scene, const Box& paper);

struct CutDrawing {
    Drawing drawing;
    CutFrame frame;
    double settlement_factor = 0;  // how much it is exaggerated; 0: not drawn
};
// Bottoms of layers at boreholes can be picked: a Thing of kind borehole whose part is the layer.
CutDrawing cut_drawing(const CutScene& scene, const Box& paper);

}  // namespace mossbed
