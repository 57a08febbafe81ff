// A row of the Ledger and its working, made together so that the derivation cannot drift from the number.
#pragma once
#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "core/base/geometry.h"

namespace mossbed {

struct WorkingLine {
    std::string text;     // what it is, with its clause where it has one
    std::string formula;  // symbols and the numbers put in
    double value = 0;
    std::string unit;
};

// Collects the lines of a derivation while the numbers are computed.
class Working {
  public:
    double line(std::string text, std::string formula, double value, std::string unit) {
        lines.push_back({std::move(text), std::move(formula), value, std::move(unit)});
        return value;
    }
    std::vector<WorkingLine> lines;
};

// no_limit: there is a value, but nobody set a limit to hold it against.
enum class Status { pass, over, not_checked, no_limit };
const char* name_of(Status s);  // as in the results file

struct Row {
    std::string id;  // one of the words of docs/format: bearing, contact, settlement, …
    std::string title;
    std::optional<double> utilisation;
    Status status = Status::not_checked;
    std::optional<double> value, limit;
    std::string unit;
    std::string combination;  // empty when it belongs to none
    std::optional<Point> at;
    std::string item;  // column, strip …; empty for the whole slab
    std::string clause;
    std::string note;     // why it is not checked, or what would mend it
    bool chosen = false;  // its provision was chosen by the program to just fit: a use near 1 means no more than that
    std::vector<WorkingLine> working;

    std::string key() const { return id + "|" + item; }  // the same row before and after an edit
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
    void without_limit(std::string why) { status = Status::no_limit, note = std::move(why); }
};

struct PunchingAnswer {  // of one column in its governing combination; kN, m, MPa
    std::string id, combination;
    double perimeter = 0, V = 0, relief = 0, V_net = 0;
    std::optional<double> beta;
    double v_from_moment = 0, v = 0, v_limit = 0, utilisation = 0;
    struct FaceStress {
        double v = 0, v_limit = 0, utilisation = 0;
    };
    std::optional<FaceStress> face;
    std::string governs = "perimeter";  // "face", "step"
    std::string position = "interior";  // "edge", "corner"
    Polygon outline;
};

}  // namespace mossbed
