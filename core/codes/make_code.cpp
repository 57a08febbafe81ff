#include "core/codes/code.h"
#include "core/codes/en1992/european_code.h"

namespace mossbed {

std::vector<Problem> problems_of_settings(const Settings& settings) {
    return settings.design_code == "EN 1992-1-1" ? problems_of_national(settings.national) : std::vector<Problem>{};
}

std::unique_ptr<DesignCode> make_code(const Settings& settings) {
    if (settings.design_code == "EN 1992-1-1")
        return std::make_unique<EuropeanCode>(national_choices(settings.national));
    return nullptr;
}

}  // namespace mossbed
