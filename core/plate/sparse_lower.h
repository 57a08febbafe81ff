// The lower triangle of a sparse symmetric matrix by columns; the pattern is made once per mesh.
#pragma once
#include <Eigen/Dense>
#include <vector>

namespace mossbed {

struct SparseLower {
    std::vector<int> start;  // per column, and one past the last
    std::vector<int> row;    // the diagonal first, then increasing
    std::vector<double> value;
    int block = 3;   // unknowns a node: rows and columns of a node stand together
    int forces = 0;  // unknowns at the end that are of no node: forces of springs, see with_forces
    int size() const { return int(start.size()) - 1; }
    Eigen::MatrixXd times(const Eigen::MatrixXd& x) const;  // of the whole symmetric matrix
    double* find(int row, int column);  // in the lower triangle; nullptr where the pattern has nothing
};

// The same matrix without the entries off the diagonal that are nil: what does not couple is no part of the pattern.
SparseLower without_zeros(const SparseLower& matrix);

// What couples unknowns besides the plate: Σ_k s_k b_k b_kᵀ for sparse rows b_k, each a list of (unknown, weight).
struct SparseRow {
    const int* row;
    const double* weight;
    int n;
};
// The springs of some rows as unknowns of their own, z_k = √s_k b_kᵀ x, at the end: what they couple then is one entry
// each, not one for every two of a row. With those eliminated the matrix is what add_outer_products makes; as it stands
// it is quasi-definite (Vanderbei 1995), K b over bᵀ −1, and has a factor L S Lᵀ with S = ±1 in whatever order.
SparseLower with_forces(const SparseLower& matrix, const std::vector<SparseRow>& rows);
void set_forces(SparseLower& matrix, const std::vector<SparseRow>& rows, const std::vector<double>& scale);

// The same matrix with room (zeros) in its pattern for all that rows couple.
SparseLower with_room(const SparseLower& matrix, const std::vector<SparseRow>& rows);
// Adds that sum to a matrix with room for it.
void add_outer_products(SparseLower& matrix, const std::vector<SparseRow>& rows, const std::vector<double>& scale);

}  // namespace mossbed
