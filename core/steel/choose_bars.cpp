#include "core/steel/choose_bars.h"

#include <algorithm>

namespace mossbed {

ChosenBars choose_bars(const std::vector<double>& sizes, const std::vector<double>& spacings, double largest_spacing,
                       const std::function<bool(double, double)>& enough) {
    std::vector<ChosenBars> candidates;
    for (double d : sizes)
        for (double s : spacings)
            if (s <= largest_spacing + 1e-9 && s > 1.5 * d) candidates.push_back({d, s, true, true});
    if (candidates.empty()) candidates.push_back({sizes.back(), spacings.front(), true, true});
    std::sort(candidates.begin(), candidates.end(), [](const ChosenBars& a, const ChosenBars& b) {
        return std::abs(a.area() - b.area()) > 1e-9 * a.area() ? a.area() < b.area() : a.spacing > b.spacing;
    });
    for (const ChosenBars& c : candidates)
        if (enough(c.diameter, c.spacing)) return c;
    ChosenBars most = candidates.back();
    most.fits = false;
    return most;
}

}  // namespace mossbed
