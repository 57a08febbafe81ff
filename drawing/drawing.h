// Drawings as primitives: what is drawn, in metres of the plan (or of the cut), with the layer it belongs to and the
// role of its colour; nothing here knows a pixel format, a printer or a window. One drawing serves the screen,
// pictures, print, SVG and DXF (a renderer each), and what is picked with the mouse is found in it, so that what is
// seen can be clicked. Units: m for places; "paper units" of 1/96 inch (a pixel at 100 %) for what does not grow with
// the scale: widths of lines, sizes of symbols and text. Paper offsets run right and up. Marks are drawn in the order
// in which they stand.
#pragma once
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/base/geometry.h"
#include "core/fields/field_map.h"
#include "core/model/thing.h"

namespace mossbed {

enum class Layer : char {
    ground,
    strata,
    water,
    boreholes,
    slab,
    map,
    isolines,
    lifted,
    over_limit,
    setting_out,
    patches,
    rim,
    openings,
    strips,
    bars,
    ribs,
    walls,
    columns,
    loads,
    punching,
    pressure,
    settlement,
    moment,
    cut_line,
    handles,
    chosen,
    names,
    key,
    notes
};
const char* name_of(Layer layer);  // "over-limit": for files with layers

// What a colour stands for; draw/look.h says what it looks like.
enum class Role : char {
    none,
    sheet,
    panel,
    white,
    ink,
    faint,
    line,
    moss,
    ochre,
    rust,
    water,
    concrete,
    slab,
    setting_out,
    earth,         // ground without strata
    earth_stroke,  // its hatching
    ground_line,
    boundary,  // of strata
    pressure_fill,
    pressure_line,
    pressure_ink,
    moment_ink,
    settled_fill,
    stratum,         // by its place in the list of strata
    stratum_stroke,  // its hatching
    scale            // of a map: which one, and how far along
};
struct Tone {
    Role role = Role::none;
    int alpha = 255;  // 0 to 255
    int stratum = 0;
    Scale scale = Scale::settled;
    double along = 0;  // the scale, from 0 to 1
    Tone(Role r = Role::none, int a = 255) : role(r), alpha(a) {}
    static Tone of_scale(Scale s, double along);
    static Tone of_stratum(int stratum, Role role = Role::stratum);
    bool is_none() const { return role == Role::none; }
};

enum class Dash : char { solid, dashed, dotted, dash_dotted, long_dashed };
struct Stroke {
    Tone tone;
    double width = 1;  // paper units, at least
    Dash dash = Dash::solid;
    double true_width = 0;  // m: a wall is as thick as it is
};
enum class Pattern : char { none, dots, slanted, earth, soil };  // soil: by the tone's stratum
struct Fill {
    Tone tone;
    Pattern pattern = Pattern::none;
    Tone pattern_tone;
};

using Rings = std::vector<Polygon>;
struct Path {
    std::shared_ptr<const Rings> rings;  // even–odd where filled
    bool closed = true;
    std::optional<Point> anchor;  // then the rings are in paper units round it
    double turn = 0;              // degrees anticlockwise round the anchor
    Stroke stroke;
    Fill fill;
};
struct Disc {  // of a size on paper
    Point at, offset;
    double radius = 5;  // paper units
    Stroke stroke;
    Fill fill;
};
enum class Size : char { small, normal, large };
enum class Align : char { left, centre, right };
struct Text {
    Point at, offset;  // of its middle height, at its left, centre or right
    std::string text;  // UTF-8
    Tone tone = Role::ink;
    Size size = Size::small;
    bool bold = false;
    Align align = Align::centre;
    bool halo = false;          // of the sheet's colour, so that it reads over anything
    std::optional<Fill> plate;  // behind it
    bool plate_is_edged = false;
    double turn = 0;  // degrees anticlockwise
};

struct Mark {
    Layer layer = Layer::notes;
    std::variant<Path, Disc, Text> what;
    std::optional<Thing> thing;
    bool by_side = false;               // each side of the path is a part of its thing
    double reach = 4;                   // paper units: how near the pointer must come
    std::shared_ptr<const Rings> clip;  // nothing is drawn outside
    bool faded = false;                 // of an answer that is older than the model
};

// How metres fall on the paper: x to the right, y down, as on screens; the plan's y runs up.
struct View {
    double scale = 20;  // paper units a metre
    Point origin;       // of the plan on the paper
    Point at(Point p) const { return {origin.x + scale * p.x, origin.y - scale * p.y}; }
    Point back(Point q) const { return {(q.x - origin.x) / scale, (origin.y - q.y) / scale}; }
    void show(const Box& box, const Box& paper);  // fits the box into that part of the paper
    bool operator==(const View&) const = default;
};

// For what lies on the paper only: keys, charts.
inline View bare_paper() { return {1, {0, 0}}; }
inline Point on_bare_paper(double x, double y_down) { return {x, -y_down}; }

struct Drawing {
    std::vector<Mark> marks;
    Mark& add(Layer layer, Path p);
    Mark& add(Layer layer, Disc d);
    Mark& add(Layer layer, Text t);
    void add(const Drawing& other);
};

std::shared_ptr<const Rings> rings_of(Rings rings);
Path closed(Rings rings, Stroke stroke, Fill fill = {});
Path closed(Polygon ring, Stroke stroke, Fill fill = {});
Path open(Polygon line, Stroke stroke);
// In paper units round a place.
Path symbol(Point at, Polygon ring, Stroke stroke, Fill fill = {});
Path stroke_at(Point at, Point from, Point to, Stroke stroke);
Polygon box_on_paper(double left, double bottom, double right, double top);

// Where marks fall on the paper: the same for painting and for picking.
Rings on_paper(const Path& path, const View& view);
Point on_paper(Point at, Point offset, const View& view);
bool inside(const Rings& rings, Point p);  // even–odd

// An estimate of how wide text comes out, paper units; drawn text may differ by a tenth.
double likely_width(const std::string& utf8, Size size = Size::small, bool bold = false);

// Things under a place of the paper, the topmost first, none twice. Areas that are filled are hit inside, lines and
// outlines within their reach.
std::vector<Thing> things_at(const Drawing& drawing, const View& view, Point paper);

// Where the marks of a thing lie on the paper; empty when it is not drawn.
Box extent_on_paper(const Drawing& drawing, const View& view, const Thing& thing);

}  // namespace mossbed
