#include "core/base/problem.h"

#include <algorithm>

namespace mossbed {

std::string Problem::sentence() const {
    std::string s = where.empty() ? what : where + ": " + what;
    if (!mend.empty()) s += "; " + mend;
    return s + ".";
}

bool has_errors(const std::vector<Problem>& problems) {
    return std::any_of(problems.begin(), problems.end(),
                       [](const Problem& p) { return p.severity == Severity::error; });
}

}  // namespace mossbed
