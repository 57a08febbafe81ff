#include "cli/commands.h"

#include <fmt/format.h>

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
