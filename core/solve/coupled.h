// A slab on layered ground whose settlement bowl and whose contact pressures fit each other. With r the forces of the
// contact patches, B x the plate's mean settlement over each patch and s(r) that of the ground,
//     K x + Rᵀ r = f,    lower ≤ r ≤ upper,    s(r) = B x where lower < r < upper,
//     s(r) ≥ B x where r = lower (lifted),     s(r) ≤ B x where r = upper (yielding)
// Rᵀ spreads a patch's force over the nodes by the shape functions. lower is 0 unless the ground may pull. With Ka = K
// + Bᵀ D B factored once, D springs of the right size, the plate is eliminated: B x = B Ka⁻¹ (f − Rᵀ r + Bᵀ D σ), σ
// being s where the patch is in contact and its own settlement u elsewhere; what is left is solved by GMRES (Saad and
// Schultz 1986), scaled by D, inside a semi-smooth Newton (active set) method safeguarded by a line search on the
// complementarity residual. The flexibility need not be symmetric. All combinations go in lockstep: one product with it
// and one block of right-hand sides a round. Where strain is logarithmic, the rows of the flexibility are scaled to the
// true settlements in an outer loop (secant). Units kN, m, kPa.
#pragma once
#include "core/ground/layered_ground.h"
#include "core/solve/contact.h"

namespace mossbed {

struct CoupledState {
    Ending ending = Ending::not_solved;
    Eigen::VectorXd x;
    std::vector<double> force;       // kN per patch
    std::vector<double> settlement;  // m per patch: the ground's
    double compatibility = 0;        // largest |s − B x| in contact over the largest settlement
    int newton_steps = 0, rounds = 0, outer = 0;
    double residual = 0;           // largest unbalanced nodal force over the largest applied, from a product with K
    double equilibrium_error = 0;  // of the three sums, over the size of the loads
};

// The plate's side: patches, their springs D (kN/m) for the factor, and the bounds of pressure.
struct CoupledBed {
    const ContactPatches* patches = nullptr;
    std::vector<double> spring;
    bool tension = false;
    std::optional<double> yield;  // kPa
};

using GroundSettlements = std::function<Eigen::MatrixXd(const Eigen::MatrixXd& forces, Eigen::MatrixXd* rate)>;

// K + Bᵀ D B, with the pattern that asks for.
SparseLower with_patch_springs(const SparseLower& plate, const CoupledBed& bed);

// `ground_settlements`: the true s(r) of patch forces, a column each, and how much faster than by the flexibility it
// grows with them (only asked for with `logarithmic`). `factor`: of with_patch_springs. `nodes`: of the
// mesh. `tolerance`: of the scaled residual over the loads; products are good to 1e-7. `start`: pressures of the
// patches to begin with, kPa, a column each, from a coarser mesh say; a column of zeros is not looked at. Throws
// Stopped.
std::vector<CoupledState> find_coupled_contact(const SparseLower& plate, const Factor& factor, const CoupledBed& bed,
                                               const Flexibility& flexibility,
                                               const GroundSettlements& ground_settlements, bool logarithmic,
                                               const std::vector<Point>& nodes, const Eigen::MatrixXd& loads,
                                               const Progress& progress, double tolerance = 3e-6,
                                               const Eigen::MatrixXd& start = {});

}  // namespace mossbed
