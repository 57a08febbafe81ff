#include "core/judge/punching_links.h"

#include <fmt/format.h>

#include "core/base/polygons.h"
#include "core/codes/materials.h"

namespace mossbed {
namespace {

// So many places evenly along lines, half a step from their ends.
std::vector<Point> evenly(std::vector<std::vector<Point>> lines, int n, double length) {
    if (lines.size() > 1 && distance(lines.front().front(), lines.back().back()) < 1e-9) {  // one that begins elsewhere
        lines.back().insert(lines.back().end(), lines.front().begin(), lines.front().end());
        lines.erase(lines.begin());
    }
    std::vector<Point> out;
    const double step = length / n;
    double next = step / 2, before = 0;
    for (const auto& line : lines)
        for (size_t i = 0; i + 1 < line.size(); ++i) {
            const double l = distance(line[i], line[i + 1]);
            for (; next <= before + l && int(out.size()) < n; next += step)
                out.push_back(line[i] + (l > 0 ? (next - before) / l : 0) * (line[i + 1] - line[i]));
            before += l;
        }
    return out;
}

}  // namespace

std::vector<std::optional<LinksOfColumn>> lay_links(const PunchedSlab& slab, const std::vector<PunchedItem>& items) {
    std::vector<std::optional<LinksOfColumn>> out(slab.m.columns.size());
    for (size_t k = 0; k < out.size(); ++k) {
        const Column& c = slab.m.columns[k];
        const std::vector<double> off = slab.link_perimeters(c);
        if (off.empty() || items[k].places.empty()) continue;
        const PunchedPlace& place = items[k].places.back();  // round the column itself
        const PerimeterRule rule = slab.code.perimeter_rule(slab.depth(place.thickness, Face::bottom));
        const Perimeters round(place.area, rule, place.slab, place.courses[0]);
        LinksOfColumn links;
        links.laid.diameter = *c.links.diameter, links.laid.spacing = *c.links.spacing / 1000;
        for (double a : off) {
            const auto lines = round.lines(a);
            double length = 0;
            for (const auto& line : lines)
                for (size_t i = 0; i + 1 < line.size(); ++i) length += distance(line[i], line[i + 1]);
            constexpr int close = 400;
            links.legs.push_back(evenly(lines, int(*c.links.legs), length));
            links.along.push_back(evenly(lines, close, length));
            links.laid.rings.push_back({a, double(links.legs.back().size()), length});
        }
        out[k] = std::move(links);
    }
    return out;
}

LinkLegs legs_beyond(const LinksOfColumn& links, const Polygon& swept) {
    LinkLegs out = links.laid;
    out.rings.clear();
    for (size_t k = 0; k < links.legs.size(); ++k) {
        LinkLegs::Ring ring{0, 0, links.laid.rings[k].length};
        size_t outside = 0;
        for (Point q : links.along[k])
            if (!contains(swept, q)) ++outside, ring.a = std::max(ring.a, distance_to_rim(swept, q));
        if (outside > 0) ring.legs = links.laid.rings[k].legs * double(outside) / double(links.along[k].size());
        if (ring.legs > 0) out.rings.push_back(ring);
    }
    std::sort(out.rings.begin(), out.rings.end(), [](const auto& a, const auto& b) { return a.a < b.a; });
    return out;
}

double strength_below(const Model& m, Point at) {
    std::string concrete = m.slab.concrete;
    for (const SlabPatch& t : m.slab.patches)
        if (contains(t.outline, at)) concrete = t.concrete;
    return concrete_of(m, concrete).fck;
}

LinkRules link_rules(const PunchedSlab& slab, const Column& c, const LinksOfColumn& links, Face bars, Working* by) {
    const double h = thickness_at(slab.m, c.at);
    return slab.code.link_rules(links.laid, h, slab.depth(h, bars), strength_below(slab.m, c.at), steel_of(slab.m).fyk,
                                by);
}

std::optional<Row> judge_links(const PunchedSlab& slab, const Column& c, const std::optional<LinksOfColumn>& links) {
    if (!c.links.stated()) return {};
    Row row = row_of("spacing", "Links " + c.id, c.id);
    row.at = c.at, row.clause = slab.code.links_clause();
    if (!c.links.whole()) {
        row.note =
            "Its links do not count yet: diameter, legs of a perimeter, number of perimeters and the distance "
            "between these belong together.";
        return row;
    }
    if (!links) {
        row.note = "Punching is not checked here, so its links are not.";
        return row;
    }
    Working by;
    const LinkRules rules = link_rules(slab, c, *links, Face::bottom, &by);
    row.judge(rules.use);
    if (!rules.broken.empty()) row.note = "The links do not count: " + rules.broken + ".";
    row.working = std::move(by.terms);
    return row;
}

}  // namespace mossbed
