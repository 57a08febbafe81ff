#include "core/answer/curve.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/codes/combination_rules.h"

namespace mossbed {
namespace {

std::string place_in_words(Point p) { return fmt::format("({:.2f}, {:.2f})", p.x, p.y); }

double settlement_at(const Fields& f, const CombinationAnswer& c, Point p) {
    const Finder::Hit hit = f.finder.at(p);
    double s = 0;
    const Element& e = f.mesh.elements[size_t(hit.element)];
    for (int k = 0; k < corners(e); ++k) s += hit.weight[size_t(k)] * c.settlement(e[size_t(k)]);
    return s;
}

class Tracing {
  public:
    Tracing(const Model& model, const CurveOptions& options, const Answer* previous, const Progress& progress)
        : base_(with_combinations_listed(model)), options_(options), progress_(progress) {
        const Combination* found = nullptr;
        for (const Combination& c : *base_.loads.combinations)
            if (c.id == options.combination) found = &c;
        if (!found)
            throw Trouble({"there is no combination \"" + options.combination + "\"",
                           "the curve",
                           "name one of the model's",
                           Severity::error,
                           {}});
        combination_ = *found;
        if (!(options.to > 0) || options.steps < 1 || options.steps > 1000)
            throw Trouble({"a curve needs a factor above nought and 1 to 1000 steps",
                           "the curve",
                           "give such numbers",
                           Severity::error,
                           {}});
        if (previous) last_ = std::shared_ptr<const Answer>(std::shared_ptr<const Answer>(), previous);
    }

    Curve run() {
        const double pace = options_.to / options_.steps;
        std::vector<double> factors;
        for (int k = 1; k <= options_.steps; ++k) factors.push_back(pace * k);
        out_.combination = options_.combination;
        add(solved_at(factors));
        // Where it ends between two steps: twice a tenth of the way between.
        double width = pace;
        for (int round = 0; round < 2 && ends(); ++round) {
            const double from = out_.steps.size() > 1 ? out_.steps[out_.steps.size() - 2].factor : 0;
            const CurveStep end = out_.steps.back();
            width = (end.factor - from) / 10;
            factors.clear();
            for (int k = 1; k < 10; ++k) factors.push_back(from + width * k);
            out_.steps.pop_back();
            add(solved_at(factors));
            if (!ends()) out_.steps.push_back(end);
        }
        keep_the_asked_and_the_end();
        return std::move(out_);
    }

  private:
    bool ends() const { return !out_.steps.empty() && out_.steps.back().ending != Ending::solved; }

    std::vector<CurveStep> solved_at(const std::vector<double>& factors) {
        Model m = base_;
        SolveOptions o;
        for (double f : factors) {
            Combination c = combination_;
            c.id = fmt::format("{} × {:.10g}", combination_.id, f);
            c.purpose = Purpose::trace, c.active = true, c.generated_by.reset();
            for (auto& [id, factor] : c.factors) factor *= f;
            o.combinations.push_back(c.id);
            m.loads.combinations->push_back(std::move(c));
        }
        const auto a = solve(m, o, last_.get(), progress_);
        if (out_.points.empty()) choose_points(*a, o.combinations.front());
        std::vector<CurveStep> steps;
        for (size_t k = 0; k < factors.size(); ++k) {
            const CombinationAnswer& c = *a->find(o.combinations[k]);
            CurveStep s;
            s.factor = factors[k], s.ending = c.ending;
            for (Point p : out_.points) s.settlement.push_back(c.is_solved() ? settlement_at(*a, c, p) : not_a_number);
            if (c.is_solved()) {
                s.contact_ratio = c.contact_ratio, s.yield_ratio = c.yield_ratio;
                s.max_pressure = c.max_pressure, s.ground = c.ground_reaction.Fz;
            }
            steps.push_back(std::move(s));
            why_[factors[k]] = c.explanation;
        }
        last_ = a;
        return steps;
    }

    void choose_points(const Answer& a, const std::string& first) {
        if (options_.points.empty()) {
            for (auto& [name, at] : curve_points(a, first)) out_.names.push_back(name), out_.points.push_back(at);
            return;
        }
        for (Point p : options_.points) {
            if (a.finder.at(p).element < 0)
                throw Trouble({"the point " + place_in_words(p) + " is not on the slab", "the curve",
                               "give points of the slab, x and y in m", Severity::error, p});
            out_.points.push_back(p), out_.names.push_back(place_in_words(p));
        }
    }

    // Up to the first without equilibrium.
    void add(std::vector<CurveStep> steps) {
        for (CurveStep& s : steps) {
            out_.steps.push_back(std::move(s));
            if (!ends()) continue;
            out_.explanation = why_[out_.steps.back().factor];
            return;
        }
    }
    // Of the steps between only the last that stands is of use.
    void keep_the_asked_and_the_end() {
        const double pace = options_.to / options_.steps;
        const size_t n = out_.steps.size();
        std::vector<CurveStep> kept;
        for (size_t i = 0; i < n; ++i) {
            const double k = out_.steps[i].factor / pace;
            if (std::abs(k - std::round(k)) < 1e-6 || i + 2 >= n) kept.push_back(std::move(out_.steps[i]));
        }
        out_.steps = std::move(kept);
    }

    Model base_;
    const CurveOptions& options_;
    const Progress& progress_;
    Combination combination_;
    std::shared_ptr<const Answer> last_;
    std::map<double, std::string> why_;
    Curve out_;
};

}  // namespace

std::vector<std::pair<std::string, Point>> curve_points(const Fields& f, const std::string& combination) {
    std::vector<std::pair<std::string, Point>> out;
    const Point middle = centre_of_base(f);
    auto add = [&](const std::string& name, Point p) {
        if (f.finder.at(p).element >= 0) out.emplace_back(name, p);
    };
    add("middle", middle);
    // The rim nodes that lie furthest along x and y, those nearest to the middle's line first.
    struct Side {
        const char* name;
        Point to;
    };
    for (const Side& side :
         {Side{"rim −x", {-1, 0}}, Side{"rim +x", {1, 0}}, Side{"rim −y", {0, -1}}, Side{"rim +y", {0, 1}}}) {
        const Point across = left_of(side.to);
        double best = -1e300;
        Point at;
        for (Point p : f.mesh.nodes) {
            const double off = std::abs(dot(p - middle, across)), value = dot(p - middle, side.to) - 4 * off;
            if (value > best) best = value, at = p;
        }
        add(side.name, at);
    }
    const CombinationAnswer* c = f.find(combination);
    const Column* worst = nullptr;
    double most = -1e300;
    for (const Column& k : f.model->columns) {
        if (f.finder.at(k.at).element < 0) continue;
        const double s = c && c->is_solved() ? settlement_at(f, *c, k.at) : 0;
        if (!worst || s > most) worst = &k, most = s;
    }
    if (worst) add(worst->id, worst->at);
    return out;
}

Curve load_settlement_curve(const Model& model, const CurveOptions& options, const Answer* previous,
                            const Progress& progress) {
    return Tracing(model, options, previous, progress).run();
}

}  // namespace mossbed
