// Envelopes: of all combinations of one purpose the largest and the smallest value, place by place, and by which it is.
#pragma once
#include "core/fields/along_line.h"
#include "core/fields/field_map.h"

namespace mossbed {

enum class Extreme : char { largest, smallest };
template <>
struct Words<Extreme> {
    static constexpr std::array all{"largest", "smallest"};
};

struct EnvelopeChoice {  // which one is looked at
    Purpose purpose = Purpose::service;
    Extreme extreme = Extreme::largest;
    bool operator==(const EnvelopeChoice&) const = default;
};

struct Envelope {  // of `value` at places 0 … n − 1; `by`: index of the combination, the first of equals
    std::vector<double> max, min;
    std::vector<int> max_by, min_by;
};
// Combinations without a field do not count; empty where a purpose has none.
std::vector<int> combinations_for(const Fields& fields, Purpose purpose);
std::vector<Purpose> purposes_with_fields(const Fields& fields);
template <class Value>
Envelope envelope_of(const Fields& f, Purpose purpose, size_t n, Value value) {
    Envelope e;
    for (int c : combinations_for(f, purpose)) {
        const CombinationAnswer& k = f.combinations[size_t(c)];
        if (e.max.empty()) {
            e.max.resize(n), e.min.resize(n), e.max_by.assign(n, c), e.min_by.assign(n, c);
            for (size_t i = 0; i < n; ++i) e.max[i] = e.min[i] = value(k, int(i));
            continue;
        }
        for (size_t i = 0; i < n; ++i) {
            const double v = value(k, int(i));
            if (v > e.max[i]) e.max[i] = v, e.max_by[i] = c;
            if (v < e.min[i]) e.min[i] = v, e.min_by[i] = c;
        }
    }
    return e;
}

// The least and the largest of what combinations say, in a row of values with a column a combination (member_lines.h);
// none where no one of them has a number.
std::optional<std::array<double, 2>> range_over(const Eigen::MatrixXd& values, long row,
                                                const std::vector<int>& combinations);

struct EnvelopeMap {
    FieldMap map;
    std::vector<std::array<int, 4>> by;  // per corner of elements
    // Of the corner that has most to say at a place: whose share of it is largest.
    int by_at(const Finder::Hit& hit, const Mesh& mesh) const;
};
EnvelopeMap envelope_map(const Fields& fields, const EnvelopeChoice& choice, Quantity quantity);
// Below zero where the slab has lifted off in any combination of that purpose.
FieldMap lifted_in_any(const Fields& fields, Purpose purpose);

// Along a line; `largest` and `smallest` have the same samples.
struct EnvelopeAlong {
    AlongLine largest, smallest;
};
EnvelopeAlong envelope_along(const Fields& fields, Purpose purpose, const std::array<Point, 2>& line);

}  // namespace mossbed
