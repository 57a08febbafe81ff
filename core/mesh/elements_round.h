// The elements round each node of a mesh.
#pragma once
#include <span>

#include "core/mesh/mesh.h"

namespace mossbed {

class ElementsRound {
  public:
    struct Corner {
        int element, corner;  // which of the element's corners the node is
    };
    explicit ElementsRound(const Mesh& mesh) : start_(mesh.nodes.size() + 1, 0) {
        for (const Element& e : mesh.elements)
            for (int k = 0; k < corners(e); ++k) ++start_[size_t(e[size_t(k)]) + 1];
        for (size_t i = 1; i < start_.size(); ++i) start_[i] += start_[i - 1];
        corners_.resize(start_.back());
        std::vector<size_t> next(start_.begin(), start_.end() - 1);
        for (int number = 0; number < int(mesh.elements.size()); ++number) {
            const Element& e = mesh.elements[size_t(number)];
            for (int k = 0; k < corners(e); ++k) corners_[next[size_t(e[size_t(k)])]++] = {number, k};
        }
    }
    // By the elements' numbers.
    std::span<const Corner> of(int node) const {
        const size_t from = start_[size_t(node)];
        return {corners_.data() + from, start_[size_t(node) + 1] - from};
    }

  private:
    std::vector<size_t> start_;  // per node, and the end
    std::vector<Corner> corners_;
};

}  // namespace mossbed
