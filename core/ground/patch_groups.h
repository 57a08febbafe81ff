// Patches put together in groups by place, for what may be known roughly of patches that lie far apart: those of one
// group and of the groups beside it are near to each other, each by itself; of all others only the group counts, as if
// its force were spread over it evenly. Of n patches that leaves some 5 √n numbers a row.
#pragma once
#include <Eigen/Dense>

#include "core/base/short_rows.h"
#include "core/ground/contact_patches.h"

namespace mossbed {

class PatchGroups {
  public:
    explicit PatchGroups(const ContactPatches& patches);
    // How many numbers the row of patch i has.
    long length(int i) const { return count() + long(near_[size_t(of_[size_t(i)])].size()); }
    // Its place among them.
    long own(int i) const { return own_[size_t(i)]; }
    // Rows of patch i, `number` of them one after the other, from its influence numbers on all patches.
    void shorten(int i, const float* influence, long number, float* rows) const;
    // out += each row times forces (kN a patch).
    void add_product(const ShortRows& rows, const Eigen::Ref<const Eigen::VectorXd>& forces,
                     Eigen::Ref<Eigen::VectorXd> out) const;

  private:
    int count() const { return int(start_.size()) - 1; }
    std::vector<int> of_;                          // the group of a patch
    std::vector<long> own_;                        // a patch's place in its own row
    std::vector<int> start_{0};                    // of a group among
    std::vector<int> patch_;                       // all patches, group by group
    std::vector<float> share_;                     // of these of their group's area
    std::vector<std::vector<int>> beside_, near_;  // of a group: itself and those beside it; the patches of these
};

}  // namespace mossbed
