// NAME.mossbed: reading, with every fault named, and writing, so that nothing is lost. Format: docs/format/README.md.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/base/problem.h"
#include "core/model/model.h"

namespace mossbed {

struct Loaded {
    std::optional<Model> model;     // none when any problem is an error: a file never half-loads
    std::vector<Problem> problems;  // faults of the file itself; what the values mean is judged by problems_of(model)
};

Loaded read_model(const std::string& text);
Loaded load_model(const std::string& path);
std::string write_model(const Model& model);  // pretty JSON, keys in the order of the format

// Writes beside the target, flushes to the disk, then renames over it: a crash leaves the old file or the new one.
// Throws Trouble.
void save_text(const std::string& text, const std::string& path);
void save_model(const Model& model, const std::string& path);
std::string read_text(const std::string& path);  // throws Trouble

}  // namespace mossbed
