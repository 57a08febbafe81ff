// One kind of complaint for the whole program: what is wrong, where, and what would mend it.
#pragma once
#include <optional>
#include <stdexcept>
#include <string>
#include <vector>

#include "core/base/geometry.h"

namespace mossbed {

enum class Severity { warning, error };

struct Problem {
    std::string what;   // the fault, one sentence without full stop
    std::string where;  // the thing by id or the key in the file, e.g. "column C7" or "slab.thickness"
    std::string mend;   // what would mend it
    Severity severity = Severity::error;
    std::optional<Point> at;  // plan point, m, when there is one to show

    std::string sentence() const;  // "column C7: its centre lies off the slab; move it onto the slab or delete it."
};

bool has_errors(const std::vector<Problem>& problems);

// Thrown where a function cannot give its result; carries the problem to whoever talks to the engineer.
class Trouble : public std::runtime_error {
  public:
    explicit Trouble(Problem p) : std::runtime_error(p.sentence()), problem(std::move(p)) {}
    Problem problem;
};

}  // namespace mossbed
