// One quantity over the slab: values at the corners of elements, and the bands and numbers that a map of it is read by.
#pragma once
#include "core/fields/fields.h"

namespace mossbed {

enum class Quantity { none, settlement, pressure, gross, net, modulus, mx, my, mxy, margin, required };
// Scales of colour: sequential ones run from little to much; that of moments from hogging over nothing to sagging, that
// of a margin from what is short over what just does to plenty.
enum class Scale { settled, pressure, moment, margin };
struct QuantityInfo {
    Quantity quantity;
    const char* key;  // for settings and tests
    const char* title;
    const char* unit;
    Scale scale;
};
const std::vector<QuantityInfo>& quantities();
const QuantityInfo& info(Quantity q);
bool is_of_bars(Quantity q);       // of one face and direction: the margin, and what is required
bool needs_fine_mesh(Quantity q);  // moments, whose peaks at columns a coarse mesh shows far too low

struct Bands {
    double low = 0, high = 1;
    int n = 8;
    double step() const { return (high - low) / n; }
    int decimals() const;  // that tell its numbers apart
    bool operator==(const Bands&) const = default;
};

struct FieldMap {
    std::vector<std::array<double, 4>> corner;  // per element, in the quantity's unit
    double least = 0, most = 0;
    Point least_at, most_at;
    // At a place found in the mesh (Finder), linear between corners.
    double at(const Finder::Hit& hit, const Mesh& mesh) const;
};
// All but those that are of bars (judge/margin_map.h, judge/required_map.h).
FieldMap make_map(const Fields& fields, const CombinationAnswer& combination, Quantity quantity);
// Below zero where the slab has lifted off. On springs that is where it rises; layered ground settles under its
// neighbours too, and there it is where nothing presses.
FieldMap lifted_map(const Fields& fields, const CombinationAnswer& combination);
Bands natural_bands(const FieldMap& map, Quantity quantity);  // round steps; moments even about nothing

}  // namespace mossbed
