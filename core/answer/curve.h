// Load against settlement: one combination scaled from nought to a factor, every load of it, weight too, with contact,
// uplift and yield found anew at each step. It shows how near the end is.
#pragma once
#include "core/answer/solve.h"

namespace mossbed {

struct CurveOptions {
    std::string combination;
    double to = 2;
    int steps = 20;
    std::vector<Point> points;  // on the slab; none: those of `curve_points`
};
struct CurveStep {
    double factor = 0;
    Ending ending = Ending::not_solved;
    std::vector<double> settlement;  // m, a point each; not numbers where there is no equilibrium
    double contact_ratio = not_a_number, yield_ratio = not_a_number;
    double max_pressure = not_a_number;  // kPa
    double ground = not_a_number;        // kN that the ground carries
};
struct Curve {
    std::string combination;
    std::vector<Point> points;
    std::vector<std::string> names;  // of the points: "middle", "C7", "(3.0, 4.0)"
    std::vector<CurveStep> steps;    // rising; it ends with the first that has no equilibrium
    std::string explanation;         // why it ends there; empty where it does not
    bool reaches_nothing() const { return steps.empty() || steps.front().ending != Ending::solved; }
};

// The middle of the base, the rim on both sides of it along x and y, and the column that settles most in that
// combination of the answer.
std::vector<std::pair<std::string, Point>> curve_points(const Fields& fields, const std::string& combination);

// Where it ends between two steps, that place is found to a hundredth of a step. `previous`: an answer to this model,
// whose mesh and stiffness are taken; may be none. Throws Trouble where the model cannot be solved, there is no such
// combination or a point is not on the slab, Stopped when asked to stop.
Curve load_settlement_curve(const Model& model, const CurveOptions& options, const Answer* previous = nullptr,
                            const Progress& progress = {});

}  // namespace mossbed
