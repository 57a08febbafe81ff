#include "app/tools/tool.h"

#include "app/tools/choose.h"
#include "app/tools/draw_tool.h"

namespace mossbed {

ThingKind made_by(ToolKind kind) {
    switch (kind) {
        case ToolKind::column:
            return ThingKind::column;
        case ToolKind::opening:
            return ThingKind::opening;
        case ToolKind::patch:
            return ThingKind::patch;
        case ToolKind::wall:
            return ThingKind::wall;
        case ToolKind::rib:
            return ThingKind::rib;
        case ToolKind::setting_out:
            return ThingKind::setting_out;
        case ToolKind::ground_patch:
            return ThingKind::ground_patch;
        case ToolKind::strip:
            return ThingKind::strip;
        case ToolKind::extra_bars:
            return ThingKind::extra_bars;
        case ToolKind::links:
            return ThingKind::links;
        case ToolKind::point_load:
        case ToolKind::line_load:
        case ToolKind::area_load:
        case ToolKind::member_load:
            return ThingKind::load;
        case ToolKind::slab:
        case ToolKind::choose:
            break;
    }
    return ThingKind::slab_side;
}

const std::vector<FigureKind>& figures_of(ToolKind kind) {
    static const std::vector<FigureKind> none, point{FigureKind::point}, path{FigureKind::path},
        area{FigureKind::corners, FigureKind::rectangle, FigureKind::circle},
        slab{FigureKind::corners, FigureKind::rectangle, FigureKind::circle, FigureKind::ring};
    switch (kind) {
        case ToolKind::choose:
            return none;
        case ToolKind::slab:
            return slab;
        case ToolKind::column:
        case ToolKind::point_load:
        case ToolKind::member_load:
            return point;
        case ToolKind::area_load:
        case ToolKind::opening:
        case ToolKind::patch:
        case ToolKind::ground_patch:
        case ToolKind::extra_bars:
        case ToolKind::links:
            return area;
        case ToolKind::wall:
        case ToolKind::rib:
        case ToolKind::setting_out:
        case ToolKind::strip:
        case ToolKind::line_load:
            return path;
    }
    return none;
}

const char* title_of(FigureKind f) {
    switch (f) {
        case FigureKind::point:
            return "Point";
        case FigureKind::path:
            return "Line";
        case FigureKind::corners:
            return "Corners";
        case FigureKind::rectangle:
            return "Rectangle";
        case FigureKind::circle:
            return "Circle";
        case FigureKind::ring:
            return "Ring";
    }
    return "";
}

const std::vector<ToolEntry>& tools() {
    static const std::vector<ToolEntry> all{
        {ToolKind::choose, "choose", "Choose", "&Choose and move", "Ctrl+1"},
        {ToolKind::slab, "draw", "Slab", "Draw the &slab", "Ctrl+2"},
        {ToolKind::column, "column", "Columns", "Draw &columns", "Ctrl+3"},
        {ToolKind::wall, "wall", "Walls", "Draw &walls", "Ctrl+4"},
        {ToolKind::rib, "rib", "Ribs", "Draw &ribs", "Ctrl+5"},
        {ToolKind::patch, "patch", "Patch", "Draw &thickness patches", "Ctrl+6"},
        {ToolKind::opening, "opening", "Opening", "Draw &openings", "Ctrl+7"},
        {ToolKind::setting_out, "line", "Lines", "Draw setting-out &lines", "Ctrl+8"},
        {ToolKind::ground_patch, "ground-patch", "Ground patch", "Draw &ground patches", "Ctrl+9"},
        {ToolKind::strip, "strip", "Strips", "Draw st&rips", "Ctrl+Shift+7"},
        {ToolKind::extra_bars, "extra-bars", "Extra bars", "Lay &extra bars", "Ctrl+Shift+5"},
        {ToolKind::links, "links", "Links", "Lay lin&ks", "Ctrl+Shift+6"},
        {ToolKind::point_load, "point-load", "Point load", "Put on &point loads", "Ctrl+Shift+1"},
        {ToolKind::line_load, "line-load", "Line load", "Put on li&ne loads", "Ctrl+Shift+2"},
        {ToolKind::area_load, "area-load", "Area load", "Put on &area loads", "Ctrl+Shift+3"},
        {ToolKind::member_load, "member-load", "On walls, ribs", "Load &walls and ribs", "Ctrl+Shift+4"}};
    return all;
}

const ToolEntry& entry_of(ToolKind kind) {
    for (const ToolEntry& e : tools())
        if (e.kind == kind) return e;
    return tools().front();
}

bool is_offered(ToolKind kind, Stop stop) {
    if (kind == ToolKind::choose) return true;
    if (kind == ToolKind::ground_patch) return stop == Stop::ground;
    if (kind == ToolKind::extra_bars || kind == ToolKind::strip) return stop == Stop::steel;
    if (kind == ToolKind::links) return stop == Stop::steel || stop == Stop::shear;
    if (made_by(kind) == ThingKind::load) return stop == Stop::loads;
    if (stop == Stop::loads) return false;
    if (stop == Stop::slab) return true;
    return kind == ToolKind::slab || kind == ToolKind::column;
}

std::unique_ptr<Tool> make_tool(ToolKind kind, ToolBench& bench) {
    if (kind == ToolKind::choose) return std::make_unique<ChooseTool>(bench);
    return std::make_unique<DrawTool>(bench, kind);
}

QString metres(double v) { return look::number(v, 2) + " m"; }

QString coordinates(const Snap& s) {
    return QString("%1, %2").arg(look::number(s.at.x, 2), look::number(s.at.y, 2)) +
           (s.note.empty() ? QString() : " · " + QString::fromStdString(s.note));
}

void write_length(QPainter& p, QPointF a, QPointF b, const QString& text) {
    p.save();
    p.setFont(look::font(look::Size::small));
    const QFontMetricsF metrics(p.font());
    const double width = metrics.horizontalAdvance(text) + 6, far = QLineF(a, b).length();
    if (far > width + 8) {
        double turn = -QLineF(a, b).angle();
        if (turn < -90 && turn > -270) turn += 180;  // never upside down
        p.translate((a + b) / 2);
        p.rotate(turn);
        const QRectF box(-width / 2, -metrics.height() - 3, width, metrics.height());
        p.fillRect(box, look::faded(look::sheet, 215));
        p.setPen(look::ink);
        p.drawText(box, Qt::AlignCenter, text);
    }
    p.restore();
}

}  // namespace mossbed
