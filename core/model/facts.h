// What is known of one field of the model, said once: files, schema, validation, the Tray and tables read it here.
#pragma once
#include <limits>
#include <optional>
#include <string>
#include <string_view>

#include "core/working/terms.h"

namespace mossbed {

struct Facts {
    const char* label = "";   // for people: "Thickness"; empty: it has no line of its own
    const char* noun = "";    // within a sentence, where it is not "the " and the label: "the limit"
    Unit unit = Unit::none;   // of the number as the file has it
    Unit shown = Unit::none;  // on the screen, where that is another: mm for a limit kept in m
    bool one_in = false;      // a slope that people write as 1 in so many
    const char* help = "";    // what it is, for the schema and for tips
    double least = -std::numeric_limits<double>::infinity(), most = std::numeric_limits<double>::infinity();
    bool above_least = false;              // the least itself is not allowed
    double usual_low = 0, usual_high = 0;  // beyond, most often another unit was typed; 0, 0: nothing is usual
    bool required = false;                 // the file must state it
    int fewest = 0, most_items = 0;        // of a list; 0: any number

    Unit on_screen() const { return shown == Unit::none ? unit : shown; }
    double factor() const;                // from the file's number to the one on the screen; 1 for slopes
    bool allows(double v) const;          // finite and in its range
    std::string why_not(double v) const;  // "the thickness is −1 m"
    std::string how_to_mend() const;      // "give a number above zero, in m"
    bool is_unusual(double v) const;
    std::string unit_to_check(double v) const;  // of an unusual value: "check that it is in MPa, not GPa"
    std::string name() const;                   // within a sentence: "the thickness"
};

}  // namespace mossbed
