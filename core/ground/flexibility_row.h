// One row of the flexibility: the mean settlement of one patch under unit force on each of the others, from the terms
// P_k/ρ + Q_k z_k²/ρ³ of the layer boundaries below it. Far patches by their second moments, nearer ones so by the
// quarters of both, touching and own ones by exact integrals over the loaded outline, averaged over the settling one.
// On a square lattice, at depth 0 where all is worst, that errs by 0.5 % of a patch's own influence, 0.4 % of its
// neighbours', 0.3 % of those at its corners and less than 0.15 % of all others. Far pairs in single precision.
#pragma once
#include <memory>
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
    struct Loaded;

  public:
    explicit RowMaker(const ContactPatches& patches);
    // Writes n values of m/kN, and to `again`, when not null, those of P_again and Q_again. Thread-safe.
    void row(int i, const RowTerms& t, float* out, float* again) const;

    // Which patches were there before, of rows made of others with the same middle(): `among` says each one's number
    // among those, −1 where there is none like it.
    class Made {
      public:
        Made(const RowMaker& rows, const std::vector<int>& among);

      private:
        friend RowMaker;
        struct Run {
            int from, among, count;
        };
        std::vector<Run> runs_;  // of numbers that followed each other there too
        std::unique_ptr<const Loaded> others_;
    };
    // Likewise; what is in a row of the same patch, made before by the same terms, is taken from there.
    void row(int i, const RowTerms& t, float* out, float* again, const Made& made, const float* was,
             const float* was_again) const;
    double largest2() const { return largest2_; }  // of the patches' size2, m²: deeper than twice its root none is near
    Point middle() const { return middle_; }       // that lengths are from in single precision; of the base to 1 m

  private:
    // Patches under load: of each its number, and in single precision its centre and second moments.
    struct Loaded {
        std::vector<int> number;
        std::vector<float> x, y, xx, xy, yy;
        PointBins bins{1};
    };
    std::unique_ptr<const Loaded> loaded(const std::vector<int>& number) const;
    void set_far_pairs(int i, const RowTerms& t, const Loaded& by, float* out, float* again) const;
    void set_near_pairs(int i, const RowTerms& t, const Loaded& by, float* out, float* again) const;
    const ContactPatches& patches_;
    std::vector<WeightedPoints> points_;      // where a patch's mean is taken
    std::vector<WeightedPoints> few_points_;  // likewise of those that many nodes share, under others not much smaller
    std::vector<double> quarters_;  // 20 a patch: x, y and second moments xx, xy, yy over area of each quarter
    double largest2_ = 0;           // of the patches' size2, m²
    Point middle_;
    std::unique_ptr<const Loaded> all_;
};

}  // namespace mossbed
