// One row of the flexibility: the mean settlement of one patch under unit force on each of the others, from the terms
// P_k/ρ + Q_k z_k²/ρ³ of the layer boundaries below it. Far patches by their second moments, near and own ones by
// exact integrals over the loaded polygon, averaged over the settling one. Far pairs in single precision.
#pragma once
#include <vector>

#include "core/ground/contact_patches.h"
#include "core/ground/influence.h"

namespace mossbed {

struct RowTerms {
    std::vector<double> z, P, Q, P_again, Q_again;  // per boundary; m, and 1/kPa
};

// Patches with ρ² below this many times the larger size² are near.
constexpr double near_factor = 6;

// The two integrals over patch j per area, seen from depth z below p.
LoadedArea under_patch(const ContactPatches& patches, int j, Point p, double z);

class RowMaker {
  public:
    explicit RowMaker(const ContactPatches& patches);
    // Writes n values of m/kN, and to `again`, when not null, those of P_again and Q_again. Thread-safe.
    void row(int i, const RowTerms& t, float* out, float* again) const;

  private:
    std::vector<int> near(int i) const;
    const ContactPatches& patches_;
    std::vector<float> x_, y_, xx_, xy_, yy_;
    std::vector<std::vector<std::pair<Point, double>>> coarse_, fine_;  // where a patch's mean is taken, and weights
    double cell_ = 1, largest_ = 0;
    Box box_;
    int columns_ = 1, lines_ = 1;
    std::vector<std::vector<int>> bins_;
};

}  // namespace mossbed
