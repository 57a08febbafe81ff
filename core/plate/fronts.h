// Numeric Cholesky factorisation by fronts (Duff and Reid 1983; Liu 1992): each supernode gathers what the matrix has
// in its columns and what its children in the elimination tree leave for it, eliminates its own columns by dense
// algebra, and leaves the rest to its parent. Branches of the tree are worked on at the same time, and so are parts of
// fronts that are large; everything is added up in an order that no machine and no number of cores changes.
#pragma once
#include <vector>

#include "core/base/progress.h"
#include "core/plate/sparse_lower.h"
#include "core/plate/supernodes.h"

namespace mossbed {

// What follows from the pattern alone, once an analysis.
class Fronts {
  public:
    // `l`: the supernodes of the factor, whose values are not read, their tree, and `order[i]` the unknown that stands
    // i-th in it; `negative`: the places of those whose pivots are (L S Lᵀ, see sparse_lower.h).
    Fronts(const Supernodes<double>& l, EliminationTree tree, const SparseLower& pattern, const int* order,
           const std::vector<int>& negative);

    // L of `matrix`, which has the analysed pattern, into `value`, laid out as l.value; above the diagonal of a
    // supernode's own columns it is not defined. False when a pivot has not the sign that it should. Throws Stopped.
    bool factorize(const Supernodes<double>& l, const SparseLower& matrix, double* value,
                   const Progress& progress = {}) const;

  private:
    struct Work;
    EliminationTree tree_;
    std::vector<int> in_parent_;  // as Supernodes::row: where the parent's front has that row
    std::vector<int> place_;      // of each entry of the matrix in the factor's values
    std::vector<char> negative_;  // of each column of L; empty: none
    std::vector<double> work_;    // multiplications of s and all that hangs on it; the last: of all
};

}  // namespace mossbed
