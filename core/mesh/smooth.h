// Moves free nodes towards the middle of the elements round them, never to the harm of the worst of these.
#pragma once
#include "core/mesh/mesh.h"

namespace mossbed {
void smooth(Mesh& mesh, const std::vector<char>& fixed, int passes, const Progress& progress = {});
}
