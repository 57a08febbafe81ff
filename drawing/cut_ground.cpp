// The ground in the Cut: strata between boreholes, the excavation, water, levels, the depth limit, boreholes with their
// blow counts.
#include "drawing/cut_parts.h"
#include "drawing/ground_parts.h"
#include "words/quantities.h"

namespace mossbed {
namespace {

double ground_level(const CutDraft& d) {
    const Point middle = 0.5 * (d.scene.line[0] + d.scene.line[1]);
    const double level = d.scene.profile ? d.scene.profile->at(middle).ground_level
                                         : d.model.ground.ground_level.value_or(d.model.slab.top_level);
    // kept in the picture: it may lie far above the slab
    const double y = std::clamp(d.frame.y(level), d.frame.paper.low.y + 6, d.frame.y(d.frame.base_level));
    return d.frame.level_at(y);
}

struct Station {
    double t = 0;
    SoilColumn soil;
};

std::vector<Station> stations_of(const CutDraft& d) {
    constexpr int n = 60;
    std::vector<Station> out;
    for (int i = 0; i <= n; ++i) {
        const double x = d.frame.paper.low.x + d.frame.paper.width() * i / n;
        const double t = (x - d.frame.view.origin.x) / d.frame.view.scale;
        out.push_back({t, d.scene.profile->at(d.in_plan(t))});
    }
    return out;
}

// One layer right across the paper; where it has pinched out it is a line at the bottom of the one above.
void draw_layer(CutDraft& d, const std::vector<Station>& stations, int place) {
    Polygon upper, lower;
    int stratum = -1;
    double thickest = 0;
    Point name_at;
    const double high = d.on_paper(0, d.frame.paper.low.y).y, low = d.on_paper(0, d.frame.paper.high.y).y;
    for (size_t i = 0; i < stations.size(); ++i) {
        const auto& [t, soil] = stations[i];
        double top = soil.ground_level, bottom = top;
        for (const SoilLayer& l : soil.layers) {
            if (l.place > place) break;
            top = l.place == place ? l.top : l.bottom, bottom = l.bottom;
            if (l.place == place) stratum = l.stratum;
        }
        const double a = std::clamp(d.frame.up(top), low, high), b = std::clamp(d.frame.up(bottom), low, high);
        upper.push_back({t, a}), lower.push_back({t, b});
        const bool beside = t < -d.frame.metres(40);
        const double from = beside ? a : std::min(a, d.frame.up(d.frame.base_level) - d.frame.metres(2));
        const double seen = d.frame.view.scale * (from - b);
        if (i > stations.size() / 12 && i + 1 < stations.size() - stations.size() / 12 && seen > thickest + 2)
            thickest = seen, name_at = {t, (from + b) / 2};
    }
    if (stratum < 0) return;
    Polygon shape = upper;
    shape.insert(shape.end(), lower.rbegin(), lower.rend());
    d.drawing.add(Layer::strata, closed(std::move(shape), {}, soil_fill(stratum)));
    d.drawing.add(Layer::strata, open(lower, {Role::boundary, 0.9}));
    if (thickest <= 12) return;
    Text name;
    name.text = d.model.ground.strata[size_t(stratum)].id, name.halo = true;
    const double half = likely_width(name.text) / 2, x = d.frame.x(name_at.x);
    name.at = d.on_paper(std::clamp(x, d.frame.paper.low.x + 60 + half, d.frame.paper.high.x - 80 - half),
                         d.frame.view.at(name_at).y);
    d.over_all.push_back(std::move(name));
}

void draw_strata(CutDraft& d) {
    const std::vector<Station> stations = stations_of(d);
    int last = -1;
    for (const Station& s : stations)
        for (const SoilLayer& l : s.soil.layers) last = std::max(last, l.place);
    for (int place = 0; place <= last; ++place) draw_layer(d, stations, place);
}

void draw_plain_earth(CutDraft& d, double ground) {
    const Point a = d.on_paper(d.frame.paper.low.x, d.frame.paper.high.y), b = d.on_paper(d.frame.paper.high.x, 0);
    const double top = d.frame.up(ground);
    d.drawing.add(Layer::ground, closed({a, {b.x, a.y}, {b.x, top}, {a.x, top}}, {},
                                        {Role::earth, Pattern::earth, Role::earth_stroke}));
}

// Lines at a level beside the slab, and none through it.
void draw_level_beside(CutDraft& d, Layer layer, double level, Stroke stroke) {
    if (d.slab_from > d.slab_to) {
        if (!has_slab(d.model))
            d.line(layer, d.on_paper(d.frame.paper.low.x, d.frame.y(level)),
                   d.on_paper(d.frame.paper.high.x, d.frame.y(level)), stroke);
        return;
    }
    const double y = d.frame.y(level), edge = d.frame.metres(8);
    const Point left = d.on_paper(d.frame.paper.low.x, y), right = d.on_paper(d.frame.paper.high.x, y);
    d.line(layer, left, {d.slab_from - edge, left.y}, stroke);
    d.line(layer, {d.slab_to + edge, right.y}, right, stroke);
}

// Down to the slab's underside with its steps.
void draw_excavation(CutDraft& d, double ground) {
    if (d.slab_from > d.slab_to || ground <= d.model.slab.top_level || !d.has_curves()) return;
    const double edge = d.frame.metres(8), top = d.on_paper(0, d.frame.paper.low.y).y;
    Polygon pit{{d.slab_from - edge, d.frame.up(d.underside(d.slab_from))}};
    for (double t : d.scene.along->t)
        if (t >= d.slab_from && t <= d.slab_to) pit.push_back({t, d.frame.up(d.underside(t))});
    pit.push_back({d.slab_to + edge, d.frame.up(d.underside(d.slab_to))});
    pit.push_back({d.slab_to + edge, top}), pit.push_back({d.slab_from - edge, top});
    d.drawing.add(Layer::ground, closed(std::move(pit), {}, {Role::sheet, {}, {}}));
}

void draw_water(CutDraft& d) {
    std::optional<double> water = d.model.ground.water_level;
    if (d.scene.profile)
        if (const double w = d.scene.profile->at(0.5 * (d.scene.line[0] + d.scene.line[1])).water_level;
            std::isfinite(w))
            water = w;
    if (!water) return;
    const double y = d.frame.y(*water);
    if (y <= d.frame.paper.low.y || y >= d.frame.paper.high.y) return;
    draw_level_beside(d, Layer::water, *water, {Role::water, 1.2, Dash::dashed});
    d.write(Layer::water, d.on_paper(d.frame.paper.high.x - 4, y + 9), "water " + typeset(written(*water, 2)),
            Role::water, Align::right);
}

void draw_levels(CutDraft& d) {
    const double span = d.frame.base_level - d.frame.lowest_level;
    const double step = span > 160 ? 50 : span > 40 ? 10 : span > 16 ? 5 : span > 8 ? 2 : 1;
    const double highest = std::floor(d.frame.base_level / step) * step;
    const int count = int((highest - d.frame.lowest_level) / step) + 1;
    for (int k = 0; k < count; ++k) {
        const double level = highest - k * step;
        const double y = d.frame.y(level), x = d.frame.paper.low.x;
        if (y < d.frame.y(d.frame.base_level) + 6 || y > d.frame.paper.high.y - 6) continue;
        d.line(Layer::ground, d.on_paper(x, y), d.on_paper(x + 5, y), {Role::faint, 0.8});
        d.write(Layer::ground, d.on_paper(x + 8, y), typeset(written(level, 0)) + " m", Role::ink, Align::left, false);
    }
}

void draw_depth_limit(CutDraft& d) {
    if (!d.scene.limit || d.frame.y(*d.scene.limit) >= d.frame.paper.high.y) return;
    const double y = d.frame.y(*d.scene.limit);
    d.line(Layer::ground, d.on_paper(d.frame.paper.low.x, y), d.on_paper(d.frame.paper.high.x, y),
           {Role::rust, 1, Dash::dashed});
    Text t;
    t.at = d.on_paper(d.frame.paper.high.x - 8, y), t.tone = Role::rust, t.halo = true;
    t.text = "settles down to " + typeset(written(*d.scene.limit, 1)) + " m";
    d.labels.write(Layer::ground, std::move(t), {{-2, 8}, {-2, -9}, {-130, 8}, {-130, -9}, {-260, 8}, {-260, -9}});
}

// One borehole as a line down from the ground, its blow counts where they were taken, squares to drag at its layers.
void draw_borehole(CutDraft& d, const Borehole& b) {
    const Point u = unit(d.scene.line[1] - d.scene.line[0]);
    const double t = dot(b.at - d.scene.line[0], u), off = std::abs(cross(u, b.at - d.scene.line[0])), x = d.frame.x(t);
    if (b.layers.empty() || x < d.frame.paper.low.x + 52 || x > d.frame.paper.high.x - 10) return;
    const double top = std::max(d.frame.y(d.scene.profile->at(b.at).ground_level), d.frame.paper.low.y + 14),
                 end = d.frame.y(b.layers.back().bottom), low = std::min(end, d.frame.paper.high.y);
    d.line(Layer::boreholes, d.on_paper(x, top), d.on_paper(x, low),
           {Role::ink, 1.4, off > 2 ? Dash::dashed : Dash::solid});
    Box line;
    line.add({x - 3, top}), line.add({x + 3, low});
    d.write(Layer::boreholes, d.on_paper(x, std::min(end + 10, d.frame.paper.high.y - 10)),
            b.id + (off > 2 ? " (" + written(off, 0) + " m off)" : ""), Role::ink);
    const bool through_slab = t > d.slab_from - d.frame.metres(40) && t < d.slab_to + d.frame.metres(8);
    for (const BlowCount& n : b.blow_counts) {
        const double y = d.frame.y(n.level);
        if (y > d.frame.paper.high.y - 18 || y < d.frame.paper.low.y + 8) continue;
        if (through_slab && y < d.frame.y(d.frame.base_level) + 8) continue;  // the slab stands there
        Text N;  // beside the hole, on the other side where two stand too near; a third is left out
        N.text = "N " + written(n.N, 0), N.at = d.on_paper(x + 7 + likely_width(N.text) / 2, y), N.halo = true;
        const double across = -likely_width(N.text) - 14;
        d.labels.write_if_free(Layer::boreholes, std::move(N), {{0, 0}, {across, 0}});
    }
    for (int l = 0; l < int(b.layers.size()); ++l) {
        const double y = d.frame.y(b.layers[size_t(l)].bottom);
        if (y > d.frame.paper.high.y - 3) continue;
        Mark& square = d.drawing.add(Layer::handles, symbol(d.on_paper(x, y), box_on_paper(-4, -3, 4, 3),
                                                            {Role::ink, 1}, {Role::white, {}, {}}));
        square.thing = Thing{ThingKind::borehole, b.id, l}, square.reach = 5;
    }
    d.labels.keep_clear(line);
}

}  // namespace

void draw_ground_of_cut(CutDraft& d) {
    const double ground = ground_level(d);
    if (d.scene.profile)
        draw_strata(d);
    else
        draw_plain_earth(d, ground);
    draw_excavation(d, ground);
    draw_level_beside(d, Layer::ground, ground, {Role::ground_line, 1.2});
    draw_water(d);
}

void draw_boreholes_of_cut(CutDraft& d) {
    draw_levels(d);
    if (d.scene.wide)
        for (const Borehole& b : d.model.ground.boreholes) draw_borehole(d, b);
    draw_depth_limit(d);
}

}  // namespace mossbed
