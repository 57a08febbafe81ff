#include "core/fields/field_map.h"

#include <algorithm>
#include <cmath>

namespace mossbed {

const std::vector<QuantityInfo>& quantities() {
    static const std::vector<QuantityInfo> all{
        {Quantity::settlement, "settlement", "Settlement", "mm", Scale::settled},
        {Quantity::pressure, "pressure", "Contact pressure", "kPa", Scale::pressure},
        {Quantity::gross, "gross", "Gross pressure (with water)", "kPa", Scale::pressure},
        {Quantity::net, "net", "Net pressure (less excavation)", "kPa", Scale::moment},
        {Quantity::modulus, "modulus", "Modulus of subgrade reaction", "kN/m³", Scale::settled},
        {Quantity::mx, "mx", "Moment mx (bars along x)", "kN·m/m", Scale::moment},
        {Quantity::my, "my", "Moment my (bars along y)", "kN·m/m", Scale::moment},
        {Quantity::mxy, "mxy", "Twisting moment mxy", "kN·m/m", Scale::moment},
        {Quantity::margin, "margin", "Margin of bars", "%", Scale::margin},
        {Quantity::required, "required", "Steel required by points", "mm²/m", Scale::pressure},
        {Quantity::none, "none", "No map", "", Scale::settled}};
    return all;
}

bool needs_fine_mesh(Quantity q) {
    return q == Quantity::mx || q == Quantity::my || q == Quantity::mxy || is_of_bars(q);
}

bool is_of_bars(Quantity q) { return q == Quantity::margin || q == Quantity::required; }

const QuantityInfo& info(Quantity q) {
    for (const QuantityInfo& i : quantities())
        if (i.quantity == q) return i;
    return quantities().back();
}

FieldMap make_map(const Fields& a, const CombinationAnswer& c, Quantity q) {
    FieldMap map;
    if (q == Quantity::none || is_of_bars(q) || !c.has_field()) return map;
    map.corner.resize(a.mesh.elements.size());
    map.least = 1e300, map.most = -1e300;
    const Point bars = along_bars(a.model->steel, Direction::x);
    for (size_t e = 0; e < a.mesh.elements.size(); ++e)
        for (int k = 0; k < corners(a.mesh.elements[e]); ++k) {
            const int node = a.mesh.elements[e][k];
            double v = 0;
            const double pressed = c.pressure[node] * a.pressure_beside(int(e), node);  // in this cell
            switch (q) {
                case Quantity::settlement:
                    v = 1000 * c.settlement(node);
                    break;
                case Quantity::pressure:
                    v = pressed;
                    break;
                case Quantity::gross:
                    v = c.gross(node) - c.pressure[node] + pressed;
                    break;
                case Quantity::net:
                    v = c.net(node) - c.pressure[node] + pressed;
                    break;
                case Quantity::modulus:
                    v = !a.element_modulus.empty() ? a.element_modulus[e]
                        : c.modulus.empty()        ? a.modulus[node]
                                                   : c.modulus[node];
                    break;
                case Quantity::mx:
                    v = turned(c.forces[a.slots.of_corner[e][k]], bars).mx;
                    break;
                case Quantity::my:
                    v = turned(c.forces[a.slots.of_corner[e][k]], bars).my;
                    break;
                case Quantity::mxy:
                    v = turned(c.forces[a.slots.of_corner[e][k]], bars).mxy;
                    break;
                case Quantity::margin:
                case Quantity::required:
                case Quantity::none:
                    break;
            }
            map.corner[e][k] = v;
            if (v < map.least) map.least = v, map.least_at = a.mesh.nodes[node];
            if (v > map.most) map.most = v, map.most_at = a.mesh.nodes[node];
        }
    return map;
}

FieldMap lifted_map(const Fields& a, const CombinationAnswer& c) {
    FieldMap map = make_map(a, c, Quantity::settlement);
    if (c.hold.empty()) return map;
    map.least = 1e300;
    for (size_t e = 0; e < map.corner.size(); ++e)
        for (int k = 0; k < corners(a.mesh.elements[e]); ++k) {
            map.corner[e][size_t(k)] = c.hold[size_t(a.mesh.elements[e][size_t(k)])];
            map.least = std::min(map.least, map.corner[e][size_t(k)]);
        }
    return map;
}

double FieldMap::at(const Finder::Hit& h, const Mesh& mesh) const {
    double v = 0;
    for (int k = 0; k < corners(mesh.elements[size_t(h.element)]); ++k)
        v += h.weight[size_t(k)] * corner[size_t(h.element)][size_t(k)];
    return v;
}

int Bands::decimals() const {
    const double s = step();
    return s < 0.0999 ? 2 : std::abs(s - std::round(s)) > 1e-6 ? 1 : 0;
}

namespace {
double round_step(double raw) {
    const double p = std::pow(10, std::floor(std::log10(raw)));
    for (double f : {1.0, 2.0, 2.5, 5.0, 10.0})
        if (f * p >= raw * (1 - 1e-9)) return f * p;
    return 10 * p;
}
}  // namespace

Bands natural_bands(const FieldMap& map, Quantity q) {
    Bands b;
    if (q == Quantity::margin) return {-20, 100, 6};
    if ((q == Quantity::modulus || q == Quantity::required) && !map.corner.empty()) {
        // Stiff rims and spikes at columns must not bleach the rest; one value everywhere still reads.
        std::vector<double> all;
        for (const auto& c : map.corner) all.insert(all.end(), c.begin(), c.end());
        std::nth_element(all.begin(), all.begin() + long(0.97 * double(all.size())), all.end());
        const double high = std::max(all[size_t(0.97 * double(all.size()))], 1e-6), step = round_step(high / 8);
        b.n = std::max(1, int(std::ceil(high / step - 1e-9)));
        b.low = 0, b.high = b.n * step;
        return b;
    }
    if (map.corner.empty() || map.most <= map.least)
        return q == Quantity::settlement || q == Quantity::pressure || q == Quantity::gross ? Bands{0, 1, 4}
                                                                                            : Bands{-1, 1, 8};
    if (info(q).scale == Scale::moment) {
        // A spike under a column must not bleach the rest: the scale holds what 99 of 100 corners have.
        std::vector<double> size;
        for (const auto& c : map.corner)
            for (double v : c) size.push_back(std::abs(v));
        std::nth_element(size.begin(), size.begin() + long(0.99 * double(size.size())), size.end());
        const double top = std::max(size[size_t(0.99 * double(size.size()))], 1e-6), step = round_step(top / 5);
        const int n = int(std::ceil(top / step - 1e-9));
        return {-n * step, n * step, 2 * n};
    }
    const double low = q == Quantity::pressure || q == Quantity::gross ? 0 : std::min(0.0, map.least),
                 high = std::max(map.most, low + 1e-9);
    const double step = round_step((high - low) / 10);
    b.low = std::floor(low / step + 1e-9) * step;
    b.n = std::max(1, int(std::ceil((high - b.low) / step - 1e-9)));
    b.high = b.low + b.n * step;
    return b;
}

}  // namespace mossbed
