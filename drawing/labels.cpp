#include "drawing/labels.h"

namespace mossbed {

Box Labels::box_of(const Text& t) const {
    const double w = likely_width(t.text, t.size, t.bold), h = t.size == Size::small    ? 13
                                                               : t.size == Size::normal ? 15
                                                                                        : 17;
    const Point a = view_.at(t.at);
    const double x = a.x + t.offset.x -
                     (t.align == Align::centre  ? w / 2
                      : t.align == Align::right ? w
                                                : 0),
                 y = a.y - t.offset.y;
    Box b;
    b.add({x, y - h / 2}), b.add({x + w, y + h / 2});
    return b;
}

bool Labels::is_free(const Box& b) const {
    return std::none_of(taken_.begin(), taken_.end(), [&](const Box& t) { return t.overlaps(b); });
}

bool Labels::is_on_paper(const Box& b) const {
    return b.low.x >= paper_.low.x && b.high.x <= paper_.high.x && b.low.y >= paper_.low.y && b.high.y <= paper_.high.y;
}

Point Labels::write(Layer layer, Text text, const std::vector<Point>& offsets) {
    const auto align = [](Point o) { return o.x > 1 ? Align::left : o.x < -1 ? Align::right : Align::centre; };
    auto at = [&](Point o) {
        Text t = text;
        t.offset = o, t.align = align(o);
        return t;
    };
    std::optional<Text> best;
    for (Point o : offsets) {
        const Text t = at(o);
        if (!is_on_paper(box_of(t))) continue;
        if (!best) best = t;
        if (!is_free(box_of(t))) continue;
        best = t;
        break;
    }
    if (!best) best = at(*offsets.begin());
    taken_.push_back(box_of(*best));
    drawing_.add(layer, *best);
    return best->offset;
}

void Labels::write_if_free(Layer layer, Text text, const std::vector<Point>& offsets) {
    for (Point o : offsets) {
        text.offset = o;
        const Box b = box_of(text);
        if (!is_on_paper(b) || !is_free(b)) continue;
        taken_.push_back(b);
        drawing_.add(layer, std::move(text));
        return;
    }
}

}  // namespace mossbed
