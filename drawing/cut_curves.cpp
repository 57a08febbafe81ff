// Pressure, settlement and moment along the Cut, and forces along ribs and walls that it runs along.
#include <fmt/format.h>

#include <algorithm>
#include <functional>
#include <utility>

#include "core/fields/envelope.h"
#include "drawing/cut_parts.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

// Where a curve has its largest and other marked maxima, at least 100 paper units apart.
std::vector<size_t> peaks(const AlongLine& a, const std::vector<double>& v, double scale) {
    std::vector<size_t> order, out;
    for (size_t i = 1; i + 1 < v.size(); ++i)
        if (a.on[i] && (!a.on[i - 1] || v[i] >= v[i - 1]) && (!a.on[i + 1] || v[i] > v[i + 1])) order.push_back(i);
    std::sort(order.begin(), order.end(), [&](size_t i, size_t j) { return v[i] > v[j]; });
    for (size_t i : order) {
        if (out.size() >= 5) break;
        if (std::all_of(out.begin(), out.end(), [&](size_t j) { return std::abs(a.t[i] - a.t[j]) * scale > 100; }))
            out.push_back(i);
    }
    return out;
}

double room_below(const CutDraft& d) { return d.frame.paper.high.y - d.frame.y(d.frame.base_level) - 14; }
double room_for_pressure(const CutDraft& d) { return 0.8 * room_below(d); }

}  // namespace

// It hangs from the underside, that of ribs too.
void draw_pressure_of_cut(CutDraft& d, const std::vector<MemberInCut>& members) {
    if (!d.has_curves()) return;
    const AlongLine& a = *d.scene.along;
    const double most = std::max(1e-9, *std::max_element(a.pressure.begin(), a.pressure.end()));
    const double f = d.frame.metres((room_for_pressure(d) - 12) / most);  // drawn m per kPa
    auto base = [&](size_t i) {
        double low = d.underside(a.t[i]);
        for (const MemberInCut& m : members)
            if (!m.is_wall && a.t[i] >= m.from && a.t[i] <= m.to) low = std::min(low, m.levels.low);
        return d.frame.at(a.t[i], low);
    };
    auto foot = [&](size_t i) { return base(i) - Point{0, f * a.pressure[i]}; };
    const double spacing = a.t.size() > 1 ? d.frame.view.scale * (a.t[1] - a.t[0]) : 1;
    const int every = std::max(1, int(std::lround(15 / spacing)));
    for (auto [i0, i1] : a.stretches()) {
        Polygon curve, shape;
        for (int i = i0; i <= i1; ++i) curve.push_back(foot(size_t(i)));
        shape = curve;
        for (int i = i1; i >= i0; --i) shape.push_back(base(size_t(i)));
        d.drawing.add(Layer::pressure, closed(std::move(shape), {}, {Tone(Role::pressure_fill, 215), {}, {}}));
        for (int i = i0; i <= i1; i += every)
            d.line(Layer::pressure, base(size_t(i)), foot(size_t(i)), {Role::pressure_line, 0.8});
        d.drawing.add(Layer::pressure, open(std::move(curve), {Role::pressure_ink, 1.5}));
        if (d.scene.least) {
            Polygon least;
            for (int i = i0; i <= i1; ++i)
                least.push_back(base(size_t(i)) - Point{0, f * d.scene.least->pressure[size_t(i)]});
            d.drawing.add(Layer::pressure, open(std::move(least), {Role::pressure_ink, 1.2, Dash::dashed}));
        }
    }
    const char* unit = " kPa";  // stands with the largest
    for (size_t i : peaks(a, a.pressure, d.frame.view.scale)) {
        if (a.pressure[i] < 0.02 * most) continue;  // where it has lifted
        d.write(Layer::pressure, foot(i) - Point{0, d.frame.metres(8)},
                typeset(written(a.pressure[i], 0)) + std::exchange(unit, ""), Role::pressure_ink);
    }
}

namespace {

// Where the cut passes through a convex outline, m along it.
std::optional<std::pair<double, double>> passage(const CutDraft& d, const Polygon& ring) {
    const Point a = d.scene.line[0], u = unit(d.scene.line[1] - a);
    double from = 1e300, to = -1e300;
    for (size_t i = 0; i < ring.size(); ++i)
        if (const auto at = segment_crossing(a, d.scene.line[1], ring[i], ring[(i + 1) % ring.size()]))
            from = std::min(from, dot(*at - a, u)), to = std::max(to, dot(*at - a, u));
    return to > from + 1e-9 ? std::optional(std::pair{from, to}) : std::nullopt;
}

}  // namespace

// The cone that would be punched out, from the loaded area through the slab, and what pushes back below it.
void draw_cone_of_cut(CutDraft& d) {
    const PunchingAnswer* p = d.scene.punched;
    if (!p || !d.has_curves()) return;
    const auto wide = passage(d, p->outline), narrow = passage(d, p->loaded);
    if (!wide || !narrow) return;
    const bool up = p->V < 0;  // a pull takes the cone upward
    auto face = [&](double t, bool top) {
        return d.frame.at(t, top ? d.upper_side(narrow->first) : d.underside(narrow->first));
    };
    const AlongLine& a = *d.scene.along;
    if (d.scene.pressure && !up) {
        const double most = std::max(1e-9, *std::max_element(a.pressure.begin(), a.pressure.end()));
        const double f = d.frame.metres((room_for_pressure(d) - 12) / most);
        Polygon inside{face(wide->first, false)};
        for (size_t i = 0; i < a.t.size(); ++i)
            if (a.on[i] && a.t[i] >= wide->first && a.t[i] <= wide->second)
                inside.push_back(d.frame.at(a.t[i], d.underside(a.t[i])) - Point{0, f * a.pressure[i]});
        inside.push_back(face(wide->second, false));
        if (inside.size() > 3)
            d.drawing.add(Layer::pressure, closed(std::move(inside), {}, {Tone(Role::pressure_ink, 120), {}, {}}));
    }
    const Polygon cone{face(narrow->first, !up), face(narrow->second, !up), face(wide->second, up),
                       face(wide->first, up)};
    d.drawing.add(Layer::punching, closed(cone, {}, {Tone(Role::rust, 45), {}, {}}));
    d.line(Layer::punching, cone[0], cone[3], {Role::rust, 1.8});
    d.line(Layer::punching, cone[1], cone[2], {Role::rust, 1.8});
    const Point from = d.scene.line[0], u = unit(d.scene.line[1] - from);
    const double top = d.upper_side(narrow->first), base = d.underside(narrow->first), cover = 0.08 * (top - base);
    for (Point leg : p->link_legs)  // those near the cut
        if (std::abs(cross(u, leg - from)) < p->d / 2)
            d.line(Layer::bars, d.frame.at(dot(leg - from, u), base + cover),
                   d.frame.at(dot(leg - from, u), top - cover), {Role::ink, 1.2});
    Text t;
    t.text = (up ? "adds inside: " : "pushes back inside: ") + typeset(written(std::abs(p->relief), 0)) + " kN";
    t.at = d.frame.at(wide->second, d.underside(wide->second)), t.align = Align::left, t.bold = true, t.halo = true;
    t.tone = Role::pressure_ink;
    t.offset = {6, -10};
    d.labels.keep_clear(d.labels.box_of(t));
    d.drawing.add(Layer::punching, std::move(t));
}

// In a band of its own below the ground, so that nobody reads it as a depth; exaggerated to a round factor that the
// band and the head of the Cut state.
void draw_settlement_of_cut(CutDraft& d) {
    if (!d.has_curves() || d.frame.band.empty()) return;
    const Box& band = d.frame.band;
    const auto on_band = [&](double x, double y) { return d.on_paper(x, y); };
    d.drawing.add(Layer::settlement, closed({on_band(band.low.x, band.high.y), on_band(band.high.x, band.high.y),
                                             on_band(band.high.x, band.low.y), on_band(band.low.x, band.low.y)},
                                            {}, {Role::sheet, {}, {}}));
    d.line(Layer::settlement, on_band(band.low.x, band.low.y), on_band(band.high.x, band.low.y), {Role::line, 1});
    const AlongLine& a = *d.scene.along;
    double low = 1e300, high = -1e300;
    for (size_t i = 0; i < a.t.size(); ++i)
        if (a.on[i]) {
            low = std::min(low, (d.scene.least ? *d.scene.least : a).settlement[i]);
            high = std::max(high, a.settlement[i]);
        }
    const double from = band.low.y + 10, space = band.high.y - 22 - from, zero = std::min(0.0, low),
                 span = std::max(high - zero, 1e-6);
    double factor = 1000 * std::max(space, 10.0) / (span * d.frame.view.scale);  // paper per real, both in m
    const double power = std::pow(10, std::floor(std::log10(factor)));
    factor = (factor / power >= 5 ? 5 : factor / power >= 2 ? 2 : 1) * power;
    d.settlement_factor = factor;
    auto at = [&](double t, double w) { return Point{t, d.on_paper(0, from).y - (w - zero) * factor / 1000}; };
    d.line(Layer::settlement, at(0, 0), at(d.frame.length, 0), {Role::faint, 0.8, Dash::dotted});
    d.write(Layer::settlement, on_band(band.low.x + 8, band.high.y - 10), "settles ×" + typeset(written(factor, 0)),
            Role::moss, Align::left);
    d.write(Layer::settlement, at(d.frame.length + d.frame.metres(6), 0), "0 mm", Role::faint, Align::left);
    for (auto [i0, i1] : a.stretches()) {
        Polygon curve;
        for (int i = i0; i <= i1; ++i) curve.push_back(at(a.t[size_t(i)], a.settlement[size_t(i)]));
        auto label = [&](int i, double right, double up) {
            const double w = a.settlement[size_t(i)];
            d.write(Layer::settlement, at(a.t[size_t(i)], w) + Point{d.frame.metres(right), d.frame.metres(up)},
                    (w < 0 ? "rises " : "") + typeset(written_with_unit(std::abs(w), "mm")), Role::moss);
        };
        const auto worst =
            std::max_element(a.settlement.begin() + i0, a.settlement.begin() + i1 + 1) - a.settlement.begin();
        d.drawing.add(Layer::settlement, open(std::move(curve), {Role::moss, 2.6}));
        if (d.scene.least) {
            Polygon least;
            for (int i = i0; i <= i1; ++i) least.push_back(at(a.t[size_t(i)], d.scene.least->settlement[size_t(i)]));
            d.drawing.add(Layer::settlement, open(std::move(least), {Role::moss, 1.4, Dash::dashed}));
        }
        label(i0, 22, 10), label(i1, -22, 10);
        const double clear = d.frame.metres(60), t = a.t[size_t(worst)];
        if (t - a.t[size_t(i0)] > clear && a.t[size_t(i1)] - t > clear) label(int(worst), 0, -10);
    }
}

namespace {

// M, V or N of a rib or wall along the stretch of the cut that runs along it.
struct Curve {
    std::vector<Point> at;  // (m along the cut, value)
    const MemberInCut* of = nullptr;
    bool is_smallest = false;  // of an envelope
};

std::vector<Curve> curves_along(const CutDraft& d, const std::vector<MemberInCut>& members) {
    std::vector<Curve> out;
    if (!d.scene.members || d.scene.combinations.empty()) return out;
    for (const MemberInCut& m : members) {
        if (!m.is_along) continue;
        for (const MemberLine& l : *d.scene.members) {
            const bool is_wall = l.kind == Member::Kind::wall;
            const std::string& id = is_wall ? d.model.walls[size_t(l.index)].id : d.model.ribs[size_t(l.index)].id;
            if (is_wall != m.is_wall || id != m.thing.id) continue;
            const bool whole = !is_wall && l.M.size() > 0;
            const Eigen::MatrixXd& values = d.scene.member_curve == MemberCurve::force   ? l.N_alone
                                            : d.scene.member_curve == MemberCurve::shear ? (whole ? l.V : l.V_alone)
                                                                                         : (whole ? l.M : l.M_alone);
            const double sense = d.scene.member_curve == MemberCurve::shear ? m.sense : 1;
            Curve largest{{}, &m}, smallest{{}, &m, true};
            for (size_t i = 0; i < l.stations.size(); ++i) {
                const double t = (l.stations[i].s - m.s0) * m.sense;
                if (t < m.from - 1e-6 || t > m.to + 1e-6 || t < 0 || t > d.frame.length) continue;
                const auto range = range_over(values, long(i), d.scene.combinations);
                if (!range) continue;
                largest.at.push_back({t, std::max(sense * (*range)[0], sense * (*range)[1])});
                smallest.at.push_back({t, std::min(sense * (*range)[0], sense * (*range)[1])});
            }
            if (largest.at.size() < 2) continue;
            for (Curve* c : {&largest, &smallest}) {
                if (c->is_smallest && d.scene.combinations.size() < 2) continue;
                std::sort(c->at.begin(), c->at.end(), [](Point p, Point q) { return p.x < q.x; });
                out.push_back(std::move(*c));
            }
        }
    }
    return out;
}

const char* words_of(MemberCurve c) { return c == MemberCurve::force ? "N" : c == MemberCurve::shear ? "V" : "M"; }

// Values at the ends of the scale: the largest and the smallest, with what they are.
void write_extremes(CutDraft& d, const Curve& c, const std::function<Point(Point)>& place) {
    const auto by_value = [](Point p, Point q) { return p.y < q.y; };
    const char* unit = d.scene.member_curve == MemberCurve::moment ? " kN·m" : " kN";
    const Point most = *std::max_element(c.at.begin(), c.at.end(), by_value),
                least = *std::min_element(c.at.begin(), c.at.end(), by_value);
    for (Point p : {most, least}) {
        if (std::abs(p.y) < 0.02 * std::max(std::abs(most.y), std::abs(least.y))) continue;
        d.write(Layer::moment, place(p) + Point{0, d.frame.metres(p.y > 0 ? -9 : 9)},
                c.of->thing.id + " " + words_of(d.scene.member_curve) + " " + typeset(written(p.y, 0)) + unit,
                Role::moment_ink);
    }
}

void draw_curves_along(CutDraft& d, const std::vector<Curve>& curves) {
    double size = 1e-9;
    for (const Curve& c : curves)
        for (Point p : c.at) size = std::max(size, std::abs(p.y));
    const double f = d.frame.metres(std::min(0.42 * room_below(d), 70.0) / size);
    for (const Curve& c : curves) {
        const double zero = d.frame.up(d.model.slab.top_level - d.model.slab.thickness / 2);
        auto place = [&](Point p) { return Point{p.x, zero - f * p.y}; };
        Polygon line, shape;
        for (Point p : c.at) line.push_back(place(p));
        if (c.is_smallest) {
            d.drawing.add(Layer::moment, open(std::move(line), {Role::moment_ink, 1.2, Dash::dashed}));
            write_extremes(d, c, place);
            continue;
        }
        shape = line;
        shape.push_back({c.at.back().x, zero}), shape.push_back({c.at.front().x, zero});
        d.drawing.add(Layer::moment, closed(std::move(shape), {}, {Tone(Role::moment_ink, 46), {}, {}}));
        d.line(Layer::moment, {c.at.front().x, zero}, {c.at.back().x, zero}, {Role::moment_ink, 0.8});
        d.drawing.add(Layer::moment, open(std::move(line), {Role::moment_ink, 1.8}));
        write_extremes(d, c, place);
    }
}

}  // namespace

// On the side in tension. Where the cut runs along ribs or walls, theirs; else what the slab carries per metre.
void draw_moment_of_cut(CutDraft& d, const std::vector<MemberInCut>& members) {
    if (const std::vector<Curve> curves = curves_along(d, members); !curves.empty())
        return draw_curves_along(d, curves);
    if (d.scene.member_curve != MemberCurve::moment)
        return d.write(
            Layer::moment, d.on_paper(d.frame.paper.low.x + 8, d.frame.paper.low.y + 10),
            fmt::format("{} shows where the cut runs along a rib or a wall that stiffens; this one does not.",
                        words_of(d.scene.member_curve)),
            Role::faint, Align::left);
    if (!d.has_curves()) return;
    const AlongLine& a = *d.scene.along;
    double size = 1e-9;
    for (size_t i = 0; i < a.t.size(); ++i)
        if (a.on[i])
            size = std::max({size, std::abs(a.moment[i]), std::abs((d.scene.least ? *d.scene.least : a).moment[i])});
    const double middle = d.frame.up(d.model.slab.top_level - d.model.slab.thickness / 2);
    const double f = d.frame.metres(std::min(0.42 * room_below(d), 70.0) / size);
    auto at = [&](size_t i) { return Point{a.t[i], middle - f * a.moment[i]}; };
    for (auto [i0, i1] : a.stretches()) {
        Polygon curve;
        for (int i = i0; i <= i1; ++i) curve.push_back(at(size_t(i)));
        d.drawing.add(Layer::moment, open(std::move(curve), {Role::moment_ink, 1.8}));
        if (d.scene.least) {
            Polygon least;
            for (int i = i0; i <= i1; ++i)
                least.push_back({a.t[size_t(i)], middle - f * d.scene.least->moment[size_t(i)]});
            d.drawing.add(Layer::moment, open(std::move(least), {Role::moment_ink, 1.4, Dash::dashed}));
        }
    }
    const char* unit = " kN·m/m";
    for (size_t i : peaks(a, a.moment, d.frame.view.scale))
        if (a.moment[i] > 0.15 * size)
            d.write(Layer::moment, at(i) - Point{0, d.frame.metres(8)},
                    typeset(written(a.moment[i], 0)) + std::exchange(unit, ""), Role::moment_ink);
}

}  // namespace mossbed
