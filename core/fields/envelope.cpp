#include "core/fields/envelope.h"

#include <algorithm>

namespace mossbed {

std::vector<int> combinations_for(const Fields& f, Purpose purpose) {
    std::vector<int> out;
    for (size_t c = 0; c < f.combinations.size(); ++c)
        if (const CombinationAnswer& k = f.combinations[c];
            k.combination.purpose == purpose && k.has_field() && !k.without_yield)
            out.push_back(int(c));
    return out;
}

std::vector<Purpose> purposes_with_fields(const Fields& f) {
    std::vector<Purpose> out;
    for (size_t p = 0; p < Words<Purpose>::all.size(); ++p)
        if (!combinations_for(f, Purpose(p)).empty()) out.push_back(Purpose(p));
    return out;
}

int EnvelopeMap::by_at(const Finder::Hit& h, const Mesh& mesh) const {
    const int n = corners(mesh.elements[size_t(h.element)]);
    const auto most = std::max_element(h.weight.begin(), h.weight.begin() + n);
    return by[size_t(h.element)][size_t(most - h.weight.begin())];
}

namespace {
template <class Map>
EnvelopeMap extreme_of(const Fields& f, const EnvelopeChoice& choice, Map map_of) {
    EnvelopeMap out;
    for (int c : combinations_for(f, choice.purpose)) {
        const FieldMap one = map_of(f.combinations[size_t(c)]);
        if (out.map.corner.empty()) {
            out.map = one;
            out.by.assign(one.corner.size(), {c, c, c, c});
            continue;
        }
        for (size_t e = 0; e < one.corner.size(); ++e)
            for (size_t k = 0; k < 4; ++k) {
                double& v = out.map.corner[e][k];
                if (choice.extreme == Extreme::largest ? one.corner[e][k] > v : one.corner[e][k] < v)
                    v = one.corner[e][k], out.by[e][k] = c;
            }
    }
    FieldMap& m = out.map;
    if (!m.corner.empty()) m.least = 1e300, m.most = -1e300;
    for (size_t e = 0; e < m.corner.size(); ++e)
        for (int k = 0; k < corners(f.mesh.elements[e]); ++k) {
            const double v = m.corner[e][size_t(k)];
            const Point at = f.mesh.nodes[size_t(f.mesh.elements[e][size_t(k)])];
            if (v < m.least) m.least = v, m.least_at = at;
            if (v > m.most) m.most = v, m.most_at = at;
        }
    return out;
}
}  // namespace

EnvelopeMap envelope_map(const Fields& f, const EnvelopeChoice& choice, Quantity quantity) {
    return extreme_of(f, choice, [&](const CombinationAnswer& c) { return make_map(f, c, quantity); });
}

FieldMap lifted_in_any(const Fields& f, Purpose purpose) {
    return extreme_of(f, {purpose, Extreme::smallest}, [&](const CombinationAnswer& c) { return lifted_map(f, c); })
        .map;
}

EnvelopeAlong envelope_along(const Fields& f, Purpose purpose, const std::array<Point, 2>& line) {
    EnvelopeAlong out;
    for (int c : combinations_for(f, purpose)) {
        AlongLine one = along_line(f, f.combinations[size_t(c)], line);
        if (out.largest.t.empty()) {
            out.largest = one, out.smallest = std::move(one);
            continue;
        }
        for (auto of : {&AlongLine::pressure, &AlongLine::settlement, &AlongLine::moment})
            for (size_t i = 0; i < (one.*of).size(); ++i) {
                (out.largest.*of)[i] = std::max((out.largest.*of)[i], (one.*of)[i]);
                (out.smallest.*of)[i] = std::min((out.smallest.*of)[i], (one.*of)[i]);
            }
    }
    return out;
}

std::optional<std::array<double, 2>> range_over(const Eigen::MatrixXd& values, long row,
                                                const std::vector<int>& combinations) {
    std::optional<std::array<double, 2>> range;
    for (int c : combinations) {
        const double v = values(row, c);
        if (std::isnan(v)) continue;
        range = range ? std::array{std::min((*range)[0], v), std::max((*range)[1], v)} : std::array{v, v};
    }
    return range;
}

}  // namespace mossbed
