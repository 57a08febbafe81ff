#include "cli/commands.h"

#include <fmt/format.h>

#include "core/exchange/numbers.h"
#include "core/validate/validate.h"

namespace mossbed {

void tell(const Problem& p) {
    fmt::print(stderr, "{}{}\n", p.severity == Severity::warning ? "warning: " : "", p.sentence());
}

// The model and its text, or nothing after the faults were told.
std::optional<std::pair<Model, std::string>> read(const std::string& path) {
    std::string text;
    try {
        text = read_text(path);
    } catch (const Trouble& t) {
        tell(t.problem);
        return {};
    }
    Loaded l = read_model(text);
    for (const Problem& p : l.problems) tell(p);
    if (!l.model) return {};
    return std::pair{std::move(*l.model), std::move(text)};
}

std::shared_ptr<const Answer> solve_or_tell(const Model& m, const SolveOptions& options) {
    try {
        auto a = solve(m, options);
        for (const Problem& p : a->problems) tell(p);
        for (const CombinationAnswer& c : as_listed(a->combinations))
            if (!c.explanation.empty()) fmt::print(stderr, "combination {}: {}\n", c.combination.id, c.explanation);
        return a;
    } catch (const Trouble& t) {
        for (const Problem& p : problems_of(m)) tell(p);
        if (!has_errors(problems_of(m))) tell(t.problem);
    } catch (const std::exception& e) {
        fmt::print(stderr, "the model cannot be solved: {}.\n", e.what());
    }
    return nullptr;
}

std::optional<Point> point_of(const std::string& text) {
    const size_t comma = text.find(',');
    if (comma == std::string::npos) return {};
    const auto x = read_number(text.substr(0, comma), {}), y = read_number(text.substr(comma + 1), {});
    if (!x || !y) return {};
    return Point{*x, *y};
}

bool write(const Model& model, const std::string& path) {
    try {
        save_text(write_model(model), path);
    } catch (const Trouble& t) {
        tell(t.problem);
        return false;
    }
    return true;
}

}  // namespace mossbed
