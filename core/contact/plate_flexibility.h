// What the plate on the springs of its factor settles at the supports, as they see it, under forces there (contact.h):
//     B Ka⁻¹ (Rᵀ r − Bᵀ t),  Ka = K + Bᵀ D B;  kN, m
// For steps of a search: in single precision where the factor keeps its numbers so, and then eight or sixteen columns
// side by side from the forces to the settlements.
#pragma once
#include "core/contact/contact.h"

namespace mossbed {

class PlateFlexibility {
  public:
    explicit PlateFlexibility(const ContactSystem& system);  // whose parts must outlive it
    // Under forces r, spread as the supports press, and t, as they see, kN, a column each: m. Good to some 1e-4 of the
    // largest, as Factor::solve_in_single says.
    Eigen::MatrixXd settlements(const Eigen::MatrixXd& r, const Eigen::MatrixXd& t) const;

  private:
    struct Sums {  // each of some numbers times weights
        std::vector<int> start{0}, of;
        std::vector<float> weight;
    };
    const Supports& supports_;
    const Factor& factor_;
    long unknowns_;
    Sums loads_;  // of the unknowns in the factor's order; of r and t of the supports in turn
    Sums seen_;   // of the supports; of those unknowns
};

}  // namespace mossbed
