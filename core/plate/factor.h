// Sparse Cholesky factor by CHOLMOD, supernodal; L S Lᵀ where springs have their force as an unknown (sparse_lower.h).
// The only file that knows that library and its quirks:
// * of it stands the analysis; the numbers are found by fronts of our own (fronts.h), which use all cores and can be
//   stopped;
// * its own OpenMP loops cost more than they gain on our sizes, so they are held to one thread, and BLAS too; the cores
//   are spent on fronts, right-hand sides and combinations;
// * right-hand sides go in blocks of a width that no machine changes, so that one core and many give the same bits;
//   where registers are wide through loops of our own (supernodes.h);
// * ordering is our own (dissection.h), and the library analyses the graph of groups of unknowns (the bending of a
//   node; its plane), whose supernodes are expanded to the unknowns: a sixth of the time that the unknowns take;
// * one workspace a thread on a shared factor.
#pragma once
#include <Eigen/Dense>
#include <memory>

#include "core/base/geometry.h"
#include "core/base/progress.h"
#include "core/plate/sparse_lower.h"

namespace mossbed {

class Factor {
  public:
    // Symbolic analysis, by groups of unknowns; `nodes` says where they lie. Throws Stopped.
    Factor(const SparseLower& pattern, const std::vector<Point>& nodes, const Progress& progress = {});
    ~Factor();
    Factor(Factor&&) noexcept;
    Factor& operator=(Factor&&) noexcept;

    // Numeric factorisation of `matrix`, which has the analysed pattern. False when a pivot has not the
    // sign that it should: not positive definite. Throws
    // Stopped; without numbers to go on with either way.
    bool factorize(const SparseLower& matrix, const Progress& progress = {});
    Factor of_same_pattern() const;  // with this one's analysis, without numbers
    bool has_pattern_of(const SparseLower& matrix) const;
    size_t bytes() const;  // of its numbers, once it is factorised
    int size() const;      // equations, those of forces at the end counted in
    // The same by the library on one thread, whose numbers are not kept; it analyses the unknowns itself, the first
    // time. For benchmarks.
    bool factorize_by_library(const SparseLower& matrix);
    // Overwrites the right-hand sides, without rows for forces, by the solutions, columns shared out over the cores. A
    // column's result depends on those solved with it by rounding only, and on the number of cores not at all.
    void solve_in_place(Eigen::Ref<Eigen::MatrixXd> b) const;
    // The same from numbers kept in single precision besides, half the memory to pass by: for steps of a search that
    // looks where they led. Good to some 1e-4; without keep_single, or where registers are not wide, as above.
    void keep_single();
    void solve_in_single(Eigen::Ref<Eigen::MatrixXd> b) const;
    // The same for columns that lie side by side already, `width` of them, 8 or 16, in the factor's own order: unknown
    // order()[i] of column c at x[width · i + c], size() of them. Only where has_single().
    bool has_single() const;
    const int* order() const;
    void solve_in_single(float* x, long width) const;

  private:
    struct Analysis;
    struct Parts;
    explicit Factor(std::unique_ptr<Parts> parts);
    std::unique_ptr<Parts> parts_;
};

}  // namespace mossbed
