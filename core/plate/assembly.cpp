#include "core/plate/assembly.h"

#include <algorithm>

namespace mossbed {

Assembly::Assembly(const Unknowns& of, std::vector<Nodes> elements) : of_(of), elements_(std::move(elements)) {
    const int n = int(of.nodes()), block = of.a_node();
    auto each_pair = [](const Nodes& e, auto f) {
        for (int i = 0; i < 4 && e[size_t(i)] >= 0; ++i)
            for (int j = 0; j < 4 && e[size_t(j)] >= 0; ++j)
                if (e[size_t(i)] > e[size_t(j)]) f(i, j);
    };
    // Higher-numbered neighbours of node j, in order, from below[first[j]] to below[last[j]].
    std::vector<int> first(size_t(n) + 1, 0);
    for (const Nodes& e : elements_) each_pair(e, [&](int, int j) { ++first[size_t(e[size_t(j)]) + 1]; });
    for (int j = 0; j < n; ++j) first[size_t(j) + 1] += first[size_t(j)];
    std::vector<int> last(first.begin(), first.end() - 1), below(size_t(first.back()));
    for (const Nodes& e : elements_)
        each_pair(e, [&](int i, int j) { below[size_t(last[size_t(e[size_t(j)])]++)] = e[size_t(i)]; });
    long neighbours = 0;
    for (int j = 0; j < n; ++j) {
        const auto from = below.begin() + first[size_t(j)], to = below.begin() + last[size_t(j)];
        std::sort(from, to);
        last[size_t(j)] = int(std::unique(from, to) - below.begin());
        neighbours += last[size_t(j)] - first[size_t(j)];
    }
    lower_.block = block;
    lower_.start.reserve(size_t(of.count()) + 1);
    lower_.row.reserve(size_t(n * block * (block + 1) / 2 + neighbours * block * block));
    lower_.start.push_back(0);
    for (int j = 0; j < n; ++j)
        for (int c = 0; c < block; ++c) {
            for (int r = c; r < block; ++r) lower_.row.push_back(block * j + r);
            for (int k = first[size_t(j)]; k < last[size_t(j)]; ++k)
                for (int r = 0; r < block; ++r) lower_.row.push_back(block * below[size_t(k)] + r);
            lower_.start.push_back(int(lower_.row.size()));
        }
    lower_.value.assign(lower_.row.size(), 0.0);
    place_.resize(elements_.size());
    for (size_t k = 0; k < elements_.size(); ++k)
        each_pair(elements_[k], [&](int i, int j) {
            const size_t node = size_t(elements_[k][size_t(j)]);
            const auto from = below.begin() + first[node], to = below.begin() + last[node];
            place_[k][size_t(4) * size_t(i) + size_t(j)] =
                int(std::lower_bound(from, to, elements_[k][size_t(i)]) - from);
        });
}

}  // namespace mossbed
