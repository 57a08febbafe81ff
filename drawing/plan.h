// The plan as it stands on a sheet: slab, what stands on it, a map with its key, what is chosen.
#pragma once
#include "core/answer/answer.h"
#include "core/bars/laid_bars.h"
#include "core/model/strip_area.h"
#include "drawing/map_shapes.h"

namespace mossbed {

struct PlanScene {
    const Model* model = nullptr;
    const Answer* answer = nullptr;  // may be of an older model while a new one is being solved
    const CombinationAnswer* combination = nullptr;
    std::string envelope;  // "largest of service": the map is of all of a purpose, the combination one of them
    Quantity quantity = Quantity::pressure;
    const MapShapes* shapes = nullptr;    // of the map of that quantity
    std::shared_ptr<const Rings> lifted;  // none: nothing has
    std::shared_ptr<const Rings> over;    // beyond the pressure that the bearing check compares
    Things chosen;
    bool handles = false;  // corners and sides of the outline can be dragged
    bool uses = false;     // punching use at each place
    std::string punched;   // the one looked at
    std::string strip;     // the one in hand
    std::string hovered;   // the one that the pointer is over
    bool strips = false;
    // The Weave: bars of one face and direction where they lie, and where they are used most.
    const LaidBars* bars = nullptr;  // none: not the Weave
    Face bars_face = Face::bottom;
    Direction bars_direction = Direction::x;
    std::optional<Point> tightest;
    std::string tightest_words;
    bool mesh = false;      // its cells, the worst marked
    std::string load_case;  // discs of this case; empty: none
    std::array<Point, 2> cut{};
    bool show_cut = true;
    std::optional<double> hair;  // m along the cut
    std::optional<Point> flag;   // place of a ledger row
    std::string flag_text;
    Polygon flag_area;  // the stretch that the row is about
    bool is_flag_over = false;
    bool boreholes = false;                             // with their logs
    std::vector<std::pair<std::string, Point>> traced;  // points of a load–settlement curve
    std::optional<Point> pin;                           // of the depth chart
    std::vector<std::pair<std::string, Point>> coming;  // of a report that is being placed
    // Of a table or drawing that is looked at before it is taken: outlines and paths, and one column's moment with the
    // direction that it presses harder towards.
    std::vector<std::vector<Point>> coming_lines;
    std::vector<std::pair<std::string, Point>> coming_names;
    struct Moment {
        Point at, towards;  // towards: a unit vector
        std::string words;
    };
    std::optional<Moment> coming_moment;
    bool stale = false;    // the answer is of before an edit: all that it says is faded
    bool clipped = false;  // and the slab may have shrunk since
    bool moving = false;   // it is a coarse one while a hand moves: what such a one cannot know is faded
    const std::vector<Row>* rows = nullptr;  // the Ledger, where it has more than the answer; else the answer's
    bool invite = true;                      // an empty sheet says how to begin
};

// In metres of the plan. The view decides what is worth writing at its scale, `paper` (y down) what can be seen.
Drawing plan_drawing(const PlanScene& scene, const View& view, const Box& paper);
// What follows the pointer, to lie on top of it: a mark along the cut, the use of the place that it is over where the
// sheet does not say it.
Drawing plan_hair(const PlanScene& scene);

// In paper units, for bare_paper(): in a band of its own along the foot of the sheet, `paper`.
struct PlanKey {
    Drawing drawing;
    Box bar;  // on the paper, for dragging its ends; empty when no map is shown
};
PlanKey plan_key(const PlanScene& scene, const Box& paper);
// At the left of the same band.
Drawing plan_scale_bar(const View& view, const Box& paper);
constexpr double plan_key_height = 50;  // paper units
// In the same band, right of the bar: what the weight of a perimeter says.
Drawing plan_key_of_uses(const Box& paper);
double perimeter_weight(double use);  // paper units

// Outer rim, inner rim of a ring, openings; round rims as chords within a paper unit or so.
Rings slab_rings(const Model& model, const View& view);

}  // namespace mossbed
