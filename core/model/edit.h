// Edits of an outline that more than one view makes.
#pragma once
#include "core/model/model.h"
#include "core/model/thing.h"

namespace mossbed {

// Side i (from corner i to i + 1) moved outward by `distance` m (negative: inward), parallel to itself; its neighbours
// keep their directions and grow or shrink. Where a neighbour is parallel to it, the corner moves straight outward.
// `outline` may run either way round.
Polygon push_rim(const Polygon& outline, int side, double distance);

// A corner added on a side, at the point of it nearest to `near`, m; as it was where that is an end of the side.
Polygon with_corner(const Polygon& outline, int side, Point near);
// A corner taken away; why not, where fewer than three would stay or sides would cross.
std::string remove_corner(Polygon& outline, int corner);

// Column lines: coordinates with two or more columns on them, in order; y of those along x, else x.
std::vector<double> column_lines(const Model& model, bool along_x);
// A setting-out line through each of them where there is none yet, named x1, x2 … and y1 … . From then on they are the
// model's: they stay where they are and keep their names, whatever the columns do.
void set_out_columns(Model& model);

// The model with these things gone, and with them every load on them. Kinds: columns, walls, openings, patches, ground
// patches, boreholes, extra bars, links; others stay.
Model without(Model model, const Things& things);

// Loads that hang on a column, wall or rib by its name, by the names it has now (from the old one), all at once.
void rename_in_loads(Model& model, ThingKind kind, const std::map<std::string, std::string>& now);

// What stands before the number of a name: "C" of "C12"; nothing of a bare number.
std::string stem_of(const std::string& id);

// Renames a load case and the factors on it; why not, where the name is empty or taken.
std::string rename_case(Model& model, const std::string& from, const std::string& to);

// One component of the load of a column in a case; where several items make it up, they become one.
void set_column_load(Model& model, const std::string& load_case, const std::string& column,
                     double ColumnLoad::*component, double value);

// The load of one column in one case, added when there is none yet.
ColumnLoad& column_load(Model& model, const std::string& load_case, const std::string& column);
ColumnLoad column_load(const Model& model, const std::string& load_case,
                       const std::string& column);  // sums what is there

// kN/m down on a wall or rib in one case, the sum of what is there; set, it becomes one item, or none for nought.
double member_load(const Model& model, const std::string& load_case, const Thing& member);
void set_member_load(Model& model, const std::string& load_case, const Thing& member, double q);

// The level up to which water presses on the underside in one case; none where it holds no such load.
std::optional<double> uplift_level(const Model& model, const std::string& load_case);
void set_uplift_level(Model& model, const std::string& load_case, double level);

}  // namespace mossbed
