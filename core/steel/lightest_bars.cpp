#include "core/steel/lightest_bars.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/turned_box.h"
#include "core/base/units.h"
#include "core/model/edit.h"

namespace mossbed {
namespace {

constexpr double nothing_does = 1e300;
constexpr double grid = 0.05;  // m, to which ends of extra bars are rounded

// The slab in the axes of a mat: u along its bars, v to their left.
class MatAxes {
  public:
    MatAxes(const Model& m, Direction d) : u(along_bars(m.steel, d)), v(left_of(u)) {
        rim_ = outer_rim(m.slab.outline, 0.25);
        if (auto in = inner_rim(m.slab.outline, 0.25)) holes_.push_back(*in);
        for (const Opening& o : m.slab.openings) holes_.push_back(o.outline);
        const Box b = box_along(rim_, u);
        u0 = b.low.x, u1 = b.high.x;
    }
    Polygon rectangle(double a0, double a1, double b0, double b1) const {
        return rectangle_along(Box{{a0, b0}, {a1, b1}}, u);
    }
    double slab_in(const Polygon& rectangle) const {  // m²
        double area = std::abs(signed_area(clip_to_convex(rim_, rectangle)));
        for (const Polygon& h : holes_) area -= std::abs(signed_area(clip_to_convex(h, rectangle)));
        return area;
    }
    double slab() const {
        double area = std::abs(signed_area(rim_));
        for (const Polygon& h : holes_) area -= std::abs(signed_area(h));
        return area;
    }
    Point u, v;
    double u0 = 1e300, u1 = -1e300;

  private:
    Polygon rim_;
    std::vector<Polygon> holes_;
};

// Places along the bars that must be reached, each with what it asks there: of those only the ones that no other makes
// needless. The end of bars is the furthest of place + share of their anchorage that counts there.
class Reach {
  public:
    void add(double at, double need) { all_.push_back({at, need}); }
    void add(const Reach& other) { all_.insert(all_.end(), other.all_.begin(), other.all_.end()); }
    void tidy() {
        std::sort(all_.begin(), all_.end(),
                  [](const Place& p, const Place& q) { return p.at != q.at ? p.at > q.at : p.need > q.need; });
        double most = -1;
        std::erase_if(all_, [&](const Place& p) { return p.need <= most ? true : (most = p.need, false); });
    }
    double end(double anchorage, double area) const {
        double e = -1e300;
        for (const Place& p : all_) e = std::max(e, p.at + anchorage * std::min(1.0, p.need / area));
        return e;
    }

  private:
    struct Place {
        double at, need;
    };
    std::vector<Place> all_;
};

// What asks for extra bars together: a band across them, from and to.
struct Group {
    Reach forward, backward;  // backward with its sign turned round
    double v0 = 1e300, v1 = -1e300, need = 0;
    void take(double from, double to, double needs) {
        forward.add(to, needs), backward.add(-from, needs);
        need = std::max(need, needs);
    }
    void widen(double low, double high) { v0 = std::min(v0, low), v1 = std::max(v1, high); }
    void join(const Group& g) {
        forward.add(g.forward), backward.add(g.backward);
        forward.tidy(), backward.tidy();
        widen(g.v0, g.v1);
        need = std::max(need, g.need);
    }
    // The bars that do it with least weight.
    double kg = nothing_does, diameter = 0, spacing = 0, u0 = 0, u1 = 0;
    bool overlaps(const Group& g) const {
        return std::min(u1, g.u1) - std::max(u0, g.u0) > 1e-6 && std::min(v1, g.v1) - std::max(v0, g.v0) > 1e-6;
    }
};

struct Candidate {
    double diameter = 0, spacing = 0;
    double area() const { return ChosenBars{diameter, spacing}.area(); }
};

// One face and direction.
class Mat {
  public:
    Mat(const Model& m, const DesignCode& code, const StripDemand& demand, Face f, Direction d, int most_extra,
        const std::vector<SteelWanted>& wanted, const std::vector<SteelRaised>& raised)
        : m_(m),
          code_(code),
          demand_(demand),
          face_(f),
          direction_(d),
          most_extra_(most_extra),
          axes_(m, d),
          bare_(bare(m)),
          steel_(bare_, &code, BaseBars{}),
          strips_(demand, steel_, bare_),
          needs_(bare_, code, demand, steel_) {
        for (int i = 0; i < int(demand.strips.size()); ++i) {
            if (!strips_.works_along(d, i)) continue;
            double factor = 1;
            for (const SteelRaised& r : raised)
                if (r.face == f && r.strip == demand.strips[size_t(i)].strip.id) factor = r.factor;
            demand.each_governing(f, i, [&](int k, long c, double M) { asks_.push_back({i, k, c, M, factor}); });
        }
        for (const SteelWanted& w : wanted)
            if (w.face == f && w.direction == d) wanted_.push_back(&w);
        for (double size : m.steel.sizes) {
            for (double spacing : m.steel.spacings)
                if (spacing <= code.largest_spacing(1000 * thinnest(m)) + 1e-9 && spacing > 1.5 * size &&
                    spacing - size >= code.least_clear_distance(size) - 1e-9)
                    base_.push_back({size, spacing});
            anchorage_[size] =
                code.anchorage_length(size, concrete_of(m, m.slab.concrete).fck, steel_of(m).fyk, f == Face::bottom) /
                1000;
        }
    }

    const std::vector<Candidate>& base() const { return base_; }
    std::vector<double> sizes() const {
        std::vector<double> out;
        for (const Candidate& c : base_)
            if (out.empty() || out.back() != c.diameter) out.push_back(c.diameter);
        return out;
    }
    // To be called first: what sections ask for with bars of these sizes across.
    void look_at(const std::vector<double>& others) {
        std::vector<std::pair<double, double>> keys;
        for (double own : sizes())
            for (double other : others) keys.push_back({own, other}), asked_[keys.back()];
        tbb::parallel_for(size_t(0), keys.size(),
                          [&](size_t i) { asked_.at(keys[i]) = asked_for(keys[i].first, keys[i].second); });
    }
    double base_kg(size_t candidate) const { return base_[candidate].area() * 1e-6 * steel_density * axes_.slab(); }
    // The least weight of base bars that are enough by themselves; a heavier base is of no use.
    double uniform_kg(double other) const {
        double least = nothing_does;
        for (size_t c = 0; c < base_.size(); ++c)
            if (base_kg(c) < least && is_enough(c, other)) least = base_kg(c);
        return least;
    }
    // Weights with 0, 1, … extra groups, kg, over base bars of that candidate with bars of `other` mm across them.
    std::vector<double> weights(size_t candidate, double other) const {
        std::vector<double> out(size_t(most_extra_) + 1, nothing_does);
        join_up(candidate, other, [&](const std::vector<Group>& groups, double kg) {
            if (groups.size() < out.size()) out[groups.size()] = std::min(out[groups.size()], kg);
            return true;
        });
        return out;
    }
    // The groups themselves.
    std::vector<ExtraBars> extra(size_t candidate, double other, size_t n) const {
        std::vector<ExtraBars> out;
        join_up(candidate, other, [&](const std::vector<Group>& groups, double) {
            if (groups.size() != n) return true;
            for (const Group& g : groups) {
                ExtraBars e;
                e.outline = axes_.rectangle(g.u0, g.u1, g.v0, g.v1);
                e.face = face_, e.direction = direction_, e.diameter = g.diameter, e.spacing = g.spacing;
                e.held_at_rims = true;
                out.push_back(std::move(e));
            }
            return false;
        });
        return out;
    }

  private:
    struct Ask {
        int strip, station;
        long c;
        double M, factor;
    };
    static Model bare(Model m) {
        m.steel.extra.clear();
        m.steel.top_x = m.steel.top_y = m.steel.bottom_x = m.steel.bottom_y = {};
        return m;
    }

    // mm²/m that each section asks for; below nought where no amount fits.
    std::vector<double> asked_for(double own, double other) const {
        std::vector<double> out;
        for (const Ask& a : asks_) {
            const SectionDemand& s = demand_.section(a.strip, a.station);
            const auto As = needs_.with_minimum(face_, direction_, s, a.c, a.M, {own, other});
            out.push_back(As ? a.factor * *As / s.width() : -1);
        }
        return out;
    }

    // Sections one after the other along a strip that ask for more than the base bars: a group each.
    std::vector<Group> begin(const Candidate& base, double other) const {
        std::vector<Group> out;
        const std::vector<double>& asked = asked_.at({base.diameter, other});
        const double past =
            effective_depth(m_.steel, face_, direction_, m_.slab.thickness, base.diameter, other) / 1000;
        const Ask* last = nullptr;
        for (size_t i = 0; i < asks_.size(); ++i) {
            const Ask& a = asks_[i];
            const double need = asked[i] - base.area();
            if (asked[i] < 0 || need <= 1e-9 * base.area()) {
                last = nullptr;
                continue;
            }
            const bool goes_on = last && last->strip == a.strip;
            if (!goes_on) {
                out.emplace_back();
                const Strip& t = demand_.strips[size_t(a.strip)].strip;
                const Point left = left_of(demand_.direction(a.strip));
                for (Point end : t.axis)
                    for (Point p : {end + t.reach[0] * left, end - t.reach[1] * left})
                        if (is_along(a.strip)) out.back().widen(dot(p, axes_.v), dot(p, axes_.v));
            }
            const Point at = demand_.at(a.strip, a.station);
            double from = dot(at, axes_.u), to = from;
            if (!is_along(a.strip)) {  // askew to the bars: all of the section
                const Strip& t = demand_.strips[size_t(a.strip)].strip;
                const Point left = left_of(demand_.direction(a.strip));
                for (Point p : {at + t.reach[0] * left, at - t.reach[1] * left}) {
                    from = std::min(from, dot(p, axes_.u)), to = std::max(to, dot(p, axes_.u));
                    out.back().widen(dot(p, axes_.v), dot(p, axes_.v));
                }
            }
            out.back().take(from - past, to + past, need);
            last = &a;
        }
        auto all_over = [&](const Polygon& area, double need) {
            if (need <= 1e-9 * base.area()) return;
            Group g;
            const Box b = box_along(area, axes_.u);
            g.widen(b.low.y, b.high.y);
            g.take(b.low.x, b.high.x, need);
            out.push_back(std::move(g));
        };
        if (wants_minimum())
            for (const SlabPart& p : parts_of(bare_))
                for (const SlabPatch* patch : p.patches)
                    all_over(patch->outline,
                             code_.minimum_steel(needs_.metre_of(p, face_, direction_, {base.diameter, other})) -
                                 base.area());
        for (const SteelWanted* w : wanted_) all_over(w->area, w->steel - base.area());
        for (Group& g : out) g.forward.tidy(), g.backward.tidy();
        return out;
    }
    bool has_minimum(const Candidate& base, double other) const {  // of the slab itself
        return !wants_minimum() || code_.minimum_steel(needs_.metre_of(parts_of(bare_)[0], face_, direction_,
                                                                       {base.diameter, other})) <= base.area() + 1e-9;
    }
    bool is_enough(size_t candidate, double other) const {
        return has_minimum(base_[candidate], other) && begin(base_[candidate], other).empty();
    }
    bool wants_minimum() const { return face_ == Face::bottom || m_.steel.minimum_on_both_faces; }
    bool is_along(int strip) const { return mats_along(m_.steel, demand_.direction(strip)).size() == 1; }

    bool fits(const Candidate& base, const std::vector<Candidate>& beside) const {
        double n = 1000 / base.spacing, steel = base.diameter * n, largest = base.diameter;
        for (const Candidate& c : beside)
            n += 1000 / c.spacing, steel += c.diameter * 1000 / c.spacing, largest = std::max(largest, c.diameter);
        return (1000 - steel) / n >= code_.least_clear_distance(largest) - 1e-9;
    }

    // Extra bars that go with the base bars, by size and then by area.
    std::vector<Candidate> beside(const Candidate& base) const {
        std::vector<Candidate> out;
        for (double size : m_.steel.sizes)
            for (double times : {2.0, 1.0, 0.5}) {
                const Candidate c{size, times * base.spacing};
                const auto& grid_of = m_.steel.spacings;
                const bool on_grid = times == 1 || std::any_of(grid_of.begin(), grid_of.end(), [&](double s) {
                                         return std::abs(s - c.spacing) < 1e-9;
                                     });
                if (on_grid && fits(base, {c})) out.push_back(c);
            }
        return out;
    }

    void choose(Group& g, const std::vector<Candidate>& beside) const {
        g.kg = nothing_does;
        double tried = 0;  // of each size the least that is enough
        for (const Candidate& c : beside) {
            if (c.area() < g.need || c.diameter == tried) continue;
            tried = c.diameter;
            const double anchorage = anchorage_.at(c.diameter);
            auto out_to = [&](double e) { return grid * std::ceil(e / grid - 1e-9); };
            const double u1 = std::min(out_to(g.forward.end(anchorage, c.area())), axes_.u1),
                         u0 = std::max(-out_to(g.backward.end(anchorage, c.area())), axes_.u0);
            const double kg = c.area() * 1e-6 * steel_density * axes_.slab_in(axes_.rectangle(u0, u1, g.v0, g.v1));
            if (kg < g.kg) g.kg = kg, g.diameter = c.diameter, g.spacing = c.spacing, g.u0 = u0, g.u1 = u1;
        }
    }

    // Every group beside the base bars and all others that it overlaps.
    bool lie_beside_each_other(const std::vector<Group>& groups, const Candidate& base) const {
        for (const Group& g : groups) {
            std::vector<Candidate> beside{{g.diameter, g.spacing}};
            for (const Group& o : groups)
                if (&o != &g && g.overlaps(o)) beside.push_back({o.diameter, o.spacing});
            if (beside.size() > 1 && !fits(base, beside)) return false;
        }
        return true;
    }

    // Joins two groups at a time, those that it costs least, and tells of each state that can be built: use(groups, kg)
    // → whether to go on.
    template <class F>
    void join_up(size_t candidate, double other, F use) const {
        const Candidate& base = base_[candidate];
        if (!has_minimum(base, other)) return;
        const double base_weight = base_kg(candidate);
        std::vector<Group> groups = begin(base, other);
        const std::vector<Candidate> bars = beside(base);
        for (Group& g : groups) choose(g, bars);
        auto tell = [&] {
            double kg = base_weight;
            for (const Group& g : groups) kg += g.kg;
            return kg >= nothing_does || !lie_beside_each_other(groups, base) || use(groups, kg);
        };
        if (std::any_of(groups.begin(), groups.end(), [](const Group& g) { return g.kg >= nothing_does; })) return;
        std::vector<std::vector<Group>> joined(groups.size());  // with each of those after it
        auto with = [&](size_t i, size_t j) {
            Group g = groups[i];
            g.join(groups[j]);
            choose(g, bars);
            return g;
        };
        for (size_t i = 0; i < groups.size(); ++i)
            for (size_t j = i + 1; j < groups.size(); ++j) joined[i].push_back(with(i, j));
        while (true) {
            if (!tell()) return;
            if (groups.size() < 2) return;
            size_t bi = 0, bj = 1;
            double least = 1e301;
            for (size_t i = 0; i < groups.size(); ++i)
                for (size_t j = i + 1; j < groups.size(); ++j)
                    if (const double more = joined[i][j - i - 1].kg - groups[i].kg - groups[j].kg; more < least)
                        least = more, bi = i, bj = j;
            groups[bi] = joined[bi][bj - bi - 1];
            groups.erase(groups.begin() + long(bj));
            joined.erase(joined.begin() + long(bj));
            for (size_t i = 0; i < bj; ++i) joined[i].erase(joined[i].begin() + long(bj - i - 1));
            for (size_t i = 0; i < groups.size(); ++i) {
                if (i < bi) joined[i][bi - i - 1] = with(i, bi);
                if (i > bi) joined[bi][i - bi - 1] = with(bi, i);
            }
        }
    }

    const Model& m_;
    const DesignCode& code_;
    const StripDemand& demand_;
    Face face_;
    Direction direction_;
    int most_extra_;
    MatAxes axes_;
    Model bare_;
    Provision steel_;
    StripProvision strips_;
    RequiredSteel needs_;
    std::vector<Ask> asks_;
    std::vector<const SteelWanted*> wanted_;
    std::vector<Candidate> base_;
    std::map<double, double> anchorage_;
    std::map<std::pair<double, double>, std::vector<double>> asked_;
};

// The lightest of one face, by number of extra groups.
struct FaceChoice {
    double kg = nothing_does;
    size_t outer = 0, inner = 0;  // candidates of their mats
    size_t n_outer = 0;
};
class FaceBars {
  public:
    FaceBars(const Model& m, const DesignCode& code, const StripDemand& demand, Face f, int most_extra,
             const std::vector<SteelWanted>& wanted, const std::vector<SteelRaised>& raised)
        : face(f),
          outer_direction(f == Face::top ? m.steel.outer_top : m.steel.outer_bottom),
          outer(m, code, demand, f, outer_direction, most_extra, wanted, raised),
          inner(m, code, demand, f, across(outer_direction), most_extra, wanted, raised) {}

    void weigh(const Progress& progress) {
        outer.look_at({usual_bar});
        inner.look_at(outer.sizes());
        struct Task {
            bool of_outer;
            size_t candidate;
            double other;
        };
        std::vector<Task> tasks;
        auto add = [&](const Mat& mat, bool of_outer, double other) {
            const double bound = 1.02 * mat.uniform_kg(other);
            for (size_t c = 0; c < mat.base().size(); ++c)
                if (mat.base_kg(c) <= bound) tasks.push_back({of_outer, c, other});
        };
        add(outer, true, usual_bar);
        for (double size : outer.sizes()) add(inner, false, size);
        std::vector<std::vector<double>> found(tasks.size());
        tbb::parallel_for(size_t(0), tasks.size(), [&](size_t t) {
            progress.end_if_stopped();
            found[t] = (tasks[t].of_outer ? outer : inner).weights(tasks[t].candidate, tasks[t].other);
        });
        for (double size : outer.sizes()) {
            std::vector<FaceChoice> best;
            std::vector<std::pair<double, size_t>> of_outer, of_inner;  // kg and candidate, by number of groups
            auto least = [&](bool is_outer) {
                std::vector<std::pair<double, size_t>> out;
                for (size_t t = 0; t < tasks.size(); ++t) {
                    const Task& k = tasks[t];
                    if (k.of_outer != is_outer) continue;
                    if (is_outer ? outer.base()[k.candidate].diameter != size : k.other != size) continue;
                    out.resize(found[t].size(), {nothing_does, 0});
                    for (size_t n = 0; n < found[t].size(); ++n)
                        if (found[t][n] < out[n].first) out[n] = {found[t][n], k.candidate};
                }
                return out;
            };
            of_outer = least(true), of_inner = least(false);
            best.resize(std::max(of_outer.size(), of_inner.size()));
            for (size_t i = 0; i < of_outer.size(); ++i)
                for (size_t j = 0; j < of_inner.size() && i + j < best.size(); ++j)
                    if (const double kg = of_outer[i].first + of_inner[j].first; kg < best[i + j].kg)
                        best[i + j] = {kg, of_outer[i].second, of_inner[j].second, i};
            by_size[size] = std::move(best);
        }
    }
    void put_into(BarScheme& scheme, const FaceChoice& choice, size_t n) const {
        const Candidate &o = outer.base()[choice.outer], &i = inner.base()[choice.inner];
        scheme.base.base(face, outer_direction) = {o.diameter, o.spacing, true, true};
        scheme.base.base(face, across(outer_direction)) = {i.diameter, i.spacing, true, true};
        for (auto& e : outer.extra(choice.outer, usual_bar, choice.n_outer)) scheme.extra.push_back(std::move(e));
        for (auto& e : inner.extra(choice.inner, o.diameter, n - choice.n_outer)) scheme.extra.push_back(std::move(e));
    }

    Face face;
    Direction outer_direction;
    Mat outer, inner;
    std::map<double, std::vector<FaceChoice>> by_size;  // of the outer base bars
};

// The lightest of all sizes.
std::vector<FaceChoice> best_of(const FaceBars& f) {
    std::vector<FaceChoice> out;
    for (const auto& [size, list] : f.by_size) {
        out.resize(std::max(out.size(), list.size()));
        for (size_t n = 0; n < list.size(); ++n)
            if (list[n].kg < out[n].kg) out[n] = list[n];
    }
    return out;
}

}  // namespace

LightestBars lightest_bars(const Model& m, const DesignCode& code, const StripDemand& demand, int most,
                           const std::vector<SteelWanted>& wanted, const std::vector<SteelRaised>& raised,
                           const Progress& progress) {
    LightestBars out;
    const int most_extra = std::max(0, most - BarScheme::n_mats);
    FaceBars bottom(m, code, demand, Face::bottom, most_extra, wanted, raised);
    FaceBars top(m, code, demand, Face::top, most_extra, wanted, raised);
    bottom.weigh(progress), top.weigh(progress);
    const std::vector<FaceChoice> above = best_of(top);
    // Both faces together: of each number of groups how many stand at the bottom.
    auto lightest = [&](const std::vector<FaceChoice>& below, size_t n, size_t* at_bottom) {
        double least = nothing_does;
        for (size_t i = 0; i <= n && i < below.size(); ++i)
            if (n - i < above.size() && below[i].kg + above[n - i].kg < least) {
                least = below[i].kg + above[n - i].kg;
                if (at_bottom) *at_bottom = i;
            }
        return least;
    };
    const std::vector<FaceChoice> below = best_of(bottom);
    double last = nothing_does;
    for (size_t n = 0; n <= size_t(most_extra); ++n) {
        for (const auto& [size, list] : bottom.by_size)
            if (const double kg = lightest(list, n, nullptr); kg < nothing_does)
                out.weighed.push_back({BarScheme::n_mats + int(n), kg});
        size_t i = 0;
        const double kg = lightest(below, n, &i);
        if (kg >= nothing_does || kg >= last * (1 - 1e-9)) continue;
        last = kg;
        BarScheme s;
        s.kg = kg;
        bottom.put_into(s, below[i], i), top.put_into(s, above[n - i], n - i);
        for (size_t e = 0; e < s.extra.size(); ++e) s.extra[e].id = "E" + std::to_string(e + 1);
        if (n == 0) out.uniform = s;
        out.schemes.push_back(std::move(s));
    }
    return out;
}

Model with_bars(Model m, const BarScheme& scheme) {
    for (Face f : {Face::top, Face::bottom})
        for (Direction d : {Direction::x, Direction::y}) {
            const ChosenBars& b = scheme.base.base(f, d);
            Bars& to = m.steel.base(f, d);
            to.diameter = b.diameter, to.spacing = b.spacing;
        }
    m.steel.extra = scheme.extra;
    return m;
}

}  // namespace mossbed
