#include <fmt/format.h>

#include <algorithm>

#include "core/steel/strips.h"

namespace mossbed {
namespace {

struct Line {  // of columns
    double at = 0;
    int n = 0;
};

// Coordinates gathered into lines: those within a quarter of the usual spacing of a line's mean join it.
std::vector<Line> gather_lines(std::vector<double> v) {
    std::vector<Line> lines;
    if (v.empty()) return lines;
    std::sort(v.begin(), v.end());
    std::vector<double> gaps;
    for (size_t i = 1; i < v.size(); ++i)
        if (v[i] - v[i - 1] > 0.5) gaps.push_back(v[i] - v[i - 1]);
    double usual = 4;
    if (!gaps.empty()) {
        std::nth_element(gaps.begin(), gaps.begin() + long(gaps.size()) / 2, gaps.end());
        usual = gaps[gaps.size() / 2];
    }
    for (double x : v) {
        if (!lines.empty() && x - lines.back().at <= usual / 4) {
            Line& l = lines.back();
            l.at = (l.at * l.n + x) / (l.n + 1);
            ++l.n;
        } else {
            lines.push_back({x, 1});
        }
    }
    return lines;
}

// The stretch of the slab, along x or y, whose other coordinate lies between low and high.
std::optional<std::pair<double, double>> extent(const Polygon& rim, bool along_x, double low, double high) {
    const Point inward = along_x ? Point{0, 1} : Point{1, 0};
    Polygon p = clip_to_half_plane(rim, along_x ? Point{0, low} : Point{low, 0}, inward);
    p = clip_to_half_plane(p, along_x ? Point{0, high} : Point{high, 0}, -1.0 * inward);
    if (p.size() < 3 || std::abs(signed_area(p)) < 1e-6) return {};
    const Box b = box_of(p);
    return along_x ? std::pair{b.low.x, b.high.x} : std::pair{b.low.y, b.high.y};
}

void lay_out(const Model& m, const Polygon& rim, Direction d, std::vector<StripAnswer>& out) {
    const bool x = d == Direction::x;
    const Box box = box_of(rim);
    const double low = x ? box.low.y : box.low.x, high = x ? box.high.y : box.high.x;
    auto add = [&](const std::string& id, double from, double to, double axis, bool column_band, double panel_from,
                   double panel_to) {
        const auto span = extent(rim, x, from, to);
        if (!span || to - from < 1e-6) return;
        StripAnswer s;
        s.strip.id = id, s.strip.direction = d, s.column_band = column_band;
        s.strip.axis = x ? std::array{Point{span->first, axis}, Point{span->second, axis}}
                         : std::array{Point{axis, span->first}, Point{axis, span->second}};
        // Along x the left side is +y; along y it is −x.
        auto reach = [&](double low_side, double high_side) {
            return x ? std::array{high_side - axis, axis - low_side} : std::array{axis - low_side, high_side - axis};
        };
        s.strip.reach = reach(from, to);
        if (panel_to > panel_from) s.panel = reach(panel_from, panel_to);
        out.push_back(std::move(s));
    };
    std::vector<double> coordinates;
    for (const Column& c : m.columns) coordinates.push_back(x ? c.at.y : c.at.x);
    const std::vector<Line> lines = gather_lines(coordinates);
    const std::string stem = x ? "X" : "Y";
    if (lines.size() < 2) {  // one strip over all for a single line of columns; equal strips of some 3 m without any
        const int n = lines.empty() ? std::max(1, int(std::lround((high - low) / 3))) : 1;
        for (int i = 0; i < n; ++i) {
            const double from = low + (high - low) * i / n, to = low + (high - low) * (i + 1) / n;
            add(fmt::format("{}{}", stem, i + 1), from, to,
                lines.empty() ? (from + to) / 2 : std::clamp(lines[0].at, from, to), !lines.empty(), from, to);
            if (!lines.empty() && !out.empty()) out.back().single_line = true;
        }
        return;
    }
    for (size_t i = 0; i < lines.size(); ++i) {
        const bool first = i == 0, last = i + 1 == lines.size();
        const double before = first ? 0 : lines[i].at - lines[i - 1].at,
                     after = last ? 0 : lines[i + 1].at - lines[i].at;
        add(fmt::format("{}{}", stem, i + 1), first ? low : lines[i].at - before / 4,
            last ? high : lines[i].at + after / 4, lines[i].at, true, first ? low : lines[i].at - before / 2,
            last ? high : lines[i].at + after / 2);
        if (!last)
            add(fmt::format("{}{}-{}", stem, i + 1, i + 2), lines[i].at + after / 4, lines[i + 1].at - after / 4,
                lines[i].at + after / 2, false, 0, 0);
    }
}

}  // namespace

std::vector<StripAnswer> lay_out_strips(const Model& m) {
    std::vector<StripAnswer> out;
    if (m.steel.strips) {
        for (const Strip& s : *m.steel.strips) {
            StripAnswer a;
            a.strip = s;
            a.panel = s.reach;
            const Point along = s.axis[1] - s.axis[0];  // its bars are those that run along it
            a.strip.direction = std::abs(along.x) >= std::abs(along.y) ? Direction::x : Direction::y;
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
    const Polygon rim = outer_rim(m.slab.outline, 0.25);
    lay_out(m, rim, Direction::x, out);
    lay_out(m, rim, Direction::y, out);
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
    int bare = 0;
    for (int i = 0; i < n; ++i)
        for (int j = 0; j < n; ++j) {
            const Point q{b.low.x + b.width() * (i + 0.5) / n, b.low.y + b.height() * (j + 0.5) / n};
            if (!contains(rim, q)) continue;
            if (std::any_of(holes.begin(), holes.end(), [&](const Polygon& h) { return contains(h, q); })) continue;
            const bool covered = std::any_of(strips.begin(), strips.end(), [&](const StripAnswer& s) {
                if (s.strip.direction != direction) return false;
                const Point u = unit(s.strip.axis[1] - s.strip.axis[0]), r = q - s.strip.axis[0];
                const double t = dot(r, u), across = cross(u, r), slack = 1e-6;
                return t >= -slack && t <= distance(s.strip.axis[0], s.strip.axis[1]) + slack &&
                       across <= s.strip.reach[0] + slack && across >= -s.strip.reach[1] - slack;
            });
            bare += !covered;
        }
    return bare * b.width() * b.height() / (double(n) * n);
}

}  // namespace mossbed
