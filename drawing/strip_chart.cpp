#include "drawing/strip_chart.h"

#include <algorithm>
#include <cmath>

#include "drawing/paper_draft.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

// 1, 2 or 5 times a power of ten, some three to a range.
double step_of(double range) {
    if (!(range > 0)) return 1;
    const double rough = range / 3, power = std::pow(10, std::floor(std::log10(rough)));
    return (rough / power >= 5 ? 5 : rough / power >= 2 ? 2 : 1) * power;
}

class Draft : PaperDraft {
  public:
    Draft(const StripLine& l, StripPart part, const Box& paper)
        : l_(l),
          part_(part),
          left_(paper.low.x + 74),
          right_(paper.high.x - 20),
          top_(paper.low.y + 26),
          base_(paper.high.y - 30) {}

    StripChart draw() {
        if (l_.s.size() < 2) return {};
        find_range();
        axes();
        if (part_ == StripPart::steel)
            steel();
        else if (part_ == StripPart::moment)
            forces(l_.M_most, l_.M_least, -1);
        else
            forces(l_.V_most, l_.V_least, 1);
        supports();
        return {std::move(drawing), x_of(l_.s.front()), x_of(l_.s.back())};
    }

  private:
    double x_of(double s) const {
        return left_ + (s - l_.s.front()) / std::max(1e-9, l_.s.back() - l_.s.front()) * (right_ - left_);
    }
    double y_of(double v) const { return base_ - (v - low_) / (high_ - low_) * (base_ - top_); }  // v: drawn upward
    void find_range() {
        low_ = high_ = 0;
        auto take = [this](const std::vector<double>& values, double sign) {
            for (double v : values)
                if (std::isfinite(v)) low_ = std::min(low_, sign * v), high_ = std::max(high_, sign * v);
        };
        if (part_ == StripPart::steel)
            take(l_.needs_top, 1), take(l_.has_top, 1), take(l_.needs_bottom, -1), take(l_.has_bottom, -1);
        else if (part_ == StripPart::moment)
            take(l_.M_most, -1), take(l_.M_least, -1);
        else
            take(l_.V_most, 1), take(l_.V_least, 1);
        const double room = std::max(1e-6, 0.06 * (high_ - low_));
        high_ += room, low_ -= room;
    }
    void axes() {
        const double step = step_of(high_ - low_);
        for (double v = step * std::ceil(low_ / step); v <= high_; v += step) {
            line(Layer::moment, left_ - 4, y_of(v), right_, y_of(v), {Role::line, 0.7, Dash::dotted});
            // Moments and steel stand on the side of the face in tension: sizes, as the bottom is no negative top.
            const double shown = part_ == StripPart::steel ? std::abs(v) : part_ == StripPart::moment ? -v : v;
            write(left_ - 8, y_of(v), typeset(written(shown, step < 1 ? 1 : 0)), Role::faint, Align::right);
        }
        line(Layer::moment, left_, y_of(0), right_, y_of(0), {Role::ink, 1});
        const char* unit = part_ == StripPart::steel ? "mm²/m" : part_ == StripPart::moment ? "kN·m" : "kN";
        write(left_ - 8, top_ - 14, unit, Role::faint, Align::right);
        if (part_ == StripPart::shear) return;
        write(left_ + 4, y_of(0) - 9, "top", Role::faint, Align::left);
        write(left_ + 4, y_of(0) + 9, "bottom", Role::faint, Align::left);
    }
    // From the axis to a curve; where it has no number, to the edge of the chart, hatched: no amount fits.
    void area(const std::vector<double>& values, double sign) {
        for (size_t i = 0; i < values.size();) {
            const bool fits = std::isfinite(values[i]);
            size_t j = i;
            while (j + 1 < values.size() && std::isfinite(values[j + 1]) == fits) ++j;
            Polygon p{on_bare_paper(x_of(l_.s[i]), y_of(0))}, curve;
            for (size_t k = i; k <= j; ++k)
                curve.push_back(on_bare_paper(x_of(l_.s[k]), fits ? y_of(sign * values[k]) : sign > 0 ? top_ : base_));
            p.insert(p.end(), curve.begin(), curve.end());
            p.push_back(on_bare_paper(x_of(l_.s[j]), y_of(0)));
            if (fits)
                drawing.add(Layer::moment, closed(std::move(p), {}, {Tone(Role::ochre, 80), {}, {}}));
            else
                drawing.add(Layer::moment,
                            closed(std::move(p), {}, {Tone(Role::rust, 40), Pattern::slanted, Role::rust}));
            if (fits && j > i) drawing.add(Layer::moment, open(std::move(curve), {Role::moment_ink, 1.4}));
            if (!fits)
                write(x_of(l_.s[(i + j) / 2]), (y_of(0) + (sign > 0 ? top_ : base_)) / 2, "no amount fits", Role::rust,
                      Align::centre, true);
            i = j + 1;
        }
    }
    void steps(const std::vector<double>& values, double sign) {
        Polygon p;
        for (size_t k = 0; k < values.size(); ++k) p.push_back(on_bare_paper(x_of(l_.s[k]), y_of(sign * values[k])));
        drawing.add(Layer::bars, open(std::move(p), {Role::ink, 2}));
    }
    void steel() {
        area(l_.needs_top, 1), area(l_.needs_bottom, -1);
        steps(l_.has_top, 1), steps(l_.has_bottom, -1);
        bars();
        if (!l_.tightest) return;
        const StripLine::Tightest& t = *l_.tightest;
        const double sign = t.face == Face::top ? 1 : -1;
        const bool fits = std::isfinite(t.needs), over = t.use > 1 + 5e-3;
        Disc ring;
        ring.at = on_bare_paper(x_of(t.s), fits ? y_of(sign * t.needs) : (sign > 0 ? top_ : base_));
        ring.radius = 6, ring.stroke = {over ? Role::rust : Role::moss, 2.4};
        drawing.add(Layer::punching, std::move(ring));
        if (!fits) return;
        const bool leftwards = x_of(t.s) > (left_ + right_) / 2;
        write(x_of(t.s) + (leftwards ? -12 : 12), y_of(sign * t.needs) + sign * 12,
              typeset(written(t.needs, 0)) + " of " + typeset(written(t.has, 0)) + " mm²/m · " + t.combination + " · " +
                  written(t.use, 2),
              over ? Role::rust : Role::ink, leftwards ? Align::right : Align::left, true);
    }
    // What the bars are: base bars at the right, extra bars at their middle with dots where they are cut off.
    void bars() {
        auto has_at = [&](double s, const std::vector<double>& has) {
            const size_t k = size_t(std::lower_bound(l_.s.begin(), l_.s.end(), s) - l_.s.begin());
            return has[std::min(k, has.size() - 1)];
        };
        auto outside = [](double y, double sign) { return y - sign * 9; };
        for (const auto& [face, words] : {std::pair{Face::top, l_.base_top}, {Face::bottom, l_.base_bottom}}) {
            if (words.empty()) continue;
            const double sign = face == Face::top ? 1 : -1;
            const auto& has = face == Face::top ? l_.has_top : l_.has_bottom;
            write(right_ - 4, outside(y_of(sign * has.back()), sign), words, Role::ink, Align::right);
        }
        for (const StripLine::Extra& e : l_.extra) {
            const double sign = e.face == Face::top ? 1 : -1;
            const auto& has = e.face == Face::top ? l_.has_top : l_.has_bottom;
            for (double s : {e.from, e.to})
                if (s > l_.s.front() + 0.1 && s < l_.s.back() - 0.1)
                    line(Layer::bars, x_of(s), y_of(0), x_of(s), y_of(sign * has_at(s, has)),
                         {Role::moss, 1.2, Dash::dotted});
            const double a = std::max(left_, x_of(e.from)), b = std::min(right_, x_of(e.to));
            const std::string words = e.id + " " + e.bars;
            const double half = likely_width(words) / 2;
            if (b - a < 2 * half || b + 4 > right_ - 90) continue;
            write((a + b) / 2, y_of(0) - sign * 9, words, Role::moss, Align::centre);
        }
    }
    void forces(const std::vector<double>& most, const std::vector<double>& least, double sign) {
        if (most.size() != l_.s.size()) {
            write((left_ + right_) / 2, (top_ + base_) / 2 - 12,
                  "not of this combination: strips are not designed for it", Role::faint, Align::centre);
            return;
        }
        Polygon band, upper, lower;
        for (size_t k = 0; k < most.size(); ++k) {
            upper.push_back(on_bare_paper(x_of(l_.s[k]), y_of(sign * most[k])));
            lower.push_back(on_bare_paper(x_of(l_.s[k]), y_of(sign * least[k])));
        }
        band = upper;
        band.insert(band.end(), lower.rbegin(), lower.rend());
        if (l_.is_envelope) {
            drawing.add(Layer::moment, closed(std::move(band), {}, {Tone(Role::ochre, 80), {}, {}}));
        } else {
            Polygon from_axis = upper;
            from_axis.push_back(on_bare_paper(x_of(l_.s.back()), y_of(0)));
            from_axis.push_back(on_bare_paper(x_of(l_.s.front()), y_of(0)));
            drawing.add(Layer::moment, closed(std::move(from_axis), {}, {Tone(Role::ochre, 80), {}, {}}));
        }
        drawing.add(Layer::moment, open(upper, {Role::moment_ink, 1.4}));
        if (l_.is_envelope) drawing.add(Layer::moment, open(lower, {Role::moment_ink, 1.4}));
        auto extreme = [&](const std::vector<double>& v, size_t k) {
            const double y = y_of(sign * v[k]);
            const bool up = sign * v[k] > 0;
            write(std::clamp(x_of(l_.s[k]), left_ + 20, right_ - 20), y + (up ? -8 : 9), typeset(written(v[k], 0)),
                  Role::ink, Align::centre, true);
        };
        extreme(most, size_t(std::max_element(most.begin(), most.end()) - most.begin()));
        extreme(least, size_t(std::min_element(least.begin(), least.end()) - least.begin()));
    }
    // Columns below the chart, as wide as they are; names where there is room.
    void supports() {
        double free_from = left_ - 40;
        for (const StripLine::Support& s : l_.supports) {
            const double a = std::max(left_, x_of(s.from)), b = std::min(right_, x_of(s.to));
            drawing.add(Layer::columns,
                        closed({on_bare_paper(a, base_ + 4), on_bare_paper(std::max(b, a + 3), base_ + 4),
                                on_bare_paper(std::max(b, a + 3), base_ + 11), on_bare_paper(a, base_ + 11)},
                               {}, {Role::ink, {}, {}}));
            const double half = likely_width(s.name) / 2 + 3, middle = (a + b) / 2;
            if (middle - half < free_from) continue;
            write(middle, base_ + 20, s.name, Role::ink, Align::centre);
            free_from = middle + half;
        }
    }

    const StripLine& l_;
    StripPart part_;
    double left_, right_, top_, base_;
    double low_ = 0, high_ = 1;  // drawn upward, in the chart's unit
};

}  // namespace

StripChart strip_chart(const StripLine& line, StripPart part, const Box& paper) {
    return Draft(line, part, paper).draw();
}

std::string strip_reading(const StripLine& l, StripPart part, double s) {
    if (l.s.empty()) return {};
    size_t k = 0;
    for (size_t i = 0; i < l.s.size(); ++i)
        if (std::abs(l.s[i] - s) < std::abs(l.s[k] - s)) k = i;
    auto number = [](double v) { return typeset(written(v, 0)); };
    const std::string at = written(l.s[k], 2) + " m · ";
    if (part == StripPart::steel) {
        auto face = [&](const char* name, double needs, double has) {
            return std::string(name) + (std::isfinite(needs) ? " " + number(needs) + " of " : " no amount fits, has ") +
                   number(has);
        };
        return at + face("bottom", l.needs_bottom[k], l.has_bottom[k]) + " · " +
               face("top", l.needs_top[k], l.has_top[k]) + " mm²/m";
    }
    const auto &most = part == StripPart::moment ? l.M_most : l.V_most,
               &least = part == StripPart::moment ? l.M_least : l.V_least;
    if (most.size() != l.s.size()) return {};
    const std::string unit = part == StripPart::moment ? " kN·m" : " kN";
    return at + (l.is_envelope ? number(least[k]) + " to " + number(most[k]) : number(most[k])) + unit + " over " +
           written(l.width[k], 2) + " m";
}

}  // namespace mossbed
