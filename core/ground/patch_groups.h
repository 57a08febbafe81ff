// Patches put together in groups by place, for what may be known roughly of patches that lie far apart: those of one
// group and of the groups beside it are near to each other, each by itself; of all others only the group counts, as if
// its force were spread over it evenly. Of n patches that leaves some 5 √n numbers a row.
#pragma once
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
    // The row of patch i from its influence numbers on all patches.
    void shorten(int i, const float* influence, float* row) const;
    // out += each row times forces (kN a patch).
    void add_product(const ShortRows& rows, const Eigen::Ref<const Eigen::VectorXd>& forces,
                     Eigen::Ref<Eigen::VectorXd> out) const;

  private:
    int count() const { return int(members_.size()); }
    std::vector<int> of_;  // the group of a patch
    std::vector<long> own_;
    std::vector<float> share_;                               // of its group's area
    std::vector<std::vector<int>> members_, near_, beside_;  // of a group: patches; near ones; itself and those beside
};

}  // namespace mossbed
