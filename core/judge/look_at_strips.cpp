#include <fmt/format.h>

#include <cmath>
#include <numbers>

#include "core/judge/strip_judge.h"
#include "core/model/strip_area.h"

namespace mossbed {

std::string words_of(const ChosenBars& b) {
    return b.spacing > 0 ? fmt::format("ϕ{:.0f} at {:.0f} mm", b.diameter, b.spacing) : "none";
}

double width_of_concentration(const Model& m, const StripAnswer& s, const Column& c, const BaseBars& bars,
                              const DesignCode& code) {
    const Point n = left_of(unit(s.strip.axis[1] - s.strip.axis[0]));
    double low = 1e300, high = -1e300;
    for (Point p : footprint(c)) low = std::min(low, dot(p, n)), high = std::max(high, dot(p, n));
    const double d = effective_depth(m, bars, Face::bottom, s.strip.direction, thickness_at(m, c.at)) / 1000;
    return code.width_of_concentration(high - low, std::max(0.0, d));
}

const Column* column_that_it_spreads(const Model& m, const StripAnswer& s, const BaseBars& bars,
                                     const DesignCode& code) {
    if (!m.steel.strips && m.steel.designed_by == DesignedBy::strips) return nullptr;
    const auto& [axis, reach] = std::pair(s.strip.axis, s.strip.reach);
    const Point u = unit(axis[1] - axis[0]), n = left_of(u);
    const double L = distance(axis[0], axis[1]);
    for (const Column& c : m.columns) {
        const double t = dot(c.at - axis[0], u), off = dot(c.at - axis[0], n);
        if (t >= 0 && t <= L && off <= reach[0] && off >= -reach[1] &&
            reach[0] + reach[1] > width_of_concentration(m, s, c, bars, code) + 0.005)
            return &c;
    }
    return nullptr;
}

namespace {

// Degrees from the bars to the slab's sides, −45 to 45, where most of its rim runs along one way or across it; else
// nothing.
std::optional<double> bars_askew(const Model& m) {
    const auto* rim = std::get_if<Polygon>(&m.slab.outline);
    if (!rim || rim->size() < 3) return {};
    auto from_bars = [&](size_t i) {
        const Point side = (*rim)[(i + 1) % rim->size()] - (*rim)[i];
        return std::remainder(std::atan2(side.y, side.x) * 180 / std::numbers::pi - m.steel.angle, 90);
    };
    auto length_of = [&](size_t i) { return distance((*rim)[i], (*rim)[(i + 1) % rim->size()]); };
    double whole = 0, most = 0, askew = 0;
    for (size_t i = 0; i < rim->size(); ++i) {
        whole += length_of(i);
        double along = 0;
        for (size_t k = 0; k < rim->size(); ++k)
            if (std::abs(std::remainder(from_bars(k) - from_bars(i), 90)) < 1) along += length_of(k);
        if (along > most) most = along, askew = from_bars(i);
    }
    return most > 0.7 * whole ? std::optional(askew) : std::nullopt;
}

}  // namespace

std::vector<Row> look_at_strips(const Model& m, const StripDemand& designed, const StripDemand& demand,
                                const BaseBars& bars, const DesignCode* code) {
    std::vector<Row> rows;
    const bool by_strips = m.steel.designed_by == DesignedBy::strips;
    auto say = [&](std::string item, std::string title, std::string note, std::optional<Point> at = {}) {
        Row row = row_of("model", std::move(title), std::move(item));
        row.note = std::move(note), row.at = at;
        rows.push_back(std::move(row));
    };
    if (!m.steel.twisting)
        say("twisting", "Twisting left out",
            "steel.twisting is off: strips are designed for mx alone, twisting moments reach no steel.");
    if (const auto askew = bars_askew(m); askew && std::abs(*askew) > 3)
        say("bars askew", "Bars lie askew to the slab's sides",
            fmt::format(
                "They lie {:.0f}° from its sides; at {:.1f}° (steel.angle) they would lie along them, and strips "
                "would not run out of the slab askew.",
                std::abs(*askew), std::remainder(m.steel.angle + *askew, 180)));
    for (const StripAnswer& s : demand.strips) {
        const std::string& id = s.strip.id;
        if (s.turned_round)
            say("strip " + id, fmt::format("Strip {} lies across its direction", id),
                fmt::format("It is drawn with the direction of {} bars but runs along {}: the bars that run along it "
                            "count.",
                            name_of(across(s.strip.direction)), name_of(s.strip.direction)),
                s.strip.axis[0]);
        if (const Column* c = code && by_strips ? column_that_it_spreads(m, s, bars, *code) : nullptr)
            say("strip " + id + " width", fmt::format("Strip {} spreads a column's moment", id),
                fmt::format(
                    "It is {:.2f} m wide, more than {} = {:.2f} m at column {}: its moment is the mean over the "
                    "whole width, and what concentrates at the column is not looked at.",
                    s.strip.reach[0] + s.strip.reach[1], code->width_of_concentration_rule(),
                    width_of_concentration(m, s, *c, bars, *code), c->id),
                c->at);
    }
    for (size_t i = 0; i < designed.strips.size() && code && !by_strips; ++i)
        if (const Column* c = column_that_it_spreads(m, designed.strips[i], bars, *code)) {
            const double most = width_of_concentration(m, designed.strips[i], *c, bars, *code);
            say("points", "Moments by points are averaged too widely",
                fmt::format("Over {:.2f} m, more than {} = {:.2f} m at column {}: what concentrates at the column is "
                            "not looked at.",
                            width_of_points(m), code->width_of_concentration_rule(), most, c->id),
                c->at);
            break;
        }
    if (m.steel.strips)
        for (const Strip& s : *m.steel.strips)
            if (std::none_of(demand.strips.begin(), demand.strips.end(),
                             [&](const StripAnswer& a) { return a.strip.id == s.id; }))
                say("strip " + s.id, fmt::format("Strip {} lies off the slab", s.id),
                    "Nothing of it lies on the slab, so nothing is designed by it: move it, or delete it.", s.axis[0]);
    for (size_t i = 0; m.steel.strips && i < demand.strips.size(); ++i)
        for (size_t k = i + 1; k < demand.strips.size(); ++k) {
            const StripAnswer &a = demand.strips[i], &b = demand.strips[k];
            if (a.strip.direction != b.strip.direction) continue;
            const Polygon both = clip_to_convex(area_of(a.strip), area_of(b.strip));
            const double shared = both.size() < 3 ? 0 : std::abs(signed_area(both));
            if (shared >
                0.01 * std::min(std::abs(signed_area(area_of(a.strip))), std::abs(signed_area(area_of(b.strip)))))
                say("strips " + a.strip.id + " " + b.strip.id,
                    fmt::format("Strips {} and {} overlap", a.strip.id, b.strip.id),
                    fmt::format(
                        "{:.1f} m² lie in both: each is designed by itself, with what it carries there, and the "
                        "steel of both is counted twice.",
                        shared),
                    centroid(both));
        }
    for (Direction d : {Direction::x, Direction::y})
        if (const double bare = uncovered_area(m, demand.strips, d); bare > 0.01 * net_area(m))
            say(fmt::format("strips {}", name_of(d)), fmt::format("Strip missing along {}", name_of(d)),
                fmt::format("{:.0f} m² of the base lie in no strip along {}: {} is not checked there.", bare,
                            name_of(d), by_strips ? "bending" : "one-way shear"));
    return rows;
}

}  // namespace mossbed
