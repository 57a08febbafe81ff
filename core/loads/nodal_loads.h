// From load items to what acts on the slab: pieces that can be cut and summed, and consistent nodal loads.
// Forces down are positive, kN; moments are vectors about +x and +y by the right-hand rule, kN·m; pressures kPa.
#pragma once
#include <Eigen/Dense>
#include <string>
#include <vector>

#include "core/base/problem.h"
#include "core/mesh/mesh.h"
#include "core/mesh/unknowns.h"
#include "core/model/model.h"

namespace mossbed {

// Fz down, Mx, My about the plan origin at the underside of the slab: a force N at (x, y) has Mx = −N·y, My = +N·x.
struct Resultant {
    double Fz = 0, Mx = 0, My = 0;
    Resultant& operator+=(const Resultant& o) { return Fz += o.Fz, Mx += o.Mx, My += o.My, *this; }
    friend Resultant operator*(double f, const Resultant& r) { return {f * r.Fz, f * r.Mx, f * r.My}; }
    // The same with its moments about another point of the plan.
    Resultant about(Point p) const { return {Fz, Mx + Fz * p.y, My - Fz * p.x}; }
    Point landing() const { return {My / Fz, -Mx / Fz}; }  // where a downward force lands; only for Fz ≠ 0
};

struct AreaPiece {  // pressure p = a + b·(q − origin) over a polygon that lies in one element, kPa
    Polygon outline;
    int element = -1;
    Point origin;
    double a = 0;
    Point b;
    double couple_x = 0, couple_y = 0;  // moment about +x and +y per area, kN·m/m²: turns the cross-section
    bool of_column = false;
    double at(Point q) const { return a + dot(b, q - origin); }
};
struct LinePiece {  // from q0 to q1, kN/m, along a segment in one element
    Point from, to;
    int element = -1;
    double q0 = 0, q1 = 0;
};
struct PointPiece {
    Point at;
    int element = -1;
    double N = 0, Mx = 0, My = 0;
};

// What one item of a case does, or the weight that a case carries, as written: what presses down and what pulls up, each
// where it acts; its moment, and its horizontals with their lever down to the underside (m). As checks of stability
// take loads, one by one.
struct Act {
    Resultant down, up;  // of forces alone; Fz of `up` is negative
    double Mx = 0, My = 0, Hx = 0, Hy = 0, lever = 0;
    bool is_water = false;  // on the underside
};

// What one load case puts on the slab.
struct CaseLoads {
    std::vector<double> pressure;  // per element, kPa down, even over the element: slab loads, weight, water
    std::vector<AreaPiece> areas;
    std::vector<LinePiece> lines;
    std::vector<PointPiece> points;
    Resultant stated;        // of all items as written, wherever they act
    Resultant on_slab;       // of what the mesh carries
    double self_weight = 0;  // kN, part of it
    double uplift = 0;       // kN up by water, part of it
    double Hx = 0, Hy = 0;   // kN
    std::vector<Act> acts;
};

struct ColumnForce {  // what comes down one column in one case, at the underside of the slab
    double N = 0, Mx = 0, My = 0, Hx = 0, Hy = 0;
    ColumnForce& add(double f, const ColumnForce& o) {
        N += f * o.N, Mx += f * o.Mx, My += f * o.My, Hx += f * o.Hx, Hy += f * o.Hy;
        return *this;
    }
};

// One entry a case, in the order of the model. `lost` gets a warning for each item that does not wholly land on the
// slab.
std::vector<CaseLoads> case_loads(const Model& model, const Mesh& mesh, const Finder& finder,
                                  std::vector<Problem>& lost);

// Nodal loads of all cases, a column a case: forces down, and what works on the slopes bx, by.
Eigen::MatrixXd nodal_loads(const Unknowns& of, const Mesh& mesh, const std::vector<CaseLoads>& cases);

// Of nodal loads.
Resultant resultant_of(const Unknowns& of, const Eigen::VectorXd& loads, const std::vector<Point>& nodes);

// Per case (outer) and column (inner).
std::vector<std::vector<ColumnForce>> column_forces(const Model& model);

}  // namespace mossbed
