// Steel that sections of strips need, by a design code.
#pragma once
#include "core/codes/code.h"
#include "core/steel/provision.h"

namespace mossbed {

class RequiredSteel {
  public:
    RequiredSteel(const Model& m, const DesignCode& code, const StripDemand& demand, const Provision& steel)
        : m_(m), code_(code), demand_(demand), steel_(steel) {}

    using Sizes = BarSizes;
    // A share of a cut as a section of its own, with the depth of bars of a face and direction.
    Section section(Face f, Direction d, const CutShare& s, Sizes bars) const;
    Section section(Face f, Direction d, const CutShare& s) const { return section(f, d, s, {}); }
    Section metre_of(const SlabPart& p, Face f, Direction d, Sizes bars) const;
    Section metre_of(const SlabPart& p, Face f, Direction d) const { return metre_of(p, f, d, {}); }

    // mm² of one face for a design moment M ≥ 0, shared out over thicknesses and concretes as they ask for it. None
    // where no amount fits.
    std::optional<double> for_moment(Face f, Direction d, const SectionDemand& s, long c, double M, Sizes bars,
                                     Working* by) const;
    // With the minimum where it is wanted.
    std::optional<double> with_minimum(Face f, Direction d, const SectionDemand& s, long c, double M, Sizes bars) const;
    // mm²/m that base bars must bring so that every part of the slab has its minimum.
    double least_of_base(Face f, Direction d, Sizes bars) const;
    // How far over a section is that no steel fits: the moment against the largest that tension steel can serve, which
    // grows with d²; and the thickness, m, that would do.
    double use_beyond_steel(Face f, Direction d, const SectionDemand& s, long c, double M, Sizes bars) const;
    double thickness_that_would_do(Face f, Direction d, const SectionDemand& s, long c, double M, Sizes bars) const;

  private:
    double share_of(Face f, const SectionDemand& s, const CutShare& part, long c, double M) const;
    double needed_depth(Face f, const CutShare& part, const Section& sec, const SectionDemand& s, long c,
                        double M) const;
    const Model& m_;
    const DesignCode& code_;
    const StripDemand& demand_;
    const Provision& steel_;
};

// Gives every base mat that the engineer did not state the least steel that passes everywhere.
void choose_base_bars(Provision& steel, const Model& m, const DesignCode& code, const StripDemand& demand,
                      const StripProvision& strips);

}  // namespace mossbed
