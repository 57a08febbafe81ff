#include "drawing/least_chart.h"

#include <algorithm>

#include "drawing/paper_draft.h"
#include "words/quantities.h"

namespace mossbed {

LeastChart least_chart(const LeastSteel& found, const Box& paper) {
    LeastChart out;
    if (found.schemes.empty()) return out;
    PaperDraft d;
    const double left = paper.low.x + 34, right = paper.high.x - 12, top = paper.low.y + 12,
                 base = paper.low.y + paper.height() - 22;
    int first = 1 << 30, last = 0;
    double low = 1e300, high = 0;
    auto span = [&](int groups, double kg) {
        first = std::min(first, groups), last = std::max(last, groups);
        low = std::min(low, kg), high = std::max(high, kg);
    };
    for (const BarScheme& s : found.schemes) span(s.groups(), s.kg);
    const double heaviest = 1.1 * high;  // what is far off says nothing
    for (const auto& w : found.weighed)
        if (w.kg <= heaviest) span(w.groups, w.kg);
    if (high - low < 1) low -= 500, high += 500;
    auto x_of = [&](int groups) {
        return last > first ? left + 8 + (right - left - 16) * (groups - first) / (last - first) : (left + right) / 2;
    };
    auto y_of = [&](double kg) { return base - 8 - (base - top - 12) * (kg - low) / (high - low); };
    d.line(Layer::notes, left, base, right, base, {Role::faint, 0.9});
    d.line(Layer::notes, left, top, left, base, {Role::faint, 0.9});
    auto tonnes = [](double kg) { return typeset(written(kg / 1000, 1)); };
    d.write(left - 4, y_of(high), tonnes(high), Role::faint, Align::right);
    d.write(left - 4, y_of(low), tonnes(low), Role::faint, Align::right);
    d.write(left - 4, (y_of(low) + y_of(high)) / 2, "t", Role::faint, Align::right);
    const int step = std::max(1, (last - first + 5) / 6);
    for (int g = first; g <= last; g += step)
        d.write(x_of(g), base + 11, std::to_string(g), Role::faint, Align::centre);
    d.write(right, top, "weight over groups of bars", Role::faint, Align::right);
    auto dot = [&](double x, double y, double radius, Fill fill, Stroke stroke) {
        Disc disc;
        disc.at = on_bare_paper(x, y), disc.radius = radius, disc.fill = fill, disc.stroke = stroke;
        d.drawing.add(Layer::punching, std::move(disc));
    };
    for (const auto& w : found.weighed)
        if (w.kg <= heaviest) dot(x_of(w.groups), y_of(w.kg), 2, {Tone(Role::faint, 90), {}, {}}, {});
    for (size_t k = 0; k < found.schemes.size(); ++k) {
        const BarScheme& s = found.schemes[k];
        const Point at{x_of(s.groups()), y_of(s.kg)};
        if (k == found.picked) {
            dot(at.x, at.y, 6.5, {}, {Role::ink, 1.6});
            const bool room_right = at.x < (left + right) / 2;
            d.write(at.x + (room_right ? 11 : -11), at.y - 11,
                    std::to_string(s.groups()) + " groups · " + tonnes(s.kg) + " t", Role::ink,
                    room_right ? Align::left : Align::right, true);
        }
        dot(at.x, at.y, 3, {Role::moss, {}, {}}, {});
        out.spots.push_back({at, s.groups()});
    }
    out.drawing = std::move(d.drawing);
    return out;
}

}  // namespace mossbed
