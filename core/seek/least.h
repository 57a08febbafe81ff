// Sizing by trial: the least size that passes. Each try varies a model, solves and judges it, which is the caller's;
// the search begins small, grows until something passes, closes in on the least and stops. Sizes lie on a grid, as
// people build them.
#pragma once
#include <functional>
#include <optional>
#include <vector>

#include "core/base/progress.h"

namespace mossbed {

struct SeekRange {
    double least = 0, most = 1, step = 0.05;  // of the size, in its own unit
};
struct Try {
    double size = 0;
    std::optional<double> use;  // 1 and less passes; none: this size cannot be judged
    bool passes() const { return use && *use <= 1 + 1e-9; }
};
struct Sought {
    std::optional<double> size;  // that passes while one step less does not; none: nothing in the range does
    std::vector<Try> tries;      // in the order of trial, each size once
    int n_steps_below = 0;       // of the grid, from the least of the range to that size
};
// `use_of` says of a size how far it is used. Throws Stopped between tries.
Sought least_that_passes(const SeekRange& range, const std::function<std::optional<double>(double size)>& use_of,
                         const Progress& progress = {});

}  // namespace mossbed
