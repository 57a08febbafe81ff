// What would hold a base down that lifts or floats, each found by trying it on the model (seek/least.h).
#pragma once
#include <map>
#include <memory>

#include "core/seek/least.h"
#include "core/stability/stability.h"

namespace mossbed {

struct HeldDown {
    Sought thickness;  // m of the slab, its top where it is
    Sought overhang;   // m that all rims move out, with the soil that then lies on them
    double ties = 0;   // kN of ties, as they count in the combination
    double soil = 0;   // kPa that lie on an overhang; 0: none is known to
};

class HoldDown {
  public:
    explicit HoldDown(const Model& model, const Progress& progress = {});
    // So that what acts down is `factor` times what acts up.
    HeldDown so_that(const Combination& combination, double factor);

  private:
    struct Trial {
        Model model;
        std::vector<CaseLoads> cases;
    };
    // The model varied and what its loads become, for every combination that asks; none where it cannot be meshed.
    const Trial* tried(std::map<double, std::unique_ptr<Trial>>& trials, double size,
                       const std::function<bool(Model&)>& vary);
    std::optional<double> use(const Trial* trial, const Combination& combination, double factor) const;

    const Model& m_;
    Progress progress_;
    double soil_ = 0;
    std::map<double, std::unique_ptr<Trial>> thick_, wide_;
};

// "0.35 m more thickness (0.95 m), …": what was found, as the end of a sentence.
std::string words_of(const HeldDown& held, const Model& model);

}  // namespace mossbed
