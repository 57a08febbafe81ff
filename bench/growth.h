// Rafts that have many of one thing, to watch how cost grows with it.
#pragma once
#include "core/model/model.h"

namespace mossbed {

enum class Many { columns, corners, openings, patches, items, combinations };
struct Growth {
    Many what;
    const char* name;
    int most;
};
constexpr Growth growths[] = {
    {Many::columns, "columns", 5000},  {Many::corners, "corners of the outline", 2000},
    {Many::openings, "openings", 300}, {Many::patches, "patches", 300},
    {Many::items, "load items", 5000}, {Many::combinations, "combinations", 500},
};
// On the ground of the model given; the slab is large enough for n of them.
Model with_many(Many what, int n, const Model& on);

}  // namespace mossbed
