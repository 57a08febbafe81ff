// Solutions with a supernodal Cholesky factor L Lᵀ, several columns side by side. A library calls for each supernode,
// most of which are small, general routines that pack and lock; here the factor streams past once for four or eight
// columns in wide registers. Each column is worked out in the same order whatever stands beside it.
#pragma once
#include <vector>

#include "core/base/wide.h"

namespace mossbed {

// As CHOLMOD stores it: supernode s has columns first[s] … first[s + 1] − 1 of L, its rows at row[rows[s]] …, its own
// columns first, and its values by columns from value[values[s]]. Real: double or float.
template <class Real>
struct Supernodes {
    int count = 0, most_rows = 0;
    const int *first = nullptr, *rows = nullptr, *values = nullptr, *row = nullptr;
    const Real* value = nullptr;
};

// The elimination tree over supernodes, which stand in postorder: what hangs on s are first_below[s] … s − 1.
struct EliminationTree {
    std::vector<int> of_column, parent, first_below;  // the parent of a root is `count`
    std::vector<std::vector<int>> children;           // ascending; the last list: the roots
};
template <class Real>
EliminationTree tree_of(const Supernodes<Real>& l);

// Branches of the elimination tree, ranges of supernodes of which none meets another branch, so that they are worked on
// at the same time; and the trunk that joins them. Cut the same way whatever the cores.
struct Branches {
    struct Range {
        int from = 0, to = 0;  // supernodes
    };
    std::vector<Range> branch, trunk;  // in ascending order
    int trunk_rows = 0;
    std::vector<int> row;  // as Supernodes::row, counted from a branch's first; the trunk's follow the branch's own
};
template <class Real>
Branches branches_of(const Supernodes<Real>& l, const EliminationTree& tree);

// Whether this machine has what solve_side_by_side needs.
inline bool has_wide_solution() { return widest_registers() != Registers::plain; }
template <class Real>
constexpr long side_by_side[] = {32 / sizeof(Real), 64 / sizeof(Real)};  // one register of columns, or two
template <class Real>
constexpr long width_for(long columns) {
    return side_by_side<Real>[columns > 2 * side_by_side<Real>[0]];
}

// L S Lᵀ x = b in place, S = −1 at the places `negative` and 1 elsewhere: x(i) of column c at x[width · i + c], in the
// order of L; `width` one of side_by_side<Real>.
template <class Real>
void solve_side_by_side(const Supernodes<Real>& l, const Branches& branches, const std::vector<int>& negative,
                        long width, Real* x, Registers registers = widest_registers());

}  // namespace mossbed
