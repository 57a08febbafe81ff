// Strips drawn and reshaped by hand. Lengths in m. A refusal says why in words that follow the strip's name; nothing is
// changed then.
#pragma once
#include "core/model/model.h"

namespace mossbed {

// The strips that were laid out become the model's own; nothing where it has its own already.
void own_strips(Model& model, const std::vector<Strip>& laid);
// Adds a strip under a name of its own, which is returned. Those along it give way: what of them it covers is taken out
// of them, and what is left of one may become several.
std::string draw_strip(Model& model, Strip strip);
// In two side by side, `off` to the left of its axis; or in two one after the other, `at` from its beginning.
std::string split_strip_along(Model& model, const std::string& id, double off);
std::string split_strip_across(Model& model, const std::string& id, double at);
// With the one that lies along its left or right side, which goes.
enum class StripSide : char { left, right };
std::string join_strip(Model& model, const std::string& id, StripSide side);

// Where it is taken hold of: the middles of its left and right side, its beginning, its end. One of them moved, a side
// across the strip, an end along it; a strip that ends there on all of that side goes along.
std::array<Point, 4> grips_of(const Strip& strip);
std::string move_grip(Model& model, const std::string& id, int grip, Point to);

}  // namespace mossbed
