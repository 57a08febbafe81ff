#include "core/base/box_bins.h"

namespace mossbed {

std::vector<Box> boxes_of(const std::vector<Polygon>& outlines) {
    std::vector<Box> out;
    out.reserve(outlines.size());
    for (const Polygon& p : outlines) out.push_back(box_of(p));
    return out;
}

BoxBins::BoxBins(const std::vector<Box>& boxes) {
    for (const Box& b : boxes)
        if (!b.empty()) all_.add(b.low), all_.add(b.high);
    if (all_.empty()) return;
    const double n = double(boxes.size());
    step_ = std::max({std::sqrt(std::max(all_.width(), 1e-9) * std::max(all_.height(), 1e-9) / n), all_.width() / 2000,
                      all_.height() / 2000, 1e-9});
    // Large boxes would fill every cell: coarser cells until each stands in a few on average.
    auto entries = [&] {
        double sum = 0;
        for (const Box& b : boxes)
            if (!b.empty()) sum += (b.width() / step_ + 1) * (b.height() / step_ + 1);
        return sum;
    };
    while (entries() > 16 * n) step_ *= 2;
    n_x_ = int(all_.width() / step_) + 1, n_y_ = int(all_.height() / step_) + 1;
    auto each_entry = [&](auto of) {
        for (int i = 0; i < int(boxes.size()); ++i) {
            const Box& b = boxes[size_t(i)];
            if (b.empty()) continue;
            const Entry entry{i, column(b.low.x), row(b.low.y), b};
            const int x1 = column(b.high.x), y1 = row(b.high.y);
            for (int y = entry.row; y <= y1; ++y)
                for (int x = entry.column; x <= x1; ++x) of(size_t(y) * size_t(n_x_) + size_t(x), entry);
        }
    };
    auto begins_in = [&](const Entry& e) { return size_t(e.row) * size_t(n_x_) + size_t(e.column); };
    start_.assign(size_t(n_x_) * size_t(n_y_) + 1, 0), own_start_ = start_;
    each_entry(
        [&](size_t cell, const Entry& entry) { ++start_[cell + 1], own_start_[cell + 1] += begins_in(entry) == cell; });
    for (size_t c = 1; c < start_.size(); ++c) start_[c] += start_[c - 1], own_start_[c] += own_start_[c - 1];
    entries_.resize(start_.back()), own_.resize(own_start_.back());
    std::vector<size_t> next(start_.begin(), start_.end() - 1), next_own(own_start_.begin(), own_start_.end() - 1);
    each_entry([&](size_t cell, const Entry& entry) {
        entries_[next[cell]++] = entry;
        if (begins_in(entry) == cell) own_[next_own[cell]++] = entry.box;
    });
}

std::vector<int> BoxBins::over(const Box& box) const {
    std::vector<int> out;
    over(box, [&](int i) { out.push_back(i); });
    std::sort(out.begin(), out.end());
    return out;
}

}  // namespace mossbed
