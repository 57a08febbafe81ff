// Boxes sorted into square cells, so that those near a place are found without looking at all of them. Lengths m.
#pragma once
#include <algorithm>
#include <vector>

#include "core/base/geometry.h"

namespace mossbed {

std::vector<Box> boxes_of(const std::vector<Polygon>& outlines);

class BoxBins {
  public:
    BoxBins() = default;
    explicit BoxBins(const std::vector<Box>& boxes);  // an empty box is never found

    // each(index) once for every box that overlaps, rims included, until it returns true; in no particular order.
    template <class F>
    bool any_over(const Box& box, F each) const {
        if (entries_.empty() || box.empty() || !all_.overlaps(box)) return false;
        const int x0 = column(box.low.x), x1 = column(box.high.x), y0 = row(box.low.y), y1 = row(box.high.y);
        for (int y = y0; y <= y1; ++y)
            for (int x = x0; x <= x1; ++x) {
                const size_t cell = size_t(y) * size_t(n_x_) + size_t(x);
                if (x0 < x && x < x1 && y0 < y && y < y1) {  // what begins here lies over it
                    for (size_t k = own_start_[cell]; k < own_start_[cell + 1]; ++k)
                        if (each(own_[k])) return true;
                    continue;
                }
                for (size_t k = start_[cell]; k < start_[cell + 1]; ++k) {
                    const Entry& e = entries_[k];
                    // a box is reported from the first of its cells in the asked one only
                    if (std::max(x0, e.column) == x && std::max(y0, e.row) == y && e.of.overlaps(box) && each(e.box))
                        return true;
                }
            }
        return false;
    }
    template <class F>
    void over(const Box& box, F each) const {
        any_over(box, [&](int i) { return each(i), false; });
    }
    std::vector<int> over(const Box& box) const;  // ascending

  private:
    int column(double x) const { return int(std::clamp((x - all_.low.x) / step_, 0.0, double(n_x_ - 1))); }
    int row(double y) const { return int(std::clamp((y - all_.low.y) / step_, 0.0, double(n_y_ - 1))); }
    Box all_;
    double step_ = 1;
    int n_x_ = 1, n_y_ = 1;
    struct Entry {
        int box, column, row;  // the first of its cells
        Box of;
    };
    std::vector<Entry> entries_;             // of the cells in turn
    std::vector<int> own_;                   // likewise those that begin in the cell
    std::vector<size_t> start_, own_start_;  // of a cell's
};

}  // namespace mossbed
