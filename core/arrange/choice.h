// Which things an edit is about, and what it would break.
#pragma once
#include "core/model/model.h"
#include "core/model/thing.h"

namespace mossbed {

// Things on the slab of the same kind and sizes, itself included: columns of one shape, size and pedestal; walls of one
// thickness and height; ribs and patches of one section and level; openings and setting-out lines all.
Things all_like(const Model& model, const Thing& thing);
// Columns, walls, ribs, piles, patches and openings that lie in the box whole.
Things things_within(const Model& model, const Box& box);
// All of these, with the slab's sides: what stands on it moves as one with it.
Things all_of_plan(const Model& model);

// What goes with them when they are deleted: "loads in G (475 kN) and Q (120 kN)"; empty where nothing does.
std::string hanging_on(const Model& model, const Things& things);

// The first error that the model has after an edit and had not before, a sentence; empty where there is none.
std::string fault_of_edit(const Model& before, const Model& after);

// A name of its own; loads on it go with it. Why not, where it is empty or taken.
std::string rename_thing(Model& model, const Thing& thing, const std::string& to);
// Columns, walls, ribs or piles of a choice named anew by place, row by row from the lower left: stem and 1, 2, 3 …;
// the numbers that others have are passed over. Things of a row lie within `row` m of each other across it.
void number_by_place(Model& model, const Things& things, const std::string& stem, double row = 0.5);

}  // namespace mossbed
