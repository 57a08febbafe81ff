// What a strip carries, needs and has along its length, for a reader: over all combinations that it is designed for, or
// in one of them.
#pragma once
#include "core/judge/judge.h"

namespace mossbed {

struct StripLine {
    std::string strip;
    bool is_envelope = true;
    std::vector<double> s;                        // m along its axis, ascending; twice where something jumps
    std::vector<double> M_most, M_least;          // kN·m over its width; the same in one combination
    std::vector<double> V_most, V_least;          // kN
    std::vector<double> needs_bottom, needs_top;  // mm²/m with the minimum; not a number where no amount fits
    std::vector<double> has_bottom, has_top;      // mm²/m
    std::vector<double> width;                    // m of slab across it
    struct Support {
        std::string name;
        double from = 0, to = 0;  // its faces, m
    };
    std::vector<Support> supports;  // columns on it
    struct Tightest {               // where steel is used most, over all combinations
        double s = 0, use = 0, needs = 0, has = 0;
        Face face = Face::bottom;
        std::string combination;
    };
    std::optional<Tightest> tightest;
    std::string base_bottom, base_top;  // "ϕ16 at 150"; empty where the strip runs between the mats
    struct Extra {                      // extra bars of its direction that lie on it
        std::string id, bars;           // "E1", "ϕ16 at 200"
        Face face = Face::bottom;
        double from = 0, to = 0;  // m along its axis
    };
    std::vector<Extra> extra;
};

// Of the strip at that place of the answer's list. `combination`: empty for all, else an id; of one that strips are not
// designed for moments and shears are left out. Steel is always that of all.
StripLine strip_line(const Fields& fields, const Judgement& judged, size_t strip, const std::string& combination = {});

}  // namespace mossbed
