// Bending, minimum steel, spacing and one-way shear of strips, and the base bars.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/checks/checks.h"
#include "core/codes/code.h"
#include "core/steel/choose_bars.h"
#include "core/steel/cut_forces.h"
#include "core/steel/extra_bars.h"

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
            const Polygon p = body_of(w, i);
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
        : a_(a),
          m_(*a.model),
          cases_(cases),
          progress_(progress),
          code_(make_code(a.model->settings)),
          extra_(m_, code_.get()) {}

    void run() {
        a_.steel.strips = lay_out_strips(m_);
        say_of_strips();
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
        const std::string why = why_no_design();
        if (!why.empty()) {
            for (const auto& [id, title] : {std::pair{"bending", "Bending and steel"},
                                            {"minimum-steel", "Minimum steel"},
                                            {"one-way-shear", "One-way shear"},
                                            {"spacing", "Spacing of bars"}}) {
                Row row;
                row.id = id, row.title = title, row.note = why;
                a_.checks.push_back(row);
            }
            state_bars();
            if (combinations_.empty()) return;
            if (code_ && covers_leave_no_depth()) code_.reset();
            find_forces();
            write_sections();  // moments and shears need no code
            return;
        }
        find_forces();
        choose_all();
        write_sections();
        check_bending();
        check_minimum();
        check_spacing();
        check_one_way_shear();
    }

  private:
    std::string why_no_design() const {
        if (!code_)
            return fmt::format("The design code {} is not in this version; use EN 1992-1-1.", m_.settings.design_code);
        if (covers_leave_no_depth())
            return fmt::format("The covers of {:g} and {:g} mm leave hardly any depth for bars in {:g} mm of slab.",
                               m_.steel.cover_top, m_.steel.cover_bottom, 1000 * thinnest());
        if (n_design_ == 0) return "There is no solved strength combination to design with.";
        return "";
    }
    bool covers_leave_no_depth() const {
        for (Face f : {Face::top, Face::bottom})
            for (Direction d : {Direction::x, Direction::y}) {
                const Bars &own = m_.steel.base(f, d), &other = m_.steel.base(f, across(d));
                if (depth(f, d, thinnest(), own.diameter.value_or(16), other.diameter.value_or(16)) <
                    0.2 * 1000 * thinnest())
                    return true;
            }
        return false;
    }
    double thinnest() const {  // m
        double h = m_.slab.thickness;
        for (const SlabPatch& p : m_.slab.patches) h = std::min(h, p.thickness);
        return h;
    }

    void say(std::string item, std::string title, std::string note, std::optional<Point> at = {}) {
        Row row;
        row.id = "model", row.item = std::move(item), row.title = std::move(title), row.note = std::move(note);
        row.at = at;
        a_.checks.push_back(std::move(row));
    }
    // What the engineer must know of the strips themselves.
    void say_of_strips() {
        if (!m_.steel.twisting)
            say("twisting", "Twisting left out",
                "steel.twisting is off: strips are designed for mx alone, twisting moments reach no steel.");
        for (const StripAnswer& s : a_.steel.strips) {
            const auto& [id, direction, axis, reach, keys] = s.strip;
            if (s.turned_round)
                say("strip " + id, fmt::format("Strip {} lies across its direction", id),
                    fmt::format("It is drawn with the direction of {} bars but runs along {}: the bars that run along "
                                "it count.",
                                name_of(across(direction)), name_of(direction)),
                    axis[0]);
            if (const Column* c = column_that_it_spreads(s))
                say("strip " + id + " width", fmt::format("Strip {} spreads a column's moment", id),
                    fmt::format("It is {:.2f} m wide, more than c + 3d = {:.2f} m at column {}: its moment is the mean "
                                "over the whole width, and what concentrates at the column is not looked at.",
                                reach[0] + reach[1], concentration_width(s, *c), c->id),
                    c->at);
        }
    }
    // c + 3 d across the strip, m (EN 1992-1-1 gives no width; that of ENV 1992-1-1 and of practice for pads).
    double concentration_width(const StripAnswer& s, const Column& c) const {
        const Point n = left_of(unit(s.strip.axis[1] - s.strip.axis[0]));
        double low = 1e300, high = -1e300;
        for (Point p : footprint(c)) low = std::min(low, dot(p, n)), high = std::max(high, dot(p, n));
        return high - low +
               3 * std::max(0.0, depth(Face::bottom, s.strip.direction, thickness_at(m_, c.at), 16, 16)) / 1000;
    }
    // The first column on a drawn strip, or on that of a single line of columns, which is wider than c + 3 d there.
    const Column* column_that_it_spreads(const StripAnswer& s) const {
        if (!m_.steel.strips && !s.single_line) return nullptr;
        const Point u = unit(s.strip.axis[1] - s.strip.axis[0]), n = left_of(u);
        const double L = distance(s.strip.axis[0], s.strip.axis[1]);
        for (const Column& c : m_.columns) {
            const Point r = c.at - s.strip.axis[0];
            const double t = dot(r, u), off = dot(r, n);
            if (t >= 0 && t <= L && off <= s.strip.reach[0] && off >= -s.strip.reach[1] &&
                s.strip.reach[0] + s.strip.reach[1] > concentration_width(s, c) + 0.005)
                return &c;
        }
        return nullptr;
    }

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
        return {1000 * s.width, 1000 * s.thickness, dd, s.fck, steel_of(m_).fyk, steel_of(m_).E};
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
        lay_extra_bars();
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

    // What one share, and a whole section, of a strip asks of the bars of a face, kN·m: the moment that way and the
    // twisting moment with it (Wood and Armer 1968). Their rule for mixed signs, which asks for less where the moment
    // across is large and of the other sign, is not used: the plain sum is on the safe side of it.
    double asked(Face f, const CutShare& s, long c) const {
        return (f == Face::bottom ? 1 : -1) * s.M[c] + (m_.steel.twisting ? s.T[c] : 0);
    }
    double asked(Face f, const Demand& d, long c) const {
        double M = 0;
        for (const CutShare& s : d.shares) M += asked(f, s, c);
        return M;
    }
    static double twist(const Demand& d, long c) {
        double T = 0;
        for (const CutShare& s : d.shares) T += s.T[c];
        return T;
    }
    // The moment a face is designed for at a section, never below nought: inside a support no more than at its faces.
    double design_moment(Face f, int strip, int station, long c) const {
        const Station& t = stations_[strip][station];
        double M = asked(f, demand_[strip][station], c);
        if (t.in_support) {
            double faces = -1e300;
            for (size_t k = 0; k < stations_[strip].size(); ++k) {
                const double s = stations_[strip][k].s;
                if (std::abs(s - t.support_from) > 1e-6 && std::abs(s - t.support_to) > 1e-6) continue;
                if (!demand_[strip][k].shares.empty()) faces = std::max(faces, asked(f, demand_[strip][k], c));
            }
            if (faces > -1e299) M = std::min(M, std::max(faces, 0.0));
        }
        return std::max(M, 0.0);
    }

    // Steel of one face, mm², for a design moment M ≥ 0 shared out over thicknesses and concretes as they ask for it,
    // with the minimum where it is wanted. None where no amount fits.
    std::optional<double> required(Face f, Direction d, const Demand& demand, long c, double M, double own = 0,
                                   double other = 0) const {
        return steel_for(f, d, demand, c, M, own, other, nullptr, true);
    }
    std::optional<double> steel_for(Face f, Direction d, const Demand& demand, long c, double M, double own,
                                    double other, Working* by, bool with_minimum) const {
        const double total = asked(f, demand, c);
        double As = 0;
        for (const CutShare& s : demand.shares) {
            const FlexureSection sec = section(f, d, s, own, other);
            const double share = total > 1e-9 ? asked(f, s, c) * M / total : 0;
            const auto flex = code_->flexural_steel(sec, share, by);
            if (!flex) return std::nullopt;
            const double least =
                with_minimum && (share > 1e-9 || m_.steel.minimum_on_both_faces) ? code_->minimum_steel(sec) : 0;
            As += std::max(*flex, least);
        }
        return As;
    }

    // The mats whose bars work along a strip and the share of them that does, cos² of the angle between: one mat for a
    // strip along x or y, both for one between.
    std::vector<std::pair<Direction, double>> mats_of(int strip) const {
        const Point u = direction_of(strip);
        constexpr double along = 0.9997;  // cos² of one degree
        if (u.x * u.x > along) return {{Direction::x, 1.0}};
        if (u.y * u.y > along) return {{Direction::y, 1.0}};
        return {{Direction::x, u.x * u.x}, {Direction::y, u.y * u.y}};
    }

    // Whose depth a section of the strip has: its mat's, and between x and y that of the inner layer.
    Direction depth_direction(int strip, Face f) const {
        if (mats_of(strip).size() == 1) return a_.steel.strips[strip].strip.direction;
        return across(f == Face::top ? m_.steel.outer_top : m_.steel.outer_bottom);
    }

    // mm² of extra bars across each strip at each section, bars by bars. Bars count where they reach beyond the section
    // by the effective depth (the shift of 9.2.1.3(2)) and their anchorage.
    void lay_extra_bars() {
        const size_t n = extra_.count();
        for (size_t e = 0; e < n; ++e) {
            extra_over_.emplace_back(a_.steel.strips.size());
            for (int i = 0; i < int(a_.steel.strips.size()); ++i) {
                auto& row = extra_over_[e][size_t(i)];
                row.assign(stations_[size_t(i)].size(), 0.0);
                const Strip& t = a_.steel.strips[size_t(i)].strip;
                const Point u = direction_of(i), left = left_of(u);
                double works = 0;
                for (const auto& [d, share] : mats_of(i))
                    if (d == extra_.bars(e).direction) works = share;
                if (works == 0) continue;
                const double d = usual_depth(extra_.bars(e).face, extra_.bars(e).direction, m_.slab.thickness) / 1000;
                tbb::parallel_for(size_t(0), row.size(), [&](size_t k) {
                    const Point at = t.axis[0] + stations_[size_t(i)][k].s * u;
                    row[k] = works * extra_.over(e, at - t.reach[1] * left, at + t.reach[0] * left, d);
                });
            }
        }
    }
    // Extra bars of a face over a section, those only that fit beside base bars of a size and spacing.
    double extra_provided(Face f, int strip, int station, const ChosenBars* base_of_d = nullptr,
                          Direction d = Direction::x) const {
        double As = 0;
        for (size_t e = 0; e < extra_.count(); ++e) {
            const ExtraBars& b = extra_.bars(e);
            if (b.face != f || extra_over_[e][size_t(strip)][size_t(station)] == 0) continue;
            const ChosenBars& base = base_of_d && b.direction == d ? *base_of_d : a_.steel.base(f, b.direction);
            if (extra_.clear_between(e, base).fits()) As += extra_over_[e][size_t(strip)][size_t(station)];
        }
        return As;
    }

    // mm² provided along the strip over a width of it at a section.
    double provided(Face f, int strip, int station, double width) const {
        double As = extra_provided(f, strip, station);
        for (const auto& [d, share] : mats_of(strip)) As += share * a_.steel.base(f, d).area() * width;
        return As;
    }

    // The demands that can govern bars of one face: per section the combination with the largest design moment.
    template <class F>
    void each_governing(Face f, Direction d, F use) const {
        for (int i = 0; i < int(a_.steel.strips.size()); ++i) {
            const auto mats = mats_of(i);
            if (std::none_of(mats.begin(), mats.end(), [&](const auto& mat) { return mat.first == d; })) continue;
            each_governing_in(f, i, use);
        }
    }
    template <class F>
    void each_governing_in(Face f, int i, F use) const {
        for (int k = 0; k < int(stations_[i].size()); ++k) {
            if (demand_[i][k].shares.empty() || is_sliver(demand_[i][k].shares, i)) continue;
            long worst = 0;
            double most = -1;
            for (long c = 0; c < n_design_; ++c)
                if (const double M = design_moment(f, i, k, c); M > most) most = M, worst = c;
            use(i, k, worst, most);
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
                    m_.steel.sizes, m_.steel.spacings, code_->largest_spacing(1000 * thinnest()),
                    [&](double size, double spacing) {
                        const ChosenBars bars{size, spacing, true, true};
                        const double area = bars.area();
                        if (least_of_base(f, d, size, other > 0 ? other : 16) > area + 1e-9) return false;
                        for (const Hard& h : hard) {
                            const auto As =
                                required(f, d, demand_[h.strip][h.station], h.c, h.M, size, other > 0 ? other : 16);
                            const double extra = extra_.none() ? 0 : extra_provided(f, h.strip, h.station, &bars, d);
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
    // The parts of the slab that differ in thickness or concrete, with the least that extra bars of a face and
    // direction bring anywhere in them.
    struct Part {
        double thickness, fck;
        std::vector<const SlabPatch*> patches;  // none: the slab itself
    };
    std::vector<Part> parts() const {
        std::vector<Part> out{{m_.slab.thickness, concrete_of(m_, "").fck, {}}};
        for (const SlabPatch& p : m_.slab.patches) {
            const double fck = concrete_of(m_, p.concrete).fck;
            auto it = std::find_if(out.begin(), out.end(),
                                   [&](const Part& q) { return q.thickness == p.thickness && q.fck == fck; });
            if (it == out.end()) it = out.insert(out.end(), Part{p.thickness, fck, {}});
            if (it != out.begin()) it->patches.push_back(&p);
        }
        return out;
    }
    CutShare metre_of(const Part& p) const { return {p.thickness, p.fck, 1, {}, {}, {}}; }
    double least_extra_in(const Part& p, Face f, Direction d) const {  // mm²/m
        if (extra_.none() || p.patches.empty()) return 0;
        double least = 1e300;
        for (const SlabPatch* patch : p.patches) {
            const Box b = box_of(patch->outline);
            constexpr int n = 12;
            for (int k = 0; k < n * n; ++k) {
                const Point q{b.low.x + b.width() * (k % n + 0.5) / n, b.low.y + b.height() * (k / n + 0.5) / n};
                if (!contains(patch->outline, q) || !on_slab(m_, q)) continue;
                double As = 0;
                for (size_t e = 0; e < extra_.count(); ++e)
                    if (const ExtraBars& x = extra_.bars(e); x.face == f && x.direction == d)
                        if (extra_.clear_between(e, a_.steel.base(f, d)).fits())
                            As += extra_.area(e) * extra_.anchored(e, q, 0);
                least = std::min(least, As);
            }
        }
        return least < 1e299 ? least : 0;
    }
    // mm²/m that base bars must bring so that every part has its minimum.
    double least_of_base(Face f, Direction d, double own, double other) const {
        if (f == Face::top && !m_.steel.minimum_on_both_faces) return 0;
        double least = 0;
        for (const Part& p : parts())
            least =
                std::max(least, code_->minimum_steel(section(f, d, metre_of(p), own, other)) - least_extra_in(p, f, d));
        return least;
    }

    void write_sections() {
        for (int i = 0; i < int(a_.steel.strips.size()); ++i) {
            StripAnswer& strip = a_.steel.strips[i];
            for (int k = 0; k < int(stations_[i].size()); ++k) {
                const Demand& demand = demand_[i][k];
                if (demand.shares.empty()) continue;
                const long n = long(combinations_.size());
                long most = 0, least = 0, shear = 0, bottom = 0, top = 0;
                for (long c = 1; c < n; ++c) {
                    if (asked(Face::bottom, demand, c) > asked(Face::bottom, demand, bottom)) bottom = c;
                    if (asked(Face::top, demand, c) > asked(Face::top, demand, top)) top = c;
                    if (sum(demand, c, false) > sum(demand, most, false)) most = c;
                    if (sum(demand, c, false) < sum(demand, least, false)) least = c;
                    if (std::abs(sum(demand, c, true)) > std::abs(sum(demand, shear, true))) shear = c;
                }
                std::vector<long> rows{most, least, shear, bottom, top};
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
                    r.T = twist(demand, c);
                    r.M_design_bottom = design_moment(Face::bottom, i, k, c);
                    r.M_design_top = -design_moment(Face::top, i, k, c);
                    if (code_) {
                        r.top_required = required(Face::top, depth_direction(i, Face::top), demand, c, -r.M_design_top);
                        r.bottom_required =
                            required(Face::bottom, depth_direction(i, Face::bottom), demand, c, r.M_design_bottom);
                    }
                    r.top_provided = provided(Face::top, i, k, r.width);
                    r.bottom_provided = provided(Face::bottom, i, k, r.width);
                    strip.sections.push_back(std::move(r));
                }
            }
        }
    }

    double thickness_that_would_do(Face f, Direction d, const Demand& demand, long c, double M) const {
        const double total = std::max(asked(f, demand, c), 1e-9);
        double h = 0;
        for (const CutShare& s : demand.shares) {
            const FlexureSection sec = section(f, d, s);
            const double need = code_->least_depth(sec, std::max(0.0, asked(f, s, c) * M / total));
            h = std::max(h, s.thickness + (need - sec.d) / 1000);
        }
        return std::ceil(h * 20 - 1e-9) / 20;  // next 50 mm
    }

    void check_bending() {
        struct Worst {
            double use = -1;
            int station = 0;
            long c = 0;
            double M = 0;
        };
        for (int i = 0; i < int(a_.steel.strips.size()); ++i)
            for (Face f : {Face::bottom, Face::top}) {
                const Direction d = depth_direction(i, f);
                Worst w;
                each_governing_in(f, i, [&](int, int station, long c, double M) {
                    const Demand& demand = demand_[i][station];
                    const auto As = steel_for(f, d, demand, c, M, 0, 0, nullptr, false);
                    const double have = provided(f, i, station, width_of(demand));
                    const double use =
                        As ? (*As > 0 ? (have > 0 ? *As / have : 1e9) : 0) : 1e12 + std::abs(M) / width_of(demand);
                    if (use > w.use) w = {use, station, c, M};
                });
                if (w.use >= 0) write_bending_row(i, f, d, w.station, w.c, w.M);
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
        const double sense = f == Face::bottom ? 1 : -1, plain = sense * sum(demand, c, false);
        by.line("moment over the width, statics of the cut", row.combination, sense * plain, "kN·m");
        if (m_.steel.twisting)
            by.line("twisting moment over the width (Wood and Armer 1968)", "∫ |mxy| across the cut", twist(demand, c),
                    "kN·m");
        by.line(stations_[strip][station].in_support ? "design moment, no more than at the support's faces"
                                                     : "design moment",
                m_.steel.twisting
                    ? (f == Face::bottom ? "M + ∫ |mxy|, not below nought" : "M − ∫ |mxy|, not above nought")
                    : "M; twisting is left out (steel.twisting)",
                sense * M, "kN·m");
        const auto As = steel_for(f, d, demand, c, M, 0, 0, &by, false);
        const double have = provided(f, strip, station, width), extra = extra_provided(f, strip, station);
        const ChosenBars& bars = a_.steel.base(f, d);
        for (const auto& [mat, share] : mats_of(strip))
            by.line("base bars",
                    fmt::format("{}: {} over {:.2f} m{}", name_of(mat), words_of(a_.steel.base(f, mat)), width,
                                share < 1 ? fmt::format(" · cos² = {:.2f} of the angle between", share) : ""),
                    share * a_.steel.base(f, mat).area() * width, "mm²");
        if (extra > 0) by.line("extra bars, as far as they are anchored beyond the section", "", extra, "mm²");
        by.line("steel provided", "", have, "mm²");
        row.limit = have;
        if (As) {
            row.value = *As;
            row.judge(*As > 0 ? (have > 0 ? *As / have : 1e9) : 0);
            by.line("use: required over provided", fmt::format("{:.0f}/{:.0f}", *As, have), *row.utilisation, "");
            if (row.status == Status::over)
                row.note = bars.chosen
                               ? "No size and spacing in the lists is enough; allow larger bars, closer spacing or a "
                                 "thicker slab."
                               : fmt::format("Give {:.0f} mm²/m or more, or let the bars be chosen.", *As / width);
            else if (bars.chosen)
                row.chosen = true, row.note = fmt::format("Bars chosen to fit: {}.", words_of(bars));
        } else {
            // How far over: the moment against the largest that tension steel can serve, which grows with d².
            double use = 1;
            for (const CutShare& c2 : demand.shares) {
                const FlexureSection sec = section(f, d, c2);
                use = std::max(
                    use,
                    sec.d > 0
                        ? std::pow(code_->least_depth(
                                       sec, std::max(0.0, asked(f, c2, c) * M / std::max(asked(f, demand, c), 1e-9))) /
                                       sec.d,
                                   2)
                        : 1e3);
            }
            row.judge(use);
            row.status = Status::over;
            row.note =
                fmt::format("No amount of steel fits into {:.0f} mm here; a thickness of about {:.2f} m would do.",
                            1000 * demand.shares[0].thickness, thickness_that_would_do(f, d, demand, c, M));
        }
        if (const Column* spread = row.status == Status::pass && a_.steel.strips[strip].single_line && f == Face::bottom
                                       ? column_that_it_spreads(a_.steel.strips[strip])
                                       : nullptr) {
            row.status = Status::not_checked;
            row.note = fmt::format(
                "Its steel is the mean over {:.2f} m; what concentrates within c + 3d = {:.2f} m at column {} is not "
                "looked at in this version. Draw strips of that width.",
                s.reach[0] + s.reach[1], concentration_width(a_.steel.strips[strip], *spread), spread->id);
        }
        row.working = std::move(by.lines);
        a_.checks.push_back(row);
    }

    static std::string words_of(const ChosenBars& b) {
        return b.spacing > 0 ? fmt::format("ϕ{:.0f} at {:.0f} mm", b.diameter, b.spacing) : "none";
    }

    // Each part of the slab for itself: a thick patch asks for more than the slab round it.
    void check_minimum() {
        for (Face f : {Face::bottom, Face::top})
            for (Direction d : {Direction::x, Direction::y}) {
                const ChosenBars& bars = a_.steel.base(f, d);
                for (const Part& part : parts()) {
                    Working by;
                    const double least = code_->minimum_steel(section(f, d, metre_of(part)), &by);
                    const double extra = least_extra_in(part, f, d), have = bars.area() + extra;
                    if (f == Face::top && !m_.steel.minimum_on_both_faces && have == 0) continue;
                    Row row;
                    row.id = "minimum-steel", row.title = fmt::format("Minimum steel {} {}", name_of(f), name_of(d)),
                    row.item = fmt::format("{} {}", name_of(f), name_of(d));
                    row.unit = "mm²/m", row.clause = code_->minimum_clause(), row.value = least, row.limit = have;
                    if (!part.patches.empty()) {
                        const std::string where = fmt::format(", {:.2f} m thick", part.thickness);
                        row.title += where, row.item += where, row.at = centroid(part.patches[0]->outline);
                    }
                    by.line("base bars", words_of(bars), bars.area(), "mm²/m");
                    if (extra > 0) by.line("extra bars, the least anywhere in it", "", extra, "mm²/m");
                    row.judge(have > 0 ? least / have : 1e9);
                    by.line("use", fmt::format("{:.0f}/{:.0f}", least, have), *row.utilisation, "");
                    if (row.status == Status::over)
                        row.note = part.patches.empty()
                                       ? "More base bars would mend it."
                                       : "More base bars, or extra bars all over the patch, would mend it.";
                    else if (bars.chosen)
                        row.chosen = true, row.note = fmt::format("Bars chosen to fit: {}.", words_of(bars));
                    row.working = std::move(by.lines);
                    a_.checks.push_back(std::move(row));
                }
            }
    }

    void check_spacing() {
        const double limit = code_->largest_spacing(1000 * thinnest());
        for (Face f : {Face::bottom, Face::top})
            for (Direction d : {Direction::x, Direction::y}) {
                const ChosenBars& bars = a_.steel.base(f, d);
                Row gap;
                gap.id = "spacing", gap.title = fmt::format("Spacing {} {}", name_of(f), name_of(d)),
                gap.item = fmt::format("{} {}", name_of(f), name_of(d)), gap.unit = "mm";
                gap.clause = code_->spacing_clause(), gap.value = bars.spacing, gap.limit = limit;
                gap.judge(bars.spacing / limit);
                Working g;
                g.line("largest spacing where loads are concentrated",
                       fmt::format("min(2 h, 250), h = {:.0f} mm", 1000 * thinnest()), limit, "mm");
                g.line("spacing of the bars", words_of(bars), bars.spacing, "mm");
                const double clear = bars.spacing - bars.diameter, least = std::max(bars.diameter, 20.0);
                g.line("clear distance between them, at least the diameter and 20 mm, 8.2(2)",
                       fmt::format("{:.0f} − {:.0f} ≥ {:.0f} mm", bars.spacing, bars.diameter, least), clear, "mm");
                if (clear < least - 1e-9 && gap.status == Status::pass) {
                    gap.value = clear, gap.limit = least;
                    gap.judge(least / std::max(clear, 1e-3));
                    gap.note = "The bars lie too close: take larger ones further apart.";
                }
                gap.working = std::move(g.lines);
                a_.checks.push_back(std::move(gap));
            }
        for (size_t e = 0; e < extra_.count(); ++e) {
            const ExtraBars& x = extra_.bars(e);
            const ChosenBars& base = a_.steel.base(x.face, x.direction);
            const auto clear = extra_.clear_between(e, base);
            Row row;
            row.id = "spacing", row.item = x.id, row.title = fmt::format("Clear distance of extra bars {}", x.id);
            row.unit = "mm", row.clause = code_->spacing_clause(), row.at = centroid(x.outline);
            row.value = clear.distance, row.limit = clear.least;
            row.judge(clear.distance > 0 ? clear.least / clear.distance : 1e9);
            if (!clear.fits())
                row.note =
                    "Too close to the base bars and other extra bars of that layer: they are not counted. Space "
                    "them wider, or take larger ones.";
            Working by;
            by.line("base bars of that layer", words_of(base), base.spacing, "mm");
            by.line("extra bars", fmt::format("ϕ{:.0f} at {:.0f} mm", x.diameter, x.spacing), x.spacing, "mm");
            by.line("clear distance, all laid evenly", "", clear.distance, "mm");
            by.line("least: the largest diameter and 20 mm, 8.2(2)", "", clear.least, "mm");
            by.line("anchorage length that they need beyond where they count", "l_b,rqd, 8.4.3", extra_.anchorage(e),
                    "m");
            row.working = std::move(by.lines);
            a_.checks.push_back(std::move(row));
        }
    }

    void check_one_way_shear() {
        for (int i = 0; i < int(a_.steel.strips.size()); ++i) {
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
                const double width = width_of(panel), As = provided(f, i, k, width);
                for (const CutShare& s : panel)
                    V += code_->shear_borne(section(f, depth_direction(i, f), s), As * s.width / width, by);
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
    ExtraBarsProvision extra_;
    std::vector<std::vector<std::vector<double>>> extra_over_;  // bars, strip, station: mm²
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
