// Bending, minimum steel, spacing and one-way shear of strips, and the base bars.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/checks/checks.h"
#include "core/codes/code.h"
#include "core/steel/choose_bars.h"
#include "core/steel/cut_forces.h"

namespace mossbed {
namespace {

struct Station {
    double s = 0;
    bool in_support = false;                  // strictly inside a support's faces
    double support_from = 0, support_to = 0;  // its faces, s
    bool shear = false;                       // at d or more off every face: one-way shear is judged here
    double nudge = 0;                         // to one side of a jump
};

// Where a strip is looked at: at the mesh's pace, at every support's faces and at d from them, and on both sides of
// jumps.
std::vector<Station> stations_of(const Answer& a, const StripAnswer& strip, double d) {
    const Model& m = *a.model;
    const Point u = unit(strip.strip.axis[1] - strip.strip.axis[0]), n = left_of(u), from = strip.strip.axis[0];
    const double L = distance(strip.strip.axis[0], strip.strip.axis[1]);
    std::vector<std::pair<double, double>> supports;
    auto support = [&](const Polygon& p) {
        Polygon q = clip_to_half_plane(p, from + strip.strip.reach[0] * n, -1.0 * n);
        q = clip_to_half_plane(q, from - strip.strip.reach[1] * n, n);
        if (q.size() < 3 || std::abs(signed_area(q)) < 1e-9) return;
        double low = 1e300, high = -1e300;
        for (Point c : p) low = std::min(low, dot(c - from, u)), high = std::max(high, dot(c - from, u));
        supports.push_back({low, high});
    };
    for (const Column& c : m.columns) support(footprint(c));
    for (const Wall& w : m.walls)
        for (size_t i = 0; i + 1 < w.path.size(); ++i) {
            const Point side = (w.thickness / 2) * unit(left_of(w.path[i + 1] - w.path[i]));
            const Polygon p = {w.path[i] - side, w.path[i + 1] - side, w.path[i + 1] + side, w.path[i] + side};
            double low = 1e300, high = -1e300;
            for (Point c : p) low = std::min(low, dot(c - from, u)), high = std::max(high, dot(c - from, u));
            if (high - low < 1.5) support(p);  // a wall along the strip is not a support across it
        }
    std::vector<double> at;
    const int pace = std::max(1, int(std::ceil(2 * L / a.mesh.size - 1e-9)));  // two to a cell: curves stay curves
    for (int i = 0; i <= pace; ++i) at.push_back(L * i / pace);
    for (auto [low, high] : supports)
        for (double s : {low, high, low - d, high + d})
            if (s > 0 && s < L) at.push_back(s);
    std::vector<double> jumps;
    for (const LoadCase& c : m.loads.cases)
        for (const LoadItem& item : c.items) {
            if (auto p = std::get_if<PointLoad>(&item.load)) jumps.push_back(dot(p->at - from, u));
            if (auto l = std::get_if<LineLoad>(&item.load))
                for (size_t i = 0; i + 1 < l->path.size(); ++i)
                    if (std::abs(dot(l->path[i + 1] - l->path[i], u)) < 1e-6)
                        jumps.push_back(dot(l->path[i] - from, u));
        }
    std::sort(at.begin(), at.end());
    at.erase(std::unique(at.begin(), at.end(), [](double x, double y) { return std::abs(x - y) < 1e-6; }), at.end());
    std::vector<Station> out;
    for (double s : at) {
        if (std::any_of(jumps.begin(), jumps.end(), [s](double j) { return std::abs(j - s) < 1e-6; })) continue;
        out.push_back({s, false, 0, 0, false, 0});
    }
    for (double j : jumps)
        if (j > 1e-6 && j < L - 1e-6)
            out.push_back({j, false, 0, 0, false, -1}), out.push_back({j, false, 0, 0, false, 1});
    std::sort(out.begin(), out.end(),
              [](const Station& x, const Station& y) { return x.s != y.s ? x.s < y.s : x.nudge < y.nudge; });
    for (Station& t : out) {
        t.shear = true;
        for (auto [low, high] : supports) {
            if (t.s > low + 1e-6 && t.s < high - 1e-6) {
                if (!t.in_support) t.support_from = low, t.support_to = high;
                t.support_from = std::min(t.support_from, low), t.support_to = std::max(t.support_to, high);
                t.in_support = true;
            }
            if (t.s > low - d + 1e-6 && t.s < high + d - 1e-6) t.shear = false;
        }
    }
    return out;
}

struct Demand {  // of one section: forces of all combinations, per thickness
    std::vector<CutShare> shares;
    std::vector<CutShare> panel;  // over the width for one-way shear
};

class StripDesign {
  public:
    StripDesign(Answer& a, const std::vector<CaseLoads>& cases, const Progress& progress)
        : a_(a), m_(*a.model), cases_(cases), progress_(progress), code_(make_code(a.model->settings)) {}

    void run() {
        a_.steel.strips = lay_out_strips(m_);
        for (Direction d : {Direction::x, Direction::y})
            if (const double bare = uncovered_area(m_, a_.steel.strips, d); bare > 0.01 * net_area(m_)) {
                Row row;
                row.id = "model", row.item = fmt::format("strips {}", name_of(d)),
                row.title = fmt::format("Strip missing along {}", name_of(d));
                row.note = fmt::format("{:.0f} m² of the base lie in no strip along {}: bending is not checked there.",
                                       bare, name_of(d));
                a_.checks.push_back(row);
            }
        for (int k = 0; k < int(a_.combinations.size()); ++k)
            if (a_.combinations[k].combination.purpose == "strength" && a_.combinations[k].is_solved())
                combinations_.push_back(k);
        n_design_ = long(combinations_.size());
        for (int k = 0; a_.asked && k < int(a_.combinations.size()); ++k)
            if (a_.combinations[k].combination.purpose != "strength" && a_.combinations[k].is_solved())
                combinations_.push_back(k);  // looked at, not designed for
        if (!code_ || n_design_ == 0) {
            Row row;
            row.id = "bending", row.title = "Bending and steel";
            row.note = !code_ ? fmt::format("The design code {} is not in this version; use EN 1992-1-1.",
                                            m_.settings.design_code)
                              : "There is no solved strength combination to design with.";
            a_.checks.push_back(row);
            state_bars();
            if (combinations_.empty()) return;
            find_forces();
            write_sections();  // moments and shears need no code
            return;
        }
        find_forces();
        choose_all();
        write_sections();
        check_bending();
        check_minimum_and_spacing();
        check_one_way_shear();
    }

  private:
    const Concrete& concrete() const { return concrete_of(m_, m_.slab.concrete); }

    // Effective depth in mm of the bars of one face and direction in a slab `h` m thick.
    double depth(Face f, Direction d, double h, double own, double other) const {
        const double cover = f == Face::top ? m_.steel.cover_top : m_.steel.cover_bottom;
        const bool outer = (f == Face::top ? m_.steel.outer_top : m_.steel.outer_bottom) == d;
        return 1000 * h - cover - own / 2 - (outer ? 0 : other);
    }
    static Direction across(Direction d) { return d == Direction::x ? Direction::y : Direction::x; }
    double usual_depth(Face f, Direction d, double h) const {
        const ChosenBars &own = a_.steel.base(f, d), &other = a_.steel.base(f, across(d));
        return depth(f, d, h, own.diameter > 0 ? own.diameter : 16, other.diameter > 0 ? other.diameter : 16);
    }
    FlexureSection section(Face f, Direction d, const CutShare& s, double own = 0, double other = 0) const {
        const double dd = own > 0 ? depth(f, d, s.thickness, own, other) : usual_depth(f, d, s.thickness);
        return {1000 * s.width, 1000 * s.thickness, dd, concrete().fck, steel_of(m_).fyk, steel_of(m_).E};
    }

    void state_bars() {
        for (Face f : {Face::top, Face::bottom})
            for (Direction d : {Direction::x, Direction::y})
                if (const Bars& b = m_.steel.base(f, d); b.stated())
                    a_.steel.base(f, d) = {*b.diameter, *b.spacing, false, true};
    }

    void find_forces() {
        state_bars();
        const auto& strips = a_.steel.strips;
        stations_.resize(strips.size());
        demand_.resize(strips.size());
        std::vector<int> todo(strips.size());
        for (size_t i = 0; i < strips.size(); ++i) {
            todo[i] = int(i);
            stations_[i] = stations_of(a_, strips[i],
                                       usual_depth(Face::bottom, strips[i].strip.direction, m_.slab.thickness) / 1000);
            demand_[i].resize(stations_[i].size());
        }
        while (!todo.empty()) {  // strips of one direction share their cuts
            if (progress_.stopped()) throw Stopped{};
            const Point u = direction_of(todo[0]);
            std::vector<int> together, rest;
            for (int i : todo) (length(direction_of(i) - u) < 1e-9 ? together : rest).push_back(i);
            todo = rest;
            const CutForces forces(a_, cases_, combinations_, u);
            struct Want {
                double t;
                int strip, station;
            };
            std::vector<Want> wants;
            for (int i : together)
                for (size_t k = 0; k < stations_[i].size(); ++k)
                    wants.push_back({dot(strips[i].strip.axis[0], u) + stations_[i][k].s + 1e-6 * stations_[i][k].nudge,
                                     i, int(k)});
            std::sort(wants.begin(), wants.end(), [](const Want& p, const Want& q) { return p.t < q.t; });
            std::vector<std::pair<size_t, size_t>> groups;
            for (size_t i = 0; i < wants.size();) {
                size_t j = i;
                while (j < wants.size() && wants[j].t - wants[i].t < 1e-7) ++j;
                groups.push_back({i, j});
                i = j;
            }
            tbb::parallel_for(size_t(0), groups.size(), [&](size_t g) {
                const CutForces::Cut cut = forces.at(wants[groups[g].first].t);
                for (size_t i = groups[g].first; i < groups[g].second; ++i) {
                    const Strip& s = strips[wants[i].strip].strip;
                    const double axis = dot(s.axis[0], left_of(u));
                    demand_[wants[i].strip][wants[i].station].shares =
                        forces.share(cut, axis - s.reach[1], axis + s.reach[0]);
                    const auto& panel = strips[wants[i].strip].panel;
                    if (panel[0] + panel[1] > 0 && stations_[wants[i].strip][wants[i].station].shear)
                        demand_[wants[i].strip][wants[i].station].panel =
                            forces.share(cut, axis - panel[1], axis + panel[0]);
                }
            });
        }
    }
    Point direction_of(int strip) const {
        const auto& axis = a_.steel.strips[strip].strip.axis;
        return unit(axis[1] - axis[0]);
    }

    static double sum(const Demand& d, long c, bool shear) {
        double v = 0;
        for (const CutShare& s : d.shares) v += shear ? s.V[c] : s.M[c];
        return v;
    }

    // The moment a section is designed for: inside a support no more than at its faces.
    double limit_at_faces(int strip, int station, long c, double M) const {
        const Station& t = stations_[strip][station];
        if (!t.in_support) return M;
        double low = 1e300, high = -1e300;
        for (size_t k = 0; k < stations_[strip].size(); ++k) {
            const double s = stations_[strip][k].s;
            if (std::abs(s - t.support_from) > 1e-6 && std::abs(s - t.support_to) > 1e-6) continue;
            const double face = sum(demand_[strip][k], c, false);
            low = std::min(low, face), high = std::max(high, face);
        }
        return low <= high ? std::clamp(M, std::min(low, 0.0), std::max(high, 0.0)) : M;
    }

    // Steel of one face for a moment M shared out over thicknesses as the shares are, with the minimum where it is
    // asked for.
    std::optional<double> required(Face f, Direction d, const Demand& demand, long c, double M, double own = 0,
                                   double other = 0) const {
        return steel_for(f, d, demand, c, M, own, other, nullptr, true);
    }
    std::optional<double> steel_for(Face f, Direction d, const Demand& demand, long c, double M, double own,
                                    double other, Working* by, bool with_minimum) const {
        const double total = sum(demand, c, false);
        const double towards = f == Face::bottom ? 1 : -1;
        double As = 0;
        for (const CutShare& s : demand.shares) {
            const FlexureSection sec = section(f, d, s, own, other);
            const double share = std::abs(total) > 1e-9 ? s.M[c] * M / total : 0;
            const auto flex = code_->flexural_steel(sec, towards * share, by);
            if (!flex) return std::nullopt;
            const bool tension = towards * share > 1e-9;
            const double least =
                with_minimum && (tension || m_.steel.minimum_on_both_faces) ? code_->minimum_steel(sec) : 0;
            As += std::max(*flex, least);
        }
        return As;
    }

    // mm² provided across the strip at a section.
    double provided(Face f, Direction d, int strip, double s, double width) const {
        double As = a_.steel.base(f, d).area() * width;
        const Strip& t = a_.steel.strips[strip].strip;
        const Point u = direction_of(strip), n = left_of(u), at = t.axis[0] + s * u;
        const Point left = at + t.reach[0] * n, right = at - t.reach[1] * n;
        for (const ExtraBars& e : m_.steel.extra) {
            if (e.face != f || e.direction != d || e.spacing <= 0) continue;
            int inside = 0;
            constexpr int samples = 64;
            for (int k = 0; k < samples; ++k)
                inside += contains(e.outline, right + ((k + 0.5) / samples) * (left - right));
            const double m = double(inside) / samples * (t.reach[0] + t.reach[1]);
            As += m * 3.14159265358979 / 4 * e.diameter * e.diameter * 1000 / e.spacing;
        }
        return As;
    }

    // The demands that can govern bars of one face: per section the combination with the largest moment that way.
    template <class F>
    void each_governing(Face f, Direction d, F use) const {
        const double towards = f == Face::bottom ? 1 : -1;
        for (int i = 0; i < int(a_.steel.strips.size()); ++i) {
            if (a_.steel.strips[i].strip.direction != d) continue;
            for (int k = 0; k < int(stations_[i].size()); ++k) {
                if (demand_[i][k].shares.empty() || is_sliver(demand_[i][k].shares, i)) continue;
                long worst = 0;
                double most = -1e300;
                for (long c = 0; c < n_design_; ++c)
                    if (const double M = towards * limit_at_faces(i, k, c, sum(demand_[i][k], c, false)); M > most)
                        most = M, worst = c;
                use(i, k, worst, towards * most);
            }
        }
    }

    static double width_of(const std::vector<CutShare>& shares) {
        double w = 0;
        for (const CutShare& s : shares) w += s.width;
        return w;
    }
    static double width_of(const Demand& d) { return width_of(d.shares); }
    // A corner of a strip narrower than the slab is thick is no beam: it is not judged by itself.
    bool is_sliver(const std::vector<CutShare>& shares, int strip) const {
        const auto& reach = a_.steel.strips[strip].strip.reach;
        return width_of(shares) < std::min(m_.slab.thickness, 0.5 * (reach[0] + reach[1]));
    }

    void choose_all() {
        for (Face f : {Face::top, Face::bottom}) {
            const Direction outer = f == Face::top ? m_.steel.outer_top : m_.steel.outer_bottom;
            for (Direction d : {outer, across(outer)}) {
                if (m_.steel.base(f, d).stated()) continue;
                const double other = a_.steel.base(f, across(d)).diameter;
                double thinnest = m_.slab.thickness;
                for (const SlabPatch& p : m_.slab.patches) thinnest = std::min(thinnest, p.thickness);
                // Most sections never govern: the bars are first judged on the few that asked most of a middling bar.
                struct Hard {
                    double ratio;
                    int strip, station;
                    long c;
                    double M;
                };
                std::vector<Hard> hard;
                each_governing(f, d, [&](int i, int k, long c, double M) {
                    const auto As = required(f, d, demand_[i][k], c, M, 16, other > 0 ? other : 16);
                    hard.push_back({As ? *As / width_of(demand_[i][k]) : 1e300, i, k, c, M});
                });
                std::sort(hard.begin(), hard.end(), [](const Hard& p, const Hard& q) { return p.ratio > q.ratio; });
                bool impossible = false;
                a_.steel.base(f, d) = choose_bars(
                    m_.steel.sizes, m_.steel.spacings, code_->largest_spacing(1000 * thinnest),
                    [&](double size, double spacing) {
                        const double area = ChosenBars{size, spacing, true, true}.area();
                        if (least_per_metre(f, d, size, other > 0 ? other : 16) > area + 1e-9) return false;
                        for (const Hard& h : hard) {
                            const auto As =
                                required(f, d, demand_[h.strip][h.station], h.c, h.M, size, other > 0 ? other : 16);
                            const double extra = provided_extra(f, d, h.strip, stations_[h.strip][h.station].s);
                            if (!As) {
                                impossible = true;
                                continue;  // no bars would do: the row says so; the rest still deserves its bars
                            }
                            if (area * width_of(demand_[h.strip][h.station]) + extra < *As) return false;
                        }
                        return true;
                    });
                if (impossible) a_.steel.base(f, d).fits = false;
            }
        }
    }
    CutShare thickest_metre() const {
        double thickest = m_.slab.thickness;
        for (const SlabPatch& p : m_.slab.patches) thickest = std::max(thickest, p.thickness);
        return {thickest, 1, {}, {}};
    }
    double least_per_metre(Face f, Direction d, double own, double other) const {  // mm²/m in the thickest part
        return f == Face::bottom || m_.steel.minimum_on_both_faces
                   ? code_->minimum_steel(section(f, d, thickest_metre(), own, other))
                   : 0;
    }
    double provided_extra(Face f, Direction d, int strip, double s) const {
        return m_.steel.extra.empty() ? 0 : provided(f, d, strip, s, 0);
    }

    void write_sections() {
        for (int i = 0; i < int(a_.steel.strips.size()); ++i) {
            StripAnswer& strip = a_.steel.strips[i];
            const Direction d = strip.strip.direction;
            for (int k = 0; k < int(stations_[i].size()); ++k) {
                const Demand& demand = demand_[i][k];
                if (demand.shares.empty()) continue;
                const long n = long(combinations_.size());
                long most = 0, least = 0, shear = 0;
                for (long c = 1; c < n; ++c) {
                    if (sum(demand, c, false) > sum(demand, most, false)) most = c;
                    if (sum(demand, c, false) < sum(demand, least, false)) least = c;
                    if (std::abs(sum(demand, c, true)) > std::abs(sum(demand, shear, true))) shear = c;
                }
                std::vector<long> rows{most, least, shear};
                if (a_.asked)
                    for (long c = 0; c < n; ++c) rows.push_back(c);
                std::sort(rows.begin(), rows.end());
                rows.erase(std::unique(rows.begin(), rows.end()), rows.end());
                for (long c : rows) {
                    SectionRow r;
                    r.s = stations_[i][k].s;
                    r.at = strip.strip.axis[0] + r.s * direction_of(i);
                    r.combination = a_.combinations[combinations_[c]].combination.id;
                    r.width = width_of(demand);
                    r.M = sum(demand, c, false), r.V = sum(demand, c, true);
                    r.in_support = stations_[i][k].in_support;
                    const double M = limit_at_faces(i, k, c, r.M);
                    if (code_) r.top_required = required(Face::top, d, demand, c, M);
                    if (code_) r.bottom_required = required(Face::bottom, d, demand, c, M);
                    r.top_provided = provided(Face::top, d, i, r.s, r.width);
                    r.bottom_provided = provided(Face::bottom, d, i, r.s, r.width);
                    strip.sections.push_back(std::move(r));
                }
            }
        }
    }

    double thickness_that_would_do(Face f, Direction d, const Demand& demand, long c, double M) const {
        const double total = sum(demand, c, false);
        double h = 0;
        for (const CutShare& s : demand.shares) {
            const FlexureSection sec = section(f, d, s);
            const double need = code_->least_depth(sec, std::abs(s.M[c] * M / total));
            h = std::max(h, s.thickness + (need - sec.d) / 1000);
        }
        return std::ceil(h * 20 - 1e-9) / 20;  // next 50 mm
    }

    void check_bending() {
        struct Worst {
            double use = -1;
            int strip = -1, station = 0;
            long c = 0;
            double M = 0;
        };
        for (int i = 0; i < int(a_.steel.strips.size()); ++i)
            for (Face f : {Face::bottom, Face::top}) {
                const Direction d = a_.steel.strips[i].strip.direction;
                Worst w;
                each_governing(f, d, [&](int strip, int station, long c, double M) {
                    if (strip != i) return;
                    const Demand& demand = demand_[strip][station];
                    const auto As = steel_for(f, d, demand, c, M, 0, 0, nullptr, false);
                    const double have = provided(f, d, strip, stations_[strip][station].s, width_of(demand));
                    const double use = As ? (have > 0 ? *As / have : 1e9) : 1e12 + std::abs(M) / width_of(demand);
                    if (use > w.use) w = {use, strip, station, c, M};
                });
                if (w.strip < 0) continue;
                write_bending_row(i, f, d, w.station, w.c, w.M);
            }
    }

    void write_bending_row(int strip, Face f, Direction d, int station, long c, double M) {
        const Demand& demand = demand_[strip][station];
        const Strip& s = a_.steel.strips[strip].strip;
        const double at = stations_[strip][station].s, width = width_of(demand);
        Row row;
        row.id = "bending", row.title = fmt::format("Bending {} {}", s.id, name_of(f)),
        row.item = fmt::format("{} {}", s.id, name_of(f));
        row.unit = "mm²", row.clause = code_->flexure_clause(),
        row.combination = a_.combinations[combinations_[c]].combination.id;
        row.at = s.axis[0] + at * direction_of(strip);
        Working by;
        by.line("section",
                fmt::format("s = {:.2f} m along strip {}, {:.2f} m wide{}", at, s.id, width,
                            stations_[strip][station].in_support ? ", inside a support: moment of its face" : ""),
                at, "m");
        by.line("moment over the width, statics of the cut", row.combination, M, "kN·m");
        const auto As = steel_for(f, d, demand, c, M, 0, 0, &by, false);
        const double have = provided(f, d, strip, at, width);
        const ChosenBars& bars = a_.steel.base(f, d);
        by.line("steel provided",
                fmt::format("ϕ{:.0f} at {:.0f} mm{} over {:.2f} m", bars.diameter, bars.spacing,
                            have > bars.area() * width + 1 ? " and extra bars" : "", width),
                have, "mm²");
        row.limit = have;
        if (As) {
            row.value = *As;
            row.judge(have > 0 ? *As / have : 1e9);
            by.line("use: required over provided", fmt::format("{:.0f}/{:.0f}", *As, have), *row.utilisation, "");
            if (row.status == Status::over)
                row.note = bars.chosen
                               ? "No size and spacing in the lists is enough; allow larger bars, closer spacing or a "
                                 "thicker slab."
                               : fmt::format("Give {:.0f} mm²/m or more, or let the bars be chosen.", *As / width);
        } else {
            // How far over: the moment against the largest that tension steel can serve, which grows with d².
            double use = 1;
            for (const CutShare& c2 : demand.shares) {
                const FlexureSection sec = section(f, d, c2);
                use = std::max(
                    use,
                    sec.d > 0
                        ? std::pow(code_->least_depth(sec, std::abs(c2.M[c] * M / sum(demand, c, false))) / sec.d, 2)
                        : 1e3);
            }
            row.judge(use);
            row.status = Status::over;
            row.note =
                fmt::format("No amount of steel fits into {:.0f} mm here; a thickness of about {:.2f} m would do.",
                            1000 * demand.shares[0].thickness, thickness_that_would_do(f, d, demand, c, M));
        }
        row.working = std::move(by.lines);
        a_.checks.push_back(row);
    }

    void check_minimum_and_spacing() {
        for (Face f : {Face::bottom, Face::top})
            for (Direction d : {Direction::x, Direction::y}) {
                const ChosenBars& bars = a_.steel.base(f, d);
                Working by;
                const double least = code_->minimum_steel(section(f, d, thickest_metre()), &by);
                Row row;
                row.id = "minimum-steel", row.title = fmt::format("Minimum steel {} {}", name_of(f), name_of(d)),
                row.item = fmt::format("{} {}", name_of(f), name_of(d));
                row.unit = "mm²/m", row.clause = code_->minimum_clause(), row.value = least, row.limit = bars.area();
                by.line("steel provided", fmt::format("ϕ{:.0f} at {:.0f} mm", bars.diameter, bars.spacing), bars.area(),
                        "mm²/m");
                if (f == Face::bottom || m_.steel.minimum_on_both_faces || bars.area() > 0) {
                    row.judge(bars.area() > 0 ? least / bars.area() : 1e9);
                    by.line("use", fmt::format("{:.0f}/{:.0f}", least, bars.area()), *row.utilisation, "");
                    row.working = by.lines;
                    a_.checks.push_back(row);
                }
                Row gap;
                gap.id = "spacing", gap.title = fmt::format("Spacing {} {}", name_of(f), name_of(d)),
                gap.item = row.item, gap.unit = "mm";
                gap.clause = code_->spacing_clause(), gap.value = bars.spacing,
                gap.limit = code_->largest_spacing(1000 * m_.slab.thickness);
                gap.judge(bars.spacing / *gap.limit);
                Working g;
                g.line("largest spacing where loads are concentrated",
                       fmt::format("min(2 h, 250), h = {:.0f} mm", 1000 * m_.slab.thickness), *gap.limit, "mm");
                g.line("spacing of the bars", fmt::format("ϕ{:.0f}", bars.diameter), bars.spacing, "mm");
                gap.working = std::move(g.lines);
                a_.checks.push_back(gap);
            }
    }

    void check_one_way_shear() {
        for (int i = 0; i < int(a_.steel.strips.size()); ++i) {
            const Direction d = a_.steel.strips[i].strip.direction;
            double worst = -1;
            int at = 0;
            long comb = 0;
            auto shear = [&](int k, long c) {
                double V = 0;
                for (const CutShare& s : demand_[i][k].panel) V += s.V[c];
                return std::abs(V);
            };
            auto borne = [&](int k, long c, Working* by) {
                const auto& panel = demand_[i][k].panel;
                double M = 0, V = 0;
                for (const CutShare& s : panel) M += s.M[c];
                const Face f = M >= 0 ? Face::bottom : Face::top;
                const double width = width_of(panel), As = provided(f, d, i, stations_[i][k].s, width);
                for (const CutShare& s : panel) V += code_->shear_borne(section(f, d, s), As * s.width / width, by);
                return V;
            };
            for (int k = 0; k < int(stations_[i].size()); ++k) {
                if (demand_[i][k].panel.empty() || is_sliver(demand_[i][k].panel, i)) continue;
                for (long c = 0; c < n_design_; ++c)
                    if (const double use = shear(k, c) / borne(k, c, nullptr); use > worst)
                        worst = use, at = k, comb = c;
            }
            if (worst < 0) continue;
            Row row;
            const Strip& s = a_.steel.strips[i].strip;
            row.id = "one-way-shear", row.title = fmt::format("One-way shear {}", s.id), row.item = s.id,
            row.unit = "kN", row.clause = code_->shear_clause();
            row.combination = a_.combinations[combinations_[comb]].combination.id;
            row.at = s.axis[0] + stations_[i][at].s * direction_of(i);
            Working by;
            by.line("section, d or more off every face", fmt::format("s = {:.2f} m along {}", stations_[i][at].s, s.id),
                    stations_[i][at].s, "m");
            by.line(a_.steel.strips[i].column_band ? "width: the panel of the column band, mid-span to mid-span"
                                                   : "width of the strip",
                    "b", width_of(demand_[i][at].panel), "m");
            row.value = shear(at, comb);
            by.line("shear over the width", row.combination, *row.value, "kN");
            row.limit = borne(at, comb, &by);
            row.judge(*row.value / *row.limit);
            by.line("use", fmt::format("{:.0f}/{:.0f}", *row.value, *row.limit), *row.utilisation, "");
            if (row.status == Status::over) row.note = "Thicken the slab here; links are not designed in this version.";
            row.working = std::move(by.lines);
            a_.checks.push_back(row);
        }
    }

    Answer& a_;
    const Model& m_;
    const std::vector<CaseLoads>& cases_;
    const Progress& progress_;
    std::unique_ptr<DesignCode> code_;
    std::vector<int> combinations_;  // those to design for come first
    long n_design_ = 0;
    std::vector<std::vector<Station>> stations_;
    std::vector<std::vector<Demand>> demand_;
};

}  // namespace

void check_strips(Answer& a, const std::vector<CaseLoads>& cases, const Progress& progress) {
    StripDesign(a, cases, progress).run();
    // Quantities: concrete by the mesh, base and extra bars without laps (7850 kg/m³).
    const double area = net_area(*a.model);
    for (int e = 0; e < int(a.mesh.elements.size()); ++e) {
        const int patch = a.mesh.patch[e];
        a.steel.concrete_m3 +=
            a.mesh.area(e) * (patch < 0 ? a.model->slab.thickness : a.model->slab.patches[patch].thickness);
    }
    double mm2 = 0;
    for (Face f : {Face::top, Face::bottom})
        for (Direction d : {Direction::x, Direction::y}) mm2 += a.steel.base(f, d).area() * area;
    for (const ExtraBars& e : a.model->steel.extra)
        mm2 += std::abs(signed_area(e.outline)) * 3.14159265358979 / 4 * e.diameter * e.diameter * 1000 / e.spacing;
    a.steel.steel_kg = mm2 * 1e-6 * 7850;
}

}  // namespace mossbed
