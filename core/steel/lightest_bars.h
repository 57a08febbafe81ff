// The least steel that passes: base bars all over the slab, and extra bars where they are not enough, put together from
// the engineer's sizes and spacings. Extra bars lie at the spacing of the base bars, in every gap, in every second one
// or two in each; they reach beyond what asks for them by the shift of the moment line and their anchorage, and are
// lapped with U-bars where they end at a rim. Bars in mm, lengths in m, areas of bars in mm²/m.
#pragma once
#include "core/base/progress.h"
#include "core/steel/required_steel.h"

namespace mossbed {

struct BarScheme {
    BaseBars base;
    std::vector<ExtraBars> extra;
    double kg = 0;                                             // of these, on the slab, without laps
    int groups() const { return n_mats + int(extra.size()); }  // of like bars
    static constexpr int n_mats = 4;
};

// What else asks for bars: of a mat, all over an area, mm²/m.
struct SteelWanted {
    Face face = Face::bottom;
    Direction direction = Direction::x;
    Polygon area;
    double steel = 0;
};
// By how much more than the sections of a strip ask is laid there.
struct SteelRaised {
    std::string strip;
    Face face = Face::bottom;
    double factor = 1;
};

struct LightestBars {
    std::vector<BarScheme> schemes;    // by number of groups, each lighter than all with fewer
    std::optional<BarScheme> uniform;  // the lightest without extra bars; none: no base bars alone are enough
    struct Weighed {
        int groups = 0;
        double kg = 0;
    };
    std::vector<Weighed> weighed;  // the lightest with each size of the outer bottom bars and number of groups
};

// Base and extra bars of the model are passed over; its lists, covers, layers and strips count. At most `most` groups.
// Nothing of the lists is enough: no schemes. Throws Stopped.
LightestBars lightest_bars(const Model& model, const DesignCode& code, const StripDemand& demand, int most,
                           const std::vector<SteelWanted>& wanted, const std::vector<SteelRaised>& raised,
                           const Progress& progress);

// The model with these bars in place of all its base and extra bars.
Model with_bars(Model model, const BarScheme& scheme);

}  // namespace mossbed
