// A polygon cut by a half-plane, into memory that the caller has.
#pragma once
#include "core/base/geometry.h"

namespace mossbed {

// The part of `n` corners where inside(q), which is linear over the plan, is at least nought; how many corners it has.
// `out` has room for 2 n of them, for n + 1 where the polygon is convex.
template <class Inside>
size_t cut_into(const Point* p, size_t n, Inside inside, Point* out) {
    size_t kept = 0;
    const double first = n > 0 ? inside(p[0]) : 0;
    double da = first;
    for (size_t k = 0; k < n; ++k) {
        const bool last = k + 1 == n;
        const Point a = p[k], b = p[last ? 0 : k + 1];
        const double db = last ? first : inside(b);
        if (da >= 0) out[kept++] = a;
        if ((da > 0 && db < 0) || (da < 0 && db > 0)) out[kept++] = a + (da / (da - db)) * (b - a);
        da = db;
    }
    return kept;
}

}  // namespace mossbed
