// The depth chart: a log, effective overburden and added stress over depth, and what each layer settles.
#include "drawing/ground_parts.h"
#include "words/quantities.h"

namespace mossbed {

int stratum_index(const Ground& g, const std::string& id) {
    for (size_t i = 0; i < g.strata.size(); ++i)
        if (g.strata[i].id == id) return int(i);
    return 0;
}

Fill soil_fill(int stratum) {
    return {Tone::of_stratum(stratum), Pattern::soil, Tone::of_stratum(stratum, Role::stratum_stroke)};
}

namespace {

class DepthDraft {
  public:
    DepthDraft(const DepthChart& chart, const Model& model, const Box& paper)
        : c_(chart), m_(model), top_(chart.stations.front().level), low_(chart.stations.back().level) {
        const double left = paper.low.x + 40, right = paper.high.x - 6, top = paper.low.y + 34,
                     bottom = paper.high.y - 6;
        levels_ = paper.low.x + 36, head_ = paper.low.y;
        log_ = {left, left + 30};
        stress_ = {left + 36, left + 36 + 0.46 * (right - left)};
        bars_ = {stress_.right + 8, right};
        y0_ = top, y1_ = bottom;
        for (const auto& s : c_.stations)
            most_ = std::max({most_, s.level > c_.limit - 1e-9 ? s.overburden : 0.0, s.added});
    }

    Drawing draw() {
        draw_log();
        draw_stresses();
        draw_heads();
        draw_shares();
        mark_level(c_.founding, {Role::ink, 1.2});
        mark_level(c_.limit, {Role::rust, 1.2, Dash::dashed});
        if (y(c_.limit) >= y0_ - 1 && y(c_.limit) <= y1_ + 1)
            write(bars_.right, y(c_.limit) - 8, "limit", Role::rust, Align::right);
        if (std::isfinite(c_.water_level)) mark_level(c_.water_level, {Role::water, 1.2, Dash::dashed});
        write_levels();
        return std::move(drawing_);
    }

  private:
    struct Span {
        double left = 0, right = 0;
        double width() const { return right - left; }
    };
    double y(double level) const { return y0_ + (top_ - level) / (top_ - low_) * (y1_ - y0_); }
    double x(double kpa) const { return stress_.left + std::min(kpa / most_, 1.02) * stress_.width(); }
    Polygon box(double left, double top, double right, double bottom) const {
        return {on_bare_paper(left, bottom), on_bare_paper(right, bottom), on_bare_paper(right, top),
                on_bare_paper(left, top)};
    }
    void line(double xa, double ya, double xb, double yb, Stroke stroke) {
        drawing_.add(Layer::ground, open({on_bare_paper(xa, ya), on_bare_paper(xb, yb)}, stroke));
    }
    void write(double at_x, double at_y, std::string text, Tone tone, Align align) {
        Text t;
        t.at = on_bare_paper(at_x, at_y), t.text = std::move(text), t.tone = tone, t.align = align;
        drawing_.add(Layer::notes, std::move(t));
    }
    void draw_log() {
        for (const SoilLayer& l : c_.column) {
            const double a = std::max(y(l.top), y0_), b = std::min(y(l.bottom), y1_);
            if (b <= a) continue;
            drawing_.add(Layer::strata,
                         closed(box(log_.left, a, log_.right, b), {Role::ink, 0.8}, soil_fill(l.stratum)));
            line(stress_.left, b, bars_.right, b, {Role::line, 0.6});
        }
    }
    // What counts of the overburden for the limit: dashed; what the slab adds: filled.
    void draw_stresses() {
        Polygon added{on_bare_paper(stress_.left, y(std::min(c_.founding, top_)))}, overburden, part;
        for (const auto& s : c_.stations) {
            if (s.level <= c_.founding) added.push_back(on_bare_paper(x(s.added), y(s.level)));
            overburden.push_back(on_bare_paper(x(s.overburden), y(s.level)));
            part.push_back(on_bare_paper(x(m_.ground.depth_limit_ratio * s.overburden), y(s.level)));
        }
        added.push_back(on_bare_paper(stress_.left, y1_));
        const auto within = rings_of({box(stress_.left - 1, y0_ - 1, stress_.right + 1, y1_ + 1)});
        drawing_
            .add(Layer::pressure,
                 closed(std::move(added), {Role::pressure_ink, 1.4}, {Tone(Role::pressure_fill, 150), {}, {}}))
            .clip = within;
        drawing_.add(Layer::pressure, open(std::move(overburden), {Role::ink, 1.2, Dash::dashed})).clip = within;
        if (!m_.ground.rigid_base_level)  // the share of it that sets the limit
            drawing_.add(Layer::pressure, open(std::move(part), {Role::rust, 1, Dash::dotted})).clip = within;
        line(stress_.left, y1_, stress_.left, y0_, {Role::faint, 0.8});
        line(stress_.left, y0_, stress_.right, y0_, {Role::faint, 0.8});
    }
    void draw_heads() {
        write(stress_.left - 6, head_ + 25, "0", Role::faint, Align::left);
        write(stress_.right, head_ + 25, typeset(written(most_, 0)) + " kPa", Role::faint, Align::right);
        write(stress_.left, head_ + 9, "■ added", Role::pressure_ink, Align::left);
        write(stress_.right, head_ + 9, "- - overburden", Role::ink, Align::right);
        write(bars_.right, head_ + 9, "settles, mm", Role::moss, Align::right);
    }
    void draw_shares() {
        double largest = 1e-12;
        for (const auto& l : c_.layers) largest = std::max(largest, l.settlement);
        for (const auto& l : c_.layers) {
            const double a = y(l.top), b = y(l.bottom),
                         w = std::max(1.0, (bars_.width() - 58) * l.settlement / largest);
            drawing_.add(Layer::settlement,
                         closed(box(bars_.left, a + 1, bars_.left + w, a + 1 + std::max(b - a - 2, 2.0)), {},
                                {Tone(Role::settled_fill, 190), {}, {}}));
            write(bars_.left + w + 4, (a + b) / 2, written(1000 * l.settlement, 1), Role::ink, Align::left);
        }
    }
    void mark_level(double level, Stroke stroke) {
        if (y(level) < y0_ - 1 || y(level) > y1_ + 1) return;
        line(log_.left, y(level), bars_.right, y(level), stroke);
    }
    // At the left, no two on top of each other.
    void write_levels() {
        std::vector<double> taken;
        auto level = [&](double v, Tone tone) {
            if (y(v) < y0_ - 2 || y(v) > y1_ + 2) return;
            for (double w : taken)
                if (std::abs(w - y(v)) < 12) return;
            taken.push_back(y(v));
            write(levels_, y(v), typeset(written(v, 1)), tone, Align::right);
        };
        level(c_.founding, Role::ink);
        level(c_.limit, Role::rust);
        for (const SoilLayer& l : c_.column) level(l.bottom, Role::faint);
        level(top_, Role::faint);
    }

    const DepthChart& c_;
    const Model& m_;
    double top_, low_, most_ = 1, y0_ = 0, y1_ = 1, levels_ = 0, head_ = 0;
    Span log_, stress_, bars_;
    Drawing drawing_;
};

}  // namespace

Drawing depth_chart_drawing(const DepthChart& chart, const Model& model, const Box& paper) {
    return DepthDraft(chart, model, paper).draw();
}

}  // namespace mossbed
