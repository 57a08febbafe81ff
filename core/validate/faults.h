// What the judges of a model share: faults and warnings with their places.
#pragma once
#include "core/validate/validate.h"

namespace mossbed {

class Faults {
  protected:
    void error(std::string where, std::string what, std::string mend, std::optional<Point> at = {}) {
        found_.push_back({std::move(what), std::move(where), std::move(mend), Severity::error, at});
    }
    void warn(std::string where, std::string what, std::string mend, std::optional<Point> at = {}) {
        found_.push_back({std::move(what), std::move(where), std::move(mend), Severity::warning, at});
    }
    std::vector<Problem> found_;
};

}  // namespace mossbed
