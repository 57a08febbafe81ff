// Things of the plan put elsewhere: moved, turned, mirrored, copied in rows. What hangs on a thing by its id goes with
// it; so does what lies on it by its place: area loads and extra bars that have a patch's or opening's outline, line
// loads along a wall or rib, point loads on a column's footprint, strips along a row of columns and bars round columns
// that all move. Forces keep their directions: a column that is turned stands in the same building. Lengths in m.
#pragma once
#include "core/model/model.h"
#include "core/model/thing.h"

namespace mossbed {

// A rigid motion of the plan, mirrored or not: p ↦ p.x x + p.y y + shift.
struct Placement {
    Point x{1, 0}, y{0, 1}, shift;
    Point direction(Point d) const { return d.x * x + d.y * y; }
    Point of(Point p) const { return direction(p) + shift; }
    bool mirrors() const { return cross(x, y) < 0; }
    bool only_moves() const { return x == Point{1, 0} && y == Point{0, 1}; }

    static Placement moved(Point by) { return {{1, 0}, {0, 1}, by}; }
    static Placement turned(Point about, double degrees);   // anticlockwise
    static Placement mirrored(Point on_line, Point along);  // in the line through a point
};

// nx places along `dx` and ny along `dy`, the first of which is where the thing stands and is left out. Fewer than one
// counts as one.
std::vector<Placement> rows_of(int nx, Point dx, int ny, Point dy);

// What can be moved, turned and mirrored; boreholes and the slab's sides and corners too. Others are left alone.
Model placed(Model model, const Things& things, const Placement& by);

// Copies with names of their own ("C4" after C1 to C3), at each of the places. With their loads, those of the cases are
// added for each copy. Not copied: boreholes, sides and corners of the slab.
Model with_copies(Model model, const Things& things, const std::vector<Placement>& places, bool with_loads,
                  Things* made = nullptr);

// Of a line load its points, of an area load its corners; none of others.
std::vector<Point> corners_of_load(const LoadItem& item);

// The middle of the box round all of them; nothing where there is none.
std::optional<Point> middle_of(const Model& model, const Things& things);

// Outlines grow by so much on all sides, paths move to their left; `as_copy` leaves the old ones. Why not, empty when
// it is done. Kinds: openings, patches, ground patches, extra bars, links; walls, ribs, setting-out lines.
std::string offset(Model& model, const Things& things, double by, bool as_copy, Things* made = nullptr);

}  // namespace mossbed
