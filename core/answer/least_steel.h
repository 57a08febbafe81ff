// The least steel that passes, tried on the whole model: base and extra bars put together (steel/lightest_bars.h), then
// judged with everything that bars reach, punching and one-way shear too, and mended where something falls short that
// the lightest base bars alone bear.
#pragma once
#include "core/answer/solve.h"
#include "core/steel/lightest_bars.h"

namespace mossbed {

struct LeastSteel {
    std::vector<BarScheme> schemes;  // as LightestBars
    std::vector<LightestBars::Weighed> weighed;
    size_t picked = 0;                   // of the schemes: the lightest that passes
    std::shared_ptr<const Model> model;  // with it
    std::optional<double> uniform_kg;    // of the lightest base bars alone
    int rounds = 1;                      // of judging and mending
    std::vector<std::string> left;       // titles of rows on bars that are over all the same: a thicker slab mends them
    const BarScheme& scheme() const { return schemes[picked]; }
};

constexpr int usual_most_groups = 12;

// `most`: groups of like bars; 0: as the model says, else usual_most_groups. Throws Stopped; Trouble where there is no
// design or nothing in the lists is enough.
LeastSteel least_steel(const Model& model, int most, const Answer* previous, const Progress& progress = {});

}  // namespace mossbed
