// Columns of one grid have perimeters alike but for where they lie, and so have pairs of them and those along one rim:
// what is tried round one area serves for all.
#pragma once
#include <cmath>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <vector>

#include "core/base/polygons.h"
#include "core/perimeter/perimeter.h"

namespace mossbed {

struct PerimetersTried {
    Perimeter face;
    std::vector<Perimeter> within, beyond;  // of those beyond links
};

class AlikeAreas {
  public:
    // Nothing near it takes from closed perimeters round it, and none comes to a rim.
    static bool lies_free(const PunchedArea& area, const SlabAround& slab,
                          const std::vector<PerimeterCourse>& courses) {
        return courses.size() == 1 && courses[0].outward.empty() && !courses[0].leaves_slab && area.kept.empty() &&
               slab.openings.empty() && !slab.thinner;
    }
    // Of an area beside a rim of a convex slab, to which one course is open, and near nothing else: the slab as far as
    // perimeters up to `reach` m may see of it, from the area's centre. None otherwise, nor where corners are
    // prolonged: their tips go further than `reach`.
    static std::optional<Polygon> slab_beside_rim(const PunchedArea& area, const SlabAround& slab,
                                                  const std::vector<PerimeterCourse>& courses,
                                                  const PerimeterRule& rule, double reach) {
        if (!rule.round_corners || courses.size() != 2 || courses[1].outward.size() != 1 || !area.kept.empty() ||
            !slab.openings.empty() || slab.hole || slab.thinner || !is_convex(slab.rim))
            return {};
        const Box box = box_of(area.outline).grown(1.5 * reach + 0.1);
        Polygon near = slab.rim;
        for (const auto& [on_line, inward] : {std::pair{box.low, Point{1, 0}},
                                              {box.low, Point{0, 1}},
                                              {box.high, Point{-1, 0}},
                                              {box.high, Point{0, -1}}})
            near = clip_to_half_plane(std::move(near), on_line, inward);
        return from(area.centre, std::move(near));
    }
    // What make(area) gives, where the area is moved so that its centre is the origin, and its lengths are rounded to a
    // nanometre, lest places that are alike differ in the last bit. `key`: all else that make looks at.
    template <class Make>
    std::shared_ptr<const PerimetersTried> find(PunchedArea area, std::vector<double> key, Make make) {
        area.outline = from(area.centre, std::move(area.outline));
        area.centre = {};
        for (double* v : {&area.c1, &area.c2, &area.angle}) *v = rounded(*v);
        for (double v : {area.c1, area.c2, area.angle, double(area.round), double(area.one_column)}) key.push_back(v);
        for (Point q : area.outline) key.push_back(q.x), key.push_back(q.y);
        {
            const std::lock_guard held(mutex_);
            if (const auto it = found_.find(key); it != found_.end()) return it->second;
        }
        auto made = std::make_shared<const PerimetersTried>(make(area));
        const std::lock_guard held(mutex_);
        if (found_.size() < most) found_.emplace(std::move(key), made);
        return made;
    }

    static double rounded(double v) { return std::abs(v) < 1e6 ? std::round(v * 1e9) / 1e9 : v; }

  private:
    static constexpr size_t most = 500;  // of slabs on which nothing is alike
    static Polygon from(Point centre, Polygon p) {
        for (Point& q : p) q = {rounded(q.x - centre.x), rounded(q.y - centre.y)};
        return p;
    }
    std::mutex mutex_;
    std::map<std::vector<double>, std::shared_ptr<const PerimetersTried>> found_;
};

}  // namespace mossbed
