// What an answer on one mesh says of the nodes of another: where a search for contact begins. Only speed hangs on it.
#pragma once
#include <string>
#include <vector>

#include "core/fields/fields.h"

namespace mossbed {

struct Carried {
    std::vector<char> known;   // per combination asked for: has a field there
    Eigen::MatrixXd x;         // the nodes' unknowns, a column a combination
    Eigen::MatrixXd pressure;  // kPa per node: the support's force over its area
    bool any() const { return std::find(known.begin(), known.end(), 1) != known.end(); }
};

// On the same mesh as it stands; else by the cell that a node lies in, or the nearest. Nothing is known where the two
// slabs have little in common.
Carried carry(const Meshed& from, const Solution& solution, const Meshed& to, const Unknowns& of,
              const std::vector<std::string>& combinations, bool without_yield = false);

}  // namespace mossbed
