// NAME.mossbed: reading, with every fault named, and writing, so that nothing is lost. Format: docs/format/README.md.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/base/problem.h"
#include "core/file/text_file.h"
#include "core/model/model.h"

namespace mossbed {

struct Loaded {
    std::optional<Model> model;     // none when any problem is an error: a file never half-loads
    std::vector<Problem> problems;  // faults of the file itself; what the values mean is judged by problems_of(model)
};

Loaded read_model(const std::string& text);
Loaded load_model(const std::string& path);
std::string write_model(const Model& model);  // pretty JSON, keys in the order of the format

void save_model(const Model& model, const std::string& path);  // throws Trouble, see text_file.h

}  // namespace mossbed
