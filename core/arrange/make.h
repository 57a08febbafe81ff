// A figure that was drawn becomes a thing of the model.
#pragma once
#include "core/arrange/figure.h"
#include "core/model/thing.h"

namespace mossbed {

// One thing of each kind, whose sizes the next one that is drawn gets: the last of its kind in the model, else the one
// of `before`, or defaults. Its id is `pattern`, by which fields find it.
constexpr const char* pattern = "pattern";
// Of strips the first is the pattern; behind it stand those that are laid out now, which the first one drawn makes the
// model's own (whoever knows them puts them there).
Model patterns_of(const Model& model, const Model* before = nullptr);

// A load goes into the case that patterns.loads.cases[0] is named after: a point load from a point, a line load from a
// path, an area load from an area, with the values of the load of its sort there.
constexpr size_t point_pattern = 0, line_pattern = 1, area_pattern = 2, member_pattern = 3;
// Adds what the figure comes to, with the sizes of the pattern and a name of its own; for ThingKind::slab_side the
// slab's outline is replaced. Why not, empty when it is done. Whether it stands where it can is for fault_of_edit.
std::string make_thing(Model& model, ThingKind kind, const Figure& figure, const Model& patterns, Thing* made);

// The wall or rib at a place loaded, in the case that patterns.loads.cases[0] is named after, with q of its pattern; what
// it carried there before is replaced. Why not.
std::string load_member_at(Model& model, Point at, const Model& patterns, Thing* made);

// A corner added on a side of a thing's outline or path at the point of it nearest to `near`, or taken away; why not.
std::string add_corner(Model& model, const Thing& thing, Point near);
std::string remove_corner(Model& model, const Thing& thing, int corner);
// The corners of what is drawn corner by corner; of a circle the place of its rim to the right of its middle, by which
// its radius is held; of a strip of the model's own where it is taken hold of. Empty for other things.
std::vector<Point> corners_of(const Model& model, const Thing& thing);
// One of them moved; a circle gets another radius, a strip another side. Why not.
std::string move_corner(Model& model, const Thing& thing, int corner, Point to);

}  // namespace mossbed
