#include "core/loads/member_bodies.h"

#include <algorithm>
#include <optional>

namespace mossbed {
namespace {

constexpr double same_place = 1e-6;  // m

// The next point of the one other rib of this width that ends here too.
std::optional<Point> continued_by(const Model& m, const Rib& rib, Point end) {
    std::optional<Point> next;
    for (const Rib& o : m.ribs) {
        if (&o == &rib || o.path.size() < 2) continue;
        for (bool last : {false, true}) {
            if (distance(last ? o.path.back() : o.path.front(), end) > same_place) continue;
            if (next || std::abs(o.width - rib.width) > same_place) return {};
            next = last ? o.path[o.path.size() - 2] : o.path[1];
        }
    }
    return next;
}

std::vector<Polygon> bodies_of(const Model& m, const Rib& r) {
    std::vector<Point> path = r.path;
    if (path.size() < 2 || distance(path.front(), path.back()) < same_place) return bodies_along(path, r.width);
    const auto before = continued_by(m, r, path.front()), after = continued_by(m, r, path.back());
    if (before) path.insert(path.begin(), *before);
    if (after) path.push_back(*after);
    std::vector<Polygon> out = bodies_along(path, r.width);
    if (before && !out.empty()) out.erase(out.begin());
    if (after && !out.empty()) out.pop_back();
    return out;
}

bool has_area(const Polygon& p) { return p.size() > 2 && signed_area(p) > 1e-9; }

// Takes an earlier part out of a later one: beside it, side by side, all of its levels stay; within it what is above or
// below.
void take_out(std::vector<BodyPart>& parts, const BodyPart& earlier) {
    std::vector<BodyPart> left;
    for (BodyPart& p : parts) {
        if (!has_area(clip_to_convex(p.plan, earlier.plan))) {
            left.push_back(std::move(p));
            continue;
        }
        Polygon rest = p.plan;
        for (size_t k = 0; k < earlier.plan.size(); ++k) {
            const Point a = earlier.plan[k], inward = left_of(earlier.plan[(k + 1) % earlier.plan.size()] - a);
            if (Polygon beside = clip_to_half_plane(rest, a, -1.0 * inward); has_area(beside))
                left.push_back({std::move(beside), p.levels, p.rib});
            rest = clip_to_half_plane(rest, a, inward);
        }
        std::vector<Levels> levels = p.levels;
        for (const Levels& taken : earlier.levels) levels = outside(levels, taken);
        if (has_area(rest) && !levels.empty()) left.push_back({std::move(rest), std::move(levels), p.rib});
    }
    parts = std::move(left);
}

}  // namespace

std::vector<BodyPart> rib_bodies(const Model& model) {
    std::vector<BodyPart> all;
    for (int i = 0; i < int(model.ribs.size()); ++i) {
        const Rib& r = model.ribs[size_t(i)];
        for (const Polygon& body : bodies_of(model, r)) {
            std::vector<BodyPart> parts{{anticlockwise(body), {levels_of(model, r)}, i}};
            for (const BodyPart& earlier : all) take_out(parts, earlier);
            for (BodyPart& p : parts) all.push_back(std::move(p));
        }
    }
    return all;
}

std::vector<Span> opening_spans(const Model& model, const std::vector<Point>& path) {
    std::vector<Polygon> holes;
    for (const Opening& o : model.slab.openings) holes.push_back(o.outline);
    if (auto hole = inner_rim(model.slab.outline, 0.1)) holes.push_back(*hole);
    std::vector<Span> out;
    double before = 0;
    for (size_t k = 0; k + 1 < path.size(); ++k) {
        const Point a = path[k], b = path[k + 1];
        const double l = distance(a, b);
        std::vector<double> stops{0, 1};
        for (const Polygon& h : holes)
            for (size_t i = 0; i < h.size(); ++i)
                if (auto at = segment_crossing(a, b, h[i], h[(i + 1) % h.size()]))
                    stops.push_back(dot(*at - a, b - a) / (l * l));
        std::sort(stops.begin(), stops.end());
        for (size_t i = 0; i + 1 < stops.size(); ++i) {
            if ((stops[i + 1] - stops[i]) * l < same_place) continue;
            const Point middle = a + 0.5 * (stops[i] + stops[i + 1]) * (b - a);
            if (std::none_of(holes.begin(), holes.end(), [&](const Polygon& h) { return contains(h, middle); }))
                continue;
            const double s0 = before + stops[i] * l, s1 = before + stops[i + 1] * l;
            if (!out.empty() && std::abs(out.back().s1 - s0) < same_place &&
                std::abs(cross(out.back().to - out.back().from, b - a)) < 1e-9 * l)
                out.back().to = a + stops[i + 1] * (b - a), out.back().s1 = s1;
            else
                out.push_back({a + stops[i] * (b - a), a + stops[i + 1] * (b - a), s0, s1});
        }
        before += l;
    }
    return out;
}

}  // namespace mossbed
