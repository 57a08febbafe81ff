// What extra bars bring at a point: only where they lie on the slab, are anchored, and fit beside the base bars.
// A bar counts in full where it goes on for its anchorage length beyond the place that needs it, on both sides, and
// linearly less nearer its end. Bars end at their outline, at the rim and at openings. There U-bars lapped with them
// hold them where the model says so, and they count in full; no other hooks and bends are counted. Lengths in m, bars
// in mm.
#pragma once
#include <optional>
#include <vector>

#include "core/codes/code.h"
#include "core/steel/strips.h"

namespace mossbed {

class ExtraBarsProvision {
  public:
    // `code` gives anchorage lengths; without one a bar counts wherever it lies on the slab.
    ExtraBarsProvision(const Model& model, const DesignCode* code);

    bool none() const { return bars_.empty(); }
    size_t count() const { return bars_.size(); }
    const ExtraBars& bars(size_t i) const { return *bars_[i].bars; }
    double area(size_t i) const { return bars_[i].area; }            // mm²/m of one layer of them
    double anchorage(size_t i) const { return bars_[i].anchorage; }  // m

    // Share, 0 to 1, of bars `i` that counts at q, where they must be good for a section up to `past` m away along
    // them.
    double anchored(size_t i, Point q, double past) const;
    // m from q to the nearer end of bars `i`; 1e300 where U-bars hold both.
    double to_nearer_end(size_t i, Point q) const;
    // mm² of bars `i` over a straight line from `from` to `to`, exact: what counts runs linearly between the places
    // where bars meet another side at their ends.
    double over(size_t i, Point from, Point to, double past) const;
    // The least that bars `which`, all of one direction, bring together anywhere on the part of an area that is slab,
    // mm²/m. What counts bends only where bars end at another side, so that the least lies at a corner of the cells
    // between those lines: nothing is sampled. None where the area has no slab.
    std::optional<double> least_in(const Polygon& area, const std::vector<size_t>& which) const;
    bool may_touch(size_t i, const Box& box) const { return bars_[i].box.overlaps(box); }

    // Clear distance between bars `i`, the base bars and other extra bars of that layer that overlap them, laid evenly.
    struct Clear {
        double distance = 0, least = 0;  // mm; least: what the code asks for with the largest of them
        double largest = 0;              // diameter, mm
        bool fits() const { return distance >= least - 1e-9; }
    };
    Clear clear_between(size_t i, const ChosenBars& base) const;

  private:
    struct Laid {
        const ExtraBars* bars;
        Polygon outline;
        Box box;
        Point along;
        double area, anchorage;
        std::vector<size_t> overlaps;  // others of the same face and direction
    };
    std::vector<const Polygon*> ends_of(const std::vector<size_t>& which) const;
    bool is_slab(Point q) const;
    double to_end(const Laid& l, Point q, Point along) const;
    bool lies_on(const Laid& l, Point q) const;
    std::vector<double> breaks_along(const Laid& l, Point from, Point to) const;
    const DesignCode* code_;
    std::vector<Laid> bars_;
    Polygon rim_;
    std::vector<Polygon> holes_;
};

}  // namespace mossbed
