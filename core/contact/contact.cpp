#include "core/contact/contact.h"

namespace mossbed {

std::vector<ContactState> find_contact(const ContactSystem& system, const Eigen::MatrixXd& loads,
                                       const ContactOptions& options, const Progress& progress) {
    return options.ground ? find_coupled_contact(system, loads, options, progress)
                          : find_contact_on_springs(system, loads, options, progress);
}

double share_of_largest(const Unknowns& of, const Eigen::VectorXd& unbalanced, const Eigen::VectorXd& loads) {
    double worst = 0;
    for (long i = 0; i < of.nodes(); ++i) worst = std::max(worst, std::abs(unbalanced[of.row(i, Unknown::s)]));
    const double largest = loads.cwiseAbs().maxCoeff();
    return largest > 0 ? worst / largest : 0;
}

}  // namespace mossbed
