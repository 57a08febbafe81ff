// One row of the flexibility: the mean settlement of one patch under unit force on each of the others, from the terms
// P_k/ρ + Q_k z_k²/ρ³ of the layer boundaries below it. Far patches by their second moments, nearer ones so by the
// quarters of both, touching and own ones by exact integrals over the loaded outline, averaged over the settling one.
// On a square lattice, at depth 0 where all is worst, that errs by 0.5 % of a patch's own influence, 0.4 % of its
// neighbours', 0.3 % of those at its corners and less than 0.15 % of all others. Far pairs in single precision.
#pragma once
#include <vector>

#include "core/base/point_bins.h"
#include "core/ground/contact_patches.h"
#include "core/ground/influence.h"
#include "core/ground/near_integrals.h"

namespace mossbed {

struct RowTerms {
    std::vector<double> z, P, Q, P_again, Q_again;  // per boundary; m, and 1/kPa
    bool operator==(const RowTerms&) const = default;
};

// Patches with ρ² below this many times the larger size² are near.
constexpr double near_factor = 4;
// And below this many times they touch: exact integrals over the loaded one.
constexpr double touching_factor = 1.7;

// The two integrals over patch j per area, seen from depth z below p.
LoadedArea under_patch(const ContactPatches& patches, int j, Point p, double z);

class RowMaker {
  public:
    explicit RowMaker(const ContactPatches& patches);
    // A row made before of the same patch among others, by the same terms: pairs near each other are taken from it.
    struct Made {
        const std::vector<int>& among;  // the others: each patch's number there, −1 where there is none like it
        const float *out, *again;
    };
    // Writes n values of m/kN, and to `again`, when not null, those of P_again and Q_again. Thread-safe.
    void row(int i, const RowTerms& t, float* out, float* again, const Made* made = nullptr) const;
    double largest2() const { return largest2_; }  // of the patches' size2, m²: deeper than twice its root none is near

  private:
    std::vector<int> near(int i) const;
    const ContactPatches& patches_;
    std::vector<float> x_, y_, xx_, xy_, yy_;
    std::vector<WeightedPoints> points_;  // where a patch's mean is taken
    std::vector<double> quarters_;        // 20 a patch: x, y and second moments xx, xy, yy over area of each quarter
    PointBins bins_{1};
    double largest2_ = 0;  // of the patches' size2, m²
};

}  // namespace mossbed
