// What presses up inside perimeters round columns, for every combination: the ground's pressure as solved less all that
// stands on the slab there. Knows no bars, no covers and no code but how far perimeters reach at most.
#pragma once
#include <array>
#include <functional>

#include "core/fields/fields.h"
#include "core/perimeter/perimeter.h"

namespace mossbed {

// Round one loaded area: a column's footprint, or the thick patch that it stands on.
struct PressedInside {
    static constexpr int rings = 20;  // distances at which the inside is integrated
    PunchedArea area;
    double reach = 0;                                   // m, of the last ring
    std::vector<std::array<double, rings + 1>> relief;  // kN up, per combination of the fields
    // Between rings along the parabola through three, which even pressure follows exactly, kept between both.
    double at(size_t combination, double a) const;
};

struct PunchingDemand {
    struct OfColumn {
        PressedInside footprint;
        std::optional<PressedInside> step;  // where the column stands on a thicker patch without re-entrant corners
    };
    std::vector<OfColumn> columns;
    std::shared_ptr<const Solution> solution;  // that it was made from
    std::shared_ptr<const Loading> loading;
};

// `reach`: furthest perimeter, m, in a slab h m thick whatever its bars. `before` is given back where it is the same.
std::shared_ptr<const PunchingDemand> find_punching_demand(const Fields& fields,
                                                           const std::function<double(double h)>& reach,
                                                           const std::shared_ptr<const PunchingDemand>& before,
                                                           const Progress& progress = {});

}  // namespace mossbed
