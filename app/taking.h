// What is being looked at before it is taken into the model: a ground report, a table of columns, a drawing.
#pragma once
#include <QString>
#include <optional>

#include "core/exchange/ground_report.h"
#include "core/exchange/take_columns.h"
#include "core/exchange/take_drawing.h"

namespace mossbed {

struct TakingReport {
    QString file;
    GroundReport report;
    Placing placing;
};

struct TakingTable {
    QString file, path;  // no path: from the clipboard
    CellTable cells;
    ColumnTableOptions options;
    TakeOptions take;
    std::vector<Head> understood;  // by its own words, whatever was changed since
    ColumnTable table;
    Taken taken;
    int turn = 0;  // counts what was changed in how it is read
    void read_again(const Model& now);
    void take_again(const Model& now) { taken = take_columns(now, table, take); }
    // A column's moment to show the sense of signs by: the largest.
    const TableLoad* shown_moment() const;
};

struct TakingDrawing {
    QString file, path;
    DrawingFile drawing;
    PlanOptions options;
    bool keep_under = true;  // the drawing stays, faint, under the plan
    DrawnPlan plan;
    TakenDrawing taken;
    int turn = 0;
    void read_again(const Model& now);
    void take_again(const Model& now) { taken = take_drawing(now, plan); }
};

}  // namespace mossbed
