// What each combination came to, for the end of its row in the table of combinations.
#pragma once
#include "core/answer/answer.h"

namespace mossbed {

struct CombinationSummary {
    std::string id;
    Ending ending = Ending::not_solved;
    double max_pressure = not_a_number, contact_ratio = not_a_number;  // kPa; share of the base
    double max_settlement = not_a_number;                              // m
    Resultant applied, ground;  // about the plan's origin; ground with the sign that makes them equal
    double Hx = 0, Hy = 0;      // kN, of all loads
    // Of the limits that hold for it; none where nothing is set or it is not for service.
    std::optional<double> pressure_limit, contact_limit, settlement_limit;
    // The worst use of any check that it governs, or of those limits; none where it governs nothing and has no limit.
    std::optional<double> worst_use;
    bool is_over = false;
    std::string worst_of;  // title of that check
    int governs = 0;       // rows of the Ledger that are its
};
// In the order of the answer.
std::vector<CombinationSummary> summarise(const Answer& answer);

}  // namespace mossbed
