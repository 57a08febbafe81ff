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

class KeyDraft {
  public:
    KeyDraft(const PlanScene& s, const Box& paper) : s_(s), info_(info(s.quantity)), bands_(s.shapes->bands) {
        const double unit_width = likely_width(info_.unit) + 14;
        const double width = std::clamp(paper.width() - unit_width - 330, 150.0, 300.0);
        bar_ = box_at(paper.high.x - 14 - unit_width - width, paper.low.y + 19, width, 11);
    }
    PlanKey draw() {
        const bool rough = s_.moving && needs_fine_mesh(s_.quantity);
        write(bar_.low.x, bar_.low.y - 9,
              rough ? std::string(info_.title) + " · no peaks yet" : std::string(info_.title) + of_what(),
              rough ? Role::faint : Role::ink, Align::left, true);
        draw_bar();
        draw_numbers();
        notes_ = {bar_.low.x - 22, bar_.low.y - 9};
        draw_mark();
        if (s_.lifted && !is_of_bars(s_.quantity)) draw_lifted();
        if (s_.stale) note("of before the edit", Role::faint);
        for (Mark& m : drawing_.marks) m.faded = s_.stale;
        return {std::move(drawing_), bar_};
    }

  private:
    std::string of_what() const {
        if (is_of_bars(s_.quantity)) {
            const auto& over = s_.model->steel.averaged_over;
            return std::string(", ") + name_of(s_.bars_face) + " " + name_of(s_.bars_direction) +
                   (over && s_.quantity == Quantity::required ? " · mean of " + written_with_unit(*over, "m")
                                                              : " · all of strength");
        }
        return " · " + (s_.envelope.empty() ? s_.combination->combination.id : s_.envelope);
    }
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
        if (s_.quantity == Quantity::margin && s_.over) note("short of steel: hatched", Role::rust);
        if (s_.quantity == Quantity::required && s_.over) note("no amount fits: hatched", Role::rust);
        if (s_.quantity != Quantity::pressure) return;
        const Ground& g = s_.model->ground;
        const std::optional<double> limit = limit_of_largest_pressure(*s_.model, s_.combination->combination);
        if (limit) return mark(*limit, "allowable ", Role::rust);
        // On layered ground a mean over an area is held against it, not what the map shows.
        if (g.model != GroundModel::coupled) return;
        if (g.allowable_is == AllowableIs::gross && s_.combination->combination.purpose == Purpose::service)
            mark(g.allowable_pressure, "allowable as a mean ", Role::ink);
        if (g.yield_pressure) mark(*g.yield_pressure, "yields at ", Role::rust);
    }
    void mark(double value, const char* text, Role role) {
        if (value >= bands_.low - 1e-9 && value <= bands_.high + 1e-9)
            upright(at(value), bar_.low.y - 3, bar_.high.y + 3, {role, 2});
        note(text + typeset(written_with_unit(value, "kPa")), role);
    }
    void draw_lifted() {
        const std::string text = s_.envelope.empty()
                                     ? "lifted, " + written(100 * (1 - s_.combination->contact_ratio), 1) + " % of base"
                                     : "lifts in one at least";
        const double left = notes_.x - likely_width(text) - 22, y = notes_.y;
        rectangle(box_at(left, y - 5, 13, 9), {Role::ink, 1, Dash::dashed}, {Role::sheet, Pattern::dots, Role::faint});
        note(text, Role::ink);
    }
    // Beside the ruler, one below the other.
    void note(std::string text, Tone tone) {
        write(notes_.x, notes_.y, std::move(text), tone, Align::right);
        notes_.y += 16;
    }

    const PlanScene& s_;
    const QuantityInfo& info_;
    const Bands bands_;
    Box bar_;
    Point notes_;
    Drawing drawing_;
};

}  // namespace

PlanKey plan_key(const PlanScene& s, const Box& paper) {
    if (!s.model || !has_slab(*s.model) || !s.combination || s.quantity == Quantity::none || !s.shapes ||
        s.shapes->areas.empty())
        return {};
    return KeyDraft(s, paper).draw();
}

}  // namespace mossbed
