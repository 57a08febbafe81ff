// A slab on supports that push and, as a rule, cannot pull: finds the unknowns x (s down, slopes; see plate/element.h)
// and the supports' forces r of every combination, with B x the settlements that they see and Rᵀ r the nodal loads with
// which they press up,
//     K x + Rᵀ r = f,   lowest ≤ r ≤ highest
// On springs of their own r = k B x within those bounds (on_springs.cpp says how). Joined through the ground by a
// flexibility the settlement of the ground under all forces fits the slab's instead (coupled.cpp). Either way sums over
// the whole slab are closed to rounding, and "solved" is said of what balances. Sound once equilibrium exists
// (equilibrium.h). Knows no cases and no codes. Units kN, m, kPa.
#pragma once
#include <Eigen/Dense>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "core/base/progress.h"
#include "core/contact/equilibrium.h"
#include "core/contact/supports.h"
#include "core/ground/index_strain.h"
#include "core/plate/factor.h"

namespace mossbed {

struct ContactSystem {
    const Unknowns& of;
    const SparseLower& plate;  // K
    const Factor& factor;      // of supports.with_springs(plate)
    const Supports& supports;
    const std::vector<Point>& nodes;
};

struct ContactState {  // of one combination; an invariant: x is finite once ending is `solved`
    Ending ending = Ending::not_solved;
    Eigen::VectorXd x;
    std::vector<double> force;     // kN per support
    int newton_steps = 0;          // changes of the contact area looked at
    int rounds = 0;                // solutions with the factor
    double residual = 0;           // largest unbalanced nodal force over the largest applied, from a product with K
    double equilibrium_error = 0;  // of the three sums, over the size of the loads
    // With a flexibility only:
    std::vector<double> settlement;        // m per support: the ground's
    double compatibility = 0;              // largest |s − B x| in contact over the largest settlement
    int outer = 0;                         // rounds of the outer loop where strain is logarithmic
    std::optional<long> without_yield_of;  // searched again without that bound: the column of its loads
};

// Asked once, with the columns of `loads` that lift in the linear answer: estimates of the settlement at each support
// (m, a column each), from a coarser mesh say, and of which columns there is one.
struct Estimated {
    Eigen::MatrixXd settlement;
    std::vector<char> known;
};
using Estimate = std::function<Estimated(const std::vector<int>& columns)>;

class Neighbours;  // near_inverse.h

// The ground that joins the supports, each on one contact patch.
struct GroundCoupling {
    const ContactPatches& patches;
    const Flexibility& flexibility;
    const IndexStrain* index = nullptr;                                 // where strain is not in proportion to stress
    std::shared_ptr<const Neighbours> near{};                           // of both; made where there is none
    Eigen::MatrixXd settlements(const Eigen::MatrixXd& forces) const {  // the true ones, a column each
        const Eigen::MatrixXd s = flexibility.settlements(forces);
        return index ? index->settlements(s, forces) : s;
    }
};

// Where to begin with a ground: forces of the supports (kN) and the plate's settlements there (m), a column each.
struct ContactStart {
    Eigen::MatrixXd force, seen;
    std::vector<char> known;  // per column; the others begin in full contact
};

// Which columns are searched again once they are found and ground yields somewhere, on ground that bears any pressure.
// Each begins from what was found and, where known, what an earlier search had more.
struct AgainWithoutYield {
    std::vector<char> wanted;  // per column
    ContactStart more;
};

struct ContactOptions {
    double tolerance = 1e-11;  // of the residual over the loads; with a ground, whose products are good to 1e-7: 3e-6
    Estimate estimate{};       // on springs
    const GroundCoupling* ground = nullptr;
    ContactStart start{};
    AgainWithoutYield again{};  // with a ground only
};

// `loads`: a column a combination. A state for each, then those without yield. Throws Stopped.
std::vector<ContactState> find_contact(const ContactSystem& system, const Eigen::MatrixXd& loads,
                                       const ContactOptions& options, const Progress& progress = {});

// Largest unbalanced nodal force over the largest load: the residual of a state.
double share_of_largest(const Unknowns& of, const Eigen::VectorXd& unbalanced, const Eigen::VectorXd& loads);

// The two ways, for each its file.
std::vector<ContactState> find_contact_on_springs(const ContactSystem& system, const Eigen::MatrixXd& loads,
                                                  const ContactOptions& options, const Progress& progress);
std::vector<ContactState> find_coupled_contact(const ContactSystem& system, const Eigen::MatrixXd& loads,
                                               const ContactOptions& options, const Progress& progress);

}  // namespace mossbed
