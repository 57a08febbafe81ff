// What can be done with what is under the pointer, as the menu of the right button lists it.
#pragma once
#include "app/desk.h"

namespace mossbed {

struct PlanDeed {
    QString text;
    std::function<void()> deed;  // none: a line between groups
};
// `working` opens the Working of a row by its key.
std::vector<PlanDeed> deeds_at(Desk& desk, const std::vector<Thing>& under, Point at,
                               const std::function<void(const std::string&)>& working);
// Rows of the Ledger about a thing, or about the map at a place, worst first.
std::vector<const Row*> rows_about(const Desk& desk, const Thing& thing);
std::vector<const Row*> rows_of_map(const Desk& desk, Point at);

}  // namespace mossbed
