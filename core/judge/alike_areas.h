// Columns of one grid have perimeters alike but for where they lie, and so have pairs of them: what is tried round one
// area serves for all.
#pragma once
#include <array>
#include <cmath>
#include <map>
#include <memory>
#include <mutex>
#include <vector>

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
    // What make(area) gives, where the area is moved so that its centre is the origin, and its lengths are rounded to a
    // nanometre, lest places that are alike differ in the last bit. `distances`: all else that make looks at.
    template <class Make>
    std::shared_ptr<const PerimetersTried> find(PunchedArea area, const std::array<double, 4>& distances, Make make) {
        for (Point& q : area.outline) q = {rounded(q.x - area.centre.x), rounded(q.y - area.centre.y)};
        area.centre = {};
        for (double* v : {&area.c1, &area.c2, &area.angle}) *v = rounded(*v);
        std::vector<double> key(distances.begin(), distances.end());
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

  private:
    static constexpr size_t most = 500;  // of slabs on which nothing is alike
    static double rounded(double v) { return std::round(v * 1e9) / 1e9; }
    std::mutex mutex_;
    std::map<std::vector<double>, std::shared_ptr<const PerimetersTried>> found_;
};

}  // namespace mossbed
