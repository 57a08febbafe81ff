// The plan as it stands on a sheet: slab, columns, map, key. The same function serves window and pictures.
#pragma once
#include <string>

#include "core/model/thing.h"
#include "draw/map.h"

namespace mossbed {

struct PlanScene {
    const Model* model = nullptr;
    const Answer* answer = nullptr;  // may be of an older model while a new one is being solved
    const CombinationAnswer* combination = nullptr;
    Quantity quantity = Quantity::pressure;
    const FieldMap* map = nullptr;
    const FieldMap* settlement = nullptr;  // below zero where the slab has lifted
    Bands bands;
    Things chosen;
    bool handles = false;          // corners of the outline
    bool uses = false;             // punching use at each column
    bool strips = false;
    std::string load_case;  // discs of this case; empty: none
    std::array<Point, 2> cut{};
    bool show_cut = true;
    std::optional<double> hair;  // m along the cut
    std::optional<Point> flag;   // place of a ledger row
    QString flag_text;
    bool boreholes = false;                             // with their logs
    std::optional<Point> pin;                           // of the depth chart
    std::vector<std::pair<std::string, Point>> coming;  // of a report that is being placed
    bool stale = false;                                 // the answer is older than the model
    bool invite = true;                                 // an empty sheet says how to begin
};

void draw_plan(QPainter& p, const PlanScene& scene, const Camera& camera, const QRectF& area);
// Where the key stands: beside the slab where there is room. The bar's rectangle comes back for dragging its ends.
QRectF draw_plan_key(QPainter& p, const PlanScene& scene, const Camera& camera, const QRectF& area);

// Column lines for the setting-out: coordinates with two or more columns on them, in order.
std::vector<double> column_lines(const Model& model, bool along_x);
QPolygonF on_paper(const Camera& camera, const Polygon& p);

}  // namespace mossbed
