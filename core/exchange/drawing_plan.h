// A drawing understood as the plan of a slab: its outline, openings, thickness patches, columns, walls and lines, by
// the layers that they are drawn on. Lengths in m of the building.
#pragma once
#include <array>

#include "core/exchange/drawing_file.h"
#include "core/model/model.h"

namespace mossbed {

// What a layer holds.
enum class LayerRole : char { none, slab, openings, patches, columns, walls, lines, ribs, piles, ground };
constexpr int n_layer_roles = 10;
const char* name_of(LayerRole role);  // "openings"; "left out" of none
// By the words in its name: "S-SLAB-EDGE" is the slab, "COLUMN GRID" lines.
LayerRole role_by_name(const std::string& layer);

struct PlanOptions {
    double unit = 0;                          // m of one unit of the drawing; nought: the drawing's, else guessed
    std::optional<Point> origin;              // m of the drawing that become (0, 0)
    std::map<std::string, LayerRole> layers;  // in place of what their names say
};

// m of one unit by $INSUNITS; nothing for what says none or is no length of building.
std::optional<double> metres_of_insunits(int code);

struct DrawnPlan {
    double unit = 1;  // m, that was taken
    bool unit_is_guessed = false;
    Point origin;
    std::map<std::string, LayerRole> layers;  // of the file, as they were taken
    std::map<std::string, int> shapes;        // of each layer
    std::optional<Outline> outline;
    std::map<std::string, std::string> slab_data;  // what its outline carries of the slab, "thickness" → "0.9"
    std::vector<Opening> openings;
    std::vector<SlabPatch> patches;
    std::vector<Column> columns;
    std::vector<Wall> walls;
    std::vector<Rib> ribs;
    std::vector<Pile> piles;
    std::vector<SettingOutLine> lines;
    std::vector<GroundPatch> ground;
    std::vector<std::vector<Point>> strokes;  // all that is drawn, as chords, to lie faint under the plan
    std::vector<Problem> problems;            // errors: something of a layer with a role was left out
    bool none() const;
};

// Arcs become chords within 2 mm. Never throws.
DrawnPlan read_plan(const DrawingFile& file, const PlanOptions& options = {});

}  // namespace mossbed
