// What would mend a place that is punched through, or the least that still passes: each found by trying it on the whole
// model (seek/least.h), each one edit.
#pragma once
#include "core/answer/solve.h"
#include "core/seek/least.h"

namespace mossbed {

struct PunchingMend {
    enum class Kind { thickness, patch, concrete, footprint, links };
    Kind kind = Kind::thickness;
    std::string
        what;  // "slab 0.68 m", "patch 2.4 × 2.4 m, 0.82 m thick", "C35/45", "column 0.60 × 0.60 m", "links ϕ12: 5 × 16 legs at 200 mm"
    std::string why_not;  // there is none: why; `what` is then empty
    double use = 0;       // of that place with it, over all combinations
    struct Series {
        std::string of;  // what was tried: "thickness, m"
        std::vector<Try> tries;
    };
    std::vector<Series> series;
    std::shared_ptr<const Model> model;  // the model with it
};

// Of the punching row of that item ("C7", "C5+C6", "W1"). Other places are left as they are. `told` hears of each mend
// as it is found. Throws Stopped; Trouble where the item has no use to mend.
std::vector<PunchingMend> punching_mends(const Model& model, const std::string& item, const Answer* previous,
                                         const std::function<void(const PunchingMend&)>& told = {},
                                         const Progress& progress = {});

const char* name_of(PunchingMend::Kind kind);  // "thickness"

}  // namespace mossbed
