#include "app/tools/add_column.h"

namespace mossbed {

Column AddColumnTool::next(Point at) const {
    const Model& m = bench_.desk().now();
    Column c;
    if (!m.columns.empty()) c.shape = m.columns.back().shape, c.size = m.columns.back().size;
    c.at = at;
    return c;
}

void AddColumnTool::hover(const Hand& h) {
    hand_ = h;
    note_ = coordinates(snap_to(desk().now(), bench_.camera(), h.in_plan));
}

bool AddColumnTool::put_down() {
    bench_.take(ToolKind::choose);
    return true;
}

void AddColumnTool::press(const Hand& h) {
    Model m = desk().now();
    Column c = next(snap_to(m, bench_.camera(), h.in_plan).at);
    if (!on_slab(m, c.at)) return desk().say("That place is off the slab; a column needs ground to stand on.", true);
    std::vector<std::string> taken;
    for (const Column& k : m.columns) taken.push_back(k.id);
    c.id = fresh_id("C", taken);
    const std::string id = c.id;
    m.columns.push_back(std::move(c));
    desk().document()->apply("Add column " + QString::fromStdString(id), std::move(m));
    desk().choose({{ThingKind::column, id}});
}

void AddColumnTool::draw(QPainter& p) const {
    if (!bench_.has_pointer()) return;
    const Column c = next(snap_to(bench_.desk().now(), bench_.camera(), hand_.in_plan).at);
    p.setPen(QPen(look::moss, 1.4));
    p.setBrush(look::faded(look::moss, 60));
    p.drawPolygon(bench_.camera().on_paper(footprint(c)));
    bench_.tag(p, hand_.at, note_);
}

}  // namespace mossbed
