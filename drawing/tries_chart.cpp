#include "drawing/tries_chart.h"

#include <algorithm>

#include "drawing/paper_draft.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

void draw_series(const PunchingMend::Series& s, double left, double right, double top, PaperDraft& to) {
    const double limit = top + 24, base = top + 46;
    double low = 1e300, high = -1e300;
    for (const Try& t : s.tries) low = std::min(low, t.size), high = std::max(high, t.size);
    const double room = right - left - 8;
    auto x_of = [&](double size) { return left + 4 + (high > low ? (size - low) / (high - low) * room : room / 2); };
    auto y_of = [&](double use) { return limit - (std::clamp(use, 0.6, 1.5) - 1) * 44; };
    to.line(Layer::punching, left, limit, right, limit, {Role::ink, 1.2});
    to.line(Layer::punching, left, base, right, base, {Role::line, 0.8});
    const Try* best = nullptr;
    for (const Try& t : s.tries)
        if (t.passes() && (!best || t.size < best->size)) best = &t;
    for (const Try& t : s.tries) {
        if (!t.use) continue;
        Disc d;
        d.at = on_bare_paper(x_of(t.size), y_of(*t.use)), d.radius = &t == best ? 4 : 2.4;
        d.fill = {Tone(t.passes() ? Role::moss : Role::rust, &t == best ? 255 : 150), {}, {}};
        if (&t == best) d.stroke = {Role::ink, 1.2};
        to.drawing.add(Layer::punching, std::move(d));
    }
    auto number = [&](double v) { return typeset(written(v, v == std::floor(v) && high > 3 ? 0 : 2)); };
    const bool all_fit =
        likely_width(number(low)) + likely_width(s.of) + likely_width(number(high)) + 16 < right - left;
    if (high > low && all_fit) {
        to.write(left, base + 12, number(low), Role::faint, Align::left);
        to.write(right, base + 12, number(high), Role::faint, Align::right);
    }
    to.write((left + right) / 2, base + 12, s.of, Role::faint, Align::centre);
}

}  // namespace

Drawing tries_chart(const PunchingMend& mend, const Box& paper) {
    PaperDraft d;
    const size_t n = std::max<size_t>(1, mend.series.size());
    constexpr double gap = 10;
    const double width = (paper.width() - 8 - gap * double(n - 1)) / double(n);
    for (size_t k = 0; k < mend.series.size(); ++k) {
        const double left = paper.low.x + 4 + double(k) * (width + gap);
        draw_series(mend.series[k], left, left + width, paper.low.y + 2, d);
    }
    return std::move(d.drawing);
}

}  // namespace mossbed
