// Patches put together in groups by place, for what may be known roughly of patches that lie far apart: those of one
// group and of the groups beside it are near to each other, each by itself; of all others only the group counts, as if
// its force were spread over it evenly. Of n patches that leaves some 5 √n numbers a row.
#pragma once
#include <Eigen/Dense>

#include "core/base/short_rows.h"
#include "core/ground/contact_patches.h"
#include "core/ground/deep_stress.h"

namespace mossbed {

class PatchGroups {
  public:
    explicit PatchGroups(const ContactPatches& patches);
    // Which row is that of patch i: group by group, as a product goes along them.
    long row(int i) const { return row_[size_t(i)]; }
    // How many numbers it has.
    long length(int i) const { return count() + long(near_[size_t(of_[size_t(i)])].size()); }
    std::vector<long> lengths() const;  // of all rows
    // The patch's own place among them.
    long own(int i) const { return own_[size_t(i)]; }
    // Rows of patch i, `number` of them one after the other, from its influence numbers on all patches.
    void shorten(int i, const float* influence, long number, float* rows) const;
    // Its row for the stress at depth z below it, where that is deep: see deep_stress.h.
    void stress(int i, double z, float* row) const;
    // out += each patch's row times forces (kN a patch).
    void add_product(const ShortRows& rows, const Eigen::Ref<const Eigen::VectorXd>& forces,
                     Eigen::Ref<Eigen::VectorXd> out) const;

  private:
    int count() const { return int(start_.size()) - 1; }
    std::vector<int> of_;                          // the group of a patch
    std::vector<long> row_, own_;                  // a patch's row, its place there
    std::vector<int> start_{0};                    // of a group among
    std::vector<int> patch_;                       // all patches, group by group
    std::vector<float> share_;                     // of these of their group's area
    std::vector<std::vector<int>> beside_, near_;  // of a group: itself and those beside it; the patches of these
    std::vector<DistantLoads> loads_;              // of a group: what a row of it counts
    std::vector<Point> at_;                        // of a patch, as these have it
    std::vector<std::array<double, 3>> spread_;
};

}  // namespace mossbed
