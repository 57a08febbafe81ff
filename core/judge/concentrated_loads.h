// Loads that may punch without a column under them: points, ends and corners of lines, areas so small that they act as
// one. Points are punched like columns of no size; the others are not worked out in this version, so each that may
// matter says so.
#pragma once
#include "core/judge/punched_places.h"

namespace mossbed {

inline bool is_design(const CombinationAnswer& c) {
    return c.combination.purpose == Purpose::strength && c.is_solved();
}
bool has_concentrated_loads(const Model& m);
// A load is left alone while all that stands near it together is so light that it punches nowhere, or where a column or
// a wall stands. Points are put to the items.
std::vector<Row> look_at_concentrated_loads(const Fields& a, const PunchedSlab& slab, std::vector<PunchedItem>& items,
                                            const Progress& progress);

}  // namespace mossbed
