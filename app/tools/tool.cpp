#include "app/tools/tool.h"

#include "app/tools/add_column.h"
#include "app/tools/choose.h"
#include "app/tools/draw_slab.h"

namespace mossbed {

const std::vector<ToolEntry>& tools() {
    static const std::vector<ToolEntry> all{{ToolKind::choose, "choose", "Choose", "&Choose and move", "Ctrl+1"},
                                            {ToolKind::draw_slab, "draw", "Draw slab", "Draw the &slab", "Ctrl+2"},
                                            {ToolKind::add_column, "column", "Add columns", "Add &columns", "Ctrl+3"}};
    return all;
}

std::unique_ptr<Tool> make_tool(ToolKind kind, ToolBench& bench) {
    switch (kind) {
        case ToolKind::choose:
            return std::make_unique<ChooseTool>(bench);
        case ToolKind::draw_slab:
            return std::make_unique<DrawSlabTool>(bench);
        case ToolKind::add_column:
            return std::make_unique<AddColumnTool>(bench);
    }
    return nullptr;
}

Snap snap_to(const Model& model, const Camera& camera, Point p, const Things& moving, const Polygon& also) {
    const double reach = 7 / camera.scale;
    const double grid = camera.scale > 60 ? 0.05 : 0.1;
    Snap s{{std::round(p.x / grid) * grid, std::round(p.y / grid) * grid}, ""};
    double dx = reach, dy = reach;
    QString nx, ny;
    auto offer = [&](Point q, const QString& name) {
        if (std::abs(q.x - p.x) < dx) dx = std::abs(q.x - p.x), s.at.x = q.x, nx = name;
        if (std::abs(q.y - p.y) < dy) dy = std::abs(q.y - p.y), s.at.y = q.y, ny = name;
    };
    if (const auto* ring = std::get_if<Polygon>(&model.slab.outline))
        for (int i = 0; i < int(ring->size()); ++i)
            if (!moving.count({ThingKind::slab_corner, "", i}))
                offer((*ring)[size_t(i)], QString("corner %1").arg(i + 1));
    for (size_t i = 0; i < also.size(); ++i) offer(also[i], QString("corner %1").arg(i + 1));
    for (const Column& c : model.columns)
        if (!moving.count({ThingKind::column, c.id})) offer(c.at, QString::fromStdString(c.id));
    if (!nx.isEmpty() && nx == ny)
        s.note = "on " + nx;
    else if (!nx.isEmpty() || !ny.isEmpty())
        s.note = (nx.isEmpty() ? "" : "in line with " + nx) + (!nx.isEmpty() && !ny.isEmpty() ? ", " : "") +
                 (ny.isEmpty() ? "" : "level with " + ny);
    return s;
}

QString metres(double v) { return look::number(v, 2) + " m"; }

QString coordinates(const Snap& s) {
    return QString("%1, %2").arg(look::number(s.at.x, 2), look::number(s.at.y, 2)) +
           (s.note.isEmpty() ? "" : " · " + s.note);
}

}  // namespace mossbed
