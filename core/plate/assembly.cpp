#include "core/plate/assembly.h"

#include <algorithm>

namespace mossbed {

Assembly::Assembly(const Unknowns& of, std::vector<Nodes> elements) : of_(of), elements_(std::move(elements)) {
    const int n = int(of.nodes()), block = of.a_node();
    std::vector<std::vector<int>> below(size_t(n), std::vector<int>{});  // higher-numbered neighbours
    auto each_pair = [](const Nodes& e, auto f) {
        for (int i = 0; i < 4 && e[size_t(i)] >= 0; ++i)
            for (int j = 0; j < 4 && e[size_t(j)] >= 0; ++j)
                if (e[size_t(i)] > e[size_t(j)]) f(i, j);
    };
    for (const Nodes& e : elements_)
        each_pair(e, [&](int i, int j) { below[size_t(e[size_t(j)])].push_back(e[size_t(i)]); });
    lower_.block = block;
    lower_.start.reserve(size_t(of.count()) + 1);
    lower_.start.push_back(0);
    for (int j = 0; j < n; ++j) {
        auto& list = below[size_t(j)];
        std::sort(list.begin(), list.end());
        list.erase(std::unique(list.begin(), list.end()), list.end());
        for (int c = 0; c < block; ++c) {
            for (int r = c; r < block; ++r) lower_.row.push_back(block * j + r);
            for (int i : list)
                for (int r = 0; r < block; ++r) lower_.row.push_back(block * i + r);
            lower_.start.push_back(int(lower_.row.size()));
        }
    }
    lower_.value.assign(lower_.row.size(), 0.0);
    place_.resize(elements_.size());
    for (size_t k = 0; k < elements_.size(); ++k)
        each_pair(elements_[k], [&](int i, int j) {
            const auto& list = below[size_t(elements_[k][size_t(j)])];
            place_[k][size_t(4) * size_t(i) + size_t(j)] =
                int(std::lower_bound(list.begin(), list.end(), elements_[k][size_t(i)]) - list.begin());
        });
}

}  // namespace mossbed
