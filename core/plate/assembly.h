// Sums element matrices of any kind, plate or line, into one sparse matrix over the unknowns of the nodes.
#pragma once
#include <array>
#include <span>
#include <vector>

#include "core/mesh/unknowns.h"
#include "core/plate/sparse_lower.h"

namespace mossbed {

class Assembly {
  public:
    using Nodes = std::array<int, 4>;  // that an element couples; −1 beyond its last

    // The pattern for these elements, all values nil.
    Assembly(const Unknowns& of, std::vector<Nodes> elements);

    // Adds a matrix to the element's place: its rows and columns go node by node, in each the unknowns `which`.
    // Elements are to be added in one order, so that sums do not depend on the number of threads.
    template <class M>
    void add(int element, const M& matrix, std::span<const Unknown> which) {
        const Nodes& nodes = elements_[size_t(element)];
        const int n = int(which.size());
        for (int i = 0; i < 4 && nodes[size_t(i)] >= 0; ++i)
            for (int j = 0; j < 4 && nodes[size_t(j)] >= 0; ++j) {
                if (nodes[size_t(i)] < nodes[size_t(j)]) continue;
                for (int c = 0; c < n; ++c)
                    for (int r = i == j ? c : 0; r < n; ++r)
                        *at(element, i, j, which[size_t(r)], which[size_t(c)]) += matrix(n * i + r, n * j + c);
            }
    }
    SparseLower take() { return std::move(lower_); }

  private:
    double* at(int element, int i, int j, Unknown row, Unknown column) {
        const int c = int(column), block = of_.a_node();
        double* in_column =
            &lower_.value[size_t(lower_.start[size_t(of_.row(elements_[size_t(element)][size_t(j)], column))])];
        if (i == j) return in_column + (int(row) - c);
        const long entry = place_[size_t(element)][size_t(4) * size_t(i) + size_t(j)];
        return in_column + (block - c) + block * entry + int(row);
    }
    Unknowns of_;
    std::vector<Nodes> elements_;
    SparseLower lower_;
    std::vector<std::array<int, 16>> place_;  // by corners (i, j) with node i > node j: rank of i below j
};

}  // namespace mossbed
