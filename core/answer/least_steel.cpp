#include "core/answer/least_steel.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/turned_box.h"
#include "core/codes/code.h"
#include "core/model/strip_area.h"

namespace mossbed {
namespace {

bool is_of_bars(const Row& r) {
    static const std::set<std::string> ids{"bending", "minimum-steel", "spacing", "one-way-shear", "punching"};
    return ids.count(r.id) > 0;
}

class Search {
  public:
    Search(const Model& m, int most, const Answer* previous, const Progress& progress)
        : m_(m),
          most_(most > 0 ? most : int(m.steel.most_marks.value_or(usual_most_groups))),
          progress_(progress),
          code_(make_code(m.settings)) {
        Model plain = m;
        plain.steel.extra.clear();
        for (Face f : {Face::top, Face::bottom})
            for (Direction d : {Direction::x, Direction::y}) plain.steel.base(f, d) = {};
        plain_ = solve(plain, {}, previous, progress);
        if (!code_) refuse(why_no_code(m.settings), "choose a design code that there is");
        if (!plain_->demand || plain_->demand->n_design == 0)
            refuse("there is no solved strength combination to design bars with", "give one, and loads");
        for (const Row& r : plain_->checks)
            if (is_of_bars(r) && r.status == Status::over) over_before_.insert(r.title);
    }

    LeastSteel run() {
        LeastSteel out;
        constexpr int most_rounds = 10;
        std::shared_ptr<const Answer> last = plain_;
        for (out.rounds = 1;; ++out.rounds) {
            LightestBars found = lightest_bars(m_, *code_, *plain_->demand, most_, wanted_, raised(), progress_);
            if (found.schemes.empty()) refuse_lists();
            if (found.uniform && !out.uniform_kg) out.uniform_kg = found.uniform->kg;
            out.schemes = std::move(found.schemes), out.weighed = std::move(found.weighed);
            out.picked = out.schemes.size() - 1;
            const Model m = with_bars(m_, out.scheme());
            last = solve(m, {}, last.get(), progress_);
            out.model = last->model;
            out.left.clear();
            bool again = false;
            for (const Row& r : last->checks)
                if (is_of_bars(r) && r.status == Status::over) {
                    if (out.rounds < most_rounds && mend(r, *last, out.scheme()))
                        again = true;
                    else
                        out.left.push_back(r.title);
                }
            if (!again) return out;
        }
    }

  private:
    [[noreturn]] void refuse(const std::string& what, const std::string& mend) const {
        throw Trouble({what, "steel", mend, Severity::error, {}});
    }
    [[noreturn]] void refuse_lists() const {
        const auto worst = std::find_if(plain_->checks.begin(), plain_->checks.end(),
                                        [](const Row& r) { return r.id == "bending" && r.status == Status::over; });
        refuse(fmt::format("no base and extra bars of the sizes and spacings in the lists are enough{}",
                           worst == plain_->checks.end() ? "" : ": most is asked by " + worst->item),
               "allow larger bars, closer spacing or a thicker slab");
    }
    std::vector<SteelRaised> raised() const {
        std::vector<SteelRaised> out;
        for (const auto& [key, factor] : raised_) out.push_back({key.first, key.second, factor});
        return out;
    }

    // What a row that is over wants more of; nothing where bars do not mend it.
    bool mend(const Row& r, const Answer& a, const BarScheme& scheme) {
        if (r.id == "bending") return raise(r);
        if (over_before_.count(r.title)) return false;  // heavier bars than moments ask for do not stand in for depth
        if (r.id == "punching") return thicken_at_column(r, a, scheme);
        if (r.id == "one-way-shear") return thicken_at_section(r, a, scheme);
        return false;
    }
    bool raise(const Row& r) {
        if (!r.value || !r.limit || !r.utilisation) return false;  // no amount fits
        for (const StripAnswer& s : plain_->demand->strips)
            for (Face f : {Face::bottom, Face::top})
                if (r.item == fmt::format("{} {}", s.strip.id, name_of(f))) {
                    double& factor = raised_[{s.strip.id, f}];
                    factor = std::max(factor, 1.0) * (*r.utilisation + 0.001);
                    return factor < 1.5;
                }
        return false;
    }
    double steel_at(Point p, Face f, Direction d, const BarScheme& scheme) const {
        double a = scheme.base.base(f, d).area();
        for (const ExtraBars& e : scheme.extra)
            if (e.face == f && e.direction == d && contains(e.outline, p))
                a += ChosenBars{e.diameter, e.spacing}.area();
        return a;
    }
    // The stress that concrete bears grows with the cube root of the steel; the base bars that moments alone ask for
    // are enough.
    bool want(Face f, Direction d, const Polygon& area, double now, double use) {
        const double enough = plain_->steel.base(f, d).area();
        const double steel = std::min(enough, 1.02 * now * std::pow(use, 3));
        for (const SteelWanted& w : wanted_)
            if (w.face == f && w.direction == d && w.area == area && w.steel >= steel * (1 - 1e-9)) return false;
        wanted_.push_back({f, d, area, steel});
        return true;
    }
    bool thicken_at_column(const Row& r, const Answer& a, const BarScheme& scheme) {
        for (const PunchingAnswer& p : a.punching)
            if (p.id == r.item && r.utilisation) {
                const Face f = p.V < 0 ? Face::top : Face::bottom;
                bool some = false;
                for (Direction d : {Direction::x, Direction::y}) {
                    const Point u = along_bars(m_.steel, d);
                    const double beside = code_->steel_beside_column(p.d);
                    Box b = box_along(p.loaded, u);
                    b.low = b.low - Point{std::max(beside, p.a), beside};
                    b.high = b.high + Point{std::max(beside, p.a), beside};
                    const Polygon area = rectangle_along(b, u);
                    some |= want(f, d, area, steel_at(p.centre, f, d, scheme), *r.utilisation);
                }
                return some;
            }
        return false;
    }
    bool thicken_at_section(const Row& r, const Answer& a, const BarScheme& scheme) {
        if (!r.utilisation || r.area.size() != 2 || !r.at) return false;
        for (const StripAnswer& s : a.shear_demand->strips)
            if (s.strip.id == r.item) {
                const Direction d = s.strip.direction;
                const Point u = unit(s.strip.axis[1] - s.strip.axis[0]);
                // The place moves on when it is mended: after some rounds all of the strip.
                constexpr int few = 3;
                const bool whole = ++rounds_of_[r.title] > few;
                const double along = 2 * mean_depth(m_, a.steel, Face::bottom, m_.slab.thickness) / 1000;
                const Polygon area = whole ? area_of(s.strip)
                                           : Polygon{r.area[0] - along * u, r.area[0] + along * u,
                                                     r.area[1] + along * u, r.area[1] - along * u};
                bool some = false;
                for (Face f : {Face::bottom, Face::top})
                    some |= want(f, d, area, steel_at(*r.at, f, d, scheme), whole ? 1e3 : *r.utilisation);
                return some;
            }
        return false;
    }

    const Model& m_;
    int most_;
    const Progress& progress_;
    std::unique_ptr<DesignCode> code_;
    std::shared_ptr<const Answer> plain_;
    std::set<std::string> over_before_;
    std::vector<SteelWanted> wanted_;
    std::map<std::pair<std::string, Face>, double> raised_;
    std::map<std::string, int> rounds_of_;  // by title of a row
};

}  // namespace

LeastSteel least_steel(const Model& m, int most, const Answer* previous, const Progress& progress) {
    return Search(m, most, previous, progress).run();
}

}  // namespace mossbed
