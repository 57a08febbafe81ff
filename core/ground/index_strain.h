// Strains by compression index below the patches: not in proportion to stress, so that no flexibility has them. What
// each patch force adds to the stress in each sublayer is in proportion, and kept while there is room for it.
#pragma once
#include "core/base/short_matrix.h"
#include "core/ground/flexibility_row.h"
#include "core/ground/layered_ground.h"

namespace mossbed {

class IndexStrain {
  public:
    // `pressure`: as the flexibility was formed with; `most`: numbers kept, a gigabyte of them. On the same patches and
    // sublayers as `before`, which may be null, they are taken from it. Throws Stopped.
    IndexStrain(std::shared_ptr<const LayeredGround> ground, std::shared_ptr<const ContactPatches> patches,
                double pressure, const Progress& progress = {}, const IndexStrain* before = nullptr,
                double most = 256e6);

    // Settlement of every patch under patch forces (a column each), with true strains in the sublayers by index in
    // place of the secants that a flexibility has there and `by_flexibility` is made with; with `rate`, how much faster
    // than by the flexibility it grows when all forces grow together; with `beyond`, by how much more than there each
    // sublayer is compressed per kPa (m, a row a sublayer). Throws Stopped.
    Eigen::MatrixXd settlements(const Eigen::MatrixXd& by_flexibility, const Eigen::MatrixXd& forces,
                                Eigen::MatrixXd* rate, const Progress& progress = {},
                                Eigen::MatrixXd* beyond = nullptr) const;
    // How the settlements (rows) grow with each patch force beyond what the flexibility has, m/kN: one matrix a column
    // of `beyond`. Throws Stopped.
    std::vector<ShortMatrix> slopes(const Eigen::MatrixXd& beyond, const Progress& progress = {}) const;

  private:
    void add_rows(int patch, float* to) const;  // mean Δσz in each of its sublayers under unit forces, 1/m²
    std::shared_ptr<const LayeredGround> ground_;
    std::shared_ptr<const ContactPatches> patches_;
    RowMaker rows_;
    std::vector<Sublayer> layers_;  // those by index, patch by patch
    std::vector<int> start_;
    std::vector<double> removed_;              // kPa per patch
    std::shared_ptr<const RowMatrix> stress_;  // a row a sublayer; none where that would be too much
};

}  // namespace mossbed
