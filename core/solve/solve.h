// Model in, Answer out. A pure function: the same model gives the same answer on any thread.
#pragma once
#include <memory>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/solve/answer.h"

namespace mossbed {

struct SolveOptions {
    std::vector<std::string> combinations;  // ids; empty: all active ones
    double mesh_size = 0;                   // m; 0: the model's
    bool checks = true;                     // false: a quick look at the contact only, for the moving hand
};

// Throws Trouble when the model has errors or cannot be meshed, Stopped when asked to stop. Whatever one combination's
// fate, the others go on.
std::shared_ptr<const Answer> solve(const Model& model, const SolveOptions& options = {},
                                    const Progress& progress = {});

// The combinations that stand in the model. (Rules that write them are not built yet: without the key there are none.)
std::vector<Combination> combinations_of(const Model& model);

}  // namespace mossbed
