// What acts inside perimeters round loaded areas, in combinations that are designed for: the ground's pressure as
// solved less slab loads, and all else that stands there: columns, walls, points, lines. Knows no bars, no covers and
// no code but the areas that are looked at and how far perimeters reach at most.
#pragma once
#include <array>
#include <functional>

#include "core/fields/fields.h"
#include "core/judge/inside_perimeter.h"
#include "core/perimeter/perimeter.h"

namespace mossbed {

// What stands round a loaded area, by the distance from which on a perimeter holds it.
struct Standing {
    std::vector<double> from;                // m, ascending
    std::vector<std::vector<ForceAt>> held;  // kN, positive; with each of them, per combination of the fields
    bool empty() const { return from.empty(); }
    ForceAt within(double a, size_t combination) const;
};

// Inside one family of perimeters, by distance from the loaded area. Moments are about the area's centre.
struct PressedInside {
    static constexpr int rings = 16;  // distances at which the ground's part is integrated
    using Curve = std::array<ForceAt, rings + 1>;
    double reach = 0;           // m, of the last ring
    std::vector<Curve> ground;  // kN up, per combination of the fields: pressure less slab loads; others: nought
    Standing down, up;          // all else, pressing and pulling apart; empty where nothing does
    // The ground's between rings along the cubic through four of them, which even pressure follows exactly, kept
    // between both.
    ForceAt of_ground(double a, size_t combination) const;
};

// What is looked at: a convex area, the way its perimeters run, and the columns whose force is not "what else acts".
struct PunchedRegion {
    PunchedArea area;
    PerimeterCourse course;
    double reach = 0;  // m
    std::vector<int> own_columns;
    bool operator==(const PunchedRegion&) const;
};

struct PunchingDemand {
    std::vector<PunchedRegion> regions;
    std::vector<PressedInside> inside;         // as the regions
    std::shared_ptr<const Solution> solution;  // that it was made from
    std::shared_ptr<const Loading> loading;
};

// A force of a combination at a place of the plan, kN down: what a wall that stiffens hands on along its length.
struct HandedOn {
    Point at;
    std::vector<double> N;  // per combination of the fields
};

// `before` is given back where it is the same.
std::shared_ptr<const PunchingDemand> find_punching_demand(const Fields& fields, std::vector<PunchedRegion> regions,
                                                           const std::vector<HandedOn>& walls,
                                                           const std::vector<std::vector<ColumnForce>>& columns,
                                                           const std::shared_ptr<const PunchingDemand>& before,
                                                           const Progress& progress = {});

}  // namespace mossbed
