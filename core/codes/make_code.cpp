#include <fmt/format.h>

#include "core/codes/code.h"
#include "core/codes/en1992/european_code.h"

namespace mossbed {
namespace {

constexpr const char* european = "EN 1992-1-1";

}  // namespace

std::vector<Problem> problems_of_settings(const Settings& settings) {
    return settings.design_code == european ? problems_of_national(settings.national) : std::vector<Problem>{};
}

std::unique_ptr<DesignCode> make_code(const Settings& settings) {
    if (settings.design_code == european) return std::make_unique<EuropeanCode>(national_choices(settings.national));
    return nullptr;
}

std::string why_no_code(const Settings& settings) {
    return fmt::format("The design code {} is not in this version; use {}.", settings.design_code, european);
}

}  // namespace mossbed
