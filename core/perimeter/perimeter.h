// Control perimeters round a loaded area, from geometry alone: their length and moments, what rims and openings take
// from them, where the slab is thinner than below the area, and the region that they enclose. Knows no design code; a
// code says how corners run and how openings shade (PerimeterRule), and which distances are looked at. Lengths in m.
// The loaded area is convex: a code asks for the shortest perimeter, which goes round the hull of any other.
#pragma once
#include <functional>
#include <memory>

#include "core/base/geometry.h"

namespace mossbed {

struct PerimeterRule {
    bool round_corners = true;  // else sides are prolonged until they meet
    // An opening nearer than `shade_within` to the loaded area takes from the perimeter what it hides from the centre;
    // one deeper (l1, along the ray) than wide (l2) hides as if √(l1 l2) wide.
    double shade_within = 0;  // m
    // Of sides that run towards a rim only the first part from the area's inner face is in the reduced length: so many
    // m, and so much of the area's size in that direction.
    double reduced_within = 1e300, reduced_share = 1e300;
    // Of the straight sides of a long area b × a (b ≤ a) only lengths near the corners count: b1 = min(b, short_side),
    // a1 = min(a, side_ratio · b, sides − b1).
    double side_ratio = 1e300, short_side = 1e300, sides = 1e300;
};

struct HalfPlane {
    Point on_line, inward;  // keeps dot(q − on_line, inward) ≥ 0
};

struct PunchedArea {
    Polygon outline;  // convex, anticlockwise
    Point centre;
    double c1 = 0.4, c2 = 0.4;  // sides along its own axes; a circle has its diameter in both
    bool round = false;
    double angle = 0;             // of its axes, degrees
    std::vector<HalfPlane> kept;  // perimeters end where a wall goes on
    bool one_column = true;       // its sides count as a column's do
};

// The slab round an area: its rims, what shades, and where it is thinner than below the area.
struct SlabAround {
    Polygon rim;                    // anticlockwise
    std::optional<Polygon> hole;    // of a ring
    std::vector<Polygon> openings;  // anticlockwise
    struct Thinner {
        double thickness = 0;  // m
        double beyond = 0;     // m from the step
    };
    // None where the slab is as thick as below the area, or thicker; not set where that holds everywhere near.
    std::function<std::optional<Thinner>(Point)> thinner;
};

// How a perimeter runs: closed round the area, or open, with its ends square to rims near by.
enum class Position { interior, edge, corner, wall_end, wall_corner };
struct PerimeterCourse {
    Position position = Position::interior;
    std::vector<Point> outward;   // unit vectors to the rims at which it ends
    std::vector<double> to_rims;  // m from the area
    bool leaves_slab = false;     // somewhere within the distances looked at
};
// The courses of perimeters up to `furthest` m: closed, and open to each rim near by, to two at a corner and to two
// that lie opposite. One that leaves the slab is there only where no rim is faced (at a re-entrant corner).
std::vector<PerimeterCourse> perimeter_courses(const PunchedArea& area, const SlabAround& slab, double furthest);

struct Perimeter {
    double a = 0;  // m from the loaded area
    Position position = Position::interior;
    bool one_sided = false;  // open to one side: axis 1 points to the rim, at a corner axis 2 to the other
    double length = 0;       // m, without what is shaded and what lies off the slab
    double unshaded = 0;     // m, with what is shaded
    double reduced = 0;      // m, by the rule for sides towards rims
    // Its axes in the plan and the size of the loaded area along them. They cross at the area's centre, of an open
    // perimeter at its own centroid, as e of the first moments is measured.
    Point axis1{1, 0}, axis2{0, 1};
    Point origin;  // from the area's centre
    double c1 = 0, c2 = 0;
    double first1 = 0, first2 = 0;    // ∫|e| dl about these axes, m²: e along axis 1, 2
    Point centroid;                   // of the line, along the axes, from the area's centre
    double second1 = 0, second2 = 0;  // ∫ e² dl about the centroid, m³
    bool shaded = false;
    bool shortened = false;  // a long column's sides do not count in full
    struct Thin {            // stretches in a thinner slab
        double length, thickness, beyond;
    };
    std::vector<Thin> thin;
    double first_along(Point axis) const;  // ∫|e| dl along another axis through the origin
    struct Piece {                         // straight: ends from the area's centre, and what of its length counts
        Point from, to;
        double length;
    };
    std::vector<Piece> pieces;  // where no formula serves
};

// Along which a point of a closed line moves as the line goes outward: from + a way.
struct OutwardRay {
    Point from, way;
};

class Perimeters {
  public:
    // Closed and wholly on the slab.
    Perimeters(PunchedArea area, const PerimeterRule& rule, const std::vector<Polygon>& openings);
    Perimeters(PunchedArea area, const PerimeterRule& rule, const SlabAround& slab, PerimeterCourse course);
    ~Perimeters();
    Perimeters(Perimeters&&) noexcept;
    Perimeter at(double a) const;
    std::vector<std::vector<Point>> lines(double a) const;  // what of it counts
    Polygon region(double a) const;  // convex; it may reach beyond the slab. Round corners as chords that keep the area
    Polygon outline(double a) const;  // of what of the region is slab
    const PunchedArea& area() const { return area_; }
    const PerimeterCourse& course() const { return course_; }

  private:
    struct Kept;
    struct Wedge {  // of directions that an opening shades
        double middle, half;
    };
    // Where the line turns round a corner, from one outward normal to the next; straight between two of them.
    struct Turn {
        Point at, before, after;
        double angle;
    };
    void add_wedge(const Polygon& opening, double within);
    bool closed_form(Perimeter& p) const;
    double share_that_counts(Point from, Point to) const;
    std::vector<Point> line(double a) const;
    PunchedArea area_;
    PerimeterRule rule_;
    PerimeterCourse course_;
    Polygon swept_;  // the area, swept to the rims at which perimeters end
    std::vector<OutwardRay> rays_;
    std::vector<Turn> turns_;  // of a line that a formula serves, circles apart
    std::vector<Wedge> shade_;
    double idle1_ = 0, idle2_ = 0;  // m along the sides about their middles that do not count
    std::unique_ptr<Kept> kept_;    // where lines count; none where all do
    double whole_before_ = 0;       // m: nearer perimeters count whole all the same
    std::function<std::optional<SlabAround::Thinner>(Point)> thinner_;
};

// The area swept to the rims at which perimeters end.
Polygon swept_to_rims(const PunchedArea& area, const PerimeterCourse& course);
// A convex polygon moved outward by `a`, corners round: its corners, and the ways they take as `a` grows. Its sides
// only move outward, none turns.
Polygon spread_out(const Polygon& convex, double a);
std::vector<OutwardRay> outward_rays(const Polygon& convex);
// The part of a convex polygon that half-planes keep.
Polygon kept_part(Polygon convex, const std::vector<HalfPlane>& kept);

}  // namespace mossbed
