#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/codes/en1992/european_code.h"

namespace mossbed {

namespace {

// The keys of settings.national and where their values go.
template <class F>
void each_choice(NationalChoices& n, F visit) {
    visit("gamma_c", n.gamma_c), visit("gamma_s", n.gamma_s), visit("alpha_cc", n.alpha_cc);
    visit("C_Rdc", n.C_Rdc), visit("v_min", n.v_min), visit("v_Rd_max", n.v_Rd_max);
}

bool is_above_zero(const nlohmann::json& j) { return j.is_number() && j.get<double>() > 0; }

}  // namespace

NationalChoices national_choices(const std::string& text) {
    NationalChoices n;
    const auto j = nlohmann::json::parse(text, nullptr, false);
    each_choice(n, [&](const char* key, double& v) {
        if (j.is_object() && j.contains(key) && is_above_zero(j[key])) v = j[key].get<double>();
    });
    return n;
}

std::vector<Problem> problems_of_national(const std::string& text) {
    std::vector<Problem> found;
    const auto j = nlohmann::json::parse(text, nullptr, false);
    if (!j.is_object()) return found;
    NationalChoices n;
    std::string known;
    each_choice(n, [&](const char* key, double&) { known += (known.empty() ? "" : ", ") + std::string(key); });
    for (auto it = j.begin(); it != j.end(); ++it) {
        bool is_known = false;
        each_choice(n, [&](const char* key, double&) { is_known |= it.key() == key; });
        const std::string where = "settings.national." + it.key();
        if (!is_known)
            found.push_back(
                {"the design code has no choice of that name", where, "write one of " + known, Severity::error, {}});
        else if (!is_above_zero(*it))
            found.push_back({"the choice is " + it->dump(), where, "give a number above zero", Severity::error, {}});
    }
    return found;
}

}  // namespace mossbed
