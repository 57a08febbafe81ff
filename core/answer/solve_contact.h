// The last stage before the judges: contact, unknowns, moments and shears of every combination.
#pragma once
#include "core/answer/stages.h"

namespace mossbed {

struct ContactRequest {
    std::vector<std::string> combinations;  // ids; empty: all active ones
    bool coarse = false;                    // for the moving hand
    bool rough = false;                     // on coupled ground: good enough for a finer mesh to begin from
};

// Mesh size (m) of the coarse answer from which a search on a fine mesh begins; `size` is that of the fine one.
double size_to_start_from(const Model& model, double size);

// `made` has all but supports and solution; both are set, supports only where a combination has an equilibrium.
// Throws Trouble, Stopped.
void solve_contact(const std::shared_ptr<const Model>& model, const ContactRequest& request, Stages& made,
                   const Earlier& earlier, const Progress& progress);

}  // namespace mossbed
