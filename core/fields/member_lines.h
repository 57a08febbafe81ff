// Forces along ribs and along walls that stiffen, of every combination: of a rib with the flange of slab that works
// with it, and of the rib or the wall alone. Stations stand at the middles of the pieces between nodes, where the
// values are most exact, and at the ends of the path and of what stops at openings.
//   M, V, T: of rib and flange about their common centroid, M sagging positive, V = dM/ds along the path,
//   N_alone, M_alone: of the part outside the slab about its own centroid, tension positive; of a wall as a whole,
//   whose V_alone is its own shear.
// Over the flange the slab's own m, n and v are summed across the rib. The flange ends where a function says; it knows
// the clear widths beside the rib and the spans along it.
#pragma once
#include <functional>

#include "core/fields/fields.h"

namespace mossbed {

// A stretch of a rib between what holds it up (or presses it down): columns on it, ribs and walls that cross it,
// corners of its path.
struct RibSpan {
    double from = 0, to = 0;  // m along the path
    bool begins_free = false, ends_free = false;
    double next = 0;  // m, of the span beside a free end's one
    double length() const { return to - from; }
};
std::vector<RibSpan> rib_spans(const Model& model, const Rib& rib);

struct ClearWidths {  // m, from the rib's faces to the rim or opening, or half way to the next rib or wall
    double left = 0, right = 0;
};
ClearWidths clear_beside(const Model& model, const Rib& rib, Point at, Point along);

// The overhang of a flange, m, for a clear width in a span.
using Overhang = std::function<double(double clear, const RibSpan& span)>;

struct MemberLine {
    struct Station {
        double s = 0;  // m along the path
        Point at, along;
        double flange = 0;  // m, the rib's width included; 0 for a wall
        bool in_support = false;
    };
    Member::Kind kind = Member::Kind::rib;
    int index = 0;  // into the model's list
    std::vector<Station> stations;
    Eigen::MatrixXd M, V, T;  // a row a station, a column a combination; of ribs
    Eigen::MatrixXd M_alone, N_alone, V_alone;
};

// Columns follow fields.combinations; those without a field are not numbers. Without `overhang` M, V, T are none.
std::vector<MemberLine> member_lines(const Fields& fields, const Overhang& overhang, const Progress& progress = {});

}  // namespace mossbed
