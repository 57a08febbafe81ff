// The ruler that a map is read by, where the slab leaves room for it.
#include "core/judge/checks.h"
#include "drawing/plan.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

Box box_at(double left, double top, double width, double height) {
    Box b;
    b.add({left, top}), b.add({left + width, top + height});
    return b;
}

// Clear of the slab first, then of the name tabs along its top, then wide, then to the upper right.
Box room_for_key(const Rings& slab, const Box& paper) {
    Box slab_box, best;
    for (Point q : slab.front()) slab_box.add(q);
    const Box tabs = box_at(slab_box.low.x, slab_box.low.y - 34, slab_box.width(), 26);
    double least = 1e300;
    for (double width : {270.0, 196.0})
        for (int iy = 0; iy <= 10; ++iy)
            for (int ix = 10; ix >= 0; --ix) {
                const Box r = box_at(paper.low.x + 12 + 0.1 * ix * (paper.width() - width - 24),
                                     paper.low.y + 8 + 0.1 * iy * (paper.height() - 76 - 34), width, 76);
                double cost = 0.02 * iy + 0.01 * (10 - ix) + (width < 200 ? 0.5 : 0);
                for (int i = 0; i <= 12; ++i)
                    for (int j = 0; j <= 6; ++j)
                        cost += inside(slab, r.low + Point{r.width() * i / 12, r.height() * j / 6});
                if (r.overlaps(tabs)) cost += 4;
                if (cost < least - 1e-9) least = cost, best = r;
            }
    return best;
}

class KeyDraft {
  public:
    KeyDraft(const PlanScene& s, const Box& area)
        : s_(s), info_(info(s.quantity)), bands_(s.shapes->bands), area_(area) {
        const double unit_width = likely_width(info_.unit) + 12;
        bar_ = box_at(area.low.x + 10, area.low.y + 20, area.width() - unit_width - 20, 11);
    }
    PlanKey draw() {
        rectangle(box_at(area_.low.x - 6, area_.low.y - 3, area_.width() + 12, area_.height() + 6), {},
                  {Tone(Role::sheet, 235), {}, {}});
        const bool rough = s_.moving && needs_fine_mesh(s_.quantity);
        write(area_.low.x, area_.low.y + 8,
              rough ? std::string(info_.title) + " · no peaks yet"
                    : std::string(info_.title) + " · " + s_.combination->combination.id,
              rough ? Role::faint : Role::ink, Align::left, true);
        draw_bar();
        draw_numbers();
        draw_mark();
        if (s_.lifted) draw_lifted();
        return {std::move(drawing_), bar_};
    }

  private:
    double at(double value) const {
        return bar_.low.x + bar_.width() * (value - bands_.low) / (bands_.high - bands_.low);
    }
    void rectangle(const Box& b, Stroke stroke, Fill fill) {
        drawing_.add(Layer::key, closed({on_bare_paper(b.low.x, b.high.y), on_bare_paper(b.high.x, b.high.y),
                                         on_bare_paper(b.high.x, b.low.y), on_bare_paper(b.low.x, b.low.y)},
                                        stroke, fill));
    }
    void upright(double x, double y0, double y1, Stroke stroke) {
        drawing_.add(Layer::key, open({on_bare_paper(x, y0), on_bare_paper(x, y1)}, stroke));
    }
    void write(double x, double y, std::string text, Tone tone, Align align, bool bold = false) {
        Text t;
        t.at = on_bare_paper(x, y), t.text = std::move(text), t.tone = tone, t.align = align, t.bold = bold;
        drawing_.add(Layer::key, std::move(t));
    }
    void draw_bar() {
        const double w = bar_.width() / bands_.n;
        for (int b = 0; b < bands_.n; ++b)
            rectangle(box_at(bar_.low.x + b * w, bar_.low.y, w, bar_.height()), {},
                      {Tone::of_scale(info_.scale, bands_.n > 1 ? double(b) / (bands_.n - 1) : 0.5), {}, {}});
        rectangle(bar_, {Role::faint, 1}, {});
        write(bar_.high.x + 8, bar_.low.y + 5.5, info_.unit, Role::faint, Align::left);
    }
    void draw_numbers() {
        const int skip = std::max(1, int(std::ceil(bands_.n * 32.0 / bar_.width())));
        for (int b = 0; b <= bands_.n; ++b) {
            const double v = bands_.low + b * bands_.step(), x = at(v);
            upright(x, bar_.high.y, bar_.high.y + (b % skip == 0 ? 4 : 2), {Role::faint, 1});
            if (b % skip == 0)
                write(x, bar_.high.y + 11, typeset(written(v, bands_.decimals())), Role::ink, Align::centre);
        }
    }
    // What the ground or a limit says about the quantity.
    void draw_mark() {
        if (s_.quantity != Quantity::pressure) return;
        const Ground& g = s_.model->ground;
        std::optional<double> mark = limit_of_largest_pressure(*s_.model, s_.combination->combination);
        std::string text = "allowable ";
        if (!mark && g.model == GroundModel::coupled && g.yield_pressure) mark = g.yield_pressure, text = "yields at ";
        if (!mark) return;
        if (*mark >= bands_.low - 1e-9 && *mark <= bands_.high + 1e-9)
            upright(at(*mark), bar_.low.y - 4, bar_.high.y + 3, {Role::rust, 2});
        write(bar_.high.x, bar_.high.y + 25, text + typeset(written_with_unit(*mark, "kPa")), Role::rust, Align::right);
    }
    void draw_lifted() {
        rectangle(box_at(bar_.low.x, bar_.high.y + 21, 13, 9), {Role::ink, 1, Dash::dashed},
                  {Role::sheet, Pattern::dots, Role::faint});
        write(bar_.low.x + 18, bar_.high.y + 25.5,
              "lifted, " + written(100 * (1 - s_.combination->contact_ratio), 1) + " % of base", Role::ink,
              Align::left);
    }

    const PlanScene& s_;
    const QuantityInfo& info_;
    const Bands bands_;
    Box area_, bar_;
    Drawing drawing_;
};

}  // namespace

PlanKey plan_key(const PlanScene& s, const View& view, const Box& paper) {
    if (!s.model || !has_slab(*s.model) || !s.combination || s.quantity == Quantity::none || !s.shapes ||
        s.shapes->areas.empty())
        return {};
    Rings slab = slab_rings(*s.model, view);
    for (Polygon& ring : slab)
        for (Point& q : ring) q = view.at(q);
    return KeyDraft(s, room_for_key(slab, paper)).draw();
}

}  // namespace mossbed
