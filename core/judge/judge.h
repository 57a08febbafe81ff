// Judges what is solved: every check that a Model asks for, as rows of the Ledger, worst first, and the steel that the
// slab gets. What cannot be checked stands there too.
#pragma once
#include <functional>
#include <memory>

#include "core/base/progress.h"
#include "core/fields/fields.h"
#include "core/fields/member_lines.h"
#include "core/steel/strips.h"
#include "core/working/row.h"

namespace mossbed {

struct StripDemand;
struct PunchingDemand;

struct PunchingAnswer {  // of one column, wall, point or group in its governing combination; kN, m, MPa
    std::string id, combination;
    double perimeter = 0, V = 0, relief = 0, V_net = 0;
    std::optional<double> beta;
    double v_from_moment = 0, v = 0, v_limit = 0, utilisation = 0;
    struct FaceStress {
        double v = 0, v_limit = 0, utilisation = 0;
    };
    std::optional<FaceStress> face;
    std::string governs = "perimeter";  // "face", "step"
    std::string position = "interior";  // "edge", "corner", "wall-end", "wall-corner"
    Polygon outline;
    // For looking at it: how far from the area, the effective depth under it, where that stands, what of the perimeter
    // counts, the stress at a place of that, MPa, and what comes down a single column.
    double a = 0, d = 0;
    Point centre;
    Polygon loaded;
    std::vector<std::vector<Point>> lines;
    std::function<double(Point)> stress_at;
    std::optional<ColumnForce> force;
    std::vector<Point> link_legs;  // round single columns: where they stand, evenly along their perimeters
    // The use by each combination as listed; not numbers where nothing acts or it is none of strength.
    std::vector<float> uses;
};

// The stress along what counts of a perimeter, by direction from the area's middle: degrees from +x, anticlockwise.
struct StressInDirection {
    double direction = 0, v = 0;  // MPa
};
std::vector<StressInDirection> stresses_round(const PunchingAnswer& p);

// What knows neither concrete's design nor bars: the rows of one solution and model, for an answer to go on from in
// which only steel changed.
struct RowsWithoutSteel {
    std::shared_ptr<const Solution> solution;
    std::shared_ptr<const Loading> loading;
    Model of;  // without its steel
    std::vector<std::vector<Row>> by_judge;
};

struct Judgement {
    std::vector<Row> checks;  // worst first
    SteelAnswer steel;
    std::vector<PunchingAnswer> punching;
    std::vector<MemberLine> members;  // forces along ribs and stiffening walls; none in coarse answers
    // What strips and columns are asked to carry, for an answer to the same solution to go on from; none without
    // design.
    std::shared_ptr<const StripDemand> demand;
    std::shared_ptr<const StripDemand> shear_demand;  // of one-way shear: the same, unless bars are designed by points
    std::shared_ptr<const PunchingDemand> punching_demand;
    std::shared_ptr<const RowsWithoutSteel> without_steel;
};

// Of coarse fields only what needs neither concrete nor steel. `before`: an earlier judgement, perhaps none; what it
// knows of the same solution is taken over. Throws Stopped.
Judgement judge(const Fields& fields, const Judgement* before, const Progress& progress);

// The checks by which one answer is compared with another, with their titles: the worst row of each counts.
struct Compared {
    const char *id, *title;
};
const std::vector<Compared>& compared_checks();

// The order of the Ledger: worst first.
void rank_rows(std::vector<Row>& rows);

}  // namespace mossbed
