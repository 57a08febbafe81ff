// The steel that a slab has: base bars all over it, extra bars on their outlines, as far as they count. Bars in mm,
// lengths in m, areas in mm².
#pragma once
#include "core/steel/depths.h"
#include "core/steel/extra_bars.h"
#include "core/steel/strip_demand.h"

namespace mossbed {

// The parts of a slab that differ in thickness or concrete.
struct SlabPart {
    double thickness, fc;                   // m, MPa
    std::vector<const SlabPatch*> patches;  // none: the slab itself
};
std::vector<SlabPart> parts_of(const Model& m);

class Provision {
  public:
    // `bars`: the base bars as they stand; those not stated are chosen later (choose_base_bars.h).
    Provision(const Model& m, const DesignCode* code, BaseBars bars) : m_(m), base_(bars), extra_(m, code) {}

    const ChosenBars& base(Face f, Direction d) const { return base_.base(f, d); }
    ChosenBars& base(Face f, Direction d) { return base_.base(f, d); }
    const BaseBars& bars() const { return base_; }
    const ExtraBarsProvision& extra() const { return extra_; }
    double depth(Face f, Direction d, double h) const { return effective_depth(m_, base_, f, d, h); }

    // Extra bars that fit beside the base bars, mm² over a line, good for a section up to `past` away along them.
    double extra_over(Face f, Direction d, Point from, Point to, double past) const;
    // The least that they bring anywhere in a part of the slab that consists of patches, on a strip if given, mm²/m.
    double least_extra_in(const SlabPart& p, Face f, Direction d, const Strip* on = nullptr) const;

  private:
    const Model& m_;
    BaseBars base_;
    ExtraBarsProvision extra_;
};

// The mats whose bars work along a strip and the share of them that does, cos² of the angle between: one mat for a
// strip along x or y, both for one between.
std::vector<std::pair<Direction, double>> mats_along(const Reinforcement& r, Point direction);

struct BarSizes {  // mm, of the bars of a direction and those across; 0: as the base bars are
    double own = 0, other = 0;
};

// What the strips have of it at their stations.
class StripProvision {
  public:
    // Extra bars count where they reach beyond the section by the effective depth (the shift of the moment line) and
    // their anchorage.
    StripProvision(const StripDemand& demand, const Provision& steel, const Model& m);

    // Extra bars of a face over a section, mm²; where `instead` is given, beside those base bars of direction d.
    double extra(Face f, int strip, int station, const ChosenBars* instead = nullptr, Direction d = Direction::x) const;
    double extra_of(size_t bars, int strip, int station) const {  // of one set of them, whether it fits or not
        return extra_over_[bars][size_t(strip)][size_t(station)];
    }
    // Provided along the strip over a width of it at a section, mm².
    double provided(Face f, int strip, int station, double width) const;
    // Whose depth a section of the strip has: its mat's, and between x and y that of the inner layer.
    Direction depth_direction(int strip, Face f) const;
    bool works_along(Direction d, int strip) const;
    // Of the bars that lie at a section: those along it by the middle of their steel, base and extra together; of those
    // across the largest, as it holds the others off the face. `base`: the base bars' sizes; none: as they are.
    BarSizes sizes(Face f, int strip, int station, BarSizes base = {}) const;

  private:
    const StripDemand& demand_;
    const Provision& steel_;
    const Model& m_;
    std::vector<std::vector<std::vector<double>>> extra_over_;  // bars, strip, station: mm²
    std::vector<std::vector<std::vector<char>>> crosses_;       // likewise: lies on the section across the strip
};

}  // namespace mossbed
