#include "words/curve_file.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

namespace mossbed {
namespace {

using json = nlohmann::ordered_json;

json number(double v) { return std::isfinite(v) ? json(v) : json(nullptr); }
std::string cell(double v) { return std::isfinite(v) ? fmt::format("{:.10g}", v) : std::string(); }

}  // namespace

std::string write_curve(const Curve& c) {
    json j{{"format", "mossbed-curve"}, {"version", 1}, {"combination", c.combination}};
    j["points"] = json::array(), j["names"] = c.names, j["steps"] = json::array();
    for (Point p : c.points) j["points"].push_back({p.x, p.y});
    for (const CurveStep& s : c.steps) {
        json step{{"factor", s.factor}, {"status", name_of(s.ending)}, {"settlement", json::array()}};
        for (double v : s.settlement) step["settlement"].push_back(number(v));
        step["contact_ratio"] = number(s.contact_ratio), step["yield_ratio"] = number(s.yield_ratio);
        step["max_pressure"] = number(s.max_pressure), step["ground"] = number(s.ground);
        step["piles"] = s.ending == Ending::solved ? json(0.0) : json(nullptr);
        j["steps"].push_back(std::move(step));
    }
    if (!c.explanation.empty()) j["explanation"] = c.explanation;
    return j.dump(1) + "\n";
}

std::string curve_table(const Curve& c, char between) {
    std::string text = "factor";
    for (const std::string& n : c.names) {
        const std::string head = "settlement at " + n + " [m]";
        text += between + (head.find(between) == std::string::npos ? head : '"' + head + '"');
    }
    for (const char* head : {"contact ratio", "share yielding", "largest pressure [kPa]", "ground [kN]", "status"})
        text += fmt::format("{}{}", between, head);
    text += '\n';
    for (const CurveStep& s : c.steps) {
        text += cell(s.factor);
        for (double v : s.settlement) text += between + cell(v);
        for (double v : {s.contact_ratio, s.yield_ratio, s.max_pressure, s.ground}) text += between + cell(v);
        text += fmt::format("{}{}\n", between, name_of(s.ending));
    }
    return text;
}

}  // namespace mossbed
