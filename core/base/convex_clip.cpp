#include "core/base/convex_clip.h"

#include <algorithm>

namespace mossbed {

void clip_into(const Polygon& p, Point on_line, Point inward, Polygon& out) {
    out.clear();
    if (p.empty()) return;
    const double first = dot(p[0] - on_line, inward);
    double da = first;
    for (size_t i = 0; i < p.size(); ++i) {
        const bool last = i + 1 == p.size();
        const Point a = p[i], b = p[last ? 0 : i + 1];
        const double db = last ? first : dot(b - on_line, inward);
        if (da >= 0) out.push_back(a);
        if ((da > 0 && db < 0) || (da < 0 && db > 0)) out.push_back(a + (da / (da - db)) * (b - a));
        da = db;
    }
}

ConvexClip::ConvexClip(const Polygon& convex) {
    sides_.reserve(convex.size());
    for (size_t i = 0; i < convex.size(); ++i) {
        const Point a = convex[i], inward = left_of(convex[i + 1 < convex.size() ? i + 1 : 0] - a);
        sides_.push_back({a, inward, dot(inward, inward)});
    }
}

void ConvexClip::clip(const Polygon& subject, Point middle, double radius, Polygon& out, Polygon& spare) const {
    out = subject;
    for (const Side& s : sides_) {
        const double d = dot(middle - s.on, s.inward);
        if (d * d > radius * radius * s.length2) {  // most sides have all of it within
            if (d < 0) return out.clear();
            continue;
        }
        if (std::none_of(out.begin(), out.end(), [&](Point q) { return dot(q - s.on, s.inward) < 0; })) continue;
        clip_into(out, s.on, s.inward, spare);
        out.swap(spare);
    }
}

}  // namespace mossbed
