// A row of the Ledger and its working, made together so that the derivation cannot drift from the number. Titles and
// notes are sentences, in metric; numbers that are shown in other units too stand in value, limit and working.
#pragma once
#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "core/base/geometry.h"
#include "core/working/derivation.h"

namespace mossbed {

// no_limit: there is a value, but nobody set a limit to hold it against.
enum class Status { pass, over, not_checked, no_limit };
const char* name_of(Status s);  // as in the results file

struct Row {
    std::string id;  // one of the words of docs/format: bearing, contact, settlement, …
    std::string title;
    std::optional<double> utilisation;
    Status status = Status::not_checked;
    std::optional<double> value, limit;
    Unit unit = Unit::none;
    std::string combination;  // empty when it belongs to none
    std::optional<Point> at;
    Polygon area;      // the stretch of the base that it is about, where it is more than a place; of two points an edge
    std::string item;  // column, strip …; empty for the whole slab
    std::string clause;
    std::string note;  // why it is not checked, or what would mend it
    // What of the model would let it judge, as a path (core/model/described.h): "checks/tilt_limit", "loads/cases".
    std::string leads_to;
    bool no_equilibrium = false;  // its combination has none, so that nothing else of it is judged
    bool chosen = false;  // its provision was chosen by the program to just fit: a use near 1 means no more than that
    Derivation working;

    // The same row before and after an edit; the worst pair of columns may be another one then.
    std::string key() const { return id == "distortion" ? id : id + "|" + item; }
    // Sets use and status from value over limit (or limit over value for factors that must be reached).
    // A use that is no number judges nothing; one without bound is over, with no number to show.
    void judge(double use) {
        if (std::isnan(use)) {
            utilisation.reset(), status = Status::not_checked;
            if (note.empty()) note = "The use came out as no number; check the inputs of this row.";
            return;
        }
        if (std::isinf(use))
            utilisation.reset();
        else
            utilisation = use;
        status = use <= 1.0 + 1e-9 ? Status::pass : Status::over;
    }
    void without_limit(std::string why, std::string limit = {}) {
        status = Status::no_limit, note = std::move(why), leads_to = std::move(limit);
    }
};

// The last line of a working: one quantity over another, as the row was judged.
Term term_of_use(std::string text, double over, double under, Unit unit, const Row& row);

// A row that judges nothing yet.
Row row_of(const char* id, std::string title, std::string item = {}, std::string note = {});

}  // namespace mossbed
