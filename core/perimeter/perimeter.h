// Control perimeters round a loaded area, from geometry alone: their length and moments, what openings take from them,
// and the outline that they enclose. Knows no design code; a code says how corners run and how openings shade
// (PerimeterRule), and which distances are looked at. Lengths in m. The loaded area is convex; perimeters that leave
// the slab are the caller's to refuse.
#pragma once
#include "core/base/geometry.h"

namespace mossbed {

struct PerimeterRule {
    bool round_corners = true;  // else sides are prolonged until they meet
    // An opening nearer than `shade_within` to the loaded area takes from the perimeter what it hides from the centre;
    // one deeper (l1, along the ray) than wide (l2) hides as if √(l1 l2) wide.
    double shade_within = 0;  // m
};

struct PunchedArea {
    Polygon outline;  // convex, anticlockwise
    Point centre;
    double c1 = 0.4, c2 = 0.4;  // sides along its own axes; a circle has its diameter in both
    bool round = false;
    double angle = 0;  // of its axes, degrees
};

struct Perimeter {
    double a = 0;                     // m from the loaded area
    double length = 0;                // m, without what is shaded
    double first1 = 0, first2 = 0;    // ∫|e| dl about the area's axes through its centre, m²: e along axis 1, 2
    Point centroid;                   // of the line, along the axes, from the centre
    double second1 = 0, second2 = 0;  // ∫ e² dl about the centroid, m³
    bool shaded = false;
};

class Perimeters {
  public:
    Perimeters(PunchedArea area, const PerimeterRule& rule, const std::vector<Polygon>& openings);
    Perimeter at(double a) const;
    Polygon outline(double a) const;  // closed, round corners as chords that keep the area
    const PunchedArea& area() const { return area_; }

  private:
    struct Wedge {  // of directions that an opening shades
        double middle, half;
    };
    bool is_shaded(Point from_centre) const;
    void add_wedge(const Polygon& opening, double within);
    bool closed_form(Perimeter& p) const;
    PunchedArea area_;
    PerimeterRule rule_;
    std::vector<Wedge> shade_;
};

// A convex polygon moved outward by `a`, corners round.
Polygon spread_out(const Polygon& convex, double a);

}  // namespace mossbed
