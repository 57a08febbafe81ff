#include "drawing/punching_chart.h"

#include <algorithm>
#include <cmath>

#include "drawing/paper_draft.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

class ChartDraft : PaperDraft {
  public:
    ChartDraft(const PunchingAnswer& p, const std::vector<std::string>& combinations, const Box& paper)
        : p_(p),
          round_(stresses_round(p)),
          combinations_(combinations),
          left_(paper.low.x + 2),
          right_(paper.high.x - 4),
          top_(paper.low.y) {}
    Drawing draw() {
        unrolled();
        dots();
        return std::move(drawing);
    }

  private:
    double x_of(double direction) const { return left_ + direction / 360 * (right_ - left_); }

    // From the east round by north; what openings shade and what a rim takes is a gap.
    void unrolled() {
        const double head = top_ + 8, base = top_ + 84, high = top_ + 24;
        write(left_, head, "Stress round the perimeter, MPa", Role::ink, Align::left, true);
        double most = std::max(p_.v_limit, 1e-9);
        for (const auto& s : round_) most = std::max(most, s.v);
        auto y_of = [&](double v) { return base - std::max(0.0, v) / most * (base - high); };
        constexpr double gap = 7;  // degrees without a sample: nothing is there
        for (size_t i = 0; i < round_.size();) {
            size_t j = i;
            while (j + 1 < round_.size() && round_[j + 1].direction - round_[j].direction < gap) ++j;
            if (j > i) {
                Polygon area{on_bare_paper(x_of(round_[i].direction), base)}, curve;
                for (size_t k = i; k <= j; ++k)
                    curve.push_back(on_bare_paper(x_of(round_[k].direction), y_of(round_[k].v)));
                area.insert(area.end(), curve.begin(), curve.end());
                area.push_back(on_bare_paper(x_of(round_[j].direction), base));
                const bool over = p_.v > p_.v_limit;
                drawing.add(Layer::punching, closed(std::move(area), {},
                                                    {Tone(over ? Role::rust : Role::moss, 60),
                                                     over ? Pattern::slanted : Pattern::none, Role::rust}));
                drawing.add(Layer::punching, open(std::move(curve), {over ? Role::rust : Role::moss, 1.6}));
            }
            i = j + 1;
        }
        line(Layer::punching, left_, base, right_, base, {Role::faint, 0.8});
        line(Layer::punching, left_, y_of(p_.v_limit), right_, y_of(p_.v_limit), {Role::ink, 1.6});
        write(right_, y_of(p_.v_limit) - 8, "borne " + typeset(written(p_.v_limit, 2)), Role::ink, Align::right);
        if (!round_.empty()) {
            const auto top =
                std::max_element(round_.begin(), round_.end(), [](const auto& a, const auto& b) { return a.v < b.v; });
            const double x = std::clamp(x_of(top->direction), left_ + 14, right_ - 14);
            if (y_of(top->v) > y_of(p_.v_limit) + 16 || p_.v > p_.v_limit)
                write(x, y_of(top->v) + (p_.v > p_.v_limit ? 10 : -8), typeset(written(top->v, 2)),
                      p_.v > p_.v_limit ? Role::rust : Role::moss, Align::centre);
        }
        const std::array<const char*, 5> names{"east", "north", "west", "south", "east"};
        for (size_t k = 0; k < names.size(); ++k)
            write(x_of(90.0 * double(k)), base + 10, names[k], Role::faint,
                  k == 0   ? Align::left
                  : k == 4 ? Align::right
                           : Align::centre);
    }

    // A dot a combination; those that lie on each other stand one above the other.
    void dots() {
        const double head = top_ + 114, axis = top_ + 146;
        double most = 1.1;
        for (float u : p_.uses)
            if (std::isfinite(u)) most = std::max(most, 1.05 * double(u));
        most = std::min(most, 3.0);
        auto x_at = [&](double u) { return left_ + 4 + std::min(u, most) / most * (right_ - left_ - 8); };
        size_t n = 0, worst = 0;
        for (size_t k = 0; k < p_.uses.size(); ++k)
            if (std::isfinite(p_.uses[k])) {
                ++n;
                if (!(p_.uses[worst] >= p_.uses[k])) worst = k;
            }
        write(left_, head, n == 1 ? "The one combination" : "Every combination", Role::ink, Align::left, true);
        line(Layer::punching, left_, axis, right_, axis, {Role::line, 1});
        line(Layer::punching, x_at(1), axis - 14, x_at(1), axis + 8, {Role::ink, 1.8});
        write(x_at(1), axis + 16, "1.0", Role::faint, Align::centre);
        write(left_ + 4, axis + 16, "0", Role::faint, Align::left);
        std::vector<Point> taken;
        for (size_t k = 0; k < p_.uses.size(); ++k) {
            if (!std::isfinite(p_.uses[k])) continue;
            const double u = double(p_.uses[k]);
            Point at{x_at(u), axis};
            for (int step = 1;
                 step < 5 && std::any_of(taken.begin(), taken.end(), [&](Point q) { return distance(q, at) < 4; });
                 ++step)
                at.y = axis + (step % 2 ? -1 : 1) * 4 * ((step + 1) / 2);
            taken.push_back(at);
            const Role role = u > 1 + 5e-3 ? Role::rust : Role::moss;
            Disc d;
            d.at = on_bare_paper(at.x, at.y), d.radius = k == worst ? 4.5 : 2.6;
            d.fill = {Tone(role, k == worst ? 255 : 130), {}, {}};
            if (k == worst) d.stroke = {Role::ink, 1.2};
            drawing.add(Layer::punching, std::move(d));
        }
        if (n > 0 && worst < combinations_.size()) {
            const double x = x_at(double(p_.uses[worst])), half = likely_width(combinations_[worst]) / 2;
            write(std::clamp(x, left_ + half, right_ - half), axis - 18, combinations_[worst], Role::ink, Align::centre,
                  true);
        }
    }

    const PunchingAnswer& p_;
    std::vector<StressInDirection> round_;
    const std::vector<std::string>& combinations_;
    double left_, right_, top_;
};

}  // namespace

Drawing punching_chart(const PunchingAnswer& p, const std::vector<std::string>& combinations, const Box& paper) {
    return ChartDraft(p, combinations, paper).draw();
}

}  // namespace mossbed
