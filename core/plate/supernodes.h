// Solutions with a supernodal Cholesky factor L Lᵀ, several columns side by side. A library calls for each supernode,
// most of which are small, general routines that pack and lock; here the factor streams past once for four or eight
// columns in wide registers. Each column is worked out in the same order whatever stands beside it.
#pragma once
#include <vector>

namespace mossbed {

// As CHOLMOD stores it: supernode s has columns first[s] … first[s + 1] − 1 of L, its rows at row[rows[s]] …, its own
// columns first, and its values by columns from value[values[s]].
struct Supernodes {
    int count = 0, most_rows = 0;
    const int *first = nullptr, *rows = nullptr, *values = nullptr, *row = nullptr;
    const double* value = nullptr;
};

bool has_wide_solution();  // whether this machine has what solve_side_by_side needs
constexpr long side_by_side[] = {4, 8};

// L Lᵀ x = b in place: x(i) of column c at x[width · i + c], in the order of L; `width` one of side_by_side.
void solve_side_by_side(const Supernodes& l, int width, double* x);

}  // namespace mossbed
