// A slab on ground that pushes and, as a rule, cannot pull.
// Finds the unknowns x (s down, slopes; see plate/element.h) of every combination so that
//     K x + A p(s) = f,   p = k s where 0 < s,  p = 0 where s ≤ 0,  p = p_y where k s > p_y
// with A the nodes' tributary areas. This is the minimum of a convex energy; the active set (semi-smooth Newton) method
// of Hintermüller, Ito and Kunisch (2002) finds it. All combinations go in lockstep: one factor of K + A k (full
// contact) preconditions an inexact Newton step for every combination at once, one block of right-hand sides a round.
// No product with K is needed, since K p follows from the recurrence of conjugate gradients and lifted springs are a
// diagonal correction. A line search on the energy, exact for its piecewise quadratic, makes it safe. A node's spring
// acts at the settlement s + b·offset, where the offset leads half way to the centroid of the node's tributary share:
// nil inside, a sixth of a cell at a rim. With springs at the nodes themselves a rigid base would be too stiff in
// rotation by 2 (h/B)², 5 % for three metres at half a metre; so it is exact for a slab that stays plane. Sound once
// equilibrium exists (equilibrium.h). Knows no cases and no codes. Units kN, m, kPa.
#pragma once
#include <Eigen/Dense>
#include <functional>
#include <optional>
#include <vector>

#include "core/base/progress.h"
#include "core/plate/factor.h"
#include "core/solve/equilibrium.h"

namespace mossbed {

struct Bed {
    std::vector<double> area;             // tributary, m², per node
    std::vector<Point> offset;            // m, per node
    std::vector<double> modulus;          // kN/m³, per node: the mean over its tributary share
    std::vector<double> element_modulus;  // kN/m³, per element, where it changes from one to the next; else empty
    bool tension = false;
    std::optional<double> yield;  // kPa
};

struct ContactState {  // of one combination; an invariant: x is finite once ending is `solved`
    Ending ending = Ending::not_solved;
    Eigen::VectorXd x;
    std::vector<double> pressure;  // kPa per node: modulus times its settlement where it presses
    std::vector<double> spring;    // kPa per node: the spring's force over its area
    int newton_steps = 0;          // changes of the contact area looked at
    int rounds = 0;                // solutions with the factor
    double residual = 0;           // largest unbalanced nodal force over the largest applied, from a product with K
    double equilibrium_error = 0;  // of the three sums, over the size of the loads
};

// Asked once, with the columns of `loads` that lift in the linear answer: estimates of the settlement at each node (a
// column each), from a coarser mesh say. Only where they are negative do they matter.
using Estimate = std::function<Eigen::MatrixXd(const std::vector<int>& columns)>;

// `plate`: K. `factor`: of with_springs(K). `loads`: a column a combination. `tolerance`: of the residual in the norm
// of the factor over that of the loads. Throws Stopped.
std::vector<ContactState> find_contact(const SparseLower& plate, const Factor& factor, const Bed& bed,
                                       const std::vector<Point>& nodes, const Eigen::MatrixXd& loads,
                                       const Progress& progress, double tolerance = 1e-11,
                                       const Estimate& estimate = {});

// K with the springs of full contact added.
SparseLower with_springs(const SparseLower& plate, const Bed& bed);

}  // namespace mossbed
