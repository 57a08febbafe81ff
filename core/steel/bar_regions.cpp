#include "core/steel/bar_regions.h"

namespace mossbed {

std::vector<BarRegion> regions_of(const Model& m, const BaseBars& base) {
    std::vector<BarRegion> out;
    for (Face f : {Face::top, Face::bottom})
        for (Direction d : {Direction::x, Direction::y})
            if (const ChosenBars& b = base.base(f, d); b.diameter > 0)
                out.push_back({"", f, d, b.diameter, b.spacing, {}});
    for (const ExtraBars& e : m.steel.extra)
        out.push_back({e.id, e.face, e.direction, e.diameter, e.spacing, e.outline});
    return out;
}

double area_on_slab(const BarRegion& r, const Mesh& mesh) {
    double sum = 0;
    const Box box = box_of(r.outline);
    for (int e = 0; e < int(mesh.elements.size()); ++e) {
        if (r.outline.empty()) {
            sum += mesh.area(e);
            continue;
        }
        const Polygon cell = anticlockwise(mesh.polygon(e));
        if (box.overlaps(box_of(cell))) sum += std::abs(signed_area(clip_to_convex(r.outline, cell)));
    }
    return sum;
}

}  // namespace mossbed
