// Points sorted into square cells, so that those near a place are found without looking at all of them. Lengths m.
#pragma once
#include <cmath>
#include <unordered_map>
#include <utility>
#include <vector>

#include "core/base/geometry.h"

namespace mossbed {

class PointBins {
  public:
    struct Hash {  // of a cell by its column and row
        size_t operator()(const std::pair<long, long>& cell) const {
            return size_t(cell.first) * 0x9e3779b97f4a7c15u + size_t(cell.second);
        }
    };
    explicit PointBins(double reach) : cell_(reach) {}
    void add(int name, Point p) { cells_[cell_of(p)].push_back(name); }
    // each(name) for every point closer to p than the reach, and some a little further off, until it returns true.
    template <class F>
    bool any_near(Point p, F each) const {
        const auto [x, y] = cell_of(p);
        for (long u = x - 1; u <= x + 1; ++u)
            for (long v = y - 1; v <= y + 1; ++v)
                if (const auto b = cells_.find({u, v}); b != cells_.end())
                    for (int name : b->second)
                        if (each(name)) return true;
        return false;
    }

  private:
    std::pair<long, long> cell_of(Point p) const {
        return {long(std::floor(p.x / cell_)), long(std::floor(p.y / cell_))};
    }
    double cell_;
    std::unordered_map<std::pair<long, long>, std::vector<int>, Hash> cells_;
};

}  // namespace mossbed
