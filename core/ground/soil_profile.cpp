#include "core/ground/soil_profile.h"

#include <CGAL/Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <fmt/format.h>

#include <set>

#include "core/base/units.h"

namespace mossbed {
namespace {

// Integrates unit weight from the ground down to `level`; `effective` takes buoyant weights below the water.
double stress(const SoilColumn& c, double level, const std::vector<Stratum>& strata, bool effective) {
    double sum = 0;
    for (size_t i = 0; i < c.layers.size(); ++i) {
        const SoilLayer& l = c.layers[i];
        const double top = std::min(l.top, c.ground_level);  // ground raised up to a founding level has no weight
        const double bottom = i + 1 == c.layers.size() ? level : std::max(level, l.bottom);
        if (bottom >= top || level >= top) continue;
        const Stratum& s = strata[size_t(l.stratum)];
        const double wet = std::max(0.0, std::min(top, c.water_level) - bottom), dry = (top - bottom) - wet;
        sum += dry * s.unit_weight + wet * (s.saturated_unit_weight - (effective ? water_weight : 0));
    }
    return sum;
}

struct Named {
    const Ground& g;
    std::string operator()(const LayerKey& k) const {
        std::string s = g.strata[size_t(k.stratum)].id;
        if (k.occurrence > 0) s += fmt::format(" ({})", k.occurrence + 1);
        return s;
    }
};

int stratum_index(const Ground& g, const std::string& id) {
    for (size_t i = 0; i < g.strata.size(); ++i)
        if (g.strata[i].id == id) return int(i);
    return -1;
}

std::vector<LayerKey> keys_of(const Ground& g, const Borehole& b) {
    std::vector<LayerKey> out;
    std::map<int, int> seen;
    for (const BoreholeLayer& l : b.layers) {
        const int s = stratum_index(g, l.stratum);
        if (s >= 0) out.push_back({s, seen[s]++});
    }
    return out;
}

}  // namespace

double SoilColumn::total_stress(double level, const std::vector<Stratum>& strata) const {
    const double flooded = std::max(0.0, water_level - ground_level);  // open water above the ground
    return stress(*this, level, strata, false) + (std::isfinite(flooded) ? flooded * water_weight : 0);
}
double SoilColumn::effective_stress(double level, const std::vector<Stratum>& strata) const {
    return stress(*this, level, strata, true);
}

std::vector<int> boreholes_that_count(const Ground& g) {
    std::vector<int> out;
    for (size_t i = 0; i < g.boreholes.size(); ++i) {
        const Borehole& b = g.boreholes[i];
        if (b.layers.empty() || !std::isfinite(b.at.x) || !std::isfinite(b.at.y)) continue;
        if (std::none_of(out.begin(), out.end(),
                         [&](int k) { return distance(g.boreholes[size_t(k)].at, b.at) < 0.01; }))
            out.push_back(int(i));
    }
    return out;
}

LayerOrder order_of_layers(const Ground& g) {
    LayerOrder out;
    std::vector<LayerKey> all;
    std::vector<double> sum;
    std::vector<int> count;
    std::vector<std::vector<std::pair<int, int>>> above;  // per layer: those straight above it, and the borehole
    const std::vector<int> used = boreholes_that_count(g);
    for (int h : used) {
        const Borehole& b = g.boreholes[size_t(h)];
        const auto keys = keys_of(g, b);
        if (keys.size() != b.layers.size()) continue;  // an unknown stratum: reported elsewhere
        int before = -1;
        for (size_t k = 0; k < keys.size(); ++k) {
            size_t i = size_t(std::find(all.begin(), all.end(), keys[k]) - all.begin());
            if (i == all.size()) all.push_back(keys[k]), sum.push_back(0), count.push_back(0), above.emplace_back();
            sum[i] += k == 0 ? b.ground_level.value_or(b.layers[0].bottom) : b.layers[k - 1].bottom;
            ++count[i];
            if (before >= 0) above[i].push_back({before, h});
            before = int(i);
        }
    }
    std::vector<char> placed(all.size());
    for (size_t n = 0; n < all.size(); ++n) {
        int best = -1;
        for (size_t i = 0; i < all.size(); ++i) {
            if (placed[i] || std::any_of(above[i].begin(), above[i].end(), [&](auto& a) { return !placed[a.first]; }))
                continue;
            if (best < 0 || sum[i] / count[i] > sum[size_t(best)] / count[size_t(best)] + 1e-9) best = int(i);
        }
        if (best < 0) {  // every layer left waits for another: walk up until one comes round again
            const Named name{g};
            std::vector<int> path;
            for (size_t i = 0; i < all.size() && path.empty(); ++i)
                if (!placed[i]) path.push_back(int(i));
            std::vector<std::string> said;
            for (;;) {
                const int at = path.back();
                const auto up = std::find_if(above[size_t(at)].begin(), above[size_t(at)].end(),
                                             [&](auto& a) { return !placed[a.first]; });
                said.push_back(fmt::format("{} above {} in {}", name(all[size_t(up->first)]), name(all[size_t(at)]),
                                           g.boreholes[size_t(up->second)].id));
                const auto again = std::find(path.begin(), path.end(), up->first);
                if (again != path.end()) {
                    said.erase(said.begin(), said.begin() + (again - path.begin()));
                    break;
                }
                path.push_back(up->first);
            }
            std::string text;
            for (const std::string& s : said) text += (text.empty() ? "" : ", but ") + s;
            out.contradiction = text;
            return out;
        }
        placed[size_t(best)] = 1;
        out.layers.push_back(all[size_t(best)]);
    }
    return out;
}

std::optional<SoilProfile> profile_of(const Ground& g) {
    const std::vector<int> used = boreholes_that_count(g);
    for (int h : used) {
        const Borehole& b = g.boreholes[size_t(h)];
        if (keys_of(g, b).size() != b.layers.size()) return {};
        for (const BoreholeLayer& l : b.layers)
            if (!std::isfinite(l.bottom)) return {};
    }
    if (used.empty() || order_of_layers(g).contradiction) return {};
    return SoilProfile(g);
}

double ground_level_of(const Model& m, const Borehole& b) {
    if (b.ground_level) return *b.ground_level;
    if (m.ground.ground_level) return *m.ground.ground_level;
    double sum = 0;
    int n = 0;
    for (const Borehole& o : m.ground.boreholes)
        if (o.ground_level) sum += *o.ground_level, ++n;
    return n > 0 ? sum / n : founding_level(m);
}

SoilProfile::SoilProfile(const Ground& ground) {
    order_ = order_of_layers(ground).layers;
    ids_ = boreholes_that_count(ground);
    double known_sum = 0, known = 0, water_sum = 0, waters = 0;
    deepest_borehole_ = 1e300;
    for (int h : ids_) {
        const Borehole& b = ground.boreholes[size_t(h)];
        if (b.ground_level) known_sum += *b.ground_level, ++known;
        if (b.water_level) water_sum += *b.water_level, ++waters;
        deepest_borehole_ = std::min(deepest_borehole_, b.layers.back().bottom);
    }
    deepest_ = deepest_borehole_;
    if (ground.rigid_base_level) deepest_ = std::min(deepest_, *ground.rigid_base_level);
    lowest_top_ = 1e300;
    for (int h : ids_) {
        const Borehole& b = ground.boreholes[size_t(h)];
        Hole hole;
        hole.at = b.at;
        hole.ground = ground.ground_level ? *ground.ground_level
                      : b.ground_level    ? *b.ground_level
                      : known > 0         ? known_sum / known
                                          : ground.founding_level.value_or(b.layers.front().bottom + 1);
        hole.water = ground.water_level ? *ground.water_level
                     : b.water_level    ? *b.water_level
                     : waters > 0       ? water_sum / waters
                                        : no_water;
        const auto keys = keys_of(ground, b);
        double level = hole.ground;
        for (const LayerKey& k : order_) {
            const auto it = std::find(keys.begin(), keys.end(), k);
            if (it != keys.end()) level = std::min(level, b.layers[size_t(it - keys.begin())].bottom);
            hole.bottom.push_back(level);
        }
        if (hole.bottom.size() > 1) lowest_top_ = std::min(lowest_top_, hole.bottom[hole.bottom.size() - 2]);
        hole.bottom.back() = deepest_;
        holes_.push_back(std::move(hole));
    }
    // Whether they stand on one line (or there are fewer than three).
    Point along{1, 0};
    double reach = 0, off = 0;
    for (const Hole& h : holes_)
        if (distance(h.at, holes_[0].at) > reach)
            reach = distance(h.at, holes_[0].at), along = unit(h.at - holes_[0].at);
    for (const Hole& h : holes_) off = std::max(off, std::abs(cross(along, h.at - holes_[0].at)));
    if (holes_.size() < 3 || off < 1e-6 * std::max(reach, 1.0)) {
        std::vector<int> order(holes_.size());
        std::iota(order.begin(), order.end(), 0);
        std::sort(order.begin(), order.end(),
                  [&](int i, int j) { return dot(along, holes_[size_t(i)].at) < dot(along, holes_[size_t(j)].at); });
        for (size_t i = 0; i + 1 < order.size(); ++i) rim_.push_back({order[i], order[i + 1]});
        return;
    }
    using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
    using Base = CGAL::Triangulation_vertex_base_with_info_2<int, Kernel>;
    using Delaunay = CGAL::Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<Base>>;
    Delaunay d;
    for (size_t i = 0; i < holes_.size(); ++i) d.insert({holes_[i].at.x, holes_[i].at.y})->info() = int(i);
    for (auto f = d.finite_faces_begin(); f != d.finite_faces_end(); ++f)
        triangles_.push_back({f->vertex(0)->info(), f->vertex(1)->info(), f->vertex(2)->info()});
    auto v = d.incident_vertices(d.infinite_vertex());
    const auto first = v;
    std::vector<int> ring;
    do ring.push_back(v->info());
    while (++v != first);
    for (size_t i = 0; i < ring.size(); ++i) rim_.push_back({ring[i], ring[(i + 1) % ring.size()]});
}

std::vector<std::pair<int, double>> SoilProfile::weights(Point p) const {
    if (holes_.size() == 1) return {{0, 1.0}};
    for (const auto& t : triangles_) {
        const Point a = holes_[size_t(t[0])].at, b = holes_[size_t(t[1])].at, c = holes_[size_t(t[2])].at;
        const double whole = cross(b - a, c - a);
        const double wa = cross(b - p, c - p) / whole, wb = cross(c - p, a - p) / whole, wc = 1 - wa - wb;
        if (wa >= -1e-12 && wb >= -1e-12 && wc >= -1e-12) return {{t[0], wa}, {t[1], wb}, {t[2], wc}};
    }
    double best = 1e300;
    std::vector<std::pair<int, double>> out;
    for (const auto& e : rim_) {
        const Point a = holes_[size_t(e[0])].at, b = holes_[size_t(e[1])].at, q = nearest_on_segment(p, a, b);
        if (const double d = distance(p, q); d < best - 1e-12) {
            best = d;
            const double t = distance(a, q) / distance(a, b);
            out = {{e[0], 1 - t}, {e[1], t}};
        }
    }
    return out;
}

double SoilProfile::distance_outside(Point p) const {
    Point q;
    for (auto [h, w] : weights(p)) q = q + w * holes_[size_t(h)].at;
    return triangles_.empty() ? 0 : distance(p, q) < 1e-9 ? 0 : distance(p, q);
}

SoilColumn SoilProfile::at(Point p) const {
    SoilColumn c;
    const auto share = weights(p);
    double water = 0;
    bool wet = true;
    for (auto [h, w] : share) {
        c.ground_level += w * holes_[size_t(h)].ground;
        if (w != 0 && !std::isfinite(holes_[size_t(h)].water)) wet = false;
        if (w != 0) water += w * holes_[size_t(h)].water;
    }
    c.water_level = wet ? water : no_water;
    double top = c.ground_level;
    for (size_t k = 0; k < order_.size(); ++k) {
        double bottom = 0;
        for (auto [h, w] : share) bottom += w * holes_[size_t(h)].bottom[k];
        bottom = std::min(bottom, top);
        if (top - bottom > 1e-9) c.layers.push_back({order_[k].stratum, int(k), top, bottom});
        top = bottom;
    }
    return c;
}

Stratum placeholder_stratum(const std::string& id) {
    Stratum s;
    s.id = id, s.E_basis = "placeholder: not from a report";
    return s;
}

Borehole new_borehole(const Model& m, const SoilProfile* known) {
    const auto centimetres = [](double level) { return std::round(100 * level) / 100; };
    std::vector<std::string> taken;
    for (const Borehole& b : m.ground.boreholes) taken.push_back(b.id);
    const Box box = box_of(outer_rim(m.slab.outline, 1.0));
    Borehole b;
    b.id = fresh_id("BH", taken);
    b.at = {std::round(box.low.x + box.width() * (0.2 + 0.3 * double(taken.size() % 3))), std::round(box.middle().y)};
    if (known) {
        const SoilColumn c = known->at(b.at);
        b.ground_level = centimetres(c.ground_level);
        if (std::isfinite(c.water_level)) b.water_level = centimetres(c.water_level);
        for (const SoilLayer& l : c.layers)
            b.layers.push_back({m.ground.strata[size_t(l.stratum)].id, centimetres(l.bottom), {}});
        return b;
    }
    constexpr double depth = 10;  // m
    b.ground_level = m.ground.ground_level.value_or(m.slab.top_level);
    b.layers = {{m.ground.strata.empty() ? "stratum-1" : m.ground.strata.front().id, founding_level(m) - depth, {}}};
    return b;
}

}  // namespace mossbed
