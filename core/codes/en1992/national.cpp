#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/codes/en1992/european_code.h"

namespace mossbed {

namespace {

// The keys of settings.national, where their values go, and between what annexes state them.
template <class F>
void each_choice(NationalChoices& n, F visit) {
    visit("gamma_c", n.gamma_c, 1.0, 2.0), visit("gamma_s", n.gamma_s, 1.0, 1.5),
        visit("alpha_cc", n.alpha_cc, 0.7, 1.0);
    visit("C_Rdc", n.C_Rdc, 0.05, 0.3), visit("v_min", n.v_min, 0.005, 0.1), visit("v_Rd_max", n.v_Rd_max, 0.1, 0.6),
        visit("k_max", n.k_max, 1.0, 2.0);
}

bool is_above_zero(const nlohmann::json& j) { return j.is_number() && j.get<double>() > 0; }

}  // namespace

NationalChoices national_choices(const std::string& text) {
    NationalChoices n;
    const auto j = nlohmann::json::parse(text, nullptr, false);
    each_choice(n, [&](const char* key, double& v, double, double) {
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
    each_choice(
        n, [&](const char* key, double&, double, double) { known += (known.empty() ? "" : ", ") + std::string(key); });
    for (auto it = j.begin(); it != j.end(); ++it) {
        bool is_known = false;
        double low = 0, high = 0;
        each_choice(n, [&](const char* key, double&, double from, double to) {
            if (it.key() == key) is_known = true, low = from, high = to;
        });
        const std::string where = "settings.national." + it.key();
        if (!is_known)
            found.push_back(
                {"the design code has no choice of that name", where, "write one of " + known, Severity::error, {}});
        else if (!is_above_zero(*it))
            found.push_back({"the choice is " + it->dump(), where, "give a number above zero", Severity::error, {}});
        else if (const double v = it->get<double>(); v < low || v > high)
            found.push_back(
                {fmt::format("{:g} is out of reason: no annex states less than {:g} or more than {:g}", v, low, high),
                 where,
                 "look at its unit and its point",
                 Severity::error,
                 {}});
    }
    return found;
}

}  // namespace mossbed
