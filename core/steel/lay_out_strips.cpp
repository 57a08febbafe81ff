#include <fmt/format.h>

#include <algorithm>
#include <optional>
#include <set>

#include "core/base/polygons.h"
#include "core/model/strip_area.h"
#include "core/steel/depths.h"
#include "core/steel/strips.h"

namespace mossbed {
namespace {

// Along the bars, and across: from low to high as the plan shows it, y of strips along x, x of strips along y.
struct Axes {
    Point along, across;
    Axes(const Reinforcement& r, Direction d) : along(along_bars(r, d)), across(along_bars(r, mossbed::across(d))) {}
    Point local(Point p) const { return {dot(p, along), dot(p, across)}; }
    Point plan(double t, double v) const { return t * along + v * across; }
    bool left_is_high() const { return cross(along, across) > 0; }
};

struct Place {          // a column as strips of one direction see it
    double t, v;        // along, across
    double half_width;  // across
    const Column* column;
};

struct Line {  // of columns, at v across
    double v = 0;
    std::vector<const Place*> columns;
    double from = -1e300, to = 1e300;  // where it lays out strips, along
    bool stands_beside(const Line& o, double slack) const {
        const auto [a, b] = extent();
        const auto [c, d] = o.extent();
        return a - slack < d && c - slack < b;
    }
    std::pair<double, double> extent() const {
        const auto [a, b] = std::minmax_element(columns.begin(), columns.end(),
                                                [](const Place* x, const Place* y) { return x->t < y->t; });
        return {(*a)->t, (*b)->t};
    }
};

// The median of the distances above half a metre between values; what is taken where there are none.
double usual_step(std::vector<double> v, double otherwise) {
    std::sort(v.begin(), v.end());
    std::vector<double> gaps;
    for (size_t i = 1; i < v.size(); ++i)
        if (v[i] - v[i - 1] > 0.5) gaps.push_back(v[i] - v[i - 1]);
    if (gaps.empty()) return otherwise;
    std::nth_element(gaps.begin(), gaps.begin() + long(gaps.size()) / 2, gaps.end());
    return gaps[gaps.size() / 2];
}

// Columns that stand round the slab's middle, on three circles at most with five or more to each; one may stand in it.
struct RoundOfColumns {
    double half_step = 0;  // m, half the least distance between neighbours on a circle
    bool one_in_the_middle = false;
};
std::optional<RoundOfColumns> round_of_columns(const Model& m) {
    const Polygon rim = outer_rim(m.slab.outline, 0.25);
    if (rim.size() < 3 || m.columns.empty()) return {};
    const Point middle = centroid(rim);
    std::vector<std::pair<double, double>> at;  // radius, angle
    for (const Column& c : m.columns) {
        const Point d = c.at - middle;
        at.push_back({length(d), std::atan2(d.y, d.x)});
    }
    std::sort(at.begin(), at.end());
    const double slack = 0.05 * at.back().first;
    RoundOfColumns out{1e300, at.front().first < slack};
    int circles = 0;
    for (size_t from = out.one_in_the_middle ? 1 : 0, to = from; from < at.size(); from = to, ++circles) {
        std::vector<double> angles;
        for (; to < at.size() && at[to].first < at[from].first + slack; ++to) angles.push_back(at[to].second);
        if (angles.size() < 5) return {};
        std::sort(angles.begin(), angles.end());
        angles.push_back(angles.front() + 2 * M_PI);
        for (size_t i = 0; i + 1 < angles.size(); ++i)
            out.half_step = std::min(out.half_step, (angles[i + 1] - angles[i]) * at[from].first / 2);
    }
    if (circles == 0 || circles > 3) return {};
    return out;
}

class Layout {
  public:
    Layout(const Model& m, const BandRule& band, Direction d, std::vector<StripAnswer>& out)
        : m_(m), band_(band), direction_(d), axes_(m.steel, d), out_(out) {
        for (Point p : outer_rim(m.slab.outline, 0.25)) rim_.push_back(axes_.local(p));
        rim_ = anticlockwise(rim_);
        for (const Column& c : m.columns) {
            Box b;
            for (Point p : footprint(c)) b.add(axes_.local(p));
            const Point at = axes_.local(c.at);
            places_.push_back({at.x, at.y, b.height() / 2, &c});
        }
        for (const StripAnswer& s : out) taken_.insert(s.strip.id);
    }
    void lay_out() {
        if (const auto round = round_of_columns(m_)) return lay_out_round(*round);
        gather();
        set_ranges();
        const Box box = box_of(rim_);
        std::vector<double> ends{box.low.x, box.high.x};
        for (const Line& l : lines_)
            for (double t : {l.from, l.to})
                if (t > box.low.x + shortest + hair && t < box.high.x - shortest - hair) ends.push_back(t);
        std::sort(ends.begin(), ends.end());
        double from = ends[0];
        for (size_t k = 0; k + 1 < ends.size(); ++k) {
            if (ends[k + 1] - from < shortest - hair && k + 2 < ends.size()) continue;
            const auto now = lines_between(from, ends[k + 1]);
            const bool last = k + 2 == ends.size();
            const auto next = last ? std::vector<const Line*>{} : lines_between(ends[k + 1], ends[k + 2]);
            if (!last && next == now) continue;  // goes on unchanged
            zone(from, ends[k + 1], now);
            from = ends[k + 1];
        }
    }

    void lay_out_even(double width) {
        const Box box = box_of(rim_);
        from_ = box.low.x, to_ = box.high.x;
        split(box.low.y, box.high.y, int(std::ceil(box.height() / width - 1e-6)), 0,
              [this](int, double v) { return fmt::format("{} at {:.2f}", mossbed::name_of(direction_), v); });
    }

  private:
    static constexpr double shortest = 1;  // m, of a stretch with strips of its own
    static constexpr double hair = 1e-6;   // m: what turning a model may add

    // Columns within a quarter of the usual spacing of a line's mean join it.
    void gather() {
        std::vector<double> across, along;
        for (const Place& p : places_) across.push_back(p.v), along.push_back(p.t);
        usual_ = usual_step(across, 4), usual_along_ = usual_step(along, 4);
        std::vector<const Place*> sorted;
        for (const Place& p : places_) sorted.push_back(&p);
        std::stable_sort(sorted.begin(), sorted.end(), [](const Place* a, const Place* b) { return a->v < b->v; });
        for (const Place* p : sorted) {
            if (lines_.empty() || p->v - lines_.back().v > usual_ / 4 + hair)
                lines_.push_back({p->v, {}, -1e300, 1e300});
            Line& l = lines_.back();
            const double n = double(l.columns.size());
            l.v = (l.v * n + p->v) / (n + 1);
            l.columns.push_back(p);
        }
        // From here on the usual spacing is that between lines with some columns that stand beside each other: what
        // stands off the grid, or in another wing, shortens none.
        size_t most = 0;
        for (const Line& l : lines_) most = std::max(most, l.columns.size());
        std::vector<const Line*> main;
        for (const Line& l : lines_)
            if (3 * l.columns.size() > most) main.push_back(&l);
        std::vector<double> gaps;  // to the nearest of them, on either side: a mirrored slab has the same
        for (const Line* l : main) {
            double nearest = 1e300;
            for (const Line* o : main)
                if (o != l && l->stands_beside(*o, usual_along_ / 2))
                    nearest = std::min(nearest, std::abs(o->v - l->v));
            if (nearest < 1e299) gaps.push_back(nearest);
        }
        std::sort(gaps.begin(), gaps.end());
        if (!gaps.empty()) usual_ = gaps[gaps.size() / 2];
    }
    // Columns off the grid lay out strips only near them; lines too near to each other that stand in different parts of
    // the slab, each in its own.
    void set_ranges() {
        for (size_t i = 0; i < lines_.size(); ++i) {
            Line& l = lines_[i];
            size_t beside = 0;
            for (size_t k : {i - 1, i + 1})
                if (k < lines_.size() && std::abs(lines_[k].v - l.v) < 0.75 * usual_ - hair)
                    beside = std::max(beside, lines_[k].columns.size());
            const auto [first, last] = l.extent();
            if (3 * l.columns.size() <= beside) keep_near(l);
            if (i + 1 == lines_.size() || lines_[i + 1].v - l.v > 0.75 * usual_ - hair) continue;
            Line& next = lines_[i + 1];
            const auto [a, b] = next.extent();
            if (last < a)
                l.to = std::min(l.to, (last + a) / 2), next.from = std::max(next.from, (last + a) / 2);
            else if (b < first)
                next.to = std::min(next.to, (b + first) / 2), l.from = std::max(l.from, (b + first) / 2);
        }
    }
    // Half a spacing beyond its columns, or to the rim where that leaves no more than that again.
    void keep_near(Line& l) const {
        const auto [first, last] = l.extent();
        const double half = usual_along_ / 2;
        Polygon along = clip_to_half_plane(rim_, {0, l.v - 0.1}, {0, 1});
        along = clip_to_half_plane(along, {0, l.v + 0.1}, {0, -1});
        const Box slab = box_of(along.empty() ? rim_ : along);
        const double from = first - half, to = last + half;
        l.from = std::max(l.from, from - slab.low.x < half + hair ? slab.low.x : from);
        l.to = std::min(l.to, slab.high.x - to < half + hair ? slab.high.x : to);
    }
    std::vector<const Line*> lines_between(double from, double to) const {
        std::vector<const Line*> out;
        const double middle = (from + to) / 2;
        for (const Line& l : lines_)
            if (l.from < middle && l.to > middle) out.push_back(&l);
        return out;
    }
    void zone(double from, double to, const std::vector<const Line*>& lines) {
        from_ = from, to_ = to;
        Polygon part = clip_to_half_plane(rim_, {from, 0}, {1, 0});
        part = clip_to_half_plane(part, {to, 0}, {-1, 0});
        if (part.size() < 3 || std::abs(signed_area(part)) < 1e-6) return;
        const Box box = box_of(part);
        const double low = box.low.y, high = box.high.y;
        if (lines.empty()) return equal_strips(low, high);
        if (lines.size() == 1) return single(*lines[0], low, high);
        for (size_t i = 0; i < lines.size(); ++i) {
            const double v = lines[i]->v;
            const bool first = i == 0, last = i + 1 == lines.size();
            const double before = first ? lines[1]->v - v : v - lines[i - 1]->v,
                         after = last ? before : lines[i + 1]->v - v;
            // Out to the rim, or where that is further than half the span a quarter of it, and a strip beyond.
            const double low_side = first && v - low <= before / 2 + hair ? low : v - before / 4,
                         high_side = last && high - v <= after / 2 + hair ? high : v + after / 4;
            const double panel_low = first ? low : v - before / 2, panel_high = last ? high : v + after / 2;
            const std::string name = name_of(*lines[i]);
            if (first && low_side > low) add(name + "-rim", low, low_side, (low + low_side) / 2, false, 0, 0);
            add(name, low_side, high_side, v, true, panel_low, panel_high);
            if (last && high_side < high) add(name + "-rim", high_side, high, (high_side + high) / 2, false, 0, 0);
            if (!last) {
                const double next = lines[i + 1]->v;
                add(name_between(name, name_of(*lines[i + 1])), high_side, next - after / 4, v + after / 2, false, 0,
                    0);
            }
        }
    }
    // In n strips of one width, for one-way shear `panel` times as wide, 0 for none; name(i, where its middle lies).
    template <class Name>
    void split(double low, double high, int n, double panel, Name name) {
        n = std::max(1, n);
        for (int i = 0; i < n; ++i) {
            const double from = low + (high - low) * i / n, to = low + (high - low) * (i + 1) / n, v = (from + to) / 2,
                         more = (panel - 1) * (to - from) / 2;
            add(name(i, v), from, to, v, false, panel > 0 ? std::max(low, from - more) : 0,
                panel > 0 ? std::min(high, to + more) : 0);
        }
    }
    std::string numbered(int i) const { return fmt::format("{}{}", stem(), i + 1); }
    // Some three metres each.
    void equal_strips(double low, double high) {
        split(low, high, int(std::lround((high - low) / 3)), 1, [this](int i, double) { return numbered(i); });
    }
    // Lines through columns that stand round say nothing: equal strips, half as wide as neighbours are apart, as a band
    // of columns is, and within what a column's moment may be taken as even over; one over the middle where a column
    // stands there. For one-way shear twice as wide.
    void lay_out_round(const RoundOfColumns& round) {
        const Box box = box_of(rim_);
        from_ = box.low.x, to_ = box.high.x;
        double width = std::clamp(round.half_step, 1.0, 3.0);
        for (const Place& p : places_)
            if (const double even = band_.width(*p.column, 2 * p.half_width); even > 0) width = std::min(width, even);
        const double low = box.low.y, high = box.high.y;
        int n = std::max(1, int(std::ceil((high - low) / width - 0.25)));
        if (round.one_in_the_middle && n % 2 == 0) ++n;
        split(low, high, n, 2, [this](int i, double) { return numbered(i); });
    }
    // A central band, within which a column's moment may be taken as even, and what lies beside it.
    void single(const Line& l, double low, double high) {
        double width = 0;
        for (const Place* p : l.columns) width = std::max(width, band_.width(*p->column, 2 * p->half_width));
        const double v = std::clamp(l.v, low, high), band_low = std::max(low, v - width / 2),
                     band_high = std::min(high, v + width / 2);
        const std::string name = name_of(l);
        if (width <= 0 || (band_high - band_low) > 0.98 * (high - low)) {
            add(name, low, high, v, true, low, high);
            return;
        }
        add(name + "-low", low, band_low, (low + band_low) / 2, false, 0, 0);
        if (StripAnswer* band = add(name, band_low, band_high, v, true, low, high)) band->line = band->panel;
        add(name + "-high", band_high, high, (band_high + high) / 2, false, 0, 0);
    }

    // Of the stretch before: where nothing changes along a line its strip goes on.
    StripAnswer* that_goes_on_as(const StripAnswer& s, const std::string& id) {
        auto same = [](const std::array<double, 2>& a, const std::array<double, 2>& b) {
            return std::abs(a[0] - b[0]) < hair && std::abs(a[1] - b[1]) < hair;
        };
        for (const auto& [k, name] : laid_) {
            StripAnswer& o = out_[k];
            if (name == id && distance(o.strip.axis[1], s.strip.axis[0]) < hair && o.column_band == s.column_band &&
                same(o.strip.reach, s.strip.reach) && same(o.panel, s.panel))
                return &o;
        }
        return nullptr;
    }
    const char* stem() const { return direction_ == Direction::x ? "X" : "Y"; }
    // After the setting-out line that it stands on, else by number.
    std::string name_of(const Line& l) const {
        const SettingOutLine* nearest = nullptr;
        double off = std::min(0.5, usual_ / 4);
        for (const SettingOutLine& s : m_.setting_out) {
            if (s.path.size() < 2) continue;
            const Point a = axes_.local(s.path.front()), b = axes_.local(s.path.back());
            if (std::abs(b.y - a.y) > 0.02 * std::abs(b.x - a.x)) continue;  // not along the strips
            if (const double d = std::abs((a.y + b.y) / 2 - l.v); d <= off) nearest = &s, off = d;
        }
        return nearest ? nearest->id : fmt::format("{}{}", stem(), &l - lines_.data() + 1);
    }
    std::string name_between(const std::string& a, const std::string& b) const {
        const bool numbered = a.starts_with(stem()) && b.starts_with(stem());
        return a + "-" + (numbered ? b.substr(1) : b);
    }
    StripAnswer* add(const std::string& id, double low, double high, double v, bool column_band, double panel_low,
                     double panel_high) {
        if (high - low < 1e-6) return nullptr;
        Polygon part = clip_to_half_plane(rim_, {0, low}, {0, 1});
        part = clip_to_half_plane(part, {0, high}, {0, -1});
        part = clip_to_half_plane(part, {from_, 0}, {1, 0});
        part = clip_to_half_plane(part, {to_, 0}, {-1, 0});
        if (part.size() < 3 || std::abs(signed_area(part)) < 1e-6) return nullptr;
        const Box b = box_of(part);
        StripAnswer s;
        s.strip.direction = direction_, s.column_band = column_band;
        s.strip.axis = {axes_.plan(b.low.x, v), axes_.plan(b.high.x, v)};
        auto reach = [&](double low_side, double high_side) {
            return axes_.left_is_high() ? std::array{high_side - v, v - low_side}
                                        : std::array{v - low_side, high_side - v};
        };
        s.strip.reach = reach(low, high);
        if (panel_high > panel_low) s.panel = reach(panel_low, panel_high);
        if (StripAnswer* before = that_goes_on_as(s, id)) {
            before->strip.axis[1] = s.strip.axis[1];
            return before;
        }
        s.strip.id = id;
        for (int n = 2; taken_.count(s.strip.id); ++n) s.strip.id = fmt::format("{}/{}", id, n);
        taken_.insert(s.strip.id);
        laid_.push_back({out_.size(), id});
        out_.push_back(std::move(s));
        return &out_.back();
    }

    const Model& m_;
    const BandRule& band_;
    Direction direction_;
    Axes axes_;
    std::vector<StripAnswer>& out_;
    Polygon rim_;  // along, across
    std::vector<Place> places_;
    std::vector<Line> lines_;
    double usual_ = 4, usual_along_ = 4;  // m, between lines, and between columns along them
    double from_ = 0, to_ = 0;            // of the stretch in hand
    std::set<std::string> taken_;
    std::vector<std::pair<size_t, std::string>> laid_;  // places in out_, and names before a number was added
};

}  // namespace

std::vector<StripAnswer> lay_out_strips(const Model& m, const BandRule& band) {
    std::vector<StripAnswer> out;
    if (m.steel.strips) {
        for (const Strip& s : *m.steel.strips) {
            StripAnswer a;
            a.strip = s;
            a.panel = s.reach;
            const Point along = s.axis[1] - s.axis[0];  // its bars are those that run along it
            const double along_x = dot(along, along_bars(m.steel, Direction::x));
            const double along_y = dot(along, along_bars(m.steel, Direction::y));
            a.strip.direction = std::abs(along_x) >= std::abs(along_y) ? Direction::x : Direction::y;
            a.turned_round = a.strip.direction != s.direction;
            // Trimmed to where the strip's own ground meets the slab.
            const Point u = unit(s.axis[1] - s.axis[0]), n = left_of(u), from = s.axis[0];
            Polygon p = clip_to_half_plane(outer_rim(m.slab.outline, 0.25), from - s.reach[1] * n, n);
            p = clip_to_half_plane(p, from + s.reach[0] * n, -1.0 * n);
            double low = 1e300, high = -1e300;
            for (Point q : p) low = std::min(low, dot(q - from, u)), high = std::max(high, dot(q - from, u));
            const double length = distance(s.axis[0], s.axis[1]);
            low = std::max(0.0, low), high = std::min(length, high);
            if (high - low < 1e-6) continue;
            a.strip.axis = {from + low * u, from + high * u};
            out.push_back(std::move(a));
        }
        return out;
    }
    for (Direction d : {Direction::x, Direction::y}) Layout(m, band, d, out).lay_out();
    return out;
}

double width_of_points(const Model& m) { return std::max(0.5, m.steel.averaged_over.value_or(m.mesh_size)); }

std::vector<StripAnswer> lay_out_points(const Model& m, double width) {
    std::vector<StripAnswer> out;
    const BandRule none;
    for (Direction d : {Direction::x, Direction::y}) Layout(m, none, d, out).lay_out_even(width);
    return out;
}

double uncovered_area(const Model& m, const std::vector<StripAnswer>& strips, Direction direction) {
    const Polygon rim = outer_rim(m.slab.outline, 0.25);
    std::vector<Polygon> holes;
    if (auto hole = inner_rim(m.slab.outline, 0.25)) holes.push_back(*hole);
    for (const Opening& o : m.slab.openings) holes.push_back(o.outline);
    const Box b = box_of(rim);
    // Counted on a fine grid of points: a strip is missing or it is not, an exact area is not called for.
    const int n = 120;
    std::vector<const Strip*> along;
    for (const StripAnswer& s : strips)
        if (s.strip.direction == direction) along.push_back(&s.strip);
    int bare = 0;
    for (int i = 0; i < n; ++i)
        for (int j = 0; j < n; ++j) {
            const Point q{b.low.x + b.width() * (i + 0.5) / n, b.low.y + b.height() * (j + 0.5) / n};
            if (std::any_of(along.begin(), along.end(), [&](const Strip* s) { return lies_on(*s, q); })) continue;
            const bool is_slab = contains(rim, q) && std::none_of(holes.begin(), holes.end(),
                                                                  [&](const Polygon& h) { return contains(h, q); });
            bare += is_slab;
        }
    return bare * b.width() * b.height() / (double(n) * n);
}

}  // namespace mossbed
