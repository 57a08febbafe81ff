// Loads that may punch without a column under them: points, ends and corners of lines and walls, areas so small that
// they act as one. None is worked out in this version, so each that may matter says so.
#pragma once
#include "core/judge/strip_judge.h"

namespace mossbed {

inline bool is_design(const CombinationAnswer& c) {
    return c.combination.purpose == Purpose::strength && c.is_solved();
}
bool has_concentrated_loads(const Model& m);
// A load is left alone while all that stands near it together is so light that it punches nowhere.
std::vector<Row> look_at_concentrated_loads(const Fields& a, const DesignCode& code, const Provision& steel,
                                            const Progress& progress);

}  // namespace mossbed
