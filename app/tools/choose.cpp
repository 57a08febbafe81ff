#include "app/tools/choose.h"

namespace mossbed {

QString ChooseTool::hint() const {
    if (hover_ && !hover_->hint().isEmpty()) return hover_->hint();
    const Model& now = bench_.desk().now();
    if (!has_slab(now)) return "Begin at the right, or press Ctrl+2 and draw the slab";
    if (bench_.desk().stop == Stop::ground && !now.ground.boreholes.empty())
        return "Click pins the depth chart · drag squares in the Cut";
    return "Drag a rim to push it out · click a column to take it in hand";
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

bool ChooseTool::put_down() {
    if (held_) {
        held_.reset();
        desk().document()->cancel_preview();
        return true;
    }
    desk().flag.reset();
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
