#include "core/plate/dissection.h"

#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <tuple>

namespace mossbed {
namespace {

class Dissection {
  public:
    Dissection(const SparseLower& graph, const std::vector<Point>& at)
        : of_nodes_(int(at.size())), part_(size_t(graph.size()), 0), position_(part_.size()), order_(part_.size()) {
        std::vector<int> count(part_.size() + 1, 0);
        auto each_pair = [&](auto of) {
            for (int j = 0; j < graph.size(); ++j)
                for (int k = graph.start[size_t(j)]; k < graph.start[size_t(j) + 1]; ++k)
                    if (const int i = graph.row[size_t(k)]; i != j) of(i, j), of(j, i);
        };
        each_pair([&](int i, int) { ++count[size_t(i) + 1]; });
        for (size_t i = 1; i < count.size(); ++i) count[i] += count[i - 1];
        start_ = count;
        neighbour_.resize(size_t(start_.back()));
        each_pair([&](int i, int j) { neighbour_[size_t(count[size_t(i)]++)] = j; });
        Sorted all;
        for (std::vector<int>& groups : all)
            for (int i = 0; i < of_nodes_; ++i) groups.push_back(i);
        std::vector<int> forces;
        for (int i = of_nodes_; i < graph.size(); ++i) forces.push_back(i);
        auto x = [&](int i) { return at[size_t(i)].x; };
        auto y = [&](int i) { return at[size_t(i)].y; };
        std::sort(all[0].begin(), all[0].end(),
                  [&](int i, int j) { return std::tuple(x(i), y(i), i) < std::tuple(x(j), y(j), j); });
        std::sort(all[1].begin(), all[1].end(),
                  [&](int i, int j) { return std::tuple(y(i), x(i), i) < std::tuple(y(j), x(j), j); });
        dissect(std::move(all), std::move(forces), 0, order_.data());
    }
    std::vector<int> order() && { return std::move(order_); }

  private:
    using Sorted = std::array<std::vector<int>, 2>;  // the groups of a part by x, and by y
    static constexpr size_t few = 8;                 // any order will do
    static constexpr size_t many = 3000;             // worth another core

    bool is_force(int group) const { return group >= of_nodes_; }
    // Where the last neighbour of its part lies that comes after it, else itself.
    int last_neighbour(int group, int at, int part) const {
        int last = at;
        for (int k = start_[size_t(group)]; k < start_[size_t(group) + 1]; ++k)
            if (const int other = neighbour_[size_t(k)]; !is_force(other) && part_[size_t(other)] == part)
                last = std::max(last, position_[size_t(other)]);
        return last;
    }
    // Whether a force meets groups of a part.
    bool meets(int force, int part) const {
        return std::any_of(&neighbour_[size_t(start_[size_t(force)])], &neighbour_[size_t(start_[size_t(force) + 1])],
                           [&](int other) { return part_[size_t(other)] == part; });
    }
    void take_positions(const std::vector<int>& groups) {
        for (size_t i = 0; i < groups.size(); ++i) position_[size_t(groups[i])] = int(i);
    }
    struct Cut {
        int after = 0;  // the first half ends with this one
        double cost = 1e300;
    };
    Cut best_cut(const std::vector<int>& groups, const std::vector<int>& forces, int part) {
        take_positions(groups);
        const int n = int(groups.size());
        std::vector<int> change(size_t(n) + 1, 0);  // of how many before a cut have neighbours beyond it
        for (int i = 0; i < n; ++i) ++change[size_t(i)], --change[size_t(last_neighbour(groups[size_t(i)], i, part))];
        for (int force : forces) {
            int first = n, last = 0;
            for (int k = start_[size_t(force)]; k < start_[size_t(force) + 1]; ++k)
                if (const int other = neighbour_[size_t(k)]; part_[size_t(other)] == part)
                    first = std::min(first, position_[size_t(other)]), last = std::max(last, position_[size_t(other)]);
            if (first < last) ++change[size_t(first)], --change[size_t(last)];
        }
        Cut best;
        int beside = 0;
        for (int i = 0; i + 1 < n; ++i) {
            beside += change[size_t(i)];
            const double share = (i + 1.0) / n;
            if (share < 0.2 || share > 0.8) continue;
            if (const double cost = beside / (share * (1 - share)); cost < best.cost) best = {i, cost};
        }
        return best;
    }

    void dissect(Sorted groups, std::vector<int> forces, int part, int* to) {
        if (groups[0].size() <= few) {
            std::copy(forces.begin(), forces.end(), std::copy(groups[0].begin(), groups[0].end(), to));
            return;
        }
        const Cut by_x = best_cut(groups[0], forces, part), by_y = best_cut(groups[1], forces, part);
        const bool along_x = by_x.cost <= by_y.cost;
        const std::vector<int>& cut = groups[along_x ? 0 : 1];
        if (along_x) take_positions(cut);
        const int after = along_x ? by_x.after : by_y.after, first = next_.fetch_add(2), second = first + 1;
        std::vector<int> becomes(cut.size());
        for (int i = 0; i < int(cut.size()); ++i)
            becomes[size_t(i)] = i > after ? second : last_neighbour(cut[size_t(i)], i, part) > after ? between : first;
        for (size_t i = 0; i < cut.size(); ++i) part_[size_t(cut[i])] = becomes[i];
        Sorted one, other;
        std::vector<int> last, forces_of_one, forces_of_other;
        for (int force : forces) {
            const bool one_side = meets(force, first), other_side = meets(force, second);
            (one_side && other_side ? last : other_side ? forces_of_other : forces_of_one).push_back(force);
        }
        for (size_t d : {0u, 1u})
            for (int group : groups[d]) {
                const int now = part_[size_t(group)];
                if (now != between)
                    (now == first ? one : other)[d].push_back(group);
                else if (d == 0)
                    last.push_back(group);
            }
        groups = {}, forces = {};
        int *const to_other = to + one[0].size() + forces_of_one.size(), *const to_last = to_other + other[0].size() +
                                                                                          forces_of_other.size();
        std::copy(last.begin(), last.end(), to_last);
        const bool shared = size_t(to_last - to) > many;
        auto go_on = [&] { dissect(std::move(one), std::move(forces_of_one), first, to); };
        auto go_on_beyond = [&] { dissect(std::move(other), std::move(forces_of_other), second, to_other); };
        if (shared)
            tbb::parallel_invoke(go_on, go_on_beyond, alone_);
        else
            go_on(), go_on_beyond();
    }

    static constexpr int between = -1;
    int of_nodes_;                        // groups; what follows are forces
    std::vector<int> start_, neighbour_;  // which meet, both ways
    std::vector<int> part_;               // which part each is in; between: it has its place in the order
    std::vector<int> position_;           // in its part, along the cut looked at
    std::vector<int> order_;
    std::atomic<int> next_{1};
    tbb::task_group_context alone_{tbb::task_group_context::isolated};  // to the end, though others are being stopped
};

}  // namespace

std::vector<int> dissected_order(const SparseLower& graph, const std::vector<Point>& at) {
    return Dissection(graph, at).order();
}

}  // namespace mossbed
