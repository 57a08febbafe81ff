// The stages of a solution, each from the part of the Model that it reads:
//
//   mesh ──▶ stiffness ─────────────▶ supports ──▶ contact and fields ──▶ judged
//     └────▶ loading ──▶ subsoil ──────┘                                  (judge/judge.h)
//
// Each takes what the stage before it made, and the same stage of an earlier answer, which it gives back when nothing
// that it reads has changed. What a stage reads is said once, by clearing from the Model what it does not: whatever is
// forgotten there costs time, never truth.
#pragma once
#include "core/fields/fields.h"

namespace mossbed {

// The Model with all that a stage does not read at its default.
Model read_by_mesh(Model m);
Model read_by_stiffness(Model m);
Model read_by_loading(Model m);
Model read_by_ground(Model m);

// What an earlier answer has to give. `model` is its Model; none: nothing.
struct Earlier {
    const Model* model = nullptr;
    Stages stages;
};

std::shared_ptr<const Meshed> make_mesh(const Model& m, const MeshOptions& options, const Earlier& earlier,
                                        const Progress& progress);
// Stiffness beside loading and subsoil; `rough`: on fewer patches. Throws Stopped.
void make_plate_and_loads(const std::shared_ptr<const Model>& m, bool rough, Stages& made, const Earlier& earlier,
                          const Progress& progress);
// Whether the earlier supports (or that there were none) are those of `made` too.
bool has_same_supports(const Model& m, const Stages& made, const Earlier& earlier);
// Throws Trouble where supports do not follow from the ground or do not hold the slab.
std::shared_ptr<const Supported> make_supports(const Model& m, const Stages& made, const Earlier& earlier,
                                               const Progress& progress);

}  // namespace mossbed
