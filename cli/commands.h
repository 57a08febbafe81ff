// What the commands share, and the groups of commands that have a file of their own.
#pragma once
#include <CLI/CLI.hpp>
#include <optional>
#include <string>

#include "core/answer/solve.h"
#include "core/file/model_file.h"

namespace mossbed {

void tell(const Problem& problem);  // a sentence on standard error
// The model and its text, or nothing after the faults were told.
std::optional<std::pair<Model, std::string>> read(const std::string& path);
std::shared_ptr<const Answer> solve_or_tell(const Model& model, const SolveOptions& options);
// "512345.678,187654.321"; nothing where it is no place.
std::optional<Point> point_of(const std::string& text);
bool write(const Model& model, const std::string& path);  // false after the fault was told

// import boreholes, columns, drawing: exit 0 all taken, 1 something left out, 2 nothing, and no file is written.
void add_import(CLI::App& app, int& code);
// export: exit 0 all written, 2 not.
void add_export(CLI::App& app, int& code);
// least-steel, bars.
void add_steel(CLI::App& app, int& code);

}  // namespace mossbed
