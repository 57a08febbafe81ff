#include "app/tools/choose.h"

#include "core/arrange/placement.h"

namespace mossbed {

QString ChooseTool::hint() const {
    if (hover_ && !hover_->hint().isEmpty()) return hover_->hint();
    const Model& now = bench_.desk().now();
    if (!has_slab(now)) return "Begin at the right, or press Ctrl+2 and draw the slab";
    if (bench_.desk().stop == Stop::ground && !now.ground.boreholes.empty())
        return "Click pins the depth chart · drag squares in the Cut";
    return "Drag a rim to push it out · click a thing to take it in hand, drag to move it · Shift for more";
}

QCursor ChooseTool::cursor() const { return hover_ ? hover_->cursor() : QCursor(Qt::ArrowCursor); }

void ChooseTool::hover(const Hand& h) {
    hand_ = h;
    auto now = grip_at(bench_, h.at);
    const bool moved = !hover_ || !hover_->is_same(*now);
    hover_ = std::move(now);
    if (moved) bench_.hint_moved();
}

void ChooseTool::press(const Hand& h) {
    hand_ = pressed_ = h;
    held_ = grip_at(bench_, h.at);
    held_->begin(h);
}

void ChooseTool::drag(const Hand& h) {
    hand_ = h;
    if (held_) held_->drag(pressed_, h);
}

void ChooseTool::release(const Hand& h, bool dragged) {
    hand_ = h;
    const auto held = std::move(held_);
    if (!held) return;
    if (dragged)
        held->drop();
    else
        held->click(h);
}

bool ChooseTool::double_click(const Hand& h) {
    if (!bench_.key_bar().adjusted(-10, -6, 10, 20).contains(h.at)) return false;
    desk().set_bands(std::nullopt);
    return true;
}

// Arrow keys move what is chosen.
bool ChooseTool::key(QKeyEvent* e) {
    const std::map<int, Point> ways{
        {Qt::Key_Left, {-1, 0}}, {Qt::Key_Right, {1, 0}}, {Qt::Key_Up, {0, 1}}, {Qt::Key_Down, {0, -1}}};
    const auto way = ways.find(e->key());
    if (way == ways.end() || held_ || desk().chosen.empty()) return false;
    const double step = e->modifiers() & Qt::ShiftModifier ? 1 : 0.1;  // m
    const Things those = movable(desk().chosen);
    if (those.empty()) return false;
    desk().apply_sound("Move " + words_of(those), placed(desk().now(), those, Placement::moved(step * way->second)));
    return true;
}

bool ChooseTool::put_down() {
    if (held_) {
        held_.reset();
        desk().document()->cancel_preview();
        return true;
    }
    desk().flag.reset(), desk().flag_area.clear();
    desk().choose({});
    return true;
}

void ChooseTool::draw(QPainter& p) const {
    if (held_) {
        held_->draw(p);
        bench_.tag(p, hand_.at, held_->note);
    } else if (hover_ && bench_.has_pointer()) {
        hover_->draw_hover(p);
        if (hover_->is_nothing()) bench_.tag(p, hand_.at, bench_.reading());
    }
}

}  // namespace mossbed
