// The largest mean of the contact pressure over an area that moves about the base. On layered ground the pressure at a
// rim has no bound, so that no single place can be held against what the ground may carry; a mean over the stretch that
// the slab spreads a load across can.
#pragma once
#include "core/fields/fields.h"

namespace mossbed {

struct MovingMean {
    double value = 0;    // kPa
    Point at;            // the middle of the area
    Polygon area;        // as drawn: a square, or what lies nearer to one column than to the others, in the base's box
    std::string column;  // whose share it is; empty for a square
};

// Side of a square that the slab spreads a load across, m: twice its characteristic length (D/k)^¼, with the mean of
// pressure over settlement for k.
double characteristic_side(const Fields& fields, const CombinationAnswer& combination);

// The square along x and y whose mean is largest: of those that lie on the base by nine tenths or, where the base is
// too narrow for any, by nine tenths of what any does. Sums of the nodes' shares.
MovingMean largest_over_square(const Fields& fields, const CombinationAnswer& combination, double side);

// Which column stands nearest to each node, by its place in the model; the first of those as near. There must be one.
std::vector<size_t> nearest_columns(const Fields& fields);

// The column's share with the largest mean: of the base, what is nearer to it than to the others (`nearest` says so of
// the nodes). Shares of less than a quarter of `side` squared are left to the square. None without columns.
std::optional<MovingMean> largest_over_shares(const Fields& fields, const CombinationAnswer& combination, double side,
                                              const std::vector<size_t>& nearest);

// The effective area of an eccentric base (Meyerhof 1953): the largest part of it that is symmetric about the point
// where the resultant lands, m². For compact convex bases; of others `why_not` says why there is none.
struct EffectiveArea {
    double area = 0;
    Polygon outline;
    std::string why_not;
};
EffectiveArea effective_area(const Model& model, Point landing);

}  // namespace mossbed
