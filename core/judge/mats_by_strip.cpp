#include <fmt/format.h>

#include <algorithm>

#include "core/judge/strip_judge.h"

namespace mossbed {
namespace {

// Those of which an element lies in the strip; of a strip too narrow for that, all. A patch that is as thick and as
// strong as the slab belongs to it (parts_of). `middle`: of the elements.
std::vector<SlabPart> parts_in(const Fields& f, const Strip& s, const std::vector<Point>& middle,
                               const std::vector<SlabPart>& all) {
    const Point from = s.axis[0], u = unit(s.axis[1] - from), n = left_of(u);
    const double length = distance(from, s.axis[1]);
    const std::vector<SlabPatch>& patches = f.model->slab.patches;
    std::vector<char> there(patches.size() + 1, 0);
    for (size_t e = 0; e < middle.size(); ++e) {
        const double along = dot(middle[e] - from, u), off = dot(middle[e] - from, n);
        if (along >= 0 && along <= length && off <= s.reach[0] && off >= -s.reach[1])
            there[size_t(f.mesh.patch[e] + 1)] = 1;
    }
    auto is_there = [&](const SlabPatch* p) { return there[size_t(p - patches.data()) + 1] != 0; };
    long left = std::count(there.begin(), there.end(), 1);
    std::vector<SlabPart> out;
    for (SlabPart part : all) {
        std::erase_if(part.patches, [&](const SlabPatch* p) { return !is_there(p); });
        left -= long(part.patches.size());
        if (!part.patches.empty()) out.push_back(std::move(part));
    }
    if (left > 0) out.insert(out.begin(), all.front());
    return out.empty() ? all : out;
}

}  // namespace

std::vector<JudgedMat> mats_by_strip(const Fields& fields, const StripDemand& demand) {
    const Model& m = *fields.model;
    std::vector<JudgedMat> out;
    const std::vector<SlabPart> all = parts_of(m);
    std::vector<Point> middle;
    for (int e = 0; all.size() > 1 && e < int(fields.mesh.elements.size()); ++e)
        middle.push_back(centroid(fields.mesh.polygon(e)));
    for (const StripAnswer& s : demand.strips) {
        const std::vector<SlabPart> parts = all.size() > 1 ? parts_in(fields, s.strip, middle, all) : all;
        for (Face f : {Face::bottom, Face::top})
            out.push_back({fmt::format("{} {}", s.strip.id, name_of(f)), f, s.strip.direction, &s.strip, parts,
                           0.5 * (s.strip.axis[0] + s.strip.axis[1])});
    }
    for (Direction d : {Direction::x, Direction::y})
        if (uncovered_area(m, demand.strips, d) > 0.01 * net_area(m))
            for (Face f : {Face::bottom, Face::top})
                out.push_back(
                    {fmt::format("{} {}", name_of(f), name_of(d)), f, d, nullptr, all, centre_of_base(fields)});
    return out;
}

}  // namespace mossbed
