// Products with large dense matrices, by loops of our own, and a factor by OpenBLAS, whose dense side no other file
// knows.
#pragma once
#include <Eigen/Dense>

#include "core/base/wide.h"

namespace mossbed {

// Single precision: such products wait for the memory, and what is stored here is known to three digits.
using RowMatrix = Eigen::Matrix<float, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

// out = a·x, rows of `a` shared out over the cores. Columns of `a` that meet nothing but zeros are left alone. Good to
// some 1e-7 of the largest; a column's result hangs on no other column but through their scale.
void multiply(const Eigen::Ref<const RowMatrix>& a, const Eigen::MatrixXd& x, Eigen::MatrixXd& out,
              Registers registers = widest_registers());

// The lower Cholesky factor in place; false when not positive definite. For benchmarks.
bool cholesky_in_place(Eigen::MatrixXd& a);

}  // namespace mossbed
