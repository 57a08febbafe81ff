#include "core/seek/least.h"

#include <algorithm>
#include <cmath>

namespace mossbed {

Sought least_that_passes(const SeekRange& range, const std::function<std::optional<double>(double)>& use_of,
                         const Progress& progress) {
    Sought out;
    const int last = int(std::floor((range.most - range.least) / range.step + 1e-9));
    auto passes = [&](int k) {
        progress.end_if_stopped();
        const double size = range.least + k * range.step;
        out.tries.push_back({size, use_of(size)});
        return out.tries.back().passes();
    };
    if (last < 0) return out;
    int fails = -1, good = 0;  // `fails` does not pass, `good` is to
    for (int stride = 1; !passes(good); stride *= 2) {
        if (good == last) return out;
        fails = good;
        good = std::min(last, good + stride);
    }
    while (good - fails > 1) {
        const int middle = fails + (good - fails) / 2;
        (passes(middle) ? good : fails) = middle;
    }
    out.size = range.least + good * range.step, out.n_steps_below = good;
    return out;
}

}  // namespace mossbed
