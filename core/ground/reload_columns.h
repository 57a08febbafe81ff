// What stays below the threshold of reloading lies on few patches, and on the same ones for most of a search. The
// columns of a flexibility's `less` that those meet stand here side by side, so that a product reads them and not all
// that lies between (a third of the time).
#pragma once
#include <vector>

#include "core/ground/layered_ground.h"

namespace mossbed {

class ReloadColumns {
  public:
    explicit ReloadColumns(const Flexibility& of) : of_(of) {}  // which must outlive it
    // As Flexibility::times. Takes the columns that it has not met before.
    Eigen::MatrixXd times(const Eigen::MatrixXd& r, const Eigen::MatrixXd& spare);

  private:
    void add(const std::vector<int>& patches);
    const Flexibility& of_;
    std::vector<int> patch_;  // whose columns `less_` begins with
    std::vector<char> has_;   // per patch
    RowMatrix less_;
};

}  // namespace mossbed
