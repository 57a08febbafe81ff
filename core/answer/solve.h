// Model in, Answer out. A pure function: the same model gives the same answer on any thread, with an earlier answer to
// go on from or without.
#pragma once
#include <memory>
#include <string>
#include <vector>

#include "core/answer/answer.h"
#include "core/base/progress.h"

namespace mossbed {

struct SolveOptions {
    std::vector<std::string> combinations;  // ids; empty: all active ones
    double mesh_size = 0;                   // m; 0: the model's
    bool checks = true;                     // false: a quick look at the contact only, for the moving hand
    bool rough = false;                     // and on coupled ground only good enough for a finer mesh to begin from
};

// `previous`: an answer to another model, or to this one before an edit; the stages whose input is the same are taken
// from it (answer/stages.h). May be none. Throws Trouble when the model has errors or cannot be meshed, Stopped when
// asked to stop. Whatever one combination's fate, the others go on.
std::shared_ptr<const Answer> solve(const Model& model, const SolveOptions& options = {},
                                    const Answer* previous = nullptr, const Progress& progress = {});

// m, the mesh size of a quick look: for some 250 cells on coupled ground, which costs more by the patch, and 500 on
// springs, but no finer than the model's.
double size_for_a_look(const Model& model);

// Whether a full answer takes longer than a second or two, so that a quick look first is worth its time.
bool takes_long(const Model& model);

// The combinations that stand in the model. (Rules that write them are not built yet: without the key there are none.)
std::vector<Combination> combinations_of(const Model& model);

}  // namespace mossbed
