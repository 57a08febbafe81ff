// The numbers of a load item, whatever its sort: for the Tray, for tables, for what is drawn.
#pragma once
#include <string>
#include <vector>

#include "core/model/model.h"
#include "core/working/terms.h"

namespace mossbed {

struct LoadValue {
    const char *key, *label;
    Unit unit;
    double (*get)(const LoadItem&);
    void (*set)(LoadItem&, double);
};
// In the order in which they are read; of a fill its depth and unit weight in place of p.
std::vector<LoadValue> values_of_load(const LoadItem& item);

std::string points_in_words(const std::vector<Point>& points);   // "0, 0; 12, 0"
const char* sort_of_load(const LoadItem& item);                  // "column", "line", "uplift" …
std::string place_of_load_in_words(const LoadItem& item);        // "C7", "0, 0; 12, 0", "whole slab"
double force_of_load(const Model& model, const LoadItem& item);  // kN down; 0 of uplift, which needs a mesh
// A pressure becomes depth × unit weight or the other way, keeping what it presses with.
void fill_instead(LoadItem& item, bool fill, double unit_weight);

}  // namespace mossbed
