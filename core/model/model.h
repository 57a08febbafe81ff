// The Model: everything the engineer states, as plain values. Copyable, comparable, cheap to keep for undo.
// Keys, units and signs are those of docs/format/README.md: m, kN, kN·m, kPa; MPa for concrete, steel and soil layers;
// mm for bars; levels are heights above the datum, z up; forces down and settlements down are positive.
// Every member starts with the default that a file without that key gets.
#pragma once
#include <array>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <variant>
#include <vector>

#include "core/base/geometry.h"
#include "core/base/shared_text.h"
#include "core/model/words.h"

namespace mossbed {

// Keys as the file had them: a known key with an empty text was stated there (so it is the engineer's own, even when it
// equals the default) and not named under "unset"; an unknown key with its JSON text is kept, so that a load and a save
// lose nothing.
using Keys = std::map<std::string, std::string>;

struct Settings {
    std::string design_code = "EN 1992-1-1";
    std::string combination_rules = "EN 1990";
    std::string national = "{}";  // JSON object, as text
    UnitSystem display_units = UnitSystem::metric;
    Keys keys;
    bool operator==(const Settings&) const = default;
};

struct Concrete {
    std::string id = "C30/37";
    double fck = 30;   // MPa
    double E = 33000;  // MPa
    double nu = 0.2;
    double unit_weight = 25;  // kN/m³
    Keys keys;
    bool operator==(const Concrete&) const = default;
};

struct Steel {
    std::string id = "B500";
    double fyk = 500;   // MPa
    double E = 200000;  // MPa
    Keys keys;
    bool operator==(const Steel&) const = default;
};

struct Stratum {
    std::string id, description;
    double unit_weight = 18, saturated_unit_weight = 20;  // kN/m³
    double E = 10;                                        // MPa
    double nu = 0.3;
    std::optional<double> E_reload;    // MPa
    std::optional<double> cu, phi, c;  // kPa, degrees, kPa
    std::optional<double> compression_index, recompression_index, void_ratio;
    std::optional<double> preconsolidation;  // kPa
    std::optional<double> cv;                // m²/year, of consolidation
    std::optional<double> drainage_path;     // m; none: half the layer's thickness
    std::string E_basis;                     // where E comes from; a proposal names its correlation
    Keys keys;
    bool operator==(const Stratum&) const = default;
};

struct BoreholeLayer {
    std::string stratum;
    double bottom = 0;  // level, m
    Keys keys;
    bool operator==(const BoreholeLayer&) const = default;
};

struct BlowCount {     // of a standard penetration test
    double level = 0;  // m
    double N = 0;      // blows for 0.3 m
    Keys keys;
    bool operator==(const BlowCount&) const = default;
};

struct Borehole {
    std::string id;
    Point at;
    std::optional<double> ground_level, water_level;  // m
    std::vector<BoreholeLayer> layers;
    std::vector<BlowCount> blow_counts;
    Keys keys;
    bool operator==(const Borehole&) const = default;
};

struct GroundPatch {
    std::string id;
    Polygon outline;
    double modulus = 20000;  // kN/m³
    Keys keys;
    bool operator==(const GroundPatch&) const = default;
};

struct Ground {
    GroundModel model = GroundModel::uniform;
    double modulus = 20000;  // of subgrade reaction, kN/m³
    bool tension = false;
    double allowable_pressure = 150;       // kPa
    AllowableIs allowable_is = AllowableIs::gross;
    double raised_in_wind = 1, raised_in_earthquake = 1;  // factors on the allowable where such a case acts
    std::optional<double> yield_pressure;                 // kPa; none: elastic in compression
    std::optional<Approach> resistance_approach;  // none: DA2 where the combinations are EN 1990's, else a global factor
    double resistance_factor = 3;                 // the global one
    Keys raised_keys, resistance_keys;
    double friction_angle_base = 25;       // degrees
    double adhesion_base = 0;              // kPa
    std::optional<double> ground_level, founding_level, water_level;
    SettlementMethod settlement_method = SettlementMethod::elastic;
    std::optional<double> rigid_base_level;
    double depth_limit_ratio = 0.2;
    bool excavation_relief = true;
    std::optional<std::string> combination_for_springs;
    std::vector<double> years = {1, 5, 25};  // at which consolidation is reported
    std::vector<Stratum> strata;
    std::vector<Borehole> boreholes;
    std::vector<GroundPatch> patches;
    Keys keys;
    bool operator==(const Ground&) const = default;
};

struct Circle {
    Point centre;
    double radius = 1;
    bool operator==(const Circle&) const = default;
};
struct Ring {
    Point centre;
    double inner = 1, outer = 2;
    bool operator==(const Ring&) const = default;
};
using Outline = std::variant<Polygon, Circle, Ring>;

// A ring of corners; where it was given as a circle, sides of some 0.3 m with the circle's area, and it says so until
// its corners are changed.
class Shape : public Polygon {
  public:
    Shape() = default;
    Shape(Polygon corners) : Polygon(std::move(corners)) {}
    Shape(std::initializer_list<Point> corners) : Polygon(corners) {}
    Shape(const Circle& c);
    std::optional<Circle> circle() const;
    bool operator==(const Shape&) const = default;

  private:
    std::optional<Circle> given_;
};

struct Opening {
    std::string id;
    Shape outline;
    Keys keys;
    bool operator==(const Opening&) const = default;
};

struct SlabPatch {
    std::string id;
    Shape outline;
    double thickness = 0.9;  // m
    Flush flush = Flush::top;
    std::string concrete;  // empty: the slab's
    Keys keys;
    bool operator==(const SlabPatch&) const = default;
};

struct Slab {
    Outline outline;
    std::vector<Opening> openings;
    double thickness = 0.6;  // m
    double top_level = 0.0;
    std::string concrete = "C30/37";
    bool self_weight = true;
    double stiffness_factor = 1;  // on E of the slab's concrete: cracked, long-term
    std::vector<SlabPatch> patches;
    Keys keys;
    bool operator==(const Slab&) const = default;
};

// Link legs round a column, evenly along perimeters one outside the other.
struct PunchingLinks {
    std::optional<double> diameter, legs, perimeters;  // mm; legs of each perimeter
    std::optional<double> spacing, first;  // mm between perimeters, and from the column's face; none: by the code
    Keys keys;
    bool operator==(const PunchingLinks&) const = default;
    bool stated() const { return diameter || legs || perimeters || spacing || first; }
    bool whole() const { return diameter && legs && perimeters && spacing; }
};

struct Column {
    std::string id;
    Point at;
    ColumnShape shape = ColumnShape::rectangle;
    std::vector<double> size = {0.4, 0.4};  // m; [diameter] for a circle
    double angle = 0;                       // degrees
    double pedestal_height = 0;
    bool stiff_footprint = true;
    std::optional<double> starter_diameter, starter_number;  // mm; of bars that hold it in the slab
    Keys starter_keys;
    PunchingLinks links;
    Keys keys;
    bool operator==(const Column&) const = default;
    double smaller_size() const { return size.size() > 1 ? std::min(size[0], size[1]) : size[0]; }
    bool round() const { return shape == ColumnShape::circle; }
};

struct Wall {
    std::string id;
    std::vector<Point> path;
    double thickness = 0.25, height = 3;
    bool stiffens = true;
    double stiffness_factor = 1;  // on E of its concrete: openings, cracks
    Keys keys;
    bool operator==(const Wall&) const = default;
};

struct Rib {
    std::string id;
    std::vector<Point> path;
    double width = 0.4, depth = 1.0;
    Flush flush = Flush::bottom;
    std::string concrete;
    OverOpenings over_openings = OverOpenings::stop;
    double stiffness_factor = 1;  // on E of its concrete
    Keys keys;
    bool operator==(const Rib&) const = default;
};

struct Pile {
    std::string id;
    Point at;
    double diameter = 0.6, length = 10;
    std::optional<double> stiffness, capacity_compression, capacity_tension;
    std::optional<std::string> concrete;
    Keys keys;
    bool operator==(const Pile&) const = default;
};

struct ColumnLoad {
    std::string column;
    double N = 0, Mx = 0, My = 0, Hx = 0, Hy = 0;
    bool operator==(const ColumnLoad&) const = default;
};
struct PointLoad {
    Point at;
    double N = 0, Mx = 0, My = 0;
    bool operator==(const PointLoad&) const = default;
};
struct LineLoad {
    std::vector<Point> path;        // two or more points
    std::array<double, 2> q{0, 0};  // kN/m at the two ends of the whole path
    bool operator==(const LineLoad&) const = default;
};
struct WallLoad {
    std::string wall;
    double q = 0;  // kN/m
    bool operator==(const WallLoad&) const = default;
};
struct RibLoad {
    std::string rib;
    double q = 0;
    bool operator==(const RibLoad&) const = default;
};
struct FillDepth {                      // soil on the slab or what stands in it, as depth × unit weight
    double depth = 0, unit_weight = 0;  // m, kN/m³
    double pressure() const { return depth * unit_weight; }
    bool operator==(const FillDepth&) const = default;
};
struct PileLoad {  // on a pile itself, such as negative skin friction
    std::string pile;
    double N = 0;
    bool operator==(const PileLoad&) const = default;
};
struct AreaLoad {
    Polygon outline;
    double p = 0;                        // kPa
    std::optional<FillDepth> fill = {};  // in place of p
    double pressure() const { return fill ? fill->pressure() : p; }
    bool operator==(const AreaLoad&) const = default;
};
struct SlabLoad {
    double p = 0;  // kPa
    std::optional<FillDepth> fill = {};
    double pressure() const { return fill ? fill->pressure() : p; }
    bool operator==(const SlabLoad&) const = default;
};
struct Uplift {
    double to_level = 0;  // water pressure on the true underside up to this level
    bool operator==(const Uplift&) const = default;
};
struct LoadItem {
    std::variant<ColumnLoad, PointLoad, LineLoad, WallLoad, RibLoad, AreaLoad, SlabLoad, Uplift, PileLoad> load;
    Keys keys;
    bool operator==(const LoadItem&) const = default;
};

struct LoadCase {
    std::string id, title;
    Action action = Action::permanent;
    std::string category = "B";
    bool reversible = false;
    std::string group;                   // cases of one group never act together; empty: of none
    std::optional<Direction> direction;  // of an earthquake, for its pairs of 100 % and 30 %
    std::vector<LoadItem> items;
    Keys keys;
    bool operator==(const LoadCase&) const = default;
};

struct Combination {
    std::string id, title;
    Purpose purpose = Purpose::service;
    std::map<std::string, double> factors;
    std::optional<Frequency> frequency;
    Safety safety = Safety::global;
    bool active = true;
    std::optional<std::string> generated_by;
    Keys keys;
    bool operator==(const Combination&) const = default;
};

struct Loads {
    std::vector<LoadCase> cases;
    // None: the rules of settings.combination_rules write them. An empty list means none.
    std::optional<std::vector<Combination>> combinations;
    std::string rules;  // the engineer's copy of a rule file, JSON as text; empty: as it comes (codes/rules.h)
    Keys keys;
    bool operator==(const Loads&) const = default;
};

// Bars of one face and direction. Where nothing is stated the program chooses.
struct Bars {
    std::optional<double> diameter, spacing;  // mm
    bool stated() const { return diameter && spacing; }
    bool operator==(const Bars&) const = default;
};

struct ExtraBars {
    std::string id;
    Polygon outline;
    Face face = Face::bottom;
    Direction direction = Direction::x;
    double diameter = 16, spacing = 200;
    bool held_at_rims = false;  // lapped with U-bars where they end at a rim or an opening, and so anchored there
    Keys keys;
    bool operator==(const ExtraBars&) const = default;
};

struct ShearLinks {  // an area of link legs
    std::string id;
    Polygon outline;
    double diameter = 10, spacing = 200;  // mm; between legs, both ways
    Keys keys;
    bool operator==(const ShearLinks&) const = default;
};

struct Strip {
    std::string id;
    Direction direction = Direction::x;
    std::array<Point, 2> axis;
    std::array<double, 2> reach{1, 1};  // m, left and right of the axis
    Keys keys;
    bool operator==(const Strip&) const = default;
};

struct Reinforcement {
    std::string steel = "B500";
    double angle = 0;                          // degrees, anticlockwise: of "x" of bars and of strips laid out
    double cover_top = 40, cover_bottom = 50;  // mm, to the outermost bar
    Direction outer_top = Direction::x, outer_bottom = Direction::x;
    Bars top_x, top_y, bottom_x, bottom_y;
    std::vector<ExtraBars> extra;
    std::vector<ShearLinks> links;
    std::optional<std::vector<Strip>> strips;  // none: laid out automatically
    bool minimum_on_both_faces = true;
    DesignedBy designed_by = DesignedBy::strips;
    std::optional<double> averaged_over;  // m, across the bars, of moments by points; none: a cell of the mesh
    bool twisting = true;                                  // strips are designed for mx ± |mxy|; off: mx alone
    std::vector<double> sizes = {10, 12, 16, 20, 25, 32};  // mm, to choose from
    std::vector<double> spacings = {100, 125, 150, 175, 200, 225, 250};  // mm
    double stock_length = 12;                                            // m: longer bars are lapped
    std::optional<double> most_marks;  // groups of like bars, base and extra, that the program may put together
    Keys keys, base_keys;
    bool operator==(const Reinforcement&) const = default;
    const Bars& base(Face f, Direction d) const {
        return f == Face::top ? (d == Direction::x ? top_x : top_y) : (d == Direction::x ? bottom_x : bottom_y);
    }
    Bars& base(Face f, Direction d) { return const_cast<Bars&>(std::as_const(*this).base(f, d)); }
};
// Along the bars of a direction, in the plan.
inline Point along_bars(const Reinforcement& r, Direction d) {
    return turned(d == Direction::x ? Point{1, 0} : Point{0, 1}, r.angle);
}

struct Limits {
    std::optional<double> settlement_limit = 0.050;  // m
    std::optional<double> distortion_limit = 0.002, tilt_limit = 0.002;
    std::optional<double> contact_ratio_limit;
    std::optional<double> crack_width_limit = 0.3;  // mm
    double sliding_factor = 1.5, overturning_factor = 1.5, flotation_factor = 1.1;
    Keys keys;
    bool operator==(const Limits&) const = default;
};

struct SettingOutLine {  // what things are laid out from and named after
    std::string id;
    std::vector<Point> path;
    Keys keys;
    bool operator==(const SettingOutLine&) const = default;
};

struct Underlay {  // a picture that lies dimmed behind the plan; nothing rests on it
    std::string id;
    std::string file;       // as named from the model's folder, or from the root
    Point at;               // its lower left corner
    double width = 20;      // m, of the picture on the ground
    double angle = 0;       // degrees, about that corner
    double strength = 0.4;  // 0 nothing, 1 in full
    Keys keys;
    bool operator==(const Underlay&) const = default;
};

struct Model {
    std::string title;
    SharedText notes;
    Settings settings;
    std::vector<Concrete> concretes{Concrete{}};
    std::vector<Steel> steels{Steel{}};
    Ground ground;
    Slab slab;
    std::vector<Column> columns;
    std::vector<Wall> walls;
    std::vector<Rib> ribs;
    std::vector<Pile> piles;
    std::vector<SettingOutLine> setting_out;
    std::vector<Underlay> underlays;
    Loads loads;
    double mesh_size = 0.5;  // m
    Reinforcement steel;
    Limits checks;
    Keys keys, mesh_keys;
    bool operator==(const Model&) const = default;
};

// Look-ups. None of them throws; they give nullptr when there is no such id.
template <class T>
const T* find_id(const std::vector<T>& list, const std::string& id) {
    for (const T& t : list)
        if (t.id == id) return &t;
    return nullptr;
}
template <class T>
T* find_id(std::vector<T>& list, const std::string& id) {
    return const_cast<T*>(find_id(std::as_const(list), id));
}
const Concrete& concrete_of(const Model& m, const std::string& id);  // the slab's or a default when unknown
const Steel& steel_of(const Model& m);

// The outer rim as an anticlockwise polygon; circles as area-equal polygons with sides near `chord` (m).
Polygon outer_rim(const Outline& outline, double chord);
std::optional<Polygon> inner_rim(const Outline& outline, double chord);  // of a ring
Polygon footprint(const Column& c);                                      // plan shape, anticlockwise; round: 32 sides
Polygon body_of(const Wall& w, size_t piece);                            // of its straight piece from that point on
// Plan shapes of the straight pieces of a path of this width, mitred where they meet; a path whose ends meet is closed.
std::vector<Polygon> bodies_along(const std::vector<Point>& path, double width);
bool has_slab(const Model& m);                            // false: its outline is not drawn yet
double net_area(const Model& m);                          // slab less openings, m²
bool on_slab(const Model& m, Point p);                    // inside the rim and in no opening
double thickness_at(const Model& m, Point p);             // of slab and patches; the later patch wins
double underside_at(const Model& m, Point p);             // level of the true underside there
double underside_of(const Model& m, const SlabPatch* t);  // of one patch, or of the slab (nullptr)
double founding_level(const Model& m);                    // stated, or the slab's underside
std::string fresh_id(const std::string& stem, const std::vector<std::string>& taken);  // "C4" when C1…C3 are taken

}  // namespace mossbed
